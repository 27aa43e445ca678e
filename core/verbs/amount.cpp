#include "core/verbs/amount.h"

#include <fmt/format.h>

#include <nlohmann/json.hpp>

#include "core/math/split.h"
#include "core/verbs/about.h"

namespace tack {
namespace {

Result<Amount> typed_amount(std::string text, const LengthUnit& unit, EntryKind kind, std::string_view key,
                            const Reading& reading, double it) {
  const auto value = parse_entry(text, {kind, unit, it, reader_of(reading)});
  if (!value) return fail(fmt::format("\"{}\": {}", text, value.error().why), std::string(key));
  return Amount{*value, std::move(text), unit};
}

}  // namespace

bool uses_it(const Amount& amount) {
  const auto letter = [](char c) { return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z'); };
  bool quoted = false;
  const std::string& t = amount.text;
  for (std::size_t i = 0; i + 1 < t.size(); ++i) {
    if (t[i] == '"' && i > 0 && (t[i - 1] == ' ' || quoted)) quoted = !quoted;
    if (!quoted && t.compare(i, 2, "it") == 0 && (i == 0 || !letter(t[i - 1])) &&
        (i + 2 == t.size() || !letter(t[i + 2])))
      return true;
  }
  return false;
}

bool reads_part(const Amount& amount) {
  return amount.text.find("of") != std::string::npos && amount.text.find('"') != std::string::npos;
}

Result<double> evaluate(const Amount& amount, EntryKind kind, std::optional<double> it, const Reading& reading) {
  const bool own_axes = reading.axes.kind == AxesKind::Local || reading.axes.kind == AxesKind::Parent;
  if (!uses_it(amount) && !(own_axes && reads_part(amount))) return amount.value;
  const auto value = parse_entry(amount.text, {kind, amount.unit, it, reader_of(reading)});
  if (!value) return fail(value.error().why, fmt::format("\"{}\"", amount.text));
  return *value;
}

std::function<std::optional<double>(std::string_view, std::string_view)> reader_of(const Reading& reading) {
  return [scene = reading.scene, axes = reading.axes, part = reading.part](
             std::string_view what, std::string_view name) -> std::optional<double> {
    const auto id = find_by_path(scene, name);
    if (!id) return std::nullopt;
    const Affine frame = axes_frame(scene, part, axes);
    if (what == "x" || what == "y" || what == "z") {
      const auto to_axes = inverse(frame);
      if (!to_axes) return std::nullopt;
      const Vec3 pivot = world_of(scene, *id) * scene.part(*id).placement.pivot;
      return (frame == Affine{} ? pivot : *to_axes * pivot)[what == "x" ? 0 : what == "y" ? 1 : 2];
    }
    const Box box = box_along(scene, *id, squared_up(frame.linear));
    if (box.empty()) return std::nullopt;
    const Vec3 size = box.size();
    return what == "width" ? size.x : what == "depth" ? size.y : size.z;
  };
}

Result<Amount> amount_from_json(const Json& json, EntryKind kind, std::string_view key, const Reading& reading,
                                double it) {
  if (json.is_number()) {
    const double value = json.get<double>();
    if (!std::isfinite(value)) return fail("This number is too large.", std::string(key));
    return Amount{value, {}};
  }
  if (json.is_object() && json.size() == 2 && json.contains("text") && json["text"].is_string() &&
      json.contains("unit") && json["unit"].is_string()) {
    const auto unit = length_unit(json["unit"].get<std::string>());
    if (!unit) return fail(fmt::format("{} is not a unit of length.", json["unit"].dump()), std::string(key));
    return typed_amount(json["text"].get<std::string>(), *unit, kind, key, reading, it);
  }
  if (!json.is_string())
    return fail(fmt::format("{} is not a number or a typed value.", json.dump().substr(0, 60)), std::string(key),
                "Write a number in mm or degrees, or text such as \"3/8 in\".");
  return typed_amount(json.get<std::string>(), kMillimetres, kind, key, reading, it);
}

Amount more_by(double by, EntryKind kind) {
  return {0, (by < 0 ? "it - " : "it + ") + full_digits(std::abs(by)) + (kind == EntryKind::Length ? " mm" : ""),
          kMillimetres};
}

Json amount_to_json(const Amount& amount) {
  if (amount.text.empty() || (amount.unit.millimetres != 1 && !uses_it(amount))) return amount.value;
  if (amount.unit.millimetres == 1) return amount.text;
  return {{"text", amount.text}, {"unit", std::string(amount.unit.name)}};
}

}  // namespace tack
