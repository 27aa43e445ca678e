// Place, move, rotate and scale over many odd scenes, held against a second method in long double.
#include "tests/core/second_method.h"

using namespace tack;
using namespace tack::test;

namespace {

constexpr int kDepth = 5;

About odd_about(Chance& chance, const Odd& odd) {
  switch (chance.whole(0, 4)) {
    case 0: return {};
    case 1: return about_place(vertex(odd.still, static_cast<std::uint32_t>(chance.whole(0, 7))));
    case 2: return about_place(point(chance.point(300)));
    case 3:
      return About{
          About::Kind::Own, {TackKind::Vertex, kNoPart, static_cast<std::uint32_t>(chance.whole(0, 7)), {}}, {}};
    default: return about_place(vertex(odd.moving, 3));
  }
}

LongVec long_about(const About& about, const Scene& scene, PartId id) {
  TackAddress place = about.place;
  if (about.kind == About::Kind::Own) place.part = id;
  if (place.kind == TackKind::Point) return longer(place.parameter);
  if (place.kind == TackKind::Pivot) return long_pivot(scene, place.part);
  return long_vertex(scene, place.part, place.index);
}

}  // namespace

TEST_CASE("place: each group in every kind of axes, the others untouched", "[sweep]") {
  Chance chance(1001);
  Cases position("place position, 5 kinds of axes"), turned("place rotation, factor, skew: what is read back");
  for (int i = 0; i < 1500; ++i) {
    const Odd odd = odd_scene(chance, kDepth);
    const Axes axes = odd_axes(chance, odd.still, i % 5);
    Place place;
    place.what = {odd.moving};
    place.axes = axes;
    const LongAffine frame = long_axes(odd.scene, odd.moving, axes);
    if (i % 4 != 0) {
      const Vec3 to = chance.point(500);
      for (std::size_t k = 0; k < 3; ++k) place.position[k] = Amount{to[static_cast<int>(k)]};
      const Scene after = done(place, odd.scene);
      const LongVec origin = axes.kind == AxesKind::Local ? LongVec{} : frame.shift;
      position.add(share_of_bound(after, odd.moving, long_pivot(after, odd.moving), frame.turned(longer(to)) + origin));
      Placement was = odd.scene.part(odd.moving).placement, is = after.part(odd.moving).placement;
      was.position = is.position;
      CHECK(was == is);
      for (const PartId id : odd.scene.in_tree_order())
        if (id != odd.moving) CHECK(odd.scene.shares(after, id));
      continue;
    }
    const Vec3 angles{chance.between(-180, 180), chance.between(-80, 80), chance.between(-180, 180)};
    for (std::size_t k = 0; k < 3; ++k) place.rotation[k] = Amount{angles[static_cast<int>(k)]};
    const Scene after = done(place, odd.scene);
    // The columns of the part in the axes are those of the rotation times what was there before it, in long double.
    const auto in_axes = [&](const LongAffine& world, const LongVec& v) { return long_solved(frame, world.turned(v)); };
    const LongAffine was = long_world(odd.scene, odd.moving), is = long_world(after, odd.moving);
    const LongAffine wanted = long_rotation(angles);
    // The first column is turned onto that of the rotation, its length (with its sign) as it was.
    const LongVec first = in_axes(is, {1, 0, 0}), before = in_axes(was, {1, 0, 0});
    const Real sign = dot(first, wanted.x) < 0 ? -1 : 1;
    const Real off = length(first - wanted.x * (sign * length(before))) / length(before);
    turned.add(static_cast<double>(off / 1e-9L));
  }
}

