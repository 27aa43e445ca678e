#include "app/stage/overlay.h"

#include <QPainter>
#include <QPainterPath>

#include "app/stage/stage.h"
#include "app/text.h"
#include "app/theme.h"
#include "core/view/view_words.h"
#include "draw/plane_grid.h"

namespace tack {

Overlay::Overlay(Stage& stage) : QWidget(&stage), stage_(stage) {
  setAttribute(Qt::WA_TransparentForMouseEvents);
  setAttribute(Qt::WA_NoSystemBackground);
  setFocusPolicy(Qt::NoFocus);
}

void Overlay::paint_pin(QPainter& p, QPointF at) const {
  // A solid pin whose tip is the place itself.
  QPainterPath pin;
  pin.moveTo(0, 0);
  pin.lineTo(-6, -15);
  pin.arcTo(QRectF(-8.5, -29.5, 17, 17), 225, -270);
  pin.closeSubpath();
  p.save();
  p.translate(at);
  p.setPen(QPen(theme().card, 1.5));
  p.setBrush(theme().from);
  p.drawPath(pin);
  p.setPen(Qt::NoPen);
  p.setBrush(theme().card);
  p.drawEllipse(QPointF(0, -21), 2.8, 2.8);
  p.restore();
}

void Overlay::paint_ring(QPainter& p, QPointF at) const {
  p.setBrush(Qt::NoBrush);
  p.setPen(QPen(theme().card, 5.5));
  p.drawEllipse(at, 9, 9);
  p.setPen(QPen(theme().to, 3));
  p.drawEllipse(at, 9, 9);
  p.setPen(Qt::NoPen);
  p.setBrush(theme().to);
  p.drawEllipse(at, 2, 2);
}

void Overlay::add_tag(QPointF at, const QString& text, const QColor& role, bool above) {
  Label label{text, at, LabelRank::Place, role, ui_font(1, QFont::DemiBold)};
  label.above = above;
  label.away = 16;
  label.pad = 8;
  label.needed = true;
  now().add(label);
}

void Overlay::add_measured(QPointF at, const std::string& text, const QColor& hue) {
  Label label{QString::fromStdString(text), at, LabelRank::Measured, hue, number_font(1)};
  label.needed = true;
  now().add(label);
}

namespace {

constexpr double kAxisReach = 24, kLetterOut = 1.36;

QPointF corner_centre(const View& view) { return {46, view.height - 48}; }

QPointF letter_place(const View& view, int axis) {
  const Vec3 direction{axis == 0 ? 1.0 : 0, axis == 1 ? 1.0 : 0, axis == 2 ? 1.0 : 0};
  return corner_centre(view) +
         QPointF(dot(view.right(), direction), -dot(view.up(), direction)) * (kAxisReach * kLetterOut);
}

}  // namespace

bool Overlay::handle_letter_at(int pane, QPointF at) const {
  const QList<QRectF>& letters = letters_[static_cast<std::size_t>(pane)];
  return std::any_of(letters.begin(), letters.end(), [&](const QRectF& box) { return box.contains(at); });
}

int Overlay::axis_letter_at(const View& view, QPointF at) {
  int nearest = -1;
  double best = 10;
  for (int axis = 0; axis < 3; ++axis)
    if (const double off = QLineF(letter_place(view, axis), at).length(); off < best) best = off, nearest = axis;
  return nearest;
}

QRectF Overlay::paint_quiet(QPainter& p, QPointF at, const QString& text) {
  const QFont font = ui_font(0.94);
  const QFontMetricsF metrics(font);
  const QRectF box(at, QSizeF(metrics.horizontalAdvance(text) + 8, metrics.height() + 2));
  now().keep_clear(box);
  // It has to be read over whatever stands there.
  QColor card = theme().card;
  card.setAlphaF(0.7f);
  p.setPen(Qt::NoPen);
  p.setBrush(card);
  p.drawRoundedRect(box, 3, 3);
  p.setPen(theme().soft);
  p.setFont(font);
  p.drawText(box.adjusted(4, 0, -4, 0), Qt::AlignLeft | Qt::AlignVCenter, text);
  return box;
}

void Overlay::paint_corner(QPainter& p) {
  // Which way the axes run, told by their letters; what one square of the grid is; where the view looks from.
  const View& view = view_;
  const QPointF centre = corner_centre(view);
  now().keep_clear(QRectF(centre.x() - 42, centre.y() - 42, 84, 84));
  p.setFont(ui_font(0.92, QFont::DemiBold));
  for (int axis = 0; axis < 3; ++axis) {
    const QPointF letter = letter_place(view, axis);
    const bool hot = pane_ == stage_.active_pane() && axis == stage_.hovered_letter_;
    p.setPen(QPen(theme().axis[axis], hot ? 2.4 : 1.6));
    p.drawLine(centre, centre + (letter - centre) / kLetterOut);
    const QRectF box(letter.x() - 9, letter.y() - 9, 18, 18);
    if (hot) {
      p.setBrush(theme().card);
      p.drawEllipse(box);
    }
    p.drawText(box, Qt::AlignCenter, QString("XYZ").mid(axis, 1));
  }
  const Camera& camera = stage_.camera_of(pane_);
  const Scene& scene = stage_.store_.scene();
  const PlaneGridLook grid = stage_.grid_look(scene, view, camera.target);
  const Shown shown = show_length(grid.look.square, stage_.store_.unit(), 3);
  if (!stage_.hides_aids()) {
    QString square = QString("one square %1%2").arg(shown.exact ? "" : "≈ ", QString::fromStdString(shown.text));
    // Lines of a typed grid that would run together are left out; its nodes are there all the same.
    const PlaneGrid typed = grid_of(scene, scene.plane());
    if (typed.spacing > 0 && grid.look.square > typed.spacing * 1.5)
      square += QString(" of the grid of %1")
                    .arg(QString::fromStdString(show_length(typed.spacing, stage_.store_.unit(), 3).text));
    else if (grid.look.node < grid.look.square)
      square += QString(" in %1").arg(typed.parts);
    paint_quiet(p, {92, view_.height - 29}, square);
  }
  // Square onto the plane in use: what World's sides are called says nothing then.
  const Part* plane = scene.find(scene.plane());
  const double square_on = plane ? std::abs(dot(grid.drawn.frame.linear.column[2], view.back())) : 0;
  paint_quiet(p, {14, 10},
              plane && square_on > 1 - 1e-9 ? "square onto " + label_of(plane->name)
                                            : QString::fromStdString(view_words(camera)));
}

// What is not there yet, and what there is too little memory for: in the corner where nothing else stands.
void Overlay::paint_notices(QPainter& p) {
  const QFontMetricsF metrics(ui_font(0.94));
  double y = 10;
  for (const QString& notice : stage_.notices()) {
    const QString text = metrics.elidedText(notice, Qt::ElideRight, std::max(80.0, view_.width - 240));
    y = paint_quiet(p, {view_.width - 22 - metrics.horizontalAdvance(text), y}, text).bottom() + 4;
  }
}

// What the colours of faces mean, where they stand for directions: one line below the words of the view, each word
// behind its colour; in two rows where the pane is narrow.
void Overlay::paint_facing(QPainter& p) {
  const DrawTheme& draw = theme().draw;
  struct Entry {
    QString words;
    QBrush brush;
  };
  const auto plain = [&](int i) {
    const Colour& c = draw.facing[static_cast<std::size_t>(i)];
    return QBrush(QColor::fromRgbF(c.r * draw.shade, c.g * draw.shade, c.b * draw.shade));
  };
  const QColor behind =
      QColor::fromRgbF(draw.behind.r * draw.shade, draw.behind.g * draw.shade, draw.behind.b * draw.shade);
  const Entry entries[] = {{"up", plain(4)},
                           {"down", plain(5)},
                           {"left", plain(1)},
                           {"right", plain(0)},
                           {"front", plain(3)},
                           {"back", plain(2)},
                           {"seen from behind", QBrush(behind, Qt::BDiagPattern)}};
  const QFont font = ui_font(0.94);
  const QFontMetricsF metrics(font);
  const double row = metrics.height() + 8, chip = metrics.ascent(), gap = 14;
  const QString title = "Faces point, in World";
  const auto width_of = [&](const QString& words) { return chip + 6 + metrics.horizontalAdvance(words) + gap; };
  const double title_width = metrics.horizontalAdvance(title) + gap;
  const double room = view_.width - 28;
  // Where everything goes, before the card behind it is drawn.
  QList<QPointF> places;
  double x = title_width, right = title_width;
  int rows = 1;
  for (const Entry& e : entries) {
    if (x + width_of(e.words) > room && x > 0) x = 0, ++rows;
    places << QPointF(x, (rows - 1) * row);
    x += width_of(e.words);
    right = std::max(right, x);
  }
  const QRectF card(14, 38, right - gap + 16, rows * row + 4);
  now().keep_clear(card);
  QColor paper = theme().card;
  paper.setAlphaF(0.86f);
  p.setPen(QPen(theme().hair, 1));
  p.setBrush(paper);
  p.drawRoundedRect(card, 4, 4);
  p.setFont(font);
  p.setPen(theme().soft);
  const QPointF from = card.topLeft() + QPointF(8, 2);
  p.drawText(QRectF(from, QSizeF(title_width, row)), Qt::AlignLeft | Qt::AlignVCenter, title);
  for (int i = 0; i < places.size(); ++i) {
    const QPointF at = from + places[i];
    const QRectF square(at.x(), at.y() + (row - chip) / 2, chip, chip);
    p.setPen(Qt::NoPen);
    p.setBrush(i == 6 ? QColor("#EDE6DB") : Qt::transparent);
    p.drawRect(square);
    p.setPen(QPen(theme().soft, 0.8));
    p.setBrush(entries[i].brush);
    p.drawRect(square);
    p.setPen(theme().ink);
    p.drawText(QRectF(square.right() + 6, at.y(), width_of(entries[i].words), row), Qt::AlignLeft | Qt::AlignVCenter,
               entries[i].words);
  }
}

// Kept tacks as small diamonds, with their names where there are few.
void Overlay::paint_kept(QPainter& p) {
  if (!stage_.bench_.draft().shows_kept()) return;
  constexpr std::size_t kMost = 3000, kNamed = 24;
  struct Mark {
    QPointF at;
    QString name;
  };
  std::vector<Mark> marks;
  // Joints that have met lie upon each other: one mark with the names of all.
  const auto place = [&](QPointF at, const QString& name) {
    for (Mark& other : marks)
      if (QLineF(other.at, at).length() < 4) {
        if (!other.name.split(" · ").contains(name)) other.name += " · " + name;
        return;
      }
    marks.push_back({at, name});
  };
  const CatchScene& scene = stage_.catch_scene();
  for (const std::uint32_t number : scene.kept) {
    const CatchPart& part = scene.parts[number];
    for (const KeptTack& kept : *part.kept) {
      const auto at = pixel(part.world * kept.point);
      if (!at || at->x() < 0 || at->y() < 0 || at->x() > view_.width || at->y() > view_.height) continue;
      place(*at, label_of(kept.name));
      if (marks.size() == kMost) break;
    }
    if (marks.size() == kMost) break;
  }
  for (const Mark& mark : marks) {
    const QPolygonF diamond{
        {mark.at + QPointF(0, -5), mark.at + QPointF(5, 0), mark.at + QPointF(0, 5), mark.at + QPointF(-5, 0)}};
    p.setPen(QPen(theme().ink, 1.3));
    p.setBrush(theme().card);
    p.drawPolygon(diamond);
    if (marks.size() > kNamed) continue;
    // A name that would stand on something else is left to the pointer.
    Label label{mark.name, mark.at, LabelRank::Kept, theme().ink, ui_font(0.9)};
    label.look = Label::Look::Bare;
    label.away = 7;
    label.pad = 3;
    now().add(label);
  }
}

// Ties that are apart: from where From is to where it should be, two bars facing each other across the gap, and how
// far.
void Overlay::paint_drifted(QPainter& p) {
  constexpr int kMost = 200;
  int drawn = 0;
  const auto& states = stage_.bench_.tie_states();
  for (std::size_t i = 0; i < states.size() && drawn < kMost; ++i) {
    const TieState& state = states[i];
    if (state.kind != TieState::Kind::Apart) continue;
    const auto from = pixel(state.from), to = pixel(state.target);
    if (!from || !to) continue;
    ++drawn;
    const QPointF middle = (*from + *to) / 2;
    QPointF along = *to - *from;
    const double apart = std::hypot(along.x(), along.y());
    along = apart > 1 ? along / apart : QPointF(1, 0);
    const QPointF side(-along.y(), along.x());
    for (const auto& [width, hue] : {std::pair{4.5, theme().card}, {2.0, theme().drifting}}) {
      p.setPen(QPen(hue, width, Qt::SolidLine, Qt::RoundCap));
      for (const double way : {-1.0, 1.0}) {
        const QPointF bar = middle + along * (way * std::max(4.0, apart / 2));
        p.drawLine(bar - side * 6, bar + side * 6);
        p.drawLine(bar, bar + along * (way * 6));
      }
    }
    // The one that is looked at has its words in the middle of its dashed line already; others give way to what is
    // written there, and to each other.
    const auto& ties = stage_.store_.scene().ties();
    if (i < ties.size() && ties[i].name == stage_.bench_.looked_at_tie()) continue;
    const QString words =
        QString::fromStdString(state.gap > stage_.touch() ? show_length(state.gap, stage_.store_.unit(), 3).text
                                                          : state_words(state, stage_.store_.unit(), stage_.touch()));
    Label label{words, middle, LabelRank::Drifted, theme().drifting, number_font(1)};
    label.above = false;
    now().add(label);
  }
}

// The short list beside the pointer, with the chosen row on a band.
void Overlay::paint_short_list(QPainter& p) const {
  const Stage::ShortList list = stage_.short_list();
  if (list.rows.isEmpty()) return;
  p.setFont(ui_font(0.94));
  const QFontMetricsF metrics(p.font());
  const double line = std::ceil(metrics.height() + 3);
  double width = 60;
  for (const QString& row : list.rows) width = std::max(width, metrics.horizontalAdvance(row));
  QRectF card(stage_.last_at_ + QPointF(24, 24), QSizeF(width + 22, line * static_cast<double>(list.rows.size()) + 10));
  if (card.right() > view_.width - 6) card.moveRight(std::min(view_.width - 6, stage_.last_at_.x() - 24));
  if (card.left() < 6) card.moveLeft(6);
  if (card.bottom() > view_.height - 6) card.moveBottom(view_.height - 6);
  p.setPen(QPen(theme().hair, 1));
  p.setBrush(theme().card);
  p.drawRoundedRect(card, 3, 3);
  for (int i = 0; i < list.rows.size(); ++i) {
    const QRectF row(card.left() + 1, card.top() + 5 + line * i, card.width() - 2, line);
    const bool chosen = i == list.chosen;
    if (chosen) p.fillRect(row, theme().ink);
    p.setPen(chosen ? theme().card : i < list.seen ? theme().ink : theme().soft);
    p.drawText(row.adjusted(10, 0, -10, 0), Qt::AlignLeft | Qt::AlignVCenter, list.rows[i]);
  }
}

std::optional<QPointF> Overlay::pixel(const Vec3& world) const {
  const auto px = view_.project(world);
  return px ? std::optional(QPointF(px->x, px->y)) : std::nullopt;
}

void Overlay::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const std::vector<int> panes = stage_.panes();
  for (const int pane : panes) {
    pane_ = pane;
    const QRect rect = stage_.pane_rect(pane_);
    view_ = stage_.view_of_pane(pane_);
    p.save();
    p.setClipRect(rect);
    p.translate(rect.topLeft());
    paint_pane(p);
    p.restore();
    if (panes.size() < 2) continue;
    // The pane that keys and menus mean has a line of ink about it.
    const bool active = pane_ == stage_.active_pane();
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(active ? theme().ink : theme().hair, active ? 1.6 : 1));
    p.drawRect(QRectF(rect).adjusted(0.5, 0.5, -0.5, -0.5));
  }
}

