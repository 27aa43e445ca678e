// Moving with what is tied: everything that ties which hold keep together, as one rigid body.
#pragma once

#include "core/verbs/blank_row.h"

namespace tack {

inline constexpr Choice kWithTied[] = {{"alone", ""}, {"with what is tied to it", ""}};

/// `parts` and all that is tied to them, to that, and so on, by ties that are exact or touching (core/fit/ties.h; a tie
/// that watches only some axes counts); parents without what is below them. What a tie brought as a whole goes as a
/// whole. Fails, naming it, when one of them is locked. O(ties · log ties), and measuring each tie once.
Result<std::vector<PartId>> tied_body(const Scene& scene, const std::vector<PartId>& parts);
/// Whether a tie that holds keeps one of the parts to another: whether to offer it.
bool is_tied(const Scene& scene, const std::vector<PartId>& parts);

/// Of a verb that has `tied`: what it is about, with what is tied to that; the parts alone where it is not asked for or
/// cannot be.
template <class V>
std::vector<PartId> parts_with_tied(const V& verb, const Scene& scene) {
  if (!verb.tied) return verb.what;
  return tied_body(scene, verb.what).value_or(verb.what);
}

}  // namespace tack
