#include "app/files/recent.h"

#include <QCryptographicHash>
#include <QDir>
#include <QFileInfo>
#include <QPainter>
#include <QSettings>
#include <QStandardPaths>

#include "app/theme.h"

namespace tack {
namespace {

QString picture_file(const QString& path) {
  const QByteArray name =
      QCryptographicHash::hash(QFileInfo(path).absoluteFilePath().toUtf8(), QCryptographicHash::Sha1).toHex();
  return QStandardPaths::writableLocation(QStandardPaths::CacheLocation) + "/recent/" + name + ".png";
}

}  // namespace

QStringList recent_files() {
  QStringList there;
  for (const QString& path : QSettings().value("recent").toStringList())
    if (QFileInfo::exists(path)) there << path;
  return there.mid(0, kRecentFiles);
}

void remember_recent(const QString& path) {
  if (path.isEmpty()) return;
  QSettings settings;
  QStringList recent = settings.value("recent").toStringList();
  const QString whole = QFileInfo(path).absoluteFilePath();
  recent.removeAll(path);
  recent.removeAll(whole);
  recent.prepend(whole);
  for (const QString& old : recent.mid(kRecentFiles)) QFile::remove(picture_file(old));
  settings.setValue("recent", recent.mid(0, kRecentFiles));
}

// What cannot be kept is not missed: the list then shows an empty card.
void keep_picture(const QString& path, const QImage& picture) {
  if (path.isEmpty() || picture.isNull()) return;
  const QString file = picture_file(path);
  QDir().mkpath(QFileInfo(file).path());
  const QSize size = kRecentPicture * 2;
  const QImage scaled = picture.scaled(size, Qt::KeepAspectRatioByExpanding, Qt::SmoothTransformation);
  scaled.copy(QRect(QPoint((scaled.width() - size.width()) / 2, (scaled.height() - size.height()) / 2), size))
      .save(file, "PNG");
}

bool has_picture(const QString& path) { return QFileInfo::exists(picture_file(path)); }

QPixmap picture_of(const QString& path) {
  QPixmap picture(picture_file(path));
  if (picture.isNull()) {
    picture = QPixmap(kRecentPicture * 2);
    picture.fill(theme().card);
  }
  QPainter p(&picture);
  p.setPen(QPen(theme().hair, 2));
  p.drawRect(QRectF(picture.rect()).adjusted(1, 1, -1, -1));
  p.end();
  picture.setDevicePixelRatio(2);
  return picture;
}

}  // namespace tack
