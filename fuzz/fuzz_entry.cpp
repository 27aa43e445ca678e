#include "core/entry/entry.h"

// The first byte chooses the kind; the rest is typed.
extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  if (size == 0) return 0;
  const auto kind = static_cast<tack::EntryKind>(data[0] % 3);
  const std::string_view text(reinterpret_cast<const char*>(data) + 1, size - 1);
  (void)tack::parse_entry(text, {kind, tack::kMillimetres, 12.5, [](auto, auto) { return std::optional(3.0); }});
  return 0;
}
