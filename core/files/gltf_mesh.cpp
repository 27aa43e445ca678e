#include "core/files/gltf_mesh.h"

#include <draco/compression/decode.h>
#include <fmt/format.h>

#include "core/files/gltf_colours.h"

namespace tack {
namespace {

Colour colour_of(const Json& json, const Json& primitive) {
  const auto material = unsigned_at(primitive, "material", kNoNumber);
  if (!material || !json.contains("materials") || *material >= json["materials"].size()) return {};
  return colour_of_material(json["materials"][*material]);
}

using Numbers = std::vector<double>;

// Reads the attributes of one primitive, from accessors or from what Draco packed.
class Attributes {
 public:
  Attributes(const Json& primitive, GltfData& data) : primitive_(primitive), data_(data) {}

  Result<void> open() {
    if (!is_draco(primitive_)) return {};
    extension_ = &primitive_["extensions"]["KHR_draco_mesh_compression"];
    const auto number = unsigned_at(*extension_, "bufferView", kNoNumber);
    if (!number) return fail("The compressed geometry is damaged.");
    const auto bytes = data_.view(*number);
    if (!bytes) return tl::unexpected(bytes.error());
    draco::DecoderBuffer buffer;
    buffer.Init(reinterpret_cast<const char*>(bytes->data()), bytes->size());
    draco::Decoder decoder;
    auto decoded = decoder.DecodeMeshFromBuffer(&buffer);
    if (!decoded.ok()) return fail("The compressed geometry cannot be decoded.");
    draco_ = std::move(decoded).value();
    return data_.spend_packed(std::uint64_t{draco_->num_points()} * 24 + std::uint64_t{draco_->num_faces()} * 12,
                              bytes->size());
  }

  bool has(const char* name) const { return primitive_["attributes"].contains(name); }

  // Empty when the primitive has no such attribute.
  Result<Numbers> numbers(const char* name, int components) {
    if (!has(name)) return Numbers{};
    // Valid by the standard, and written: an attribute that stands beside the compressed ones.
    if (const draco::PointAttribute* packed = packed_attribute(name)) {
      if (packed->num_components() != components)
        return fail(fmt::format("The compressed geometry has no proper {}.", name));
      Numbers out(std::size_t{draco_->num_points()} * static_cast<std::size_t>(components));
      for (draco::PointIndex i(0); i < draco_->num_points(); ++i)
        if (!packed->ConvertValue<double>(packed->mapped_index(i), static_cast<std::int8_t>(components),
                                          out.data() + std::size_t{i.value()} * static_cast<std::size_t>(components)))
          return fail("The compressed geometry is damaged.");
      // Whether integers stand for fractions is said by the accessor; the compressed copy of that is often forgotten.
      const auto number = unsigned_at(primitive_["attributes"], name, kNoNumber);
      const Json* accessor = number ? data_.accessor(*number) : nullptr;
      if (accessor && accessor->value("normalized", false) && !packed->normalized()) {
        const double full = full_scale(unsigned_at(*accessor, "componentType", 0).value_or(0));
        for (double& v : out) v = std::max(v / full, -1.0);
      }
      return out;
    }
    const auto number = unsigned_at(primitive_["attributes"], name, kNoNumber);
    if (!number) return fail(fmt::format("The {} of a primitive is damaged.", name));
    return data_.numbers(*number, components);
  }

  // The same for three components, put behind what is in `out`.
  Result<void> vectors(const char* name, std::vector<Vec3>& out) {
    if (!has(name)) return {};
    if (!packed_attribute(name))
      if (const auto number = unsigned_at(primitive_["attributes"], name, kNoNumber))
        return data_.vectors(*number, out);
    const auto values = numbers(name, 3);
    if (!values) return tl::unexpected(values.error());
    out.reserve(out.size() + values->size() / 3);
    for (std::size_t i = 0; i + 2 < values->size(); i += 3)
      out.push_back({(*values)[i], (*values)[i + 1], (*values)[i + 2]});
    return {};
  }

  // Whether the corners of triangles are listed plainly, and their accessor.
  std::optional<std::uint64_t> plain_indices() const {
    if (draco_ || !primitive_.contains("indices")) return std::nullopt;
    return unsigned_at(primitive_, "indices", kNoNumber);
  }

