// Shape: make a solid of exact size, and change its dimensions for ever after.
#pragma once

#include "core/verbs/blank_row.h"
#include "core/verbs/reshape.h"

namespace tack {

/// What may be typed of a shape. `size` is that of boxes and plates; each of the others belongs to the kinds that have
/// it.
struct TypedDimensions {
  Amounts size;
  std::optional<Amount> diameter, top, height, thickness, corner, length, sides;

  /// The one that stands for a dimension of a kind.
  std::optional<Amount>& of(ShapeKind kind, Dimension dimension);
  const std::optional<Amount>& of(ShapeKind kind, Dimension d) const {
    return const_cast<TypedDimensions*>(this)->of(kind, d);
  }
  friend bool operator==(const TypedDimensions&, const TypedDimensions&) = default;
};

struct MakeShape {
  enum class Start { Middle, Corner };      ///< what of it, seen along the plane's normal, is at the first place
  enum class Base { Bottom, Middle, Top };  ///< what of it stands there, along the normal
  ShapeKind kind = ShapeKind::Box;
  TypedDimensions typed;
  std::optional<TackAddress> at;      ///< the first place
  std::optional<TackAddress> across;  ///< the opposite corner, a place of the rim, a line's other end
  std::optional<TackAddress> up;      ///< a place at the height of its other end
  PartId plane = kNoPart;             ///< which it stands on; kNoPart: World's
  bool other_plane = false;           ///< the plane was chosen; else it is the scene's
  Start start = Start::Middle;
  Base base = Base::Bottom;
  std::string name;  ///< empty: the kind, made free by a number

  friend bool operator==(const MakeShape&, const MakeShape&) = default;
};

/// Adds a live shape at the top of the tree. Its axes are those of the plane, through the first place; a line goes
/// towards its second place, or along the plane's x. Dimensions that are not typed come from the places: the second
/// gives what lies in the plane, the third the height, measured along the normal from the first place, below which the
/// shape hangs where it is lower. Those that nothing gives are the usual ones of usual_shape(); a steps file has to
/// give all. Fails for dimensions that check() refuses, and as the places do.
Result<Scene> apply(const MakeShape& make, const Scene& scene);
const Table<MakeShape>& table_of(const MakeShape*);
/// What it would be, and where: its own coordinates to the world.
struct ShapeInPlace {
  Shape shape;
  Affine frame;
};
Result<ShapeInPlace> shape_of(const MakeShape& make, const Scene& scene);
/// Whether the next place gives the height alone, so that only what it has along the normal counts.
bool waits_for_height(const MakeShape& make);

/// Gives live shapes other dimensions.
struct SetDimensions {
  std::vector<PartId> what;
  TypedDimensions typed;  ///< those left out stay; `it` is the dimension now
  About hold = bottom();  ///< what stays where it is
  Copies copies = Copies::All;

  friend bool operator==(const SetDimensions&, const SetDimensions&) = default;
};
/// Everything that hangs on a shape goes along (core/verbs/live.h); then the part is shifted so that the place held is
/// where it was. Fails for a part that is no live shape, for a dimension that its kind does not have, and for what
/// check() refuses.
Result<Scene> apply(const SetDimensions& set, const Scene& scene);
const Table<SetDimensions>& table_of(const SetDimensions*);

/// Makes live shapes plain meshes; nothing is seen of it. Taken back or unticked, the step leaves the dimensions.
struct MakeMesh {
  std::vector<PartId> what;
  friend bool operator==(const MakeMesh&, const MakeMesh&) = default;
};
Result<Scene> apply(const MakeMesh& make, const Scene& scene);
const Table<MakeMesh>& table_of(const MakeMesh*);

/// "60 × 40 × 30 mm", "6 mm across, 40 mm high, 48 sides".
std::string dimensions_words(const Shape& shape, const LengthUnit& unit);

}  // namespace tack
