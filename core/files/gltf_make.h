// Making glTF out of what other formats deliver, so that texture coordinates, colours, pictures and materials are
// carried like those of a glTF.
#pragma once

#include <array>

#include "core/files/beside.h"
#include "core/files/carried.h"

namespace tack {

/// The numbers of a glTF that is being made: its accessors, buffer views and one buffer.
class GltfArrays {
 public:
  GltfArrays(Json& json, Bytes& binary) : json_(json), binary_(binary) {}

  /// A view of a copy of these bytes, begun at a multiple of 8; `target` 0 for none.
  int view(const void* data, std::size_t size, int target);
  int accessor(Json accessor);
  /// Floats with `components` numbers for each element; with least and greatest where `bounds` says so.
  int floats(std::span<const float> numbers, int components, bool bounds = false);
  int indices(std::span<const std::uint32_t> numbers);

 private:
  Json& json_;
  Bytes& binary_;
};

/// What a mesh has beside its positions and normals, for each of its vertices, or empty.
struct MeshExtras {
  std::vector<std::array<float, 2>> places;   ///< in the picture, from its upper left corner
  std::vector<std::array<float, 4>> colours;  ///< linear, 0 to 1
  bool empty() const { return places.empty() && colours.empty(); }
};

/// Positions, normals and indices of a mesh as the primitives of a glTF mesh without materials, its positions in double
/// beside it where float does not hold them.
Json geometry_of(GltfArrays& arrays, std::span<const Vec3> positions, std::span<const Triangle> triangles,
                 std::span<const std::array<float, 3>> normals, std::span<const Primitive> primitives,
                 const MeshExtras& extras = {});

/// A picture that is beside the file: into the document, as an image with a texture; −1, and a note, when it is missing
/// or of no known kind. Asked twice for one, it is there once.
class Pictures {
 public:
  Pictures(Json& json, Bytes& binary, const FilesBeside& beside, std::vector<std::string>& notes)
      : json_(json), binary_(binary), beside_(beside), notes_(notes) {}
  int texture(std::string name);
  /// The same for bytes that came with the file.
  int texture(const std::string& name, ByteView bytes);

 private:
  Json& json_;
  Bytes& binary_;
  const FilesBeside& beside_;
  std::vector<std::string>& notes_;
  std::map<std::string, int> known_;
};

/// "image/png" and so on, by what the bytes are; empty for none of those that glTF and its extensions know.
std::string kind_of_picture(ByteView bytes);

}  // namespace tack
