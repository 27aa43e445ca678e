// Wavefront OBJ: positions in double, objects and groups as parts, polygons of any number of corners; texture places,
// normals, vertex colours, colours and pictures from MTL.
#include <fmt/format.h>

#include <charconv>
#include <map>

#include "core/files/axes_comment.h"
#include "core/files/delivery.h"
#include "core/files/gltf_colours.h"
#include "core/files/gltf_make.h"
#include "core/files/scanner.h"
#include "core/mesh/triangulate.h"
#include "core/printable.h"

namespace tack {
namespace {

constexpr std::uint32_t kNone = 0xFFFFFFFF;

// Numbers into the file's lists of places and normals, for the corners of a triangle.
struct Corners {
  std::array<std::uint32_t, 3> place{kNone, kNone, kNone}, normal{kNone, kNone, kNone};
  friend bool operator==(const Corners&, const Corners&) = default;
};

struct Group {
  std::string object, name;                                        // as the file has them
  std::vector<Triangle> triangles;                                 // of file vertices
  std::vector<Corners> corners;                                    // one for each, or none at all
  std::vector<std::pair<std::uint32_t, std::uint32_t>> materials;  // number of its name, first triangle
};

struct Material {
  Colour colour;
  std::string picture;
};

class ObjReader {
 public:
  ObjReader(std::string_view text, const std::filesystem::path& path, const Around& around)
      : lines_(text), path_(path), around_(around) {}

  Result<Delivery> read(const ImportOptions& options) {
    while (auto line = lines_.next_continued()) {
      if (auto done = read_line(*line); !done) return tl::unexpected(done.error());
      if (lines_.number() % 65536 == 0) around_.done(0.8 * lines_.share());
    }
    if (positions_.empty()) return fail("There are no vertices in this file.");
    if (places_.size() > kNone - 1 || normals_.size() > kNone - 1)
      return fail("There are too many corners in this file.");
    convert(options);
    return deliver();
  }

 private:
  Result<void> bad(std::string what) const {
    return fail(std::move(what), fmt::format("{}, line {}", path_.filename().string(), lines_.number()));
  }

  Result<void> read_line(std::string_view line) {
    if (line.starts_with('#'))
      if (const auto axes = axes_in_comment(line)) axes_ = *axes;
    line = without_comment(line);
    const std::string_view word = take_word(line);
    if (word.empty()) return {};
    if (word == "v") return read_vertex(line);
    if (word == "f" || word == "fo") return read_face(line);
    if (word == "vt") {
      std::array<double, 2> place{};
      if (!take_number(line, place[0])) return bad("A texture vertex needs a number.");
      take_number(line, place[1]);
      places_.push_back({static_cast<float>(place[0]), static_cast<float>(1 - place[1])});
    } else if (word == "vn") {
      Vec3 n;
      for (int i = 0; i < 3; ++i)
        if (!take_number(line, n[i])) return bad("A normal needs three numbers.");
      normals_.push_back(n);
    } else if (word == "o" || word == "g") {
      std::string name(trim(line));
      if (word == "o")
        object_ = std::move(name), group_.clear();
      else
        group_ = std::move(name);
      current_ = kNone;
    } else if (word == "usemtl") {
      const auto [at, fresh] =
          material_number_.try_emplace(shortened(trim(line), 200), static_cast<std::uint32_t>(material_names_.size()));
      if (fresh) material_names_.push_back(at->first);
      material_ = at->second;
    } else if (word == "mtllib") {
      read_libraries(std::string(trim(line)));
    } else if (word == "l") {
      ++lines_left_out_;
    } else if (word == "curv" || word == "curv2" || word == "surf") {
      ++curves_left_out_;
    }
    return {};
  }

