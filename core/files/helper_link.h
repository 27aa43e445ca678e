// What the program and its import helper say to each other while a file is read. The helper may open nothing itself.
#pragma once

#include <string>

#include "core/files/beside.h"

namespace tack {

/// Descriptors that the helper is started with: the memory for its answer, the file, and a socket of whole messages.
inline constexpr int kAnswerFd = 3, kFileFd = 4, kLinkFd = 5;

/// The helper's end. Asks the program for files beside the one it reads, and tells how far it has come.
class HelperLink {
 public:
  /// Sends a message `?name` and waits: `+` with a descriptor, or `-` with the reason why there is none.
  Result<Bytes> beside(const std::string& name) const;
  /// Sends `%share`; never waits.
  void progress(double share) const;
};

/// The program's end: answers what has come in on `link`, from `folder` and below it; `progress`, where it is set, is
/// told what the helper says. False when the helper has closed its end or says what it should not.
bool answer_helper(int link, const std::filesystem::path& folder, const std::function<void(double)>& progress);

}  // namespace tack
