// Files under hostile conditions: processes killed while they save, limits on file sizes, links that were planted,
// names and numbers that no file should have.
#include <fcntl.h>
#include <signal.h>
#include <spawn.h>
#include <sys/stat.h>
#include <sys/wait.h>
#include <unistd.h>

#include <catch2/catch.hpp>
#include <chrono>
#include <fstream>
#include <nlohmann/json.hpp>

#include "core/files/import.h"
#include "core/files/outline.h"
#include "core/files/save.h"
#include "core/files/save_document.h"
#include "core/printable.h"
#include "demo/heron_hall.h"
#include "tests/sheet.h"
#include "tests/support.h"

extern char** environ;

using namespace tack;
using namespace tack::test;

namespace {

std::string text_of(const std::string& path) {
  const auto bytes = read_file(path);
  return bytes ? std::string(bytes->begin(), bytes->end()) : std::string();
}

void put_text(const std::string& path, const std::string& text) { std::ofstream(path) << text; }

struct Answer {
  int code = -1;
  std::string out, err;
};

Answer shell(const Folder& folder, const std::string& command) {
  const int status = std::system(("{ " + command + "; } > " + (folder / "out") + " 2> " + (folder / "err")).c_str());
  return {WEXITSTATUS(status), text_of(folder / "out"), text_of(folder / "err")};
}

const std::string kCli = TACK_BIN_DIR "/tackpoint-cli ";

std::size_t files_in(const std::string& folder) {
  return static_cast<std::size_t>(std::distance(std::filesystem::directory_iterator(folder), {}));
}

pid_t start(const std::vector<std::string>& arguments) {
  std::vector<char*> raw;
  raw.reserve(arguments.size() + 1);
  for (const std::string& a : arguments) raw.push_back(const_cast<char*>(a.c_str()));
  raw.push_back(nullptr);
  pid_t child = 0;
  posix_spawn_file_actions_t quiet;
  posix_spawn_file_actions_init(&quiet);
  posix_spawn_file_actions_addopen(&quiet, 1, "/dev/null", O_WRONLY, 0);
  posix_spawn_file_actions_addopen(&quiet, 2, "/dev/null", O_WRONLY, 0);
  const int error = ::posix_spawn(&child, raw[0], &quiet, nullptr, raw.data(), environ);
  posix_spawn_file_actions_destroy(&quiet);
  REQUIRE(error == 0);
  return child;
}

}  // namespace

TEST_CASE("killed at 300 random moments, a save leaves the old document or the new one, whole", "[kill]") {
  const Folder folder, out;
  const std::string target = out / "scene.glb", steps = folder / "steps.json";
  put_text(steps, R"([{"verb": "move", "what": ["Hub"], "by": ["1 in", 0, 0]}])");
  REQUIRE(std::system(
              (kCli + "run " + source("demo/heron-hall-parts.glb") + " " + steps + " --out " + target + " > /dev/null")
                  .c_str()) == 0);
  const std::string whole = text_of(target);
  // How long one takes, on this machine as busy as it is now.
  const auto began = std::chrono::steady_clock::now();
  REQUIRE(std::system(
              (kCli + "run " + target + " " + steps + " --out " + (folder / "other.glb") + " > /dev/null").c_str()) ==
          0);
  const auto takes =
      std::chrono::duration_cast<std::chrono::microseconds>(std::chrono::steady_clock::now() - began).count();
  Chance chance(900);
  int killed = 0;
  for (int i = 0; i < 300; ++i) {
    const pid_t child = start({TACK_BIN_DIR "/tackpoint-cli", "run", target, steps, "--out", target});
    ::usleep(static_cast<useconds_t>(chance.between(0, 1.2 * static_cast<double>(takes))));
    ::kill(child, SIGKILL);
    int status = 0;
    REQUIRE(::waitpid(child, &status, 0) == child);
    killed += WIFSIGNALED(status);
    // The same length, a glTF from its first byte to its last: the position of one part is all that differs.
    const std::string now = text_of(target);
    REQUIRE(now.size() > whole.size() / 2);
    REQUIRE(now.starts_with("glTF"));
    std::uint32_t length = 0;
    std::memcpy(&length, now.data() + 8, 4);
    REQUIRE(length == now.size());
    if (i % 20 == 0) REQUIRE(import_file(target, {}));
  }
  REQUIRE(import_file(target, {}));
  CHECK(killed > 100);
  // What the killed had been writing goes with the next save that is not.
  REQUIRE(std::system((kCli + "run " + target + " " + steps + " --out " + target + " > /dev/null").c_str()) == 0);
  CHECK(files_in(out.path()) == 1);
}

