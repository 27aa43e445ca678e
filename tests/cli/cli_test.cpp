// The command line as a pipeline uses it: arguments in, text and exit codes out.
#include <catch2/catch.hpp>

#include <cstdio>
#include <fstream>
#include <nlohmann/json.hpp>

#include "core/files/bytes.h"
#include "core/math/matrix.h"
#include "tests/support.h"

using namespace tack;
using namespace tack::test;
using nlohmann::json;

namespace {

struct Ran {
  int code = -1;
  std::string out, err;
};

Ran run(const Folder& folder, const std::string& arguments) {
  const std::string command =
      TACK_BIN_DIR "/tackpoint-cli " + arguments + " > " + (folder / "out") + " 2> " + (folder / "err");
  const int status = std::system(command.c_str());
  const auto text = [&](const char* name) {
    const auto bytes = read_file(folder / name);
    return bytes ? std::string(bytes->begin(), bytes->end()) : std::string();
  };
  return {WEXITSTATUS(status), text("out"), text("err")};
}

std::string parts() { return source("demo/heron-hall-parts.glb"); }

void write_text(const std::string& path, const std::string& text) { std::ofstream(path) << text; }

const json& part(const json& info, const std::string& name) {
  for (const json& p : info["parts"])
    if (p["name"] == name) return p;
  FAIL("no part " << name);
  return info;
}

}  // namespace

TEST_CASE("info lists the planes with their frames, and the one in use") {
  const Folder folder;
  std::ofstream(folder / "steps.json")
      << R"([{"verb": "plane", "name": "Shelf", "position": [0, 0, 100], "rotation": [0, 90, 0], "use": true}])";
  REQUIRE(run(folder, "run " + parts() + " " + (folder / "steps.json") + " --out " + (folder / "out.glb")).code == 0);
  const json info = json::parse(run(folder, "info " + (folder / "out.glb") + " --json").out);
  REQUIRE(info["planes"].size() == 1);
  CHECK(info["plane"] == "Shelf");
  const json& shelf = info["planes"][0];
  CHECK(shelf["origin"] == json{0.0, 0.0, 100.0});
  CHECK(shelf["normal"] == json{1.0, 0.0, 0.0});
  CHECK(shelf["x"] == json{0.0, 0.0, -1.0});
  CHECK(shelf["follows"] == false);
  CHECK(json::parse(run(folder, "info " + parts() + " --json").out)["plane"] == "World");
}

TEST_CASE("info gives every part with its numbers") {
  const Folder folder;
  const Ran r = run(folder, "info " + parts() + " --json");
  REQUIRE(r.code == 0);
  const json info = json::parse(r.out);
  CHECK(info["count"] == info["parts"].size());
  const json& scoop = part(info, "Scoop");
  for (const char* key :
       {"name", "path", "parent", "position", "rotation", "scale", "skew", "world", "size", "vertices", "triangles"})
    CHECK(scoop.contains(key));
  CHECK(scoop["path"] == "Lift/Carriage/Scoop");
  CHECK(scoop["parent"] == "Lift/Carriage");
  CHECK(scoop["rotation"] == json{0.0, 0.0, 30.0});
  REQUIRE(scoop["world"].size() == 16);
  // Row-major: the last column is where the scoop's own origin is; by hand −520, 190, 40 + 150 + 16.
  CHECK(scoop["world"][3] == -520.0);
  CHECK(scoop["world"][7] == 190.0);
  CHECK(scoop["world"][11] == 206.0);
  CHECK(scoop["world"][15] == 1.0);
  CHECK(part(info, "Base board")["size"] == json{1200.0, 600.0, 18.0});
  CHECK(part(info, "Base board")["parent"].is_null());
  CHECK(run(folder, "info " + parts()).out.find("Base board") != std::string::npos);
}

TEST_CASE("run does the steps and measure proves them") {
  const Folder folder;
  write_text(folder / "steps.json", R"([
    {"verb": "meet", "what": ["Channel 3"], "pairs": [{"from": "\"Channel 3\" vertex 1", "to": "\"Post 4\" vertex 7"}], "facing": "as-is", "gap": 0},
    {"verb": "place", "what": ["Scoop"], "axes": "world", "position": [120, null, 18], "rotation": [0, 0, 90]},
    {"verb": "move", "what": ["Hub"], "axes": "local", "by": [0, 0, "3/8 in"]}])");
  const Ran r =
      run(folder, "run " + parts() + " " + (folder / "steps.json") + " --out " + (folder / "o.glb") + " --json");
  INFO(r.err);
  REQUIRE(r.code == 0);
  const json report = json::parse(r.out);
  CHECK(report["ok"] == true);
  CHECK(report["steps"].size() == 3);
  CHECK(report["steps"][0]["sentence"].get<std::string>().find("Brought Channel 3") == 0);
  const Ran m = run(folder, "measure " + (folder / "o.glb") + R"( '"Channel 3" vertex 1' '"Post 4" vertex 7' --json)");
  REQUIRE(m.code == 0);
  const json measured = json::parse(m.out);
  for (const char* key : {"distance", "delta", "angle", "from", "to"}) CHECK(measured.contains(key));
  CHECK(measured["distance"].get<double>() <= 1e-9 * 2000);
  const json info = json::parse(run(folder, "info " + (folder / "o.glb") + " --json").out);
  const json& scoop = part(info, "Scoop");
  CHECK(scoop["world"][3].get<double>() == Approx(120).epsilon(1e-14));
  CHECK(scoop["world"][11].get<double>() == Approx(18).epsilon(1e-14));
  // The hub lies on its side: its own z is the world's −y.
  const json before = json::parse(run(folder, "info " + parts() + " --json").out);
  CHECK(part(info, "Hub")["position"][1].get<double>() - part(before, "Hub")["position"][1].get<double>() ==
        Approx(-9.525));
}

