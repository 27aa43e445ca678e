#include "core/files/gltf_node.h"

#include <fmt/format.h>

#include "core/math/degrees.h"
#include "core/math/split.h"

namespace tack {
namespace {

template <std::size_t N>
std::optional<std::array<double, N>> numbers(const Json& node, const char* key) {
  if (!node.contains(key) || !node[key].is_array() || node[key].size() != N) return std::nullopt;
  std::array<double, N> values{};
  for (std::size_t i = 0; i < N; ++i) {
    if (!node[key][i].is_number()) return std::nullopt;
    values[i] = node[key][i].template get<double>();
    if (!std::isfinite(values[i])) return std::nullopt;
  }
  return values;
}

}  // namespace

Vec3 to_millimetres(const Vec3& m) { return {m.x * 1000, -m.z * 1000, m.y * 1000}; }

Affine metres_to_millimetres() { return {{{Vec3{1000, 0, 0}, Vec3{0, 0, 1000}, Vec3{0, -1000, 0}}}, {}}; }

bool has_matrix(const Json& node) { return numbers<16>(node, "matrix").has_value(); }

Affine node_matrix(const Json& node) {
  if (const auto m = numbers<16>(node, "matrix"))
    return {{{Vec3{(*m)[0], (*m)[1], (*m)[2]}, Vec3{(*m)[4], (*m)[5], (*m)[6]}, Vec3{(*m)[8], (*m)[9], (*m)[10]}}},
            {(*m)[12], (*m)[13], (*m)[14]}};
  Affine a;
  const auto r = numbers<4>(node, "rotation");
  const auto s = numbers<3>(node, "scale"), t = numbers<3>(node, "translation");
  if (r) a.linear = rotation_from_quaternion(*r);
  if (s) a.linear = a.linear * Mat3::diagonal({(*s)[0], (*s)[1], (*s)[2]});
  if (t) a.translation = {(*t)[0], (*t)[1], (*t)[2]};
  return a;
}

Result<Placement> node_placement(const Json& node) {
  if (has_matrix(node)) return placement_from(node_matrix(node));
  Placement p;
  if (const auto t = numbers<3>(node, "translation")) p.position = {(*t)[0], (*t)[1], (*t)[2]};
  if (const auto s = numbers<3>(node, "scale")) p.scale = {(*s)[0], (*s)[1], (*s)[2]};
  if (const auto r = numbers<4>(node, "rotation")) p.rotation = degrees_from_rotation(rotation_from_quaternion(*r));
  return p;
}

Result<void> check_node(const Json& node) {
  const auto bad = [&](const char* key) { return fail(fmt::format("The {} of a node is damaged.", key)); };
  if (node.contains("translation") && !numbers<3>(node, "translation")) return bad("translation");
  if (node.contains("rotation") && !numbers<4>(node, "rotation")) return bad("rotation");
  if (node.contains("scale") && !numbers<3>(node, "scale")) return bad("scale");
  if (!node.contains("matrix")) return {};
  const auto m = numbers<16>(node, "matrix");
  if (!m) return bad("matrix");
  if ((*m)[3] != 0 || (*m)[7] != 0 || (*m)[11] != 0 || (*m)[15] != 1)
    return fail("The matrix of a node is a projection, which places nothing.");
  return {};
}

Json affine_json(const Affine& a) {
  Json list = Json::array();
  for (const Vec3& column : {a.linear.column[0], a.linear.column[1], a.linear.column[2], a.translation})
    for (int i = 0; i < 3; ++i) list.push_back(column[i] + 0.0);
  return list;
}

std::optional<Affine> affine_from(const Json& json) {
  if (!json.is_array() || json.size() != 12) return std::nullopt;
  Affine a;
  for (std::size_t i = 0; i < 12; ++i) {
    if (!json[i].is_number() || !std::isfinite(json[i].get<double>())) return std::nullopt;
    Vec3& column = i < 9 ? a.linear.column[i / 3] : a.translation;
    column[static_cast<int>(i % 3)] = json[i].get<double>();
  }
  return a;
}

void write_transform(Json& node, const Vec3& t, const Mat3& rotation, const Vec3& s) {
  if (t != Vec3{}) node["translation"] = vec_json(t);
  if (rotation != Mat3{}) {
    const auto q = quaternion_from_rotation(rotation);
    node["rotation"] = Json::array({q[0], q[1], q[2], q[3]});
  }
  if (s != Vec3{1, 1, 1}) node["scale"] = vec_json(s);
}

Json vec_json(const Vec3& v) { return Json::array({v.x + 0.0, v.y + 0.0, v.z + 0.0}); }

std::optional<Vec3> vec_from(const Json& json) {
  if (!json.is_array() || json.size() != 3) return std::nullopt;
  Vec3 v;
  for (int i = 0; i < 3; ++i) {
    if (!json[static_cast<std::size_t>(i)].is_number()) return std::nullopt;
    v[i] = json[static_cast<std::size_t>(i)].get<double>();
  }
  return is_finite(v) ? std::optional(v) : std::nullopt;
}

}  // namespace tack
