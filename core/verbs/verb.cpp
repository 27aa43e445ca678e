#include "core/verbs/verb.h"

#include <fmt/format.h>

#include <nlohmann/json.hpp>

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
    {"meet", read_as<meet_from_json>},     {"move", read_as<move_from_json>},
    {"place", read_as<place_from_json>},   {"show", read_as<show_from_json>},
    {"lock", read_as<lock_from_json>},     {"rename", read_as<rename_from_json>},
    {"delete", read_as<delete_from_json>}, {"parent", read_as<reparent_from_json>},
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
