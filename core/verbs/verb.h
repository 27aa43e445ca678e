// All verbs in one type. The window, the command line, the steps file and the tests speak this.
#pragma once

#include <variant>

#include "core/verbs/bring.h"
#include "core/verbs/meet.h"
#include "core/verbs/move.h"
#include "core/verbs/outline.h"
#include "core/verbs/place.h"

namespace tack {

using Verb = std::variant<Meet, Move, Place, Bring, Show, Lock, Rename, Delete, Reparent>;

/// What the verb makes of a scene; the scene given is not changed. Never throws.
Result<Scene> apply(const Verb& verb, const Scene& scene);
/// The verb in words. `scene` is the one before the verb was done.
Sentence sentence(const Verb& verb, const Scene& scene, Tense tense, const LengthUnit& unit = kMillimetres);
/// The entry of the steps file, as verb_from_json reads it. `scene` is the one before.
Json to_json(const Verb& verb, const Scene& scene);
/// The verb's name in the steps file.
std::string_view key_of(const Verb& verb);

/// Reads one entry of a steps file; places and parts are looked up in `scene`. Says what is wrong and under which key.
/// "bring" is not read here: it needs files (core/files/bring_file.h).
Result<Verb> verb_from_json(const Json& json, const Scene& scene);

}  // namespace tack
