#include "core/verbs/move.h"

#include <fmt/format.h>

#include <nlohmann/json.hpp>

#include "core/verbs/meet.h"
#include "core/verbs/turn.h"
#include "core/view/handles.h"

namespace tack {

Result<Scene> apply(const Move& move, const Scene& scene) {
  if (move.from && move.to) {
    Meet meet;
    meet.what = move.what;
    meet.from = move.from;
    meet.to = move.to;
    meet.facing = Facing::AsIs;
    return apply(meet, move.leave_copy ? with_copies_left(scene, topmost(scene, moves(meet, scene))) : scene);
  }
  const auto parts = movable(scene, move.what);
  if (!parts) return tl::unexpected(parts.error());
  const Vec3 by{move.by[0].value, move.by[1].value, move.by[2].value};
  if (!is_finite(by)) return fail("The lengths to move by are not finite.");
  Scene result = move.leave_copy ? with_copies_left(scene, *parts) : scene;
  for (const PartId id : *parts) {
    if (move.axes.kind == AxesKind::Parent) {
      Placement placement = scene.part(id).placement;
      placement.position = add_decimals(placement.position, by);
      result.place(id, placement);
      continue;
    }
    const Vec3 shift = move.axes.kind == AxesKind::World ? by : axes_frame(scene, id, move.axes).linear * by;
    const Vec3 pivot = world_of(scene, id) * scene.part(id).placement.pivot;
    if (const auto ok = put_pivot(result, id, add_decimals(pivot, shift)); !ok) return tl::unexpected(ok.error());
  }
  return result;
}

std::array<Amount, 3> lengths_for(const Move& move, const Scene& scene, const Vec3& shift,
                                  const std::array<bool, 3>& along, const Steps& steps) {
  std::array<Amount, 3> by;
  if (move.what.empty() || !scene.contains(move.what.front())) return by;
  const PartId id = move.what.front();
  const Affine frame = axes_frame(scene, id, move.axes);
  const auto back = inverse(frame);
  if (!back) return by;
  const Vec3 lengths = back->linear * shift, now = *back * (world_of(scene, id) * scene.part(id).placement.pivot);
  for (int i = 0; i < 3; ++i)
    if (along[static_cast<std::size_t>(i)]) {
      const double free = lengths[i];
      const double on = steps.from_zero ? stepped(now[i] + free, steps.step) - now[i] : stepped(free, steps.step);
      by[static_cast<std::size_t>(i)] = Amount{steps.step > 0 ? on : free};
    }
  return by;
}

Sentence sentence(const Move& move, const Scene& scene, Tense tense, const LengthUnit& unit) {
  const bool past = tense == Tense::Past;
  Sentence s;
  s.push_back({past ? "Moved " : "Move "});
  if (move.leave_copy) s.push_back({"a copy of "});
  s.push_back({move.what.empty() ? "a part" : names_of(scene, move.what), Blank::What, move.what.empty()});
  const PartId own = move.what.size() == 1 ? move.what.front() : kNoPart;
  const bool by_places = move.from && move.to;
  if (!past || !by_places) {
    s.push_back({" by "});
    for (int i = 0; i < 3; ++i) {
      s.push_back({shown(move.by[i], EntryKind::Length, unit), Blank(int(Blank::X) + i)});
      s.push_back({i < 2 ? " · " : " along "});
    }
    s.push_back({axes_words(move.axes, scene), Blank::Axes});
    s.push_back({" axes"});
  }
  if (!past) s.push_back({", or"});
  if (!past || by_places) {
    s.push_back({" from "});
    s.push_back(tack_word(scene, move.from, Blank::From, "a place on it", own));
    s.push_back({" to "});
    s.push_back(tack_word(scene, move.to, Blank::To, "a place to go"));
  }
  s.push_back({"."});
  return s;
}

Json to_json(const Move& move, const Scene& scene) {
  Json j{{"verb", "move"}, {"what", parts_to_json(move.what, scene)}};
  if (move.from && move.to) {
    j["from"] = address_text(scene, *move.from);
    j["to"] = address_text(scene, *move.to);
    if (move.leave_copy) j["copy"] = true;
    return j;
  }
  j["axes"] = axes_to_json(move.axes, scene);
  j["by"] = Json::array({amount_to_json(move.by[0]), amount_to_json(move.by[1]), amount_to_json(move.by[2])});
  if (move.leave_copy) j["copy"] = true;
  return j;
}

Result<Move> move_from_json(const Json& json, const Scene& scene) {
  if (const auto ok = check_keys(json, {"verb", "what", "axes", "by", "from", "to", "copy"}); !ok)
    return tl::unexpected(ok.error());
  Move move;
  auto what = what_from_json(json, scene);
  if (!what) return tl::unexpected(what.error());
  move.what = std::move(*what);
  const auto axes = axes_in(json, scene);
  if (!axes) return tl::unexpected(axes.error());
  move.axes = *axes;
  const auto copy = flag_in(json, "copy");
  if (!copy) return tl::unexpected(copy.error());
  move.leave_copy = *copy;
  if (json.contains("from") != json.contains("to")) return fail("Move needs both \"from\" and \"to\", or neither.");
  if (json.contains("from") == json.contains("by"))
    return fail("Move needs either \"by\" or \"from\" and \"to\".", "by");
  if (json.contains("by")) {
    const auto by = amounts_from_json(json["by"], EntryKind::Length, "by", scene);
    if (!by) return tl::unexpected(by.error());
    for (int i = 0; i < 3; ++i) move.by[i] = (*by)[i].value_or(Amount{});
    return move;
  }
  for (const auto& [key, slot] : {std::pair{"from", &move.from}, std::pair{"to", &move.to}}) {
    if (!json[key].is_string()) return fail("This should name a place.", key);
    auto address = parse_address(scene, json[key].get_ref<const std::string&>());
    if (!address) return fail(address.error().what, key, address.error().remedy);
    *slot = *address;
  }
  return move;
}

}  // namespace tack
