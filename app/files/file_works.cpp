#include "app/files/file_works.h"

#include <signal.h>
#include <unistd.h>

#include <QFutureWatcher>
#include <QStandardPaths>
#include <QtConcurrent>

namespace tack {
namespace {

constexpr int kThrottleMilliseconds = 1500;

template <typename Work, typename Then>
void run_aside(QObject* owner, Work work, Then then) {
  using Value = decltype(work());
  auto* watcher = new QFutureWatcher<std::shared_ptr<Value>>(owner);
  QObject::connect(watcher, &QFutureWatcherBase::finished, owner, [watcher, then] {
    const std::shared_ptr<Value> value = watcher->result();
    watcher->deleteLater();
    then(std::move(*value));
  });
  // No job may end the program: what it throws – memory that cannot be had – becomes what it returns.
  watcher->setFuture(QtConcurrent::run([work]() -> std::shared_ptr<Value> {
    try {
      return std::make_shared<Value>(work());
    } catch (const std::bad_alloc&) {
      return std::make_shared<Value>(fail("There is not enough memory for this.", {}, "Close what is not needed."));
    } catch (const std::exception& error) {
      return std::make_shared<Value>(fail(error.what()));
    }
  }));
}

std::pair<std::int64_t, std::uint64_t> stamp_of(const std::filesystem::path& path) {
  std::error_code error;
  const auto time = std::filesystem::last_write_time(path, error);
  if (error) return {0, 0};
  const auto size = std::filesystem::file_size(path, error);
  return {time.time_since_epoch().count(), error ? 0 : size};
}

std::filesystem::path own_autosave() {
  return FileWorks::state_folder() / ("autosave-" + std::to_string(::getpid()) + ".glb");
}

// Whether a window with this process number is still there: numbers are used again, by other programs.
bool is_at_work(int pid) {
  if (pid == ::getpid()) return true;
  if (::kill(pid, 0) != 0) return false;
  std::error_code error;
  const auto program = std::filesystem::read_symlink("/proc/" + std::to_string(pid) + "/exe", error);
  const auto own = std::filesystem::read_symlink("/proc/self/exe", error);
  return error || program.filename() == own.filename();
}

Result<void> save_and_read_back(const std::filesystem::path& path, const Scene& scene,
                                const DocumentSettings& settings) {
  const auto bytes = write_document(scene, settings);
  if (!bytes) return tl::unexpected(bytes.error());
  if (auto saved = save_atomically(path, *bytes, true); !saved) return saved;
  const auto back = read_file(path);
  if (!back || *back != *bytes)
    return fail("What was written does not read back the same.", path.filename().string(),
                "The previous file is kept as .bak.");
  std::error_code error;
  std::filesystem::remove(path.string() + ".bak", error);
  return {};
}

}  // namespace

FileWorks::FileWorks(Store& store, QObject* parent) : QObject(parent), store_(store) {
  throttle_.setSingleShot(true);
  throttle_.setInterval(kThrottleMilliseconds);
  connect(&throttle_, &QTimer::timeout, this, &FileWorks::autosave);
  connect(&store_, &Store::scene_changed, this, [this] {
    if (store_.changed() && !throttle_.isActive()) throttle_.start();
  });
}

FileWorks::~FileWorks() { stop(); }

void FileWorks::end() {
  ended_ = true;
  stop();
  forget_autosave();
}

std::filesystem::path FileWorks::state_folder() {
  const char* state = std::getenv("XDG_STATE_HOME");
  const char* home = std::getenv("HOME");
  const std::filesystem::path base =
      state && *state ? std::filesystem::path(state) : std::filesystem::path(home ? home : "/tmp") / ".local" / "state";
  std::error_code error;
  std::filesystem::create_directories(base / "tackpoint", error);
  return base / "tackpoint";
}

void FileWorks::job_started() {
  ++jobs_;
  emit busy_changed();
}

void FileWorks::job_ended() {
  --jobs_;
  emit busy_changed();
}

void FileWorks::stop() {
  stop_->store(true);
  stop_ = std::make_shared<std::atomic<bool>>(false);
}

void FileWorks::read(const std::filesystem::path& path, const ImportOptions& options,
                     std::function<void(Result<Delivery>)> then) {
  job_started();
  run_aside(
      this, [path, options, stop = stop_] { return import_file(path, options, {}, stop.get()); },
      [this, then](Result<Delivery> delivery) {
        job_ended();
        then(std::move(delivery));
      });
}

void FileWorks::open(const std::filesystem::path& path, const ImportOptions& options) {
  store_.say("Reading " + QString::fromStdString(path.filename().string()) + " …");
  job_started();
  // The last one asked for is the one that is meant; and work done while it is read is not thrown away unasked.
  const std::size_t turn = ++opens_, position = store_.journal().position();
  run_aside(
      this,
      [path, options, stop = stop_]() -> Result<Document> {
        const auto delivery = import_file(path, options, {}, stop.get());
        if (!delivery) return tl::unexpected(delivery.error());
        return document_of(*delivery);
      },
      [this, path, turn, position](Result<Document> document) {
        job_ended();
        if (turn != opens_) return;
        if (!document) return store_.say(document.error());
        auto become = [this, path, read = std::make_shared<Document>(std::move(*document))] {
          become_document(std::move(*read), path);
        };
        if (store_.journal().position() != position && store_.changed() && confirm)
          confirm(become);
        else
          become();
      });
}

void FileWorks::become_document(Document document, const std::filesystem::path& path) {
  const auto notes = document.notes;
  const bool ours = document.is_document;
  store_.start(std::move(document), path);
  forget_autosave();
  if (!ours) store_.set_saved(path.parent_path() / (path.stem().string() + ".glb"), store_.journal().position());
  // Somebody else's file is never written over without asking.
  if (ours)
    remember_stamp(path);
  else
    stamped_.clear();
  emit opened();
  if (!notes.empty()) store_.say(QString::fromStdString(notes.front()));
}

void FileWorks::bring(const std::filesystem::path& path, const ImportOptions& options, std::optional<Vec3> at) {
  store_.say(QString("Reading %1 …").arg(QString::fromStdString(path.filename().string())));
  read(path, options, [this, path, at](Result<Delivery> delivery) {
    if (!delivery) return store_.say(delivery.error());
    auto bring = bring_of(*delivery, path, store_.scene());
    if (!bring) return store_.say(bring.error());
    bring->at = at;
    const PartId first = store_.scene().id_limit();
    if (!store_.perform(*bring)) return;
    std::vector<PartId> tops;
    for (const PartId id : store_.scene().roots())
      if (id >= first) tops.push_back(id);
    store_.pick(std::move(tops));
    const Record& record = store_.journal().record();
    store_.say(QString::fromStdString(plain_text(record.steps.back()->words)), Tone::Good);
  });
}

void FileWorks::remember_stamp(const std::filesystem::path& path) {
  stamped_ = path;
  stamp_ = stamp_of(path);
}

bool FileWorks::changed_outside(const std::filesystem::path& path) const {
  std::error_code error;
  if (!std::filesystem::exists(path, error)) return false;
  return stamped_ != path || stamp_ != stamp_of(path);
}

void FileWorks::save(const std::filesystem::path& path, std::function<void(bool)> then) {
  job_started();
  const std::size_t position = store_.journal().position();
  run_aside(
      this,
      [path, scene = store_.scene(), settings = store_.settings()] {
        return save_and_read_back(path, scene, settings);
      },
      [this, path, position, then](Result<void> saved) {
        job_ended();
        if (saved) {
          remember_stamp(path);
          store_.set_saved(path, position);
          store_.say(QString("Saved %1.").arg(QString::fromStdString(path.filename().string())), Tone::Good);
          if (!store_.changed()) forget_autosave();
        } else {
          store_.say(saved.error());
        }
        if (then) then(saved.has_value());
      });
}

void FileWorks::autosave() {
  if (!store_.changed() || ended_) return;
  if (autosaving_) {
    autosave_again_ = true;
    return;
  }
  autosaving_ = true;
  run_aside(
      this,
      [path = own_autosave(), scene = store_.scene(), settings = store_.settings(),
       wanted = autosave_wanted_]() -> Result<void> {
        const auto bytes = write_document(scene, settings);
        if (!bytes) return tl::unexpected(bytes.error());
        auto saved = save_atomically(path, *bytes, false);
        // Nobody wants it any more: the work was saved or thrown away while this was being written.
        std::error_code error;
        if (!wanted->load()) std::filesystem::remove(path, error);
        return saved;
      },
      [this](Result<void> saved) {
        autosaving_ = false;
        if (!saved) store_.say(saved.error());
        if (!store_.changed())
          forget_autosave();
        else if (std::exchange(autosave_again_, false))
          throttle_.start();
      });
}

void FileWorks::forget_autosave() {
  throttle_.stop();
  autosave_again_ = false;
  // One that is still being written goes as soon as it is there.
  autosave_wanted_->store(false);
  autosave_wanted_ = std::make_shared<std::atomic<bool>>(true);
  std::error_code error;
  std::filesystem::remove(own_autosave(), error);
}

std::filesystem::path FileWorks::left_behind() {
  std::filesystem::path newest;
  std::filesystem::file_time_type newest_time{};
  std::error_code error;
  for (const auto& entry : std::filesystem::directory_iterator(state_folder(), error)) {
    const std::string name = entry.path().filename().string();
    if (!name.starts_with("autosave-") || !name.ends_with(".glb")) continue;
    const int pid = std::atoi(name.c_str() + 9);
    if (pid > 0 && is_at_work(pid)) continue;
    const auto time = entry.last_write_time(error);
    if (newest.empty() || time > newest_time) {
      newest = entry.path();
      newest_time = time;
    }
  }
  return newest;
}

void FileWorks::take_back(const std::filesystem::path& autosave) {
  job_started();
  run_aside(
      this,
      [autosave]() -> Result<Document> {
        const auto delivery = import_file(autosave, {});
        if (!delivery) return tl::unexpected(delivery.error());
        return document_of(*delivery);
      },
      [this, autosave](Result<Document> document) {
        job_ended();
        if (!document) return store_.say(document.error());
        store_.start(std::move(*document), {});
        store_.set_never_saved();
        stamped_.clear();
        this->autosave();  // under this program's name, before the old one goes
        std::error_code error;
        std::filesystem::remove(autosave, error);
        emit opened();
        store_.say("The work was restored. Save it under a name.", Tone::Good);
      });
}

}  // namespace tack
