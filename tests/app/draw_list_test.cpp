// The list of what is drawn: after any change it is the list that would be made anew.
#include <catch2/catch.hpp>
#include <set>

#include <fmt/format.h>

#include "core/verbs/verb.h"
#include "draw/draw_list.h"
#include "tests/support.h"

using namespace tack;
using namespace tack::test;

namespace {

// All of the items, one a line, made by a walk of its own.
std::vector<std::string> expected(const Scene& scene, const std::vector<PartId>& picked) {
  std::vector<std::string> lines;
  for (const PartId id : scene.in_tree_order()) {
    const Part& part = scene.part(id);
    if (!part.mesh || is_hidden(scene, id)) continue;
    bool marked = false;
    for (const PartId p : picked) marked = marked || is_within(scene, id, p);
    const Vec3 corner = world_of(scene, id) * Vec3{1, 2, 3};
    lines.push_back(fmt::format("{} {:.17g} {:.17g} {:.17g} {} {}", fmt::ptr(part.mesh.get()), corner.x, corner.y,
                                corner.z, part.colours.empty() ? 0.f : part.colours.front().r, marked));
  }
  return lines;
}

std::vector<std::string> shown(const DrawList& list) {
  std::vector<std::string> lines;
  for (const DrawItem& item : list.items()) {
    const Vec3 corner = item.world * Vec3{1, 2, 3};
    lines.push_back(fmt::format("{} {:.17g} {:.17g} {:.17g} {} {}", fmt::ptr(item.mesh.get()), corner.x, corner.y,
                                corner.z, item.colours->empty() ? 0.f : item.colours->front().r, item.picked));
  }
  return lines;
}

}  // namespace

TEST_CASE("the list of what is drawn follows every change as if it were made anew", "[view]") {
  Chance chance(1906);
  const MeshPtr box = cube(3), other = cube(5);
  Scene scene;
  const auto any = [&] {
    const auto ids = scene.in_tree_order();
    return ids.empty() ? kNoPart : ids[static_cast<std::size_t>(chance.whole(0, static_cast<int>(ids.size()) - 1))];
  };
  for (int i = 0; i < 150; ++i) {
    Part part = part_of(fmt::format("Post {}", i), i % 5 == 0 ? MeshPtr() : box, chance.placement(100),
                        i < 4 ? kNoPart : any());
    part.colours = {Colour{static_cast<float>(i) / 150, 0, 0, 1}};
    scene.add(std::move(part));
  }
  DrawList list;
  std::vector<PartId> picked;
  for (int i = 0; i < 400; ++i) {
    const PartId id = any();
    if (id == kNoPart) break;
    Part part = scene.part(id);
    switch (chance.whole(0, 9)) {
      case 0:
        part.hidden = !part.hidden;
        scene.replace(id, part);
        break;
      case 1:
        part.mesh = part.mesh == box ? other : box;
        scene.replace(id, part);
        break;
      case 2:
        part.colours = {Colour{static_cast<float>(i) / 400, 0, 0, 1}};
        scene.replace(id, part);
        break;
      case 3: scene.reparent(id, any()); break;
      case 4: scene.reparent(id, kNoPart); break;
      case 5:
        if (part.children.size() < 3) scene.remove(id);
        break;
      case 6: scene.add(part_of("New", box, chance.placement(100), id)); break;
      case 7: picked = chance.whole(0, 2) == 0 ? std::vector<PartId>{} : std::vector<PartId>{id, any()}; break;
      default: scene.place(id, chance.placement(100));
    }
    list.show(scene, picked);
    INFO("after change " << i + 1);
    REQUIRE(shown(list) == expected(scene, picked));
    if (i % 7) continue;
    // Ghosts stand behind them until it is shown again.
    list.add_ghosts(scene, std::vector<std::pair<PartId, Affine>>{{id, Affine{}}});
    const bool mesh = scene.contains(id) && scene.part(id).mesh;
    REQUIRE(list.items().size() == expected(scene, picked).size() + (mesh ? 1 : 0));
    if (mesh) REQUIRE(list.items().back().ghost);
  }
  // Another document: nothing of the first is left.
  Scene second;
  second.add(part_of("Base board", other));
  list.show(second, {});
  REQUIRE(shown(list) == expected(second, {}));
  list.show(Scene{}, {});
  REQUIRE(list.items().empty());
}

TEST_CASE("what is not ready to be drawn is stood in for by what was drawn last, and lets go of it", "[view]") {
  const MeshPtr before = cube(3), other = cube(9);
  MeshPtr after = cube(5);
  std::set<const Mesh*> ready{before.get()};
  const auto is_ready = [&](const Mesh& mesh) { return ready.contains(&mesh); };
  Scene scene;
  const PartId peg = scene.add(part_of("Peg", before)), pin = scene.add(part_of("Pin", before));
  DrawList list;
  const auto show = [&] {
    list.show(scene, {});
    return list.stand_in(is_ready);
  };
  CHECK(show().empty());
  Part changed = scene.part(peg);
  changed.mesh = after;
  changed.placement.position = {7, 0, 0};
  scene.replace(peg, changed);
  CHECK(show() == std::vector<PartId>{peg});
  // The old mesh, where the part is now.
  CHECK(list.items()[0].mesh == before);
  CHECK(list.items()[0].world.translation == Vec3{7, 0, 0});
  CHECK(list.items()[1].mesh == before);
  // What a drag has made of it meanwhile.
  MeshPtr passing = cube(4);
  ready.insert(passing.get());
  list.drawn_with(peg, passing);
  CHECK(show() == std::vector<PartId>{peg});
  CHECK(list.items()[0].mesh == passing);
  // It is there: nothing has changed in the scene since.
  ready.insert(after.get());
  CHECK(show().empty());
  CHECK(list.items()[0].mesh == after);
  const std::weak_ptr<const Mesh> gone = passing;
  passing.reset();
  CHECK(gone.expired());
  // Parts that are gone keep nothing, and another document's are not stood in for.
  const std::weak_ptr<const Mesh> last = after;
  scene.remove(peg);
  changed = {};
  after.reset();
  show();
  CHECK(last.expired());
  list.forget();
  Scene second;
  second.add(part_of("Base board", {}));
  second.add(part_of("Rail", other));
  list.show(second, {});
  CHECK(list.stand_in(is_ready) == std::vector<PartId>{pin});
  CHECK(list.items()[0].mesh == other);
}
