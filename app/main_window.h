// The window: verb row, sentence, stage, docks, status strip, menus.
#pragma once

#include <QMainWindow>
#include <QToolButton>

#include "app/files/file_works.h"
#include "app/keys.h"
#include "app/panels/colours_panel.h"
#include "app/panels/fit_panel.h"
#include "app/panels/loupe.h"
#include "app/panels/parts_panel.h"
#include "app/panels/placement_panel.h"
#include "app/panels/steps_panel.h"
#include "app/theme.h"

namespace tack {

class HelpWindow;
class Tour;
class PointerList;
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
  Keys& keys() { return keys_; }
  PointerList& pointer_list() { return *list_; }
  Tour& tour() { return *tour_; }

  /// Opens the first file and brings the others in.
  void open_files(const QStringList& files);

  /// Says that something could not be done for want of memory.
  void say_without_memory();

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
  void show_nudges(bool on);
  void make_status();
  /// Puts an entry into a menu: its text, its key, what it does; a checkable one hears whether it is on.
  using AddEntry = std::function<QAction*(QMenu*, const QString&, const QKeySequence&, std::function<void(bool)>)>;
  /// The list of planes, and beside it, while another plane is in use, the way back to World.
  void make_plane_button(QToolButton* button, QToolButton* back);
  void make_drag_switch(QToolButton* button);
  void fill_plane_menu(QMenu& menu);
  void add_plane_entries(QMenu& part, const AddEntry& add);
  void add_guide_entries(QMenu& part, const AddEntry& add);
  void add_shape_entries(QMenu& part, const AddEntry& add);
  void add_element_entries(QMenu& part, const AddEntry& add);
  void add_view_entries(QMenu& view, const AddEntry& add);
  void offer_grid();
  void save_strips() const;
  void restore_strips();
  void drag_along_plane(bool on);
  void keep_view();
  QMenu* make_increments_menu();
  void show_message(const QString& text, Tone tone);
  void show_title();
  void offer_left_behind();
  void apply_theme(bool night);
  void isolate();
  /// Those of the picked parts that have a kept tack of this name.
  std::vector<PartId> having(const std::string& kept) const;

  void new_scene();
  void open_demo(std::function<void()> then);
  void ask_open();
  void ask_bring();
  void bring_files(const QStringList& files, const DroppedAt& landing = {});
  void ask_unknown(const std::set<std::string>& names, std::function<void(UnknownNumbers)> then);
  void save();
  /// `then`, where it is given, hears whether it was saved.
  void save_as(std::function<void(bool)> then);
  void save_to(const std::filesystem::path& path, bool asked, std::function<void(bool)> then);
  /// Runs `then` once unsaved work is saved or discarded; not at all when the artist cancels.
  void with_safe_work(std::function<void()> then);
  /// The guide of the verb in use, or the list of all keys.
  void show_help(bool keys);
  void show_about();
  /// The short list: about what lies under a point of the stage, and everything else there is to do.
  void open_list(QPointF stage_point);
  void reset_picked(bool position, bool rotation, bool factors);
  void open_recent(const QString& path);
  void keep_recent_picture();
  void copy_picked(bool cut);
  void paste();
  void ask_export();
  /// Reads the document's file again, in place of what was done since.
  void revert();
  void show_preferences();
  void rebuild_fonts();

  Store store_;
  Keys keys_;
  Workbench* bench_ = nullptr;
  SentenceBar* sentence_ = nullptr;
  Stage* stage_ = nullptr;
  FileWorks* files_ = nullptr;
  Loupe* loupe_ = nullptr;
  PartsPanel* parts_ = nullptr;
  PlacementPanel* placement_ = nullptr;
  StepsPanel* steps_ = nullptr;
  FitPanel* fit_ = nullptr;
  ColoursPanel* colours_ = nullptr;
  VerbRow* verbs_ = nullptr;
  PointerList* list_ = nullptr;
  HelpWindow* help_ = nullptr;
  Tour* tour_ = nullptr;
  QLabel *title_ = nullptr, *message_ = nullptr;
  QToolButton *axes_ = nullptr, *about_ = nullptr, *increments_ = nullptr, *kinds_ = nullptr, *unit_ = nullptr,
              *stop_ = nullptr;
  QWidget* offer_ = nullptr;
  double fonts_made_for_ = text_percent() / 100.0;  // the text size that widgets made now begin with
  std::vector<PartId> isolated_;                    // what was hidden by isolating
};

}  // namespace tack
