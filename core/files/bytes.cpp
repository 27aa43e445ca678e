#include "core/files/bytes.h"

#include <fmt/format.h>

#include <sys/mman.h>
#include <sys/stat.h>
#include <unistd.h>

#include <cerrno>
#include <fstream>

namespace tack {

Blob blob_of(std::string text) {
  const auto own = std::make_shared<const std::string>(std::move(text));
  return {{reinterpret_cast<const std::uint8_t*>(own->data()), own->size()}, own};
}

Result<void> check_file(const std::filesystem::path& path) {
  std::error_code error;
  const auto status = std::filesystem::status(path, error);
  if (error && error != std::errc::no_such_file_or_directory && error != std::errc::not_a_directory)
    return fail(fmt::format("The file cannot be reached: {}.", error.message()), path.string());
  if (error || !std::filesystem::exists(status)) return fail("There is no such file.", path.string());
  if (std::filesystem::is_directory(status)) return fail("This is a folder, not a file.", path.string());
  if (!std::filesystem::is_regular_file(status)) return fail("This is not an ordinary file.", path.string());
  return {};
}

Result<Bytes> read_file(const std::filesystem::path& path, std::uint64_t limit) {
  const std::string name = path.filename().string();
  if (const auto ok = check_file(path); !ok) return tl::unexpected(ok.error());
  std::error_code error;
  const auto size = std::filesystem::file_size(path, error);
  if (error) return fail("The size of the file cannot be read.", name);
  if (size > limit) return fail(fmt::format("The file is too large: {} MB.", size >> 20), name);
  std::ifstream in(path, std::ios::binary);
  if (!in) return fail(fmt::format("The file cannot be opened: {}.", std::strerror(errno)), name);
  Bytes bytes(size);
  in.read(reinterpret_cast<char*>(bytes.data()), static_cast<std::streamsize>(size));
  if (static_cast<std::uint64_t>(in.gcount()) != size) return fail("The file changed while it was being read.", name);
  return bytes;
}

Result<Blob> map_descriptor(int file, const std::string& name, std::uint64_t limit) {
  struct stat about {};
  if (::fstat(file, &about) != 0 || !S_ISREG(about.st_mode)) return fail("This is not an ordinary file.", name);
  const auto size = static_cast<std::uint64_t>(about.st_size);
  if (size > limit) return fail(fmt::format("The file is too large: {} MB.", size >> 20), name);
  if (size == 0) return Blob();
  void* mapped = ::mmap(nullptr, size, PROT_READ, MAP_PRIVATE, file, 0);
  if (mapped == MAP_FAILED) return fail(fmt::format("The file cannot be read: {}.", std::strerror(errno)), name);
  std::shared_ptr<const void> keep(mapped, [size](const void* at) { ::munmap(const_cast<void*>(at), size); });
  return Blob({static_cast<const std::uint8_t*>(mapped), size}, std::move(keep));
}

Result<Bytes> read_descriptor(int file, const std::string& name, std::uint64_t limit) {
  struct Closed {
    int file;
    ~Closed() { ::close(file); }
  } closed{file};
  struct stat about {};
  if (::fstat(file, &about) != 0 || !S_ISREG(about.st_mode)) return fail("This is not an ordinary file.", name);
  const auto size = static_cast<std::uint64_t>(about.st_size);
  if (size > limit) return fail(fmt::format("The file is too large: {} MB.", size >> 20), name);
  Bytes bytes(size);
  for (std::size_t done = 0; done < size;) {
    const ssize_t n = ::pread(file, bytes.data() + done, size - done, static_cast<off_t>(done));
    if (n < 0 && errno == EINTR) continue;
    if (n <= 0) return fail("The file changed while it was being read.", name);
    done += static_cast<std::size_t>(n);
  }
  return bytes;
}

std::uint64_t hash_of(ByteView bytes) {
  std::uint64_t hash = 14695981039346656037ull;
  for (const std::uint8_t b : bytes) hash = (hash ^ b) * 1099511628211ull;
  return hash;
}

Result<Bytes> decode_base64(std::string_view text) {
  Bytes out;
  out.reserve(text.size() / 4 * 3);
  std::uint32_t bits = 0;
  int count = 0;
  for (const char c : text) {
    int v = 0;
    if (c >= 'A' && c <= 'Z')
      v = c - 'A';
    else if (c >= 'a' && c <= 'z')
      v = c - 'a' + 26;
    else if (c >= '0' && c <= '9')
      v = c - '0' + 52;
    else if (c == '+' || c == '-')
      v = 62;
    else if (c == '/' || c == '_')
      v = 63;
    else if (c == '=' || c == '\n' || c == '\r' || c == ' ')
      continue;
    else
      return fail("The embedded data is not base64.");
    bits = bits << 6 | static_cast<std::uint32_t>(v);
    if (++count % 4 != 1) out.push_back(static_cast<std::uint8_t>(bits >> (6 - 2 * ((count - 1) % 4))));
  }
  return out;
}

}  // namespace tack
