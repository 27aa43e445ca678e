// PLY: ASCII and both binary orders, every scalar type, polygons and strips, elements in any order; texture places,
// normals and vertex colours.
#include <fmt/format.h>

#include <algorithm>
#include <bit>
#include <charconv>

#include "core/files/axes_comment.h"
#include "core/files/delivery.h"
#include "core/files/gltf_colours.h"
#include "core/files/gltf_make.h"
#include "core/files/scanner.h"
#include "core/mesh/triangulate.h"
#include "core/printable.h"

namespace tack {
namespace {

enum class Scalar { Int8, UInt8, Int16, UInt16, Int32, UInt32, Float, Double };

struct Property {
  std::string name;
  Scalar type = Scalar::Float;
  bool list = false;
  Scalar count_type = Scalar::UInt8;
};

struct Element {
  std::string name;
  std::uint64_t count = 0;
  std::vector<Property> properties;
};

std::optional<Scalar> scalar_of(std::string_view name) {
  constexpr std::pair<std::string_view, Scalar> kNames[] = {
      {"char", Scalar::Int8},   {"int8", Scalar::Int8},     {"uchar", Scalar::UInt8},   {"uint8", Scalar::UInt8},
      {"short", Scalar::Int16}, {"int16", Scalar::Int16},   {"ushort", Scalar::UInt16}, {"uint16", Scalar::UInt16},
      {"int", Scalar::Int32},   {"int32", Scalar::Int32},   {"uint", Scalar::UInt32},   {"uint32", Scalar::UInt32},
      {"float", Scalar::Float}, {"float32", Scalar::Float}, {"double", Scalar::Double}, {"float64", Scalar::Double}};
  for (const auto& [text, type] : kNames)
    if (text == name) return type;
  return std::nullopt;
}

std::size_t size_of(Scalar type) {
  switch (type) {
    case Scalar::Int8:
    case Scalar::UInt8: return 1;
    case Scalar::Int16:
    case Scalar::UInt16: return 2;
    case Scalar::Double: return 8;
    default: return 4;
  }
}

enum class Encoding { Ascii, Little, Big };

struct Header {
  Encoding encoding = Encoding::Ascii;
  std::vector<Element> elements;
  std::optional<FileAxes> axes;
};

Result<Header> read_header(Lines& lines) {
  Header header;
  bool has_format = false;
  const auto bad = [&](std::string what) { return fail(std::move(what), fmt::format("line {}", lines.number())); };
  if (const auto first = lines.next(); !first || trim(*first) != "ply") return bad("This is not a PLY file.");
  while (auto line = lines.next()) {
    if (lines.number() > 10000) return bad("The header does not end.");
    const std::string_view whole = *line;
    const std::string_view word = take_word(*line);
    if (word == "comment" || word == "obj_info") {
      if (const auto axes = axes_in_comment(whole)) header.axes = *axes;
      continue;
    }
    if (word == "end_header") {
      if (!has_format) return bad("The header does not say how the numbers are written.");
      return header;
    }
    if (word == "format") {
      const std::string_view kind = take_word(*line);
      if (kind == "ascii")
        header.encoding = Encoding::Ascii;
      else if (kind == "binary_little_endian")
        header.encoding = Encoding::Little;
      else if (kind == "binary_big_endian")
        header.encoding = Encoding::Big;
      else
        return bad(fmt::format("\"{}\" is not a PLY format.", printable(kind, 40)));
      has_format = true;
    } else if (word == "element") {
      Element element;
      element.name = std::string(take_word(*line));
      const std::string_view count = take_word(*line);
      const auto [end, error] = std::from_chars(count.data(), count.data() + count.size(), element.count);
      if (error != std::errc{} || count.empty() || end != count.data() + count.size())
        return bad("An element needs a name and a count.");
      header.elements.push_back(std::move(element));
    } else if (word == "property") {
      if (header.elements.empty()) return bad("A property comes before any element.");
      Property property;
      std::string_view type = take_word(*line);
      if (type == "list") {
        property.list = true;
        const auto count_type = scalar_of(take_word(*line));
        if (!count_type) return bad("A list property has an unknown type.");
        property.count_type = *count_type;
        type = take_word(*line);
      }
      const auto scalar = scalar_of(type);
      if (!scalar) return bad(fmt::format("\"{}\" is not a PLY type.", printable(type, 40)));
      property.type = *scalar;
      property.name = std::string(take_word(*line));
      header.elements.back().properties.push_back(std::move(property));
    }
  }
  return bad("The header is cut off.");
}

// What is known of a vertex, by the names that writers use.
enum class Column { None, X, Y, Z, Nx, Ny, Nz, U, V, Red, Green, Blue, Alpha };
Column slot_of(std::string_view name) {
  constexpr std::pair<std::string_view, Column> kSlots[] = {{"x", Column::X},
                                                            {"y", Column::Y},
                                                            {"z", Column::Z},
                                                            {"nx", Column::Nx},
                                                            {"ny", Column::Ny},
                                                            {"nz", Column::Nz},
                                                            {"u", Column::U},
                                                            {"v", Column::V},
                                                            {"s", Column::U},
                                                            {"t", Column::V},
                                                            {"texture_u", Column::U},
                                                            {"texture_v", Column::V},
                                                            {"red", Column::Red},
                                                            {"green", Column::Green},
                                                            {"blue", Column::Blue},
                                                            {"alpha", Column::Alpha},
                                                            {"diffuse_red", Column::Red},
                                                            {"diffuse_green", Column::Green},
                                                            {"diffuse_blue", Column::Blue}};
  for (const auto& [text, slot] : kSlots)
    if (text == name) return slot;
  return Column::None;
}

double full_colour(Scalar type) {
  switch (type) {
    case Scalar::UInt8: return 255;
    case Scalar::UInt16: return 65535;
    case Scalar::UInt32: return 4294967295.0;
    case Scalar::Int8: return 127;
    case Scalar::Int16: return 32767;
    default: return 1;
  }
}

// The numbers of the body one after another, from text or from bytes of either order. In text an element is a line:
// one with too few or too many numbers is refused.
class Body {
 public:
  Body(std::string_view rest, Encoding encoding) : lines_(rest), rest_(rest), encoding_(encoding) {}

