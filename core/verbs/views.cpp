#include "core/verbs/views.h"

#include <fmt/format.h>

#include "core/verbs/phrase.h"

namespace tack {
namespace {

Json camera_to_json(const KeepView& keep, const Scene&) { return view_to_json(keep.view); }
Result<void> camera_from_json(KeepView& keep, const Json& json, const Scene&) {
  return into(keep.view, view_from_json(json));
}

Result<void> check(const KeepView& keep) { return check_name(keep.name, "A view"); }

void sentence(Phrase& s, const KeepView& keep) {
  const auto& views = s.scene().views();
  const bool there = std::any_of(views.begin(), views.end(), [&](const NamedView& v) { return v.name == keep.name; });
  s.say("Kept ", "Keep ").say("the view as ").blank("name").say(there ? ", in place of the one so named." : ".");
}
void sentence(Phrase& s, const ForgetView&) { s.say("Forgot ", "Forget ").say("the view ").blank("name").say("."); }

}  // namespace

Json view_to_json(const NamedView& v) {
  return {{"target", Json::array({v.target.x, v.target.y, v.target.z})},
          {"turn", v.turn},
          {"tilt", v.tilt},
          {"roll", v.roll},
          {"distance", v.distance},
          {"perspective", v.perspective}};
}

Result<NamedView> view_from_json(const Json& json) {
  constexpr const char* kForm = "Write {\"target\": [0, 0, 0], \"turn\": 30, \"tilt\": 20, \"distance\": 1000}.";
  if (!json.is_object()) return fail("This should be an object.", "camera", kForm);
  if (auto ok = check_keys(json, {"target", "turn", "tilt", "roll", "distance", "perspective"}); !ok)
    return tl::unexpected(ok.error());
  NamedView view;
  if (!json.contains("target")) return fail("A camera looks at a target.", "camera", kForm);
  const auto target = numbers_from_json(json["target"]);
  if (!target || largest_component(*target) > kFurthest)
    return fail("A camera's target is three finite numbers.", "camera", kForm);
  view.target = *target;
  for (const auto& [key, into] :
       {std::pair{"turn", &view.turn}, {"tilt", &view.tilt}, {"roll", &view.roll}, {"distance", &view.distance}}) {
    if (!json.contains(key)) continue;
    if (!json[key].is_number() || !(std::abs(json[key].get<double>()) <= 1e9))
      return fail(fmt::format("\"{}\" should be a number.", key), "camera", kForm);
    *into = json[key].get<double>();
  }
  if (std::abs(view.tilt) > 90) return fail("A camera's tilt is from −90 to 90.", "camera", kForm);
  if (!(view.distance >= 0.01)) return fail("A camera stands at least 0.01 mm away.", "camera", kForm);
  if (json.contains("perspective")) {
    if (!json["perspective"].is_boolean()) return fail("\"perspective\" is true or false.", "camera", kForm);
    view.perspective = json["perspective"].get<bool>();
  }
  return view;
}

Result<Scene> apply(const KeepView& keep, const Scene& scene) {
  constexpr std::size_t kMostViews = 1000;
  std::vector<NamedView> views = scene.views();
  // By the one reader that says which numbers a camera has.
  auto kept = view_from_json(view_to_json(keep.view));
  if (!kept) return tl::unexpected(kept.error());
  NamedView view = std::move(*kept);
  view.name = keep.name;
  const auto there = std::find_if(views.begin(), views.end(), [&](const NamedView& v) { return v.name == keep.name; });
  if (there != views.end())
    *there = view;
  else if (views.size() >= kMostViews)
    return fail(fmt::format("A document keeps {} views at most.", kMostViews));
  else
    views.push_back(view);
  Scene result = scene;
  result.set_views(std::move(views));
  return result;
}

Result<Scene> apply(const ForgetView& forget, const Scene& scene) {
  std::vector<NamedView> views = scene.views();
  if (std::erase_if(views, [&](const NamedView& v) { return v.name == forget.name; }) == 0) {
    std::string names;
    for (const NamedView& v : views) names += (names.empty() ? "" : ", ") + v.name;
    return fail(fmt::format("There is no view \"{}\".", forget.name), "name",
                names.empty() ? std::string("None is kept.") : fmt::format("There are: {}.", names));
  }
  Scene result = scene;
  result.set_views(std::move(views));
  return result;
}

// clang-format off
const Table<KeepView>& table_of(const KeepView*) {
  static const Table<KeepView> table{.key = "keep-view", .does = "Keeps a view by name.", .check = check,
      .hints = {.nothing = "", .ready = "", .done = "Done. Click the name to change it."},
      .sentence = sentence, .rows = {
    {.key = "name", .name = "Name", .at = slot<&KeepView::name>, .needed = true, .always = true,
     .doc = "the name; a view that has it already is replaced"},
    {.key = "camera", .name = "Camera", .needed = true, .write = camera_to_json, .read = camera_from_json,
     .value = "`{\"target\": [0, 0, 0], \"turn\": 30, \"tilt\": 20, \"roll\": 0, \"distance\": 1000, \"perspective\": true}`",
     .doc = "what it looks at (mm), from where (degrees, mm)"},
  }};
  return table;
}
const Table<ForgetView>& table_of(const ForgetView*) {
  static const Table<ForgetView> table{.key = "forget-view", .does = "Forgets a view that was kept.", .sentence = sentence,
      .rows = {{.key = "name", .name = "Name", .at = slot<&ForgetView::name>, .needed = true, .always = true,
                .doc = "the view's name"}}};
  return table;
}
// clang-format on

}  // namespace tack
