// Colours: a part's own, and those that the document keeps by name.
#pragma once

#include <memory>
#include <string>
#include <vector>

namespace tack {

/// sRGB with alpha, 0 … 1.
struct Colour {
  float r = 0.8f, g = 0.78f, b = 0.74f, a = 1;

  friend bool operator==(const Colour&, const Colour&) = default;
};

/// For each primitive of a part's mesh the name of its colour on the document's list; empty: it has one of its own.
using ColourNames = std::shared_ptr<const std::vector<std::string>>;

/// A colour on the document's list. Parts name it for each of their primitives, and have its numbers beside the name:
/// whoever changes one changes the other.
struct NamedColour {
  std::string name;  ///< no two of a document have the same
  Colour colour;
  /// Which materials of the carried document it stands for, and what it was when they were read: what was never
  /// changed is written as it came. Empty for a colour that was named here.
  std::vector<int> materials;
  std::string name_then;
  Colour colour_then;
  bool textured = false;  ///< the material has pictures: its colour is not all there is to it

  friend bool operator==(const NamedColour&, const NamedColour&) = default;
};

}  // namespace tack
