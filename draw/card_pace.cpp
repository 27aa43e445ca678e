#include "draw/card_pace.h"

#include <algorithm>

namespace tack {
namespace {

constexpr std::size_t kTrianglesOfBatch = 10'000;

}  // namespace

bool CardPace::add(std::size_t work) {
  since_ += work;
  if (since_ < kTrianglesOfBatch) return false;
  hand_over();
  return true;
}

void CardPace::hand_over() {
  since_ = 0;
  auto& [earlier, later] = batches_;
  // Batches are drawn in their order: who waits for a later one waits for this one, too.
  if (earlier) glDeleteSync(earlier);
  earlier = later;
  later = glFenceSync(GL_SYNC_GPU_COMMANDS_COMPLETE, 0);
  glFlush();
}

bool CardPace::is_drawn(GLsync& batch, double milliseconds) {
  if (!batch) return true;
  const auto nanoseconds = static_cast<GLuint64>(std::max(0.0, milliseconds) * 1e6);
  if (glClientWaitSync(batch, GL_SYNC_FLUSH_COMMANDS_BIT, nanoseconds) == GL_TIMEOUT_EXPIRED) return false;
  glDeleteSync(batch);
  batch = nullptr;
  return true;
}

bool CardPace::has_room(double milliseconds) { return is_drawn(batches_[0], milliseconds); }

bool CardPace::all_drawn(double milliseconds) {
  if (since_ > 0) hand_over();
  return is_drawn(batches_[1], milliseconds) && is_drawn(batches_[0], milliseconds);
}

void CardPace::release() {
  for (GLsync& batch : batches_) {
    if (batch) glDeleteSync(batch);
    batch = nullptr;
  }
  since_ = 0;
}

}  // namespace tack
