// Wavefront OBJ: positions in double, groups and objects as parts, polygons of any number of corners, colours from MTL.
#include <fmt/format.h>

#include <charconv>
#include <map>

#include "core/files/delivery.h"
#include "core/files/lines.h"
#include "core/mesh/triangulate.h"
#include "core/printable.h"

namespace tack {
namespace {

constexpr std::size_t kLongestMaterialName = 200;  // bytes

struct NamedGroup {
  std::string name;
  std::vector<Triangle> triangles;                               // of file vertices
  std::vector<std::pair<std::string, std::uint32_t>> materials;  // name, first triangle
};

class ObjReader {
 public:
  ObjReader(ByteView bytes, const std::filesystem::path& path) : lines_(bytes), path_(path) {}

  Result<Delivery> read(const ImportOptions& options) {
    while (auto line = lines_.next_continued())
      if (auto done = read_line(*line); !done) return tl::unexpected(done.error());
    if (positions_.empty()) return fail("There are no vertices in this file.");
    convert_positions(positions_, options, 1, UpAxis::Y);
    return deliver();
  }

 private:
  Result<void> bad(std::string what) const {
    return fail(std::move(what), fmt::format("{}, line {}", path_.filename().string(), lines_.number()));
  }

  Result<void> read_line(std::string_view line) {
    const std::string_view word = take_word(line);
    if (word == "v") {
      Vec3 p;
      for (int i = 0; i < 3; ++i)
        if (!take_number(line, p[i])) return bad("A vertex needs three numbers.");
      positions_.push_back(p);
    } else if (word == "f") {
      return read_face(line);
    } else if (word == "o" || word == "g") {
      const std::string_view name = trim(line);
      start_group(name.empty() ? "Part" : std::string(name));
    } else if (word == "usemtl") {
      material_ = shortened(trim(line), kLongestMaterialName);
    } else if (word == "mtllib") {
      read_materials(std::string(trim(line)));
    }
    return {};
  }

  void start_group(std::string name) {
    // Faces of a group that is named again belong to it, wherever they stand.
    const auto [at, fresh] = group_by_name_.try_emplace(name, groups_.size());
    if (fresh) groups_.push_back({std::move(name), {}, {}});
    current_ = at->second;
  }

  Result<void> read_face(std::string_view line) {
    corners_.clear();
    for (std::string_view word = take_word(line); !word.empty(); word = take_word(line)) {
      long long number = 0;
      const auto [end, error] = std::from_chars(word.data(), word.data() + word.size(), number);
      if (error != std::errc{} || (end != word.data() + word.size() && *end != '/'))
        return bad(fmt::format("\"{}\" is not a face corner.", std::string(word.substr(0, 40))));
      const auto count = static_cast<long long>(positions_.size());
      const long long index = number < 0 ? count + number : number - 1;
      if (index < 0 || index >= count)
        return bad(fmt::format("The face names vertex {}, but there are {} so far.", number, count));
      corners_.push_back(static_cast<std::uint32_t>(index));
    }
    if (corners_.size() < 3) return bad("A face needs at least three corners.");
    if (corners_.size() > 100000) return bad("A face has more than 100000 corners.");
    if (current_ == kNone) start_group(path_.stem().string());
    NamedGroup& group = groups_[current_];
    if (group.materials.empty() || group.materials.back().first != material_)
      group.materials.emplace_back(material_, static_cast<std::uint32_t>(group.triangles.size()));
    triangulate(positions_, corners_, group.triangles);
    return {};
  }

  // A missing or damaged material file costs the colours, not the import.
  void read_materials(const std::string& name) {
    const std::filesystem::path file(name);
    if (file.is_absolute() || name.find("..") != std::string::npos) return;
    const auto bytes = read_file(path_.parent_path() / file, 64u << 20);
    if (!bytes) {
      notes_.push_back(fmt::format("The material file {} could not be read; parts keep a plain colour.", name));
      return;
    }
    Lines lines(*bytes);
    Colour* colour = nullptr;
    while (auto line = lines.next_continued()) {
      const std::string_view word = take_word(*line);
      double r = 0, g = 0, b = 0;
      if (word == "newmtl") colour = &colours_[shortened(trim(*line), kLongestMaterialName)];
      if (!colour) continue;
      if (word == "Kd" && take_number(*line, r) && take_number(*line, g) && take_number(*line, b)) {
        const auto channel = [](double v) { return static_cast<float>(std::clamp(v, 0.0, 1.0)); };
        *colour = {channel(r), channel(g), channel(b), colour->a};
      }
      if (word == "d" && take_number(*line, r)) colour->a = static_cast<float>(std::clamp(r, 0.05, 1.0));
    }
  }

