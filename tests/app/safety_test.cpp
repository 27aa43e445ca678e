// Nobody's file is written over unasked, no work is lost, whatever the moment; and the window under a busy machine.
#include <signal.h>
#include <sys/wait.h>
#include <unistd.h>

#include <catch2/catch.hpp>
#include <fstream>

#include "core/files/import.h"
#include "core/math/degrees.h"
#include "tests/app/desk.h"
#include "tests/app/questions.h"

using namespace tack;
using namespace tack::test;

namespace {

void write_text(const std::string& path, const std::string& text) { std::ofstream(path) << text; }

// A document of ours, opened from a folder of its own.
std::unique_ptr<Desk> desk_on(const std::string& file) {
  std::filesystem::copy_file(source("demo/heron-hall-parts.glb"), file);
  return std::make_unique<Desk>(QStringList{QString::fromStdString(file)});
}

void step(Desk& desk) { REQUIRE(desk.store().perform(Rename{desk.scene().roots().front(), "Plate"})); }

void save_with_keys(Desk& desk) {
  desk.key(Qt::Key_S, Qt::ControlModifier);
  desk.wait([&] { return !desk.window().files().saving(); });
}

}  // namespace

TEST_CASE("a file that another program has changed is not written over unasked, by no way of saving", "[life]") {
  const Folder folder;
  const std::string file = folder / "scene.glb";
  const auto desk = desk_on(file);
  step(*desk);
  write_text(file, "another program's work");
  answer("overwrite", "Cancel");
  save_with_keys(*desk);
  CHECK(text_in(file) == "another program's work");
  // From the closing question.
  answer("unsaved", "Save");
  QTimer::singleShot(200, [] { answer("overwrite", "Cancel"); });
  desk->window().close();
  desk->settle();
  CHECK(desk->window().isVisible());
  CHECK(text_in(file) == "another program's work");
  answer("overwrite", "Overwrite");
  save_with_keys(*desk);
  CHECK(text_in(file).starts_with("glTF"));
  CHECK_FALSE(desk->store().changed());
}

TEST_CASE("a name that is typed without its ending is asked about when that file is there", "[life]") {
  const Folder folder;
  const auto desk = desk_on(folder / "scene.glb");
  write_text(folder / "other.glb", "somebody's");
  step(*desk);
  answer_file(QString::fromStdString(folder / "other"));
  QTimer::singleShot(300, [] { answer("overwrite", "Cancel"); });
  desk->key(Qt::Key_S, Qt::ControlModifier | Qt::ShiftModifier);
  desk->wait([&] { return !desk->window().files().saving() && !QApplication::activeModalWidget(); });
  CHECK(text_in(folder / "other.glb") == "somebody's");
  CHECK(desk->store().changed());
}

TEST_CASE("saving leaves the artist's own backup alone, and what was saved can be opened", "[life]") {
  const Folder folder;
  const std::string file = folder / "scene.glb";
  const auto desk = desk_on(file);
  write_text(file + ".bak", "mine");
  step(*desk);
  save_with_keys(*desk);
  CHECK_FALSE(desk->store().changed());
  CHECK(text_in(file + ".bak") == "mine");
  CHECK(std::distance(std::filesystem::directory_iterator(folder.path()), {}) == 2);
  CHECK(import_file(file, {}));
}

TEST_CASE("of two windows on one file the second asks before it writes over what the first has saved", "[life]") {
  const Folder folder;
  const std::string file = folder / "scene.glb";
  const auto desk = desk_on(file);
  MainWindow other;
  other.open_files({QString::fromStdString(file)});
  desk->wait([&] { return other.store().scene().size() > 0; });
  step(*desk);
  desk->window().files().save(file);
  desk->wait([&] { return !desk->window().files().saving(); });
  CHECK(other.files().changed_outside(file));
  CHECK_FALSE(desk->window().files().changed_outside(file));
  other.files().end();
}

TEST_CASE("a file that changes while it is being saved over is kept, and it is said", "[life]") {
  const Folder folder;
  const std::string file = folder / "scene.glb";
  const auto desk = desk_on(file);
  step(*desk);
  std::optional<bool> saved;
  desk->window().files().save(file, [&](bool done) { saved = done; });
  write_text(file, "quicker");
  desk->wait([&] { return saved.has_value(); });
  // Either the save was there first, or it has noticed.
  if (*saved) return;
  CHECK(text_in(file) == "quicker");
  CHECK(desk->message().contains("changed the file while it was being saved"));
  CHECK(desk->store().changed());
}

TEST_CASE("closing while a save is under way waits for it, and asks nothing that is not so", "[life]") {
  const Folder folder;
  const std::string file = folder / "scene.glb";
  const auto desk = desk_on(file);
  step(*desk);
  bool closed = false;
  QObject::connect(&desk->window(), &MainWindow::closed, &desk->window(), [&] { closed = true; });
  desk->window().files().save(file);
  CHECK(desk->window().files().saving());
  desk->window().close();  // a question would stand here for ever: nobody answers
  desk->wait([&] { return closed; });
  CHECK_FALSE(desk->window().isVisible());
  CHECK(find_by_path(desk->scene(), "Plate"));
}

