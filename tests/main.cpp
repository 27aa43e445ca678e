#include "tests/runner.h"

int main(int argc, char** argv) { return tack::test::run_catch(argc, argv); }
