#include "core/entry/entry.h"

#include <fmt/format.h>

#include <charconv>
#include <cmath>
#include <numbers>

#include "core/entry/quoted.h"
#include "core/entry/rational.h"
#include "core/math/degrees.h"

namespace tack {
namespace {

// A value with its power of the unit: 0 is a plain number, 1 a length (or angle), 2 an area, and so on. As long as it
// is a fraction of whole numbers it is also kept as one, so that only the end result is rounded.
struct Value {
  double number = 0;
  int power = 0;
  std::optional<Rational> exact = std::nullopt;
};

Value fraction(const std::optional<Rational>& exact, double number, int power) {
  return {exact ? exact->nearest() : number, power, exact};
}

template <class Operation>
std::optional<Rational> both(const Value& a, const Value& b, Operation operation) {
  return a.exact && b.exact ? operation(*a.exact, *b.exact) : std::nullopt;
}

struct Failure {
  EntryError error;
};

bool is_letter(char c) { return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c & 0x80) != 0; }
bool is_digit(char c) { return c >= '0' && c <= '9'; }

// The power of a length that is read where an angle or a factor is wanted: far from any that a unit of those comes to.
constexpr int kLengthElsewhere = 1000;

// Recursive descent over the text. Failures travel as an exception inside this file only: a parser that checks an
// expected after every rule is twice as long and no clearer.
class Parser {
 public:
  Parser(std::string_view text, const EntryContext& context) : text_(text), context_(context) {}

  double parse() {
    skip_space();
    if (peek() == '=') ++at_;
    skip_space();
    if (at_ == text_.size()) stop(0, text_.size(), "Nothing has been typed.");
    const Value v = sum(0);
    skip_space();
    if (at_ < text_.size()) unexpected();
    if (v.power != 0 && v.power != 1) stop(0, text_.size(), wrong_power(v.power));
    const double result = v.power == 0 ? times(v, default_unit(), 0).number : v.number;
    if (!std::isfinite(result)) stop(0, text_.size(), "The result is too large to be a number.");
    return result + 0.0;
  }

 private:
  std::string wrong_power(int power) const {
    if (context_.kind != EntryKind::Length && std::abs(power) >= kLengthElsewhere / 2)
      return fmt::format("This comes to a length, and {} {} is needed. Divide it by another length.",
                         context_.kind == EntryKind::Angle ? "an" : "a", noun());
    if (context_.kind != EntryKind::Length)
      return fmt::format("This is no {}: two of them were multiplied or divided.", noun());
    if (power == 2) return "This comes to square millimetres; a length is needed.";
    if (power == 3) return "This comes to cubic millimetres; a length is needed.";
    return fmt::format("This comes to millimetres to the power of {}; a length is needed.", power);
  }

  [[noreturn]] static void stop(std::size_t from, std::size_t to, std::string why) {
    throw Failure{{from, to > from ? to - from : 1, std::move(why)}};
  }

  [[noreturn]] void unexpected() {
    if (peek() == ',') stop(at_, at_ + 1, "Write decimals with a point: 12.5, not 12,5.");
    std::size_t end = at_ + 1;
    while (end < text_.size() && (text_[end] & 0xC0) == 0x80) ++end;  // the whole of a UTF-8 character
    if (is_letter(text_[at_])) {
      while (end < text_.size() && is_letter(text_[end])) ++end;
      const std::string word(text_.substr(at_, end - at_));
      stop(at_, end,
           context_.kind == EntryKind::Factor
               ? fmt::format("\"{}\" is no value known here.", word)
               : fmt::format("\"{}\" is no unit of {} and no value known here.", word, noun()));
    }
    stop(at_, end, fmt::format("\"{}\" does not belong here.", std::string(text_.substr(at_, end - at_))));
  }

  const char* noun() const {
    return context_.kind == EntryKind::Length ? "length" : context_.kind == EntryKind::Angle ? "angle" : "factor";
  }
  double default_unit() const { return context_.kind == EntryKind::Length ? context_.unit.millimetres : 1; }

  char peek() const { return at_ < text_.size() ? text_[at_] : '\0'; }
  void skip_space() {
    while (at_ < text_.size() && (text_[at_] == ' ' || text_[at_] == '\t' || text_.substr(at_, 2) == "\u00a0"))
      at_ += text_[at_] == ' ' || text_[at_] == '\t' ? 1 : 2;
  }
  bool take(std::string_view token) {
    if (text_.substr(at_, token.size()) != token) return false;
    at_ += token.size();
    return true;
  }
  std::string_view word_ahead() const {
    std::size_t end = at_;
    while (end < text_.size() && is_letter(text_[end])) ++end;
    return text_.substr(at_, end - at_);
  }

  void match_powers(Value& a, Value& b) const {
    // A plain number joins a sum of lengths in the unit in use.
    if (a.power == b.power) return;
    Value& plain = a.power == 0 ? a : b;
    const int power = a.power == 0 ? b.power : a.power;
    if (plain.power != 0) return;
    for (int i = 0; i < std::abs(power); ++i)
      plain = power > 0 ? times(plain, default_unit(), 0) : over(plain, default_unit());
    plain.power = power;
  }

