// The scene: an immutable value. Copying one copies a few pointers; changing one shares everything that did not change.
#pragma once

#include <functional>
#include <optional>
#include <string>
#include <string_view>
#include <unordered_map>
#include <unordered_set>
#include <vector>

#include "core/mesh/mesh.h"
#include "core/mesh/shape.h"
#include "core/mesh/stretch.h"
#include "core/scene/axes.h"
#include "core/scene/colour.h"
#include "core/scene/patch.h"
#include "core/scene/placement.h"
#include "core/scene/plane.h"
#include "core/scene/seldom.h"
#include "core/scene/skin.h"
#include "core/scene/tie.h"

namespace tack {

struct CarriedNode;      // what an imported glTF node brought along; known only to core/files
struct CarriedDocument;  // what an imported glTF document brought along; known only to core/files

/// Three numbers as they were typed, and in which axes. They are shown again while the scene still agrees with them.
struct TypedGroup {
  AxesKind axes = AxesKind::World;
  PartId of = kNoPart;                          ///< Plane axes: whose
  std::array<std::optional<double>, 3> values;  ///< mm, degrees or factors; nullopt for a component that was not typed
  std::array<std::string, 3> text;              ///< what was typed, e.g. "2 ft 6 in"

  friend bool operator==(const TypedGroup&, const TypedGroup&) = default;
};

/// What was typed of a part's placement. It stands beside the part, whose versions share it: parts are copied with
/// every step and every move of the pointer, and few have any.
struct TypedNumbers {
  TypedGroup position, rotation, scale;
};
using TypedNumbersPtr = std::shared_ptr<const TypedNumbers>;
/// Empty groups when nothing was typed.
const TypedNumbers& typed_numbers(const TypedNumbersPtr& typed);

/// Quarter turns counted beside the angles they started from: the part's rotation is left · R(base) · right as long as
/// its angles are `now`. So four quarter turns about any axis give the same angles back, to the bit.
struct QuarterTurns {
  Vec3 base;         ///< degrees
  Mat3 left, right;  ///< turns of a cube onto itself: about the parent's axes, about the part's own
  Vec3 now;          ///< degrees

  friend bool operator==(const QuarterTurns&, const QuarterTurns&) = default;
};
using QuarterTurnsPtr = std::shared_ptr<const QuarterTurns>;  ///< null: none are counted

/// What a guide is, in its own coordinates: its origin, the z axis through it, the plane of x and y.
enum class GuideKind : std::uint8_t { None, Point, Line, Plane };
/// How far from its origin a guide is shown and caught (in its own coordinates, mm): either way along a line, and to
/// each side of a plane.
inline constexpr double kGuideLine = 5000, kGuidePlane = 150;

/// A tack saved on a part by name: the part's joint. In the mesh's coordinates, so that it goes where the part goes and
/// is the same on every instance.
struct KeptTack {
  std::string name;  ///< no two of a part have the same
  Vec3 point;
  std::optional<Vec3> direction;  ///< a normal: carried by the inverse transpose; any length but zero
  std::optional<Vec3> roll;       ///< carried along with the part

