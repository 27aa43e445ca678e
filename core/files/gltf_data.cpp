#include "core/files/gltf_data.h"

#include <fmt/format.h>
#include <meshoptimizer.h>

namespace tack {
namespace {

constexpr std::uint64_t kMostElements = 400'000'000;

std::uint64_t component_size(std::uint64_t type) {
  switch (type) {
    case 5120:
    case 5121: return 1;
    case 5122:
    case 5123: return 2;
    case 5125:
    case 5126: return 4;
    default: return 0;
  }
}

int components_of(const std::string& type) {
  constexpr std::pair<std::string_view, int> kTypes[] = {{"SCALAR", 1}, {"VEC2", 2}, {"VEC3", 3}, {"VEC4", 4},
                                                         {"MAT2", 4},   {"MAT3", 9}, {"MAT4", 16}};
  for (const auto& [name, count] : kTypes)
    if (name == type) return count;
  return 0;
}

double component(ByteView bytes, std::size_t at, std::uint64_t type, bool normalized) {
  switch (type) {
    case 5120: {
      const double v = read_at<std::int8_t>(bytes, at);
      return normalized ? std::max(v / 127, -1.0) : v;
    }
    case 5121: return normalized ? bytes[at] / 255.0 : bytes[at];
    case 5122: {
      const double v = read_at<std::int16_t>(bytes, at);
      return normalized ? std::max(v / 32767, -1.0) : v;
    }
    case 5123: {
      const double v = read_at<std::uint16_t>(bytes, at);
      return normalized ? v / 65535 : v;
    }
    case 5125: return read_at<std::uint32_t>(bytes, at);
    default: return read_at<float>(bytes, at);
  }
}

// What a `uri` of the document stands for: embedded data, or a file in its folder.
Result<Bytes> load_uri(const std::string& uri, const std::filesystem::path& folder) {
  if (uri.starts_with("data:")) {
    const std::size_t comma = uri.find(',');
    if (comma == std::string::npos || uri.substr(0, comma).find(";base64") == std::string::npos)
      return fail("Embedded data is not base64.");
    return decode_base64(std::string_view(uri).substr(comma + 1));
  }
  std::string name;
  for (std::size_t i = 0; i < uri.size(); ++i) {
    if (uri[i] == '%' && i + 2 < uri.size() && std::isxdigit(static_cast<unsigned char>(uri[i + 1])) &&
        std::isxdigit(static_cast<unsigned char>(uri[i + 2]))) {
      name += static_cast<char>(std::stoi(uri.substr(i + 1, 2), nullptr, 16));
      i += 2;
    } else {
      name += uri[i];
    }
  }
  const std::filesystem::path file(name);
  if (name.find("://") != std::string::npos || file.is_absolute() || name.find("..") != std::string::npos)
    return fail(fmt::format("\"{}\" is outside the document's folder and is not read.", name));
  return read_file(folder / file);
}

Json& buffer_view_or_empty(Json& json, std::size_t i) { return json["bufferViews"][i]; }

}  // namespace

std::optional<std::uint64_t> unsigned_at(const Json& object, const char* key, std::uint64_t otherwise) {
  if (!object.is_object() || !object.contains(key)) return otherwise;
  const Json& value = object[key];
  if (value.is_number_unsigned() || value.is_number_integer()) {
    const auto v = value.get<std::int64_t>();
    if (v < 0 || v > (std::int64_t{1} << 53)) return std::nullopt;
    return static_cast<std::uint64_t>(v);
  }
  if (value.is_number_float()) {
    const double v = value.get<double>();
    if (v >= 0 && v <= 9007199254740992.0 && v == static_cast<double>(static_cast<std::uint64_t>(v)))
      return static_cast<std::uint64_t>(v);
  }
  return std::nullopt;
}

Result<Bytes> gather_buffers(Json& json, Bytes binary, const std::filesystem::path& folder) {
  if (!json.contains("buffers")) return Bytes{};
  if (!json["buffers"].is_array()) return fail("The list of buffers is damaged.");
  Bytes all;
  std::vector<std::optional<std::uint64_t>> start(json["buffers"].size());
  Json fallbacks = Json::array();
  std::vector<std::size_t> fallback_number(start.size(), 0);
  for (std::size_t i = 0; i < start.size(); ++i) {
    const Json& buffer = json["buffers"][i];
    const auto length = unsigned_at(buffer, "byteLength", 0);
    if (!buffer.is_object() || !length) return fail(fmt::format("Buffer {} is damaged.", i));
    Bytes bytes;
    if (buffer.contains("uri")) {
      auto loaded = load_uri(buffer["uri"].get<std::string>(), folder);
      if (!loaded) return fail(fmt::format("Buffer {} cannot be read: {}", i, sentence(loaded.error())));
      bytes = std::move(*loaded);
    } else if (i == 0 && !binary.empty()) {
      bytes = std::exchange(binary, {});
    } else {
      // A buffer without data: only what meshopt compression leaves as a fallback may be so.
      fallback_number[i] = fallbacks.size() + 1;
      fallbacks.push_back(buffer);
      continue;
    }
    if (bytes.size() < *length)
      return fail(fmt::format("Buffer {} should have {} bytes and has {}.", i, *length, bytes.size()));
    bytes.resize(*length);
    all.resize((all.size() + 7) / 8 * 8, 0);
    start[i] = all.size();
    if (all.empty())
      all = std::move(bytes);
    else
      all.insert(all.end(), bytes.begin(), bytes.end());
  }
  const auto place = [&](Json& view) -> Result<void> {
    const auto buffer = unsigned_at(view, "buffer", 0);
    if (!buffer || *buffer >= start.size()) return fail("A buffer view names a buffer that is not there.");
    if (!start[*buffer]) {
      view["buffer"] = fallback_number[*buffer];
      return {};
    }
    view["buffer"] = 0;
    const auto offset = unsigned_at(view, "byteOffset", 0);
    if (!offset) return fail("A buffer view has a damaged offset.");
    if (*start[*buffer] != 0) view["byteOffset"] = *offset + *start[*buffer];
    return {};
  };
  if (json.contains("bufferViews"))
    for (std::size_t i = 0; i < json["bufferViews"].size(); ++i) {
      Json& view = buffer_view_or_empty(json, i);
      if (!view.is_object()) return fail(fmt::format("Buffer view {} is damaged.", i));
      if (const auto done = place(view); !done) return tl::unexpected(done.error());
      if (view.contains("extensions") && view["extensions"].contains("EXT_meshopt_compression"))
        if (const auto done = place(view["extensions"]["EXT_meshopt_compression"]); !done)
          return tl::unexpected(done.error());
    }
  // Pictures beside the document, or embedded as text, come into the buffer: a saved .glb would lose or bloat them.
  if (json.contains("images") && json["images"].is_array())
    for (Json& image : json["images"]) {
      if (!image.is_object() || !image.contains("uri") || !image["uri"].is_string()) continue;
      const std::string uri = image["uri"].get<std::string>();
      const auto bytes = load_uri(uri, folder);
      if (!bytes || bytes->empty()) continue;
      if (uri.starts_with("data:image/")) image["mimeType"] = uri.substr(5, uri.find_first_of(";,") - 5);
      const bool png = bytes->size() > 4 && (*bytes)[1] == 'P' && (*bytes)[2] == 'N';
      all.resize((all.size() + 7) / 8 * 8, 0);
      if (!json.contains("bufferViews")) json["bufferViews"] = Json::array();
      image.erase("uri");
      image["bufferView"] = json["bufferViews"].size();
      if (!image.contains("mimeType")) image["mimeType"] = png ? "image/png" : "image/jpeg";
      json["bufferViews"].push_back({{"buffer", 0}, {"byteOffset", all.size()}, {"byteLength", bytes->size()}});
      all.insert(all.end(), bytes->begin(), bytes->end());
    }
  json["buffers"] = Json::array();
  if (!all.empty())
    json["buffers"].push_back({{"byteLength", all.size()}});
  else if (!fallbacks.empty())
    return fail("The document's buffers have no data.");
  for (const Json& fallback : fallbacks) json["buffers"].push_back(fallback);
  return all;
}

Result<ByteView> GltfData::view(std::uint64_t number) {
  if (!json_.contains("bufferViews") || number >= json_["bufferViews"].size())
    return fail(fmt::format("There is no buffer view {}.", number));
  const Json& view = json_["bufferViews"][number];
  const bool packed = view.contains("extensions") && view["extensions"].contains("EXT_meshopt_compression");
  const Json& source = packed ? view["extensions"]["EXT_meshopt_compression"] : view;
  const auto buffer = unsigned_at(source, "buffer", 0), offset = unsigned_at(source, "byteOffset", 0),
             length = unsigned_at(source, "byteLength", 0);
  if (!buffer || !offset || !length || *buffer != 0 || *offset > binary_.size() || *length > binary_.size() - *offset)
    return fail(fmt::format("Buffer view {} reaches beyond the data.", number));
  const ByteView bytes = binary_.subspan(*offset, *length);
  if (!packed) return bytes;
  if (const auto known = decompressed_.find(number); known != decompressed_.end()) return ByteView(known->second);
  const auto stride = unsigned_at(source, "byteStride", 0), count = unsigned_at(source, "count", 0);
  const std::string mode = source.value("mode", std::string{}), filter = source.value("filter", std::string("NONE"));
  if (!stride || !count || *stride == 0 || *stride > 256 || *count > kMostElements || *count > *length * 4096)
    return fail(fmt::format("The compressed buffer view {} is damaged.", number));
  Bytes out(*stride * *count);
  int error = 1;
  if (mode == "ATTRIBUTES" && *stride % 4 == 0)
    error = meshopt_decodeVertexBuffer(out.data(), *count, *stride, bytes.data(), bytes.size());
  else if (mode == "TRIANGLES" && *count % 3 == 0 && (*stride == 2 || *stride == 4))
    error = meshopt_decodeIndexBuffer(out.data(), *count, *stride, bytes.data(), bytes.size());
  else if (mode == "INDICES" && (*stride == 2 || *stride == 4))
    error = meshopt_decodeIndexSequence(out.data(), *count, *stride, bytes.data(), bytes.size());
  if (error != 0) return fail(fmt::format("The compressed buffer view {} is damaged.", number));
  if (filter == "OCTAHEDRAL" && (*stride == 4 || *stride == 8)) meshopt_decodeFilterOct(out.data(), *count, *stride);
  if (filter == "QUATERNION" && *stride == 8) meshopt_decodeFilterQuat(out.data(), *count, *stride);
  if (filter == "EXPONENTIAL" && *stride % 4 == 0) meshopt_decodeFilterExp(out.data(), *count, *stride);
  return ByteView(decompressed_.emplace(number, std::move(out)).first->second);
}

Result<GltfData::Layout> GltfData::layout(const Json& accessor, int components) {
  Layout l;
  const auto type = unsigned_at(accessor, "componentType", 0), count = unsigned_at(accessor, "count", 0),
             offset = unsigned_at(accessor, "byteOffset", 0);
  if (!type || !count || !offset || component_size(*type) == 0 || *count > kMostElements)
    return fail("An accessor is damaged, or its count is beyond all measure.");
  if (components_of(accessor.value("type", std::string{})) != components)
    return fail(fmt::format("An accessor should have {} numbers for each element.", components));
  l.component_type = *type;
  l.count = *count;
  l.normalized = accessor.value("normalized", false);
  const std::uint64_t element = component_size(*type) * static_cast<std::uint64_t>(components);
  if (!accessor.contains("bufferView")) {
    // Zeros, which only sparse values make sense of; the file's size bounds nothing here, so a fixed number does.
    if (*count > 50'000'000) return fail("An accessor without data has a count beyond all measure.");
    return l;
  }
  const auto number = unsigned_at(accessor, "bufferView", 0);
  if (!number) return fail("An accessor names no proper buffer view.");
  const auto bytes = view(*number);
  if (!bytes) return tl::unexpected(bytes.error());
  const auto stride = unsigned_at(json_["bufferViews"][*number], "byteStride", element);
  if (!stride || *stride < element || *stride > 4096) return fail("A buffer view has a damaged stride.");
  l.bytes = *bytes;
  l.offset = *offset;
  l.stride = *stride;
  if (*count > 0 && (*offset > bytes->size() || element > bytes->size() - *offset ||
                     (*count - 1) > (bytes->size() - *offset - element) / *stride))
    return fail(fmt::format("An accessor reaches beyond its buffer view {}.", *number));
  return l;
}

Result<std::vector<double>> GltfData::numbers(std::uint64_t number, int components) {
  if (!json_.contains("accessors") || number >= json_["accessors"].size())
    return fail(fmt::format("There is no accessor {}.", number));
  const Json& accessor = json_["accessors"][number];
  const auto l = layout(accessor, components);
  if (!l) return tl::unexpected(l.error());
  const auto width = static_cast<std::size_t>(components);
  std::vector<double> values(l->count * width, 0.0);
  if (!l->bytes.empty()) {
    const std::size_t size = component_size(l->component_type);
    for (std::size_t i = 0; i < l->count; ++i)
      for (std::size_t c = 0; c < width; ++c)
        values[i * width + c] =
            component(l->bytes, l->offset + i * l->stride + c * size, l->component_type, l->normalized);
  }
  if (accessor.contains("sparse"))
    if (const auto done = put_sparse(accessor, components, values); !done) return tl::unexpected(done.error());
  return values;
}

Result<void> GltfData::put_sparse(const Json& accessor, int components, std::vector<double>& values) {
  const Json& sparse = accessor["sparse"];
  const auto count = unsigned_at(sparse, "count", 0);
  if (!count || !sparse.contains("indices") || !sparse.contains("values")) return fail("A sparse accessor is damaged.");
  const auto part = [&](const Json& where, std::uint64_t type, std::uint64_t size) -> Result<ByteView> {
    const auto number = unsigned_at(where, "bufferView", 0), offset = unsigned_at(where, "byteOffset", 0);
    if (!number || !offset || component_size(type) == 0) return fail("A sparse accessor is damaged.");
    auto bytes = view(*number);
    if (!bytes) return bytes;
    if (*offset > bytes->size() || *count > (bytes->size() - *offset) / size)
      return fail("A sparse accessor reaches beyond its data.");
    return bytes->subspan(*offset);
  };
  const std::uint64_t index_type = unsigned_at(sparse["indices"], "componentType", 0).value_or(0);
  const std::uint64_t type = unsigned_at(accessor, "componentType", 0).value_or(0);
  const std::size_t index_size = component_size(index_type), size = component_size(type);
  const auto width = static_cast<std::size_t>(components);
  const auto index_bytes = part(sparse["indices"], index_type, std::max<std::size_t>(1, index_size));
  if (!index_bytes) return tl::unexpected(index_bytes.error());
  const auto value_bytes = part(sparse["values"], type, std::max<std::size_t>(1, size * width));
  if (!value_bytes) return tl::unexpected(value_bytes.error());
  const bool normalized = accessor.value("normalized", false);
  for (std::size_t i = 0; i < *count; ++i) {
    const double at = component(*index_bytes, i * index_size, index_type, false);
    const std::size_t elements = values.size() / width;
    if (!(at >= 0) || at >= static_cast<double>(elements))
      return fail("A sparse accessor names an element that is not there.");
    for (std::size_t c = 0; c < width; ++c)
      values[static_cast<std::size_t>(at) * width + c] =
          component(*value_bytes, (i * width + c) * size, type, normalized);
  }
  return {};
}

Result<std::vector<std::uint32_t>> GltfData::indices(std::uint64_t number) {
  const auto values = numbers(number, 1);
  if (!values) return tl::unexpected(values.error());
  std::vector<std::uint32_t> result(values->size());
  for (std::size_t i = 0; i < result.size(); ++i) {
    if (!((*values)[i] >= 0 && (*values)[i] <= 4294967294.0)) return fail("An index is not a whole positive number.");
    result[i] = static_cast<std::uint32_t>((*values)[i]);
  }
  return result;
}

}  // namespace tack
