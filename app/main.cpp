// tackpoint [FILE…]: the window.
#include <xcb/xcb.h>

#include <QApplication>
#include <QCommandLineParser>
#include <QOffscreenSurface>
#include <QOpenGLContext>
#include <csignal>
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <string>

#include "app/accessible.h"
#include "app/application.h"
#include "app/graphics.h"
#include "app/main_window.h"
#include "app/memory.h"
#include "app/theme.h"

namespace {

int complain(const char* sentence) {
  std::fprintf(stderr, "%s\n", sentence);
  return 1;
}

std::string environment(const char* name) {
  const char* value = std::getenv(name);
  return value ? value : "";
}

bool has_wayland() {
  const std::string name = environment("WAYLAND_DISPLAY");
  if (name.empty()) return false;
  std::error_code error;
  return std::filesystem::exists(std::filesystem::path(environment("XDG_RUNTIME_DIR")) / name, error);
}

// Qt ends the process when it finds no display; asking first lets us say so.
bool has_display() {
  const std::string wanted = environment("QT_QPA_PLATFORM");
  if (!wanted.empty() && wanted != "xcb" && !wanted.starts_with("wayland")) return true;
  if (wanted != "xcb" && has_wayland()) return true;
  if (environment("DISPLAY").empty()) return false;
  xcb_connection_t* connection = xcb_connect(nullptr, nullptr);
  const bool ok = xcb_connection_has_error(connection) == 0;
  xcb_disconnect(connection);
  return ok;
}

bool has_opengl() {
  QOpenGLContext context;
  if (!context.create() || context.format().version() < std::pair(3, 3)) return false;
  QOffscreenSurface surface;
  surface.setFormat(context.format());
  surface.create();
  const bool ok = context.makeCurrent(&surface);
  context.doneCurrent();
  return ok;
}

}  // namespace

int main(int argc, char** argv) {
  // Over the limit on file sizes writing fails with a sentence; it does not end the program.
  std::signal(SIGXFSZ, SIG_IGN);
  if (!has_display())
    return complain("Tack Point needs a display, and there is none. Without one, tackpoint-cli does the same work.");
  tack::share_memory_pools();
  tack::prepare_graphics();
  tack::Application app(argc, argv);
  QApplication::setOrganizationName("tackpoint");
  QApplication::setApplicationName("tackpoint");
  QApplication::setApplicationDisplayName("Tack Point");
  QApplication::setApplicationVersion(TACK_VERSION);
  QApplication::setStyle("Fusion");

  QCommandLineParser parser;
  parser.setApplicationDescription("Brings the parts of a scene together exactly, and proves that they meet.");
  parser.addHelpOption();
  parser.addVersionOption();
  parser.addPositionalArgument("FILE", "scenes to open: .glb, .gltf, .obj, .stl, .ply", "[FILE…]");
  parser.process(app);

  if (!has_opengl())
    return complain(
        "Tack Point needs OpenGL 3.3, and this display has none. Install a driver (on Debian: libgl1-mesa-dri) and "
        "start it again.");
  tack::load_fonts();
  tack::install_roles();
  tack::MainWindow window;
  // The program ends with its window, whatever else Qt still counts as open.
  QObject::connect(&window, &tack::MainWindow::closed, &app, &QApplication::quit, Qt::QueuedConnection);
  app.without_memory = [&window] { window.say_without_memory(); };
  window.show();
  window.open_files(parser.positionalArguments());
  return tack::Application::exec();
}
