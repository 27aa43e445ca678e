// What every fallible function of the core returns: a value, or a Problem that can be shown to a person as it is.
#pragma once

#include <string>
#include <tl/expected.hpp>

#include "core/printable.h"

namespace tack {

/// Why something could not be done. `what` is a whole sentence with names and numbers; `where` is the file, part, line
/// or key it is about (may be empty); `remedy` is a whole sentence saying what to do instead (may be empty).
struct Problem {
  std::string what;
  std::string where;
  std::string remedy;
};

/// The problem as one line of text that may be shown anywhere: where, what and remedy, in that order, each only if
/// present, without raw control characters and of a length that can be read.
inline std::string sentence(const Problem& problem) {
  constexpr std::size_t kMost = 1000;
  const std::string what = printable(problem.what, kMost);
  std::string text = problem.where.empty() ? what : printable(problem.where) + ": " + what;
  return problem.remedy.empty() ? text : text + " " + printable(problem.remedy, kMost);
}

template <typename T>
using Result = tl::expected<T, Problem>;

/// Shorthand for `return fail("…", where, remedy);` in a function that returns any Result.
inline tl::unexpected<Problem> fail(std::string what, std::string where = {}, std::string remedy = {}) {
  return tl::unexpected<Problem>(Problem{std::move(what), std::move(where), std::move(remedy)});
}

}  // namespace tack
