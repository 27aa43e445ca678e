// What a hand on the stage does with a verb: the manipulators it has, the verb that a drag means, and what the drag
// draws beside the parts. Pure functions of the draft, the scene, the view and the pointer.
#pragma once

#include "core/hands/increments.h"
#include "core/verbs/verb.h"
#include "core/view/manipulators.h"

namespace tack {

/// A drag under way.
struct Grip {
  Pull pull;
  Increments increments;
  bool steps = false;                ///< whether it lands on increments
  std::optional<TackAddress> place;  ///< a place on what moves that was taken hold of
  std::optional<TackAddress> over;   ///< another place that it is over
};

/// The handles of the verb in a view; none for a verb that has no hand.
std::vector<Handle> handles_of(const Verb& draft, const Scene& scene, const View& view);
/// A word written beside a handle: the letter of a ruler, the size at a pad.
std::string handle_words(const Verb& draft, const Scene& scene, const Handle& handle, const LengthUnit& unit);
/// The verb that a drag means; nullopt when it means none. A place that is held over another goes from the one to the
/// other.
std::optional<Verb> dragged(const Verb& draft, const Scene& scene, const Grip& grip);
/// What the drag draws beside the parts: rulers with the lengths, arcs with the angle.
Gauges gauges_of(const Verb& dragged, const Scene& before, const Scene& shown, const Grip& grip,
                 const LengthUnit& unit);
/// The box whose points can be taken hold of: its map from fractions to the world.
std::optional<Affine> pad_box_of(const Verb& draft, const Scene& scene);
/// Whether places of what the verb moves can be taken hold of, and what one is dragged like while it is over no other.
bool offers_grips(const Verb& verb);
Handle grip_handle(const Verb& draft, const Scene& scene, const Vec3& at);
/// The pointer goes on to a pixel: arcs count their degrees.
void pull_on(const Verb& draft, const Scene& scene, Pull& pull, double x, double y);
/// Whether the handles are there although a place is waited for.
bool has_handles_while_waiting(const Verb& verb);
/// Whether a press on a pad without a drag already means something.
bool presses_count(const Verb& verb);

/// The box that pads stand on: of one part its own box (of a group, of everything in it), of several the box of all
/// along the world's axes. Nullopt for nothing.
std::optional<Pads> pads_of(const Scene& scene, const std::vector<PartId>& what);

/// The lengths along the verb's axes that a shift in the world (mm) means for the first part, on increments, only along
/// the axes named.
std::array<Amount, 3> lengths_for(const Move& move, const Scene& scene, const Vec3& shift, const AxisSet& along,
                                  const Increments& increments, bool steps);

/// The verb that a pad dragged by `shift` (world, mm) means: sizes along the axes in which the pad is not in the
/// middle, with the opposite pad held still; a pad dragged through to the other side mirrors. One part is sized along
/// its own axes, several as one along the world's. With `steps` sizes land on increments.
Result<Scale> sized_by_pad(const Scene& scene, const std::vector<PartId>& what, const Vec3& fraction, const Vec3& shift,
                           bool evenly, const Increments& increments, bool steps);

}  // namespace tack
