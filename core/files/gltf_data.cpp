#include "core/files/gltf_data.h"

#include <fmt/format.h>
#include <meshoptimizer.h>

#include <algorithm>
#include <cmath>
#include <limits>

#include "core/files/gltf_make.h"
#include "core/printable.h"

namespace tack {
namespace {

constexpr std::uint64_t kMostElements = 400'000'000;

// What decoding may make of the data: no honest file makes more of plain numbers (a byte of colour becomes a double,
// an accessor may be used by several meshes), or of what is packed.
constexpr std::uint64_t kFree = std::uint64_t{64} << 20, kPlainTimes = 100, kPackedTimes = 4000;

double component(ByteView bytes, std::size_t at, std::uint64_t type, bool normalized) {
  double value = 0;
  switch (type) {
    case 5120: value = read_at<std::int8_t>(bytes, at); break;
    case 5121: value = bytes[at]; break;
    case 5122: value = read_at<std::int16_t>(bytes, at); break;
    case 5123: value = read_at<std::uint16_t>(bytes, at); break;
    case 5125: value = read_at<std::uint32_t>(bytes, at); break;
    default: return read_at<float>(bytes, at);
  }
  return normalized ? std::max(value / full_scale(type), -1.0) : value;
}

// What a `uri` of the document stands for: embedded data, or a file in its folder.
Result<Bytes> load_uri(const std::string& uri, const FilesBeside& beside) {
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
  return beside(name);
}

// Pictures beside the document, or embedded as text, come into the buffer: a saved .glb would lose or bloat them.
template <typename Begin>
void gather_pictures(Json& json, Bytes& all, Begin&& begin_behind, const FilesBeside& beside,
                     std::vector<std::string>& notes) {
  if (!json.contains("images") || !json["images"].is_array()) return;
  for (Json& image : json["images"]) {
    if (!image.is_object() || !image.contains("uri") || !image["uri"].is_string()) continue;
    const std::string uri = image["uri"].get<std::string>();
    const bool embedded = uri.starts_with("data:");
    const std::string shown = embedded ? "A picture in the file" : fmt::format("The picture {}", printable(uri, 200));
    const auto bytes = load_uri(uri, beside);
    if (!bytes) {
      notes.push_back(fmt::format("{} is missing: {}", shown, sentence(bytes.error())));
      continue;
    }
    const std::string kind = kind_of_picture(*bytes);
    if (kind.empty()) {
      notes.push_back(fmt::format("{} is not a picture of a kind that is known, and stays outside.", shown));
      continue;
    }
    begin_behind();
    if (!json.contains("bufferViews")) json["bufferViews"] = Json::array();
    image.erase("uri");
    image["bufferView"] = json["bufferViews"].size();
    image["mimeType"] = kind;
    json["bufferViews"].push_back({{"buffer", 0}, {"byteOffset", all.size()}, {"byteLength", bytes->size()}});
    all.insert(all.end(), bytes->begin(), bytes->end());
  }
}

}  // namespace

std::size_t component_size(std::uint64_t type) {
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

double full_scale(std::uint64_t type) {
  switch (type) {
    case 5120: return 127;
    case 5121: return 255;
    case 5122: return 32767;
    case 5123: return 65535;
    case 5125: return 4294967295.0;
    default: return 1;
  }
}

void put_component(std::uint8_t* at, std::uint64_t type, double value, bool normalized) {
  const auto put = [&]<typename T>(T) {
    const double low = static_cast<double>(std::numeric_limits<T>::lowest()),
                 high = static_cast<double>(std::numeric_limits<T>::max());
    const auto whole = static_cast<T>(std::clamp(std::nearbyint(value), low, high));
    std::memcpy(at, &whole, sizeof whole);
  };
  if (normalized) value *= full_scale(type);
  if (!std::isfinite(value)) value = 0;
  switch (type) {
    case 5120: return put(std::int8_t{});
    case 5121: return put(std::uint8_t{});
    case 5122: return put(std::int16_t{});
    case 5123: return put(std::uint16_t{});
    case 5125: return put(std::uint32_t{});
    default: {
      const auto narrow = static_cast<float>(value);
      std::memcpy(at, &narrow, sizeof narrow);
    }
  }
}

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

Result<Blob> gather_buffers(Json& json, Blob binary, const FilesBeside& beside, std::vector<std::string>& notes) {
  if (!json.contains("buffers")) json["buffers"] = Json::array();
  if (!json["buffers"].is_array()) return fail("The list of buffers is damaged.");
  Blob whole;  // the one buffer, as long as nothing has to go behind it
  Bytes all;
  const auto begin_behind = [&] {
    if (!whole.empty()) all.assign(whole.view().begin(), whole.view().end());
    whole = {};
    all.resize((all.size() + 7) / 8 * 8, 0);
  };
  std::vector<std::optional<std::uint64_t>> start(json["buffers"].size());
  Json fallbacks = Json::array();
  std::vector<std::size_t> fallback_number(start.size(), 0);
  for (std::size_t i = 0; i < start.size(); ++i) {
    const Json& buffer = json["buffers"][i];
    const auto length = unsigned_at(buffer, "byteLength", 0);
    if (!buffer.is_object() || !length) return fail(fmt::format("Buffer {} is damaged.", i));
    Blob bytes;
    if (buffer.contains("uri")) {
      if (!buffer["uri"].is_string()) return fail(fmt::format("Buffer {} is damaged.", i));
      auto loaded = load_uri(buffer["uri"].get<std::string>(), beside);
      if (!loaded) return fail(fmt::format("Buffer {} cannot be read: {}", i, sentence(loaded.error())));
      bytes = Blob(std::move(*loaded));
    } else if (i == 0 && !binary.empty()) {
      bytes = binary;
    } else {
      // A buffer without data: only what meshopt compression leaves as a fallback may be so.
      fallback_number[i] = fallbacks.size() + 1;
      fallbacks.push_back(buffer);
      continue;
    }
    if (bytes.size() < *length)
      return fail(fmt::format("Buffer {} should have {} bytes and has {}.", i, *length, bytes.size()));
    bytes = Blob(bytes.view().first(*length), bytes.keep());
    if (whole.empty() && all.empty()) {
      start[i] = 0;
      whole = std::move(bytes);
      continue;
    }
    begin_behind();
    start[i] = all.size();
    all.insert(all.end(), bytes.view().begin(), bytes.view().end());
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
      Json& view = json["bufferViews"][i];
      if (!view.is_object()) return fail(fmt::format("Buffer view {} is damaged.", i));
      if (const auto done = place(view); !done) return tl::unexpected(done.error());
      if (view.contains("extensions") && view["extensions"].contains("EXT_meshopt_compression"))
        if (const auto done = place(view["extensions"]["EXT_meshopt_compression"]); !done)
          return tl::unexpected(done.error());
    }
  // What the first buffer said of itself beside its length stays.
  Json first = json["buffers"].empty() ? Json::object() : json["buffers"][0];
  if (!start.empty() && !start[0]) first = Json::object();
  gather_pictures(json, all, begin_behind, beside, notes);
  if (whole.empty()) whole = Blob(std::move(all));
  json["buffers"] = Json::array();
  if (!whole.empty()) {
    first.erase("uri");
    first["byteLength"] = whole.size();
    json["buffers"].push_back(std::move(first));
  } else if (!fallbacks.empty()) {
    return fail("The document's buffers have no data.");
  } else {
    json.erase("buffers");
    return whole;
  }
  for (const Json& fallback : fallbacks) json["buffers"].push_back(fallback);
  return whole;
}

GltfData::GltfData(const Json& json, ByteView binary, std::function<void(ByteView)> done)
    : json_(json), binary_(binary), done_(std::move(done)), left_(kFree + kPlainTimes * binary.size()) {}

GltfData::GltfData(const Json& json, const ByteRuns& binary)
    : json_(json), runs_(&binary), left_(kFree + kPlainTimes * binary.size()) {}

const Json* GltfData::accessor(std::uint64_t number) const {
  return json_.contains("accessors") && number < json_["accessors"].size() ? &json_["accessors"][number] : nullptr;
}

Result<void> GltfData::spend(std::uint64_t decoded) {
  if (decoded > left_)
    return fail("The file says that it holds far more numbers than there is data for; it is not read.");
  left_ -= decoded;
  return {};
}

Result<void> GltfData::spend_packed(std::uint64_t decoded, std::uint64_t packed) {
  if (decoded > kFree + kPackedTimes * packed)
    return fail("The file says that it holds far more numbers than there is data for; it is not read.");
  left_ += std::min(decoded, kPackedTimes * packed) * kPlainTimes;  // what was packed is data, too
  return {};
}

Result<ByteView> GltfData::view(std::uint64_t number) {
  if (!json_.contains("bufferViews") || number >= json_["bufferViews"].size())
    return fail(fmt::format("There is no buffer view {}.", number));
  const Json& view = json_["bufferViews"][number];
  const bool packed = view.contains("extensions") && view["extensions"].contains("EXT_meshopt_compression");
  const Json& source = packed ? view["extensions"]["EXT_meshopt_compression"] : view;
  const auto buffer = unsigned_at(source, "buffer", 0), offset = unsigned_at(source, "byteOffset", 0),
             length = unsigned_at(source, "byteLength", 0);
  const std::size_t size = runs_ ? runs_->size() : binary_.size();
  if (!buffer || !offset || !length || *buffer != 0 || *offset > size || *length > size - *offset)
    return fail(fmt::format("Buffer view {} reaches beyond the data.", number));
  if (runs_) slices_.push_back(runs_->slice(*offset, *length));
  const ByteView bytes = runs_ ? slices_.back().view() : binary_.subspan(*offset, *length);
  if (!packed) return bytes;
  if (const auto known = decompressed_.find(number); known != decompressed_.end()) return ByteView(known->second);
  const auto stride = unsigned_at(source, "byteStride", 0), count = unsigned_at(source, "count", 0);
  const std::string mode = source.value("mode", std::string{}), filter = source.value("filter", std::string("NONE"));
  if (!stride || !count || *stride == 0 || *stride > 256 || *count > kMostElements || *count > *length * 4096)
    return fail(fmt::format("The compressed buffer view {} is damaged.", number));
  if (const auto ok = spend_packed(*stride * *count, *length); !ok) return tl::unexpected(ok.error());
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
    // Zeros, which only sparse values make sense of.
    if (!accessor.contains("sparse")) return fail("An accessor has no data.");
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
  if (const auto ok = spend(l->count * width * sizeof(double)); !ok) return tl::unexpected(ok.error());
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

Result<void> GltfData::vectors(std::uint64_t number, std::vector<Vec3>& out) {
  const Json* accessor = this->accessor(number);
  if (accessor && accessor->value("componentType", 0) == 5126 && !accessor->contains("sparse")) {
    // What nearly all files have: floats, copied straight to where they are wanted.
    const auto l = layout(*accessor, 3);
    if (!l) return tl::unexpected(l.error());
    if (auto ok = spend(l->count * sizeof(Vec3)); !ok) return ok;
    const std::size_t begin = out.size();
    out.resize(begin + l->count);
    const std::uint8_t* at = l->bytes.data() + l->offset;
    for (std::size_t i = 0; i < l->count; ++i, at += l->stride) {
      std::array<float, 3> v;
      std::memcpy(v.data(), at, sizeof v);
      out[begin + i] = {v[0], v[1], v[2]};
    }
    if (done_) done_(l->bytes);
    return {};
  }
  const auto values = numbers(number, 3);
  if (!values) return tl::unexpected(values.error());
  out.reserve(out.size() + values->size() / 3);
  for (std::size_t i = 0; i + 2 < values->size(); i += 3)
    out.push_back({(*values)[i], (*values)[i + 1], (*values)[i + 2]});
  return {};
}

namespace {

template <typename T>
std::uint32_t widened(ByteView bytes, std::size_t at) {
  T value;
  std::memcpy(&value, bytes.data() + at, sizeof value);
  return value;
}

// Calls f(i, index) for all indices of a plain accessor, by its type.
template <typename F>
void each_index(ByteView bytes, std::size_t offset, std::size_t stride, std::size_t count, std::uint64_t type, F&& f) {
  const auto go = [&](auto read) {
    for (std::size_t i = 0; i < count; ++i) f(i, read(bytes, offset + i * stride));
  };
  if (type == 5121)
    go(widened<std::uint8_t>);
  else if (type == 5123)
    go(widened<std::uint16_t>);
  else
    go(widened<std::uint32_t>);
}

}  // namespace

Result<void> GltfData::triangles(std::uint64_t number, std::uint32_t first, std::size_t count,
                                 std::vector<Triangle>& out) {
  const auto beyond = [&](std::uint32_t v) {
    return fail(fmt::format("It names vertex {}, but there are {}.", v, count));
  };
  const Json* accessor = this->accessor(number);
  const std::uint64_t type = accessor ? unsigned_at(*accessor, "componentType", 0).value_or(0) : 0;
  if (accessor && (type == 5121 || type == 5123 || type == 5125) && !accessor->contains("sparse")) {
    const auto l = layout(*accessor, 1);
    if (!l) return tl::unexpected(l.error());
    const std::size_t whole = l->count / 3;
    if (auto ok = spend(whole * sizeof(Triangle)); !ok) return ok;
    const std::size_t begin = out.size();
    out.resize(begin + whole);
    std::uint32_t most = 0;
    // Piece by piece, so that a large file is not held twice.
    constexpr std::size_t kPiece = std::size_t{3} << 16;
    for (std::size_t from = 0; from < whole * 3; from += kPiece) {
      const std::size_t piece = std::min(kPiece, whole * 3 - from), offset = l->offset + from * l->stride;
      each_index(l->bytes, offset, l->stride, piece, type, [&](std::size_t i, std::uint32_t v) {
        most = std::max(most, v);
        out[begin + (from + i) / 3][i % 3] = v + first;
      });
      if (done_ && piece == kPiece) done_(l->bytes.subspan(offset, piece * l->stride));
    }
    if (whole > 0 && most >= count) return beyond(most);
    return {};
  }
  const auto order = indices(number);
  if (!order) return tl::unexpected(order.error());
  for (const std::uint32_t v : *order)
    if (v >= count) return beyond(v);
  for (std::size_t i = 0; i + 2 < order->size(); i += 3)
    out.push_back({(*order)[i] + first, (*order)[i + 1] + first, (*order)[i + 2] + first});
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
