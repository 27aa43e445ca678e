// What the stage and the loupe draw of the verb in hand, beside the scene itself. Points are in the world, mm.
#pragma once

#include <QString>
#include <memory>

#include "app/store.h"
#include "core/fit/closeness.h"
#include "core/view/manipulators.h"

namespace tack {

struct Marks {
  struct Place {
    Vec3 point;
    QString name;
  };
  std::optional<Place> from, to;  ///< solid pin and open ring; joined by a dashed line with `distance` at its middle
  bool joined = false;
  QString distance;
  Tone tone = Tone::Hint;  ///< of the distance: Apart where the meeting leaves something
  /// Places that have been given to a verb that has more than From and To: as a pin on what moves, else as a ring.
  struct Given {
    Vec3 point;
    bool moves = false;
  };
  std::vector<Given> given;
  /// The other pairs of a meeting, without words.
  std::vector<std::array<Vec3, 2>> pairs;
  /// Parts shown where they would end up, or during a drag where they were.
  std::vector<std::pair<PartId, Affine>> ghosts;
  /// Whose parts the ghosts are; null: the document's.
  std::shared_ptr<const Scene> ghost_scene;
  /// During a drag: the scene that is drawn in place of the document's.
  std::shared_ptr<const Scene> shown;
  /// Guides that are about to be laid.
  struct Guide {
    GuideKind kind;
    Affine frame;  ///< to the world
  };
  std::vector<Guide> guides;
  Gauges gauges;
  /// The edges of the box whose points the pads are.
  std::vector<std::array<Vec3, 2>> box;
  /// Those of the box that it is brought level with.
  std::vector<std::array<Vec3, 2>> target_box;
  /// What the loupe looks at: two places, and the words and tone under it. nullopt: nothing yet.
  struct Meeting {
    Vec3 from, to;
    double span = 10;  ///< mm that the close-ups show at least
    std::optional<double> angle;
    QString words;  ///< "exact", "within 0.01 mm", "apart by …", or what will be
    Tone tone = Tone::Hint;
  };
  std::optional<Meeting> meeting;
};

/// Between two places of a scene: what the loupe looks at, in the words of closeness.
std::optional<Marks::Meeting> meeting_between(const Scene& scene, const TackAddress& from, const TackAddress& to,
                                              const LengthUnit& unit);
/// The same of a tie that has been measured.
Marks::Meeting meeting_of(const Scene& scene, const Tie& tie, const TieState& state, const LengthUnit& unit);
/// How much a close-up of a place shows, mm.
double loupe_span(const Scene& scene, const TackAddress& place);
/// A place in words; nullopt when it is not there.
std::optional<Marks::Place> marked_place(const Scene& scene, const TackAddress& place);
QString caught_words(const Scene& scene, const TackAddress& place, bool behind);
/// The shown meshes of `parts` and all below them, each with its place in `scene`.
std::vector<std::pair<PartId, Affine>> ghosts_of(const Scene& scene, const std::vector<PartId>& parts);
/// The colour's role for how near something came.
Tone tone_of(const Closeness& closeness);

}  // namespace tack
