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

/// Members of an entry in the record of a document beside the verb's own: whether the step is left out, and for "bring"
/// the number of the scene that the document keeps for it.
inline constexpr const char *kLeftOut = "left-out", *kKeptScene = "kept";

/// The verb of an entry. What "bring" brings in is read from its file, relative to `folder`; or it is `kept`.
Result<Verb> verb_from_entry(const Json& entry, const Scene& scene, const std::filesystem::path& folder,
                             std::shared_ptr<const Delivery> kept = nullptr);

/// Does the entries on the journal's scene until one fails. "bring" entries read their file, relative to `folder`, with
/// their own "unit" and "up". Entries after a failure are not tried.
std::vector<StepOutcome> run_steps(Journal& journal, const Json& list, const std::filesystem::path& folder);

/// Reads a steps file: a JSON list.
Result<Json> read_steps(const std::filesystem::path& path);

/// The journal's steps as a steps file that does the same to the same start.
Json steps_to_json(const Record& record);

}  // namespace tack
