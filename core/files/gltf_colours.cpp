#include "core/files/gltf_colours.h"

#include <fmt/format.h>

#include <set>

#include "core/printable.h"

namespace tack {
namespace {

constexpr std::size_t kLongestColourName = 200;  // bytes
constexpr std::size_t kMostColours = 10000;

// The four numbers of a material's base colour; null when it has none that can be read.
const Json* base_colour(const Json& material) {
  if (!material.is_object() || !material.contains("pbrMetallicRoughness")) return nullptr;
  const Json& pbr = material["pbrMetallicRoughness"];
  if (!pbr.is_object() || !pbr.contains("baseColorFactor")) return nullptr;
  const Json& f = pbr["baseColorFactor"];
  const bool good =
      f.is_array() && f.size() == 4 && std::all_of(f.begin(), f.end(), [](const Json& v) { return v.is_number(); });
  return good ? &f : nullptr;
}

std::string name_in(const Json& object, const char* key = "name") {
  const bool named = object.is_object() && object.contains(key) && object[key].is_string();
  return named ? shortened(object[key].get<std::string>(), kLongestColourName) : std::string{};
}

// What plain_material() is called where a colour has no name: "Colour c87a5a".
bool is_nameless(const std::string& name) {
  constexpr std::string_view kStem = "Colour ";
  return name.size() == kStem.size() + 6 && name.starts_with(kStem) &&
         name.find_first_not_of("0123456789abcdef", kStem.size()) == std::string::npos;
}

// Whether a material, or one of its extensions, has a picture: an object under a key that ends in "exture".
bool is_textured(const Json& json) {
  if (json.is_array()) return std::any_of(json.begin(), json.end(), is_textured);
  if (!json.is_object()) return false;
  for (const auto& [key, value] : json.items())
    if (key != "extras" && ((key.ends_with("exture") && value.is_object()) || is_textured(value))) return true;
  return false;
}

class ColourList {
 public:
  explicit ColourList(const Json& json) : json_(json) {
    if (json.contains("materials") && json["materials"].is_array()) count_ = json["materials"].size();
  }

  std::size_t count() const { return count_; }
  // A material under a name. Where it looks like `with`, it is the same colour.
  void add(std::size_t material, const std::string& wanted, std::optional<std::size_t> with = std::nullopt) {
    if (list_.size() >= kMostColours || !used_.insert(material).second) return;
    const Colour colour = colour_of_material(json_["materials"][material]);
    if (with && list_[*with].colour == colour) return list_[*with].materials.push_back(static_cast<int>(material));
    const std::string name = names_.take(wanted);
    const bool textured = is_textured(json_["materials"][material]);
    list_.push_back({name, colour, {static_cast<int>(material)}, name, colour, textured});
  }
  std::size_t size() const { return list_.size(); }
  std::string own_name(std::size_t material) const { return name_in(json_["materials"][material]); }
  std::vector<NamedColour> take() { return std::move(list_); }

 private:
  const Json& json_;
  std::size_t count_ = 0;
  std::vector<NamedColour> list_;
  std::set<std::size_t> used_;
  FreeNames names_{Scene{}, kNoPart};  // counts on: thousands of materials may have one name
};

}  // namespace

float srgb_of(double linear) {
  const double v = std::clamp(linear, 0.0, 1.0);
  return static_cast<float>(v <= 0.0031308 ? 12.92 * v : 1.055 * std::pow(v, 1 / 2.4) - 0.055);
}

double linear_of_srgb(float value) {
  const double v = value;
  return v <= 0.04045 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4);
}

Colour colour_of_material(const Json& material) {
  Colour colour{1, 1, 1, 1};
  const Json* f = base_colour(material);
  if (!f) return colour;
  colour = {srgb_of((*f)[0].get<double>()), srgb_of((*f)[1].get<double>()), srgb_of((*f)[2].get<double>()), 1};
  if (material.contains("alphaMode") && material["alphaMode"] == "BLEND")
    colour.a = static_cast<float>(std::clamp((*f)[3].get<double>(), 0.05, 1.0));
  return colour;
}

Json plain_material(const std::string& name, const Colour& c) {
  Json material{{"name", name}};
  material["pbrMetallicRoughness"] = {
      {"baseColorFactor", Json::array({linear_of_srgb(c.r), linear_of_srgb(c.g), linear_of_srgb(c.b), double(c.a)})},
      {"metallicFactor", 0.0},
      {"roughnessFactor", 0.8}};
  if (c.a < 1) material["alphaMode"] = "BLEND";
  return material;
}

void set_base_colour(Json& material, const Colour& c) {
  const Json* had = base_colour(material);
  const double alpha = had ? (*had)[3].get<double>() : double(c.a);
  Json& pbr = material["pbrMetallicRoughness"];
  if (!pbr.is_object()) pbr = Json::object();
  pbr["baseColorFactor"] = Json::array({linear_of_srgb(c.r), linear_of_srgb(c.g), linear_of_srgb(c.b), alpha});
}

std::vector<NamedColour> colours_from(const Json& json, const Json* layout) {
  ColourList list(json);
  if (!layout || !layout->contains("colours") || !(*layout)["colours"].is_array()) {
    for (std::size_t i = 0; i < list.count(); ++i) {
      const std::string name = list.own_name(i);
      if (!is_nameless(name)) list.add(i, name.empty() ? fmt::format("Material {}", i + 1) : name);
    }
    return list.take();
  }
  for (const Json& entry : (*layout)["colours"]) {
    if (!entry.is_object() || !entry.contains("materials") || !entry["materials"].is_array()) continue;
    const std::string name = name_in(entry), own_then = entry.contains("own") ? name_in(entry, "own") : name;
    std::optional<std::size_t> first;
    for (const Json& number : entry["materials"]) {
      if (!number.is_number_unsigned() || number.get<std::uint64_t>() >= list.count()) continue;
      const auto material = number.get<std::size_t>();
      // Another program may have given it another name since; that one counts.
      const std::string own = list.own_name(material);
      const bool renamed = own != own_then && !own.empty();
      const std::size_t before = list.size();
      list.add(material, renamed ? own : name.empty() ? fmt::format("Material {}", material + 1) : name, first);
      if (!first && list.size() > before) first = before;
    }
  }
  return list.take();
}

void write_changes(Json& json, const std::vector<NamedColour>& colours) {
  for (const NamedColour& colour : colours)
    for (const int number : colour.materials) {
      Json& material = json["materials"][static_cast<std::size_t>(number)];
      if (colour.colour != colour.colour_then) set_base_colour(material, colour.colour);
      if (colour.name != colour.name_then) material["name"] = colour.name;
    }
}

}  // namespace tack
