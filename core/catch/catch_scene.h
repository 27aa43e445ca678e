// Catching: which tack is under the pointer. A snapshot of a scene prepared for searching, and the search itself.
#pragma once

#include <functional>

#include "core/catch/catch_kinds.h"
#include "core/catch/tack.h"
#include "core/mesh/box_tree.h"
#include "core/view/view.h"

namespace tack {

/// One shown part: with a mesh, or a group, of which the pivot alone can be caught.
struct CatchPart {
  PartId id = kNoPart;
  MeshPtr mesh;  ///< null for a group
  Affine world;
  Affine to_mesh;                         ///< the inverse of `world`; parts that cannot be inverted are left out
  Vec3 pivot;                             ///< in the mesh's coordinates
  std::shared_ptr<const KeptTacks> kept;  ///< null when there are none
  GuideKind guide = GuideKind::None;
  bool see_through = false;  ///< or a patch: hides nothing; its own surface is taken where there is none behind it
  Sheet sheet;               ///< of a plane: as far as it is caught
  bool patch = false;        ///< elements of another part, and no part for itself: no rectangle picks it
};

/// What can be caught: every part that is not hidden, and a small tree over their world boxes (conservative: the box of
/// the transformed local box). O(parts log parts) to make; meshes are shared, never copied.
struct CatchScene {
  std::vector<CatchPart> parts;
  BoxTree tree;
  std::vector<std::uint32_t> kept, guides;  ///< the parts that have kept tacks, and those that are guides
};
CatchScene make_catch_scene(const Scene& scene);

/// A grid whose nodes are caught: those of the plane z = 0 of `frame` (to the world), `spacing` mm apart from its
/// origin.
struct CatchGrid {
  Affine frame;
  double spacing = 10;
  PartId plane = kNoPart;       ///< whose it is; kNoPart: the world's
  std::optional<Sheet> within;  ///< how far it goes; none: without end
};

struct CatchOptions {
  double radius = 10;  ///< pixels from the pointer within which anything is caught
  double touch =
      0.01;            ///< mm by which a nearer surface must cover a tack to hide it; how near edges must pass to cross
  CatchKinds kinds;    ///< which kinds are looked for
  int edge_parts = 2;  ///< into how many equal parts an edge is divided; the places between them are caught
  bool cut_at_eye = false;  ///< what stands before the eye is cut away: it neither hides anything nor is it caught
  bool hidden_too = false;  ///< when nothing visible is near, take what is hidden
  std::optional<CatchGrid> grid;            ///< used where `kinds` has Grid
  std::function<bool(PartId)> leave_out;    ///< parts that are not caught on; they still hide what is behind them …
  std::function<bool(PartId)> see_through;  ///< … unless they are looked through as well (what moves)
};

/// A tack near the pointer.
struct Caught {
  TackAddress address;
  Vec3 point;           ///< world, mm
  double pixels = 0;    ///< from the pointer
  double score = 0;     ///< pixels plus the handicap of its kind
  double depth = 0;     ///< distance along the line of sight, mm
  bool behind = false;  ///< covered by a nearer surface
};

/// Handicaps in pixels: a kind with a larger one gives way to a kind with a smaller one that is a little further off.
inline constexpr double kKeptHandicap = 0;
inline constexpr double kVertexHandicap = 1;
inline constexpr double kRoundCentreHandicap = 1;
inline constexpr double kEdgePointHandicap = 3;  ///< the middle of an edge, a crossing
inline constexpr double kEdgeHandicap = 5;
inline constexpr double kBoxPointHandicap = 6;
inline constexpr double kPivotHandicap = 6;  ///< and the centre of mass
inline constexpr double kFaceCentreHandicap = 6;
inline constexpr double kGuideHandicap = 7;
/// A round edge's centre can be had by its rim as well, when nothing else is caught there.
inline constexpr double kRimHandicap = 9;
/// A vertex that is no corner of a feature edge carries this besides when several of them lie within the radius, so
/// that edges and faces of dense meshes stay catchable.
inline constexpr double kDenseHandicap = 4;
/// Faces, planes to be caught on behind them, and the grid come only when nothing else is within reach.
inline constexpr double kFaceScore = 1000, kGuidePlaneScore = 1500, kGridScore = 2000;
/// Scores closer than this count as equal: then nearer the eye wins, then the lower part id, then the lower number.
inline constexpr double kScoreTie = 0.01;

/// Whether `a` is to be preferred to `b`: the order in which tacks are offered. A pure function of its arguments.
bool ranks_before(const Caught& a, const Caught& b);

/// The best visible tack within the radius of (x, y), or nullopt. Computed in double from the stored numbers. With the
/// meshes' indexes ready the search goes outward from the pointer in pixels and ends at the first visible tack that
/// nothing can beat; without them vertices are scanned. Edges, round edges and faces' centres are caught on meshes
/// whose features (core/mesh/features.h) are ready.
/// Where ray after ray grazes the outline of a mesh of millions of triangles, the search gives up after a fixed amount
/// of work, so the answer is always the same.
std::optional<Caught> best_tack(const CatchScene& scene, const View& view, double x, double y,
                                const CatchOptions& options);

/// All tacks within the radius, hidden ones included and marked so, visible ones first, each group in the order of
/// ranks_before, then the faces under the pointer from front to back, each with its axis where it is round; those of
/// one kind at one place (within `touch`) on one part only once; at most `limit`.
std::vector<Caught> all_tacks(const CatchScene& scene, const View& view, double x, double y,
                              const CatchOptions& options, std::size_t limit = 32);

/// A surface under the pointer.
struct Struck {
  PartId part = kNoPart;
  std::uint32_t triangle = 0;
  Vec3 point;  ///< world, mm
};

/// The nearest surface under the pointer, or nullopt. `leave_out` parts are looked through, and so are those that are
/// see-through, unless there is nothing behind them.
std::optional<Struck> strike(const CatchScene& scene, const View& view, double x, double y,
                             const std::function<bool(PartId)>& leave_out = {});

/// Parts whose every vertex is inside the rectangle (pixels), or of which any vertex is when `touching`.
std::vector<PartId> parts_in_rectangle(const CatchScene& scene, const View& view, double left, double top, double right,
                                       double bottom, bool touching);

}  // namespace tack
