// The document's list of named colours: given by dragging one onto a part, changed for every part that has it.
#pragma once

#include <QTreeWidget>
#include <functional>

#include "app/workbench.h"

class QMenu;
class QMimeData;
class QPushButton;

namespace tack {

/// The name of a colour that is dragged; empty when something else is.
std::string dragged_colour(const QMimeData& data);

/// Fills a menu with the colours that can be given: those of the list, and "Another colour …", which asks for one,
/// beginning with `now`. `given` gets the name and no colour, or the colour and an empty name.
void add_colours(QMenu& menu, const Scene& scene, const Colour& now,
                 const std::function<void(const std::string& name, const Colour& colour)>& given);
/// Asks for a colour, beginning with `now`; nullopt when none was chosen.
std::optional<Colour> ask_colour(const Colour& now);

class ColourList : public QTreeWidget {
  Q_OBJECT

 public:
  using QTreeWidget::QTreeWidget;

 signals:
  void forget_asked();
  void given_asked();

 protected:
  QMimeData* mimeData(const QList<QTreeWidgetItem*>& items) const override;
  void startDrag(Qt::DropActions actions) override;
  void keyPressEvent(QKeyEvent* event) override;
  bool event(QEvent* event) override;
};

class ColoursPanel : public QWidget {
  Q_OBJECT

 public:
  ColoursPanel(Store& store, Workbench& bench, QWidget* parent = nullptr);
  /// Puts a colour on the list, under a name that is then typed: that of what is picked, which has it from then on;
  /// with `asks`, or with nothing picked, one that is asked for.
  void add(bool asks);

 private:
  std::string chosen() const;
  void refresh();
  void give();
  void change();
  void show_menu(QPoint at);
  void rename(QTreeWidgetItem* item);

  Store& store_;
  Workbench& bench_;
  ColourList* list_;
  QPushButton* give_;
  Scene shown_;
  bool filling_ = false;
};

}  // namespace tack
