#include "core/files/gltf_shown.h"

#include <fmt/format.h>

#include "core/files/gltf_figures.h"
#include "core/files/gltf_node.h"

namespace tack {
namespace {

std::string weights_key(const std::vector<double>& weights) {
  std::string key;
  for (const double w : weights) key += fmt::format("{:a},", w);
  return key;
}

}  // namespace

void ShownMeshes::name_materials(const std::vector<NamedColour>& colours) {
  colour_of_.assign(json_.contains("materials") ? json_["materials"].size() : 0, -1);
  for (std::size_t i = 0; i < colours.size(); ++i)
    for (const int m : colours[i].materials) colour_of_[static_cast<std::size_t>(m)] = static_cast<int>(i);
}

Result<const ShownMeshes::Shown*> ShownMeshes::of(const Json& node, bool in_metres, bool bends) {
  const auto number = static_cast<std::size_t>(*unsigned_at(node, "mesh", 0));
  const Json& mesh = json_["meshes"][number];
  const std::vector<double> weights = morph_weights(node, mesh);
  const std::string how = weights_key(weights) + (in_metres ? "m" : "") + (bends ? "j" : "");
  const auto [known, fresh] = shown_.try_emplace({number, how});
  Shown& shown = known->second;
  if (!fresh) return &shown;
  auto read = read_gltf_mesh(json_, data_, number, weights, bends);
  if (shown_.size() % 64 == 0)
    around_.done(std::min(1.0, static_cast<double>(shown_.size()) / static_cast<double>(count_of(json_, Ref::Mesh))));
  if (!read) return tl::unexpected(read.error());
  shown.colours = std::move(read->colours);
  for (int& m : read->materials)
    m = m >= 0 && static_cast<std::size_t>(m) < colour_of_.size() ? colour_of_[static_cast<std::size_t>(m)] : -1;
  shown.named = std::move(read->materials);
  if (read->data.positions.empty()) return &shown;
  Json geometry = mesh["primitives"];
  for (Json& p : geometry) p.erase("material");
  if (mesh.contains("extensions") && mesh["extensions"].contains("TACKPOINT_mesh"))
    geometry.push_back(mesh["extensions"]["TACKPOINT_mesh"]);
  const auto [twin, new_mesh] = by_geometry_.try_emplace(geometry.dump() + how, static_cast<int>(meshes_.size()));
  shown.mesh = twin->second;
  if (new_mesh) {
    if (in_metres) {
      for (Vec3& p : read->data.positions) p = to_millimetres(p);
      for (auto& n : read->data.normals) n = {n[0], -n[2], n[1]};
    }
    meshes_.push_back(spans_of(std::move(read->data)));
    read->data = {};
  }
  if (bends) shown.bound = std::make_shared<const GltfMesh>(std::move(*read));
  return &shown;
}

bool ShownMeshes::shows(const Json& node) const {
  const Json& mesh = json_["meshes"][static_cast<std::size_t>(*unsigned_at(node, "mesh", 0))];
  if (!mesh.contains("primitives") || !mesh["primitives"].is_array()) return false;
  return std::any_of(mesh["primitives"].begin(), mesh["primitives"].end(), has_positions);
}

Result<DeliveredSkin> read_skin(const Json& json, GltfData& data, std::size_t number, const GltfMesh& bound) {
  const Json& skin = json["skins"][number];
  const auto joints = node_list(json, skin, "joints");
  if (!joints) return tl::unexpected(joints.error());
  DeliveredSkin s;
  s.carried = static_cast<int>(number);
  s.first = bound.first;
  s.influences = bound.influences;
  for (const BoundShape::Influence& i : s.influences)
    if (i.joint >= joints->size())
      return fail(fmt::format("A vertex names joint {}, but there are {}.", i.joint, joints->size()));
  s.inverse_bind.resize(joints->size());
  if (skin.contains("inverseBindMatrices")) {
    const auto accessor = unsigned_at(skin, "inverseBindMatrices", kNoNumber);
    const auto numbers = accessor ? data.numbers(*accessor, 16) : fail("A skin's matrices are damaged.");
    if (!numbers) return tl::unexpected(numbers.error());
    if (numbers->size() < joints->size() * 16) return fail("A skin has fewer matrices than joints.");
    for (std::size_t j = 0; j < joints->size(); ++j) {
      Affine& bind = s.inverse_bind[j];
      for (std::size_t c = 0; c < 4; ++c)
        for (int r = 0; r < 3; ++r)
          (c < 3 ? bind.linear.column[c] : bind.translation)[r] =
              (*numbers)[j * 16 + c * 4 + static_cast<std::size_t>(r)];
    }
  }
  for (const int joint : *joints) s.joints.push_back(static_cast<std::uint32_t>(joint));
  return s;
}

}  // namespace tack
