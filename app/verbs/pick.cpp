#include "app/verbs/verbs.h"
#include "core/verbs/common.h"

namespace tack {

PickController::PickController(Store& store) : Controller(store) {
  connect(&store, &Store::picked_changed, this, &Controller::changed);
  connect(&store, &Store::scene_changed, this, &Controller::changed);
}

Sentence PickController::sentence() const {
  const auto& picked = store_.picked();
  if (picked.empty()) return {{"Picking parts. Nothing is picked."}};
  return {{"Picking parts. " + std::to_string(picked.size()) + " picked: "},
          {names_of(store_.scene(), picked), Blank::What},
          {"."}};
}

QString PickController::hint() const {
  return tr("Click a part, or draw a rectangle. Right-drag turns the view, middle-drag pans, the wheel zooms.");
}

}  // namespace tack
