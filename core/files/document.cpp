#include "core/files/document.h"

#include <fmt/format.h>

#include <map>

#include "core/files/plane_json.h"
#include "core/files/tie_json.h"
#include "core/mesh/transform.h"
#include "core/printable.h"

namespace tack {

namespace {

ColourNames names_in(const DeliveredPart& part, const Delivery& delivery) {
  std::vector<std::string> names(part.colours.size());
  bool any = false;
  for (std::size_t i = 0; i < std::min(names.size(), part.named.size()); ++i) {
    const auto number = static_cast<std::size_t>(part.named[i]);
    if (part.named[i] < 0 || number >= delivery.colours.size()) continue;
    names[i] = delivery.colours[number].name;
    any = true;
  }
  return any ? std::make_shared<const std::vector<std::string>>(std::move(names)) : nullptr;
}

// Whether something beside the mesh stands in a node's own frame. What an animated node has stays with what moves; only
// copies of its mesh go with that.
bool frame_is_used(const CarriedNode& node) {
  const Json& content = node.content;
  if (!content.is_object()) return false;
  const bool extended = content.contains("extensions") && content["extensions"].is_object();
  if (node.animated) return extended && content["extensions"].contains("EXT_mesh_gpu_instancing");
  if (content.contains("camera")) return true;
  if (!extended) return false;
  constexpr std::string_view kHarmless[] = {"KHR_node_visibility", "KHR_node_selectability", "KHR_node_hoverability",
                                            "KHR_xmp_json_ld"};
  for (const auto& [name, extension] : content["extensions"].items())
    if (std::find(std::begin(kHarmless), std::end(kHarmless), name) == std::end(kHarmless)) return true;
  return false;
}

// What parts that share a mesh of the file are made of it, found out once for each mesh: instances go on sharing, and a
// file of many parts does not ask for the same work many times.
struct MadeOf {
  LiveShapePtr shape;                         // of the first part that says it is one
  MeshPtr mesh;                               // with what is known of that; none where it is another
  std::shared_ptr<const StretchedFrom> base;  // of the first part that says where its length comes from
  bool is_base = false;                       // whether that still makes the mesh
};
struct Made {
  std::map<const Mesh*, MadeOf> of;
  std::vector<std::string> changed;  // parts that are no longer the shapes that they were
  double work = 0;                   // vertices that were lengthened
  bool too_much = false;             // some were left
};
constexpr double kMostLengthening = 3e8;  // vertices; some seconds

// Whether a mesh has the places and triangles that another has, within what writing and reading rounds off.
bool same_mesh(const Mesh& a, const MeshData& b) {
  if (a.positions().size() != b.positions.size() || a.triangles().size() != b.triangles.size()) return false;
  const double near = 1e-9 * (a.box().extent() + largest_component(a.box().low) + largest_component(a.box().high));
  for (std::size_t v = 0; v < b.positions.size(); ++v)
    if (!(largest_component(a.positions()[v] - b.positions[v]) <= near)) return false;
  return std::equal(b.triangles.begin(), b.triangles.end(), a.triangles().begin());
}

// The part's mesh with what is known of its shape, if it is still the mesh of that: one that another program has
// changed counts before its dimensions.
void make_live(Part& part, const LiveShape& shape, Made& all) {
  MadeOf& is = all.of[part.mesh.get()];
  if (!is.shape) {
    is.shape = std::make_shared<const LiveShape>(shape);
    MeshData made = vertex_count(shape.shape) == part.mesh->positions().size() ? mesh_data_of(shape.shape, shape.frame)
                                                                               : MeshData{};
    if (same_mesh(*part.mesh, made)) {
      MeshData data = data_of(*part.mesh);
      data.known = made.known;
      if (auto with = make_mesh(std::move(data))) is.mesh = std::move(*with);
    }
  }
  if (!is.mesh || is.shape->shape != shape.shape || is.shape->frame != shape.frame)
    return (void)all.changed.push_back(part.name);
  part.shape = *is.shape == shape ? is.shape : std::make_shared<const LiveShape>(shape);
  part.mesh = is.mesh;
}

std::string changed_words(const std::vector<std::string>& changed) {
  if (changed.size() == 1)
    return fmt::format("\"{}\" is a mesh now: another program changed it, so its dimensions no longer count.",
                       printable(changed.front()));
  return fmt::format(
      "{} live shapes, \"{}\" among them, are meshes now: another program changed them, so their dimensions no longer "
      "count.",
      changed.size(), printable(changed.front()));
}

// What a linked copy comes from, if that still makes the mesh that it has. Too many of them to be found out are meshes
// of their own.
std::shared_ptr<const StretchedFrom> stretched_from(const DeliveredPart& d, const std::vector<MeshPtr>& meshes,
                                                    const Part& part, Made& all) {
  const auto number = static_cast<std::size_t>(d.base);
  if (!part.mesh || number >= meshes.size() || d.lengths.empty()) return nullptr;
  const MeshPtr& base = meshes[number];
  if (base->positions().size() != part.mesh->positions().size()) return nullptr;
  MadeOf& is = all.of[part.mesh.get()];
  if (!is.base) {
    const double work = static_cast<double>(base->positions().size()) * static_cast<double>(d.lengths.size());
    if (all.work + work > kMostLengthening) return all.too_much = true, nullptr;
    all.work += work;
    is.base = std::make_shared<const StretchedFrom>(StretchedFrom{base, d.lengths, d.base_carried, d.base_in_metres});
    const auto mesh = stretched(*is.base);
    is.is_base = mesh && same_mesh(*part.mesh, data_of(**mesh));
  }
  return is.is_base && is.base->base == base && is.base->lengths == d.lengths ? is.base : nullptr;
}

SkinPtr skin_of(const DeliveredSkin& delivered, const Mesh& mesh) {
  auto shape = std::make_shared<BoundShape>();
  shape->positions.assign(mesh.positions().begin(), mesh.positions().end());
  shape->normals.assign(mesh.normals().begin(), mesh.normals().end());
  shape->first = delivered.first;
  shape->influences = delivered.influences;
  shape->inverse_bind = delivered.inverse_bind;
  auto skin = std::make_shared<Skin>();
  skin->shape = std::move(shape);
  skin->joints.assign(delivered.joints.begin(), delivered.joints.end());
  skin->carried = delivered.carried;
  return skin;
}

}  // namespace

namespace {

// Whether a mesh is made of these very arrays, not of others with the same numbers in them.
bool lies_at(const Mesh& mesh, const MeshSpans& spans) {
  const auto same = [](const auto& a, const auto& b) { return a.size() == b.size() && a.data() == b.data(); };
  return same(mesh.positions(), spans.positions) && same(mesh.triangles(), spans.triangles) &&
         (spans.normals.empty() ? mesh.normals().empty() : same(mesh.normals(), spans.normals)) &&
         std::equal(mesh.primitives().begin(), mesh.primitives().end(), spans.primitives.begin(),
                    spans.primitives.end());
}

using KnownMeshes = std::multimap<const Vec3*, MeshPtr>;  // by where their vertices lie

MeshPtr known_mesh(const KnownMeshes& known, const MeshSpans& spans) {
  const auto [begin, end] = known.equal_range(spans.positions.data());
  const auto found = std::find_if(begin, end, [&](const auto& k) { return lies_at(*k.second, spans); });
  return found == end ? nullptr : found->second;
}

Result<std::vector<Part>> parts_with(const Delivery& delivery, const KnownMeshes& known,
                                     std::vector<std::string>* said) {
  std::vector<std::string> ignored, &notes = said ? *said : ignored;
  std::vector<MeshPtr> meshes;
  for (std::size_t i = 0; i < delivery.meshes.size(); ++i) {
    if (MeshPtr same = known_mesh(known, delivery.meshes[i])) {
      meshes.push_back(std::move(same));
      continue;
    }
    auto mesh = mesh_over(delivery.meshes[i]);
    if (!mesh) return fail(mesh.error().what, fmt::format("{}, mesh {}", delivery.file, i));
    meshes.push_back(std::move(*mesh));
  }
  std::vector<Part> parts;
  Made made;
  for (const DeliveredPart& d : delivery.parts) {
    if (d.parent > parts.size() || d.mesh >= static_cast<int>(meshes.size()))
      return fail("The parts of the file are out of order.");
    Part part;
    part.name = d.name;
    part.parent = d.parent;
    part.placement = d.placement;
    part.typed = d.typed;
    if (d.mesh >= 0) part.mesh = meshes[static_cast<std::size_t>(d.mesh)];
    part.colours = d.colours;
    if (part.mesh) part.colours.resize(part.mesh->primitives().size());
    part.colour_names = names_in(d, delivery);
    part.hidden = d.hidden;
    part.locked = d.locked;
    part.see_through = d.see_through;
    part.kept = d.kept;
    part.bands = d.bands;
    if (d.shape && part.mesh) make_live(part, *d.shape, made);
    if (d.base >= 0) part.stretched = stretched_from(d, meshes, part, made);
    part.guide = d.guide;
    // Steps call the ground World: no plane does.
    if (part.guide == GuideKind::Plane && part.name == kWorldPlane) part.name += " plane";
    if (d.grid != PlaneGrid{}) part.grid = std::make_shared<const PlaneGrid>(d.grid);
    if (d.carried) part.carried = std::make_shared<const CarriedNode>(*d.carried);
    PartSource& source = part.source.change();
    source.carried_mesh = d.carried_mesh;
    source.geometry_in_metres = d.geometry_in_metres;
    source.animated = d.carried && d.carried->animated;
    source.frame_used = d.carried && frame_is_used(*d.carried);
    if (d.skin && part.mesh) part.skin = skin_of(*d.skin, *part.mesh);
    parts.push_back(std::move(part));
  }
  if (!made.changed.empty()) notes.push_back(changed_words(made.changed));
  if (made.too_much)
    notes.push_back("There are too many copies with lengths of their own; some of them are meshes by themselves now.");
  return parts;
}

// A scene of these parts alone: they get the numbers 1, 2, 3 … in their order, which are also what Part::parent counts.
// Meshes stand where their joints put them.
Result<Scene> scene_of(std::vector<Part> parts) {
  Scene scene;
  for (Part& part : parts) scene.add(std::move(part));
  if (!scene.skinned().empty())
    if (const auto ok = settle_skins({}, scene); !ok) return tl::unexpected(ok.error());
  return scene;
}

std::string joined(const std::set<std::string>& names) {
  std::string text;
  for (const std::string& name : names) text += (text.empty() ? "" : ", ") + printable(name, 100);
  return text;
}

}  // namespace

Result<std::vector<Part>> parts_of(const Delivery& delivery, std::vector<std::string>* said) {
  return parts_with(delivery, {}, said);
}

Result<Document> document_of(const Delivery& delivery) { return document_of(delivery, Scene{}); }

Result<Document> document_of(const Delivery& delivery, const Scene& beside) {
  Document document;
  document.settings = delivery.settings;
  document.notes = delivery.notes;
  KnownMeshes known;
  for (const PartId id : beside.in_tree_order())
    if (const MeshPtr& mesh = beside.part(id).mesh) known.emplace(mesh->positions().data(), mesh);
  auto parts = parts_with(delivery, known, &document.notes);
  if (!parts) return tl::unexpected(parts.error());
  document.is_document = delivery.is_document;
  auto scene = scene_of(std::move(*parts));
  if (!scene) return tl::unexpected(scene.error());
  document.scene = *std::move(scene);
  document.scene.set_carried(delivery.carried);
  document.scene.set_colours(delivery.colours);
  document.scene.set_ties(ties_from_json(delivery.ties, document.scene, document.notes));
  read_planes(delivery.planes, document.scene, document.notes);
  return document;
}

namespace {

bool same_numbers(const Mesh& a, const Mesh& b) {
  const auto same = [](const auto& x, const auto& y) {
    return x.size() == y.size() && (x.empty() || std::memcmp(x.data(), y.data(), x.size_bytes()) == 0);
  };
  return same(a.positions(), b.positions()) && same(a.triangles(), b.triangles()) &&
         same(a.primitives(), b.primitives());
}

// Whether the part of the scene and what is below it are made of the same meshes, placed alike within it; `twins` gets
// for each part of the list the one of the scene.
bool same_tree(const Scene& scene, PartId here, const Scene& alone, PartId there, std::vector<PartId>& twins) {
  const Part &a = scene.part(here), &b = alone.part(there);
  if (a.skin || b.skin || a.guide != b.guide || a.children.size() != b.children.size() || !a.mesh != !b.mesh)
    return false;
  if (a.mesh && (a.source->baked != Affine{} || a.source->lengthened || !same_numbers(*a.mesh, *b.mesh))) return false;
  twins[there - 1] = here;
  for (std::size_t i = 0; i < a.children.size(); ++i) {
    if (scene.part(a.children[i]).local != alone.part(b.children[i]).local) return false;
    if (!same_tree(scene, a.children[i], alone, b.children[i], twins)) return false;
  }
  return true;
}

// The parts of the scene that those of the file are the same as; empty when there are none.
std::vector<PartId> twins_in(const Scene& scene, const Scene& alone) {
  if (alone.roots().size() != 1 || !alone.views().empty()) return {};
  for (const PartId id : scene.in_tree_order()) {
    std::vector<PartId> twins(alone.size(), kNoPart);
    if (same_tree(scene, id, alone, alone.roots().front(), twins)) return twins;
  }
  return {};
}

}  // namespace

Result<Bring> bring_of(const Delivery& delivery, const std::filesystem::path& path, const Scene& scene,
                       const BringOptions& options) {
  auto parts = parts_of(delivery);
  if (!parts) return tl::unexpected(parts.error());
  if (parts->empty()) return fail("There are no parts in this file.", path.filename().string());
  auto alone = scene_of(*parts);
  if (!alone) return tl::unexpected(alone.error());
  for (const PartId id : alone->skinned()) (*parts)[id - 1] = alone->part(id);
  Bring bring;
  bring.file = path.filename().string();
  bring.path = path.string();
  bring.carried = delivery.carried;
  bring.colours = delivery.colours;
  bring.notes = delivery.notes;
  std::vector<std::string> left_out;  // what cannot be read was said when the file was checked
  if (!delivery.ties.empty()) bring.ties = ties_from_json(delivery.ties, *alone, left_out);
  if (delivery.planes.contains("follows")) {
    // The guides go on following what came in with them.
    read_planes(Json{{"follows", delivery.planes["follows"]}}, *alone, left_out);
    for (std::size_t i = 0; i < parts->size(); ++i) (*parts)[i].law = alone->part(static_cast<PartId>(i + 1)).law;
  }
  if (const std::vector<PartId> twins = options.instances ? twins_in(scene, *alone) : std::vector<PartId>{};
      !twins.empty()) {
    for (std::size_t i = 0; i < parts->size(); ++i) {
      const Part& twin = scene.part(twins[i]);
      Part& part = (*parts)[i];
      part.mesh = twin.mesh;
      part.shape = twin.shape;
      part.bands = twin.bands;
      part.stretched = twin.stretched;
      part.colours = twin.colours;
      part.colour_names = twin.colour_names;
      PartSource& source = part.source.change();
      source.recoloured = twin.source->recoloured;
      source.carried_mesh = twin.source->carried_mesh;
      source.geometry_in_metres = twin.source->geometry_in_metres;
      part.carried = twin.carried;
    }
    bring.carried = scene.carried();
    bring.instance_of = scene.part(twins.front()).name;
  } else if (scene.carried() && delivery.carried) {
    const std::set<std::string> names = unknown_numbers_in(delivery);
    const bool leaves = options.unknown == UnknownNumbers::LeaveOut;
    if (!names.empty())
      bring.notes.push_back(fmt::format(
          "{} may name things by number and {} not known here: {}.", joined(names), names.size() == 1 ? "is" : "are",
          leaves ? "left out of what was brought in" : "in what was brought in those numbers may be wrong now"));
    const MergedDocuments merged = merge(*scene.carried(), *delivery.carried, leaves ? names : std::set<std::string>{});
    bring.carried = merged.document;
    bring.notes.insert(bring.notes.end(), merged.notes.begin(), merged.notes.end());
    for (NamedColour& colour : bring.colours)
      for (int& material : colour.materials) material = merged.shifted(Ref::Material, material);
    for (Part& part : *parts) {
      if (const int mesh = part.source->carried_mesh; mesh >= 0)
        part.source.change().carried_mesh = merged.shifted(Ref::Mesh, mesh);
      if (part.stretched && part.stretched->carried_mesh >= 0) {
        auto from = std::make_shared<StretchedFrom>(*part.stretched);
        from->carried_mesh = merged.shifted(Ref::Mesh, from->carried_mesh);
        part.stretched = std::move(from);
      }
      if (part.skin) {
        auto skin = std::make_shared<Skin>(*part.skin);
        skin->carried = merged.shifted(Ref::Skin, skin->carried);
        part.skin = std::move(skin);
      }
      if (!part.carried) continue;
      auto node = std::make_shared<CarriedNode>(*part.carried);
      if (leaves) leave_out(node->content, names);
      node->content = shifted_content(std::move(node->content), merged);
      if (node->original >= 0) node->original = merged.shifted(Ref::Node, node->original);
      part.carried = std::move(node);
    }
  } else if (!bring.carried) {
    bring.carried = scene.carried();
  }
  bring.parts = std::make_shared<const std::vector<Part>>(std::move(*parts));
  return bring;
}

std::set<std::string> unknown_numbers_in(const Delivery& delivery) {
  std::set<std::string> names;
  if (!delivery.carried) return names;
  names = unknown_with_numbers(delivery.carried->json);
  for (const auto& [number, node] : delivery.carried->other_nodes) names.merge(unknown_with_numbers_in_node(node));
  for (const DeliveredPart& part : delivery.parts)
    if (part.carried) names.merge(unknown_with_numbers_in_node(part.carried->content));
  return names;
}

}  // namespace tack
