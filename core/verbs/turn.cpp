#include "core/verbs/turn.h"

#include <fmt/format.h>

#include "core/math/degrees.h"
#include "core/math/split.h"

namespace tack {
namespace {

// Whether every entry is exactly 0 or ±1: one of the 24 turns of a cube onto itself.
bool is_quarter_turn(const Mat3& m) {
  for (const Vec3& c : m.column)
    for (int i = 0; i < 3; ++i)
      if (c[i] != 0 && std::abs(c[i]) != 1) return false;
  return true;
}

bool near(const Mat3& a, const Mat3& b) {
  for (int c = 0; c < 3; ++c)
    if (largest_component(a.column[static_cast<std::size_t>(c)] - b.column[static_cast<std::size_t>(c)]) > 1e-12)
      return false;
  return true;
}

// A turn told as one about an axis of the frame it is given in.
struct AboutAxis {
  int axis = 0;
  double degrees = 0;
};

// Which axis `rotation` is about, when it is one of the three and the angle is ±degrees.
std::optional<AboutAxis> about_axis(const Mat3& rotation, double degrees) {
  for (int axis = 0; axis < 3; ++axis)
    for (const double sign : {1.0, -1.0}) {
      Vec3 unit;
      unit[axis] = 1;
      // Most turns leave none of the axes where it is.
      if (largest_component(rotation.column[static_cast<std::size_t>(axis)] - unit) > 1e-12) continue;
      if (near(rotation_about(unit, sign * degrees), rotation)) return AboutAxis{axis, sign * degrees};
    }
  return std::nullopt;
}

// Adds to the typed angle when nothing that is applied after it (for a parent's axis) or before it (for an own one) is
// in the way.
bool added(Vec3& angles, const AboutAxis& turn, bool own) {
  for (int other = own ? 0 : turn.axis + 1; other < (own ? turn.axis : 3); ++other)
    if (angles[other] != 0) return false;
  angles[turn.axis] = wrap_degrees(add_decimals(angles[turn.axis], turn.degrees));
  return true;
}

Mat3 matrix_of_turn(const AboutAxis& turn) {
  Vec3 unit;
  unit[turn.axis] = 1;
  return rotation_about(unit, turn.degrees);
}

Vec3 found_angles(const Mat3& rotation) {
  const Vec3 raw = degrees_from_rotation(rotation);
  const double cos_y = std::max(1e-8, std::hypot(rotation(0, 0), rotation(1, 0)));
  constexpr double kNoise = 4e-14;  // degrees: what a few products of rotations round away
  Vec3 neat;
  for (int i = 0; i < 3; ++i) neat[i] = fewest_decimals(raw[i], std::min(1e-11, kNoise / cos_y));
  return neat;
}

}  // namespace

double fewest_decimals(double degrees, double slack) {
  // A whole number below 2^53 over a power of ten below 10^22 is one division of two doubles that are exact: the double
  // nearest to the decimal, as if it were read from text.
  double power = 1;
  for (int decimals = 0; decimals < 15; ++decimals, power *= 10) {
    const double whole = std::nearbyint(degrees * power);
    if (std::abs(whole) >= 9007199254740992.0) break;
    if (std::abs(whole / power - degrees) <= slack) return whole / power + 0.0;
  }
  return degrees;
}

Result<TurnedPlacement> turned(const Scene& scene, PartId id, const Turn& turn) {
  const Part& part = scene.part(id);
  TurnedPlacement result{part.placement, {}};
  Placement& placement = result.placement;
  const Mat3 parent = parent_world_of(scene, id).linear;
  const Vec3 before = placement.rotation;
  if (is_similarity(parent)) {
    Mat3 in_parent = turn.rotation;
    if (parent != Mat3{}) in_parent = squared_up(*inverse(parent) * (turn.rotation * parent));
    const auto parents = about_axis(in_parent, turn.degrees);
    // The commonest turn of all, about the parent's axis that is applied last and by no quarter: its angle is added,
    // and nothing else has to be known. A drag of a thousand parts does this a thousand times a move.
    if (parents && std::fmod(parents->degrees, 90.0) != 0 && added(placement.rotation, *parents, false)) {
      return result;
    }
    const Mat3 rotation = rotation_from_degrees(before);
    const auto own = about_axis(transpose(rotation) * (in_parent * rotation), turn.degrees);
    if (parents) in_parent = matrix_of_turn(*parents);
    const bool counts = part.quarters && part.quarters->now == before;
    QuarterTurns quarters = counts ? *part.quarters : QuarterTurns{before, {}, {}, before};
    bool exact = true;
    if (is_quarter_turn(in_parent))
      quarters.left = in_parent * quarters.left;
    else if (own && std::fmod(own->degrees, 90.0) == 0)
      quarters.right = quarters.right * matrix_of_turn(*own);
    else
      exact = false;
    if (exact && quarters.left == Mat3{} && quarters.right == Mat3{}) {
      placement.rotation = quarters.base;
      return result;
    }
    const bool sum =
        (parents && added(placement.rotation, *parents, false)) || (own && added(placement.rotation, *own, true));
    if (!sum)
      placement.rotation = found_angles(exact ? quarters.left * (rotation_from_degrees(quarters.base) * quarters.right)
                                              : squared_up(in_parent * rotation));
    if (exact) {
      quarters.now = placement.rotation;
      result.quarters = std::make_shared<const QuarterTurns>(quarters);
    }
    return result;
  }
  // Under an unevenly scaled parent a turn distorts: what comes of it is split anew.
  const auto back = inverse(parent);
  if (!back) return fail(fmt::format("\"{}\" cannot be turned: the part it belongs to is flattened.", part.name));
  const auto split = with_linear(placement, solved(parent, *back, turn.rotation * (parent * linear_of(placement))));
  if (!split) return tl::unexpected(split.error());
  placement = *split;
  return result;
}

}  // namespace tack