  Result<void> read_vertex(std::string_view line) {
    Vec3 p;
    for (int i = 0; i < 3; ++i)
      if (!take_number(line, p[i])) return bad("A vertex needs three numbers.");
    positions_.push_back(p);
    // A fourth number is a weight; three or more behind the place are a colour.
    std::array<double, 4> more{};
    std::size_t count = 0;
    while (count < 4 && take_number(line, more[count])) ++count;
    if (!trim(line).empty()) return bad("A vertex has something behind its numbers that is none.");
    if (count < 3) return {};
    const std::size_t first = count - 3;
    colours_.resize(positions_.size() - 1, {1, 1, 1, 1});
    std::array<float, 4> colour{1, 1, 1, 1};
    for (std::size_t i = 0; i < 3; ++i)
      colour[i] = static_cast<float>(linear_of_srgb(static_cast<float>(std::clamp(more[first + i], 0.0, 1.0))));
    colours_.push_back(colour);
    return {};
  }

  // One number of a corner: 1 is the first of `count`, −1 the last; kNone for what is not there.
  static bool take_index(const char*& at, const char* end, std::size_t count, std::uint32_t& index) {
    long long number = 0;
    const auto [stop, error] = std::from_chars(at, end, number);
    if (error != std::errc{}) return false;
    at = stop;
    const long long found = number < 0 ? static_cast<long long>(count) + number : number - 1;
    index =
        number == 0 || found < 0 || found >= static_cast<long long>(count) ? kNone : static_cast<std::uint32_t>(found);
    return true;
  }

  Result<void> read_face(std::string_view line) {
    corners_.clear();
    corner_extras_.clear();
    bool extras = false;
    for (std::string_view word = take_word(line); !word.empty(); word = take_word(line)) {
      const char *at = word.data(), *const end = at + word.size();
      std::uint32_t vertex = 0, place = kNone, normal = kNone;
      if (!take_index(at, end, positions_.size(), vertex) || vertex == kNone) return bad(wrong_corner(word));
      if (at != end && *at == '/') {
        ++at;
        if (at != end && *at != '/') {
          if (!take_index(at, end, places_.size(), place)) return bad(wrong_corner(word));
          loose_ += place == kNone;
        }
        if (at != end && *at == '/') {
          ++at;
          if (at != end) {
            if (!take_index(at, end, normals_.size(), normal)) return bad(wrong_corner(word));
            loose_ += normal == kNone;
          }
        }
      }
      if (at != end) return bad(wrong_corner(word));
      corners_.push_back(vertex);
      corner_extras_.emplace_back(place, normal);
      extras |= place != kNone || normal != kNone;
    }
    if (corners_.size() < 3) return bad("A face needs at least three corners.");
    if (corners_.size() > 1'000'000) return bad("A face has more than a million corners.");
    Group& group = current_group();
    if (group.materials.empty() || group.materials.back().first != material_)
      group.materials.emplace_back(material_, static_cast<std::uint32_t>(group.triangles.size()));
    if (!extras && group.corners.empty()) {
      triangulate(positions_, corners_, group.triangles);
      return {};
    }
    group.corners.resize(group.triangles.size());
    const std::size_t first = group.triangles.size();
    triangulate_places(positions_, corners_, group.triangles);
    for (std::size_t t = first; t < group.triangles.size(); ++t) {
      Corners c;
      for (std::size_t k = 0; k < 3; ++k) {
        std::uint32_t& place = group.triangles[t][k];
        std::tie(c.place[k], c.normal[k]) = corner_extras_[place];
        place = corners_[place];
      }
      group.corners.push_back(c);
    }
    return {};
  }

  std::string wrong_corner(std::string_view word) const {
    return fmt::format(
        "\"{}\" is not a corner of a face: there are {} vertices, {} texture vertices and {} normals so far.",
        printable(word, 40), positions_.size(), places_.size(), normals_.size());
  }

  // Faces of a group that is named again belong to it, wherever they stand.
  Group& current_group() {
    if (current_ == kNone) {
      const auto [at, fresh] =
          group_by_name_.try_emplace({object_, group_}, static_cast<std::uint32_t>(groups_.size()));
      if (fresh) groups_.push_back({object_, group_, {}, {}, {}});
      current_ = at->second;
    }
    return groups_[current_];
  }

