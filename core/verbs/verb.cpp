#include "core/verbs/verb.h"

#include <fmt/format.h>

#include <map>

#include "core/catch/guide_law.h"
#include "core/fit/ties.h"
#include "core/math/split.h"
#include "core/scene/nearest_word.h"
#include "core/verbs/any_verb.h"
#include "core/verbs/patch.h"
#include "core/verbs/words.h"

namespace tack {
namespace {

using All = VerbSet<Verb>;

// The ties that held before and do not any more.
std::string ties_remark(const Scene& before, const Scene& after) {
  std::vector<std::string> gone;
  std::size_t drifted = 0;
  // Most steps leave the list of ties as it is: then a tie stands where it stood.
  const bool same_list = &before.ties() == &after.ties();
  std::map<std::string_view, const Tie*> had, has;
  if (!same_list) {
    for (const Tie& tie : before.ties()) had[tie.name] = &tie;
    for (const Tie& tie : after.ties()) has[tie.name] = &tie;
    for (const Tie& tie : before.ties())
      if (!has.contains(tie.name)) gone.push_back(tie.name);
  }
  for (const Tie& tie : after.ties()) {
    const auto known = had.find(tie.name);
    const Tie* was = same_list ? &tie : known == had.end() ? nullptr : known->second;
    if (!was || (*was == tie && unchanged(tie, before, after))) continue;
    if (holds(state_of(*was, before)) && state_of(tie, after).kind == TieState::Kind::Apart) {
      ++drifted;
      gone.push_back(tie.name);
    }
  }
  if (gone.empty()) return {};
  const char* what = drifted == gone.size() ? "no longer holds" : "went with it";
  if (gone.size() == 1) return fmt::format("The tie {} {}.", gone.front(), what);
  return fmt::format("{} ties {}: {}, …", gone.size(), drifted == gone.size() ? "no longer hold" : "went with it",
                     gone.front());
}

// Guides that have stopped following, and a plane in use that is gone.
std::string guides_remark(const Scene& before, const Scene& after) {
  std::string words;
  const auto say = [&](const std::string& more) { words += (words.empty() ? "" : " ") + more; };
  std::vector<PartId> off, lost;
  for (const PartId id : before.followers()) {
    const Part *was = before.find(id), *is = after.find(id);
    if (!was || !was->law || !is || is->law) continue;
    const bool gone = std::any_of(was->law->places.begin(), was->law->places.end(), [&](const TackAddress& place) {
      return place.part != kNoPart && !after.contains(place.part);
    });
    (gone || was->placement == is->placement ? lost : off).push_back(id);
  }
  if (!off.empty())
    say(fmt::format("{} no longer {} what {} laid by.", names_of(after, off), off.size() == 1 ? "follows" : "follow",
                    off.size() == 1 ? "it was" : "they were"));
  if (!lost.empty())
    say(fmt::format("{} {} where {} as what {} followed is gone.", names_of(after, lost),
                    lost.size() == 1 ? "stays" : "stay", lost.size() == 1 ? "it is," : "they are,",
                    lost.size() == 1 ? "it" : "they"));
  if (before.plane() != kNoPart && after.plane() == kNoPart && !after.contains(before.plane()))
    say("World is the plane in use again.");
  return words;
}

// Who is skewed by a step, and why: as far as a reason can be seen.
std::string skew_remark(const Scene& before, const Scene& after) {
  const std::vector<PartId> skewed = skewed_between(before, after);
  if (skewed.empty()) return {};
  const auto below_uneven = [&](const Scene& scene) {
    return std::all_of(skewed.begin(), skewed.end(),
                       [&](PartId id) { return !is_similarity(parent_world_of(scene, id).linear); });
  };
  const bool several = skewed.size() > 1;
  std::string why;
  if (below_uneven(after))
    why = ", because an unevenly scaled part stands above";
  else if (below_uneven(before))
    why = fmt::format(", because what {} stood in is scaled unevenly", several ? "they" : "it");
  return fmt::format("{} {} skewed by it{}. It can be baked into the mesh.", names_of(after, skewed),
                     several ? "are" : "is", why);
}

// Refuses what no scene needs and doubles do not bear: parts light years away, factors of 1e300. What a file brought
// along beyond the limits may stay as it is.
Result<void> check_reach(const Scene& before, const Scene& after) {
  constexpr std::size_t kMostParts = 250'000;
  if (after.size() > kMostParts && after.size() > before.size())
    return fail(fmt::format("The scene would have {} parts; {} is the most.", after.size(), kMostParts));
  for (const PartId id : after.unlike(before)) {
    const Part *was = before.find(id), *is = after.find(id);
    if (!is || (was && was->placement == is->placement)) continue;
    // A factor of zero that a file brought along stays; no verb makes one.
    Placement limited = is->placement;
    for (int i = 0; i < 3; ++i) {
      const bool zero = limited.scale[i] == 0;
      if (zero && (!was || was->placement.scale[i] == 0)) limited.scale[i] = 1;
      if (!zero && was && was->placement.scale[i] == 0 && is->source->animated)
        return fail(fmt::format("\"{}\" is flattened along {} by its animation.", is->name, "XYZ"[i]));
    }
    if (const std::string what = beyond_limits(limited); !what.empty())
      return fail(fmt::format("\"{}\" {}.", is->name, what));
    // At the top of the tree its own numbers say it all; a drag of a thousand parts asks a thousand times a move.
    if (is->parent == kNoPart) continue;
    const Affine world = world_of(after, id);
    if (!is_finite(world) || largest_component(world * is->placement.pivot) > kFurthest)
      return fail(fmt::format("\"{}\" would stand further than {:g} mm from the origin.", is->name, kFurthest), {},
                  "One of the parts that it belongs to is scaled very much.");
  }
  return {};
}

// The From of a verb, and those of its further pairs, on another part.
template <typename V>
void move_places(V& verb, PartId part) {
  const PartId was = verb.from->part;
  verb.from->part = part;
  if constexpr (requires { verb.more; })
    for (auto& pair : verb.more)
      if (pair.from && pair.from->part == was) pair.from->part = part;
}

const AnyTable& table_of(const Verb& verb) { return *All::tables()[verb.index()]; }

// Calls f(slot, role) for every slot of the verb, in the order of its table.
template <class F>
void each_slot(VerbRef verb, F&& f) {
  for (const AnyRow& row : verb.table->rows)
    for (std::size_t i = 0; row.at && i < count_in(row, verb); ++i) f(slot_of(row, verb, i), row.role);
}

// What stands for elements of a mesh is placed, and nothing else; no tie holds on it, and there are no copies of it.
Result<void> check_patches(const Verb& verb, const Scene& before, const Scene& after) {
  const auto is_patch = [&](PartId id) {
    const Part* part = before.find(id);
    return part && part->patch;
  };
  if (!table_of(verb).on_patches)
    for (const PartId id : parts_of(verb, before))
      if (is_patch(id))
        return fail(
            fmt::format("\"{}\" was taken from a mesh: it is placed, pushed, smoothed or slid, and no part by itself.",
                        before.part(id).name),
            "what");
  if (!std::holds_alternative<Take>(verb))
    for (const PartId id : after.patches())
      if (after.contains(id) && after.part(id).patch && !before.contains(id))
        return fail("What was taken from a mesh cannot be copied.", {}, "Copy the part that it is of.");
  if (after.ties() != before.ties())
    for (const Tie& tie : after.ties())
      for (const TackPair& pair : tie.pairs)
        if (is_patch(pair.from.part) || is_patch(pair.to.part))
          return fail("A tie cannot hold on what was taken from a mesh: that is kept in no file.", "tie",
                      "Tie a vertex of the part itself.");
  return {};
}

}  // namespace

Result<Scene> apply(const Verb& verb, const Scene& scene) {
  auto after = All::apply(verb, scene);
  if (!after) return after;
  if (!after->patches().empty()) {
    if (const auto ok = check_patches(verb, scene, *after); !ok) return tl::unexpected(ok.error());
    if (const auto ok = settle_patches(scene, *after); !ok) return tl::unexpected(ok.error());
  }
  if (!after->skinned().empty())
    if (const auto ok = settle_skins(scene, *after); !ok) return tl::unexpected(ok.error());
  if (!after->followers().empty()) settle_guides(scene, *after);
  if (const auto ok = check_reach(scene, *after); !ok) return tl::unexpected(ok.error());
  return after;
}
Sentence sentence(const Verb& verb, const Scene& scene, Tense tense, const LengthUnit& unit, const Scene* after) {
  return All::sentence(verb, scene, tense, unit, after);
}
Result<void> check(const Verb& verb) { return All::check(verb); }
bool makes_step(const Verb& verb) {
  return !std::holds_alternative<Pick>(verb) && !std::holds_alternative<Measure>(verb);
}

std::string_view key_of(const Verb& verb) { return table_of(verb).key; }
Json to_json(const Verb& verb, const Scene& scene) { return All::write(verb, scene); }
Result<Verb> verb_from_json(const Json& json, const Scene& scene) { return All::read(json, scene); }
std::vector<std::pair<std::string_view, std::vector<std::string_view>>> all_keys() { return All::keys(); }
std::string key_table_of(std::string_view verb) { return All::documentation(verb); }

std::vector<PartId> parts_of(const Verb& verb, const Scene& scene) {
  const auto [v, t] = All::ref(verb);
  if (t->parts) return t->parts(t->of, v, scene);
  return t->what ? *t->what(v) : std::vector<PartId>();
}

std::optional<Verb> with_parts(const Verb& verb, const std::vector<PartId>& parts) {
  std::optional<Verb> changed = verb;
  std::vector<PartId>* what = what_in(*changed);
  if (!what) return std::nullopt;
  if (!parts.empty())
    std::visit(
        [&](auto& v) {
          if constexpr (requires { v.from->part; })
            if (v.from && v.from->part != kNoPart && (what->empty() || v.from->part == what->front()))
              move_places(v, parts.front());
          if constexpr (requires { carry_places(v, kNoPart, kNoPart); })
            if (!what->empty()) carry_places(v, what->front(), parts.front());
        },
        *changed);
  *what = parts;
  return changed;
}

std::string remark(const Verb& verb, const Scene& before, const Scene& after) {
  const auto [v, t] = All::ref(verb);
  std::string words = t->remark ? t->remark(t->of, v, before, after) : std::string();
  // A skew that was typed is no news.
  const auto* place = std::get_if<Place>(&verb);
  if (words.empty() && !(place && any_given(place->skew))) words = skew_remark(before, after);
  if (const std::string guides = guides_remark(before, after); !guides.empty())
    words += (words.empty() ? "" : " ") + guides;
  if (const std::string patches = patches_remark(before, after); !patches.empty())
    words += (words.empty() ? "" : " ") + patches;
  // Deleting, renaming and suspending a tie is what was asked for.
  if (before.ties().empty() || std::holds_alternative<EditTie>(verb)) return words;
  if (const std::string ties = ties_remark(before, after); !ties.empty()) words += (words.empty() ? "" : " ") + ties;
  return words;
}

std::vector<Remedy> remedies_of(const Verb& verb, const Scene& before, const Scene& after) {
  Bake bake;
  bake.what = skewed_between(before, after);
  if (bake.what.empty()) return {};
  bake.scale = true;
  std::vector<Remedy> remedies;
  const auto offer = [&](const std::string& words, const Verb& other) {
    if (tack::apply(other, before)) remedies.push_back({words, other, std::nullopt});
  };
  std::visit(
      [&](const auto& v) {
        if (const auto& t = table<std::decay_t<decltype(v)>>(); t.ways_out)
          for (const auto& [words, other] : t.ways_out(v)) offer(words, other);
      },
      verb);
  // A mesh that a skeleton deforms takes nothing in.
  if (apply(bake, after)) remedies.push_back({"bake it into the mesh", std::nullopt, Verb(bake)});
  remedies.push_back({"keep the skew", std::nullopt, std::nullopt});
  return remedies;
}

bool is_ready(const Verb& verb) {
  const auto [v, t] = All::ref(verb);
  return t->ready ? t->ready(t->of, v) : check_blanks({v, t}).has_value();
}
BlankId waits_for(const Verb& verb) {
  const auto [v, t] = All::ref(verb);
  return t->waits ? t->waits(t->of, v) : BlankId{};
}
std::optional<Verb> as_it_stands(const Verb& verb, const Scene& scene) {
  return All::changed(verb, [&](VerbRef v) { return v.table->stands && v.table->stands(v.table->of, v.verb, scene); });
}
Verb made_whole(const Verb& verb, const Scene& scene) {
  Verb whole = verb;
  if (const auto [v, t] = All::ref(whole); t->whole) t->whole(t->of, v, scene);
  return whole;
}
Verb next_after(const Verb& verb) {
  Verb next = verb;
  const auto [v, t] = All::ref(next);
  t->next(t->of, v);
  return next;
}

BlankId blank_of(const Verb& verb, std::string_view key, std::size_t index) { return table_of(verb).blank(key, index); }
std::string_view key_of_blank(const Verb& verb, BlankId blank) {
  const AnyRow* row = table_of(verb).row(blank);
  return row ? row->key : std::string_view();
}
std::string name_of_blank(const Verb& verb, BlankId blank) { return tack::name_of_blank(All::ref(verb), blank); }
std::string_view ask_of(const Verb& verb, BlankId blank) {
  const auto [v, t] = All::ref(verb);
  const AnyRow* row = t->row(blank);
  return !row ? std::string_view() : row->asks ? row->asks(row->of, v, blank.index) : row->ask;
}
Role role_of(const Verb& verb, BlankId blank) {
  const AnyRow* row = table_of(verb).row(blank);
  return row ? row->role : Role::None;
}
bool acts(const Verb& verb, BlankId blank) {
  const AnyRow* row = table_of(verb).row(blank);
  return row && row->acts;
}

std::optional<EntryKind> number_kind(const Verb& verb, BlankId blank) {
  const VerbRef v = All::ref(verb);
  return is_number(slot_at(v, blank)) ? std::optional(v.table->row(blank)->kind) : std::nullopt;
}
bool takes_words(const Verb& verb, BlankId blank) { return is_words(slot_at(All::ref(verb), blank)); }
Click click_of(const Verb& verb, BlankId blank) {
  const VerbRef v = All::ref(verb);
  // The place of a pair that is not there yet may be given too.
  if (const AnyRow* row = v.table->row(blank); row && row->resize && blank.index == count_in(*row, v))
    return Click::Place;
  return click_for(slot_at(v, blank));
}
std::optional<double> value_in(const Verb& verb, BlankId blank) { return number_in(slot_at(All::ref(verb), blank)); }
const TackAddress* place_in(const Verb& verb, BlankId blank) { return place_in(slot_at(All::ref(verb), blank)); }
double it_in(const Verb& verb, BlankId blank, const Scene& scene) { return tack::it_in(All::ref(verb), blank, scene); }
bool is_change(const Verb& verb, BlankId blank) {
  const AnyRow* row = table_of(verb).row(blank);
  return !row || !row->now;
}

std::optional<Verb> with_value(const Verb& verb, BlankId blank, const Amount& amount) {
  return All::changed(verb, [&](VerbRef v) { return put_in(v, blank, amount); });
}
std::optional<Verb> with_text(const Verb& verb, BlankId blank, const std::string& text) {
  return All::changed(verb, [&](VerbRef v) { return put_in(v, blank, text); });
}
std::optional<Verb> with_place(const Verb& verb, BlankId blank, const TackAddress& place) {
  return All::changed(verb, [&](VerbRef v) { return put_in(v, blank, place); });
}
std::optional<Verb> with_part(const Verb& verb, BlankId blank, PartId part) {
  if (std::holds_alternative<std::vector<PartId>*>(slot_at(All::ref(verb), blank))) return with_parts(verb, {part});
  return All::changed(verb, [&](VerbRef v) { return put_in(v, blank, part); });
}
std::vector<Option> options_of(const Verb& verb, BlankId blank, const Scene& scene, const ChoiceContext& context) {
  return tack::options_of(All::ref(verb), blank, scene, context);
}
std::optional<Verb> with_option(const Verb& verb, BlankId blank, std::size_t option, const Scene& scene,
                                const ChoiceContext& context) {
  return All::changed(verb, [&](VerbRef v) { return choose_in(v, blank, option, scene, context); });
}

const Hints& hints_of(const Verb& verb) { return *table_of(verb).hints; }
std::string notice_of(const Verb& verb, const Scene& before) {
  const auto [v, t] = All::ref(verb);
  return t->notice ? t->notice(t->of, v, before) : std::string();
}
BlankId leading_blank(const Verb& verb, std::size_t axis) {
  const auto [v, t] = All::ref(verb);
  if (t->leads) return t->leads(t->of, v);
  if (t->leading.empty()) return {};
  const BlankId first = t->blank(t->leading);
  return t->rows[first.row].three ? BlankId{first.row, static_cast<std::uint8_t>(axis)} : first;
}
BlankId still_blank(const Verb& verb) {
  const AnyTable& t = table_of(verb);
  return t.still.empty() ? BlankId{} : t.blank(t.still);
}
BlankId axis_blank(const Verb& verb, std::size_t axis) {
  const AnyTable& t = table_of(verb);
  const std::string_view key = t.axis.empty() ? t.leading : t.axis;
  for (std::size_t row = 0; row < t.rows.size(); ++row)
    if (t.rows[row].three && (key.empty() || t.rows[row].key == key))
      return BlankId{static_cast<std::uint8_t>(row), static_cast<std::uint8_t>(axis)};
  return {};
}

BlankId answer_blank(const Verb& verb) {
  const AnyTable& t = table_of(verb);
  return t.answer.empty() ? BlankId{} : t.blank(t.answer);
}
Verb begun(const Verb& verb, const Scene& scene) {
  Verb begun = verb;
  if (const auto [v, t] = All::ref(begun); t->begun) t->begun(t->of, v, scene);
  return begun;
}
bool at_once(const Verb& verb) { return table_of(verb).at_once; }
bool heavy(const Verb& verb, const Scene& scene) {
  const auto [v, t] = All::ref(verb);
  return t->heavy && t->heavy(t->of, v, scene);
}
std::optional<Verb> with_axis(const Verb& verb, std::size_t axis) {
  return All::changed(verb, [&](VerbRef v) {
    if (v.table->to_axis) v.table->to_axis(v.table->of, v.verb, axis);
    return v.table->to_axis != nullptr;
  });
}
bool goes_on(const Verb& verb) { return table_of(verb).goes_on; }
bool either_first(const Verb& verb) { return table_of(verb).either_first; }
Verb with_offered(const Verb& verb, PartId part) {
  Verb offered = verb;
  if (const auto [v, t] = All::ref(offered); t->offered) t->offered(t->of, v, part);
  return offered;
}

std::vector<std::pair<TackAddress, Role>> places_of(const Verb& verb) {
  std::vector<std::pair<TackAddress, Role>> places;
  each_slot(All::ref(verb), [&](const Slot& slot, Role role) {
    if (auto* const* place = std::get_if<std::optional<TackAddress>*>(&slot); place && **place)
      places.emplace_back(***place, role);
  });
  return places;
}

Verb without_gone(const Verb& verb, const Scene& scene) {
  Verb left = verb;
  const auto gone = [&](PartId part) { return part != kNoPart && !scene.contains(part); };
  each_slot(All::ref(left), [&](const Slot& slot, Role) {
    if (auto* const* place = std::get_if<std::optional<TackAddress>*>(&slot); place && **place && gone((**place)->part))
      (*place)->reset();
    if (auto* const* about = std::get_if<About*>(&slot); about && gone((*about)->place.part)) **about = About{};
    if (auto* const* about = std::get_if<std::optional<About>*>(&slot); about && **about && gone((**about)->place.part))
      (*about)->reset();
    if (auto* const* axes = std::get_if<Axes*>(&slot); axes && gone((*axes)->part)) **axes = Axes{};
    if (auto* const* part = std::get_if<PartId*>(&slot); part && gone(**part)) **part = kNoPart;
    if (auto* const* parts = std::get_if<std::vector<PartId>*>(&slot)) std::erase_if(**parts, gone);
  });
  return left;
}

bool without_last_place(Verb& verb) {
  const auto [v, t] = All::ref(verb);
  if (t->take_back && t->take_back(t->of, v)) return true;
  std::optional<TackAddress>* last = nullptr;
  each_slot({v, t}, [&](const Slot& slot, Role role) {
    const bool waits = role != Role::None || std::holds_alternative<FitBox>(verb);
    if (auto* const* place = std::get_if<std::optional<TackAddress>*>(&slot); place && waits && **place) last = *place;
  });
  if (!last) return false;
  last->reset();
  // A row of copies ends with the place it began from.
  if (auto* meet = std::get_if<Meet>(&verb); meet && !meet->from) meet->leave_copy = false;
  return true;
}

Axes* axes_in(Verb& verb) {
  const auto [v, t] = All::ref(verb);
  return t->axes ? t->axes(v) : nullptr;
}
std::vector<PartId>* what_in(Verb& verb) {
  const auto [v, t] = All::ref(verb);
  return t->what ? t->what(v) : nullptr;
}
bool* copy_in(Verb& verb) {
  const auto [v, t] = All::ref(verb);
  return t->copy ? t->copy(v) : nullptr;
}
AxisSet* limits_in(Verb& verb) {
  const auto [v, t] = All::ref(verb);
  return t->limits ? t->limits(v) : nullptr;
}

}  // namespace tack
