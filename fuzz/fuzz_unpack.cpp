#include "core/files/document.h"
#include "core/files/outline.h"

// Both kinds of answers that the import helper gives.
extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  const tack::ByteView bytes(data, size);
  if (const auto delivery = tack::unpack(bytes)) (void)tack::document_of(*delivery);
  if (const auto outline = tack::unpack_outline(bytes)) (void)tack::pack(*outline);
  return 0;
}
