// Text of the core as Qt shows it.
#pragma once

#include <QString>

#include "core/printable.h"

namespace tack {

/// Names and other text that files brought along, fit for a label: control characters, bytes that are no UTF-8 and
/// marks that turn the direction of writing are shown as escapes.
inline QString label_of(std::string_view text) {
  const std::string shown = printable(text);
  return QString::fromUtf8(shown.data(), static_cast<qsizetype>(shown.size()));
}

}  // namespace tack
