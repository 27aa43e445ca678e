// A typed number inside a verb: its value, and how it was typed.
#pragma once

#include <array>
#include <optional>
#include <string>

#include "core/entry/entry.h"
#include "core/scene/axes.h"
#include "core/scene/scene.h"
#include "core/verbs/json.h"

namespace tack {

/// A length (mm), an angle (degrees) or a factor, with the text it was typed as ("2 ft 6 in"); empty text means that
/// the value was not typed. A text that uses `it` is worked out again for each part it is applied to.
struct Amount {
  double value = 0;
  std::string text;
  LengthUnit unit = kMillimetres;  ///< what plain numbers in the text meant when it was typed

  Amount() = default;
  Amount(double v, std::string t = {}, const LengthUnit& u = kMillimetres) : value(v), text(std::move(t)), unit(u) {}

  friend bool operator==(const Amount&, const Amount&) = default;
};

/// Three amounts of which any may be missing: "leave this one alone".
using Amounts = std::array<std::optional<Amount>, 3>;
inline bool any_given(const Amounts& amounts) { return amounts[0] || amounts[1] || amounts[2]; }
/// Whether an amount that is always there says anything: it is not 0, or was typed.
inline bool is_said(const Amount& amount) { return amount.value != 0 || !amount.text.empty(); }

/// Whether the amount depends on what the value is now.
bool uses_it(const Amount& amount);

/// What an entry may read of other parts, and in which axes: for the axes that each part has of its own, those of
/// `part`.
struct Reading {
  const Scene& scene;  ///< has to live as long as this
  Axes axes;
  PartId part = kNoPart;

  Reading(const Scene& s) : scene(s) {}  // NOLINT(google-explicit-constructor): mostly World axes are meant
  Reading(const Scene& s, const Axes& a, PartId p) : scene(s), axes(a), part(p) {}
};

/// The value of an amount for something whose value now is `it`, worked out anew where it depends on the part. Fails
/// when its text cannot be read.
Result<double> evaluate(const Amount& amount, EntryKind kind, std::optional<double> it, const Reading& reading);

/// What `height of "Post 4"` reads in entries: the extent along the axes of true vertices of the part and everything
/// below it, and where its pivot is in them (mm).
std::function<std::optional<double>(std::string_view, std::string_view)> reader_of(const Reading& reading);

/// Whether the amount reads another part's numbers.
bool reads_part(const Amount& amount);

/// A number, or typed text, from a steps file. `key` is named in the Problem. `it` stands for the value now until the
/// amount meets a part: 0 in a blank for a change, where it is what the amount comes to; anything else where each part
/// has a value of its own and evaluate() works it out.
Result<Amount> amount_from_json(const Json& json, EntryKind kind, std::string_view key, const Reading& reading,
                                double it);
/// The text when there is one that means the same in mm, else the number; {"text", "unit"} for one with `it` in another
/// unit.
Json amount_to_json(const Amount& amount);

/// An entry for so much more than it is now (mm, degrees or a factor): `it + 10 mm`.
Amount more_by(double by, EntryKind kind);

}  // namespace tack