TEST_CASE("a step that fails writes nothing and says which and why") {
  const Folder folder;
  write_text(
      folder / "steps.json",
      R"([{"verb": "move", "what": ["Hub"], "by": [1, 2, 3]}, {"verb": "move", "what": ["Hup"], "by": [1, 2, 3]}])");
  const Ran r =
      run(folder, "run " + parts() + " " + (folder / "steps.json") + " --out " + (folder / "o.glb") + " --json");
  CHECK(r.code == 1);
  CHECK_FALSE(std::filesystem::exists(folder / "o.glb"));
  const json report = json::parse(r.out);
  CHECK(report["ok"] == false);
  CHECK(report["done"] == 1);
  CHECK(report["steps"][1]["problem"].get<std::string>().find("Hub") != std::string::npos);
  CHECK(r.err.find("Step 2") != std::string::npos);
  CHECK(std::count(r.err.begin(), r.err.end(), '\n') == 1);
  write_text(folder / "bad.json", "{\"verb\": 3}");
  CHECK(run(folder, "run " + parts() + " " + (folder / "bad.json")).code == 1);
  CHECK(run(folder, "run " + parts() + " " + (folder / "none.json")).code == 1);
}

TEST_CASE("measure takes one tack or two, and says what is wrong with a third") {
  const Folder folder;
  const json one = json::parse(run(folder, "measure " + parts() + R"( '"Base board" box 0.5,0.5,1' --json)").out);
  CHECK(one["from"] == json{0.0, 0.0, 40.0});
  CHECK(one["direction"] == json{0.0, 0.0, 1.0});
  const json two =
      json::parse(run(folder, "measure " + parts() + R"( '"Base board" box 0,0,1' 'point -600,-300,43' --json)").out);
  CHECK(two["distance"] == 3.0);
  CHECK(two["delta"] == json{0.0, 0.0, 3.0});
  CHECK(two["angle"].is_null());
  const Ran wrong = run(folder, "measure " + parts() + R"( '"Base board" corner 1' '"Hub" pivot')");
  CHECK(wrong.code == 1);
  CHECK(wrong.err.find("corner") != std::string::npos);
}

TEST_CASE("convert goes between formats, with unit and up axis") {
  const Folder folder;
  CHECK(run(folder, "convert " + source("demo/sign-plate.obj") + " " + (folder / "sign.glb") + " --unit in --up y")
            .code == 0);
  const json sign = json::parse(run(folder, "info " + (folder / "sign.glb") + " --json").out);
  // 12 × 3 inches leaning by 13°: cos 13° · 304.8 + sin 13° · 76.2 wide.
  CHECK(sign["size"][0].get<double>() == Approx(304.8 * 0.97437006478 + 76.2 * 0.22495105434).epsilon(1e-9));
  for (const char* out : {"a.obj", "a.stl", "a.ply", "a.glb"}) {
    // A .glb says both itself: then neither option has a meaning.
    const std::string how = std::string(out) == "a.glb" ? "" : " --unit m --up y";
    CHECK(run(folder, "convert " + parts() + " " + (folder / out) + how).code == 0);
    CHECK(run(folder, "convert " + (folder / out) + " " + (folder / "back.glb") + how).code == 0);
    const json back = json::parse(run(folder, "info " + (folder / "back.glb") + " --json").out);
    CHECK(back["size"][0].get<double>() == Approx(1200).epsilon(1e-6));
    CHECK(back["size"][2].get<double>() == Approx(348.6).epsilon(1e-6));
  }
  CHECK(run(folder, "convert " + parts() + " " + (folder / "a.fbx")).code == 1);
  CHECK(run(folder, "convert " + parts() + " " + (folder / "a.obj") + " --unit ell").code == 2);
}

TEST_CASE("shot makes a picture without a display") {
  const Folder folder;
  const Ran r = run(folder, "shot " + parts() + " " + (folder / "a.png") + " --view top --size 320x200");
  INFO(r.err);
  REQUIRE(r.code == 0);
  const auto png = read_file(folder / "a.png");
  REQUIRE(png);
  CHECK(png->size() > 3000);
  CHECK((*png)[1] == 'P');
  // Width and height stand big-endian at bytes 16 and 20.
  CHECK((*png)[18] * 256 + (*png)[19] == 320);
  CHECK((*png)[22] * 256 + (*png)[23] == 200);
  CHECK(run(folder, "shot " + parts() + " " + (folder / "b.png") + " --view sideways").code == 2);
  CHECK(run(folder, "shot " + parts() + " " + (folder / "b.png") + " --size 1x1").code == 2);
}