TEST_CASE("over the limit on file sizes nothing is written, nothing is lost, and the reason is said", "[save]") {
  const Folder folder;
  put_text(folder / "old.glb", "what was there");
  // 64 blocks of 512 bytes: less than the document, and less than what the helper hands over.
  const Answer r =
      shell(folder, "ulimit -f 64; " + kCli + "convert " + source("demo/sign-plate.obj") + " " + (folder / "new.obj") +
                        " && " + kCli + "convert " + source("demo/heron-hall.glb") + " " + (folder / "old.glb"));
  CHECK(r.code == 1);
  CHECK(r.err.find("limit on file sizes") != std::string::npos);
  CHECK(text_of(folder / "old.glb") == "what was there");
  // What fits through the helper and not into the file: many parts of a small mesh.
  const Answer wide =
      shell(folder, "ulimit -f 1; " + kCli + "convert " + source("demo/sign-plate.obj") + " " + (folder / "wide.glb"));
  CHECK(wide.code == 1);
  CHECK_FALSE(wide.err.empty());
  CHECK_FALSE(std::filesystem::exists(folder / "wide.glb"));
}

TEST_CASE("where nothing can be written saving says why, and leaves nothing behind", "[save]") {
  const Folder folder;
  CHECK_FALSE(save_atomically("/proc/scene.glb", Bytes{1}));
  CHECK_FALSE(save_atomically(folder / "", Bytes{1}));
  const auto full = save_atomically("/dev/full", Bytes{1, 2, 3});
  REQUIRE_FALSE(full);
  CHECK(full.error().what.find("not an ordinary file") != std::string::npos);
  const std::string longest = folder / (std::string(250, 'n') + ".glb");
  const auto saved = save_atomically(longest, Bytes{1});
  CHECK(saved.has_value());
  CHECK(files_in(folder.path()) == 1);
}

TEST_CASE("a save asks for a check before it takes the old file's place, and a doubt keeps the old one beside",
          "[save]") {
  const Folder folder;
  const std::string path = folder / "scene.glb";
  REQUIRE(save_atomically(path, Bytes{1}));
  const auto refused =
      save_atomically(path, Bytes{2}, [](const auto&) -> Result<std::string> { return fail("It is broken."); });
  REQUIRE_FALSE(refused);
  CHECK(text_of(path) == "\1");
  CHECK(files_in(folder.path()) == 1);
  // The artist's own file of that name stays.
  put_text(path + ".bak", "mine");
  const auto doubted =
      save_atomically(path, Bytes{3}, [](const auto&) -> Result<std::string> { return "A part is missing."; });
  REQUIRE(doubted);
  CHECK(text_of(path) == "\3");
  CHECK(text_of(path + ".bak") == "mine");
  CHECK(doubted->backup == path + ".bak2");
  CHECK(text_of(path + ".bak2") == "\1");
  CHECK(doubted->note.find("scene.glb.bak2") != std::string::npos);
}

TEST_CASE("a save goes through links, dangling ones too, and never through one that was planted beside", "[save]") {
  const Folder folder;
  std::filesystem::create_symlink("there/scene.glb", folder / "link.glb");
  CHECK_FALSE(save_atomically(folder / "link.glb", Bytes{1}));  // the folder is missing: nothing replaces the link
  CHECK(std::filesystem::is_symlink(folder / "link.glb"));
  std::filesystem::create_directory(folder / "there");
  REQUIRE(save_atomically(folder / "link.glb", Bytes{1}));
  CHECK(std::filesystem::is_symlink(folder / "link.glb"));
  CHECK(text_of(folder / "there/scene.glb") == "\1");
  std::filesystem::create_symlink("round.glb", folder / "circle.glb");
  std::filesystem::create_symlink("circle.glb", folder / "round.glb");
  CHECK_FALSE(save_atomically(folder / "circle.glb", Bytes{1}));
  // Names of side files that can be guessed: those of the next processes.
  put_text(folder / "victim.txt", "victim");
  for (int pid = ::getpid(); pid < ::getpid() + 300; ++pid)
    std::filesystem::create_symlink("victim.txt", folder / ("a.glb." + std::to_string(pid) + ".part"));
  REQUIRE(save_atomically(folder / "a.glb", Bytes{1}));
  CHECK(text_of(folder / "victim.txt") == "victim");
}

TEST_CASE("rights stay, a new file has those of the process, and other names of a file are told", "[save]") {
  const Folder folder;
  const auto rights = [](const std::string& path) {
    struct stat info {};
    REQUIRE(::stat(path.c_str(), &info) == 0);
    return info.st_mode & 0777;
  };
  const mode_t before = ::umask(027);
  REQUIRE(save_atomically(folder / "new.glb", Bytes{1}));
  ::umask(before);
  CHECK(rights(folder / "new.glb") == 0640);
  ::chmod((folder / "new.glb").c_str(), 0666);
  REQUIRE(save_atomically(folder / "new.glb", Bytes{2}));
  CHECK(rights(folder / "new.glb") == 0666);
  std::filesystem::create_hard_link(folder / "new.glb", folder / "twin.glb");
  const auto saved = save_atomically(folder / "new.glb", Bytes{3});
  REQUIRE(saved);
  CHECK(saved->note.find("other names") != std::string::npos);
  CHECK(text_of(folder / "twin.glb") == "\2");
}

