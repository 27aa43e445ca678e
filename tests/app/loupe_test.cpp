// The loupe over heavy meshes: coarse at first, exact once things rest, and never in the way of events.
#include <QSignalSpy>

#include "draw/draw_list.h"
#include "tests/app/desk.h"
#include "tests/app/drawing.h"

using namespace tack;
using namespace tack::test;

namespace {

QImage rgba(const QImage& image) { return image.convertToFormat(QImage::Format_RGBA8888); }
bool alike(const QImage& a, const QImage& b) { return !a.isNull() && rgba(a) == rgba(b); }

// Counts the slices in which close-ups are drawn.
struct Slices : QObject {
  explicit Slices(Stage& of) : stage(of) { qApp->installEventFilter(this); }
  bool eventFilter(QObject* receiver, QEvent* event) override {
    if (event->type() != QEvent::Timer || receiver->objectName() != "finishing" || !stage.is_still()) return false;
    // What comes between is on its way like any other event.
    if (++count == 2 && between) QTimer::singleShot(0, qApp, std::exchange(between, {}));
    return false;
  }
  Stage& stage;
  int count = 0;
  std::function<void()> between;  // before the second
};

// Two parts of one heavy mesh, mirrored or not.
void open_heavy(Desk& desk, bool mirrored) {
  Document document;
  const MeshPtr ball = shape_mesh(ShapeKind::Sphere, 500);
  REQUIRE(ball->triangles().size() > 200'000);
  for (const double x : {0.0, 90.0}) {
    Part part;
    part.name = x > 0 ? "Right" : "Left";
    part.mesh = ball;
    part.placement.position = {x, 0, 0};
    if (mirrored) part.placement.scale.x = -1;
    document.scene.add(std::move(part));
  }
  desk.store().start(std::move(document), {});
  desk.stage().frame_all();
  desk.settle();
  desk.wait([&] { return desk.stage().is_finished(); });
}

}  // namespace

TEST_CASE("the loupe shows a heavy mesh coarsely at once, and as it is when things rest", "[aids]") {
  const bool mirrored = GENERATE(false, true);
  std::vector<QImage> shown;
  std::vector<View> looked;
  Scene scene;
  {
    Desk desk(QStringList{});
    open_heavy(desk, mirrored);
    scene = desk.scene();
    // From one ball to the other: both are seen whole.
    const Vec3 middle = world_box_of(scene).centre();
    const QPoint over = desk.at(middle + Vec3{45, 0, 0});
    desk.key(Qt::Key_U);
    desk.click(desk.at(middle - Vec3{45, 0, 0}));
    desk.move_to(over);
    const auto views = desk.loupe_views();
    const auto finished = [&] { return desk.stage().is_finished(); };
    desk.wait([&] { return views[0]->view() && views[1]->view() && finished(); });
    // While it is drawn events come between its slices, and a place that is passed by is given up.
    QSignalSpy refined(&views[0]->close_up(), &CloseUp::refined);
    Slices slices(desk.stage());
    bool coarse = false;
    slices.between = [&] {
      coarse = !finished() && refined.count() == 0;
      QTest::mouseMove(desk.window().windowHandle(), over + QPoint(8, 4));
    };
    desk.move_to(over + QPoint(2, 1));
    desk.wait([&] { return !slices.between && finished(); });
    CHECK(coarse);
    CHECK(slices.count > 6);
    CHECK(refined.count() == 1);
    for (LoupeView* view : views) {
      REQUIRE(view->close_up().is_finished());
      shown.push_back(view->close_up().image());
      looked.push_back(*view->close_up().view());
    }
    // Nothing is drawn again while it rests.
    refined.clear();
    QTest::qWait(500);
    CHECK(refined.count() == 0);
    CHECK(alike(views[0]->close_up().image(), shown[0]));
    // What the stage shows has changed: it is drawn anew, without the pointer moving.
    desk.stage().hide_aids(true);
    CHECK_FALSE(views[0]->close_up().is_finished());
    desk.wait([&] { return finished() && refined.count() > 0; });
    for (std::size_t i = 0; i < 2; ++i) CHECK(alike(views[i]->close_up().image(), shown[i]));
    desk.stage().hide_aids(false);
    // A panel that is closed has nothing drawn for it; opened again, it shows the same.
    auto* dock = qobject_cast<QDockWidget*>(desk.window().loupe().parentWidget());
    REQUIRE(dock);
    dock->hide();
    desk.move_to(over + QPoint(30, 3));
    desk.settle();
    for (LoupeView* view : views) CHECK(view->close_up().image().isNull());
    desk.move_to(over + QPoint(8, 4));
    dock->show();
    desk.settle();
    desk.wait([&] { return !views[0]->close_up().image().isNull() && finished(); });
    for (std::size_t i = 0; i < 2; ++i) CHECK(alike(views[i]->close_up().image(), shown[i]));
  }
  // It is what drawing every triangle in one piece gives.
  const Easel easel;
  DrawList list;
  list.show(scene, {});
  for (const DrawItem& item : list.items())
    if (!easel.renderer->has(*item.mesh)) easel.renderer->upload(item.mesh, make_mesh_arrays(*item.mesh));
  for (std::size_t i = 0; i < 2; ++i) {
    DrawFrame frame;
    frame.view = looked[i];
    frame.items = list.items();
    frame.theme = day_theme();
    frame.grid.shown = false;
    frame.cut_at_eye = true;
    frame.samples = 4;
    frame.off = 0;
    const auto pixels = easel.renderer->draw_to_memory(frame);
    const QImage image = rgba(shown[i]);
    REQUIRE(pixels.size() == static_cast<std::size_t>(image.sizeInBytes()));
    std::size_t unlike = 0;
    for (std::size_t b = 0; b < pixels.size(); ++b) unlike += std::abs(int(pixels[b]) - int(image.constBits()[b])) > 2;
    INFO(unlike << " of " << pixels.size());
    CHECK(unlike < pixels.size() / 1000);
  }
}
