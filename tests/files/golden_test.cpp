// Every step of many examples (golden/examples.md) and of the demo, read and written again: the bytes stay as they are.
// TACK_WRITE_GOLDEN=1 writes the golden file anew.
#include <catch2/catch.hpp>

#include <filesystem>
#include <fstream>

#include "core/files/glb.h"
#include "core/files/steps.h"
#include "demo/heron_hall.h"
#include "tests/support.h"

using namespace tack;
using namespace tack::test;

namespace {

std::string text_of(const std::string& relative) {
  const auto bytes = read_file(source(relative));
  REQUIRE(bytes);
  return {bytes->begin(), bytes->end()};
}

// What doing the list leaves in the record, written as a steps file: a line for each step.
std::string written(const Json& list, const std::string& folder) {
  Journal journal(demo::heron_hall_parts());
  for (const StepOutcome& o : run_steps(journal, list, folder)) {
    INFO(o.verb << ": " << (o.problem ? sentence(*o.problem) : o.words));
    REQUIRE_FALSE(o.problem);
  }
  std::string lines;
  for (Json step : steps_to_json(journal.record())) {
    // Files are named with the folder they were read from, which is another one each time.
    if (step["verb"] == "bring") step["file"] = std::filesystem::path(step["file"].get<std::string>()).filename();
    lines += step.dump() + "\n";
  }
  return lines;
}

}  // namespace

TEST_CASE("every step of the documentation and of the demo is written as it always was") {
  const Folder folder;
  for (const char* file : {"sign-plate.obj", "hook-rail.stl"})
    if (std::filesystem::exists(source(std::string("demo/") + file)))
      std::filesystem::copy_file(source(std::string("demo/") + file), folder / file);
  std::string lines;
  const std::string page = text_of("tests/files/golden/examples.md");
  for (std::size_t at = page.find("```json"); at != std::string::npos; at = page.find("```json", at)) {
    const std::size_t begin = page.find('\n', at), end = page.find("```", begin);
    lines += written(Json::parse(page.substr(begin, end - begin)), folder.path());
    at = end + 3;
  }
  lines += written(Json::parse(text_of("demo/finish.json")), source("demo"));
  const std::string golden = source("tests/files/golden/steps.jsonl");
  if (std::getenv("TACK_WRITE_GOLDEN")) {
    std::ofstream(golden) << lines;
    return;
  }
  CHECK(lines == text_of("tests/files/golden/steps.jsonl"));
}
