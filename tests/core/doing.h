// Doing verbs in tests of the core.
#pragma once

#include <catch2/catch.hpp>

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

}  // namespace tack::test
