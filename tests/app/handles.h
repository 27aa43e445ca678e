// Parts that are picked, and handles that the stage offers, in the real window.
#pragma once

#include <catch2/catch.hpp>

#include "core/verbs/about.h"
#include "tests/app/desk.h"

namespace tack::test {

inline Box world_box(Desk& desk, const std::string& part) { return box_along(desk.scene(), desk.part(part), Mat3{}); }

inline void pick_these(Desk& desk, const std::vector<std::string>& names) {
  std::vector<PartId> parts;
  for (const std::string& name : names) parts.push_back(desk.part(name));
  desk.store().pick(parts);
  desk.settle();
  desk.stage().setFocus();
}

// The pixel of a handle that the stage offers now; of one with a line so far along that.
template <class F>
QPoint handle_pixel(Desk& desk, F&& wanted, double along = 0.5) {
  const View view = desk.stage().view();
  for (const Handle& h : desk.window().bench().draft().handles(view)) {
    if (!wanted(h)) continue;
    const bool at_line = h.line.size() >= 2 && h.kind != Handle::Kind::Pad;
    const auto px = view.project(at_line ? h.line.front() + (h.line.back() - h.line.front()) * along : h.at);
    REQUIRE(px);
    return desk.stage().mapTo(&desk.window(), QPointF(px->x, px->y).toPoint());
  }
  FAIL("no such handle");
  return {};
}

}  // namespace tack::test
