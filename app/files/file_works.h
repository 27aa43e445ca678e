// Opening, bringing in, saving and autosaving, away from the interface thread.
#pragma once

#include <QObject>
#include <QTimer>
#include <atomic>
#include <memory>

#include "app/files/autosave.h"
#include "app/files/clipboard.h"
#include "app/store.h"
#include "core/files/export.h"
#include "core/files/import.h"

namespace tack {

/// Where parts that come in are put: where the file has them when nothing is said.
struct DroppedAt {
  std::optional<Vec3> at;         ///< the middle of their bottom, world, mm
  std::optional<TackAddress> on;  ///< then they are stood on this place
  bool instance = false;          ///< as an instance of the same part, where the scene has it
};

class FileWorks : public QObject {
  Q_OBJECT

 public:
  FileWorks(Store& store, QObject* parent);
  ~FileWorks() override;

  /// Reads a file and makes it the document (a foreign file becomes a new, unsaved one).
  void open(const std::filesystem::path& path, const ImportOptions& options = {});
  /// Reads a file and brings its parts into the scene as a step.
  void bring(const std::filesystem::path& path, const ImportOptions& options = {}, const DroppedAt& landing = {});
  /// Makes a copy of parts for the clipboard, and gives it to `then` on the interface thread; what cannot be copied is
  /// said.
  void copy(const std::vector<PartId>& parts, std::function<void(Copied)> then);
  /// Brings in what another window or program has put on the clipboard: bytes of a glTF document, read like any file.
  void paste(const QByteArray& bytes);
  /// Reads a file and gives it to `then` on the interface thread; used by the import dialog for the size it shows.
  void read(const std::filesystem::path& path, const ImportOptions& options,
            std::function<void(Result<Delivery>)> then);
  /// Reads a file as a document of its own, for a picture of it; nothing is said, and nothing waits for it.
  void read_quietly(const std::filesystem::path& path, std::function<void(Result<Document>)> then);
  /// Writes meshes for other programs, by the ending of `path`; only `parts` and what is below them where some are
  /// named.
  void export_to(const std::filesystem::path& path, const ExportOptions& options, const std::vector<PartId>& parts);
  /// Writes the document; `then(true)` once it is on the disk and has been read back.
  void save(const std::filesystem::path& path, std::function<void(bool)> then = {});

  /// Asked when what comes in has extensions that may name things by number and are not known; goes on with the answer.
  std::function<void(const std::set<std::string>&, std::function<void(UnknownNumbers)>)> ask_unknown;

  /// Asked before a file that has been read replaces work done meanwhile; runs its argument when that may go.
  std::function<void(std::function<void()>)> confirm;

  bool busy() const { return jobs_ > 0; }
  /// The window closes: nothing is read or autosaved any more.
  void end();
  /// Ends what is being read.
  void stop();
  /// Whether the file was changed by someone else since it was opened or saved here.
  bool changed_outside(const std::filesystem::path& path) const;

  /// Whether a file was opened or saved here under this path.
  bool knows(const std::filesystem::path& path) const { return stamped_ == path; }
  bool saving() const { return saving_ > 0; }
  /// Runs it once nothing is being saved any more: at once, or when the last saving has ended.
  void when_saved(std::function<void()> then);

  /// Takes work that a crash left behind back as an unsaved document; its file is this window's autosave from then on.
  void take_back(Autosave autosave);
  /// Removes this program's autosave: the work is safe or not wanted.
  void forget_autosave();

 signals:
  void busy_changed();
  void opened();
  void open_failed();  ///< the file that was asked for last could not be read

 private:
  void bring_in(const std::shared_ptr<const Delivery>& delivery, const std::filesystem::path& name,
                const DroppedAt& landing, UnknownNumbers unknown);
  void bring_asking(std::shared_ptr<const Delivery> delivery, const std::filesystem::path& name,
                    const DroppedAt& landing);
  std::function<void(double)> shown_progress(const char* words, const std::filesystem::path& path);
  void remember_stamp(const std::filesystem::path& path);
  void autosave();
  void become_document(Document document, const std::filesystem::path& path);
  void job_started();
  void job_ended();

  Store& store_;
  QTimer throttle_;
  int jobs_ = 0;
  bool autosaving_ = false, autosave_again_ = false, ended_ = false;
  std::size_t opens_ = 0;  // how many were asked for
  std::shared_ptr<std::atomic<bool>> autosave_wanted_ = std::make_shared<std::atomic<bool>>(true);
  std::shared_ptr<std::atomic<bool>> stop_ = std::make_shared<std::atomic<bool>>(false);
  int saving_ = 0;
  std::vector<std::function<void()>> after_saving_;
  // Shared with an autosave that is being written: its lock must outlive that.
  std::shared_ptr<const Autosave> own_ = std::make_shared<const Autosave>(Autosave::make());
  std::optional<Scene> verified_;  // that of the last autosave that was written and could be read in again
  std::filesystem::path stamped_;
  std::pair<std::int64_t, std::uint64_t> stamp_{0, 0};
};

}  // namespace tack
