#include "draw/offscreen.h"

#include <epoxy/egl.h>
#include <epoxy/gl.h>
#include <fmt/format.h>
#include <png.h>

#include <cstring>

namespace tack {

Offscreen::Offscreen() {
  const char* extensions = eglQueryString(EGL_NO_DISPLAY, EGL_EXTENSIONS);
  if (!extensions || !std::strstr(extensions, "EGL_MESA_platform_surfaceless")) {
    error_ = "This machine has no OpenGL without a window.";
    return;
  }
  display_ = eglGetPlatformDisplayEXT(EGL_PLATFORM_SURFACELESS_MESA, EGL_DEFAULT_DISPLAY, nullptr);
  EGLint major = 0, minor = 0;
  if (!display_ || !eglInitialize(display_, &major, &minor) || !eglBindAPI(EGL_OPENGL_API)) {
    error_ = "OpenGL cannot be started.";
    return;
  }
  const std::array<EGLint, 9> wish{EGL_CONTEXT_MAJOR_VERSION,
                                   3,
                                   EGL_CONTEXT_MINOR_VERSION,
                                   3,
                                   EGL_CONTEXT_OPENGL_PROFILE_MASK,
                                   EGL_CONTEXT_OPENGL_CORE_PROFILE_BIT,
                                   EGL_NONE,
                                   0,
                                   0};
  context_ = eglCreateContext(display_, EGL_NO_CONFIG_KHR, EGL_NO_CONTEXT, wish.data());
  if (!context_ || !eglMakeCurrent(display_, EGL_NO_SURFACE, EGL_NO_SURFACE, context_))
    error_ = "This machine has no OpenGL 3.3, or its driver does not offer it.";
}

Offscreen::~Offscreen() {
  if (!display_) return;
  eglMakeCurrent(display_, EGL_NO_SURFACE, EGL_NO_SURFACE, EGL_NO_CONTEXT);
  if (context_) eglDestroyContext(display_, context_);
  eglTerminate(display_);
}

Result<void> write_png(const std::string& path, int width, int height, const std::vector<unsigned char>& pixels) {
  png_image image{};
  image.version = PNG_IMAGE_VERSION;
  image.width = static_cast<png_uint_32>(width);
  image.height = static_cast<png_uint_32>(height);
  image.format = PNG_FORMAT_RGBA;
  if (!png_image_write_to_file(&image, path.c_str(), 0, pixels.data(), 0, nullptr))
    return fail(fmt::format("The picture cannot be written: {}.", image.message), path);
  return {};
}

}  // namespace tack
