#include "draw/kept_picture.h"

#include <epoxy/gl.h>

#include <cmath>

namespace tack {

void KeptPicture::release() {
  if (framebuffer_) glDeleteFramebuffers(1, &framebuffer_);
  for (unsigned* buffer : {&colour_, &depth_})
    if (*buffer) glDeleteRenderbuffers(1, buffer);
  framebuffer_ = colour_ = depth_ = 0;
  width_ = height_ = 0;
}

void KeptPicture::draw(Renderer& renderer, DrawFrame frame) {
  const int width = static_cast<int>(frame.view.width), height = static_cast<int>(frame.view.height);
  if (width <= 0 || height <= 0) return;
  if (width != width_ || height != height_) {
    release();
    glGenFramebuffers(1, &framebuffer_);
    glGenRenderbuffers(1, &colour_);
    glGenRenderbuffers(1, &depth_);
    glBindRenderbuffer(GL_RENDERBUFFER, colour_);
    glRenderbufferStorage(GL_RENDERBUFFER, GL_RGBA8, width, height);
    glBindRenderbuffer(GL_RENDERBUFFER, depth_);
    glRenderbufferStorage(GL_RENDERBUFFER, GL_DEPTH24_STENCIL8, width, height);
    glBindFramebuffer(GL_FRAMEBUFFER, framebuffer_);
    glFramebufferRenderbuffer(GL_FRAMEBUFFER, GL_COLOR_ATTACHMENT0, GL_RENDERBUFFER, colour_);
    glFramebufferRenderbuffer(GL_FRAMEBUFFER, GL_DEPTH_STENCIL_ATTACHMENT, GL_RENDERBUFFER, depth_);
    width_ = width;
    height_ = height;
  }
  frame.left = frame.bottom = 0;
  renderer.draw(frame, framebuffer_);
  view_ = frame.view;
}

bool KeptPicture::fits(const View& view) const {
  return framebuffer_ != 0 && static_cast<int>(view.width) == width_ && static_cast<int>(view.height) == height_ &&
         !view.perspective && view.to_eye == view_.to_eye;
}

bool KeptPicture::is_of(const View& view) const {
  return fits(view) && view.eye == view_.eye && view.pixels_per_unit == view_.pixels_per_unit;
}

void KeptPicture::show(const View& view, const Colour& ground, int left, int bottom, unsigned framebuffer) const {
  if (!framebuffer_) return;
  // Where the middle of what is kept comes to stand, from the lower left corner, and how large it is there.
  const Vec3 off = view.to_eye * (view_.eye - view.eye);
  const double scale = view.pixels_per_unit / view_.pixels_per_unit;
  const double x = left + view.width / 2 + off.x * view.pixels_per_unit,
               y = bottom + view.height / 2 + off.y * view.pixels_per_unit;
  const double half_width = width_ * scale / 2, half_height = height_ * scale / 2;
  glBindFramebuffer(GL_READ_FRAMEBUFFER, framebuffer_);
  glBindFramebuffer(GL_DRAW_FRAMEBUFFER, framebuffer);
  glEnable(GL_SCISSOR_TEST);
  glScissor(left, bottom, width_, height_);
  if (!is_of(view)) {
    glClearColor(ground.r, ground.g, ground.b, 1);
    glClear(GL_COLOR_BUFFER_BIT);
  }
  const auto whole = [](double pixels) { return static_cast<GLint>(std::lround(pixels)); };
  // Far away it would be a point, and very near larger than a card can blit: then the ground alone is shown.
  constexpr double kLargest = 16000;
  if (half_width >= 1 && half_height >= 1 && half_width < kLargest && std::abs(x) < kLargest && std::abs(y) < kLargest)
    glBlitFramebuffer(0, 0, width_, height_, whole(x - half_width), whole(y - half_height), whole(x + half_width),
                      whole(y + half_height), GL_COLOR_BUFFER_BIT, GL_LINEAR);
  glDisable(GL_SCISSOR_TEST);
  glBindFramebuffer(GL_FRAMEBUFFER, framebuffer);
}

}  // namespace tack
