// A step in one line, as lists show it: what it was about, to what it went, and the value that matters.
#pragma once

#include "core/verbs/journal.h"

namespace tack {

/// The parts of such a line; each may be empty.
struct Brief {
  std::string what;   ///< "Curve left", "Post 1, Post 2 and 3 more", "tie “joint 1”"
  std::string to;     ///< the part, or the place of space, that it was brought to
  std::string value;  ///< what was given beside it: "12 mm", "X 90 mm · Z 18 mm", a new name

  /// "Curve left → Base board · 12 mm".
  std::string line() const;
};

/// The line of a step; `before` is the scene before it. Values that say nothing (a gap of 0, a length of 0) are left
/// out, and so are values behind the third. A step without a [what] is told by its own sentence, without its full stop.
Brief brief_of(const Step& step, const Scene& before);

}  // namespace tack