  // One name with spaces in it, or several names.
  void read_libraries(const std::string& names) {
    if (names.find_first_of(" \t") == std::string::npos) return read_library(names, true);
    if (around_.beside(names)) return read_library(names, true);
    std::string_view rest = names;
    for (std::string_view name = take_word(rest); !name.empty(); name = take_word(rest))
      read_library(std::string(name), true);
  }

  // A missing or damaged material file costs the colours, not the import.
  void read_library(std::string name, bool say) {
    std::replace(name.begin(), name.end(), '\\', '/');
    const auto bytes = around_.beside(name);
    const auto text = bytes ? text_of(*bytes) : fail("");
    if (!text) {
      if (say)
        notes_.push_back(
            fmt::format("The material file {} could not be read; parts keep a plain colour.", printable(name, 200)));
      return;
    }
    Lines lines(*text);
    Material* material = nullptr;
    while (auto raw = lines.next_continued()) {
      std::string_view line = without_comment(*raw);
      const std::string_view word = take_word(line);
      double r = 0, g = 0, b = 0;
      if (word == "newmtl") material = &library_[shortened(trim(line), 200)];
      if (!material) continue;
      if (word == "Kd" && take_number(line, r) && take_number(line, g) && take_number(line, b)) {
        const auto channel = [](double v) { return static_cast<float>(std::clamp(v, 0.0, 1.0)); };
        material->colour = {channel(r), channel(g), channel(b), material->colour.a};
      } else if (word == "d" && take_number(line, r)) {
        material->colour.a = static_cast<float>(std::clamp(r, 0.05, 1.0));
      } else if (word == "Tr" && take_number(line, r)) {
        material->colour.a = static_cast<float>(std::clamp(1 - r, 0.05, 1.0));
      } else if (word == "map_Kd") {
        material->picture = picture_in(line);
      }
    }
  }

  // The name behind the options: -word with numbers or on and off behind it.
  static std::string picture_in(std::string_view line) {
    line = trim(line);
    while (line.starts_with('-')) {
      take_word(line);
      for (;;) {
        std::string_view rest = line;
        double number = 0;
        const std::string_view next = take_word(rest);
        std::string_view as_number = next;
        const bool value = next == "on" || next == "off" || take_number(as_number, number);
        if (!value || trim(rest).empty()) break;
        line = rest;
      }
      line = trim(line);
    }
    return std::string(line);
  }

  void convert(const ImportOptions& options) {
    read_as_ = axes_for(options, axes_, {1, UpAxis::Y});
    convert_positions(positions_, read_as_);
    if (read_as_.up == UpAxis::Y)
      for (Vec3& n : normals_) n = {n.x, -n.z, n.y};
  }

  // An object with one group in it is a part by the object's name. With several it is a part above them, which has the
  // faces that are in no group.
  struct Named {
    std::string name;
    std::string above;  // the object's, where that is another part
  };
  std::vector<Named> names_of_groups() {
    std::map<std::string, int> in_object;
    for (const Group& group : groups_)
      if (!group.object.empty()) ++in_object[group.object];
    // Parents come before children.
    std::map<std::string, std::size_t> first;
    for (std::size_t g = 0; g < groups_.size(); ++g) first.try_emplace(groups_[g].object, g);
    for (std::size_t g = 0; g < groups_.size(); ++g)
      if (groups_[g].name.empty() && !groups_[g].object.empty())
        std::rotate(groups_.begin() + static_cast<std::ptrdiff_t>(first[groups_[g].object]),
                    groups_.begin() + static_cast<std::ptrdiff_t>(g),
                    groups_.begin() + static_cast<std::ptrdiff_t>(g) + 1);
    std::vector<Named> names;
    const std::string file = path_.stem().string();
    for (const Group& group : groups_) {
      const std::string& own = group.name.empty() ? group.object : group.name;
      if (group.object.empty())
        names.push_back({own.empty() ? file : own, {}});
      else if (in_object[group.object] == 1 || group.name.empty())
        names.push_back({group.object, {}});
      else
        names.push_back({own, group.object});
    }
    return names;
  }

