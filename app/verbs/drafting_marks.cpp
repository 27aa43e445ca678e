// What the draft draws on the stage; declared in drafting.h.
#include "app/verbs/drafting.h"
#include "core/verbs/meet_motion.h"

namespace tack {

const Marks& Drafting::marks() const {
  if (!marks_) {
    ++counts_.marks;
    marks_ = make_marks();
  }
  return *marks_;
}

Marks Drafting::make_marks() const {
  Marks marks;
  const Scene& scene = dragging() ? scene_before() : store_.scene();
  if (dragging()) {
    marks.shown = look_.after;
    if (look_.verb) {
      const Scene& shown = marks.shown ? *marks.shown : scene;
      marks.gauges = gauges_of(*look_.verb, scene, shown, grip_, store_.unit());
      if (grip_.place && marks.shown) mark_grip(marks);
      if (!look_.stopped.isEmpty() && look_.caught) marks.to = Marks::Place{look_.caught->point, look_.stopped};
    }
    // Where they were, while the parts themselves go along; what is brushed stays where it is.
    if (marks.shown && !brushes()) marks.ghosts = ghosts_of(scene, moving());
  } else {
    mark_places(look_.verb && !look_.typed ? *look_.verb : draft_.verb, marks);
    const std::shared_ptr<const Scene> would_be = look_.after ? look_.after : look_.verb ? nullptr : previewed();
    if (would_be) {
      std::vector<PartId> parts = std::holds_alternative<MakeShape>(draft_.verb) ? std::vector<PartId>{} : moving();
      // What is added, at the top of what is added.
      for (PartId id = scene.id_limit(); id < would_be->id_limit(); ++id)
        if (const Part* part = would_be->find(id); part && part->parent < scene.id_limit()) {
          parts.push_back(id);
          if (part->guide != GuideKind::None) marks.guides.push_back({part->guide, plane_frame(*would_be, id)});
        }
      marks.ghosts = ghosts_of(*would_be, parts);
      marks.ghost_scene = would_be;
    }
    const Verb& shown = look_.verb && !look_.typed ? *look_.verb : draft_.verb;
    if (!store_.picked().empty())
      marks.gauges = standing_gauges(look_.typed && look_.verb ? *look_.verb : shown, looked_from(),
                                     would_be ? *would_be : scene, store_.unit());
  }
  if (store_.picked().empty()) return marks;
  const Scene& shown = marks.shown ? *marks.shown : scene;
  if (const auto box = pad_box_of(in_hand(), shown)) marks.box = box_edges(*box);
  if (const auto box = target_box_of(in_hand(), shown)) marks.target_box = box_edges(*box);
  return marks;
}

// The place that is held, where the drag has brought it, and the one it is over.
void Drafting::mark_grip(Marks& marks) const {
  const Scene& scene = *marks.shown;
  marks.from = marked_place(scene, *grip_.place);
  if (!marks.from || !grip_.over || !look_.caught) return;
  marks.to = Marks::Place{look_.caught->point, caught_words(scene, *grip_.over, look_.caught->behind)};
  marks.joined = distance(marks.from->point, marks.to->point) > 1e-6;
  marks.meeting = meeting_between(scene, *grip_.place, *grip_.over, store_.unit());
  if (!marks.meeting) return;
  marks.distance = marks.meeting->words;
  if (marks.meeting->tone != Tone::Good) marks.tone = marks.meeting->tone = Tone::Apart;
}

void Drafting::mark_places(const Verb& verb, Marks& marks) const {
  const Scene& scene = store_.scene();
  const BlankId waits = waiting();
  const bool further = waits && waits.index > 0;  // of a pair that is being added: that one is marked alone
  const std::size_t pair = further ? waits.index : 0;
  const bool half = either_first(verb);
  const auto* from = place_in(verb, blank_of(verb, half ? ".from" : "from", pair));
  const auto* to = place_in(verb, blank_of(verb, half ? ".to" : "to", pair));
  if (from) marks.from = marked_place(scene, *from);
  if (to) marks.to = marked_place(scene, *to);
  if (!blank_of(verb, "from") && !half)
    for (const auto& [place, role] : places_of(verb))
      if (const auto tack = find_tack(scene, place)) marks.given.push_back({tack->point, role == Role::From});
  const bool met = is_done() && !waits && from && to;  // what was done stays marked, wherever the pointer goes
  if (look_.caught && !look_.typed && !met) {
    const Marks::Place place{look_.caught->point, caught_words(scene, look_.caught->address, look_.caught->behind)};
    const Role role = waits ? role_of(draft_.verb, waiting_for(look_.caught)) : Role::From;
    (role == Role::From ? marks.from : marks.to) = place;
    if (!waits && offers_grips()) return marks.to.reset();
  }
  if (!marks.from || !marks.to || !from || !to) return;
  const Scene& after = look_.after ? *look_.after : scene;
  const double apart = distance(marks.from->point, marks.to->point);
  marks.joined = apart > 1e-6;
  marks.distance = QString::fromStdString(show_length(apart, store_.unit(), 3).text);
  marks.meeting = meeting_between(after, *from, *to, store_.unit());
  // Before anything is hovered over or done, nothing is known of what will remain.
  if (look_.after || is_done()) say_remaining(verb, after, marks);
}

void Drafting::say_remaining(const Verb& verb, const Scene& after, Marks& marks) const {
  const auto* meet = std::get_if<Meet>(&verb);
  if (!marks.meeting || !makes_step(verb) || (meet && !may_remain(*meet))) return;
  if (meet) {
    for (std::size_t i = 0; i < meet->more.size(); ++i) {
      const auto &from = meet->more[i].from, &to = meet->more[i].to;
      if (!from || !to) continue;
      const auto a = find_tack(after, *from), b = find_tack(after, *to);
      if (a && b && !waiting()) marks.pairs.push_back({a->point, b->point});
    }
    marks.meeting->words =
        QString::fromStdString(remaining_words(*meet, after, store_.unit(), store_.preferences().touch));
    marks.meeting->tone = meets_within(*meet, after, store_.preferences().touch) ? Tone::Good : Tone::Apart;
  } else if (marks.meeting->tone != Tone::Good) {
    marks.meeting->tone = Tone::Apart;
  }
  if (marks.meeting->tone != Tone::Apart) return;
  marks.distance = marks.meeting->words;
  marks.tone = Tone::Apart;
}

}  // namespace tack
