// Edges that cannot be told apart are drawn as their tone where too many would be drawn.
#include <functional>

#include "tests/app/drawing.h"

using namespace tack;
using namespace tack::test;

namespace {

// The mean colour of squares of `side` pixels, one behind another.
std::vector<std::array<double, 3>> means(const std::vector<unsigned char>& picture, int side) {
  std::vector<std::array<double, 3>> all;
  for (int top = 0; top + side <= kHeight; top += side)
    for (int left = 0; left + side <= kWidth; left += side) {
      std::array<double, 3> sum{};
      for (int y = top; y < top + side; ++y)
        for (int x = left; x < left + side; ++x)
          for (std::size_t c = 0; c < 3; ++c)
            sum[c] += picture[static_cast<std::size_t>(y * kWidth + x) * 4 + c] / double(side * side);
      all.push_back(sum);
    }
  return all;
}

// How far the brightness of such squares is apart, in the mean over those that are painted: first with its sign.
std::pair<double, double> apart(const std::vector<unsigned char>& a, const std::vector<unsigned char>& b,
                                const std::vector<unsigned char>& empty) {
  constexpr int kSide = 32;
  const auto first = means(a, kSide), second = means(b, kSide), none = means(empty, kSide);
  double sum = 0, size = 0;
  int count = 0;
  for (std::size_t i = 0; i < first.size(); ++i) {
    const auto grey = [](const std::array<double, 3>& c) { return (c[0] + c[1] + c[2]) / 3; };
    if (std::abs(grey(second[i]) - grey(none[i])) < 8) continue;
    sum += grey(first[i]) - grey(second[i]);
    size += std::abs(grey(first[i]) - grey(second[i]));
    ++count;
  }
  REQUIRE(count > 20);
  return {sum / count, size / count};
}

}  // namespace

TEST_CASE("edges that are too close to be told apart give way to their tone, and only where too many are drawn",
          "[levels]") {
  // Twelve edges and six faces.
  const MeshPtr cube = *make_mesh(mesh_data_of(usual_shape(ShapeKind::Box), {}));
  const Vec3 side = cube->box().size();
  const double edges = 4 * (side.x + side.y + side.z), area = 2 * (side.x * side.y + side.y * side.z + side.z * side.x);
  CHECK(edge_density_of(*cube) == Approx(std::acos(-1.0) / 2 * edges / area));
  const Easel easel;
  Renderer& renderer = *easel.renderer;
  // Balls and rings of few sides, every one of whose edges is a sharp one; small plates, mirrored and skewed.
  const std::vector<MeshPtr> all{shape_mesh(ShapeKind::Sphere, 10), shape_mesh(ShapeKind::Torus, 10),
                                 shape_mesh(ShapeKind::Tube, 14), cube};
  for (const MeshPtr& mesh : all) renderer.upload(mesh, arrays_of(mesh));
  for (const double pixels : {5.0, 8.0, 12.0})
    for (const bool picked : {false, true}) {
      Drawing d;
      lattice(d, all, 24, pixels, true);
      for (std::size_t i = 0; i < d.items.size(); ++i) {
        d.items[i].picked = picked;
        if (i % 3 == 0) d.items[i].world.linear.column[1] = d.items[i].world.linear.column[1] * -1.0;
        if (i % 5 == 0) d.items[i].world.linear.column[2] += d.items[i].world.linear.column[0] * 0.4;
      }
      d.frame.items = {};
      const auto empty = renderer.draw_to_memory(d.frame);
      d.frame.items = d.items;
      d.frame.off = 0;
      const auto exact = renderer.draw_to_memory(d.frame);
      REQUIRE(renderer.drawn().edges > 10'000);
      // Not while no more is drawn than may be.
      d.frame.toned_below = 1.5;
      d.frame.most_off = 0.25;
      d.frame.most = 1'000'000;
      CHECK(renderer.draw_to_memory(d.frame) == exact);
      d.frame.most = 1000;
      const auto toned = renderer.draw_to_memory(d.frame);
      const std::size_t left = renderer.drawn().edges;
      // Without the tone the faces alone are far too bright.
      d.frame.theme.edge.a = d.frame.theme.outline.a = 0;
      const auto faces = renderer.draw_to_memory(d.frame);
      const auto [bias, off] = apart(toned, exact, empty);
      const auto [bare_bias, bare_off] = apart(faces, exact, empty);
      INFO(pixels << " pixels, " << left << " edges left, off by " << off << ", bias " << bias << "; without tone "
                  << bare_off);
      CHECK(left < 5000);
      // Lines round a part stand half a pixel beyond it, which the tone of its faces does not: of a few pixels that is
      // much.
      CHECK(std::abs(bias) < 60 / pixels);
      CHECK(off < 60 / pixels);
      CHECK(bare_off > (pixels < 6 ? 1.2 : 1.5) * off);
    }
}

TEST_CASE("what is seen through, edges alone, ghosts and parts that are not small keep their edges", "[levels]") {
  const Easel easel;
  Renderer& renderer = *easel.renderer;
  const std::vector<MeshPtr> all{shape_mesh(ShapeKind::Sphere, 10)};
  renderer.upload(all[0], arrays_of(all[0]));
  // The edges that are drawn without a tone, and with one from so many pixels between them.
  const auto edges = [&](double pixels, const std::function<void(Drawing&)>& change) {
    Drawing d;
    lattice(d, all, 8, pixels * 70 / all[0]->box().size().x, true);
    change(d);
    d.frame.items = d.items;
    d.frame.off = 0;
    d.frame.most = 1;
    d.frame.most_off = 0.25;
    renderer.draw_to_memory(d.frame);
    const std::size_t without = renderer.drawn().edges;
    REQUIRE(without > 0);
    d.frame.toned_below = 30;
    renderer.draw_to_memory(d.frame);
    return std::pair(without, renderer.drawn().edges);
  };
  const auto with_style = [](DrawStyle style) { return [style](Drawing& d) { d.frame.style = style; }; };
  const auto of_each = [](bool DrawItem::*flag) {
    return [flag](Drawing& d) {
      for (DrawItem& item : d.items) item.*flag = true;
    };
  };
  const auto [small, toned] = edges(20, [](Drawing&) {});
  CHECK(toned == 0);
  const auto [large, kept] = edges(90, [](Drawing&) {});
  CHECK(kept == large);
  for (const DrawStyle style : {DrawStyle::SeeThrough, DrawStyle::EdgesOnly}) {
    const auto [without, with] = edges(20, with_style(style));
    CHECK(with == without);
  }
  for (const auto flag : {&DrawItem::see_through, &DrawItem::ghost}) {
    const auto [without, with] = edges(20, of_each(flag));
    CHECK(with == without);
  }
  CHECK(edges(20, of_each(&DrawItem::picked)).second == 0);
}