  // The order of the corners; nullopt when they simply follow each other.
  Result<std::optional<std::vector<std::uint32_t>>> indices() {
    if (draco_) {
      std::vector<std::uint32_t> order;
      order.reserve(std::size_t{draco_->num_faces()} * 3);
      for (draco::FaceIndex f(0); f < draco_->num_faces(); ++f)
        for (const auto& p : draco_->face(f)) order.push_back(p.value());
      return std::optional(std::move(order));
    }
    if (!primitive_.contains("indices")) return std::optional<std::vector<std::uint32_t>>();
    const auto number = unsigned_at(primitive_, "indices", kNoNumber);
    if (!number) return fail("The indices of a primitive are damaged.");
    auto order = data_.indices(*number);
    if (!order) return tl::unexpected(order.error());
    return std::optional(std::move(*order));
  }

 private:
  const draco::PointAttribute* packed_attribute(const char* name) const {
    if (!draco_ || !extension_->contains("attributes") || !(*extension_)["attributes"].contains(name)) return nullptr;
    const auto id = unsigned_at((*extension_)["attributes"], name, kNoNumber);
    return id && *id <= 0xFFFFFFFF ? draco_->GetAttributeByUniqueId(static_cast<std::uint32_t>(*id)) : nullptr;
  }

  const Json& primitive_;
  GltfData& data_;
  const Json* extension_ = nullptr;
  std::unique_ptr<draco::Mesh> draco_;
};

// Puts the positions in double that stand beside a primitive in place of the floats, if they are there and the floats
// were not changed since.
void take_doubles(const Json& mesh, std::size_t primitive, GltfData& data, std::span<Vec3> positions) {
  if (!mesh.contains("extensions") || !mesh["extensions"].contains("TACKPOINT_mesh")) return;
  const Json& e = mesh["extensions"]["TACKPOINT_mesh"];
  if (!e.contains("positions") || !e.contains("hashes") || primitive >= e["positions"].size() ||
      primitive >= e["hashes"].size() || !e["positions"][primitive].is_number_integer() ||
      !e["hashes"][primitive].is_string())
    return;
  std::vector<float> narrow;
  narrow.reserve(positions.size() * 3);
  for (const Vec3& p : positions)
    for (int i = 0; i < 3; ++i) narrow.push_back(static_cast<float>(p[i]));
  const ByteView narrow_bytes(reinterpret_cast<const std::uint8_t*>(narrow.data()), narrow.size() * sizeof(float));
  if (fmt::format("{:016x}", hash_of(narrow_bytes)) != e["hashes"][primitive].get<std::string>()) return;
  const auto bytes = data.view(e["positions"][primitive].get<std::uint64_t>());
  if (!bytes || bytes->size() != positions.size_bytes() || positions.empty()) return;
  std::memcpy(positions.data(), bytes->data(), bytes->size());
}

// Adds what the morph targets at rest add to an attribute.
Result<void> morph(const Json& primitive, const char* name, const std::vector<double>& weights, GltfData& data,
                   std::span<Vec3> values) {
  if (!primitive.contains("targets") || !primitive["targets"].is_array()) return {};
  for (std::size_t t = 0; t < std::min(weights.size(), primitive["targets"].size()); ++t) {
    const Json& target = primitive["targets"][t];
    if (weights[t] == 0 || !target.is_object() || !target.contains(name)) continue;
    const auto number = unsigned_at(target, name, kNoNumber);
    if (!number) return fail("A morph target is damaged.");
    std::vector<Vec3> offsets;
    if (auto ok = data.vectors(*number, offsets); !ok) return ok;
    if (offsets.size() != values.size()) return fail("A morph target has not as many vertices as its mesh.");
    for (std::size_t i = 0; i < values.size(); ++i) values[i] += offsets[i] * weights[t];
  }
  return {};
}

void add_triangles(const std::vector<std::uint32_t>* indices, std::size_t count, std::uint64_t mode,
                   std::uint32_t first, std::vector<Triangle>& out) {
  const std::size_t n = indices ? indices->size() : count;
  const auto at = [&](std::size_t i) { return (indices ? (*indices)[i] : static_cast<std::uint32_t>(i)) + first; };
  if (mode == 4) out.reserve(out.size() + n / 3);
  if (mode == 4)
    for (std::size_t i = 0; i + 2 < n; i += 3) out.push_back({at(i), at(i + 1), at(i + 2)});
  if (mode == 5)
    for (std::size_t i = 0; i + 2 < n; ++i)
      i % 2 == 0 ? out.push_back({at(i), at(i + 1), at(i + 2)}) : out.push_back({at(i + 1), at(i), at(i + 2)});
  if (mode == 6)
    for (std::size_t i = 1; i + 1 < n; ++i) out.push_back({at(0), at(i), at(i + 1)});
}

// What joints have of the vertices of one primitive, behind those of the ones before.
Result<void> read_joints(Attributes& attributes, std::size_t count, GltfMesh& mesh) {
  std::vector<Numbers> joints, weights;
  for (int set = 0; attributes.has(fmt::format("JOINTS_{}", set).c_str()); ++set) {
    auto j = attributes.numbers(fmt::format("JOINTS_{}", set).c_str(), 4);
    auto w = attributes.numbers(fmt::format("WEIGHTS_{}", set).c_str(), 4);
    if (!j) return tl::unexpected(j.error());
    if (!w) return tl::unexpected(w.error());
    if (j->size() != count * 4 || w->size() != count * 4) return fail("The joints of a primitive are damaged.");
    joints.push_back(std::move(*j));
    weights.push_back(std::move(*w));
  }
  for (std::size_t v = 0; v < count; ++v) {
    for (std::size_t set = 0; set < joints.size(); ++set)
      for (std::size_t k = v * 4; k < v * 4 + 4; ++k) {
        if (weights[set][k] == 0) continue;
        if (!(joints[set][k] >= 0 && joints[set][k] < 65536) || !std::isfinite(weights[set][k]))
          return fail("A vertex names a joint that cannot be.");
        mesh.influences.push_back({static_cast<std::uint32_t>(joints[set][k]), static_cast<float>(weights[set][k])});
      }
    mesh.first.push_back(static_cast<std::uint32_t>(mesh.influences.size()));
  }
  return {};
}

}  // namespace

bool is_draco(const Json& primitive) {
  return primitive.is_object() && primitive.contains("extensions") && primitive["extensions"].is_object() &&
         primitive["extensions"].contains("KHR_draco_mesh_compression");
}

bool has_positions(const Json& primitive) {
  return primitive.is_object() && primitive.contains("attributes") && primitive["attributes"].is_object() &&
         primitive["attributes"].contains("POSITION");
}

std::vector<double> morph_weights(const Json& node, const Json& mesh) {
  const Json* list = nullptr;
  for (const Json* owner : {&mesh, &node})
    if (owner->is_object() && owner->contains("weights") && (*owner)["weights"].is_array()) list = &(*owner)["weights"];
  std::vector<double> weights;
  bool any = false;
  if (list)
    for (const Json& w : *list) {
      weights.push_back(w.is_number() && std::isfinite(w.get<double>()) ? w.get<double>() : 0);
      any |= weights.back() != 0;
    }
  return any ? weights : std::vector<double>{};
}

Result<std::vector<double>> attribute_numbers(const Json& primitive, const char* name, int components, GltfData& data) {
  Attributes attributes(primitive, data);
  if (const auto ok = attributes.open(); !ok) return tl::unexpected(ok.error());
  return attributes.numbers(name, components);
}

Result<PlainAttribute> draco_attribute(const Json& primitive, const std::string& name, const Json& accessor,
                                       GltfData& data) {
  Attributes attributes(primitive, data);
  if (const auto ok = attributes.open(); !ok) return tl::unexpected(ok.error());
  const int components = components_of(accessor.value("type", std::string{}));
  if (components == 0) return fail(fmt::format("The accessor of {} is damaged.", name));
  const auto numbers = attributes.numbers(name.c_str(), components);
  if (!numbers) return tl::unexpected(numbers.error());
  const auto type = unsigned_at(accessor, "componentType", 5126).value_or(5126);
  const bool normalized = accessor.value("normalized", false);
  const auto width = static_cast<std::size_t>(components);
  const std::size_t size = component_size(type);
  if (size == 0) return fail(fmt::format("The accessor of {} is damaged.", name));
  PlainAttribute plain;
  plain.stride = (size * width + 3) / 4 * 4;
  plain.count = numbers->size() / width;
  plain.bytes.resize(plain.stride * plain.count);
  for (std::size_t i = 0; i < plain.count; ++i)
    for (std::size_t c = 0; c < width; ++c)
      put_component(plain.bytes.data() + i * plain.stride + c * size, type, (*numbers)[i * width + c], normalized);
  return plain;
}

std::string mesh_name(const Json& json, std::size_t number) {
  const Json& mesh = json["meshes"][number];
  if (mesh.is_object() && mesh.contains("name") && mesh["name"].is_string() &&
      !mesh["name"].get_ref<const std::string&>().empty())
    return mesh["name"].get<std::string>();
  return fmt::format("Mesh {}", number);
}

Result<GltfMesh> read_gltf_mesh(const Json& json, GltfData& data, std::size_t number,
                                const std::vector<double>& weights, bool with_joints) {
  const Json& mesh = json["meshes"][number];
  const auto bad = [&](const std::string& what) { return fail(what, mesh_name(json, number)); };
  if (!mesh.is_object() || !mesh.contains("primitives") || !mesh["primitives"].is_array())
    return bad("The mesh has no primitives.");
  GltfMesh result;
  if (with_joints) result.first.push_back(0);
  bool all_normals = true;
  const Json* shared = nullptr;  // the attributes whose vertices were read last
  std::uint32_t first = 0;
  std::size_t count = 0;
  for (std::size_t i = 0; i < mesh["primitives"].size(); ++i) {
    const Json& primitive = mesh["primitives"][i];
    if (!primitive.is_object() || !primitive.contains("attributes") || !primitive["attributes"].is_object())
      return bad(fmt::format("Primitive {} is damaged.", i));
    const auto mode = unsigned_at(primitive, "mode", 4);
    if (!mode || *mode > 6) return bad(fmt::format("Primitive {} has an unknown mode.", i));
    if (!has_positions(primitive)) continue;  // allowed, and shows nothing
    Attributes attributes(primitive, data);
    if (const auto ok = attributes.open(); !ok) return bad(sentence(ok.error()));
    const bool again = shared && !is_draco(primitive) && *shared == primitive["attributes"] && weights.empty();
    if (!again) {
      first = static_cast<std::uint32_t>(result.data.positions.size());
      if (const auto ok = attributes.vectors("POSITION", result.data.positions); !ok) return bad(sentence(ok.error()));
      if (result.data.positions.size() > 0xFFFFFFF0u) return bad("The mesh has too many vertices.");
      const auto positions = std::span(result.data.positions).subspan(first);
      count = positions.size();
      take_doubles(mesh, i, data, positions);
      if (const auto ok = morph(primitive, "POSITION", weights, data, positions); !ok) return bad(sentence(ok.error()));
      std::vector<Vec3> normals;
      if (all_normals)
        if (const auto ok = attributes.vectors("NORMAL", normals); !ok) return bad(sentence(ok.error()));
      all_normals &= normals.size() == count;
      if (all_normals) {
        if (const auto ok = morph(primitive, "NORMAL", weights, data, normals); !ok) return bad(sentence(ok.error()));
        result.data.normals.reserve(first + count);
        for (const Vec3& n : normals)
          result.data.normals.push_back({static_cast<float>(n.x), static_cast<float>(n.y), static_cast<float>(n.z)});
      }
      if (with_joints)
        if (const auto ok = read_joints(attributes, count, result); !ok) return bad(sentence(ok.error()));
      shared = &primitive["attributes"];
    }
    const auto first_triangle = static_cast<std::uint32_t>(result.data.triangles.size());
    if (const auto plain = attributes.plain_indices(); plain && *mode == 4) {
      if (const auto ok = data.triangles(*plain, first, count, result.data.triangles); !ok)
        return bad(fmt::format("Primitive {}: {}", i, sentence(ok.error())));
    } else {
      const auto indices = attributes.indices();
      if (!indices) return bad(sentence(indices.error()));
      if (*indices)
        for (const std::uint32_t v : **indices)
          if (v >= count) return bad(fmt::format("Primitive {} names vertex {}, but there are {}.", i, v, count));
      add_triangles(*indices ? &**indices : nullptr, count, *mode, first, result.data.triangles);
    }
    const auto vertices = static_cast<std::uint32_t>(result.data.positions.size());
    result.data.primitives.push_back({again ? vertices : first, again ? 0 : static_cast<std::uint32_t>(count),
                                      first_triangle,
                                      static_cast<std::uint32_t>(result.data.triangles.size()) - first_triangle});
    result.colours.push_back(colour_of(json, primitive));
    const auto material = unsigned_at(primitive, "material", kNoNumber);
    result.materials.push_back(material && *material < 1u << 30 ? static_cast<int>(*material) : -1);
  }
  if (!all_normals) result.data.normals.clear();
  return result;
}

}  // namespace tack
