// tackpoint-import-helper FILE OPTIONS BYTES SECONDS: reads one file and leaves what is in it in the shared memory that
// it was given as descriptor 3. Exit 0: a packed delivery; 1: a Problem as three zero-ended texts. It limits its own
// memory and time first, so whatever a file makes it do ends with it.
#include <sys/resource.h>
#include <unistd.h>

#include <cstdlib>
#include <new>

#include "core/files/delivery.h"
#include "core/files/glb.h"

namespace {

constexpr int kAnswer = 3;

bool write_all(tack::ByteView bytes) {
  std::size_t done = 0;
  while (done < bytes.size()) {
    const ssize_t n = ::write(kAnswer, bytes.data() + done, bytes.size() - done);
    if (n <= 0) return false;
    done += static_cast<std::size_t>(n);
  }
  return true;
}

int answer_with(const tack::Problem& problem) {
  tack::Bytes bytes;
  for (const std::string* text : {&problem.what, &problem.where, &problem.remedy}) {
    // Zero bytes end the texts, so none may be in them.
    const std::string shown = tack::printable(*text, 2000);
    bytes.insert(bytes.end(), shown.begin(), shown.end());
    bytes.push_back(0);
  }
  return write_all(bytes) ? 1 : 2;
}

void limit(int resource, const char* text) {
  const auto value = static_cast<rlim_t>(std::strtoull(text, nullptr, 10));
  const rlimit both{value, value};
  if (value > 0) ::setrlimit(static_cast<__rlimit_resource>(resource), &both);
}

tack::ImportOptions options_from(const char* text) {
  tack::ImportOptions options;
  const auto json = tack::parse_json(text);
  if (!json) return options;
  if (json->contains("unit")) options.unit = (*json)["unit"].get<double>();
  if (json->contains("up")) options.up = (*json)["up"] == "y" ? tack::UpAxis::Y : tack::UpAxis::Z;
  if (json->contains("scene")) options.scene = (*json)["scene"].get<int>();
  return options;
}

}  // namespace

int main(int argc, char** argv) {
  if (argc != 5) return 2;
#ifndef TACK_SANITIZED  // the sanitizer reserves more address space than any sensible limit
  limit(RLIMIT_AS, argv[3]);
#endif
  limit(RLIMIT_CPU, argv[4]);
  const rlimit no_core{0, 0};
  ::setrlimit(RLIMIT_CORE, &no_core);
  try {
    const auto delivery = tack::read_delivery(std::filesystem::path(argv[1]), options_from(argv[2]));
    if (!delivery) return answer_with(delivery.error());
    return write_all(tack::pack(*delivery)) ? 0 : 2;
  } catch (const std::bad_alloc&) {
    return answer_with({"The file needs more memory than may be used for it.", {}, {}});
  } catch (const std::exception&) {
    return answer_with({"The file is damaged.", {}, {}});
  }
}
