#include "core/verbs/rotate.h"

#include <fmt/format.h>

#include "core/math/degrees.h"
#include "core/math/fit_rigid.h"
#include "core/math/split.h"
#include "core/verbs/meet_motion.h"
#include "core/verbs/phrase.h"
#include "core/verbs/rigid.h"
#include "core/verbs/tied.h"
#include "core/verbs/turn.h"

namespace tack {
namespace {

constexpr Choice kWays[] = {{"pointing the same way", ""}, {"pointing the other way", ""}};

bool is_like(const Rotate& r) { return r.like.part != kNoPart; }
bool comes_in_line(const Rotate& r) { return r.from && r.to; }
std::string_view with_like(const Rotate& r) { return is_like(r) ? "" : "it goes with \"like\""; }
std::string_view without_like(const Rotate& r) { return is_like(r) ? "\"like\" says how it turns" : ""; }
std::string_view angle_barred(const Rotate& r) {
  return is_like(r) ? "\"like\" says how it turns" : comes_in_line(r) ? "From and To say how far it turns" : "";
}
void by_angle(Rotate& r, std::size_t) {
  r.like = {};
  r.from.reset();
  r.to.reset();
}
void by_part(Rotate& r, std::size_t) {
  r.angle = {};
  r.from.reset();
  r.to.reset();
}
void into_line(Rotate& r, std::size_t) {
  r.angle = {};
  r.like = {};
}
void not_all_the_other_way(Rotate& r, std::size_t) {
  if (count_of(r.like.axes) == 3) r.like.other_way = false;
}

// Round an edge means about that edge, until another point is asked for.
void about_the_edge(Rotate& r, const std::optional<TackAddress>& before) {
  if (r.round.edge) r.about = about_place(*r.round.edge);
  if (!r.round.edge && before && r.about == about_place(*before)) r.about = {};
}

std::string round_words(const Rotate& r, const Scene& scene) {
  if (r.round.edge) return place_words(scene, *r.round.edge);
  if (const auto& d = r.round.direction)
    return fmt::format("{}, {}, {}", show_number(d->x, 4).text, show_number(d->y, 4).text, show_number(d->z, 4).text);
  if (r.axes.kind == AxesKind::View && r.round.axis == 2) return "the line of sight";
  return std::string(1, "XYZ"[r.round.axis]);
}

void choose_round(Rotate& r, std::size_t, std::size_t option, const ChoiceContext& context) {
  const auto before = r.round.edge;
  if (option < 3) r.round = {int(option), std::nullopt, std::nullopt};
  if (option == 3) {
    r.round = {};
    r.axes = axes_of_view(context.view);
  }
  about_the_edge(r, before);
}

Json round_to_json(const Rotate& r, const Scene& scene) {
  if (is_like(r)) return nullptr;
  if (r.round.edge) return address_text(scene, *r.round.edge);
  if (const auto& d = r.round.direction) return Json::array({d->x, d->y, d->z});
  return axis_letter(r.round.axis);
}

Result<void> round_from_json(Rotate& r, const Json& json, const Scene& scene) {
  constexpr const char* kForms = "Use x, y, z, three numbers, or the address of an edge.";
  if (json.is_string()) {
    if (const auto axis = axis_named(json)) return r.round.axis = *axis, Result<void>();
    const auto edge = parse_address(scene, json.get<std::string>());
    if (!edge) return fail(edge.error().what, "round", kForms);
    r.round.edge = *edge;
    about_the_edge(r, std::nullopt);
    return {};
  }
  r.round.direction = numbers_from_json(json);
  if (!r.round.direction) return fail("This names no axis.", "round", kForms);
  return {};
}

constexpr BlankId kRotateTo{7, 0};

// Without From and To each part turns about its own axis where they differ; with them, all about that of the part that
// carries From.
PartId axis_of(const Rotate& r, const Scene& scene, const std::vector<PartId>& parts, PartId part) {
  const PartId carrier = comes_in_line(r) ? carrier_of(scene, parts, r.from->part) : kNoPart;
  return carrier == kNoPart ? part : carrier;
}

// The rotation in the world that makes the part's named axes agree with the other's.
Result<Turn> turn_like(const Like& like, const Scene& scene, PartId id) {
  if (!scene.contains(like.part)) return fail("The part to turn like has been deleted.");
  if (is_within(scene, like.part, id))
    return fail(fmt::format("\"{}\" cannot be turned like itself or a part below it.", scene.part(id).name));
  const int count = count_of(like.axes);
  const Mat3 from = own_axes(scene, id), to = own_axes(scene, like.part);
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
  // A still point on the part itself is measured again, and what rounding has moved is put right.
  TackAddress place = about.place;
  if (about.kind == About::Kind::Own) place.part = id;
  if (!is_on_part(place) || place.kind == TackKind::WorldBoxPoint || !is_within(before, place.part, id)) return {};
  return settle(scene, {}, id, [&](const Scene& now) -> std::optional<Vec3> {
    const auto point = find_tack(now, place);
    return point ? std::optional(still - point->point) : std::nullopt;
  });
}

std::string notice_of(const Rotate& r, const Scene& before) {
  if (!comes_out_flipped(r, before)) return {};
  return "It came out turned round: the other way is the smaller turn. Click “pointing the same way” to change it.";
}

Result<void> check(const Rotate& r) {
  if (r.from.has_value() != r.to.has_value())
    return fail("Both \"from\" and \"to\" are needed, or neither.", r.from ? "to" : "from");
  if (is_like(r) && comes_in_line(r)) return fail("\"like\" and From and To do not go together.", "from");
  if (comes_in_line(r) && is_said(r.angle)) return fail("Either an angle, or From and To.", "angle");
  if (!is_like(r)) return {};
  if (r.tied)
    return fail("Turned like a part, each turns by itself: what is tied cannot come along as one body.", "with-tied");
  if (r.like.axes == kNoAxes)
    return fail("No axis is named that is to agree.", "in", "Name one, two or three of x, y, z.");
  if (r.like.other_way && count_of(r.like.axes) == 3)
    return fail("Three axes cannot all point the other way: that would be a mirror.", "other-way",
                "Name one or two of them.");
  return {};
}

bool is_ready(const Rotate& r) { return is_like(r) || (r.from || r.to ? comes_in_line(r) : is_said(r.angle)); }
BlankId waits_for(const Rotate& r) { return r.from && !r.to ? kRotateTo : BlankId{}; }

Rotate made_whole(Rotate r, const Scene&) {
  if (r.what.empty() && r.from && is_on_part(*r.from)) r.what = {r.from->part};
  return r;
}

Rotate next_after(const Rotate& r) {
  Rotate next;
  next.round = r.round;
  next.round.direction.reset();
  return next;
}

std::string left_of(const Rotate& r, const Scene& before, const Scene& after, const LengthUnit& unit) {
  if (is_like(r)) return {};
  if (comes_in_line(r)) {
    const auto off = angle_towards(r, after);
    if (!off || std::abs(*off) <= 1e-9) return {};
    return fmt::format("It is {} off.", show_angle(std::abs(*off), 9).text);
  }
  const auto motion = [&, parts = std::vector<PartId>()](PartId id) mutable -> std::optional<Affine> {
    if (parts.empty()) parts = topmost(before, r.what);
    const auto axis = turning_axis(r, before, id);
    const auto still = still_point(r.about, before, id, parts, r.axes);
    if (!axis || !still) return std::nullopt;
    const Mat3 turn = rotation_about(*axis, r.angle.value);
    return Affine{turn, *still - turn * *still};
  };
  return strayed_words(before, after, r.what, motion, unit);
}

void sentence(Phrase& s, const Rotate& r) {
  if (is_like(r)) {
    s.say("Turned ", "Turn ").blank("what").say(" like ").blank("like").say(", in ").blank("in");
    if (count_of(r.like.axes) < 3) s.say(", ").blank("other-way");
    s.say(", about ").blank("about").say(".");
    return;
  }
  s.say("Rotated ", "Rotate ");
  if (r.leave_copy) s.say("a copy of ");
  s.blank("what").say(" by ");
  if (comes_in_line(r))
    s.blank("angle", 0, shown(Amount{angle_towards(r, s.scene()).value_or(0)}, EntryKind::Angle));
  else
    s.blank("angle");
  s.say(" round ").blank("round", 0, round_words(r, s.scene()));
  if (!r.round.edge) s.say(" of ").blank("axes").say(" axes");
  s.say(" about ").blank("about");
  if (!s.past()) s.say(", or turn it like ").blank("like");
  if (!s.past() || comes_in_line(r))
    s.say(", so that ", ", or so that ")
        .blank("from")
        .say(s.fell_short() ? " turned towards " : " came in line with ", " comes in line with ")
        .blank("to");
  if (r.tied) s.say(", ").blank("with-tied");
  s.say(".");
  if (!r.tied && is_tied(s.scene(), r.what)) s.offer("with-tied", 0, "with what is tied to it");
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
  const auto axis = turning_axis(rotate, scene, axis_of(rotate, scene, *parts, parts->front()));
  if (!axis) return tl::unexpected(axis.error());
  const auto still =
      still_point(rotate.about, scene, axis_of(rotate, scene, *parts, parts->front()), *parts, rotate.axes);
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
  if (rotate.like.part == kNoPart || count_of(rotate.like.axes) != 1) return false;
  for (const PartId id : rotate.what) {
    if (!scene.contains(id)) continue;
    const auto turn = turn_like(rotate.like, scene, id);
    if (turn && turn->degrees > 90 + 1e-9) return true;
  }
  return false;
}

namespace {

// All that is tied, turned as the first part alone would be.
Result<Rotate> as_one_body(const Rotate& rotate, const Scene& scene) {
  const auto alone = movable(scene, rotate.what);
  if (!alone) return tl::unexpected(alone.error());
  const PartId first = comes_in_line(rotate) ? axis_of(rotate, scene, *alone, alone->front()) : alone->front();
  auto body = tied_body(scene, *alone);
  if (!body) return tl::unexpected(body.error());
  Rotate whole = rotate;
  whole.tied = false;
  if (!is_shared(rotate.about)) {
    TackAddress place = rotate.about.place;
    place.part = first;
    if (rotate.about.kind == About::Kind::OwnBox) {
      const auto still = still_point(rotate.about, scene, first, *alone, rotate.axes);
      if (!still) return tl::unexpected(still.error());
      place = {TackKind::Point, kNoPart, 0, *still};
    }
    whole.about = about_place(place);
  } else if (rotate.about.kind == About::Kind::AllBox) {
    // The middle of what was picked, not of all that comes along.
    const auto still = still_point(rotate.about, scene, first, *alone, rotate.axes);
    if (!still) return tl::unexpected(still.error());
    whole.about = about_place({TackKind::Point, kNoPart, 0, *still});
  }
  if (rotate.axes.kind == AxesKind::Local) whole.axes = axes_of(first);
  if (rotate.axes.kind == AxesKind::Parent) whole.axes = axes_of_view(true_axes(scene, first, rotate.axes));
  whole.what = std::move(*body);
  return whole;
}

}  // namespace

Result<Scene> apply(const Rotate& rotate, const Scene& scene) {
  if (rotate.tied) {
    const auto whole = as_one_body(rotate, scene);
    if (!whole) return tl::unexpected(whole.error());
    return apply(*whole, scene);
  }
  const auto parts = movable(scene, rotate.what);
  if (!parts) return tl::unexpected(parts.error());
  const About& about = rotate.about;
  double angle = rotate.angle.value;
  if (rotate.from && rotate.to && rotate.like.part == kNoPart) {
    const auto towards = angle_towards(rotate, scene);
    if (!towards) return tl::unexpected(towards.error());
    angle = *towards;
  }
  if (!std::isfinite(angle)) return fail("The angle is not a finite number.", "angle");
  Scene result = rotate.leave_copy ? with_copies_left(scene, *parts) : scene;
  std::optional<Result<Vec3>> still;  // one that all share is found once: a box of all looks at all of them
  std::optional<Vec3> last_axis;      // most parts of a selection turn about the same one
  Result<Turn> turn = Turn{};
  for (const PartId id : *parts) {
    if (rotate.like.part != kNoPart) {
      turn = turn_like(rotate.like, scene, id);
      if (!turn) return tl::unexpected(turn.error());
    } else {
      const auto axis = turning_axis(rotate, scene, axis_of(rotate, scene, *parts, id));
      if (!axis) return tl::unexpected(axis.error());
      if (last_axis != *axis) turn = Turn{rotation_about(*axis, angle), angle};
      last_axis = *axis;
    }
    if (!still || !is_shared(about)) still = still_point(about, scene, id, *parts, rotate.axes);
    if (!*still) return tl::unexpected(still->error());
    auto part = turned(result, id, *turn);
    if (!part) return tl::unexpected(part.error());
    result.place(id, part->placement, part->quarters);
    if (const auto ok = hold(result, scene, id, about, **still, turn->rotation); !ok) return tl::unexpected(ok.error());
  }
  return result;
}

// clang-format off
const Table<Rotate>& table_of(const Rotate*) {
  static const Table<Rotate> table{.key = "rotate",
      .does = "Turns parts by an angle about a point, or like another part.", .on_patches = true, .check = check, .ready = is_ready,
      .waits = waits_for, .whole = made_whole, .next = next_after,
      .parts = parts_with_tied<Rotate>, .left = left_of,
      .leading = "angle", .still = "about", .hints = {.nothing = "Click the part to turn.",
      .ready = "Drag an arc, or a place of the part; or type an angle (X, Y, Z: round that axis). K, click: the "
          "point held still.",
      .done = "Done. Type an angle to correct it; click a blank to change it.",
      .dragging = "Type an angle, or let go. Shift: increments. Ctrl when letting go: leave a copy.",
      .gripping = "Let go over a place: it comes in line with it. Ctrl: leave a copy."}, .notice = notice_of,
      .sentence = sentence, .rows = {
    {.key = "what", .name = "What", .at = slot<&Rotate::what>, .ask = "Click the part to turn instead.", .needed = true,
     .always = true, .doc = "the parts that turn"},
    {.key = "like", .name = "Like", .at = [](Rotate& r, std::size_t) -> Slot { return &r.like.part; },
     .ask = "Click the part to turn like.", .given = by_part, .doc = "a part whose axes it takes, instead of an angle"},
    {.key = "in", .name = "In which axes", .at = [](Rotate& r, std::size_t) -> Slot { return &r.like.axes; },
     .always = true, .barred = with_like, .given = not_all_the_other_way,
     .doc = "the axes that agree with `like`: one by the smallest turn, two or three wholly"},
    {.key = "other-way", .name = "Which way", .at = [](Rotate& r, std::size_t) -> Slot { return &r.like.other_way; },
     .choices = kWays, .barred = with_like, .doc = "the one or two axes named point the opposite way"},
    {.key = "axes", .name = "Axes", .at = slot<&Rotate::axes>, .ask = "Click the part whose own axes to use.",
     .always = true, .barred = without_like, .doc = "of `round`"},
    {.key = "round", .name = "Round", .at = [](Rotate& r, std::size_t) -> Slot { return &r.round.edge; },
     .ask = "Click an edge to turn round.", .barred = without_like,
     .options = [](const Rotate&, const Scene&, std::size_t) {
           return std::vector<Option>{{"X"}, {"Y"}, {"Z"}, {"the line of sight"}, {"an edge (click it)", Click::Place}};
         },
     .choose = choose_round,
     .place = [](Rotate& r, std::size_t, const TackAddress& edge) {
           r.round.edge = edge;
           about_the_edge(r, std::nullopt);
         },
     .write = round_to_json, .read = round_from_json,
     .value = "`x`, `y`, `z`, three numbers, or an edge", .doc = "the axis of the turn"},
    {.key = "from", .name = "From", .at = slot<&Rotate::from>, .ask = "Click the place on it that comes in line.",
     .waiting = "a place on it", .role = Role::From, .given = into_line,
     .doc = "with `to` instead of an angle: the place on what turns"},
    {.key = "to", .name = "To", .at = slot<&Rotate::to>,
     .ask = "Click the place that it comes in line with, about the still point.", .waiting = "a place",
     .role = Role::To, .given = into_line, .doc = "the place it comes in line with, seen along the axis"},
    {.key = "angle", .name = "Angle", .at = slot<&Rotate::angle>, .kind = EntryKind::Angle,
     .needed_if = [](const Rotate& r) { return !is_like(r) && !r.from && !r.to; }, .always = true,
     .barred = angle_barred, .given = by_angle, .doc = "right-handed about the axis"},
    {.key = "about", .name = "About", .at = slot<&Rotate::about>, .ask = "Click the place that stays still.",
     .always = true, .doc = "the point held still; left out: each part's own pivot, or the edge it turns round"},
    {.key = "copy", .name = "A copy stays", .at = slot<&Rotate::leave_copy>,
     .doc = "leaves an instance where the part was"},
    {.key = "with-tied", .name = "What is tied to it", .at = slot<&Rotate::tied>, .choices = kWithTied,
     .barred = without_like, .doc = "what ties that hold keep to it comes along, as one body"},
  }};
  return table;
}
// clang-format on

}  // namespace tack