  Value sum(int depth) {
    const std::size_t start = at_;
    Value left = product(depth);
    for (;;) {
      skip_space();
      const bool plus = take("+");
      const bool minus = !plus && (take("-") || take("−"));
      if (!plus && !minus) return left;
      Value right = product(depth);
      match_powers(left, right);
      if (left.power != right.power) stop(start, at_, "These two cannot be added: they are of different kinds.");
      const auto exact = both(left, right, [&](const auto& a, const auto& b) { return plus ? a + b : a - b; });
      left = fraction(exact, left.number + (plus ? right.number : -right.number), left.power);
    }
  }

  Value product(int depth) {
    Value left = signed_value(depth);
    for (;;) {
      skip_space();
      const std::size_t operation = at_;
      const bool times = take("*") || take("×");
      const bool over = !times && take("/");
      if (!times && !over) return left;
      const Value right = signed_value(depth);
      if (over && right.number == 0) stop(operation, at_, "This divides by zero.");
      const auto exact = both(left, right, [&](const auto& a, const auto& b) { return times ? a * b : a / b; });
      left = fraction(exact, times ? left.number * right.number : left.number / right.number,
                      left.power + (times ? right.power : -right.power));
    }
  }

  Value signed_value(int depth) {
    if (depth > 200) stop(at_, at_ + 1, "Too many brackets inside one another.");
    skip_space();
    if (take("-") || take("−")) {
      const Value v = signed_value(depth + 1);
      return {-v.number, v.power, v.exact ? Rational::of(-v.exact->top(), v.exact->bottom()) : std::nullopt};
    }
    if (take("+")) return signed_value(depth + 1);
    return primary(depth);
  }

  Value primary(int depth) {
    skip_space();
    if (is_digit(peek()) || peek() == '.') return quantity();
    if (peek() == '(') return with_unit(bracket(depth));
    const std::string_view word = word_ahead();
    const std::size_t start = at_;
    if (word == "pi") return at_ += 2, with_unit({std::numbers::pi, 0});
    if (word == "it") {
      at_ += 2;
      if (!context_.it) stop(start, at_, "There is no present value that \"it\" could stand for.");
      return {*context_.it, context_.kind == EntryKind::Factor ? 0 : 1};
    }
    for (const std::string_view name : {"sqrt", "sin", "cos", "tan"})
      if (word == name) return at_ += name.size(), function(name, start, depth);
    for (const std::string_view name : {"width", "depth", "height", "x", "y", "z"})
      if (word == name) return at_ += name.size(), reading(name, start);
    if (at_ == text_.size()) stop(at_ ? at_ - 1 : 0, at_, "Something is missing at the end.");
    unexpected();
  }

  Value bracket(int depth) {
    const std::size_t start = at_++;
    const Value v = sum(depth + 1);
    skip_space();
    if (!take(")")) stop(start, start + 1, "This bracket is not closed.");
    return v;
  }

  Value function(std::string_view name, std::size_t start, int depth) {
    skip_space();
    if (peek() != '(') stop(start, at_, fmt::format("Write {}( … ).", name));
    const Value v = bracket(depth);
    if (name == "sqrt") {
      if (v.number < 0) stop(start, at_, "There is no root of a negative number.");
      if (v.power % 2 != 0) stop(start, at_, "The root of this is not a length.");
      return {std::sqrt(v.number), v.power / 2, std::nullopt};
    }
    if (v.power != 0 && context_.kind != EntryKind::Angle) stop(start, at_, "An angle in degrees belongs in here.");
    const SinCos s = sin_cos_degrees(v.number);
    if (name == "sin") return {s.sin, 0};
    if (name == "cos") return {s.cos, 0};
    if (s.cos == 0) stop(start, at_, "The tangent of a right angle has no value.");
    return {s.sin / s.cos, 0};
  }

  Value reading(std::string_view name, std::size_t start) {
    skip_space();
    if (!take("of")) stop(start, at_, fmt::format("Write {} of \"Part name\".", name));
    skip_space();
    if (at_ >= text_.size() || text_[at_] != '"') stop(at_, at_ + 1, "The part's name belongs in quotes.");
    const auto part = out_of_quotes(text_, at_);
    if (!part) stop(at_, text_.size(), "This quote is not closed.");
    const auto value = context_.read ? context_.read(name, *part) : std::nullopt;
    if (!value) stop(start, at_, fmt::format("There is no {} of a part named \"{}\".", name, *part));
    // Two lengths divided are a number, which may stand anywhere; one alone only where a length is wanted.
    return {*value, context_.kind == EntryKind::Length ? 1 : kLengthElsewhere};
  }

  // A value in whole units becomes one in mm or degrees.
  static Value times(const Value& v, double unit, int power) {
    const auto size = Rational::meant_by(unit);
    return fraction(v.exact && size ? *v.exact * *size : std::nullopt, v.number * unit, v.power + power);
  }
  static Value over(const Value& v, double unit) {
    const auto size = Rational::meant_by(unit);
    return fraction(v.exact && size ? *v.exact / *size : std::nullopt, v.number / unit, v.power);
  }

