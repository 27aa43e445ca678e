// One pointer move, from where the pointer is to everything that is shown, without painting: over the places of Meet
// and in a drag of Move, in scenes of 10, 1,000 and 10,000 parts with 1 and with 1,000 picked; and how often each thing
// is worked out for it. Run it on a display: scripts/with-display build/release/bench/bench_pointer
#include <QApplication>
#include <QElapsedTimer>
#include <QMouseEvent>
#include <cstdio>

#include "app/graphics.h"
#include "app/main_window.h"
#include "app/theme.h"
#include "demo/heron_hall.h"

namespace tack {

// Moves the pointer without the window system, whose own time is none of ours.
class StageProbe {
 public:
  explicit StageProbe(MainWindow& window) : window_(window), stage_(window.stage()), bench_(window.bench()) {}

  void press(QPointF at) {
    QMouseEvent event(QEvent::MouseButtonPress, at, stage_.mapToGlobal(at), Qt::LeftButton, Qt::LeftButton, {});
    stage_.mousePressEvent(&event);
  }
  void release(QPointF at) {
    QMouseEvent event(QEvent::MouseButtonRelease, at, stage_.mapToGlobal(at), Qt::LeftButton, Qt::NoButton, {});
    stage_.mouseReleaseEvent(&event);
  }
  // One move and all that it changes: sentence, hint, marks, ties, the list of what is drawn.
  void move(QPointF at, bool pressed) {
    const Qt::MouseButtons buttons = pressed ? Qt::LeftButton : Qt::NoButton;
    QMouseEvent event(QEvent::MouseMove, at, stage_.mapToGlobal(at), Qt::NoButton, buttons, {});
    stage_.mouseMoveEvent(&event);
    bench_.show_now();
    (void)bench_.marks();
    (void)bench_.tie_states();
    (void)stage_.items();
  }
  std::size_t catches() const { return stage_.catches_; }

  struct Counts {
    std::size_t catches;
    DraftCounts draft;
  };
  Counts counts() const { return {stage_.catches_, bench_.draft().counts()}; }

 private:
  MainWindow& window_;
  Stage& stage_;
  Workbench& bench_;
};

}  // namespace tack

namespace {

using namespace tack;

void wait_until(const std::function<bool()>& done) {
  QElapsedTimer timer;
  timer.start();
  while (!done() && timer.elapsed() < 120000) QCoreApplication::processEvents(QEventLoop::WaitForMoreEvents, 5);
}

// Moves along a path and says the median and the slowest tenth, and how often each thing was worked out.
void measure(const char* what, int parts, int picked, StageProbe& probe, QPointF from, bool pressed) {
  constexpr int kMoves = 200;
  std::vector<double> times;
  const auto before = probe.counts();
  for (int i = 1; i <= kMoves; ++i) {
    // Once round, in steps that are never the same.
    const double a = i * 0.0937;
    const QPointF at = from + QPointF(90 * std::sin(a) + i % 7, 70 * (1 - std::cos(a)) + i % 5);
    QElapsedTimer timer;
    timer.start();
    probe.move(at, pressed);
    times.push_back(static_cast<double>(timer.nsecsElapsed()) / 1e6);
  }
  std::sort(times.begin(), times.end());
  const auto after = probe.counts();
  const auto each = [&](std::size_t a, std::size_t b) { return static_cast<double>(b - a) / kMoves; };
  std::printf(
      "%-6s %6d parts %5d picked   median %6.3f ms   9 of 10 within %6.3f ms   caught %.2f  scene %.2f  "
      "sentence %.2f  marks %.2f\n",
      what, parts, picked, times[kMoves / 2], times[kMoves * 9 / 10], each(before.catches, after.catches),
      each(before.draft.scenes, after.draft.scenes), each(before.draft.sentences, after.draft.sentences),
      each(before.draft.marks, after.draft.marks));
  std::fflush(stdout);
}

// A place of the stage where a ruler of Move can be taken hold of.
std::optional<QPointF> ruler(MainWindow& window) {
  const View view = window.stage().view();
  for (const Handle& h : window.bench().draft().handles(view)) {
    if (h.kind != Handle::Kind::Ruler) continue;
    const auto px = view.project(h.line.front() + (h.line.back() - h.line.front()) * 0.7);
    if (px && window.stage().rect().contains(QPointF(px->x, px->y).toPoint())) return QPointF(px->x, px->y);
  }
  return std::nullopt;
}

void run(int parts, int picked) {
  MainWindow window;
  window.resize(1280, 800);
  window.show();
  Document document;
  document.scene = demo::big_scene(parts, 200000);
  window.store().start(std::move(document), {});
  window.stage().frame_all();
  wait_until([&] { return window.stage().is_settled() && !window.bench().is_behind(); });
  std::vector<PartId> some;
  for (const PartId id : window.store().scene().in_tree_order())
    if (window.store().scene().part(id).mesh && static_cast<int>(some.size()) < picked) some.push_back(id);
  window.store().pick(some);
  StageProbe probe(window);
  const QPointF middle(window.stage().width() / 2.0, window.stage().height() / 3.0);
  window.bench().use(id_of<Meet>);
  window.bench().show_now();
  measure("meet", parts, picked, probe, middle, false);
  // With From given, every place under the pointer is a To: what it would do is shown.
  const auto* part = &window.store().scene().part(some.front());
  if (part->mesh) {
    Meet meet;
    meet.what = some;
    meet.from = TackAddress{TackKind::BoxPoint, some.front(), 0, {0.5, 0.5, 0}};
    window.bench().begin(meet, "to");
    window.bench().show_now();
    measure("to", parts, picked, probe, middle, false);
    window.bench().step_back();
    window.bench().step_back();
  }
  window.store().pick(some);
  window.bench().use(id_of<Move>);
  window.bench().show_now();
  QCoreApplication::processEvents();
  if (const auto at = ruler(window)) {
    probe.move(*at, false);
    probe.press(*at);
    measure("drag", parts, picked, probe, *at, true);
    probe.release(*at);
  } else {
    std::printf("drag   no ruler in sight\n");
  }
  window.store().set_saved({}, window.store().journal().position());
}

}  // namespace

int main(int argc, char** argv) {
  tack::prepare_graphics();
  QApplication app(argc, argv);
  QApplication::setOrganizationName("tackpoint-bench");
  QApplication::setStyle("Fusion");
  tack::load_fonts();
  // bench_pointer PARTS PICKED runs one case alone.
  if (argc == 3) return run(std::atoi(argv[1]), std::atoi(argv[2])), 0;
  for (const int parts : {10, 1000, 10000})
    for (const int picked : {1, 1000}) run(parts, std::min(picked, parts));
  return 0;
}
