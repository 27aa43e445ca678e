// The controllers of the verbs in the verb row.
#pragma once

#include "app/verbs/pair_controller.h"

namespace tack {

class PickController : public Controller {
  Q_OBJECT

 public:
  explicit PickController(Store& store);
  QString name() const override { return tr("Pick"); }
  QString about() const override { return tr("Pick parts: click, Ctrl-click, or draw a rectangle"); }
  QString icon() const override { return "pick"; }
  Qt::Key key() const override { return Qt::Key_P; }
  Sentence sentence() const override;
  QString hint() const override;
};

class MeetController : public PairController {
  Q_OBJECT

 public:
  explicit MeetController(Store& store);
  QString name() const override { return tr("Meet"); }
  QString about() const override { return tr("Bring a place of one part to a place of another"); }
  QString icon() const override { return "meet"; }
  Qt::Key key() const override { return Qt::Key_T; }
  Sentence sentence() const override;
  QString hint() const override;
  std::optional<Blank> leading() const override { return Blank::Gap; }
  QStringList choices(Blank blank) const override;
  void choose(Blank blank, int index) override;
  EntryContext context(Blank blank) const override;
  bool enter(Blank blank, const QString& text, double value) override;
  void preview(Blank blank, std::optional<double> value) override;
  std::optional<Blank> next_value(Blank blank) const override;
  void end_sentence() override;

 protected:
  std::vector<PartId> moving() const override;
  std::optional<Scene> with(const TackAddress& to) const override;
  bool finish() override;

 private:
  Meet pending() const;
  bool redo_with(const Meet& meet);

  Meet done_;  // the finished step, while its sentence can be corrected
  std::optional<Facing> facing_;
  Amount gap_, roll_;
};

class MoveController : public PairController {
  Q_OBJECT

 public:
  explicit MoveController(Store& store);
  QString name() const override { return tr("Move"); }
  QString about() const override { return tr("Move by typed lengths, or from a place to a place"); }
  QString icon() const override { return "move"; }
  Qt::Key key() const override { return Qt::Key_M; }
  Sentence sentence() const override;
  QString hint() const override;
  std::optional<Blank> leading() const override;
  QStringList choices(Blank blank) const override;
  void choose(Blank blank, int index) override;
  EntryContext context(Blank blank) const override;
  bool enter(Blank blank, const QString& text, double value) override;
  void preview(Blank blank, std::optional<double> value) override;
  std::optional<Blank> next_value(Blank blank) const override;
  void choose_axis(int axis) override;
  void begin_correction() override;
  void end_sentence() override;

 protected:
  bool waits_by_itself() const override { return false; }
  std::vector<PartId> moving() const override;
  std::optional<Scene> with(const TackAddress& to) const override;
  bool finish() override;

 private:
  Move typed_with(Blank blank, const Amount& amount) const;

  Move done_;
  bool correcting_ = false;  // a blank of the finished sentence was clicked
  std::optional<int> axis_;  // chosen by X, Y or Z
};

class MeasureController : public PairController {
  Q_OBJECT

 public:
  explicit MeasureController(Store& store);
  QString name() const override { return tr("Measure"); }
  QString about() const override { return tr("Measure between two places"); }
  QString icon() const override { return "measure"; }
  Qt::Key key() const override { return Qt::Key_U; }
  Sentence sentence() const override;
  QString hint() const override;

 protected:
  bool finish() override;
};

}  // namespace tack
