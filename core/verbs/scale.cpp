#include "core/verbs/scale.h"

#include <fmt/format.h>

#include <nlohmann/json.hpp>

#include "core/math/split.h"
#include "core/verbs/turn.h"
#include "core/view/handles.h"

namespace tack {
namespace {

constexpr std::string_view kBig[] = {"wide", "deep", "high"};

int count_of(const Amounts& amounts) {
  return int(amounts[0].has_value()) + int(amounts[1].has_value()) + int(amounts[2].has_value());
}

// Whether all parts are measured and grow as one: they share the point that stays, and the axes.
bool together(const Scale& scale) {
  return is_shared(scale.hold) && scale.axes.kind != AxesKind::Local && scale.axes.kind != AxesKind::Parent;
}

Mat3 frame_for(const Scale& scale, const Scene& scene, PartId part) {
  return squared_up(axes_frame(scene, part, scale.axes).linear);
}

Result<double> factor_for_size(const Scene& scene, PartId part, double now, double wanted, std::size_t axis) {
  const std::string& name = scene.part(part).name;
  if (!std::isfinite(wanted) || !(wanted > 0))
    return fail(
        fmt::format("\"{}\" cannot be made {} {}.", name, show_length(wanted, kMillimetres, 4).text, kBig[axis]),
        "size", "A size is more than 0; a factor of −1 mirrors.");
  if (!(now > 0)) {
    if (own_box(scene, part).empty()) return fail(fmt::format("\"{}\" is empty: it has no size.", name), "size");
    return fail(fmt::format("\"{}\" cannot be made {} {}: it is flat along {}.", name,
                            show_length(wanted, kMillimetres, 4).text, kBig[axis], "XYZ"[axis]),
                "size");
  }
  return wanted / now;
}

// What the part's world matrix is multiplied by from the left.
Mat3 stretch_of(const Scale& scale, const Scene& scene, PartId part, const Vec3& f) {
  if (f.x == f.y && f.y == f.z) return Mat3::diagonal(f);
  if (scale.axes.kind != AxesKind::Local) {
    const Mat3 frame = frame_for(scale, scene, part);
    return frame * (Mat3::diagonal(f) * transpose(frame));
  }
  const Mat3 world = world_of(scene, part).linear;
  const auto back = inverse(world);
  return back ? world * (Mat3::diagonal(f) * *back) : Mat3::diagonal(f);
}

Result<Placement> stretched(const Scale& scale, const Scene& scene, PartId part, const Vec3& f, const Mat3& stretch) {
  Placement placement = scene.part(part).placement;
  const bool even = f.x == f.y && f.y == f.z;
  if (scale.axes.kind == AxesKind::Local || even) {
    const Mat3 parent = parent_world_of(scene, part).linear;
    const Box box = own_box(scene, part);
    for (int i = 0; i < 3; ++i) {
      const auto axis = static_cast<std::size_t>(i);
      // A typed size under a parent that does not scale is reached from the mesh itself, not from what it was before.
      const bool direct = scale.axes.kind == AxesKind::Local && scale.size[axis] && !uses_it(*scale.size[axis]) &&
                          parent == Mat3{} && placement.skew == Vec3{} && scale.like == kNoPart;
      const double sign = placement.scale[i] < 0 ? -1 : 1;
      placement.scale[i] = direct ? sign * scale.size[axis]->value / box.size()[i] : placement.scale[i] * f[i];
    }
    return placement;
  }
  const Mat3 parent = parent_world_of(scene, part).linear;
  if (parent == Mat3{}) return with_linear(placement, stretch * world_of(scene, part).linear);
  const auto back = inverse(parent);
  if (!back) return fail(fmt::format("\"{}\" belongs to a part that is flattened.", scene.part(part).name));
  return with_linear(placement, *back * (stretch * world_of(scene, part).linear));
}

// The factors that bring From to To, as far as it can be reached with the still point where it is.
Result<Vec3> factors_to_reach(const Scale& scale, const Scene& scene, PartId part, const std::vector<PartId>& parts) {
  if (const auto ok = check_from_moves(scene, parts, *scale.from); !ok) return tl::unexpected(ok.error());
  if (const auto ok = check_to_stays(scene, parts, *scale.to); !ok) return tl::unexpected(ok.error());
  const auto from = find_tack(scene, *scale.from), to = find_tack(scene, *scale.to);
  if (!from || !to) return tl::unexpected(from ? to.error() : from.error());
  const auto still = still_point(scale.hold, scene, part, parts, scale.axes);
  if (!still) return tl::unexpected(still.error());
  // Along Local axes a skewed part grows along its own columns, which are not square.
  const auto back = scale.axes.kind == AxesKind::Local ? inverse(world_of(scene, part).linear)
                                                       : std::optional(transpose(frame_for(scale, scene, part)));
  if (!back) return fail(fmt::format("\"{}\" is flattened.", scene.part(part).name));
  const Vec3 now = *back * (from->point - *still), wanted = *back * (to->point - *still);
  Vec3 f{1, 1, 1};
  if (scale.evenly) {
    const double share = dot(now, wanted) / length_squared(now);
    if (!std::isfinite(share) || share == 0)
      return fail(fmt::format("Growing evenly does not bring the {} nearer.", tack_words(scene, *scale.from)), {},
                  "Hold another place still.");
    return Vec3{share, share, share};
  }
  for (int i = 0; i < 3; ++i) {
    if (!scale.along[static_cast<std::size_t>(i)]) continue;
    f[i] = wanted[i] / now[i];
    if (!(std::abs(now[i]) > 1e-9 * length(now)) || !std::isfinite(f[i]))
      return fail(fmt::format("The {} is level with what stays along {}: no factor moves it there.",
                              tack_words(scene, *scale.from), "XYZ"[i]),
                  {}, "Hold another place still, or choose other axes.");
    if (!(std::abs(f[i]) > 1e-12))
      return fail(fmt::format("\"{}\" would be flattened along {}.", scene.part(part).name, "XYZ"[i]));
  }
  return f;
}

}  // namespace

Vec3 size_of(const Scene& scene, PartId part, const std::vector<PartId>& parts, const Axes& axes, bool as_one) {
  if (axes.kind == AxesKind::Local) {
    const Vec3 size = own_box(scene, part).size();
    const Mat3 world = world_of(scene, part).linear;
    return {size.x * length(world.column[0]), size.y * length(world.column[1]), size.z * length(world.column[2])};
  }
  const Mat3 frame = squared_up(axes_frame(scene, part, axes).linear);
  return (as_one ? box_along(scene, parts, frame) : box_along(scene, part, frame)).size();
}

Result<Vec3> factors_for(const Scale& scale, const Scene& scene, PartId part, const std::vector<PartId>& parts,
                         const std::optional<Vec3>& known) {
  if (scale.from && scale.to && scale.like == kNoPart) return factors_to_reach(scale, scene, part, parts);
  Vec3 f{1, 1, 1};
  const bool needs_size = any_given(scale.size) || scale.like != kNoPart;
  const Vec3 now = known ? *known : needs_size ? size_of(scene, part, parts, scale.axes, together(scale)) : Vec3{};
  Vec3 wanted;
  std::array<bool, 3> sized{};
  if (scale.like != kNoPart) {
    if (!scene.contains(scale.like)) return fail("The part to be as big as is no longer there.");
    wanted = size_of(scene, scale.like, {scale.like}, scale.axes, false);
    sized = scale.along;
  } else {
    for (std::size_t i = 0; i < 3; ++i) {
      if (!scale.size[i]) continue;
      const auto value = evaluate(*scale.size[i], EntryKind::Length, now[static_cast<int>(i)], scene);
      if (!value) return tl::unexpected(value.error());
      wanted[static_cast<int>(i)] = *value;
      sized[i] = true;
    }
  }
  for (std::size_t i = 0; i < 3; ++i) {
    const int axis = static_cast<int>(i);
    if (sized[i]) {
      const auto factor = factor_for_size(scene, part, now[axis], wanted[axis], i);
      if (!factor) return tl::unexpected(factor.error());
      f[axis] = *factor;
    } else if (scale.like == kNoPart && scale.factor[i]) {
      const auto factor = evaluate(*scale.factor[i], EntryKind::Factor, 1.0, scene);
      if (!factor) return tl::unexpected(factor.error());
      if (!std::isfinite(*factor) || *factor == 0)
        return fail(fmt::format("\"{}\" cannot have a factor of {} along {}: it would be flattened.",
                                scene.part(part).name, show_number(*factor, 4).text, "XYZ"[i]),
                    "factor");
      f[axis] = *factor;
    }
  }
  if (scale.evenly && scale.like == kNoPart)
    for (int i = 0; i < 3; ++i)
      if (scale.size[static_cast<std::size_t>(i)] || scale.factor[static_cast<std::size_t>(i)])
        return Vec3{f[i], f[i], f[i]};
  if (scale.evenly && scale.like != kNoPart) {
    // As big as another part in all: the largest factor that keeps it within the other along the axes named.
    double least = std::numeric_limits<double>::infinity();
    for (int i = 0; i < 3; ++i)
      if (scale.along[static_cast<std::size_t>(i)]) least = std::min(least, f[i]);
    return Vec3{least, least, least};
  }
  return f;
}

Result<Scene> apply(const Scale& scale, const Scene& scene) {
  const auto parts = movable(scene, scale.what);
  if (!parts) return tl::unexpected(parts.error());
  const bool like = scale.like != kNoPart;
  const bool reaches = scale.from && scale.to;
  if (!like && !reaches && !any_given(scale.size) && !any_given(scale.factor))
    return fail("No size and no factor is given.");
  for (std::size_t i = 0; i < 3; ++i)
    if (scale.size[i] && scale.factor[i])
      return fail(fmt::format("Along {} both a size and a factor are given.", "XYZ"[i]), {}, "Give one of them.");
  if (!like && !reaches && scale.evenly && count_of(scale.size) + count_of(scale.factor) > 1)
    return fail("Evenly takes one size or one factor.", "evenly", "Leave the others out, or scale freely.");
  if ((like || reaches) && !scale.along[0] && !scale.along[1] && !scale.along[2])
    return fail("No axis is named along which it shall grow.", "along");
  if (like)
    for (const PartId id : *parts)
      if (is_within(scene, scale.like, id))
        return fail(fmt::format("\"{}\" cannot be made as big as itself or a part below it.", scene.part(id).name));
  // What all share is found once: a box of all looks at all of them.
  std::optional<Vec3> shared_still, shared_factors, shared_size;
  if (together(scale) && scale.hold.kind == About::Kind::AllBox) {
    const Mat3 frame = frame_for(scale, scene, parts->front());
    if (const Box box = box_along(scene, *parts, frame); !box.empty()) {
      shared_still = frame * box.at(scale.hold.fraction);
      shared_size = box.size();
    }
  }
  if (is_shared(scale.hold) && !shared_still) {
    const auto still = still_point(scale.hold, scene, parts->front(), *parts, scale.axes);
    if (!still) return tl::unexpected(still.error());
    shared_still = *still;
  }
  if (together(scale)) {
    const auto f = factors_for(scale, scene, parts->front(), *parts, shared_size);
    if (!f) return tl::unexpected(f.error());
    shared_factors = *f;
  }
  std::optional<Mat3> shared_stretch;
  if (shared_factors) shared_stretch = stretch_of(scale, scene, parts->front(), *shared_factors);
  Scene result = scale.leave_copy ? with_copies_left(scene, *parts) : scene;
  for (const PartId id : *parts) {
    const Result<Vec3> f = shared_factors ? Result<Vec3>(*shared_factors) : factors_for(scale, scene, id, *parts);
    if (!f) return tl::unexpected(f.error());
    const Result<Vec3> still =
        shared_still ? Result<Vec3>(*shared_still) : still_point(scale.hold, scene, id, *parts, scale.axes);
    if (!still) return tl::unexpected(still.error());
    const Mat3 stretch = shared_stretch ? *shared_stretch : stretch_of(scale, scene, id, *f);
    const auto placement = stretched(scale, scene, id, *f, stretch);
    if (!placement) return tl::unexpected(placement.error());
    result.place(id, *placement);
    const Affine world = world_of(scene, id);
    const Vec3 pivot = world * scene.part(id).placement.pivot;
    if (pivot == *still) continue;
    if (const auto ok = put_pivot(result, id, *still + stretch * (pivot - *still)); !ok)
      return tl::unexpected(ok.error());
    if (is_shared(scale.hold)) continue;
    // The held point is measured again in the part's own coordinates, and put right once.
    const auto back = inverse(world);
    if (!back) continue;
    const Vec3 own = *back * *still;
    const Affine now = world_of(result, id);
    const Vec3 off = *still - now * own;
    const Placement kept = result.part(id).placement;
    if (!put_pivot(result, id, now * kept.pivot + off) || distance(world_of(result, id) * own, *still) >= length(off))
      result.place(id, kept);
  }
  return result;
}

std::optional<PadBox> pad_box(const Scene& scene, const std::vector<PartId>& what) {
  const std::vector<PartId> parts = topmost(scene, what);
  if (parts.empty()) return std::nullopt;
  const bool one = parts.size() == 1;
  const Box box = one ? own_box(scene, parts.front()) : box_along(scene, parts, Mat3{});
  if (box.empty()) return std::nullopt;
  const Affine world = one ? world_of(scene, parts.front()) : Affine{};
  const Vec3 size = box.size();
  PadBox pads{world * Affine{Mat3::diagonal(size), box.low}, {}};
  for (int i = 0; i < 3; ++i) pads.flat[static_cast<std::size_t>(i)] = !(size[i] > 0);
  return pads;
}

Result<Scale> sized_by_pad(const Scene& scene, const std::vector<PartId>& what, const Vec3& fraction, const Vec3& shift,
                           bool evenly, double step, bool from_zero) {
  const auto pads = pad_box(scene, what);
  if (!pads) return fail("There is nothing to size.");
  Scale scale;
  scale.what = what;
  const bool one = topmost(scene, what).size() == 1;
  scale.axes = one ? AxesKind::Local : AxesKind::World;
  scale.hold.kind = one ? About::Kind::OwnBox : About::Kind::AllBox;
  scale.hold.fraction = Vec3{1, 1, 1} - fraction;
  scale.evenly = evenly;
  const auto on_step = [&](double now, double size) {
    return !(step > 0) ? size : from_zero ? stepped(size, step) : now + stepped(size - now, step);
  };
  const Vec3 diagonal = pads->from_fractions.linear * (fraction - scale.hold.fraction);
  std::optional<double> share;
  if (evenly) share = 1 + dot(shift, diagonal) / std::max(1e-300, dot(diagonal, diagonal));
  for (int i = 0; i < 3; ++i) {
    if (fraction[i] == 0.5) continue;
    const Vec3 side = pads->from_fractions.linear.column[static_cast<std::size_t>(i)];
    const double now = length(side);
    if (!(now > 0)) continue;
    const double outward = fraction[i] > 0.5 ? 1 : -1;
    const double size = on_step(now, share ? now * *share : now + outward * dot(shift, side) / now);
    if (size > 0)
      scale.size[static_cast<std::size_t>(i)] = Amount{size};
    else if (size < 0)
      scale.factor[static_cast<std::size_t>(i)] = Amount{size / now};
    else
      return fail("A size is more than 0.");
    if (evenly) break;
  }
  return scale;
}

Sentence sentence(const Scale& scale, const Scene& scene, Tense tense, const LengthUnit& unit) {
  const bool past = tense == Tense::Past;
  std::vector<PartId> parts;
  for (const PartId id : topmost(scene, scale.what)) parts.push_back(id);
  Sentence s;
  s.push_back({past ? "Made " : "Make "});
  if (scale.leave_copy) s.push_back({"a copy of "});
  s.push_back({scale.what.empty() ? "a part" : names_of(scene, scale.what), Blank::What, scale.what.empty()});
  s.push_back({" "});
  // Sizes and factors as they will be; "several" where parts differ.
  std::array<std::string, 3> sizes, factors;
  for (std::size_t i = 0; i < 3; ++i) {
    sizes[i] = scale.size[i] ? shown(*scale.size[i], EntryKind::Length, unit) : std::string();
    factors[i] = scale.factor[i] ? shown(*scale.factor[i], EntryKind::Factor) : std::string();
  }
  for (const PartId id : parts) {
    const Vec3 now = size_of(scene, id, parts, scale.axes, together(scale));
    // A verb that still lacks what it says shows sizes as they are.
    const auto f = factors_for(scale, scene, id, parts, now);
    const Vec3 factor = f.value_or(Vec3{1, 1, 1});
    for (int i = 0; i < 3; ++i) {
      const auto axis = static_cast<std::size_t>(i);
      const std::string size = show_length(std::abs(factor[i]) * now[i], unit, 4).text;
      const std::string times = show_number(factor[i], 6).text;
      if (!scale.size[axis] && sizes[axis] != size) sizes[axis] = sizes[axis].empty() ? size : "several";
      if (!scale.factor[axis] && factors[axis] != times) factors[axis] = factors[axis].empty() ? times : "several";
    }
    if (together(scale)) break;  // they are measured as one: the first says it for all
  }
  if (scale.like != kNoPart) {
    const Part* other = scene.find(scale.like);
    s.push_back({"as big as "});
    s.push_back({other ? other->name : "a part that is gone", Blank::Like, !other});
    s.push_back({" along "});
    std::string along;
    for (std::size_t i = 0; i < 3; ++i)
      if (scale.along[i]) along += (along.empty() ? "" : " and ") + std::string(1, "XYZ"[i]);
    s.push_back({along.empty() ? "no axis" : along, Blank::LikeAxes});
    s.push_back({" of "});
  } else {
    for (std::size_t i = 0; i < 3; ++i) {
      s.push_back({sizes[i].empty() ? "0 mm" : sizes[i], Blank(int(Blank::SizeX) + int(i))});
      s.push_back({i < 2 ? " × " : " big, that is × "});
    }
    for (std::size_t i = 0; i < 3; ++i) {
      s.push_back({factors[i].empty() ? "1" : factors[i], Blank(int(Blank::FactorX) + int(i))});
      s.push_back({i < 2 ? " · " : ", along "});
    }
  }
  s.push_back({axes_words(scale.axes, scene), Blank::Axes});
  s.push_back({" axes, holding "});
  s.push_back({about_words(scale.hold, scene, scale.what), Blank::Hold});
  s.push_back({" still, "});
  s.push_back({scale.evenly ? "evenly" : "freely", Blank::Evenly});
  if (!past && scale.like == kNoPart) {
    s.push_back({", or as big as "});
    s.push_back({"a part", Blank::Like, true});
  }
  if ((!past && scale.like == kNoPart) || (scale.from && scale.to)) {
    const PartId own = scale.what.size() == 1 ? scale.what.front() : kNoPart;
    s.push_back({past ? ", so that " : ", or so that "});
    s.push_back(tack_word(scene, scale.from, Blank::From, "a place on it", own));
    s.push_back({past ? " reached " : " reaches "});
    s.push_back(tack_word(scene, scale.to, Blank::To, "a place"));
    if (scale.along != kAllAxes && !scale.evenly) {
      s.push_back({" along "});
      s.push_back({axes_named(scale.along), Blank::LikeAxes});
    }
  }
  s.push_back({"."});
  return s;
}

Json to_json(const Scale& scale, const Scene& scene) {
  Json j{{"verb", "scale"}, {"what", parts_to_json(scale.what, scene)}, {"axes", axes_to_json(scale.axes, scene)}};
  if (scale.like != kNoPart) {
    j["like"] = path_of(scene, scale.like);
    j["along"] = axis_letters(scale.along);
  } else if (scale.from && scale.to) {
    j["from"] = address_text(scene, *scale.from);
    j["to"] = address_text(scene, *scale.to);
    if (scale.along != kAllAxes) j["along"] = axis_letters(scale.along);
  } else {
    if (any_given(scale.size)) j["size"] = amounts_to_json(scale.size);
    if (any_given(scale.factor)) j["factor"] = amounts_to_json(scale.factor);
  }
  j["hold"] = about_to_json(scale.hold, scene);
  if (scale.evenly) j["evenly"] = true;
  if (scale.leave_copy) j["copy"] = true;
  return j;
}

Result<Scale> scale_from_json(const Json& json, const Scene& scene) {
  if (const auto ok = check_keys(
          json, {"verb", "what", "axes", "size", "factor", "hold", "evenly", "like", "along", "copy", "from", "to"});
      !ok)
    return tl::unexpected(ok.error());
  Scale scale;
  auto what = what_from_json(json, scene);
  if (!what) return tl::unexpected(what.error());
  scale.what = std::move(*what);
  if (json.contains("axes")) {
    const auto axes = axes_in(json, scene);
    if (!axes) return tl::unexpected(axes.error());
    scale.axes = *axes;
  }
  for (const auto& [key, kind, slot] :
       {std::tuple{"size", EntryKind::Length, &scale.size}, std::tuple{"factor", EntryKind::Factor, &scale.factor}}) {
    if (!json.contains(key)) continue;
    // One number alone is the same factor along all axes.
    if (std::string_view(key) == "factor" && (json[key].is_number() || json[key].is_string())) {
      auto amount = amount_from_json(json[key], kind, key, scene);
      if (!amount) return tl::unexpected(amount.error());
      *slot = {*amount, *amount, *amount};
      continue;
    }
    auto amounts = amounts_from_json(json[key], kind, key, scene);
    if (!amounts) return tl::unexpected(amounts.error());
    *slot = std::move(*amounts);
  }
  if (json.contains("hold")) {
    const auto hold = about_from_json(json["hold"], "hold", scene);
    if (!hold) return tl::unexpected(hold.error());
    scale.hold = *hold;
  }
  for (const auto& [key, slot] : {std::pair{"evenly", &scale.evenly}, {"copy", &scale.leave_copy}}) {
    const auto flag = flag_in(json, key);
    if (!flag) return tl::unexpected(flag.error());
    *slot = *flag;
  }
  if (json.contains("like")) {
    const auto part = json["like"].is_string() ? find_by_path(scene, json["like"].get_ref<const std::string&>())
                                               : fail("This should name a part.", "like");
    if (!part) return tl::unexpected(part.error());
    scale.like = *part;
  }
  if (const auto ok = places_from_json(json, scene, scale.from, scale.to); !ok) return tl::unexpected(ok.error());
  if (scale.from && (scale.like != kNoPart || any_given(scale.size) || any_given(scale.factor)))
    return fail("Either a size, a factor, a part to be as big \"like\", or From and To.", "from");
  if (json.contains("along")) {
    if (scale.like == kNoPart && !scale.from)
      return fail("\"along\" goes with \"like\", or with From and To.", "along");
    const auto axes = axis_letters_from_json(json["along"], "along");
    if (!axes) return tl::unexpected(axes.error());
    scale.along = *axes;
  }
  if (scale.like == kNoPart && !scale.from && !any_given(scale.size) && !any_given(scale.factor))
    return fail("Scale needs a \"size\", a \"factor\", \"from\" and \"to\", or a part to be as big \"like\".");
  return scale;
}

}  // namespace tack