  Value number() {
    double value = 0;
    const std::size_t start = at_;
    const auto [end, error] = std::from_chars(text_.data() + at_, text_.data() + text_.size(), value);
    if (error == std::errc::result_out_of_range)
      stop(at_, static_cast<std::size_t>(end - text_.data()), "This number is too large.");
    if (error != std::errc{}) unexpected();
    at_ = static_cast<std::size_t>(end - text_.data());
    if (peek() == ',' && at_ + 1 < text_.size() && is_digit(text_[at_ + 1])) unexpected();
    return {value, 0, Rational::from_decimal(text_.substr(start, at_ - start))};
  }

  // The size of the unit that stands here, in mm, degrees or 1; consumes it.
  std::optional<double> unit() {
    const std::size_t before = at_;
    skip_space();
    const std::size_t start = at_;
    if (context_.kind == EntryKind::Length) {
      if (take("'") || take("′")) return 304.8;
      if (take("\"") || take("″")) return 25.4;
      const std::string_view word = word_ahead();
      if (const auto u = length_unit(word)) return at_ += word.size(), u->millimetres;
    } else if (context_.kind == EntryKind::Angle) {
      if (take("°")) return 1.0;
      const std::string_view word = word_ahead();
      if (word == "deg" || word == "degree" || word == "degrees") return at_ += word.size(), 1.0;
      if (word == "rad") return at_ += word.size(), 180 / std::numbers::pi;
      if (word == "turn" || word == "turns") return at_ += word.size(), 360.0;
    } else if (take("%")) {
      return 0.01;
    }
    if (context_.kind != EntryKind::Length && length_unit(word_ahead()))
      stop(start, start + word_ahead().size(),
           context_.kind == EntryKind::Factor ? "A factor has no unit: type 1.5 or 150 %."
                                              : "An angle is in degrees or turns, not in a unit of length.");
    at_ = before;
    return std::nullopt;
  }

  Value with_unit(Value v) {
    if (v.power != 0) return v;
    const std::size_t before = at_;
    if (const auto u = unit()) return in_unit(v, *u);
    at_ = before;
    return v;
  }

  // "(3 + 4) %" has no power: a percentage is a plain number, and percent divides, so that 110 % is 1.1. Radians are no
  // fraction of a degree.
  Value in_unit(const Value& v, double unit) const {
    if (context_.kind == EntryKind::Factor) return over(v, 100);
    if (unit == 180 / std::numbers::pi) return {v.number * unit, 1, std::nullopt};
    return times(v, unit, 1);
  }

  // A number; or numbers with fractions and units that add up: 2 ft 6 1/2 in.
  Value quantity() {
    bool any = false;
    Value total{0, 0, Rational()};
    for (;;) {
      const std::size_t start = at_;
      Value value = number();
      const std::size_t after_number = at_;
      // "6 1/2" or "3/8" in front of a unit is one number.
      skip_space();
      bool whole = true;
      const std::size_t part = at_;
      if (is_digit(peek()) && at_ > after_number) {
        const Value top = number();
        skip_space();
        if (take("/")) {
          skip_space();
          if (is_digit(peek())) {
            const Value bottom = number();
            if (bottom.number == 0) stop(part, at_, "This divides by zero.");
            value = sum_of(value, quotient_of(top, bottom));
            whole = false;
          }
        }
        if (whole) stop(part, at_, "An operator is missing between these two numbers.");
      } else if (take("/")) {
        skip_space();
        if (is_digit(peek())) {
          const Value bottom = number();
          const std::size_t after = at_;
          if (unit() && bottom.number != 0) {
            at_ = after;
            value = quotient_of(value, bottom);
            whole = false;
          }
        }
      }
      if (whole) at_ = after_number;
      const auto u = unit();
      if (!u) {
        if (any) {  // "2 ft 6": the rest needs its unit said
          stop(start, at_, "This number needs a unit, or an operator before it.");
        }
        return value;
      }
      const Value sized = in_unit(value, *u);
      total = sum_of(total, sized);
      total.power = sized.power;
      any = true;
      const std::size_t after = at_;
      skip_space();
      if (context_.kind != EntryKind::Length || !(is_digit(peek()) || peek() == '.')) return at_ = after, total;
    }
  }

  static Value sum_of(const Value& a, const Value& b) {
    return fraction(both(a, b, [](const auto& x, const auto& y) { return x + y; }), a.number + b.number, a.power);
  }
  static Value quotient_of(const Value& a, const Value& b) {
    return fraction(both(a, b, [](const auto& x, const auto& y) { return x / y; }), a.number / b.number, a.power);
  }

  std::string_view text_;
  const EntryContext& context_;
  std::size_t at_ = 0;
};

}  // namespace

tl::expected<double, EntryError> parse_entry(std::string_view text, const EntryContext& context) {
  try {
    return Parser(text, context).parse();
  } catch (const Failure& failure) {
    return tl::unexpected(failure.error);
  }
}

}  // namespace tack
