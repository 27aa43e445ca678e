// Guide: a point, line or plane that exists only to be measured from or caught on.
#pragma once

#include "core/verbs/blank_row.h"

namespace tack {

/// Whether a guide stays where it was laid, or goes where what it was laid by goes.
enum class GuideHolding { Stays, Follows };
inline constexpr Choice kGuideHoldings[] = {{"staying where it is", "stay"}, {"following it", "follow"}};
/// As a steps file has it; null for none. Both are written: which of them is meant otherwise depends on the rest.
Json holding_to_json(const std::optional<GuideHolding>& holds);

struct AddGuide {
  enum class Way {
    At,       ///< through a place: a line along its direction, a plane across it
    Through,  ///< a line through two places
    Beside,   ///< a line beside an edge, at a distance
    Angle,    ///< a line at an angle to an edge, through a place
  };
  GuideKind kind = GuideKind::Line;
  std::optional<TackAddress> at;  ///< At: where it goes through
  std::string name;               ///< empty: "Guide", made free by a number
  Way way = Way::At;
  std::optional<TackAddress> from, to;  ///< Through
  std::optional<TackAddress> edge;      ///< Beside, Angle: an edge, a guide line or an axis
  std::optional<TackAddress> in;        ///< Beside: a place on the side where it lies; Angle: on the face to turn in
  Amount distance{10};                  ///< Beside: mm; negative: on the other side
  Amount angle{90};                     ///< Angle: degrees, right-handed about the face's normal
  std::optional<TackAddress> about;     ///< Angle: where it goes through
  std::optional<GuideHolding> holds;    ///< none: one beside an edge or at an angle to it follows, others stay
  friend bool operator==(const AddGuide&, const AddGuide&) = default;
};

/// Adds the guide at the top of the tree; its z is the direction of a line or the normal of a plane, its x the place's
/// roll. It is a part like any other: it can be moved, turned, met, hidden, locked. One that follows stands where
/// core/catch/guide_law.h has it whenever its places have moved. Fails without a place or a kind, and as frame_of_law()
/// does.
Result<Scene> apply(const AddGuide& guide, const Scene& scene);
const Table<AddGuide>& table_of(const AddGuide*);

}  // namespace tack
