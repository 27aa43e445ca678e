#include "core/files/document.h"

#include <fmt/format.h>

#include "core/files/plane_json.h"
#include "core/files/tie_json.h"

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

}  // namespace

Result<std::vector<Part>> parts_of(const Delivery& delivery) {
  std::vector<MeshPtr> meshes;
  for (std::size_t i = 0; i < delivery.meshes.size(); ++i) {
    auto mesh = make_mesh(delivery.meshes[i]);
    if (!mesh) return fail(mesh.error().what, fmt::format("mesh {}", i));
    meshes.push_back(std::move(*mesh));
  }
  std::vector<Part> parts;
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
    part.guide = d.guide;
    // Steps call the ground World: no plane does.
    if (part.guide == GuideKind::Plane && part.name == kWorldPlane) part.name += " plane";
    if (d.grid != PlaneGrid{}) part.grid = std::make_shared<const PlaneGrid>(d.grid);
    part.carried_mesh = d.carried_mesh;
    part.geometry_in_metres = d.geometry_in_metres;
    part.skinned = d.carried && d.carried->content.is_object() && d.carried->content.contains("skin");
    if (d.carried) part.carried = std::make_shared<const CarriedNode>(*d.carried);
    parts.push_back(std::move(part));
  }
  return parts;
}

namespace {

// A scene of these parts alone: they get the numbers 1, 2, 3 … in their order, which are also what Part::parent counts.
Scene scene_of(std::vector<Part> parts) {
  Scene scene;
  for (Part& part : parts) scene.add(std::move(part));
  return scene;
}

}  // namespace

Result<Document> document_of(const Delivery& delivery) {
  auto parts = parts_of(delivery);
  if (!parts) return tl::unexpected(parts.error());
  Document document;
  document.settings = delivery.settings;
  document.notes = delivery.notes;
  document.is_document = delivery.is_document;
  document.scene = scene_of(std::move(*parts));
  document.scene.set_carried(delivery.carried);
  document.scene.set_colours(delivery.colours);
  document.scene.set_ties(ties_from_json(delivery.ties, document.scene, document.notes));
  read_planes(delivery.planes, document.scene, document.notes);
  return document;
}

Result<Bring> bring_of(const Delivery& delivery, const std::filesystem::path& path, const Scene& scene) {
  auto parts = parts_of(delivery);
  if (!parts) return tl::unexpected(parts.error());
  if (parts->empty()) return fail("There are no parts in this file.", path.filename().string());
  Bring bring;
  bring.file = path.filename().string();
  bring.path = path.string();
  bring.carried = delivery.carried;
  bring.colours = delivery.colours;
  if (!delivery.ties.empty()) {
    std::vector<std::string> left_out;  // what cannot be read was said when the file was checked
    bring.ties = ties_from_json(delivery.ties, scene_of(*parts), left_out);
  }
  if (delivery.planes.contains("follows")) {
    // The guides go on following what came in with them.
    std::vector<std::string> left_out;
    Scene alone = scene_of(*parts);
    read_planes(Json{{"follows", delivery.planes["follows"]}}, alone, left_out);
    for (std::size_t i = 0; i < parts->size(); ++i) (*parts)[i].law = alone.part(static_cast<PartId>(i + 1)).law;
  }
  if (scene.carried() && delivery.carried) {
    const MergedDocuments merged = merge(*scene.carried(), *delivery.carried);
    bring.carried = merged.document;
    for (NamedColour& colour : bring.colours)
      for (int& material : colour.materials) material += merged.material_offset;
    for (Part& part : *parts) {
      if (part.carried_mesh >= 0) part.carried_mesh += merged.mesh_offset;
      if (!part.carried) continue;
      auto node = std::make_shared<CarriedNode>(*part.carried);
      node->content = shifted_content(std::move(node->content), merged);
      if (node->original >= 0) node->original += merged.node_offset;
      part.carried = std::move(node);
    }
  } else if (!bring.carried) {
    bring.carried = scene.carried();
  }
  bring.parts = std::make_shared<const std::vector<Part>>(std::move(*parts));
  return bring;
}

}  // namespace tack
