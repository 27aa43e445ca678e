#include "core/verbs/meet_motion.h"

#include <fmt/format.h>

#include "core/math/degrees.h"
#include "core/math/fit_rigid.h"

namespace tack {
namespace {

struct FoundPair {
  Tack from, to;
};

tl::unexpected<Problem> no_direction(const Scene& scene, const TackAddress& address, std::string_view wish) {
  return fail(fmt::format("{} needs a direction, and the {} has none.", wish, tack_words(scene, address)), {},
              "Pick a face, an edge or an axis.");
}

Result<std::vector<FoundPair>> find_pairs(const Meet& meet, const Scene& scene) {
  std::vector<FoundPair> found;
  for (const MeetPair& pair : pairs_of(meet)) {
    if (!pair.from) return fail("From is missing.", {}, "Click a place on the part to move.");
    if (!pair.to) return fail("To is missing.", {}, "Click the place it goes to.");
    const auto from = find_tack(scene, *pair.from);
    if (!from) return tl::unexpected(from.error());
    const auto to = find_tack(scene, *pair.to);
    if (!to) return tl::unexpected(to.error());
    found.push_back({*from, *to});
  }
  return found;
}

// The unit vectors of the axes that a meeting is limited to; those of a skewed parent are not square.
Mat3 limit_axes(const Meet& meet, const Scene& scene) {
  const std::vector<PartId> what = moves(meet, scene);
  return what.empty() ? Mat3{} : unit_axes(scene, what.front(), meet.axes);
}

Vec3 across_unit(const Vec3& v, const Vec3& unit) { return v - unit * dot(v, unit); }

// The turn about `axis` (unit) that brings `a`'s part across it nearest to `b`'s; none when either has no such part.
std::optional<Mat3> roll_onto(const Vec3& axis, const Vec3& a, const Vec3& b) {
  const Vec3 p = across_unit(a, axis), q = across_unit(b, axis);
  if (!(length(p) > 1e-9 * length(a)) || !(length(q) > 1e-9 * length(b))) return std::nullopt;
  return rotation_about(axis, atan2_degrees(dot(axis, cross(p, q)), dot(p, q)));
}

// Where From belongs: To, with the gap along its direction.
Result<Vec3> target_of(const Meet& meet, const Scene& scene, const Tack& to) {
  if (meet.gap.value == 0) return to.point;
  if (!to.direction) return no_direction(scene, to.address, "A gap");
  return to.point + *to.direction * meet.gap.value;
}

Result<MeetMotion> by_one_pair(const Meet& meet, const Scene& scene, const FoundPair& pair) {
  const auto& [from, to] = pair;
  MeetMotion motion;
  motion.from = from.point;
  const Facing facing = meet.facing.value_or(default_facing(scene, *meet.from, *meet.to));
  if (facing != Facing::AsIs) {
    for (const Tack* t : {&from, &to})
      if (!t->direction) return no_direction(scene, t->address, "Facing");
    const Vec3 wanted = facing == Facing::Facing ? -*to.direction : *to.direction;
    motion.turn = smallest_turn(*from.direction, wanted, from.roll);
    if (meet.matched) {
      for (const Tack* t : {&from, &to})
        if (!t->roll) return no_direction(scene, t->address, "Roll on roll");
      const Vec3 now = motion.turn * *from.roll;
      motion.turn = smallest_roll(*to.direction, now, *to.roll) * motion.turn;
    }
  }
  if (meet.roll.value != 0) {
    if (!to.direction) return no_direction(scene, *meet.to, "A roll");
    motion.turn = rotation_about(*to.direction, meet.roll.value) * motion.turn;
  }
  const auto target = target_of(meet, scene, to);
  if (!target) return tl::unexpected(target.error());
  motion.to = meet.along == kAllAxes
                  ? *target
                  : from.point + along_axes(*target - from.point, limit_axes(meet, scene), meet.along);
  return motion;
}

constexpr const char* kOnOneLine =
    "The places lie on one line, so the rotation about that line is undetermined; the smallest was used.";
constexpr const char* kSeveral =
    "The places leave several rotations equally good, as mirror images do; the smallest of them was used.";
constexpr const char* kOnOnePoint =
    "The places coincide or cancel each other out, so no rotation is determined; none was made.";

// A place stays, and what moves turns about it until From looks towards To.
Result<MeetMotion> about_held(const Meet& meet, const Scene& scene, const FoundPair& pair) {
  const auto held = find_tack(scene, *meet.hold);
  if (!held) return tl::unexpected(held.error());
  const auto target = target_of(meet, scene, pair.to);
  if (!target) return tl::unexpected(target.error());
  const Vec3 from = pair.from.point - held->point, to = *target - held->point;
  for (const auto& [way, address] : {std::pair{from, &*meet.from}, {to, &*meet.to}})
    if (!(length(way) > exact_bound(scene, *meet.from, *meet.to)))
      return fail(fmt::format("The {} is the place that stays: it gives no direction.", tack_words(scene, *address)));
  MeetMotion motion;
  motion.from = motion.to = held->point;
  motion.turn = smallest_turn(normalized(from), normalized(to), held->roll);
  if (meet.roll.value != 0) motion.turn = rotation_about(normalized(to), meet.roll.value) * motion.turn;
  if (meet.sized) motion.factor = length(to) / length(from);
  return motion;
}

// The first pair exact, the second in direction, the third in roll.
Result<MeetMotion> in_order(const Meet& meet, const Scene& scene, const std::vector<FoundPair>& pairs) {
  const FoundPair &first = pairs[0], &second = pairs[1];
  const auto target = target_of(meet, scene, first.to);
  if (!target) return tl::unexpected(target.error());
  MeetMotion motion;
  motion.from = first.from.point;
  motion.to = *target;
  const Vec3 from = second.from.point - first.from.point, to = second.to.point - *target;
  // Places that coincide but for rounding give no direction either.
  const double coincide = std::max(exact_bound(scene, *meet.from, *meet.more.front().from),
                                   exact_bound(scene, *meet.to, *meet.more.front().to));
  if (!(length(from) > coincide) || !(length(to) > coincide))
    return fail("The places of the second pair are those of the first: they give no direction.", {},
                "Click other places for the second pair.");
  const Vec3 unit = normalized(to);
  motion.turn = smallest_turn(normalized(from), unit, first.from.roll);
  if (meet.sized) motion.factor = length(to) / length(from);
  std::optional<Mat3> roll;
  for (std::size_t i = 2; i < pairs.size() && !roll; ++i)
    roll = roll_onto(unit, motion.turn * (pairs[i].from.point - first.from.point), pairs[i].to.point - *target);
  if (pairs.size() == 2 && first.from.direction && first.to.direction) {
    const Facing facing = meet.facing.value_or(default_facing(scene, *meet.from, *meet.to));
    if (facing != Facing::AsIs)
      roll = roll_onto(unit, motion.turn * *first.from.direction,
                       facing == Facing::Facing ? -*first.to.direction : *first.to.direction);
  }
  if (roll)
    motion.turn = *roll * motion.turn;
  else if (pairs.size() > 2)
    motion.undetermined = kOnOneLine;
  return motion;
}

Result<MeetMotion> share_error(const Meet& meet, const Scene& scene, const std::vector<FoundPair>& pairs) {
  const auto target = target_of(meet, scene, pairs.front().to);
  if (!target) return tl::unexpected(target.error());
  std::vector<std::pair<Vec3, Vec3>> points;
  points.reserve(pairs.size());
  for (const FoundPair& p : pairs) points.emplace_back(p.from.point, &p == &pairs.front() ? *target : p.to.point);
  const RigidFit fit = fit_rigid(points, meet.sized);
  MeetMotion motion{fit.rotation, fit.factor, fit.from, fit.to, {}};
  // Two pairs never say more than a line: that needs no saying.
  if (fit.open == RigidFit::Open::AboutLine && pairs.size() > 2) motion.undetermined = kOnOneLine;
  if (fit.open == RigidFit::Open::Several) motion.undetermined = kSeveral;
  if (fit.open == RigidFit::Open::All) motion.undetermined = kOnOnePoint;
  return motion;
}

}  // namespace

Mat3 smallest_roll(const Vec3& axis, const Vec3& a, const Vec3& b) { return roll_onto(axis, a, b).value_or(Mat3{}); }

Result<MeetMotion> motion_of(const Meet& meet, const Scene& scene) {
  const auto pairs = find_pairs(meet, scene);
  if (!pairs) return tl::unexpected(pairs.error());
  if (meet.hold && pairs->size() == 1) return about_held(meet, scene, pairs->front());
  if (pairs->size() == 1) return by_one_pair(meet, scene, pairs->front());
  return meet.shared ? share_error(meet, scene, *pairs) : in_order(meet, scene, *pairs);
}

std::vector<Remaining> remaining_of(const Meet& meet, const Scene& after) {
  std::vector<Remaining> result;
  const std::vector<MeetPair> pairs = pairs_of(meet);
  for (std::size_t i = 0; i < pairs.size(); ++i) {
    if (!pairs[i].from || !pairs[i].to) continue;
    const auto from = find_tack(after, *pairs[i].from), to = find_tack(after, *pairs[i].to);
    if (!from || !to) continue;
    Vec3 target = to->point;
    if (i == 0 && meet.gap.value != 0 && to->direction) target += *to->direction * meet.gap.value;
    const Vec3 off = target - from->point;
    result.push_back({i, off, length(off), exact_bound(after, *pairs[i].from, *pairs[i].to)});
  }
  return result;
}

bool may_remain(const Meet& meet) { return !meet.more.empty() || meet.hold || meet.along != kAllAxes; }

bool meets_within(const Meet& meet, const Scene& after, double touch) {
  const std::vector<Remaining> all = remaining_of(meet, after);
  return std::all_of(all.begin(), all.end(), [&](const Remaining& r) { return r.exact() || r.gap <= touch; });
}

namespace {

// What is to be said of a meeting that has been done.
struct Left {
  Closeness closeness;
  std::optional<std::size_t> pair;  // of several the worst, when it is not exact
  std::string met, apart;           // of one that is limited to axes: "x, y" and "12.4 mm apart along z"
};

std::optional<Left> left_of(const Meet& meet, const Scene& after, const LengthUnit& unit, double touch) {
  const std::vector<Remaining> all = remaining_of(meet, after);
  if (all.empty()) return std::nullopt;
  // Parts of different sizes have different bounds: what is not exact is worse than any that is.
  const auto better = [](const Remaining& a, const Remaining& b) {
    return a.exact() != b.exact() ? a.exact() : a.gap < b.gap;
  };
  const Remaining& worst = *std::max_element(all.begin(), all.end(), better);
  Left left{closeness_of(worst.gap, worst.bound, touch), std::nullopt, {}, {}};
  if (worst.exact()) return left;
  if (!meet.more.empty()) left.pair = worst.pair;
  if (meet.along == kAllAxes || !meet.more.empty()) return left;
  const Mat3 axes = limit_axes(meet, after);
  const Vec3 ways = ways_along(worst.off, axes);
  for (int i = 0; i < 3; ++i) {
    const double along = std::abs(ways[i]);
    std::string& list = along <= worst.bound ? left.met : left.apart;
    if (!list.empty()) list += ", ";
    list += along <= worst.bound ? std::string(1, "xyz"[i])
                                 : fmt::format("{} apart along {}", show_length(along, unit, 3).text, "xyz"[i]);
  }
  return left;
}

std::string sentence_of_left(const Left& left, const LengthUnit& unit) {
  if (!left.apart.empty())
    return left.met.empty() ? fmt::format("It is {}.", left.apart)
                            : fmt::format("It meets in {} · {}.", left.met, left.apart);
  const std::string words = closeness_words(left.closeness, unit);
  return left.pair ? fmt::format("Pair {} is {}.", *left.pair + 1, words) : fmt::format("It is {}.", words);
}

}  // namespace

std::string remaining_words(const Meet& meet, const Scene& after, const LengthUnit& unit, double touch) {
  const auto left = left_of(meet, after, unit, touch);
  if (!left) return {};
  if (!left->apart.empty())
    return left->met.empty() ? left->apart : fmt::format("meets in {} · {}", left->met, left->apart);
  const std::string words = closeness_words(left->closeness, unit);
  return left->pair ? fmt::format("pair {} {}", *left->pair + 1, words) : words;
}

std::string remaining_sentence(const Meet& meet, const Scene& after, const LengthUnit& unit, double touch) {
  const auto left = left_of(meet, after, unit, touch);
  return left ? sentence_of_left(*left, unit) : std::string();
}

std::string shortfall_sentence(const Meet& meet, const Scene& after, const LengthUnit& unit) {
  const auto left = left_of(meet, after, unit, unit.touch);
  return left && left->closeness.kind != Closeness::Kind::Exact ? sentence_of_left(*left, unit) : std::string();
}

std::string left_between(const std::optional<TackAddress>& from, const std::optional<TackAddress>& to,
                         const Scene& after, const LengthUnit& unit) {
  if (!from || !to) return {};
  Meet places;
  places.from = from;
  places.to = to;
  return shortfall_sentence(places, after, unit);
}

}  // namespace tack
