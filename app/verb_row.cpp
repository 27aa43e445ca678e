#include "app/verb_row.h"

#include <QHBoxLayout>
#include <QKeySequence>
#include <QPainter>

#include "app/theme.h"

namespace tack {

namespace {

constexpr int kButtonEdge = 9, kIconWidth = 17, kIconGap = 7, kKeyGap = 4, kRowEdge = 10, kHairline = 13;

}  // namespace

VerbButton::VerbButton(const VerbFace& verb, const Keys& keys, QWidget* parent)
    : QAbstractButton(parent), verb_(verb), keys_(keys) {
  setText(verb.name);
  setObjectName("verb " + verb.name);
  setAccessibleName(verb.name);
  setCheckable(true);
  setFocusPolicy(Qt::TabFocus);
  setCursor(Qt::PointingHandCursor);
  const auto show_key = [this] {
    setToolTip(key().isEmpty() ? verb_.about : verb_.about + " (" + key() + ")");
    updateGeometry();
    update();
  };
  connect(&keys, &Keys::changed, this, show_key);
  show_key();
}

QString VerbButton::key() const { return keys_.of("verb " + verb_.name).toString(QKeySequence::NativeText); }

int VerbButton::width_for(Shows shows) const {
  const QFontMetrics name(ui_font(1.05, QFont::DemiBold)), letter(ui_font(0.8, QFont::Medium));
  int width = 2 * kButtonEdge + name.horizontalAdvance(text());
  if (shows != Shows::NameAlone) width += kIconWidth + kIconGap;
  if (shows == Shows::All) width += kKeyGap + letter.horizontalAdvance(key());
  return width;
}

void VerbButton::show_as(Shows shows) {
  shows_ = shows;
  setFixedWidth(width_for(shows));
  update();
}

bool VerbButton::event(QEvent* event) {
  if (event->type() == QEvent::Enter || event->type() == QEvent::Leave) update();
  return QAbstractButton::event(event);
}

void VerbButton::paintEvent(QPaintEvent*) {
  const Theme& t = theme();
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  if (underMouse() && !isChecked()) {
    QColor wash = t.ink;
    wash.setAlphaF(0.06f);
    p.setPen(Qt::NoPen);
    p.setBrush(wash);
    p.drawRoundedRect(rect().adjusted(1, 5, -1, -5), 4, 4);
  }
  int x = kButtonEdge;
  if (shows_ != Shows::NameAlone) {
    line_icon(verb_.icon, t.ink).paint(&p, QRect(x, (height() - kIconWidth) / 2, kIconWidth, kIconWidth));
    x += kIconWidth + kIconGap;
  }
  const QFont name = ui_font(1.05, isChecked() ? QFont::DemiBold : QFont::Medium);
  p.setFont(name);
  p.setPen(t.ink);
  p.drawText(QRect(x, 0, width() - x, height()), Qt::AlignVCenter | Qt::AlignLeft, text());
  if (shows_ == Shows::All) {
    p.setFont(ui_font(0.8, QFont::Medium));
    p.setPen(t.soft);
    p.drawText(QRect(x + QFontMetrics(name).horizontalAdvance(text()) + kKeyGap, 1, width(), height()),
               Qt::AlignVCenter | Qt::AlignLeft, key());
  }
  if (isChecked()) {
    p.setPen(Qt::NoPen);
    p.setBrush(t.ink);
    p.drawRoundedRect(QRectF(9, height() - 3, width() - 18, 3), 1.5, 1.5);
  }
  if (hasFocus()) {
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(t.ink, 1.2));
    p.drawRoundedRect(QRectF(rect()).adjusted(1.5, 5.5, -1.5, -5.5), 4, 4);
  }
}

VerbRow::VerbRow(Workbench& bench, const Keys& keys, QWidget* parent) : QWidget(parent), bench_(bench) {
  auto* layout = new QHBoxLayout(this);
  layout->setContentsMargins(kRowEdge, 0, kRowEdge, 0);
  layout->setSpacing(0);
  int group = 0;
  for (const VerbFace& verb : verb_faces()) {
    auto* button = new VerbButton(verb, keys, this);
    connect(button, &QAbstractButton::clicked, this, [this, verb = verb.id()] {
      bench_.use(verb);
      show_current();
    });
    // Hairlines between picking, placing, meeting, preparing and measuring.
    if (group++ > 0 && verb.opens_group) {
      auto* line = new QFrame(this);
      line->setFixedSize(1, 22);
      line->setObjectName("hairline");
      layout->addSpacing(6);
      layout->addWidget(line);
      layout->addSpacing(6);
    }
    layout->addWidget(button);
    buttons_.push_back(button);
  }
  layout->addStretch(1);
  connect(&bench, &Workbench::verb_changed, this, &VerbRow::show_current);
  show_current();
}

int VerbRow::width_for(VerbButton::Shows shows) const {
  int width = 2 * kRowEdge;
  for (const VerbButton* button : buttons_) width += button->width_for(shows);
  return width + kHairline * static_cast<int>(findChildren<QFrame*>("hairline").size());
}

// The keys step aside before the icons, the icons before the names.
void VerbRow::resizeEvent(QResizeEvent*) {
  auto shows = VerbButton::Shows::NameAlone;
  for (const auto each : {VerbButton::Shows::NoKey, VerbButton::Shows::All})
    if (width_for(each) <= width()) shows = each;
  for (VerbButton* button : buttons_) button->show_as(shows);
}

QSize VerbRow::minimumSizeHint() const { return {width_for(VerbButton::Shows::NameAlone), 40}; }

void VerbRow::show_current() {
  for (VerbButton* button : buttons_) button->setChecked(button->verb().id() == bench_.draft().row());
}

void VerbRow::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.fillRect(rect(), theme().paper);
  p.setPen(theme().hair);
  p.drawLine(0, 0, width(), 0);
  for (const QFrame* line : findChildren<QFrame*>("hairline")) p.fillRect(line->geometry(), theme().hair);
}

}  // namespace tack
