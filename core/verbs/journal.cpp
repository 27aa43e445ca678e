#include "core/verbs/journal.h"

#include <atomic>

namespace tack {
namespace {

// The parts that `after` has and `before` has not, in the order they were added: their ids rise.
std::vector<PartId> made_between(const Scene& before, const Scene& after) {
  std::vector<PartId> made;
  if (after.size() <= before.size() && after.id_limit() == before.id_limit()) return made;
  for (const PartId id : after.in_tree_order())
    if (!before.contains(id)) made.push_back(id);
  std::sort(made.begin(), made.end());
  return made;
}

// Of the whole process: states of a copy, and of another record, are never taken for each other.
std::size_t fresh_serial() {
  static std::atomic<std::size_t> next{1};
  return next++;
}

}  // namespace

Journal::Journal(Scene start) : states_{State{nullptr, fresh_serial()}}, now_{std::move(start), {}} {}

Result<Journal::StepPtr> Journal::make_step(const Verb& verb, Scene before, const std::vector<PartId>& ids,
                                            const Scene* would_be) {
  id_floor_ = std::max({id_floor_, before.id_limit(), scene().id_limit()});
  Result<Scene> after;
  if (would_be && would_be->id_limit() == before.id_limit()) {
    after = *would_be;
  } else {
    Scene start = before;
    start.expect_ids(ids, id_floor_);
    after = tack::apply(verb, start);
    if (!after) return tl::unexpected(after.error());
  }
  after->expect_ids({}, id_floor_);
  id_floor_ = std::max(id_floor_, after->id_limit());
  Step step{verb, std::move(*after), {}, {}, {}, false, std::nullopt, nullptr};
  step.words = sentence(verb, before, Tense::Past, kMillimetres, &step.after);
  step.remark = remark(verb, before, step.after);
  step.made = made_between(before, step.after);
  return std::make_shared<const Step>(std::move(step));
}

Journal::Link::~Link() {
  auto next = std::move(before);
  while (next && next.use_count() == 1) next = std::move(const_cast<Link&>(*next).before);
}

Journal::Chain Journal::first(std::size_t count) const {
  Chain chain = states_[at_].steps;
  while (chain && chain->count > count) chain = chain->before;
  return chain;
}

void Journal::push(Chain steps) {
  states_.resize(at_ + 1);
  states_.push_back({std::move(steps), fresh_serial()});
  ++at_;
  show();
}

// Only what differs from what was shown before is put in place of it.
void Journal::show() {
  std::vector<StepPtr> changed;
  Chain chain = states_[at_].steps;
  const std::size_t count = chain ? chain->count : 0;
  for (; chain; chain = chain->before) {
    if (chain->count <= now_.steps.size() && now_.steps[chain->count - 1] == chain->step) break;
    changed.push_back(chain->step);
  }
  now_.steps.resize(count - changed.size());
  now_.steps.insert(now_.steps.end(), changed.rbegin(), changed.rend());
}

void Journal::undo() {
  if (!can_undo()) return;
  --at_;
  show();
}

void Journal::redo() {
  if (!can_redo()) return;
  ++at_;
  show();
}

void Journal::replay(Chain& chain, const std::vector<StepPtr>& steps, std::size_t from) {
  for (std::size_t i = from; i < steps.size(); ++i) {
    const Step& old = *steps[i];
    Result<StepPtr> step = nullptr;
    if (!old.left_out) step = make_step(old.verb, scene_after(chain), old.made);
    if (!old.left_out && step) {
      chain = std::make_shared<const Link>(std::move(*step), chain);
      continue;
    }
    Step idle = old;
    if (!old.worked_on) idle.worked_on = std::make_shared<const Scene>(i == 0 ? now_.start : steps[i - 1]->after);
    idle.after = scene_after(chain);
    idle.problem = step ? std::nullopt : std::optional(step.error());
    chain = std::make_shared<const Link>(std::make_shared<const Step>(std::move(idle)), chain);
  }
}

Result<void> Journal::add(const Verb& verb, const Scene* would_be) {
  auto step = make_step(verb, scene(), {}, would_be);
  if (!step) return tl::unexpected(step.error());
  push(std::make_shared<const Link>(std::move(*step), states_[at_].steps));
  return {};
}

void Journal::add_idle(const Verb& verb, bool left_out, std::optional<Problem> problem) {
  Step step{verb, scene(), {}, {}, {}, left_out, std::move(problem), std::make_shared<const Scene>(scene())};
  step.words = sentence(verb, scene(), Tense::Past);
  push(std::make_shared<const Link>(std::make_shared<const Step>(std::move(step)), states_[at_].steps));
}

void Journal::settle(Scene scene) {
  id_floor_ = std::max(id_floor_, scene.id_limit());
  if (now_.steps.empty()) {
    *this = Journal(std::move(scene));
    return;
  }
  Step last = *now_.steps.back();
  last.after = std::move(scene);
  Chain chain =
      std::make_shared<const Link>(std::make_shared<const Step>(std::move(last)), first(now_.steps.size() - 1));
  states_.assign(chain->count + 1, {});
  for (Chain step = chain; step; step = step->before) states_[step->count].steps = step;
  for (State& state : states_) state.serial = fresh_serial();
  at_ = states_.size() - 1;
  show();
}

Result<void> Journal::amend_last(const Verb& verb) {
  if (record().steps.empty()) return fail("There is no step to change.");
  return amend(record().steps.size() - 1, verb);
}

Result<void> Journal::amend(std::size_t number, const Verb& verb) {
  if (number >= now_.steps.size()) return fail("There is no step to change.");
  auto step = make_step(verb, now_.before(number), now_.steps[number]->made);
  if (!step) return tl::unexpected(step.error());
  Chain chain = std::make_shared<const Link>(std::move(*step), first(number));
  replay(chain, now_.steps, number + 1);
  push(std::move(chain));
  return {};
}

void Journal::leave_out(const std::vector<std::size_t>& numbers, bool out) {
  std::vector<StepPtr> steps = now_.steps;
  std::size_t from = steps.size();
  for (const std::size_t number : numbers) {
    if (number >= steps.size() || steps[number]->left_out == out) continue;
    Step step = *steps[number];
    step.left_out = out;
    step.problem.reset();
    steps[number] = std::make_shared<const Step>(std::move(step));
    from = std::min(from, number);
  }
  if (from == steps.size()) return;
  Chain chain = first(from);
  replay(chain, steps, from);
  push(std::move(chain));
}

void Journal::remove(std::size_t number) {
  if (number >= now_.steps.size()) return;
  Chain chain = first(number);
  replay(chain, now_.steps, number + 1);
  push(std::move(chain));
}

std::size_t Journal::problems() const {
  return static_cast<std::size_t>(std::count_if(record().steps.begin(), record().steps.end(),
                                                [](const StepPtr& s) { return s->problem.has_value(); }));
}

}  // namespace tack
