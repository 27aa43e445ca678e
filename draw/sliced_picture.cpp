#include "draw/sliced_picture.h"

#include <chrono>

#include "draw/card.h"

namespace tack {

SlicedPicture::SlicedPicture(Renderer& renderer) : renderer_(renderer), picture_(std::make_unique<CardPicture>()) {
  renderer_.card_->pictures.push_back(picture_.get());
}

SlicedPicture::~SlicedPicture() {
  Card& c = *renderer_.card_;
  std::erase(c.pictures, picture_.get());
  c.old_pictures.push_back(std::move(*picture_));
}

void SlicedPicture::begin(std::span<const DrawFrame> frames, int width, int height) {
  drop();
  Card& c = *renderer_.card_;
  CardPicture& p = *picture_;
  c.free_old();
  if (width <= 0 || height <= 0 || frames.empty()) return;
  Card::resize(p.target, width, height, frames.front().samples);
  p.canvas.framebuffer = p.target.framebuffer;
  p.canvas.drawn = {};
  for (const DrawFrame& frame : frames)
    if (frame.view.width >= 1 && frame.view.height >= 1) p.frames.push_back(c.look(frame, p.canvas.drawn));
  p.begun = true;
}

bool SlicedPicture::go_on(double milliseconds) {
  Card& c = *renderer_.card_;
  CardPicture& p = *picture_;
  if (!p.begun || p.done) return true;
  using Clock = std::chrono::steady_clock;
  const auto end = Clock::now() + std::chrono::duration<double, std::milli>(milliseconds);
  const auto left = [&] { return std::chrono::duration<double, std::milli>(end - Clock::now()).count(); };
  // Nothing is asked of the card before it is done with what that depends on: the answer would be waited for, however
  // long that takes.
  while (p.at_frame < p.frames.size()) {
    CardFrame& frame = p.frames[p.at_frame];
    if (p.at_job == frame.jobs.size()) {
      if (!frame.looks)
        ++p.at_frame;
      else if (c.pace.all_drawn(left()))
        c.draw_what_is_seen(frame, p.canvas);
      else
        break;
      p.at_job = 0;
      continue;
    }
    const CardJob& job = frame.jobs[p.at_job];
    if (!(Card::waits_for_answers(frame, job) ? c.pace.all_drawn(left()) : c.pace.has_room(left()))) break;
    c.run(frame, job, p.canvas);
    ++p.at_job;
    c.pace.add(job.work());
    if (Clock::now() >= end) {
      c.pace.hand_over();
      break;
    }
  }
  Card::leave();
  if (p.at_frame < p.frames.size() || !c.pace.all_drawn(left())) return false;
  for (CardFrame& frame : p.frames) Card::free(frame);
  p.frames.clear();
  p.at_frame = p.at_job = 0;
  p.done = true;
  return true;
}

void SlicedPicture::drop() { renderer_.card_->drop(*picture_); }

bool SlicedPicture::begun() const { return picture_->begun; }

bool SlicedPicture::done() const { return picture_->done; }

void SlicedPicture::show(unsigned framebuffer) const {
  const CardTarget& t = picture_->target;
  if (picture_->done) Card::show(t, 0, 0, t.width, t.height, framebuffer);
}

void SlicedPicture::show_kept(const DrawFrame& frame, unsigned framebuffer) const {
  const int right = frame.left + static_cast<int>(frame.view.width),
            top = frame.bottom + static_cast<int>(frame.view.height);
  if (picture_->target.framebuffer) Card::show(picture_->target, frame.left, frame.bottom, right, top, framebuffer);
}

std::vector<unsigned char> SlicedPicture::to_memory() const {
  if (!picture_->done) return {};
  const CardTarget& t = picture_->target;
  CardTarget& one = renderer_.card_->one;
  const GLuint before = Card::bound_framebuffer();
  Card::resize(one, t.width, t.height, 0);
  show(one.framebuffer);
  auto pixels = Card::pixels_of(one.framebuffer, t.width, t.height);
  glBindFramebuffer(GL_FRAMEBUFFER, before);
  return pixels;
}

const Renderer::Drawn& SlicedPicture::drawn() const { return picture_->canvas.drawn; }

}  // namespace tack
