// What a hand on the stage does with a verb: the manipulators it has, the verb that a drag means, and what the drag
// draws beside the parts. Pure functions of the draft, the scene, the view and the pointer.
#pragma once

#include "core/hands/aligning.h"
#include "core/hands/repeating.h"
#include "core/hands/sizing.h"
#include "core/hands/spacing.h"
#include "core/verbs/verb.h"

namespace tack {

/// A drag under way.
struct Grip {
  Pull pull;
  Increments increments;
  bool steps = false;                ///< whether it lands on increments
  std::optional<TackAddress> place;  ///< a place on what moves that was taken hold of
  std::optional<TackAddress> over;   ///< another place that it is over
  bool evenly = false;               ///< of a size: all three alike
  bool alone = false;                ///< of a gap: this one, the others stay
  bool grows = false;                ///< of a size: right and up make it larger, about what stays still
  /// What is dragged freely goes along this plane instead of across the view; kNoPart: along World's.
  std::optional<PartId> plane;
  /// Along a plane: where, in pixels, it began to be lifted off it, and to go along it again.
  struct Turn {
    double x, y;
    bool lifts;
  };
  std::vector<Turn> turns;
};

/// The handles of the verb in a view; none for a verb that has no hand.
std::vector<Handle> handles_of(const Verb& draft, const Scene& scene, const View& view);
/// A word written beside a handle: the letter of a ruler, the size at a pad.
std::string handle_words(const Verb& draft, const Scene& scene, const Handle& handle, const LengthUnit& unit);
/// The verb that a drag means; nullopt when it means none. A place that is held over another goes from the one to the
/// other; a ruler or a dimension's end that is over a place of another part stops level with it, an arc in line with
/// it.
std::optional<Verb> dragged(const Verb& draft, const Scene& scene, const Grip& grip);
/// What the drag draws beside the parts: rulers with the lengths, arcs with the angle.
Gauges gauges_of(const Verb& dragged, const Scene& before, const Scene& shown, const Grip& grip,
                 const LengthUnit& unit);
/// Of those the one where a handle stops at a place of another part; nullopt where it is over none, or goes on freely.
std::optional<Verb> stopped(const Verb& draft, const Scene& scene, const Grip& grip);
/// In words what has stopped there: "level with vertex of Post 4", of an arc "in line with …".
std::string stopped_words(const Scene& scene, const Grip& grip);
/// A place that the verb takes where nothing is caught: of a shape a place on its plane, level with it, or the height
/// under the pointer; on increments, if `steps`. nullopt for every other verb, and where that is seen end on.
std::optional<TackAddress> free_place(const Verb& draft, const Scene& scene, const View& view, double x, double y,
                                      const Increments& increments, bool steps);
/// The dimensions of what the verb sizes: where they stand in a view of `before`, and their lines in `shown`, the scene
/// of a drag. Empty for a verb without.
std::vector<DimensionLine> dimensions_of(const Verb& draft, const Scene& before, const Scene& shown, const View& view,
                                         const LengthUnit& unit);
/// Whether the value of a dimension line is dragged as well as typed.
bool drags_values(const Verb& draft);
/// The blank that such a value is typed into.
BlankId value_blank(const Verb& draft, const Handle& value);
/// The box whose points can be taken hold of: its map from fractions to the world.
std::optional<Affine> pad_box_of(const Verb& draft, const Scene& scene);
/// The box of what stays, of a verb that has one, in the same way.
std::optional<Affine> target_box_of(const Verb& draft, const Scene& scene);
/// The verb with a point of one of its boxes given, by a click; nullopt for a verb that takes none.
std::optional<Verb> pointed(const Verb& draft, const Handle& point);
/// What is drawn beside the parts while nothing is dragged: of the verb as it stands, or as the pointer would have it.
Gauges standing_gauges(const Verb& verb, const Scene& before, const Scene& after, const LengthUnit& unit);
/// Whether places of what the verb moves can be taken hold of, and what one is dragged like while it is over no other.
bool offers_grips(const Verb& verb);
Handle grip_handle(const Verb& draft, const Scene& scene, const Vec3& at);
/// The pointer goes on to a pixel: arcs count their degrees.
void pull_on(const Verb& draft, const Scene& scene, Pull& pull, double x, double y);
/// Whether the handles are there although a place is waited for.
bool has_handles_while_waiting(const Verb& verb);
/// Whether a press on a pad without a drag already means something.
bool presses_count(const Verb& verb);

/// The lengths along the verb's axes that a shift in the world (mm) means for the first part, on increments, only along
/// the axes named.
std::array<Amount, 3> lengths_for(const Move& move, const Scene& scene, const Vec3& shift, const AxisSet& along,
                                  const Increments& increments, bool steps);

}  // namespace tack
