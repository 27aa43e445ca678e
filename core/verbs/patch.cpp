#include "core/verbs/patch.h"

#include <fmt/format.h>

#include <map>
#include <set>
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

// The rigid motion that all parts of a patch have made, their meshes as they were; nullopt where they have not.
std::optional<Affine> common_motion(const Scene& before, const Scene& after, const Patch& patch) {
  std::optional<Affine> common;
  for (const PatchOf& of : patch.of) {
    const Part *was = before.find(of.part), *is = after.find(of.part);
    const auto from = was ? inverse(world_of(before, of.part)) : std::nullopt;
    if (!from || !is || was->mesh != is->mesh) return std::nullopt;
    const Affine here = world_of(after, of.part);
    const Affine motion = here == world_of(before, of.part) ? Affine{} : here * *from;
    double off = 0;
    for (std::size_t i = 0; i < 3; ++i)
      for (std::size_t j = 0; j < 3; ++j)
        off = std::max(off, std::abs(dot(motion.linear.column[i], motion.linear.column[j]) - (i == j ? 1 : 0)));
    if (off > 1e-12 || determinant(motion.linear) < 0) return std::nullopt;
    if (!common) common = motion;
    for (std::size_t i = 0; i < 3; ++i)
      if (distance(motion.linear.column[i], common->linear.column[i]) > 1e-12) return std::nullopt;
    if (distance(motion.translation, common->translation) > 1e-12 * (1 + length(motion.translation)))
      return std::nullopt;
  }
  return common;
}

