#include "tests/app/desk.h"

#include <QApplication>
#include <QDropEvent>
#include <QLabel>
#include <QMimeData>
#include <QScreen>
#include <catch2/catch.hpp>

#include "app/theme.h"

namespace tack::test {

Desk::Desk(const QStringList& files) : home_(std::make_unique<Folder>()) {
  // Nothing of one test may reach another through settings or autosaves.
  qputenv("XDG_STATE_HOME", QByteArray::fromStdString(home_->path()));
  QSettings::setPath(QSettings::NativeFormat, QSettings::UserScope, QString::fromStdString(home_->path()));
  QSettings().clear();
  window_ = std::make_unique<MainWindow>();
  window_->resize(1280, 800);
  window_->show();
  REQUIRE(QTest::qWaitForWindowActive(window_.get()));
  if (!files.isEmpty()) {
    bool opened = false;
    QObject::connect(&window_->files(), &FileWorks::opened, window_.get(), [&] { opened = true; });
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

QPoint Desk::at(const Vec3& world) {
  const auto pixel = stage().pixel_of(world);
  REQUIRE(pixel);
  return stage().mapTo(window_.get(), pixel->toPoint());
}

QPoint Desk::at(const TackAddress& address) { return at(point(address)); }

void Desk::settle() {
  for (int i = 0; i < 3; ++i) QTest::qWait(15);
}

void Desk::move_to(QPoint where) {
  QTest::mouseMove(window_->windowHandle(), where + QPoint(3, 2));
  QTest::qWait(5);
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
    QTest::qWait(5);
  }
  settle();
  QTest::mouseRelease(window_->windowHandle(), button, modifiers, to);
  settle();
}

void Desk::wheel(QPoint where, int steps) {
  move_to(where);
  QTest::qWait(5);
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
  (void)QTest::qWaitForWindowActive(window_.get());
}

void Desk::key(int key, Qt::KeyboardModifiers modifiers) {
  take_focus();
  QTest::keyClick(window_->windowHandle(), static_cast<Qt::Key>(key), modifiers);
  settle();
}

void Desk::type(const QString& text) {
  take_focus();
  for (const QChar c : text) {
    QTest::keyClick(window_->windowHandle(), c.toLatin1());
    QTest::qWait(2);
  }
  settle();
}

void Desk::drop(const std::string& file) {
  QMimeData mime;
  mime.setUrls({QUrl::fromLocalFile(QString::fromStdString(file))});
  const QPoint at(100, 100);
  QDragEnterEvent enter(at, Qt::CopyAction, &mime, Qt::LeftButton, Qt::NoModifier);
  QApplication::sendEvent(&stage(), &enter);
  QDragMoveEvent over(at, Qt::CopyAction, &mime, Qt::LeftButton, Qt::NoModifier);
  QApplication::sendEvent(&stage(), &over);
  QDropEvent let_go(at, Qt::CopyAction, &mime, Qt::LeftButton, Qt::NoModifier);
  QApplication::sendEvent(&stage(), &let_go);
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
  click(w->mapTo(window_.get(), w->rect().center()));
}

std::vector<LoupeView*> Desk::loupe_views() {
  std::vector<LoupeView*> views;
  for (auto* view : window_->loupe().findChildren<LoupeView*>()) views.push_back(view);
  return views;
}

QString Desk::sentence() { return QString::fromStdString(plain_text(window_->sentence_bar().sentence())); }

QString Desk::message() { return static_cast<QLabel*>(widget("message"))->accessibleName(); }

void Desk::wait(const std::function<bool()>& done) {
  const bool came = QTest::qWaitFor(done, 10000);
  if (!came) QApplication::primaryScreen()->grabWindow(0).save(QStringLiteral(TACK_BUILD_DIR "/failed.png"));
  REQUIRE(came);
}

void Desk::type_into(const QString& field, const QString& text) {
  QWidget* w = widget(field);
  click(w->mapTo(window_.get(), w->rect().center()));
  key(Qt::Key_A, Qt::ControlModifier);
  type(text);
  key(Qt::Key_Return);
}

void Desk::answer_menu(int downs, int tries) {
  QTimer::singleShot(50, [this, downs, tries] {
    auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
    if (!menu && tries > 0) return answer_menu(downs, tries - 1);
    REQUIRE(menu);
    for (int i = 0; i < downs; ++i) QTest::keyClick(menu, Qt::Key_Down);
    QTest::keyClick(menu, Qt::Key_Return);
  });
}

void Desk::choose(const QString& blank, int entry) {
  answer_menu(entry + 1);
  click_widget("blank " + blank);
  settle();
}

}  // namespace tack::test
