// tackpoint-demo: makes the scene that ships, and big scenes for benchmarks.
#include <fmt/format.h>

#include <CLI/CLI.hpp>

#include "core/files/axes_comment.h"
#include "core/files/export.h"
#include "demo/heron_hall.h"

namespace {

using namespace tack;

template <class T>
bool say(const Result<T>& result, const std::string& what) {
  if (result)
    fmt::print("{}\n", what);
  else
    fmt::print(stderr, "{}\n", sentence(result.error()));
  return result.has_value();
}

// A scene of one part in the coordinates its file is to have.
Scene lone(MeshData data, const std::string& name) {
  Scene scene;
  Part part;
  part.name = name;
  part.mesh = *make_mesh(std::move(data));
  part.colours.resize(1);
  scene.add(std::move(part));
  return scene;
}

// The file as somebody else delivers it: it does not say its unit, nor what points up.
Result<Saved> write_mute(const std::filesystem::path& path, const Scene& scene) {
  const bool stl = path.extension() == ".stl";
  auto bytes = stl ? write_stl(scene, {}) : write_obj(scene, {});
  if (!bytes) return tl::unexpected(bytes.error());
  constexpr std::string_view kTitle = "Tack Point";
  const std::string said = axes_comment({});
  const auto at = std::search(bytes->begin(), bytes->end(), said.begin(), said.end());
  const auto rest = at + static_cast<std::ptrdiff_t>(kTitle.size());
  const auto end = at + static_cast<std::ptrdiff_t>(said.size());
  if (stl)
    std::fill(rest, end, std::uint8_t{' '});
  else
    bytes->erase(rest, end);
  return save_atomically(path, *bytes);
}

}  // namespace

int main(int argc, char** argv) {
  CLI::App app{"Makes the Heron Hall scene in both states, or a big scene for benchmarks."};
  std::string out, jobs = "demo/finish.json";
  int parts = 0;
  long long triangles = 0;
  app.add_option("OUT", out, "a folder, or with --parts a .glb")->required();
  app.add_option("--parts", parts, "make a big scene of that many parts instead")->check(CLI::Range(1, 1000000));
  app.add_option("--triangles", triangles, "of about that many triangles in all")->check(CLI::Range(1LL, 2000000000LL));
  app.add_option("--jobs", jobs, "the steps that finish it")->capture_default_str();
  CLI11_PARSE(app, argc, argv);
  if (parts > 0)
    return say(write_as(out, demo::big_scene(parts, std::max<long long>(triangles, parts * 12LL)), {}, {}), out) ? 0
                                                                                                                 : 1;
  const std::filesystem::path folder(out);
  const auto path = [&](const char* name) { return folder / name; };
  const bool ok =
      say(write_as(path("heron-hall-parts.glb"), demo::heron_hall_parts(), {}, {}), "heron-hall-parts.glb") &&
      say(write_mute(path("sign-plate.obj"), lone(demo::sign_plate_inches(), "Sign plate")), "sign-plate.obj") &&
      say(write_mute(path("hook-rail.stl"), lone(demo::hook_rail_centimetres(), "Hook rail")), "hook-rail.stl");
  if (!ok) return 1;
  // The finished state is what the jobs make of the parts.
  std::error_code error;
  std::filesystem::copy_file(jobs, path("finish.json"), std::filesystem::copy_options::skip_existing, error);
  const auto finished = demo::heron_hall_steps(folder);
  if (!finished) return say(finished, {}) ? 0 : 1;
  return say(write_as(path("heron-hall.glb"), finished->scene(), {}, {}, &finished->record()), "heron-hall.glb") ? 0
                                                                                                                 : 1;
}
