// Planes and guides in tests of the core.
#pragma once

#include "core/catch/guide_law.h"
#include "tests/core/second_method.h"

namespace tack::test {

inline TackAddress space(const Vec3& p) { return {TackKind::Point, kNoPart, 0, p}; }

inline Verb step_from(const std::string& text, const Scene& scene) {
  const auto verb = verb_from_json(Json::parse(text), scene);
  INFO((verb ? std::string() : sentence(verb.error())));
  REQUIRE(verb);
  return *verb;
}
inline std::string refused_step(const std::string& text, const Scene& scene) {
  const auto verb = verb_from_json(Json::parse(text), scene);
  REQUIRE_FALSE(verb);
  return sentence(verb.error());
}

inline PartId last_of(const Scene& scene) { return scene.in_tree_order().back(); }

// A plane through the origin, turned about World Y by the ramp's 7.5°, at 100, 20, 30.
inline Scene with_ramp(const Scene& scene, bool use = false) {
  LayPlane lay;
  lay.way = LayPlane::Way::Numbers;
  lay.position = {Amount{100}, Amount{20}, Amount{30}};
  lay.rotation = {Amount{0}, Amount{7.5}, Amount{0}};
  lay.name = "Ramp";
  lay.use = use;
  return done(lay, scene);
}

inline OntoPlane onto(PartId part, PartId from, PartId to) {
  OntoPlane o;
  o.what = {part};
  o.from = from;
  o.to = to;
  return o;
}

// A plane somewhere: at the top, or below one of the scene's parts, so that it may be skewed and mirrored.
inline PartId odd_plane(Chance& chance, Scene& scene, PartId below) {
  Part part;
  part.name = fmt::format("Plane {}", scene.size());
  part.guide = GuideKind::Plane;
  part.parent = chance.whole(0, 2) == 0 ? below : kNoPart;
  part.placement.position = chance.point(300);
  part.placement.rotation = {chance.between(-180, 180), chance.between(-90, 90), chance.between(-180, 180)};
  return scene.add(std::move(part));
}

// The same frame in long double: the part's columns squared up from x, then y.
inline LongAffine long_frame(const Scene& scene, PartId plane) {
  if (plane == kNoPart) return {};
  LongAffine own = long_own_axes(scene, plane);
  own.shift = long_pivot(scene, plane);
  return own;
}
inline LongVec in_frame(const LongAffine& frame, const LongVec& p) {
  const LongVec v = p - frame.shift;
  return {dot(frame.x, v), dot(frame.y, v), dot(frame.z, v)};
}

}  // namespace tack::test
