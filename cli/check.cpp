// check: do the ties of a scene hold, and where a ring of them does not close, by how much.
#include "cli/answer.h"
#include "cli/commands.h"
#include "core/fit/ties.h"
#include "core/verbs/amount.h"

namespace tack {
namespace {

Json tie_json(const Scene& scene, const Tie& tie, const TieState& state, const TieRings& rings) {
  Json j{{"name", tie.name},
         {"state", key_for(state.kind)},
         {"gap", state.gap},
         {"angle", state.angle ? Json(*state.angle) : Json(nullptr)},
         {"from", address_text(scene, tie.pairs[state.pair].from)},
         {"to", address_text(scene, tie.pairs[state.pair].to)}};
  if (state.kind == TieState::Kind::Lost) {
    j["gap"] = nullptr;
    j["problem"] = sentence(state.problem);
    return j;
  }
  j["off"] = triple(state.off);
  if (state.kind == TieState::Kind::Apart)
    if (const auto closing = rings.closing_error(tie.name))
      j["ring"] = {{"ties", closing->ties}, {"error", length(closing->error)}, {"shared", closing->worst}};
  return j;
}

}  // namespace

int check(const CommandLine& line) {
  const auto document = open(line.file);
  if (!document) return complain(document.error(), 2);
  const Scene& scene = document->scene;
  double touch = kTouch;
  if (!line.tolerance.empty()) {
    const auto amount = amount_from_json(Json(line.tolerance), EntryKind::Length, "--tolerance", scene, 0);
    if (!amount || !(amount->value >= 0))
      return complain(amount ? Problem{"A tolerance is not negative.", "--tolerance", {}} : amount.error(), 2);
    touch = amount->value;
  }
  std::size_t held = 0, apart = 0, lost = 0, suspended = 0;
  Json ties = Json::array();
  std::vector<TieState> states;
  states.reserve(scene.ties().size());
  for (const Tie& tie : scene.ties()) states.push_back(state_of(tie, scene, touch));
  const TieRings rings(scene, states);
  for (std::size_t i = 0; i < states.size(); ++i) {
    const Tie& tie = scene.ties()[i];
    const TieState& state = states[i];
    held += holds(state);
    apart += state.kind == TieState::Kind::Apart;
    lost += state.kind == TieState::Kind::Lost;
    suspended += state.kind == TieState::Kind::Suspended;
    if (line.json)
      ties.push_back(tie_json(scene, tie, state, rings));
    else
      fmt::print("{:<11} {}{}\n", key_for(state.kind), printable(tie.name),
                 state.kind == TieState::Kind::Lost       ? ": " + sentence(state.problem)
                 : state.kind == TieState::Kind::Apart    ? ": " + state_words(state, kMillimetres, touch)
                 : state.kind == TieState::Kind::Touching ? fmt::format(": {} mm", show_number(state.gap, 6).text)
                                                          : std::string());
  }
  if (line.json) {
    const Json out{{"file", line.file}, {"tolerance", touch}, {"hold", held},          {"apart", apart},
                   {"lost", lost},      {"ties", ties},       {"suspended", suspended}};
    print_json(out);
  } else if (scene.ties().empty()) {
    fmt::print("No ties are kept in this file.\n");
  } else {
    fmt::print("{} of {} ties hold{}{}.\n", held, scene.ties().size(),
               suspended > 0 ? fmt::format(", {} suspended", suspended) : "",
               lost > 0 ? fmt::format(", {} lost", lost) : "");
  }
  return lost > 0 ? 2 : apart > 0 ? 1 : 0;
}

}  // namespace tack