  Result<void> begin(const Element& element, std::uint64_t number) {
    if (encoding_ != Encoding::Ascii) return {};
    do {
      const auto line = lines_.next();
      if (!line) return fail(fmt::format("The file is cut off before {} {}.", element.name, number));
      line_ = trim(*line);
    } while (line_.empty());
    return {};
  }
  Result<void> end(const Element& element, std::uint64_t number) const {
    if (encoding_ == Encoding::Ascii && !trim(line_).empty())
      return fail(fmt::format("{} {} has more numbers than the header says.", element.name, number));
    return {};
  }

  bool take(Scalar type, double& value) {
    if (encoding_ == Encoding::Ascii) return take_number(line_, value);
    const std::size_t size = size_of(type);
    if (rest_.size() < size) return false;
    std::array<char, 8> bytes{};
    std::memcpy(bytes.data(), rest_.data(), size);
    if (encoding_ == Encoding::Big) std::reverse(bytes.begin(), bytes.begin() + static_cast<std::ptrdiff_t>(size));
    rest_.remove_prefix(size);
    switch (type) {
      case Scalar::Int8: value = as<std::int8_t>(bytes); break;
      case Scalar::UInt8: value = as<std::uint8_t>(bytes); break;
      case Scalar::Int16: value = as<std::int16_t>(bytes); break;
      case Scalar::UInt16: value = as<std::uint16_t>(bytes); break;
      case Scalar::Int32: value = as<std::int32_t>(bytes); break;
      case Scalar::UInt32: value = as<std::uint32_t>(bytes); break;
      case Scalar::Float: value = as<float>(bytes); break;
      case Scalar::Double: value = as<double>(bytes); break;
    }
    return true;
  }

  std::size_t bytes_left() const { return encoding_ == Encoding::Ascii ? lines_.rest().size() : rest_.size(); }
  // What one entry needs at least: bytes by its types, in text a digit and an end for each number.
  std::uint64_t least_size(const Element& element) const {
    std::uint64_t size = 0;
    for (const Property& p : element.properties)
      size += encoding_ == Encoding::Ascii ? 2 : size_of(p.list ? p.count_type : p.type);
    return std::max<std::uint64_t>(1, encoding_ == Encoding::Ascii ? size - 1 : size);
  }

 private:
  template <typename T>
  static double as(const std::array<char, 8>& bytes) {
    T value;
    std::memcpy(&value, bytes.data(), sizeof value);
    return static_cast<double>(value);
  }

