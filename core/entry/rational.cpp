#include "core/entry/rational.h"

#include <cmath>

#include "core/entry/units.h"

namespace tack {
namespace {

constexpr Whole kLargest = Whole(1) << 120;

Whole common_divisor(Whole a, Whole b) {
  if (a < 0) a = -a;
  while (b != 0) {
    const Whole rest = a % b;
    a = b;
    b = rest;
  }
  return a;
}

std::optional<Whole> product(Whole a, Whole b) {
  Whole result = 0;
  if (__builtin_mul_overflow(a, b, &result) || result > kLargest || result < -kLargest) return std::nullopt;
  return result;
}

}  // namespace

std::optional<Rational> Rational::of(Whole top, Whole bottom) {
  if (bottom == 0) return std::nullopt;
  if (bottom < 0) top = -top, bottom = -bottom;
  const Whole common = common_divisor(top, bottom);
  top /= common;
  bottom /= common;
  if (top > kLargest || top < -kLargest || bottom > kLargest) return std::nullopt;
  return Rational(top, bottom);
}

std::optional<Rational> Rational::from_decimal(std::string_view text) {
  constexpr int kMostDigits = 30;
  Whole digits = 0;
  int count = 0, decimals = 0;
  bool point = false, any = false;
  std::size_t at = 0;
  for (; at < text.size(); ++at) {
    const char c = text[at];
    if (c == '.' && !point) {
      point = true;
      continue;
    }
    if (c < '0' || c > '9') break;
    any = true;
    if (digits != 0 || c != '0') ++count;
    if (count > kMostDigits) return std::nullopt;
    digits = digits * 10 + (c - '0');
    if (point) ++decimals;
  }
  if (!any) return std::nullopt;
  int exponent = 0;
  if (at < text.size()) {
    if (text[at] != 'e' && text[at] != 'E') return std::nullopt;
    ++at;
    bool minus = false;
    if (at < text.size() && (text[at] == '+' || text[at] == '-')) minus = text[at++] == '-';
    if (at == text.size()) return std::nullopt;
    for (; at < text.size(); ++at) {
      if (text[at] < '0' || text[at] > '9' || exponent > 999) return std::nullopt;
      exponent = exponent * 10 + (text[at] - '0');
    }
    if (minus) exponent = -exponent;
  }
  int power = exponent - decimals;
  auto value = of(digits);
  if (digits == 0) return value;
  for (; value && power != 0; power += power < 0 ? 1 : -1) value = power < 0 ? *value / *of(10) : *value * *of(10);
  return value;
}

std::optional<Rational> Rational::meant_by(double value) {
  if (!std::isfinite(value)) return std::nullopt;
  const auto size = from_decimal(full_digits(std::abs(value)));
  if (!size || value >= 0) return size;
  return of(-size->top_, size->bottom_);
}

double Rational::nearest() const {
  if (top_ == 0) return 0;
  const bool minus = top_ < 0;
  __extension__ using Unsigned = unsigned __int128;
  const auto top = static_cast<Unsigned>(minus ? -top_ : top_);
  const auto bottom = static_cast<Unsigned>(bottom_);
  // Long division in binary: the whole part, then bit by bit until 55 bits are known; what is left over sets the last
  // one, so that rounding to 53 sees on which side of a tie the value lies.
  Unsigned quotient = top / bottom, rest = top % bottom;
  int exponent = 0;
  bool over = false;
  while (quotient >> 62 != 0) {
    over = over || (quotient & 1) != 0;
    quotient >>= 1;
    ++exponent;
  }
  while (quotient >> 55 == 0) {
    rest <<= 1;
    quotient <<= 1;
    if (rest >= bottom) {
      rest -= bottom;
      quotient |= 1;
    }
    --exponent;
  }
  if (rest != 0 || over) quotient |= 1;
  const double size = std::ldexp(static_cast<double>(static_cast<unsigned long long>(quotient)), exponent);
  return minus ? -size : size;
}

std::optional<Rational> operator+(const Rational& a, const Rational& b) {
  const Whole common = common_divisor(a.bottom_, b.bottom_);
  const auto left = product(a.top_, b.bottom_ / common), right = product(b.top_, a.bottom_ / common);
  const auto bottom = product(a.bottom_, b.bottom_ / common);
  if (!left || !right || !bottom) return std::nullopt;
  return Rational::of(*left + *right, *bottom);
}

std::optional<Rational> operator-(const Rational& a, const Rational& b) { return a + Rational(-b.top_, b.bottom_); }

std::optional<Rational> operator*(const Rational& a, const Rational& b) {
  const Whole one = common_divisor(a.top_, b.bottom_), other = common_divisor(b.top_, a.bottom_);
  const auto top = product(a.top_ / one, b.top_ / other), bottom = product(a.bottom_ / other, b.bottom_ / one);
  if (!top || !bottom) return std::nullopt;
  return Rational::of(*top, *bottom);
}

std::optional<Rational> operator/(const Rational& a, const Rational& b) {
  if (b.top_ == 0) return std::nullopt;
  return a * (b.top_ < 0 ? Rational(-b.bottom_, -b.top_) : Rational(b.bottom_, b.top_));
}

}  // namespace tack
