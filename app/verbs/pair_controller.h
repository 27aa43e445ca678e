// Verbs that take a From and a To: Meet, Move, Measure. What they share: waiting for two places, ghosts, marks.
#pragma once

#include "app/verbs/controller.h"
#include "core/fit/measure.h"

namespace tack {

class PairController : public Controller {
  Q_OBJECT

 public:
  explicit PairController(Store& store);

  std::optional<Blank> waiting() const override;
  Marks marks() const override;
  bool catches() const override { return waiting().has_value() || dragging_; }
  bool leaves_out(PartId id) const override;
  void hover(const std::optional<Caught>& caught) override;
  bool press(const std::optional<Caught>& caught, Qt::KeyboardModifiers modifiers) override;
  void release(const std::optional<Caught>& caught) override;
  void wait_for(Blank blank) override;
  bool step_back() override;
  void end_sentence() override;

 protected:
  /// Whether From waits without being asked for, as the first thing the verb needs.
  virtual bool waits_by_itself() const { return true; }
  /// The parts that would move; they are not caught as To.
  virtual std::vector<PartId> moving() const { return {}; }
  /// The scene as it would be with To there; nullopt when nothing would change.
  virtual std::optional<Scene> with(const TackAddress&) const { return std::nullopt; }
  /// Both places are there: do it. True when it was done.
  virtual bool finish() = 0;
  /// A finished step's places, to look at after it.
  void set_finished(bool finished, bool by_mouse);

  std::optional<TackAddress> from_, to_;
  std::optional<Caught> hovered_;
  std::optional<Blank> asked_;    // a place blank that was clicked
  std::optional<Scene> preview_;  // where things would end up
  bool finished_ = false, by_mouse_ = false, dragging_ = false;

 private:
  bool moves_along(PartId id) const;
  bool take(const Caught& caught);
  Marks::Meeting meeting_between(const Scene& scene, const TackAddress& from, const TackAddress& to) const;
};

}  // namespace tack
