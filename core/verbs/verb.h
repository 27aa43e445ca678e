// All verbs in one type. The window, the command line, the steps file and the tests speak this.
#pragma once

#include <variant>

#include "core/verbs/align.h"
#include "core/verbs/bake.h"
#include "core/verbs/band.h"
#include "core/verbs/bring.h"
#include "core/verbs/brush.h"
#include "core/verbs/colours.h"
#include "core/verbs/distribute.h"
#include "core/verbs/drop.h"
#include "core/verbs/element_verbs.h"
#include "core/verbs/guide.h"
#include "core/verbs/keep.h"
#include "core/verbs/measure_verb.h"
#include "core/verbs/meet.h"
#include "core/verbs/move.h"
#include "core/verbs/nest.h"
#include "core/verbs/onto_plane.h"
#include "core/verbs/outline.h"
#include "core/verbs/pivot.h"
#include "core/verbs/place.h"
#include "core/verbs/plane.h"
#include "core/verbs/repeat.h"
#include "core/verbs/rotate.h"
#include "core/verbs/scale.h"
#include "core/verbs/shape.h"
#include "core/verbs/stretch.h"
#include "core/verbs/take.h"
#include "core/verbs/tidy.h"
#include "core/verbs/tie_steps.h"
#include "core/verbs/views.h"

