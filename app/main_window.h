// The window: verb row, sentence, stage, docks, status strip, menus.
#pragma once

#include <QMainWindow>
#include <QToolButton>

#include "app/files/file_works.h"
#include "app/panels/fit_panel.h"
#include "app/panels/loupe.h"
#include "app/panels/parts_panel.h"
#include "app/panels/placement_panel.h"
#include "app/panels/steps_panel.h"

namespace tack {

class VerbRow;

class MainWindow : public QMainWindow {
  Q_OBJECT

 public:
  MainWindow();
  ~MainWindow() override;

  Store& store() { return store_; }
  Stage& stage() { return *stage_; }
  Workbench& bench() { return *bench_; }
  SentenceBar& sentence_bar() { return *sentence_; }
  FileWorks& files() { return *files_; }
  Loupe& loupe() { return *loupe_; }
  PartsPanel& parts() { return *parts_; }

  /// Opens the first file and brings the others in.
  void open_files(const QStringList& files);

 signals:
  void closed();  ///< it was closed for good; nothing is left to be saved

 protected:
  void closeEvent(QCloseEvent* event) override;
  void changeEvent(QEvent* event) override;

 private:
  void make_docks();
  void make_menus();
  /// F6: stage, sentence, Parts, Placement, Steps, Fit, status strip, and round again.
  void focus_area(int by);
  void make_status();
  QMenu* make_increments_menu();
  void show_message(const QString& text, Tone tone);
  void show_title();
  void offer_left_behind();
  void apply_theme(bool night);
  void isolate();
  /// Those of the picked parts that have a kept tack of this name.
  std::vector<PartId> having(const std::string& kept) const;

  void new_scene();
  void ask_open();
  void ask_bring();
  void bring_files(const QStringList& files);
  void save();
  /// `then`, where it is given, hears whether it was saved.
  void save_as(std::function<void(bool)> then);
  void save_to(const std::filesystem::path& path, bool asked, std::function<void(bool)> then);
  /// Runs `then` once unsaved work is saved or discarded; not at all when the artist cancels.
  void with_safe_work(std::function<void()> then);
  void show_keys();
  void show_about();
  void open_recent(const QString& path);

  Store store_;
  Workbench* bench_ = nullptr;
  SentenceBar* sentence_ = nullptr;
  Stage* stage_ = nullptr;
  FileWorks* files_ = nullptr;
  Loupe* loupe_ = nullptr;
  PartsPanel* parts_ = nullptr;
  PlacementPanel* placement_ = nullptr;
  StepsPanel* steps_ = nullptr;
  FitPanel* fit_ = nullptr;
  VerbRow* verbs_ = nullptr;
  QLabel *title_ = nullptr, *message_ = nullptr;
  QToolButton *axes_ = nullptr, *about_ = nullptr, *increments_ = nullptr, *kinds_ = nullptr, *unit_ = nullptr,
              *stop_ = nullptr;
  QWidget* offer_ = nullptr;
  std::vector<PartId> isolated_;  // what was hidden by isolating
};

}  // namespace tack
