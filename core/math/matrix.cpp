#include "core/math/matrix.h"

#include <Eigen/LU>

namespace tack {
namespace {

using Long = Eigen::Matrix<long double, 3, 3>;

double largest_entry(const Mat3& m) {
  return std::max({largest_component(m.column[0]), largest_component(m.column[1]), largest_component(m.column[2])});
}

Long longer(const Mat3& m) {
  Long result;
  for (int r = 0; r < 3; ++r)
    for (int c = 0; c < 3; ++c) result(r, c) = m(r, c);
  return result;
}

Mat3 shorter(const Long& m) {
  Mat3 result;
  for (int r = 0; r < 3; ++r)
    for (int c = 0; c < 3; ++c) result(r, c) = static_cast<double>(m(r, c));
  return result;
}

double largest_off(const Mat3& a, const Mat3& b) {
  double off = 0;
  for (std::size_t c = 0; c < 3; ++c) off = std::max(off, largest_component(a.column[c] - b.column[c]));
  return off;
}

}  // namespace

std::optional<Mat3> inverse(const Mat3& m) {
  // Scaling by the largest entry first keeps the determinant of very small or very large matrices representable.
  const double scale = largest_entry(m);
  if (!(scale > 0) || !std::isfinite(scale)) return std::nullopt;
  const Mat3 s{{m.column[0] / scale, m.column[1] / scale, m.column[2] / scale}};
  const double det = determinant(s);
  if (det == 0 || !std::isfinite(det)) return std::nullopt;
  const Mat3 c = transpose(cofactor(s));
  const double factor = det * scale;
  Mat3 result{{c.column[0] / factor, c.column[1] / factor, c.column[2] / factor}};
  if (!is_finite(result)) return std::nullopt;
  // Cofactors lose twice the digits that the matrix itself costs.
  if (!(largest_off(m * result, {}) > 1e-12)) return result;
  const Eigen::FullPivLU<Long> lu(longer(s));
  if (!lu.isInvertible()) return std::nullopt;
  const Mat3 better = shorter(lu.inverse() / static_cast<long double>(scale));
  return is_finite(better) ? std::optional(better) : std::nullopt;
}

Mat3 solved(const Mat3& a, const Mat3& inverse_of_a, const Mat3& b) {
  constexpr int kMostPasses = 8;
  Mat3 x = inverse_of_a * b;
  double off = largest_off(a * x, b);
  if (!(off > 1e-13 * largest_entry(b))) return x;
  for (int pass = 0; pass < kMostPasses; ++pass) {
    const Mat3 missing = shorter(longer(b) - longer(a) * longer(x));
    const Mat3 change = inverse_of_a * missing;
    const Mat3 better{{x.column[0] + change.column[0], x.column[1] + change.column[1], x.column[2] + change.column[2]}};
    const double then = largest_off(shorter(longer(a) * longer(better)), b);
    if (!(then < off)) break;
    x = better;
    off = then;
  }
  return x;
}

std::optional<Affine> inverse(const Affine& a) {
  const auto linear = inverse(a.linear);
  if (!linear) return std::nullopt;
  return Affine{*linear, -(*linear * a.translation)};
}

}  // namespace tack
