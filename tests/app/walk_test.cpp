// A random walk through the window: whatever is clicked, dragged, typed and interrupted, the stored scene is what its
// steps make, and nothing ends the program.
#include <QApplication>
#include <QMessageBox>

#include <fmt/format.h>

#include "core/verbs/journal.h"
#include "tests/app/desk.h"

using namespace tack;
using namespace tack::test;

namespace {

// All that a scene says, by paths: parts that were made again may have other numbers.
std::string all_of(const Scene& scene) {
  std::string text;
  for (const PartId id : scene.in_tree_order()) {
    const Part& p = scene.part(id);
    const auto say = [&](const Vec3& v) { text += fmt::format(" {:.17g},{:.17g},{:.17g}", v.x, v.y, v.z); };
    text += fmt::format("{} {}{} {} colours", path_of(scene, id), p.hidden, p.locked, static_cast<int>(p.guide));
    for (const Colour& c : p.colours) text += fmt::format(" {},{},{}", c.r, c.g, c.b);
    say(p.placement.position);
    say(p.placement.rotation);
    say(p.placement.scale);
    say(p.placement.skew);
    say(p.placement.pivot);
    if (p.mesh) {
      Vec3 sum;
      for (const Vec3& v : p.mesh->positions()) sum = sum + v;
      text += fmt::format(" mesh {}", p.mesh->positions().size());
      say(sum);
    }
    for (const KeptTack& kept : kept_of(scene, id)) text += " kept " + kept.name;
    text += "\n";
  }
  for (const Tie& tie : scene.ties()) text += fmt::format("tie {} {}\n", tie.name, tie.suspended);
  return text;
}

void check_replay(Desk& desk) {
  const Record& record = desk.store().journal().record();
  Scene scene = record.start;
  for (std::size_t i = 0; i < record.steps.size(); ++i) {
    const Step& step = *record.steps[i];
    if (!step.left_out && !step.problem) {
      const auto done = tack::apply(step.verb, record.before(i));
      INFO("step " << i << ": " << plain_text(step.words));
      REQUIRE(done);
      REQUIRE(all_of(*done) == all_of(step.after));
    } else {
      REQUIRE(all_of(record.before(i)) == all_of(step.after));
    }
  }
  REQUIRE(all_of(record.scene()) == all_of(desk.scene()));
}

}  // namespace

