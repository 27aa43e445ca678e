// Taking vertices, edges and faces on the stage; declared in stage.h.
#include <QMouseEvent>

#include "app/stage/overlay.h"
#include "app/stage/stage.h"

namespace tack {

std::optional<ElementsOf> Stage::element_under(QPointF at) {
  const auto kind = elements_of(bench_.draft().pick_of());
  if (!kind) return std::nullopt;
  // Of a mesh of hundreds of thousands of triangles it is first found out, in the background, what is next to what.
  return element_at(catch_scene(), view(), at.x(), at.y(), *kind, [this](const MeshPtr& mesh) {
    const bool known = works_.knows_neighbours(mesh);
    if (!known) store_.say("This mesh is large: in a moment its vertices, edges and faces can be taken.");
    return known;
  });
}

void Stage::hover_element(QPointF at) {
  auto element = element_under(at);
  if (element == hovered_element_) return;
  hovered_element_ = std::move(element);
  overlay_->update();
}

std::optional<Struck> Stage::brushed_at(QPointF at) {
  auto struck = strike(catch_scene(), view(), at.x(), at.y());
  const Part* part = struck ? store_.scene().find(struck->part) : nullptr;
  if (part && !is_model(*part)) struck.reset();
  // What is next to what on a large mesh is found in the background.
  if (struck && !works_.knows_neighbours(part->mesh)) {
    store_.say("This mesh is large: in a moment it can be brushed.");
    struck.reset();
  }
  brush_at_ = struck ? std::optional(struck->point) : std::nullopt;
  overlay_->update();
  return struck;
}

void Stage::take_in(const QRectF& r, Qt::KeyboardModifiers modifiers) {
  const auto kind = elements_of(bench_.draft().pick_of());
  if (!kind) return;
  for (const CatchPart& part : catch_scene().parts)
    if (part.mesh && !part.patch && !works_.knows_neighbours(part.mesh))
      return store_.say("Large meshes are still looked at: draw the rectangle again in a moment.", Tone::Wrong);
  const auto found = elements_in_rectangle(catch_scene(), view(), r.left(), r.top(), r.right(), r.bottom(), *kind,
                                           modifiers & Qt::ControlModifier);
  if (found.empty()) return store_.say("Nothing lies whole in the rectangle.", Tone::Wrong);
  bench_.draft().take(found, modifiers & Qt::ShiftModifier ? Drafting::Taking::Add : Drafting::Taking::Anew);
}

// A second click right behind the first: of an edge its run, of a face its region; with Shift everything connected.
void Stage::mouseDoubleClickEvent(QMouseEvent* event) {
  Drafting& draft = bench_.draft();
  const auto kind = elements_of(draft.pick_of());
  if (event->button() != Qt::LeftButton || !kind || gesture_ != Gesture::None || draft.waiting())
    return mousePressEvent(event);
  pressed_at_ = last_at_ = into_pane(event->position());
  auto element = element_under(pressed_at_);
  const Part* part = element ? store_.scene().find(element->part) : nullptr;
  if (!part || !part->mesh) return;
  const Mesh& mesh = *part->mesh;
  if (event->modifiers() & Qt::ShiftModifier)
    element->elements = connected(mesh, element->elements);
  else if (*kind == ElementKind::Edges)
    element->elements = run_of(mesh, element->elements.edges.front());
  else if (*kind == ElementKind::Faces)
    element->elements = region_of(mesh, element->elements.numbers.front());
  else
    element->elements = connected(mesh, element->elements);
  draft.take({*element}, event->modifiers() & Qt::ControlModifier ? Drafting::Taking::Add : Drafting::Taking::Anew);
}

void Stage::compare(bool on) {
  compared_.reset();
  const Record& record = store_.journal().record();
  if (on && !record.steps.empty()) {
    const std::size_t step = bench_.draft().open_step().value_or(record.steps.size() - 1);
    compared_ = std::make_shared<const Scene>(record.before(std::min(step, record.steps.size() - 1)));
    store_.say("As it was before this step.", Tone::Note);
  }
  items_known_ = false;
  moved();
  overlay_->update();
}

}  // namespace tack
