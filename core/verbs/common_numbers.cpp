#include "core/verbs/common_numbers.h"

#include <tbb/blocked_range.h>
#include <tbb/parallel_for.h>

#include <atomic>

#include "core/verbs/scale.h"

namespace tack {
namespace {

// Position, rotation, size, factors, pivot, skew, three of each.
constexpr std::size_t kNumbers = 18;
constexpr std::size_t kSkew = 15;
using Numbers = std::array<double, kNumbers>;

Numbers numbers_of(const Scene& scene, PartId id, const Axes& axes, const std::optional<About>& of) {
  const PlacedNumbers n = numbers_in(scene, id, axes);
  const Vec3 position = of ? position_of(scene, id, axes, of).value_or(n.position) : n.position;
  const Vec3 size = size_of(scene, id, {id}, AxesKind::Local, false);
  Numbers numbers{};
  std::size_t at = 0;
  for (const Vec3& v : {position, n.rotation, size, n.scale, scene.part(id).placement.pivot, n.skew})
    for (int axis = 0; axis < 3; ++axis) numbers[at++] = v[axis];
  return numbers;
}

bool is_skewed(const Numbers& n) {
  return std::any_of(n.begin() + kSkew, n.end(), [](double v) { return std::abs(v) > 1e-12; });
}

}  // namespace

CommonNumbers common_numbers(const Scene& scene, const std::vector<PartId>& parts, const Axes& axes,
                             const std::optional<About>& of) {
  if (parts.empty()) return {};
  const Numbers first = numbers_of(scene, parts.front(), axes, of);
  std::atomic<std::uint32_t> differ{0};  // a bit for each number
  std::atomic<bool> skewed{is_skewed(first)};
  constexpr std::size_t kTogether = 256;
  tbb::parallel_for(tbb::blocked_range<std::size_t>(1, parts.size(), kTogether), [&](const auto& range) {
    std::uint32_t here = 0;
    for (std::size_t i = range.begin(); i < range.end(); ++i) {
      const Numbers n = numbers_of(scene, parts[i], axes, of);
      for (std::size_t k = 0; k < kNumbers; ++k)
        if (!(std::abs(n[k] - first[k]) <= 1e-9 * (1 + std::abs(n[k])))) here |= 1u << k;
      if (is_skewed(n)) skewed = true;
    }
    differ |= here;
  });
  CommonNumbers common;
  std::size_t at = 0;
  for (CommonNumbers3* row :
       {&common.position, &common.rotation, &common.size, &common.scale, &common.pivot, &common.skew})
    for (CommonNumber& number : *row) {
      number = {first[at], (differ.load() >> at & 1u) == 0};
      ++at;
    }
  common.skewed = skewed;
  return common;
}

}  // namespace tack
