#include "core/verbs/scale.h"

#include <fmt/format.h>

#include "core/math/split.h"
#include "core/verbs/lengthen.h"
#include "core/verbs/live.h"
#include "core/verbs/meet_motion.h"
#include "core/verbs/phrase.h"
#include "core/verbs/rigid.h"

namespace tack {
namespace {

constexpr std::string_view kBig[] = {"wide", "deep", "high"};
constexpr Choice kProfiles[] = {{"keeping its profile", "keep"}, {"in proportion", "proportion"}};
constexpr Choice kEvenly[] = {{"freely", ""}, {"evenly", ""}};

int count_given(const Amounts& amounts) {
  return int(amounts[0].has_value()) + int(amounts[1].has_value()) + int(amounts[2].has_value());
}
bool is_like(const Scale& s) { return s.like != kNoPart; }
bool reaches(const Scale& s) { return s.from && s.to; }
std::string_view numbers_barred(const Scale& s) {
  return is_like(s) ? "\"like\" says how big it is" : s.from && s.to ? "From and To say how big it is" : "";
}
std::string_view along_barred(const Scale& s) {
  return is_like(s) || s.from ? "" : "it goes with \"like\", or with From and To";
}
void by_numbers(Scale& s, Amounts Scale::*mine, Amounts Scale::*other, std::size_t i) {
  s.like = kNoPart;
  s.from.reset();
  s.to.reset();
  s.along = kAllAxes;
  // Evenly takes one value; freely, along each axis a size or a factor.
  const auto value = (s.*mine)[i];
  if (s.evenly) s.size = s.factor = {};
  (s.*other)[i].reset();
  (s.*mine)[i] = value;
}
void by_like_part(Scale& s, std::size_t) {
  s.size = s.factor = {};
  s.from.reset();
  s.to.reset();
}
void by_reaching(Scale& s, std::size_t) {
  s.size = s.factor = {};
  s.like = kNoPart;
}
// Of several values the last one that is left out of none counts for all.
void one_value(Scale& s, std::size_t) {
  int kept = 0;
  for (std::size_t i = 3; i-- > 0 && s.evenly;)
    if ((s.size[i] || s.factor[i]) && ++kept > 1) s.size[i].reset(), s.factor[i].reset();
}

std::optional<double> size_now(const Scale& s, const Scene& scene, std::size_t axis) {
  const auto parts = topmost(scene, s.what);
  if (parts.empty()) return std::nullopt;
  return size_of(scene, parts.front(), parts, s.axes, false)[static_cast<int>(axis)];
}

Result<void> factor_from_json(Scale& s, const Json& json, const Scene& scene) {
  // One number alone is the same factor along all axes.
  if (json.is_number() || json.is_string()) {
    auto ok = into(s.factor[0], amount_from_json(json, EntryKind::Factor, "factor", scene, 1));
    s.factor[1] = s.factor[2] = s.factor[0];
    return ok;
  }
  return into(s.factor, amounts_from_json(json, EntryKind::Factor, "factor", scene, 1));
}

constexpr BlankId kScaleTo{4, 0};

// Whether all parts are measured and grow as one: they share the point that stays, and the axes.
bool together(const Scale& scale) {
  return is_shared(scale.hold) && scale.axes.kind != AxesKind::Local && scale.axes.kind != AxesKind::Parent;
}

Mat3 frame_for(const Scale& scale, const Scene& scene, PartId part) {
  return squared_up(axes_frame(scene, part, scale.axes).linear);
}

Result<double> factor_for_size(const Scene& scene, PartId part, double now, double wanted, std::size_t axis) {
  const std::string& name = scene.part(part).name;
  if (!std::isfinite(wanted) || !(wanted > 0))
    return fail(
        fmt::format("\"{}\" cannot be made {} {}.", name, show_length(wanted, kMillimetres, 4).text, kBig[axis]),
        "size", "A size is more than 0; a factor of −1 mirrors.");
  if (!(now > 0)) {
    if (own_box(scene, part).empty()) return fail(fmt::format("\"{}\" is empty: it has no size.", name), "size");
    return fail(fmt::format("\"{}\" cannot be made {} {}: it is flat along {}.", name,
                            show_length(wanted, kMillimetres, 4).text, kBig[axis], "XYZ"[axis]),
                "size");
  }
  return wanted / now;
}

// What the part's world matrix is multiplied by from the left.
Mat3 stretch_of(const Scale& scale, const Scene& scene, PartId part, const Vec3& f) {
  if (f.x == f.y && f.y == f.z) return Mat3::diagonal(f);
  if (scale.axes.kind != AxesKind::Local) {
    const Mat3 frame = frame_for(scale, scene, part);
    return frame * (Mat3::diagonal(f) * transpose(frame));
  }
  const Mat3 world = world_of(scene, part).linear;
  const auto back = inverse(world);
  return back ? world * (Mat3::diagonal(f) * *back) : Mat3::diagonal(f);
}

Result<Placement> stretched(const Scale& scale, const Scene& scene, PartId part, const Vec3& f, const Mat3& stretch) {
  Placement placement = scene.part(part).placement;
  const bool even = f.x == f.y && f.y == f.z;
  if (scale.axes.kind == AxesKind::Local || even) {
    const Mat3 parent = parent_world_of(scene, part).linear;
    const Box box = own_box(scene, part);
    for (int i = 0; i < 3; ++i) {
      const auto axis = static_cast<std::size_t>(i);
      // A typed size under a parent that does not scale is reached from the mesh itself, not from what it was before.
      const bool direct = scale.axes.kind == AxesKind::Local && scale.size[axis] && !uses_it(*scale.size[axis]) &&
                          parent == Mat3{} && placement.skew == Vec3{} && scale.like == kNoPart && f[i] != 1;
      const double sign = placement.scale[i] < 0 ? -1 : 1;
      placement.scale[i] = direct ? sign * scale.size[axis]->value / box.size()[i] : placement.scale[i] * f[i];
    }
    return placement;
  }
  const Mat3 parent = parent_world_of(scene, part).linear;
  if (parent == Mat3{}) return with_linear(placement, stretch * world_of(scene, part).linear);
  const auto back = inverse(parent);
  if (!back) return fail(fmt::format("\"{}\" belongs to a part that is flattened.", scene.part(part).name));
  return with_linear(placement, solved(parent, *back, stretch * world_of(scene, part).linear));
}

// Whether a part is lengthened instead along one of its own axes: it keeps a band there.
bool keeps_profile(const Scale& scale, const Scene& scene, PartId part, int axis) {
  if (scale.profile != Scale::Profile::Keep || scale.axes.kind != AxesKind::Local || scale.evenly) return false;
  // A factor says how much closer From comes, which is not what lengthening does to a place beside the band.
  if (reaches(scale)) return false;
  Vec3 normal;
  normal[axis] = 1;
  const KeptBands& bands = bands_of(scene, part);
  return std::any_of(bands.begin(), bands.end(), [&](const KeptBand& b) { return same_way(b.band.normal, normal); });
}

// Lengthens the part, and with it what hangs below it, along the axes where it keeps a band; the factors that are left
// for its placement.
Result<Vec3> lengthened_instead(const Scale& scale, Scene& scene, PartId id, Vec3 f, std::vector<Lengthening>& longer) {
  if (f.x == f.y && f.y == f.z) return f;  // evenly: larger as it is
  for (int i = 0; i < 3; ++i) {
    if (f[i] == 1 || !(f[i] > 0) || !keeps_profile(scale, scene, id, i)) continue;
    const Part& part = scene.part(id);
    const Affine world = world_of(scene, id);
    const auto back = inverse(world.linear);
    if (!back) return fail(fmt::format("\"{}\" is flattened.", part.name));
    // Square to the planes of the band; along the axis, unless the part is skewed.
    const Vec3 direction = normalized(Vec3{(*back)(i, 0), (*back)(i, 1), (*back)(i, 2)});
    const double factor = length(world.linear.column[static_cast<std::size_t>(i)]);
    if (!part.children.empty() && !same_way(direction, world.linear.column[static_cast<std::size_t>(i)]))
      return fail(fmt::format("\"{}\" is skewed, so what hangs below it cannot go along with its band.", part.name),
                  "profile", "Size it in proportion.");
    const auto band = own_band(part, world, direction, {});
    if (!band)
      return fail(fmt::format("\"{}\" keeps several bands along {}.", part.name, "XYZ"[i]), "profile",
                  "Lengthen it with Stretch by the one that is meant, or size it in proportion.");
    const double now = part.mesh->box().size()[i], by = now * (f[i] - 1), width = band->high - band->low;
    if (!(by > -width))
      return fail(fmt::format("\"{}\" cannot be made {} {}: the ends that keep their shape are {}.", part.name,
                              show_length(now * f[i] * factor, kMillimetres, 4).text, kBig[i],
                              show_length((now - width) * factor, kMillimetres, 4).text),
                  "size", "Size it in proportion, or choose more.");
    // Height along the band's normal, which is the axis or its opposite.
    longer.push_back({*band, by});
    const double per_height = world_per_height(world, direction), shift = dot(direction, world.translation);
    const Reach all = reach_of(scene, {id}, direction);
    const BandInPlace place{direction,
                            all.low,
                            all.high,
                            band->low * per_height + shift,
                            band->high * per_height + shift,
                            BandInPlace::From::Own,
                            {}};
    auto next = stretched_along(scene, {id}, place, by * per_height, 0, MeshLinks::Own);
    if (!next) return tl::unexpected(next.error());
    scene = std::move(*next);
    f[i] = 1;
  }
  return f;
}

// What is held stays where it was when a part has been lengthened: a point of its box as the box is now, any other
// place where the mesh has taken it.
Result<void> hold_lengthened(const Scale& scale, const Scene& before, Scene& after, PartId id,
                             const std::vector<PartId>& parts, const Vec3& still,
                             const std::vector<Lengthening>& longer) {
  const auto back = inverse(world_of(before, id));
  if (!back) return fail(fmt::format("\"{}\" is flattened.", before.part(id).name));
  Vec3 own = *back * still;
  for (const Lengthening& l : longer) own = lengthened(l, own, band_slack(*before.part(id).mesh));
  const auto missing = [&](const Scene& now) -> std::optional<Vec3> {
    if (scale.hold.kind != About::Kind::OwnBox) return still - world_of(now, id) * own;
    const auto is = still_point(scale.hold, now, id, parts, scale.axes);
    return is ? std::optional(still - *is) : std::nullopt;
  };
  const auto off = missing(after);
  if (!off) return {};
  if (auto ok = put_pivot(after, id, pivot_in_world(after, id) + *off); !ok) return ok;
  return settle(after, {}, id, missing);
}

// The factors that bring From to To, as far as it can be reached with the still point where it is.
Result<Vec3> factors_to_reach(const Scale& scale, const Scene& scene, PartId part, const std::vector<PartId>& parts) {
  if (const auto ok = check_from_moves(scene, parts, *scale.from); !ok) return tl::unexpected(ok.error());
  if (const auto ok = check_to_stays(scene, parts, *scale.to); !ok) return tl::unexpected(ok.error());
  const auto from = find_tack(scene, *scale.from), to = find_tack(scene, *scale.to);
  if (!from || !to) return tl::unexpected(from ? to.error() : from.error());
  const auto still = still_point(scale.hold, scene, part, parts, scale.axes);
  if (!still) return tl::unexpected(still.error());
  // Along Local axes a skewed part grows along its own columns, which are not square.
  const auto back = scale.axes.kind == AxesKind::Local ? inverse(world_of(scene, part).linear)
                                                       : std::optional(transpose(frame_for(scale, scene, part)));
  if (!back) return fail(fmt::format("\"{}\" is flattened.", scene.part(part).name));
  const Vec3 now = *back * (from->point - *still), wanted = *back * (to->point - *still);
  Vec3 f{1, 1, 1};
  if (scale.evenly) {
    // Evenly it grows alike in all directions, whatever the axes.
    const Vec3 way = from->point - *still;
    const double share = dot(way, to->point - *still) / length_squared(way);
    // A negative share would come nearer as a mirror image, which growing never means.
    if (!std::isfinite(share) || !(share > 0))
      return fail(fmt::format("Growing evenly does not bring the {} nearer.", tack_words(scene, *scale.from)), {},
                  "Hold another place still.");
    return Vec3{share, share, share};
  }
  for (int i = 0; i < 3; ++i) {
    if (!scale.along[static_cast<std::size_t>(i)]) continue;
    f[i] = wanted[i] / now[i];
    if (!(std::abs(now[i]) > 1e-9 * length(now)) || !std::isfinite(f[i]))
      return fail(fmt::format("The {} has the same {} as the point held still, so scaling along {} cannot move it.",
                              tack_words(scene, *scale.from), "XYZ"[i], "XYZ"[i]),
                  {}, "Hold another place still, or choose other axes.");
    if (!(std::abs(f[i]) > 1e-12))
      return fail(fmt::format("\"{}\" would be flattened along {}.", scene.part(part).name, "XYZ"[i]));
  }
  return f;
}

Result<void> check(const Scale& s) {
  const bool numbers = any_given(s.size) || any_given(s.factor);
  if (s.from.has_value() != s.to.has_value())
    return fail("Both \"from\" and \"to\" are needed, or neither.", s.from ? "to" : "from");
  const int ways = int(is_like(s)) + int(reaches(s)) + int(numbers);
  if (ways == 0) return fail("Scale needs a \"size\", a \"factor\", a part to be as big \"like\", or From and To.");
  if (ways > 1) return fail("Scale takes one of: sizes or factors, a part to be as big \"like\", From and To.");
  for (std::size_t i = 0; i < 3; ++i)
    if (s.size[i] && s.factor[i])
      return fail(fmt::format("Along {} both a size and a factor are given.", "XYZ"[i]), "size", "Give one of them.");
  if (numbers && s.evenly && count_given(s.size) + count_given(s.factor) > 1)
    return fail("Evenly takes one size or one factor.", "evenly", "Leave the others out, or scale freely.");
  if (!numbers && s.along == kNoAxes) return fail("No axis is named along which it grows.", "along");
  return {};
}

bool is_ready(const Scale& s) {
  return (s.from || s.to) ? reaches(s) : is_like(s) || any_given(s.size) || any_given(s.factor);
}
BlankId waits_for(const Scale& s) { return s.from && !s.to ? kScaleTo : BlankId{}; }

Scale made_whole(Scale s, const Scene&) {
  if (s.what.empty() && s.from && is_on_part(*s.from)) s.what = {s.from->part};
  // From a place to a place it grows evenly, unless axes were chosen.
  if (s.from) s.evenly = s.along == kAllAxes;
  return s;
}

Scale next_after(const Scale& s) {
  Scale next;
  next.axes = s.axes;
  next.hold = s.hold;
  next.evenly = s.evenly && !s.from;
  return next;
}

std::string remark_of(const Scale& s, const Scene& before, const Scene& after) {
  const std::vector<PartId> skewed = skewed_between(before, after);
  if (skewed.empty()) return {};
  const bool several = skewed.size() > 1;
  return fmt::format(
      "{} {} skewed by it, because {} axes are not {} own. Scale along {} own axes, or evenly, to avoid it; or bake "
      "it into the mesh.",
      names_of(after, skewed), several ? "are" : "is", axes_words(s.axes, before), several ? "their" : "its",
      several ? "their" : "its");
}

WaysOut<Scale> ways_out(const Scale& s) {
  Scale own = s, even = s;
  own.axes = AxesKind::Local;
  even.evenly = true;
  one_value(even, 0);
  WaysOut<Scale> ways{{"along its own axes instead", own}};
  // Evenly takes one value: with several, which of them was meant is not known.
  if (count_given(s.size) + count_given(s.factor) <= 1) ways.emplace_back("evenly instead", even);
  return ways;
}

// The place held, where it is one of each part's own; below parents that cost digits it may have moved.
std::string left_of(const Scale& s, const Scene& before, const Scene& after, const LengthUnit& unit) {
  if (reaches(s)) return left_between(s.from, s.to, after, unit);
  const bool own_box = s.hold.kind == About::Kind::OwnBox && s.axes.kind == AxesKind::Local;
  if (s.hold.kind != About::Kind::Own && !own_box) return {};
  double worst = 0;
  PartId furthest = kNoPart;
  const auto nested = [&](PartId id) { return before.contains(id) && before.part(id).parent != kNoPart; };
  if (std::none_of(s.what.begin(), s.what.end(), nested)) return {};
  const std::vector<PartId> parts = topmost(before, s.what);
  for (const PartId id : parts) {
    if (!after.contains(id) || !nested(id)) continue;
    const auto was = still_point(s.hold, before, id, parts, s.axes), is = still_point(s.hold, after, id, parts, s.axes);
    if (!was || !is) continue;
    const double off = distance(*was, *is), reach = length(*is) + length(own_size(after, id)) + 1;
    if (off > 1e-9 * reach && off > worst) worst = off, furthest = id;
  }
  if (furthest == kNoPart) return {};
  return fmt::format("The numbers it is stored in cannot hold that exactly: what \"{}\" holds still is off by {}.",
                     name_of(before, furthest), show_length(worst, LengthUnit{unit.name, unit.millimetres}, 9).text);
}

void sentence(Phrase& p, const Scale& s) {
  const std::vector<PartId> parts = topmost(p.scene(), s.what);
  p.say("Made ", "Make ");
  if (s.leave_copy) p.say("a copy of ");
  p.blank("what").say(" ");
  // Sizes and factors as they will be; "several" where parts differ.
  std::array<std::string, 3> sizes, factors;
  for (std::size_t i = 0; i < 3; ++i) {
    sizes[i] = s.size[i] ? shown(*s.size[i], EntryKind::Length, p.unit()) : std::string();
    factors[i] = s.factor[i] ? shown(*s.factor[i], EntryKind::Factor) : std::string();
  }
  for (const PartId id : is_like(s) ? std::vector<PartId>{} : parts) {
    const Vec3 now = size_of(p.scene(), id, parts, s.axes, together(s));
    // A verb that still lacks what it says shows sizes as they are.
    const auto f = factors_for(s, p.scene(), id, parts, now);
    const Vec3 factor = f.value_or(Vec3{1, 1, 1});
    for (int i = 0; i < 3; ++i) {
      const auto axis = static_cast<std::size_t>(i);
      const std::string size = show_length(std::abs(factor[i]) * now[i], p.unit(), 4).text;
      // What is lengthened by its band has no factor along it.
      const std::string times = show_factor(keeps_profile(s, p.scene(), id, i) ? 1 : factor[i]).text;
      if (!s.size[axis] && sizes[axis] != size) sizes[axis] = sizes[axis].empty() ? size : "several";
      if (!s.factor[axis] && factors[axis] != times) factors[axis] = factors[axis].empty() ? times : "several";
    }
    if (together(s)) break;  // they are measured as one: the first says it for all
  }
  if (is_like(s)) {
    // Evenly it takes the size along one axis; along several it becomes as big as the other's size leaves room for.
    p.say(s.evenly && count_of(s.along) > 1 ? "as big as fits the size of " : "as big as ");
    p.blank("like").say(" along ").blank("along").say(" of ");
  } else {
    for (std::size_t i = 0; i < 3; ++i)
      p.blank("size", i, sizes[i].empty() ? "0 mm" : sizes[i]).say(i < 2 ? " × " : " big, that is × ");
    for (std::size_t i = 0; i < 3; ++i)
      p.blank("factor", i, factors[i].empty() ? "1" : factors[i]).say(i < 2 ? " · " : ", along ");
  }
  p.blank("axes").say(" axes, holding ").blank("hold").say(" still, ").blank("evenly");
  const bool has_band = std::any_of(parts.begin(), parts.end(), [&](PartId id) {
    for (std::size_t i = 0; i < 3; ++i) {
      Scale keeps = s;
      keeps.profile = Scale::Profile::Keep;
      const bool sized = s.size[i] || s.factor[i] || is_like(s) || !p.past();
      if (sized && keeps_profile(keeps, p.scene(), id, static_cast<int>(i))) return true;
    }
    return false;
  });
  if (has_band) p.say(", ").blank("profile");
  if (!p.past() && !is_like(s)) p.say(", or as big as ").blank("like");
  if ((!p.past() && !is_like(s)) || reaches(s)) {
    p.say(", so that ", ", or so that ").blank("from");
    p.say(p.fell_short() ? " came towards " : " reached ", " reaches ").blank("to");
    if (s.along != kAllAxes && !s.evenly) p.say(" along ").blank("along");
  }
  p.say(".");
}

}  // namespace

Vec3 size_of(const Scene& scene, PartId part, const std::vector<PartId>& parts, const Axes& axes, bool as_one) {
  if (axes.kind == AxesKind::Local) {
    const Vec3 size = own_box(scene, part).size();
    const Mat3 world = world_of(scene, part).linear;
    return {size.x * length(world.column[0]), size.y * length(world.column[1]), size.z * length(world.column[2])};
  }
  const Mat3 frame = squared_up(axes_frame(scene, part, axes).linear);
  return (as_one ? box_along(scene, parts, frame) : box_along(scene, part, frame)).size();
}

Result<Vec3> factors_for(const Scale& scale, const Scene& scene, PartId part, const std::vector<PartId>& parts,
                         const std::optional<Vec3>& known) {
  if (scale.from && scale.to && scale.like == kNoPart) return factors_to_reach(scale, scene, part, parts);
  Vec3 f{1, 1, 1};
  const bool needs_size = any_given(scale.size) || scale.like != kNoPart;
  const Vec3 now = known ? *known : needs_size ? size_of(scene, part, parts, scale.axes, together(scale)) : Vec3{};
  Vec3 wanted;
  std::array<bool, 3> sized{};
  if (scale.like != kNoPart) {
    if (!scene.contains(scale.like)) return fail("The part whose size was to be matched has been deleted.");
    wanted = size_of(scene, scale.like, {scale.like}, scale.axes, false);
    sized = scale.along;
  } else {
    for (std::size_t i = 0; i < 3; ++i) {
      if (!scale.size[i]) continue;
      const auto value =
          evaluate(*scale.size[i], EntryKind::Length, now[static_cast<int>(i)], Reading{scene, scale.axes, part});
      if (!value) return tl::unexpected(value.error());
      wanted[static_cast<int>(i)] = *value;
      sized[i] = true;
    }
  }
  for (std::size_t i = 0; i < 3; ++i) {
    const int axis = static_cast<int>(i);
    if (sized[i]) {
      const auto factor = factor_for_size(scene, part, now[axis], wanted[axis], i);
      if (!factor) return tl::unexpected(factor.error());
      f[axis] = *factor;
    } else if (scale.like == kNoPart && scale.factor[i]) {
      const auto factor = evaluate(*scale.factor[i], EntryKind::Factor, 1.0, Reading{scene, scale.axes, part});
      if (!factor) return tl::unexpected(factor.error());
      if (!std::isfinite(*factor) || *factor == 0)
        return fail(fmt::format("\"{}\" cannot have a factor of {} along {}: it would be flattened.",
                                scene.part(part).name, show_number(*factor, 4).text, "XYZ"[i]),
                    "factor");
      f[axis] = *factor;
    }
  }
  if (scale.evenly && scale.like == kNoPart)
    for (int i = 0; i < 3; ++i)
      if (scale.size[static_cast<std::size_t>(i)] || scale.factor[static_cast<std::size_t>(i)])
        return Vec3{f[i], f[i], f[i]};
  if (scale.evenly && scale.like != kNoPart) {
    // As big as another part in all: the largest factor that keeps it within the other along the axes named.
    double least = std::numeric_limits<double>::infinity();
    for (int i = 0; i < 3; ++i)
      if (scale.along[static_cast<std::size_t>(i)]) least = std::min(least, f[i]);
    return Vec3{least, least, least};
  }
  return f;
}

Result<Scene> apply(const Scale& scale, const Scene& scene) {
  const auto parts = movable(scene, scale.what);
  if (!parts) return tl::unexpected(parts.error());
  const bool like = scale.like != kNoPart;
  if (like)
    for (const PartId id : *parts)
      if (is_within(scene, scale.like, id))
        return fail(fmt::format("\"{}\" cannot be made as big as itself or a part below it.", scene.part(id).name));
  Scene result = scale.leave_copy ? with_copies_left(scene, *parts) : scene;
  // What all share is found once: a box of all looks at all of them.
  std::optional<Result<Vec3>> still, f;
  Mat3 stretch;
  for (const PartId id : *parts) {
    if (!still || !is_shared(scale.hold)) still = still_point(scale.hold, scene, id, *parts, scale.axes);
    if (!*still) return tl::unexpected(still->error());
    if (!f || !together(scale)) {
      f = factors_for(scale, scene, id, *parts);
      if (!*f) return tl::unexpected(f->error());
      stretch = stretch_of(scale, scene, id, **f);
    }
    std::vector<Lengthening> longer;
    const auto rest = lengthened_instead(scale, result, id, **f, longer);
    if (!rest) return tl::unexpected(rest.error());
    if (!longer.empty()) {
      const auto placement = stretched(scale, result, id, *rest, stretch_of(scale, result, id, *rest));
      if (!placement) return tl::unexpected(placement.error());
      result.place(id, *placement);
      if (auto ok = hold_lengthened(scale, scene, result, id, *parts, **still, longer); !ok)
        return tl::unexpected(ok.error());
      continue;
    }
    const auto placement = stretched(scale, scene, id, **f, stretch);
    if (!placement) return tl::unexpected(placement.error());
    result.place(id, *placement);
    const Affine world = world_of(scene, id);
    const Vec3 pivot = world * scene.part(id).placement.pivot;
    if (pivot == **still) continue;
    if (const auto ok = put_pivot(result, id, **still + stretch * (pivot - **still)); !ok)
      return tl::unexpected(ok.error());
    if (is_shared(scale.hold)) continue;
    // The held point is measured again in the part's own coordinates.
    const auto back = inverse(world);
    if (!back) continue;
    const Vec3 own = *back * **still;
    const auto missing = [&](const Scene& now) { return std::optional(**still - world_of(now, id) * own); };
    if (const auto ok = settle(result, {}, id, missing); !ok) return tl::unexpected(ok.error());
  }
  return with_sizes_as_dimensions(scene, std::move(result), *parts);
}

// clang-format off
const Table<Scale>& table_of(const Scale*) {
  static const Table<Scale> table{.key = "scale",
      .does = "Gives parts a size, or factors, with a point that stays still.", .on_patches = true, .check = check, .ready = is_ready,
      .waits = waits_for, .whole = made_whole, .next = next_after, .left = left_of, .remark = remark_of, .ways_out = ways_out,
      .leading = "size", .still = "hold", .hints = {.nothing = "Click the part to size.",
      .ready = "Type a size (X, Y, Z: along that axis), drag an arrow or a place of the part. K, click: the point held "
          "still.",
      .done = "Done. Click a blank to change it, or type the next size.",
      .dragging = "Type a size, or let go. Shift: increments. Ctrl when letting go: leave a copy.",
      .gripping = "Let go over a place: it reaches it. X, Y, Z scale along that axis; otherwise evenly."},
      .sentence = sentence, .rows = {
    {.key = "what", .name = "What", .at = slot<&Scale::what>, .ask = "Click the part to size instead.", .needed = true,
     .always = true, .doc = "the parts that are sized"},
    {.key = "axes", .name = "Axes", .at = slot<&Scale::axes>, .ask = "Click the part whose own axes to use.",
     .always = true, .doc = "left out: each part's own, so that no skew comes of it"},
    {.key = "like", .name = "Like", .at = slot<&Scale::like>, .ask = "Click the part whose size to match.",
     .given = by_like_part, .doc = "a part whose size it takes"},
    {.key = "from", .name = "From", .at = slot<&Scale::from>, .ask = "Click the place on it that is to reach another.",
     .waiting = "a place on it", .role = Role::From, .given = by_reaching,
     .doc = "with `to` instead of sizes: the place on it that reaches another"},
    {.key = "to", .name = "To", .at = slot<&Scale::to>,
     .ask = "Click the place to reach. X, Y, Z scale along that axis; otherwise evenly.", .waiting = "a place",
     .role = Role::To, .given = by_reaching, .doc = "the place it reaches, as far as the factors can bring it there"},
    {.key = "along", .name = "In which axes", .at = slot<&Scale::along>, .barred = along_barred,
     .write = [](const Scale& s, const Scene&) {
           const bool says = is_like(s) || (reaches(s) && s.along != kAllAxes);
           return says ? Json(axis_letters(s.along)) : Json(nullptr);
         },
     .doc = "along which axes it takes the size of `like`, or reaches To"},
    {.key = "size", .name = "Size along", .at = slot<&Scale::size>, .three = true, .barred = numbers_barred,
     .given = [](Scale& s, std::size_t i) { by_numbers(s, &Scale::size, &Scale::factor, i); }, .now = size_now,
     .doc = "how big it becomes, mm; `it` is the size now"},
    {.key = "factor", .name = "Factor along", .at = slot<&Scale::factor>, .kind = EntryKind::Factor, .three = true,
     .barred = numbers_barred, .given = [](Scale& s, std::size_t i) { by_numbers(s, &Scale::factor, &Scale::size, i); },
     .now = [](const Scale&, const Scene&, std::size_t) { return std::optional(1.0); }, .read = factor_from_json,
     .value = "three factors, `null` to leave one alone; or one for all", .doc = "negative ones mirror; never 0"},
    {.key = "hold", .name = "Holding still", .at = slot<&Scale::hold>, .ask = "Click the place that stays still.",
     .always = true, .doc = "left out: `bottom`"},
    {.key = "evenly", .name = "Evenly or freely", .at = slot<&Scale::evenly>, .choices = kEvenly, .given = one_value,
     .doc = "the one size or factor given holds for all three axes"},
    {.key = "profile", .name = "Profile", .at = slot<&Scale::profile>, .choices = kProfiles,
     .doc = "of parts that keep a band along their axis: whether their ends keep their shape; left out: `keep`"},
    {.key = "copy", .name = "A copy stays", .at = slot<&Scale::leave_copy>,
     .doc = "leaves an instance where the part was"},
  }};
  return table;
}
// clang-format on

}  // namespace tack
