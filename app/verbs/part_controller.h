// Steps that have no verb of their own in the row: what the menus and panels did. Their sentence is shown over that of
// the verb in use, and can be corrected and reopened like any other; some of them wait for clicks first.
#pragma once

#include "app/verbs/act_controller.h"

namespace tack {

class PartController : public ActController {
  Q_OBJECT

 public:
  explicit PartController(Store& store) : ActController(store) {}
  QString name() const override { return tr("Part"); }
  QString about() const override { return tr("What the menus and panels did"); }
  QString icon() const override { return "pick"; }
  Qt::Key key() const override { return Qt::Key_unknown; }

  /// Waits for the places that the verb still needs: one or three for FitBox, one for Group and Keep.
  void begin(const Verb& verb, int places);

  Sentence sentence() const override;
  QString hint() const override;
  bool wants_part() const override { return asked_ == Blank::Parent || ActController::wants_part(); }
  bool shows_kept() const override { return draft_ && std::holds_alternative<Keep>(*draft_); }
  bool is_open() const override { return draft_ || ActController::is_open(); }
  QStringList choices(Blank blank) const override;
  void choose(Blank blank, int index) override;
  void wait_for(Blank blank) override;
  std::optional<EntryError> check_words(Blank blank, const QString& text) const override;
  bool enter(Blank blank, const QString& text, double value) override;
  bool step_back() override;
  void end_sentence() override;

 signals:
  /// A step was done whose name the artist will want to type.
  void name_wanted();

 protected:
  std::optional<Verb> pending() const override { return draft_; }
  bool takes(const Verb& verb) const override { return !std::holds_alternative<Bring>(verb); }
  std::vector<PartId> moving() const override;
  void take_place(Blank blank, const TackAddress& place) override;
  void take_like(PartId part) override;

 private:
  void collect(int places);
  void finish(const Verb& verb);
  void ask_colour();

  std::optional<Verb> draft_;  // waits for places
  std::vector<TackAddress> collected_;
  int wanted_ = 0;
};

}  // namespace tack
