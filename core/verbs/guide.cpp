#include "core/verbs/guide.h"

#include <fmt/format.h>

#include <nlohmann/json.hpp>

#include "core/math/split.h"

namespace tack {

std::string_view word_for(GuideKind kind) {
  constexpr std::string_view kWords[] = {"", "point", "line", "plane"};
  return kWords[static_cast<std::size_t>(kind)];
}

Result<Scene> apply(const AddGuide& guide, const Scene& scene) {
  if (!guide.at) return fail("There is no place for the guide yet.", {}, "Click the place.");
  if (guide.kind == GuideKind::None) return fail("A guide is a point, a line or a plane.", "kind");
  if (!guide.name.empty())
    if (const auto ok = check_name(guide.name, "A guide"); !ok) return tl::unexpected(ok.error());
  const auto tack = find_tack(scene, *guide.at);
  if (!tack) return tl::unexpected(tack.error());
  Part part;
  part.guide = guide.kind;
  part.name = free_name(scene, kNoPart, guide.name.empty() ? "Guide" : guide.name);
  const Vec3 z = tack->direction.value_or(Vec3{0, 0, 1});
  Vec3 x = tack->roll.value_or(cross(least_axis(z), z));
  x = normalized(x - z * dot(x, z));
  const auto placement = with_linear(part.placement, Mat3{{x, cross(z, x), z}});
  if (!placement) return tl::unexpected(placement.error());
  part.placement = *placement;
  part.placement.position = tack->point;
  // What rounding left of a factor of 1 is 1.
  part.placement.scale = {1, 1, 1};
  part.placement.skew = {};
  Scene result = scene;
  result.add(std::move(part));
  return result;
}

Sentence sentence(const AddGuide& guide, const Scene& scene, Tense tense, const LengthUnit&) {
  Sentence s{{tense == Tense::Past ? "Laid a guide " : "Lay a guide "},
             {std::string(word_for(guide.kind)), Blank::GuideKind},
             {" through "}};
  s.push_back(tack_word(scene, guide.at, Blank::At, "a place"));
  s.push_back({", named "});
  s.push_back({guide.name.empty() ? free_name(scene, kNoPart, "Guide") : guide.name, Blank::Name});
  s.push_back({"."});
  return s;
}

Json to_json(const AddGuide& guide, const Scene& scene) {
  Json j{{"verb", "guide"}, {"kind", word_for(guide.kind)}};
  if (guide.at) j["at"] = address_text(scene, *guide.at);
  if (!guide.name.empty()) j["name"] = guide.name;
  return j;
}

Result<AddGuide> guide_from_json(const Json& json, const Scene& scene) {
  if (const auto ok = check_keys(json, {"verb", "kind", "at", "name"}); !ok) return tl::unexpected(ok.error());
  AddGuide guide{GuideKind::None, {}, {}};
  for (const GuideKind kind : {GuideKind::Point, GuideKind::Line, GuideKind::Plane})
    if (json.contains("kind") && json["kind"] == word_for(kind)) guide.kind = kind;
  if (guide.kind == GuideKind::None) return fail("The \"kind\" of a guide is point, line or plane.", "kind");
  if (!json.contains("at") || !json["at"].is_string())
    return fail("Guide needs \"at\": the place it goes through.", "at");
  const auto at = parse_address(scene, json["at"].get_ref<const std::string&>());
  if (!at) return fail(at.error().what, "at", at.error().remedy);
  guide.at = *at;
  if (json.contains("name")) {
    if (!json["name"].is_string()) return fail("A name is text.", "name");
    guide.name = json["name"].get<std::string>();
  }
  return guide;
}

}  // namespace tack
