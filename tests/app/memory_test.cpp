// With little memory the window draws less and says so; what is not needed any more is given back.
#include <malloc.h>
#include <sys/resource.h>
#include <unistd.h>

#include <catch2/catch.hpp>
#include <fstream>

#include "app/application.h"
#include "app/memory.h"
#include "core/mesh/shape.h"
#include "tests/app/desk.h"
#include "tests/app/questions.h"

using namespace tack;
using namespace tack::test;

namespace {

constexpr std::size_t kMegabyte = std::size_t{1} << 20;

std::size_t pages(int which) {
  std::ifstream in("/proc/self/statm");
  std::size_t value = 0;
  for (int i = 0; i <= which; ++i) in >> value;
  return value * static_cast<std::size_t>(sysconf(_SC_PAGESIZE));
}

// Spheres of meshes of their own, some 40,000 triangles each.
Document spheres(int count) {
  Document document;
  for (int i = 0; i < count; ++i) {
    Shape shape = usual_shape(ShapeKind::Sphere);
    shape[Dimension::Sides] = 200;
    MeshData data = mesh_data_of(shape, {});
    data.known = nullptr;
    Part part;
    part.name = "Ball " + std::to_string(i + 1);
    part.mesh = *make_mesh(std::move(data));
    part.colours = {Colour{}};
    part.placement.position = {60.0 * (i % 7), 60.0 * (i / 7), 0};
    document.scene.add(std::move(part));
  }
  return document;
}

}  // namespace

// What a window does within TACK_ROOM megabytes more than it has taken when it is open; what it says of that goes to
// TACK_SAID.
TEST_CASE("a window with little room", "[.little]") {
  const char *room = std::getenv("TACK_ROOM"), *said = std::getenv("TACK_SAID");
  REQUIRE(room);
  REQUIRE(said);
  Desk desk;
  Document document = spheres(40);
  std::ofstream out(said);
  QObject::connect(&desk.store(), &Store::said, [&](const QString& words) { out << words.toStdString() << std::endl; });
  static_cast<Application*>(qApp)->without_memory = [&] { out << "caught" << std::endl; };
  const rlim_t most = pages(0) + static_cast<std::size_t>(std::atoi(room)) * kMegabyte;
  const rlimit limit{most, most};
  REQUIRE(setrlimit(RLIMIT_AS, &limit) == 0);
  desk.store().start(std::move(document), {});
  desk.stage().frame_all();
  const auto rest = [&] { (void)QTest::qWaitFor([&] { return desk.stage().is_finished(); }, 5000); };
  const auto key = [&](int k, Qt::KeyboardModifiers modifiers = {}) {
    QTest::keyClick(desk.window().windowHandle(), static_cast<Qt::Key>(k), modifiers);
    rest();
  };
  rest();
  desk.stage().setFocus();
  key(Qt::Key_A, Qt::ControlModifier);
  key(Qt::Key_Right);
  desk.stage().show_views(4);
  rest();
  desk.stage().show_views(1);
  key(Qt::Key_Z, Qt::ControlModifier);
  for (const QString& notice : desk.stage().notices()) out << "notice: " << notice.toStdString() << std::endl;
  out << "went on" << std::endl;
  out.close();
  std::_Exit(0);  // nothing is asked about unsaved work
}

TEST_CASE("a window with too little memory draws less, says so and goes on", "[memory]") {
  const Folder folder;
  bool boxes = false, everything = false;
  for (const int room : {110, 150, 200, 300, 500, 4000}) {
    QProcess window;
    QProcessEnvironment environment = QProcessEnvironment::systemEnvironment();
    environment.insert("TACK_ROOM", QString::number(room));
    environment.insert("TACK_SAID", QString::fromStdString(folder / "said"));
    environment.insert("XDG_STATE_HOME", QString::fromStdString(folder / "state"));
    window.setProcessEnvironment(environment);
    window.start(QCoreApplication::applicationFilePath(), {"[.little]"});
    REQUIRE(window.waitForFinished(120'000));
    const std::string said = text_in(folder / "said");
    INFO(room << " MB: " << said << window.readAllStandardError().toStdString());
    CHECK(window.exitStatus() == QProcess::NormalExit);
    CHECK(window.exitCode() == 0);
    CHECK(said.find("went on") != std::string::npos);
    const bool less = said.find("too little memory") != std::string::npos;
    if (room <= 110) CHECK(less);
    if (room >= 4000) CHECK_FALSE(less);
    boxes = boxes || said.find("as boxes: too little memory") != std::string::npos;
    everything = everything || !less;
  }
  CHECK(boxes);
  CHECK(everything);
}

TEST_CASE("an event that finds no memory is said, and the window goes on", "[memory]") {
  Desk desk;
  auto& app = *static_cast<Application*>(qApp);
  int told = 0;
  app.without_memory = [&] {
    ++told;
    desk.window().say_without_memory();
  };
  const std::size_t before = desk.store().journal().record().steps.size();
  for (int i = 0; i < 3; ++i) {
    QTimer::singleShot(0, [] { throw std::bad_alloc(); });
    desk.settle();
  }
  CHECK(told == 3);
  CHECK(desk.message().contains("not enough memory"));
  app.without_memory = {};
  QTimer::singleShot(0, [] { throw std::bad_alloc(); });  // nobody is told
  desk.settle();
  desk.store().pick({desk.part("Hub")});
  desk.key(Qt::Key_M);
  desk.type("12");
  desk.key(Qt::Key_Return);
  CHECK(desk.store().journal().record().steps.size() == before + 1);
}

TEST_CASE("how much memory is left goes by the tightest limit", "[memory]") {
  const std::size_t left = memory_left();
  CHECK(left > kMemoryReserve);
  rlimit before{};
  REQUIRE(getrlimit(RLIMIT_AS, &before) == 0);
  const rlimit tight{pages(0) + 200 * kMegabyte, before.rlim_max};
  REQUIRE(setrlimit(RLIMIT_AS, &tight) == 0);
  const std::size_t within = memory_left();
  REQUIRE(setrlimit(RLIMIT_AS, &before) == 0);
  CHECK(within <= 200 * kMegabyte);
  CHECK(within >= 190 * kMegabyte);
}

TEST_CASE("what is freed is given back", "[memory]") {
  // Small pieces between others that stay: the heap cannot shrink by itself.
  std::vector<std::unique_ptr<std::array<char, 4000>>> freed, kept;
  for (int i = 0; i < 30'000; ++i) {
    freed.push_back(std::make_unique<std::array<char, 4000>>());
    if (i % 50 == 0) kept.push_back(std::make_unique<std::array<char, 4000>>());
  }
  const std::size_t before = pages(1);
  freed.clear();
  give_back_memory();
  CHECK(QTest::qWaitFor([&] { return pages(1) + 80 * kMegabyte < before; }, 20'000));
}
