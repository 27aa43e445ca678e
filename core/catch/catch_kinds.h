// The kinds of place that catching looks for, as an artist switches them on and off.
#pragma once

#include <array>
#include <cstdint>
#include <string_view>

namespace tack {

enum class CatchKind : std::uint8_t {
  Vertex,
  Edge,       ///< the nearest place on an edge
  EdgePoint,  ///< the middle of an edge or another fraction of it, and where it crosses another edge, a face or a guide
              ///< plane
  RoundCentre,  ///< the centre of a round edge
  Face,         ///< the place under the pointer
  FaceCentre,
  Axis,  ///< of a round face
  BoxPoint,
  Pivot,  ///< and the centre of mass
  Grid,   ///< nodes of the ground
  Kept,   ///< tacks saved by name
  Guide,  ///< points, lines and planes to be caught on
};
inline constexpr std::size_t kCatchKindCount = 12;

/// A set of kinds; all but the grid to begin with.
class CatchKinds {
 public:
  CatchKinds() = default;
  static CatchKinds none() {
    CatchKinds k;
    k.bits_ = 0;
    return k;
  }
  static CatchKinds only(CatchKind kind) {
    CatchKinds k = none();
    k.set(kind, true);
    return k;
  }
  bool has(CatchKind kind) const { return bits_ >> static_cast<unsigned>(kind) & 1u; }
  void set(CatchKind kind, bool on) {
    const std::uint32_t bit = 1u << static_cast<unsigned>(kind);
    bits_ = on ? bits_ | bit : bits_ & ~bit;
  }
  bool empty() const { return bits_ == 0; }

  friend bool operator==(const CatchKinds&, const CatchKinds&) = default;

 private:
  std::uint32_t bits_ = (1u << kCatchKindCount) - 1u - (1u << static_cast<unsigned>(CatchKind::Grid));
};

/// In words, in the order of the enumeration.
inline constexpr std::array<std::string_view, kCatchKindCount> kCatchKindWords = {
    "vertex", "edge", "point of an edge", "round edge", "face", "face centre", "axis", "box point",
    "pivot",  "grid", "kept tack",        "guide"};

/// The key that, while C is held, takes this kind alone: digits, and letters for the last three.
inline constexpr std::string_view kCatchKindKeys = "123456789GKU";

}  // namespace tack
