// What is done to elements beyond placing them: pushing them out, smoothing them, sliding them.
#pragma once

#include "core/mesh/shares.h"
#include "core/verbs/blank_row.h"

namespace tack {

struct Push {
  std::vector<PartId> what;    ///< patches
  Amount by{1};                ///< mm in the world; negative: into the matter
  std::optional<Outward> way;  ///< none: faces by their planes, vertices and edges along their normals

  friend bool operator==(const Push&, const Push&) = default;
};
/// See pushed() in core/mesh/shares.h. Fails for what is no patch, and where faces fold back.
Result<Scene> apply(const Push& push, const Scene& scene);
const Table<Push>& table_of(const Push*);

struct Smooth {
  std::vector<PartId> what;  ///< patches
  Amount passes{10};         ///< 1 to 1000
  Amount strength{0.5};      ///< above 0, at most 0.65
  bool volume = true;        ///< it is kept: fine roughness goes, large shapes stay; else dents fill up

  friend bool operator==(const Smooth&, const Smooth&) = default;
};
/// What the numbers of a smoothing come to; fails for those that do not settle.
struct Smoothing {
  int passes = 0;
  double strength = 0;
};
Result<Smoothing> smoothing_of(const Amount& passes, const Amount& strength, const Scene& scene);
inline constexpr Choice kSmoothVolume[] = {{"filling dents and taking bumps off", "spanned"},
                                           {"keeping the volume", "kept"}};
/// See smoothed() in core/mesh/shares.h.
Result<Scene> apply(const Smooth& smooth, const Scene& scene);
const Table<Smooth>& table_of(const Smooth*);

struct SlideEdges {
  std::vector<PartId> what;  ///< patches of edges
  Amount share{0.25};        ///< −1 to 1: of the edges beside the run, to its left

  friend bool operator==(const SlideEdges&, const SlideEdges&) = default;
};
/// See slid() in core/mesh/shares.h. Nothing leaves the surface.
Result<Scene> apply(const SlideEdges& slide, const Scene& scene);
const Table<SlideEdges>& table_of(const SlideEdges*);

}  // namespace tack
