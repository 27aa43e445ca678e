#include "core/verbs/tie_history.h"

#include "core/fit/ties.h"

namespace tack {

std::optional<std::size_t> apart_since(const Record& record, const std::string& name, double touch, std::size_t most) {
  const auto apart_in = [&](const Scene& scene) -> std::optional<bool> {
    const Tie* tie = scene.tie(name);
    if (!tie) return std::nullopt;
    const TieState state = state_when_ready(*tie, scene, touch);
    if (state.kind == TieState::Kind::Waiting) return std::nullopt;
    return state.kind == TieState::Kind::Apart;
  };
  if (apart_in(record.scene()) != true) return std::nullopt;
  const Scene* later = &record.scene();
  for (std::size_t step = record.steps.size(); step-- > 0;) {
    if (record.steps.size() - step > most) return std::nullopt;
    const Scene& before = record.before(step);
    const Tie *now = later->tie(name), *was = before.tie(name);
    if (!was) return std::nullopt;  // this step made it, apart from the beginning
    if (*was == *now && unchanged(*now, before, *later)) continue;
    const auto apart = apart_in(before);
    if (!apart) return std::nullopt;
    if (!*apart) return step;
    later = &before;
  }
  return std::nullopt;
}

}  // namespace tack
