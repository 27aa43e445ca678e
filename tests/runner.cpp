#define CATCH_CONFIG_RUNNER
#include "tests/runner.h"

#include <catch2/catch.hpp>

namespace tack::test {

int run_catch(int argc, char** argv) { return Catch::Session().run(argc, argv); }

}  // namespace tack::test
