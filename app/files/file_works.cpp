#include "app/files/file_works.h"

#include <QDir>
#include <QTemporaryFile>

#include <QApplication>
#include <QFutureWatcher>
#include <QPointer>
#include <QtConcurrent>

#include "app/memory.h"
#include "app/text.h"
#include "core/files/replay.h"
#include "core/files/save_document.h"

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
    give_back_memory();
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

// Whether two scenes have the same parts, made of the same, wherever they stand. O(parts / 64 + changed).
bool made_alike(const Scene& a, const Scene& b) {
  if (a.carried() != b.carried() || a.size() != b.size() || &a.ties() != &b.ties() || &a.colours() != &b.colours())
    return false;
  const std::vector<PartId> changed = a.unlike(b);
  return std::all_of(changed.begin(), changed.end(), [&](PartId id) {
    const Part *one = a.find(id), *other = b.find(id);
    return one && other && one->mesh == other->mesh && one->carried == other->carried && one->parent == other->parent &&
           one->name == other->name && one->kept == other->kept && one->colours == other->colours &&
           one->colour_names == other->colour_names;
  });
}

// Reads a document and does its steps again. `reading` and `doing` are told how far that has come.
Result<Document> opened_document(const std::filesystem::path& path, const ImportOptions& options,
                                 const std::atomic<bool>* stop, const std::function<void(double)>& reading,
                                 const std::function<void(double)>& doing) {
  ImportOptions with_steps = options;
  with_steps.steps = true;
  const auto delivery = import_file(path, with_steps, {}, stop, reading);
  if (!delivery) return tl::unexpected(delivery.error());
  auto document = document_of(*delivery);
  if (document) do_again(*delivery, *document, stop, doing);
  return document;
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
      this,
      [path, options, stop = stop_, progress = shown_progress("Reading %1 … %2 %", path)] {
        return import_file(path, options, {}, stop.get(), progress);
      },
      [this, then](Result<Delivery> delivery) {
        job_ended();
        then(std::move(delivery));
      });
}

void FileWorks::read_quietly(const std::filesystem::path& path, std::function<void(Result<Document>)> then) {
  run_aside(
      this,
      [path, stop = stop_]() -> Result<Document> {
        ImportLimits limits;
        limits.seconds = 30;
        const auto delivery = import_file(path, {}, limits, stop.get());
        if (!delivery) return tl::unexpected(delivery.error());
        return document_of(*delivery);
      },
      [then](Result<Document> document) { then(std::move(document)); });
}

