// Frames in a real window: an empty scene and the demo, orbited in the same run; and the time from start to the first
// usable window; then with both elevations. Run it on a display: scripts/with-display build/release/bench/bench_frame
// demo/heron-hall-parts.glb
#include <QApplication>
#include <QElapsedTimer>
#include <cstdio>

#include "app/graphics.h"
#include "app/main_window.h"
#include "app/theme.h"

namespace {

void wait_until(const std::function<bool()>& done, int most_milliseconds = 20000) {
  QElapsedTimer timer;
  timer.start();
  while (!done() && timer.elapsed() < most_milliseconds)
    QCoreApplication::processEvents(QEventLoop::WaitForMoreEvents, 5);
}

// The median time of a frame from turning the camera to the swapped picture.
double orbit(tack::MainWindow& window) {
  std::vector<double> times;
  for (int i = 0; i < 60; ++i) {
    bool swapped = false;
    const auto connection = QObject::connect(&window.stage(), &QOpenGLWidget::frameSwapped, [&] { swapped = true; });
    QElapsedTimer timer;
    timer.start();
    const tack::Camera& c = window.stage().camera();
    window.stage().set_camera(tack::orbited(c, 3, 0, c.target));
    wait_until([&] { return swapped; });
    times.push_back(static_cast<double>(timer.nsecsElapsed()) / 1e6);
    QObject::disconnect(connection);
  }
  std::sort(times.begin(), times.end());
  return times[times.size() / 2];
}

}  // namespace

int main(int argc, char** argv) {
  QElapsedTimer start;
  start.start();
  tack::prepare_graphics();
  QApplication app(argc, argv);
  QApplication::setOrganizationName("tackpoint-bench");
  QApplication::setStyle("Fusion");
  tack::load_fonts();
  tack::MainWindow window;
  bool painted = false;
  QObject::connect(&window.stage(), &tack::Stage::painted, [&] { painted = true; });
  window.show();
  wait_until([&] { return painted; });
  std::printf("window usable after        %8.0f ms\n", static_cast<double>(start.elapsed()));
  const double empty = orbit(window);
  bool opened = false;
  QObject::connect(&window.files(), &tack::FileWorks::opened, [&] { opened = true; });
  QElapsedTimer load;
  load.start();
  window.open_files({argc > 1 ? argv[1] : "demo/heron-hall-parts.glb"});
  wait_until([&] { return opened && window.stage().is_settled(); });
  std::printf("file open and drawn after  %8.0f ms\n", static_cast<double>(load.elapsed()));
  const double full = orbit(window);
  std::printf(
      "empty frame, median        %8.1f ms\nfull frame, median         %8.1f ms\nadded                      %8.1f ms\n",
      empty, full, full - empty);
  for (const tack::Elevation kind : {tack::Elevation::Front, tack::Elevation::Side})
    window.stage().show_elevation(kind, true);
  wait_until([&] { return window.stage().is_settled(); });
  const double strips = orbit(window);
  std::printf("with both elevations       %8.1f ms\nthey add                   %8.1f ms\n", strips, strips - full);
  return 0;
}
