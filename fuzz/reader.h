// One fuzz target for a reader: whatever the bytes are, reading ends in parts or in a sentence.
#pragma once

#include "core/files/document.h"

namespace tack {

inline int fuzz_reader(const std::uint8_t* data, std::size_t size, const char* name) {
  const auto delivery = read_delivery(ByteView(data, size), name, {});
  if (!delivery) return 0;
  const auto document = document_of(*delivery);
  if (document) (void)write_document(document->scene, document->settings);
  return 0;
}

}  // namespace tack
