#include "core/verbs/tie_steps.h"

#include <fmt/format.h>

#include "core/printable.h"
#include "core/verbs/phrase.h"
#include "core/verbs/rigid.h"

namespace tack {
namespace {

Result<const Tie*> find_tie(const Scene& scene, const std::string& name) {
  if (const Tie* tie = scene.tie(name)) return tie;
  std::string names;
  for (const Tie& tie : scene.ties()) names += (names.empty() ? "" : ", ") + tie.name;
  return fail(fmt::format("There is no tie \"{}\".", name), "tie",
              names.empty() ? std::string("None is kept in this scene.") : fmt::format("There are: {}.", names));
}
Result<void> check_tie(const Scene& scene, const std::string& name) {
  return find_tie(scene, name).map([](const Tie*) {});
}

template <class V>
constexpr Row<V> tie_row(std::string_view doc) {
  return {.key = "tie", .name = "Tie", .at = slot<&V::tie>, .needed = true, .always = true, .doc = doc};
}

constexpr Choice kMovers[] = {{"what was brought moves", "from"}, {"what it was brought to moves", "to"}};
constexpr Choice kDeeds[] = {{"suspend", "suspend"}, {"watch", "watch"}, {"delete", "delete"}, {"rename", "rename"}};
std::string_view rename_only(const EditTie& edit) {
  return edit.what_to_do == EditTie::Do::Rename ? "" : "it is not renamed";
}

Result<void> check(const EditTie& edit) {
  return edit.what_to_do == EditTie::Do::Rename ? check_name(edit.name, "A tie") : Result<void>();
}
Result<void> check_in(const CloseTie& close, const Scene& scene) { return check_tie(scene, close.tie); }
Result<void> check_in(const ShareError& share, const Scene& scene) { return check_tie(scene, share.tie); }
Result<void> check_in(const EditTie& edit, const Scene& scene) { return check_tie(scene, edit.tie); }

void sentence(Phrase& s, const CloseTie& close) {
  s.say("Closed the tie ", "Close the tie ").say(printable(close.tie));
  const Tie* tie = s.scene().tie(close.tie);
  if (!tie) return void(s.say("."));
  const TieState state = state_of(*tie, s.scene());
  s.say(": ", ", moving ").blank("moving", 0, names_of(s.scene(), movers(close, s.scene()))).say(" moved by ", " by ");
  s.say(show_length(state.gap, s.unit(), 4).text);
  if (state.angle && *state.angle > 1e-6) s.say(fmt::format(" and turned by {}", show_angle(*state.angle, 4).text));
  s.say(".");
}

void sentence(Phrase& s, const ShareError& share) {
  s.say("Spread the error at ").say(printable(share.tie));
  const auto closing = closing_error(s.scene(), share.tie);
  if (!closing) return void(s.say("."));
  double most = 0;
  for (const RingShift& p : closing->parts) most = std::max(most, length(p.shift));
  s.say(fmt::format(", {}, around the ring: {} move by at most {}, no gap is over {}.",
                    show_length(length(closing->error), s.unit(), 4).text,
                    names_of(s.scene(), shifted_by(share, s.scene())), show_length(most, s.unit(), 4).text,
                    show_length(closing->worst, s.unit(), 4).text));
}

void sentence(Phrase& s, const EditTie& edit) {
  constexpr std::pair<const char*, const char*> kWords[] = {
      {"Suspended", "Suspend"}, {"Watched again", "Watch again"}, {"Deleted", "Delete"}, {"Renamed", "Rename"}};
  const auto& [did, does] = kWords[static_cast<std::size_t>(edit.what_to_do)];
  s.say(did, does).say(" the tie ").say(printable(edit.tie));
  if (edit.what_to_do == EditTie::Do::Rename) s.say(" to ").blank("name");
  s.say(".");
}

}  // namespace

Tie tie_of(const Meet& meet, const Scene& scene) {
  Tie tie;
  for (const MeetPair& pair : pairs_of(meet)) tie.pairs.push_back({*pair.from, *pair.to});
  tie.name = meet.tie_name.empty() || scene.tie(meet.tie_name) ? free_tie_name(scene, tie.pairs) : meet.tie_name;
  tie.what = moves(meet, scene);
  tie.facing = meet.facing.value_or(default_facing(scene, *meet.from, *meet.to));
  tie.gap = meet.gap.value;
  tie.roll = meet.roll.value;
  tie.matched = meet.matched && tie.facing != Facing::AsIs;
  tie.shared = meet.shared;
  tie.sized = meet.sized;
  tie.along = meet.along;
  tie.axes = meet.axes;
  return tie;
}

Meet meet_of(const Tie& tie, CloseTie::Moves moves) {
  const bool move_other = moves == CloseTie::Moves::Met;
  Meet meet;
  const auto pair = [&](const TackPair& p) { return move_other ? MeetPair{p.to, p.from} : MeetPair{p.from, p.to}; };
  meet.from = pair(tie.pairs.front()).from;
  meet.to = pair(tie.pairs.front()).to;
  for (std::size_t i = 1; i < tie.pairs.size(); ++i) meet.more.push_back(pair(tie.pairs[i]));
  if (!move_other) meet.what = tie.what;
  meet.facing = tie.facing;
  // Seen from the other side the direction of To is the opposite of From's where they face, the same where they do not.
  const double sign = move_other && tie.facing == Facing::Same ? -1 : 1;
  meet.gap = Amount{sign * tie.gap};
  if (tie.matched) meet.roll = Amount{sign * tie.roll};
  meet.matched = tie.matched;
  meet.shared = tie.shared;
  meet.sized = tie.sized;
  meet.along = tie.along;
  meet.axes = tie.axes;
  return meet;
}

std::vector<PartId> movers(const CloseTie& close, const Scene& scene) {
  const Tie* tie = scene.tie(close.tie);
  return tie ? moves(meet_of(*tie, close.moves), scene) : std::vector<PartId>{};
}

std::vector<PartId> shifted_by(const ShareError& share, const Scene& scene) {
  std::vector<PartId> parts;
  if (const auto closing = closing_error(scene, share.tie))
    for (const RingShift& p : closing->parts)
      if (!p.stays) parts.push_back(p.part);
  return parts;
}

Result<Scene> apply(const CloseTie& close, const Scene& scene) {
  const auto tie = find_tie(scene, close.tie);
  if (!tie) return tl::unexpected(tie.error());
  const TieState state = state_of(**tie, scene);
  if (state.kind == TieState::Kind::Lost) return tl::unexpected(state.problem);
  const Meet meet = meet_of(**tie, close.moves);
  const bool shifts =
      close.moves == CloseTie::Moves::Met && (*tie)->facing == Facing::AsIs && (*tie)->pairs.size() == 1;
  if (!shifts) return apply(meet, scene);
  // As it stands a gap lies along the direction of To, which moves here: a plain shift closes it.
  if (!is_on_part(*meet.from)) return fail("What was met is the ground or a point of space: it does not move.");
  const auto parts = movable(scene, moves(meet, scene));
  if (!parts) return tl::unexpected(parts.error());
  Scene result = scene;
  const auto missing = [&](const Scene& now) -> std::optional<Vec3> {
    const TieState left = state_of(**tie, now);
    return left.kind == TieState::Kind::Lost ? std::nullopt : std::optional(-left.off);
  };
  const PartId leading = carrier_of(scene, *parts, meet.from->part);
  return settle(result, *parts, leading, missing).map([&] { return std::move(result); });
}

Result<Scene> apply(const ShareError& share, const Scene& scene) {
  const auto closing = closing_error(scene, share.tie);
  if (!closing) return tl::unexpected(closing.error());
  Scene result = scene;
  // Parents before what hangs below them, each to where it belongs: a child goes its own way, whatever its parent did.
  std::vector<RingShift> order = closing->parts;
  const auto depth = [&](PartId id) {
    int levels = 0;
    for (const Part* p = scene.find(id); p; p = scene.find(p->parent)) ++levels;
    return levels;
  };
  std::stable_sort(order.begin(), order.end(),
                   [&](const RingShift& a, const RingShift& b) { return depth(a.part) < depth(b.part); });
  for (const RingShift& part : order) {
    if (part.part == kNoPart) continue;
    const Vec3 pivot = world_of(scene, part.part) * scene.part(part.part).placement.pivot;
    const Vec3 target = pivot + part.shift;
    if (world_of(result, part.part) * scene.part(part.part).placement.pivot == target) continue;
    if (const auto ok = put_pivot(result, part.part, target); !ok) return tl::unexpected(ok.error());
  }
  return result;
}

Result<Scene> apply(const EditTie& edit, const Scene& scene) {
  if (const auto tie = find_tie(scene, edit.tie); !tie) return tl::unexpected(tie.error());
  std::vector<Tie> ties = scene.ties();
  const auto at = std::find_if(ties.begin(), ties.end(), [&](const Tie& t) { return t.name == edit.tie; });
  switch (edit.what_to_do) {
    case EditTie::Do::Suspend: at->suspended = true; break;
    case EditTie::Do::Watch: at->suspended = false; break;
    case EditTie::Do::Delete: ties.erase(at); break;
    case EditTie::Do::Rename:
      if (edit.name != edit.tie && scene.tie(edit.name))
        return fail(fmt::format("Another tie is named \"{}\".", edit.name), "name");
      at->name = edit.name;
      break;
  }
  Scene result = scene;
  result.set_ties(std::move(ties));
  return result;
}

// clang-format off
const Table<CloseTie>& table_of(const CloseTie*) {
  static const Table<CloseTie> table{.key = "close", .does = "Brings the places of a tie together again.",
      .check_in = check_in, .parts = movers, .sentence = sentence, .rows = {
    tie_row<CloseTie>("the tie that is closed"),
    {.key = "moving", .name = "Which moves", .at = slot<&CloseTie::moves>, .choices = kMovers, .always = true,
     .doc = "which side moves: what was brought, or what it was brought to"},
  }};
  return table;
}
const Table<ShareError>& table_of(const ShareError*) {
  static const Table<ShareError> table{.key = "share", .does = "Spreads what a ring of ties leaves evenly around it.",
      .check_in = check_in, .parts = shifted_by, .sentence = sentence, .rows = {
    tie_row<ShareError>("a tie that closes a ring"),
  }};
  return table;
}
const Table<EditTie>& table_of(const EditTie*) {
  static const Table<EditTie> table{.key = "tie", .does = "Suspends, watches again, deletes or renames a tie.",
      .check = check, .check_in = check_in, .sentence = sentence, .rows = {
    tie_row<EditTie>("the tie that is changed"),
    {.key = "do", .name = "What is done", .at = slot<&EditTie::what_to_do>, .choices = kDeeds, .needed = true,
     .always = true, .doc = "what is done with it"},
    {.key = "name", .name = "Name", .at = slot<&EditTie::name>,
     .needed_if = [](const EditTie& e) { return e.what_to_do == EditTie::Do::Rename; }, .barred = rename_only,
     .doc = "its new name, when it is renamed"},
  }};
  return table;
}
// clang-format on

}  // namespace tack