  Result<Delivery> deliver() {
    Delivery delivery;
    delivery.read_as = read_as_;
    std::erase_if(groups_, [](const Group& g) { return g.triangles.empty(); });
    if (groups_.empty()) groups_.push_back({{}, path_.stem().string(), {}, {}, {}});  // points only
    const bool points_only = groups_.size() == 1 && groups_.front().triangles.empty();
    const std::vector<Named> names = names_of_groups();
    collect_materials(delivery);
    std::map<std::string, std::uint32_t> above;
    std::vector<std::uint32_t> used_by(positions_.size(), kNone), number(positions_.size());
    bool all_used = groups_.size() == 1;
    for (std::size_t g = 0; g < groups_.size(); ++g) {
      Group& group = groups_[g];
      DeliveredPart part;
      part.name = names[g].name;
      if (names[g].above.empty()) {
        // It may be what other groups of its object stand below.
        if (!group.object.empty())
          above.try_emplace(group.object, static_cast<std::uint32_t>(delivery.parts.size() + 1));
      } else {
        const auto [at, fresh] = above.try_emplace(names[g].above, 0);
        if (fresh) {
          DeliveredPart object;
          object.name = names[g].above;
          delivery.parts.push_back(std::move(object));
          at->second = static_cast<std::uint32_t>(delivery.parts.size());
        }
        part.parent = at->second;
      }
      // A part's vertices keep the order of the file: their numbers are what addresses name.
      std::vector<std::uint32_t> used;
      if (!points_only) {
        for (const Triangle& t : group.triangles)
          for (const std::uint32_t v : t)
            if (used_by[v] != g) {
              used_by[v] = static_cast<std::uint32_t>(g);
              used.push_back(v);
            }
        std::sort(used.begin(), used.end());
        all_used = all_used && used.size() == positions_.size();
      }
      MeshData mesh;
      MeshExtras extras;
      if (points_only || all_used) {
        mesh.positions = std::move(positions_);
        if (!colours_.empty())
          colours_.resize(mesh.positions.size(), {1, 1, 1, 1}), extras.colours = std::move(colours_);
      } else {
        mesh.positions.reserve(used.size());
        for (std::size_t i = 0; i < used.size(); ++i) {
          number[used[i]] = static_cast<std::uint32_t>(i);
          mesh.positions.push_back(positions_[used[i]]);
          if (!colours_.empty())
            extras.colours.push_back(used[i] < colours_.size() ? colours_[used[i]] : std::array<float, 4>{1, 1, 1, 1});
        }
        for (Triangle& t : group.triangles)
          for (std::uint32_t& v : t) v = number[v];
      }
      mesh.triangles = std::move(group.triangles);
      if (!group.corners.empty()) spread_corners(group, mesh, extras);
      add_primitives(group, mesh, part);
      if (!extras.empty() || any_picture_) carry(delivery, part, mesh, extras);
      part.mesh = static_cast<int>(delivery.meshes.size());
      delivery.meshes.push_back(spans_of(std::move(mesh)));
      delivery.parts.push_back(std::move(part));
      around_.done(0.8 + 0.2 * static_cast<double>(g + 1) / static_cast<double>(groups_.size()));
    }
    if (!json_.empty()) {
      auto carried = std::make_shared<CarriedDocument>();
      if (!binary_.empty()) json_["buffers"] = Json::array({Json{{"byteLength", binary_.size()}}});
      json_["asset"] = {{"version", "2.0"}};
      carried->json = std::move(json_);
      carried->binary = std::exchange(binary_, {}).whole();
      delivery.carried = std::move(carried);
    }
    say_what_is_left_out(delivery);
    return delivery;
  }

  void say_what_is_left_out(Delivery& delivery) {
    delivery.notes = notes_;
    std::string what;
    const auto say = [&](std::size_t count, const char* one, const char* several) {
      if (count == 0) return;
      what += (what.empty() ? "" : " and ") + fmt::format("{} {}", count, count == 1 ? one : several);
    };
    say(lines_left_out_, "line", "lines");
    say(curves_left_out_, "curve or surface", "curves and surfaces");
    if (!what.empty()) delivery.notes.push_back(fmt::format("Left out: {}; parts are made of faces.", what));
    if (loose_ > 0)
      delivery.notes.push_back(fmt::format(
          "Corners name texture vertices or normals that are not there, {} times; they have none.", loose_));
  }

