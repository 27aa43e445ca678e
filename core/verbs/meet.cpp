#include "core/verbs/meet.h"

#include <fmt/format.h>

#include <nlohmann/json.hpp>

#include "core/math/degrees.h"

namespace tack {
namespace {

bool moves_with(const Scene& scene, const std::vector<PartId>& what, PartId part) {
  return std::any_of(what.begin(), what.end(), [&](PartId id) { return is_within(scene, part, id); });
}

bool is_face_centre(const TackAddress& a) {
  return (a.kind == TackKind::BoxPoint || a.kind == TackKind::WorldBoxPoint) && kind_words(a) == "box face centre";
}

constexpr std::pair<std::string_view, Facing> kFacingKeys[] = {
    {"as-is", Facing::AsIs}, {"facing", Facing::Facing}, {"same", Facing::Same}};

std::string without_direction(const Scene& scene, const TackAddress& address, std::string_view wish) {
  return fmt::format("The {} has no direction, so there is no {}.", tack_words(scene, address), wish);
}

}  // namespace

Facing default_facing(const TackAddress& from, const TackAddress& to) {
  return is_face_centre(from) && is_face_centre(to) ? Facing::Facing : Facing::AsIs;
}

std::vector<PartId> moves(const Meet& meet, const Scene& scene) {
  if (!meet.from || meet.from->kind == TackKind::Point || moves_with(scene, meet.what, meet.from->part))
    return meet.what;
  return {meet.from->part};
}

Mat3 smallest_turn(const Vec3& a, const Vec3& b, const std::optional<Vec3>& half_turn_axis) {
  const Vec3 axis = cross(a, b);
  const double sine = length(axis), cosine = dot(a, b);
  if (sine < 1e-12) {
    if (cosine > 0) return {};
    Vec3 about = half_turn_axis.value_or(least_axis(a));
    about = about - a * dot(about, a);
    if (!(length(about) > 1e-9)) about = least_axis(a) - a * dot(least_axis(a), a);
    return rotation_about(normalized(about), 180);
  }
  return rotation_about(axis / sine, atan2_degrees(sine, cosine));
}

Result<Scene> apply(const Meet& meet, const Scene& scene) {
  if (!meet.from) return fail("From is missing.", {}, "Click the place on what moves.");
  if (!meet.to) return fail("To is missing.", {}, "Click the place on what stays.");
  const auto from = find_tack(scene, *meet.from);
  if (!from) return tl::unexpected(from.error());
  const auto to = find_tack(scene, *meet.to);
  if (!to) return tl::unexpected(to.error());
  const auto parts = movable(scene, moves(meet, scene));
  if (!parts) return tl::unexpected(parts.error());
  if (meet.to->kind != TackKind::Point && moves_with(scene, *parts, meet.to->part))
    return fail(fmt::format("The {} is on what moves.", tack_words(scene, *meet.to)), {}, "To must be on what stays.");

  const double gap = meet.gap.value, roll = meet.roll.value;
  const Facing facing = meet.facing.value_or(default_facing(*meet.from, *meet.to));
  if (gap != 0 && !to->direction) return fail(without_direction(scene, *meet.to, "way to keep a gap"));
  Mat3 turn;
  if (facing != Facing::AsIs) {
    for (const Tack* t : {&*from, &*to})
      if (!t->direction) return fail(without_direction(scene, t->address, "facing"));
    const Vec3 wanted = facing == Facing::Facing ? -*to->direction : *to->direction;
    turn = smallest_turn(*from->direction, wanted, from->roll);
  }
  if (roll != 0) {
    if (!to->direction) return fail(without_direction(scene, *meet.to, "axis to roll about"));
    turn = rotation_about(*to->direction, roll) * turn;
  }
  const Vec3 target = gap == 0 ? to->point : to->point + *to->direction * gap;
  auto result = moved_rigidly(scene, *parts, turn, from->point, target);
  // From itself is what has to arrive: measure it from the stored numbers and put right what is left.
  for (int pass = 0; result && pass < 2; ++pass) {
    const auto landed = find_tack(*result, *meet.from);
    if (!landed || landed->point == target || meet.from->kind == TackKind::Point) break;
    auto better = moved_rigidly(*result, *parts, {}, landed->point, target);
    if (!better) break;
    const auto now = find_tack(*better, *meet.from);
    if (!now || distance(now->point, target) >= distance(landed->point, target)) break;
    result = std::move(better);
  }
  return result;
}

Sentence sentence(const Meet& meet, const Scene& scene, Tense tense, const LengthUnit& unit) {
  const bool past = tense == Tense::Past;
  const std::vector<PartId> what = moves(meet, scene);
  const PartId own = what.size() == 1 ? what.front() : kNoPart;
  const Facing facing =
      meet.facing.value_or(meet.from && meet.to ? default_facing(*meet.from, *meet.to) : Facing::AsIs);
  Sentence s;
  s.push_back({past ? "Brought " : "Bring "});
  s.push_back({what.empty() ? "a part" : names_of(scene, what), Blank::What, what.empty()});
  s.push_back({" from "});
  s.push_back(tack_word(scene, meet.from, Blank::From, "a place on it", own));
  s.push_back({" to "});
  s.push_back(tack_word(scene, meet.to, Blank::To, "a place to go"));
  s.push_back({", "});
  s.push_back({std::string(words_for(facing)), Blank::Facing});
  s.push_back({", "});
  s.push_back({shown(meet.gap, EntryKind::Length, unit), Blank::Gap});
  s.push_back({" apart"});
  if (facing != Facing::AsIs || meet.roll.value != 0) {
    s.push_back({", rolled "});
    s.push_back({shown(meet.roll, EntryKind::Angle), Blank::Roll});
  }
  s.push_back({"."});
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
  Json pair = Json::object();
  if (meet.from) pair["from"] = address_text(scene, *meet.from);
  if (meet.to) pair["to"] = address_text(scene, *meet.to);
  j["pairs"] = Json::array({pair});
  if (meet.facing)
    for (const auto& [key, facing] : kFacingKeys)
      if (facing == *meet.facing) j["facing"] = key;
  j["gap"] = amount_to_json(meet.gap);
  j["roll"] = amount_to_json(meet.roll);
  return j;
}

Result<Meet> meet_from_json(const Json& json, const Scene& scene) {
  if (const auto ok = check_keys(json, {"verb", "what", "pairs", "facing", "gap", "roll", "tie"}); !ok)
    return tl::unexpected(ok.error());
  Meet meet;
  if (json.contains("what")) {
    auto what = parts_from_json(json["what"], scene);
    if (!what) return tl::unexpected(what.error());
    meet.what = std::move(*what);
  }
  if (!json.contains("pairs") || !json["pairs"].is_array() || json["pairs"].empty())
    return fail("Meet needs \"pairs\": a list with a from and a to.", "pairs");
  if (json["pairs"].size() > 1)
    return fail(
        fmt::format("{} pairs are given; this version brings one pair together at a time.", json["pairs"].size()),
        "pairs");
  const Json& pair = json["pairs"][0];
  for (const auto& [key, slot] : {std::pair{"from", &meet.from}, std::pair{"to", &meet.to}}) {
    if (!pair.is_object() || !pair.contains(key) || !pair[key].is_string())
      return fail(fmt::format("The pair has no \"{}\" that names a place.", key), "pairs");
    auto address = parse_address(scene, pair[key].get_ref<const std::string&>());
    if (!address) return fail(address.error().what, fmt::format("pairs, {}", key), address.error().remedy);
    *slot = *address;
  }
  if (!meet.what.empty() && meet.from->kind != TackKind::Point && !moves_with(scene, meet.what, meet.from->part))
    return fail(fmt::format("From is on \"{}\", which is not among what is to move.", path_of(scene, meet.from->part)),
                "pairs, from");
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
  if (json.contains("tie") && json["tie"] != false)
    return fail("This version does not keep ties yet.", "tie", "Leave the key out, or write false.");
  return meet;
}

}  // namespace tack
