#include "core/files/gltf_mesh.h"

#include <draco/compression/decode.h>
#include <fmt/format.h>

#include "core/files/gltf_colours.h"

namespace tack {
namespace {

Colour colour_of(const Json& json, const Json& primitive) {
  const auto material = unsigned_at(primitive, "material", ~0ull >> 1);
  if (!material || !json.contains("materials") || *material >= json["materials"].size()) return {};
  return colour_of_material(json["materials"][*material]);
}

// The raw numbers of one primitive before it is put into the mesh.
struct RawPrimitive {
  std::vector<double> positions, normals;
  std::vector<std::uint32_t> indices;
  bool indexed = false;
};

Result<std::unique_ptr<draco::Mesh>> decode_draco(const Json& extension, GltfData& data) {
  const auto number = unsigned_at(extension, "bufferView", ~0ull >> 1);
  if (!number) return fail("The compressed geometry is damaged.");
  const auto bytes = data.view(*number);
  if (!bytes) return tl::unexpected(bytes.error());
  draco::DecoderBuffer buffer;
  buffer.Init(reinterpret_cast<const char*>(bytes->data()), bytes->size());
  draco::Decoder decoder;
  auto decoded = decoder.DecodeMeshFromBuffer(&buffer);
  if (!decoded.ok()) return fail("The compressed geometry cannot be decoded.");
  return std::move(decoded).value();
}

Result<RawPrimitive> read_draco(const Json& extension, GltfData& data) {
  const auto decoded = decode_draco(extension, data);
  if (!decoded) return tl::unexpected(decoded.error());
  const std::unique_ptr<draco::Mesh>& mesh = *decoded;
  RawPrimitive raw;
  raw.indexed = true;
  const auto attribute = [&](const char* name, std::vector<double>& out) -> Result<void> {
    if (!extension.contains("attributes") || !extension["attributes"].contains(name)) return {};
    const auto id = unsigned_at(extension["attributes"], name, 0);
    const draco::PointAttribute* a = id ? mesh->GetAttributeByUniqueId(static_cast<std::uint32_t>(*id)) : nullptr;
    if (!a || a->num_components() != 3) return fail(fmt::format("The compressed geometry has no proper {}.", name));
    out.resize(std::size_t{mesh->num_points()} * 3);
    for (draco::PointIndex i(0); i < mesh->num_points(); ++i) {
      std::array<double, 3> v{};
      if (!a->ConvertValue<double, 3>(a->mapped_index(i), v.data())) return fail("The compressed geometry is damaged.");
      std::copy(v.begin(), v.end(), out.begin() + static_cast<std::ptrdiff_t>(i.value()) * 3);
    }
    return {};
  };
  if (const auto ok = attribute("POSITION", raw.positions); !ok) return tl::unexpected(ok.error());
  if (const auto ok = attribute("NORMAL", raw.normals); !ok) return tl::unexpected(ok.error());
  for (draco::FaceIndex f(0); f < mesh->num_faces(); ++f)
    for (const auto& p : mesh->face(f)) raw.indices.push_back(p.value());
  return raw;
}

Result<RawPrimitive> read_plain(const Json& primitive, GltfData& data) {
  RawPrimitive raw;
  const Json& attributes = primitive["attributes"];
  const auto position = unsigned_at(attributes, "POSITION", 0);
  if (!position) return fail("The POSITION of a primitive is damaged.");
  auto positions = data.numbers(*position, 3);
  if (!positions) return tl::unexpected(positions.error());
  raw.positions = std::move(*positions);
  if (attributes.contains("NORMAL")) {
    const auto normal = unsigned_at(attributes, "NORMAL", 0);
    if (!normal) return fail("The NORMAL of a primitive is damaged.");
    auto normals = data.numbers(*normal, 3);
    if (!normals) return tl::unexpected(normals.error());
    raw.normals = std::move(*normals);
  }
  if (primitive.contains("indices")) {
    const auto number = unsigned_at(primitive, "indices", 0);
    if (!number) return fail("The indices of a primitive are damaged.");
    auto indices = data.indices(*number);
    if (!indices) return tl::unexpected(indices.error());
    raw.indices = std::move(*indices);
    raw.indexed = true;
  }
  return raw;
}

// The positions in double that stand beside a primitive, if they are there and the floats were not changed since.
std::optional<std::vector<double>> doubles_beside(const Json& mesh, std::size_t primitive,
                                                  const std::vector<double>& floats, GltfData& data) {
  if (!mesh.contains("extensions") || !mesh["extensions"].contains("TACKPOINT_mesh")) return std::nullopt;
  const Json& e = mesh["extensions"]["TACKPOINT_mesh"];
  if (!e.contains("positions") || !e.contains("hashes") || primitive >= e["positions"].size() ||
      primitive >= e["hashes"].size() || !e["positions"][primitive].is_number_unsigned() ||
      !e["hashes"][primitive].is_string())
    return std::nullopt;
  std::vector<float> narrow(floats.begin(), floats.end());
  const ByteView narrow_bytes(reinterpret_cast<const std::uint8_t*>(narrow.data()), narrow.size() * sizeof(float));
  if (fmt::format("{:016x}", hash_of(narrow_bytes)) != e["hashes"][primitive].get<std::string>()) return std::nullopt;
  const auto bytes = data.view(e["positions"][primitive].get<std::uint64_t>());
  if (!bytes || bytes->size() != floats.size() * sizeof(double)) return std::nullopt;
  std::vector<double> wide(floats.size());
  if (!wide.empty()) std::memcpy(wide.data(), bytes->data(), bytes->size());
  return wide;
}

void add_triangles(const RawPrimitive& raw, std::uint64_t mode, std::uint32_t first, std::vector<Triangle>& out) {
  std::vector<std::uint32_t> order = raw.indices;
  if (!raw.indexed) {
    order.resize(raw.positions.size() / 3);
    for (std::size_t i = 0; i < order.size(); ++i) order[i] = static_cast<std::uint32_t>(i);
  }
  const auto add = [&](std::uint32_t a, std::uint32_t b, std::uint32_t c) {
    out.push_back({a + first, b + first, c + first});
  };
  const std::size_t n = order.size();
  if (mode == 4)
    for (std::size_t i = 0; i + 2 < n; i += 3) add(order[i], order[i + 1], order[i + 2]);
  if (mode == 5)
    for (std::size_t i = 0; i + 2 < n; ++i)
      i % 2 == 0 ? add(order[i], order[i + 1], order[i + 2]) : add(order[i + 1], order[i], order[i + 2]);
  if (mode == 6)
    for (std::size_t i = 1; i + 1 < n; ++i) add(order[0], order[i], order[i + 1]);
}

}  // namespace

Result<PlainAttribute> draco_attribute(const Json& primitive, const std::string& name, GltfData& data) {
  const Json& extension = primitive["extensions"]["KHR_draco_mesh_compression"];
  const auto decoded = decode_draco(extension, data);
  if (!decoded) return tl::unexpected(decoded.error());
  const auto id =
      extension.contains("attributes") ? unsigned_at(extension["attributes"], name.c_str(), ~0ull >> 1) : std::nullopt;
  const draco::PointAttribute* a = id ? (*decoded)->GetAttributeByUniqueId(static_cast<std::uint32_t>(*id)) : nullptr;
  if (!a || a->num_components() < 1 || a->num_components() > 4)
    return fail(fmt::format("The compressed geometry has no proper {}.", name));
  PlainAttribute result{a->num_components(), {}};
  for (draco::PointIndex i(0); i < (*decoded)->num_points(); ++i) {
    std::array<float, 4> v{};
    if (!a->ConvertValue<float>(a->mapped_index(i), static_cast<std::int8_t>(result.components), v.data()))
      return fail("The compressed geometry is damaged.");
    result.numbers.insert(result.numbers.end(), v.begin(), v.begin() + result.components);
  }
  return result;
}

std::string mesh_name(const Json& json, std::size_t number) {
  const Json& mesh = json["meshes"][number];
  if (mesh.is_object() && mesh.contains("name") && mesh["name"].is_string() &&
      !mesh["name"].get_ref<const std::string&>().empty())
    return mesh["name"].get<std::string>();
  return fmt::format("Mesh {}", number);
}

Result<GltfMesh> read_gltf_mesh(const Json& json, GltfData& data, std::size_t number) {
  const Json& mesh = json["meshes"][number];
  const auto bad = [&](const std::string& what) { return fail(what, mesh_name(json, number)); };
  if (!mesh.is_object() || !mesh.contains("primitives") || !mesh["primitives"].is_array())
    return bad("The mesh has no primitives.");
  GltfMesh result;
  bool all_normals = true;
  for (std::size_t i = 0; i < mesh["primitives"].size(); ++i) {
    const Json& primitive = mesh["primitives"][i];
    if (!primitive.is_object() || !primitive.contains("attributes") || !primitive["attributes"].is_object())
      return bad(fmt::format("Primitive {} is damaged.", i));
    const auto mode = unsigned_at(primitive, "mode", 4);
    if (!mode || *mode > 6) return bad(fmt::format("Primitive {} has an unknown mode.", i));
    const bool draco =
        primitive.contains("extensions") && primitive["extensions"].contains("KHR_draco_mesh_compression");
    if (!draco && !primitive["attributes"].contains("POSITION")) continue;  // allowed, and shows nothing
    auto raw =
        draco ? read_draco(primitive["extensions"]["KHR_draco_mesh_compression"], data) : read_plain(primitive, data);
    if (!raw) return bad(sentence(raw.error()));
    const auto first = static_cast<std::uint32_t>(result.data.positions.size());
    const std::size_t count = raw->positions.size() / 3;
    if (first + std::uint64_t{count} > 0xFFFFFFF0u) return bad("The mesh has too many vertices.");
    for (const std::uint32_t v : raw->indices)
      if (v >= count) return bad(fmt::format("Primitive {} names vertex {}, but there are {}.", i, v, count));
    if (auto wide = doubles_beside(mesh, i, raw->positions, data)) raw->positions = std::move(*wide);
    for (std::size_t v = 0; v < count; ++v)
      result.data.positions.push_back({raw->positions[v * 3], raw->positions[v * 3 + 1], raw->positions[v * 3 + 2]});
    all_normals &= raw->normals.size() == raw->positions.size();
    for (std::size_t v = 0; v + 2 < raw->normals.size() && all_normals; v += 3)
      result.data.normals.push_back({static_cast<float>(raw->normals[v]), static_cast<float>(raw->normals[v + 1]),
                                     static_cast<float>(raw->normals[v + 2])});
    const auto first_triangle = static_cast<std::uint32_t>(result.data.triangles.size());
    add_triangles(*raw, *mode, first, result.data.triangles);
    result.data.primitives.push_back({first, static_cast<std::uint32_t>(count), first_triangle,
                                      static_cast<std::uint32_t>(result.data.triangles.size()) - first_triangle});
    result.colours.push_back(colour_of(json, primitive));
    const auto material = unsigned_at(primitive, "material", ~0ull >> 1);
    result.materials.push_back(material && *material < 1u << 30 ? static_cast<int>(*material) : -1);
  }
  if (!all_normals) result.data.normals.clear();
  return result;
}

}  // namespace tack
