#include "fuzz/reader.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  return tack::fuzz_reader(data, size, "fuzz.obj");
}
