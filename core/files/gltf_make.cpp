#include "core/files/gltf_make.h"

#include <fmt/format.h>

#include "core/files/beside.h"
#include "core/files/gltf_node.h"
#include "core/printable.h"

namespace tack {
namespace {

constexpr int kForVertices = 34962, kForIndices = 34963;

// The accessors of one primitive's vertices: positions in float, in double beside them where float does not hold them.
struct Written {
  Json attributes;
  int doubles = -1;
  std::string hash;
};

Written write_vertices(GltfArrays& arrays, std::span<const Vec3> positions,
                       std::span<const std::array<float, 3>> normals, const MeshExtras& extras, std::size_t first,
                       const std::shared_ptr<const void>& keep) {
  Written w;
  const Blob places = arrays.narrow(positions, keep);
  const std::span<const float> floats(reinterpret_cast<const float*>(places.view().data()), positions.size() * 3);
  bool exact = true;
  for (std::size_t v = 0; v < positions.size(); ++v)
    for (int i = 0; i < 3; ++i)
      exact &= static_cast<double>(floats[v * 3 + static_cast<std::size_t>(i)]) == positions[v][i];
  w.attributes["POSITION"] = arrays.floats(floats, 3, true, places.keep());
  if (!exact) {
    const ByteView exactly = bytes_in(positions);
    w.doubles = keep ? arrays.view(Blob(exactly, keep), 0) : arrays.view(exactly, 0);
    w.hash = fmt::format("{:016x}", hash_of(places));
  }
  if (!normals.empty()) {
    std::vector<float> narrow;
    narrow.reserve(normals.size() * 3);
    for (const auto& n : normals) {
      Vec3 unit = normalized({n[0], n[1], n[2]});
      if (unit == Vec3{}) unit = {0, 0, 1};
      for (int i = 0; i < 3; ++i) narrow.push_back(static_cast<float>(unit[i]));
    }
    const std::span<const float> as_they_are(normals.front().data(), narrow.size());
    const bool same = std::memcmp(as_they_are.data(), narrow.data(), narrow.size() * sizeof(float)) == 0;
    w.attributes["NORMAL"] = keep && same ? arrays.floats(as_they_are, 3, false, keep) : arrays.floats(narrow, 3);
  }
  if (!extras.places.empty())
    w.attributes["TEXCOORD_0"] = arrays.floats({extras.places[first].data(), positions.size() * 2}, 2);
  if (!extras.colours.empty())
    w.attributes["COLOR_0"] = arrays.floats({extras.colours[first].data(), positions.size() * 4}, 4);
  return w;
}

}  // namespace

Blob GltfArrays::narrow(std::span<const Vec3> places, const std::shared_ptr<const void>& keep) {
  if (narrow_ && keep)
    if (const auto known = narrow_->of.find(places.data());
        known != narrow_->of.end() && known->second.floats.size() == places.size() * 3 * sizeof(float))
      return known->second.floats;
  const auto floats = std::make_shared<std::vector<float>>();
  floats->reserve(places.size() * 3);
  for (const Vec3& p : places)
    for (int i = 0; i < 3; ++i) floats->push_back(static_cast<float>(p[i]));
  Blob blob(bytes_in(*floats), floats);
  if (narrow_ && keep) narrow_->of[places.data()] = {keep, blob};
  return blob;
}

int GltfArrays::view(ByteView bytes, int target) {
  binary_.pad(8);
  binary_.copy(bytes);
  return view_of_last(bytes.size(), target);
}

int GltfArrays::view(const Blob& bytes, int target) {
  binary_.pad(8);
  binary_.hold(bytes);
  return view_of_last(bytes.size(), target);
}

int GltfArrays::view_of_last(std::size_t size, int target) {
  Json view{{"buffer", 0}, {"byteOffset", binary_.size() - size}, {"byteLength", size}};
  if (target != 0) view["target"] = target;
  if (!json_.contains("bufferViews")) json_["bufferViews"] = Json::array();
  json_["bufferViews"].push_back(std::move(view));
  return static_cast<int>(json_["bufferViews"].size()) - 1;
}

int GltfArrays::accessor(Json accessor) {
  if (!json_.contains("accessors")) json_["accessors"] = Json::array();
  json_["accessors"].push_back(std::move(accessor));
  return static_cast<int>(json_["accessors"].size()) - 1;
}

int GltfArrays::floats(std::span<const float> numbers, int components, bool bounds,
                       const std::shared_ptr<const void>& keep) {
  constexpr const char* kTypes[] = {"SCALAR", "VEC2", "VEC3", "VEC4"};
  const auto width = static_cast<std::size_t>(components);
  const ByteView bytes = bytes_in(numbers);
  Json accessor{{"bufferView", keep ? view(Blob(bytes, keep), kForVertices) : view(bytes, kForVertices)},
                {"componentType", 5126},
                {"count", numbers.size() / width},
                {"type", kTypes[components - 1]}};
  if (bounds) {
    std::vector<double> low(width, INFINITY), high(width, -INFINITY);
    for (std::size_t i = 0; i < numbers.size(); ++i) {
      low[i % width] = std::min(low[i % width], static_cast<double>(numbers[i]));
      high[i % width] = std::max(high[i % width], static_cast<double>(numbers[i]));
    }
    for (std::size_t c = 0; c < width; ++c) low[c] += 0.0, high[c] += 0.0;
    accessor["min"] = low;
    accessor["max"] = high;
  }
  return this->accessor(std::move(accessor));
}

int GltfArrays::indices(std::span<const std::uint32_t> numbers, const std::shared_ptr<const void>& keep) {
  const ByteView bytes = bytes_in(numbers);
  return accessor({{"bufferView", keep ? view(Blob(bytes, keep), kForIndices) : view(bytes, kForIndices)},
                   {"componentType", 5125},
                   {"count", numbers.size()},
                   {"type", "SCALAR"}});
}

Json geometry_of(GltfArrays& arrays, std::span<const Vec3> positions, std::span<const Triangle> triangles,
                 std::span<const std::array<float, 3>> normals, std::span<const Primitive> primitives,
                 const MeshExtras& extras, const std::shared_ptr<const void>& keep) {
  Json list = Json::array(), doubles = Json::array(), hashes = Json::array();
  bool any_doubles = false;
  Written shared;
  std::uint32_t shared_first = 0;
  for (const Primitive& p : primitives) {
    // Primitives without vertices of their own (an OBJ with several materials) use those of the one before.
    if (p.vertex_count > 0) {
      shared = write_vertices(arrays, positions.subspan(p.first_vertex, p.vertex_count),
                              normals.empty() ? normals : normals.subspan(p.first_vertex, p.vertex_count), extras,
                              p.first_vertex, keep);
      shared_first = p.first_vertex;
    }
    if (shared.attributes.empty()) continue;
    Json primitive{{"attributes", shared.attributes}};
    const auto own = triangles.subspan(p.first_triangle, p.triangle_count);
    if (p.triangle_count > 0 && keep && shared_first == 0) {
      primitive["indices"] = arrays.indices({own.front().data(), own.size() * 3}, keep);
    } else if (p.triangle_count > 0) {
      std::vector<std::uint32_t> corners;
      corners.reserve(own.size() * 3);
      for (const Triangle& t : own)
        for (const std::uint32_t v : t) corners.push_back(v - shared_first);
      primitive["indices"] = arrays.indices(corners);
    } else {
      primitive["mode"] = 0;
    }
    list.push_back(std::move(primitive));
    any_doubles |= shared.doubles >= 0;
    doubles.push_back(shared.doubles >= 0 ? Json(static_cast<unsigned>(shared.doubles)) : Json(nullptr));
    hashes.push_back(shared.hash);
  }
  Json result{{"primitives", list}};
  if (any_doubles) result["extensions"] = {{"TACKPOINT_mesh", {{"positions", doubles}, {"hashes", hashes}}}};
  return result;
}

std::string kind_of_picture(ByteView b) {
  const auto begins = [&](std::size_t at, std::string_view text) {
    return b.size() >= at + text.size() && std::memcmp(b.data() + at, text.data(), text.size()) == 0;
  };
  if (begins(0, "\x89PNG")) return "image/png";
  if (begins(0, "\xFF\xD8\xFF")) return "image/jpeg";
  if (begins(0, "RIFF") && begins(8, "WEBP")) return "image/webp";
  if (begins(0, "\xABKTX 20\xBB")) return "image/ktx2";
  if (begins(0, "DDS ")) return "image/vnd-ms.dds";
  if (begins(4, "ftypavif")) return "image/avif";
  return {};
}

int Pictures::texture(std::string name) {
  std::replace(name.begin(), name.end(), '\\', '/');
  while (name.starts_with("./")) name.erase(0, 2);
  if (const auto known = known_.find(name); known != known_.end()) return known->second;
  auto bytes = beside_(name);
  // Paths of the machine that the file was made on mean nothing here; the picture often lies beside the file.
  const std::string last = name.substr(name.rfind('/') + 1);
  if (!bytes && last != name) bytes = beside_(last);
  if (!bytes) {
    notes_.push_back(fmt::format("The picture {} is missing: {}", printable(name, 200), sentence(bytes.error())));
    return known_[name] = -1;
  }
  return known_[name] = texture(last, *bytes);
}

int Pictures::texture(const std::string& name, ByteView bytes) {
  const std::string kind = kind_of_picture(bytes);
  if (kind != "image/png" && kind != "image/jpeg") {
    notes_.push_back(fmt::format("The picture {} is neither PNG nor JPEG and was left out.", printable(name, 200)));
    return -1;
  }
  const int view = GltfArrays(json_, binary_).view(bytes, 0);
  for (const char* list : {"images", "textures"})
    if (!json_.contains(list)) json_[list] = Json::array();
  json_["images"].push_back({{"name", as_utf8(name)}, {"bufferView", view}, {"mimeType", kind}});
  json_["textures"].push_back({{"source", json_["images"].size() - 1}});
  return static_cast<int>(json_["textures"].size()) - 1;
}

}  // namespace tack