TEST_CASE("move: by lengths in every kind of axes, and from place to place", "[sweep]") {
  Chance chance(1002);
  Cases by("move by, 5 kinds of axes"), to("move from, to"), along("move from, to, along axes"), slide("move, sliding");
  for (int i = 0; i < 1200; ++i) {
    const Odd odd = odd_scene(chance, kDepth);
    Move move;
    move.what = {odd.moving};
    move.axes = odd_axes(chance, odd.still, i % 5);
    const Vec3 lengths = chance.point(400);
    for (std::size_t k = 0; k < 3; ++k) move.by[k] = Amount{lengths[static_cast<int>(k)]};
    const LongVec shift = long_axes(odd.scene, odd.moving, move.axes).turned(longer(lengths));
    const Scene after = done(move, odd.scene);
    by.add(worst_vertex(odd.scene, after, odd.moving, [&](const LongVec& p) { return p + shift; }));
  }
  for (int i = 0; i < 900; ++i) {
    const Odd odd = odd_scene(chance, kDepth);
    Move move;
    move.what = {odd.moving};
    move.from = vertex(odd.moving, static_cast<std::uint32_t>(chance.whole(0, 7)));
    move.to = vertex(odd.still, static_cast<std::uint32_t>(chance.whole(0, 7)));
    const LongVec way =
        long_vertex(odd.scene, odd.still, move.to->index) - long_vertex(odd.scene, odd.moving, move.from->index);
    if (i % 3 == 0) {
      const Scene after = done(move, odd.scene);
      to.add(worst_vertex(odd.scene, after, odd.moving, [&](const LongVec& p) { return p + way; }));
    } else if (i % 3 == 1) {
      move.axes = odd_axes(chance, odd.still, chance.whole(0, 4));
      move.along = kAxisSets[static_cast<std::size_t>(chance.whole(1, 6))];
      const LongAffine frame = long_axes(odd.scene, odd.moving, move.axes);
      LongVec ways = long_solved(frame, way);
      if (!move.along[0]) ways.x = 0;
      if (!move.along[1]) ways.y = 0;
      if (!move.along[2]) ways.z = 0;
      const LongVec shift = frame.turned(ways);
      const Scene after = done(move, odd.scene);
      along.add(worst_vertex(odd.scene, after, odd.moving, [&](const LongVec& p) { return p + shift; }));
    } else {
      move.slide.kind = Slide::Kind::Edge;
      move.from = TackAddress{TackKind::Edge, odd.moving, 0, {0.25, 0, 0}};
      move.from->second = 1;
      const LongVec a = long_vertex(odd.scene, odd.moving, 0), b = long_vertex(odd.scene, odd.moving, 1);
      const LongVec edge = unit(b - a);
      const LongVec shift = edge * dot(edge, long_vertex(odd.scene, odd.still, move.to->index) - (a + (b - a) * 0.25L));
      const Scene after = done(move, odd.scene);
      slide.add(worst_vertex(odd.scene, after, odd.moving, [&](const LongVec& p) { return p + shift; }));
    }
  }
}