  Lines lines_;
  std::string_view line_, rest_;
  Encoding encoding_;
};

class PlyReader {
 public:
  PlyReader(std::string_view text, const std::filesystem::path& path, const Around& around)
      : text_(text), path_(path), around_(around) {}

  Result<Delivery> read(const ImportOptions& options) {
    Lines lines(text_);
    const auto header = read_header(lines);
    if (!header) return tl::unexpected(header.error());
    // Faces may come before the vertices that they name: those are looked for first.
    const auto is_vertex = [](const Element& e) { return e.name == "vertex"; };
    const auto vertices = std::find_if(header->elements.begin(), header->elements.end(), is_vertex);
    if (vertices == header->elements.end()) return fail("There are no vertices in this file.");
    vertex_count_ = vertices->count;
    Body body(lines.rest(), header->encoding);
    for (const Element& element : header->elements)
      if (const auto done = read_element(element, body); !done) return tl::unexpected(done.error());
    if (mesh_.positions.empty()) return fail("There are no vertices in this file.");
    // Polygons wait until their corners have places.
    for (std::size_t p = 0; p + 1 < polygon_start_.size(); ++p)
      triangulate(mesh_.positions,
                  std::span(polygon_corners_).subspan(polygon_start_[p], polygon_start_[p + 1] - polygon_start_[p]),
                  mesh_.triangles);
    const FileAxes axes = axes_for(options, header->axes, {1, UpAxis::Z});
    convert_positions(mesh_.positions, axes);
    if (axes.up == UpAxis::Y)
      for (auto& n : mesh_.normals) n = {n[0], -n[2], n[1]};
    auto delivery = deliver();
    if (delivery) delivery->read_as = axes;
    return delivery;
  }

 private:
  Result<void> read_element(const Element& element, Body& body) {
    if (element.properties.empty()) return {};
    // A count beyond what the bytes can hold is damage, found before memory is asked for.
    if (element.count > body.bytes_left() / body.least_size(element) + 1)
      return fail(fmt::format("The file is cut off: it says {} of {} and has {} bytes left.", element.count,
                              printable(element.name, 40), body.bytes_left()));
    if (element.name == "vertex") return read_vertices(element, body);
    const bool strips = element.name == "tristrips";
    const bool faces = element.name == "face" || strips;
    for (std::uint64_t i = 0; i < element.count; ++i) {
      if (auto ok = body.begin(element, i); !ok) return ok;
      for (const Property& property : element.properties) {
        const bool corners =
            faces && property.list && (property.name == "vertex_indices" || property.name == "vertex_index");
        if (auto ok = read_property(element, i, property, body, corners); !ok) return ok;
        if (!corners) continue;
        if (strips)
          add_strips();
        else if (auto ok = add_face(i); !ok)
          return ok;
      }
      if (auto ok = body.end(element, i); !ok) return ok;
      if (i % 65536 == 0) around_.done(0.4 + 0.5 * static_cast<double>(i) / static_cast<double>(element.count));
    }
    if (!faces && element.name != "edge") ++left_out_;
    edges_ += element.name == "edge" ? element.count : 0;
    return {};
  }

