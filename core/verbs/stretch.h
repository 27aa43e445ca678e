// Stretch: make parts and groups of parts longer, so that what lies beyond a band keeps its shape.
#pragma once

#include "core/verbs/blank_row.h"
#include "core/verbs/lengthen.h"

namespace tack {

/// One direction of a stretch.
struct StretchWay {
  int along = 0;                                ///< which of the axes
  std::optional<Amount> to;                     ///< the length along it, of all together, mm; `it` is the length now
  std::optional<Amount> by;                     ///< or by how much longer, mm
  std::optional<TackAddress> start, end;        ///< or the places between which it fills the room
  std::array<Amount, 2> gap;                    ///< room left at each of these, mm
  std::optional<Amount> near_plane, far_plane;  ///< the band, mm from the low side; one left out stays where it was
  std::string band;                             ///< or the name of one that the part keeps

  friend bool operator==(const StretchWay&, const StretchWay&) = default;
};

struct Stretch {
  enum class Hold { Low, Middle, High };  ///< which side stays where it is
  std::vector<PartId> what;
  Axes axes = AxesKind::Local;
  std::vector<StretchWay> ways{StretchWay{}};  ///< one or two
  Hold hold = Hold::Low;
  MeshLinks links = MeshLinks::Own;
  bool chosen = false;  ///< the axis was chosen; else it is the longest one that has a band

  friend bool operator==(const Stretch&, const Stretch&) = default;
};

/// What is picked is stretched as one, along an axis of the first part. What lies before the band stays, what lies
/// beyond it is shifted; each part of it, with everything below:
/// - beyond or before the band: shifted, or left;
/// - only between its planes: shifted in proportion, by its middle;
/// - across a plane: lengthened, by a band of its own along that direction where it keeps one, else between the same
///   planes; a live shape by its dimension.
/// Then the side that is held is brought back to where it was. Vertices on the rigid sides are left, or shifted by one
/// and the same vector. Where neither a band nor its name is given, the part's own counts, if it keeps one along the
/// axis, else the one that evident_band() finds; of several parts, what lies between those at their two ends.
/// Linked copies (MeshLinks::Own) keep the mesh that they share and have a length of their own; with MeshLinks::All the
/// others become as long. Fails for lengths at or below what the rigid sides need, naming the least; where there is no
/// band; for meshes that joints bend; for round shapes across their axis.
Result<Scene> apply(const Stretch& stretch, const Scene& scene);
const Table<Stretch>& table_of(const Stretch*);

}  // namespace tack
