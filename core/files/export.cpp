#include "core/files/export.h"

#include <fmt/format.h>

#include "core/entry/units.h"
#include "core/files/axes_comment.h"
#include "core/files/save_document.h"
#include "core/printable.h"
#include "core/verbs/patch.h"

namespace tack {
namespace {

// One part's mesh in the coordinates of the file.
struct Baked {
  std::string path;
  std::vector<Vec3> positions;
  std::vector<Triangle> triangles;
};

std::vector<Baked> bake(const Scene& scene, const ExportOptions& options) {
  std::vector<Baked> all;
  for (const PartId id : scene.in_tree_order()) {
    const Part& part = scene.part(id);
    if (!part.mesh || is_hidden(scene, id)) continue;
    const Affine world = world_of(scene, id);
    Baked baked{path_of(scene, id), {}, {part.mesh->triangles().begin(), part.mesh->triangles().end()}};
    for (const Vec3& p : part.mesh->positions()) {
      const Vec3 w = (world * p) / options.unit;
      baked.positions.push_back(options.up == UpAxis::Y ? Vec3{w.x, w.z, -w.y} : w);
    }
    if (determinant(world.linear) < 0)
      for (Triangle& t : baked.triangles) std::swap(t[1], t[2]);
    all.push_back(std::move(baked));
  }
  return all;
}

Result<std::vector<Baked>> bake_any(const Scene& scene, const ExportOptions& options) {
  auto all = bake(scene, options);
  if (all.empty()) return fail("There is nothing to write: no part with a mesh is shown.");
  return all;
}

// A name as a line of an OBJ can hold it: in one line, without what would begin a comment or go on in the next line.
std::string line_name(const std::string& path) {
  std::string name = printable(as_utf8(path), 1 << 20);
  for (std::size_t at = name.find(" #"); at != std::string::npos; at = name.find(" #", at)) name[at] = '_';
  if (name.ends_with('\\')) name += '_';
  return name;
}

// What the scene has and these formats are not given, as a sentence; empty when that is nothing.
std::string left_out(const Scene& scene) {
  std::size_t hidden = 0, faceless = 0;
  bool colours = false, kept = false, guides = false;
  for (const PartId id : scene.in_tree_order()) {
    const Part& part = scene.part(id);
    const bool is_out = is_hidden(scene, id);
    if (part.mesh && is_out) ++hidden;
    if (part.mesh && !is_out && part.mesh->triangles().empty() && !part.mesh->positions().empty()) ++faceless;
    if (part.mesh && !is_out)
      colours |= std::any_of(part.colours.begin(), part.colours.end(), [](const Colour& c) { return c != Colour{}; });
    kept |= part.kept && !part.kept->empty();
    guides |= part.guide != GuideKind::None;
  }
  const auto carries = [&](const char* key) {
    return scene.carried() && scene.carried()->json.contains(key) && !scene.carried()->json[key].empty();
  };
  std::string what;
  const auto say = [&](bool is, const std::string& name) {
    if (is) what += (what.empty() ? "Left out: " : ", ") + name;
  };
  say(colours, "colours");
  say(carries("textures"), "pictures");
  say(carries("animations"), "animations");
  say(kept, "kept tacks");
  say(guides, "guides");
  say(faceless > 0, fmt::format("the lines of {} {} without faces", faceless, faceless == 1 ? "part" : "parts"));
  say(hidden > 0, fmt::format("{} hidden {}", hidden, hidden == 1 ? "part" : "parts"));
  return what.empty() ? what : what + ".";
}

Bytes bytes_of(const std::string& text) { return {text.begin(), text.end()}; }

}  // namespace

Result<Bytes> write_obj(const Scene& scene, const ExportOptions& options) {
  const auto all = bake_any(scene, options);
  if (!all) return tl::unexpected(all.error());
  std::string text = "# " + axes_comment({options.unit, options.up}) + "\n";
  std::size_t first = 1;
  for (const Baked& b : *all) {
    text += "o " + line_name(b.path) + "\n";
    for (const Vec3& p : b.positions)
      text += "v " + full_digits(p.x) + " " + full_digits(p.y) + " " + full_digits(p.z) + "\n";
    for (const Triangle& t : b.triangles) text += fmt::format("f {} {} {}\n", t[0] + first, t[1] + first, t[2] + first);
    first += b.positions.size();
  }
  return bytes_of(text);
}

Result<Bytes> write_stl(const Scene& scene, const ExportOptions& options) {
  const auto all = bake_any(scene, options);
  if (!all) return tl::unexpected(all.error());
  std::uint64_t count = 0;
  for (const Baked& b : *all) count += b.triangles.size();
  if (count == 0) return fail("There is no triangle in the scene, and an STL file has nothing else.");
  if (count > 0xFFFFFFFFu) return fail("There are more triangles than an STL file can hold.");
  Bytes out(80, ' ');
  const std::string title = axes_comment({options.unit, options.up});
  std::copy_n(title.begin(), std::min<std::size_t>(title.size(), 80), out.begin());
  append(out, static_cast<std::uint32_t>(count));
  const auto put = [&](const Vec3& v) {
    for (int i = 0; i < 3; ++i) append(out, static_cast<float>(v[i]));
  };
  for (const Baked& b : *all)
    for (const Triangle& t : b.triangles) {
      const Vec3 &p = b.positions[t[0]], &q = b.positions[t[1]], &r = b.positions[t[2]];
      put(normalized(cross(q - p, r - p)));
      for (const Vec3* v : {&p, &q, &r}) put(*v);
      append(out, std::uint16_t{0});
    }
  return out;
}

Result<Bytes> write_ply(const Scene& scene, const ExportOptions& options) {
  const auto all = bake_any(scene, options);
  if (!all) return tl::unexpected(all.error());
  std::size_t vertices = 0, triangles = 0;
  for (const Baked& b : *all) {
    vertices += b.positions.size();
    triangles += b.triangles.size();
  }
  Bytes out =
      bytes_of(fmt::format("ply\nformat binary_little_endian 1.0\ncomment {}\nelement vertex {}\n"
                           "property double x\nproperty double y\nproperty double z\nelement face {}\n"
                           "property list uchar uint vertex_indices\nend_header\n",
                           axes_comment({options.unit, options.up}), vertices, triangles));
  for (const Baked& b : *all)
    for (const Vec3& p : b.positions)
      for (int i = 0; i < 3; ++i) append(out, p[i]);
  std::uint32_t first = 0;
  for (const Baked& b : *all) {
    for (const Triangle& t : b.triangles) {
      out.push_back(3);
      for (const std::uint32_t v : t) append(out, v + first);
    }
    first += static_cast<std::uint32_t>(b.positions.size());
  }
  return out;
}

Result<Saved> write_as(const std::filesystem::path& path, const Scene& whole, const DocumentSettings& settings,
                       const ExportOptions& options, const Record* record) {
  const Scene scene = without_patches(whole);
  std::string ending = path.extension().string();
  for (char& c : ending) c = static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
  Result<Bytes> bytes = fail(fmt::format("Files ending in \"{}\" cannot be written.", ending), path.filename().string(),
                             "Use .glb, .obj, .stl or .ply.");
  if (ending == ".glb") return save_document(path, scene, settings, {}, nullptr, record);
  if (ending == ".obj") bytes = write_obj(scene, options);
  if (ending == ".stl") bytes = write_stl(scene, options);
  if (ending == ".ply") bytes = write_ply(scene, options);
  if (!bytes) return tl::unexpected(bytes.error());
  auto saved = save_atomically(path, *bytes);
  if (const std::string note = left_out(scene); saved && !note.empty())
    saved->note += (saved->note.empty() ? "" : " ") + note;
  return saved;
}

}  // namespace tack
