// Steps files: a JSON list of verbs, done one after another.
#pragma once

#include "core/files/import.h"
#include "core/verbs/journal.h"

namespace tack {

/// What became of one entry of a steps file.
struct StepOutcome {
  std::string verb;
  std::string words;  ///< its sentence, once done
  std::string note;   ///< what has to be said beside it; may be empty
  std::optional<Problem> problem;
};

/// Does the entries on the journal's scene until one fails. "bring" entries read their file, relative to `folder`, with
/// their own "unit" and "up". Entries after a failure are not tried.
std::vector<StepOutcome> run_steps(Journal& journal, const Json& list, const std::filesystem::path& folder);

/// Reads a steps file: a JSON list.
Result<Json> read_steps(const std::filesystem::path& path);

/// The journal's steps as a steps file that does the same to the same start.
Json steps_to_json(const Record& record);

}  // namespace tack
