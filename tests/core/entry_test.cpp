#include <catch2/catch.hpp>

#include "core/entry/entry.h"

using namespace tack;

namespace {

EntryContext context(EntryKind kind, std::optional<double> it = std::nullopt, LengthUnit unit = kMillimetres) {
  return {kind, unit, it, [](std::string_view what, std::string_view part) -> std::optional<double> {
            if (part != "Post 4") return std::nullopt;
            return what == "height" ? 222 : what == "x" ? -510 : 34;
          }};
}

void check_length(const char* text, double expected) {
  INFO(text);
  const auto v = parse_entry(text, context(EntryKind::Length, 100.0));
  REQUIRE(v);
  CHECK(*v == Approx(expected).epsilon(1e-15));
}

EntryError error_of(const char* text, EntryKind kind = EntryKind::Length) {
  const auto v = parse_entry(text, context(kind));
  INFO(text);
  REQUIRE_FALSE(v);
  CHECK_FALSE(v.error().why.empty());
  return v.error();
}

}  // namespace

TEST_CASE("lengths in every unit") {
  check_length("12", 12);
  check_length("=12", 12);
  check_length("12.5 mm", 12.5);
  check_length("3 cm", 30);
  check_length("1.2 m", 1200);
  check_length("3/8 in", 9.525);
  check_length("2 ft 6 1/2 in", 609.6 + 165.1);
  check_length("2' 6 1/2\"", 774.7);
  check_length("-2'", -609.6);
  check_length(".5", 0.5);
  check_length("1e3", 1000);
  check_length("−4", -4);
}

TEST_CASE("sums, brackets and functions") {
  check_length("it + 12", 112);
  check_length("it / 2", 50);
  check_length("(3 + 4) * 2", 14);
  check_length("2 + 3 * 4", 14);
  check_length("1/3", 1.0 / 3);
  check_length("1 cm + 1 in", 35.4);
  check_length("sqrt(it * it + (3/4 * it) * (3/4 * it))", 125);
  check_length("100 * sin(30)", 50);
  check_length("it * cos(60)", 50);
  check_length("2 * pi", 6.283185307179586);
  check_length("height of \"Post 4\" / 2", 111);
  check_length("x of \"Post 4\" + 10", -500);
  check_length("-(2 + -3)", 1);
}

TEST_CASE("a plain number is in the unit in use") {
  const EntryContext inches = context(EntryKind::Length, 254.0, {"in", 25.4});
  CHECK(parse_entry("2", inches) == 50.8);
  CHECK(*parse_entry("it + 1", inches) == Approx(279.4));
  CHECK(*parse_entry("10 mm + 1", inches) == Approx(35.4));
  CHECK(*parse_entry("it * 2", inches) == Approx(508));
}

TEST_CASE("angles and factors") {
  CHECK(*parse_entry("90", context(EntryKind::Angle)) == 90);
  CHECK(*parse_entry("45 deg", context(EntryKind::Angle)) == 45);
  CHECK(*parse_entry("45°", context(EntryKind::Angle)) == 45);
  CHECK(*parse_entry("1/4 turn", context(EntryKind::Angle)) == 90);
  CHECK(*parse_entry("0.5 rad", context(EntryKind::Angle)) == Approx(28.64788975654116));
  CHECK(*parse_entry("it + 7.5", context(EntryKind::Angle, 30.0)) == 37.5);
  CHECK(*parse_entry("110 %", context(EntryKind::Factor)) == 1.1);
  CHECK(*parse_entry("it * 2", context(EntryKind::Factor, 1.5)) == 3);
}

TEST_CASE("a bad entry says where and why") {
  CHECK(error_of("12,5").why.find("point") != std::string::npos);
  CHECK(error_of("12,5").at == 2);
  CHECK(error_of("").why.find("Nothing") != std::string::npos);
  CHECK(error_of("12 xyz").at == 3);
  CHECK(error_of("12 xyz").length == 3);
  CHECK(error_of("4 / 0").at == 2);
  CHECK(error_of("(3 + 4").at == 0);
  CHECK(error_of("3 4").at == 2);
  CHECK(error_of("12 mm * 3 mm").why.find("square millimetres") != std::string::npos);
  CHECK(error_of("it").why.find("present value") != std::string::npos);
  CHECK(error_of("height of \"Post 9\"").at == 0);
  CHECK(error_of("height of Post").at == 10);
  CHECK(error_of("1e999").why.find("too large") != std::string::npos);
  CHECK(error_of("tan(90)").why.find("right angle") != std::string::npos);
  CHECK(error_of("5 mm", EntryKind::Angle).why.find("length") != std::string::npos);
  CHECK(error_of("2 +").why.find("missing") != std::string::npos);
  CHECK(error_of("sqrt(-1)").at == 0);
  error_of(std::string(5000, '(').c_str());
  error_of(std::string(5000, '-').c_str());
}

TEST_CASE("numbers are shown with as many digits as they need") {
  CHECK(show_number(12, 4).text == "12");
  CHECK(show_number(0.1 + 0.2, 4).text == "0.3");
  CHECK(show_number(0.1 + 0.2, 4).exact);
  CHECK(show_number(1.0 / 3, 4).text == "0.3333");
  CHECK_FALSE(show_number(1.0 / 3, 4).exact);
  CHECK(show_number(-1e-9, 4).text == "0");
  CHECK_FALSE(show_number(-1e-9, 4).exact);
  CHECK(show_length(50.8, {"in", 25.4}, 3).text == "2 in");
  CHECK(full_digits(0.1) == "0.1");
}