void Overlay::paint_pane(QPainter& p) {
  now().clear();
  const bool active = pane_ == stage_.active_pane(), aids = !stage_.hides_aids();
  const Marks& marks = stage_.bench_.marks();
  if (const auto elevation = Stage::elevation_of(pane_)) {
    if (aids) paint_guides(p, marks);
    paint_elevation(p, *elevation, marks);
  } else if (aids) {
    paint_corner(p);
    if (pane_ == stage_.active_pane()) paint_notices(p);
    if (stage_.style() == DrawStyle::Facing) paint_facing(p);
    paint_drop_line(p, marks);
    paint_guides(p, marks);
    paint_plane_in_use(p, marks);
    paint_kept(p);
    paint_taken(p, marks);
    paint_brush(p);
    paint_box(p, marks);
  }
  paint_handles(p);
  // A strip that the pointer is not in shows what happens without repeating the words.
  const bool words = active || !Stage::elevation_of(pane_);
  if (words) paint_gauges(p, marks);
  const auto from = marks.from ? pixel(marks.from->point) : std::nullopt;
  const auto to = marks.to ? pixel(marks.to->point) : std::nullopt;
  if (from && to && marks.joined) {
    p.setPen(QPen(theme().card, 3));
    p.drawLine(*from, *to);
    QPen dashed(theme().ink, 1.3);
    dashed.setDashPattern({4, 4});
    p.setPen(dashed);
    p.drawLine(*from, *to);
  }
  for (const Marks::Given& given : marks.given)
    if (const auto at = pixel(given.point)) given.moves ? paint_pin(p, *at) : paint_ring(p, *at);
  for (const auto& [pair_from, pair_to] : marks.pairs) {
    if (const auto at = pixel(pair_to)) paint_ring(p, *at);
    if (const auto at = pixel(pair_from)) paint_pin(p, *at);
  }
  for (const TackAddress& place : stage_.pointed_out()) {
    const auto tack = find_tack(marks.shown ? *marks.shown : stage_.store_.scene(), place);
    const auto at = tack ? pixel(tack->point) : std::nullopt;
    if (!at) continue;
    p.setBrush(Qt::NoBrush);
    for (const auto& [width, ink, style] :
         {std::tuple{5.0, theme().card, Qt::SolidLine}, {2.2, theme().to, Qt::DashLine}}) {
      p.setPen(QPen(ink, width, style));
      p.drawEllipse(*at, 22, 22);
    }
  }
  if (to) paint_ring(p, *to);
  if (from) paint_pin(p, *from);
  if (const auto lands = stage_.landing_ ? pixel(stage_.landing_->at) : std::nullopt) {
    paint_ring(p, *lands);
    if (words) add_tag(*lands, stage_.landing_->words, theme().to, false);  // above it hangs what is dragged
  }
  // Words keep clear of the marks themselves.
  if (to) now().keep_clear(QRectF(*to - QPointF(11, 11), QSizeF(22, 22)));
  if (from) now().keep_clear(QRectF(*from - QPointF(10, 31), QSizeF(20, 33)));
  // The short list names what is hovered over already.
  const bool listed = active && !stage_.short_list().rows.isEmpty();
  if (to && words && !listed) add_tag(*to, marks.to->name, theme().to, true);
  if (from && words && !listed) add_tag(*from, marks.from->name, theme().from, false);
  // What is left apart is said even where the two places coincide on the picture: there above all.
  const bool apart = marks.tone == Tone::Apart;
  if (from && to && words && (apart || (marks.joined && QLineF(*from, *to).length() > 60))) {
    Label pill{marks.distance, apart ? *to + QPointF(0, 52) : (*from + *to) / 2, LabelRank::Distance,
               apart ? theme().drifting : theme().ink, number_font(1)};
    pill.look = Label::Look::Pill;
    pill.centred = true;
    pill.needed = true;
    pill.pad = 11;
    now().add(pill);
  }
  if (aids && words) paint_drifted(p);
  now().paint(p, QRectF(0, 0, view_.width, view_.height));
  if (active) paint_short_list(p);
  if (active && stage_.gesture_ == Stage::Gesture::Rectangle) {
    QColor wash = theme().ink;
    wash.setAlphaF(0.07f);
    p.setPen(QPen(theme().ink, 1, Qt::DashLine));
    p.setBrush(wash);
    p.drawRect(QRectF(stage_.pressed_at_, stage_.last_at_).normalized());
  }
}

}  // namespace tack
