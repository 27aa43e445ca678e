#include "app/panels/loupe.h"

#include <QGridLayout>
#include <QPainter>

#include "app/theme.h"

namespace tack {

namespace {

// A place in the open has nothing about it that a close-up could show.
bool shows(const std::optional<Caught>& caught) {
  return caught && caught->address.kind != TackKind::Point && caught->address.kind != TackKind::PlanePoint;
}

}  // namespace

LoupeView::LoupeView(const QString& name, Stage& stage, QWidget* parent)
    : QWidget(parent), stage_(stage), close_up_(stage.make_close_up()) {
  setAccessibleName(name);
  setToolTip(name);
  setMouseTracking(true);
  connect(&close_up_, &CloseUp::refined, this, qOverload<>(&QWidget::update));
}

void LoupeView::mousePressEvent(QMouseEvent* event) {
  if (event->button() == Qt::LeftButton) emit pressed(event->position(), event->modifiers());
}

View LoupeView::look(const Vec3& centre, double span, const Vec3& back, const Vec3& up) {
  const int side = std::max(1, std::min(width(), height()));
  const int size = std::max(16, qRound(side * devicePixelRatioF()));
  const View view = tack::close_up(centre, back, up, std::max(span, 1e-3), size, size);
  view_ = tack::close_up(centre, back, up, std::max(span, 1e-3), side, side);
  // Nobody sees it where the panel is closed.
  isVisible() ? close_up_.look(view) : close_up_.look_away();
  from_.reset(), to_.reset(), caught_.reset();
  update();
  return view;
}

void LoupeView::show_meeting(const Marks::Meeting& meeting, const std::optional<Marks::Meeting>& held, const Vec3& back,
                             const Vec3& up) {
  const Marks::Meeting& framed = held ? *held : meeting;
  const double apart = distance(framed.from, framed.to);
  // Their distance fills a third of the square, however small it is; the nearest features when they touch.
  const double span = apart > stage_.touch() ? apart * 3 : framed.span;
  const View view = look((framed.from + framed.to) * 0.5, span, back, up);
  const auto pixel = [&](const Vec3& p) {
    const auto at = view.project(p);
    return QPointF(at->x, at->y) / devicePixelRatioF();
  };
  from_ = pixel(meeting.from);
  to_ = pixel(meeting.to);
}

void LoupeView::show_place(const Vec3& place, double span, const Vec3& back, const Vec3& up) {
  look(place, span, back, up);
  caught_ = QPointF(view_->width / 2, view_->height / 2);
}

void LoupeView::clear() {
  close_up_.look_away();
  view_.reset();
  from_.reset(), to_.reset(), caught_.reset();
  update();
}

void LoupeView::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const int side = std::min(width(), height());
  const QRect square(0, 0, side, side);
  if (close_up_.image().isNull()) {
    p.fillRect(square, theme().card);
  } else {
    p.drawImage(QPointF(0, 0), close_up_.image());
  }
  if (caught_) {
    p.setBrush(Qt::NoBrush);
    for (const auto& [width, ink] : {std::pair{4.5, theme().card}, {1.8, theme().ink}}) {
      p.setPen(QPen(ink, width));
      p.drawEllipse(*caught_, 8, 8);
      for (const QPointF way : {QPointF(1, 0), QPointF(-1, 0), QPointF(0, 1), QPointF(0, -1)})
        p.drawLine(*caught_ + way * 8, *caught_ + way * 14);
    }
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
      delta_(new QLabel(this)),
      gap_(new QLabel(this)),
      first_(new LoupeView("Loupe, from the side", stage, this)),
      second_(new LoupeView("Loupe, from above", stage, this)) {
  setObjectName("loupe");
  auto* title = new QLabel("Loupe", this);
  title->setFont(ui_font(0.95, QFont::DemiBold));
  state_->setObjectName("loupe state");
  state_->setFont(ui_font(1, QFont::DemiBold));
  state_->setAlignment(Qt::AlignLeft | Qt::AlignTop);
  // Two lines are kept for long words, so that nothing below them jumps.
  state_->setWordWrap(true);
  state_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
  state_->setFixedHeight(2 * QFontMetrics(state_->font()).lineSpacing() + 2);
  delta_->setFont(number_font(0.96));
  delta_->setObjectName("loupe delta");
  delta_->setTextFormat(Qt::RichText);
  gap_->setFont(number_font(0.96));
  gap_->setObjectName("loupe gap");
  auto* layout = new QGridLayout(this);
  layout->setContentsMargins(14, 6, 14, 10);
  layout->setHorizontalSpacing(8);
  layout->setVerticalSpacing(6);
  layout->addWidget(title, 0, 0, 1, 2);
  layout->addWidget(state_, 1, 0, 1, 2);
  layout->addWidget(first_, 2, 0);
  layout->addWidget(second_, 2, 1);
  layout->addWidget(delta_, 3, 0, 1, 2);
  layout->addWidget(gap_, 4, 0, 1, 2);
  layout->setRowStretch(5, 1);
  layout->setColumnStretch(0, 1);
  layout->setColumnStretch(1, 1);
  // With nothing to show it gives its room to Placement; not at once, for the pointer is often between two places.
  folds_.setSingleShot(true);
  folds_.setInterval(1500);
  connect(&folds_, &QTimer::timeout, this, [this] { fold(true); });
  for (LoupeView* view : {first_, second_}) serve(view);
  soon_.setSingleShot(true);
  soon_.setInterval(0);
  connect(&soon_, &QTimer::timeout, this, &Loupe::refresh);
  looks_.setInterval(0);
  connect(&looks_, &QTimer::timeout, this, &Loupe::look);
  connect(&bench_, &Workbench::marks_changed, this, [this] { soon_.start(); });
  connect(&stage_, &Stage::camera_changed, this, [this] { soon_.start(); });
  connect(&store_, &Store::scene_changed, this, [this] { soon_.start(); });
  connect(&store_, &Store::look_changed, this, [this] { soon_.start(); });
  fold(true);
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
  if (first_->height() == side && second_->height() == side) return soon_.start();
  first_->setFixedHeight(side);
  second_->setFixedHeight(side);
  fold(folded_);
  soon_.start();
}

void Loupe::fold(bool away) {
  folds_.stop();
  for (QWidget* w : {static_cast<QWidget*>(state_), static_cast<QWidget*>(first_), static_cast<QWidget*>(second_),
                     static_cast<QWidget*>(delta_), static_cast<QWidget*>(gap_)})
    w->setVisible(!away);
  folded_ = away;
  layout()->activate();
  setFixedHeight(away ? layout()->minimumSize().height() : layout()->sizeHint().height());
}

void Loupe::show_numbers(const Vec3& numbers, double noise) {
  QString text = QStringLiteral("<table width='100%'><tr>");
  for (int i = 0; i < 3; ++i)
    text +=
        QStringLiteral("<td><span style='color:%1'>%2</span>&nbsp;%3</td>")
            .arg(theme().axis[i].name(), QString("XYZ").mid(i, 1),
                 QString::fromStdString(
                     show_number((std::abs(numbers[i]) < noise ? 0 : numbers[i]) / store_.unit().millimetres, 3).text));
  delta_->setText(text + "</tr></table>");
}

void Loupe::refresh() {
  // Words and numbers are of what is hovered over; the pictures stay where they are while the pointer is in them.
  const Marks& marks = bench_.marks();
  const std::optional<Marks::Meeting>& now = marks.meeting;
  const std::optional<Marks::Meeting>& meeting = now ? now : held_;
  const std::optional<Caught>& caught = bench_.draft().look().caught;
  looks_.stop();
  if (!meeting && !shows(caught)) {
    first_->clear();
    second_->clear();
    state_->clear();
    delta_->clear();
    gap_->clear();
    if (!folded_ && !folds_.isActive()) folds_.start();
    return;
  }
  if (folded_) {
    fold(false);
    return soon_.start();  // once the close-ups have their size
  }
  folds_.stop();
  to_look_ = 2;
  looks_.start();
  if (!meeting) {
    const Scene& scene = marks.shown ? *marks.shown : store_.scene();
    state_->setText(caught_words(scene, caught->address, caught->behind));
    set_style(*state_, "color: " + theme().ink.name());
    show_numbers(caught->point, 1e-9 * (1 + length(caught->point)));
    gap_->clear();
    return;
  }
  const Vec3 delta = meeting->to - meeting->from;
  state_->setText(meeting->words);
  set_style(*state_, "color: " + (meeting->tone == Tone::Good    ? theme().good
                                  : meeting->tone == Tone::Wrong ? theme().wrong
                                  : meeting->tone == Tone::Apart ? theme().drifting
                                                                 : theme().ink)
                                     .name());
  const double noise = 1e-9 * (1 + length(meeting->to));
  show_numbers(delta, noise);
  const double gap = length(delta) < noise ? 0 : length(delta);
  QString gap_text = QString("gap %1").arg(QString::fromStdString(show_length(gap, store_.unit(), 4).text));
  if (meeting->angle)
    gap_text += QString("   angle %1").arg(QString::fromStdString(show_angle(*meeting->angle, 2).text));
  gap_->setText(gap_text);
}

// From two sides: which place it is, and whether it is before or behind another.
void Loupe::look() {
  const View view = stage_.view();
  // Across the line of sight, and square to each other: depth shows in at least one.
  if (next_ == first_)
    look_with(first_, view.right(), view.up());
  else
    look_with(second_, view.up(), -view.back());
  // In turn also where the pointer comes first again and again: neither is left behind.
  next_ = next_ == first_ ? second_ : first_;
  if (--to_look_ == 0) looks_.stop();
}

void Loupe::look_with(LoupeView* view, const Vec3& back, const Vec3& up) {
  const Marks& marks = bench_.marks();
  const std::optional<Caught>& caught = bench_.draft().look().caught;
  if (const auto& meeting = marks.meeting ? marks.meeting : held_) {
    view->show_meeting(*meeting, held_, back, up);
  } else if (shows(caught)) {
    const Scene& scene = marks.shown ? *marks.shown : store_.scene();
    view->show_place(caught->point, loupe_span(scene, caught->address), back, up);
  }
}

}  // namespace tack
