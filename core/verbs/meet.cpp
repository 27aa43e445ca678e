#include "core/verbs/meet.h"

#include <fmt/format.h>

#include <nlohmann/json.hpp>

#include "core/verbs/meet_motion.h"
#include "core/verbs/tie_steps.h"

namespace tack {
namespace {

// Whether bringing two such places together means that what they look along comes together too.
bool looks_out(const Scene& scene, const TackAddress& a) {
  switch (a.kind) {
    case TackKind::Face:
    case TackKind::FaceCentre:
    case TackKind::RoundCentre:
    case TackKind::Axis: return true;
    case TackKind::Kept: {
      const KeptTack* kept = find_kept(scene, a.part, a.name);
      return kept && kept->direction;
    }
    case TackKind::BoxPoint:
    case TackKind::WorldBoxPoint:
    case TackKind::TreeBoxPoint: return kind_words(a) == "box face centre";
    default: return false;
  }
}

constexpr std::pair<std::string_view, Facing> kFacingKeys[] = {
    {"as-is", Facing::AsIs}, {"facing", Facing::Facing}, {"same", Facing::Same}};

}  // namespace

Facing default_facing(const Scene& scene, const TackAddress& from, const TackAddress& to) {
  return looks_out(scene, from) && looks_out(scene, to) ? Facing::Facing : Facing::AsIs;
}

bool default_matched(const Scene& scene, const TackAddress& from, const TackAddress& to) {
  const auto upright = [&](const TackAddress& a) {
    const KeptTack* kept = a.kind == TackKind::Kept ? find_kept(scene, a.part, a.name) : nullptr;
    return kept && kept->direction && kept->roll;
  };
  return upright(from) && upright(to);
}

std::vector<PartId> moves(const Meet& meet, const Scene& scene) {
  if (!meet.from || !is_on_part(*meet.from) || moves_with(scene, meet.what, meet.from->part)) return meet.what;
  return {meet.from->part};
}

std::vector<MeetPair> pairs_of(const Meet& meet) {
  std::vector<MeetPair> pairs{{meet.from, meet.to}};
  pairs.insert(pairs.end(), meet.more.begin(), meet.more.end());
  return pairs;
}

namespace {

// What apply() does but for remembering and the chain.
Result<Scene> brought(const Meet& meet, const Scene& scene) {
  const auto motion = motion_of(meet, scene);
  if (!motion) return tl::unexpected(motion.error());
  const auto parts = movable(scene, moves(meet, scene));
  if (!parts) return tl::unexpected(parts.error());
  for (const MeetPair& pair : pairs_of(meet)) {
    if (const auto ok = check_to_stays(scene, *parts, *pair.to); !ok) return tl::unexpected(ok.error());
    if (meet.more.empty()) continue;
    if (const auto ok = check_from_moves(scene, *parts, *pair.from); !ok) return tl::unexpected(ok.error());
  }
  auto result = moved_alike(meet.leave_copy ? with_copies_left(scene, *parts) : scene, *parts, motion->turn,
                            motion->factor, motion->from, motion->to);
  if (meet.hold || (meet.shared && !meet.more.empty())) return result;
  // From itself is what has to arrive: measure it from the stored numbers and put right what is left.
  for (int pass = 0; result && pass < 2; ++pass) {
    const auto landed = find_tack(*result, *meet.from);
    if (!landed || landed->point == motion->to || !is_on_part(*meet.from)) break;
    auto better = moved_rigidly(*result, *parts, {}, landed->point, motion->to);
    if (!better) break;
    const auto now = find_tack(*better, *meet.from);
    if (!now || distance(now->point, motion->to) >= distance(landed->point, motion->to)) break;
    result = std::move(better);
  }
  return result;
}

void remember(const Meet& meet, Scene& scene) {
  if (!meet.tie) return;
  std::vector<Tie> ties = scene.ties();
  ties.push_back(tie_of(meet, scene));
  scene.set_ties(std::move(ties));
}

// The feature of To on another part: where the next of a chain goes.
TackAddress next_to(const Meet& meet, PartId part) {
  TackAddress to = *meet.to;
  to.part = part;
  return to;
}

}  // namespace

bool can_chain(const Meet& meet, const Scene& scene) {
  if (!meet.from || !meet.to || !is_on_part(*meet.to) || !meet.more.empty() || meet.hold || meet.along != kAllAxes)
    return false;
  const std::vector<PartId> what = moves(meet, scene);
  const Part *moving = what.size() == 1 ? scene.find(what.front()) : nullptr, *met = scene.find(meet.to->part);
  // The same kept tack, or the same mesh: of other parts a vertex of the same number is no place of the same meaning.
  if (!moving || !met || (meet.to->kind != TackKind::Kept && !(moving->mesh && moving->mesh == met->mesh)))
    return false;
  return what.size() == 1 && meet.from->part == what.front() && scene.contains(what.front()) &&
         find_tack(scene, next_to(meet, what.front())).has_value() &&
         next_to(meet, what.front()) != TackAddress(*meet.from);
}

Result<Scene> apply(const Meet& meet, const Scene& scene) {
  if (meet.hold && meet.tie)
    return fail("A meeting about a place that stays leaves its places apart: it is not remembered.", "tie",
                "Meet without holding a place, or do not remember it.");
  if (!meet.tie_name.empty())
    if (const auto ok = check_name(meet.tie_name, "A tie"); !ok) return tl::unexpected(ok.error());
  auto result = brought(meet, scene);
  if (!result) return result;
  remember(meet, *result);
  if (meet.chain == 0) return result;
  if (meet.chain < 0 || meet.chain > kMostInChain)
    return fail(fmt::format("A chain has 0 to {} more.", kMostInChain), "chain");
  if (!can_chain(meet, scene))
    return fail("What moves has no place like To, so that nothing can follow it.", {},
                "A chain needs the same kept tack, or a linked copy, on both sides.");
  PartId last = moves(meet, scene).front();
  for (int i = 0; i < meet.chain; ++i) {
    PartId copy = kNoPart;
    const Scene copied = with_linked_copy(*result, last, copy);
    Meet next = meet;
    next.what = {copy};
    next.from->part = copy;
    next.to = next_to(meet, last);
    next.leave_copy = false;
    next.tie_name.clear();
    result = brought(next, copied);
    if (!result) return result;
    remember(next, *result);
    last = copy;
  }
  return result;
}

Sentence sentence(const Meet& meet, const Scene& scene, Tense tense, const LengthUnit& unit) {
  const bool past = tense == Tense::Past;
  const std::vector<PartId> what = moves(meet, scene);
  const PartId own = what.size() == 1 ? what.front() : kNoPart;
  const Facing facing =
      meet.facing.value_or(meet.from && meet.to ? default_facing(scene, *meet.from, *meet.to) : Facing::AsIs);
  const std::vector<MeetPair> pairs = pairs_of(meet);
  const bool several = pairs.size() > 1;
  Sentence s;
  s.push_back({past ? "Brought " : "Bring "});
  if (meet.leave_copy) s.push_back({"a copy of "});
  s.push_back({what.empty() ? "a part" : names_of(scene, what), Blank::What, what.empty()});
  for (std::size_t i = 0; i < std::min(pairs.size(), kMostPairs); ++i) {
    s.push_back({i == 0 ? " from " : ", and "});
    s.push_back(tack_word(scene, pairs[i].from, from_blank(i), i == 0 ? "a place on it" : "another place on it", own));
    s.push_back({" to "});
    s.push_back(tack_word(scene, pairs[i].to, to_blank(i), "a place to go"));
  }
  if (pairs.size() > kMostPairs) s.push_back({fmt::format(", and {} more pairs", pairs.size() - kMostPairs)});
  s.push_back({", "});
  if (meet.hold && !several) {
    s.push_back({"turned about "});
    s.push_back(tack_word(scene, meet.hold, Blank::Hold, "a place", own));
    s.push_back({", which stays, "});
    s.push_back({meet.sized ? "sized evenly to fit" : "at its size", Blank::Sized});
  } else if (several) {
    s.push_back({meet.shared ? "sharing the error" : "the first exactly", Blank::Sharing});
    s.push_back({", "});
    s.push_back({meet.sized ? "sized evenly to fit" : "at its size", Blank::Sized});
    // With two pairs the roll is left over, and facing says how to use it.
    if (pairs.size() == 2 && !meet.shared) {
      s.push_back({", "});
      s.push_back({std::string(words_for(facing)), Blank::Facing});
    }
  } else {
    s.push_back({std::string(words_for(facing)), Blank::Facing});
    s.push_back({", "});
    s.push_back({shown(meet.gap, EntryKind::Length, unit), Blank::Gap});
    s.push_back({" apart"});
    if (facing != Facing::AsIs || meet.roll.value != 0) {
      s.push_back({", rolled "});
      s.push_back({shown(meet.roll, EntryKind::Angle), Blank::Roll});
      if (facing != Facing::AsIs) {
        s.push_back({" from "});
        s.push_back({meet.matched ? "roll on roll" : "the smallest turn", Blank::Matched});
      }
    }
    if (meet.along != kAllAxes) {
      s.push_back({", along "});
      s.push_back({axes_named(meet.along), Blank::Limits});
      s.push_back({" of "});
      s.push_back({axes_words(meet.axes, scene), Blank::Axes});
      s.push_back({" axes only"});
    }
  }
  if (meet.tie) {
    s.push_back({past ? ", " : ", to be "});
    s.push_back({"remembered as a tie", Blank::Tied});
  }
  if (meet.chain > 0) {
    s.push_back({", with "});
    s.push_back({fmt::format("{}", meet.chain), Blank::Chain});
    s.push_back({" more in a chain"});
  }
  s.push_back({"."});
  if (!meet.tie && !meet.hold) {
    s.push_back({"  ", Blank::None, false, true});
    s.push_back({"remember it as a tie", Blank::Tied, false, true});
  }
  if (meet.chain == 0 && can_chain(meet, scene)) {
    s.push_back({meet.tie ? "  " : " · ", Blank::None, false, true});
    s.push_back({"go on in a chain", Blank::Chain, false, true});
  }
  return s;
}

std::string_view words_for(Facing facing) {
  switch (facing) {
    case Facing::Facing: return "facing it";
    case Facing::Same: return "facing the same way";
    default: return "as it stands";
  }
}

Json to_json(const Meet& meet, const Scene& scene) {
  Json j{{"verb", "meet"}, {"what", parts_to_json(moves(meet, scene), scene)}};
  j["pairs"] = Json::array();
  for (const MeetPair& each : pairs_of(meet)) {
    Json pair = Json::object();
    if (each.from) pair["from"] = address_text(scene, *each.from);
    if (each.to) pair["to"] = address_text(scene, *each.to);
    j["pairs"].push_back(std::move(pair));
  }
  if (meet.facing)
    for (const auto& [key, facing] : kFacingKeys)
      if (facing == *meet.facing) j["facing"] = key;
  j["gap"] = amount_to_json(meet.gap);
  j["roll"] = amount_to_json(meet.roll);
  if (meet.leave_copy) j["copy"] = true;
  if (meet.matched) j["from-roll"] = true;
  if (meet.shared) j["share"] = true;
  if (meet.sized) j["sized"] = true;
  if (meet.along != kAllAxes) {
    j["along"] = axis_letters(meet.along);
    j["axes"] = axes_to_json(meet.axes, scene);
  }
  if (meet.hold) j["hold"] = address_text(scene, *meet.hold);
  if (meet.tie) j["tie"] = meet.tie_name.empty() ? Json(true) : Json(meet.tie_name);
  if (meet.chain > 0) j["chain"] = meet.chain;
  return j;
}

Result<Meet> meet_from_json(const Json& json, const Scene& scene) {
  if (const auto ok = check_keys(json, {"verb", "what", "pairs", "facing", "gap", "roll", "from-roll", "share", "sized",
                                        "along", "axes", "copy", "tie", "hold", "chain"});
      !ok)
    return tl::unexpected(ok.error());
  Meet meet;
  if (json.contains("what")) {
    auto what = parts_from_json(json["what"], scene);
    if (!what) return tl::unexpected(what.error());
    meet.what = std::move(*what);
  }
  if (!json.contains("pairs") || !json["pairs"].is_array() || json["pairs"].empty())
    return fail("Meet needs \"pairs\": a list with a from and a to.", "pairs");
  for (std::size_t i = 0; i < json["pairs"].size(); ++i) {
    const Json& given = json["pairs"][i];
    MeetPair pair;
    for (const auto& [key, slot] : {std::pair{"from", &pair.from}, std::pair{"to", &pair.to}}) {
      if (!given.is_object() || !given.contains(key) || !given[key].is_string())
        return fail(fmt::format("Pair {} has no \"{}\" that names a place.", i + 1, key), "pairs");
      auto address = parse_address(scene, given[key].get_ref<const std::string&>());
      if (!address) return fail(address.error().what, fmt::format("pairs, {}, {}", i + 1, key), address.error().remedy);
      *slot = *address;
    }
    if (!meet.what.empty() && is_on_part(*pair.from) && !moves_with(scene, meet.what, pair.from->part))
      return fail(
          fmt::format("From is on \"{}\", which is not among what is to move.", path_of(scene, pair.from->part)),
          fmt::format("pairs, {}, from", i + 1));
    if (i == 0) {
      meet.from = pair.from;
      meet.to = pair.to;
    } else {
      meet.more.push_back(pair);
    }
  }
  if (json.contains("facing")) {
    const auto* const found = std::find_if(std::begin(kFacingKeys), std::end(kFacingKeys), [&](const auto& entry) {
      return json["facing"].is_string() && json["facing"].get_ref<const std::string&>() == entry.first;
    });
    if (found == std::end(kFacingKeys))
      return fail(fmt::format("{} is not a way of facing.", json["facing"].dump()), "facing",
                  "Use as-is, facing or same.");
    meet.facing = found->second;
  }
  for (const auto& [key, kind, slot] :
       {std::tuple{"gap", EntryKind::Length, &meet.gap}, std::tuple{"roll", EntryKind::Angle, &meet.roll}})
    if (json.contains(key)) {
      auto amount = amount_from_json(json[key], kind, key, scene);
      if (!amount) return tl::unexpected(amount.error());
      *slot = std::move(*amount);
    }
  for (const auto& [key, flag] : {std::pair{"from-roll", &meet.matched},
                                  {"share", &meet.shared},
                                  {"sized", &meet.sized},
                                  {"copy", &meet.leave_copy}}) {
    const auto on = flag_in(json, key);
    if (!on) return tl::unexpected(on.error());
    *flag = *on;
  }
  if (json.contains("along")) {
    const auto along = axis_letters_from_json(json["along"], "along");
    if (!along) return tl::unexpected(along.error());
    meet.along = *along;
  }
  const auto axes = axes_in(json, scene);
  if (!axes) return tl::unexpected(axes.error());
  meet.axes = *axes;
  if (json.contains("hold")) {
    const auto hold = json["hold"].is_string() ? parse_address(scene, json["hold"].get_ref<const std::string&>())
                                               : Result<TackAddress>(fail("This should name a place."));
    if (!hold) return fail(hold.error().what, "hold", hold.error().remedy);
    if (!meet.more.empty()) return fail("A place is held still with one pair only.", "hold");
    meet.hold = *hold;
  }
  if (json.contains("tie")) {
    if (!json["tie"].is_boolean() && !json["tie"].is_string())
      return fail("This should be true, false, or the name of the tie.", "tie");
    meet.tie = json["tie"].is_string() || json["tie"].get<bool>();
    if (json["tie"].is_string()) meet.tie_name = json["tie"].get<std::string>();
    if (meet.tie && !meet.tie_name.empty() && scene.tie(meet.tie_name))
      return fail(fmt::format("There is a tie \"{}\" already.", meet.tie_name), "tie");
  }
  if (json.contains("chain")) {
    const Json& chain = json["chain"];
    if (!chain.is_number_integer() || chain.get<std::int64_t>() < 0 || chain.get<std::int64_t>() > kMostInChain)
      return fail(fmt::format("This should be a whole number from 0 to {}.", kMostInChain), "chain");
    meet.chain = chain.get<int>();
  }
  return meet;
}

}  // namespace tack
