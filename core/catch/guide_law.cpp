#include "core/catch/guide_law.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/math/degrees.h"
#include "core/math/split.h"

namespace tack {
namespace {

// Two places that are one but for rounding.
bool coincide(const Vec3& a, const Vec3& b) {
  constexpr double kRounding = 1e-12;
  return !(distance(a, b) > kRounding * (1 + length(a) + length(b)));
}

double degrees_between(const Vec3& a, const Vec3& b) { return atan2_degrees(length(cross(a, b)), dot(a, b)); }

// A small angle with the digits that tell it from nothing.
std::string angle_words(double degrees) { return degrees == 0 ? "0°" : fmt::format("{:.2g}°", degrees); }

Result<Vec3> point_at(const Scene& scene, const TackAddress& address) {
  const auto tack = find_tack(scene, address);
  if (!tack) return tl::unexpected(tack.error());
  return tack->point;
}

// The axis of a direction, x of which lies as near as can be to `towards`.
Mat3 frame_along(const Vec3& z, const std::optional<Vec3>& towards) {
  Tack tack;
  tack.direction = z;
  if (towards)
    if (const Vec3 x = normalized(*towards - z * dot(*towards, z)); x != Vec3{}) tack.roll = x;
  return frame_of(tack);
}

Result<Affine> frame_at(const GuideLaw& law, const Scene& scene) {
  const auto tack = find_tack(scene, law.places.front());
  if (!tack) return tl::unexpected(tack.error());
  Affine frame{frame_of(*tack), tack->point};
  // The axis that becomes the normal takes the others along in turn.
  const auto a = static_cast<std::size_t>((law.across + 1) % 3), b = static_cast<std::size_t>((law.across + 2) % 3);
  if (law.across != 2)
    frame.linear = {
        {frame.linear.column[a], frame.linear.column[b], frame.linear.column[static_cast<std::size_t>(law.across)]}};
  if (law.offset != 0) frame.translation = frame.translation + frame.linear.column[2] * law.offset;
  if (law.angle != 0) {
    Vec3 own;
    own[law.round] = 1;
    frame.linear = frame.linear * rotation_about(own, law.angle);
  }
  return frame;
}

Result<Affine> frame_beside(const GuideLaw& law, const Scene& scene) {
  const auto edge = find_tack(scene, law.places.front());
  if (!edge) return tl::unexpected(edge.error());
  const auto along = line_direction(scene, law.places.front());
  if (!along) return tl::unexpected(along.error());
  if (law.places.size() < 2) {
    // Between the faces of the edge, to the left of its direction.
    const Vec3 out = edge->direction ? normalized(cross(*edge->direction, *along)) : Vec3{};
    if (out == Vec3{}) return fail("The side cannot be told there.", "in", "Click a place on the side.");
    return Affine{frame_along(*along, out), edge->point + out * law.offset};
  }
  const auto side = point_at(scene, law.places[1]);
  if (!side) return tl::unexpected(side.error());
  const Vec3 towards = *side - edge->point;
  const Vec3 across = towards - *along * dot(towards, *along);
  if (length(across) <= 1e-9 * (1 + length(towards)))
    return fail("That place lies on the edge's own line, so the side cannot be told.", "in",
                "Click a place away from the edge.");
  const Vec3 out = normalized(across);
  return Affine{frame_along(*along, out), edge->point + out * law.offset};
}

Result<Affine> frame_at_angle(const GuideLaw& law, const Scene& scene) {
  const auto edge = find_tack(scene, law.places.front());
  if (!edge) return tl::unexpected(edge.error());
  const auto along = line_direction(scene, law.places.front());
  if (!along) return tl::unexpected(along.error());
  const auto through = point_at(scene, law.places[1]);
  if (!through) return tl::unexpected(through.error());
  const auto face = law.places.size() > 2 ? find_tack(scene, law.places[2]) : Result<Tack>(*edge);
  if (!face) return tl::unexpected(face.error());
  if (!face->direction) return fail("That place lies on no face to turn in.", "in", "Click a place on a face.");
  if (const double leaves = std::abs(90 - degrees_between(*along, *face->direction)); !(leaves <= kAlongFace))
    return fail(
        fmt::format("The edge leaves that face by {}, so no line in it has an angle to the edge.", angle_words(leaves)),
        "in", "Click a face along which the edge lies.");
  const Vec3 z = rotation_about(*face->direction, law.angle) * *along;
  return Affine{frame_along(normalized(z), *face->direction), *through};
}

}  // namespace

Result<Affine> frame_through(const Vec3& origin, const Vec3& second, const Vec3& third) {
  constexpr const char* kDo = "Click three places that lie well apart and not in one line.";
  for (const auto& [a, b, words] : {std::tuple{origin, second, "first and the second"},
                                    {origin, third, "first and the third"},
                                    {second, third, "second and the third"}})
    if (coincide(a, b)) return fail(fmt::format("The {} place coincide: they give no plane.", words), {}, kDo);
  const Vec3 along = second - origin, flat = third - origin;
  const double angle = degrees_between(along, flat), off = std::min(angle, 180 - angle);
  if (off < kLeastAngle)
    return fail(fmt::format("The three places lie in one line, within {}: they give no plane.", angle_words(off)), {},
                kDo);
  const Vec3 x = normalized(along), z = normalized(cross(along, flat));
  return Affine{{{x, cross(z, x), z}}, origin};
}

Result<Vec3> line_direction(const Scene& scene, const TackAddress& address) {
  const auto tack = find_tack(scene, address);
  if (!tack) return tl::unexpected(tack.error());
  const bool edge = address.kind == TackKind::Edge || address.kind == TackKind::Crossing;
  const auto& along = edge ? tack->roll : tack->direction;
  const Part* part = scene.find(address.part);
  const bool lies = edge || address.kind == TackKind::Axis || address.kind == TackKind::RoundCentre ||
                    address.kind == TackKind::Kept || address.kind == TackKind::Pivot ||
                    (address.kind == TackKind::Guide && part && part->guide == GuideKind::Line);
  if (!lies || !along)
    return fail(fmt::format("{} has no line to lie beside.", tack_words(scene, address)), {},
                "Click an edge, a guide line or an axis.");
  return *along;
}

Result<Affine> frame_of_law(const GuideLaw& law, GuideKind kind, const Scene& scene) {
  const std::size_t needed = law.kind == GuideLaw::Kind::At || law.kind == GuideLaw::Kind::Beside ? 1
                             : law.kind == GuideLaw::Kind::Points && kind == GuideKind::Plane     ? 3
                                                                                                  : 2;
  if (law.places.size() < needed) return fail(fmt::format("It needs {} places.", needed));
  switch (law.kind) {
    case GuideLaw::Kind::At: return frame_at(law, scene);
    case GuideLaw::Kind::Beside: return frame_beside(law, scene);
    case GuideLaw::Kind::Angle: return frame_at_angle(law, scene);
    case GuideLaw::Kind::Points: break;
  }
  std::array<Vec3, 3> points;
  for (std::size_t i = 0; i < needed; ++i) {
    const auto point = point_at(scene, law.places[i]);
    if (!point) return tl::unexpected(point.error());
    points[i] = *point;
  }
  if (kind == GuideKind::Plane) return frame_through(points[0], points[1], points[2]);
  if (coincide(points[0], points[1]))
    return fail("The two places coincide: they give no line.", {}, "Click two places apart from each other.");
  const auto first = find_tack(scene, law.places.front());
  return Affine{frame_along(normalized(points[1] - points[0]), first->direction), points[0]};
}

Result<Placement> placement_in(const Scene& scene, PartId parent, const Affine& frame, const Placement& like) {
  const Affine above = world_of(scene, parent);
  const auto back = inverse(above);
  if (!back) return fail(fmt::format("\"{}\" is flattened.", scene.part(parent).name));
  Placement start = like;
  start.scale = {1, 1, 1};
  start.skew = {};
  auto placement = with_linear(start, above.linear == Mat3{} ? frame.linear : back->linear * frame.linear);
  if (!placement) return placement;
  // What rounding left of a factor of 1 is 1.
  constexpr double kOne = 1e-12;
  for (int i = 0; i < 3; ++i) {
    if (std::abs(placement->scale[i] - 1) < kOne) placement->scale[i] = 1;
    if (std::abs(placement->skew[i]) < kOne) placement->skew[i] = 0;
  }
  placement->position = parent == kNoPart ? frame.translation : *back * frame.translation;
  return placement;
}

namespace {

// Whether a place may be elsewhere although its part stands where it stood: by what is below that part.
bool depends_on_below(const TackAddress& place) {
  return place.kind == TackKind::TreeBoxPoint || place.kind == TackKind::WorldBoxPoint || place.kind == TackKind::Mass;
}

// Whether a part stands where it stood, and is what it was.
bool as_before(const Scene& before, const Scene& after, PartId id) {
  for (; id != kNoPart; id = after.part(id).parent) {
    if (!after.contains(id)) return false;
    if (!before.shares(after, id)) {
      const Part *was = before.find(id), *is = &after.part(id);
      if (!was || was->parent != is->parent || was->placement != is->placement || was->mesh != is->mesh ||
          was->kept != is->kept)
        return false;
    }
  }
  return true;
}

bool same_within_rounding(const Affine& a, const Affine& b) {
  if (distance(a.translation, b.translation) > 1e-9 * (1 + length(a.translation))) return false;
  for (std::size_t i = 0; i < 3; ++i)
    if (distance(a.linear.column[i], b.linear.column[i]) > 1e-9) return false;
  return true;
}

}  // namespace

void settle_guides(const Scene& before, Scene& after) {
  // One that follows another comes behind it; guides of a file that follow each other in a circle end all the same.
  const std::vector<PartId> followers = after.followers();
  const auto let_go = [&](PartId id) {
    Part part = after.part(id);
    part.law = nullptr;
    after.replace(id, std::move(part));
  };
  for (std::size_t pass = 0; pass < followers.size(); ++pass) {
    bool any = false;
    for (const PartId id : followers) {
      const Part* part = after.find(id);
      if (!part || !part->law) continue;
      const GuideLaw& law = *part->law;
      const Part* was = before.find(id);
      const bool new_here = !was || !was->law || !(*was->law == law);
      const auto gone = [&](const TackAddress& a) { return a.part != kNoPart && !after.contains(a.part); };
      if (std::any_of(law.places.begin(), law.places.end(), gone)) {
        let_go(id);
        continue;
      }
      const bool rests =
          as_before(before, after, id) && std::all_of(law.places.begin(), law.places.end(), [&](const TackAddress& a) {
            return a.part == kNoPart || (!depends_on_below(a) && as_before(before, after, a.part));
          });
      if (rests) continue;
      const auto frame = frame_of_law(law, part->guide, after);
      // A copy that was put elsewhere follows nothing; what has just been laid stands where it should.
      if (new_here) {
        if (pass == 0 && (!frame || !same_within_rounding(plane_frame(after, id), *frame))) let_go(id);
        continue;
      }
      const bool by_hand = pass == 0 && was->placement != part->placement;
      if (!frame || (by_hand && !same_within_rounding(plane_frame(after, id), *frame))) {
        let_go(id);
        continue;
      }
      if (plane_frame(after, id) == *frame) continue;
      const auto placement = placement_in(after, part->parent, *frame, part->placement);
      if (!placement || *placement == part->placement) continue;
      after.place(id, *placement);
      any = true;
    }
    if (!any) break;
  }
}

}  // namespace tack
