#include "core/verbs/blanks.h"

namespace tack {
namespace {

// Which of three blanks in a row `blank` is, starting with `first`.
std::optional<std::size_t> axis_from(Blank first, Blank blank) {
  const int axis = int(blank) - int(first);
  return axis >= 0 && axis < 3 ? std::optional(std::size_t(axis)) : std::nullopt;
}

About* box_of(Pivot& pivot) {
  if (!pivot.at) return nullptr;
  const bool box = pivot.at->kind == About::Kind::OwnBox || pivot.at->kind == About::Kind::AllBox;
  return box ? &*pivot.at : nullptr;
}

// The amount that stands in a blank, to be read or replaced. nullptr: the verb has no such blank, or nothing is in it.
const Amount* slot(const Verb& verb, Blank blank) {
  const auto given = [](const std::optional<Amount>& a) { return a ? &*a : nullptr; };
  const auto in_place = [&](const Place& p) -> const Amount* {
    for (const auto& [first, group] : {std::pair{Blank::X, &p.position},
                                       {Blank::TurnX, &p.rotation},
                                       {Blank::FactorX, &p.scale},
                                       {Blank::SkewX, &p.skew}})
      if (const auto axis = axis_from(first, blank)) return given((*group)[*axis]);
    return nullptr;
  };
  if (const auto* meet = std::get_if<Meet>(&verb))
    return blank == Blank::Gap ? &meet->gap : blank == Blank::Roll ? &meet->roll : nullptr;
  if (const auto* rotate = std::get_if<Rotate>(&verb)) return blank == Blank::Angle ? &rotate->angle : nullptr;
  if (const auto* place = std::get_if<Place>(&verb)) return in_place(*place);
  const auto x = axis_from(Blank::X, blank), size = axis_from(Blank::SizeX, blank),
             factor = axis_from(Blank::FactorX, blank);
  if (const auto* move = std::get_if<Move>(&verb)) return x ? &move->by[*x] : nullptr;
  if (const auto* copy = std::get_if<Copy>(&verb)) return x ? &copy->by[*x] : nullptr;
  if (const auto* pivot = std::get_if<Pivot>(&verb)) return x ? given(pivot->numbers[*x]) : nullptr;
  if (const auto* scale = std::get_if<Scale>(&verb))
    return size ? given(scale->size[*size]) : factor ? given(scale->factor[*factor]) : nullptr;
  return nullptr;
}

std::optional<Verb> valued(Meet meet, Blank blank, const Amount& amount) {
  if (blank == Blank::Chain) {
    // Beyond any number of copies that is allowed, so that it is refused with its reason.
    meet.chain = std::abs(amount.value) < 1e6 && amount.value == std::floor(amount.value) ? int(amount.value) : -1;
    return meet;
  }
  if (blank != Blank::Gap && blank != Blank::Roll) return std::nullopt;
  (blank == Blank::Roll ? meet.roll : meet.gap) = amount;
  return meet;
}

std::optional<Verb> valued(Move move, Blank blank, const Amount& amount) {
  const auto axis = axis_from(Blank::X, blank);
  if (!axis) return std::nullopt;
  move.from.reset();
  move.to.reset();
  move.by[*axis] = amount;
  return move;
}

std::optional<Verb> valued(Rotate rotate, Blank blank, const Amount& amount) {
  if (blank != Blank::Angle) return std::nullopt;
  rotate.like.reset();
  rotate.from.reset();
  rotate.to.reset();
  rotate.angle = amount;
  return rotate;
}

std::optional<Verb> valued(Scale scale, Blank blank, const Amount& amount) {
  const auto size = axis_from(Blank::SizeX, blank), factor = axis_from(Blank::FactorX, blank);
  if (!size && !factor) return std::nullopt;
  scale.like = kNoPart;
  scale.from.reset();
  scale.to.reset();
  if (scale.evenly) scale.size = {}, scale.factor = {};
  const std::size_t axis = size ? *size : *factor;
  scale.size[axis].reset();
  scale.factor[axis].reset();
  (size ? scale.size : scale.factor)[axis] = amount;
  return scale;
}

std::optional<Verb> valued(Pivot pivot, Blank blank, const Amount& amount) {
  if (const auto axis = axis_from(Blank::BoxX, blank)) {
    About* box = box_of(pivot);
    if (!box) return std::nullopt;
    box->fraction[int(*axis)] = amount.value;
    return pivot;
  }
  const auto axis = axis_from(Blank::X, blank);
  if (!axis) return std::nullopt;
  pivot.at.reset();
  pivot.numbers[*axis] = amount;
  return pivot;
}

std::optional<Verb> valued(Place place, Blank blank, const Amount& amount) {
  for (const auto& [first, group] : {std::pair{Blank::X, &place.position},
                                     {Blank::TurnX, &place.rotation},
                                     {Blank::FactorX, &place.scale},
                                     {Blank::SkewX, &place.skew}})
    if (const auto axis = axis_from(first, blank)) {
      (*group)[*axis] = amount;
      return place;
    }
  return std::nullopt;
}

std::optional<Verb> valued(Copy copy, Blank blank, const Amount& amount) {
  const auto axis = axis_from(Blank::X, blank);
  if (!axis) return std::nullopt;
  copy.by[*axis] = amount;
  return copy;
}

template <typename V>
std::optional<Verb> valued(const V&, Blank, const Amount&) {
  return std::nullopt;
}

}  // namespace

std::optional<EntryKind> kind_of(Blank blank) {
  for (const Blank first : {Blank::X, Blank::SizeX})
    if (axis_from(first, blank)) return EntryKind::Length;
  for (const Blank first : {Blank::FactorX, Blank::SkewX, Blank::BoxX})
    if (axis_from(first, blank)) return EntryKind::Factor;
  if (axis_from(Blank::TurnX, blank) || blank == Blank::Angle || blank == Blank::Roll) return EntryKind::Angle;
  if (blank == Blank::Gap) return EntryKind::Length;
  if (blank == Blank::Chain) return EntryKind::Factor;
  return std::nullopt;
}

std::optional<double> value_in(const Verb& verb, Blank blank) {
  if (const auto axis = axis_from(Blank::BoxX, blank)) {
    if (!std::holds_alternative<Pivot>(verb)) return std::nullopt;
    Pivot pivot = std::get<Pivot>(verb);
    const About* box = box_of(pivot);
    return box ? std::optional(box->fraction[int(*axis)]) : std::nullopt;
  }
  if (blank == Blank::Chain) {
    const auto* meet = std::get_if<Meet>(&verb);
    return meet ? std::optional<double>(meet->chain) : std::nullopt;
  }
  const Amount* amount = slot(verb, blank);
  return amount ? std::optional(amount->value) : std::nullopt;
}

std::optional<Verb> with_value(const Verb& verb, Blank blank, const Amount& amount) {
  return std::visit([&](const auto& v) { return valued(v, blank, amount); }, verb);
}

std::optional<Verb> with_text(const Verb& verb, Blank blank, const std::string& text) {
  if (blank != Blank::Name) return std::nullopt;
  if (auto rename = verb; auto* r = std::get_if<Rename>(&rename)) {
    r->name = text;
    return rename;
  }
  if (auto group = verb; auto* g = std::get_if<Group>(&group)) {
    g->name = text;
    return group;
  }
  if (auto keep = verb; auto* k = std::get_if<Keep>(&keep)) {
    k->name = text;
    return keep;
  }
  if (auto guide = verb; auto* g = std::get_if<AddGuide>(&guide)) {
    g->name = text;
    return guide;
  }
  if (auto edit = verb; auto* e = std::get_if<EditTie>(&edit)) {
    e->name = text;
    return edit;
  }
  return std::nullopt;
}

std::vector<std::string> choices_in(const Verb& verb, Blank blank) {
  if (blank == Blank::Limits && (std::holds_alternative<Meet>(verb) || std::holds_alternative<Move>(verb)))
    return {"x, y and z", "x", "y", "z", "x and y", "x and z", "y and z"};
  if (std::holds_alternative<Meet>(verb)) {
    if (blank == Blank::Facing)
      return {std::string(words_for(Facing::AsIs)), std::string(words_for(Facing::Facing)),
              std::string(words_for(Facing::Same)), "turned about a place that stays"};
    if (blank == Blank::Tied) return {"not remembered", "remembered as a tie"};
    if (blank == Blank::Sharing) return {"the first exactly", "sharing the error"};
    if (blank == Blank::Sized) return {"at its size", "sized evenly to fit"};
    if (blank == Blank::Matched) return {"the smallest turn", "roll on roll"};
  }
  if (std::holds_alternative<Move>(verb)) {
    if (blank == Blank::Slide) {
      using Kind = Slide::Kind;
      return {std::string(words_for(Kind::Free)), std::string(words_for(Kind::Edge)),
              std::string(words_for(Kind::Face)), std::string(words_for(Kind::Normal))};
    }
  }
  if (std::holds_alternative<AddGuide>(verb) && blank == Blank::GuideKind) return {"point", "line", "plane"};
  if (std::holds_alternative<CloseTie>(verb) && blank == Blank::Mover)
    return {"what was brought moves", "what it was brought to moves"};
  if (std::holds_alternative<Copy>(verb) && blank == Blank::Linked) return {"linked", "with a mesh of its own"};
  if (std::holds_alternative<Show>(verb) && blank == Blank::Shown) return {"shown", "hidden"};
  if (std::holds_alternative<Lock>(verb) && blank == Blank::Shown) return {"locked", "unlocked"};
  if (std::holds_alternative<Reparent>(verb) && blank == Blank::Keep) return {"the place", "the numbers"};
  if (std::holds_alternative<Bake>(verb) && blank == Blank::Baked)
    return {"position", "rotation", "scale", "rotation and scale", "position, rotation and scale"};
  const bool meshes = std::holds_alternative<Bake>(verb) || std::holds_alternative<FitBox>(verb);
  const bool keeps = std::holds_alternative<Keep>(verb) || std::holds_alternative<Forget>(verb);
  if ((meshes || keeps) && blank == Blank::Copies) return {"this one only", "linked copies with it"};
  return {};
}

std::optional<Verb> with_choice(const Verb& verb, Blank blank, std::size_t choice) {
  if (choice >= choices_in(verb, blank).size()) return std::nullopt;
  Verb changed = verb;
  const bool first = choice == 0;
  constexpr std::array<std::array<bool, 3>, 7> kLimits{{{true, true, true},
                                                        {true, false, false},
                                                        {false, true, false},
                                                        {false, false, true},
                                                        {true, true, false},
                                                        {true, false, true},
                                                        {false, true, true}}};
  if (auto* move = std::get_if<Move>(&changed)) {
    if (blank == Blank::Limits) move->along = kLimits[choice];
    if (blank == Blank::Slide) move->slide.kind = static_cast<Slide::Kind>(choice);
  }
  if (auto* guide = std::get_if<AddGuide>(&changed)) guide->kind = static_cast<GuideKind>(choice + 1);
  if (auto* close = std::get_if<CloseTie>(&changed)) close->move_other = !first;
  if (auto* keep = std::get_if<Keep>(&changed)) keep->linked = !first;
  if (auto* forget = std::get_if<Forget>(&changed)) forget->linked = !first;
  if (auto* meet = std::get_if<Meet>(&changed)) {
    if (blank == Blank::Facing) {
      meet->hold.reset();
      if (choice == 3) meet->tie = false;  // it leaves its places apart
      if (choice < 3)
        meet->facing = static_cast<Facing>(choice);
      else
        // Its own pivot to begin with; a click names another place.
        meet->hold.emplace(TackAddress{TackKind::Pivot, meet->from ? meet->from->part : kNoPart, 0, {}});
    }
    if (blank == Blank::Tied) meet->tie = !first;
    if (blank == Blank::Sharing) meet->shared = !first;
    if (blank == Blank::Sized) meet->sized = !first;
    if (blank == Blank::Matched) meet->matched = !first;
    if (blank == Blank::Limits) meet->along = kLimits[choice];
  }
  if (auto* copy = std::get_if<Copy>(&changed)) copy->linked = first;
  if (auto* show = std::get_if<Show>(&changed)) show->shown = first;
  if (auto* lock = std::get_if<Lock>(&changed)) lock->locked = first;
  if (auto* reparent = std::get_if<Reparent>(&changed)) reparent->keep_place = first;
  const Copies copies = first ? Copies::Separate : Copies::All;
  if (auto* fit = std::get_if<FitBox>(&changed)) fit->copies = copies;
  if (auto* bake = std::get_if<Bake>(&changed)) {
    if (blank == Blank::Copies) {
      bake->copies = copies;
    } else {
      bake->position = choice == 0 || choice == 4;
      bake->rotation = choice == 1 || choice >= 3;
      bake->scale = choice >= 2;
    }
  }
  return changed;
}

std::vector<Remedy> remedies_of(const Verb& verb, const Scene& before, const Scene& after) {
  Bake bake;
  bake.what = skewed_by(verb, before, after);
  if (bake.what.empty()) return {};
  bake.scale = true;
  std::vector<Remedy> remedies;
  const auto instead = [&](std::string words, const auto& changed) {
    remedies.push_back({std::move(words), Verb(changed), std::nullopt});
  };
  if (const auto* scale = std::get_if<Scale>(&verb)) {
    Scale own = *scale, even = *scale;
    own.axes = AxesKind::Local;
    even.evenly = true;
    instead("along its own axes instead", own);
    instead("evenly instead", even);
  }
  if (const auto* place = std::get_if<Place>(&verb); place && place->axes.kind != AxesKind::Parent) {
    Place parent = *place;
    parent.axes = AxesKind::Parent;
    instead("the same numbers in its parent's axes instead", parent);
  }
  if (const auto* reparent = std::get_if<Reparent>(&verb)) {
    Reparent numbers = *reparent;
    numbers.keep_place = false;
    instead("keep the numbers instead", numbers);
  }
  remedies.push_back({"bake it into the mesh", std::nullopt, Verb(bake)});
  remedies.push_back({"keep the skew", std::nullopt, std::nullopt});
  return remedies;
}

namespace {

// The From of a verb, and those of its further pairs, on another part.
template <typename V>
void move_places(V& verb, PartId part) {
  const PartId was = verb.from->part;
  verb.from->part = part;
  if constexpr (requires { verb.more; })
    for (MeetPair& pair : verb.more)
      if (pair.from && pair.from->part == was) pair.from->part = part;
}

}  // namespace

Verb with_parts(const Verb& verb, const std::vector<PartId>& parts) {
  Verb changed = verb;
  std::visit(
      [&](auto& v) {
        if constexpr (requires {
                        v.from->part;
                        v.what;
                      })
          if (v.from && v.from->part != kNoPart && !parts.empty() && (v.what.empty() || v.from->part == v.what.front()))
            move_places(v, parts.front());
        if constexpr (requires { v.what; }) v.what = parts;
        if constexpr (requires { v.part; })
          if (!parts.empty()) v.part = parts.front();
      },
      changed);
  return changed;
}

}  // namespace tack
