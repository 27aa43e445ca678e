#include "app/keys.h"

#include <QAction>
#include <QSettings>

#include "app/verbs/verb_faces.h"

namespace tack {
namespace {

const QString kFolder = QStringLiteral("keys/");

}  // namespace

Keys::Keys(QObject* parent) : QObject(parent) {
  QSettings settings;
  settings.beginGroup("keys");
  for (const QString& id : settings.allKeys())
    chosen_[id] = QKeySequence(settings.value(id).toString(), QKeySequence::PortableText);
  for (const VerbFace& verb : verb_faces())
    // "Pick parts …" and "Scale: give parts a size …".
    add({"verb " + verb.name,
         "Verbs",
         verb.about.startsWith(verb.name) ? verb.about
                                          : verb.name + ": " + verb.about.left(1).toLower() + verb.about.mid(1),
         QKeySequence(verb.key),
         true,
         {}});
  add({"hold", "Verbs", "Hold a verb's key: use it for the moment, then go back", {}, true, "its key, held"});

  const std::pair<const char*, Qt::Key> values[] = {{"X", Qt::Key_X}, {"Y", Qt::Key_Y}, {"Z", Qt::Key_Z}};
  for (const auto& [letter, key] : values)
    add({QString("axis ") + letter,
         "Values and blanks",
         QString("The value along %1; in a drag and in Meet: only along it, or along it too").arg(letter),
         QKeySequence(key),
         true,
         {}});
  add({"still",
       "Values and blanks",
       "The place that stays still: click it, type it, or drag from it",
       QKeySequence(Qt::Key_K),
       true,
       {}});
  add({"evenly",
       "Values and blanks",
       "Held in a drag of Scale: all three sizes alike; in a drag along a plane: lifts off it",
       QKeySequence(Qt::Key_E),
       true,
       {}});
  add({"type",
       "Values and blanks",
       "A value into the verb's leading blank; with = also a place that is waited for",
       {},
       true,
       "0–9  -  .  ="});
  add({"tab",
       "Values and blanks",
       "The next blank, the one before; a list opens with Enter",
       {},
       true,
       "Tab, Shift+Tab"});
  add({"enter", "Values and blanks", "Take what was typed, and do it", {}, true, "Enter"});
  add({"esc", "Values and blanks", "Step back: out of the entry, the drag, the blank, the verb", {}, true, "Esc"});

  add({"next place",
       "Catching",
       "The next place under the pointer, also behind; with Shift the one before",
       QKeySequence(Qt::Key_B),
       true,
       {}});
  add({"kinds",
       "Catching",
       "Held, then a digit, G, K or U: catch on one kind alone; 0: on all",
       QKeySequence(Qt::Key_C),
       true,
       {}});
  add({"no catching", "Catching", "Held: catch nothing", QKeySequence(Qt::Key_Q), true, {}});
  add({"increments", "Catching", "In a drag: land on increments, or not", {}, true, "Shift"});
  add({"copy", "Catching", "When letting go: leave a copy", {}, true, "Ctrl"});

  add({"frame", "Looking", "Frame what is picked; with Shift everything", QKeySequence(Qt::Key_F), true, {}});
  add({"isolate", "Looking", "Show only what is picked, and all again", QKeySequence(Qt::Key_I), true, {}});
  add({"world",
       "Looking",
       "World as the plane in use; from World back to the plane used before",
       QKeySequence(Qt::Key_W),
       true,
       {}});
  add({"aids",
       "Looking",
       "Hide the grid, marks, guides and labels, and show them again",
       QKeySequence(Qt::Key_H),
       true,
       {}});
  add({"pick of", "Looking", "Pick parts, vertices, edges or faces, in turn", {}, true, "Shift+P"});
  add({"compare",
       "Looking",
       "Held: the scene as it was before the step in the sentence",
       QKeySequence(Qt::Key_J),
       true,
       {}});
  add({"arrows", "Looking", "Turn the view by 15°", {}, true, "arrows"});
  add({"orbit", "Looking", "Turn the view", {}, true, "right drag"});
  add({"pan", "Looking", "Shift the view", {}, true, "middle drag"});
  add({"zoom", "Looking", "Come nearer, go further away", {}, true, "wheel"});
  add({"short list",
       "Looking",
       "The short list at the pointer: everything there is to do",
       QKeySequence(Qt::Key_Slash),
       true,
       {}});
  add({"short list by mouse", "Looking", "The same", {}, true, "right click"});
}

void Keys::add(QAction* action, const QString& group, const QKeySequence& standard) {
  const QString words = action->text().remove('&').section('\t', 0, 0);
  const KeyEntry entry{group + "/" + words, group, words, standard, false, {}};
  entries_.push_back(entry);
  // Some have a second key as well (Backspace for Delete): that one stays.
  const auto show = [this, action, entry] { action->setShortcut(of(entry)); };
  show();
  connect(this, &Keys::changed, action, show);
}

QKeySequence Keys::of(const KeyEntry& entry) const {
  if (!entry.fixed.isEmpty()) return {};
  const auto chosen = chosen_.find(entry.id);
  return chosen == chosen_.end() ? entry.standard : chosen->second;
}

QKeySequence Keys::of(const QString& id) const {
  for (const KeyEntry& entry : entries_)
    if (entry.id == id) return of(entry);
  return {};
}

int Keys::meant(int key) const {
  const QKeySequence pressed(key);
  bool standard_of_one = false;
  for (const KeyEntry& entry : entries_) {
    if (!entry.on_stage || !entry.fixed.isEmpty()) continue;
    if (of(entry) == pressed) return entry.standard[0].key();
    standard_of_one |= entry.standard == pressed;
  }
  return standard_of_one ? 0 : key;
}

QString Keys::refused(const KeyEntry& entry, const QKeySequence& key) const {
  if (key.isEmpty()) return {};
  const int code = key[0].key();
  const bool plain = !(key[0].keyboardModifiers() & ~Qt::ShiftModifier);
  const bool types = (code >= Qt::Key_0 && code <= Qt::Key_9) || code == Qt::Key_Minus || code == Qt::Key_Period ||
                     code == Qt::Key_Equal;
  if (plain && types) return QStringLiteral("Digits, - . and = begin a typed value.");
  const int own[] = {Qt::Key_Tab,  Qt::Key_Backtab, Qt::Key_Return, Qt::Key_Enter, Qt::Key_Escape,
                     Qt::Key_Left, Qt::Key_Right,   Qt::Key_Up,     Qt::Key_Down,  Qt::Key_Space};
  if (plain && std::find(std::begin(own), std::end(own), code) != std::end(own))
    return QStringLiteral("Tab, Enter, Esc, Space and the arrows keep what they do.");
  if (entry.on_stage && key[0].keyboardModifiers() != Qt::NoModifier)
    return QStringLiteral("On the stage it is a single key, without Ctrl, Alt or Shift.");
  return {};
}

const KeyEntry* Keys::clash(const KeyEntry& entry, const QKeySequence& key) const {
  if (key.isEmpty()) return nullptr;
  for (const KeyEntry& other : entries_)
    if (other.id != entry.id && other.fixed.isEmpty() && of(other) == key) return &other;
  return nullptr;
}

void Keys::set(const KeyEntry& entry, const QKeySequence& key) {
  chosen_[entry.id] = key;
  if (key == entry.standard)
    QSettings().remove(kFolder + entry.id);
  else
    QSettings().setValue(kFolder + entry.id, key.toString(QKeySequence::PortableText));
  emit changed();
}

void Keys::reset(const KeyEntry& entry) { set(entry, entry.standard); }

void Keys::reset_all() {
  QSettings().remove("keys");
  chosen_.clear();
  emit changed();
}

QString key_words(const Keys& keys, const KeyEntry& entry) {
  return entry.fixed.isEmpty() ? keys.of(entry).toString(QKeySequence::NativeText) : entry.fixed;
}

}  // namespace tack
