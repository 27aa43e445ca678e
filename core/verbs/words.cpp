#include "core/verbs/words.h"

#include <fmt/format.h>

#include <charconv>

namespace tack {

std::string name_of(const Scene& scene, PartId id) {
  const Part* part = scene.find(id);
  return part ? printable(part->name) : std::string("a part that is gone");
}

std::string names_of(const Scene& scene, const std::vector<PartId>& parts) {
  const auto name = [&](std::size_t i) { return name_of(scene, parts[i]); };
  if (parts.empty()) return "nothing";
  if (parts.size() == 1) return name(0);
  if (parts.size() == 2) return name(0) + " and " + name(1);
  if (parts.size() == 3) return name(0) + ", " + name(1) + " and " + name(2);
  return fmt::format("{}, {} and {} more", name(0), name(1), parts.size() - 2);
}

std::string place_words(const Scene& scene, const TackAddress& place, PartId own) {
  if (!is_on_part(place)) return tack_words(scene, place);
  if (place.part == own) return "its " + kind_words(place);
  return kind_words(place) + " of " + name_of(scene, place.part);
}

std::string shown(const Amount& amount, EntryKind kind, const LengthUnit& unit) {
  if (!amount.text.empty()) {
    double plain = 0;
    // A typed plain number is shown with its unit, everything else as it was typed.
    const auto [end, error] = std::from_chars(amount.text.data(), amount.text.data() + amount.text.size(), plain);
    if (error != std::errc{} || end != amount.text.data() + amount.text.size()) return amount.text;
  }
  if (kind == EntryKind::Length) return show_length(amount.value, unit, 4).text;
  if (kind == EntryKind::Angle) return show_angle(amount.value, 4).text;
  return show_factor(amount.value).text;
}

Result<void> check_name(const std::string& name, std::string_view what) {
  if (name.empty()) return fail(fmt::format("{} needs a name.", what), "name");
  if (name.size() > 200) return fail("This name is longer than 200 characters.", "name");
  if (printable(name) != name)
    return fail("A name cannot have line breaks, control characters or marks that turn the direction of writing in it.",
                "name");
  return {};
}

std::string next_name(FreeNames& names, const std::string& name) {
  std::size_t digits = name.size();
  while (digits > 0 && name[digits - 1] >= '0' && name[digits - 1] <= '9') --digits;
  std::uint64_t number = 1;
  std::string stem = name + " ";
  if (digits < name.size() && name.size() - digits < 10) {
    std::from_chars(name.data() + digits, name.data() + name.size(), number);
    stem = name.substr(0, digits);
  }
  return names.next(stem, number);
}

}  // namespace tack