  Result<void> read_vertices(const Element& element, Body& body) {
    std::vector<Column> slots;
    std::array<bool, 13> has{};
    for (const Property& property : element.properties) {
      slots.push_back(property.list ? Column::None : slot_of(property.name));
      has[static_cast<std::size_t>(slots.back())] = true;
    }
    const auto has_all = [&](std::initializer_list<Column> all) {
      return std::all_of(all.begin(), all.end(), [&](Column s) { return has[static_cast<std::size_t>(s)]; });
    };
    if (!has_all({Column::X, Column::Y, Column::Z})) return fail("The vertices of this file have no x, y and z.");
    const bool normals = has_all({Column::Nx, Column::Ny, Column::Nz}), places = has_all({Column::U, Column::V}),
               colours = has_all({Column::Red, Column::Green, Column::Blue});
    mesh_.positions.reserve(element.count);
    if (normals) mesh_.normals.reserve(element.count);
    for (std::uint64_t i = 0; i < element.count; ++i) {
      if (auto ok = body.begin(element, i); !ok) return ok;
      std::array<double, 13> value{};
      value[static_cast<std::size_t>(Column::Alpha)] = 1;
      for (std::size_t p = 0; p < element.properties.size(); ++p) {
        const Property& property = element.properties[p];
        if (property.list) {
          if (auto ok = read_property(element, i, property, body, false); !ok) return ok;
          continue;
        }
        double v = 0;
        if (!body.take(property.type, v)) return fail(fmt::format("vertex {} is cut off or damaged.", i));
        if (slots[p] >= Column::Red) v = std::clamp(v / full_colour(property.type), 0.0, 1.0);
        if (slots[p] >= Column::Red && !std::isfinite(v))
          return fail(fmt::format("Vertex {} has a colour that is not a number.", i));
        value[static_cast<std::size_t>(slots[p])] = v;
      }
      if (auto ok = body.end(element, i); !ok) return ok;
      const auto at = [&](Column s) { return value[static_cast<std::size_t>(s)]; };
      const Vec3 position{at(Column::X), at(Column::Y), at(Column::Z)};
      if (!is_finite(position)) return fail(fmt::format("Vertex {} has a coordinate that is not a number.", i));
      mesh_.positions.push_back(position);
      if (normals) {
        const Vec3 n{at(Column::Nx), at(Column::Ny), at(Column::Nz)};
        mesh_.normals.push_back({static_cast<float>(n.x), static_cast<float>(n.y), static_cast<float>(n.z)});
        if (!is_finite(n)) return fail(fmt::format("Vertex {} has a normal that is not a number.", i));
      }
      if (places) extras_.places.push_back({static_cast<float>(at(Column::U)), static_cast<float>(1 - at(Column::V))});
      if (colours)
        extras_.colours.push_back({static_cast<float>(linear_of_srgb(static_cast<float>(at(Column::Red)))),
                                   static_cast<float>(linear_of_srgb(static_cast<float>(at(Column::Green)))),
                                   static_cast<float>(linear_of_srgb(static_cast<float>(at(Column::Blue)))),
                                   static_cast<float>(at(Column::Alpha))});
      if (i % 65536 == 0) around_.done(0.4 * static_cast<double>(i) / static_cast<double>(element.count));
    }
    return {};
  }

  // One property; the corners of a face, as they are, are left in list_.
  Result<void> read_property(const Element& element, std::uint64_t i, const Property& property, Body& body,
                             bool corners) {
    const auto bad = [&](const char* what) { return fail(fmt::format("{} {} {}", element.name, i, what)); };
    double value = 0;
    if (!property.list) return body.take(property.type, value) ? Result<void>() : bad("is cut off or damaged.");
    double count = 0;
    if (!body.take(property.count_type, count)) return bad("is cut off or damaged.");
    if (!(count >= 0) || count != std::floor(count) || count > static_cast<double>(body.bytes_left()) + 1e6)
      return bad("has a list of impossible length.");
    list_.clear();
    for (std::uint64_t k = 0; k < static_cast<std::uint64_t>(count); ++k) {
      if (!body.take(property.type, value)) return bad("is cut off or damaged.");
      if (!corners) continue;
      if (value == -1 && element.name == "tristrips") {
        list_.push_back(kBreak);
        continue;
      }
      if (!(value >= 0 && value < static_cast<double>(vertex_count_)) || value != std::floor(value))
        return fail(fmt::format("{} {} names vertex {}, but there are {}.", element.name, i, value, vertex_count_));
      list_.push_back(static_cast<std::uint32_t>(value));
    }
    return {};
  }

  Result<void> add_face(std::uint64_t number) {
    if (list_.size() > 1'000'000) return fail(fmt::format("Face {} has more than a million corners.", number));
    if (list_.size() == 3 && polygon_start_.empty()) {
      mesh_.triangles.push_back({list_[0], list_[1], list_[2]});
      return {};
    }
    // From the first face that is no triangle on, all wait, so that they keep their order.
    if (polygon_start_.empty()) polygon_start_.push_back(0);
    polygon_corners_.insert(polygon_corners_.end(), list_.begin(), list_.end());
    polygon_start_.push_back(polygon_corners_.size());
    return {};
  }

