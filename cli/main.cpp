// tackpoint-cli: the work of Tack Point without a window.
#include <CLI/CLI.hpp>
#include <csignal>
#include <cstdio>

#include "cli/commands.h"

int main(int argc, char** argv) {
  CLI::App app{"Tack Point without a window: look into files, do steps, measure, convert, take pictures."};
  app.name("tackpoint-cli");
  app.set_version_flag("--version", std::string("tackpoint-cli ") + TACK_VERSION);
  app.require_subcommand(1);
  app.footer("Exit: 0 done, 1 it could not be done, 2 the command line is wrong. Errors go to standard error.");

  std::signal(SIGXFSZ, SIG_IGN);  // over the limit on file sizes writing fails with a sentence
  tack::CommandLine line;
  int result = 0;
  const auto add = [&](const char* name, const char* about, int (*command)(const tack::CommandLine&)) {
    CLI::App* sub = app.add_subcommand(name, about);
    sub->add_option("FILE", line.file, "the scene: .glb, .gltf, .obj, .stl or .ply")->required();
    sub->callback([&line, &result, command] { result = command(line); });
    return sub;
  };
  CLI::App* verbs = app.add_subcommand("verbs", "the verbs of steps files, or the keys of one");
  verbs->add_option("VERB", line.verb, "the verb whose keys are listed");
  verbs->callback([&line, &result] { result = tack::verbs(line); });

  const auto add_json = [&](CLI::App* sub) { sub->add_flag("--json", line.json, "print one JSON object"); };

  add_json(add("info", "parts, placements, sizes, counts", tack::info));

  CLI::App* run = add("run", "do the steps of a steps file", tack::run);
  run->add_option("STEPS", line.steps, "a JSON list of steps (docs/steps.md)")->required();
  run->add_option("--out", line.out, "where the result goes; without it nothing is written");
  add_json(run);

  add("steps", "the steps that a document keeps, as a steps file", tack::list_steps);

  CLI::App* measure = add("measure", "between two tacks, or of one", tack::measure_tacks);
  measure->add_option("TACK", line.tacks, "an address, like '\"Post 4\" vertex 17'")->required()->expected(1, 2);
  add_json(measure);

  CLI::App* check =
      add("check", "check the ties. Exit code: 0 all hold, 1 some do not, 2 could not be checked", tack::check);
  check->add_option("--tolerance", line.tolerance, "what still counts as touching, like 0.05 or '1/64 in'; 0.01 mm");
  add_json(check);

  CLI::App* convert = add("convert", "write a scene in another format", tack::convert);
  convert->add_option("OUT", line.out, "ends in .glb, .obj, .stl or .ply")->required();
  convert->add_option("--unit", line.unit, "unit of the side that has none of its own (mm, cm, m, in, ft)");
  convert->add_option("--up", line.up, "axis that points up there")->check(CLI::IsMember({"y", "z"}));
  convert->add_option("--out-unit", line.out_unit, "unit of what is written, if it has none of its own; mm");
  convert->add_option("--out-up", line.out_up, "axis that points up in it; z")->check(CLI::IsMember({"y", "z"}));

  CLI::App* shot = add("shot", "a picture, without a window", tack::shot);
  shot->add_option("OUT", line.out, "a .png")->required();
  shot->add_option("--view", line.view, "top, bottom, front, back, left, right or iso")->default_val("iso");
  shot->add_option("--size", line.size, "width x height in pixels, like 1280x800")->default_val("1280x800");
  shot->add_flag("--night", line.night, "in the night theme");

  try {
    app.parse(argc, argv);
  } catch (const CLI::ParseError& error) {
    const bool asked = error.get_exit_code() == 0;  // --help, --version
    app.exit(error);
    return asked ? 0 : 2;
  } catch (const std::exception& error) {
    std::fprintf(stderr, "It could not be done: %s\n", error.what());
    return 1;
  }
  return result;
}