  friend bool operator==(const KeptTack&, const KeptTack&) = default;
};
using KeptTacks = std::vector<KeptTack>;

/// What ties a part to the file it came from, beside what its node had.
struct PartSource {
  int carried_mesh = -1;            ///< the carried mesh that holds its geometry; −1: none, it is written anew
  bool geometry_in_metres = false;  ///< that geometry is in metres, Y up
  bool recoloured = false;          ///< its colours are no longer those of the carried mesh's materials
  bool animated = false;            ///< an animation of its file, or a mesh's joints, refer to its own numbers
  bool frame_used = false;          ///< its node has a camera, a light, copies or more in the frame of its mesh
  /// Vertices have been moved since it was read, so the mesh is no longer what `lengthened` and `baked` make of that of
  /// the file.
  bool edited = false;
  /// From the part's frame when it was read to its present one: what verbs have taken into its mesh, and into what
  /// hangs below it, since.
  Affine baked;
  /// What made its mesh longer since it was read, in turn; in the coordinates that the mesh had then. Null: nothing.
  /// The present mesh is that of the file, lengthened by these, taken through `baked`.
  std::shared_ptr<const std::vector<Lengthening>> lengthened;
};

/// Anything that can be placed. A part without a mesh is a group, or a guide. Every step copies the parts that it
/// changes, ten thousand of them when it moves all: what few parts have is held by a pointer.
struct Part {
  std::string name;
  PartId parent = kNoPart;
  std::vector<PartId> children;  ///< in tree order; kept by Scene
  Placement placement;
  Affine local;           ///< matrix_of(placement); kept by Scene
  TypedNumbersPtr typed;  ///< null when nothing was
  QuarterTurnsPtr quarters;
  MeshPtr mesh;
  std::shared_ptr<const KeptTacks> kept;   ///< null when it has none
  LiveShapePtr shape;                      ///< null, or the dimensions that its mesh is made from
  std::shared_ptr<const KeptBands> bands;  ///< null when it has none; in the mesh's coordinates
  /// Null, or the mesh that its own is made from: linked copies with lengths of their own share that one.
  std::shared_ptr<const StretchedFrom> stretched;
  std::vector<Colour> colours;  ///< one for each primitive of the mesh
  ColourNames colour_names;     ///< null when none of them is on the document's list
  GuideKind guide = GuideKind::None;
  PlaneGridPtr grid;   ///< of a plane; null: one that follows the zoom
  GuideLawPtr law;     ///< what a guide follows; null: it stays where it is
  PatchPtr patch;      ///< null, or the elements of other parts that it stands for
  SameNumbersPtr had;  ///< null: it was not brought from plane to plane
  bool hidden = false;
  bool locked = false;
  bool see_through = false;  ///< drawn so that what is behind it shows, and what is behind it can be caught and picked
  SkinPtr skin;              ///< null, or the joints that bend its mesh, which therefore takes nothing in
  Seldom<PartSource> source;
  std::shared_ptr<const CarriedNode> carried;  ///< everything else that its node had
};

/// The mesh that instances of a part share: its own, or the one that its own is a longer copy of. Null for a group.
inline const MeshPtr& shared_mesh(const Part& part) { return part.stretched ? part.stretched->base : part.mesh; }

/// Whether a part has a mesh of the model: not a group, a guide or what was taken from a mesh.
inline bool is_model(const Part& part) { return part.mesh && !part.patch; }

class Scene {
 public:
  /// Parts at the top of the tree, in order.
  const std::vector<PartId>& roots() const { return *roots_; }
  /// The part with this id, or nullptr. Valid as long as this scene value (or a copy that shares the part) lives.
  const Part* find(PartId id) const;
  /// The part with this id, which must exist.
  const Part& part(PartId id) const { return *find(id); }
  bool contains(PartId id) const { return find(id) != nullptr; }
  std::size_t size() const { return size_; }
  /// One more than the largest id ever given out: the size of a table indexed by id.
  PartId id_limit() const { return next_; }

  /// Adds a part as the last child of part.parent (or of the top) and returns its id. Ids are never reused. The parent
  /// must exist; `children` is ignored.
  PartId add(Part part);
  /// Replaces everything of a part but its place in the tree (parent, children).
  void replace(PartId id, Part part);
  /// Lets `change` alter the name or the looks of a part, which must exist. It must not touch the placement, the place
  /// in the tree, or what the part follows. Cheaper than replace(): the part is copied at most once.
  void dress(PartId id, const std::function<void(Part&)>& change) { change(own_part(id)); }
  /// Changes only the placement.
  void place(PartId id, const Placement& placement);
  /// Changes the placement and the quarter turns counted beside its angles.
  void place(PartId id, const Placement& placement, QuarterTurnsPtr quarters);
  /// Hangs a part below another (kNoPart: at the top), as its last child; its numbers stay. Nothing happens when that
  /// would make a circle.
  void reparent(PartId id, PartId parent);
  /// Removes parts and everything below them, and the ties that hold on any of it. Those that do not exist are passed
  /// over. O(what goes + siblings of what goes), and one pass over the ties.
  void remove(const std::vector<PartId>& ids);
  void remove(PartId id) { remove(std::vector<PartId>{id}); }

  /// The parts added next get these ids, in this order, as far as they are free; after them ids from `floor` up. For
  /// doing a step again on another scene: what it makes keeps its ids, so that later steps still find it.
  void expect_ids(std::vector<PartId> ids, PartId floor);

  /// Every part, parents before children, in tree order.
  std::vector<PartId> in_tree_order() const;

  /// The meetings that are remembered, in the order in which they were made.
  const std::vector<Tie>& ties() const { return *ties_; }
  /// The tie with this name, or nullptr.
  const Tie* tie(std::string_view name) const;
  void set_ties(std::vector<Tie> ties);

  /// The document's list of named colours, in the order in which they came.
  const std::vector<NamedColour>& colours() const { return *colours_; }
  /// The one with this name, or nullptr.
  const NamedColour* colour(std::string_view name) const;
  void set_colours(std::vector<NamedColour> colours);

