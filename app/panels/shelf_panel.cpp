#include "app/panels/shelf_panel.h"

#include <QDir>
#include <QDrag>
#include <QFileDialog>
#include <QFileInfo>
#include <QKeyEvent>
#include <QMimeData>
#include <QPainter>
#include <QPointer>
#include <QSettings>
#include <QUrl>
#include <QVBoxLayout>

#include "app/files/recent.h"
#include "app/text.h"
#include "app/theme.h"

namespace tack {
namespace {

constexpr char kShelfMime[] = "application/x-tackpoint-shelf";
constexpr QSize kPicture{78, 54};
constexpr qint64 kLargestDrawn = 32 << 20;  // bytes: pictures of larger files are not worth the wait
const QStringList kEndings{"*.glb", "*.gltf", "*.obj", "*.stl", "*.ply", "*.fbx", "*.dae", "*.3mf", "*.x3d"};

QString file_of(const QListWidgetItem* item) { return item ? item->data(Qt::UserRole).toString() : QString(); }

// Under which the picture of a file is kept: another one when the file has been changed.
QString picture_key(const QString& file) {
  const QFileInfo about(file);
  return QString("%1?%2-%3").arg(file).arg(about.size()).arg(about.lastModified().toMSecsSinceEpoch());
}

}  // namespace

bool is_from_shelf(const QMimeData& data) { return data.hasFormat(kShelfMime); }

QMimeData* ShelfList::mimeData(const QList<QListWidgetItem*>& items) const {
  auto* dragged = new QMimeData;
  if (items.isEmpty()) return dragged;
  dragged->setUrls({QUrl::fromLocalFile(file_of(items.front()))});
  dragged->setData(kShelfMime, "part");
  return dragged;
}

void ShelfList::startDrag(Qt::DropActions) {
  QListWidgetItem* item = currentItem();
  if (!item) return;
  auto* drag = new QDrag(this);
  drag->setMimeData(mimeData({item}));
  const QPixmap picture = item->icon().pixmap(kPicture, devicePixelRatioF());
  drag->setPixmap(picture);
  // What is let go stands under the pointer, by its base.
  drag->setHotSpot({kPicture.width() / 2, kPicture.height()});
  drag->exec(Qt::CopyAction);
}

void ShelfList::keyPressEvent(QKeyEvent* event) {
  if ((event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) && currentItem())
    return emit put_asked(file_of(currentItem()));
  QListWidget::keyPressEvent(event);
}

ShelfPanel::ShelfPanel(FileWorks& files, std::function<QImage(const Scene&, const QSize&)> picture, QWidget* parent)
    : QWidget(parent),
      files_(files),
      draw_(std::move(picture)),
      where_(new QPushButton("Choose a folder …", this)),
      search_(new QLineEdit(this)),
      list_(new ShelfList(this)),
      empty_(new QLabel(this)) {
  setObjectName("shelf");
  where_->setObjectName("shelf folder");
  where_->setAccessibleName("Folder of the shelf");
  where_->setToolTip("The folder whose parts stand on the shelf. Click to choose another one.");
  search_->setObjectName("shelf search");
  search_->setPlaceholderText("Search the shelf");
  search_->setAccessibleName("Search the shelf");
  search_->setClearButtonEnabled(true);
  list_->setObjectName("shelf list");
  list_->setAccessibleName("Parts on the shelf");
  list_->setToolTip(
      "Drag a part onto the stage: it stands where it is let go. Enter puts it in the middle of the view.");
  list_->setViewMode(QListView::IconMode);
  list_->setResizeMode(QListView::Adjust);
  list_->setMovement(QListView::Static);
  list_->setIconSize(kPicture);
  list_->setGridSize(kPicture + QSize(11, 24));
  list_->setWordWrap(false);
  list_->setTextElideMode(Qt::ElideMiddle);
  list_->setUniformItemSizes(true);
  list_->setDragEnabled(true);
  list_->setSelectionMode(QAbstractItemView::SingleSelection);
  empty_->setObjectName("shelf empty");
  empty_->setWordWrap(true);
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(8, 8, 4, 4);
  layout->setSpacing(6);
  layout->addWidget(where_);
  layout->addWidget(search_);
  layout->addWidget(empty_);
  layout->addWidget(list_, 1);
  connect(where_, &QPushButton::clicked, this, &ShelfPanel::ask_folder);
  connect(list_, &ShelfList::put_asked, this, &ShelfPanel::put_asked);
  connect(&watcher_, &QFileSystemWatcher::directoryChanged, this, &ShelfPanel::fill);
  connect(search_, &QLineEdit::textChanged, this, [this](const QString& text) {
    for (int i = 0; i < list_->count(); ++i)
      list_->item(i)->setHidden(!list_->item(i)->text().contains(text.trimmed(), Qt::CaseInsensitive));
  });
  folder_ = QSettings().value("shelf/folder").toString();
  fill();
}

void ShelfPanel::show_folder(const QString& folder) {
  if (!folder_.isEmpty()) watcher_.removePath(folder_);
  folder_ = folder;
  QSettings().setValue("shelf/folder", folder);
  fill();
}

void ShelfPanel::ask_folder() {
  const QString folder = QFileDialog::getExistingDirectory(this, "Folder of the shelf", folder_);
  if (!folder.isEmpty()) show_folder(folder);
}

// The parts of the folder by their names, with the pictures that are known; the others are drawn one by one.
void ShelfPanel::fill() {
  undrawn_.clear();
  list_->clear();
  const QDir folder(folder_);
  const bool there = !folder_.isEmpty() && folder.exists();
  if (there && watcher_.directories().isEmpty()) watcher_.addPath(folder_);
  where_->setText(there ? fontMetrics().elidedText(label_of(folder.dirName().toStdString()), Qt::ElideMiddle, 180)
                        : QString("Choose a folder …"));
  const QFileInfoList files =
      there ? folder.entryInfoList(kEndings, QDir::Files | QDir::Readable, QDir::Name | QDir::IgnoreCase)
            : QFileInfoList();
  for (const QFileInfo& file : files) {
    auto* item =
        new QListWidgetItem(picture_of(picture_key(file.absoluteFilePath()))
                                .scaled(kPicture * devicePixelRatioF(), Qt::KeepAspectRatio, Qt::SmoothTransformation),
                            label_of(file.completeBaseName().toStdString()), list_);
    item->setData(Qt::UserRole, file.absoluteFilePath());
    item->setToolTip(label_of(file.fileName().toStdString()));
    if (!has_picture(picture_key(file.absoluteFilePath())) && file.size() <= kLargestDrawn)
      undrawn_ << file.absoluteFilePath();
  }
  empty_->setText(there ? "There is no part in this folder that can be read."
                        : "The shelf shows a folder of your own parts, to be dragged to their place.");
  empty_->setVisible(files.isEmpty());
  search_->setVisible(!files.isEmpty());
  if (isVisible()) draw_next();
}

void ShelfPanel::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  draw_next();
}

// One file after the other, while the shelf is looked at.
void ShelfPanel::draw_next() {
  if (drawing_ || undrawn_.isEmpty() || !isVisible()) return;
  drawing_ = true;
  const QString file = undrawn_.takeFirst();
  files_.read_quietly(file.toStdString(), [self = QPointer<ShelfPanel>(this), file](Result<Document> document) {
    if (!self) return;
    self->drawing_ = false;
    QImage image = document ? self->draw_(document->scene, 2 * kRecentPicture) : QImage();
    // What cannot be read, or drawn, has an empty card, and is not tried again until it changes.
    if (image.isNull()) {
      image = QImage(kRecentPicture, QImage::Format_RGB32);
      image.fill(theme().card);
    }
    keep_picture(picture_key(file), image);
    for (int i = 0; i < self->list_->count(); ++i)
      if (file_of(self->list_->item(i)) == file)
        self->list_->item(i)->setIcon(
            QPixmap(picture_of(picture_key(file))
                        .scaled(kPicture * self->devicePixelRatioF(), Qt::KeepAspectRatio, Qt::SmoothTransformation)));
    self->draw_next();
  });
}

}  // namespace tack