  // Each corner with places or normals of its own becomes a vertex: the first of a position keeps its number, further
  // ones come behind all the others.
  void spread_corners(const Group& group, MeshData& mesh, MeshExtras& extras) {
    const bool places = std::any_of(group.corners.begin(), group.corners.end(), [](const Corners& c) {
      return c.place[0] != kNone || c.place[1] != kNone || c.place[2] != kNone;
    });
    const bool normals = std::all_of(group.corners.begin(), group.corners.end(),
                                     [](const Corners& c) {
                                       return c.normal[0] != kNone && c.normal[1] != kNone && c.normal[2] != kNone;
                                     }) &&
                         group.corners.size() == mesh.triangles.size();
    struct Variant {
      std::uint32_t place, normal, next;
      bool taken;
    };
    std::vector<Variant> variants(mesh.positions.size(), {kNone, kNone, kNone, false});
    for (std::size_t t = 0; t < mesh.triangles.size(); ++t)
      for (std::size_t k = 0; k < 3; ++k) {
        const Corners own = t < group.corners.size() ? group.corners[t] : Corners{};
        const std::uint32_t place = places ? own.place[k] : kNone, normal = normals ? own.normal[k] : kNone;
        std::uint32_t& v = mesh.triangles[t][k];
        for (;;) {
          Variant& known = variants[v];
          if (!known.taken) {
            known = {place, normal, kNone, true};
            break;
          }
          if (known.place == place && known.normal == normal) break;
          if (known.next == kNone) {
            known.next = static_cast<std::uint32_t>(variants.size());
            const std::uint32_t from = v;
            v = known.next;
            variants.push_back({place, normal, kNone, true});
            mesh.positions.push_back(Vec3(mesh.positions[from]));
            if (!extras.colours.empty()) extras.colours.push_back(std::array<float, 4>(extras.colours[from]));
            break;
          }
          v = known.next;
        }
      }
    if (places) {
      extras.places.resize(variants.size(), {0, 0});
      for (std::size_t v = 0; v < variants.size(); ++v)
        if (variants[v].place != kNone) extras.places[v] = places_[variants[v].place];
    }
    if (normals) {
      mesh.normals.resize(variants.size(), {0, 0, 1});
      for (std::size_t v = 0; v < variants.size(); ++v)
        if (variants[v].normal != kNone) {
          const Vec3 n = normalized(normals_[variants[v].normal]);
          mesh.normals[v] = {static_cast<float>(n.x), static_cast<float>(n.y), static_cast<float>(n.z)};
        }
    }
  }

  void collect_materials(Delivery& delivery) {
    for (const auto& [name, material] : library_) {
      delivery.colours.push_back({name, material.colour, {}, name, material.colour});
      any_picture_ |= !material.picture.empty();
    }
  }

  // One primitive for each run of a material. Vertices stay where they are, so only a mesh of one material can say
  // which vertices are whose; the first primitive takes them all. Where materials change all the time, triangles are
  // sorted by them instead.
  void add_primitives(Group& group, MeshData& mesh, DeliveredPart& part) {
    constexpr std::size_t kMostRuns = 256;
    if (group.materials.size() > kMostRuns) sort_by_material(group, mesh);
    const auto vertices = static_cast<std::uint32_t>(mesh.positions.size());
    const auto triangles = static_cast<std::uint32_t>(mesh.triangles.size());
    for (std::size_t i = 0; i < group.materials.size(); ++i) {
      const std::uint32_t first = group.materials[i].second;
      const std::uint32_t end = i + 1 < group.materials.size() ? group.materials[i + 1].second : triangles;
      mesh.primitives.push_back({i == 0 ? 0 : vertices, i == 0 ? vertices : 0, first, end - first});
      const auto found =
          group.materials[i].first == kNone ? library_.end() : library_.find(material_names_[group.materials[i].first]);
      part.colours.push_back(found == library_.end() ? Colour{} : found->second.colour);
      part.named.push_back(found == library_.end() ? -1 : static_cast<int>(std::distance(library_.begin(), found)));
    }
    if (part.colours.empty()) part.colours.emplace_back();
  }

