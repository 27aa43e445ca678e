#include "core/fit/ties.h"

#include <fmt/format.h>

#include <deque>

#include "core/fit/closeness.h"
#include "core/fit/measure.h"
#include "core/math/degrees.h"

namespace tack {
namespace {

double radians(double degrees) { return degrees * 0.017453292519943295; }

// How far From is turned away from what the tie asks (degrees); nullopt when it asks nothing that can be measured.
std::optional<double> turned_away(const Tie& tie, const Tack& from, const Tack& to) {
  if (tie.facing == Facing::AsIs || !from.direction || !to.direction) return std::nullopt;
  double angle = angle_between(*from.direction, tie.facing == Facing::Facing ? -*to.direction : *to.direction);
  if (tie.matched && from.roll && to.roll)
    angle = std::max(angle, angle_between(*from.roll, rotation_about(*to.direction, tie.roll) * *to.roll));
  return angle;
}

// How far a turn of the part moves what lies farthest out on it, for a radian.
double reach_about(const Scene& scene, const Tack& from) {
  const Part* part = scene.find(from.address.part);
  if (!part || !part->mesh) return 1;
  const Affine world = world_of(scene, from.address.part);
  double reach = 0;
  for (const Vec3& corner : part->mesh->box().corners()) reach = std::max(reach, distance(from.point, world * corner));
  return reach;
}

}  // namespace

TieState state_of(const Tie& tie, const Scene& scene, double touch) {
  TieState state;
  state.kind = TieState::Kind::Lost;
  bool exact = true, touching = true;
  for (std::size_t i = 0; i < tie.pairs.size(); ++i) {
    const auto from = find_tack(scene, tie.pairs[i].from), to = find_tack(scene, tie.pairs[i].to);
    if (!from || !to) {
      state = {};
      state.kind = TieState::Kind::Lost;
      state.pair = i;
      state.problem = from ? to.error() : from.error();
      return state;
    }
    Vec3 target = to->point;
    const bool single = tie.pairs.size() == 1;
    if (i == 0 && tie.gap != 0 && to->direction) target += *to->direction * tie.gap;
    Vec3 off = target - from->point;
    if (single && tie.along != kAllAxes) {
      const Mat3 axes = true_axes(scene, tie.pairs[i].from.part, tie.axes);
      Vec3 watched;
      for (int k = 0; k < 3; ++k) {
        const double along = dot(axes.column[k], off);
        if (tie.along[static_cast<std::size_t>(k)])
          watched += axes.column[k] * along;
        else
          state.beyond[k] = along;
      }
      off = watched;
    }
    const double gap = length(off);
    if (i == 0 || gap > state.gap) {
      state.pair = i;
      state.from = from->point;
      state.target = target;
      state.off = off;
      state.gap = gap;
    }
    exact &= gap <= exact_bound(scene, tie.pairs[i].from, tie.pairs[i].to);
    touching &= gap <= touch;
    if (!single) continue;
    state.angle = turned_away(tie, *from, *to);
    if (!state.angle) continue;
    exact &= radians(*state.angle) <= kExactTurn;
    touching &= radians(*state.angle) * reach_about(scene, *from) <= touch;
  }
  using Kind = TieState::Kind;
  state.kind = tie.suspended ? Kind::Suspended : exact ? Kind::Exact : touching ? Kind::Touching : Kind::Apart;
  return state;
}

namespace {

bool is_ready(const Scene& scene, const TackAddress& address) {
  const Part* part = scene.find(address.part);
  if (!part || !part->mesh) return true;
  switch (address.kind) {
    case TackKind::Face:
    case TackKind::FaceCentre:
    case TackKind::RoundCentre:
    case TackKind::Axis: return part->mesh->features_if_ready() != nullptr;
    case TackKind::Mass: return part->mesh->mass_if_ready() != nullptr;
    case TackKind::BoxPoint:
    case TackKind::Pivot:
    case TackKind::Kept: return true;
    default: return part->mesh->index_if_ready() != nullptr;
  }
}

}  // namespace

TieState state_when_ready(const Tie& tie, const Scene& scene, double touch) {
  const bool ready = std::all_of(tie.pairs.begin(), tie.pairs.end(), [&](const TackPair& pair) {
    return is_ready(scene, pair.from) && is_ready(scene, pair.to);
  });
  return ready ? state_of(tie, scene, touch) : TieState{};
}

bool unchanged(const Tie& tie, const Scene& before, const Scene& after) {
  const auto same = [&](PartId id) {
    if (id == kNoPart) return true;
    for (const Part* p = after.find(id); p; id = p->parent, p = after.find(id))
      if (!before.shares(after, id)) return false;
    return after.contains(id) || id == kNoPart;
  };
  const auto same_place = [&](const TackAddress& a) {
    // What is measured over everything below a part may change without the part.
    const bool tree = a.kind == TackKind::TreeBoxPoint || a.kind == TackKind::WorldBoxPoint || a.kind == TackKind::Mass;
    const Part* part = after.find(a.part);
    return same(a.part) && !(tree && part && !part->children.empty());
  };
  return same(tie.axes.part) && std::all_of(tie.pairs.begin(), tie.pairs.end(),
                                            [&](const TackPair& p) { return same_place(p.from) && same_place(p.to); });
}

double surroundings_of(const Scene& scene, const TackPair& pair) {
  double smaller = 0;
  for (const PartId id : {pair.from.part, pair.to.part}) {
    const Part* part = scene.find(id);
    if (!part || !part->mesh) continue;
    const double extent = world_box_of(*part->mesh, world_of(scene, id)).extent();
    if (extent > 0 && (smaller == 0 || extent < smaller)) smaller = extent;
  }
  return smaller > 0 ? smaller : 10;
}

std::string state_words(const TieState& state, const LengthUnit& unit, double touch) {
  std::string beyond;
  for (int i = 0; i < 3; ++i)
    if (std::abs(state.beyond[i]) > touch)
      beyond += fmt::format(" · {} apart along {}", show_length(std::abs(state.beyond[i]), unit, 3).text, "xyz"[i]);
  switch (state.kind) {
    case TieState::Kind::Suspended: return "suspended";
    case TieState::Kind::Lost: return "lost";
    case TieState::Kind::Waiting: return "being measured";
    default: break;
  }
  const auto kind = state.kind == TieState::Kind::Exact      ? Closeness::Kind::Exact
                    : state.kind == TieState::Kind::Touching ? Closeness::Kind::Within
                                                             : Closeness::Kind::Apart;
  return closeness_words({kind, state.gap, state.angle, touch}, unit) + beyond;
}

namespace {

bool watches_all(const Tie& tie) { return tie.along[0] && tie.along[1] && tie.along[2]; }

std::string watched_axes(const Tie& tie) {
  std::string axes;
  for (std::size_t i = 0; i < 3; ++i)
    if (tie.along[i]) axes += (axes.empty() ? "" : " and ") + std::string(1, "xyz"[i]);
  return axes;
}

}  // namespace

std::string watched_words(const Tie& tie, const TieState& state, const LengthUnit& unit, double touch) {
  TieState watched = state;
  watched.beyond = {};
  std::string words = state_words(watched, unit, touch);
  if (watches_all(tie) || (!holds(state) && state.kind != TieState::Kind::Apart)) return words;
  if (state.kind == TieState::Kind::Exact) return "holds along " + watched_axes(tie);
  return words + " along " + watched_axes(tie);
}

std::string unwatched_words(const TieState& state, const LengthUnit& unit, double touch) {
  std::string words;
  for (int i = 0; i < 3; ++i)
    if (std::abs(state.beyond[i]) > touch)
      words +=
          fmt::format("{}{} {}along {}", words.empty() ? "" : ", ",
                      show_length(std::abs(state.beyond[i]), unit, 3).text, words.empty() ? "apart " : "", "xyz"[i]);
  return words;
}

std::string free_words(const Tie& tie, const TieState& state, double touch) {
  if (watches_all(tie) || !(largest_component(state.beyond) > touch)) return {};
  std::string axes;
  for (std::size_t i = 0; i < 3; ++i)
    if (!tie.along[i]) axes += (axes.empty() ? "" : ", ") + std::string(1, "xyz"[i]);
  return "free along " + axes;
}

std::string tie_words(const Tie& tie, const TieState& state, const LengthUnit& unit, double touch) {
  const std::string watched = watched_words(tie, state, unit, touch), beside = unwatched_words(state, unit, touch);
  return beside.empty() || (!holds(state) && state.kind != TieState::Kind::Apart)
             ? watched
             : watched + "; not watched: " + beside;
}

std::string_view key_for(TieState::Kind kind) {
  constexpr std::string_view kKeys[] = {"exact", "touching", "apart", "suspended", "lost", "waiting"};
  return kKeys[static_cast<std::size_t>(kind)];
}

std::string free_tie_name(const Scene& scene, const std::vector<TackPair>& pairs) {
  const auto name = [&](const TackAddress& address) {
    const Part* part = scene.find(address.part);
    return part ? printable(part->name, 90) : kind_words(address);
  };
  const std::string wanted = name(pairs.front().from) + " to " + name(pairs.front().to);
  return first_free(wanted, [&](const std::string& each) { return scene.tie(each) != nullptr; });
}

namespace {

bool may_move(const Scene& scene, PartId id) {
  if (!scene.contains(id)) return false;
  for (const Part* p = scene.find(id); p; p = scene.find(p->parent))
    if (p->locked) return false;
  return true;
}

bool links(const TieState& state) {
  return state.kind != TieState::Kind::Lost && state.kind != TieState::Kind::Suspended &&
         state.kind != TieState::Kind::Waiting;
}

}  // namespace

TieRings::TieRings(const Scene& scene, const std::vector<TieState>& states) : scene_(scene), states_(states) {
  const std::vector<Tie>& ties = scene.ties();
  for (const Tie& tie : ties)
    if (tie.what.size() == 1) wholes_.insert(tie.what.front());
  for (std::size_t i = 0; i < std::min(ties.size(), states.size()); ++i) {
    const TackPair& pair = ties[i].pairs.front();
    const PartId a = body_of(pair.from.part), b = body_of(pair.to.part);
    if (a == b || !links(states[i])) continue;
    links_at_[a].push_back(links_.size());
    links_at_[b].push_back(links_.size());
    links_.push_back({&ties[i], a, b, states[i].off});
  }
}

// What moves when a part of a ring does: the topmost part above it that was brought as a whole, else the part itself.
PartId TieRings::body_of(PartId id) const {
  PartId body = id;
  for (const Part* p = scene_.find(id); p; id = p->parent, p = scene_.find(id))
    if (wholes_.contains(id)) body = id;
  return body;
}

Result<ClosingError> closing_error(const Scene& scene, std::string_view name) {
  std::vector<TieState> states;
  states.reserve(scene.ties().size());
  for (const Tie& tie : scene.ties()) states.push_back(state_of(tie, scene));
  return TieRings(scene, states).closing_error(name);
}

Result<ClosingError> TieRings::closing_error(std::string_view name) const {
  const Tie* closing = scene_.tie(name);
  if (!closing) return fail(fmt::format("There is no tie \"{}\".", name));
  const auto number = static_cast<std::size_t>(closing - scene_.ties().data());
  const TieState at_closing = number < states_.size() ? states_[number] : TieState{};
  if (at_closing.kind == TieState::Kind::Lost) return tl::unexpected(at_closing.problem);
  if (at_closing.kind == TieState::Kind::Waiting) return fail(fmt::format("\"{}\" is still being measured.", name));
  const Link last{closing, body_of(closing->pairs.front().from.part), body_of(closing->pairs.front().to.part),
                  at_closing.off};
  const auto no_ring = [&] {
    return fail(fmt::format("\"{}\" closes no ring: its parts are not tied together by other ties.", name));
  };
  if (last.a == last.b) return no_ring();

  // The shortest way from To's part round to From's, breadth first; among ways of one length the ties made first.
  std::map<PartId, const Link*> came_by{{last.b, nullptr}};
  std::deque<PartId> next{last.b};
  while (!next.empty() && !came_by.contains(last.a)) {
    const PartId at = next.front();
    next.pop_front();
    const auto here = links_at_.find(at);
    if (here == links_at_.end()) continue;
    for (const std::size_t i : here->second) {
      const Link& link = links_[i];
      const PartId other = link.a == at ? link.b : link.a;
      if (link.tie != closing && came_by.try_emplace(other, &link).second) next.push_back(other);
    }
  }
  if (!came_by.contains(last.a)) return no_ring();
  std::vector<const Link*> ring{&last};
  std::vector<PartId> parts{last.a};
  for (PartId at = last.a; at != last.b;) {
    const Link* link = came_by[at];
    ring.push_back(link);
    at = link->a == at ? link->b : link->a;
    parts.push_back(at);
  }
  std::reverse(ring.begin(), ring.end());
  std::reverse(parts.begin(), parts.end());

  ClosingError result;
  result.angle = at_closing.angle;
  const std::size_t count = parts.size();
  std::vector<Vec3> wanted(count);  // what part i + 1 would have to be shifted against part i
  for (std::size_t i = 0; i < count; ++i) {
    wanted[i] = ring[i]->a == parts[(i + 1) % count] ? ring[i]->off : -ring[i]->off;
    result.error -= wanted[i];  // as From's part of the closing tie sees it
    result.ties.push_back(ring[i]->tie->name);
    result.parts.push_back({parts[i], {}, !may_move(scene_, parts[i])});
  }
  const auto stays = [](const RingShift& p) { return p.stays; };
  // Where nothing is locked the part that is met stays, so that the ring does not float.
  if (std::none_of(result.parts.begin(), result.parts.end(), stays)) result.parts.front().stays = true;
  if (std::all_of(result.parts.begin(), result.parts.end(), stays))
    return fail(fmt::format("No part of the ring that \"{}\" closes may move.", name), {}, "Unlock one of them.");
  // From one part that stays to the next, once round: what lies between takes its share step by step.
  const auto fixed =
      static_cast<std::size_t>(std::find_if(result.parts.begin(), result.parts.end(), stays) - result.parts.begin());
  for (std::size_t begin = 0; begin < count;) {
    const auto at = [&](std::size_t step) { return (fixed + step) % count; };
    std::size_t end = begin + 1;
    while (end < count && !result.parts[at(end)].stays) ++end;
    Vec3 sum;
    for (std::size_t i = begin; i < end; ++i) sum += wanted[at(i)];
    const Vec3 share = sum / static_cast<double>(end - begin);
    for (std::size_t i = begin + 1; i < end; ++i)
      result.parts[at(i)].shift = result.parts[at(i - 1)].shift + wanted[at(i - 1)] - share;
    result.worst = std::max(result.worst, length(share));
    begin = end;
  }
  return result;
}

}  // namespace tack
