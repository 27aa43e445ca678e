// The point that stays still in a rotation or a change of size: "about", "holding … still".
#pragma once

#include "core/catch/tack.h"
#include "core/verbs/json.h"

namespace tack {

struct About {
  enum class Kind {
    Own,     ///< the same feature of each part: `place` without its part, e.g. each part's own pivot
    OwnBox,  ///< a point of each part's own box along the verb's axes
    AllBox,  ///< a point of the box of all that the verb is about, along the verb's axes
    Place,   ///< one tack for all, on a part or in space
  };
  Kind kind = Kind::Own;
  TackAddress place{TackKind::Pivot, kNoPart, 0, {}};  ///< Own, Place
  Vec3 fraction{0.5, 0.5, 0.5};                        ///< OwnBox, AllBox: fractions of the box

  friend bool operator==(const About&, const About&) = default;
};

/// "The bottom": the middle of the lowest side of each part's own box along the verb's axes.
inline About bottom() { return {About::Kind::OwnBox, {TackKind::Pivot, kNoPart, 0, {}}, {0.5, 0.5, 0}}; }
/// The middle of all that the verb is about.
inline About middle_of_all() { return {About::Kind::AllBox, {TackKind::Pivot, kNoPart, 0, {}}, {0.5, 0.5, 0.5}}; }
/// One place for all.
inline About about_place(const TackAddress& place) { return {About::Kind::Place, place, {0.5, 0.5, 0.5}}; }

/// Whether all parts share one point, so that they turn or grow as one body.
inline bool is_shared(const About& about) {
  return about.kind == About::Kind::AllBox || about.kind == About::Kind::Place;
}

/// The box of one part along the axes of `frame` (its columns, orthonormal), from true vertices: of its own mesh and of
/// everything below it. Coordinates are measured from the world's origin along the axes, in mm. Empty when there is no
/// vertex. `without`, sorted, are parts left out with everything below them.
Box box_along(const Scene& scene, PartId part, const Mat3& frame, const std::vector<PartId>& without = {});
/// The same of a part that is to be lined up: a guide's is the point where it stands. Fails for what has no box.
Result<Box> box_to_line_up(const Scene& scene, PartId part, const Mat3& frame, const std::vector<PartId>& without = {});
/// The same over several parts together.
Box box_along(const Scene& scene, const std::vector<PartId>& parts, const Mat3& frame);
/// The box that gives a part its own size: of its mesh, or for a group of everything below it, in the part's own
/// coordinates (before its placement).
Box own_box(const Scene& scene, PartId part);

/// The point that stays still for `part`, in the world (mm). `parts` are all that the verb is about, `axes` its axes.
/// Under Local axes a box is the part's own box (exact also under skew). Fails when the feature is not there or a box
/// is empty.
Result<Vec3> still_point(const About& about, const Scene& scene, PartId part, const std::vector<PartId>& parts,
                         const Axes& axes);

/// The part of a tack's address that does not name the part: `pivot`, `vertex 3`, `box 0,0.5,0`.
/// In steps files: an address; a feature without a part name for each part's own; `axes-box 0.5,0.5,0`; `all
/// 0.5,0.5,0.5`; `middle` and `bottom` for the two common ones.
Result<About> about_from_json(const Json& json, std::string_view key, const Scene& scene);
Json about_to_json(const About& about, const Scene& scene);

/// In words, as a sentence needs them: "its pivot", "their own pivots", "the bottom", "the middle of all picked",
/// "corner of the box of Hub".
std::string about_words(const About& about, const Scene& scene, const std::vector<PartId>& parts);

}  // namespace tack
