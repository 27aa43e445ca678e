// The numbers of a glTF: buffers, buffer views and accessors, each checked before use.
#pragma once

#include <nlohmann/json.hpp>
#include <unordered_map>

#include "core/files/bytes.h"
#include "core/files/glb.h"

namespace tack {

/// Loads all buffers (binary chunk, embedded base64, files beside the document) and makes them one, moving the buffer
/// views along; images beside the document are taken in too. Fallback buffers without data stay behind it. Fails when a
/// buffer is missing, too short, or outside the document's folder.
Result<Bytes> gather_buffers(Json& json, Bytes binary, const std::filesystem::path& folder);

/// An unsigned number under `key`, or `otherwise` when there is none; fails (nullopt) when it is something else,
/// negative or over 2^53.
std::optional<std::uint64_t> unsigned_at(const Json& object, const char* key, std::uint64_t otherwise);

/// Reads accessors out of one document. Keeps decompressed buffer views.
class GltfData {
 public:
  GltfData(const Json& json, ByteView binary) : json_(json), binary_(binary) {}

  /// The bytes of a buffer view, decompressed (EXT_meshopt_compression) when need be.
  Result<ByteView> view(std::uint64_t number);

  /// All numbers of an accessor, `components` for each element, normalised integers as fractions, sparse values put in.
  /// Fails when the accessor's type has another number of components.
  Result<std::vector<double>> numbers(std::uint64_t accessor, int components);

  /// The same for one component of unsigned integers.
  Result<std::vector<std::uint32_t>> indices(std::uint64_t accessor);

 private:
  struct Layout {
    ByteView bytes;
    std::uint64_t offset = 0, stride = 0, count = 0;
    std::uint64_t component_type = 0;
    bool normalized = false;
  };
  Result<Layout> layout(const Json& accessor, int components);
  Result<void> put_sparse(const Json& accessor, int components, std::vector<double>& values);

  const Json& json_;
  ByteView binary_;
  std::unordered_map<std::uint64_t, Bytes> decompressed_;
};

}  // namespace tack
