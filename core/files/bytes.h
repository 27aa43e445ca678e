// Reading whole files and little-endian numbers, with every length checked before it is believed.
#pragma once

#include <cstdint>
#include <cstring>
#include <filesystem>
#include <memory>
#include <span>
#include <vector>

#include "core/problem.h"

namespace tack {

using Bytes = std::vector<std::uint8_t>;
using ByteView = std::span<const std::uint8_t>;

/// Bytes that somebody holds: a vector, a part of a file or of shared memory. Copies hold the same ones.
class Blob {
 public:
  Blob() = default;
  Blob(ByteView view, std::shared_ptr<const void> keep) : view_(view), keep_(std::move(keep)) {}
  explicit Blob(Bytes bytes) {
    const auto own = std::make_shared<const Bytes>(std::move(bytes));
    view_ = *own;
    keep_ = own;
  }
  ByteView view() const { return view_; }
  operator ByteView() const { return view_; }
  std::size_t size() const { return view_.size(); }
  bool empty() const { return view_.empty(); }
  const std::shared_ptr<const void>& keep() const { return keep_; }

 private:
  ByteView view_;
  std::shared_ptr<const void> keep_;
};

/// Text as bytes; not copied.
Blob blob_of(std::string text);

/// Whether there is an ordinary file at `path` that can be reached; says what is there instead.
Result<void> check_file(const std::filesystem::path& path);

/// The whole file, where the system has it (mapped): nothing is copied, and pages that are no longer needed can be
/// given back. A file that is changed while it is read gives what is then in it; one that is cut short ends the
/// process, so only the import helper maps.
Result<Blob> map_descriptor(int file, const std::string& name, std::uint64_t limit = std::uint64_t{16} << 30);

/// The whole file. Fails with a sentence when it is missing, a folder, unreadable, changes while it is read, or is
/// larger than `limit` bytes.
Result<Bytes> read_file(const std::filesystem::path& path, std::uint64_t limit = std::uint64_t{16} << 30);

/// The whole file that is open as `file`, which is closed; `name` is for sentences.
Result<Bytes> read_descriptor(int file, const std::string& name, std::uint64_t limit = std::uint64_t{16} << 30);

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

/// The bytes that a list of numbers is made of.
template <typename List>
ByteView bytes_in(const List& list) {
  return {reinterpret_cast<const std::uint8_t*>(std::data(list)), std::size(list) * sizeof(*std::data(list))};
}

/// FNV-1a, 64 bits: tells whether numbers were changed by another program. Not for security.
std::uint64_t hash_of(ByteView bytes);

/// Decodes base64 (with or without padding, white space allowed); fails on other characters.
Result<Bytes> decode_base64(std::string_view text);

}  // namespace tack
