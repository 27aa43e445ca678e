// Catch, compiled once for all programs of tests.
#pragma once

namespace tack::test {

/// Runs the tests that the arguments select. Returns 0 when none failed, else how many assertions did, at most 255.
int run_catch(int argc, char** argv);

}  // namespace tack::test
