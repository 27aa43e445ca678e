// Scale: give parts a size, or factors, with a point that stays still.
#pragma once

#include "core/verbs/blank_row.h"
#include "core/verbs/parts.h"

namespace tack {

/// The blanks of Scale. Along each axis either a size or a factor may be given; what is not given stays.
struct Scale {
  std::vector<PartId> what;
  Axes axes = AxesKind::Local;
  Amounts size;           ///< mm; more than 0. `it` is the size now
  Amounts factor;         ///< never 0; negative ones mirror. `it` is 1
  About hold = bottom();  ///< what stays where it is
  bool evenly = false;    ///< the one size or factor given holds for all three axes
  PartId like = kNoPart;  ///< as big as this part, along the axes of `along`; instead of sizes and factors
  AxisSet along = kAllAxes;
  /// Both given: the factors along the axes of `along` (or the one for all, evenly) are those that bring From to To, as
  /// far as To can be reached so; instead of sizes and factors.
  std::optional<TackAddress> from, to;
  bool leave_copy = false;  ///< an instance stays where the part was
  /// What becomes of a part that keeps a band along one of its own axes when it is sized along it.
  enum class Profile {
    Keep,        ///< it is lengthened by the band, and its ends stay as they are
    Proportion,  ///< it gets a factor, like any other part
  };
  Profile profile = Profile::Keep;

  friend bool operator==(const Scale&, const Scale&) = default;
};

/// The size of parts in the sense of Scale, mm. Local axes: the extent of the part's own mesh (of everything below it
/// for a group) × the length of its world column. Other axes: the extent of the true vertices of the part and
/// everything below it along those axes, never the box of a turned box. With a still point that all share (AllBox,
/// Place), along axes that are the same for all, it is the extent of all together. Zero where there is nothing.
Vec3 size_of(const Scene& scene, PartId part, const std::vector<PartId>& parts, const Axes& axes, bool together);

/// Local axes: only the factors of the placement change, so no skew comes of it. Other axes: the part is stretched
/// along them; where they are not its own that makes skew, which is kept and said (remark() in verb.h). The held
/// point ends within 1e-9 × (extent + distance from the origin) of where it was. Children grow with their parent. Fails
/// when nothing is picked or given, for a factor of 0, a size that is not more than 0, a size along which the part is
/// flat, more than one value with `evenly`, a locked part or a flattened parent.
/// A part that keeps one band along an own axis is lengthened by it, and what hangs below it is shifted, instead of
/// being given a factor, unless `profile` says otherwise or From reaches To; live shapes take sizes into their
/// dimensions (core/verbs/live.h).
Result<Scene> apply(const Scale& scale, const Scene& scene);
const Table<Scale>& table_of(const Scale*);

/// The factors along the three axes that the verb means for `part`. `known_size` is its size_of() now, where the caller
/// has it already.
Result<Vec3> factors_for(const Scale& scale, const Scene& scene, PartId part, const std::vector<PartId>& parts,
                         const std::optional<Vec3>& known_size = {});

}  // namespace tack
