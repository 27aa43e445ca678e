#include "import-helper/assimp_files.h"

#include <cstring>
#include <memory>

namespace tack {
namespace {

struct OpenFile {
  Bytes own;
  ByteView bytes;
  std::size_t at = 0;
};

}  // namespace

aiFile* AssimpFiles::open(aiFileIO* io, const char* name, const char*) {
  const auto* files = reinterpret_cast<const AssimpFiles*>(io->UserData);
  auto opened = std::make_unique<OpenFile>();
  std::string wanted = name;
  if (wanted.starts_with(kFolder)) wanted.erase(0, kFolder.size());
  while (wanted.starts_with("./")) wanted.erase(0, 2);
  if (wanted == files->name_) {
    opened->bytes = files->bytes_;
  } else {
    auto bytes = files->beside_(wanted);
    if (!bytes) return nullptr;
    opened->own = std::move(*bytes);
    opened->bytes = opened->own;
  }
  auto* file = new aiFile{};
  file->UserData = reinterpret_cast<aiUserData>(opened.release());
  file->ReadProc = [](aiFile* f, char* into, std::size_t size, std::size_t count) -> std::size_t {
    auto* o = reinterpret_cast<OpenFile*>(f->UserData);
    const std::size_t whole = size == 0 ? 0 : std::min(count, (o->bytes.size() - o->at) / size);
    if (whole > 0) std::memcpy(into, o->bytes.data() + o->at, whole * size);
    o->at += whole * size;
    return whole;
  };
  file->WriteProc = [](aiFile*, const char*, std::size_t, std::size_t) -> std::size_t { return 0; };
  file->TellProc = [](aiFile* f) { return reinterpret_cast<OpenFile*>(f->UserData)->at; };
  file->FileSizeProc = [](aiFile* f) { return reinterpret_cast<OpenFile*>(f->UserData)->bytes.size(); };
  file->SeekProc = [](aiFile* f, std::size_t offset, aiOrigin origin) {
    auto* o = reinterpret_cast<OpenFile*>(f->UserData);
    const std::size_t from = origin == aiOrigin_SET ? 0 : origin == aiOrigin_CUR ? o->at : o->bytes.size();
    const std::size_t to = from + offset;  // an offset back wraps round, as the library's own files have it
    if (to > o->bytes.size()) return aiReturn_FAILURE;
    o->at = to;
    return aiReturn_SUCCESS;
  };
  file->FlushProc = [](aiFile*) {};
  return file;
}

void AssimpFiles::close(aiFileIO*, aiFile* file) {
  delete reinterpret_cast<OpenFile*>(file->UserData);
  delete file;
}

}  // namespace tack
