// The real window on a real display, worked with real mouse and key events.
#pragma once

#include <QTest>
#include <catch2/catch.hpp>
#include <functional>
#include <memory>

#include "app/main_window.h"
#include "tests/support.h"

// What a failed check prints of a QString.
template <>
struct Catch::StringMaker<QString> {
  static std::string convert(const QString& text) { return "\"" + text.toStdString() + "\""; }
};

namespace tack::test {

class Desk {
 public:
  /// Opens the window, at 1280 × 800 unless `size` is another, with these files and waits until everything is drawn.
  /// `first_start`: as if the program had never been started.
  explicit Desk(const QStringList& files = {QString::fromStdString(source("demo/heron-hall-parts.glb"))},
                bool first_start = false);
  ~Desk();

  /// The text size that windows made from now on begin with.
  inline static int text_percent = 100;
  inline static QSize size{1280, 800};
  inline static bool night = false;

  MainWindow& window() { return *window_; }
  Store& store() { return window_->store(); }
  Stage& stage() { return window_->stage(); }
  const Scene& scene() { return store().scene(); }

  PartId part(const std::string& path);
  Vec3 point(const TackAddress& address);
  /// Where a tack is in the window, in whole pixels.
  QPoint at(const TackAddress& address);
  QPoint at(const Vec3& world);
  QPoint middle_of(const QWidget* control);  ///< once the layouts have come to rest

  /// The vertex of a part that can be seen in the window, and stands most alone there: what a person would click.
  TackAddress visible_vertex(PartId part);
  /// Takes the entry of the menu bar whose text begins so, or that of a button's menu.
  void take_menu(const QString& start_of_text);
  void take_from_button(const QString& button, const QString& entry);

  /// Takes a way out that the sentence offers.
  void click_remedy(const QString& words);

  void move_to(QPoint where);  ///< the pointer, in two moves, so that hovering is seen
  void click(QPoint where, Qt::KeyboardModifiers modifiers = Qt::NoModifier);
  void drag(QPoint from, QPoint to, Qt::MouseButton button = Qt::LeftButton,
            Qt::KeyboardModifiers modifiers = Qt::NoModifier);
  /// The same with a key that is tapped on the way, or a value that is typed before it is let go.
  void drag_with_key(QPoint from, QPoint to, Qt::Key key);
  void drag_and_type(QPoint from, QPoint to, const QString& value);
  void wheel(QPoint where, int steps);
  void key(int key, Qt::KeyboardModifiers modifiers = Qt::NoModifier);
  void type(const QString& text);  ///< one key after another, to whatever has the focus
  /// Drops a file from another program onto the stage, there in the window or near its corner: enter, move, let go.
  void drop(const std::string& file, std::optional<QPoint> where = std::nullopt);
  /// The same for a part of the shelf, as its list hands it out.
  void drop_from_shelf(const QString& part, QPoint where);
  /// Gives a place blank of the sentence by clicking it and typing the address.
  void give(const QString& blank, const QString& address);
  void click_widget(const QString& name);  ///< by object name
  QWidget* widget(const QString& name);

  QString sentence();
  QString message();
  void wait(const std::function<bool()>& done);  ///< fails the test when it does not come in a minute and a half
  std::vector<LoupeView*> loupe_views();         ///< the two close-ups
  void settle();                                 ///< lets pending events and drawing happen
  /// Goes down to this entry in the menu that opens next, and takes it.
  void answer_menu(const QString& entry, int tries = 100);
  /// Takes an entry of the list that a blank of the sentence opens.
  void choose(const QString& blank, const QString& entry);
  /// Sets a field of Placement by clicking into it and typing.
  void type_into(const QString& field, const QString& text);

 private:
  void take_focus();
  void drag_with(QPoint from, QPoint to, const std::function<void()>& halfway);
  void drop_data(const QMimeData& data, QPoint on_stage);

  std::unique_ptr<Folder> home_;
  std::unique_ptr<MainWindow> window_;
};

/// How many steps the record has.
inline std::size_t steps(Desk& desk) { return desk.store().journal().record().steps.size(); }

}  // namespace tack::test