TEST_CASE("rotate: about every kind of axis and place, like another part, and into line", "[sweep]") {
  Chance chance(1003);
  Cases angle("rotate by an angle, axes × about"), like("rotate like, in one, two, three axes"),
      line("rotate from, to");
  for (int i = 0; i < 1300; ++i) {
    const Odd odd = odd_scene(chance, kDepth);
    Rotate rotate;
    rotate.what = {odd.moving};
    rotate.axes = odd_axes(chance, odd.still, i % 5);
    rotate.about = odd_about(chance, odd);
    rotate.angle = Amount{i % 4 == 0 ? 90.0 * chance.whole(-3, 3) : chance.between(-360, 360)};
    const LongAffine frame = long_axes(odd.scene, odd.moving, rotate.axes);
    LongVec axis = i % 3 == 0 ? frame.x : i % 3 == 1 ? frame.y : frame.z;
    rotate.round.axis = i % 3;
    if (i % 7 == 0) {
      const Vec3 direction = chance.direction();
      rotate.round.direction = direction;
      axis = frame.turned(longer(direction));
    }
    const LongAffine turn = long_turn(unit(axis), rotate.angle.value);
    const LongVec still = long_about(rotate.about, odd.scene, odd.moving);
    const Scene after = done(rotate, odd.scene);
    angle.add(worst_vertex(odd.scene, after, odd.moving, [&](const LongVec& p) { return turn * (p - still) + still; }));
  }
  for (int i = 0; i < 300; ++i) {
    const Odd odd = odd_scene(chance, kDepth);
    Rotate rotate;
    rotate.what = {odd.moving};
    rotate.like.part = odd.still;
    rotate.like.axes = kAxisSets[static_cast<std::size_t>(i % 7)];
    const Scene after = done(rotate, odd.scene);
    const LongAffine was = long_own_axes(odd.scene, odd.moving), is = long_own_axes(odd.scene, odd.still);
    // What turned it was a turn: it took each axis that was named onto the other's.
    const LongAffine world = long_world(odd.scene, odd.moving), turned = long_world(after, odd.moving);
    const auto carried = [&](const LongVec& v) { return turned.turned(long_solved(world, v)); };
    double off = 0;
    for (const auto& [named, from, onto] : {std::tuple{rotate.like.axes[0], was.x, is.x},
                                            {rotate.like.axes[1], was.y, is.y},
                                            {rotate.like.axes[2], was.z, is.z}})
      if (named) off = std::max(off, static_cast<double>(length(carried(from) - onto) / 1e-9L));
    for (const LongVec& v : {was.x, was.y, was.z})
      off = std::max(off, static_cast<double>(std::abs(length(carried(v)) - 1) / 1e-9L));
    like.add(off);
  }
  for (int i = 0; i < 200; ++i) {
    const Odd odd = odd_scene(chance, kDepth);
    Rotate rotate;
    rotate.what = {odd.moving};
    rotate.axes = odd_axes(chance, odd.still, i % 5);
    rotate.round.axis = i % 3;
    rotate.from = vertex(odd.moving, static_cast<std::uint32_t>(chance.whole(0, 7)));
    rotate.to = vertex(odd.still, static_cast<std::uint32_t>(chance.whole(0, 7)));
    rotate.about = about_place(point(chance.point(100)));
    const auto after = tack::apply(rotate, odd.scene);
    if (!after) continue;  // a place on the axis gives no direction
    const LongAffine frame = long_axes(odd.scene, odd.moving, rotate.axes);
    const LongVec axis = unit(i % 3 == 0 ? frame.x : i % 3 == 1 ? frame.y : frame.z);
    const LongVec still = longer(rotate.about.place.parameter);
    const auto across = [&](const LongVec& p) { return (p - still) - axis * dot(axis, p - still); };
    const LongVec a = across(long_vertex(*after, odd.moving, rotate.from->index)),
                  b = across(long_vertex(odd.scene, odd.still, rotate.to->index));
    line.add(share_of_bound(*after, odd.moving, unit(a) * length(a), unit(b) * length(a)));
  }
}

TEST_CASE("parts that share the point and the axes turn as one body; with local axes each turns about its own",
          "[sweep]") {
  Chance chance(1004);
  Cases row("rotate several about one point: one body");
  for (int i = 0; i < 200; ++i) {
    const Odd odd = odd_scene(chance, kDepth);
    Rotate rotate;
    rotate.what = {odd.moving, odd.third};
    rotate.axes = odd_axes(chance, odd.still, i % 2 == 0 ? 0 : 3 + i / 2 % 2);
    rotate.about = about_place(vertex(odd.still, 0));
    rotate.round.axis = 0;
    rotate.angle = Amount{chance.between(-180, 180)};
    const LongAffine frame = long_axes(odd.scene, odd.moving, rotate.axes);
    const LongAffine turn = long_turn(unit(frame.x), rotate.angle.value);
    const LongVec still = long_vertex(odd.scene, odd.still, 0);
    const Scene after = done(rotate, odd.scene);
    for (const PartId id : rotate.what)
      row.add(worst_vertex(odd.scene, after, id, [&](const LongVec& p) { return turn * (p - still) + still; }));
    // From and To mean one axis: that of the part which carries From, also in its own axes.
    Rotate line = rotate;
    line.axes = AxesKind::Local;
    line.what = {odd.third, odd.moving};
    line.from = vertex(odd.moving, 6);
    line.to = point(chance.point(300));
    line.angle = {};
    const auto in_line = tack::apply(line, odd.scene);
    if (!in_line) continue;
    const LongVec axis = long_own_axes(odd.scene, odd.moving).x;
    const auto across = [&](const LongVec& p) { return (p - still) - axis * dot(axis, p - still); };
    const LongVec a = across(long_vertex(*in_line, odd.moving, 6)), b = across(longer(line.to->parameter));
    row.add(share_of_bound(*in_line, odd.moving, unit(a) * length(a), unit(b) * length(a)));
  }
}

