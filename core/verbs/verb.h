// All verbs in one type. The window, the command line, the steps file and the tests speak this.
#pragma once

#include <variant>

#include "core/verbs/bake.h"
#include "core/verbs/bring.h"
#include "core/verbs/guide.h"
#include "core/verbs/keep.h"
#include "core/verbs/meet.h"
#include "core/verbs/move.h"
#include "core/verbs/nest.h"
#include "core/verbs/outline.h"
#include "core/verbs/pivot.h"
#include "core/verbs/place.h"
#include "core/verbs/rotate.h"
#include "core/verbs/scale.h"
#include "core/verbs/tie_steps.h"

namespace tack {

using Verb =
    std::variant<Meet, Move, Place, Rotate, Scale, Pivot, Bake, FitBox, Bring, Show, Lock, Rename, Delete, Reparent,
                 Group, Ungroup, Copy, Separate, Paint, Keep, Forget, CloseTie, ShareError, EditTie, AddGuide>;

/// What the verb makes of a scene; the scene given is not changed. Never throws.
Result<Scene> apply(const Verb& verb, const Scene& scene);
/// The verb in words. `scene` is the one before the verb was done.
Sentence sentence(const Verb& verb, const Scene& scene, Tense tense, const LengthUnit& unit = kMillimetres);
/// The entry of the steps file, as verb_from_json reads it. `scene` is the one before.
Json to_json(const Verb& verb, const Scene& scene);
/// The parts a verb is about: its [what]. For Meet those that move.
std::vector<PartId> parts_of(const Verb& verb, const Scene& scene);
/// The parts among parts_of(verb) that are skewed after it and were not before, beyond 1e-9.
std::vector<PartId> skewed_by(const Verb& verb, const Scene& before, const Scene& after);
/// What has to be said about a finished step beside its sentence: that it skewed a part, why, and what to do instead.
/// Empty when there is nothing.
std::string remark(const Verb& verb, const Scene& before, const Scene& after);
/// The verb's name in the steps file.
std::string_view key_of(const Verb& verb);

/// Reads one entry of a steps file; places and parts are looked up in `scene`. Says what is wrong and under which key.
/// "bring" is not read here: it needs files (core/files/bring_file.h).
Result<Verb> verb_from_json(const Json& json, const Scene& scene);

}  // namespace tack
