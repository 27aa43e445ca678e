// The files that were open lately, with a small picture of each.
#pragma once

#include <QPixmap>
#include <QStringList>

namespace tack {

inline constexpr int kRecentFiles = 10;
inline constexpr QSize kRecentPicture{96, 60};

/// Newest first; files that are gone are left out.
QStringList recent_files();
/// Puts a file at the head of the list.
void remember_recent(const QString& path);
/// Keeps a picture of what the stage shows, for the list; smaller than it is.
void keep_picture(const QString& path, const QImage& picture);
bool has_picture(const QString& path);
/// The picture of a file; an empty card where there is none.
QPixmap picture_of(const QString& path);

}  // namespace tack
