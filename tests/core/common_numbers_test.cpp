#include <catch2/catch.hpp>

#include "core/verbs/common_numbers.h"
#include "core/verbs/scale.h"
#include "tests/core/doing.h"
#include "tests/support.h"

using namespace tack;
using namespace tack::test;

namespace {

// One row at a time, part by part, as it is written down in the declaration.
bool alike(const Scene& scene, const std::vector<PartId>& parts, const std::function<double(PartId)>& number) {
  const double first = number(parts.front());
  for (const PartId id : parts)
    if (std::abs(number(id) - first) > 1e-9 * (1 + std::abs(number(id)))) return false;
  return scene.contains(parts.front());
}

void check(const Scene& scene, const std::vector<PartId>& parts, const Axes& axes, const std::optional<About>& of) {
  const CommonNumbers common = common_numbers(scene, parts, axes, of);
  const auto row = [&](const CommonNumbers3& numbers, const std::function<Vec3(PartId)>& own) {
    for (int axis = 0; axis < 3; ++axis) {
      const CommonNumber& number = numbers[static_cast<std::size_t>(axis)];
      CHECK(number.first == own(parts.front())[axis]);
      CHECK(number.same == alike(scene, parts, [&](PartId id) { return own(id)[axis]; }));
    }
  };
  row(common.position, [&](PartId id) {
    const Vec3 pivot = numbers_in(scene, id, axes).position;
    return of ? position_of(scene, id, axes, of).value_or(pivot) : pivot;
  });
  row(common.rotation, [&](PartId id) { return numbers_in(scene, id, axes).rotation; });
  row(common.size, [&](PartId id) { return size_of(scene, id, {id}, AxesKind::Local, false); });
  row(common.scale, [&](PartId id) { return numbers_in(scene, id, axes).scale; });
  row(common.pivot, [&](PartId id) { return scene.part(id).placement.pivot; });
  row(common.skew, [&](PartId id) { return numbers_in(scene, id, axes).skew; });
  CHECK(common.skewed == std::any_of(parts.begin(), parts.end(), [&](PartId id) {
          return largest_component(numbers_in(scene, id, axes).skew) > 1e-12;
        }));
}

}  // namespace

TEST_CASE("what parts have alike of their numbers is what each of them has") {
  Chance chance(271);
  Scene scene;
  std::vector<PartId> parts;
  const MeshPtr mesh = cube(20);
  // Most are alike but for their place; below a skewed, mirrored one they are not.
  Placement above = chance.placement(50);
  above.scale = {-2, 0.5, 1};
  const PartId parent = scene.add(part_of("Above", cube(10), above));
  for (int i = 0; i < 1500; ++i) {
    Placement p;
    p.position = {chance.between(-900, 900), 40, 3};
    p.rotation = {0, 0, 30};
    parts.push_back(scene.add(part_of("P" + std::to_string(i), mesh, p)));
  }
  const About corner{About::Kind::OwnBox, {}, {0, 1, 1}};
  const std::vector<std::optional<About>> places{std::nullopt, corner};
  for (const AxesKind axes : {AxesKind::World, AxesKind::Parent, AxesKind::Local})
    for (const auto& of : places) {
      check(scene, parts, axes, of);
      check(scene, {parts.front()}, axes, of);
    }
  const CommonNumbers plain = common_numbers(scene, parts, AxesKind::World, std::nullopt);
  CHECK_FALSE(plain.position[0].same);
  CHECK((plain.position[1].same && plain.position[1].first == 40));
  CHECK((plain.rotation[2].same && plain.rotation[2].first == Approx(30)));
  CHECK((plain.size[0].same && plain.size[0].first == Approx(20)));
  CHECK_FALSE(plain.skewed);
  // The last of all is another, by a little more than what counts; by less it is not.
  for (const double off : {5e-9, 5e-8, 1e-3}) {
    Scene other = scene;
    Placement p = other.part(parts.back()).placement;
    p.position.y += off;
    other.place(parts.back(), p);
    check(other, parts, AxesKind::World, std::nullopt);
    CHECK(common_numbers(other, parts, AxesKind::World, std::nullopt).position[1].same == (off < 1e-8));
  }
  for (int i = 0; i < 40; ++i)
    parts.push_back(scene.add(part_of("Q" + std::to_string(i), mesh, chance.placement(9), parent)));
  for (const AxesKind axes : {AxesKind::World, AxesKind::Parent, AxesKind::Local}) check(scene, parts, axes, corner);
  CHECK(common_numbers(scene, parts, AxesKind::World, std::nullopt).skewed);
  const CommonNumbers none = common_numbers(scene, {}, AxesKind::World, corner);
  CHECK((none.position[0].same && none.position[0].first == 0 && !none.skewed));
}
