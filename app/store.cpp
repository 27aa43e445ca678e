#include "app/store.h"

#include <algorithm>

#include "app/text.h"

namespace tack {

Store::Store(QObject* parent) : QObject(parent) {}

bool Store::has_picked() {
  if (picked_.empty()) say("Nothing is picked. Pick a part first.", Tone::Wrong);
  return !picked_.empty();
}

bool Store::is_picked(PartId id) const { return std::find(picked_.begin(), picked_.end(), id) != picked_.end(); }

bool Store::perform(const Verb& verb, const Scene* would_be) {
  const auto done = journal_.add(verb, would_be);
  if (!done) {
    say(done.error());
    return false;
  }
  after_change();
  emit stepped();
  return true;
}

bool Store::take_over(Journal journal, std::size_t before) {
  if (journal_.position() != before) return false;
  journal_ = std::move(journal);
  after_change();
  emit stepped();
  return true;
}

bool Store::amend(const Verb& verb) {
  const auto done = journal_.amend_last(verb);
  if (!done) {
    say(done.error());
    return false;
  }
  after_change();
  return true;
}

bool Store::amend_step(std::size_t step, const Verb& verb) {
  const auto done = journal_.amend(step, verb);
  if (!done) {
    say(done.error());
    return false;
  }
  after_record_edit();
  return true;
}

void Store::leave_out(std::size_t step, bool out) {
  journal_.leave_out(step, out);
  after_record_edit();
}

void Store::remove_step(std::size_t step) {
  journal_.remove(step);
  after_record_edit();
}

void Store::after_record_edit() {
  after_change();
  emit record_moved();
  if (const std::size_t n = journal_.problems(); n > 0)
    say(n == 1 ? "One later step now fails; Steps shows why."
               : QString("%1 later steps now fail; Steps shows why.").arg(n),
        Tone::Wrong);
}

void Store::undo() {
  if (!journal_.can_undo()) return say("There is nothing to undo.");
  const std::size_t before = journal_.record().steps.size();
  const QString words =
      before > 0 ? QString::fromStdString(plain_text(journal_.record().steps.back()->words)) : QString();
  journal_.undo();
  after_change();
  emit record_moved();
  if (journal_.record().steps.size() < before) say(QString("Undone: %1").arg(words));
}

void Store::redo() {
  if (!journal_.can_redo()) return say("There is nothing to redo.");
  journal_.redo();
  after_change();
  emit record_moved();
  if (!journal_.record().steps.empty())
    say(QString("Redone: %1").arg(QString::fromStdString(plain_text(journal_.record().steps.back()->words))));
}

void Store::after_change() {
  std::vector<PartId> still;
  for (const PartId id : picked_)
    if (scene().contains(id)) still.push_back(id);
  const bool fewer = still.size() != picked_.size();
  picked_ = std::move(still);
  // Plane axes go along with the plane in use.
  const bool other_plane = axes_.kind == AxesKind::Plane && axes_.part != scene().plane();
  if (other_plane) axes_ = axes_of_plane(scene().plane());
  if (const PartId plane = scene().plane(); plane != kNoPart) {
    std::erase(planes_lately_, plane);
    planes_lately_.insert(planes_lately_.begin(), plane);
  }
  emit scene_changed();
  if (fewer) emit picked_changed();
  if (other_plane) emit axes_changed();
  emit document_changed();
}

void Store::use_plane(PartId plane) {
  if (plane == scene().plane()) return;
  const Record& record = journal_.record();
  // A step that is left out, or cannot be done, would change nothing by being amended.
  const bool again = !record.steps.empty() && std::holds_alternative<UsePlane>(record.steps.back()->verb) &&
                     !record.steps.back()->left_out && !record.steps.back()->problem;
  if (again ? amend(UsePlane{plane}) : perform(UsePlane{plane}))
    say(QString("%1 is the plane in use.").arg(label_of(plane_words(scene(), plane))));
}

void Store::switch_plane() {
  if (scene().plane() != kNoPart) return use_plane(kNoPart);
  const std::vector<PartId> lately = planes_lately();
  if (lately.empty()) return say("World is the plane in use; no other was used yet.");
  use_plane(lately.front());
}

std::vector<PartId> Store::planes_lately() const {
  std::vector<PartId> planes;
  for (const PartId id : planes_lately_)
    if (const Part* part = scene().find(id); part && part->guide == GuideKind::Plane) planes.push_back(id);
  return planes;
}

void Store::pick(std::vector<PartId> parts) {
  std::erase_if(parts, [&](PartId id) { return !scene().contains(id); });
  if (parts == picked_) return;
  picked_ = std::move(parts);
  emit picked_changed();
}

void Store::pick_one(PartId part, bool add) {
  if (!add) return pick(part == kNoPart ? std::vector<PartId>{} : std::vector<PartId>{part});
  std::vector<PartId> parts = picked_;
  if (is_picked(part))
    std::erase(parts, part);
  else
    parts.push_back(part);
  pick(std::move(parts));
}

LengthUnit Store::unit() const {
  LengthUnit unit = typed_unit();
  unit.decimals = preferences_.decimals;
  unit.touch = preferences_.touch;
  return unit;
}

void Store::set_preferences(const Preferences& preferences) {
  if (preferences == preferences_) return;
  // What was chosen for now stays, unless it is just that which is chosen anew.
  if (preferences.increments != preferences_.increments) increments_ = preferences.increments;
  if (preferences.remembers != preferences_.remembers) remembers_ = preferences.remembers;
  preferences_ = preferences;
  save_preferences(preferences);
  emit settings_changed();
  emit look_changed();
}

void Store::set_unit(const std::string& name) {
  settings_.unit = name;
  emit document_changed();
  emit look_changed();
}

QStringList Store::axes_words() const {
  const Part* plane = scene().find(scene().plane());
  QStringList words{"World", "Parent", "Local", plane ? "Plane " + label_of(plane->name) : QString("Plane in use"),
                    "View"};
  const PartId of = picked_.empty() && axes_.kind == AxesKind::Part ? axes_.part
                    : picked_.empty()                               ? kNoPart
                                                                    : picked_.front();
  const Part* part = scene().find(of);
  words << (part ? QString("Of %1").arg(label_of(part->name)) : "Of a part (pick it first)");
  return words;
}

int Store::axes_index() const {
  switch (axes_.kind) {
    case AxesKind::Plane: return 3;
    case AxesKind::View: return 4;
    case AxesKind::Part: return 5;
    default: return static_cast<int>(axes_.kind);
  }
}

std::optional<Axes> Store::axes_for(int index) {
  if (index >= 0 && index < 3) return Axes(static_cast<AxesKind>(index));
  if (index == 3) return axes_of_plane(scene().plane());
  if (index == 4) return axes_of_view(view_frame ? view_frame() : Mat3{});
  const PartId of = !picked_.empty() ? picked_.front() : axes_.kind == AxesKind::Part ? axes_.part : kNoPart;
  if (index == 5 && scene().contains(of)) return axes_of(of);
  say("First pick the part whose axes to use.", Tone::Wrong);
  return std::nullopt;
}

void Store::ask_view_axes() { set_axes(axes_of_view(view_frame ? view_frame() : Mat3{})); }

void Store::set_about(const About& about) {
  if (about == about_) return;
  about_ = about;
  emit settings_changed();
}

void Store::set_remembers(bool on) {
  if (remembers_ == on) return;
  remembers_ = on;
  emit settings_changed();
}

void Store::set_increments(const Increments& increments) {
  if (increments == increments_) return;
  increments_ = increments;
  emit settings_changed();
}

void Store::set_axes(const Axes& axes) {
  if (axes == axes_) return;
  axes_ = axes;
  emit axes_changed();
}

QString Store::title() const {
  const QString name = name_.isEmpty() ? "New scene" : name_;
  return changed() ? name + " •" : name;
}

void Store::start(Document document, const std::filesystem::path& path) {
  journal_ = document.past ? std::move(*document.past) : Journal(std::move(document.scene));
  settings_ = std::move(document.settings);
  picked_.clear();
  // Parts of another document are no axes and no place to turn about.
  axes_ = {};
  planes_lately_.clear();
  about_ = {};
  path_ = path;
  name_ = label_of(path.filename().string());
  saved_position_ = journal_.position();
  never_saved_ = false;
  emit started();
  emit axes_changed();
  emit settings_changed();
  emit scene_changed();
  emit picked_changed();
  emit document_changed();
}

void Store::set_saved(const std::filesystem::path& path, std::size_t position) {
  path_ = path;
  name_ = label_of(path.filename().string());
  saved_position_ = position;
  never_saved_ = false;
  emit document_changed();
}

void Store::set_never_saved() {
  never_saved_ = true;
  emit document_changed();
}

}  // namespace tack
