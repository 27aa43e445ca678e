#include "core/math/matrix.h"

namespace tack {

std::optional<Mat3> inverse(const Mat3& m) {
  // Scaling by the largest entry first keeps the determinant of very small or very large matrices representable.
  const double scale =
      std::max({largest_component(m.column[0]), largest_component(m.column[1]), largest_component(m.column[2])});
  if (!(scale > 0) || !std::isfinite(scale)) return std::nullopt;
  const Mat3 s{{m.column[0] / scale, m.column[1] / scale, m.column[2] / scale}};
  const double det = determinant(s);
  if (det == 0 || !std::isfinite(det)) return std::nullopt;
  const Mat3 c = transpose(cofactor(s));
  const double factor = det * scale;
  Mat3 result{{c.column[0] / factor, c.column[1] / factor, c.column[2] / factor}};
  if (!is_finite(result)) return std::nullopt;
  return result;
}

std::optional<Affine> inverse(const Affine& a) {
  const auto linear = inverse(a.linear);
  if (!linear) return std::nullopt;
  return Affine{*linear, -(*linear * a.translation)};
}

}  // namespace tack
