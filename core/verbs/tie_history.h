// Since when a tie is apart: found by measuring it in the scenes that the steps left.
#pragma once

#include "core/catch/tack.h"
#include "core/verbs/journal.h"

namespace tack {

/// The number of the step (from 0) after which the tie has not held any more; nullopt while it holds, where it never
/// held, where a mesh it is measured from is still being worked on, and where it has been apart for more than `most`
/// steps: so far back nobody looks. `touch` is the tolerance of touching (mm). Steps that leave what it is measured
/// from as it was cost next to nothing.
std::optional<std::size_t> apart_since(const Record& record, const std::string& tie, double touch = kTouch,
                                       std::size_t most = 500);

}  // namespace tack
