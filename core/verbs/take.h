// Take: vertices, edges or faces of parts as something that is placed like a part.
#pragma once

#include "core/verbs/blank_row.h"
#include "core/verbs/reshape.h"

namespace tack {

/// What is taken of one part.
struct Taken {
  PartId part = kNoPart;
  Elements elements;
  /// Where the welded vertices of the elements were when it was taken, in the mesh's coordinates, and how many vertices
  /// and triangles the mesh had: on a mesh with other numbers they are found again by these. Empty: by number alone.
  std::vector<Vec3> places;
  std::size_t vertices = 0, triangles = 0;

  friend bool operator==(const Taken&, const Taken&) = default;
};
/// The elements of a part as they stand in the scene.
Taken taken(const Scene& scene, PartId part, Elements elements);

/// A list that copies of the verb share.
struct TakenList {
  std::shared_ptr<const std::vector<Taken>> list;

  std::span<const Taken> items() const { return list ? std::span<const Taken>(*list) : std::span<const Taken>(); }
  friend bool operator==(const TakenList& a, const TakenList& b) {
    return a.list == b.list || std::ranges::equal(a.items(), b.items());
  }
};

struct Take {
  TakenList of;         ///< all of one kind
  Amount reach;         ///< mm in the world: what is nearer goes along by its share; 0: nothing does
  bool surface = true;  ///< measured along the surface, else through space
  Copies copies = Copies::All;
  std::string name;  ///< empty: "3 faces of Crate", made free by a number

  friend bool operator==(const Take&, const Take&) = default;
};

/// Adds a patch, at the top of the tree. It stands at the middle of what was taken: the mean of its vertices, or the
/// centroid of its faces' area; of faces its z is their mean normal as long as that is not 0 and the part is not skewed
/// or scaled unevenly, of vertices and edges its axes are the part's. Fails where nothing is taken, for numbers that a
/// mesh does not have, for meshes that joints bend and for a reach below 0.
Result<Scene> apply(const Take& take, const Scene& scene);
const Table<Take>& table_of(const Take*);

/// "3 faces", "1 edge".
std::string count_words(ElementKind kind, std::size_t count);

/// "0-3,7": numbers that rise, as steps files write them.
std::string ranges_text(const std::vector<std::uint32_t>& numbers);
Result<std::vector<std::uint32_t>> numbers_from_ranges(std::string_view text, std::string_view key);

}  // namespace tack
