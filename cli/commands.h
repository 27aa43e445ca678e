// The commands of tackpoint-cli. Each returns the exit code: 0 done, 1 it could not be done, 2 the command line is
// wrong.
#pragma once

#include <optional>
#include <string>
#include <vector>

namespace tack {

/// What was said on the command line.
struct CommandLine {
  std::string file, steps, unit, up, out_unit, out_up, view, size, tolerance, verb;
  std::optional<std::string> out;
  std::vector<std::string> tacks;
  bool json = false, night = false;
};

/// Prints the names of the verbs, or the key table of one; 2 when there is no such verb.
int verbs(const CommandLine& line);
int info(const CommandLine& line);
int run(const CommandLine& line);
/// Prints the steps that a document keeps, as a steps file.
int list_steps(const CommandLine& line);
int measure_tacks(const CommandLine& line);
int convert(const CommandLine& line);
int shot(const CommandLine& line);
/// 0: every tie that is watched holds; 1: some do not; 2: it cannot be told (the file cannot be read, or a tie is
/// lost).
int check(const CommandLine& line);

}  // namespace tack
