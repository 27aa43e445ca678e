// Loading, in one run beside Assimp on the same files: through the import helper until the parts are checked, against
// Assimp joining vertices. Each reading is a process of its own, so that processor time and memory are what they are
// for a user: user and system time of the reader and of what it started, wall clock, and the largest resident size of
// each.
//
// bench_load [TRIANGLES …]: a table for these sizes; 125,000 to 1,000,000 when none are given.
#include <assimp/cimport.h>
#include <assimp/postprocess.h>
#include <dlfcn.h>
#include <fmt/format.h>
#include <sys/resource.h>
#include <sys/wait.h>
#include <unistd.h>

#include <chrono>
#include <filesystem>
#include <fstream>

#include "core/files/export.h"
#include "core/files/import.h"
#include "demo/heron_hall.h"

namespace {

using namespace tack;

struct Cost {
  double wall = 0, processor = 0;  // seconds
  double program = 0, helper = 0;  // MB, largest resident size
  bool done = false;
};

double seconds_of(const timeval& t) { return static_cast<double>(t.tv_sec) + static_cast<double>(t.tv_usec) * 1e-6; }

// The best of three readings, each by this program started anew.
Cost cost_of(const char* reader, const std::string& file) {
  Cost best;
  for (int i = 0; i < 3; ++i) {
    int pipe_ends[2];
    if (::pipe(pipe_ends) != 0) return best;
    const auto begin = std::chrono::steady_clock::now();
    const pid_t child = ::fork();
    if (child == 0) {
      ::dup2(pipe_ends[1], 1);
      ::execl("/proc/self/exe", "bench_load", reader, file.c_str(), nullptr);
      ::_exit(1);
    }
    Cost cost;
    const ssize_t got = ::read(pipe_ends[0], &cost, sizeof cost);
    int status = 0;
    ::waitpid(child, &status, 0);
    ::close(pipe_ends[0]);
    ::close(pipe_ends[1]);
    cost.wall = std::chrono::duration<double>(std::chrono::steady_clock::now() - begin).count();
    if (got == sizeof cost && cost.done && (!best.done || cost.processor < best.processor)) best = cost;
  }
  return best;
}

// Reads in this process, and gives what it cost to the one that started it.
int read_here(const std::string& reader, const std::string& file) {
  Cost cost;
  if (reader == "--helper") {
    const auto delivery = import_file(file, {});
    cost.done = delivery && document_of(*delivery);
  } else {
    // Loaded only here, so that it is not counted where it is not used.
    void* library = ::dlopen("libassimp.so.5", RTLD_NOW);
    const auto import =
        library ? reinterpret_cast<decltype(&::aiImportFile)>(::dlsym(library, "aiImportFile")) : nullptr;
    cost.done = import && import(file.c_str(), aiProcess_Triangulate | aiProcess_JoinIdenticalVertices);
  }
  rusage self{}, below{};
  ::getrusage(RUSAGE_SELF, &self);
  ::getrusage(RUSAGE_CHILDREN, &below);
  cost.processor =
      seconds_of(self.ru_utime) + seconds_of(self.ru_stime) + seconds_of(below.ru_utime) + seconds_of(below.ru_stime);
  cost.program = static_cast<double>(self.ru_maxrss) / 1024;
  cost.helper = static_cast<double>(below.ru_maxrss) / 1024;
  const ssize_t sent = ::write(1, &cost, sizeof cost);
  ::_exit(sent == sizeof cost ? 0 : 1);
}

void compare(const std::string& what, const std::string& file, double float_megabytes) {
  const Cost ours = cost_of("--helper", file), theirs = cost_of("--assimp", file);
  fmt::print("{:<22} {:>7.3f} {:>7.3f} {:>6.0f} {:>6.0f} {:>7.3f} {:>7.3f} {:>6.0f} {:>8.2f} {:>6.2f} {:>8}\n", what,
             ours.processor, ours.wall, ours.program, ours.helper, theirs.processor, theirs.wall, theirs.program,
             ours.processor / theirs.processor, ours.wall / theirs.wall,
             float_megabytes > 0 ? fmt::format("{:.1f}", std::max(ours.program, ours.helper) / float_megabytes) : "");
  std::fflush(stdout);
}

void write_ascii_stl(const std::string& path, const Scene& scene) {
  std::ofstream out(path);
  out << "solid sphere\n";
  for (const PartId id : scene.in_tree_order()) {
    const Mesh& mesh = *scene.part(id).mesh;
    for (std::uint32_t t = 0; t < mesh.triangles().size(); ++t) {
      out << "facet normal 0 0 0\nouter loop\n";
      for (const Vec3& p : mesh.corners(t)) out << fmt::format("vertex {:g} {:g} {:g}\n", p.x, p.y, p.z);
      out << "endloop\nendfacet\n";
    }
  }
  out << "endsolid sphere\n";
}

}  // namespace

