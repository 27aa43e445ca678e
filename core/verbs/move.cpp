#include "core/verbs/move.h"

#include <fmt/format.h>

#include <nlohmann/json.hpp>

#include "core/verbs/meet.h"
#include "core/verbs/turn.h"
#include "core/view/handles.h"

namespace tack {

namespace {

constexpr std::pair<std::string_view, Slide::Kind> kSlides[] = {{"free", Slide::Kind::Free},
                                                                {"edge", Slide::Kind::Edge},
                                                                {"face", Slide::Kind::Face},
                                                                {"normal", Slide::Kind::Normal}};

// What a place may slide along: the unit vector of a line, or the normal of a plane.
struct Way {
  Vec3 unit;
  bool plane = false;
};

Result<Way> way_of(const Move& move, const Scene& scene) {
  const TackAddress& address = move.slide.on ? *move.slide.on : *move.from;
  const auto tack = find_tack(scene, address);
  if (!tack) return tl::unexpected(tack.error());
  if (move.slide.kind == Slide::Kind::Edge) {
    const bool edge = address.kind == TackKind::Edge || address.kind == TackKind::Crossing;
    if (edge && tack->roll) return Way{*tack->roll, false};
    return fail(fmt::format("The {} is not on an edge to slide along.", tack_words(scene, address)), {},
                "Click a place on an edge.");
  }
  if (tack->direction) return Way{*tack->direction, move.slide.kind == Slide::Kind::Face};
  return fail(fmt::format("The {} has no direction to slide by.", tack_words(scene, address)), {},
              "Click a place on a face.");
}

// The part of `way` that the verb allows.
Result<Vec3> allowed_way(const Move& move, const Scene& scene, PartId part, const Vec3& way) {
  if (move.slide.kind == Slide::Kind::Free) return along_axes(way, true_axes(scene, part, move.axes), move.along);
  const auto slides = way_of(move, scene);
  if (!slides) return tl::unexpected(slides.error());
  const Vec3 along = slides->unit * dot(slides->unit, way);
  return slides->plane ? way - along : along;
}

Result<Scene> slid(const Move& move, const Scene& scene) {
  Meet meet;
  meet.what = move.what;
  meet.from = move.from;
  const auto parts = movable(scene, moves(meet, scene));
  if (!parts) return tl::unexpected(parts.error());
  const auto from = find_tack(scene, *move.from), to = find_tack(scene, *move.to);
  if (!from || !to) return tl::unexpected(from ? to.error() : from.error());
  if (const auto ok = check_to_stays(scene, *parts, *move.to); !ok) return tl::unexpected(ok.error());
  const auto way = allowed_way(move, scene, parts->front(), to->point - from->point);
  if (!way) return tl::unexpected(way.error());
  return moved_rigidly(move.leave_copy ? with_copies_left(scene, *parts) : scene, *parts, {}, {}, *way);
}

}  // namespace

std::optional<Vec3> dragged_along(const Move& move, const Scene& scene, const View& view, const Vec3& from, double x,
                                  double y) {
  if (move.slide.kind == Slide::Kind::Free || !move.from) return on_plane(view, from, view.back(), x, y);
  const auto way = way_of(move, scene);
  if (!way) return std::nullopt;
  if (way->plane) return on_plane(view, from, way->unit, x, y);
  const auto along = along_axis(view, from, way->unit, x, y);
  return along ? std::optional(from + way->unit * *along) : std::nullopt;
}

std::string_view words_for(Slide::Kind kind) {
  constexpr std::string_view kWords[] = {"freely", "along the edge", "in the face", "along the normal"};
  return kWords[static_cast<std::size_t>(kind)];
}

Result<Scene> apply(const Move& move, const Scene& scene) {
  if (move.from && move.to && (move.along != kAllAxes || move.slide.kind != Slide::Kind::Free))
    return slid(move, scene);
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
    const bool limited = move.along != kAllAxes;
    if (limited) {
      s.push_back({", along "});
      s.push_back({axes_named(move.along), Blank::Limits});
      if (by_places) {
        s.push_back({" of "});
        s.push_back({axes_words(move.axes, scene), Blank::Axes});
        s.push_back({" axes"});
      }
      s.push_back({" only"});
    } else {
      s.push_back({", "});
      s.push_back({std::string(words_for(move.slide.kind)), Blank::Slide});
      if (move.slide.kind != Slide::Kind::Free) {
        s.push_back({" of "});
        if (move.slide.on)
          s.push_back(tack_word(scene, move.slide.on, Blank::SlideOn, "a place", own));
        else
          s.push_back({"From", Blank::SlideOn});
      }
    }
  }
  s.push_back({"."});
  return s;
}

Json to_json(const Move& move, const Scene& scene) {
  Json j{{"verb", "move"}, {"what", parts_to_json(move.what, scene)}};
  if (move.from && move.to) {
    j["from"] = address_text(scene, *move.from);
    j["to"] = address_text(scene, *move.to);
    if (move.along != kAllAxes) {
      j["along"] = axis_letters(move.along);
      j["axes"] = axes_to_json(move.axes, scene);
    }
    for (const auto& [key, kind] : kSlides)
      if (kind == move.slide.kind && kind != Slide::Kind::Free) j["slide"] = key;
    if (move.slide.on) j["slide-on"] = address_text(scene, *move.slide.on);
    if (move.leave_copy) j["copy"] = true;
    return j;
  }
  j["axes"] = axes_to_json(move.axes, scene);
  j["by"] = Json::array({amount_to_json(move.by[0]), amount_to_json(move.by[1]), amount_to_json(move.by[2])});
  if (move.leave_copy) j["copy"] = true;
  return j;
}

Result<Move> move_from_json(const Json& json, const Scene& scene) {
  if (const auto ok =
          check_keys(json, {"verb", "what", "axes", "by", "from", "to", "copy", "along", "slide", "slide-on"});
      !ok)
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
  const bool places = json.contains("from") || json.contains("to");
  if (places == json.contains("by")) return fail("Move needs either \"by\" or \"from\" and \"to\".", "by");
  if (json.contains("by")) {
    const auto by = amounts_from_json(json["by"], EntryKind::Length, "by", scene);
    if (!by) return tl::unexpected(by.error());
    for (int i = 0; i < 3; ++i) move.by[i] = (*by)[i].value_or(Amount{});
    return move;
  }
  if (const auto ok = places_from_json(json, scene, move.from, move.to); !ok) return tl::unexpected(ok.error());
  if (json.contains("along")) {
    const auto along = axis_letters_from_json(json["along"], "along");
    if (!along) return tl::unexpected(along.error());
    move.along = *along;
  }
  if (json.contains("slide")) {
    const auto* const found = std::find_if(std::begin(kSlides), std::end(kSlides), [&](const auto& entry) {
      return json["slide"].is_string() && json["slide"].get_ref<const std::string&>() == entry.first;
    });
    if (found == std::end(kSlides))
      return fail(fmt::format("{} is not a way to slide.", json["slide"].dump()), "slide",
                  "Use free, edge, face or normal.");
    move.slide.kind = found->second;
  }
  if (json.contains("slide-on")) {
    const auto on = json["slide-on"].is_string() ? parse_address(scene, json["slide-on"].get_ref<const std::string&>())
                                                 : Result<TackAddress>(fail("This should name a place."));
    if (!on) return fail(on.error().what, "slide-on", on.error().remedy);
    move.slide.on = *on;
  }
  return move;
}

}  // namespace tack
