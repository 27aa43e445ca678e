// The shelf: a folder of the artist's own parts, with pictures, from which they are dragged to their place.
#pragma once

#include <QFileSystemWatcher>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QWidget>
#include <functional>

#include "app/files/file_works.h"

namespace tack {

/// Whether what is dragged comes from the shelf, so that it comes in as an instance of the same part.
bool is_from_shelf(const QMimeData& data);

class ShelfList : public QListWidget {
  Q_OBJECT

 public:
  using QListWidget::QListWidget;

 signals:
  void put_asked(const QString& file);  ///< Enter: it goes to the middle of the view

 protected:
  QMimeData* mimeData(const QList<QListWidgetItem*>& items) const override;
  void startDrag(Qt::DropActions actions) override;
  void keyPressEvent(QKeyEvent* event) override;
};

class ShelfPanel : public QWidget {
  Q_OBJECT

 public:
  /// `picture` draws a scene in a size; it may give none.
  ShelfPanel(FileWorks& files, std::function<QImage(const Scene&, const QSize&)> picture, QWidget* parent = nullptr);
  /// Shows the parts of a folder, and remembers it.
  void show_folder(const QString& folder);
  QString folder() const { return folder_; }

 signals:
  void put_asked(const QString& file);

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  void ask_folder();
  void fill();
  void draw_next();

  FileWorks& files_;
  std::function<QImage(const Scene&, const QSize&)> draw_;
  QString folder_;
  QFileSystemWatcher watcher_;
  QPushButton* where_;
  QLineEdit* search_;
  ShelfList* list_;
  QLabel* empty_;
  QStringList undrawn_;  // files whose pictures are still to be drawn
  bool drawing_ = false;
};

}  // namespace tack
