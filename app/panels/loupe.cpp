#include "app/panels/loupe.h"

#include <QGridLayout>
#include <QPainter>

#include "app/theme.h"

namespace tack {

LoupeView::LoupeView(const QString& name, QWidget* parent) : QWidget(parent) {
  setAccessibleName(name);
  setToolTip(name);
  setMouseTracking(true);
}

void LoupeView::mousePressEvent(QMouseEvent* event) {
  if (event->button() == Qt::LeftButton) emit pressed(event->position(), event->modifiers());
}

void LoupeView::show_meeting(Stage& stage, const Marks::Meeting& meeting, const std::optional<Marks::Meeting>& held,
                             const Vec3& back, const Vec3& up) {
  const int size = std::max(16, qRound(std::min(width(), height()) * devicePixelRatioF()));
  const Marks::Meeting& framed = held ? *held : meeting;
  const double apart = distance(framed.from, framed.to);
  // Their distance fills a third of the square, however small it is; the nearest features when they touch.
  const double span = apart > kTouch ? apart * 3 : framed.span;
  const Vec3 centre = (framed.from + framed.to) * 0.5;
  const View view = close_up(centre, back, up, std::max(span, 1e-3), size, size);
  image_ = stage.close_up_image(view, size);
  const double side = std::max(1, std::min(width(), height()));
  view_ = close_up(centre, back, up, std::max(span, 1e-3), side, side);
  image_.setDevicePixelRatio(devicePixelRatioF());
  const auto pixel = [&](const Vec3& p) {
    const auto at = view.project(p);
    return QPointF(at->x, at->y) / devicePixelRatioF();
  };
  from_ = pixel(meeting.from);
  to_ = pixel(meeting.to);
  update();
}

void LoupeView::clear() {
  image_ = {};
  view_.reset();
  from_.reset(), to_.reset();
  update();
}

void LoupeView::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const int side = std::min(width(), height());
  const QRect square(0, 0, side, side);
  if (image_.isNull()) {
    p.fillRect(square, theme().card);
  } else {
    p.drawImage(QPointF(0, 0), image_);
  }
  if (from_ && to_) {
    p.setBrush(Qt::NoBrush);
    if (QLineF(*from_, *to_).length() > 3) {
      p.setPen(QPen(theme().ink, 1, Qt::DashLine));
      p.drawLine(*from_, *to_);
    }
    p.setPen(QPen(theme().card, 4.5));
    p.drawEllipse(*to_, 8, 8);
    p.setPen(QPen(theme().to, 2.4));
    p.drawEllipse(*to_, 8, 8);
    p.setPen(QPen(theme().from, 1.6));
    p.drawLine(*from_ - QPointF(7, 0), *from_ + QPointF(7, 0));
    p.drawLine(*from_ - QPointF(0, 7), *from_ + QPointF(0, 7));
  }
  p.setBrush(Qt::NoBrush);
  p.setPen(theme().hair);
  p.drawRect(QRectF(square).adjusted(0.5, 0.5, -0.5, -0.5));
}

Loupe::Loupe(Store& store, Workbench& bench, Stage& stage, QWidget* parent)
    : QWidget(parent),
      store_(store),
      bench_(bench),
      stage_(stage),
      state_(new QLabel(this)),
      hint_(new QLabel(this)),
      delta_(new QLabel(this)),
      gap_(new QLabel(this)),
      first_(new LoupeView("Loupe, from the side", this)),
      second_(new LoupeView("Loupe, from above", this)) {
  setObjectName("loupe");
  auto* title = new QLabel("Loupe", this);
  title->setFont(ui_font(0.95, QFont::DemiBold));
  state_->setObjectName("loupe state");
  state_->setFont(ui_font(1, QFont::DemiBold));
  state_->setAlignment(Qt::AlignRight | Qt::AlignTop);
  // Long words wrap; they never make the panel wider.
  state_->setWordWrap(true);
  state_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
  title->setAlignment(Qt::AlignTop);
  hint_->setText("Two places being brought together are shown here, from two sides.");
  hint_->setWordWrap(true);
  delta_->setFont(number_font(0.96));
  delta_->setObjectName("loupe delta");
  delta_->setTextFormat(Qt::RichText);
  gap_->setFont(number_font(0.96));
  gap_->setObjectName("loupe gap");
  auto* layout = new QGridLayout(this);
  layout->setContentsMargins(14, 6, 14, 10);
  layout->setHorizontalSpacing(8);
  layout->setVerticalSpacing(7);
  layout->addWidget(title, 0, 0);
  layout->addWidget(state_, 0, 1);
  layout->addWidget(first_, 1, 0);
  layout->addWidget(second_, 1, 1);
  layout->addWidget(hint_, 2, 0, 1, 2);
  layout->addWidget(delta_, 3, 0, 1, 2);
  layout->addWidget(gap_, 4, 0, 1, 2);
  layout->setRowStretch(5, 1);
  layout->setColumnStretch(0, 1);
  layout->setColumnStretch(1, 1);
  for (LoupeView* view : {first_, second_}) serve(view);
  soon_.setSingleShot(true);
  soon_.setInterval(0);
  connect(&soon_, &QTimer::timeout, this, &Loupe::refresh);
  connect(&bench_, &Workbench::marks_changed, this, [this] { soon_.start(); });
  connect(&stage_, &Stage::camera_changed, this, [this] { soon_.start(); });
  connect(&store_, &Store::scene_changed, this, [this] { soon_.start(); });
  connect(&store_, &Store::look_changed, this, [this] { soon_.start(); });
  refresh();
}

