// Twelve actions in a real window, from the event to the first picture that shows it and to the finished one, over one
// scene; with the memory of the process, and what a frame of it draws. Run it on a display for each scene:
//   scripts/with-display build/release/bench/bench_actions PARTS TRIANGLES [own]
// `own`: every part has a mesh of its own, else they are instances of four. `scripts/big-scenes` runs all of them and
// prints the table of docs/performance.md.
#include <QApplication>
#include <QElapsedTimer>
#include <QLineEdit>
#include <QMenuBar>
#include <QtTest/QTest>
#include <cstdio>
#include <fstream>

#include "app/graphics.h"
#include "app/main_window.h"
#include "app/memory.h"
#include "app/theme.h"
#include "core/mesh/shape.h"
#include "core/verbs/about.h"

namespace {

using namespace tack;

// A shape of about that many triangles; kinds with feature edges and without take turns.
MeshPtr mesh_of(int kind, long long triangles) {
  Shape shape;
  const auto round = [](double v) { return static_cast<double>(std::max(3LL, std::llround(v))); };
  const double t = static_cast<double>(std::max(triangles, 12LL));
  switch (kind) {
    case 0: shape = usual_shape(ShapeKind::Sphere), shape[Dimension::Sides] = round(std::sqrt(t)); break;
    case 1: shape = usual_shape(ShapeKind::Cylinder), shape[Dimension::Sides] = round(t / 4); break;
    case 2: shape = usual_shape(ShapeKind::Torus), shape[Dimension::Sides] = round(std::sqrt(t)); break;
    default: shape = usual_shape(ShapeKind::Tube), shape[Dimension::Sides] = round(t / 8); break;
  }
  MeshData data = mesh_data_of(shape, {});
  // All about as large.
  Box box;
  for (const Vec3& p : data.positions) box.include(p);
  for (Vec3& p : data.positions) p = (p - box.centre()) * (70 / box.extent());
  data.known = nullptr;
  return *make_mesh(std::move(data));
}

struct Big {
  Scene scene;
  double float_bytes = 0;
  std::size_t triangles = 0;
};

Big big(int parts, long long triangles, bool own) {
  Big made;
  const int side = static_cast<int>(std::ceil(std::cbrt(parts)));
  std::array<MeshPtr, 4> shared;
  const auto count = [&](const MeshPtr& mesh) {
    made.float_bytes += 12.0 * static_cast<double>(mesh->positions().size() + mesh->triangles().size());
  };
  for (int i = 0; i < parts; ++i) {
    Part part;
    part.name = "Part " + std::to_string(i + 1);
    const int kind = i % 4;
    if (own) {
      part.mesh = mesh_of(kind, triangles / parts);
      count(part.mesh);
    } else {
      MeshPtr& mesh = shared[static_cast<std::size_t>(kind)];
      if (!mesh) mesh = mesh_of(kind, triangles / parts), count(mesh);
      part.mesh = mesh;
    }
    made.triangles += part.mesh->triangles().size();
    part.colours = {i % 3 == 0 ? Colour{0.2f, 0.5f, 0.5f, 1} : i % 3 == 1 ? Colour{0.8f, 0.45f, 0.35f, 1} : Colour{}};
    part.placement.position = {100.0 * (i % side), 100.0 * (i / side % side), 100.0 * (i / side / side)};
    part.placement.rotation = {10.0 * (i % 36), 7.0 * (i % 50), 3.0 * (i % 100)};
    made.scene.add(std::move(part));
  }
  return made;
}

double resident_megabytes(const char* key) {
  std::ifstream status("/proc/self/status");
  std::string line;
  while (std::getline(status, line))
    if (line.starts_with(key)) return std::stod(line.substr(line.find_first_of("0123456789"))) / 1024;
  return 0;
}

// Measures how long the interface thread is held up by any one event but painting: neither the window's, nor a slice of
// the finished picture, which anything interrupts.
class Timed : public QApplication {
 public:
  using QApplication::QApplication;
  double longest = 0;  // ms

  bool notify(QObject* receiver, QEvent* event) override {
    const QEvent::Type type = event->type();
    if (within_ || type == QEvent::UpdateRequest || type == QEvent::Expose || type == QEvent::Paint ||
        receiver->objectName() == "finishing")
      return QApplication::notify(receiver, event);
    within_ = true;
    QElapsedTimer timer;
    timer.start();
    const bool done = QApplication::notify(receiver, event);
    longest = std::max(longest, static_cast<double>(timer.nsecsElapsed()) / 1e6);
    within_ = false;
    return done;
  }

 private:
  bool within_ = false;
};

class Bench {
 public:
  explicit Bench(MainWindow& window) : window_(window), stage_(window.stage()) {
    QObject::connect(&stage_, &QOpenGLWidget::frameSwapped, [this] {
      if (first_ < 0) first_ = ms();
      last_ = ms();
    });
    clock_.start();
  }

