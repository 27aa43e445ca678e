// Making glTF out of what other formats deliver, so that texture coordinates, colours, pictures and materials are
// carried like those of a glTF.
#pragma once

#include <array>
#include <unordered_map>

#include "core/files/beside.h"
#include "core/files/byte_runs.h"
#include "core/files/carried.h"

namespace tack {

/// Places in single precision, by the address of those in double. Documents that are written together share them.
struct NarrowPlaces {
  struct Of {
    std::shared_ptr<const void> keep;  // as long as it holds, nothing else can get that address
    Blob floats;
  };
  std::unordered_map<const Vec3*, Of> of;
};

/// The numbers of a glTF that is being made: its accessors, buffer views and one buffer.
class GltfArrays {
 public:
  GltfArrays(Json& json, ByteRuns& binary, NarrowPlaces* narrow = nullptr)
      : json_(json), binary_(binary), narrow_(narrow) {}

  /// The places (mm or m, as they are) as floats, three for each, rounded to the nearest. With `keep`, which holds the
  /// places, the floats are found again when they are asked for next.
  Blob narrow(std::span<const Vec3> places, const std::shared_ptr<const void>& keep);

  /// A view of a copy of these bytes, begun at a multiple of 8; `target` 0 for none.
  int view(ByteView bytes, int target);
  /// The same for bytes that are held, not copied.
  int view(const Blob& bytes, int target);
  int accessor(Json accessor);
  /// Floats with `components` numbers for each element; with least and greatest where `bounds` says so. With `keep`,
  /// which holds them, they are not copied.
  int floats(std::span<const float> numbers, int components, bool bounds = false,
             const std::shared_ptr<const void>& keep = nullptr);
  int indices(std::span<const std::uint32_t> numbers, const std::shared_ptr<const void>& keep = nullptr);

 private:
  int view_of_last(std::size_t size, int target);

  Json& json_;
  ByteRuns& binary_;
  NarrowPlaces* narrow_;
};

/// What a mesh has beside its positions and normals, for each of its vertices, or empty.
struct MeshExtras {
  std::vector<std::array<float, 2>> places;   ///< in the picture, from its upper left corner
  std::vector<std::array<float, 4>> colours;  ///< linear, 0 to 1
  bool empty() const { return places.empty() && colours.empty(); }
};

/// Positions, normals and indices of a mesh as the primitives of a glTF mesh without materials, its positions in double
/// beside it where float does not hold them. With `keep`, which holds the arrays, those that a file has in
/// the same form are not copied: positions in double, indices, and normals that have unit length.
Json geometry_of(GltfArrays& arrays, std::span<const Vec3> positions, std::span<const Triangle> triangles,
                 std::span<const std::array<float, 3>> normals, std::span<const Primitive> primitives,
                 const MeshExtras& extras = {}, const std::shared_ptr<const void>& keep = nullptr);

/// A picture that is beside the file: into the document, as an image with a texture; −1, and a note, when it is missing
/// or of no known kind. Asked twice for one, it is there once.
class Pictures {
 public:
  Pictures(Json& json, ByteRuns& binary, const FilesBeside& beside, std::vector<std::string>& notes)
      : json_(json), binary_(binary), beside_(beside), notes_(notes) {}
  int texture(std::string name);
  /// The same for bytes that came with the file.
  int texture(const std::string& name, ByteView bytes);

 private:
  Json& json_;
  ByteRuns& binary_;
  const FilesBeside& beside_;
  std::vector<std::string>& notes_;
  std::map<std::string, int> known_;
};

/// "image/png" and so on, by what the bytes are; empty for none of those that glTF and its extensions know.
std::string kind_of_picture(ByteView bytes);

}  // namespace tack
