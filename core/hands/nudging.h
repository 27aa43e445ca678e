// Small handles that are there while nothing but picking is chosen: for a nudge without changing verbs.
#pragma once

#include "core/verbs/verb.h"
#include "core/view/handles.h"

namespace tack {

/// The verb that a handle of nudge_handles() belongs to.
VerbId verb_of_nudge(const Handle& handle);

/// Of the verb's own handles the ones that are shown while picking: the rulers of `move`, shorter; at the middle of
/// each a short arc of `rotate`, along which that ruler swings towards the next axis (x round Z, y round X, z round Y);
/// the dimension lines of `scale`. Where turning is about another place than the rulers stand at, the arcs stand about
/// that place. Arcs seen edge-on (within 8°) and rulers that point at the viewer are left out.
std::vector<Handle> nudge_handles(const Move& move, const Rotate& rotate, const Scale& scale, const Scene& scene,
                                  const View& view);

}  // namespace tack
