// Doing verbs in tests of the core.
#pragma once

#include <catch2/catch.hpp>

#include <nlohmann/json.hpp>

#include "core/verbs/verb.h"
#include "tests/support.h"

namespace tack::test {

/// A scene with one part.
inline Scene one_part(const Placement& placement, const MeshPtr& mesh = cube(20), const std::string& name = "Post") {
  Scene s;
  s.add(part_of(name, mesh, placement));
  return s;
}

/// What the verb leaves; the test fails, with the reason, when it cannot be done.
inline Scene done(const Verb& verb, const Scene& scene) {
  auto result = tack::apply(verb, scene);
  INFO((result ? std::string() : sentence(result.error())));
  REQUIRE(result);
  return std::move(*result);
}

/// What a step of a steps file leaves; the test fails, with the reason, when it cannot be done.
inline Scene stepped(const Scene& scene, const Json& step) {
  INFO(step.dump());
  const auto verb = verb_from_json(step, scene);
  INFO((verb ? std::string() : sentence(verb.error())));
  REQUIRE(verb);
  return done(*verb, scene);
}

/// Why such a step cannot be read or done; "done" when it can.
inline std::string step_refused(const Scene& scene, const Json& step) {
  const auto verb = verb_from_json(step, scene);
  if (!verb) return sentence(verb.error());
  const auto result = tack::apply(*verb, scene);
  return result ? "done" : sentence(result.error());
}

/// Why the verb cannot be done, and what to do instead; the test fails when it can.
inline std::string refusal(const Verb& verb, const Scene& scene) {
  const auto result = tack::apply(verb, scene);
  REQUIRE_FALSE(result);
  return result.error().what + (result.error().remedy.empty() ? "" : " " + result.error().remedy);
}

/// Where a place is; the test fails when it is not there.
inline Vec3 at(const Scene& scene, const TackAddress& address) {
  const auto tack = find_tack(scene, address);
  REQUIRE(tack);
  return tack->point;
}

/// A step that keeps a place by a name.
inline Keep keep(PartId part, const TackAddress& at, const std::string& name, bool instances = true) {
  Keep k;
  k.part = part;
  k.at = at;
  k.name = name;
  k.copies = instances ? Copies::All : Copies::Separate;
  return k;
}

}  // namespace tack::test
