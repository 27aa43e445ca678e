// Files over many odd scenes, held against node products and conversions of their own, in long double.
#include "core/files/document.h"
#include "core/files/export.h"
#include "core/files/glb.h"
#include "core/files/steps.h"
#include "tests/core/second_method.h"

using namespace tack;
using namespace tack::test;

namespace {

// From a node's translation, rotation (quaternion) and scale, or its matrix: as the standard has it.
LongAffine node_of(const Json& node) {
  LongAffine a;
  if (node.contains("matrix")) {
    const auto m = [&](int i) { return static_cast<Real>(node["matrix"][static_cast<std::size_t>(i)].get<double>()); };
    return {{m(0), m(1), m(2)}, {m(4), m(5), m(6)}, {m(8), m(9), m(10)}, {m(12), m(13), m(14)}};
  }
  const auto list = [&](const char* key, std::vector<double> otherwise) {
    return node.contains(key) ? node[key].get<std::vector<double>>() : otherwise;
  };
  const auto q = list("rotation", {0, 0, 0, 1}), s = list("scale", {1, 1, 1}), t = list("translation", {0, 0, 0});
  const Real norm = Real(q[0]) * q[0] + Real(q[1]) * q[1] + Real(q[2]) * q[2] + Real(q[3]) * q[3], k = 2 / norm;
  const Real x = q[0], y = q[1], z = q[2], w = q[3];
  a.x = LongVec{1 - k * (y * y + z * z), k * (x * y + w * z), k * (x * z - w * y)} * s[0];
  a.y = LongVec{k * (x * y - w * z), 1 - k * (x * x + z * z), k * (y * z + w * x)} * s[1];
  a.z = LongVec{k * (x * z + w * y), k * (y * z - w * x), 1 - k * (x * x + y * y)} * s[2];
  a.shift = {t[0], t[1], t[2]};
  return a;
}

// Metres, Y up, as millimetres, Z up.
LongVec ours(const LongVec& p) { return LongVec{p.x, -p.z, p.y} * 1000; }

// A document of one triangle and these nodes.
Bytes with_nodes(const Json& nodes, const Json& roots) {
  const float points[] = {0, 0, 0, 0.1f, 0, 0, 0, 0.2f, 0.05f};
  Bytes binary;
  for (const float v : points) append(binary, v);
  const Json json{{"asset", {{"version", "2.0"}}},
                  {"scene", 0},
                  {"scenes", Json::array({{{"nodes", roots}}})},
                  {"nodes", nodes},
                  {"buffers", Json::array({{{"byteLength", 36}}})},
                  {"bufferViews", Json::array({{{"buffer", 0}, {"byteOffset", 0}, {"byteLength", 36}}})},
                  {"accessors", Json::array({{{"bufferView", 0},
                                              {"componentType", 5126},
                                              {"count", 3},
                                              {"type", "VEC3"},
                                              {"min", {0, 0, 0}},
                                              {"max", {0.1f, 0.2f, 0.05f}}}})},
                  {"meshes", Json::array({{{"primitives", Json::array({{{"attributes", {{"POSITION", 0}}}}})}}})}};
  return *write_glb(json, binary);
}

Document document_in(const Bytes& bytes, const char* name = "sweep.glb", const ImportOptions& options = {}) {
  const auto delivery = read_delivery(bytes, name, options);
  INFO((delivery ? std::string() : sentence(delivery.error())));
  REQUIRE(delivery);
  auto document = document_of(*delivery);
  REQUIRE(document);
  return *std::move(document);
}

// The scene of odd parts that a file can hold.
Scene some_scene(Chance& chance) {
  Odd odd = odd_scene(chance, 4);
  for (const PartId id : odd.scene.in_tree_order()) {
    Part part = odd.scene.part(id);
    if (part.mesh) part.colours.resize(1);
    odd.scene.replace(id, std::move(part));
  }
  return odd.scene;
}

}  // namespace

