#include "core/verbs/shape.h"

#include <fmt/format.h>

#include "core/catch/guide_law.h"
#include "core/math/split.h"
#include "core/mesh/transform.h"
#include "core/verbs/live.h"
#include "core/verbs/phrase.h"
#include "core/verbs/plane.h"
#include "core/verbs/readdress.h"
#include "core/verbs/rigid.h"

namespace tack {
namespace {

constexpr Choice kKinds[] = {{"box", "box"},       {"plate", "plate"}, {"cylinder", "cylinder"}, {"cone", "cone"},
                             {"sphere", "sphere"}, {"torus", "torus"}, {"tube", "tube"},         {"line", "line"}};
constexpr Choice kStarts[] = {{"its middle", "middle"}, {"a corner", "corner"}};
constexpr Choice kBases[] = {{"standing on it", "bottom"}, {"half above it", "middle"}, {"hanging from it", "top"}};

bool in_plane(ShapeKind kind, Dimension d) {
  if (kind == ShapeKind::Box || kind == ShapeKind::Plate) return d == Dimension::Width || d == Dimension::Depth;
  return d == Dimension::Diameter || d == Dimension::Width;
}
bool along_normal(Dimension d) { return d == Dimension::Height; }
bool has_height(ShapeKind kind) { return has(kind, Dimension::Height); }
bool has_corners(ShapeKind kind) { return kind == ShapeKind::Box || kind == ShapeKind::Plate; }
bool is_middle_born(ShapeKind kind) { return kind == ShapeKind::Sphere || kind == ShapeKind::Torus; }

// Whether all that lies in the plane, or along its normal, is typed.
bool all_typed(const MakeShape& s, bool height) {
  for (const Dimension d : dimensions_of(s.kind))
    if ((height ? along_normal(d) : in_plane(s.kind, d)) && !s.typed.of(s.kind, d)) return false;
  return true;
}

Result<Vec3> place_on(const Affine& to_plane, const TackAddress& place, const Scene& scene) {
  const auto tack = find_tack(scene, place);
  if (!tack) return tl::unexpected(tack.error());
  return to_plane * tack->point;
}

std::string usual_name(ShapeKind kind) {
  std::string name(word_of(kind));
  name.front() = static_cast<char>(name.front() - 'a' + 'A');
  return name;
}

// Whether a kind has all the dimensions that were typed.
Result<void> all_fit(const TypedDimensions& typed, ShapeKind kind, const std::string& name) {
  const auto refused = [&](std::string_view key) {
    std::vector<std::string_view> has;
    for (const Dimension d : dimensions_of(kind))
      if (has.empty() || has.back() != key_of(kind, d)) has.push_back(key_of(kind, d));
    return fail(fmt::format("\"{}\" is a {}: it has no {}.", name, word_of(kind), key), std::string(key),
                fmt::format("It has: {}.", fmt::join(has, ", ")));
  };
  if (any_given(typed.size) && !has_corners(kind)) return refused("size");
  if (typed.length && kind != ShapeKind::Line) return refused("length");
  if (typed.height && (!has_height(kind) || has_corners(kind))) return refused("height");
  for (const auto& [amount, d] : {std::pair{&typed.diameter, Dimension::Diameter},
                                  {&typed.top, Dimension::Top},
                                  {&typed.thickness, Dimension::Thickness},
                                  {&typed.corner, Dimension::Corner},
                                  {&typed.sides, Dimension::Sides}})
    if (*amount && !has(kind, d)) return refused(key_of(kind, d));
  return {};
}

// Shifts a part that has been given other dimensions so that what is held is where it was.
Result<void> hold_still(const About& hold, const Scene& was, Scene& now, PartId id, const std::vector<PartId>& parts) {
  const auto still = still_point(hold, was, id, parts, AxesKind::Local);
  if (!still) return tl::unexpected(still.error());
  const auto back = inverse(world_of(was, id));
  if (!back) return fail(fmt::format("\"{}\" is flattened.", was.part(id).name));
  const Vec3 own = carried(*was.part(id).shape, *now.part(id).shape, *back * *still);
  const auto missing = [&](const Scene& scene) { return std::optional(*still - world_of(scene, id) * own); };
  const Vec3 shift = *missing(now);
  if (shift == Vec3{}) return {};
  if (auto ok = put_pivot(now, id, pivot_in_world(now, id) + shift); !ok) return ok;
  return settle(now, {}, id, missing);
}

Result<void> typed_into(Shape& shape, const TypedDimensions& typed, const Scene& scene, PartId part,
                        std::array<std::string, kDimensions>* texts) {
  for (const Dimension d : dimensions_of(shape.kind)) {
    const auto& amount = typed.of(shape.kind, d);
    if (!amount) continue;
    const EntryKind kind = d == Dimension::Sides ? EntryKind::Factor : EntryKind::Length;
    const auto value = evaluate(*amount, kind, shape[d], Reading{scene, AxesKind::World, part});
    if (!value) return tl::unexpected(value.error());
    shape[d] = *value;
    if (texts) (*texts)[static_cast<std::size_t>(d)] = uses_it(*amount) ? std::string() : amount->text;
  }
  return {};
}

// --- what the tables say

template <Dimension kDimension>
std::string_view barred(const MakeShape& s) {
  const bool sized = has_corners(s.kind) && kDimension <= Dimension::Height;
  return has(s.kind, kDimension) && !sized ? "" : "this kind of shape does not have it";
}
std::string_view size_barred(const MakeShape& s) { return has_corners(s.kind) ? "" : "boxes and plates have it"; }
std::string_view length_barred(const MakeShape& s) { return s.kind == ShapeKind::Line ? "" : "a line has it"; }
std::string_view start_barred(const MakeShape& s) {
  return has_corners(s.kind) ? "" : "only boxes and plates have corners";
}
std::string_view base_barred(const MakeShape& s) {
  return s.kind == ShapeKind::Line                     ? "a line has no bottom"
         : s.start == MakeShape::Start::Corner || s.up ? "the places say where it stands"
                                                       : "";
}
std::string_view up_barred(const MakeShape& s) { return has_height(s.kind) ? "" : "it has no height"; }

template <class V>
Slot size_slot(V& v, std::size_t i) {
  return &v.typed.size[i];
}
template <class V, std::optional<Amount> TypedDimensions::*kMember>
Slot typed_slot(V& v, std::size_t) {
  return &(v.typed.*kMember);
}

Result<void> check(const MakeShape& s) {
  if (!s.at) return fail("There is no place for it yet.", "at", "Click it.");
  if (s.up && !has_height(s.kind))
    return fail(fmt::format("A {} has no height for a third place to give.", word_of(s.kind)), "up");
  if (s.kind == ShapeKind::Line && !s.across && !s.typed.length)
    return fail("A line needs a length, or a second place.", "length");
  return s.name.empty() ? Result<void>() : check_name(s.name, "A shape");
}

// Whether a number or a place gives a dimension; and whether one that a steps file has to give is given by nothing.
bool is_given(const MakeShape& s, Dimension d) {
  return s.typed.of(s.kind, d) || (s.across && in_plane(s.kind, d)) || (s.up && along_normal(d));
}
bool is_missing(const MakeShape& s, Dimension d) {
  return d != Dimension::Sides && d != Dimension::Corner && d != Dimension::Top && !is_given(s, d);
}

// A steps file says all of it: what is usual is for the eye.
Result<void> check_in(const MakeShape& s, const Scene& scene) {
  if (auto ok = check_plane(scene, s.plane, "plane"); !ok) return ok;
  for (const Dimension d : dimensions_of(s.kind))
    if (is_missing(s, d))
      return fail(fmt::format("A {} needs its {}.", word_of(s.kind), key_of(s.kind, d)), std::string(key_of(s.kind, d)),
                  "Give it, or a place that it reaches.");
  return {};
}

BlankId waits_for(const MakeShape& s) {
  if (!s.at) return blank_of<MakeShape>("at");
  if (!s.across && !all_typed(s, false)) return blank_of<MakeShape>("across");
  if (has_height(s.kind) && !s.up && !all_typed(s, true)) return blank_of<MakeShape>("up");
  return {};
}

MakeShape next_after(const MakeShape& s) {
  MakeShape next;
  next.kind = s.kind;
  next.start = s.start;
  return next;
}

MakeShape begun(MakeShape s, const Scene& scene) {
  if (!s.other_plane) s.plane = scene.plane();
  return s;
}

bool is_ready(const MakeShape& s) { return check(s) && !waits_for(s); }

// What has been given counts, and what stands for the rest.
std::optional<MakeShape> stands(const MakeShape& s, const Scene& scene) {
  if (!s.at) return std::nullopt;
  MakeShape whole = s;
  // A line without an end lies along x as long as it stands.
  if (s.kind == ShapeKind::Line && !s.across && !s.typed.length)
    whole.typed.length = Amount{usual_shape(s.kind)[Dimension::Width]};
  const auto made = shape_of(whole, scene);
  if (!made) return std::nullopt;
  for (const Dimension d : dimensions_of(s.kind))
    if (!is_given(s, d) && !whole.typed.of(s.kind, d)) whole.typed.of(s.kind, d) = Amount{made->shape[d]};
  return whole;
}

// A step says what it made, also where that was the usual.
MakeShape made_whole(MakeShape s, const Scene& scene) {
  const auto made = shape_of(s, scene);
  if (!made) return s;
  for (const Dimension d : dimensions_of(s.kind))
    if (is_missing(s, d)) s.typed.of(s.kind, d) = Amount{made->shape[d]};
  return s;
}

bool take_back(MakeShape& s) {
  for (auto* place : {&s.up, &s.across, &s.at})
    if (place->has_value()) return place->reset(), true;
  return false;
}

BlankId dimension_blank(ShapeKind kind, Dimension d) {
  const std::string_view key = key_of(kind, d);
  return blank_of<MakeShape>(key, key == "size" ? static_cast<std::size_t>(d) : 0);
}

// The first dimension that is still missing; once it is made, the first.
BlankId leads(const MakeShape& s) {
  for (const Dimension d : dimensions_of(s.kind)) {
    if (is_given(s, d)) continue;
    if (d == Dimension::Sides || (d == Dimension::Corner && s.up)) continue;
    return dimension_blank(s.kind, d);
  }
  return dimension_blank(s.kind, dimensions_of(s.kind).front());
}

std::optional<double> usual_now(const MakeShape& s, const Scene& scene, Dimension d) {
  const auto shape = shape_of(s, scene);
  return shape ? shape->shape[d] : usual_shape(s.kind)[d];
}
template <Dimension kDimension>
std::optional<double> now(const MakeShape& s, const Scene& scene, std::size_t i) {
  return usual_now(s, scene, static_cast<Dimension>(static_cast<std::size_t>(kDimension) + i));
}

// A dimension in a sentence: as it was typed, else as the places have it.
void say_dimensions(Phrase& p, const TypedDimensions& typed, const Shape& shape, const LengthUnit& unit) {
  bool first = true;
  for (const Dimension d : dimensions_of(shape.kind)) {
    const std::string_view key = key_of(shape.kind, d);
    const std::size_t index = key == "size" ? static_cast<std::size_t>(d) : 0;
    const auto& amount = typed.of(shape.kind, d);
    const std::string value = d == Dimension::Sides ? show_number(shape[d], 0).text
                              : amount              ? shown(*amount, EntryKind::Length, unit)
                                                    : show_length(shape[d], unit, 4).text;
    if (!first) p.say(key == "size" ? " × " : ", ");
    first = false;
    if (d == Dimension::Top) p.say("its top ");
    p.blank(key, index, value);
    switch (d) {
      case Dimension::Diameter: p.say(" across"); break;
      case Dimension::Top: p.say(" across"); break;
      case Dimension::Height:
        if (key != "size") p.say(" high");
        break;
      case Dimension::Thickness: p.say(shape.kind == ShapeKind::Tube ? " of wall" : " thick"); break;
      case Dimension::Corner: p.say(" round at the corners"); break;
      case Dimension::Sides: p.say(" sides"); break;
      case Dimension::Width:
        if (shape.kind == ShapeKind::Line) p.say(" long");
        break;
      case Dimension::Depth: break;
    }
  }
}

void sentence(Phrase& p, const MakeShape& s) {
  const auto made = shape_of(s, p.scene());
  Shape shape = made ? made->shape : usual_shape(s.kind);
  p.say("Made a ", "Make a ").blank("kind").say(" of ");
  say_dimensions(p, s.typed, shape, p.unit());
  p.say(", ");
  if (has_corners(s.kind)) p.blank("start").say(" ");
  p.say(s.kind == ShapeKind::Line ? "from " : "at ").blank("at");
  if (s.at && (s.across || !all_typed(s, false)))
    p.say(s.kind == ShapeKind::Line                                    ? " to "
          : has_corners(s.kind) && s.start == MakeShape::Start::Corner ? ", the opposite one at "
                                                                       : ", its rim at ")
        .blank("across");
  if (s.at && has_height(s.kind) && (s.up || (!all_typed(s, true) && (s.across || all_typed(s, false)))))
    p.say(", as high as ").blank("up");
  p.say(" on ").blank("plane", 0, plane_words(p.scene(), s.plane));
  if (base_barred(s).empty()) p.say(", ").blank("base");
  p.say(", named ").blank("name", 0, s.name.empty() ? free_name(p.scene(), kNoPart, usual_name(s.kind)) : s.name);
  p.say(".");
}

std::string remark_of(const MakeShape& s, const Scene& scene, const Scene&) {
  const auto made = shape_of(s, scene);
  const double inside = made ? inside_by(made->shape) : 0;
  if (!(inside > 0)) return {};
  return fmt::format("Its {} sides lie up to {} inside the true surface; circles, axes and centres are the true ones.",
                     show_number(made->shape[Dimension::Sides], 0).text, show_length(inside, kMillimetres, 4).text);
}

// --- dimensions

Result<void> check(const SetDimensions& s) {
  const TypedDimensions& t = s.typed;
  if (any_given(t.size) || t.diameter || t.top || t.height || t.thickness || t.corner || t.length || t.sides) return {};
  return fail("No dimension is given.", "size", "Give a size, a diameter, a height …");
}

std::string remark_of(const SetDimensions&, const Scene& before, const Scene& after) {
  return lost_words(before, after);
}

template <Dimension kDimension>
std::optional<double> dimension_now(const SetDimensions& s, const Scene& scene, std::size_t i) {
  for (const PartId id : s.what)
    if (const Part* part = scene.find(id); part && part->shape)
      return part->shape->shape[static_cast<Dimension>(static_cast<std::size_t>(kDimension) + i)];
  return std::nullopt;
}

const Part* first_live(const Scene& scene, const std::vector<PartId>& what) {
  for (const PartId id : what)
    if (const Part* part = scene.find(id); part && part->shape) return part;
  return nullptr;
}

void sentence(Phrase& p, const SetDimensions& s) {
  p.say("Gave ", "Give ").blank("what").say(" ");
  if (const Part* part = first_live(p.scene(), s.what)) {
    Shape shape = part->shape->shape;
    (void)typed_into(shape, s.typed, p.scene(), s.what.front(), nullptr);
    say_dimensions(p, s.typed, shape, p.unit());
  } else {
    p.say("dimensions");
  }
  p.say(", holding ").blank("hold").say(" still");
  if (shares_mesh(p.scene(), s.what)) p.say(", ").blank("copies");
  p.say(".");
}

}  // namespace

std::optional<Amount>& TypedDimensions::of(ShapeKind kind, Dimension d) {
  if (kind == ShapeKind::Line) return length;
  if (has_corners(kind) && d <= Dimension::Height) return size[static_cast<std::size_t>(d)];
  switch (d) {
    case Dimension::Diameter: return diameter;
    case Dimension::Top: return top;
    case Dimension::Thickness: return thickness;
    case Dimension::Corner: return corner;
    case Dimension::Sides: return sides;
    default: return height;
  }
}

bool waits_for_height(const MakeShape& s) { return waits_for(s) == blank_of<MakeShape>("up"); }

Result<ShapeInPlace> shape_of(const MakeShape& s, const Scene& scene) {
  ShapeInPlace made;
  Shape& shape = made.shape;
  shape = usual_shape(s.kind);
  if (auto ok = check_plane(scene, s.plane, "plane"); !ok) return tl::unexpected(ok.error());
  made.frame = plane_frame(scene, s.plane);
  const auto back = inverse(made.frame);
  if (!back) return fail("The plane is flattened.", "plane");
  // Everything is found in the plane's own coordinates.
  Vec3 at, across;
  if (s.at) {
    const auto place = place_on(*back, *s.at, scene);
    if (!place) return tl::unexpected(place.error());
    at = *place;
    const auto tack = find_tack(scene, *s.at);
    made.frame.translation = tack->point;
  }
  const bool cornered = has_corners(s.kind) && s.start == MakeShape::Start::Corner;
  if (s.across) {
    const auto place = place_on(*back, *s.across, scene);
    if (!place) return tl::unexpected(place.error());
    across = *place - at;
    if (has_corners(s.kind)) {
      shape[Dimension::Width] = std::abs(across.x) * (cornered ? 1 : 2);
      shape[Dimension::Depth] = std::abs(across.y) * (cornered ? 1 : 2);
    } else if (s.kind == ShapeKind::Line) {
      shape[Dimension::Width] = length(across);
    } else {
      shape[Dimension::Diameter] = std::hypot(across.x, across.y) * 2;
    }
  }
  double up = 0;
  if (s.up) {
    const auto place = place_on(*back, *s.up, scene);
    if (!place) return tl::unexpected(place.error());
    up = place->z - at.z;
    if (has_height(s.kind)) shape[Dimension::Height] = std::abs(up);
  }
  if (auto ok = typed_into(shape, s.typed, scene, kNoPart, nullptr); !ok) return tl::unexpected(ok.error());
  // What follows from the rest, where nothing says otherwise, stays possible.
  if (!s.typed.of(s.kind, Dimension::Top) && s.kind == ShapeKind::Cone) shape[Dimension::Top] = 0;
  if (has(s.kind, Dimension::Thickness) && !s.typed.thickness)
    shape[Dimension::Thickness] = std::min(shape[Dimension::Thickness], shape[Dimension::Diameter] / 8);
  if (s.kind == ShapeKind::Plate && !s.typed.corner)
    shape[Dimension::Corner] =
        std::min(shape[Dimension::Corner], std::min(shape[Dimension::Width], shape[Dimension::Depth]) / 4);
  Vec3 shift;
  if (cornered) {
    shift.x = (across.x < 0 ? -1 : 1) * shape[Dimension::Width] / 2;
    shift.y = (across.y < 0 ? -1 : 1) * shape[Dimension::Depth] / 2;
  }
  const double height = has_height(s.kind)            ? shape[Dimension::Height]
                        : s.kind == ShapeKind::Sphere ? shape[Dimension::Diameter]
                        : s.kind == ShapeKind::Torus  ? shape[Dimension::Thickness]
                                                      : 0;
  MakeShape::Base base = base_barred(s).empty() ? s.base : MakeShape::Base::Bottom;
  if (up < 0) base = MakeShape::Base::Top;
  shift.z = base == MakeShape::Base::Bottom ? 0 : base == MakeShape::Base::Middle ? -height / 2 : -height;
  if (is_middle_born(s.kind)) shift.z += height / 2;
  if (s.kind == ShapeKind::Line && s.across && length(across) > 0) {
    const Vec3 x = normalized(across), z{0, 0, 1};
    made.frame.linear =
        made.frame.linear * squared_up(Mat3{{x, cross(std::abs(x.z) > 0.9 ? Vec3{0, -1, 0} : z, x), z}});
  }
  made.frame.translation = made.frame.translation + made.frame.linear * shift;
  if (auto ok = check(shape); !ok) return tl::unexpected(ok.error());
  return made;
}

Result<Scene> apply(const MakeShape& s, const Scene& scene) {
  const auto made = shape_of(s, scene);
  if (!made) return tl::unexpected(made.error());
  auto mesh = make_mesh(mesh_data_of(made->shape));
  if (!mesh) return tl::unexpected(mesh.error());
  LiveShape live{made->shape, {}, {}};
  Shape ignored = made->shape;
  if (auto ok = typed_into(ignored, s.typed, scene, kNoPart, &live.typed); !ok) return tl::unexpected(ok.error());
  Part part;
  part.name = free_name(scene, kNoPart, s.name.empty() ? usual_name(s.kind) : s.name);
  part.mesh = std::move(*mesh);
  part.shape = std::make_shared<const LiveShape>(std::move(live));
  part.colours.emplace_back();
  auto placement = placement_in(scene, kNoPart, made->frame);
  if (!placement) return tl::unexpected(placement.error());
  part.placement = *placement;
  Scene result = scene;
  result.add(std::move(part));
  return result;
}

Result<Scene> apply(const SetDimensions& s, const Scene& scene) {
  if (s.what.empty()) return fail("Nothing is picked.", "what", "Pick a shape first.");
  if (const auto parts = movable(scene, s.what); !parts) return tl::unexpected(parts.error());
  // All are measured before any is changed: one may be the height of another.
  std::vector<std::pair<PartId, LiveShape>> next;
  for (const PartId id : in_tree_order(scene, s.what)) {
    const Part& part = scene.part(id);
    if (!part.shape)
      return fail(fmt::format("\"{}\" has no dimensions: it is {}.", part.name, part.mesh ? "a mesh" : "a group"),
                  "what", "Size it with Scale, or lengthen it with Stretch.");
    LiveShape live = *part.shape;
    if (const auto ok = all_fit(s.typed, live.shape.kind, part.name); !ok) return tl::unexpected(ok.error());
    if (const auto ok = typed_into(live.shape, s.typed, scene, id, &live.typed); !ok) return tl::unexpected(ok.error());
    next.emplace_back(id, std::move(live));
  }
  Scene result = scene;
  std::vector<PartId> done;
  for (const auto& [id, live] : next) {
    std::vector<PartId> changed{id};
    if (s.copies == Copies::All)
      for (const PartId other : instances_of(result, id)) changed.push_back(other);
    // An instance of one that has been changed already has what it needs.
    if (std::find(done.begin(), done.end(), id) != done.end()) continue;
    const Scene was = result;
    auto given = with_dimensions(result, id, live, s.copies);
    if (!given) return given;
    result = std::move(*given);
    for (const PartId one : changed) {
      done.push_back(one);
      if (const auto ok = hold_still(s.hold, was, result, one, s.what); !ok) return tl::unexpected(ok.error());
    }
  }
  return result;
}

// clang-format off
const Table<MakeShape>& table_of(const MakeShape*) {
  static const Table<MakeShape> table{.key = "shape", .does = "Makes a solid of exact size.", .check = check,
      .check_in = check_in, .ready = is_ready, .waits = waits_for, .whole = made_whole, .next = next_after, .stands = stands, .begun = begun,
      .remark = remark_of,
      .take_back = take_back, .leads = leads, .axis = "size",
      .hints = {.nothing = "Click where it stands, or type its dimensions first.",
      .ready = "Enter makes it as it stands. Type a dimension, or click a place that it reaches.",
      .done = "Made. Type or click a dimension to change it."},
      .sentence = sentence, .rows = {
    {.key = "kind", .name = "Kind of shape", .at = slot<&MakeShape::kind>, .choices = kKinds, .needed = true,
     .always = true, .given = [](MakeShape& s, std::size_t) { if (!has_height(s.kind)) s.up.reset(); },
     .doc = "what is made"},
    {.key = "at", .name = "Place", .at = slot<&MakeShape::at>, .ask = "Click where it stands.", .waiting = "a place",
     .needed = true, .always = true, .doc = "where it stands"},
    {.key = "size", .name = "Size along", .at = size_slot<MakeShape>, .three = true, .barred = size_barred,
     .now = now<Dimension::Width>, .doc = "of a box or a plate, along the plane's x, y and normal, mm"},
    {.key = "length", .name = "Length", .at = typed_slot<MakeShape, &TypedDimensions::length>, .barred = length_barred,
     .now = now<Dimension::Width>, .doc = "of a line"},
    {.key = "diameter", .name = "Diameter", .at = typed_slot<MakeShape, &TypedDimensions::diameter>,
     .barred = barred<Dimension::Diameter>, .now = now<Dimension::Diameter>,
     .doc = "across, outside; of a cone at its bottom"},
    {.key = "top", .name = "Top", .at = typed_slot<MakeShape, &TypedDimensions::top>, .barred = barred<Dimension::Top>,
     .now = now<Dimension::Top>, .doc = "of a cone: the diameter at its top; left out: 0, a point"},
    {.key = "height", .name = "Height", .at = typed_slot<MakeShape, &TypedDimensions::height>,
     .barred = barred<Dimension::Height>, .now = now<Dimension::Height>, .doc = "along the plane's normal"},
    {.key = "thickness", .name = "Thickness", .at = typed_slot<MakeShape, &TypedDimensions::thickness>,
     .barred = barred<Dimension::Thickness>, .now = now<Dimension::Thickness>,
     .doc = "of a tube's wall, or of the ring that a torus is made of"},
    {.key = "corner", .name = "Corner", .at = typed_slot<MakeShape, &TypedDimensions::corner>,
     .barred = barred<Dimension::Corner>, .now = now<Dimension::Corner>,
     .doc = "of a plate: the radius of its corners; 0 for sharp ones"},
    {.key = "sides", .name = "Sides", .at = typed_slot<MakeShape, &TypedDimensions::sides>, .kind = EntryKind::Factor,
     .barred = barred<Dimension::Sides>, .now = now<Dimension::Sides>,
     .doc = "how many flat sides stand for a whole round; left out: 48"},
    {.key = "start", .name = "What is at the place", .at = slot<&MakeShape::start>, .choices = kStarts,
     .barred = start_barred, .doc = "of a box or a plate; left out: its middle"},
    {.key = "across", .name = "Reaching", .at = slot<&MakeShape::across>,
     .asks = [](const MakeShape& s, std::size_t) -> std::string_view {
           if (s.kind == ShapeKind::Line) return "Click its other end, or type its length.";
           if (!has_corners(s.kind)) return "Click a place of its rim, or type its diameter.";
           return s.start == MakeShape::Start::Corner ? "Click the opposite corner, or type its size."
                                                      : "Click a corner, or type its size.";
         },
     .waiting = "a place", .doc = "instead of dimensions in the plane: the opposite corner, a corner, a place of the "
                                  "rim, a line's other end"},
    {.key = "up", .name = "As high as", .at = slot<&MakeShape::up>, .ask = "Click how high it is, or type its height.",
     .waiting = "a place", .barred = up_barred,
     .doc = "instead of a height: a place as high as its other end; lower than the first place, it hangs down"},
    {.key = "plane", .name = "Plane", .at = slot<&MakeShape::plane>, .ask = "Click the plane in Parts.", .always = true,
     .given = [](MakeShape& s, std::size_t) { s.other_plane = true; },
     .options = [](const MakeShape&, const Scene& scene, std::size_t) { return plane_options(scene); },
     .choose = [](MakeShape& s, std::size_t, std::size_t option, const ChoiceContext& context) {
           if (const auto plane = plane_chosen(option, context)) s.plane = *plane, s.other_plane = true;
         },
     .write = [](const MakeShape& s, const Scene& scene) { return plane_to_json(s.plane, scene); },
     .read = [](MakeShape& s, const Json& json, const Scene& scene) {
           return into(s.plane, plane_from_json(json, "plane", scene));
         },
     .value = "a plane's path, or `World`", .doc = "which it stands on, along its x and y; left out: World"},
    {.key = "base", .name = "How it stands", .at = slot<&MakeShape::base>, .choices = kBases, .barred = base_barred,
     .doc = "what of it is at the place: left out, its bottom"},
    {.key = "name", .name = "Name", .at = slot<&MakeShape::name>, .doc = "left out: its kind, with a number"},
  }};
  return table;
}

const Table<SetDimensions>& table_of(const SetDimensions*) {
  static const Table<SetDimensions> table{.key = "dimensions", .does = "Gives live shapes other dimensions.",
      .check = check, .remark = remark_of, .still = "hold",
      .hints = {.nothing = "Pick a live shape.", .ready = "Type a dimension.",
      .done = "Done. Click a dimension to change it."},
      .sentence = sentence, .rows = {
    what_row<SetDimensions>("Click the shape to change instead.", "the live shapes that change"),
    {.key = "size", .name = "Size along", .at = size_slot<SetDimensions>, .three = true,
     .now = dimension_now<Dimension::Width>, .doc = "of boxes and plates; `it` is the size now"},
    {.key = "length", .name = "Length", .at = typed_slot<SetDimensions, &TypedDimensions::length>,
     .now = dimension_now<Dimension::Width>, .doc = "of lines"},
    {.key = "diameter", .name = "Diameter", .at = typed_slot<SetDimensions, &TypedDimensions::diameter>,
     .now = dimension_now<Dimension::Diameter>, .doc = "across, outside; of a cone at its bottom"},
    {.key = "top", .name = "Top", .at = typed_slot<SetDimensions, &TypedDimensions::top>,
     .now = dimension_now<Dimension::Top>, .doc = "of cones: the diameter at the top"},
    {.key = "height", .name = "Height", .at = typed_slot<SetDimensions, &TypedDimensions::height>,
     .now = dimension_now<Dimension::Height>, .doc = "of cylinders, cones and tubes"},
    {.key = "thickness", .name = "Thickness", .at = typed_slot<SetDimensions, &TypedDimensions::thickness>,
     .now = dimension_now<Dimension::Thickness>, .doc = "of a tube's wall, of a torus's ring"},
    {.key = "corner", .name = "Corner", .at = typed_slot<SetDimensions, &TypedDimensions::corner>,
     .now = dimension_now<Dimension::Corner>, .doc = "of plates: the radius of the corners"},
    {.key = "sides", .name = "Sides", .at = typed_slot<SetDimensions, &TypedDimensions::sides>,
     .kind = EntryKind::Factor, .now = dimension_now<Dimension::Sides>, .doc = "flat sides for a whole round"},
    {.key = "hold", .name = "Holding still", .at = slot<&SetDimensions::hold>, .ask = "Click the place that stays still.",
     .always = true, .doc = "left out: `bottom`"},
    {.key = "copies", .name = "Instances", .at = slot<&SetDimensions::copies>, .choices = kCopiesChoices, .always = true,
     .doc = "whether its instances change with it"},
  }};
  return table;
}
// clang-format on

}  // namespace tack