namespace {

// Writes the files of one size, in a process of its own: what a process has once held is counted against those that it
// starts.
int write_files(const std::filesystem::path& folder, std::size_t parts, std::size_t triangles) {
  const Scene scene = demo::big_scene(parts, triangles);
  if (parts > 1) {
    for (const char* ending : {"glb", "obj"})
      if (!write_as(folder / fmt::format("parts-{}.{}", parts, ending), scene, {}, {})) return 1;
    return 0;
  }
  for (const char* ending : {"glb", "ply", "obj", "stl"})
    if (!write_as(folder / fmt::format("{}.{}", triangles, ending), scene, {}, {})) return 1;
  write_ascii_stl(folder / fmt::format("{}-ascii.stl", triangles), scene);
  std::size_t vertices = 0, count = 0;
  for (const PartId id : scene.in_tree_order())
    if (const MeshPtr& mesh = scene.part(id).mesh)
      vertices += mesh->positions().size(), count += mesh->triangles().size();
  std::ofstream(folder / fmt::format("{}.floats", triangles)) << static_cast<double>(vertices + count) * 12 / (1 << 20);
  return 0;
}

bool written(const std::filesystem::path& folder, std::size_t parts, std::size_t triangles) {
  const pid_t child = ::fork();
  if (child == 0)
    ::execl("/proc/self/exe", "bench_load", "--write", folder.c_str(), std::to_string(parts).c_str(),
            std::to_string(triangles).c_str(), nullptr);
  int status = 0;
  ::waitpid(child, &status, 0);
  return WIFEXITED(status) && WEXITSTATUS(status) == 0;
}

}  // namespace

int main(int argc, char** argv) {
  if (argc == 5 && std::string_view(argv[1]) == "--write")
    return write_files(argv[2], std::stoul(argv[3]), std::stoul(argv[4]));
  if (argc == 3 && std::string_view(argv[1]).starts_with("--")) return read_here(argv[1], argv[2]);
  const auto folder = std::filesystem::temp_directory_path() / "tackpoint-bench-load";
  std::filesystem::create_directories(folder);
  std::vector<std::size_t> sizes;
  for (int i = 1; i < argc; ++i) sizes.push_back(std::stoul(argv[i]));
  if (sizes.empty()) sizes = {125000, 250000, 500000, 1000000};
  fmt::print("{:<22} {:>7} {:>7} {:>6} {:>6} {:>7} {:>7} {:>6} {:>8} {:>6} {:>8}\n", "", "cpu s", "wall s", "MB",
             "helper", "assimp", "wall s", "MB", "cpu/cpu", "wall", "x floats");
  for (const std::size_t triangles : sizes) {
    if (!written(folder, 1, triangles)) return 1;
    double floats = 0;
    std::ifstream(folder / fmt::format("{}.floats", triangles)) >> floats;
    for (const char* ending : {"glb", "ply", "obj", "stl"})
      compare(fmt::format("{} {}", ending, triangles), folder / fmt::format("{}.{}", triangles, ending), floats);
    compare(fmt::format("stl ascii {}", triangles), folder / fmt::format("{}-ascii.stl", triangles), floats);
  }
  for (const std::size_t parts : {12500u, 25000u, 50000u}) {
    if (!written(folder, parts, parts * 12)) return 1;
    for (const char* ending : {"glb", "obj"})
      compare(fmt::format("{} parts, {}", parts, ending), folder / fmt::format("parts-{}.{}", parts, ending), 0);
  }
  std::filesystem::remove_all(folder);
  return 0;
}
