#include "core/verbs/rotate.h"

#include <fmt/format.h>

#include <nlohmann/json.hpp>

#include "core/math/degrees.h"
#include "core/math/fit_rigid.h"
#include "core/math/split.h"
#include "core/verbs/meet.h"
#include "core/verbs/turn.h"

namespace tack {
namespace {

constexpr std::string_view kAxisNames = "XYZ";

int count_of(const std::array<bool, 3>& axes) { return int(axes[0]) + int(axes[1]) + int(axes[2]); }

// Round an edge means about that edge, unless another point was asked for.
About about_of(const Rotate& rotate) {
  const bool edge = rotate.round.edge && !rotate.like && rotate.about == About{};
  return edge ? about_place(*rotate.round.edge) : rotate.about;
}

Mat3 frame_of(const Scene& scene, PartId id) { return squared_up(world_of(scene, id).linear); }

// The rotation in the world that makes the part's named axes agree with the other's.
Result<Turn> turn_like(const Like& like, const Scene& scene, PartId id) {
  if (!scene.contains(like.part)) return fail("The part to be turned like is no longer there.");
  if (is_within(scene, like.part, id))
    return fail(fmt::format("\"{}\" cannot be turned like itself or a part below it.", scene.part(id).name));
  const int count = count_of(like.axes);
  if (count == 0) return fail("No axis is named that shall agree.", {}, "Name one, two or three of x, y, z.");
  if (like.other_way && count == 3)
    return fail("Three axes cannot all point the other way: that would be a mirror.", {}, "Name one or two of them.");
  const Mat3 from = frame_of(scene, id), to = frame_of(scene, like.part);
  if (count == 1) {
    const auto axis = static_cast<std::size_t>(like.axes[0] ? 0 : like.axes[1] ? 1 : 2);
    const Vec3 wanted = like.other_way ? -to.column[axis] : to.column[axis];
    const Mat3 rotation = smallest_turn(from.column[axis], wanted, from.column[(axis + 1) % 3]);
    const double degrees = atan2_degrees(length(cross(from.column[axis], wanted)), dot(from.column[axis], wanted));
    return Turn{rotation, degrees};
  }
  Mat3 wanted = to;
  if (like.other_way)
    for (std::size_t i = 0; i < 3; ++i)
      if (like.axes[i]) wanted.column[i] = -wanted.column[i];
  return Turn{squared_up(wanted * transpose(from)), 0};
}

// Puts the part, already turned, where its pivot belongs: so that the still point stays still.
Result<void> hold(Scene& scene, const Scene& before, PartId id, const About& about, const Vec3& still,
                  const Mat3& turn) {
  const Vec3 pivot = world_of(before, id) * before.part(id).placement.pivot;
  if (pivot == still || (about.kind == About::Kind::Own && about.place.kind == TackKind::Pivot)) return {};
  if (auto ok = put_pivot(scene, id, still + turn * (pivot - still)); !ok) return ok;
  if (about.kind == About::Kind::AllBox || about.kind == About::Kind::OwnBox) return {};
  // A still point on the part itself is measured again, and what rounding has moved is put right once.
  TackAddress place = about.place;
  if (about.kind == About::Kind::Own) place.part = id;
  if (!is_on_part(place) || place.kind == TackKind::WorldBoxPoint || !is_within(before, place.part, id)) return {};
  const auto now = find_tack(scene, place);
  if (!now || now->point == still) return {};
  const Placement kept = scene.part(id).placement;
  const Vec3 pivot_now = world_of(scene, id) * kept.pivot;
  if (!put_pivot(scene, id, pivot_now + (still - now->point))) return {};
  const auto then = find_tack(scene, place);
  if (!then || distance(then->point, still) >= distance(now->point, still)) scene.place(id, kept);
  return {};
}

}  // namespace

Result<Vec3> turning_axis(const Rotate& rotate, const Scene& scene, PartId part) {
  if (rotate.round.edge) {
    const auto tack = find_tack(scene, *rotate.round.edge);
    if (!tack) return tl::unexpected(tack.error());
    const auto& along = tack->address.kind == TackKind::Edge ? tack->roll : tack->direction;
    if (!along)
      return fail(fmt::format("The {} has no direction to turn round.", tack_words(scene, *rotate.round.edge)));
    return *along;
  }
  const Mat3 frame = axes_frame(scene, part, rotate.axes).linear;
  Vec3 axis;
  if (rotate.round.direction)
    axis = frame * *rotate.round.direction;
  else
    axis = frame.column[static_cast<std::size_t>(rotate.round.axis)];
  if (!is_finite(axis) || !(length(axis) > 0)) return fail("The direction to turn round has no length.", "round");
  return normalized(axis);
}

Result<double> angle_towards(const Rotate& rotate, const Scene& scene) {
  if (!rotate.from || !rotate.to) return fail("From and To are needed to turn from one to the other.");
  const auto parts = movable(scene, rotate.what);
  if (!parts) return tl::unexpected(parts.error());
  if (const auto ok = check_from_moves(scene, *parts, *rotate.from); !ok) return tl::unexpected(ok.error());
  if (const auto ok = check_to_stays(scene, *parts, *rotate.to); !ok) return tl::unexpected(ok.error());
  const auto from = find_tack(scene, *rotate.from), to = find_tack(scene, *rotate.to);
  if (!from || !to) return tl::unexpected(from ? to.error() : from.error());
  const auto axis = turning_axis(rotate, scene, parts->front());
  if (!axis) return tl::unexpected(axis.error());
  const auto still = still_point(about_of(rotate), scene, parts->front(), *parts, rotate.axes);
  if (!still) return tl::unexpected(still.error());
  const auto across = [&](const Vec3& point) {
    const Vec3 way = point - *still;
    return way - *axis * dot(*axis, way);
  };
  const Vec3 a = across(from->point), b = across(to->point);
  const double least = exact_bound(scene, *rotate.from, *rotate.to);
  for (const auto& [way, address] : {std::pair{a, &*rotate.from}, {b, &*rotate.to}})
    if (!(length(way) > least))
      return fail(fmt::format("The {} lies on the axis: it gives no direction.", tack_words(scene, *address)));
  return atan2_degrees(dot(*axis, cross(a, b)), dot(a, b));
}

bool comes_out_flipped(const Rotate& rotate, const Scene& scene) {
  if (!rotate.like || count_of(rotate.like->axes) != 1) return false;
  for (const PartId id : rotate.what) {
    if (!scene.contains(id)) continue;
    const auto turn = turn_like(*rotate.like, scene, id);
    if (turn && turn->degrees > 90 + 1e-9) return true;
  }
  return false;
}

Result<Scene> apply(const Rotate& rotate, const Scene& scene) {
  const auto parts = movable(scene, rotate.what);
  if (!parts) return tl::unexpected(parts.error());
  const About about = about_of(rotate);
  Amount angle = rotate.angle;
  if (rotate.from && rotate.to && !rotate.like) {
    const auto towards = angle_towards(rotate, scene);
    if (!towards) return tl::unexpected(towards.error());
    angle = Amount{*towards};
  }
  // A point that all share is found once: a box of all looks at all of them.
  std::optional<Vec3> shared;
  if (is_shared(about)) {
    const auto still = still_point(about, scene, parts->front(), *parts, rotate.axes);
    if (!still) return tl::unexpected(still.error());
    shared = *still;
  }
  Scene result = rotate.leave_copy ? with_copies_left(scene, *parts) : scene;
  std::optional<Vec3> last_axis;  // most parts of a selection turn about the same one
  Result<Turn> turn = Turn{};
  for (const PartId id : *parts) {
    if (rotate.like) {
      turn = turn_like(*rotate.like, scene, id);
      if (!turn) return tl::unexpected(turn.error());
    } else {
      const auto axis = turning_axis(rotate, scene, id);
      if (!axis) return tl::unexpected(axis.error());
      const auto now = evaluate(angle, EntryKind::Angle, 0.0, scene);
      if (!now) return tl::unexpected(now.error());
      if (!std::isfinite(*now)) return fail("The angle is not a finite number.", "angle");
      if (last_axis != *axis || turn->degrees != *now) turn = Turn{rotation_about(*axis, *now), *now};
      last_axis = *axis;
    }
    const Result<Vec3> still = shared ? Result<Vec3>(*shared) : still_point(about, scene, id, *parts, rotate.axes);
    if (!still) return tl::unexpected(still.error());
    auto part = turned(result, id, *turn);
    if (!part) return tl::unexpected(part.error());
    result.place(id, part->placement, part->quarters);
    if (const auto ok = hold(result, scene, id, about, *still, turn->rotation); !ok) return tl::unexpected(ok.error());
  }
  return result;
}

Sentence sentence(const Rotate& rotate, const Scene& scene, Tense tense, const LengthUnit&) {
  const bool past = tense == Tense::Past;
  Sentence s;
  const std::string what = rotate.what.empty() ? "a part" : names_of(scene, rotate.what);
  if (rotate.like) {
    const Like& like = *rotate.like;
    s.push_back({past ? "Turned " : "Turn "});
    s.push_back({what, Blank::What, rotate.what.empty()});
    s.push_back({" like "});
    const Part* other = scene.find(like.part);
    s.push_back({other ? other->name : "a part", Blank::Like, !other});
    s.push_back({", in "});
    std::string axes;
    for (std::size_t i = 0; i < 3; ++i)
      if (like.axes[i]) axes += (axes.empty() ? "" : " and ") + std::string(1, kAxisNames[i]);
    s.push_back({count_of(like.axes) == 3 ? "all three axes" : axes, Blank::LikeAxes});
    if (count_of(like.axes) < 3) {
      s.push_back({", "});
      s.push_back({like.other_way ? "pointing the other way" : "pointing the same way", Blank::OtherWay});
    }
    s.push_back({", about "});
    s.push_back({about_words(rotate.about, scene, rotate.what), Blank::About});
    s.push_back({"."});
    return s;
  }
  s.push_back({past ? "Rotated " : "Rotate "});
  if (rotate.leave_copy) s.push_back({"a copy of "});
  s.push_back({what, Blank::What, rotate.what.empty()});
  s.push_back({" by "});
  const auto towards = rotate.from && rotate.to ? angle_towards(rotate, scene) : Result<double>(rotate.angle.value);
  s.push_back(
      {shown(rotate.from && rotate.to ? Amount{towards.value_or(0)} : rotate.angle, EntryKind::Angle), Blank::Angle});
  s.push_back({" round "});
  if (rotate.round.edge) {
    s.push_back(tack_word(scene, rotate.round.edge, Blank::Round, "an edge"));
  } else {
    if (rotate.round.direction)
      s.push_back(
          {fmt::format("{}, {}, {}", show_number(rotate.round.direction->x, 4).text,
                       show_number(rotate.round.direction->y, 4).text, show_number(rotate.round.direction->z, 4).text),
           Blank::Round});
    else if (rotate.axes.kind == AxesKind::View && rotate.round.axis == 2)
      s.push_back({"the line of sight", Blank::Round});
    else
      s.push_back({std::string(1, kAxisNames[static_cast<std::size_t>(rotate.round.axis)]), Blank::Round});
    s.push_back({" of "});
    s.push_back({axes_words(rotate.axes, scene), Blank::Axes});
    s.push_back({" axes"});
  }
  s.push_back({" about "});
  s.push_back({about_words(rotate.about, scene, rotate.what), Blank::About});
  if (!past) {
    s.push_back({", or turn it like "});
    s.push_back({"a part", Blank::Like, true});
  }
  if (!past || (rotate.from && rotate.to)) {
    const PartId own = rotate.what.size() == 1 ? rotate.what.front() : kNoPart;
    s.push_back({past ? ", so that " : ", or so that "});
    s.push_back(tack_word(scene, rotate.from, Blank::From, "a place on it", own));
    s.push_back({past ? " came in line with " : " comes in line with "});
    s.push_back(tack_word(scene, rotate.to, Blank::To, "a place"));
  }
  s.push_back({"."});
  return s;
}

Json to_json(const Rotate& rotate, const Scene& scene) {
  Json j{{"verb", "rotate"}, {"what", parts_to_json(rotate.what, scene)}};
  if (rotate.like) {
    j["like"] = path_of(scene, rotate.like->part);
    std::string in;
    for (std::size_t i = 0; i < 3; ++i)
      if (rotate.like->axes[i]) in += "xyz"[i];
    j["in"] = in;
    if (rotate.like->other_way) j["other-way"] = true;
  } else {
    j["axes"] = axes_to_json(rotate.axes, scene);
    if (rotate.round.edge)
      j["round"] = address_text(scene, *rotate.round.edge);
    else if (rotate.round.direction)
      j["round"] = Json::array({rotate.round.direction->x, rotate.round.direction->y, rotate.round.direction->z});
    else
      j["round"] = std::string(1, "xyz"[rotate.round.axis]);
    if (rotate.from && rotate.to) {
      j["from"] = address_text(scene, *rotate.from);
      j["to"] = address_text(scene, *rotate.to);
    } else {
      j["angle"] = amount_to_json(rotate.angle);
    }
  }
  j["about"] = about_to_json(rotate.about, scene);
  if (rotate.leave_copy) j["copy"] = true;
  return j;
}

namespace {

Result<Round> round_from_json(const Json& json, const Scene& scene) {
  Round round;
  if (json.is_string()) {
    const std::string text = json.get<std::string>();
    if (text.size() == 1 && text[0] >= 'x' && text[0] <= 'z') {
      round.axis = text[0] - 'x';
      return round;
    }
    auto edge = parse_address(scene, text);
    if (!edge) return fail(edge.error().what, "round", "Use x, y, z, three numbers, or the address of an edge.");
    round.edge = *edge;
    return round;
  }
  const auto direction = numbers_from_json(json);
  if (!direction) return fail("This should be x, y, z, three numbers, or the address of an edge.", "round");
  round.direction = *direction;
  return round;
}

}  // namespace

Result<Rotate> rotate_from_json(const Json& json, const Scene& scene) {
  if (const auto ok = check_keys(
          json, {"verb", "what", "axes", "round", "angle", "about", "like", "in", "other-way", "copy", "from", "to"});
      !ok)
    return tl::unexpected(ok.error());
  Rotate rotate;
  auto what = what_from_json(json, scene);
  if (!what) return tl::unexpected(what.error());
  rotate.what = std::move(*what);
  const auto copy = flag_in(json, "copy");
  if (!copy) return tl::unexpected(copy.error());
  rotate.leave_copy = *copy;
  if (json.contains("about")) {
    const auto about = about_from_json(json["about"], "about", scene);
    if (!about) return tl::unexpected(about.error());
    rotate.about = *about;
  }
  if (json.contains("like")) {
    for (const char* key : {"axes", "round", "angle", "from", "to"})
      if (json.contains(key)) return fail(fmt::format("\"{}\" and \"like\" do not go together.", key), key);
    const auto part = json["like"].is_string() ? find_by_path(scene, json["like"].get_ref<const std::string&>())
                                               : fail("This should name a part.", "like");
    if (!part) return tl::unexpected(part.error());
    rotate.like = Like{*part, {true, true, true}, false};
    if (json.contains("in")) {
      const auto axes = axis_letters_from_json(json["in"], "in");
      if (!axes) return tl::unexpected(axes.error());
      rotate.like->axes = *axes;
    }
    if (json.contains("other-way")) {
      if (!json["other-way"].is_boolean()) return fail("This should be true or false.", "other-way");
      rotate.like->other_way = json["other-way"].get<bool>();
    }
    return rotate;
  }
  for (const char* key : {"in", "other-way"})
    if (json.contains(key)) return fail(fmt::format("\"{}\" goes with \"like\".", key), key);
  const auto axes = axes_in(json, scene);
  if (!axes) return tl::unexpected(axes.error());
  rotate.axes = *axes;
  if (json.contains("round")) {
    const auto round = round_from_json(json["round"], scene);
    if (!round) return tl::unexpected(round.error());
    rotate.round = *round;
  }
  if (const auto ok = places_from_json(json, scene, rotate.from, rotate.to); !ok) return tl::unexpected(ok.error());
  if (rotate.from && json.contains("angle")) return fail("Either an angle or From and To.", "angle");
  if (rotate.from) return rotate;
  if (!json.contains("angle"))
    return fail("Rotate needs an \"angle\", \"from\" and \"to\", or a part to turn \"like\".", "angle");
  auto angle = amount_from_json(json["angle"], EntryKind::Angle, "angle", scene);
  if (!angle) return tl::unexpected(angle.error());
  rotate.angle = std::move(*angle);
  return rotate;
}

}  // namespace tack
