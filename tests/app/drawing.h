// Drawing without a window, and comparing pictures.
#pragma once

#include <catch2/catch.hpp>

#include "core/mesh/shape.h"
#include "draw/frame_plan.h"
#include "draw/offscreen.h"
#include "tests/support.h"

namespace tack::test {

inline MeshPtr shape_mesh(ShapeKind kind, double sides) {
  Shape shape = usual_shape(kind);
  shape[Dimension::Sides] = sides;
  MeshData data = mesh_data_of(shape, {});
  data.known = nullptr;
  return *make_mesh(std::move(data));
}

inline std::vector<MeshPtr> meshes() {
  return {shape_mesh(ShapeKind::Sphere, 160), shape_mesh(ShapeKind::Cylinder, 900), shape_mesh(ShapeKind::Torus, 120),
          shape_mesh(ShapeKind::Tube, 400)};
}

inline MeshArrays arrays_of(const MeshPtr& mesh) {
  MeshArrays arrays = make_mesh_arrays(*mesh);
  add_levels(*mesh, arrays);
  return arrays;
}

// A renderer without a window.
struct Easel {
  Offscreen context;
  std::unique_ptr<Renderer> renderer = std::make_unique<Renderer>();

  Easel() {
    REQUIRE(context.error().empty());
    REQUIRE(renderer->create().empty());
  }
  ~Easel() { renderer->release(); }
};

inline constexpr int kWidth = 640, kHeight = 480;

struct Drawing {
  std::vector<DrawItem> items;
  std::vector<Colour> colours{{0.3f, 0.5f, 0.6f, 1}};
  DrawFrame frame;
};

// A lattice of parts, seen so that 70 mm of each are about `pixels`.
inline void lattice(Drawing& d, const std::vector<MeshPtr>& all, int side, double pixels, bool perspective) {
  for (int i = 0; i < side * side; ++i) {
    DrawItem item;
    item.mesh = all[static_cast<std::size_t>(i) % all.size()];
    item.world = matrix_of({{120.0 * (i % side), 0, 120.0 * (i / side)}, {10.0 * i, 7.0 * i, 3.0 * i}});
    item.colours = &d.colours;
    d.items.push_back(item);
  }
  Camera camera = turned_to({}, Side::Front);
  camera.perspective = perspective;
  camera.turn = 20, camera.tilt = 15;
  const double middle = 60.0 * (side - 1);
  camera.target = {middle, 0, middle};
  camera.distance = 1000;
  const View once = view_of(camera, kWidth, kHeight);
  camera.distance *= once.pixels_per_mm(camera.target) * 70 / pixels;
  d.frame.view = view_of(camera, kWidth, kHeight);
  d.frame.items = d.items;
  d.frame.theme = day_theme();
  d.frame.grid.shown = false;
  d.frame.samples = 4;
}

// How many pixels of one picture show what no pixel within `reach` shows in the other; what is off by less comes to no
// more.
struct Compared {
  std::size_t other = 0, painted = 0;
};
inline Compared compared(const std::vector<unsigned char>& a, const std::vector<unsigned char>& b, int reach = 1) {
  constexpr int kTone = 40;
  Compared all;
  const auto at = [](const std::vector<unsigned char>& p, int x, int y, int c) {
    return int(p[static_cast<std::size_t>((y * kWidth + x) * 4 + c)]);
  };
  for (int y = reach; y + reach < kHeight; ++y)
    for (int x = reach; x + reach < kWidth; ++x) {
      int best = 255;
      for (int dy = -reach; dy <= reach; ++dy)
        for (int dx = -reach; dx <= reach; ++dx) {
          int worst = 0;
          for (int c = 0; c < 3; ++c) worst = std::max(worst, std::abs(at(a, x, y, c) - at(b, x + dx, y + dy, c)));
          best = std::min(best, worst);
        }
      all.painted += std::abs(at(b, x, y, 0) - at(b, x, 0, 0)) > 8;
      all.other += best > kTone;
    }
  return all;
}

}  // namespace tack::test
