// Pictures that are drawn in slices, several at once and others between them.
#include "draw/sliced_picture.h"
#include "tests/app/drawing.h"

using namespace tack;
using namespace tack::test;

TEST_CASE("pictures that are drawn in slices do not draw into each other", "[levels]") {
  const Easel easel;
  Renderer& renderer = *easel.renderer;
  const std::vector<MeshPtr> all = meshes();
  for (const MeshPtr& mesh : all) renderer.upload(mesh, arrays_of(mesh));
  // Each with other parts picked, whose outlines come from a picture of their own; of the first it is found out which
  // parts are seen.
  std::array<Drawing, 3> drawings;
  lattice(drawings[0], all, 24, 11, true);
  lattice(drawings[1], all, 5, 90, true);
  lattice(drawings[2], all, 3, 200, false);
  for (std::size_t n = 0; n < drawings.size(); ++n) {
    for (std::size_t i = n; i < drawings[n].items.size(); i += 2 + n) drawings[n].items[i].picked = true;
    drawings[n].frame.items = drawings[n].items;
  }
  const auto finished = [&](SlicedPicture& picture, const DrawFrame& frame) {
    picture.begin(std::span(&frame, 1), kWidth, kHeight);
    while (!picture.go_on(1000)) continue;
    return picture.to_memory();
  };
  std::array<std::vector<unsigned char>, 3> alone;
  for (std::size_t n = 0; n < drawings.size(); ++n) {
    SlicedPicture picture(renderer);
    alone[n] = finished(picture, drawings[n].frame);
  }
  std::array<SlicedPicture, 3> pictures{SlicedPicture(renderer), SlicedPicture(renderer), SlicedPicture(renderer)};
  for (std::size_t n = 0; n < drawings.size(); ++n)
    pictures[n].begin(std::span(&drawings[n].frame, 1), kWidth, kHeight);
  // Between their slices others are drawn at once, of another size and with other parts picked; one is given up.
  auto passing = std::make_unique<SlicedPicture>(renderer);
  passing->begin(std::span(&drawings[1].frame, 1), kWidth, kHeight);
  Drawing small;
  lattice(small, all, 3, 100, true);
  for (DrawItem& item : small.items) item.picked = true;
  small.frame.items = small.items;
  small.frame.view.width = small.frame.view.height = 150;
  const auto at_once = renderer.draw_to_memory(small.frame);
  int rounds = 0;
  for (bool all_done = false; !all_done; ++rounds) {
    all_done = true;
    for (SlicedPicture& picture : pictures) {
      all_done = picture.go_on(0.01) && all_done;
      if (passing && passing->go_on(0.01)) passing.reset();
      if (rounds % 4 == 0) CHECK(renderer.draw_to_memory(small.frame) == at_once);
    }
    if (rounds == 5) passing.reset();
  }
  CHECK(rounds > 10);
  for (std::size_t n = 0; n < drawings.size(); ++n) {
    INFO("picture " << n);
    CHECK(pictures[n].to_memory() == alone[n]);
  }
  // A mesh that is gone takes them along.
  renderer.upload(shape_mesh(ShapeKind::Sphere, 12), {});
  renderer.drop_gone();
  for (const SlicedPicture& picture : pictures) CHECK_FALSE(picture.done());
}
