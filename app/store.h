// The one place that knows the document: the scene with its journal, what is picked, where it is saved.
#pragma once

#include <QObject>
#include <QString>
#include <filesystem>

#include "app/preferences.h"
#include "core/files/document.h"
#include "core/hands/increments.h"
#include "core/verbs/journal.h"

namespace tack {

/// How a message is meant; shown by a word or mark as well as a colour.
/// A hint gives way to anything; the others stand until the artist does something.
enum class Tone { Hint, Note, Good, Apart, Wrong };

class Store : public QObject {
  Q_OBJECT

 public:
  explicit Store(QObject* parent = nullptr);

  const Journal& journal() const { return journal_; }
  const Scene& scene() const { return journal_.scene(); }
  const DocumentSettings& settings() const { return settings_; }
  const std::vector<PartId>& picked() const { return picked_; }
  bool is_picked(PartId id) const;
  /// Whether anything is picked; says so when nothing is.
  bool has_picked();

  /// Does a verb as a new step, or in place of the last one. False, and said(Wrong), when it cannot be done.
  /// `would_be`: the scene that it would make of this one, where that is known already.
  bool perform(const Verb& verb, const Scene* would_be = nullptr);
  bool amend(const Verb& verb);
  /// Takes over a record that was made elsewhere by adding a step to a copy of this one, when that was at position
  /// `before`. False, and nothing happens, when something has been done since.
  bool take_over(Journal journal, std::size_t before);
  /// Edits of the record: any step changed, left out, taken in again, removed.
  bool amend_step(std::size_t step, const Verb& verb);
  void leave_out(std::size_t step, bool out);
  void remove_step(std::size_t step);
  void undo();
  void redo();

  /// Parts that do not exist are passed over.
  void pick(std::vector<PartId> parts);
  /// Picks it, or with `add` adds it or takes it out.
  void pick_one(PartId part, bool add);

  /// The document's unit, with the decimals and the tolerance that are liked.
  LengthUnit unit() const;
  /// The unit alone: what is kept with what was typed in it.
  LengthUnit typed_unit() const { return length_unit(settings_.unit).value_or(kMillimetres); }
  void set_unit(const std::string& name);
  int decimals() const { return preferences_.decimals; }
  const Preferences& preferences() const { return preferences_; }
  /// Holds from now on, and is kept for good.
  void set_preferences(const Preferences& preferences);

  /// The axes in which Move and Placement give their numbers. Plane axes are those of the plane that is in use.
  const Axes& axes() const { return axes_; }
  void set_axes(const Axes& axes);
  /// The axes that can be chosen, in words: World, Parent, Local, Plane, View, and those of the part that is picked (as
  /// "Of …"); and which of them is in force.
  QStringList axes_words() const;
  int axes_index() const;
  /// What a line of axes_words() means; nullopt when it cannot be had now (said).
  std::optional<Axes> axes_for(int index);
  /// The view's frame as it is now; set by the stage.
  std::function<Mat3()> view_frame;
  /// Uses the view's axes from now on.
  void ask_view_axes();

  /// Takes a plane (kNoPart: World) as the floor of everything: a step, or in place of the last one where that did
  /// nothing else.
  void use_plane(PartId plane);
  /// World, or from World back to the plane that was in use before.
  void switch_plane();
  /// The planes used last, the latest first; those that are gone are left out.
  std::vector<PartId> planes_lately() const;

  /// What rotations are about until it is changed, and which multiples drags land on.
  const About& about() const { return about_; }
  void set_about(const About& about);
  const Increments& increments() const { return increments_; }
  void set_increments(const Increments& increments);
  /// Whether meetings are remembered as ties unless they say otherwise.
  bool remembers() const { return remembers_; }
  void set_remembers(bool on);

  const std::filesystem::path& path() const { return path_; }
  QString title() const;
  bool changed() const { return journal_.position() != saved_position_ || never_saved_; }

  /// Replaces everything by an opened document. `path` is where saving goes; empty for imported files and new
  /// documents.
  void start(Document document, const std::filesystem::path& path);
  /// After the document has been written there (`position` is the journal's when writing began).
  void set_saved(const std::filesystem::path& path, std::size_t position);
  /// Marks work that exists nowhere but here (taken back after a crash).
  void set_never_saved();
  void set_view(const Json& view) { settings_.view = view; }

  void say(const QString& text, Tone tone = Tone::Note) { emit said(text, tone); }
  void say(const Problem& problem) { emit said(QString::fromStdString(sentence(problem)), Tone::Wrong); }

 signals:
  void scene_changed();
  void picked_changed();
  void document_changed();  ///< path, title, saved or not
  void look_changed();      ///< the unit, or the theme: the same scene is shown otherwise
  void axes_changed();
  void settings_changed();  ///< about, increments
  void stepped();           ///< a new step was done
  void started();           ///< another document
  void record_moved();      ///< undo or redo: finished sentences end
  void said(const QString& text, tack::Tone tone);

 private:
  void after_change();
  void after_record_edit();

  Journal journal_;
  DocumentSettings settings_;
  std::vector<PartId> picked_;
  Axes axes_;
  std::vector<PartId> planes_lately_;
  About about_;
  Preferences preferences_ = load_preferences();
  Increments increments_ = preferences_.increments;
  bool remembers_ = preferences_.remembers;
  std::filesystem::path path_;
  QString name_;
  std::size_t saved_position_ = 0;
  bool never_saved_ = false;
};

}  // namespace tack