TEST_CASE("scale: sizes, factors, what is held, like another, from a place to a place", "[sweep]") {
  Chance chance(1005);
  Cases size("scale to a size along own axes"), held("scale: the place held still"),
      world("scale to a size, world axes, true vertices");
  Cases reach("scale from, to, per axis"), even("scale from, to, evenly"), like("scale like another");
  for (int i = 0; i < 900; ++i) {
    const Odd odd = odd_scene(chance, kDepth);
    Scale scale;
    scale.what = {odd.moving};
    const bool own = i % 2 == 0;
    scale.axes = own ? AxesKind::Local : AxesKind::World;
    const Vec3 fraction{0.5 * chance.whole(0, 2), 0.5 * chance.whole(0, 2), 0.5 * chance.whole(0, 2)};
    scale.hold = About{About::Kind::Own, {TackKind::BoxPoint, kNoPart, 0, fraction}, {}};
    const auto axis = static_cast<std::size_t>(i % 3);
    const double wanted = chance.between(1, 300);
    scale.size[axis] = Amount{wanted};
    const auto sized = tack::apply(Verb(scale), odd.scene);
    if (!sized) continue;  // skewed, or scaled, beyond what a placement may be
    const Scene& after = *sized;
    const Vec3 side = odd.scene.part(odd.moving).mesh->box().size();
    const LongVec corner{side.x * fraction.x, side.y * fraction.y, side.z * fraction.z};
    held.add(share_of_bound(after, odd.moving, long_world(after, odd.moving) * corner,
                            long_world(odd.scene, odd.moving) * corner));
    if (own) {
      const LongAffine w = long_world(after, odd.moving);
      const LongVec& column = axis == 0 ? w.x : axis == 1 ? w.y : w.z;
      size.add(static_cast<double>(std::abs(length(column) * side[static_cast<int>(axis)] - wanted) /
                                   (1e-9L * (wanted + 1))));
    } else {
      Real low = 1e300L, high = -1e300L;
      for (std::size_t k = 0; k < 8; ++k) {
        const LongVec p = long_vertex(after, odd.moving, k);
        const Real c = axis == 0 ? p.x : axis == 1 ? p.y : p.z;
        low = std::min(low, c), high = std::max(high, c);
      }
      world.add(static_cast<double>(std::abs(high - low - wanted) / (1e-9L * (wanted + std::abs(low) + 1))));
    }
  }
  for (int i = 0; i < 500; ++i) {
    const Odd odd = odd_scene(chance, kDepth);
    Scale scale;
    scale.what = {odd.moving};
    scale.axes = odd_axes(chance, odd.still, chance.whole(0, 4));
    scale.from = vertex(odd.moving, 6);
    scale.hold = about_place(vertex(odd.moving, 0));
    scale.to = point(chance.point(300));
    const LongVec still = long_vertex(odd.scene, odd.moving, 0), from = long_vertex(odd.scene, odd.moving, 6),
                  to = longer(scale.to->parameter);
    if (i % 2 == 0) {
      scale.along = kAxisSets[static_cast<std::size_t>(1 + i / 2 % 3)];
      if (scale.axes.kind == AxesKind::Local || scale.axes.kind == AxesKind::Parent) scale.axes = AxesKind::World;
      const auto after = tack::apply(scale, odd.scene);
      if (!after) continue;  // flat against the still point, or flattened
      const LongAffine frame = long_axes(odd.scene, odd.moving, scale.axes);
      const LongVec axis = scale.along[0] ? frame.x : scale.along[1] ? frame.y : frame.z;
      const Real is = dot(axis, long_vertex(*after, odd.moving, 6)), should = dot(axis, to);
      reach.add(share_of_bound(*after, odd.moving, axis * is, axis * should));
      continue;
    }
    scale.evenly = true;
    const Real share = dot(from - still, to - still) / dot(from - still, from - still);
    const auto after = tack::apply(scale, odd.scene);
    // Towards a place on the other side only a mirror image would come nearer: that is refused.
    CHECK(after.has_value() == (share > 0));
    if (after)
      even.add(share_of_bound(*after, odd.moving, long_vertex(*after, odd.moving, 6), still + (from - still) * share));
  }
  for (int i = 0; i < 220; ++i) {
    const Odd odd = odd_scene(chance, 2);
    Scale scale;
    scale.what = {odd.moving};
    scale.like = odd.still;
    scale.along = kAxisSets[static_cast<std::size_t>(i % 7)];
    const auto grown = tack::apply(Verb(scale), odd.scene);
    if (!grown) continue;
    const Scene& after = *grown;
    const LongAffine a = long_world(after, odd.moving), b = long_world(odd.scene, odd.still);
    const Vec3 mine = after.part(odd.moving).mesh->box().size(), theirs = odd.scene.part(odd.still).mesh->box().size();
    double off = 0;
    for (const auto& [named, x, y, s, t] : {std::tuple{scale.along[0], a.x, b.x, mine.x, theirs.x},
                                            {scale.along[1], a.y, b.y, mine.y, theirs.y},
                                            {scale.along[2], a.z, b.z, mine.z, theirs.z}})
      if (named) off = std::max(off, static_cast<double>(std::abs(length(x) * s / (length(y) * t) - 1) / 1e-9L));
    like.add(off);
  }
}

