#include "tests/app/desk.h"

#include <QApplication>
#include <QDropEvent>
#include <QLabel>
#include <QListWidget>
#include <QMenu>
#include <QMimeData>
#include <QScreen>
#include <QToolButton>
#include <catch2/catch.hpp>

#include "app/theme.h"

namespace tack::test {
namespace {

// How long what must come may take (milliseconds): the machine may be busy with much else, and nothing is tested by it.
constexpr int kPatience = 90000;

}  // namespace

Desk::Desk(const QStringList& files, bool first_start) : home_(std::make_unique<Folder>()) {
  // Nothing of one test may reach another through settings or autosaves.
  qputenv("XDG_STATE_HOME", QByteArray::fromStdString(home_->path()));
  QSettings::setPath(QSettings::NativeFormat, QSettings::UserScope, QString::fromStdString(home_->path()));
  qputenv("XDG_CACHE_HOME", QByteArray::fromStdString(home_->path()));
  QSettings().clear();
  QSettings().setValue("text percent", text_percent);
  QSettings().setValue("theme", night ? "night" : "day");
  if (!first_start) QSettings().setValue("tour/seen", true);
  window_ = std::make_unique<MainWindow>();
  window_->bench().hold_milliseconds = 60000;  // a key that is clicked is tapped, however busy the machine is
  window_->resize(size);
  window_->show();
  REQUIRE(QTest::qWaitForWindowActive(window_.get(), kPatience));
  if (!files.isEmpty()) {
    bool opened = false;
    const QObject here;  // the window opens other documents later, when `opened` is no more
    QObject::connect(&window_->files(), &FileWorks::opened, &here, [&] { opened = true; });
    window_->open_files(files);
    wait([&] { return opened && !window_->files().busy() && stage().is_settled(); });
  }
  settle();
  stage().setFocus();
}

Desk::~Desk() {
  if (std::uncaught_exceptions() > 0 && window_) {
    // A failure leaves a picture behind.
    QApplication::primaryScreen()->grabWindow(0).save(QStringLiteral(TACK_BUILD_DIR "/failed.png"));
  }
  window_->files().forget_autosave();
}

PartId Desk::part(const std::string& path) {
  const auto id = find_by_path(scene(), path);
  REQUIRE(id);
  return *id;
}

Vec3 Desk::point(const TackAddress& address) {
  const auto tack = find_tack(scene(), address);
  REQUIRE(tack);
  return tack->point;
}

namespace {

// Where a segment passes through a triangle, by the signs of volumes; touching counts.
bool passes_through(const Vec3& a, const Vec3& b, const std::array<Vec3, 3>& t) {
  const auto volume = [](const Vec3& o, const Vec3& p, const Vec3& q, const Vec3& r) {
    return dot(cross(p - o, q - o), r - o);
  };
  const double before = volume(t[0], t[1], t[2], a), after = volume(t[0], t[1], t[2], b);
  if ((before > 0) == (after > 0)) return false;
  const double u = volume(a, b, t[0], t[1]), v = volume(a, b, t[1], t[2]), w = volume(a, b, t[2], t[0]);
  return (u >= 0 && v >= 0 && w >= 0) || (u <= 0 && v <= 0 && w <= 0);
}

}  // namespace

TackAddress Desk::visible_vertex(PartId part) {
  struct Candidate {
    std::uint32_t vertex;
    Vec3 world;
    View::Pixel at;
    double alone;  // pixels to the nearest vertex that lies elsewhere
  };
  const View view = stage().view();
  std::vector<std::pair<Vec3, View::Pixel>> all;
  std::vector<std::array<Vec3, 3>> triangles;
  std::vector<Candidate> candidates;
  for (const PartId id : scene().in_tree_order()) {
    const Part& p = scene().part(id);
    if (!p.mesh || is_hidden(scene(), id)) continue;
    const Affine world = world_of(scene(), id);
    std::vector<Vec3> points;
    for (const Vec3& v : p.mesh->positions()) points.push_back(world * v);
    for (std::uint32_t t = 0; t < p.mesh->triangles().size(); ++t) {
      const auto c = p.mesh->corners(t);
      triangles.push_back({world * c[0], world * c[1], world * c[2]});
    }
    for (std::uint32_t i = 0; i < points.size(); ++i) {
      const auto px = view.project(points[i]);
      if (!px) continue;
      all.emplace_back(points[i], *px);
      if (id == part && px->x > 20 && px->y > 20 && px->x < stage().width() - 20 && px->y < stage().height() - 20)
        candidates.push_back({i, points[i], *px, 1e9});
    }
  }
  for (Candidate& c : candidates)
    for (const auto& [world, px] : all)
      if (distance(world, c.world) > 1e-6) c.alone = std::min(c.alone, std::hypot(px.x - c.at.x, px.y - c.at.y));
  std::stable_sort(candidates.begin(), candidates.end(),
                   [](const Candidate& a, const Candidate& b) { return a.alone > b.alone; });
  for (const Candidate& c : candidates) {
    const Vec3 short_of_it = c.world + (view.eye - c.world) * 1e-6;
    if (std::none_of(triangles.begin(), triangles.end(),
                     [&](const auto& t) { return passes_through(view.eye, short_of_it, t); }))
      return vertex(part, c.vertex);
  }
  FAIL("no vertex of the part can be seen");
  return {};
}

void Desk::click_remedy(const QString& words) { click_widget("blank " + words); }

void Desk::take_menu(const QString& start_of_text) {
  for (const QMenu* menu : window_->menuWidget()->findChildren<QMenu*>())
    for (QAction* action : menu->actions())
      if (action->text().remove('&').startsWith(start_of_text)) {
        action->trigger();
        settle();
        return;
      }
  FAIL("no menu entry " << start_of_text.toStdString());
}

void Desk::take_from_button(const QString& button, const QString& entry) {
  auto* tool = qobject_cast<QToolButton*>(widget(button));
  REQUIRE(tool);
  for (QAction* action : tool->menu()->actions())
    if (action->text() == entry) {
      action->trigger();
      settle();
      return;
    }
  FAIL("no entry " << entry.toStdString());
}

QPoint Desk::at(const Vec3& world) {
  const auto pixel = stage().pixel_of(world);
  REQUIRE(pixel);
  return stage().mapTo(window_.get(), pixel->toPoint());
}

QPoint Desk::at(const TackAddress& address) { return at(point(address)); }

QPoint Desk::middle_of(const QWidget* control) {
  const auto middle = [&] { return control->mapTo(window_.get(), control->rect().center()); };
  QPoint where = middle();
  settle();
  while (where != middle()) {
    where = middle();
    settle();
  }
  return where;
}

void Desk::settle() {
  // Layouts ask for each other one event after another.
  for (int i = 0; i < 3; ++i) QTest::qWait(1);
  (void)QTest::qWaitFor([this] { return !window_->bench().is_behind() && stage().is_settled(); }, kPatience);
}

void Desk::move_to(QPoint where) {
  QTest::mouseMove(window_->windowHandle(), where + QPoint(3, 2));
  QTest::mouseMove(window_->windowHandle(), where);
  settle();
}

void Desk::click(QPoint where, Qt::KeyboardModifiers modifiers) {
  move_to(where);
  QTest::mouseClick(window_->windowHandle(), Qt::LeftButton, modifiers, where);
  settle();
}

void Desk::drag(QPoint from, QPoint to, Qt::MouseButton button, Qt::KeyboardModifiers modifiers) {
  move_to(from);
  QTest::mousePress(window_->windowHandle(), button, modifiers, from);
  for (int i = 1; i <= 8; ++i) {
    QTest::mouseMove(window_->windowHandle(), from + (to - from) * i / 8);
  }
  settle();
  QTest::mouseRelease(window_->windowHandle(), button, modifiers, to);
  settle();
}

void Desk::drag_with(QPoint from, QPoint to, const std::function<void()>& halfway) {
  move_to(from);
  QTest::mousePress(window_->windowHandle(), Qt::LeftButton, {}, from);
  for (int i = 1; i <= 4; ++i) QTest::mouseMove(window_->windowHandle(), from + (to - from) * i / 8);
  settle();
  halfway();
  for (int i = 5; i <= 8; ++i) QTest::mouseMove(window_->windowHandle(), from + (to - from) * i / 8);
  settle();
  QTest::mouseRelease(window_->windowHandle(), Qt::LeftButton, {}, to);
  settle();
}

void Desk::drag_with_key(QPoint from, QPoint to, Qt::Key tapped) {
  drag_with(from, to, [&] { key(tapped); });
}

void Desk::drag_and_type(QPoint from, QPoint to, const QString& value) {
  drag_with(from, to, [&] {
    type(value);
    key(Qt::Key_Return);
  });
}

void Desk::wheel(QPoint where, int steps) {
  move_to(where);
  QWheelEvent event(stage().mapFrom(window_.get(), where), window_->mapToGlobal(where), {}, {0, 120 * steps},
                    Qt::NoButton, Qt::NoModifier, Qt::NoScrollPhase, false);
  QApplication::sendEvent(&stage(), &event);
  settle();
}

// On a busy machine the window manager may still be handing the focus on from the window of the test before: keys that
// are sent then reach nobody.
void Desk::take_focus() {
  if (QGuiApplication::focusWindow() || QApplication::activePopupWidget() || QApplication::activeModalWidget()) return;
  window_->activateWindow();
  (void)QTest::qWaitForWindowActive(window_.get(), kPatience);
}

void Desk::key(int key, Qt::KeyboardModifiers modifiers) {
  take_focus();
  QTest::keyClick(window_->windowHandle(), static_cast<Qt::Key>(key), modifiers);
  settle();
}

void Desk::type(const QString& text) {
  take_focus();
  for (const QChar c : text) QTest::keyClick(window_->windowHandle(), c.toLatin1());
  settle();
}

void Desk::drop_data(const QMimeData& data, QPoint at) {
  QDragEnterEvent enter(at, Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
  QApplication::sendEvent(&stage(), &enter);
  QDragMoveEvent over(at, Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
  QApplication::sendEvent(&stage(), &over);
  QDropEvent let_go(at, Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
  QApplication::sendEvent(&stage(), &let_go);
}

void Desk::drop(const std::string& file, std::optional<QPoint> where) {
  QMimeData mime;
  mime.setUrls({QUrl::fromLocalFile(QString::fromStdString(file))});
  drop_data(mime, where ? stage().mapFrom(window_.get(), *where) : QPoint(100, 100));
}

void Desk::drop_from_shelf(const QString& part, QPoint where) {
  auto* list = static_cast<QListWidget*>(widget("shelf list"));
  const auto found = list->findItems(part, Qt::MatchExactly);
  REQUIRE(found.size() == 1);
  const std::unique_ptr<QMimeData> data(list->model()->mimeData({list->indexFromItem(found.front())}));
  REQUIRE(data);
  drop_data(*data, stage().mapFrom(window_.get(), where));
}

QWidget* Desk::widget(const QString& name) {
  for (auto* w : window_->findChildren<QWidget*>(name))
    if (w->isVisible()) return w;
  FAIL("there is no widget " << name.toStdString());
  return nullptr;
}

void Desk::give(const QString& blank, const QString& address) {
  click_widget("blank " + blank);
  type("= " + address);
  key(Qt::Key_Return);
}

void Desk::click_widget(const QString& name) {
  QWidget* w = widget(name);
  click(middle_of(w));
}

std::vector<LoupeView*> Desk::loupe_views() {
  std::vector<LoupeView*> views;
  for (auto* view : window_->loupe().findChildren<LoupeView*>()) views.push_back(view);
  return views;
}

QString Desk::sentence() { return QString::fromStdString(plain_text(window_->sentence_bar().sentence())); }

QString Desk::message() { return static_cast<QLabel*>(widget("message"))->accessibleName(); }

void Desk::wait(const std::function<bool()>& done) {
  const bool came = QTest::qWaitFor(done, kPatience);
  if (!came) QApplication::primaryScreen()->grabWindow(0).save(QStringLiteral(TACK_BUILD_DIR "/failed.png"));
  REQUIRE(came);
}

void Desk::type_into(const QString& field, const QString& text) {
  QWidget* w = widget(field);
  click(middle_of(w));
  key(Qt::Key_A, Qt::ControlModifier);
  type(text);
  key(Qt::Key_Return);
}

void Desk::answer_menu(const QString& entry, int tries) {
  QTimer::singleShot(50, [this, entry, tries] {
    auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
    if (!menu && tries > 0) return answer_menu(entry, tries - 1);
    // Not REQUIRE: nothing may be thrown through the event loop.
    CHECK(menu);
    if (!menu) return;
    QStringList entries;
    for (const QAction* action : menu->actions()) entries << action->text();
    for (int i = 0; i < 2 * entries.size() && !(menu->activeAction() && menu->activeAction()->text() == entry); ++i)
      QTest::keyClick(menu, Qt::Key_Down);
    const bool found = menu->activeAction() && menu->activeAction()->text() == entry;
    QTest::keyClick(menu, found ? Qt::Key_Return : Qt::Key_Escape);
    INFO("the menu has: " << entries.join("; ").toStdString());
    CHECK(found);
  });
}

void Desk::choose(const QString& blank, const QString& entry) {
  answer_menu(entry);
  click_widget("blank " + blank);
  settle();
}

}  // namespace tack::test