// A close-up can be pointed at and caught in like the stage.
void Loupe::serve(LoupeView* view) {
  connect(view, &LoupeView::pointed, this, [this, view](QPointF at) {
    if (!view->view() || !bench_.draft().catches()) return;
    if (!held_) held_ = bench_.marks().meeting;
    bench_.draft().hover(stage_.caught_in(*view->view(), at));
  });
  connect(view, &LoupeView::pressed, this, [this, view](QPointF at, Qt::KeyboardModifiers modifiers) {
    if (!view->view()) return;
    const auto caught = stage_.caught_in(*view->view(), at);
    held_.reset();
    bench_.note_use();
    Drafting& draft = bench_.draft();
    if (draft.catches() && draft.press(caught, modifiers)) draft.release(std::nullopt, modifiers);
  });
  connect(view, &LoupeView::left, this, [this] {
    if (!held_) return;
    held_.reset();
    bench_.draft().hover(std::nullopt);
    soon_.start();
  });
}

void Loupe::resizeEvent(QResizeEvent*) {
  const int side = (width() - 28 - 8) / 2;
  first_->setFixedHeight(side);
  second_->setFixedHeight(side);
  soon_.start();
}

void Loupe::refresh() {
  // Words and numbers are of what is hovered over; the pictures stay where they are while the pointer is in them.
  const std::optional<Marks::Meeting>& now = bench_.marks().meeting;
  const std::optional<Marks::Meeting>& meeting = now ? now : held_;
  for (QLabel* label : {state_, delta_, gap_}) label->setVisible(meeting.has_value());
  hint_->setVisible(!meeting);
  hint_->setStyleSheet("color: " + theme().soft.name());
  if (!meeting) {
    first_->clear();
    second_->clear();
    return;
  }
  const View view = stage_.view();
  // Across the line of sight, and square to each other: depth shows in at least one.
  first_->show_meeting(stage_, *meeting, held_, view.right(), view.up());
  second_->show_meeting(stage_, *meeting, held_, view.up(), -view.back());
  const Vec3 delta = meeting->to - meeting->from;
  state_->setText(meeting->words);
  state_->setStyleSheet("color: " + (meeting->tone == Tone::Good    ? theme().good
                                     : meeting->tone == Tone::Wrong ? theme().wrong
                                     : meeting->tone == Tone::Apart ? theme().drifting
                                                                    : theme().ink)
                                        .name());
  QString text = QStringLiteral("<table width='100%'><tr>");
  const double noise = 1e-9 * (1 + length(meeting->to));
  for (int i = 0; i < 3; ++i)
    text += QStringLiteral("<td><span style='color:%1'>%2</span>&nbsp;%3</td>")
                .arg(theme().axis[i].name(), QString("XYZ").mid(i, 1),
                     QString::fromStdString(
                         show_number((std::abs(delta[i]) < noise ? 0 : delta[i]) / store_.unit().millimetres, 3).text));
  delta_->setText(text + "</tr></table>");
  const double gap = length(delta) < noise ? 0 : length(delta);
  QString gap_text = QString("gap %1").arg(QString::fromStdString(show_length(gap, store_.unit(), 4).text));
  if (meeting->angle)
    gap_text += QString("   angle %1").arg(QString::fromStdString(show_angle(*meeting->angle, 2).text));
  gap_->setText(gap_text);
}

}  // namespace tack
