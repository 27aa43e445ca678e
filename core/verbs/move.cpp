#include "core/verbs/move.h"

#include <fmt/format.h>

#include "core/verbs/meet_motion.h"
#include "core/verbs/phrase.h"
#include "core/verbs/rigid.h"
#include "core/verbs/tied.h"

namespace tack {
namespace {

constexpr Choice kSlides[] = {
    {"freely", "free"}, {"along the edge", "edge"}, {"in the face", "face"}, {"along the normal", "normal"}};

bool any_said(const std::array<Amount, 3>& by) { return is_said(by[0]) || is_said(by[1]) || is_said(by[2]); }
bool by_places(const Move& move) { return move.from && move.to; }
std::string_view lengths_barred(const Move& move) { return by_places(move) ? "it goes from a place to a place" : ""; }
std::string_view places_only(const Move& move) { return move.from || move.to ? "" : "it goes with From and To"; }
std::string_view axes_barred_in(const Move& move) {
  return by_places(move) && move.along == kAllAxes ? "nothing is limited \"along\" axes" : "";
}
void by_lengths(Move& move, std::size_t) {
  move.from.reset();
  move.to.reset();
  move.along = kAllAxes;
  move.slide = {};
}
void from_to(Move& move, std::size_t) { move.by = {}; }

constexpr BlankId kMoveTo{2, 0};

// The part of `way` that the verb allows.
Result<Vec3> allowed_way(const Move& move, const Scene& scene, PartId part, const Vec3& way) {
  if (move.slide.kind == Slide::Kind::Free) return along_axes(way, unit_axes(scene, part, move.axes), move.along);
  const auto slides = slide_way(move, scene);
  if (!slides) return tl::unexpected(slides.error());
  const Vec3 along = slides->unit * dot(slides->unit, way);
  return slides->plane ? way - along : along;
}

Result<Vec3> lengths_of(const Move& move, const Scene& scene, PartId part) {
  Vec3 by;
  for (int i = 0; i < 3; ++i) {
    const auto length =
        evaluate(move.by[static_cast<std::size_t>(i)], EntryKind::Length, 0, Reading{scene, move.axes, part});
    if (!length) return tl::unexpected(length.error());
    by[i] = *length;
  }
  if (!is_finite(by)) return fail("The lengths to move by are not finite.");
  return by;
}

Meet as_meeting(const Move& move) {
  Meet meet;
  meet.what = move.what;
  meet.from = move.from;
  meet.to = move.to;
  meet.facing = Facing::AsIs;
  return meet;
}

Result<Scene> slid(const Move& move, const Scene& scene) {
  const auto parts = movable(scene, moves(as_meeting(move), scene));
  if (!parts) return tl::unexpected(parts.error());
  const auto from = find_tack(scene, *move.from), to = find_tack(scene, *move.to);
  if (!from || !to) return tl::unexpected(from ? to.error() : from.error());
  if (const auto ok = check_to_stays(scene, *parts, *move.to); !ok) return tl::unexpected(ok.error());
  const auto way = allowed_way(move, scene, parts->front(), to->point - from->point);
  if (!way) return tl::unexpected(way.error());
  return moved_rigidly(move.leave_copy ? with_copies_left(scene, *parts) : scene, *parts, {}, {}, *way);
}

Result<void> check(const Move& move) {
  const bool lengths = any_said(move.by);
  if (move.from.has_value() != move.to.has_value())
    return fail("Both \"from\" and \"to\" are needed, or neither.", move.from ? "to" : "from");
  if (move.from && lengths) return fail("Move takes lengths, or From and To: not both.", "by");
  if (move.along == kNoAxes) return fail("No axis is named along which it may move.", "along");
  if (move.slide.kind == Slide::Kind::Free && move.slide.on)
    return fail("It slides on nothing: it goes freely.", "slide-on", "Say how it slides: edge, face or normal.");
  if (move.slide.kind != Slide::Kind::Free && move.along != kAllAxes)
    return fail("It slides, or is limited to axes: not both.", "slide");
  if (move.slide.kind != Slide::Kind::Free && !move.from)
    return fail("Only from a place to a place can it slide.", "slide");
  return {};
}

bool is_ready(const Move& move) {
  if (move.from || move.to) return by_places(move);
  return any_said(move.by);
}

BlankId waits_for(const Move& move) { return move.from && !move.to ? kMoveTo : BlankId{}; }

Move made_whole(Move move, const Scene&) {
  if (move.what.empty() && move.from && is_on_part(*move.from)) move.what = {move.from->part};
  if (!move.from) move.along = kAllAxes, move.slide = {};
  return move;
}

Move next_after(const Move& move) {
  Move next;
  next.slide.kind = move.from ? move.slide.kind : Slide::Kind::Free;
  return next;
}

std::string left_of(const Move& move, const Scene& before, const Scene& after, const LengthUnit& unit) {
  if (by_places(move)) return left_between(move.from, move.to, after, unit);
  const auto motion = [&](PartId id) -> std::optional<Affine> {
    const auto by = lengths_of(move, before, id);
    return by ? std::optional(translation(axes_frame(before, id, move.axes).linear * *by)) : std::nullopt;
  };
  return strayed_words(before, after, move.what, motion, unit);
}

void sentence(Phrase& s, const Move& move) {
  const bool past = s.past(), places = by_places(move);
  s.say("Moved ", "Move ");
  if (move.leave_copy) s.say("a copy of ");
  s.blank("what");
  if (!past || !places) s.say(" by ").three("by").say(" along ").blank("axes").say(" axes");
  if (!past) s.say(", or");
  if (!past || places) {
    s.say(" from ").blank("from").say(s.fell_short() ? " towards " : " to ").blank("to");
    if (move.along != kAllAxes) {
      s.say(", along ").blank("along");
      if (places) s.say(" of ").blank("axes").say(" axes");
      s.say(" only");
    } else {
      s.say(", ").blank("slide");
      if (move.slide.kind != Slide::Kind::Free) s.say(" of ").blank("slide-on");
    }
  }
  if (move.tied) s.say(", ").blank("with-tied");
  s.say(".");
  if (!move.tied && is_tied(s.scene(), move.what)) s.offer("with-tied", 0, "with what is tied to it");
}

}  // namespace

Result<SlideWay> slide_way(const Move& move, const Scene& scene) {
  if (!move.slide.on && !move.from) return fail("There is no place to slide along yet.");
  const TackAddress& address = move.slide.on ? *move.slide.on : *move.from;
  const auto tack = find_tack(scene, address);
  if (!tack) return tl::unexpected(tack.error());
  if (move.slide.kind == Slide::Kind::Edge) {
    const bool edge = address.kind == TackKind::Edge || address.kind == TackKind::Crossing;
    if (edge && tack->roll) return SlideWay{*tack->roll, false};
    return fail(fmt::format("The {} is not on an edge to slide along.", tack_words(scene, address)), {},
                "Click a place on an edge.");
  }
  if (tack->direction) return SlideWay{*tack->direction, move.slide.kind == Slide::Kind::Face};
  return fail(fmt::format("The {} has no direction to slide by.", tack_words(scene, address)), {},
              "Click a place on a face.");
}

namespace {

// All that is tied, moved as the first part alone would be.
Result<Move> as_one_body(const Move& move, const Scene& scene) {
  const auto alone = movable(scene, by_places(move) ? moves(as_meeting(move), scene) : move.what);
  if (!alone) return tl::unexpected(alone.error());
  auto body = tied_body(scene, *alone);
  if (!body) return tl::unexpected(body.error());
  Move whole = move;
  whole.tied = false;
  whole.what = std::move(*body);
  if (by_places(move)) {
    // Limits are along the first part's axes for all.
    if (move.along != kAllAxes) whole.axes = axes_of_view(true_axes(scene, alone->front(), move.axes));
    return whole;
  }
  const auto lengths = lengths_of(move, scene, alone->front());
  if (!lengths) return tl::unexpected(lengths.error());
  const Vec3 shift =
      move.axes.kind == AxesKind::World ? *lengths : axes_frame(scene, alone->front(), move.axes).linear * *lengths;
  whole.axes = AxesKind::World;
  for (int i = 0; i < 3; ++i) whole.by[static_cast<std::size_t>(i)] = Amount{shift[i]};
  return whole;
}

}  // namespace

Result<Scene> apply(const Move& move, const Scene& scene) {
  if (move.tied) {
    const auto whole = as_one_body(move, scene);
    if (!whole) return tl::unexpected(whole.error());
    return apply(*whole, scene);
  }
  if (by_places(move) && (move.along != kAllAxes || move.slide.kind != Slide::Kind::Free)) return slid(move, scene);
  if (by_places(move)) {
    const Meet meet = as_meeting(move);
    return apply(meet, move.leave_copy ? with_copies_left(scene, topmost(scene, moves(meet, scene))) : scene);
  }
  const auto parts = movable(scene, move.what);
  if (!parts) return tl::unexpected(parts.error());
  Scene result = move.leave_copy ? with_copies_left(scene, *parts) : scene;
  // Only in axes that each part has of its own can the lengths differ from part to part.
  const bool own_axes = move.axes.kind == AxesKind::Local || move.axes.kind == AxesKind::Parent;
  std::optional<Result<Vec3>> lengths;
  for (const PartId id : *parts) {
    if (!lengths || own_axes) lengths = lengths_of(move, scene, id);
    if (!*lengths) return tl::unexpected(lengths->error());
    const Vec3 by = **lengths;
    if (move.axes.kind == AxesKind::Parent) {
      Placement placement = scene.part(id).placement;
      placement.position = add_decimals(placement.position, by);
      result.place(id, placement);
      continue;
    }
    const Vec3 shift = move.axes.kind == AxesKind::World ? by : axes_frame(scene, id, move.axes).linear * by;
    const Vec3 pivot = pivot_in_world(scene, id);
    if (const auto ok = put_pivot(result, id, add_decimals(pivot, shift)); !ok) return tl::unexpected(ok.error());
  }
  return result;
}

// clang-format off
const Table<Move>& table_of(const Move*) {
  static const Table<Move> table{.key = "move",
      .does = "Shifts parts by three lengths along axes, or from one place to another.", .on_patches = true, .check = check,
      .ready = is_ready, .waits = waits_for, .whole = made_whole, .next = next_after,
      .parts = parts_with_tied<Move>, .left = left_of,
      .leading = "by", .hints = {.nothing = "Click the part to move.",
      .ready = "Drag a ruler, or a place of the part to another; or type a length (X, Y, Z: along that axis).",
      .done = "Done. Type again to move on; click a blank to correct it.",
      .dragging = "Type a length, or let go. Shift: increments. Ctrl when letting go: leave a copy.",
      .gripping = "Let go over a place: it goes there. X, Y, Z: along that axis only. Ctrl: leave a copy."},
      .sentence = sentence, .rows = {
    {.key = "what", .name = "What", .at = slot<&Move::what>, .ask = "Click the part to move instead.", .needed = true,
     .always = true, .doc = "the parts that move"},
    {.key = "from", .name = "From", .at = slot<&Move::from>, .ask = "Click the place to move from.",
     .waiting = "a place on it", .role = Role::From, .given = from_to, .doc = "a place on one of the parts"},
    {.key = "to", .name = "To", .at = slot<&Move::to>, .ask = "Click the place to move to.", .waiting = "a place to go",
     .role = Role::To, .given = from_to, .doc = "where it goes"},
    {.key = "along", .name = "Limited to", .at = slot<&Move::along>, .barred = places_only,
     .given = [](Move& m, std::size_t) { m.slide = {}; }, .doc = "from From to To only along these of the axes"},
    {.key = "axes", .name = "Axes", .at = slot<&Move::axes>, .ask = "Click the part whose own axes to use.",
     .always = true, .barred = axes_barred_in, .doc = "of `by`, or of `along`"},
    {.key = "slide", .name = "Sliding", .at = [](Move& m, std::size_t) { return detail::slot_in(m.slide.kind, 0); },
     .choices = kSlides, .given = [](Move& m, std::size_t) { m.along = kAllAxes; },
     .doc = "along the edge, in the face or along the normal of From, instead of all the way to To"},
    {.key = "slide-on", .name = "Sliding on", .at = [](Move& m, std::size_t) -> Slot { return &m.slide.on; },
     .ask = "Click the edge or face to slide along.", .waiting = "From", .doc = "another place that it slides along"},
    {.key = "by", .name = "Along", .at = slot<&Move::by>, .needed_if = [](const Move& m) { return !by_places(m); },
     .always = true, .three = true, .barred = lengths_barred, .given = by_lengths, .doc = "how far, along x, y and z"},
    {.key = "copy", .name = "A copy stays", .at = slot<&Move::leave_copy>,
     .doc = "leaves an instance where the part was"},
    {.key = "with-tied", .name = "What is tied to it", .at = slot<&Move::tied>, .choices = kWithTied,
     .doc = "what ties that hold keep to it comes along, as one body"},
  }};
  return table;
}
// clang-format on

}  // namespace tack
