#include "core/verbs/lengthen.h"

#include <fmt/format.h>

#include "core/verbs/about.h"
#include "core/verbs/live.h"
#include "core/verbs/rigid.h"

namespace tack {
namespace {

using Links = MeshLinks;

// A number that a product has missed by rounding: what is nothing beside the others is 0.
Vec3 snapped(Vec3 v) {
  const double most = largest_component(v);
  for (int i = 0; i < 3; ++i)
    if (std::abs(v[i]) <= 1e-12 * most) v[i] = 0;
  return v;
}

std::string in_millimetres(double mm) { return show_length(mm, kMillimetres, 4).text; }

// --- one direction

class OneWay {
 public:
  OneWay(const Scene& before, const BandInPlace& band, double by, MeshLinks links, PartId by_planes)
      : before_(before), result_(before), band_(band), by_(by), links_(links), by_planes_(by_planes) {}

  Result<Scene> done(const std::vector<PartId>& tops, double offset) {
    for (const PartId id : tops)
      if (auto ok = visit(id, 0, offset); !ok) return tl::unexpected(ok.error());
    return std::move(result_);
  }

 private:
  double share(double height) const {
    const double slack = 1e-9 * (std::abs(band_.low) + std::abs(band_.high) + (band_.high - band_.low));
    return share_of({{}, {}, band_.near, band_.far}, height, std::min(slack, (band_.far - band_.near) / 4));
  }

  // Puts the frame of a part where it was but for a shift along the direction; `inherited` of that it has already.
  Result<void> shift(PartId id, double by, double inherited) {
    const Part& was = before_.part(id);
    const Part& is = result_.part(id);
    const bool pivot_moved = was.placement.pivot != is.placement.pivot;
    if (by == inherited && !pivot_moved) return {};
    if (by != inherited && is.locked) return fail(fmt::format("\"{}\" is locked.", is.name), {}, "Unlock it in Parts.");
    const Vec3 target = world_of(before_, id) * is.placement.pivot + band_.direction * by;
    if (!pivot_moved && was.parent == kNoPart) {
      // Of a part at the top the position is the pivot in the world: what does not change keeps its digits.
      return put_pivot(result_, id, pivot_in_world(before_, id) + band_.direction * by);
    }
    return put_pivot(result_, id, target);
  }

  Result<void> visit(PartId id, double inherited, double offset) {
    const Part& part = before_.part(id);
    const Reach all = reach_of(before_, {id}, band_.direction);
    if (all.empty()) {
      // A guide, or an empty group: a place.
      const double at = dot(band_.direction, pivot_in_world(before_, id));
      return shift(id, offset + by_ * share(at), inherited);
    }
    const double u0 = share(all.low), u1 = share(all.high);
    if (u0 == u1 || (all.low > band_.near && all.high < band_.far && !part.children.empty() && !part.mesh))
      return shift(id, offset + by_ * (u0 == u1 ? u0 : share((all.low + all.high) / 2)), inherited);
    double moved = offset;
    if (part.mesh) {
      const Reach own = own_reach(before_, id, band_.direction);
      const double low = share(own.low), high = share(own.high);
      const bool between = own.low > band_.near && own.high < band_.far;
      if (low == high || (between && share(own.low) > 0 && share(own.high) < 1)) {
        moved += by_ * (low == high ? low : share((own.low + own.high) / 2));
      } else {
        auto lengthened = lengthen(id, low, high);
        if (!lengthened) return tl::unexpected(lengthened.error());
        moved += *lengthened;
      }
    }
    if (auto ok = shift(id, moved, inherited); !ok) return ok;
    for (const PartId child : part.children)
      if (auto ok = visit(child, moved, offset); !ok) return ok;
    return {};
  }

  // Lengthens the mesh of a part that lies across a plane; how far its frame is shifted besides.
  Result<double> lengthen(PartId id, double low, double high) {
    const Part& part = before_.part(id);
    const Affine world = world_of(before_, id);
    const double per_height = world_per_height(world, band_.direction);
    if (!(per_height > 0)) return fail(fmt::format("\"{}\" is flattened.", part.name));
    if (part.locked) return fail(fmt::format("\"{}\" is locked.", part.name), {}, "Unlock it in Parts.");
    if (part.shape) return lengthen_shape(id, low, high, world);
    // With its instances: what shares its mesh may have been lengthened already, and it with that.
    const bool has_been = links_ == MeshLinks::All && result_.part(id).mesh != part.mesh;
    // Planes that were said for one part by itself count before those that it keeps.
    const auto own = id == by_planes_ ? std::nullopt : own_band(part, world, band_.direction, band_.name);
    if (own) {
      const double by = by_ * (high - low) / per_height;
      if (!(by > -(own->high - own->low)))
        return fail(fmt::format("\"{}\" cannot be shorter by {}: its band is {} long.", part.name,
                                in_millimetres(-by * per_height), in_millimetres((own->high - own->low) * per_height)),
                    "to");
      if (auto ok = has_been ? Result<void>() : lengthen_part(result_, id, {*own, by}, links_); !ok)
        return tl::unexpected(ok.error());
      return by_ * low;
    }
    const Lengthening l{band_in_mesh(world, band_.direction, band_.near, band_.far), by_ / per_height};
    if (auto ok = has_been ? Result<void>() : lengthen_part(result_, id, l, links_); !ok)
      return tl::unexpected(ok.error());
    return 0.0;
  }