  Result<Delivery> deliver() {
    Delivery delivery;
    delivery.notes = notes_;
    for (const auto& [name, colour] : colours_) delivery.colours.push_back({name, colour, {}, name, colour});
    std::erase_if(groups_, [](const NamedGroup& g) { return g.triangles.empty(); });
    if (groups_.empty()) groups_.push_back({path_.stem().string(), {}, {}});  // points only
    std::vector<std::uint32_t> renumbered(positions_.size());
    for (NamedGroup& group : groups_) {
      MeshData mesh;
      DeliveredPart part;
      part.name = group.name;
      part.mesh = static_cast<int>(delivery.meshes.size());
      if (groups_.size() == 1) {
        mesh.positions = std::move(positions_);
        mesh.triangles = std::move(group.triangles);
      } else {
        std::fill(renumbered.begin(), renumbered.end(), kUnused);
        // A part's vertices keep the order of the file: their numbers are what addresses name.
        for (const Triangle& t : group.triangles)
          for (const std::uint32_t v : t) renumbered[v] = 0;
        for (std::size_t v = 0; v < renumbered.size(); ++v) {
          if (renumbered[v] == kUnused) continue;
          renumbered[v] = static_cast<std::uint32_t>(mesh.positions.size());
          mesh.positions.push_back(positions_[v]);
        }
        for (Triangle& t : group.triangles)
          for (std::uint32_t& v : t) v = renumbered[v];
        mesh.triangles = std::move(group.triangles);
      }
      add_primitives(group, mesh, part);
      delivery.meshes.push_back(std::move(mesh));
      delivery.parts.push_back(std::move(part));
    }
    return delivery;
  }

  // One primitive for each run of a material. Vertices stay where they are, so only a mesh of one material can say
  // which vertices are whose; the first primitive takes them all.
  void add_primitives(const NamedGroup& group, MeshData& mesh, DeliveredPart& part) const {
    const auto vertices = static_cast<std::uint32_t>(mesh.positions.size());
    const auto triangles = static_cast<std::uint32_t>(mesh.triangles.size());
    for (std::size_t i = 0; i < group.materials.size(); ++i) {
      const std::uint32_t first = group.materials[i].second;
      const std::uint32_t end = i + 1 < group.materials.size() ? group.materials[i + 1].second : triangles;
      mesh.primitives.push_back({i == 0 ? 0 : vertices, i == 0 ? vertices : 0, first, end - first});
      const auto colour = colours_.find(group.materials[i].first);
      part.colours.push_back(colour == colours_.end() ? Colour{} : colour->second);
      part.named.push_back(colour == colours_.end() ? -1 : static_cast<int>(std::distance(colours_.begin(), colour)));
    }
    if (part.colours.empty()) part.colours.emplace_back();
  }

  static constexpr std::size_t kNone = static_cast<std::size_t>(-1);
  static constexpr std::uint32_t kUnused = 0xFFFFFFFF;

  Lines lines_;
  const std::filesystem::path& path_;
  std::vector<Vec3> positions_;
  std::vector<NamedGroup> groups_;
  std::map<std::string, std::size_t> group_by_name_;
  std::size_t current_ = kNone;
  std::string material_;
  std::map<std::string, Colour> colours_;
  std::vector<std::uint32_t> corners_;
  std::vector<std::string> notes_;
};

}  // namespace

Result<Delivery> read_obj(ByteView bytes, const std::filesystem::path& path, const ImportOptions& options) {
  return ObjReader(bytes, path).read(options);
}

}  // namespace tack