TEST_CASE("what a document is read back as is held against the scene before the old file goes", "[save]") {
  const Folder folder;
  const auto hall = demo::heron_hall(source("demo"));
  REQUIRE(hall);
  CHECK(difference_between(*hall, *hall).empty());
  Scene other = *hall;
  const PartId id = other.roots().front();
  Placement placement = other.part(id).placement;
  placement.position.x += 0.001;
  other.place(id, placement);
  CHECK(difference_between(*hall, other).find("in another place") != std::string::npos);
  other = *hall;
  Part renamed = other.part(id);
  renamed.name = "Else";
  other.replace(id, renamed);
  CHECK(difference_between(*hall, other).find("came back as") != std::string::npos);
  other = *hall;
  other.remove(id);
  CHECK(difference_between(*hall, other).find("parts") != std::string::npos);
  REQUIRE(save_document(folder / "hall.glb", *hall, {}));
  // Asked last, and heeded: another program may have been quicker.
  const std::string was = text_of(folder / "hall.glb");
  const auto late = save_document(folder / "hall.glb", other, {}, [] { return Result<void>(fail("Changed.")); });
  CHECK_FALSE(late);
  CHECK(text_of(folder / "hall.glb") == was);
  const std::atomic<bool> stop = true;
  CHECK_FALSE(save_document(folder / "hall.glb", other, {}, {}, &stop));
  CHECK(text_of(folder / "hall.glb") == was);
  CHECK(files_in(folder.path()) == 1);
}

TEST_CASE("a mesh that is large enough for several threads is saved and checked as well", "[save]") {
  const Folder folder;
  const Scene large = sheet(900);
  const auto saved = save_document(folder / "large.glb", large, {});
  INFO((saved ? saved->note : sentence(saved.error())));
  REQUIRE(saved);
  CHECK(saved->note.empty());
  CHECK(difference_between(large, *outline_of_file(folder / "large.glb")).empty());
  put_text(folder / "move.json", R"([{"verb": "move", "what": ["Sheet"], "by": [1, 0, 0]}])");
  const Answer moved = shell(folder, kCli + "run " + (folder / "large.glb") + " " + (folder / "move.json") + " --out " +
                                         (folder / "moved.glb"));
  INFO(moved.err);
  CHECK(moved.code == 0);
}

TEST_CASE("no text of a file reaches the terminal raw", "[raw]") {
  const Folder folder;
  const std::string esc = "\x1b[31mred\x1b[0m\x07", bidi = "a\u202Eb";
  put_text(folder / "evil.obj", "o " + esc + bidi + "\xE9\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n");
  const auto plain = [](const std::string& text) {
    return text.find('\x1b') == std::string::npos && text.find('\a') == std::string::npos &&
           text.find("\u202E") == std::string::npos && is_utf8(text);
  };
  for (const char* command : {"info ", "info --json "}) {
    const Answer r = shell(folder, kCli + command + (folder / "evil.obj"));
    CHECK(r.code == 0);
    CHECK(plain(r.out));
    CHECK(plain(r.err));
  }
  const Answer whole = shell(folder, kCli + "info --json " + (folder / "evil.obj"));
  const auto parsed = nlohmann::json::parse(whole.out);
  CHECK(parsed["parts"][0]["name"] == esc + bidi + "\u00E9");  // escaped, not lost
  put_text(folder / "steps.json", "[{\"verb\": \"mo\\u001b[31mve\"}]");
  const Answer steps = shell(folder, kCli + "run " + (folder / "evil.obj") + " " + (folder / "steps.json"));
  CHECK(steps.code == 1);
  CHECK(plain(steps.err));
  put_text(folder / "rename.json", "[{\"verb\": \"rename\", \"what\": [\"evil\\u001b\"], \"name\": \"x\"}]");
  CHECK(plain(shell(folder, kCli + "run " + (folder / "evil.obj") + " " + (folder / "rename.json")).err));
  // A name of ten million bytes is no sentence.
  put_text(folder / "long.obj", "o x\nv 0 0 0\nf 1 2 " + std::string(1000000, '9') + "\n");
  CHECK(shell(folder, kCli + "info " + (folder / "long.obj")).err.size() < 2000);
  CHECK(printable("a\nb\x7f\xC3\x28\u2066") == "a\\x0Ab\\x7F\\xC3(\\u2066");
  CHECK(printable(std::string(1000, 'x')).size() < 410);
  CHECK(is_utf8(printable(std::string(399, 'x') + "\u00E9\u00E9\u00E9" + std::string(500, 'y'))));
  CHECK(shortened("ab\u00E9", 3) == "ab");
}

