// How much is handed over to the card at a time, and when it has drawn it.
#pragma once

#include <epoxy/gl.h>

#include <array>
#include <cstddef>

namespace tack {

// The driver of a card that is none holds some 400 bytes for each triangle until it is drawn, and would take on a whole
// frame before drawing any of it. So work is handed over in batches, of which two are under way: one is drawn while the
// next is taken on.
class CardPace {
 public:
  // Called after jobs of so much work, in triangles; true where that made a batch, which has been handed over.
  bool add(std::size_t work);
  // Hands over what there is.
  void hand_over();
  // Waits for at most so many milliseconds until there is room for a batch, or until everything is drawn; false where
  // that was not enough.
  bool has_room(double milliseconds);
  bool all_drawn(double milliseconds);
  void release();

 private:
  static bool is_drawn(GLsync& batch, double milliseconds);

  std::array<GLsync, 2> batches_{};  // the last is the later one
  std::size_t since_ = 0;            // the work since the last batch
};

}  // namespace tack
