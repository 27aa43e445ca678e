#include "core/view/view_words.h"

#include <cmath>

namespace tack {

std::string view_words(const Camera& camera) {
  constexpr double kSquare = 0.01, kSeen = 10;
  const double turn = std::remainder(camera.turn, 360.0), tilt = camera.tilt;
  const std::string rolled = std::abs(std::remainder(camera.roll, 360.0)) > kSquare ? ", rolled" : "";
  // Turn 0 looks along +Y, from the front; 90 from the right.
  constexpr std::string_view kSides[] = {"from the front", "from the right", "from the back", "from the left"};
  const double quarter = turn / 90, nearest = std::nearbyint(quarter);
  const bool square = std::abs(quarter - nearest) * 90 <= kSquare;
  if (std::abs(tilt - 90) <= kSquare) return (square ? "from above" : "from above, turned") + rolled;
  if (std::abs(tilt + 90) <= kSquare) return (square ? "from below" : "from below, turned") + rolled;
  if (square && std::abs(tilt) <= kSquare) return std::string(kSides[(static_cast<int>(nearest) % 4 + 4) % 4]) + rolled;
  std::string words;
  const double front = std::abs(turn) <= 90 ? 90 - std::abs(turn) : -(std::abs(turn) - 90);
  if (front >= kSeen) words = "front";
  if (front <= -kSeen) words = "back";
  const double side = 90 - std::abs(std::abs(turn) - 90);
  if (side >= kSeen) words += std::string(words.empty() ? "" : " ") + (turn > 0 ? "right" : "left");
  if (std::abs(tilt) >= kSeen) words += tilt > 0 ? ", above" : ", below";
  return words + rolled;
}

}  // namespace tack
