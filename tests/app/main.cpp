#include "app/application.h"
#include "app/graphics.h"
#include "app/memory.h"
#include "app/theme.h"
#include "tests/runner.h"

int main(int argc, char** argv) {
  tack::share_memory_pools();
  tack::prepare_graphics();
  // The helper stands beside the program, not beside the tests.
  qputenv("TACKPOINT_HELPER", TACK_BIN_DIR "/tackpoint-import-helper");
  tack::Application app(argc, argv);
  QApplication::setOrganizationName("tackpoint-tests");
  QApplication::setApplicationName("tackpoint-tests");
  QApplication::setStyle("Fusion");
  tack::load_fonts();
  return tack::test::run_catch(argc, argv);
}
