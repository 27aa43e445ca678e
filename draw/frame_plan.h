// What of a frame is drawn, how fine, and together with what: worked out before the card is asked for anything.
#pragma once

#include <functional>

#include "draw/renderer.h"

namespace tack {

/// What the renderer has of a mesh.
struct KnownMesh {
  Vec3 origin, half;                      ///< the middle and half the sides of its box, mm
  double radius = 0;                      ///< of the sphere about the origin that contains everything
  bool solid = false;                     ///< nothing of its inside shows from outside
  std::vector<MeshArrays::Level> levels;  ///< none: it is drawn as a box
  std::vector<MeshArrays::Run> runs, edge_runs;
  double edge_density = 0;  ///< see edge_density_of()
};

/// A part as the shaders take it, in fours: the rows of its matrix to eye coordinates, the columns of its map of
/// normals, and its first colour.
struct PartOnCard {
  std::array<float, 12> rows;
  std::array<float, 12> normals;
  Colour colour;
};
static_assert(sizeof(PartOnCard) == 28 * sizeof(float));

/// A corner of a box that stands for a part, in eye coordinates. Only the three sides that look at the eye are drawn,
/// each with four corners of its own: its two triangles are corners 0, 1, 2 and 0, 2, 3.
struct BoxCorner {
  float x, y, z;
  std::array<std::int8_t, 4> normal;
  std::array<std::uint8_t, 4> colour;
};
inline constexpr std::uint32_t kCornersOfBox = 12;

/// Parts that are drawn at once: of one mesh, one level, all mirrored or none, all with the eye outside or none.
struct Batch {
  enum class What : std::uint8_t { Solid, Clear, Ghost };
  What what = What::Solid;
  const Mesh* mesh = nullptr;  ///< null: boxes, of parts that are hardly larger than a pixel
  std::uint32_t level = 0;
  bool mirrored = false;
  bool culled = false;                 ///< faces that are seen from behind are left out: they are behind others
  bool thin = false;                   ///< so small that edges are lines of one pixel
  double thickness = 1e30;             ///< pixels across the box of a part, where that is thinnest: the least of all
  bool toned = false;                  ///< faces have the tone of their edges, which are not drawn
  bool hatched = true;                 ///< faces seen from behind are (DrawStyle::Facing)
  std::uint32_t first = 0, count = 0;  ///< in FramePlan::parts
  std::uint32_t picked = 0;            ///< so many of them, the first, are picked
  std::uint32_t first_colour = 0;      ///< with a mesh: in FramePlan::colours, `count` for each of its primitives
  std::uint32_t first_corner = 0;      ///< without a mesh: in FramePlan::corners
};

struct FramePlan {
  std::array<double, 16> projection{};  ///< from eye to clip coordinates, columns one after another
  std::vector<PartOnCard> parts;
  std::vector<std::uint32_t> items;  ///< of each part its number in the frame
  std::vector<BoxCorner> corners;    ///< of the batches without a mesh, kCornersOfBox for each of their parts
  std::vector<Colour> colours;
  std::vector<Batch> batches;  ///< in the order of the first part of each
  double off = 0;              ///< pixels by which what is drawn may be off
  std::size_t triangles = 0, edges = 0;
  /// Where in the picture what is picked lies: left, bottom, right, top in pixels. Empty when nothing is.
  std::array<double, 4> picked{1e30, 1e30, -1e30, -1e30};
  bool any_picked() const { return picked[0] < picked[2]; }
};

/// A box along the axes of eye coordinates, mm.
struct EyeBox {
  Vec3 centre, half;
};

/// Around a run of a part; a little larger than it.
EyeBox eye_box_of(const PartOnCard& part, const MeshArrays::Run& run);

inline constexpr double kLineReach = 4;  ///< pixels that edges reach beyond their boxes, at most

/// Whether something of a box may be in the picture; said too often rather than too seldom.
bool may_show(const DrawFrame& frame, const EyeBox& box);

/// From where a part is looked at, in the coordinates of its mesh relative to the mesh's origin.
class EyeOnMesh {
 public:
  EyeOnMesh(const View& view, const PartOnCard& part);
  /// Whether all triangles of a run are seen from behind; said too seldom rather than too often, and never where the
  /// part is flat.
  bool sees_behind(const MeshArrays::Run& run) const;

 private:
  bool flat_ = false, perspective_ = false;
  Vec3 eye_;    // perspective
  Vec3 along_;  // parallel: the way from the eye into the picture, of length 1
};

/// Parts out of the picture are left out; of each other one the coarsest level that is off by at most frame.off pixels
/// where it is nearest to the eye, and a box in its first colour, with the tone of its edges, where it is smaller than
/// a few of those. With a limit (frame.most) `off` grows by the root of two until no more is drawn, at most to
/// frame.most_off; where that is still too much, edges of small parts that lie closer together than
/// frame.toned_below give way to their tone. `known` gives what the card has of a mesh, or null. Items that are
/// `hidden`, by number, are left out; that may be empty. The memory of `spent`, a plan that is needed no more, is used
/// again. O(parts log parts), on all processors.
FramePlan plan_frame(const DrawFrame& frame, const std::function<const KnownMesh*(const Mesh&)>& known,
                     const std::vector<bool>& hidden = {}, FramePlan spent = {});

}  // namespace tack
