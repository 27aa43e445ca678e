#define CATCH_CONFIG_RUNNER
#include <QApplication>
#include <QSurfaceFormat>
#include <catch2/catch.hpp>

#include "app/theme.h"

int main(int argc, char** argv) {
  QSurfaceFormat format;
  format.setVersion(3, 3);
  format.setProfile(QSurfaceFormat::CoreProfile);
  format.setDepthBufferSize(24);
  format.setStencilBufferSize(8);
  QSurfaceFormat::setDefaultFormat(format);
  QApplication::setAttribute(Qt::AA_ShareOpenGLContexts);
  // The helper stands beside the program, not beside the tests.
  qputenv("TACKPOINT_HELPER", TACK_BIN_DIR "/tackpoint-import-helper");
  QApplication app(argc, argv);
  QApplication::setOrganizationName("tackpoint-tests");
  QApplication::setApplicationName("tackpoint-tests");
  QApplication::setStyle("Fusion");
  tack::load_fonts();
  return Catch::Session().run(argc, argv);
}
