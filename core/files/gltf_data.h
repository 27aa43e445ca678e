// The numbers of a glTF: buffers, buffer views and accessors, each checked before use.
#pragma once

#include <nlohmann/json.hpp>
#include <unordered_map>

#include "core/files/beside.h"
#include "core/files/byte_runs.h"
#include "core/files/glb.h"
#include "core/mesh/mesh.h"

namespace tack {

/// Loads all buffers (binary chunk, embedded base64, files beside the document) and makes them one, moving the buffer
/// views along; images beside the document are taken in too, by what they are and not by what they are called. Fallback
/// buffers without data stay behind it. Fails when a buffer is missing, too short, or outside the document's folder;
/// pictures that are missing, outside of it or of no known kind are named in `notes` and stay outside.
Result<Blob> gather_buffers(Json& json, Blob binary, const FilesBeside& beside, std::vector<std::string>& notes);

/// What unsigned_at() is asked to give where there is no number: beyond every count.
inline constexpr std::uint64_t kNoNumber = ~0ull >> 1;

/// Bytes of one component (5120 … 5126); 0 for no type of glTF.
std::size_t component_size(std::uint64_t type);
/// How many numbers "SCALAR" … "MAT4" have; 0 for no type of glTF.
int components_of(const std::string& type);
/// What 1 is in a normalised integer of that type; 1 for floats.
double full_scale(std::uint64_t type);
/// Writes one component; rounded, and counted up from a fraction where it is `normalized`.
void put_component(std::uint8_t* at, std::uint64_t type, double value, bool normalized);

/// An unsigned number under `key`, or `otherwise` when there is none; fails (nullopt) when it is something else,
/// negative or over 2^53.
std::optional<std::uint64_t> unsigned_at(const Json& object, const char* key, std::uint64_t otherwise);

/// Reads accessors out of one document. Keeps decompressed buffer views. What it decodes is bounded by the size of the
/// data: a few bytes that say they are a million numbers are refused.
class GltfData {
 public:
  /// `done` is told which bytes have been read and are not likely to be read again soon; may be empty.
  GltfData(const Json& json, ByteView binary, std::function<void(ByteView)> done = {});
  /// The same for a document that is being put together; neither may change while this is in use.
  GltfData(const Json& json, const ByteRuns& binary);

  /// The accessor of that number; null when there is none.
  const Json* accessor(std::uint64_t number) const;
  /// Counts `decoded` bytes that `packed` bytes have become; fails beyond all measure.
  Result<void> spend_packed(std::uint64_t decoded, std::uint64_t packed);

  /// The bytes of a buffer view, decompressed (EXT_meshopt_compression) when need be.
  Result<ByteView> view(std::uint64_t number);

  /// All numbers of an accessor, `components` for each element, normalised integers as fractions, sparse values put in.
  /// Fails when the accessor's type has another number of components.
  Result<std::vector<double>> numbers(std::uint64_t accessor, int components);

  /// The same for three components, put behind what is in `out`.
  Result<void> vectors(std::uint64_t accessor, std::vector<Vec3>& out);

  /// The same for one component of unsigned integers.
  Result<std::vector<std::uint32_t>> indices(std::uint64_t accessor);
  /// The same as triangles that begin at vertex `first`, put behind what is in `out`; fails where one names a vertex
  /// beyond `count`. Whole triangles only.
  Result<void> triangles(std::uint64_t accessor, std::uint32_t first, std::size_t count, std::vector<Triangle>& out);

 private:
  struct Layout {
    ByteView bytes;
    std::uint64_t offset = 0, stride = 0, count = 0;
    std::uint64_t component_type = 0;
    bool normalized = false;
  };
  Result<Layout> layout(const Json& accessor, int components);
  Result<void> put_sparse(const Json& accessor, int components, std::vector<double>& values);

  Result<void> spend(std::uint64_t decoded);

  const Json& json_;
  ByteView binary_;
  const ByteRuns* runs_ = nullptr;  // where it is set, instead of binary_
  std::vector<Blob> slices_;        // of runs_: a slice across several is a copy
  std::function<void(ByteView)> done_;
  std::uint64_t left_ = 0;  // bytes that may still be decoded
  std::unordered_map<std::uint64_t, Bytes> decompressed_;
};

}  // namespace tack
