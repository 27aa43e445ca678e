#include "core/verbs/blank_codec.h"

#include <fmt/format.h>

#include <charconv>
#include <nlohmann/json.hpp>

#include "core/math/split.h"
#include "core/scene/nearest_word.h"
#include "core/verbs/words.h"

namespace tack {
namespace {

template <class... F>
struct Cases : F... {
  using F::operator()...;
};
template <class... F>
Cases(F...) -> Cases<F...>;

std::string listed(std::span<const Choice> choices) {
  std::string list;
  for (std::size_t i = 0; i < choices.size(); ++i)
    list += (i == 0 ? "" : i + 1 == choices.size() ? " or " : ", ") + std::string(choices[i].key);
  return list;
}

Result<void> read_flag(bool& flag, const Json& json, const std::string& where) {
  if (!json.is_boolean()) return fail("This should be true or false.", where);
  flag = json.get<bool>();
  return {};
}

Result<void> read_choice(const EnumSlot& slot, const RowFacts& row, const Json& json, const std::string& where) {
  for (std::size_t i = 0; json.is_string() && i < row.choices.size(); ++i)
    if (json.get_ref<const std::string&>() == row.choices[i].key) return slot.set(slot.at, int(i)), Result<void>();
  return fail(fmt::format("{} is not known here.", json.dump().substr(0, 60)), where,
              fmt::format("Write {}.", listed(row.choices)));
}

Result<void> read_axis_set(AxisSet& set, const Json& json, const std::string& where) {
  std::string letters;
  if (json.is_string()) letters = json.get<std::string>();
  if (json.is_array())
    for (const Json& j : json) letters += j.is_string() ? j.get<std::string>() : "?";
  const auto axes = axes_from_letters(letters);
  if (!axes)
    return fail(fmt::format("{} does not name axes.", json.dump().substr(0, 60)), where, "Write x, xz or xyz.");
  set = *axes;
  return {};
}

std::optional<Colour> colour_from(const std::string& text) {
  if (text.size() != 7 || text[0] != '#') return std::nullopt;
  std::array<float, 3> c{};
  for (std::size_t i = 0; i < 3; ++i) {
    unsigned value = 0;
    const char* begin = text.data() + 1 + 2 * i;
    const auto [end, error] = std::from_chars(begin, begin + 2, value, 16);
    if (error != std::errc{} || end != begin + 2) return std::nullopt;
    c[i] = static_cast<float>(value) / 255;
  }
  return Colour{c[0], c[1], c[2], 1};
}

}  // namespace

std::string colour_text(const Colour& c) {
  return fmt::format("#{:02X}{:02X}{:02X}", std::lround(c.r * 255), std::lround(c.g * 255), std::lround(c.b * 255));
}

Result<TackAddress> place_from_json(const Json& json, const std::string& where, const Scene& scene) {
  if (!json.is_string())
    return fail("This should name a place.", where, "Write an address, such as \"\\\"Post 4\\\" vertex 17\".");
  auto address = parse_address(scene, json.get_ref<const std::string&>());
  if (!address) return fail(address.error().what, where, address.error().remedy);
  return address;
}

Result<PartId> part_from_json(const Json& json, const std::string& where, const Scene& scene) {
  if (!json.is_string()) return fail("This should name a part.", where);
  return find_by_path(scene, json.get_ref<const std::string&>());
}

Result<std::vector<PartId>> parts_from_json(const Json& json, const Scene& scene) {
  const auto bad = [&] { return fail("This should be a list of part names, like [\"Post 4\"].", "what"); };
  const auto each_once = [&](std::vector<PartId> parts) -> Result<std::vector<PartId>> {
    std::vector<PartId> sorted = parts;
    std::sort(sorted.begin(), sorted.end());
    const auto twice = std::adjacent_find(sorted.begin(), sorted.end());
    if (twice == sorted.end()) return parts;
    return fail(fmt::format("\"{}\" is named twice.", path_of(scene, *twice)), "what", "Name each part once.");
  };
  const Json list = json.is_string() ? Json::array({json}) : json;
  if (!list.is_array()) return bad();
  for (const Json& name : list)
    if (!name.is_string()) return bad();
  if (list.size() > 8) {
    std::vector<std::string> names;
    names.reserve(list.size());
    for (const Json& name : list) names.push_back(name.get<std::string>());
    return find_by_paths(scene, names).and_then(each_once);
  }
  std::vector<PartId> parts;
  for (const Json& name : list) {
    const auto id = find_by_path(scene, name.get_ref<const std::string&>());
    if (!id) return tl::unexpected(id.error());
    parts.push_back(*id);
  }
  return each_once(std::move(parts));
}

Result<PartId> only_part_from_json(const Json& json, const char* why, const Scene& scene) {
  const auto parts = parts_from_json(json, scene);
  if (!parts) return tl::unexpected(parts.error());
  if (parts->size() != 1) return fail(why, "what");
  return parts->front();
}

Json parts_to_json(const std::vector<PartId>& parts, const Scene& scene) {
  Json list = Json::array();
  if (parts.size() > 8) {
    for (std::string& path : paths_of(scene, parts)) list.push_back(std::move(path));
    return list;
  }
  for (const PartId id : parts) list.push_back(path_of(scene, id));
  return list;
}

Result<Axes> axes_from_json(const Json& axes, const Scene& scene) {
  if (axes.is_object() && axes.size() == 1 && axes.contains("of") && axes["of"].is_string()) {
    const auto part = find_by_path(scene, axes["of"].get_ref<const std::string&>());
    if (!part) return tl::unexpected(part.error());
    return axes_of(*part);
  }
  if (axes.is_object() && axes.size() == 1 && axes.contains("view") && axes["view"].is_array() &&
      axes["view"].size() == 3) {
    Mat3 frame;
    for (std::size_t i = 0; i < 3; ++i) {
      const auto column = numbers_from_json(axes["view"][i]);
      if (!column) return fail("Axes of a view are three directions of three numbers each.", "axes");
      frame.column[i] = *column;
    }
    const Mat3 square = squared_up(frame);
    double off = 0;
    for (std::size_t i = 0; i < 3; ++i) off = std::max(off, largest_component(frame.column[i] - square.column[i]));
    if (!(off <= 1e-6))
      return fail(
          "These are not the axes of a view: right, up and towards the viewer, each of length 1, square to each "
          "other and right-handed.",
          "axes");
    Axes read = axes_of_view(square);
    if (off > 1e-12) read.squared_up = off;
    return read;
  }
  if (axes == "plane") return axes_of_plane(scene.plane());
  if (axes.is_object() && axes.size() == 1 && axes.contains("plane")) {
    const auto plane = plane_from_json(axes["plane"], "axes", scene);
    if (!plane) return tl::unexpected(plane.error());
    return axes_of_plane(*plane);
  }
  const auto kind = axes_from_key(axes.is_string() ? axes.get<std::string>() : axes.dump());
  if (!kind) return tl::unexpected(kind.error());
  return Axes(*kind);
}

Result<PartId> plane_from_json(const Json& json, const std::string& where, const Scene& scene) {
  if (json == std::string(kWorldPlane)) return kNoPart;
  auto plane = part_from_json(json, where, scene);
  if (plane && scene.part(*plane).guide != GuideKind::Plane)
    return fail(fmt::format("\"{}\" is not a plane.", scene.part(*plane).name), where);
  return plane;
}

Json plane_to_json(PartId plane, const Scene& scene) {
  return plane == kNoPart ? std::string(kWorldPlane) : path_of(scene, plane);
}

Json axes_to_json(const Axes& axes, const Scene& scene) {
  if (axes.kind == AxesKind::Plane) return {{"plane", plane_to_json(axes.part, scene)}};
  if (axes.kind == AxesKind::Part) return {{"of", path_of(scene, axes.part)}};
  if (axes.kind == AxesKind::View) {
    Json columns = Json::array();
    for (const Vec3& c : axes.view.column) columns.push_back(Json::array({c.x, c.y, c.z}));
    return {{"view", columns}};
  }
  return std::string(key_for(axes.kind));
}

std::optional<Vec3> numbers_from_json(const Json& json) {
  if (!json.is_array() || json.size() != 3) return std::nullopt;
  Vec3 v;
  for (int i = 0; i < 3; ++i) {
    const Json& n = json[static_cast<std::size_t>(i)];
    if (!n.is_number() || !std::isfinite(n.get<double>())) return std::nullopt;
    v[i] = n.get<double>();
  }
  return v;
}

Result<Amounts> amounts_from_json(const Json& json, EntryKind kind, std::string_view key, const Reading& reading,
                                  double it) {
  Amounts amounts;
  if (json.is_null()) return amounts;
  if (!json.is_array() || json.size() != 3)
    return fail("This should be three values, like [120, null, 18].", std::string(key));
  for (std::size_t i = 0; i < 3; ++i) {
    if (json[i].is_null()) continue;
    auto amount = amount_from_json(json[i], kind, key, reading, it);
    if (!amount) return tl::unexpected(amount.error());
    amounts[i] = std::move(*amount);
  }
  return amounts;
}

Json amounts_to_json(const Amounts& amounts) {
  Json list = Json::array();
  for (const auto& a : amounts) list.push_back(a ? amount_to_json(*a) : Json(nullptr));
  return list;
}

Result<void> read_slot(const Slot& slot, const RowFacts& row, const Json& json, const std::string& where,
                       const Scene& scene) {
  const auto whole = [&](int& n) -> Result<void> {
    if (!json.is_number_integer() || std::abs(json.get<double>()) > 1e9)
      return fail("This should be a whole number.", where);
    n = json.get<int>();
    return {};
  };
  const auto text = [&](std::string& s) -> Result<void> {
    if (!json.is_string()) return fail("A name is text.", where);
    s = json.get<std::string>();
    return {};
  };
  const auto colour = [&](Colour& c) -> Result<void> {
    const auto read = json.is_string() ? colour_from(json.get<std::string>()) : std::nullopt;
    if (!read) return fail("A colour is written like #C87A5A.", where);
    c = *read;
    return {};
  };
  const Reading reading{scene, row.axes, row.part};
  return std::visit(Cases{[](std::monostate) { return Result<void>(); },
                          [&](Amount* a) { return into(*a, amount_from_json(json, row.kind, where, reading, row.it)); },
                          [&](std::optional<Amount>* a) {
                            return into(*a, amount_from_json(json, row.kind, where, reading, row.it));
                          },
                          [](double*) { return Result<void>(); }, [&](int* n) { return whole(*n); },
                          [&](bool* flag) { return read_flag(*flag, json, where); },
                          [&](std::string* s) { return text(*s); }, [&](Colour* c) { return colour(*c); },
                          [&](PartId* p) { return into(*p, part_from_json(json, where, scene)); },
                          [&](std::vector<PartId>* p) { return into(*p, parts_from_json(json, scene)); },
                          [&](std::optional<TackAddress>* a) { return into(*a, place_from_json(json, where, scene)); },
                          [&](About* a) { return into(*a, about_from_json(json, where, scene)); },
                          [&](std::optional<About>* a) { return into(*a, about_from_json(json, where, scene)); },
                          [&](Axes* a) { return into(*a, axes_from_json(json, scene)); },
                          [&](AxisSet* set) { return read_axis_set(*set, json, where); },
                          [&](const EnumSlot& e) { return read_choice(e, row, json, where); }},
                    slot);
}

Json write_slot(const Slot& slot, const RowFacts& row, const Scene& scene) {
  const auto amount = [](const std::optional<Amount>* a) { return *a ? amount_to_json(**a) : Json(nullptr); };
  return std::visit(
      Cases{[](std::monostate) { return Json(nullptr); }, [](const Amount* a) { return amount_to_json(*a); },
            [&](const std::optional<Amount>* a) { return amount(a); }, [](const double* d) { return Json(*d); },
            [](const int* n) { return Json(*n); }, [](const bool* flag) { return Json(*flag); },
            [](const std::string* s) { return Json(*s); }, [](const Colour* c) { return Json(colour_text(*c)); },
            [&](const PartId* p) { return *p == kNoPart ? Json(nullptr) : Json(path_of(scene, *p)); },
            [&](const std::vector<PartId>* p) { return parts_to_json(*p, scene); },
            [&](const std::optional<TackAddress>* a) { return *a ? Json(address_text(scene, **a)) : Json(nullptr); },
            [&](const About* a) { return about_to_json(*a, scene); },
            [&](const std::optional<About>* a) { return *a ? about_to_json(**a, scene) : Json(nullptr); },
            [&](const Axes* a) { return axes_to_json(*a, scene); },
            [](const AxisSet* set) { return Json(axis_letters(*set)); },
            [&](const EnumSlot& e) {
              const int value = e.get(e.at);
              return value < 0 ? Json(nullptr) : Json(std::string(row.choices[static_cast<std::size_t>(value)].key));
            }},
      slot);
}

bool is_given(const Slot& slot) {
  return std::visit(
      Cases{[](std::monostate) { return false; }, [](const Amount* a) { return a->value != 0 || !a->text.empty(); },
            [](const std::optional<Amount>* a) { return a->has_value(); }, [](const double*) { return true; },
            [](const int* n) { return *n != 0; }, [](const bool* flag) { return *flag; },
            [](const std::string* s) { return !s->empty(); }, [](const Colour*) { return true; },
            [](const PartId* p) { return *p != kNoPart; }, [](const std::vector<PartId>* p) { return !p->empty(); },
            [](const std::optional<TackAddress>* a) { return a->has_value(); }, [](const About*) { return true; },
            [](const std::optional<About>* a) { return a->has_value(); },
            [](const Axes* a) { return a->kind != AxesKind::World; },
            [](const AxisSet* set) { return *set != kAllAxes; }, [](const EnumSlot& e) { return e.get(e.at) > 0; }},
      slot);
}

bool put_amount(const Slot& slot, const Amount& amount) {
  return std::visit(
      Cases{[&](Amount* a) { return *a = amount, true; }, [&](std::optional<Amount>* a) { return *a = amount, true; },
            [&](double* d) { return *d = amount.value, true; },
            [&](int* n) {
              // What is no whole number becomes one that no verb allows, so that it is refused with its reason.
              const bool whole = std::abs(amount.value) < 1e6 && amount.value == std::floor(amount.value);
              return *n = whole ? int(amount.value) : -1, true;
            },
            [](const auto&) { return false; }},
      slot);
}

bool put_text(const Slot& slot, const std::string& text) {
  auto* const* s = std::get_if<std::string*>(&slot);
  return s && (**s = text, true);
}

bool put_place(const Slot& slot, const TackAddress& place) {
  return std::visit(
      Cases{[&](std::optional<TackAddress>* a) { return *a = place, true; },
            [&](About* a) { return *a = about_place(place), true; },
            [&](std::optional<About>* a) { return *a = about_place(place), true; }, [](const auto&) { return false; }},
      slot);
}

bool put_part(const Slot& slot, PartId part) {
  return std::visit(Cases{[&](PartId* p) { return *p = part, true; }, [&](Axes* a) { return *a = axes_of(part), true; },
                          [](const auto&) { return false; }},
                    slot);
}

std::optional<double> number_in(const Slot& slot) {
  using Number = std::optional<double>;
  return std::visit(Cases{[](Amount* a) { return Number(a->value); },
                          [](std::optional<Amount>* a) { return *a ? Number((*a)->value) : Number(); },
                          [](double* d) { return Number(*d); }, [](int* n) { return Number(*n); },
                          [](const auto&) { return Number(); }},
                    slot);
}

const TackAddress* place_in(const Slot& slot) {
  auto* const* a = std::get_if<std::optional<TackAddress>*>(&slot);
  return a && **a ? &***a : nullptr;
}

bool is_number(const Slot& slot) {
  return std::holds_alternative<Amount*>(slot) || std::holds_alternative<std::optional<Amount>*>(slot) ||
         std::holds_alternative<double*>(slot) || std::holds_alternative<int*>(slot);
}

bool is_words(const Slot& slot) { return std::holds_alternative<std::string*>(slot); }

Click click_for(const Slot& slot) {
  if (std::holds_alternative<std::optional<TackAddress>*>(slot) || std::holds_alternative<About*>(slot) ||
      std::holds_alternative<std::optional<About>*>(slot))
    return Click::Place;
  const bool part = std::holds_alternative<PartId*>(slot) || std::holds_alternative<std::vector<PartId>*>(slot) ||
                    std::holds_alternative<Axes*>(slot);
  return part ? Click::Part : Click::None;
}

std::vector<Option> about_options() {
  return {{"its own pivot"},
          {"the middle of all picked"},
          {"the bottom of its box"},
          {"the middle of its box"},
          {"the top of its box"},
          {"the low corner of its box"},
          {"a place (click it)", Click::Place}};
}

std::optional<About> about_option(std::size_t option) {
  constexpr Vec3 kFractions[] = {{0.5, 0.5, 0}, {0.5, 0.5, 0.5}, {0.5, 0.5, 1}, {0, 0, 0}};
  if (option > 5) return std::nullopt;
  if (option == 0) return About{};
  if (option == 1) return middle_of_all();
  About about = bottom();
  about.fraction = kFractions[option - 2];
  return about;
}

std::vector<Option> options_in(const Slot& slot, const RowFacts& row, const Scene& scene,
                               const ChoiceContext& context) {
  std::vector<Option> options;
  if (std::holds_alternative<AxisSet*>(slot)) {
    for (const AxisSet& set : kAxisSets) options.push_back({axis_words(set)});
  } else if (std::holds_alternative<About*>(slot) || std::holds_alternative<std::optional<About>*>(slot)) {
    options = about_options();
  } else if (std::holds_alternative<Axes*>(slot)) {
    const Part* plane = scene.find(scene.plane());
    options = {{"World"}, {"Parent"}, {"Local"}, {plane ? "Plane " + plane->name : "Plane (World)"}, {"View"}};
    if (const Part* part = scene.find(context.picked)) options.push_back({"Of " + part->name});
    options.push_back({"of a part (click it)", Click::Part});
  } else {
    for (const Choice& choice : row.choices) options.push_back({std::string(choice.words)});
  }
  return options;
}

bool choose_in(const Slot& slot, const RowFacts& row, std::size_t option, const Scene& scene,
               const ChoiceContext& context) {
  const auto axes = [&](Axes& a) {
    if (option < 3) return a = Axes(static_cast<AxesKind>(option)), true;
    if (option == 3) return a = axes_of_plane(scene.plane()), true;
    if (option == 4) return a = axes_of_view(context.view), true;
    return option == 5 && scene.contains(context.picked) && (a = axes_of(context.picked), true);
  };
  const auto about = [&](auto& a) {
    const auto chosen = about_option(option);
    return chosen && (a = *chosen, true);
  };
  return std::visit(
      Cases{[&](AxisSet* set) { return option < std::size(kAxisSets) && (*set = kAxisSets[option], true); },
            [&](About* a) { return about(*a); }, [&](std::optional<About>* a) { return about(*a); },
            [&](Axes* a) { return axes(*a); },
            [&](bool* flag) { return option < row.choices.size() && (*flag = option == 1, true); },
            [&](const EnumSlot& e) { return option < row.choices.size() && (e.set(e.at, int(option)), true); },
            [](const auto&) { return false; }},
      slot);
}

Word word_of(const Slot& slot, const RowFacts& row, const Said& said) {
  const auto some = [](std::string text) { return Word{std::move(text), {}, false, false, false, Role::None, {}}; };
  const auto waits = [&](std::string_view text) {
    Word word = some(std::string(row.waiting.empty() ? text : row.waiting));
    word.empty = true;
    return word;
  };
  const auto typed = [&](std::string text) {
    Word word = some(std::move(text));
    word.typed = true;
    return word;
  };
  const auto flag = [&](bool on) {
    return row.choices.empty() ? some(on ? "yes" : "no") : some(std::string(row.choices[on ? 1 : 0].words));
  };
  return std::visit(
      Cases{[&](std::monostate) { return waits("nothing"); },
            [&](const Amount* a) { return typed(shown(*a, row.kind, said.unit)); },
            [&](const std::optional<Amount>* a) {
              return *a ? typed(shown(**a, row.kind, said.unit)) : typed("as it is");
            },
            [&](const double* d) { return typed(show_number(*d, 4).text); },
            [&](const int* n) { return typed(fmt::format("{}", *n)); }, [&](const bool* on) { return flag(*on); },
            [&](const std::string* s) { return typed(*s); }, [&](const Colour* c) { return some(colour_text(*c)); },
            [&](const PartId* p) { return *p == kNoPart ? waits("a part") : some(name_of(said.scene, *p)); },
            [&](const std::vector<PartId>* p) { return p->empty() ? waits("a part") : some(names_of(said.scene, *p)); },
            [&](const std::optional<TackAddress>* a) {
              return *a ? some(place_words(said.scene, **a, said.own)) : waits("a place");
            },
            [&](const About* a) { return some(about_words(*a, said.scene, said.what)); },
            [&](const std::optional<About>* a) {
              return *a ? some(about_words(**a, said.scene, said.what)) : waits("a place");
            },
            [&](const Axes* a) { return some(axes_words(*a, said.scene)); },
            [&](const AxisSet* set) { return some(axis_words(*set)); },
            [&](const EnumSlot& e) {
              const int value = e.get(e.at);
              return value < 0 ? waits("not said")
                               : some(std::string(row.choices[static_cast<std::size_t>(value)].words));
            }},
      slot);
}

Result<void> check_keys(const Json& json, const std::vector<std::string_view>& known) {
  for (const auto& [key, value] : json.items()) {
    if (std::find(known.begin(), known.end(), key) != known.end()) continue;
    const std::string list = fmt::format("{}", fmt::join(known, ", "));
    const std::string_view near = nearest_word(key, known);
    return fail(
        fmt::format("\"{}\" is not a key of this verb.", key), {},
        near.empty() ? fmt::format("It has: {}.", list) : fmt::format("Did you mean \"{}\"? It has: {}.", near, list));
  }
  return {};
}

std::string value_words(const Slot& slot, const RowFacts& row, bool three) {
  const std::string amount = row.kind == EntryKind::Length  ? "length"
                             : row.kind == EntryKind::Angle ? "angle"
                                                            : "factor";
  std::string amounts = three ? "three " + amount + "s, `null` to leave one alone" : amount;
  std::string keys;
  for (const Choice& choice : row.choices) keys += (keys.empty() ? "`" : ", `") + std::string(choice.key) + "`";
  return std::visit(
      Cases{[&](const Amount*) { return three ? "three " + amount + "s" : amount; },
            [&](const std::optional<Amount>*) { return amounts; },
            [](const int*) { return std::string("whole number"); },
            [](const bool*) { return std::string("`true`, `false`"); },
            [](const std::string*) { return std::string("text"); },
            [](const Colour*) { return std::string("`#C87A5A`"); }, [](const PartId*) { return std::string("part"); },
            [](const std::vector<PartId>*) { return std::string("list of parts"); },
            [](const std::optional<TackAddress>*) { return std::string("place"); },
            [](const About*) { return std::string("a point held still"); },
            [](const std::optional<About>*) { return std::string("a point held still"); },
            [](const Axes*) { return std::string("axes"); },
            [](const AxisSet*) { return std::string("`x`, `xz`, `xyz` …"); }, [&](const EnumSlot&) { return keys; },
            [](const double*) { return std::string("number"); }, [](std::monostate) { return std::string(); }},
      slot);
}

std::optional<int> axis_named(const Json& json) {
  const auto* text = json.get_ptr<const std::string*>();
  const bool named = text && text->size() == 1 && text->front() >= 'x' && text->front() <= 'z';
  return named ? std::optional(text->front() - 'x') : std::nullopt;
}
std::string axis_letter(int axis) { return std::string(1, "xyz"[axis]); }

}  // namespace tack