  Result<double> lengthen_shape(PartId id, double low, double high, const Affine& world) {
    const Part& part = before_.part(id);
    const LiveShape& live = *part.shape;
    // Which of its own axes the direction is along.
    const Mat3 frame = world.linear * live.frame.linear;
    for (int axis = 0; axis < 3; ++axis) {
      if (!same_way(frame.column[static_cast<std::size_t>(axis)], band_.direction)) continue;
      const double was = length(frame.column[static_cast<std::size_t>(axis)]);
      const double by = by_ * (high - low) / was;
      LiveShape next = live;
      const Dimension d = static_cast<Dimension>(axis);
      if (!has(live.shape.kind, d)) break;
      next.shape[d] += by;
      next.typed[static_cast<std::size_t>(d)].clear();
      if (!(next.shape[d] > 0))
        return fail(fmt::format("\"{}\" cannot be shorter by {}: it is {} long.", part.name, in_millimetres(-by * was),
                                in_millimetres(live.shape[d] * was)),
                    "to");
      const auto given = with_dimensions(result_, id, next, links_ == Links::All ? Copies::All : Copies::Separate);
      if (!given) return tl::unexpected(given.error());
      result_ = *given;
      // Which of its ends its frame stays with: the bottom, or the middle of its width.
      const bool forward = dot(frame.column[static_cast<std::size_t>(axis)], band_.direction) > 0;
      const bool from_end = d == Dimension::Height || live.shape.kind == ShapeKind::Line;
      if (!from_end) return by_ * (low + high) / 2;
      return by_ * (forward ? low : high);
    }
    return fail(fmt::format("\"{}\" is a {}: it has no dimension along that direction alone.", part.name,
                            word_of(live.shape.kind)),
                {}, "Make it a mesh first, or change its dimensions.");
  }

