// Drawing without a window or a display.
#pragma once

#include <string>

#include "draw/renderer.h"

namespace tack {

/// An OpenGL 3.3 context of its own (EGL, surfaceless), made current; release on destruction.
class Offscreen {
 public:
  Offscreen();
  ~Offscreen();
  Offscreen(const Offscreen&) = delete;
  Offscreen& operator=(const Offscreen&) = delete;

  /// What is wrong, or an empty text when there is a context.
  const std::string& error() const { return error_; }

 private:
  void* display_ = nullptr;
  void* context_ = nullptr;
  std::string error_;
};

/// Writes RGBA pixels (rows from the top) as a PNG.
Result<void> write_png(const std::string& path, int width, int height, const std::vector<unsigned char>& pixels);

}  // namespace tack
