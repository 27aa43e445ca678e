#include "app/verbs/verbs.h"
#include "core/verbs/common.h"

namespace tack {

MeasureController::MeasureController(Store& store) : PairController(store) {
  // What is measured is shown as it is now, whatever moved since.
  connect(&store, &Store::scene_changed, this, &Controller::changed);
}

Sentence MeasureController::sentence() const {
  const Scene& scene = store_.scene();
  const auto from = shown_from(), to = shown_to();
  Sentence s{{from && to ? "Measured from " : "Measure from "},
             tack_word(scene, from, Blank::From, "a place"),
             {" to "},
             tack_word(scene, to, Blank::To, "another place")};
  if (!from || !to) {
    s.push_back({"."});
    return s;
  }
  const auto a = find_tack(scene, *from), b = find_tack(scene, *to);
  if (!a || !b) return s;
  const Measured m = measure(*a, *b);
  const auto shown_length = [&](double v) {
    const Shown shown = show_length(v, store_.unit(), store_.decimals());
    return (shown.exact ? "" : "≈ ") + shown.text;
  };
  std::string text = ": " + shown_length(m.distance) + ", along x " + shown_length(m.delta.x) + ", y " +
                     shown_length(m.delta.y) + ", z " + shown_length(m.delta.z);
  if (m.angle) text += ", directions " + show_angle(*m.angle, 3).text + " apart";
  s.push_back({text + "."});
  if (!measured_) return s;
  const char* before = "  ";
  for (const QString& words : remedies()) {
    s.push_back({std::exchange(before, " · "), Blank::None, false, true});
    s.push_back({words.toStdString(), Blank::Remedy, false, true});
  }
  return s;
}

// A gap that was measured can be closed, from either side.
std::vector<MeasureController::Closing> MeasureController::closings() const {
  const Scene& scene = store_.scene();
  std::vector<Closing> closings;
  if (!measured_ || !from_ || !to_) return closings;
  const auto a = find_tack(scene, *from_), b = find_tack(scene, *to_);
  if (!a || !b || distance(a->point, b->point) <= exact_bound(scene, *from_, *to_)) return closings;
  for (const auto& [moves, stays] : {std::pair{&*from_, &*to_}, {&*to_, &*from_}}) {
    if (!is_on_part(*moves) || (is_on_part(*stays) && is_within(scene, stays->part, moves->part))) continue;
    Meet meet;
    meet.what = {moves->part};
    meet.from = *moves;
    meet.to = *stays;
    meet.facing = Facing::AsIs;
    const QString words = tr("close it, moving %1").arg(QString::fromStdString(path_of(scene, moves->part)));
    closings.push_back({words, meet});
  }
  return closings;
}

QStringList MeasureController::remedies() const {
  QStringList words;
  for (const Closing& closing : closings()) words << closing.words;
  return words;
}

void MeasureController::remedy(const QString& words) {
  for (const Closing& closing : closings())
    if (closing.words == words) {
      store_.perform(closing.meet);
      return;
    }
}

QString MeasureController::hint() const {
  if (waiting() == Blank::From) return tr("Click the first place. B: what lies behind.");
  if (waiting() == Blank::To) return tr("Click the second place. B: what lies behind.");
  return tr("Click another place to measure again.");
}

bool MeasureController::finish() {
  measured_ = true;
  return true;
}

bool MeasureController::step_back() {
  if (asked_ || !measured_) return PairController::step_back();
  end_sentence();
  return true;
}

void MeasureController::end_sentence() {
  PairController::end_sentence();
  measured_ = false;
}

}  // namespace tack