  const Scene& before_;
  Scene result_;
  const BandInPlace& band_;
  double by_;
  MeshLinks links_;
  PartId by_planes_;  // the one part whose planes were said
};

}  // namespace

bool same_way(const Vec3& a, const Vec3& b) { return length(cross(normalized(a), normalized(b))) <= 1e-9; }

StretchBand band_in_mesh(const Affine& world, const Vec3& direction, double near, double far) {
  const auto back = inverse(world.linear);
  StretchBand band{{}, {}, 0, 1};
  band.normal = snapped(transpose(world.linear) * direction);
  band.along = snapped(back ? *back * direction : direction);
  // Along a unit normal, so that heights are in mm of the mesh.
  const double size = length(band.normal), shift = dot(direction, world.translation);
  band.normal = band.normal / size;
  band.along = band.along * size;
  band.low = (near - shift) / size;
  band.high = (far - shift) / size;
  return band;
}

double world_per_height(const Affine& world, const Vec3& direction) {
  return length(transpose(world.linear) * direction);
}

// The direction is the x of the frame; its other two axes are nothing and cost nothing.
Reach own_reach(const Scene& scene, PartId id, const Vec3& direction) {
  const Part& part = scene.part(id);
  if (!part.mesh) return {};
  const Box box = box_in_frame(*part.mesh, Affine{transpose(Mat3{{direction, {}, {}}}), {}} * world_of(scene, id));
  return {box.low.x, box.high.x};
}

Reach reach_of(const Scene& scene, const std::vector<PartId>& parts, const Vec3& direction) {
  const Box box = box_along(scene, parts, Mat3{{direction, {}, {}}});
  return {box.low.x, box.high.x};
}

std::optional<StretchBand> own_band(const Part& part, const Affine& world, const Vec3& direction,
                                    const std::string& name) {
  if (!part.bands) return std::nullopt;
  const Vec3 normal = transpose(world.linear) * direction;
  const KeptBand* only = nullptr;
  for (const KeptBand& kept : *part.bands) {
    if (!same_way(kept.band.normal, normal) || (!name.empty() && kept.name != name)) continue;
    if (only && name.empty()) return std::nullopt;
    only = &kept;
  }
  if (!only) return std::nullopt;
  StretchBand band = only->band;
  if (dot(band.normal, normal) < 0) {
    band.normal = -band.normal;
    band.along = -band.along;
    band = {band.normal, band.along, -only->band.high, -only->band.low};
  }
  return band;
}

Result<void> lengthen_part(Scene& scene, PartId id, const Lengthening& l, Links links) {
  Part part = scene.part(id);
  if (part.skin) return fail(fmt::format("\"{}\" is bent by its joints, so its mesh cannot be changed.", part.name));
  if (part.source->frame_used)
    return fail(
        fmt::format("\"{}\" has more than its mesh in the mesh's frame (a camera, a light, copies), which would "
                    "not go along.",
                    part.name));
  const std::vector<PartId> others = instances_of(scene, id);
  if (links == Links::All && part.stretched)
    return fail(fmt::format("\"{}\" has a length of its own: its linked copies do not have its band.", part.name),
                "copies", "Stretch one of those that have the length they share, or this one only.");
  auto mesh = lengthened(*part.mesh, l);
  if (!mesh) return fail(mesh.error().what, part.name);
  const double slack = band_slack(*part.mesh);
  // What hangs on a mesh goes where the mesh goes.
  const auto carry = [&](Part& p) {
    const Vec3 pivot = lengthened(l, p.placement.pivot, slack);
    if (pivot != p.placement.pivot) {
      p.placement.position = p.local * pivot;
      p.placement.pivot = pivot;
    }
    if (p.kept) {
      auto kept = std::make_shared<KeptTacks>(*p.kept);
      for (KeptTack& tack : *kept) {
        if (tack.direction) tack.direction = lengthened_normal(l, tack.point, *tack.direction);
        tack.point = lengthened(l, tack.point, slack);
      }
      p.kept = std::move(kept);
    }
    if (p.bands) {
      auto bands = std::make_shared<KeptBands>(*p.bands);
      for (KeptBand& kept : *bands) kept.band = carried_along(kept.band, l);
      p.bands = std::move(bands);
    }
    // As the file's own mesh sees it, for what else stands beside its vertices there.
    auto since = p.source->lengthened ? *p.source->lengthened : std::vector<Lengthening>{};
    Lengthening own = l;
    if (const auto back = inverse(p.source->baked)) {
      own.band = carried_along(l.band, *back);
      own.by *= (own.band.high - own.band.low) / (l.band.high - l.band.low);
    }
    since.push_back(own);
    p.source.change().lengthened = std::make_shared<const std::vector<Lengthening>>(std::move(since));
  };
  if (links == Links::All)
    for (const PartId other : others) {
      Part copy = scene.part(other);
      for (const Part* p = &copy; p; p = scene.find(p->parent))
        if (p->locked)
          return fail(fmt::format("\"{}\" is an instance of it, and is locked.", copy.name), {},
                      "Unlock it in Parts, or stretch this one only.");
      if (copy.stretched) {
        auto from = std::make_shared<StretchedFrom>(*copy.stretched);
        from->base = *mesh;
        from->longer = true;
        for (Lengthening& later : from->lengths) later.band = carried_along(later.band, l);
        auto longer = stretched(*from);
        if (!longer) return fail(longer.error().what, copy.name);
        copy.mesh = std::move(*longer);
        copy.stretched = std::move(from);
      } else {
        copy.mesh = *mesh;
      }
      carry(copy);
      scene.replace(other, std::move(copy));
    }
  if (links == Links::Separate) part.stretched = nullptr;
  if (links == Links::Own && !others.empty()) {
    auto from = std::make_shared<StretchedFrom>(
        part.stretched ? *part.stretched
                       : StretchedFrom{part.mesh, {}, part.source->carried_mesh, part.source->geometry_in_metres});
    from->lengths.push_back(l);
    part.stretched = std::move(from);
  } else if (links == Links::Own) {
    part.stretched = nullptr;  // nobody shares it
  }
  part.mesh = std::move(*mesh);
  carry(part);
  scene.replace(id, std::move(part));
  return {};
}

Result<Scene> stretched_along(const Scene& scene, const std::vector<PartId>& tops, const BandInPlace& band, double by,
                              double offset, MeshLinks links) {
  const bool alone = tops.size() == 1 && scene.part(tops.front()).children.empty();
  OneWay way(scene, band, by, links, band.from == BandInPlace::From::Typed && alone ? tops.front() : kNoPart);
  return way.done(tops, offset);
}

}  // namespace tack