void FileWorks::open(const std::filesystem::path& path, const ImportOptions& options) {
  store_.say("Reading " + label_of(path.filename().string()) + " …");
  job_started();
  // The last one asked for is the one that is meant; and work done while it is read is not thrown away unasked.
  const std::size_t turn = ++opens_, position = store_.journal().position();
  run_aside(
      this,
      [path, options, stop = stop_, reading = shown_progress("Reading %1 … %2 %", path),
       doing = shown_progress("Doing the steps of %1 again … %2 %", path)] {
        return opened_document(path, options, stop.get(), reading, doing);
      },
      [this, path, turn, position](Result<Document> document) {
        job_ended();
        if (turn != opens_) return;
        if (!document) {
          store_.say(document.error());
          emit open_failed();
          return;
        }
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

namespace {

// The record with the step that brings something in, and what that step is.
struct Brought {
  Journal journal;
  Bring bring;
};

Result<Brought> brought(const Journal& journal, const std::shared_ptr<const Delivery>& delivery,
                        const std::filesystem::path& name, const DroppedAt& landing, UnknownNumbers unknown) {
  auto bring = bring_of(*delivery, name, journal.scene(), {unknown, landing.instance});
  if (!bring) return tl::unexpected(bring.error());
  bring->source = delivery;
  // What was chosen in the window is what a steps file has to say.
  if (delivery->read_as) {
    for (const LengthUnit& unit : kLengthUnits)
      if (unit.millimetres == delivery->read_as->unit) bring->unit = unit.name;
    bring->up = delivery->read_as->up == UpAxis::Y ? "y" : "z";
  }
  bring->at = landing.at;
  bring->on = landing.on;
  Brought done{journal, std::move(*bring)};
  if (auto added = done.journal.add(done.bring); !added) return tl::unexpected(added.error());
  return done;
}

}  // namespace

// Thousands of parts take a while, too.
void FileWorks::bring_in(const std::shared_ptr<const Delivery>& delivery, const std::filesystem::path& name,
                         const DroppedAt& landing, UnknownNumbers unknown) {
  job_started();
  run_aside(
      this,
      [journal = store_.journal(), delivery, name, landing, unknown] {
        return brought(journal, delivery, name, landing, unknown);
      },
      [this, before = store_.journal().position(), delivery, name, landing, unknown](Result<Brought> done) {
        job_ended();
        if (!done) return store_.say(done.error());
        const PartId first = store_.scene().id_limit();
        // Something else was done meanwhile: then it comes in after that.
        if (!store_.take_over(std::move(done->journal), before)) return bring_in(delivery, name, landing, unknown);
        std::vector<PartId> tops;
        for (const PartId id : store_.scene().roots())
          if (id >= first) tops.push_back(id);
        QString words = QString::fromStdString(plain_text(store_.journal().record().steps.back()->words));
        store_.pick(std::move(tops));
        for (const std::string& note : done->bring.notes) words += " " + QString::fromStdString(printable(note));
        store_.say(words, done->bring.notes.empty() ? Tone::Good : Tone::Note);
      });
}

// An extension that may name things by number, and is not known, may be left out: only the artist knows what it is for.
void FileWorks::bring_asking(std::shared_ptr<const Delivery> delivery, const std::filesystem::path& name,
                             const DroppedAt& landing) {
  const std::set<std::string> unknown =
      store_.scene().carried() ? unknown_numbers_in(*delivery) : std::set<std::string>{};
  if (unknown.empty() || !ask_unknown) return bring_in(delivery, name, landing, UnknownNumbers::Keep);
  ask_unknown(unknown,
              [this, delivery, name, landing](UnknownNumbers what) { bring_in(delivery, name, landing, what); });
}

void FileWorks::bring(const std::filesystem::path& path, const ImportOptions& options, const DroppedAt& landing) {
  store_.say(QString("Reading %1 …").arg(label_of(path.filename().string())));
  read(path, options, [this, path, landing](Result<Delivery> delivery) {
    if (!delivery) return store_.say(delivery.error());
    bring_asking(std::make_shared<const Delivery>(std::move(*delivery)), path, landing);
  });
}

// Says how far the work has come, a few times a second at most. Called on the thread that does it.
std::function<void(double)> FileWorks::shown_progress(const char* words, const std::filesystem::path& path) {
  const QString text = QString(words).arg(label_of(path.filename().string()));
  return [works = QPointer<FileWorks>(this), text, last = std::chrono::steady_clock::now()](double share) mutable {
    const auto now = std::chrono::steady_clock::now();
    if (now - last < std::chrono::milliseconds(300)) return;
    last = now;
    QMetaObject::invokeMethod(
        qApp,
        [works, text, percent = static_cast<int>(share * 100)] {
          if (works && works->busy()) works->store_.say(text.arg(percent));
        },
        Qt::QueuedConnection);
  };
}

void FileWorks::copy(const std::vector<PartId>& parts, std::function<void(Copied)> then) {
  job_started();
  run_aside(
      this,
      [scene = store_.scene(), parts, settings = store_.settings()] { return copied_parts(scene, parts, settings); },
      [this, then](Result<Copied> copied) {
        job_ended();
        if (!copied) return store_.say(copied.error());
        then(std::move(*copied));
      });
}

void FileWorks::paste(const QByteArray& bytes) {
  // Through a file of its own, so that the helper reads it: what is on the clipboard is as foreign as any file.
  const auto file = std::make_shared<QTemporaryFile>(QDir::tempPath() + "/tackpoint-XXXXXX.glb");
  if (!file->open() || file->write(bytes) != bytes.size() || !file->flush())
    return store_.say("What is on the clipboard could not be put where it can be read: " + file->errorString() + ".",
                      Tone::Wrong);
  read(file->fileName().toStdString(), {}, [this, file](Result<Delivery> delivery) {
    if (delivery)
      return bring_in(std::make_shared<const Delivery>(std::move(*delivery)), "clipboard", {}, UnknownNumbers::Keep);
    store_.say("The clipboard holds no parts that can be read. " + QString::fromStdString(sentence(delivery.error())),
               Tone::Wrong);
  });
}

void FileWorks::export_to(const std::filesystem::path& path, const ExportOptions& options,
                          const std::vector<PartId>& parts) {
  job_started();
  run_aside(
      this,
      [path, options, parts, scene = store_.scene(), settings = store_.settings()]() -> Result<Saved> {
        Scene written = scene;
        if (!parts.empty()) {
          const std::vector<bool> wanted = marked_within(scene, parts);
          for (const PartId id : scene.in_tree_order()) {
            if (wanted[id]) continue;
            Part part = scene.part(id);
            part.mesh = nullptr;
            part.kept = nullptr;
            part.guide = GuideKind::None;
            written.replace(id, std::move(part));
          }
        }
        return write_as(path, written, settings, options);
      },
      [this, path](Result<Saved> saved) {
        job_ended();
        if (!saved) return store_.say(saved.error());
        QString words = QString("Exported %1.").arg(label_of(path.filename().string()));
        if (!saved->note.empty()) words += " " + QString::fromStdString(printable(saved->note));
        store_.say(words, Tone::Good);
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

void FileWorks::when_saved(std::function<void()> then) {
  if (!saving()) return then();
  after_saving_.push_back(std::move(then));
}

void FileWorks::save(const std::filesystem::path& path, std::function<void(bool)> then) {
  job_started();
  ++saving_;
  const std::size_t position = store_.journal().position();
  // Nobody may have changed the file between the question whether it may be overwritten and its being overwritten.
  const auto unchanged = [path, stamp = stamp_of(path)]() -> Result<void> {
    if (stamp_of(path) == stamp) return {};
    return fail("Another program changed the file while it was being saved.", path.filename().string(),
                "Look at it first, or save under another name.");
  };
  run_aside(
      this,
      [path, unchanged, record = store_.journal().record(), keeps = store_.preferences().keeps_steps,
       settings = store_.settings(), stop = stop_] {
        return save_document(path, record.scene(), settings, unchanged, stop.get(), keeps ? &record : nullptr);
      },
      [this, path, position, then](Result<Saved> saved) {
        job_ended();
        --saving_;
        if (saved) {
          remember_stamp(path);
          store_.set_saved(path, position);
          QString words = QString("Saved %1.").arg(label_of(path.filename().string()));
          if (!saved->note.empty()) words += " " + label_of(saved->note);
          store_.say(words, saved->note.empty() ? Tone::Good : Tone::Note);
          if (!store_.changed()) forget_autosave();
        } else {
          store_.say(saved.error());
        }
        if (then) then(saved.has_value());
        if (saving()) return;
        for (const auto& next : std::exchange(after_saving_, {})) next();
      });
}

void FileWorks::autosave() {
  if (!store_.changed() || ended_) return;
  if (autosaving_) {
    autosave_again_ = true;
    return;
  }
  autosaving_ = true;
  // Reading it in again costs as much as opening it does, and what is the same but for where parts stand can be read as
  // the last one could.
  run_aside(
      this,
      [own = own_, record = store_.journal().record(), settings = store_.settings(), wanted = autosave_wanted_,
       verify = !verified_ || !made_alike(*verified_, store_.scene())]() -> Result<Saved> {
        Result<Saved> saved = fail({});
        if (verify) {
          saved = save_document(own->path(), record.scene(), settings, {}, nullptr, &record);
        } else {
          const auto bytes = document_runs(record.scene(), settings, &record);
          if (!bytes) return tl::unexpected(bytes.error());
          saved = save_atomically(own->path(), *bytes);
        }
        // Nobody wants it any more: the work was saved or thrown away while this was being written.
        if (!wanted->load()) own->remove_file();
        return saved;
      },
      [this, scene = store_.scene()](Result<Saved> saved) {
        autosaving_ = false;
        if (saved)
          verified_ = scene;
        else
          store_.say(saved.error());
        if (!store_.changed())
          forget_autosave();
        else if (std::exchange(autosave_again_, false))
          throttle_.start();
      });
}

void FileWorks::forget_autosave() {
  throttle_.stop();
  autosave_again_ = false;
  verified_.reset();
  // One that is still being written goes as soon as it is there.
  autosave_wanted_->store(false);
  autosave_wanted_ = std::make_shared<std::atomic<bool>>(true);
  own_->remove_file();
}

void FileWorks::take_back(Autosave autosave) {
  job_started();
  const auto taken = std::make_shared<const Autosave>(std::move(autosave));
  run_aside(
      this, [taken, stop = stop_] { return opened_document(taken->path(), {}, stop.get(), {}, {}); },
      [this, taken](Result<Document> document) {
        job_ended();
        // What cannot be read now stays where it is, and is offered again.
        if (!document) return store_.say(document.error());
        store_.start(std::move(*document), {});
        store_.set_never_saved();
        stamped_.clear();
        forget_autosave();
        // At no moment is the work in no file: the one it came from is this window's own from now on.
        own_ = taken;
        emit opened();
        store_.say("The work was restored. Save it under a name.", Tone::Good);
      });
}

}  // namespace tack
