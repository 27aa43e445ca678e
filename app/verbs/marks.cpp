#include "app/verbs/marks.h"

#include "core/fit/measure.h"
#include "core/fit/ties.h"

namespace tack {
namespace {

double span_about(const Scene& scene, const TackAddress& from, const TackAddress& to) {
  return std::max(loupe_span(scene, from), loupe_span(scene, to));
}

void add_ghosts(const Scene& scene, PartId id, const Affine& world, std::vector<std::pair<PartId, Affine>>& ghosts) {
  const Part& part = scene.part(id);
  if (part.mesh) ghosts.emplace_back(id, world);
  for (const PartId child : part.children) add_ghosts(scene, child, world * scene.part(child).local, ghosts);
}

}  // namespace

// A little more than the features about it.
double loupe_span(const Scene& scene, const TackAddress& place) { return 2.6 * feature_size(scene, place); }

Tone tone_of(const Closeness& closeness) { return closeness.kind == Closeness::Kind::Apart ? Tone::Apart : Tone::Good; }

std::optional<Marks::Meeting> meeting_between(const Scene& scene, const TackAddress& from, const TackAddress& to,
                                              const LengthUnit& unit) {
  const auto a = find_tack(scene, from), b = find_tack(scene, to);
  if (!a || !b) return std::nullopt;
  const Measured m = measure(*a, *b);
  const Closeness closeness = closeness_of(m.distance, exact_bound(scene, from, to), unit.touch);
  Marks::Meeting meeting{m.from, m.to, span_about(scene, from, to), {}, {}, Tone::Hint};
  if (means_a_direction(from) && means_a_direction(to)) meeting.angle = m.angle;
  meeting.words = QString::fromStdString(closeness_words(closeness, unit));
  if (closeness.kind != Closeness::Kind::Apart) meeting.tone = Tone::Good;
  return meeting;
}

Marks::Meeting meeting_of(const Scene& scene, const Tie& tie, const TieState& state, const LengthUnit& unit) {
  const TackPair& pair = tie.pairs[state.pair];
  Marks::Meeting meeting{state.from, state.target, span_about(scene, pair.from, pair.to), state.angle, {}, Tone::Hint};
  meeting.words = QString::fromStdString(tie_words(tie, state, unit, unit.touch));
  meeting.tone = holds(state) ? Tone::Good : state.kind == TieState::Kind::Apart ? Tone::Apart : Tone::Hint;
  return meeting;
}

std::optional<Marks::Place> marked_place(const Scene& scene, const TackAddress& place) {
  const auto tack = find_tack(scene, place);
  if (!tack) return std::nullopt;
  return Marks::Place{tack->point, caught_words(scene, place, false)};
}

QString caught_words(const Scene& scene, const TackAddress& place, bool behind) {
  return QString::fromStdString(tack_words(scene, place)) + (behind ? QStringLiteral(" · behind") : QString());
}

std::vector<std::pair<PartId, Affine>> ghosts_of(const Scene& scene, const std::vector<PartId>& parts) {
  std::vector<std::pair<PartId, Affine>> ghosts;
  ghosts.reserve(parts.size());
  for (const PartId id : topmost(scene, parts)) add_ghosts(scene, id, world_of(scene, id), ghosts);
  return ghosts;
}

}  // namespace tack