  /// The plane in use, the floor of everything: a guide plane, or kNoPart for the world's. One that is removed gives
  /// way to the world's.
  PartId plane() const { return plane_; }
  void use_plane(PartId plane) { plane_ = plane; }
  /// The grid of the world's plane; those of other planes stand with them.
  const PlaneGrid& ground_grid() const { return ground_grid_; }
  void set_ground_grid(const PlaneGrid& grid) { ground_grid_ = grid; }
  /// The views kept by name, in the order in which they came.
  const std::vector<NamedView>& views() const { return *views_; }
  void set_views(std::vector<NamedView> views);
  /// The guides that follow something, by id; there may be ids among them that do not any more.
  const std::vector<PartId>& followers() const { return *followers_; }

  /// The parts whose meshes joints bend, by id; there may be ids among them that are gone.
  const std::vector<PartId>& skinned() const { return *skinned_; }

  /// The parts that stand for elements of others, by id; there may be ids among them that are gone.
  const std::vector<PartId>& patches() const { return *patches_; }

  /// What imported documents brought along and Tack Point does not edit; nullptr when there is none.
  const std::shared_ptr<const CarriedDocument>& carried() const { return carried_; }
  void set_carried(std::shared_ptr<const CarriedDocument> carried) { carried_ = std::move(carried); }

  /// Whether two scene values share this part untouched; a quick test for "what changed".
  bool shares(const Scene& other, PartId id) const { return find(id) == other.find(id); }
  /// The parts that this scene and the other do not share, by id: changed, new or gone. O(parts / 64 + changed).
  std::vector<PartId> unlike(const Scene& other) const;

 private:
  // Parts and chunks are made to be changed, and are handed out as const: a version that shares one with nobody else
  // changes it in place.
  static constexpr std::size_t kChunk = 64;
  using Chunk = std::array<std::shared_ptr<Part>, kChunk>;

  Chunk& own_chunk(std::size_t number);
  Part& own_part(PartId id);
  std::vector<PartId>& own_children(PartId parent);
  void note(std::shared_ptr<std::vector<PartId>>& list, PartId id);