TEST_CASE("steps made while a save is under way are not taken for saved", "[life]") {
  const Folder folder;
  const std::string file = folder / "scene.glb";
  const auto desk = desk_on(file);
  step(*desk);
  desk->window().files().save(file);
  REQUIRE(desk->store().perform(Rename{desk->scene().roots().back(), "Later"}));
  desk->wait([&] { return !desk->window().files().saving(); });
  CHECK(desk->store().changed());
}

// Opens a copy of the demo and saves it again and again, until it is killed.
TEST_CASE("a window that never stops saving", "[.saver]") {
  const char* const file = std::getenv("TACK_SAVER_FILE");
  REQUIRE(file);
  MainWindow window;
  window.show();
  window.open_files({file});
  (void)QTest::qWaitFor([&] { return window.store().scene().size() > 0 && !window.files().busy(); }, 60000);
  for (int i = 0;; ++i) {
    window.store().perform(Rename{window.store().scene().roots().front(), "Plate " + std::to_string(i)});
    window.files().save(file);
    (void)QTest::qWaitFor([&] { return !window.files().saving(); }, 60000);
    write_text(std::string(file) + ".saved", std::to_string(i));
  }
}

TEST_CASE("a window that is killed while it saves leaves the old document or the new one", "[life]") {
  const Folder folder;
  const std::string file = folder / "scene.glb";
  std::filesystem::copy_file(source("demo/heron-hall-parts.glb"), file);
  const char* const given = std::getenv("TACK_KILLS");
  const int kills = given ? std::atoi(given) : 6;
  Chance chance(901);
  for (int i = 0; i < kills; ++i) {
    std::filesystem::remove(file + ".saved");
    QProcess saver;
    QProcessEnvironment environment = QProcessEnvironment::systemEnvironment();
    environment.insert("TACK_SAVER_FILE", QString::fromStdString(file));
    environment.insert("XDG_STATE_HOME", QString::fromStdString(folder / "state"));
    saver.setProcessEnvironment(environment);
    saver.start(QCoreApplication::applicationFilePath(), {"[.saver]"});
    REQUIRE(QTest::qWaitFor([&] { return std::filesystem::exists(file + ".saved"); }, 90000));
    QTest::qWait(static_cast<int>(chance.between(0, 150)));
    saver.kill();
    REQUIRE(saver.waitForFinished(60000));
    const std::string now = text_in(file);
    REQUIRE(now.size() > 10000);
    std::uint32_t length = 0;
    std::memcpy(&length, now.data() + 8, 4);
    REQUIRE(length == now.size());
    REQUIRE(import_file(file, {}));
  }
}

TEST_CASE("a tap is told from a hold by the times of the events, however late they are handled", "[keys]") {
  Desk desk;
  auto& bench = desk.window().bench();
  desk.key(Qt::Key_T);
  REQUIRE(bench.verb().name == "Meet");
  bench.hold_milliseconds = 300;
  const auto send = [&](QEvent::Type type, quint64 when) {
    QKeyEvent event(type, Qt::Key_M, Qt::NoModifier);
    event.setTimestamp(when);
    QApplication::sendEvent(&desk.stage(), &event);
  };
  // Let go after 80 ms; half a second passes before that is heard of.
  send(QEvent::KeyPress, 1000);
  QTest::qWait(500);
  send(QEvent::KeyRelease, 1080);
  CHECK(bench.verb().name == "Move");
  desk.key(Qt::Key_T);
  // Held for 400 ms, and both handled at once.
  send(QEvent::KeyPress, 5000);
  CHECK(bench.verb().name == "Move");
  send(QEvent::KeyRelease, 5400);
  CHECK(bench.verb().name == "Meet");
}

TEST_CASE("lengths, angles and factors each have their own choice of from zero or from here", "[place]") {
  Desk desk;
  auto* const button = qobject_cast<QToolButton*>(desk.widget("Increments"));
  REQUIRE(button);
  const auto from = [&](const char* name) {
    auto* const push = button->menu()->findChild<QPushButton*>(QString("increment %1 from").arg(name));
    REQUIRE(push);
    return push;
  };
  for (QAction* action : button->menu()->actions())
    if (action->text().startsWith("on")) action->trigger();
  CHECK(desk.store().increments().on);
  CHECK(button->text() == "Increments  10 mm, 15°");
  from("angle")->click();
  CHECK(from("angle")->text() == "from zero");
  CHECK(from("length")->text() == "from here");
  CHECK(desk.store().increments().angle.from == LandsFrom::Zero);
  CHECK(desk.store().increments().length.from == LandsFrom::Here);
  CHECK(button->text() == "Increments  10 mm, 15° from zero");
  from("angle")->click();
  CHECK(desk.store().increments().angle.from == LandsFrom::Here);
}
