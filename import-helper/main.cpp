// tackpoint-import-helper NAME OPTIONS: reads the one file that it was given as descriptor 4 and leaves what is in it
// in the shared memory that is descriptor 3. Exit 0: a packed delivery or, where that was asked for, the outline of the
// document that the program would make of it; 1: a Problem as three zero-ended texts. It limits and confines itself
// first (confine.h), so whatever a file makes it do ends with it; files beside it come from the program that started it
// (core/files/helper_link.h).
#include <sys/mman.h>
#include <tbb/parallel_for.h>
#include <tbb/task_arena.h>
#include <unistd.h>

#include <new>

#include "core/files/document.h"
#include "core/files/helper_link.h"
#include "core/files/outline.h"
#include "core/printable.h"
#include "import-helper/confine.h"
#include "import-helper/other_formats.h"

namespace {

bool write_all(tack::ByteView bytes) {
  std::size_t done = 0;
  while (done < bytes.size()) {
    const ssize_t n = ::write(tack::kAnswerFd, bytes.data() + done, bytes.size() - done);
    if (n <= 0) return false;
    done += static_cast<std::size_t>(n);
  }
  return true;
}

// Empties the answer; returns whether that worked.
bool begin_anew() { return ::ftruncate(tack::kAnswerFd, 0) == 0 && ::lseek(tack::kAnswerFd, 0, SEEK_SET) == 0; }

int answer_with(const tack::Problem& problem) {
  if (!begin_anew()) return 2;
  tack::Bytes bytes;
  for (const std::string* text : {&problem.what, &problem.where, &problem.remedy}) {
    // Zero bytes end the texts, so none may be in them.
    const std::string shown = tack::printable(*text, 2000);
    bytes.insert(bytes.end(), shown.begin(), shown.end());
    bytes.push_back(0);
  }
  return write_all(bytes) ? 1 : 2;
}

// Opens the delivery in the answer as the program would, and replaces it by the outline of the document.
int outline_instead() {
  tack::Bytes outline;
  {
    const auto answer = tack::map_descriptor(tack::kAnswerFd, "answer");
    if (!answer) return 2;
    const auto delivery = tack::unpack(*answer, answer->keep());
    const auto document = delivery ? tack::document_of(*delivery) : tl::unexpected(delivery.error());
    if (document)
      outline = tack::pack(tack::outline_of(document->scene));
    else
      return answer_with(document.error());
  }
  return begin_anew() && write_all(outline) ? 0 : 2;
}

tack::ImportOptions options_from(const tack::Json& json) {
  tack::ImportOptions options;
  if (json.contains("unit")) options.unit = json["unit"].get<double>();
  if (json.contains("up")) options.up = json["up"] == "y" ? tack::UpAxis::Y : tack::UpAxis::Z;
  if (json.contains("scene")) options.scene = json["scene"].get<int>();
  options.steps = json.contains("steps");
  return options;
}

int read_file(int argc, char** argv) {
  if (argc != 3) return 2;
  try {
    const auto json = tack::parse_json(argv[2]);
    if (!json) return 2;
    const std::filesystem::path path(argv[1]);
    tack::limit_resources((*json)["memory"].get<std::uint64_t>(), (*json)["answer"].get<std::uint64_t>(),
                          (*json)["seconds"].get<std::uint64_t>());
    const auto file = tack::map_descriptor(tack::kFileFd, path.filename().string());
    if (!file) return answer_with(file.error());
    const tack::HelperLink link;
    tack::Around around;
    around.beside = [&link](const std::string& name) { return link.beside(name); };
    around.keep = file->keep();
    around.progress = [&, given_back = std::size_t{0}](double share) mutable {
      link.progress(share);
      // Pages of the file that have been read are not counted against it any longer.
      const auto read = static_cast<std::size_t>(share * static_cast<double>(file->size())) >> 12 << 12;
      if (read <= given_back || read > file->size()) return;
      ::madvise(const_cast<std::uint8_t*>(file->view().data()) + given_back, read - given_back, MADV_DONTNEED);
      given_back = read;
    };
    around.passed = [&file](tack::ByteView bytes) {
      // Of the mapped file alone: of memory of our own the contents would be gone.
      const tack::ByteView whole = file->view();
      if (bytes.data() < whole.data() || bytes.data() + bytes.size() > whole.data() + whole.size()) return;
      constexpr std::uintptr_t kPage = 4096;
      const auto begin = (reinterpret_cast<std::uintptr_t>(bytes.data()) + kPage - 1) / kPage * kPage,
                 end = reinterpret_cast<std::uintptr_t>(bytes.data() + bytes.size()) / kPage * kPage;
      if (begin < end) ::madvise(reinterpret_cast<void*>(begin), end - begin, MADV_DONTNEED);
    };
    // Code is loaded before the doors close.
    const auto format = tack::format_of(file->view(), path);
    if (format && *format == tack::Format::Other) around.other = tack::other_formats(around.beside);
    const bool outlines = json->contains("outline");
    // Parts are made in parallel, but confine() forbids starting threads. The arena makes do with this one, and asks
    // the system what it needs to know before that is forbidden, too.
    tbb::task_arena alone(1);
    if (outlines) alone.execute([] { tbb::parallel_for(0, 2, [](int) {}); });
    tack::confine();
    auto delivery = tack::read_delivery(file->view(), path, options_from(*json), around);
    if (!delivery) return answer_with(delivery.error());
    if (!tack::pack(std::move(*delivery), write_all)) return 2;
    return outlines ? alone.execute(outline_instead) : 0;
  } catch (const std::bad_alloc&) {
    return answer_with({"The file needs more memory than may be used for it.", {}, {}});
  } catch (const std::exception&) {
    return answer_with({"The file is damaged.", {}, {}});
  }
}

}  // namespace

int main(int argc, char** argv) {
  // Nothing is taken down: the system does that faster, and what a library has forgotten is nobody's concern any more.
  ::_exit(read_file(argc, argv));
}
