// A picture that is kept on the card and shown again, also from a place beside or nearer, without being drawn anew.
#pragma once

#include "draw/renderer.h"

namespace tack {

/// For parallel views. Needs the current context of its renderer in every call.
class KeptPicture {
 public:
  KeptPicture() = default;
  KeptPicture(const KeptPicture&) = delete;
  KeptPicture& operator=(const KeptPicture&) = delete;

  /// Draws the frame and keeps it; `left` and `bottom` of the frame are not used.
  void draw(Renderer& renderer, DrawFrame frame);
  /// Whether what is kept can be shown in this view: it has the size, and looks in the same direction.
  bool fits(const View& view) const;
  /// Whether it is just what this view shows.
  bool is_of(const View& view) const;
  /// Shows it in `framebuffer`, `left` and `bottom` pixels from its corner, shifted and sized as the view has it; what
  /// is not in it has the colour `ground`.
  void show(const View& view, const Colour& ground, int left, int bottom, unsigned framebuffer) const;
  /// Frees what is on the card: before it is destroyed, unless the context is gone.
  void release();

 private:
  unsigned framebuffer_ = 0, colour_ = 0, depth_ = 0;
  int width_ = 0, height_ = 0;
  View view_;
};

}  // namespace tack
