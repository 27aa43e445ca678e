// What planes and guides carry beside their placement: a grid, what they follow, and views kept by name.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "core/math/matrix.h"
#include "core/scene/placement.h"
#include "core/scene/tack_address.h"

namespace tack {

/// The grid of a plane. Node (i, j) is origin + i·s·x + j·s·y with s = spacing / parts.
struct PlaneGrid {
  double spacing = 0;  ///< mm from line to line; 0: as the zoom asks for
  int parts = 1;       ///< into how many each square is divided; without a spacing the zoom divides
  double extent = 0;   ///< mm from the origin to each side; 0: as far as the view shows

  friend bool operator==(const PlaneGrid&, const PlaneGrid&) = default;
};
using PlaneGridPtr = std::shared_ptr<const PlaneGrid>;

/// Where a guide stands, said by other things: it stands there again when they have moved. core/catch/guide_law.h works
/// it out.
struct GuideLaw {
  enum class Kind : std::uint8_t {
    At,      ///< one place: z along its direction, x along its roll; then across, offset and turned
    Points,  ///< a line: two places; a plane: its origin, x towards the second, flat through the third
    Beside,  ///< a line: an edge or a line, and perhaps a place on the side on which it lies, `offset` away from it
    Angle,   ///< a line: an edge or a line, a place that it goes through, and perhaps a face to turn in; by `angle`
  };
  Kind kind = Kind::At;
  std::vector<TackAddress> places;
  double offset = 0;  ///< mm; of a plane along the normal that it begins with
  double angle = 0;   ///< degrees; of a plane round its own axis `round`, after the offset
  int round = 0;      ///< 0, 1, 2 for x, y, z
  int across = 2;     ///< At: which of the place's axes becomes the normal

  friend bool operator==(const GuideLaw&, const GuideLaw&) = default;
};
using GuideLawPtr = std::shared_ptr<const GuideLaw>;

/// The planes on which a part has had the same numbers, and where it stood then: bringing it back to one of them gives
/// the same bits. It holds as long as the part stands at one of these places.
struct SameNumbers {
  struct At {
    Affine plane;   ///< to the world
    Affine parent;  ///< the parent's, to the world
    Placement placement;

    friend bool operator==(const At&, const At&) = default;
  };
  std::vector<At> known;
};
using SameNumbersPtr = std::shared_ptr<const SameNumbers>;

/// A view kept by name: a camera (core/view/view.h) in numbers.
struct NamedView {
  std::string name;
  Vec3 target;                          ///< mm
  double turn = 0, tilt = 0, roll = 0;  ///< degrees
  double distance = 1000;               ///< mm
  bool perspective = true;

  friend bool operator==(const NamedView&, const NamedView&) = default;
};

}  // namespace tack