TEST_CASE("a quarter turn four times gives the rotation back: to the bit below even parents, else within 1e-10",
          "[sweep]") {
  Chance chance(1006);
  int same = 0, even = 0;
  double worst = 0;
  for (int i = 0; i < 400; ++i) {
    const Odd odd = odd_scene(chance, 3);
    Rotate rotate;
    rotate.what = {odd.moving};
    rotate.axes = odd_axes(chance, odd.still, i % 3);
    rotate.round.axis = i / 3 % 3;
    rotate.angle = Amount{i % 2 == 0 ? 90.0 : -90.0};
    Scene scene = odd.scene;
    for (int k = 0; k < 4; ++k) scene = done(rotate, scene);
    const Placement &was = odd.scene.part(odd.moving).placement, &is = scene.part(odd.moving).placement;
    const LongAffine a = long_local(was), b = long_local(is);
    worst = std::max(worst, static_cast<double>((length(a.x - b.x) + length(a.y - b.y) + length(a.z - b.z)) /
                                                (length(a.x) + length(a.y) + length(a.z))));
    if (odd.scene.part(odd.moving).parent != kNoPart) continue;
    ++even;
    same += was.rotation == is.rotation && was.scale == is.scale && was.skew == is.skew;
  }
  // In the parent's axes, and the part's own, also below parents that are turned and scale evenly.
  int below = 0, kept = 0;
  for (int i = 0; i < 200; ++i) {
    Scene scene;
    PartId parent = kNoPart;
    for (int k = 0; k < 3; ++k) {
      const double factor = chance.between(0.2, 5);
      parent = scene.add(
          part_of("Up", nullptr, {chance.point(100), chance.point(180), {factor, factor, factor}, {}, {}}, parent));
    }
    Placement own = chance.placement(100);
    const PartId id = scene.add(part_of("Moving", cube(20), own, parent));
    Rotate rotate;
    rotate.what = {id};
    rotate.axes = i % 2 == 0 ? AxesKind::Parent : AxesKind::Local;
    rotate.round.axis = i / 2 % 3;
    rotate.angle = Amount{90};
    for (int k = 0; k < 4; ++k) scene = done(rotate, scene);
    ++below;
    kept += scene.part(id).placement.rotation == own.rotation;
  }
  CHECK(kept == below);
  CHECK(same == even);
  note_number(fmt::format("four quarter turns: the same bits for all {} parts at the top; elsewhere within {:.1e}",
                          even, worst));
  CHECK(worst < 1e-10);
}
