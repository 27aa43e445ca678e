#include "core/verbs/verb.h"

#include <fmt/format.h>

#include <map>
#include <nlohmann/json.hpp>

#include "core/verbs/meet_motion.h"

namespace tack {
namespace {

template <auto kRead>
Result<Verb> read_as(const Json& json, const Scene& scene) {
  auto verb = kRead(json, scene);
  if (!verb) return tl::unexpected(verb.error());
  return Verb(std::move(*verb));
}

struct Reader {
  std::string_view key;
  Result<Verb> (*read)(const Json&, const Scene&);
};

// A new verb adds its line here and its type to the variant; nothing else lists the verbs.
constexpr Reader kReaders[] = {
    {"meet", read_as<meet_from_json>},         {"move", read_as<move_from_json>},
    {"place", read_as<place_from_json>},       {"show", read_as<show_from_json>},
    {"lock", read_as<lock_from_json>},         {"rename", read_as<rename_from_json>},
    {"delete", read_as<delete_from_json>},     {"parent", read_as<reparent_from_json>},
    {"rotate", read_as<rotate_from_json>},     {"scale", read_as<scale_from_json>},
    {"pivot", read_as<pivot_from_json>},       {"bake", read_as<bake_from_json>},
    {"fit-box", read_as<fit_box_from_json>},   {"group", read_as<group_from_json>},
    {"ungroup", read_as<ungroup_from_json>},   {"copy", read_as<copy_from_json>},
    {"separate", read_as<separate_from_json>}, {"colour", read_as<paint_from_json>},
    {"keep", read_as<keep_from_json>},         {"forget", read_as<forget_from_json>},
    {"close", read_as<close_from_json>},       {"share", read_as<share_from_json>},
    {"tie", read_as<edit_tie_from_json>},      {"guide", read_as<guide_from_json>},
};

}  // namespace

Result<Scene> apply(const Verb& verb, const Scene& scene) {
  return std::visit([&](const auto& v) { return apply(v, scene); }, verb);
}
Sentence sentence(const Verb& verb, const Scene& scene, Tense tense, const LengthUnit& unit) {
  return std::visit([&](const auto& v) { return sentence(v, scene, tense, unit); }, verb);
}
Json to_json(const Verb& verb, const Scene& scene) {
  return std::visit([&](const auto& v) { return to_json(v, scene); }, verb);
}
std::vector<PartId> parts_of(const Verb& verb, const Scene& scene) {
  return std::visit(
      [&](const auto& v) -> std::vector<PartId> {
        using T = std::decay_t<decltype(v)>;
        if constexpr (std::is_same_v<T, Meet>)
          return moves(v, scene);
        else if constexpr (std::is_same_v<T, Rename>)
          return {v.part};
        else if constexpr (std::is_same_v<T, Keep>)
          return keeper(v) == kNoPart ? std::vector<PartId>{} : std::vector<PartId>{keeper(v)};
        else if constexpr (std::is_same_v<T, CloseTie>)
          return movers(v, scene);
        else if constexpr (std::is_same_v<T, ShareError>)
          return shifted_by(v, scene);
        else if constexpr (std::is_same_v<T, Bring> || std::is_same_v<T, EditTie> || std::is_same_v<T, AddGuide>)
          return {};
        else
          return v.what;
      },
      verb);
}

std::vector<PartId> skewed_by(const Verb& verb, const Scene& before, const Scene& after) {
  std::vector<PartId> skewed;
  for (const PartId id : parts_of(verb, before)) {
    const Part *then = before.find(id), *now = after.find(id);
    if (then && now && largest_component(then->placement.skew) < 1e-9 && largest_component(now->placement.skew) >= 1e-9)
      skewed.push_back(id);
  }
  return skewed;
}

namespace {

// What a meeting has left apart, and what its places did not determine.
std::string meeting_remark(const Meet& meet, const Scene& before, const Scene& after) {
  std::string words;
  const bool may_remain = !meet.more.empty() || meet.hold || meet.along != kAllAxes;
  if (may_remain && !meets_within(meet, after, 0)) words = remaining_sentence(meet, after, kMillimetres);
  if (const auto motion = motion_of(meet, before); motion && !motion->undetermined.empty())
    words += fmt::format("{}The places do not say how to turn it {}: the smallest turn was taken.",
                         words.empty() ? "" : " ", motion->undetermined);
  return words;
}

// What is left between the places of a verb that goes from one to the other as far as it may.
template <typename V>
std::string places_remark(const V& verb, const Scene& after) {
  if (!verb.from || !verb.to) return {};
  Meet places;
  places.from = verb.from;
  places.to = verb.to;
  if (meets_within(places, after, 0)) return {};
  return remaining_sentence(places, after, kMillimetres);
}

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

std::string own_remark(const Verb& verb, const Scene& before, const Scene& after);

}  // namespace

std::string remark(const Verb& verb, const Scene& before, const Scene& after) {
  std::string words = own_remark(verb, before, after);
  // Deleting, renaming and suspending a tie is what was asked for.
  if (before.ties().empty() || std::holds_alternative<EditTie>(verb)) return words;
  if (const std::string ties = ties_remark(before, after); !ties.empty()) words += (words.empty() ? "" : " ") + ties;
  return words;
}

namespace {

std::string own_remark(const Verb& verb, const Scene& before, const Scene& after) {
  if (const auto* meet = std::get_if<Meet>(&verb))
    if (std::string words = meeting_remark(*meet, before, after); !words.empty()) return words;
  if (const auto* move = std::get_if<Move>(&verb))
    if (std::string words = places_remark(*move, after); !words.empty()) return words;
  if (const auto* rotate = std::get_if<Rotate>(&verb))
    if (std::string words = places_remark(*rotate, after); !words.empty()) return words;
  const std::vector<PartId> skewed = skewed_by(verb, before, after);
  const auto* grown = std::get_if<Scale>(&verb);
  if (skewed.empty()) return grown ? places_remark(*grown, after) : std::string{};
  const std::string names = names_of(after, skewed);
  const char* are = skewed.size() > 1 ? "are" : "is";
  if (const auto* scale = std::get_if<Scale>(&verb))
    return fmt::format(
        "{} {} skewed by it, because {} axes are not {} own. Along {} own axes, or evenly, no skew comes of it; or "
        "bake it "
        "into the mesh.",
        names, are, axes_words(scale->axes, before), skewed.size() > 1 ? "their" : "its",
        skewed.size() > 1 ? "their" : "its");
  return fmt::format("{} {} skewed by it, because an unevenly scaled part stands above. It can be baked into the mesh.",
                     names, are);
}

}  // namespace

std::string_view key_of(const Verb& verb) {
  return std::visit([](const auto& v) { return key_of(v); }, verb);
}

Result<Verb> verb_from_json(const Json& json, const Scene& scene) {
  if (!json.is_object() || !json.contains("verb") || !json["verb"].is_string())
    return fail("A step needs a \"verb\", like {\"verb\": \"move\", …}.");
  const auto& key = json["verb"].get_ref<const std::string&>();
  std::string known;
  for (const Reader& reader : kReaders) {
    if (reader.key == key) return reader.read(json, scene);
    known += (known.empty() ? "" : ", ") + std::string(reader.key);
  }
  return fail(fmt::format("\"{}\" is not a verb of this version.", key), "verb",
              fmt::format("It knows: bring, {}.", known));
}

}  // namespace tack
