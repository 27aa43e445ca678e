// Brush: a stroke over a surface that smooths what it goes over.
#pragma once

#include "core/mesh/stroke.h"
#include "core/verbs/amount.h"
#include "core/verbs/blank_row.h"
#include "core/verbs/reshape.h"

namespace tack {

/// A list that copies of the verb share.
struct Stroke {
  std::shared_ptr<const std::vector<StrokePlace>> places;

  std::span<const StrokePlace> items() const {
    return places ? std::span<const StrokePlace>(*places) : std::span<const StrokePlace>();
  }
  friend bool operator==(const Stroke& a, const Stroke& b) {
    return a.places == b.places || std::ranges::equal(a.items(), b.items());
  }
};

struct Brush {
  PartId part = kNoPart;
  Stroke stroke;         ///< on its mesh
  Amount width{20};      ///< mm across the brush, in the world
  Amount passes{10};     ///< 1 to 1000
  Amount strength{0.5};  ///< above 0, at most 0.65
  bool volume = true;    ///< it is kept: fine roughness goes, large shapes stay; else dents fill up
  Copies copies = Copies::All;

  friend bool operator==(const Brush&, const Brush&) = default;
};

/// See smoothed() in core/mesh/shares.h: every vertex that the brush goes over, by its share (shares_of_stroke()), in
/// the part's mesh as it is now. Fails where the stroke is no longer on the part or goes over no vertex, and as moving
/// vertices does.
Result<Scene> apply(const Brush& brush, const Scene& scene);
const Table<Brush>& table_of(const Brush*);

}  // namespace tack