TEST_CASE("check says whether the ties hold, and its exit code says it too") {
  const Folder folder;
  const std::string done = source("demo/heron-hall.glb");
  const Ran all = run(folder, "check " + done);
  CHECK(all.code == 0);
  CHECK(all.out.find("25 of 25 ties hold.") != std::string::npos);
  const json exact = json::parse(run(folder, "check " + done + " --json").out);
  REQUIRE(exact["ties"].size() == 25);
  for (const json& tie : exact["ties"]) {
    for (const char* key : {"name", "gap", "angle", "state", "from", "to", "off"}) CHECK(tie.contains(key));
    CHECK(tie["state"] == "exact");
  }
  CHECK(exact["hold"] == 25);
  // A channel is moved: three ties are apart, and with a wider tolerance they touch.
  write_text(folder / "move.json", R"([{"verb": "move", "what": ["Channel 2"], "by": [0.04, 0, 0]}])");
  REQUIRE(run(folder, "run " + done + " " + (folder / "move.json") + " --out " + (folder / "moved.glb")).code == 0);
  const Ran apart = run(folder, "check " + (folder / "moved.glb"));
  CHECK(apart.code == 1);
  CHECK(apart.out.find("apart       Channel 1 to Channel 2: apart by 0.04 mm") != std::string::npos);
  const json moved = json::parse(run(folder, "check " + (folder / "moved.glb") + " --json").out);
  CHECK(moved["apart"] == 3);
  for (const json& tie : moved["ties"])
    if (tie["name"] == "Channel 1 to Channel 2") {
      CHECK(tie["gap"].get<double>() == Approx(0.04).epsilon(1e-9));
      CHECK(tie["off"][0].get<double>() == Approx(-0.04).epsilon(1e-9));
      CHECK(tie["ring"]["ties"].size() >= 4);
    }
  CHECK(run(folder, "check " + (folder / "moved.glb") + " --tolerance '0.05 mm'").code == 0);
  // Closed again from the command line; suspended ones are not counted.
  write_text(folder / "close.json", R"([{"verb": "close", "tie": "Channel 1 to Channel 2"},
                                        {"verb": "tie", "tie": "marble on the ramp", "do": "suspend"}])");
  REQUIRE(
      run(folder, "run " + (folder / "moved.glb") + " " + (folder / "close.json") + " --out " + (folder / "closed.glb"))
          .code == 0);
  const Ran closed = run(folder, "check " + (folder / "closed.glb"));
  CHECK(closed.code == 0);
  CHECK(closed.out.find("24 of 25 ties hold, 1 suspended.") != std::string::npos);
  // What cannot be told.
  CHECK(run(folder, "check /no/such/file.glb").code == 2);
  CHECK(run(folder, "check " + done + " --tolerance wide").code == 2);
  const Ran none = run(folder, "check " + parts());
  CHECK(none.code == 0);
  CHECK(none.out == "No ties are kept in this file.\n");
}

TEST_CASE("the command line itself is checked") {
  const Folder folder;
  CHECK(run(folder, "").code == 2);
  CHECK(run(folder, "fly").code == 2);
  CHECK(run(folder, "--help").code == 0);
  CHECK(run(folder, "info --help").code == 0);
  CHECK(run(folder, "--version").out.find("0.1.0") != std::string::npos);
  const Ran none = run(folder, "info /no/such/file.glb");
  CHECK(none.code == 1);
  CHECK(none.err.find("no such file") != std::string::npos);
  CHECK(none.out.empty());
  write_text(folder / "x.glb", "glTF");
  CHECK(run(folder, "info " + (folder / "x.glb")).code == 1);
}

TEST_CASE("the shipped scenes are what the generator makes") {
  const Folder folder;
  const std::string command = TACK_BIN_DIR "/tackpoint-demo " + folder.path() + " --jobs " +
                              source("demo/finish.json") + " > " + (folder / "out");
  REQUIRE(std::system(command.c_str()) == 0);
  for (const char* name : {"heron-hall-parts.glb", "heron-hall.glb", "sign-plate.obj", "hook-rail.stl"})
    CHECK(*read_file(folder / name) == *read_file(source(std::string("demo/") + name)));
  // The finished scene is what the jobs' steps make of the parts, by the command line as well.
  REQUIRE(
      run(folder, "run " + parts() + " " + source("demo/finish.json") + " --out " + (folder / "by-hand.glb")).code ==
      0);
  CHECK(*read_file(folder / "by-hand.glb") == *read_file(source("demo/heron-hall.glb")));
  REQUIRE(std::system(
              (TACK_BIN_DIR "/tackpoint-demo " + (folder / "big.glb") + " --parts 100 --triangles 20000 > /dev/null")
                  .c_str()) == 0);
  const json big = json::parse(run(folder, "info " + (folder / "big.glb") + " --json").out);
  CHECK(big["count"] == 100);
  CHECK(big["triangles"].get<int>() == Approx(20000).epsilon(0.15));
}
