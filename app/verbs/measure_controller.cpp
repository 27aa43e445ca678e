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
  return s;
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