TEST_CASE("a random walk of 2,000 events leaves the scene that its steps make", "[walk]") {
  Desk desk;
  desk.window().resize(760, 520);
  desk.settle();
  const Folder folder;
  // Another walk: TACK_WALK=<number>.
  const int seed = qEnvironmentVariableIntValue("TACK_WALK");
  Chance chance(seed ? static_cast<unsigned>(seed) : 2611U);
  auto* window = desk.window().windowHandle();
  // Questions that come up are called off; menus are left.
  QTimer answers;
  QObject::connect(&answers, &QTimer::timeout, [] {
    if (auto* box = qobject_cast<QDialog*>(QApplication::activeModalWidget())) box->reject();
    if (QWidget* menu = QApplication::activePopupWidget()) menu->close();
  });
  answers.start(30);
  const auto somewhere = [&] {
    // Mostly on a part, else anywhere.
    const auto ids = desk.scene().in_tree_order();
    if (!ids.empty() && chance.whole(0, 3) > 0) {
      const PartId id = ids[static_cast<std::size_t>(chance.whole(0, static_cast<int>(ids.size()) - 1))];
      const double halves[] = {0, 0.5, 1};
      const auto half = [&] { return halves[chance.whole(0, 2)]; };
      if (const auto tack = find_tack(desk.scene(), {TackKind::TreeBoxPoint, id, 0, {half(), half(), half()}}))
        if (const auto px = desk.stage().pixel_of(tack->point); px && desk.stage().rect().contains(px->toPoint()))
          return desk.stage().mapTo(&desk.window(), px->toPoint());
    }
    return desk.stage().mapTo(
        &desk.window(), QPoint(chance.whole(0, desk.stage().width() - 1), chance.whole(0, desk.stage().height() - 1)));
  };
  const auto on_handle = [&]() -> QPoint {
    const View view = desk.stage().view();
    const auto handles = desk.window().bench().draft().handles(view);
    if (handles.empty()) return somewhere();
    const Handle& h = handles[static_cast<std::size_t>(chance.whole(0, static_cast<int>(handles.size()) - 1))];
    const auto px = view.project(h.line.empty() ? h.at : h.line[h.line.size() / 2]);  // points of boxes have no line
    const QPoint at = px ? QPointF(px->x, px->y).toPoint() : QPoint();
    return px && desk.stage().rect().contains(at) ? desk.stage().mapTo(&desk.window(), at) : somewhere();
  };
  const auto key = [&](Qt::Key k, Qt::KeyboardModifiers m = Qt::NoModifier) {
    if (QApplication::activePopupWidget() || QApplication::activeModalWidget()) return;
    QTest::keyClick(window, k, m);
  };
  const auto typed = [&](const char* text) {
    for (const char* c = text; *c; ++c) QTest::keyClick(window, *c);
  };
  constexpr Qt::KeyboardModifiers kNone = Qt::NoModifier, kCtrl = Qt::ControlModifier, kShift = Qt::ShiftModifier;
  const std::pair<Qt::Key, Qt::KeyboardModifiers> keys[] = {
      {Qt::Key_P, kNone},          {Qt::Key_M, kNone},          {Qt::Key_O, kNone},
      {Qt::Key_A, kNone},          {Qt::Key_V, kNone},          {Qt::Key_T, kNone},
      {Qt::Key_U, kNone},          {Qt::Key_X, kNone},          {Qt::Key_Y, kNone},
      {Qt::Key_Z, kNone},          {Qt::Key_K, kNone},          {Qt::Key_B, kNone},
      {Qt::Key_Escape, kNone},     {Qt::Key_Escape, kNone},     {Qt::Key_Tab, kNone},
      {Qt::Key_Backtab, kShift},   {Qt::Key_Return, kNone},     {Qt::Key_Z, kCtrl},
      {Qt::Key_Z, kCtrl},          {Qt::Key_Z, kCtrl | kShift}, {Qt::Key_Delete, kNone},
      {Qt::Key_G, kCtrl},          {Qt::Key_G, kCtrl | kShift}, {Qt::Key_D, kCtrl | kShift},
      {Qt::Key_R, kCtrl},          {Qt::Key_H, kCtrl},          {Qt::Key_L, kCtrl},
      {Qt::Key_K, kCtrl},          {Qt::Key_J, kCtrl},          {Qt::Key_Up, kCtrl},
      {Qt::Key_Down, kCtrl},       {Qt::Key_F, kShift},         {Qt::Key_A, kCtrl},
      {Qt::Key_I, kNone},          {Qt::Key_F6, kNone},         {Qt::Key_L, kNone},
      {Qt::Key_D, kNone},          {Qt::Key_E, kNone},          {Qt::Key_N, kNone},
      {Qt::Key_W, kNone},          {Qt::Key_B, kCtrl | kShift}, {Qt::Key_J, kCtrl | kShift},
      {Qt::Key_F, kCtrl | kShift}, {Qt::Key_W, kCtrl | kShift}};
  const auto any_key = [&] {
    const auto& [k, m] = keys[static_cast<std::size_t>(chance.whole(0, static_cast<int>(std::size(keys)) - 1))];
    key(k, m);
  };
  const char* entries[] = {"12.5", "-3", "it*2", "90", "1/0", "3 in", "abc", "= \"Post 1\" pivot", "0,0,100"};
  for (int i = 0; i < 2000; ++i) {
    switch (chance.whole(0, 9)) {
      case 0:
      case 1:
      case 2: any_key(); break;
      case 3: QTest::mouseMove(window, somewhere()); break;
      case 4:
      case 5: QTest::mouseClick(window, Qt::LeftButton, chance.whole(0, 3) == 0 ? kShift : kNone, somewhere()); break;
      case 6:
      case 7: {  // a drag, often interrupted by a key
        QPoint at = on_handle();
        QTest::mouseMove(window, at);
        QTest::mousePress(window, Qt::LeftButton, kNone, at);
        for (int m = 0; m < 4; ++m)
          QTest::mouseMove(window, at += QPoint(chance.whole(-25, 25), chance.whole(-25, 25)));
        if (chance.whole(0, 1) == 0) any_key();
        if (chance.whole(0, 4) == 0) QTest::mouseClick(window, Qt::RightButton, kNone, at);
        for (int m = 0; m < 2; ++m)
          QTest::mouseMove(window, at += QPoint(chance.whole(-25, 25), chance.whole(-25, 25)));
        QTest::mouseRelease(window, Qt::LeftButton, chance.whole(0, 4) == 0 ? kCtrl : kNone, at);
        break;
      }
      case 8:
        typed(entries[chance.whole(0, static_cast<int>(std::size(entries)) - 1)]);
        key(chance.whole(0, 3) == 0 ? Qt::Key_Tab : Qt::Key_Return);
        break;
      default: {
        const int what = chance.whole(0, 9);
        const auto ids = desk.scene().in_tree_order();
        if (what < 5 && !ids.empty()) {
          desk.store().pick({ids[static_cast<std::size_t>(chance.whole(0, static_cast<int>(ids.size()) - 1))]});
        } else if (what == 5) {
          desk.window().close();  // called off, or nothing to lose
          desk.window().show();
        } else if (what == 6 && chance.whole(0, 3) == 0) {
          desk.window().files().open(source("demo/heron-hall-parts.glb"));
        } else if (what == 7) {
          desk.window().files().save(folder / "walk.glb");
        } else if (const std::size_t count = steps(desk); what == 8 && count > 0) {
          desk.store().leave_out(static_cast<std::size_t>(chance.whole(0, static_cast<int>(count) - 1)),
                                 chance.whole(0, 1) == 0);
        }
      }
    }
    // Pictures cost nearly all of the time: one event in twenty is painted.
    desk.window().setUpdatesEnabled(i % 20 == 0);
    if (i % 5 == 0) QTest::qWait(1);
    if (i % 100 == 99) {
      desk.settle();
      INFO("after " << i + 1 << " events");
      check_replay(desk);
    }
    // The record stays short enough to be replayed, and the scene large enough to walk in.
    if (desk.scene().size() < 8 || desk.scene().size() > 200 || steps(desk) > 60) {
      desk.key(Qt::Key_Escape);
      bool opened = false;
      QObject here;
      QObject::connect(&desk.window().files(), &FileWorks::opened, &here, [&] { opened = true; });
      check_replay(desk);
      desk.store().set_saved({}, desk.store().journal().position());
      desk.window().files().open(source("demo/heron-hall-parts.glb"));
      (void)QTest::qWaitFor([&] { return opened; }, 20000);
    }
  }
  desk.settle();
  check_replay(desk);
}
