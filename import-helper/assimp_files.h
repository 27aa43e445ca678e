// What the Assimp library reads as files: the one that was opened for us, and those beside it.
#pragma once

#include <string>

#include "core/files/beside.h"
#include "import-helper/assimp_library.h"

namespace tack {

/// What the file's folder is called towards the library, which wants one to look for files beside it.
inline constexpr std::string_view kFolder = "folder/";

/// The file `name`, whose bytes are there already, and what `beside` gives. Nothing can be written through it. Lives as
/// long as the library uses io().
class AssimpFiles {
 public:
  AssimpFiles(std::string name, ByteView bytes, const FilesBeside& beside)
      : name_(std::move(name)), bytes_(bytes), beside_(beside) {
    io_.UserData = reinterpret_cast<aiUserData>(this);
  }
  AssimpFiles(const AssimpFiles&) = delete;
  AssimpFiles& operator=(const AssimpFiles&) = delete;

  aiFileIO* io() { return &io_; }
  /// By what name the library is to open the file itself.
  std::string path() const { return std::string(kFolder) + name_; }

 private:
  static aiFile* open(aiFileIO* io, const char* name, const char*);
  static void close(aiFileIO*, aiFile* file);

  std::string name_;
  ByteView bytes_;
  const FilesBeside& beside_;
  aiFileIO io_{open, close, nullptr};
};

}  // namespace tack
