// Plane: lay a work plane, choose the one in use, give it a grid.
#pragma once

#include "core/verbs/guide.h"

namespace tack {

/// How a plane is said: a frame from places, from another plane or part, from a view, or from numbers.
struct LayPlane {
  enum class Way {
    Through,  ///< three places: its origin, x towards the second, flat through the third
    On,       ///< a place: its direction is the normal, its roll x
    Beside,   ///< a plane, or a part's own axes
    View,     ///< square to a view, through a place
    Numbers,  ///< a position and a rotation in World axes
  };
  std::optional<Way> way;                             ///< none: Through
  std::array<std::optional<TackAddress>, 3> through;  ///< Through
  std::optional<TackAddress> at;                      ///< On, View
  PartId of = kNoPart;                                ///< Beside; kNoPart: World
  int across = 2;                                     ///< On, Beside: which of its axes is the normal
  Amount offset;                                      ///< On, Beside: mm along the normal …
  int round = 0;                                      ///< … and then turned round its own x, y or z …
  Amount angle;                                       ///< … by this, degrees
  Mat3 view;                                          ///< View: right, up and towards the viewer
  Amounts position, rotation;                         ///< Numbers: mm, degrees
  PartId in = kNoPart;                                ///< the part that it belongs to
  std::optional<GuideHolding> holds;                  ///< none: a plane beside another follows, others stay
  bool use = false;                                   ///< it is the plane in use from now on
  std::string name;                                   ///< empty: "Plane", made free by a number
  friend bool operator==(const LayPlane&, const LayPlane&) = default;
};
/// Adds a guide plane; it is a part like any other. One that follows stands where its law says whenever that changes
/// (core/catch/guide_law.h). Fails as frame_of_law() does.
Result<Scene> apply(const LayPlane& lay, const Scene& scene);
const Table<LayPlane>& table_of(const LayPlane*);
/// The frame that it would have (to the world).
Result<Affine> frame_of(const LayPlane& lay, const Scene& scene);

/// Takes a plane as the floor of everything.
struct UsePlane {
  PartId plane = kNoPart;  ///< kNoPart: World
  friend bool operator==(const UsePlane&, const UsePlane&) = default;
};
Result<Scene> apply(const UsePlane& use, const Scene& scene);
const Table<UsePlane>& table_of(const UsePlane*);

/// Gives a plane its grid.
struct SetGrid {
  static constexpr int kMostParts = 100;
  PartId plane = kNoPart;         ///< kNoPart: World
  std::optional<Amount> spacing;  ///< mm; none: as the zoom asks for
  int parts = 1;                  ///< into how many each square is divided
  Amount extent;                  ///< mm from the origin to each side; 0: as far as the view shows
  friend bool operator==(const SetGrid&, const SetGrid&) = default;
};
Result<Scene> apply(const SetGrid& grid, const Scene& scene);
const Table<SetGrid>& table_of(const SetGrid*);

/// The planes of the scene in tree order, at most `most`: what lists offer. O(parts).
std::vector<PartId> planes_in(const Scene& scene, std::size_t most = 12);
/// World, the planes of the scene, and a click: the list that a blank for a plane opens; and what its entry means.
std::vector<Option> plane_options(const Scene& scene);
std::optional<PartId> plane_chosen(std::size_t option, const ChoiceContext& context);
/// "World", or the plane's name.
std::string plane_words(const Scene& scene, PartId plane);
/// Fails for a part that is gone, or no plane.
Result<void> check_plane(const Scene& scene, PartId plane, std::string_view key);

}  // namespace tack
