// Which key does what: the standard keys and those the artist has chosen instead, kept in the settings.
#pragma once

#include <QKeySequence>
#include <QObject>
#include <map>
#include <vector>

class QAction;

namespace tack {

/// One thing that a key does.
struct KeyEntry {
  QString id;     ///< in the settings: "verb Move", "File/Save"
  QString group;  ///< the heading it stands under
  QString words;  ///< what it does
  QKeySequence standard;
  bool on_stage = false;  ///< a single key, while the stage or the Parts tree has the keyboard
  QString fixed;          ///< not changed, and said like this: "right drag", "Tab"
};

class Keys : public QObject {
  Q_OBJECT

 public:
  /// Verbs' keys and those of the stage; the actions of the menus are added as they are made.
  explicit Keys(QObject* parent = nullptr);

  void add(const KeyEntry& entry) { entries_.push_back(entry); }
  /// An action of a menu: it has its key from here, now and whenever that is changed.
  void add(QAction* action, const QString& group, const QKeySequence& standard);
  const std::vector<KeyEntry>& entries() const { return entries_; }

  /// The key it has now; empty: none.
  QKeySequence of(const KeyEntry& entry) const;
  QKeySequence of(const QString& id) const;
  /// Of a pressed key of the stage: the standard key of what it means now. 0 where its standard meaning was given
  /// another key; keys that nothing here is about mean themselves.
  int meant(int key) const;

  /// Why an entry cannot have this key at all; empty: it can. Digits and signs begin a typed value, for instance.
  QString refused(const KeyEntry& entry, const QKeySequence& key) const;
  /// Another entry that has this key already; null: none.
  const KeyEntry* clash(const KeyEntry& entry, const QKeySequence& key) const;
  /// Gives an entry a key (empty: none), for good.
  void set(const KeyEntry& entry, const QKeySequence& key);
  void reset(const KeyEntry& entry);
  void reset_all();

 signals:
  void changed();

 private:
  std::vector<KeyEntry> entries_;
  std::map<QString, QKeySequence> chosen_;  // by id
};

/// A key in the words of the keyboard, or what stands for it.
QString key_words(const Keys& keys, const KeyEntry& entry);

}  // namespace tack
