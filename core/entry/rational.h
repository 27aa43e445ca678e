// Fractions of whole numbers, so that what is typed comes to the nearest double.
#pragma once

#include <optional>
#include <string_view>

namespace tack {

__extension__ using Whole = __int128;

/// A fraction in lowest terms with a positive denominator. Both numbers stay below 2^120: what would go beyond has no
/// value, and whoever asked goes on in doubles.
class Rational {
 public:
  Rational() = default;
  /// nullopt for a denominator of 0, and out of range.
  static std::optional<Rational> of(Whole top, Whole bottom = 1);
  /// The exact value of decimal text such as "12.5" or "1e-3", without a sign; nullopt for anything else, for more than
  /// 30 digits and out of range.
  static std::optional<Rational> from_decimal(std::string_view text);
  /// The value of the shortest text that reads back as this double: 127/5 for 25.4.
  static std::optional<Rational> meant_by(double value);

  Whole top() const { return top_; }
  Whole bottom() const { return bottom_; }
  /// The nearest double, ties to even.
  double nearest() const;

  friend std::optional<Rational> operator+(const Rational& a, const Rational& b);
  friend std::optional<Rational> operator-(const Rational& a, const Rational& b);
  friend std::optional<Rational> operator*(const Rational& a, const Rational& b);
  /// nullopt for a division by zero.
  friend std::optional<Rational> operator/(const Rational& a, const Rational& b);

 private:
  Rational(Whole top, Whole bottom) : top_(top), bottom_(bottom) {}
  Whole top_ = 0, bottom_ = 1;
};

}  // namespace tack
