#include "core/files/tie_json.h"

#include <fmt/format.h>

#include <nlohmann/json.hpp>
#include <set>

#include "core/verbs/tie_steps.h"
#include "core/verbs/verb.h"

namespace tack {
namespace {

// A tie is written as the meeting that made it, so that both are read by the same code.
Json tie_to_json(const Tie& tie, const Scene& scene) {
  Meet meet = meet_of(tie);
  meet.roll = Amount{tie.roll};
  Json j = to_json(Verb(meet), scene);
  for (const char* key : {"verb", "tie"}) j.erase(key);
  j["name"] = tie.name;
  if (tie.suspended) j["suspended"] = true;
  return j;
}

Result<Tie> tie_from_json(const Json& json, const Scene& scene) {
  if (!json.is_object() || !json.contains("name") || !json["name"].is_string() || json["name"] == "")
    return fail("a tie has no name");
  // What a newer version has put beside what is known here is passed over.
  Json meeting{{"verb", "meet"}};
  for (const char* key : {"what", "pairs", "facing", "gap", "roll", "from-roll", "share", "sized", "along", "axes"})
    if (json.contains(key)) meeting[key] = json[key];
  auto meet = verb_from_json(meeting, scene);
  // Earlier versions wrote it also where a part comes as it stands and nothing turns.
  if (!meet && meeting.erase("from-roll") > 0) meet = verb_from_json(meeting, scene);
  if (!meet) return tl::unexpected(meet.error());
  Tie tie = tie_of(std::get<Meet>(*meet), scene);
  tie.name = printable(shortened(json["name"].get<std::string>(), 200));
  tie.suspended = json.contains("suspended") && json["suspended"] == true;
  return tie;
}

}  // namespace

Json ties_to_json(const Scene& scene) {
  Json list = Json::array();
  for (const Tie& tie : scene.ties()) list.push_back(tie_to_json(tie, scene));
  return list;
}

std::vector<Tie> ties_from_json(const Json& list, const Scene& scene, std::vector<std::string>& notes) {
  constexpr std::size_t kMostTies = 1'000'000;
  std::vector<Tie> ties;
  std::set<std::string> names;
  if (!list.is_array() || list.size() > kMostTies) {
    notes.emplace_back("The ties in the file are not a list, so they were left out.");
    return ties;
  }
  for (const Json& json : list) {
    auto tie = tie_from_json(json, scene);
    if (!tie) {
      notes.push_back(fmt::format("A tie was left out: {}", sentence(tie.error())));
      continue;
    }
    tie->name = first_free(tie->name, [&](const std::string& name) { return names.contains(name); });
    names.insert(tie->name);
    ties.push_back(std::move(*tie));
  }
  return ties;
}

}  // namespace tack
