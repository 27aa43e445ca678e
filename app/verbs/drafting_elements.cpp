// Taking vertices, edges and faces; declared in drafting.h.
#include "app/verbs/drafting.h"

namespace tack {
namespace {

using State = Draft::State;

}  // namespace

void Drafting::pick_elements(PickOf of) {
  if (row_ != id_of<Pick>) use(id_of<Pick>);
  pick_of_ = of;
  set({State::Filling, fresh(row_)});
  emit row_changed();
}

std::vector<PartId> Drafting::picked_patches() const {
  std::vector<PartId> patches;
  for (const PartId id : store_.picked())
    if (const Part* part = store_.scene().find(id); part && part->patch) patches.push_back(id);
  return patches;
}

std::optional<std::size_t> Drafting::last_take() const {
  const auto& steps = store_.journal().record().steps;
  if (steps.empty() || !std::holds_alternative<Take>(steps.back()->verb) || steps.back()->made.size() != 1) return {};
  // What was let go of is not added to.
  return store_.is_picked(steps.back()->made.front()) ? std::optional(steps.size() - 1) : std::nullopt;
}

// What a step has taken, by the numbers that the meshes have: its own may be those of a mesh that is gone.
std::vector<Taken> Drafting::standing(std::size_t step) const {
  const Record& record = store_.journal().record();
  std::vector<Taken> list;
  const Part* part = record.steps[step]->after.find(record.steps[step]->made.front());
  if (!part || !part->patch) return list;
  for (const PatchOf& of : part->patch->of) list.push_back(taken(record.before(step), of.part, of.elements));
  return list;
}

void Drafting::take(const std::vector<ElementsOf>& elements, Taking taking) {
  const auto step = last_take();
  const auto& steps = store_.journal().record().steps;
  const Take* last = step ? &std::get<Take>(steps[*step]->verb) : nullptr;
  const bool same_kind = last && !elements.empty() && !last->of.items().empty() &&
                         last->of.items().front().elements.kind == elements.front().elements.kind;
  const bool adds = taking != Taking::Anew && same_kind;
  if (elements.empty()) {
    // A click into the open lets go.
    if (taking == Taking::Anew) store_.pick({});
    return;
  }
  const Scene& scene = step ? store_.journal().record().before(*step) : store_.scene();
  std::vector<Taken> list;
  if (adds) list = standing(*step);
  for (const ElementsOf& of : elements) {
    const auto at = std::find_if(list.begin(), list.end(), [&](const Taken& t) { return t.part == of.part; });
    if (at == list.end())
      list.push_back(taken(scene, of.part, of.elements));
    else
      *at = taken(scene, of.part,
                  taking == Taking::Add ? with(at->elements, of.elements) : toggled(at->elements, of.elements));
  }
  std::erase_if(list, [](const Taken& t) { return t.elements.empty(); });
  set_taken(std::move(list), step);
}

void Drafting::set_taken(std::vector<Taken> list, std::optional<std::size_t> step) {
  const auto& steps = store_.journal().record().steps;
  if (list.empty()) {
    if (step) store_.remove_step(*step);
    return end();
  }
  Take take;
  if (const auto known = at_hand_.find(id_of<Take>); known != at_hand_.end()) take = std::get<Take>(known->second);
  if (step) take = std::get<Take>(steps[*step]->verb);
  take.name.clear();
  take.of.list = std::make_shared<const std::vector<Taken>>(std::move(list));
  if (row_ == id_of<Pick> && draft_.state == State::Filling && !is_over()) at_hand_[row_] = draft_.verb;
  if (step)
    set({State::Correcting, take, *step});
  else
    set({State::Filling, take});
  act(take, true);
}

bool Drafting::change_taken(Ring ring) {
  const auto step = last_take();
  if (!step) {
    store_.say("Take vertices, edges or faces first.", Tone::Wrong);
    return false;
  }
  const Scene& scene = store_.journal().record().before(*step);
  std::vector<Taken> list;
  for (const Taken& t : standing(*step)) {
    const Mesh& mesh = *scene.part(t.part).mesh;
    list.push_back(taken(scene, t.part,
                         ring == Ring::More        ? grown(mesh, t.elements)
                         : ring == Ring::Less      ? shrunk(mesh, t.elements)
                         : ring == Ring::Connected ? connected(mesh, t.elements)
                                                   : inverted(mesh, t.elements)));
  }
  std::erase_if(list, [](const Taken& t) { return t.elements.empty(); });
  if (list.empty()) {
    store_.say("Nothing would be left.", Tone::Wrong);
    return false;
  }
  set_taken(std::move(list), step);
  return true;
}

// --- brushing

double Drafting::brush_width() const {
  const auto* brush = std::get_if<Brush>(&draft_.verb);
  const auto width =
      brush ? evaluate(brush->width, EntryKind::Length, 0, Reading(store_.scene())) : Result<double>(0.0);
  return width ? *width : 0;
}

void Drafting::take_brush() {
  if (row_ != id_of<Pick>) use(id_of<Pick>);
  // As it is in the hand, or was last.
  const auto known = at_hand_.find(id_of<Brush>);
  const Verb verb = brushes() ? next_after(draft_.verb) : known == at_hand_.end() ? Verb(Brush{}) : known->second;
  set({State::Filling, verb});
}

void Drafting::begin_stroke(const Struck& struck) {
  Brush brush = std::get<Brush>(draft_.verb);
  brush.part = struck.part;
  brush.stroke = {};
  set({State::Dragging, brush});
  stroke_.clear();
  stroke_on(struck);
}

void Drafting::stroke_on(const std::optional<Struck>& struck) {
  auto* brush = std::get_if<Brush>(&draft_.verb);
  if (!brush || !dragging() || !struck || struck->part != brush->part) return;
  const auto back = inverse(world_of(store_.scene(), brush->part));
  if (!back) return;
  // A place every eighth of the width says all that there is to say.
  const Vec3 here = struck->point;
  if (!stroke_.empty() && distance(here, stroke_.back().second) < brush_width() / 8) return;
  stroke_.emplace_back(StrokePlace{struck->triangle, *back * here}, here);
  auto places = std::make_shared<std::vector<StrokePlace>>();
  for (const auto& [place, world] : stroke_) places->push_back(place);
  brush->stroke.places = std::move(places);
  // Large meshes are drawn as they were until the stroke ends: then they are not worked out before, either.
  constexpr std::size_t kShownLive = 20'000;
  const bool live = store_.scene().part(brush->part).mesh->triangles().size() <= kShownLive;
  if (live)
    look_at(Verb(*brush), std::nullopt, false);
  else
    emit changed();
}

void Drafting::end_stroke() {
  const Brush brush = std::get<Brush>(draft_.verb);
  draft_.state = State::Filling;
  look_ = {};
  if (brush.part == kNoPart || brush.stroke.items().empty()) return take_brush();
  act(brush, true);
}

}  // namespace tack
