#include "core/verbs/colours.h"

#include <fmt/format.h>

#include "core/printable.h"
#include "core/verbs/nest.h"
#include "core/verbs/parts.h"
#include "core/verbs/phrase.h"

namespace tack {
namespace {

constexpr Choice kDeeds[] = {{"change", "change"}, {"rename", "rename"}, {"take off the list", "forget"}};

std::string_view change_only(const EditColour& edit) {
  return edit.what_to_do == EditColour::Do::Change ? "" : "its colour stays";
}
std::string_view rename_only(const EditColour& edit) {
  return edit.what_to_do == EditColour::Do::Rename ? "" : "it is not renamed";
}

Result<void> check(const NameColour& name) { return check_name(name.name, "A colour"); }
Result<void> check(const EditColour& edit) {
  return edit.what_to_do == EditColour::Do::Rename ? check_name(edit.name, "A colour") : Result<void>();
}
Result<void> check_in(const EditColour& edit, const Scene& scene) {
  return find_colour(scene, edit.named).map([](const NamedColour*) {});
}

void sentence(Phrase& s, const NameColour& name) {
  s.say("Put ").blank("colour").say(" on the list of colours as ").blank("name");
  if (!name.what.empty()) s.say(", and gave it to ", ", and give it to ").blank("what");
  s.say(".");
}

void sentence(Phrase& s, const EditColour& edit) {
  const std::size_t count = parts_with(s.scene(), edit.named).size();
  const std::string parts = count == 1 ? "1 part" : fmt::format("{} parts", count);
  switch (edit.what_to_do) {
    case EditColour::Do::Change:
      s.say("Changed the colour ", "Change the colour ").say(printable(edit.named)).say(" to ").blank("colour");
      s.say(count == 0 ? ", which no part has." : fmt::format(", on {}.", parts));
      break;
    case EditColour::Do::Rename:
      s.say("Renamed the colour ", "Rename the colour ").say(printable(edit.named)).say(" to ").blank("name").say(".");
      break;
    case EditColour::Do::Forget:
      s.say("Took the colour ", "Take the colour ").say(printable(edit.named)).say(" off the list");
      s.say(count == 0 ? "."
                       : fmt::format(": {} keep{} how {} look{}.", parts, count == 1 ? "s" : "",
                                     count == 1 ? "it" : "they", count == 1 ? "s" : ""));
      break;
  }
}

// Every part that has the colour, changed by `change(part, primitive)`.
template <typename Change>
void change_parts(Scene& scene, const std::string& colour, const Change& change) {
  for (const PartId id : parts_with(scene, colour)) {
    Part part = scene.part(id);
    auto names = *part.colour_names;
    for (std::size_t i = 0; i < names.size(); ++i)
      if (names[i] == colour) change(part, i, names[i]);
    const bool any = std::any_of(names.begin(), names.end(), [](const std::string& n) { return !n.empty(); });
    part.colour_names = any ? std::make_shared<const std::vector<std::string>>(std::move(names)) : nullptr;
    scene.replace(id, std::move(part));
  }
}

}  // namespace

Result<const NamedColour*> find_colour(const Scene& scene, const std::string& name) {
  if (const NamedColour* colour = scene.colour(name)) return colour;
  std::string names;
  constexpr std::size_t kSaid = 12;
  for (std::size_t i = 0; i < scene.colours().size() && i < kSaid; ++i)
    names += (names.empty() ? "" : ", ") + scene.colours()[i].name;
  if (scene.colours().size() > kSaid) names += fmt::format(" and {} more", scene.colours().size() - kSaid);
  return fail(fmt::format("There is no colour \"{}\" on the list.", name), "named",
              names.empty() ? std::string("The list is empty.") : fmt::format("There are: {}.", names));
}

std::vector<PartId> parts_with(const Scene& scene, std::string_view colour) {
  std::vector<PartId> parts;
  for (const PartId id : scene.in_tree_order()) {
    const auto& names = scene.part(id).colour_names;
    if (names && std::find(names->begin(), names->end(), colour) != names->end()) parts.push_back(id);
  }
  return parts;
}

Result<Scene> apply(const NameColour& name, const Scene& scene) {
  if (scene.colour(name.name)) return fail(fmt::format("Another colour is named \"{}\".", name.name), "name");
  Scene result = scene;
  std::vector<NamedColour> colours = scene.colours();
  colours.push_back({name.name, name.colour, {}, {}, {}});
  result.set_colours(std::move(colours));
  if (name.what.empty()) return result;
  Paint paint;
  paint.what = name.what;
  paint.named = name.name;
  return apply(paint, result);
}

Result<Scene> apply(const EditColour& edit, const Scene& scene) {
  if (const auto found = find_colour(scene, edit.named); !found) return tl::unexpected(found.error());
  std::vector<NamedColour> colours = scene.colours();
  const auto at = std::find_if(colours.begin(), colours.end(), [&](const auto& c) { return c.name == edit.named; });
  Scene result = scene;
  switch (edit.what_to_do) {
    case EditColour::Do::Change: {
      const Colour now{edit.colour.r, edit.colour.g, edit.colour.b, at->colour.a};
      at->colour = now;
      change_parts(result, edit.named, [&](Part& part, std::size_t i, std::string&) {
        if (i < part.colours.size()) part.colours[i] = now;
      });
      break;
    }
    case EditColour::Do::Rename:
      if (edit.name != edit.named && scene.colour(edit.name))
        return fail(fmt::format("Another colour is named \"{}\".", edit.name), "name");
      at->name = edit.name;
      change_parts(result, edit.named, [&](Part&, std::size_t, std::string& name) { name = edit.name; });
      break;
    case EditColour::Do::Forget: {
      // Where the colour is no longer that of the material it came with, the parts carry it themselves from now on.
      const bool changed = at->materials.empty() || at->colour != at->colour_then;
      colours.erase(at);
      change_parts(result, edit.named, [&](Part& part, std::size_t, std::string& name) {
        name.clear();
        if (changed) part.source.change().recoloured = true;
      });
      break;
    }
  }
  result.set_colours(std::move(colours));
  return result;
}

// clang-format off
const Table<NameColour>& table_of(const NameColour*) {
  static const Table<NameColour> table{.key = "name-colour", .does = "Puts a colour on the document's list.",
      .check = check, .sentence = sentence, .rows = {
    {.key = "name", .name = "Name", .at = slot<&NameColour::name>, .needed = true, .always = true,
     .doc = "what it is called; no two have the same name"},
    {.key = "colour", .name = "Colour", .at = slot<&NameColour::colour>, .needed = true, .always = true,
     .doc = "the colour"},
    {.key = "what", .name = "What", .at = slot<&NameColour::what>, .ask = "Click the part that gets it instead.",
     .doc = "the parts that get it; left out: none"},
  }};
  return table;
}
const Table<EditColour>& table_of(const EditColour*) {
  static const Table<EditColour> table{.key = "edit-colour",
      .does = "Changes a colour of the document's list, with every part that has it, renames it, or takes it off the list.",
      .check = check, .check_in = check_in,
      .parts = [](const EditColour& e, const Scene& scene) { return parts_with(scene, e.named); },
      .sentence = sentence, .rows = {
    {.key = "named", .name = "Which", .at = slot<&EditColour::named>, .needed = true, .always = true,
     .doc = "the colour's name"},
    {.key = "do", .name = "What is done", .at = slot<&EditColour::what_to_do>, .choices = kDeeds, .needed = true,
     .always = true, .doc = "what is done with it"},
    {.key = "colour", .name = "Colour", .at = slot<&EditColour::colour>,
     .needed_if = [](const EditColour& e) { return e.what_to_do == EditColour::Do::Change; }, .always = true,
     .barred = change_only, .doc = "its new colour, when it is changed"},
    {.key = "name", .name = "Name", .at = slot<&EditColour::name>,
     .needed_if = [](const EditColour& e) { return e.what_to_do == EditColour::Do::Rename; }, .barred = rename_only,
     .doc = "its new name, when it is renamed"},
  }};
  return table;
}
// clang-format on

}  // namespace tack