  // Until the picture is finished, the loupe's, too, and nothing more comes.
  void rest() {
    QElapsedTimer most;
    most.start();
    double quiet_from = ms();
    while (most.elapsed() < 120'000) {
      QCoreApplication::processEvents(QEventLoop::AllEvents, 5);
      if (!stage_.is_finished()) quiet_from = ms();
      if (ms() - std::max(quiet_from, last_) > 120) return;
      QTest::qSleep(1);
    }
  }

  void measure(const char* what, int times, const std::function<void(int)>& act,
               const std::function<void(int)>& undo = {}) {
    std::vector<double> first, finished;
    double longest = 0;
    for (int i = 0; i < times; ++i) {
      rest();
      const double begin = ms();
      first_ = -1, last_ = begin;
      auto& app = *static_cast<Timed*>(qApp);
      app.longest = 0;
      act(i);
      if (first_ < 0) {
        QElapsedTimer most;
        most.start();
        while (first_ < 0 && most.elapsed() < 60'000) QCoreApplication::processEvents(QEventLoop::WaitForMoreEvents, 5);
      }
      if (first_ < 0) {
        std::printf("\n%s: no picture came within a minute.\n", what);
        std::exit(1);
      }
      first.push_back(first_ - begin);
      rest();
      finished.push_back(last_ - begin);
      longest = std::max(longest, app.longest);
      if (undo) undo(i);
    }
    std::sort(first.begin(), first.end());
    std::sort(finished.begin(), finished.end());
    std::printf("| %s | %.0f | %.0f | %.0f | %.1f |\n", what, first[first.size() / 2], first.back(), finished.back(),
                longest);
    std::fflush(stdout);
    all_first_.insert(all_first_.end(), first.begin(), first.end());
    worst_finished_ = std::max(worst_finished_, finished.back());
  }

  void summary() {
    std::sort(all_first_.begin(), all_first_.end());
    std::printf("| all: first picture, median and worst; finished, worst | %.0f | %.0f | %.0f | |\n",
                all_first_[all_first_.size() / 2], all_first_.back(), worst_finished_);
  }

  QPoint at(PartId id) {
    const Scene& scene = window_.store().scene();
    const auto px = stage_.pixel_in(0, world_of(scene, id) * scene.part(id).mesh->box().centre());
    return stage_.mapTo(&window_, px->toPoint());
  }
  void move(QPoint to) { QTest::mouseMove(window_.windowHandle(), to); }
  void click(QPoint to) { QTest::mouseClick(window_.windowHandle(), Qt::LeftButton, {}, to); }
  void key(int key, Qt::KeyboardModifiers modifiers = {}) {
    QTest::keyClick(window_.windowHandle(), static_cast<Qt::Key>(key), modifiers);
  }
  void type(const QString& text) {
    for (const QChar c : text) QTest::keyClick(window_.windowHandle(), c.toLatin1());
  }

 private:
  double ms() const { return static_cast<double>(clock_.nsecsElapsed()) / 1e6; }

  MainWindow& window_;
  Stage& stage_;
  QElapsedTimer clock_;
  double first_ = -1, last_ = 0;
  std::vector<double> all_first_;
  double worst_finished_ = 0;
};

}  // namespace

int main(int argc, char** argv) {
  share_memory_pools();
  prepare_graphics();
  Timed app(argc, argv);
  QApplication::setOrganizationName("tackpoint-bench");
  QApplication::setStyle("Fusion");
  load_fonts();
  const int parts = argc > 1 ? std::atoi(argv[1]) : 100;
  const long long triangles = argc > 2 ? std::atoll(argv[2]) : 100'000;
  const bool own = argc > 3 && std::string(argv[3]) == "own";
  MainWindow window;
  window.resize(1280, 800);
  window.show();
  window.bench().hold_milliseconds = 60'000;  // a key that is clicked is tapped, however busy the machine is
  Stage& stage = window.stage();
  Bench bench(window);
  bench.rest();
  const double empty = resident_megabytes("VmRSS");
  Document document;
  double float_megabytes = 0;
  std::size_t count = 0;
  {
    Big made = big(parts, triangles, own);
    float_megabytes = made.float_bytes / 1048576;
    count = made.triangles;
    document.scene = std::move(made.scene);
  }
  std::printf("\n%d parts%s, %.2f million triangles, %.0f MB of floats\n\n", parts, own ? " of their own meshes" : "",
              static_cast<double>(count) / 1e6, float_megabytes);
  std::printf(
      "| action | first, median ms | worst | finished, worst | longest event but painting |\n"
      "| --- | --- | --- | --- | --- |\n");
  Store& store = window.store();
  bench.measure("opened (the first picture has what is ready)", 1, [&](int) {
    store.start(std::move(document), {});
    stage.frame_all();
  });
  // What is caught on, and coarser levels, are made in the background.
  (void)QTest::qWaitFor([&] { return stage.is_settled(); }, 120'000);
  bench.rest();
  const double opened = resident_megabytes("VmRSS");
  const std::vector<PartId> all = store.scene().roots();
  // Parts at the front, where they can be pointed at.
  std::vector<PartId> seen;
  for (const PartId id : all) {
    if (const auto px = stage.pixel_in(0, world_of(store.scene(), id) * store.scene().part(id).mesh->box().centre()))
      if (const auto under = stage.under(*px); under.part == id) seen.push_back(id);
    if (seen.size() >= 40) break;
  }
  if (seen.size() < 12) return std::printf("Too few parts can be seen.\n"), 1;
  const auto nth = [&](int i) { return seen[static_cast<std::size_t>(i) % seen.size()]; };
  stage.setFocus();
  bench.key(Qt::Key_T);
  bench.measure("hover", 6, [&](int i) { bench.move(bench.at(nth(3 * i + 1)) + QPoint(1, 0)); });
  bench.key(Qt::Key_P);
  bench.measure("click", 5, [&](int i) { bench.click(bench.at(nth(i))); });
  bench.measure(
      "pick all", 2, [&](int) { bench.key(Qt::Key_A, Qt::ControlModifier); }, [&](int) { store.pick({}); });
  store.pick({nth(0)});
  bench.key(Qt::Key_T);
  bench.click(bench.at(nth(0)));
  bench.measure("Meet, with its ghost", 5, [&](int i) { bench.move(bench.at(nth(i + 5)) + QPoint(i % 2, 0)); });
  bench.key(Qt::Key_Escape);
  bench.key(Qt::Key_Escape);
  const auto drag = [&](const char* what, const std::vector<PartId>& moved) {
    store.pick(moved);
    bench.key(Qt::Key_M);
    bench.rest();
    const QPoint from = bench.at(moved.front());
    QTest::mousePress(window.windowHandle(), Qt::LeftButton, {}, from);
    bench.measure(what, 6, [&](int i) { bench.move(from + QPoint(10 + 7 * i, -6 - 3 * i)); });
    QTest::mouseRelease(window.windowHandle(), Qt::LeftButton, {}, from + QPoint(45, -20));
    bench.rest();
  };
  drag("drag of one", {nth(2)});
  bench.measure("undo", 1, [&](int) { bench.key(Qt::Key_Z, Qt::ControlModifier); });
  std::vector<PartId> thousand(all.begin(), all.begin() + std::min<std::ptrdiff_t>(1000, std::ssize(all)));
  std::erase(thousand, nth(2));
  thousand.insert(thousand.begin(), nth(2));
  drag("drag of 1,000 (or all)", thousand);
  bench.measure("undo of that", 1, [&](int) { bench.key(Qt::Key_Z, Qt::ControlModifier); });
  store.pick({});
  bench.key(Qt::Key_P);
  bench.measure("orbit", 6, [&](int) { bench.key(Qt::Key_Right); });
  const QPoint middle = stage.mapTo(&window, stage.rect().center());
  const auto wheel = [&](int by) {
    QWheelEvent event(stage.mapFrom(&window, middle), window.mapToGlobal(middle), {}, {0, 120 * by}, Qt::NoButton, {},
                      Qt::NoScrollPhase, false);
    QApplication::sendEvent(&stage, &event);
  };
  bench.rest();
  const Renderer::Drawn finished = stage.drawn_last();
  bench.measure("zoom", 5, [&](int i) { wheel(i < 3 ? 1 : -1); });
  bench.measure(
      "four views", 2, [&](int) { stage.show_views(4); }, [&](int) { stage.show_views(1); });
  store.pick({nth(0)});
  bench.measure(
      "isolate", 2, [&](int) { bench.key(Qt::Key_I); }, [&](int) { bench.key(Qt::Key_I); });
  auto* search = window.findChild<QLineEdit*>("search parts");
  bench.measure(
      "search", 3,
      [&](int i) {
        if (search) search->setText(QString("Part %1").arg(i + 1));
      },
      [&](int) {
        if (search) search->clear();
      });
  store.pick(all);
  window.activateWindow();
  stage.setFocus();
  bench.rest();
  bench.key(Qt::Key_M);
  bench.rest();
  bench.type("25");
  bench.measure("typed move of all", 1, [&](int) { bench.key(Qt::Key_Return); });
  bench.summary();
  std::printf("\nfinished picture: %zu draw calls, %zu parts, %zu triangles, %zu edges, %.0f KB handed over\n",
              finished.draw_calls, finished.parts, finished.triangles, finished.edges,
              static_cast<double>(finished.bytes) / 1024);
  QTest::qWait(4000);  // the autosave is written, and what is free is given back
  std::printf("\nmemory: %.0f MB, at most %.0f (an empty window %.0f, opened %.0f; 300 + 3 x floats: %.0f)\n",
              resident_megabytes("VmRSS"), resident_megabytes("VmHWM"), empty, opened, 300 + 3 * float_megabytes);
  return 0;
}
