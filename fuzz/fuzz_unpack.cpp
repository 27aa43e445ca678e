#include "core/files/document.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  if (const auto delivery = tack::unpack(tack::ByteView(data, size))) (void)tack::document_of(*delivery);
  return 0;
}
