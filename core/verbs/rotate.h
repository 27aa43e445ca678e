// Rotate: turn parts by an angle about a point, or like another part.
#pragma once

#include "core/verbs/blank_row.h"
#include "core/verbs/parts.h"

namespace tack {

/// What a rotation is round: an axis of the axes in force, a direction given in them, or an edge of a part.
struct Round {
  int axis = 2;                     ///< 0, 1, 2: X, Y, Z of the axes; not read when one of the others is given
  std::optional<Vec3> direction;    ///< along the axes; any length but zero
  std::optional<TackAddress> edge;  ///< a tack whose edge is the axis; its direction along the edge

  friend bool operator==(const Round&, const Round&) = default;
};

/// Turning like another part: which of the axes agree.
struct Like {
  PartId part = kNoPart;    ///< kNoPart: it is turned by an angle
  AxisSet axes = kAllAxes;  ///< one: the smallest turn that brings it there; two or three: all
  bool other_way = false;   ///< the named axes (one or two of them) point the opposite way

  friend bool operator==(const Like&, const Like&) = default;
};

/// The blanks of Rotate.
struct Rotate {
  std::vector<PartId> what;
  Axes axes;
  Round round;
  Amount angle;  ///< degrees, right-handed; typed values may be any number of turns
  About about;   ///< each part's own pivot at first
  Like like;     ///< with a part, angle, axes and round are not read
  /// Both given: the angle is the one that brings From in line with To, seen along the axis from the still point.
  std::optional<TackAddress> from, to;
  bool leave_copy = false;  ///< an instance stays where the part was
  bool tied = false;        ///< what is tied to it comes along, as one body; not with `like`

  friend bool operator==(const Rotate&, const Rotate&) = default;
};

/// Every part is turned about its still point; parts that share one turn as one body. Along Local or Parent axes each
/// part turns round its own. A parent and its child picked together turn once. The still point, where it is on the
/// part, ends within 1e-9 × (extent + distance from the origin) of where it was; a pivot about which a part turns stays
/// to the bit. Angles: see turned() in turn.h. Fails when nothing is picked, a part is locked or under a flattened
/// parent, the direction is zero, or Like names the part itself.
Result<Scene> apply(const Rotate& rotate, const Scene& scene);
const Table<Rotate>& table_of(const Rotate*);

/// The angle (degrees, −180 … 180) by which the first part has to turn so that From lies in line with To about the
/// still point; exact to a few units in the last place of the coordinates over the distance from the axis. Fails when
/// either is missing, lies on the axis, From is not on what turns or To is.
Result<double> angle_towards(const Rotate& rotate, const Scene& scene);

/// The unit direction in the world that a part turns round, and a point of the edge when it is one. Fails for a zero
/// direction or an edge that is gone.
Result<Vec3> turning_axis(const Rotate& rotate, const Scene& scene, PartId part);

/// Whether the turn that Like asks for is more than a quarter turn, so that the part comes out turned round and the
/// other way is the smaller turn. Only ever true for one axis.
bool comes_out_flipped(const Rotate& rotate, const Scene& scene);

}  // namespace tack
