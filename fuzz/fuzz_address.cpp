#include <cstdlib>

#include "core/catch/tack.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  static const tack::Scene scene = [] {
    tack::Scene s;
    tack::Part part;
    part.name = "Post 4";
    part.mesh = *tack::make_mesh({{{0, 0, 0}, {1, 0, 0}, {0, 1, 0}}, {{0, 1, 2}}, {}, {}});
    s.add(part);
    return s;
  }();
  const auto address = tack::parse_address(scene, std::string_view(reinterpret_cast<const char*>(data), size));
  if (!address) return 0;
  // What could be read is written and read back as the same.
  const auto back = tack::parse_address(scene, tack::address_text(scene, *address));
  if (!back || !(*back == *address)) std::abort();
  (void)tack::find_tack(scene, *address);
  return 0;
}