Vec3 middle_of(const Mesh& mesh, const Affine& world) {
  Vec3 sum;
  for (const Vec3& p : mesh.positions()) sum = sum + world * p;
  return sum * (1.0 / static_cast<double>(mesh.positions().size()));
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
    const Elements& e = of.elements;
    // Vertices and edges are named by the places they have; corners of faces by their own numbers. What is next to what
    // is not asked: of a mesh that is being stretched nobody knows yet.
    std::vector<std::uint32_t> vertices;
    if (e.kind == ElementKind::Vertices) vertices = e.numbers;
    for (const ElementEdge& edge : e.edges) vertices.insert(vertices.end(), edge.begin(), edge.end());
    if (e.kind == ElementKind::Faces)
      for (const std::uint32_t t : e.numbers)
        vertices.insert(vertices.end(), mesh.triangles()[t].begin(), mesh.triangles()[t].end());
    std::sort(vertices.begin(), vertices.end());
    vertices.erase(std::unique(vertices.begin(), vertices.end()), vertices.end());
    const auto first = static_cast<std::uint32_t>(data.positions.size());
    const auto number = [&](std::uint32_t v) {
      return first +
             static_cast<std::uint32_t>(std::lower_bound(vertices.begin(), vertices.end(), v) - vertices.begin());
    };
    for (const std::uint32_t v : vertices) data.positions.push_back(map * mesh.positions()[v]);
    // Triangles without area stand for points and segments: they touch things, and are seen nowhere.
    if (e.kind == ElementKind::Vertices)
      for (const std::uint32_t v : vertices) data.triangles.push_back({number(v), number(v), number(v)});
    for (const ElementEdge& edge : e.edges) {
      known->lines.push_back({number(edge[0]), number(edge[1])});
      data.triangles.push_back({number(edge[0]), number(edge[1]), number(edge[1])});
    }
    if (e.kind != ElementKind::Faces) continue;
    const bool mirrored = determinant(map.linear) < 0;
    for (const std::uint32_t t : e.numbers) {
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
    part.source.change().edited = true;
    if (part.kept) {
      auto kept = std::make_shared<KeptTacks>(*part.kept);
      for (KeptTack& tack : *kept) {
        const GoneAlong gone = gone_along(*old, *mesh, shares, tack.point);
        tack.point = gone.place;
        if (tack.direction) tack.direction = gone.turn * *tack.direction;
        if (tack.roll) tack.roll = gone.turn * *tack.roll;
      }
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
  std::set<PartId> given_by_verb;  // parts that the verb gave another mesh
  for (const PartId id : patches)
    if (const Part* patch = after.find(id); patch && patch->patch)
      for (const PatchOf& of : patch->patch->of) {
        const Part *is = after.find(of.part), *was = before.find(of.part);
        if (!is || !was || is != was) note_change(of.part, kNoPart);
        if (is && was && is->mesh != was->mesh) given_by_verb.insert(of.part);
      }
  // First what stands elsewhere, then what the meshes have become.
  for (const PartId id : patches) {
    const Part *is = after.find(id), *was = before.find(id);
    if (!is || !is->patch) continue;
    still.push_back(id);
    if (!was || was->patch != is->patch || was->local == is->local) continue;
    const PatchPtr patch = is->patch;
    for (const PatchOf& of : patch->of) {
      if (!after.contains(of.part) || !before.contains(of.part)) continue;
      const MeshPtr mesh = after.part(of.part).mesh;
      if (!mesh || !same_numbers(of, *mesh)) continue;
      // A bake leaves everything where it is, a stretch takes what hangs on the part along: neither moves elements.
      if (given_by_verb.contains(of.part)) continue;
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
    if (all_there && is->local == before.part(id).local) {
      // It hangs on nothing, so that nobody takes it for a part below: it is carried along here.
      if (const auto motion = common_motion(before, after, *is->patch)) {
        if (*motion == Affine{}) continue;
        const auto placement = placement_in(after, kNoPart, *motion * world_of(after, id), is->placement);
        if (!placement) return tl::unexpected(placement.error());
        after.place(id, *placement);
        continue;
      }
      // Bent or sized with its parts: its place goes with its vertices.
      const auto there = mesh_of_patch(after, *part.patch, {});
      if (!there) return tl::unexpected(there.error());
      if (part.mesh->positions().size() == (*there)->positions().size()) {
        part.placement.position =
            part.placement.position + middle_of(**there, {}) - middle_of(*part.mesh, world_of(after, id));
        part.local = matrix_of(part.placement);
      }
    }
    const auto to_patch = inverse(part.local);
    if (!to_patch) continue;
    auto mesh = mesh_of_patch(after, *part.patch, *to_patch);
    if (!mesh) return tl::unexpected(mesh.error());
    // The same but for rounding stays as it is: its numbers do not drift.
    if (part.mesh && part.mesh->positions().size() == (*mesh)->positions().size()) {
      double off = 0;
      for (std::size_t v = 0; v < part.mesh->positions().size(); ++v)
        off = std::max(off, distance(part.mesh->positions()[v], (*mesh)->positions()[v]));
      if (off <= 1e-10 * (extent(**mesh) + largest_component(part.local.translation)) && all_there) *mesh = part.mesh;
    }
    part.mesh = *mesh;
    after.replace(id, std::move(part));
  }
  return {};
}

namespace {

// How many of the flat faces that a change has reached are flat no longer.
std::size_t faces_bent(const Mesh& was, const Mesh& is) {
  // Of a mesh that is still looked at in the background nothing is said.
  const Features* features = was.triangles().size() < 100'000 ? &was.features() : was.features_if_ready();
  if (!features || features->face_of.empty()) return 0;
  std::vector<bool> moved_vertex(was.positions().size()), looked(features->faces.size()),
      is_bent(features->faces.size());
  for (std::size_t v = 0; v < moved_vertex.size(); ++v) moved_vertex[v] = was.positions()[v] != is.positions()[v];
  const auto triangles = was.triangles();
  for (std::uint32_t t = 0; t < triangles.size(); ++t)
    for (const std::uint32_t v : triangles[t])
      looked[features->face_of[t]] = looked[features->face_of[t]] || moved_vertex[v];
  std::vector<std::optional<std::pair<Vec3, Vec3>>> planes(features->faces.size());
  for (std::uint32_t t = 0; t < triangles.size(); ++t) {
    const std::uint32_t f = features->face_of[t];
    if (!looked[f] || is_bent[f] || features->faces[f].kind != MeshFace::Kind::Flat) continue;
    if (!planes[f]) {
      const std::uint32_t largest = features->faces[f].triangle;
      const Vec3 normal = area_vector(is, largest);
      if (!(length(normal) > 0)) continue;
      planes[f] = {is.corners(largest)[0], normalized(normal)};
    }
    for (const Vec3& c : is.corners(t))
      if (std::abs(dot(c - planes[f]->first, planes[f]->second)) > kFlatWithin * extent(is)) is_bent[f] = true;
  }
  return static_cast<std::size_t>(std::count(is_bent.begin(), is_bent.end(), true));
}

}  // namespace

std::string edited_remark(const Scene& before, const Scene& after, const std::vector<PartId>& parts) {
  std::string words;
  const auto say = [&](const std::string& more) { words += (words.empty() ? "" : " ") + more; };
  std::vector<PartId> shapes, bent_parts, seen;
  std::size_t bent = 0;
  for (const PartId id : parts) {
    const Part *was = before.find(id), *is = after.find(id);
    // Moved vertices leave the triangles where they are: any other mesh is another verb's to speak of.
    if (!was || !is || !was->mesh || !is->mesh || was->mesh == is->mesh ||
        was->mesh->positions().size() != is->mesh->positions().size() ||
        was->mesh->triangles().data() != is->mesh->triangles().data() ||
        std::find(seen.begin(), seen.end(), id) != seen.end())
      continue;
    seen.push_back(id);
    if (was->shape && !is->shape) shapes.push_back(id);
    const std::size_t here = faces_bent(*was->mesh, *is->mesh);
    if (here > 0) bent += here, bent_parts.push_back(id);
  }
  if (!shapes.empty())
    say(fmt::format("{} {} now: {} dimensions no longer count.", names_of(before, shapes),
                    shapes.size() == 1 ? "is a mesh" : "are meshes", shapes.size() == 1 ? "its" : "their"));
  if (bent > 0)
    say(fmt::format("{} of {} {} no longer flat.", bent == 1 ? "1 face" : fmt::format("{} faces", bent),
                    names_of(before, bent_parts), bent == 1 ? "is" : "are"));
  if (!seen.empty())
    if (const std::string lost = lost_words(before, after); !lost.empty()) say(lost);
  return words;
}

std::string patches_remark(const Scene& before, const Scene& after) {
  if (before.patches().empty()) return {};
  std::vector<PartId> parts, gone;
  for (const PartId id : before.patches()) {
    const Part* patch = before.find(id);
    if (!patch || !patch->patch) continue;
    if (!after.contains(id) && std::any_of(patch->patch->of.begin(), patch->patch->of.end(),
                                           [&](const PatchOf& of) { return after.contains(of.part); }))
      gone.push_back(id);
    for (const PatchOf& of : patch->patch->of) parts.push_back(of.part);
  }
  std::string words = edited_remark(before, after, parts);
  if (!gone.empty())
    words += fmt::format("{}{} {} gone: nothing of it is where it was.", words.empty() ? "" : " ",
                         names_of(before, gone), gone.size() == 1 ? "is" : "are");
  return words;
}

Scene without_patches(const Scene& scene) {
  if (scene.patches().empty()) return scene;
  Scene plain = scene;
  plain.remove(scene.patches());
  return plain;
}

}  // namespace tack
