// PLY: ASCII and both binary orders, every scalar type, polygons, vertex colours as the mean colour of the part.
#include <fmt/format.h>

#include <algorithm>
#include <bit>
#include <charconv>

#include "core/files/delivery.h"
#include "core/files/lines.h"
#include "core/mesh/triangulate.h"

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

// Gives the numbers of the body one after another, from text or from bytes of either order.
class Body {
 public:
  enum class Encoding { Ascii, Little, Big };
  Body(std::string_view rest, Encoding encoding) : rest_(rest), encoding_(encoding) {}

  bool take(Scalar type, double& value) {
    if (encoding_ == Encoding::Ascii) {
      const std::string_view word = take_word(rest_);
      const auto [end, error] = std::from_chars(word.data(), word.data() + word.size(), value);
      return !word.empty() && error == std::errc{} && end == word.data() + word.size();
    }
    const std::size_t size = size_of(type);
    if (rest_.size() < size) return false;
    std::array<char, 8> bytes{};
    std::copy_n(rest_.data(), size, bytes.begin());
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

  std::size_t bytes_left() const { return rest_.size(); }

 private:
  template <typename T>
  static double as(const std::array<char, 8>& bytes) {
    T value;
    std::memcpy(&value, bytes.data(), sizeof value);
    return static_cast<double>(value);
  }

  std::string_view rest_;
  Encoding encoding_;
};

struct Header {
  Body::Encoding encoding = Body::Encoding::Ascii;
  std::vector<Element> elements;
};

Result<Header> read_header(Lines& lines) {
  Header header;
  bool has_format = false;
  const auto bad = [&](std::string what) { return fail(std::move(what), fmt::format("line {}", lines.number())); };
  if (const auto first = lines.next(); !first || trim(*first) != "ply") return bad("This is not a PLY file.");
  while (auto line = lines.next()) {
    if (lines.number() > 10000) return bad("The header does not end.");
    const std::string_view word = take_word(*line);
    if (word == "end_header") {
      if (!has_format) return bad("The header does not say how the numbers are written.");
      return header;
    }
    if (word == "format") {
      const std::string_view kind = take_word(*line);
      if (kind == "ascii")
        header.encoding = Body::Encoding::Ascii;
      else if (kind == "binary_little_endian")
        header.encoding = Body::Encoding::Little;
      else if (kind == "binary_big_endian")
        header.encoding = Body::Encoding::Big;
      else
        return bad(fmt::format("\"{}\" is not a PLY format.", std::string(kind.substr(0, 40))));
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
      if (!scalar) return bad(fmt::format("\"{}\" is not a PLY type.", std::string(type.substr(0, 40))));
      property.type = *scalar;
      property.name = std::string(take_word(*line));
      header.elements.back().properties.push_back(std::move(property));
    }
  }
  return bad("The header is cut off.");
}

struct Content {
  std::vector<Vec3> positions;
  std::vector<Triangle> triangles;
  Vec3 colour_sum;
  std::uint64_t coloured = 0;
};

Result<void> read_element(const Element& element, Body& body, Content& content) {
  const bool vertices = element.name == "vertex", faces = element.name == "face";
  // Every entry takes at least one byte, so a count beyond the bytes left is damage, found before memory is asked for.
  if (!element.properties.empty() && element.count > body.bytes_left())
    return fail(fmt::format("The file is cut off: it says {} of {} and has {} bytes left.", element.count, element.name,
                            body.bytes_left()));
  if (element.properties.empty()) return {};
  std::vector<std::uint32_t> corners;
  for (std::uint64_t i = 0; i < element.count; ++i) {
    Vec3 position, colour;
    bool has_colour = false;
    for (const Property& property : element.properties) {
      double value = 0;
      if (!property.list) {
        if (!body.take(property.type, value)) return fail(fmt::format("{} {} is cut off or damaged.", element.name, i));
        if (!vertices) continue;
        if (property.name == "x") position.x = value;
        if (property.name == "y") position.y = value;
        if (property.name == "z") position.z = value;
        const double full = property.type == Scalar::UInt8 ? 255 : 1;
        const int channel = property.name == "red"     ? 0
                            : property.name == "green" ? 1
                            : property.name == "blue"  ? 2
                                                       : -1;
        if (channel >= 0) {
          if (!std::isfinite(value)) return fail(fmt::format("Vertex {} has a colour that is not a number.", i));
          colour[channel] = std::clamp(value / full, 0.0, 1.0);
          has_colour = true;
        }
        continue;
      }
      double count = 0;
      if (!body.take(property.count_type, count))
        return fail(fmt::format("{} {} is cut off or damaged.", element.name, i));
      if (!(count >= 0) || count != std::floor(count) || count > 100000 ||
          count > static_cast<double>(body.bytes_left()))
        return fail(fmt::format("{} {} has a list of impossible length.", element.name, i));
      const bool is_corners = faces && (property.name == "vertex_indices" || property.name == "vertex_index");
      corners.clear();
      for (int k = 0; k < static_cast<int>(count); ++k) {
        if (!body.take(property.type, value)) return fail(fmt::format("{} {} is cut off or damaged.", element.name, i));
        if (!is_corners) continue;
        if (!(value >= 0 && value < static_cast<double>(content.positions.size())))
          return fail(fmt::format("Face {} names vertex {}, but there are {}.", i, value, content.positions.size()));
        corners.push_back(static_cast<std::uint32_t>(value));
      }
      if (is_corners) triangulate(content.positions, corners, content.triangles);
    }
    if (!vertices) continue;
    if (!is_finite(position)) return fail(fmt::format("Vertex {} has a coordinate that is not a number.", i));
    content.positions.push_back(position);
    content.colour_sum += colour;
    content.coloured += has_colour;
  }
  return {};
}

}  // namespace

Result<Delivery> read_ply(ByteView bytes, const std::filesystem::path& path, const ImportOptions& options) {
  Lines lines(bytes);
  const auto header = read_header(lines);
  if (!header) return tl::unexpected(header.error());
  Body body(lines.rest(), header->encoding);
  Content content;
  for (const Element& element : header->elements)
    if (const auto done = read_element(element, body, content); !done) return tl::unexpected(done.error());
  if (content.positions.empty()) return fail("There are no vertices in this file.");
  convert_positions(content.positions, options, 1, UpAxis::Z);
  Delivery delivery;
  MeshData mesh;
  mesh.positions = std::move(content.positions);
  mesh.triangles = std::move(content.triangles);
  DeliveredPart part;
  part.name = path.stem().string();
  part.mesh = 0;
  Colour colour;
  if (content.coloured > 0) {
    const Vec3 mean = content.colour_sum / static_cast<double>(content.coloured);
    colour = {static_cast<float>(mean.x), static_cast<float>(mean.y), static_cast<float>(mean.z), 1};
  }
  part.colours.push_back(colour);
  delivery.meshes.push_back(std::move(mesh));
  delivery.parts.push_back(std::move(part));
  return delivery;
}

}  // namespace tack
