#include "core/verbs/patch.h"

#include <fmt/format.h>

#include <array>
#include <map>
#include <unordered_map>

#include "core/catch/guide_law.h"
#include "core/mesh/features.h"
#include "core/mesh/mesh_index.h"
#include "core/verbs/readdress.h"
#include "core/verbs/words.h"

namespace tack {
namespace {

constexpr double kSamePlace = 1e-6;   // of the extent: where an element is found again
constexpr double kNotMoved = 1e-12;   // of extent and distance: what rounding makes of no motion
constexpr double kFlatWithin = 1e-5;  // of the extent: core/mesh/features.h

double extent(const Mesh& mesh) { return length(mesh.box().size()); }

bool same_numbers(const PatchOf& of, const Mesh& mesh) {
  return of.vertices == mesh.positions().size() && of.triangles == mesh.triangles().size();
}

// From the mesh of a part before to where the patch's motion takes it, in the mesh's coordinates after.
std::optional<Affine> motion_in(const Scene& before, const Scene& after, PartId patch, PartId part) {
  const auto from = inverse(world_of(before, patch)), to_mesh = inverse(world_of(after, part));
  if (!from || !to_mesh) return std::nullopt;
  return *to_mesh * (world_of(after, patch) * (*from * world_of(before, part)));
}

bool moves(const Affine& motion, const Mesh& mesh, const Shares& shares) {
  const double least =
      kNotMoved * (extent(mesh) + largest_component(mesh.box().low) + largest_component(motion.translation));
  return std::any_of(shares.vertices.begin(), shares.vertices.end(), [&](std::uint32_t v) {
    return distance(motion * mesh.positions()[v], mesh.positions()[v]) > least;
  });
}

// The elements of a patch on the meshes that the parts have now; whether any were found.
bool refound(const Scene& before, const Scene& after, Patch& patch) {
  for (PatchOf& of : patch.of) {
    const Part *was = before.find(of.part), *is = after.find(of.part);
    if (!is || !is->mesh) {
      of.elements = {of.elements.kind, {}, {}};
      continue;
    }
    if (same_numbers(of, *is->mesh)) continue;
    if (!was || !was->mesh || !same_numbers(of, *was->mesh)) {
      of.elements = {of.elements.kind, {}, {}};
      continue;
    }
    const auto vertices = welded_vertices(*was->mesh, of.elements);
    std::vector<Vec3> places;
    places.reserve(vertices.size());
    for (const std::uint32_t v : vertices) places.push_back(was->mesh->positions()[v]);
    of.elements = found_again(of.elements, vertices, places, *is->mesh);
    of.vertices = is->mesh->positions().size();
    of.triangles = is->mesh->triangles().size();
    of.shares = std::make_shared<const Shares>(
        shares_of(*is->mesh, of.elements, world_of(after, of.part).linear, patch.reach, patch.surface));
  }
  std::erase_if(patch.of, [](const PatchOf& of) { return of.elements.empty(); });
  return !patch.of.empty();
}

}  // namespace

Result<MeshPtr> mesh_of_patch(const Scene& scene, const Patch& patch, const Affine& to_patch) {
  MeshData data;
  auto known = std::make_shared<KnownFeatures>();
  for (const PatchOf& of : patch.of) {
    const Mesh& mesh = *scene.part(of.part).mesh;
    const Affine map = to_patch * world_of(scene, of.part);
    std::unordered_map<std::uint32_t, std::uint32_t> numbers;
    const auto& welded = mesh.neighbours().topology.welded;
    const auto number = [&](std::uint32_t v) {
      const auto [at, is_new] = numbers.try_emplace(welded[v], static_cast<std::uint32_t>(data.positions.size()));
      if (is_new) data.positions.push_back(map * mesh.positions()[welded[v]]);
      return at->second;
    };
    for (const std::uint32_t v : welded_vertices(mesh, of.elements)) number(v);
    for (const ElementEdge& e : of.elements.edges) known->lines.push_back({number(e[0]), number(e[1])});
    if (of.elements.kind != ElementKind::Faces) continue;
    const bool mirrored = determinant(map.linear) < 0;
    for (const std::uint32_t t : of.elements.numbers) {
      Triangle c = mesh.triangles()[t];
      for (std::uint32_t& v : c) v = number(v);
      if (mirrored) std::swap(c[1], c[2]);
      data.triangles.push_back(c);
    }
  }
  if (!known->lines.empty()) data.known = std::move(known);
  return make_mesh(std::move(data));
}

Result<void> give_edited_mesh(Scene& scene, PartId id, const MeshPtr& mesh, const Shares& shares, bool instances) {
  const Part& was = scene.part(id);
  const MeshPtr old = was.mesh;
  std::vector<PartId> all{id};
  if (instances)
    for (const PartId other : instances_of(scene, id)) all.push_back(other);
  for (const PartId one : all) {
    Part part = scene.part(one);
    if (part.skin)
      return fail(fmt::format("\"{}\" is bent by its joints: its vertices stand where those put them.", part.name),
                  "what");
    for (const Part* p = &part; p; p = scene.find(p->parent))
      if (p->locked)
        return fail(one == id ? fmt::format("\"{}\" is locked.", p->name)
                              : fmt::format("\"{}\" shares the mesh, and is locked.", part.name),
                    {}, "Unlock it in Parts.");
    if (part.mesh == old) {
      part.mesh = mesh;
      part.stretched = nullptr;
    } else if (part.stretched && part.stretched->base == old) {
      // A copy with lengths of its own has them of the new mesh.
      auto from = std::make_shared<StretchedFrom>(*part.stretched);
      from->base = mesh;
      auto longer = stretched(*from);
      if (!longer) return tl::unexpected(longer.error());
      part.mesh = *longer;
      part.stretched = std::move(from);
    } else {
      continue;
    }
    part.shape = nullptr;
    part.edited = true;
    if (part.kept) {
      auto kept = std::make_shared<KeptTacks>(*part.kept);
      for (KeptTack& tack : *kept) tack.point = gone_along(*old, *mesh, shares, tack.point);
      part.kept = std::move(kept);
    }
    scene.replace(one, std::move(part));
  }
  return {};
}

Elements found_again(const Elements& elements, const std::vector<std::uint32_t>& vertices,
                     const std::vector<Vec3>& places, const Mesh& mesh) {
  const Neighbours& n = mesh.neighbours();
  const double reach = kSamePlace * extent(mesh);
  std::unordered_map<std::uint32_t, std::uint32_t> now;
  for (std::size_t i = 0; i < vertices.size() && i < places.size(); ++i) {
    std::optional<std::uint32_t> found;
    triangles_touching(mesh, places[i], reach, [&](std::uint32_t t, int corner) {
      const std::uint32_t v = n.topology.welded[mesh.triangles()[t][static_cast<std::size_t>(corner)]];
      if (!found || v < *found) found = v;
    });
    if (found) now[vertices[i]] = *found;
  }
  Elements again{elements.kind, {}, {}};
  if (elements.kind == ElementKind::Vertices) {
    for (const std::uint32_t v : elements.numbers)
      if (const auto at = now.find(v); at != now.end()) again.numbers.push_back(at->second);
  } else if (elements.kind == ElementKind::Edges) {
    for (const ElementEdge& e : elements.edges) {
      const auto a = now.find(e[0]), b = now.find(e[1]);
      if (a == now.end() || b == now.end()) continue;
      if (n.edge_between(a->second, b->second) == Topology::kNoEdge) continue;
      again.edges.push_back({std::min(a->second, b->second), std::max(a->second, b->second)});
    }
  } else {
    // A face is where all its corners are found; its own numbers name corners of a mesh that is gone.
    std::vector<bool> is_there(mesh.positions().size());
    for (const auto& [was, is] : now) is_there[is] = true;
    if (now.size() == vertices.size())
      for (std::uint32_t t = 0; t < mesh.triangles().size(); ++t) {
        const Triangle& c = mesh.triangles()[t];
        if (std::all_of(c.begin(), c.end(), [&](std::uint32_t v) { return is_there[n.topology.welded[v]]; }))
          again.numbers.push_back(t);
      }
  }
  return in_order(std::move(again));
}

Result<void> settle_patches(const Scene& before, Scene& after) {
  const std::vector<PartId> patches = after.patches();
  std::vector<PartId> still;
  // By what parts have been changed: by the verb itself (kNoPart), or by one patch; several: by the verb.
  std::map<PartId, PartId> changed_by;
  const auto note_change = [&](PartId part, PartId by) {
    const auto [at, is_new] = changed_by.try_emplace(part, by);
    if (!is_new && at->second != by) at->second = kNoPart;
  };
  for (const PartId id : patches)
    if (const Part* patch = after.find(id); patch && patch->patch)
      for (const PatchOf& of : patch->patch->of)
        if (!after.contains(of.part) || !before.contains(of.part) || !after.shares(before, of.part))
          note_change(of.part, kNoPart);
  // First what stands elsewhere, then what the meshes have become.
  for (const PartId id : patches) {
    const Part *is = after.find(id), *was = before.find(id);
    if (!is || !is->patch) continue;
    still.push_back(id);
    if (!was || was->patch != is->patch || (was->local == is->local && was->parent == is->parent)) continue;
    const PatchPtr patch = is->patch;
    for (const PatchOf& of : patch->of) {
      if (!after.contains(of.part) || !before.contains(of.part)) continue;
      const MeshPtr mesh = after.part(of.part).mesh;
      if (!mesh || !same_numbers(of, *mesh)) continue;
      const auto motion = motion_in(before, after, id, of.part);
      if (!motion) return fail(fmt::format("\"{}\" would be flattened.", is->name));
      if (!moves(*motion, *mesh, *of.shares)) continue;
      if (of.elements.kind == ElementKind::Faces && determinant(motion->linear) < 0)
        return fail(fmt::format("Mirrored, the faces of \"{}\" would look inwards.", is->name), {},
                    "Mirror the part that they are of.");
      auto next = moved(*mesh, *of.shares, *motion);
      if (!next) return tl::unexpected(next.error());
      if (auto ok = give_edited_mesh(after, of.part, *next, *of.shares, patch->instances); !ok) return ok;
      note_change(of.part, id);
    }
  }
  for (const PartId id : still) {
    const Part* is = after.find(id);
    if (!is || !before.contains(id)) continue;
    const bool stands = std::all_of(is->patch->of.begin(), is->patch->of.end(), [&](const PatchOf& of) {
      return after.contains(of.part) && before.contains(of.part) && after.shares(before, of.part);
    });
    if (stands && after.shares(before, id)) continue;
    // Its own motion is all that has happened: its mesh shows that already.
    if (std::all_of(is->patch->of.begin(), is->patch->of.end(), [&](const PatchOf& of) {
          const auto at = changed_by.find(of.part);
          return at != changed_by.end() && at->second == id;
        }))
      continue;
    const bool all_there = std::all_of(is->patch->of.begin(), is->patch->of.end(), [&](const PatchOf& of) {
      return after.contains(of.part) && after.part(of.part).mesh && same_numbers(of, *after.part(of.part).mesh);
    });
    Part part = *is;
    if (!all_there) {
      auto patch = std::make_shared<Patch>(*part.patch);
      if (!refound(before, after, *patch)) {
        after.remove(id);
        continue;
      }
      part.patch = std::move(patch);
    }
    const auto to_patch = inverse(world_of(after, id));
    if (!to_patch) continue;
    auto mesh = mesh_of_patch(after, *part.patch, *to_patch);
    if (!mesh) return tl::unexpected(mesh.error());
    // The same but for rounding stays as it is: its numbers do not drift.
    if (part.mesh && part.mesh->positions().size() == (*mesh)->positions().size()) {
      double off = 0;
      for (std::size_t v = 0; v < part.mesh->positions().size(); ++v)
        off = std::max(off, distance(part.mesh->positions()[v], (*mesh)->positions()[v]));
      if (off <= 1e-10 * (extent(**mesh) + largest_component(world_of(after, id).translation)) && all_there) continue;
    }
    part.mesh = *mesh;
    after.replace(id, std::move(part));
  }
  return {};
}

bool works_on_patches(std::string_view verb) {
  static constexpr std::string_view kWorks[] = {"pick",   "move",   "rotate", "scale", "meet",    "align", "distribute",
                                                "drop",   "tidy",   "pivot",  "place", "measure", "show",  "lock",
                                                "rename", "delete", "take",   "push",  "smooth",  "slide"};
  return std::find(std::begin(kWorks), std::end(kWorks), verb) != std::end(kWorks);
}

std::string patches_remark(const Scene& before, const Scene& after) {
  if (before.patches().empty()) return {};
  std::string words;
  const auto say = [&](const std::string& more) { words += (words.empty() ? "" : " ") + more; };
  std::vector<PartId> shapes, gone;
  std::size_t bent = 0;
  std::vector<PartId> bent_parts;
  std::vector<PartId> seen;
  for (const PartId id : before.patches()) {
    const Part* patch = before.find(id);
    if (!patch || !patch->patch) continue;
    if (!after.contains(id) && std::any_of(patch->patch->of.begin(), patch->patch->of.end(),
                                           [&](const PatchOf& of) { return after.contains(of.part); }))
      gone.push_back(id);
    for (const PatchOf& of : patch->patch->of) {
      const Part *was = before.find(of.part), *is = after.find(of.part);
      if (!was || !is || was->mesh == is->mesh || !is->mesh || !same_numbers(of, *is->mesh) ||
          was->edited > is->edited || std::find(seen.begin(), seen.end(), of.part) != seen.end())
        continue;
      seen.push_back(of.part);
      if (was->shape && !is->shape) shapes.push_back(of.part);
      // Of a mesh that is still looked at in the background nothing is said.
      const Features* features =
          was->mesh->triangles().size() < 100'000 ? &was->mesh->features() : was->mesh->features_if_ready();
      if (!features || features->face_of.empty()) continue;
      std::vector<bool> moved_vertex(of.vertices), looked(features->faces.size()), is_bent(features->faces.size());
      for (const std::uint32_t v : of.shares->vertices) moved_vertex[v] = true;
      const auto triangles = was->mesh->triangles();
      for (std::uint32_t t = 0; t < triangles.size(); ++t)
        for (const std::uint32_t v : triangles[t])
          looked[features->face_of[t]] = looked[features->face_of[t]] || moved_vertex[v];
      std::vector<std::optional<std::pair<Vec3, Vec3>>> planes(features->faces.size());
      for (std::uint32_t t = 0; t < triangles.size(); ++t) {
        const std::uint32_t f = features->face_of[t];
        if (!looked[f] || is_bent[f] || features->faces[f].kind != MeshFace::Kind::Flat) continue;
        if (!planes[f]) {
          const std::uint32_t largest = features->faces[f].triangle;
          const Vec3 normal = area_vector(*is->mesh, largest);
          if (!(length(normal) > 0)) continue;
          planes[f] = {is->mesh->corners(largest)[0], normalized(normal)};
        }
        for (const Vec3& c : is->mesh->corners(t))
          if (std::abs(dot(c - planes[f]->first, planes[f]->second)) > kFlatWithin * extent(*is->mesh))
            is_bent[f] = true;
      }
      const auto here = static_cast<std::size_t>(std::count(is_bent.begin(), is_bent.end(), true));
      if (here > 0) bent += here, bent_parts.push_back(of.part);
    }
  }
  if (!shapes.empty())
    say(fmt::format("{} {} now: {} dimensions no longer count.", names_of(before, shapes),
                    shapes.size() == 1 ? "is a mesh" : "are meshes", shapes.size() == 1 ? "its" : "their"));
  if (bent > 0)
    say(fmt::format("{} of {} {} no longer flat.", bent == 1 ? "1 face" : fmt::format("{} faces", bent),
                    names_of(before, bent_parts), bent == 1 ? "is" : "are"));
  if (!gone.empty())
    say(fmt::format("{} {} gone: nothing of it is where it was.", names_of(before, gone),
                    gone.size() == 1 ? "is" : "are"));
  return words;
}

Scene without_patches(const Scene& scene) {
  if (scene.patches().empty()) return scene;
  Scene plain = scene;
  plain.remove(scene.patches());
  return plain;
}

}  // namespace tack
