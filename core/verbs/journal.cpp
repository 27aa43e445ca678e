#include "core/verbs/journal.h"

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

}  // namespace

Result<Journal::StepPtr> Journal::make_step(const Verb& verb, Scene before, const std::vector<PartId>& ids) {
  id_floor_ = std::max({id_floor_, before.id_limit(), scene().id_limit()});
  Scene start = before;
  start.expect_ids(ids, id_floor_);
  auto after = tack::apply(verb, start);
  if (!after) return tl::unexpected(after.error());
  after->expect_ids({}, 0);
  id_floor_ = std::max(id_floor_, after->id_limit());
  Step step{verb, std::move(*after), sentence(verb, before, Tense::Past), {}, {}, false, std::nullopt};
  step.remark = remark(verb, before, step.after);
  step.made = made_between(before, step.after);
  return std::make_shared<const Step>(std::move(step));
}

void Journal::push(Record record) {
  records_.resize(at_ + 1);
  serials_.resize(at_ + 1);
  records_.push_back(std::move(record));
  serials_.push_back(next_serial_++);
  ++at_;
}

void Journal::replay(Record& record, const std::vector<StepPtr>& steps, std::size_t from) {
  for (std::size_t i = from; i < steps.size(); ++i) {
    const Step& old = *steps[i];
    Result<StepPtr> step = nullptr;
    if (!old.left_out) step = make_step(old.verb, record.scene(), old.made);
    if (!old.left_out && step) {
      record.steps.push_back(std::move(*step));
      continue;
    }
    Step idle = old;
    idle.after = record.scene();
    idle.problem = step ? std::nullopt : std::optional(step.error());
    record.steps.push_back(std::make_shared<const Step>(std::move(idle)));
  }
}

Result<void> Journal::add(const Verb& verb) {
  auto step = make_step(verb, scene(), {});
  if (!step) return tl::unexpected(step.error());
  Record record = this->record();
  record.steps.push_back(std::move(*step));
  push(std::move(record));
  return {};
}

Result<void> Journal::amend_last(const Verb& verb) {
  if (record().steps.empty()) return fail("There is no step to change.");
  return amend(record().steps.size() - 1, verb);
}

Result<void> Journal::amend(std::size_t number, const Verb& verb) {
  const Record& now = record();
  if (number >= now.steps.size()) return fail("There is no step to change.");
  auto step = make_step(verb, now.before(number), now.steps[number]->made);
  if (!step) return tl::unexpected(step.error());
  Record changed{now.start, {now.steps.begin(), now.steps.begin() + static_cast<std::ptrdiff_t>(number)}};
  changed.steps.push_back(std::move(*step));
  replay(changed, now.steps, number + 1);
  push(std::move(changed));
  return {};
}

void Journal::leave_out(std::size_t number, bool out) {
  const Record& now = record();
  if (number >= now.steps.size() || now.steps[number]->left_out == out) return;
  Record changed{now.start, {now.steps.begin(), now.steps.begin() + static_cast<std::ptrdiff_t>(number)}};
  std::vector<StepPtr> steps = now.steps;
  Step step = *steps[number];
  step.left_out = out;
  step.problem.reset();
  steps[number] = std::make_shared<const Step>(std::move(step));
  replay(changed, steps, number);
  push(std::move(changed));
}

void Journal::remove(std::size_t number) {
  const Record& now = record();
  if (number >= now.steps.size()) return;
  Record changed{now.start, {now.steps.begin(), now.steps.begin() + static_cast<std::ptrdiff_t>(number)}};
  replay(changed, now.steps, number + 1);
  push(std::move(changed));
}

std::size_t Journal::problems() const {
  return static_cast<std::size_t>(std::count_if(record().steps.begin(), record().steps.end(),
                                                [](const StepPtr& s) { return s->problem.has_value(); }));
}

}  // namespace tack