  // Scanners write whole meshes as strips: −1 begins a new one.
  void add_strips() {
    std::size_t begin = 0;
    for (std::size_t k = 0; k <= list_.size(); ++k) {
      if (k < list_.size() && list_[k] != kBreak) continue;
      for (std::size_t c = begin; c + 2 < k; ++c) {
        const bool odd = (c - begin) % 2 == 1;
        const Triangle t{list_[odd ? c + 1 : c], list_[odd ? c : c + 1], list_[c + 2]};
        if (t[0] != t[1] && t[1] != t[2] && t[0] != t[2]) mesh_.triangles.push_back(t);
      }
      begin = k + 1;
    }
  }

  Result<Delivery> deliver() {
    Delivery delivery;
    DeliveredPart part;
    part.name = path_.stem().string();
    part.mesh = 0;
    part.colours.emplace_back();
    if (!extras_.empty()) carry(delivery, part);
    if (edges_ > 0)
      delivery.notes.push_back(
          fmt::format("Left out: {} {}; parts are made of faces.", edges_, edges_ == 1 ? "edge" : "edges"));
    if (left_out_ > 0)
      delivery.notes.push_back(
          fmt::format("Left out: {} {} of a kind that is not known.", left_out_, left_out_ == 1 ? "list" : "lists"));
    delivery.meshes.push_back(spans_of(std::move(mesh_)));
    delivery.parts.push_back(std::move(part));
    return delivery;
  }

  // The part's mesh as that of a glTF, with its texture places and colours. Those are shares of the brightest of each
  // channel, which is the material's and what is shown here.
  void carry(Delivery& delivery, DeliveredPart& part) {
    Json json{{"asset", {{"version", "2.0"}}}};
    ByteRuns binary;
    GltfArrays arrays(json, binary);
    if (!extras_.colours.empty()) {
      std::array<float, 3> most{};
      for (const auto& c : extras_.colours)
        for (std::size_t i = 0; i < 3; ++i) most[i] = std::max(most[i], c[i]);
      // What is rounded to a byte of colour must not become darker than what it is a share of.
      Colour& shown = part.colours.front();
      const std::array<float*, 3> channel{&shown.r, &shown.g, &shown.b};
      for (std::size_t i = 0; i < 3; ++i) {
        *channel[i] = static_cast<float>(std::ceil(static_cast<double>(srgb_of(most[i])) * 255 - 1e-6) / 255);
        const double full = linear_of_srgb(*channel[i]);
        for (auto& c : extras_.colours)
          c[i] = full > 0 ? static_cast<float>(std::min(1.0, static_cast<double>(c[i]) / full)) : 0;
      }
    }
    if (mesh_.primitives.empty())
      mesh_.primitives.push_back({0, static_cast<std::uint32_t>(mesh_.positions.size()), 0,
                                  static_cast<std::uint32_t>(mesh_.triangles.size())});
    Json written = geometry_of(arrays, mesh_.positions, mesh_.triangles, mesh_.normals, mesh_.primitives, extras_);
    written["name"] = part.name;
    json["materials"] = Json::array({plain_material("Colours of " + part.name, part.colours.front())});
    delivery.colours.push_back(
        {"Colours of " + part.name, part.colours.front(), {0}, "Colours of " + part.name, part.colours.front()});
    part.named = {0};
    written["primitives"][0]["material"] = 0;
    if (written.contains("extensions")) json["extensionsUsed"] = Json::array({"TACKPOINT_mesh"});
    json["meshes"] = Json::array({std::move(written)});
    json["buffers"] = Json::array({Json{{"byteLength", binary.size()}}});
    part.carried_mesh = 0;
    auto carried = std::make_shared<CarriedDocument>();
    carried->json = std::move(json);
    carried->binary = binary.whole();
    delivery.carried = std::move(carried);
  }

  static constexpr std::uint32_t kBreak = 0xFFFFFFFF;

  std::string_view text_;
  const std::filesystem::path& path_;
  const Around& around_;
  MeshData mesh_;
  MeshExtras extras_;
  std::uint64_t vertex_count_ = 0, edges_ = 0;
  std::size_t left_out_ = 0;
  std::vector<std::uint32_t> list_, polygon_corners_;
  std::vector<std::size_t> polygon_start_;
};

}  // namespace

Result<Delivery> read_ply(ByteView bytes, const std::filesystem::path& path, const ImportOptions& options,
                          const Around& around) {
  const auto text = text_of(bytes);
  if (!text) return tl::unexpected(text.error());
  return PlyReader(*text, path, around).read(options);
}

}  // namespace tack
