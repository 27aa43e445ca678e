#include "app/verb_row.h"

#include <QHBoxLayout>
#include <QKeySequence>
#include <QPainter>

#include "app/theme.h"

namespace tack {

VerbButton::VerbButton(const VerbFace& verb, QWidget* parent) : QAbstractButton(parent), verb_(verb) {
  const QString key = QKeySequence(verb.key).toString();
  setText(verb.name);
  setObjectName("verb " + verb.name);
  setAccessibleName(verb.name);
  setToolTip(verb.about + " (" + key + ")");
  setCheckable(true);
  setFocusPolicy(Qt::TabFocus);
  setCursor(Qt::PointingHandCursor);
}

QSize VerbButton::sizeHint() const {
  const QFontMetrics name(ui_font(1.05, QFont::DemiBold)), key(ui_font(0.8, QFont::Medium));
  return {9 + 17 + 7 + name.horizontalAdvance(text()) + 4 + key.horizontalAdvance("M") + 9, 40};
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
  line_icon(verb_.icon, t.ink).paint(&p, QRect(9, (height() - 17) / 2, 17, 17));
  const QFont name = ui_font(1.05, isChecked() ? QFont::DemiBold : QFont::Medium);
  p.setFont(name);
  p.setPen(t.ink);
  const int x = 33, w = QFontMetrics(ui_font(1.05, QFont::DemiBold)).horizontalAdvance(text());
  p.drawText(QRect(x, 0, w + 2, height()), Qt::AlignVCenter | Qt::AlignLeft, text());
  p.setFont(ui_font(0.8, QFont::Medium));
  p.setPen(t.soft);
  p.drawText(QRect(x + QFontMetrics(name).horizontalAdvance(text()) + 4, 1, 20, height()),
             Qt::AlignVCenter | Qt::AlignLeft, QKeySequence(verb_.key).toString());
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

VerbRow::VerbRow(Workbench& bench, QWidget* parent) : QWidget(parent), bench_(bench) {
  auto* layout = new QHBoxLayout(this);
  layout->setContentsMargins(10, 0, 10, 0);
  layout->setSpacing(0);
  int group = 0;
  for (const VerbFace& verb : verb_faces()) {
    auto* button = new VerbButton(verb, this);
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
