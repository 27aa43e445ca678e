#include "core/files/gltf_write_mesh.h"

#include <fmt/format.h>

#include "core/files/gltf_colours.h"
#include "core/files/gltf_mesh.h"
#include "core/files/gltf_node.h"
#include "core/mesh/transform.h"

namespace tack {
namespace {

// Whether a primitive has become one of ours: what has no positions was passed over when it was read.
bool is_read(const Json& primitive) {
  if (!primitive.is_object()) return false;
  if (primitive.contains("extensions") && primitive["extensions"].contains("KHR_draco_mesh_compression")) return true;
  return primitive.contains("attributes") && primitive["attributes"].contains("POSITION");
}

}  // namespace

bool is_written_in_metres(const Part& part) {
  if (!part.geometry_in_metres) return false;
  return part.baked == Affine{} ||
         (part.carried && part.carried->content.is_object() && !part.carried->content.empty());
}

int MeshWriter::add_view(const void* data, std::size_t size, int target) {
  binary_.resize((binary_.size() + 7) / 8 * 8, 0);
  Json view{{"buffer", 0}, {"byteOffset", binary_.size()}, {"byteLength", size}};
  if (target != 0) view["target"] = target;
  const auto* bytes = static_cast<const std::uint8_t*>(data);
  binary_.insert(binary_.end(), bytes, bytes + size);
  json_["bufferViews"].push_back(std::move(view));
  return static_cast<int>(json_["bufferViews"].size()) - 1;
}

int MeshWriter::add_accessor(Json accessor) {
  json_["accessors"].push_back(std::move(accessor));
  return static_cast<int>(json_["accessors"].size()) - 1;
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
    if (keep_materials && !is_read(primitive)) continue;
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

MeshWriter::Written MeshWriter::write_primitive(const Mesh& mesh, const Primitive& p) {
  Written w;
  std::vector<float> positions;
  bool exact = true;
  Vec3 low{INFINITY, INFINITY, INFINITY}, high{-INFINITY, -INFINITY, -INFINITY};
  for (std::uint32_t v = p.first_vertex; v < p.first_vertex + p.vertex_count; ++v)
    for (int i = 0; i < 3; ++i) {
      const double d = mesh.positions()[v][i];
      const auto f = static_cast<float>(d);
      exact &= static_cast<double>(f) == d;
      positions.push_back(f);
      low[i] = std::min(low[i], static_cast<double>(f));
      high[i] = std::max(high[i], static_cast<double>(f));
    }
  const ByteView bytes(reinterpret_cast<const std::uint8_t*>(positions.data()), positions.size() * sizeof(float));
  w.position = add_accessor({{"bufferView", add_view(bytes.data(), bytes.size(), 34962)},
                             {"componentType", 5126},
                             {"count", p.vertex_count},
                             {"type", "VEC3"},
                             {"min", vec_json(low)},
                             {"max", vec_json(high)}});
  if (!exact) {
    w.doubles = add_view(&mesh.positions()[p.first_vertex], p.vertex_count * sizeof(Vec3), 0);
    w.hash = fmt::format("{:016x}", hash_of(bytes));
  }
  if (!mesh.normals().empty()) {
    std::vector<float> normals;
    for (std::uint32_t v = p.first_vertex; v < p.first_vertex + p.vertex_count; ++v) {
      const auto& n = mesh.normals()[v];
      Vec3 unit = normalized({n[0], n[1], n[2]});
      if (unit == Vec3{}) unit = {0, 0, 1};
      for (int i = 0; i < 3; ++i) normals.push_back(static_cast<float>(unit[i]));
    }
    w.normal = add_accessor({{"bufferView", add_view(normals.data(), normals.size() * sizeof(float), 34962)},
                             {"componentType", 5126},
                             {"count", p.vertex_count},
                             {"type", "VEC3"}});
  }
  return w;
}

int MeshWriter::write_indices(const Mesh& mesh, const Primitive& p, std::uint32_t first_vertex) {
  std::vector<std::uint32_t> indices;
  indices.reserve(std::size_t{p.triangle_count} * 3);
  for (std::uint32_t t = p.first_triangle; t < p.first_triangle + p.triangle_count; ++t)
    for (const std::uint32_t v : mesh.triangles()[t]) indices.push_back(v - first_vertex);
  return add_accessor({{"bufferView", add_view(indices.data(), indices.size() * sizeof(std::uint32_t), 34963)},
                       {"componentType", 5125},
                       {"count", indices.size()},
                       {"type", "SCALAR"}});
}

// The number of a mesh that came along with the document, as it is now: as it came; with other colours; apart from its
// former instances; or with what verbs have taken into it.
int MeshWriter::carried_mesh(const Part& part) {
  const bool changed = part.baked != Affine{};
  const bool apart =
      !changed && carried_owner_.try_emplace(part.carried_mesh, part.mesh.get()).first->second != part.mesh.get();
  if (!changed && !apart && !part.recoloured) return part.carried_mesh;
  const auto known = std::find_if(new_meshes_.begin(), new_meshes_.end(),
                                  [&](const NewMesh& m) { return m.carried == part.carried_mesh && m.shows(part); });
  if (known != new_meshes_.end()) return known->number;
  Json mesh = json_["meshes"][static_cast<std::size_t>(part.carried_mesh)];
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
  if (part.recoloured) colour_primitives(mesh, part, true);
  json_["meshes"].push_back(std::move(mesh));
  const int number = static_cast<int>(json_["meshes"].size()) - 1;
  new_meshes_.push_back({part.mesh.get(), part.colours, part.colour_names, number, part.carried_mesh});
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
    p["attributes"]["POSITION"] = add_accessor(std::move(accessor));
  }
  Json result{{"primitives", primitives}};
  if (mesh.contains("extensions") && mesh["extensions"].contains("TACKPOINT_mesh"))
    result["extensions"]["TACKPOINT_mesh"] = mesh["extensions"]["TACKPOINT_mesh"];
  return result;
}

// Writes floats as an accessor with `components` numbers for each element.
int MeshWriter::float_accessor(const std::vector<float>& numbers, int components) {
  constexpr const char* kTypes[] = {"SCALAR", "VEC2", "VEC3", "VEC4"};
  return add_accessor({{"bufferView", add_view(numbers.data(), numbers.size() * sizeof(float), 34962)},
                       {"componentType", 5126},
                       {"count", numbers.size() / static_cast<std::size_t>(components)},
                       {"type", kTypes[components - 1]}});
}

// Directions or offsets of an accessor taken through `map`; the least and greatest are written too, which glTF wants
// for positions. −1 when the accessor cannot be read.
int MeshWriter::mapped_accessor(const Json& number, int components, const Mat3& map, bool unit, bool bounds) {
  if (!number.is_number_unsigned()) return -1;
  const auto numbers = GltfData(json_, binary_).numbers(number.get<std::uint64_t>(), components);
  if (!numbers) return -1;
  std::vector<float> out;
  Box box;
  for (std::size_t i = 0; i + 2 < numbers->size(); i += static_cast<std::size_t>(components)) {
    Vec3 v = map * Vec3{(*numbers)[i], (*numbers)[i + 1], (*numbers)[i + 2]};
    if (unit) v = normalized(v);
    for (int k = 0; k < 3; ++k) out.push_back(static_cast<float>(v[k]));
    box.include(Vec3{double(out[out.size() - 3]), double(out[out.size() - 2]), double(out.back())});
    if (components == 4) out.push_back(static_cast<float>((*numbers)[i + 3]));
  }
  const int accessor = float_accessor(out, components);
  if (bounds) {
    json_["accessors"].back()["min"] = vec_json(box.low);
    json_["accessors"].back()["max"] = vec_json(box.high);
  }
  return accessor;
}

// The geometry of a carried mesh with what verbs have taken into it: positions and normals are the mesh's own now,
// tangents and the offsets of morph targets go through the same map, everything else is as it came.
Json MeshWriter::changed_geometry(const Part& part, const Json& carried) {
  const Mat3 metres = metres_to_millimetres().linear;
  Mat3 map = part.baked.linear;
  if (part.geometry_in_metres) map = map * metres;
  const bool back_to_metres = is_written_in_metres(part);
  MeshPtr mesh = part.mesh;
  if (back_to_metres) {
    const Affine back = *inverse(metres_to_millimetres());
    map = back.linear * map;
    if (auto raw = transformed(*mesh, back)) mesh = *raw;
  }
  Json written = write_geometry(*mesh);
  Json primitives = Json::array();
  std::size_t next = 0;
  for (const Json& old : carried["primitives"]) {
    Json p = old;
    const bool draco = p.contains("extensions") && p["extensions"].contains("KHR_draco_mesh_compression");
    if (!p.contains("attributes") || (!draco && !p["attributes"].contains("POSITION")) ||
        next >= written["primitives"].size()) {
      primitives.push_back(std::move(p));
      continue;
    }
    const Json& fresh = written["primitives"][next++];
    GltfData data(json_, binary_);
    std::vector<std::pair<std::string, PlainAttribute>> decoded;
    if (draco)
      for (const auto& [name, id] : old["attributes"].items())
        if (name != "POSITION" && name != "NORMAL")
          if (auto plain = draco_attribute(old, name, data)) decoded.emplace_back(name, std::move(*plain));
    for (const auto& [name, plain] : decoded) p["attributes"][name] = float_accessor(plain.numbers, plain.components);
    if (draco) {
      p["extensions"].erase("KHR_draco_mesh_compression");
      if (p["extensions"].empty()) p.erase("extensions");
    }
    p["attributes"]["POSITION"] = fresh["attributes"]["POSITION"];
    p["attributes"].erase("NORMAL");
    if (fresh["attributes"].contains("NORMAL")) p["attributes"]["NORMAL"] = fresh["attributes"]["NORMAL"];
    if (fresh.contains("indices")) {
      p["indices"] = fresh["indices"];
      p.erase("mode");  // strips and fans have become triangles
    }
    if (p["attributes"].contains("TANGENT"))
      if (const int tangent = mapped_accessor(p["attributes"]["TANGENT"], 4, map, true, false); tangent >= 0)
        p["attributes"]["TANGENT"] = tangent;
    if (p.contains("targets") && p["targets"].is_array())
      for (Json& target : p["targets"])
        for (const auto& [name, normal] : {std::pair{"POSITION", false}, {"NORMAL", true}, {"TANGENT", false}})
          if (target.is_object() && target.contains(name)) {
            const bool position = std::string_view(name) == "POSITION";
            const int mapped = mapped_accessor(target[name], 3, normal ? normal_map(map) : map, false, position);
            if (mapped >= 0) target[name] = mapped;
          }
    primitives.push_back(std::move(p));
  }
  written["primitives"] = primitives;
  return written;
}

int MeshWriter::new_mesh(const Part& part) {
  const auto known = std::find_if(new_meshes_.begin(), new_meshes_.end(),
                                  [&](const NewMesh& m) { return m.carried < 0 && m.shows(part); });
  if (known != new_meshes_.end()) return known->number;
  const Mesh& mesh = *part.mesh;
  auto geometry = geometry_.find(&mesh);
  if (geometry == geometry_.end()) geometry = geometry_.emplace(&mesh, write_geometry(mesh)).first;
  Json written{{"name", part.name}, {"primitives", geometry->second["primitives"]}};
  colour_primitives(written, part, false);
  if (geometry->second.contains("extensions")) written["extensions"] = geometry->second["extensions"];
  json_["meshes"].push_back(std::move(written));
  const int number = static_cast<int>(json_["meshes"].size()) - 1;
  new_meshes_.push_back({&mesh, part.colours, part.colour_names, number});
  return number;
}

Json MeshWriter::write_geometry(const Mesh& mesh) {
  Json primitives = Json::array(), doubles = Json::array(), hashes = Json::array();
  bool any_doubles = false;
  Written shared;
  std::uint32_t shared_first = 0;
  for (const Primitive& p : mesh.primitives()) {
    // Primitives without vertices of their own (an OBJ with several materials) use those of the first.
    if (p.vertex_count > 0) {
      shared = write_primitive(mesh, p);
      shared_first = p.first_vertex;
    }
    if (shared.position < 0) continue;
    Json primitive{{"attributes", {{"POSITION", shared.position}}}};
    if (shared.normal >= 0) primitive["attributes"]["NORMAL"] = shared.normal;
    if (p.triangle_count > 0)
      primitive["indices"] = write_indices(mesh, p, shared_first);
    else
      primitive["mode"] = 0;
    primitives.push_back(std::move(primitive));
    any_doubles |= shared.doubles >= 0;
    doubles.push_back(shared.doubles >= 0 ? Json(static_cast<unsigned>(shared.doubles)) : Json(nullptr));
    hashes.push_back(shared.hash);
  }
  Json result{{"primitives", primitives}};
  if (any_doubles) result["extensions"] = {{"TACKPOINT_mesh", {{"positions", doubles}, {"hashes", hashes}}}};
  return result;
}

}  // namespace tack