TEST_CASE("whatever is wrong with a file, its name is in the sentence", "[raw]") {
  const Folder folder;
  const std::pair<const char*, const char*> bad[] = {
      {"cut.ply",
       "ply\nformat ascii 1.0\nelement vertex 2\nproperty float x\nproperty float y\nproperty float z\nend_header\n0 0 "
       "0\n"},
      {"nan.ply",
       "ply\nformat ascii 1.0\nelement vertex 1\nproperty float x\nproperty float y\nproperty float z\nproperty float "
       "red\nend_header\n0 0 0 nan\n"},
      {"cut.stl", "solid x\nfacet normal 0 0 1\nouter loop\nvertex 0 0"},
      {"face.obj", "v 0 0 0\nf 1 2 3\n"},
      {"version.gltf", "{\"asset\": {\"version\": \"1.0\"}}"},
      {"lists.gltf", "{\"asset\": {\"version\": \"2.0\"}, \"animations\": 5}"},
      {"entries.gltf", "{\"asset\": {\"version\": \"2.0\"}, \"skins\": [7]}"},
      {"circle.gltf", "{\"asset\": {\"version\": \"2.0\"}, \"nodes\": [{\"children\": [1]}, {\"children\": [0]}]}"},
      {"huge.gltf",
       "{\"asset\": {\"version\": \"2.0\"}, \"scene\": 0, \"scenes\": [{\"nodes\": [0]}], \"nodes\": [{\"scale\": "
       "[1e200, 1, 1], \"children\": [1]}, {\"scale\": [1e200, 1, 1]}]}"},
      {"mesh.gltf",
       "{\"asset\": {\"version\": \"2.0\"}, \"meshes\": [{\"primitives\": [{\"attributes\": {\"POSITION\": 7}}]}], "
       "\"scenes\": [{\"nodes\": [0]}], \"nodes\": [{\"mesh\": 0}]}"},
      {"what.xyz", "1 2 3"}};
  for (const auto& [name, text] : bad) {
    put_text(folder / name, text);
    const Answer r = shell(folder, kCli + "info " + (folder / name));
    INFO(name << ": " << r.err);
    CHECK(r.code == 1);
    CHECK(r.err.find(name) != std::string::npos);
    CHECK(r.err.find("exception") == std::string::npos);
  }
}

TEST_CASE("what the command line cannot honour it refuses", "[raw]") {
  const Folder folder;
  const std::string parts = source("demo/heron-hall-parts.glb");
  put_text(folder / "none.json", "[]");
  put_text(folder / "twice.json", R"([{"verb": "move", "what": ["Hub"], "by": [1, 0, 0], "by": [2, 0, 0]}])");
  put_text(folder / "large.json", R"([{"verb": "move", "what": ["Hub"], "by": [1e999, 0, 0]}])");
  put_text(folder / "unit.json",
           R"([{"verb": "bring", "file": ")" + source("demo/heron-hall.glb") + R"(", "unit": "in"}])");
  put_text(folder / "scene.json",
           R"([{"verb": "bring", "file": ")" + source("demo/sign-plate.obj") + R"(", "scene": 0}])");
  put_text(folder / "wrap.json", R"([{"verb": "bring", "file": ")" + parts + R"(", "scene": 4294967296}])");
  put_text(folder / "zero.json",
           R"([{"verb": "bring", "file": ")" + source("demo/sign-plate.obj") + R"(\u0000.glb"}])");
  const auto says = [&](const std::string& command, int code, const char* words) {
    const Answer r = shell(folder, kCli + command);
    INFO(command << ": " << r.err);
    CHECK(r.code == code);
    CHECK(r.err.find(words) != std::string::npos);
  };
  says("run " + parts + " " + (folder / "none.json") + " --out ''", 2, "names no file");
  says("convert " + parts + " " + (folder / "o.glb") + " --unit in", 2, "mean nothing here");
  says("run " + parts + " " + (folder / "twice.json"), 1, "stands twice");
  says("run " + parts + " " + (folder / "large.json"), 1, "too large");
  says("run " + parts + " " + (folder / "unit.json"), 1, "says its unit");
  says("run " + parts + " " + (folder / "scene.json"), 1, "Only glTF");
  says("run " + parts + " " + (folder / "wrap.json"), 1, "whole number");
  says("run " + parts + " " + (folder / "zero.json"), 1, "zero byte");
}