namespace tack {

/// A new verb adds its type here, and nothing else has to know it: what the functions below do comes from its table and
/// its apply().
using Verb =
    std::variant<Pick, Move, Rotate, Scale, Meet, Align, Distribute, Repeat, Drop, Tidy, Pivot, Measure, Place, Bake,
                 FitBox, Bring, Show, Lock, SeeThrough, Rename, Delete, Reparent, Group, Ungroup, Copy, Separate, Paint,
                 NameColour, EditColour, Keep, Forget, CloseTie, ShareError, EditTie, AddGuide, LayPlane, UsePlane,
                 SetGrid, OntoPlane, Lay, KeepView, ForgetView, MakeShape, SetDimensions, MakeMesh, Stretch, KeepBand,
                 ForgetBand, Take, Push, Smooth, SlideEdges, Brush>;

namespace detail {
template <class V, class... All>
constexpr std::size_t index_in(std::variant<All...>*) {
  std::size_t index = 0;
  (void)((std::is_same_v<V, All> || (++index, false)) || ...);
  return index;
}
}  // namespace detail

/// Which verb one is: the number of its type in the variant.
enum class VerbId : std::uint8_t {};
template <class V>
inline constexpr VerbId id_of = static_cast<VerbId>(detail::index_in<V>(static_cast<Verb*>(nullptr)));
inline VerbId id(const Verb& verb) { return static_cast<VerbId>(verb.index()); }

/// What the verb makes of a scene; the scene given is not changed. check() comes first. Never throws.
Result<Scene> apply(const Verb& verb, const Scene& scene);
/// The verb in words. `scene` is the one before the verb was done; with the one after it, what the verb has not reached
/// is measured there and said.
Sentence sentence(const Verb& verb, const Scene& scene, Tense tense, const LengthUnit& unit = kMillimetres,
                  const Scene* after = nullptr);
/// Whether what is given goes together, whatever the scene: one rule for files and for the window.
Result<void> check(const Verb& verb);
/// Whether it leaves a step in the record: Pick and Measure do not.
bool makes_step(const Verb& verb);

/// The verb's name in the steps file.
std::string_view key_of(const Verb& verb);
/// The entry of the steps file, as verb_from_json reads it. `scene` is the one before.
Json to_json(const Verb& verb, const Scene& scene);
/// Reads one entry of a steps file; places and parts are looked up in `scene`. Says what is wrong and under which key.
/// "bring" is not read here: it needs files (core/files/steps.h).
Result<Verb> verb_from_json(const Json& json, const Scene& scene);
/// Every verb's name in steps files with its keys, in the order of the variant; for completion.
std::vector<std::pair<std::string_view, std::vector<std::string_view>>> all_keys();
/// The key table of a verb, in Markdown, as docs/steps.md has it; empty for a name that no verb has.
std::string key_table_of(std::string_view verb);

/// The parts a verb is about: its [what]. For Meet those that move.
std::vector<PartId> parts_of(const Verb& verb, const Scene& scene);
/// The verb about other parts; a From on the first of its parts becomes the same feature of the first of these.
/// nullopt for a verb that is about nothing else: it cannot be repeated.
std::optional<Verb> with_parts(const Verb& verb, const std::vector<PartId>& parts);
/// What has to be said about a finished step beside its sentence: what it left apart, that it skewed a part, why, and
/// what to do instead. Empty when there is nothing.
std::string remark(const Verb& verb, const Scene& before, const Scene& after);

/// A way out of the skew that a step made: another verb in its place, or a further one behind it; neither: to leave it
/// as it is. Every one that is offered can be done.
struct Remedy {
  std::string words;
  std::optional<Verb> instead, then;
};
std::vector<Remedy> remedies_of(const Verb& verb, const Scene& before, const Scene& after);

// --- a verb that is being filled in

/// Whether nothing that it needs is missing, so that it can be done.
bool is_ready(const Verb& verb);
/// The blank that it needs next, and that waits for a click without being asked for; none when it needs no click.
BlankId waits_for(const Verb& verb);
/// The verb with what stands in place of what it still waits for, as Enter takes it; nullopt where it cannot be done
/// so.
std::optional<Verb> as_it_stands(const Verb& verb, const Scene& scene);
/// Before it is done for the first time: what the places that were given settle besides.
Verb made_whole(const Verb& verb, const Scene& scene);
/// What the next verb of this kind takes over from one that has been done.
Verb next_after(const Verb& verb);

/// The blank with this key.
BlankId blank_of(const Verb& verb, std::string_view key, std::size_t index = 0);
/// The key of a blank; empty for none.
std::string_view key_of_blank(const Verb& verb, BlankId blank);
std::string name_of_blank(const Verb& verb, BlankId blank);
/// What the message line says while the blank waits for a click.
std::string_view ask_of(const Verb& verb, BlankId blank);
Role role_of(const Verb& verb, BlankId blank);
/// Whether giving it does the verb at once.
bool acts(const Verb& verb, BlankId blank);

/// What a blank takes: a typed number of a kind, words, a click.
std::optional<EntryKind> number_kind(const Verb& verb, BlankId blank);
bool takes_words(const Verb& verb, BlankId blank);
Click click_of(const Verb& verb, BlankId blank);
/// What stands in a value blank now (mm, degrees, factor); nullopt when nothing does.
std::optional<double> value_in(const Verb& verb, BlankId blank);
const TackAddress* place_in(const Verb& verb, BlankId blank);
/// What `it` means in a value blank: the value now, before the verb, or 0 in a blank for a change.
double it_in(const Verb& verb, BlankId blank, const Scene& scene);
/// Whether a blank holds a change, so that `it` is 0 in it.
bool is_change(const Verb& verb, BlankId blank);

/// The verb with something in a blank; what excludes it gives way (a size takes the place of a factor, lengths that of
/// two places). nullopt when the blank does not take it.
std::optional<Verb> with_value(const Verb& verb, BlankId blank, const Amount& amount);
std::optional<Verb> with_text(const Verb& verb, BlankId blank, const std::string& text);
std::optional<Verb> with_place(const Verb& verb, BlankId blank, const TackAddress& place);
std::optional<Verb> with_part(const Verb& verb, BlankId blank, PartId part);
/// The list that a blank opens, and the verb with an entry of it. nullopt for an entry that only asks for a click.
std::vector<Option> options_of(const Verb& verb, BlankId blank, const Scene& scene, const ChoiceContext& context);
std::optional<Verb> with_option(const Verb& verb, BlankId blank, std::size_t option, const Scene& scene,
                                const ChoiceContext& context);

// --- what the window says of a verb

const Hints& hints_of(const Verb& verb);
/// What is to be said once it has been done, in place of the hint; may be empty.
std::string notice_of(const Verb& verb, const Scene& before);
/// The blank where a digit typed on the stage goes, and the one that K asks for; none when it has none.
BlankId leading_blank(const Verb& verb, std::size_t axis = 0);
BlankId still_blank(const Verb& verb);
/// The blank that X, Y or Z names; none when the verb has none for that axis.
BlankId axis_blank(const Verb& verb, std::size_t axis);

/// The blank that a click in Parts fills when none was asked for; none when the verb has no such.
BlankId answer_blank(const Verb& verb);
/// A verb that has just been chosen, with its [what] in it: what that settles besides.
Verb begun(const Verb& verb, const Scene& scene);
/// Whether it is offered to be done as it stands, shown beforehand.
bool at_once(const Verb& verb);
/// Whether it is so much that it is not shown unasked.
bool heavy(const Verb& verb, const Scene& scene);
/// What X, Y or Z makes of it; nullopt for a verb in which they open a blank or limit it.
std::optional<Verb> with_axis(const Verb& verb, std::size_t axis);
/// Whether a finished verb waits for more of the same step, and whether its From and To may come in either order.
bool goes_on(const Verb& verb);
bool either_first(const Verb& verb);
/// While a part that stays is pointed at: the verb as it would take it; the same verb where that means nothing.
Verb with_offered(const Verb& verb, PartId part);

/// The places that have been given, with the roles of their blanks, in the order of the table.
std::vector<std::pair<TackAddress, Role>> places_of(const Verb& verb);

/// Without what the scene does not have: places and axes of parts that are gone.
Verb without_gone(const Verb& verb, const Scene& scene);
/// Takes back the place that was given last; false when there is none.
bool without_last_place(Verb& verb);

/// The axes of a verb that has them, its [what], its copy that stays: what every verb has alike.
Axes* axes_in(Verb& verb);
inline const Axes* axes_in(const Verb& verb) { return axes_in(const_cast<Verb&>(verb)); }
std::vector<PartId>* what_in(Verb& verb);
bool* copy_in(Verb& verb);
/// The axes that a verb from place to place is limited to; null for a verb that has none.
AxisSet* limits_in(Verb& verb);
inline const AxisSet* limits_in(const Verb& verb) { return limits_in(const_cast<Verb&>(verb)); }

}  // namespace tack
