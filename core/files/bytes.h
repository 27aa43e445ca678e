// Reading whole files and little-endian numbers, with every length checked before it is believed.
#pragma once

#include <cstdint>
#include <cstring>
#include <filesystem>
#include <span>
#include <vector>

#include "core/problem.h"

namespace tack {

using Bytes = std::vector<std::uint8_t>;
using ByteView = std::span<const std::uint8_t>;

/// The whole file. Fails with a sentence when it is missing, a folder, unreadable, changes while it is read, or is
/// larger than `limit` bytes.
Result<Bytes> read_file(const std::filesystem::path& path, std::uint64_t limit = std::uint64_t{16} << 30);

/// A number of type T at `offset`; the caller has checked that it is there. Little-endian, like this machine.
template <typename T>
T read_at(ByteView bytes, std::size_t offset) {
  T value;
  std::memcpy(&value, bytes.data() + offset, sizeof value);
  return value;
}

template <typename T>
void append(Bytes& bytes, const T& value) {
  const auto* begin = reinterpret_cast<const std::uint8_t*>(&value);
  bytes.insert(bytes.end(), begin, begin + sizeof value);
}

/// FNV-1a, 64 bits: tells whether numbers were changed by another program. Not for security.
std::uint64_t hash_of(ByteView bytes);

/// Decodes base64 (with or without padding, white space allowed); fails on other characters.
Result<Bytes> decode_base64(std::string_view text);

}  // namespace tack
