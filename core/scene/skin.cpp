#include "core/scene/skin.h"

#include <fmt/format.h>
#include <tbb/parallel_for.h>

#include <algorithm>
#include <map>
#include <unordered_map>

#include "core/printable.h"
#include "core/scene/scene.h"

namespace tack {
namespace {

bool nearly_equal(const Affine& a, const Affine& b) {
  constexpr double kRounding = 1e-12;
  double size = 0;
  for (const Vec3& column : b.linear.column) size = std::max(size, largest_component(column));
  for (int c = 0; c < 3; ++c)
    if (!(largest_component(a.linear.column[c] - b.linear.column[c]) <= kRounding * size)) return false;
  return largest_component(a.translation - b.translation) <= kRounding * (size + largest_component(b.translation));
}

bool nearly_equal(const std::vector<Affine>& a, const std::vector<Affine>& b) {
  return a.size() == b.size() &&
         std::equal(a.begin(), a.end(), b.begin(), [](const Affine& x, const Affine& y) { return nearly_equal(x, y); });
}

// The parts from `id` up to the top.
std::vector<PartId> chain_of(const Scene& scene, PartId id) {
  std::vector<PartId> chain;
  for (; id != kNoPart; id = scene.part(id).parent) chain.push_back(id);
  return chain;
}

Result<MeshPtr> bent(const Mesh& mesh, const BoundShape& shape, const std::vector<Affine>& pose) {
  MeshData data;
  data.positions.resize(shape.positions.size());
  data.normals.resize(shape.normals.size());
  data.triangles.assign(mesh.triangles().begin(), mesh.triangles().end());
  data.primitives.assign(mesh.primitives().begin(), mesh.primitives().end());
  tbb::parallel_for(tbb::blocked_range<std::size_t>(0, shape.positions.size(), 4096), [&](const auto& range) {
    for (std::size_t v = range.begin(); v < range.end(); ++v) {
      Vec3 position;
      Mat3 linear{{Vec3{}, Vec3{}, Vec3{}}};
      for (std::uint32_t i = shape.first[v]; i < shape.first[v + 1]; ++i) {
        const BoundShape::Influence& by = shape.influences[i];
        const double weight = by.weight;
        position += (pose[by.joint] * shape.positions[v]) * weight;
        for (int c = 0; c < 3; ++c) linear.column[c] += pose[by.joint].linear.column[c] * weight;
      }
      data.positions[v] = position;
      if (data.normals.empty()) continue;
      const auto& n = shape.normals[v];
      const Vec3 turned = normalized(normal_map(linear) * Vec3{n[0], n[1], n[2]});
      data.normals[v] = {static_cast<float>(turned.x), static_cast<float>(turned.y), static_cast<float>(turned.z)};
    }
  });
  return make_mesh(std::move(data));
}

std::string quoted(const Part& part) { return "\"" + printable(part.name) + "\""; }

}  // namespace

std::optional<std::vector<Affine>> pose_of(const Scene& scene, PartId id) {
  const Part& part = scene.part(id);
  const std::vector<PartId> above = chain_of(scene, id);
  std::unordered_map<PartId, std::size_t> place_above;
  for (std::size_t i = 0; i < above.size(); ++i) place_above[above[i]] = i;
  // For each part on the way to a joint: how much of the part's own chain lies below what the two have in common, and
  // from there down to it. Joints share most of their ways.
  struct Way {
    std::size_t below = 0;
    Affine down;
  };
  std::unordered_map<PartId, Way> ways;
  std::map<std::size_t, std::optional<Affine>> back;
  std::vector<Affine> pose;
  pose.reserve(part.skin->joints.size());
  for (std::size_t j = 0; j < part.skin->joints.size(); ++j) {
    if (!scene.contains(part.skin->joints[j])) return std::nullopt;
    std::vector<PartId> open;  // those whose ways are not known yet, from the joint up
    Way way{above.size(), {}};
    for (PartId up = part.skin->joints[j];; up = scene.part(up).parent) {
      if (up == kNoPart) break;
      if (const auto met = place_above.find(up); met != place_above.end()) {
        way = {met->second, {}};
        break;
      }
      if (const auto known = ways.find(up); known != ways.end()) {
        way = known->second;
        break;
      }
      open.push_back(up);
    }
    for (auto next = open.rbegin(); next != open.rend(); ++next) {
      way.down = way.down * scene.part(*next).local;
      ways[*next] = way;
    }
    Affine down = way.down;
    if (way.below > 0) {
      const auto [known, fresh] = back.try_emplace(way.below);
      if (fresh) {
        Affine whole;
        for (std::size_t i = 0; i < way.below; ++i) whole = scene.part(above[i]).local * whole;
        known->second = inverse(whole);
      }
      if (!known->second) return std::nullopt;
      down = *known->second * down;
    }
    // What verbs have taken into the joint's frame is no part of what glTF calls the joint.
    pose.push_back(down * scene.part(part.skin->joints[j]).source->baked * part.skin->shape->inverse_bind[j]);
  }
  return pose;
}

PartId carrier_of_joints(const Scene& scene, PartId id) {
  const Part& part = scene.part(id);
  if (!part.skin) return kNoPart;
  std::unordered_map<PartId, std::size_t> joints_within;
  std::size_t joints = 0;
  for (const PartId joint : part.skin->joints) {
    if (!scene.contains(joint)) continue;
    ++joints;
    for (PartId up = joint; up != kNoPart; up = scene.part(up).parent) ++joints_within[up];
  }
  for (const PartId from : {id, part.skin->joints.front()})
    for (PartId up = from; up != kNoPart && scene.contains(up); up = scene.part(up).parent)
      if (joints_within[up] == joints) return up;
  return kNoPart;
}

Result<void> settle_skins(const Scene& before, Scene& after) {
  const std::vector<PartId> skinned = after.skinned();
  for (const PartId id : skinned) {
    const Part* part = after.find(id);
    if (!part || !part->skin) continue;
    for (const PartId joint : part->skin->joints)
      if (!after.contains(joint)) {
        const Part* gone = before.find(joint);
        return fail(fmt::format("{} is a joint of {}, which stands where its joints put it.",
                                gone ? quoted(*gone) : "What goes", quoted(*part)),
                    {}, fmt::format("Pick {} as well.", quoted(*part)));
      }
    auto pose = pose_of(after, id);
    if (!pose)
      return fail(fmt::format("{} cannot be bent by its joints: a part above it is flattened.", quoted(*part)));
    if (nearly_equal(*pose, part->skin->pose)) continue;
    const bool joints_stayed = std::all_of(part->skin->joints.begin(), part->skin->joints.end(), [&](PartId joint) {
      return before.contains(joint) && nearly_equal(world_of(before, joint), world_of(after, joint));
    });
    if (joints_stayed && !part->skin->pose.empty()) {
      const PartId carrier = carrier_of_joints(after, id);
      return fail(fmt::format("{} stands where its joints put it, whatever its own place is.", quoted(*part)), {},
                  carrier == kNoPart || carrier == id
                      ? "Move its joints."
                      : fmt::format("Move {}, which carries them.", quoted(after.part(carrier))));
    }
    auto mesh = bent(*part->mesh, *part->skin->shape, *pose);
    if (!mesh) return fail(mesh.error().what, printable(part->name));
    Part changed = *part;
    auto skin = std::make_shared<Skin>();
    skin->shape = part->skin->shape;
    skin->joints = part->skin->joints;
    skin->carried = part->skin->carried;
    skin->pose = std::move(*pose);
    changed.skin = std::move(skin);
    changed.mesh = std::move(*mesh);
    after.replace(id, std::move(changed));
  }
  return {};
}

}  // namespace tack