TEST_CASE("trees of glTF nodes stand where the product of their matrices puts them", "[sweep]") {
  Chance chance(1501);
  Cases row("import of glTF trees: every vertex");
  int nodes_read = 0;
  for (int i = 0; i < 300; ++i) {
    Json nodes = Json::array();
    std::vector<int> parent;
    const int count = chance.whole(4, 16);
    for (int k = 0; k < count; ++k) {
      Json node{{"name", fmt::format("N{}", nodes.size())}, {"mesh", 0}};
      const Vec3 axis = chance.direction(), t = chance.point(2);
      const auto [s, c] = long_sin_cos(chance.between(-180, 180));
      const auto half = [&, c = c, s = s] {
        const Real cosine = std::sqrt(std::max(Real(0), (1 + c) / 2)),
                   sine = s < 0 ? -std::sqrt(1 - cosine * cosine) : std::sqrt(1 - cosine * cosine);
        return std::pair(sine, cosine);
      }();
      const auto factor = [&] { return chance.between(0.3, 3) * (chance.whole(0, 4) == 0 ? -1 : 1); };
      if (chance.whole(0, 3) == 0) {
        Json m = Json::array();
        const Mat3 any{{chance.direction() * factor(), chance.direction() * factor(), chance.direction() * factor()}};
        if (std::abs(determinant(any)) < 0.05) continue;
        for (const Vec3& column : any.column)
          for (const double v : {column.x, column.y, column.z, 0.0}) m.push_back(v);
        for (const double v : {t.x, t.y, t.z, 1.0}) m.push_back(v);
        node["matrix"] = m;
      } else {
        node["translation"] = {t.x, t.y, t.z};
        node["rotation"] = {double(axis.x * half.first), double(axis.y * half.first), double(axis.z * half.first),
                            double(half.second)};
        node["scale"] = {factor(), factor(), factor()};
      }
      const int number = static_cast<int>(nodes.size());
      parent.push_back(number == 0 || chance.whole(0, 3) == 0 ? -1 : chance.whole(0, number - 1));
      nodes.push_back(node);
    }
    Json roots = Json::array();
    for (std::size_t k = 0; k < parent.size(); ++k) {
      if (parent[k] < 0)
        roots.push_back(k);
      else
        nodes[static_cast<std::size_t>(parent[k])]["children"].push_back(k);
    }
    const Document document = document_in(with_nodes(nodes, roots));
    for (const PartId id : document.scene.in_tree_order()) {
      const auto number = static_cast<std::size_t>(std::stoi(document.scene.part(id).name.substr(1)));
      LongAffine world = node_of(nodes[number]);
      for (int up = parent[number]; up >= 0; up = parent[static_cast<std::size_t>(up)])
        world = node_of(nodes[static_cast<std::size_t>(up)]) * world;
      const LongVec points[] = {{0, 0, 0}, {0.1f, 0, 0}, {0, 0.2f, 0.05f}};
      for (std::size_t v = 0; v < 3; ++v)
        row.add(share_of_bound(document.scene, id, long_vertex(document.scene, id, v), ours(world * points[v])));
      ++nodes_read;
    }
  }
  CHECK(nodes_read > 2000);
}

