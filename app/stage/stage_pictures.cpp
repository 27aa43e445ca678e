// Pictures that the stage's renderer draws into memory; declared in stage.h.
#include "app/memory.h"
#include "app/stage/stage.h"
#include "app/theme.h"

namespace tack {

QImage Stage::image_of(const std::vector<unsigned char>& pixels, int width, int height) {
  return pixels.empty() ? QImage() : QImage(pixels.data(), width, height, width * 4, QImage::Format_RGBA8888).copy();
}

QImage Stage::drawn(const DrawFrame& frame) {
  const int width = static_cast<int>(frame.view.width), height = static_cast<int>(frame.view.height);
  if (memory_left() < kMemoryReserve / 2) return {};
  makeCurrent();
  const auto pixels = renderer_.draw_to_memory(frame);
  doneCurrent();
  return image_of(pixels, width, height);
}

QImage Stage::picture_of(const Scene& scene, const QSize& size) {
  if (!created_ || world_box_of(scene).empty()) return {};
  DrawList list;
  list.show(scene, {});
  DrawFrame frame;
  frame.view = view_of(framed(turned_to({}, Side::Iso), world_box_of(scene), size.width(), size.height()), size.width(),
                       size.height());
  frame.items = list.items();
  frame.theme = theme().draw;
  frame.samples = kStageSamples;
  frame.grid.shown = false;
  makeCurrent();
  for (const PartId id : scene.in_tree_order())
    if (const MeshPtr& mesh = scene.part(id).mesh; mesh && !renderer_.has(*mesh))
      renderer_.upload(mesh, make_mesh_arrays(*mesh));
  return drawn(frame);
}

QImage Stage::picture(const QSize& size) {
  if (!created_) return {};
  DrawFrame frame;
  frame.view = view_of(camera_, size.width(), size.height());
  frame.items = items();
  frame.theme = theme().draw;
  frame.samples = kStageSamples;
  frame.grid = grid_look(store_.scene(), frame.view, camera_.target).drawn;
  return drawn(frame);
}

CloseUp& Stage::make_close_up() { return *close_ups_.emplace_back(std::make_unique<CloseUp>(*this, renderer_)); }

}  // namespace tack
