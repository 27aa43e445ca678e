#include "core/verbs/common.h"

#include <fmt/format.h>

#include <charconv>
#include <map>

#include <nlohmann/json.hpp>

#include "core/math/split.h"
#include "core/verbs/turn.h"

namespace tack {

Result<std::vector<PartId>> movable(const Scene& scene, const std::vector<PartId>& what) {
  if (what.empty()) return fail("Nothing is picked.", {}, "Pick a part first.");
  for (const PartId id : what)
    if (!scene.contains(id)) return fail("A part that this step moves is no longer there.");
  const std::vector<PartId> parts = topmost(scene, what);
  for (const PartId id : parts)
    for (const Part* p = scene.find(id); p; p = scene.find(p->parent))
      if (p->locked) return fail(fmt::format("\"{}\" is locked.", p->name), {}, "Unlock it in Parts to move it.");
  return parts;
}

bool moves_with(const Scene& scene, const std::vector<PartId>& parts, PartId part) {
  return std::any_of(parts.begin(), parts.end(), [&](PartId id) { return is_within(scene, part, id); });
}

Result<void> check_from_moves(const Scene& scene, const std::vector<PartId>& parts, const TackAddress& from) {
  if (!is_on_part(from) || moves_with(scene, parts, from.part)) return {};
  return fail(fmt::format("The {} is not on what moves.", tack_words(scene, from)), {}, "From must be on what moves.");
}

Result<void> check_to_stays(const Scene& scene, const std::vector<PartId>& parts, const TackAddress& to) {
  if (!is_on_part(to) || !moves_with(scene, parts, to.part)) return {};
  return fail(fmt::format("The {} is on what moves.", tack_words(scene, to)), {}, "To must be on what stays.");
}

Result<void> put_pivot(Scene& scene, PartId id, const Vec3& target) {
  if (!is_finite(target)) return fail("The place to move to is not a finite number.");
  const Affine parent = parent_world_of(scene, id);
  Placement placement = scene.part(id).placement;
  if (parent == Affine{}) {
    placement.position = target;
  } else {
    const auto to_parent = inverse(parent);
    if (!to_parent)
      return fail(fmt::format("\"{}\" cannot be moved: the part it belongs to is flattened.", scene.part(id).name));
    placement.position = *to_parent * target;
    // A chain of turned and scaled parents costs digits: measure what is left, put it right, keep it if it helped.
    for (int pass = 0; pass < 2; ++pass) {
      const Vec3 off = target - parent * placement.position;
      const Vec3 better = placement.position + to_parent->linear * off;
      if (distance(parent * better, target) >= length(off)) break;
      placement.position = better;
    }
  }
  if (!is_finite(placement.position)) return fail("The place to move to is out of reach of double numbers.");
  scene.place(id, placement);
  return {};
}

Result<Scene> moved_pivot_to(const Scene& scene, PartId id, const Vec3& target) {
  Scene result = scene;
  if (const auto ok = put_pivot(result, id, target); !ok) return tl::unexpected(ok.error());
  return result;
}

Result<Scene> moved_rigidly(const Scene& scene, const std::vector<PartId>& parts, const Mat3& rotation,
                            const Vec3& from, const Vec3& to) {
  Scene result = scene;
  const bool turns = rotation != Mat3{};
  for (const PartId id : parts) {
    const Affine world = world_of(scene, id);
    const Placement& placement = scene.part(id).placement;
    const Vec3 pivot = world * placement.pivot;
    if (turns) {
      auto part = turned(result, id, {rotation, 0});
      if (!part) return tl::unexpected(part.error());
      result.place(id, part->placement, part->quarters);
    }
    // Without a turn the shift alone is added: no round trip through from and to that would cost a bit.
    const Vec3 target = turns ? rotation * (pivot - from) + to : add_decimals(pivot, to - from);
    if (const auto ok = put_pivot(result, id, target); !ok) return tl::unexpected(ok.error());
  }
  return result;
}

Result<Scene> moved_alike(const Scene& scene, const std::vector<PartId>& parts, const Mat3& rotation, double factor,
                          const Vec3& from, const Vec3& to) {
  auto result = moved_rigidly(scene, parts, rotation, from, to);
  if (!result || factor == 1) return result;
  if (!(factor > 0) || !std::isfinite(factor)) return fail("What moves would be flattened.");
  for (const PartId id : parts) {
    // The pivot lies where the turn alone has put it; from there it goes out or in along the line from `to`.
    const Vec3 pivot = world_of(*result, id) * result->part(id).placement.pivot;
    Placement placement = result->part(id).placement;
    placement.scale = placement.scale * factor;
    result->place(id, placement);
    if (const auto ok = put_pivot(*result, id, to + (pivot - to) * factor); !ok) return tl::unexpected(ok.error());
  }
  return result;
}

Vec3 along_axes(const Vec3& v, const Mat3& axes, const std::array<bool, 3>& allowed) {
  if (allowed == kAllAxes) return v;
  Vec3 result;
  for (int i = 0; i < 3; ++i)
    if (allowed[static_cast<std::size_t>(i)]) result += axes.column[i] * dot(axes.column[i], v);
  return result;
}

std::string axes_named(const std::array<bool, 3>& axes) {
  std::string words;
  for (std::size_t i = 0; i < 3; ++i)
    if (axes[i]) words += (words.empty() ? "" : " and ") + std::string(1, "xyz"[i]);
  return words;
}

std::string axis_letters(const std::array<bool, 3>& axes) {
  std::string letters;
  for (std::size_t i = 0; i < 3; ++i)
    if (axes[i]) letters += "xyz"[i];
  return letters;
}

Result<void> places_from_json(const Json& json, const Scene& scene, std::optional<TackAddress>& from,
                              std::optional<TackAddress>& to) {
  if (json.contains("from") != json.contains("to"))
    return fail("Both \"from\" and \"to\" are needed, or neither.", json.contains("from") ? "to" : "from");
  if (!json.contains("from")) return {};
  for (const auto& [key, slot] : {std::pair{"from", &from}, std::pair{"to", &to}}) {
    if (!json[key].is_string()) return fail("This should name a place.", key);
    auto address = parse_address(scene, json[key].get_ref<const std::string&>());
    if (!address) return fail(address.error().what, key, address.error().remedy);
    *slot = *address;
  }
  return {};
}

namespace {

// Adds a linked copy of `id` and everything below it; says which part each has become.
PartId add_linked(Scene& scene, const Scene& from, PartId id, PartId parent, std::map<PartId, PartId>& copies) {
  Part part = from.part(id);
  part.parent = parent;
  if (copies.empty()) part.name = next_name(scene, parent, part.name);
  const PartId copy = scene.add(std::move(part));
  copies[id] = copy;
  for (const PartId child : from.part(id).children) add_linked(scene, from, child, copy, copies);
  return copy;
}

}  // namespace

Scene with_linked_copy(const Scene& scene, PartId part, PartId& copy) {
  Scene result = scene;
  std::map<PartId, PartId> copies;
  copy = add_linked(result, scene, part, scene.part(part).parent, copies);
  return result;
}

Scene with_copies_left(const Scene& scene, const std::vector<PartId>& parts) {
  Scene result = scene;
  std::vector<Tie> ties = scene.ties();
  for (const PartId id : parts) {
    std::map<PartId, PartId> copies;
    add_linked(result, scene, id, scene.part(id).parent, copies);
    const auto hand_over = [&](PartId& part) {
      if (const auto copy = copies.find(part); copy != copies.end()) part = copy->second;
    };
    for (Tie& tie : ties) {
      for (TackPair& pair : tie.pairs) hand_over(pair.from.part), hand_over(pair.to.part);
      for (PartId& part : tie.what) hand_over(part);
    }
  }
  if (ties != scene.ties()) result.set_ties(std::move(ties));
  return result;
}

std::string next_name(const Scene& scene, PartId parent, const std::string& name) {
  std::size_t digits = name.size();
  while (digits > 0 && name[digits - 1] >= '0' && name[digits - 1] <= '9') --digits;
  std::uint64_t number = 1;
  std::string stem = name + " ";
  if (digits < name.size() && name.size() - digits < 10) {
    std::from_chars(name.data() + digits, name.data() + name.size(), number);
    stem = name.substr(0, digits);
  }
  const auto& siblings = parent == kNoPart ? scene.roots() : scene.part(parent).children;
  for (;;) {
    std::string next = stem + fmt::format("{}", ++number);
    if (std::none_of(siblings.begin(), siblings.end(), [&](PartId id) { return scene.part(id).name == next; }))
      return next;
  }
}

std::string names_of(const Scene& scene, const std::vector<PartId>& parts) {
  const auto name = [&](std::size_t i) {
    const Part* part = scene.find(parts[i]);
    return part ? part->name : std::string("a part that is gone");
  };
  if (parts.empty()) return "nothing";
  if (parts.size() == 1) return name(0);
  if (parts.size() == 2) return name(0) + " and " + name(1);
  if (parts.size() == 3) return name(0) + ", " + name(1) + " and " + name(2);
  return fmt::format("{}, {} and {} more", name(0), name(1), parts.size() - 2);
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

Result<std::array<bool, 3>> axis_letters_from_json(const Json& json, std::string_view key) {
  std::string letters;
  if (json.is_string()) letters = json.get<std::string>();
  if (json.is_array())
    for (const Json& j : json) letters += j.is_string() ? j.get<std::string>() : "?";
  std::array<bool, 3> axes{};
  for (const char c : letters) {
    if (c < 'x' || c > 'z') letters.clear();
    if (letters.empty()) break;
    axes[static_cast<std::size_t>(c - 'x')] = true;
  }
  if (letters.empty())
    return fail(fmt::format("{} does not name axes.", json.dump()), std::string(key), "Write x, xz or xyz.");
  return axes;
}

Result<Axes> axes_in(const Json& json, const Scene& scene) {
  if (!json.contains("axes")) return Axes{};
  const Json& axes = json["axes"];
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
    return axes_of_view(squared_up(frame));
  }
  const auto kind = axes_from_key(axes.is_string() ? axes.get<std::string>() : axes.dump());
  if (!kind) return tl::unexpected(kind.error());
  return Axes(*kind);
}

Json axes_to_json(const Axes& axes, const Scene& scene) {
  if (axes.kind == AxesKind::Part) return {{"of", path_of(scene, axes.part)}};
  if (axes.kind == AxesKind::View) {
    Json columns = Json::array();
    for (const Vec3& c : axes.view.column) columns.push_back(Json::array({c.x, c.y, c.z}));
    return {{"view", columns}};
  }
  return std::string(key_for(axes.kind));
}

Result<bool> flag_in(const Json& json, const char* key) {
  if (!json.contains(key)) return false;
  if (!json[key].is_boolean()) return fail("This should be true or false.", key);
  return json[key].get<bool>();
}

Result<std::vector<PartId>> what_from_json(const Json& json, const Scene& scene) {
  if (!json.contains("what")) return fail("This verb needs \"what\": the parts it is about.", "what");
  return parts_from_json(json["what"], scene);
}

Result<std::vector<PartId>> parts_from_json(const Json& json, const Scene& scene) {
  const auto bad = [&] { return fail("This should be a list of part names, like [\"Post 4\"].", "what"); };
  std::vector<PartId> parts;
  const auto add = [&](const Json& name) -> Result<void> {
    const auto id = find_by_path(scene, name.get_ref<const std::string&>());
    if (!id) return tl::unexpected(id.error());
    parts.push_back(*id);
    return {};
  };
  if (json.is_string()) {
    if (const auto ok = add(json); !ok) return tl::unexpected(ok.error());
    return parts;
  }
  if (!json.is_array()) return bad();
  for (const Json& name : json) {
    if (!name.is_string()) return bad();
    if (const auto ok = add(name); !ok) return tl::unexpected(ok.error());
  }
  return parts;
}

Json parts_to_json(const std::vector<PartId>& parts, const Scene& scene) {
  Json list = Json::array();
  for (const PartId id : parts) list.push_back(path_of(scene, id));
  return list;
}

Result<Amounts> amounts_from_json(const Json& json, EntryKind kind, std::string_view key, const Scene& scene) {
  Amounts amounts;
  if (json.is_null()) return amounts;
  if (!json.is_array() || json.size() != 3)
    return fail("This should be three values, like [120, null, 18].", std::string(key));
  for (std::size_t i = 0; i < 3; ++i) {
    if (json[i].is_null()) continue;
    auto amount = amount_from_json(json[i], kind, key, scene);
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

Result<void> check_name(const std::string& name, std::string_view what) {
  if (name.empty()) return fail(fmt::format("{} needs a name.", what), "name");
  if (name.size() > 200) return fail("This name is longer than 200 characters.", "name");
  for (const char c : name)
    if (static_cast<unsigned char>(c) < 32)
      return fail("A name cannot have line breaks or control characters in it.", "name");
  return {};
}

Result<void> check_keys(const Json& json, std::initializer_list<std::string_view> known) {
  for (const auto& [key, value] : json.items()) {
    if (std::find(known.begin(), known.end(), key) != known.end()) continue;
    std::string list;
    for (const std::string_view k : known) list += (list.empty() ? "" : ", ") + std::string(k);
    return fail(fmt::format("\"{}\" is not a key of this verb.", key), {}, fmt::format("It has: {}.", list));
  }
  return {};
}

Word tack_word(const Scene& scene, const std::optional<TackAddress>& tack, Blank blank, std::string_view waiting,
               PartId own) {
  if (!tack) return {std::string(waiting), blank, true};
  if (!is_on_part(*tack)) return {tack_words(scene, *tack), blank};
  if (tack->part == own) return {"its " + kind_words(*tack), blank};
  const Part* part = scene.find(tack->part);
  return {kind_words(*tack) + " of " + (part ? part->name : std::string("a part that is gone")), blank};
}

std::string shown(const Amount& amount, EntryKind kind, const LengthUnit& unit) {
  if (!amount.text.empty()) {
    double plain = 0;
    // A typed plain number is shown with its unit, everything else as it was typed.
    const auto [end, error] = std::from_chars(amount.text.data(), amount.text.data() + amount.text.size(), plain);
    if (error != std::errc{} || end != amount.text.data() + amount.text.size()) return amount.text;
  }
  if (kind == EntryKind::Length) return show_length(amount.value, unit, 4).text;
  if (kind == EntryKind::Angle) return show_angle(amount.value, 4).text;
  return show_number(amount.value, 6).text;
}

}  // namespace tack