  static void sort_by_material(Group& group, MeshData& mesh) {
    const auto total = static_cast<std::uint32_t>(mesh.triangles.size());
    std::map<std::uint32_t, std::vector<Triangle>> by_material;
    for (std::size_t i = 0; i < group.materials.size(); ++i) {
      const std::uint32_t end = i + 1 < group.materials.size() ? group.materials[i + 1].second : total;
      auto& all = by_material[group.materials[i].first];
      all.insert(all.end(), mesh.triangles.begin() + group.materials[i].second, mesh.triangles.begin() + end);
    }
    mesh.triangles.clear();
    group.materials.clear();
    for (auto& [material, all] : by_material) {
      group.materials.emplace_back(material, static_cast<std::uint32_t>(mesh.triangles.size()));
      mesh.triangles.insert(mesh.triangles.end(), all.begin(), all.end());
    }
  }

  // The part's mesh as that of a glTF, with what our own meshes have no place for.
  void carry(Delivery& delivery, DeliveredPart& part, const MeshData& mesh, const MeshExtras& extras) {
    GltfArrays arrays(json_, binary_);
    if (!json_.contains("meshes")) {
      json_["meshes"] = Json::array();
      json_["materials"] = Json::array();
      Pictures pictures(json_, binary_, around_.beside, notes_);
      for (NamedColour& colour : delivery.colours) {
        Json material = plain_material(colour.name, colour.colour);
        const std::string& picture = library_.at(colour.name).picture;
        if (const int texture = picture.empty() ? -1 : pictures.texture(picture); texture >= 0) {
          material["pbrMetallicRoughness"]["baseColorTexture"] = {{"index", texture}};
          colour.textured = true;
        }
        colour.materials = {static_cast<int>(json_["materials"].size())};
        json_["materials"].push_back(std::move(material));
      }
    }
    Json written = geometry_of(arrays, mesh.positions, mesh.triangles, mesh.normals, mesh.primitives, extras);
    written["name"] = part.name;
    for (std::size_t i = 0; i < written["primitives"].size(); ++i)
      if (part.named[i] >= 0)
        written["primitives"][i]["material"] = delivery.colours[static_cast<std::size_t>(part.named[i])].materials[0];
    if (written.contains("extensions")) json_["extensionsUsed"] = Json::array({"TACKPOINT_mesh"});
    part.carried_mesh = static_cast<int>(json_["meshes"].size());
    json_["meshes"].push_back(std::move(written));
  }

  Lines lines_;
  const std::filesystem::path& path_;
  const Around& around_;
  std::optional<FileAxes> axes_;
  FileAxes read_as_;
  std::vector<Vec3> positions_, normals_;
  std::vector<std::array<float, 2>> places_;
  std::vector<std::array<float, 4>> colours_;
  std::vector<Group> groups_;
  std::map<std::pair<std::string, std::string>, std::uint32_t> group_by_name_;
  std::string object_, group_;
  std::uint32_t current_ = kNone, material_ = kNone;
  std::map<std::string, std::uint32_t> material_number_;
  std::vector<std::string> material_names_;
  std::map<std::string, Material> library_;
  bool any_picture_ = false;
  std::vector<std::uint32_t> corners_;
  std::vector<std::pair<std::uint32_t, std::uint32_t>> corner_extras_;
  std::size_t lines_left_out_ = 0, curves_left_out_ = 0, loose_ = 0;
  std::vector<std::string> notes_;
  Json json_;
  ByteRuns binary_;
};

}  // namespace

Result<Delivery> read_obj(ByteView bytes, const std::filesystem::path& path, const ImportOptions& options,
                          const Around& around) {
  const auto text = text_of(bytes);
  if (!text) return tl::unexpected(text.error());
  return ObjReader(*text, path, around).read(options);
}

}  // namespace tack
