// Guides and planes over the stage; declared in overlay.h.
#include "app/stage/overlay.h"
#include "app/stage/stage.h"
#include "app/text.h"
#include "app/theme.h"
#include "draw/plane_grid.h"

namespace tack {
namespace {

// The part of a line that lies within a rectangle; nullopt for none (Liang and Barsky 1984).
std::optional<QLineF> clipped(const QLineF& line, const QRectF& within) {
  double from = 0, to = 1;
  const auto cut = [&](double way, double room) {
    if (way == 0) return room >= 0;
    const double at = room / way;
    (way < 0 ? from : to) = way < 0 ? std::max(from, at) : std::min(to, at);
    return from <= to;
  };
  if (cut(-line.dx(), line.x1() - within.left()) && cut(line.dx(), within.right() - line.x1()) &&
      cut(-line.dy(), line.y1() - within.top()) && cut(line.dy(), within.bottom() - line.y1()))
    return QLineF(line.pointAt(from), line.pointAt(to));
  return std::nullopt;
}

}  // namespace

void Overlay::paint_world_line(QPainter& p, const Vec3& a, const Vec3& b) const {
  const auto ends = view_.project(a, b);
  if (!ends) return;
  // What lies far outside the picture is cut off before it is drawn: dashes of kilometres take long.
  const QLineF whole(QPointF((*ends)[0].x, (*ends)[0].y), QPointF((*ends)[1].x, (*ends)[1].y));
  if (const auto shown = clipped(whole, QRectF(-8, -8, view_.width + 16, view_.height + 16))) p.drawLine(*shown);
}

// Guides as thin chain lines: a cross, a long line, the border of a plane. That of the plane in use is drawn with its
// grid. Those about to be laid look the same, in the colour of what stays.
void Overlay::paint_guides(QPainter& p, const Marks& marks) {
  const Store& store = stage_.store_;
  const CatchScene& scene = stage_.catch_scene();
  const auto paint = [&](GuideKind kind, const Affine& world, const Sheet& sheet, const QColor& ink, bool firm,
                         bool bordered) {
    QPen pen(ink, firm ? 2.2 : 1.2, Qt::CustomDashLine);
    pen.setDashPattern({10, 3, 2, 3});
    p.setPen(pen);
    if (kind == GuideKind::Line) paint_world_line(p, world * Vec3{0, 0, -kGuideLine}, world * Vec3{0, 0, kGuideLine});
    if (kind == GuideKind::Plane && bordered) {
      const auto corners = sheet.corners();
      for (std::size_t i = 0; i < 4; ++i) paint_world_line(p, world * corners[i], world * corners[(i + 1) % 4]);
    }
    const auto at = pixel(world.translation);
    if (!at) return;
    p.setPen(QPen(ink, firm ? 2.2 : 1.4));
    p.drawLine(*at - QPointF(5, 5), *at + QPointF(5, 5));
    p.drawLine(*at - QPointF(5, -5), *at + QPointF(5, -5));
  };
  for (const std::uint32_t number : scene.guides) {
    const CatchPart& part = scene.parts[number];
    const Affine world = marks.shown && marks.shown->contains(part.id) ? world_of(*marks.shown, part.id) : part.world;
    const bool picked = store.is_picked(part.id), in_use = store.scene().plane() == part.id;
    paint(part.guide, world, part.sheet, theme().ink, picked, picked || !in_use);
  }
  for (const Marks::Guide& guide : marks.guides) {
    paint(guide.kind, guide.frame, Sheet{}, theme().to, true, true);
    if (guide.kind == GuideKind::Plane) paint_plane_axes(p, guide.frame);
  }
}

// x and y of a plane as short rulers from its origin, with their letters.
void Overlay::paint_plane_axes(QPainter& p, const Affine& frame) {
  constexpr double kLong = 56;
  const double scale = view_.pixels_per_mm(frame.translation);
  if (!(scale > 0)) return;
  for (std::size_t axis = 0; axis < 2; ++axis) {
    const Vec3 end = frame.translation + frame.linear.column[axis] * (kLong / scale);
    const auto from = pixel(frame.translation), tip = pixel(end);
    if (!from || !tip || QLineF(*from, *tip).length() < 10) continue;
    paint_ruler(p, frame.translation, end, theme().axis[static_cast<int>(axis)], 0, 1.4);
    QLineF out(*from, *tip);
    out.setLength(out.length() + 9);
    if (!QRectF(0, 0, view_.width, view_.height).contains(out.p2())) continue;
    Label letter{QString("xy").mid(static_cast<int>(axis), 1), out.p2(), LabelRank::Letter,
                 theme().axis[static_cast<int>(axis)], ui_font(0.92, QFont::DemiBold)};
    letter.look = Label::Look::Bare;
    letter.centred = true;
    letter.pad = 3;
    now().add(letter);
  }
}

// The plane in use: its name at the corner of its sheet that is lowest on the picture, its x and y.
void Overlay::paint_plane_in_use(QPainter& p, const Marks& marks) {
  const Scene& scene = marks.shown ? *marks.shown : stage_.store_.scene();
  const Part* plane = scene.find(scene.plane());
  if (!plane || is_hidden(scene, scene.plane())) return;
  const PlaneGridLook look = stage_.grid_look(scene, view_, stage_.camera_of(pane_).target);
  const Affine& frame = look.drawn.frame;
  paint_plane_axes(p, frame);
  if (!look.drawn.sheet) return;
  std::optional<QPointF> lowest;
  const QRectF room(24, 24, view_.width - 48, view_.height - 48);
  for (const Vec3& corner : look.drawn.sheet->corners())
    if (const auto at = pixel(frame * corner); at && room.contains(*at) && (!lowest || at->y() > lowest->y()))
      lowest = at;
  if (!lowest) return;
  Label name{label_of(plane->name), *lowest, LabelRank::Kept, theme().ink, ui_font(0.94, QFont::DemiBold)};
  name.look = Label::Look::Bare;
  name.above = false;
  name.away = 8;
  now().add(name);
}

// From the pivot of what moves down to the plane in use, along its normal, with the height.
void Overlay::paint_drop_line(QPainter& p, const Marks& marks) {
  const Store& store = stage_.store_;
  const VerbId verb = stage_.bench_.draft().row();
  if (store.picked().size() != 1 || verb == id_of<Pick> || verb == id_of<Measure>) return;
  // Among the points of two boxes one line more is one too many.
  if (stage_.bench_.draft().takes_points()) return;
  // In a drag it goes along with what is dragged.
  const Scene& scene = marks.shown ? *marks.shown : store.scene();
  const PartId id = store.picked().front();
  const Part* part = scene.find(id);
  if (!part || id == scene.plane()) return;
  const Vec3 pivot = world_of(scene, id) * part->placement.pivot;
  const Affine plane = plane_frame(scene, scene.plane());
  const double height = dot(plane.linear.column[2], pivot - plane.translation);
  const auto top = pixel(pivot), foot = pixel(pivot - plane.linear.column[2] * height);
  if (!top || !foot || QLineF(*top, *foot).length() < 4) return;
  p.setPen(QPen(theme().axis[2], 1.1));
  p.drawLine(*top, *foot);
  p.drawLine(*foot + QPointF(-5, 0), *foot + QPointF(5, 0));
  Label label{QString::fromStdString(show_length(height, store.unit(), 2).text), *foot, LabelRank::Height,
              theme().axis[2], number_font(0.9)};
  label.look = Label::Look::Bare;
  label.away = 7;
  label.pad = 3;
  now().add(label);
}

}  // namespace tack