TEST_CASE("documents come back to the bit, and any viewer's node product puts their vertices where they are",
          "[sweep]") {
  Chance chance(1502);
  Cases viewer("documents: a viewer's node product");
  for (int i = 0; i < 250; ++i) {
    const Scene scene = some_scene(chance);
    const auto bytes = write_document(scene, {});
    REQUIRE(bytes);
    const Document read = document_in(*bytes);
    const auto ours_ids = scene.in_tree_order(), theirs = read.scene.in_tree_order();
    REQUIRE(ours_ids.size() == theirs.size());
    for (std::size_t k = 0; k < theirs.size(); ++k)
      CHECK(scene.part(ours_ids[k]).placement == read.scene.part(theirs[k]).placement);
    const auto again = write_document(read.scene, read.settings);
    REQUIRE(again);
    CHECK(*again == *bytes);
    // A viewer knows nothing of our extensions: nodes, matrices, positions.
    const auto glb = read_glb(*bytes);
    REQUIRE(glb);
    const Json& nodes = glb->json["nodes"];
    const std::function<void(std::size_t, const LongAffine&)> walk = [&](std::size_t number, const LongAffine& above) {
      const Json& node = nodes[number];
      const LongAffine world = above * node_of(node);
      for (const Json& child : node.value("children", Json::array())) walk(child.get<std::size_t>(), world);
      if (!node.contains("mesh")) return;
      const Json& primitive = glb->json["meshes"][node["mesh"].get<std::size_t>()]["primitives"][0];
      const Json& accessor = glb->json["accessors"][primitive["attributes"]["POSITION"].get<std::size_t>()];
      const Json& view = glb->json["bufferViews"][accessor["bufferView"].get<std::size_t>()];
      const std::size_t at = view.value("byteOffset", std::size_t{0}) + accessor.value("byteOffset", std::size_t{0});
      LongVec p[1];
      p[0] = {read_at<float>(glb->binary, at + 12 * 7), read_at<float>(glb->binary, at + 12 * 7 + 4),
              read_at<float>(glb->binary, at + 12 * 7 + 8)};
      const LongVec there = ours(world * p[0]);
      // One of the parts has its vertex 7 there, but for what a float leaves of a coordinate.
      double nearest = 1e300;
      for (const PartId id : scene.in_tree_order()) {
        if (!scene.part(id).mesh) continue;
        const LongAffine w = long_world(scene, id);
        const LongVec mine = long_vertex(scene, id, 7);
        const Vec3 size = scene.part(id).mesh->box().size();
        const Real extent = length(w.x) * size.x + length(w.y) * size.y + length(w.z) * size.z;
        nearest = std::min(nearest,
                           static_cast<double>(length(mine - there) / (1e-7L * extent + 1e-9L * (length(mine) + 1))));
      }
      viewer.add(nearest);
    };
    for (const Json& root : glb->json["scenes"][0]["nodes"]) walk(root.get<std::size_t>(), {});
  }
}

TEST_CASE("OBJ, PLY and STL go out and come back in every unit, with either axis up", "[sweep]") {
  Chance chance(1503);
  Cases exact("convert OBJ and PLY there and back"), floats("convert STL there and back, in floats");
  for (int i = 0; i < 180; ++i) {
    Scene scene;
    scene.add(part_of("Part", cube(chance.between(1, 100)), odd_placement(chance, 300)));
    const LengthUnit unit = kLengthUnits[static_cast<std::size_t>(i % 5)];
    const UpAxis up = i % 2 == 0 ? UpAxis::Y : UpAxis::Z;
    const ExportOptions out{unit.millimetres, up};
    ImportOptions in;
    in.unit = unit.millimetres;
    in.up = up;
    const int kind = i % 3;
    const auto bytes = kind == 0 ? write_obj(scene, out) : kind == 1 ? write_ply(scene, out) : write_stl(scene, out);
    REQUIRE(bytes);
    const char* const name = kind == 0 ? "a.obj" : kind == 1 ? "a.ply" : "a.stl";
    const Document back = document_in(*bytes, name, in);
    const PartId id = back.scene.roots().front();
    // STL says nothing of vertices: each of ours is one of its corners.
    for (std::size_t v = 0; v < 8; ++v) {
      const LongVec should = long_vertex(scene, 1, v);
      double nearest = 1e300;
      for (std::size_t k = 0; k < back.scene.part(id).mesh->positions().size(); ++k)
        nearest = std::min(nearest, share_of_bound(back.scene, id, long_vertex(back.scene, id, k), should));
      (kind == 2 ? floats : exact).add(kind == 2 ? nearest / 1e3 : nearest);
    }
    // A second time round nothing changes.
    const auto again = kind == 0   ? write_obj(back.scene, out)
                       : kind == 1 ? write_ply(back.scene, out)
                                   : write_stl(back.scene, out);
    REQUIRE(again);
    const Document twice = document_in(*again, name, in);
    if (kind != 2)
      CHECK(std::equal(twice.scene.part(1).mesh->positions().begin(), twice.scene.part(1).mesh->positions().end(),
                       back.scene.part(1).mesh->positions().begin()));
  }
}

