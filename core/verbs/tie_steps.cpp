#include "core/verbs/tie_steps.h"

#include <fmt/format.h>

#include <nlohmann/json.hpp>

#include "core/verbs/turn.h"

namespace tack {
namespace {

constexpr std::pair<std::string_view, EditTie::Do> kDeeds[] = {{"suspend", EditTie::Do::Suspend},
                                                               {"watch", EditTie::Do::Watch},
                                                               {"delete", EditTie::Do::Delete},
                                                               {"rename", EditTie::Do::Rename}};

Result<const Tie*> find_tie(const Scene& scene, const std::string& name) {
  if (const Tie* tie = scene.tie(name)) return tie;
  std::string names;
  for (const Tie& tie : scene.ties()) names += (names.empty() ? "" : ", ") + tie.name;
  return fail(fmt::format("There is no tie \"{}\".", name), "tie",
              names.empty() ? std::string("None is kept in this scene.") : fmt::format("There are: {}.", names));
}

Result<std::string> tie_in(const Json& json, const Scene& scene, std::string_view verb) {
  if (!json.contains("tie") || !json["tie"].is_string())
    return fail(fmt::format("\"{}\" needs the name of a \"tie\".", verb), "tie");
  auto name = json["tie"].get<std::string>();
  if (const auto tie = find_tie(scene, name); !tie) return tl::unexpected(tie.error());
  return name;
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

Meet meet_of(const Tie& tie, bool move_other) {
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
  return tie ? moves(meet_of(*tie, close.move_other), scene) : std::vector<PartId>{};
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
  Meet meet = meet_of(**tie, close.move_other);
  const bool shifts = close.move_other && (*tie)->facing == Facing::AsIs && (*tie)->pairs.size() == 1;
  if (!shifts) return apply(meet, scene);
  // As it stands a gap lies along the direction of To, which moves here: a plain shift closes it.
  if (!is_on_part(*meet.from)) return fail("What was met is the ground or a point of space: it does not move.");
  const auto parts = movable(scene, moves(meet, scene));
  if (!parts) return tl::unexpected(parts.error());
  auto result = moved_rigidly(scene, *parts, {}, {}, -state.off);
  if (!result) return result;
  const TieState left = state_of(**tie, *result);
  auto better = moved_rigidly(*result, *parts, {}, {}, -left.off);
  return better && state_of(**tie, *better).gap < left.gap ? better : result;
}

Result<Scene> apply(const ShareError& share, const Scene& scene) {
  const auto closing = closing_error(scene, share.tie);
  if (!closing) return tl::unexpected(closing.error());
  Scene result = scene;
  // Parents before what hangs below them, each to where it shall be: a child goes its own way, whatever its parent did.
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
      if (const auto ok = check_name(edit.name, "A tie"); !ok) return tl::unexpected(ok.error());
      if (edit.name != edit.tie && scene.tie(edit.name))
        return fail(fmt::format("Another tie is named \"{}\".", edit.name), "name");
      at->name = edit.name;
      break;
  }
  Scene result = scene;
  result.set_ties(std::move(ties));
  return result;
}

Sentence sentence(const CloseTie& close, const Scene& scene, Tense tense, const LengthUnit& unit) {
  Sentence s{{tense == Tense::Past ? "Closed the tie " : "Close the tie "}, {close.tie}};
  const Tie* tie = scene.tie(close.tie);
  if (!tie) return s.push_back({"."}), s;
  const TieState state = state_of(*tie, scene);
  s.push_back({tense == Tense::Past ? ": " : ", moving "});
  s.push_back({names_of(scene, movers(close, scene)), Blank::Mover});
  s.push_back({tense == Tense::Past ? " moved by " : " by "});
  s.push_back({show_length(state.gap, unit, 4).text});
  if (state.angle && *state.angle > 1e-6)
    s.push_back({fmt::format(" and turned by {}", show_angle(*state.angle, 4).text)});
  s.push_back({"."});
  return s;
}

Sentence sentence(const ShareError& share, const Scene& scene, Tense tense, const LengthUnit& unit) {
  Sentence s{{tense == Tense::Past ? "Shared what remained at " : "Share what remains at "}, {share.tie}};
  const auto closing = closing_error(scene, share.tie);
  if (!closing) return s.push_back({"."}), s;
  double most = 0;
  for (const RingShift& p : closing->parts) most = std::max(most, length(p.shift));
  s.push_back({fmt::format(", {}, among {}: each by at most {}, so that no gap is over {}.",
                           show_length(length(closing->error), unit, 4).text, names_of(scene, shifted_by(share, scene)),
                           show_length(most, unit, 4).text, show_length(closing->worst, unit, 4).text)});
  return s;
}

Sentence sentence(const EditTie& edit, const Scene&, Tense tense, const LengthUnit&) {
  const bool past = tense == Tense::Past;
  const auto words = [&]() -> std::string {
    switch (edit.what_to_do) {
      case EditTie::Do::Suspend: return past ? "Suspended" : "Suspend";
      case EditTie::Do::Watch: return past ? "Watched again" : "Watch again";
      case EditTie::Do::Delete: return past ? "Deleted" : "Delete";
      default: return past ? "Renamed" : "Rename";
    }
  }();
  Sentence s{{words + " the tie " + edit.tie}};
  if (edit.what_to_do == EditTie::Do::Rename) {
    s.push_back({" to "});
    s.push_back({edit.name, Blank::Name});
  }
  s.push_back({"."});
  return s;
}

Json to_json(const CloseTie& close, const Scene&) {
  return {{"verb", "close"}, {"tie", close.tie}, {"moving", close.move_other ? "to" : "from"}};
}
Json to_json(const ShareError& share, const Scene&) { return {{"verb", "share"}, {"tie", share.tie}}; }
Json to_json(const EditTie& edit, const Scene&) {
  Json j{{"verb", "tie"}, {"tie", edit.tie}};
  for (const auto& [key, deed] : kDeeds)
    if (deed == edit.what_to_do) j["do"] = key;
  if (edit.what_to_do == EditTie::Do::Rename) j["name"] = edit.name;
  return j;
}

Result<CloseTie> close_from_json(const Json& json, const Scene& scene) {
  if (const auto ok = check_keys(json, {"verb", "tie", "moving"}); !ok) return tl::unexpected(ok.error());
  auto name = tie_in(json, scene, "close");
  if (!name) return tl::unexpected(name.error());
  CloseTie close{std::move(*name), false};
  if (!json.contains("moving")) return close;
  if (json["moving"] != "from" && json["moving"] != "to")
    return fail(fmt::format("{} is neither side of a tie.", json["moving"].dump()), "moving", "Write from or to.");
  close.move_other = json["moving"] == "to";
  return close;
}

Result<ShareError> share_from_json(const Json& json, const Scene& scene) {
  if (const auto ok = check_keys(json, {"verb", "tie"}); !ok) return tl::unexpected(ok.error());
  auto name = tie_in(json, scene, "share");
  if (!name) return tl::unexpected(name.error());
  return ShareError{std::move(*name)};
}

Result<EditTie> edit_tie_from_json(const Json& json, const Scene& scene) {
  if (const auto ok = check_keys(json, {"verb", "tie", "do", "name"}); !ok) return tl::unexpected(ok.error());
  auto name = tie_in(json, scene, "tie");
  if (!name) return tl::unexpected(name.error());
  EditTie edit{std::move(*name), EditTie::Do::Suspend, {}};
  const auto* const deed = std::find_if(std::begin(kDeeds), std::end(kDeeds), [&](const auto& entry) {
    return json.contains("do") && json["do"].is_string() && json["do"].get_ref<const std::string&>() == entry.first;
  });
  if (deed == std::end(kDeeds))
    return fail("This says what to \"do\" with the tie.", "do", "Write suspend, watch, delete or rename.");
  edit.what_to_do = deed->second;
  if (edit.what_to_do != EditTie::Do::Rename) return edit;
  if (!json.contains("name") || !json["name"].is_string()) return fail("The new \"name\" is missing.", "name");
  edit.name = json["name"].get<std::string>();
  return edit;
}

}  // namespace tack