  std::vector<std::shared_ptr<Chunk>> chunks_;
  std::shared_ptr<std::vector<PartId>> roots_ = std::make_shared<std::vector<PartId>>();
  std::shared_ptr<const std::vector<Tie>> ties_ = std::make_shared<const std::vector<Tie>>();
  std::shared_ptr<const std::vector<NamedColour>> colours_ = std::make_shared<const std::vector<NamedColour>>();
  std::shared_ptr<const std::vector<NamedView>> views_ = std::make_shared<const std::vector<NamedView>>();
  std::shared_ptr<std::vector<PartId>> followers_ = std::make_shared<std::vector<PartId>>();
  std::shared_ptr<std::vector<PartId>> skinned_ = std::make_shared<std::vector<PartId>>();
  std::shared_ptr<std::vector<PartId>> patches_ = std::make_shared<std::vector<PartId>>();
  std::shared_ptr<const CarriedDocument> carried_;
  PlaneGrid ground_grid_;
  PartId plane_ = kNoPart;
  std::size_t size_ = 0;
  PartId next_ = 1;
  std::vector<PartId> expected_;  // reversed: the next one last
};

/// From the mesh's frame of a part to the world (mm, Z up).
Affine world_of(const Scene& scene, PartId id);
/// From the frame in which a part's placement is given (its parent's, or the world) to the world.
Affine parent_world_of(const Scene& scene, PartId id);
/// The world matrix of every part, indexed by id; the identity for ids that do not exist. O(parts).
std::vector<Affine> worlds_of(const Scene& scene);

/// Calls f(id, world) for every part that is shown, in tree order: the one walk that drawing, catching and measuring
/// share. Patches are none of them. O(parts).
template <typename F>
void each_shown(const Scene& scene, F&& f) {
  std::vector<std::pair<PartId, Affine>> pending;
  const auto push = [&](const std::vector<PartId>& ids, const Affine* parent) {
    for (auto id = ids.rbegin(); id != ids.rend(); ++id) {
      const Part& part = scene.part(*id);
      if (!part.hidden) pending.emplace_back(*id, parent ? *parent * part.local : part.local);
    }
  };
  push(scene.roots(), nullptr);
  while (!pending.empty()) {
    const auto [id, world] = pending.back();
    pending.pop_back();
    if (!scene.part(id).patch) f(id, world);
    push(scene.part(id).children, &world);
  }
}

/// The tacks kept on a part; none when it is not there.
const KeptTacks& kept_of(const Scene& scene, PartId id);
/// The one with this name, or nullptr. Valid as long as this scene value lives.
const KeptTack* find_kept(const Scene& scene, PartId id, std::string_view name);
/// The bands kept on a part; none when it is not there.
const KeptBands& bands_of(const Scene& scene, PartId id);

/// The kept tacks after their coordinates have changed by `change`, as a bake does it: what they are in the world
/// stays.
std::shared_ptr<const KeptTacks> carried_along(const std::shared_ptr<const KeptTacks>& kept, const Affine& change);

/// The frame of a plane to the world: its columns x, y and the normal, unit and square to each other, its origin where
/// the plane's pivot is. Of a plane below a skewed parent: x along what its x has become, y squared up, so that the
/// plane itself is kept. kNoPart, and a part that is gone: the world's.
Affine plane_frame(const Scene& scene, PartId plane);
/// The grid of a plane; kNoPart: the world's.
PlaneGrid grid_of(const Scene& scene, PartId plane);

/// How far a plane is drawn and caught, in its own frame (mm).
struct Sheet {
  double left = -kGuidePlane, bottom = -kGuidePlane, right = kGuidePlane, top = kGuidePlane;
  bool holds(const Vec3& at) const { return at.x >= left && at.x <= right && at.y >= bottom && at.y <= top; }
  /// In turn round its border, in the plane's frame.
  std::array<Vec3, 4> corners() const {
    return {Vec3{left, bottom, 0}, Vec3{right, bottom, 0}, Vec3{right, top, 0}, Vec3{left, top, 0}};
  }
  friend bool operator==(const Sheet&, const Sheet&) = default;
};
/// The sheet of a plane, with a margin: as large as the part that it belongs to and, where it is the one in use, the
/// boxes of the shown parts that stand on it or lie flush with it (within 0.01 mm); where there is nothing such,
/// kGuidePlane to each side. O(parts) for the one in use.
Sheet sheet_of(const Scene& scene, PartId plane);

/// The box of a part's own mesh vertices in the world's axes, from the true vertices; empty for a group. O(vertices).
Box world_box_of(const Mesh& mesh, const Affine& world);
/// The sizes of a part's mesh along its own axes, in the world: extent × length of the world column (mm); zero for
/// groups.
Vec3 own_size(const Scene& scene, PartId id);
/// The box of everything that is shown: all vertices of all parts that are not hidden.
Box world_box_of(const Scene& scene);

/// Whether `ancestor` is `id` itself or somewhere above it.
bool is_within(const Scene& scene, PartId id, PartId ancestor);
/// For each id whether the part is one of `ids` or below one of them. O(parts marked), and a bit
/// for every id.
std::vector<bool> marked_within(const Scene& scene, const std::vector<PartId>& ids);
/// Whether the part or one of its parents is hidden.
bool is_hidden(const Scene& scene, PartId id);
/// `ids` without those whose parent, or a part further up, is also in `ids`, and without doubles: what moves once.
std::vector<PartId> topmost(const Scene& scene, const std::vector<PartId>& ids);

/// The part's path, e.g. `Lift/Carriage/Scoop`; parts of one parent with the same name get `#2`, `#3` … in tree order.
/// A '/', '#' or '\' inside a name is written with a '\' before it. find_by_path(path_of(id)) is id.
std::string path_of(const Scene& scene, PartId id);
/// The same for many parts in one pass; empty for parts that are gone. O(parts of the scene).
std::vector<std::string> paths_of(const Scene& scene, const std::vector<PartId>& parts);
/// The part that `path` names: a full path, or the end of exactly one part's path. Fails, listing the candidates, when
/// several parts end so, and with the nearest name when none does. A full path costs O(depth × siblings).
Result<PartId> find_by_path(const Scene& scene, std::string_view path);
/// The same for many paths: full ones cost one pass over the scene together.
Result<std::vector<PartId>> find_by_paths(const Scene& scene, const std::vector<std::string>& paths);

/// `wanted`, or with " 2", " 3" … behind it: the first for which taken(name) is false.
template <typename Taken>
std::string first_free(const std::string& wanted, Taken&& taken) {
  std::string name = wanted;
  for (int number = 2; taken(name); ++number) name = wanted + " " + std::to_string(number);
  return name;
}

/// Names for new children of one parent, each taken once it was given out. O(children) to make, O(1) a name.
class FreeNames {
 public:
  FreeNames(const Scene& scene, PartId parent);
  /// `wanted`, or with " 2", " 3" … behind it.
  std::string take(const std::string& wanted);
  /// `stem` with the first free number above `number` behind it.
  std::string next(const std::string& stem, std::uint64_t number);

 private:
  std::unordered_set<std::string> taken_;
  std::unordered_map<std::string, int> last_;
  std::unordered_map<std::string, std::uint64_t> counted_;
};

/// A name that no child of `parent` has yet: `wanted`, or `wanted 2`, `wanted 3` …
std::string free_name(const Scene& scene, PartId parent, const std::string& wanted);

}  // namespace tack
