#include "core/files/gltf_write_mesh.h"

#include <fmt/format.h>

#include "core/files/gltf_colours.h"
#include "core/files/gltf_mesh.h"
#include "core/files/gltf_node.h"
#include "core/mesh/transform.h"

namespace tack {

bool is_changed(const Part& part) {
  return part.source->baked != Affine{} || part.source->lengthened || part.source->edited;
}

bool is_written_in_metres(const Part& part) {
  if (!part.source->geometry_in_metres) return false;
  return !is_changed(part) || (part.carried && part.carried->content.is_object() && !part.carried->content.empty());
}

int MeshWriter::material_of(const Colour& c) {
  const std::array<int, 4> key{static_cast<int>(std::lround(c.r * 255)), static_cast<int>(std::lround(c.g * 255)),
                               static_cast<int>(std::lround(c.b * 255)), static_cast<int>(std::lround(c.a * 255))};
  const auto known = materials_.find(key);
  if (known != materials_.end()) return known->second;
  json_["materials"].push_back(plain_material(fmt::format("Colour {:02x}{:02x}{:02x}", key[0], key[1], key[2]), c));
  return materials_[key] = static_cast<int>(json_["materials"].size()) - 1;
}

std::optional<int> MeshWriter::material_of(const std::string& name) {
  const auto found = std::find_if(colours_.begin(), colours_.end(), [&](const auto& c) { return c.name == name; });
  if (name.empty() || found == colours_.end()) return std::nullopt;
  if (!found->materials.empty()) return found->materials.front();
  int& number = material_named_[static_cast<std::size_t>(found - colours_.begin())];
  if (number < 0) {
    json_["materials"].push_back(plain_material(name, found->colour));
    number = static_cast<int>(json_["materials"].size()) - 1;
  }
  return number;
}

Json MeshWriter::list_of_colours() {
  Json list = Json::array();
  for (const NamedColour& colour : colours_) {
    Json materials = colour.materials;
    if (colour.materials.empty()) materials = Json::array({material_of(colour.name).value_or(0)});
    Json entry{{"name", colour.name}};
    // What the material itself is called, where it is something else: it had no name, or not for itself alone.
    const Json& first = json_["materials"][materials.front().get<std::size_t>()];
    const std::string own = first.contains("name") && first["name"].is_string() ? first["name"].get<std::string>() : "";
    if (own != colour.name) entry["own"] = own;
    entry["materials"] = std::move(materials);
    list.push_back(std::move(entry));
  }
  return list;
}

// The materials of a mesh's primitives, as the part has them. `keep_materials`: of a colour that is on no list only the
// base colour is taken, the rest is that of the material it had.
void MeshWriter::colour_primitives(Json& mesh, const Part& part, bool keep_materials) {
  std::size_t i = 0;
  for (Json& primitive : mesh["primitives"]) {
    if (keep_materials && !has_positions(primitive)) continue;
    const Colour colour = i < part.colours.size() ? part.colours[i] : Colour{};
    const bool named = part.colour_names && i < part.colour_names->size();
    ++i;
    if (const auto number = named ? material_of((*part.colour_names)[i - 1]) : std::nullopt)
      primitive["material"] = *number;
    else if (keep_materials)
      recolour(primitive, colour);
    else
      primitive["material"] = material_of(colour);
  }
}

// The number of a mesh that came along with the document, as it is now: as it came; with other colours; apart from its
// former instances; or with what verbs have taken into it.
int MeshWriter::carried_mesh(const Part& part) {
  // A bent mesh is what its joints make of the one that came, and changes with every pose.
  const bool changed = !part.skin && is_changed(part);
  // So does one that morph targets change at rest: with other weights it is another mesh here, and the same there.
  const Json weights =
      part.carried && part.carried->content.is_object() ? part.carried->content.value("weights", Json()) : Json();
  const auto owner = std::tuple(part.source->carried_mesh, part.source->geometry_in_metres, weights.dump());
  const bool apart =
      !part.skin && !changed && carried_owner_.try_emplace(owner, part.mesh.get()).first->second != part.mesh.get();
  if (!changed && !apart && !part.source->recoloured) return part.source->carried_mesh;
  const auto known = std::find_if(new_meshes_.begin(), new_meshes_.end(), [&](const NewMesh& m) {
    return m.carried == part.source->carried_mesh && m.shows(part);
  });
  if (known != new_meshes_.end()) return known->number;
  Json mesh = json_["meshes"][static_cast<std::size_t>(part.source->carried_mesh)];
  if (changed || apart) {
    auto geometry = geometry_.find(part.mesh.get());
    if (geometry == geometry_.end()) {
      geometry = geometry_.emplace(part.mesh.get(), changed ? changed_geometry(part, mesh) : twin_geometry(mesh)).first;
    }
    mesh["primitives"] = geometry->second["primitives"];
    if (mesh.contains("extensions")) mesh["extensions"].erase("TACKPOINT_mesh");
    if (geometry->second.contains("extensions"))
      mesh["extensions"]["TACKPOINT_mesh"] = geometry->second["extensions"]["TACKPOINT_mesh"];
    if (mesh.contains("extensions") && mesh["extensions"].empty()) mesh.erase("extensions");
  }
  if (part.source->recoloured) colour_primitives(mesh, part, true);
  json_["meshes"].push_back(std::move(mesh));
  const int number = static_cast<int>(json_["meshes"].size()) - 1;
  new_meshes_.push_back({part.mesh.get(), part.colours, part.colour_names, number, part.source->carried_mesh});
  return number;
}

// The material with another base colour: everything else of it stays.
void MeshWriter::recolour(Json& primitive, const Colour& c) {
  const auto number = unsigned_at(primitive, "material", ~0ull >> 1);
  if (!number || *number >= json_["materials"].size()) {
    primitive["material"] = material_of(c);
    return;
  }
  Json material = json_["materials"][*number];
  set_base_colour(material, c);
  const auto same = std::find(json_["materials"].begin(), json_["materials"].end(), material);
  primitive["material"] = static_cast<int>(same - json_["materials"].begin());
  if (same == json_["materials"].end()) json_["materials"].push_back(std::move(material));
}

// The same bytes under accessors of their own: a mesh that is no longer linked with the one it was copied from.
Json MeshWriter::twin_geometry(const Json& mesh) {
  Json primitives = mesh["primitives"];
  for (Json& p : primitives) {
    if (!p.is_object() || !p.contains("attributes")) continue;
    const auto position = unsigned_at(p["attributes"], "POSITION", ~0ull >> 1);
    if (!position || *position >= json_["accessors"].size()) continue;
    Json accessor = json_["accessors"][*position];
    // A view of its own over the same bytes: two accessors of one view would need a stride.
    if (const auto old = unsigned_at(accessor, "bufferView", ~0ull >> 1); old && *old < json_["bufferViews"].size()) {
      Json copy = json_["bufferViews"][*old];
      json_["bufferViews"].push_back(std::move(copy));
      accessor["bufferView"] = json_["bufferViews"].size() - 1;
    }
    p["attributes"]["POSITION"] = arrays_.accessor(std::move(accessor));
  }
  Json result{{"primitives", primitives}};
  if (mesh.contains("extensions") && mesh["extensions"].contains("TACKPOINT_mesh"))
    result["extensions"]["TACKPOINT_mesh"] = mesh["extensions"]["TACKPOINT_mesh"];
  return result;
}

// Directions or offsets of an accessor taken through `map`; the least and greatest are written too, which glTF wants
// for positions. The fourth number, a tangent's handedness, changes sign under a mirror. −1 when the accessor cannot be
// read.
int MeshWriter::mapped_accessor(const Json& number, int components, const Mat3& map, bool unit, bool bounds) {
  if (!number.is_number_integer() || number.get<std::int64_t>() < 0) return -1;
  const auto numbers = GltfData(json_, binary_).numbers(number.get<std::uint64_t>(), components);
  if (!numbers) return -1;
  const float hand = determinant(map) < 0 ? -1.0f : 1.0f;
  std::vector<float> out;
  Box box;
  for (std::size_t i = 0; i + 2 < numbers->size(); i += static_cast<std::size_t>(components)) {
    Vec3 v = map * Vec3{(*numbers)[i], (*numbers)[i + 1], (*numbers)[i + 2]};
    if (unit) v = normalized(v);
    for (int k = 0; k < 3; ++k) out.push_back(static_cast<float>(v[k]));
    box.include(Vec3{double(out[out.size() - 3]), double(out[out.size() - 2]), double(out.back())});
    if (components == 4) out.push_back(static_cast<float>((*numbers)[i + 3]) * hand);
  }
  const int accessor = arrays_.floats(out, components);
  if (bounds) {
    json_["accessors"].back()["min"] = vec_json(box.low);
    json_["accessors"].back()["max"] = vec_json(box.high);
  }
  return accessor;
}

// The offsets of a morph target to a direction: taken through `map`, and by as much shorter as that makes the direction
// itself longer. −1 when they cannot be read.
int MeshWriter::mapped_offsets(const Json& primitive, const char* name, int components, const Json& number,
                               const Mat3& map) {
  if (!number.is_number_integer() || number.get<std::int64_t>() < 0) return -1;
  GltfData data(json_, binary_);
  const auto offsets = data.numbers(number.get<std::uint64_t>(), 3);
  const auto base = attribute_numbers(primitive, name, components, data);
  const auto width = static_cast<std::size_t>(components);
  if (!offsets || !base || offsets->size() / 3 != base->size() / width) return -1;
  std::vector<float> out;
  out.reserve(offsets->size());
  for (std::size_t v = 0; v < offsets->size() / 3; ++v) {
    const double longer = length(map * Vec3{(*base)[v * width], (*base)[v * width + 1], (*base)[v * width + 2]});
    const Vec3 offset = map * Vec3{(*offsets)[v * 3], (*offsets)[v * 3 + 1], (*offsets)[v * 3 + 2]};
    for (int i = 0; i < 3; ++i) out.push_back(static_cast<float>(longer > 0 ? offset[i] / longer : offset[i]));
  }
  return arrays_.floats(out, 3);
}

// The offsets of a morph target's positions after its mesh has been made longer: where each place goes with the offset,
// less where it goes without. −1 when they cannot be read.
int MeshWriter::lengthened_offsets(const Part& part, const Json& primitive, const Json& number, bool back_to_metres) {
  if (!number.is_number_integer() || number.get<std::int64_t>() < 0) return -1;
  GltfData data(json_, binary_);
  const auto offsets = data.numbers(number.get<std::uint64_t>(), 3);
  const auto base = attribute_numbers(primitive, "POSITION", 3, data);
  if (!offsets || !base || offsets->size() != base->size()) return -1;
  const Affine metres = part.source->geometry_in_metres ? metres_to_millimetres() : Affine{};
  const Mat3 back = back_to_metres ? inverse(metres_to_millimetres())->linear : Mat3{};
  const auto goes = [&](Vec3 p) {
    p = metres * p;
    for (const Lengthening& l : *part.source->lengthened) p = lengthened(l, p);
    return part.source->baked * p;
  };
  std::vector<float> out;
  Box box;
  for (std::size_t i = 0; i + 2 < offsets->size(); i += 3) {
    const Vec3 p{(*base)[i], (*base)[i + 1], (*base)[i + 2]}, o{(*offsets)[i], (*offsets)[i + 1], (*offsets)[i + 2]};
    const Vec3 v = back * (goes(p + o) - goes(p));
    for (int k = 0; k < 3; ++k) out.push_back(static_cast<float>(v[k]));
    box.include(Vec3{double(out[i]), double(out[i + 1]), double(out[i + 2])});
  }
  const int accessor = arrays_.floats(out, 3);
  json_["accessors"].back()["min"] = vec_json(box.low);
  json_["accessors"].back()["max"] = vec_json(box.high);
  return accessor;
}

// Tangents laid square to the normals of a primitive that is being written: these have turned with faces that lean
// otherwise now.
int MeshWriter::tangents_square_to_normals(int tangents, const Json& primitive) {
  if (!primitive["attributes"].contains("NORMAL")) return tangents;
  GltfData data(json_, binary_);
  const auto normals = attribute_numbers(primitive, "NORMAL", 3, data);
  const auto numbers = data.numbers(static_cast<std::uint64_t>(tangents), 4);
  if (!normals || !numbers || numbers->size() / 4 != normals->size() / 3) return tangents;
  std::vector<float> out;
  out.reserve(numbers->size());
  for (std::size_t v = 0; v < numbers->size() / 4; ++v) {
    const Vec3 n{(*normals)[v * 3], (*normals)[v * 3 + 1], (*normals)[v * 3 + 2]},
        t{(*numbers)[v * 4], (*numbers)[v * 4 + 1], (*numbers)[v * 4 + 2]};
    const Vec3 flat = normalized(t - n * dot(n, t));
    const Vec3 laid = length(flat) > 0 ? flat : t;
    for (int k = 0; k < 3; ++k) out.push_back(static_cast<float>(laid[k]));
    out.push_back(static_cast<float>((*numbers)[v * 4 + 3]));
  }
  return arrays_.floats(out, 4);
}

// Directions of a primitive, compressed or not, taken through `map`; −1 when they cannot be read.
int MeshWriter::mapped_directions(const Json& primitive, const char* name, const Mat3& map) {
  GltfData data(json_, binary_);
  const auto base = attribute_numbers(primitive, name, 3, data);
  if (!base) return -1;
  std::vector<float> out;
  out.reserve(base->size());
  for (std::size_t v = 0; v + 2 < base->size(); v += 3) {
    const Vec3 turned = normalized(map * Vec3{(*base)[v], (*base)[v + 1], (*base)[v + 2]});
    for (int i = 0; i < 3; ++i) out.push_back(static_cast<float>(turned[i]));
  }
  return arrays_.floats(out, 3);
}

// An attribute that was compressed, as an accessor of its own with the same type; −1 when it cannot be read.
int MeshWriter::unpacked_accessor(const Json& primitive, const std::string& name) {
  const Json& number = primitive["attributes"][name];
  if (!number.is_number_integer() || number.get<std::int64_t>() < 0) return -1;
  GltfData data(json_, binary_);
  const Json* known = data.accessor(number.get<std::uint64_t>());
  if (!known) return -1;
  Json accessor = *known;
  const auto plain = draco_attribute(primitive, name, accessor, data);
  if (!plain) return -1;
  accessor["bufferView"] = arrays_.view(plain->bytes, 34962);
  const std::size_t packed = component_size(accessor.value("componentType", std::uint64_t{5126})) *
                             static_cast<std::size_t>(components_of(accessor.value("type", std::string{})));
  if (plain->stride != packed) json_["bufferViews"].back()["byteStride"] = plain->stride;
  accessor["count"] = plain->count;
  accessor.erase("byteOffset");
  return arrays_.accessor(std::move(accessor));
}

// The geometry of a carried mesh with what verbs have taken into it: positions and normals are the mesh's own now,
// tangents and the offsets of morph targets go through the same map, everything else is as it came.
Json MeshWriter::changed_geometry(const Part& part, const Json& carried) {
  const Mat3 metres = metres_to_millimetres().linear;
  Mat3 map = part.source->baked.linear;
  if (part.source->geometry_in_metres) map = map * metres;
  const bool back_to_metres = is_written_in_metres(part);
  MeshPtr mesh = part.mesh;
  if (back_to_metres) {
    const Affine back = *inverse(metres_to_millimetres());
    map = back.linear * map;
    if (auto raw = transformed(*mesh, back)) mesh = *raw;
  }
  // Morph targets add to what the file has; what they add at rest is in the mesh, and comes out of it again.
  const Json node = part.carried ? part.carried->content : Json::object();
  const std::vector<double> weights = morph_weights(node, carried);
  Json primitives = Json::array();
  std::vector<Json> targets_of;
  for (const Json& old : carried["primitives"]) {
    Json targets = old.contains("targets") && old["targets"].is_array() ? old["targets"] : Json::array();
    if (!has_positions(old)) continue;
    for (Json& target : targets) {
      if (!target.is_object()) continue;
      if (target.contains("POSITION"))
        if (const int mapped = part.source->lengthened
                                   ? lengthened_offsets(part, old, target["POSITION"], back_to_metres)
                                   : mapped_accessor(target["POSITION"], 3, map, false, true);
            mapped >= 0)
          target["POSITION"] = mapped;
      // Offsets of directions are to directions that have unit length afterwards.
      if (target.contains("NORMAL"))
        if (const int mapped = mapped_offsets(old, "NORMAL", 3, target["NORMAL"], normal_map(map)); mapped >= 0)
          target["NORMAL"] = mapped;
      if (target.contains("TANGENT"))
        if (const int mapped = mapped_offsets(old, "TANGENT", 4, target["TANGENT"], map); mapped >= 0)
          target["TANGENT"] = mapped;
    }
    targets_of.push_back(targets);
  }
  if (!weights.empty())
    if (auto base = without_morphs(*mesh, targets_of, weights)) mesh = *base;
  Json written = write_geometry(mesh);
  std::size_t next = 0;
  for (const Json& old : carried["primitives"]) {
    Json p = old;
    if (!has_positions(p) || next >= written["primitives"].size()) {
      primitives.push_back(std::move(p));
      continue;
    }
    if (!targets_of[next].empty()) p["targets"] = targets_of[next];
    const Json& fresh = written["primitives"][next++];
    if (is_draco(old)) {
      for (const auto& [name, id] : old["attributes"].items())
        if (name != "POSITION" && name != "NORMAL")
          if (const int plain = unpacked_accessor(old, name); plain >= 0) p["attributes"][name] = plain;
      p["extensions"].erase("KHR_draco_mesh_compression");
      if (p["extensions"].empty()) p.erase("extensions");
    }
    p["attributes"]["POSITION"] = fresh["attributes"]["POSITION"];
    p["attributes"].erase("NORMAL");
    if (fresh["attributes"].contains("NORMAL")) p["attributes"]["NORMAL"] = fresh["attributes"]["NORMAL"];
    if (!weights.empty() && old["attributes"].contains("NORMAL"))
      if (const int normal = mapped_directions(old, "NORMAL", normal_map(map)); normal >= 0)
        p["attributes"]["NORMAL"] = normal;
    if (fresh.contains("indices")) {
      p["indices"] = fresh["indices"];
      p.erase("mode");  // strips and fans have become triangles
    }
    if (p["attributes"].contains("TANGENT"))
      if (const int tangent = mapped_accessor(p["attributes"]["TANGENT"], 4, map, true, false); tangent >= 0)
        p["attributes"]["TANGENT"] =
            part.source->lengthened || part.source->edited ? tangents_square_to_normals(tangent, p) : tangent;
    primitives.push_back(std::move(p));
  }
  written["primitives"] = primitives;
  return written;
}

// The mesh with what its morph targets add at rest taken out, by the very floats that were written of them, and without
// normals, which those have bent.
std::optional<MeshPtr> MeshWriter::without_morphs(const Mesh& mesh, const std::vector<Json>& targets,
                                                  const std::vector<double>& weights) {
  MeshData data;
  data.positions.assign(mesh.positions().begin(), mesh.positions().end());
  data.triangles.assign(mesh.triangles().begin(), mesh.triangles().end());
  data.primitives.assign(mesh.primitives().begin(), mesh.primitives().end());
  for (std::size_t p = 0; p < std::min(targets.size(), data.primitives.size()); ++p)
    for (std::size_t t = 0; t < std::min(weights.size(), targets[p].size()); ++t) {
      if (weights[t] == 0 || !targets[p][t].is_object() || !targets[p][t].contains("POSITION")) continue;
      const auto added = GltfData(json_, binary_).numbers(targets[p][t]["POSITION"].get<std::uint64_t>(), 3);
      const std::uint32_t first = data.primitives[p].first_vertex;
      if (!added || added->size() != std::size_t{data.primitives[p].vertex_count} * 3) return std::nullopt;
      for (std::size_t v = 0; v < added->size() / 3; ++v)
        for (int i = 0; i < 3; ++i)
          data.positions[first + v][i] -= weights[t] * (*added)[v * 3 + static_cast<std::size_t>(i)];
    }
  auto made = make_mesh(std::move(data));
  return made ? std::optional(*made) : std::nullopt;
}

int MeshWriter::new_mesh(const Part& part) {
  const auto known = std::find_if(new_meshes_.begin(), new_meshes_.end(),
                                  [&](const NewMesh& m) { return m.carried < 0 && m.shows(part); });
  if (known != new_meshes_.end()) return known->number;
  const Mesh& mesh = *part.mesh;
  auto geometry = geometry_.find(&mesh);
  if (geometry == geometry_.end()) geometry = geometry_.emplace(&mesh, write_geometry(part.mesh)).first;
  Json written{{"name", part.name}, {"primitives", geometry->second["primitives"]}};
  colour_primitives(written, part, false);
  if (geometry->second.contains("extensions")) written["extensions"] = geometry->second["extensions"];
  json_["meshes"].push_back(std::move(written));
  const int number = static_cast<int>(json_["meshes"].size()) - 1;
  new_meshes_.push_back({&mesh, part.colours, part.colour_names, number});
  return number;
}

// The mesh's arrays stay where they are: a heavy document is not in memory twice while it is written.
Json MeshWriter::write_geometry(const MeshPtr& held) {
  const Mesh& mesh = *held;
  Json geometry = geometry_of(arrays_, mesh.positions(), mesh.triangles(), mesh.normals(), mesh.primitives(), {}, held);
  // A line is its segments, in turn.
  if (mesh.known() && !mesh.known()->lines.empty()) {
    std::vector<std::uint32_t> ends;
    for (const auto& line : mesh.known()->lines) ends.insert(ends.end(), line.begin(), line.end());
    geometry["primitives"][0]["mode"] = 1;
    geometry["primitives"][0]["indices"] = arrays_.indices(ends);
  }
  return geometry;
}

}  // namespace tack
