#include "tests/support.h"

#include <cstdio>
#include <cstdlib>
#include <filesystem>

#include "demo/shapes.h"

namespace tack::test {

Vec3 Chance::direction() {
  for (;;) {
    const Vec3 v = point(1);
    if (const double len = length(v); len > 0.1 && len <= 1) return v / len;
  }
}

Placement Chance::placement(double reach, bool mirrors) {
  Placement p;
  p.position = point(reach);
  p.rotation = {between(-180, 180), between(-90, 90), between(-180, 180)};
  for (int i = 0; i < 3; ++i)
    p.scale[i] = std::exp(between(std::log(0.2), std::log(5.0))) * (mirrors && whole(0, 9) == 0 ? -1 : 1);
  p.pivot = point(reach / 10);
  return p;
}

MeshPtr cube(double side) { return *make_mesh(demo::box({0, 0, 0}, {side, side, side})); }

MeshPtr blob(Chance& chance, int vertices) {
  MeshData data;
  for (int i = 0; i < vertices; ++i) data.positions.push_back(chance.point(50));
  for (int i = 0; i < vertices; ++i) {
    const auto v = [&] { return static_cast<std::uint32_t>(chance.whole(0, vertices - 1)); };
    data.triangles.push_back({v(), v(), v()});
  }
  return *make_mesh(std::move(data));
}

Part part_of(const std::string& name, const MeshPtr& mesh, const Placement& placement, PartId parent) {
  Part part;
  part.name = name;
  part.mesh = mesh;
  part.placement = placement;
  part.parent = parent;
  if (mesh) part.colours.resize(mesh->primitives().size());
  return part;
}

void note_number(const std::string& line) {
  if (std::FILE* file = std::fopen(TACK_BUILD_DIR "/numbers.txt", "a")) {
    std::fprintf(file, "%s\n", line.c_str());
    std::fclose(file);
  }
  std::printf("%s\n", line.c_str());
}

Folder::Folder() {
  std::string name = (std::filesystem::temp_directory_path() / "tackpoint-test-XXXXXX").string();
  path_ = ::mkdtemp(name.data()) ? name : std::string("/tmp");
}

Folder::~Folder() {
  std::error_code error;
  if (path_.find("tackpoint-test-") != std::string::npos) std::filesystem::remove_all(path_, error);
}

std::string source(const std::string& relative) { return std::string(TACK_SOURCE_DIR "/") + relative; }

}  // namespace tack::test
