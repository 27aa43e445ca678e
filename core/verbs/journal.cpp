#include "core/verbs/journal.h"

namespace tack {

Result<std::shared_ptr<const Step>> Journal::make_step(const Verb& verb, const Scene& before) {
  auto after = apply(verb, before);
  if (!after) return tl::unexpected(after.error());
  return std::make_shared<const Step>(Step{verb, std::move(*after), sentence(verb, before, Tense::Past)});
}

void Journal::push(Record record) {
  records_.resize(at_ + 1);
  serials_.resize(at_ + 1);
  records_.push_back(std::move(record));
  serials_.push_back(next_serial_++);
  ++at_;
}

Result<void> Journal::add(const Verb& verb) {
  auto step = make_step(verb, scene());
  if (!step) return tl::unexpected(step.error());
  Record record = this->record();
  record.steps.push_back(std::move(*step));
  push(std::move(record));
  return {};
}

Result<void> Journal::amend_last(const Verb& verb) {
  if (record().steps.empty()) return fail("There is no step to change.");
  Record changed = record();
  changed.steps.pop_back();
  auto step = make_step(verb, changed.scene());
  if (!step) return tl::unexpected(step.error());
  changed.steps.push_back(std::move(*step));
  push(std::move(changed));
  return {};
}

}  // namespace tack