TEST_CASE("what is brought in stands with the middle of its bottom where it was put", "[sweep]") {
  Chance chance(1504);
  Cases row("bring: at");
  for (int i = 0; i < 80; ++i) {
    const Scene from = some_scene(chance);
    const auto delivery = read_delivery(*write_document(from, {}), "from.glb", {});
    REQUIRE(delivery);
    Scene into = some_scene(chance);
    auto bring = bring_of(*delivery, "from.glb", into);
    REQUIRE(bring);
    bring->at = chance.point(500);
    const PartId first = into.id_limit();
    const Scene after = tack::test::done(*bring, into);
    LongVec low{1e300L, 1e300L, 1e300L}, high{-1e300L, -1e300L, -1e300L};
    PartId some = kNoPart;
    for (const PartId id : after.in_tree_order()) {
      if (id < first || !after.part(id).mesh) continue;
      some = id;
      for (std::size_t v = 0; v < 8; ++v) {
        const LongVec p = long_vertex(after, id, v);
        low = {std::min(low.x, p.x), std::min(low.y, p.y), std::min(low.z, p.z)};
        high = {std::max(high.x, p.x), std::max(high.y, p.y), std::max(high.z, p.z)};
      }
    }
    const LongVec middle{(low.x + high.x) / 2, (low.y + high.y) / 2, low.z};
    // All of it is the body that is measured.
    const Real extent = length(high - low);
    row.add(static_cast<double>(length(middle - longer(*bring->at)) / (1e-9L * (extent + length(middle) + 1))));
    CHECK(some != kNoPart);
  }
}

TEST_CASE("steps as one list leave what they leave one by one, to the bit", "[sweep]") {
  Chance chance(1505);
  for (int i = 0; i < 80; ++i) {
    const Scene scene = some_scene(chance);
    Json list = Json::array();
    const auto number = [&] { return chance.between(-50, 50); };
    for (int k = 0; k < 10; ++k) {
      const char* const part = k % 2 == 0 ? "Moving" : "Third";
      switch (chance.whole(0, 4)) {
        case 0:
          list.push_back(
              {{"verb", "move"}, {"what", {part}}, {"by", {number(), number(), number()}}, {"axes", "local"}});
          break;
        case 1: list.push_back({{"verb", "rotate"}, {"what", {part}}, {"round", "y"}, {"angle", number()}}); break;
        case 2:
          list.push_back(
              {{"verb", "scale"}, {"what", {part}}, {"factor", {1.25, nullptr, 0.8}}, {"hold", "box 0,0,0"}});
          break;
        case 3:
          list.push_back({{"verb", "meet"},
                          {"pairs", Json::array({{{"from", "\"Moving\" vertex 1"}, {"to", "\"Still\" vertex 2"}}})},
                          {"facing", "facing"}});
          break;
        default:
          list.push_back({{"verb", "place"}, {"what", {part}}, {"position", {number(), nullptr, "it + 1"}}});
          break;
      }
    }
    Journal whole(scene);
    const auto outcomes = run_steps(whole, list, {});
    Scene single = scene;
    for (const Json& step : list) {
      // One by one, each from a document that was written and read.
      Journal one(document_in(*write_document(single, {})).scene);
      const auto outcome = run_steps(one, Json::array({step}), {});
      if (outcome.back().problem) break;
      single = one.scene();
    }
    const auto a = whole.scene().in_tree_order(), b = single.in_tree_order();
    REQUIRE(a.size() == b.size());
    for (std::size_t k = 0; k < a.size(); ++k) CHECK(whole.scene().part(a[k]).placement == single.part(b[k]).placement);
    CHECK(*write_obj(whole.scene(), {}) == *write_obj(single, {}));
  }
}
