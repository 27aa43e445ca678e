// The file that a window keeps its unsaved work in, and those that crashes left behind.
#pragma once

#include <filesystem>
#include <optional>

namespace tack {

/// One autosave: a file of a random name in the state folder, held by a lock for as long as this lives. Whose program
/// has ended, in whatever way, is locked by nobody, so it can be told from one that is in use – by numbers of processes
/// it cannot, for those are used again.
class Autosave {
 public:
  /// A new one; its file is not there until it is written. Without a state folder that can be written to it has no
  /// lock, and then other windows may offer its work as well.
  static Autosave make();
  /// Work that a crash left behind: the newest that nobody holds. From then on it is held by this window and offered by
  /// no other. nullopt when there is none.
  static std::optional<Autosave> left_behind();
  /// The state folder, made when it is not there.
  static std::filesystem::path state_folder();

  Autosave(Autosave&& other) noexcept;
  Autosave& operator=(Autosave&& other) noexcept;
  ~Autosave();

  const std::filesystem::path& path() const { return path_; }
  /// Removes the file: the work is safe, or not wanted.
  void remove_file() const;

 private:
  Autosave(std::filesystem::path path, int lock) : path_(std::move(path)), lock_(lock) {}
  void release();

  std::filesystem::path path_;
  int lock_ = -1;
};

}  // namespace tack
