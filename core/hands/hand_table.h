// What each verb with handles says of them; core/hands/hand.cpp lists the verbs.
#pragma once

#include "core/hands/hand.h"

namespace tack {

// What a verb with handles says of them. All but the first may be left out.
template <class V>
struct Hand {
  std::vector<Handle> (*handles)(const V& draft, const Scene&, const View&) = nullptr;
  // The verb that the drag means; nullopt when it means none. Not given: nothing is dragged, only clicked.
  std::optional<V> (*dragged)(const V& draft, const Scene&, const Grip&) = nullptr;
  Gauges (*gauges)(const V& dragged, const Scene& before, const Scene& shown, const Grip&, const LengthUnit&) = nullptr;
  // A word written beside a handle: the letter of a ruler, the size at a pad.
  std::string (*words)(const V& draft, const Scene&, const Handle&, const LengthUnit&) = nullptr;
  // The box whose points can be taken hold of.
  std::optional<Affine> (*box)(const V& draft, const Scene&) = nullptr;
  std::optional<Affine> (*target_box)(const V& draft, const Scene&) = nullptr;
  // A click on a point of a box.
  V (*pointed)(V draft, const Handle&) = nullptr;
  // What stands there without a drag.
  Gauges (*standing)(const V&, const Scene& before, const Scene& after, const LengthUnit&) = nullptr;
  // Dimension lines of its own kind.
  std::vector<DimensionLine> (*lines)(const V&, const Scene&, const View&, const LengthUnit&) = nullptr;
  // What a place that was taken hold of is dragged like while it is over no other; not given: places are not.
  Handle (*grip)(const V& draft, const Scene&, const Vec3& at) = nullptr;
  // The arcs that count on in a drag.
  std::optional<Arcs> (*arcs)(const V& draft, const Scene&) = nullptr;
  // What a handle over a place of another part means: it stops level or in line with it. Nullopt: nothing.
  std::optional<V> (*level)(const V& draft, const Scene&, const Grip&) = nullptr;
  // Dimension lines in place of rulers.
  std::optional<Pads> (*dimensions)(const V& draft, const Scene&) = nullptr;
  // Where a value of those lines is typed.
  BlankId (*value_blank)(const V&, const Handle&) = nullptr;
  bool while_waiting = false;  //< handles are there although a place is waited for
  bool presses = false;        //< a press on a pad without a drag already means something
};

}  // namespace tack
