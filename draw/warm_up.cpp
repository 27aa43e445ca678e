// Programs are translated by the driver when something is first drawn with them, for each way of blending and number of
// samples anew: the first picture of the loupe would wait for that under the pointer. Declared in renderer.h.
#include "draw/warm_up.h"

#include "core/mesh/shape.h"

namespace tack {
namespace {

constexpr double kSampleSide = 2;  // mm
// Of the cube's side what fills the picture: large, as the loupe shows it; small, where lines are thin and faces lit at
// their vertices; and so small that parts are boxes.
constexpr std::array<double, 3> kSpans{1.5, 30, 100};
// Each of them with and without smoothing, in two styles.
constexpr int kPictures = 4 * static_cast<int>(kSpans.size());

}  // namespace

MeshPtr sample_mesh() {
  Shape shape = usual_shape(ShapeKind::Box);
  shape[Dimension::Width] = shape[Dimension::Depth] = shape[Dimension::Height] = kSampleSide;
  return make_mesh(mesh_data_of(shape)).value_or(nullptr);
}

MeshArrays sample_arrays(const Mesh& cube) {
  MeshArrays arrays = make_mesh_arrays(cube);
  MeshArrays::Run all;
  all.centre.fill(0), all.half.fill(static_cast<float>(kSampleSide));
  all.count = static_cast<std::uint32_t>(arrays.indices.size());
  arrays.runs = {all};
  all.count = static_cast<std::uint32_t>(arrays.edges.size());
  arrays.edge_runs = {all};
  return arrays;
}

void Renderer::WarmUp::begin(int number) {
  constexpr int kSide = 96;
  const double span = kSpans[static_cast<std::size_t>(number / 4)];
  const bool close = span == kSpans.front();
  for (int i = 0; i < 6; ++i) {
    DrawItem item;
    item.mesh = sample;
    const int column = i % 3, row = i / 3;
    item.world.translation = {1.5 * kSampleSide * column, 0, 1.5 * kSampleSide * row};
    item.colours = &colours;
    item.picked = i == 1, item.ghost = i == 2, item.see_through = i == 3;
    items.push_back(item);
  }
  DrawFrame frame;
  frame.view = close_up({}, normalized({1, 1, 1}), {0, 0, 1}, kSampleSide * span, kSide, kSide);
  frame.items = items;
  frame.theme = day_theme();
  frame.samples = number % 2 ? 0 : 4;
  frame.style = number % 4 < 2 ? DrawStyle::Shaded : DrawStyle::Facing;
  frame.cut_at_eye = close;
  frame.off = close ? 0 : 0.5;
  frame.grid.shown = !close;
  picture.begin({&frame, 1}, kSide, kSide);
}

bool Renderer::warm_up() {
  Card& c = *card_;
  if (!warm_up_) {
    if (!c.sample || c.warmed == kPictures) return false;
    warm_up_ = std::make_unique<WarmUp>(*this, c.sample);
    warm_up_->begin(c.warmed++);
  }
  if (!warm_up_->picture.go_on(1)) return true;
  (void)warm_up_->picture.to_memory();
  warm_up_.reset();
  return true;
}

}  // namespace tack
