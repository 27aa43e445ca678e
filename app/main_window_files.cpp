// Copy and paste of parts, export, revert, preferences; declared in main_window.h.
#include <QApplication>
#include <QClipboard>
#include <QFileDialog>
#include <QMessageBox>

#include "app/files/clipboard.h"
#include "app/files/export_dialog.h"
#include "app/main_window.h"
#include "app/preferences_dialog.h"
#include "app/text.h"
#include "app/theme.h"

namespace tack {

void MainWindow::copy_picked(bool cut) {
  if (!store_.has_picked()) return;
  files_->copy(store_.picked(), [this, cut, what = store_.picked()](const Copied& copied) {
    QApplication::clipboard()->setMimeData(mime_of(copied));
    const auto count = std::count(copied.table.begin(), copied.table.end(), '\n');
    if (cut && !store_.perform(Delete{what})) return;
    store_.say(QString("%1 %2 on the clipboard: paste here, in another window, or as a table of numbers.")
                   .arg(count)
                   .arg(count == 1 ? "part is" : "parts are"));
  });
}

void MainWindow::paste() {
  const QByteArray parts = parts_on(QApplication::clipboard()->mimeData());
  if (parts.isEmpty()) return store_.say("The clipboard holds no parts. Numbers are pasted in Placement.", Tone::Wrong);
  files_->paste(parts);
}

void MainWindow::ask_export() {
  auto* dialog = new ExportDialog(store_.unit(), !store_.picked().empty(), this);
  dialog->setAttribute(Qt::WA_DeleteOnClose);
  connect(dialog, &QDialog::accepted, this, [this, dialog] {
    const QString ending = dialog->ending();
    QString file = QFileDialog::getSaveFileName(
        this, "Export", QString::fromStdString((store_.path().parent_path() / store_.path().stem()).string()) + ending,
        QString("%1 file (*%2)").arg(ending.mid(1).toUpper(), ending));
    if (file.isEmpty()) return store_.say("Nothing was exported.");
    // The dialog has asked about the name that was typed, and about no other.
    const bool asked = file.endsWith(ending, Qt::CaseInsensitive);
    if (!asked) file += ending;
    if (!asked && QFile::exists(file) &&
        QMessageBox::question(this, "Export",
                              QString("%1 is there already. Overwrite it?").arg(QFileInfo(file).fileName())) !=
            QMessageBox::Yes)
      return store_.say("Nothing was exported.");
    files_->export_to(file.toStdString(), dialog->options(),
                      dialog->picked_alone() ? store_.picked() : std::vector<PartId>());
  });
  connect(dialog, &QDialog::rejected, this, [this] { store_.say("Nothing was exported."); });
  dialog->open();
}

void MainWindow::revert() {
  if (store_.path().empty() || !files_->knows(store_.path()))
    return store_.say("This document has not been saved yet: there is nothing to go back to.", Tone::Wrong);
  if (!store_.changed()) return store_.say("Nothing has changed since it was saved.");
  QMessageBox box(QMessageBox::NoIcon, "Revert",
                  QString("Go back to %1 as it was saved last? What was done since is lost.")
                      .arg(label_of(store_.path().filename().string())),
                  QMessageBox::NoButton, this);
  box.setObjectName("revert");
  const auto* back = box.addButton("Go back", QMessageBox::DestructiveRole);
  box.addButton("Cancel", QMessageBox::RejectRole);
  box.exec();
  if (box.clickedButton() == back) files_->open(store_.path());
}

void MainWindow::show_preferences() {
  const Preferences before = store_.preferences();
  auto* dialog = new PreferencesDialog(before, this);
  dialog->setAttribute(Qt::WA_DeleteOnClose);
  // Theme and text size are seen while they are chosen.
  const auto show = [this](const Preferences& p) {
    set_text_percent(p.text_percent);
    rebuild_fonts();
    apply_theme(is_night(p));
  };
  connect(dialog, &PreferencesDialog::changed, this, [dialog, show] { show(dialog->preferences()); });
  connect(dialog, &QDialog::accepted, this, [this, dialog, show] {
    store_.set_preferences(dialog->preferences());
    show(store_.preferences());
    store_.say("The preferences are kept.");
  });
  connect(dialog, &QDialog::rejected, this, [before, show] { show(before); });
  dialog->open();
}

// Widgets that chose a size of their own follow the text size: each from what it began with, so that nothing drifts.
void MainWindow::rebuild_fonts() {
  const double factor = text_percent() / 100.0;
  const auto follow = [&](QWidget* w) {
    QVariant base = w->property("text pixels");
    if (!base.isValid()) {
      base = w->font().pixelSize() / fonts_made_for_;
      w->setProperty("text pixels", base);
    }
    QFont font = w->font();
    font.setPixelSize(std::max(8, qRound(base.toDouble() * factor)));
    if (font != w->font()) w->setFont(font);
    w->updateGeometry();
  };
  for (auto* w : findChildren<QWidget*>())
    if (!w->isWindow()) follow(w);
  fonts_made_for_ = factor;
  sentence_->updateGeometry();
  update();
}

}  // namespace tack
