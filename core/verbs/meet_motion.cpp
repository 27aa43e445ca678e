#include "core/verbs/meet_motion.h"

#include <fmt/format.h>

#include "core/math/degrees.h"
#include "core/math/fit_rigid.h"

namespace tack {
namespace {

struct FoundPair {
  Tack from, to;
};

std::string no_direction(const Scene& scene, const TackAddress& address, std::string_view wish) {
  return fmt::format("The {} has no direction, so there is no {}.", tack_words(scene, address), wish);
}

Result<std::vector<FoundPair>> find_pairs(const Meet& meet, const Scene& scene) {
  std::vector<FoundPair> found;
  for (const MeetPair& pair : pairs_of(meet)) {
    if (!pair.from) return fail("From is missing.", {}, "Click the place on what moves.");
    if (!pair.to) return fail("To is missing.", {}, "Click the place on what stays.");
    const auto from = find_tack(scene, *pair.from);
    if (!from) return tl::unexpected(from.error());
    const auto to = find_tack(scene, *pair.to);
    if (!to) return tl::unexpected(to.error());
    found.push_back({*from, *to});
  }
  return found;
}

// The unit vectors of the axes that a meeting is limited to.
Mat3 limit_axes(const Meet& meet, const Scene& scene) {
  const std::vector<PartId> what = moves(meet, scene);
  return what.empty() ? Mat3{} : true_axes(scene, what.front(), meet.axes);
}

Vec3 across_unit(const Vec3& v, const Vec3& unit) { return v - unit * dot(v, unit); }

// The turn about `axis` (unit) that brings `a`'s part across it nearest to `b`'s; none when either has no such part.
std::optional<Mat3> roll_onto(const Vec3& axis, const Vec3& a, const Vec3& b) {
  const Vec3 p = across_unit(a, axis), q = across_unit(b, axis);
  if (!(length(p) > 1e-9 * length(a)) || !(length(q) > 1e-9 * length(b))) return std::nullopt;
  return rotation_about(axis, atan2_degrees(dot(axis, cross(p, q)), dot(p, q)));
}

Result<MeetMotion> one_pair(const Meet& meet, const Scene& scene, const FoundPair& pair) {
  const auto& [from, to] = pair;
  MeetMotion motion;
  motion.from = from.point;
  const Facing facing = meet.facing.value_or(default_facing(scene, *meet.from, *meet.to));
  if (facing != Facing::AsIs) {
    for (const Tack* t : {&from, &to})
      if (!t->direction) return fail(no_direction(scene, t->address, "facing"));
    const Vec3 wanted = facing == Facing::Facing ? -*to.direction : *to.direction;
    motion.turn = smallest_turn(*from.direction, wanted, from.roll);
    if (meet.matched) {
      for (const Tack* t : {&from, &to})
        if (!t->roll) return fail(no_direction(scene, t->address, "roll to match"));
      const Vec3 now = motion.turn * *from.roll;
      motion.turn = smallest_roll(*to.direction, now, *to.roll) * motion.turn;
    }
  }
  if (meet.roll.value != 0) {
    if (!to.direction) return fail(no_direction(scene, *meet.to, "axis to roll about"));
    motion.turn = rotation_about(*to.direction, meet.roll.value) * motion.turn;
  }
  if (meet.gap.value != 0 && !to.direction) return fail(no_direction(scene, *meet.to, "way to keep a gap"));
  const Vec3 target = meet.gap.value == 0 ? to.point : to.point + *to.direction * meet.gap.value;
  motion.to = meet.along == kAllAxes
                  ? target
                  : from.point + along_axes(target - from.point, limit_axes(meet, scene), meet.along);
  return motion;
}

// A place stays, and what moves turns about it until From looks towards To.
Result<MeetMotion> about_held(const Meet& meet, const Scene& scene, const FoundPair& pair) {
  const auto held = find_tack(scene, *meet.hold);
  if (!held) return tl::unexpected(held.error());
  const Vec3 from = pair.from.point - held->point, to = pair.to.point - held->point;
  for (const auto& [way, address] : {std::pair{from, &*meet.from}, {to, &*meet.to}})
    if (!(length(way) > exact_bound(scene, *meet.from, *meet.to)))
      return fail(fmt::format("The {} is the place that stays: it gives no direction.", tack_words(scene, *address)));
  MeetMotion motion;
  motion.from = motion.to = held->point;
  motion.turn = smallest_turn(normalized(from), normalized(to), held->roll);
  if (meet.sized) motion.factor = length(to) / length(from);
  return motion;
}

// The first pair exact, the second in direction, the third in roll.
Result<MeetMotion> in_order(const Meet& meet, const Scene& scene, const std::vector<FoundPair>& pairs) {
  const FoundPair &first = pairs[0], &second = pairs[1];
  MeetMotion motion;
  motion.from = first.from.point;
  motion.to = first.to.point;
  const Vec3 from = second.from.point - first.from.point, to = second.to.point - first.to.point;
  if (!(length(from) > 0) || !(length(to) > 0))
    return fail("The places of the second pair are those of the first: they give no direction.", {},
                "Click other places for the second pair.");
  const Vec3 unit = normalized(to);
  motion.turn = smallest_turn(normalized(from), unit, first.from.roll);
  if (meet.sized) motion.factor = length(to) / length(from);
  std::optional<Mat3> roll;
  for (std::size_t i = 2; i < pairs.size() && !roll; ++i)
    roll = roll_onto(unit, motion.turn * (pairs[i].from.point - first.from.point), pairs[i].to.point - first.to.point);
  if (pairs.size() == 2 && first.from.direction && first.to.direction) {
    const Facing facing = meet.facing.value_or(default_facing(scene, *meet.from, *meet.to));
    if (facing != Facing::AsIs)
      roll = roll_onto(unit, motion.turn * *first.from.direction,
                       facing == Facing::Facing ? -*first.to.direction : *first.to.direction);
  }
  if (roll)
    motion.turn = *roll * motion.turn;
  else if (pairs.size() > 2)
    motion.undetermined = "about the line through the places";
  return motion;
}

MeetMotion share_error(const Meet& meet, const std::vector<FoundPair>& pairs) {
  std::vector<std::pair<Vec3, Vec3>> points;
  points.reserve(pairs.size());
  for (const FoundPair& p : pairs) points.emplace_back(p.from.point, p.to.point);
  const RigidFit fit = fit_rigid(points, meet.sized);
  MeetMotion motion{fit.rotation, fit.factor, fit.from, fit.to, {}};
  if (fit.rank == 1 && pairs.size() > 2) motion.undetermined = "about the line through the places";
  if (fit.rank == 0) motion.undetermined = "at all";
  return motion;
}

}  // namespace

Mat3 smallest_roll(const Vec3& axis, const Vec3& a, const Vec3& b) { return roll_onto(axis, a, b).value_or(Mat3{}); }

Result<MeetMotion> motion_of(const Meet& meet, const Scene& scene) {
  const auto pairs = find_pairs(meet, scene);
  if (!pairs) return tl::unexpected(pairs.error());
  if (meet.hold && pairs->size() == 1) return about_held(meet, scene, pairs->front());
  if (pairs->size() == 1) return one_pair(meet, scene, pairs->front());
  return meet.shared ? Result<MeetMotion>(share_error(meet, *pairs)) : in_order(meet, scene, *pairs);
}

std::vector<Remaining> remaining_of(const Meet& meet, const Scene& after) {
  std::vector<Remaining> result;
  const std::vector<MeetPair> pairs = pairs_of(meet);
  for (std::size_t i = 0; i < pairs.size(); ++i) {
    if (!pairs[i].from || !pairs[i].to) continue;
    const auto from = find_tack(after, *pairs[i].from), to = find_tack(after, *pairs[i].to);
    if (!from || !to) continue;
    Vec3 target = to->point;
    if (i == 0 && pairs.size() == 1 && !meet.hold && meet.gap.value != 0 && to->direction)
      target += *to->direction * meet.gap.value;
    Remaining r;
    r.off = target - from->point;
    r.gap = length(r.off);
    r.exact = r.gap <= exact_bound(after, *pairs[i].from, *pairs[i].to);
    result.push_back(r);
  }
  return result;
}

bool meets_within(const Meet& meet, const Scene& after, double touch) {
  const std::vector<Remaining> all = remaining_of(meet, after);
  return std::all_of(all.begin(), all.end(), [&](const Remaining& r) { return r.exact || r.gap <= touch; });
}

std::string remaining_words(const Meet& meet, const Scene& after, const LengthUnit& unit, double touch) {
  const std::vector<Remaining> all = remaining_of(meet, after);
  if (all.empty()) return {};
  std::size_t worst = 0;
  for (std::size_t i = 1; i < all.size(); ++i)
    if (all[i].gap > all[worst].gap) worst = i;
  const auto lengths = [&](double mm) { return show_length(mm, unit, 3).text; };
  if (all[worst].exact) return "exact";
  const std::string which = all.size() > 1 ? fmt::format("pair {} ", worst + 1) : "";
  if (meet.along != kAllAxes && all.size() == 1) {
    // Along each axis: what could be brought together, and what could not.
    const Mat3 axes = limit_axes(meet, after);
    const double bound = exact_bound(after, *meet.from, *meet.to);
    std::string met, apart;
    for (int i = 0; i < 3; ++i) {
      const double along = dot(axes.column[i], all[0].off);
      if (std::abs(along) <= bound)
        met += (met.empty() ? "" : ", ") + std::string(1, "xyz"[i]);
      else
        apart += (apart.empty() ? "" : ", ") + fmt::format("{} apart along {}", lengths(std::abs(along)), "xyz"[i]);
    }
    return met.empty() ? apart : fmt::format("meets in {} · {}", met, apart);
  }
  if (all[worst].gap <= touch) return which + fmt::format("within {}", lengths(touch));
  return which + fmt::format("apart by {}", lengths(all[worst].gap));
}

std::string remaining_sentence(const Meet& meet, const Scene& after, const LengthUnit& unit, double touch) {
  const std::string words = remaining_words(meet, after, unit, touch);
  if (words.empty()) return {};
  if (words.starts_with("meets")) return "It " + words + ".";
  if (!words.starts_with("pair ")) return fmt::format("It is {}.", words);
  const std::size_t space = words.find(' ', 5);
  return fmt::format("P{} is{}.", words.substr(1, space - 1), words.substr(space));
}

}  // namespace tack
