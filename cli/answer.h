// What the commands share: opening the file, and how they answer.
#pragma once

#include <fmt/format.h>
#include <unistd.h>

#include <chrono>
#include <cstdio>

#include "core/files/document.h"
#include "core/files/import.h"
#include "core/files/replay.h"

namespace tack {

/// Says a problem on standard error and gives `code` back.
inline int complain(const Problem& problem, int code = 1) {
  fmt::print(stderr, "{}\n", sentence(problem));
  return code;
}

/// Prints a JSON object. What could steer a terminal is escaped, which JSON leaves the same text; bytes that are no
/// UTF-8 become U+FFFD.
void print_json(const Json& json);

/// Says on a terminal how far the reading of a large file has come; Ctrl+C ends it, and the helper with it.
class ReadingShown {
 public:
  explicit ReadingShown(const std::string& file) : file_(file) {}
  ~ReadingShown() {
    if (shown_) fmt::print(stderr, "\r\x1B[K");
  }
  ReadingShown(const ReadingShown&) = delete;
  ReadingShown& operator=(const ReadingShown&) = delete;
  void operator()(double share) {
    if (!::isatty(2) || std::chrono::steady_clock::now() - begin_ < std::chrono::milliseconds(300)) return;
    fmt::print(stderr, "\rReading {} … {:.0f} %", printable(file_, 60), share * 100);
    std::fflush(stderr);
    shown_ = true;
  }

 private:
  std::string file_;
  std::chrono::steady_clock::time_point begin_ = std::chrono::steady_clock::now();
  bool shown_ = false;
};

/// The document in a file; what was decided while reading is said on standard error. With `again` the steps that it
/// keeps are done again (Document::past).
inline Result<Document> open(const std::string& file, ImportOptions options = {}, bool again = false) {
  options.steps = again;
  const auto delivery = [&] {
    ReadingShown shown(file);
    return import_file(file, options, {}, nullptr, [&](double share) { shown(share); });
  }();
  if (!delivery) return tl::unexpected(delivery.error());
  auto document = document_of(*delivery);
  if (document) do_again(*delivery, *document);
  if (document)
    for (const std::string& note : document->notes) fmt::print(stderr, "Note: {}\n", printable(note, 1000));
  return document;
}

inline Json triple(const Vec3& v) { return Json::array({v.x + 0.0, v.y + 0.0, v.z + 0.0}); }

inline std::string shown_triple(const Vec3& v) {
  return fmt::format("{}, {}, {}", show_number(v.x, 4).text, show_number(v.y, 4).text, show_number(v.z, 4).text);
}

}  // namespace tack
