// STL, ASCII and binary. Corners at exactly the same place become one vertex.
#include <fmt/format.h>

#include <numeric>

#include "core/files/delivery.h"
#include "core/files/lines.h"

namespace tack {
namespace {

Delivery delivery_of(std::vector<Vec3> corners, std::string name, const ImportOptions& options) {
  // Equal places get one number, in order of first appearance.
  std::vector<std::uint32_t> order(corners.size());
  std::iota(order.begin(), order.end(), 0u);
  std::sort(order.begin(), order.end(), [&](std::uint32_t a, std::uint32_t b) {
    const Vec3 &p = corners[a], &q = corners[b];
    if (p.x != q.x) return p.x < q.x;
    if (p.y != q.y) return p.y < q.y;
    if (p.z != q.z) return p.z < q.z;
    return a < b;
  });
  std::vector<std::uint32_t> first(corners.size());
  for (std::size_t i = 0; i < order.size(); ++i)
    first[order[i]] = i > 0 && corners[order[i]] == corners[order[i - 1]] ? first[order[i - 1]] : order[i];
  MeshData mesh;
  std::vector<std::uint32_t> number(corners.size());
  mesh.triangles.resize(corners.size() / 3);
  for (std::size_t i = 0; i < corners.size(); ++i) {
    if (first[i] == i) {
      number[i] = static_cast<std::uint32_t>(mesh.positions.size());
      mesh.positions.push_back(corners[i]);
    } else {
      number[i] = number[first[i]];
    }
    mesh.triangles[i / 3][i % 3] = number[i];
  }
  convert_positions(mesh.positions, options, 1, UpAxis::Z);
  Delivery delivery;
  delivery.meshes.push_back(std::move(mesh));
  DeliveredPart part;
  part.name = std::move(name);
  part.mesh = 0;
  part.colours.emplace_back();
  delivery.parts.push_back(std::move(part));
  return delivery;
}

Result<Delivery> read_binary(ByteView bytes, const std::string& name, const ImportOptions& options) {
  const auto count = read_at<std::uint32_t>(bytes, 80);
  if (count > (bytes.size() - 84) / 50)
    return fail(
        fmt::format("The file is cut off: it says {} triangles and has room for {}.", count, (bytes.size() - 84) / 50));
  if (count == 0) return fail("There are no triangles in this file.");
  std::vector<Vec3> corners;
  corners.reserve(std::size_t{count} * 3);
  for (std::size_t t = 0; t < count; ++t)
    for (std::size_t c = 0; c < 3; ++c) {
      const std::size_t at = 84 + t * 50 + 12 + c * 12;
      const Vec3 p{read_at<float>(bytes, at), read_at<float>(bytes, at + 4), read_at<float>(bytes, at + 8)};
      if (!is_finite(p)) return fail(fmt::format("Triangle {} has a coordinate that is not a number.", t));
      corners.push_back(p);
    }
  return delivery_of(std::move(corners), name, options);
}

Result<Delivery> read_ascii(ByteView bytes, const std::string& name, const ImportOptions& options) {
  std::vector<Vec3> corners;
  std::string solid = name;
  Lines lines(bytes);
  while (auto line = lines.next()) {
    const std::string_view word = take_word(*line);
    if (word == "solid" && corners.empty() && !trim(*line).empty()) solid = std::string(trim(*line).substr(0, 200));
    if (word == "endloop" && corners.size() % 3 != 0)
      return fail("A facet does not have three vertices.", fmt::format("line {}", lines.number()));
    if (word != "vertex") continue;
    Vec3 p;
    for (int i = 0; i < 3; ++i)
      if (!take_number(*line, p[i]))
        return fail("A vertex needs three numbers.", fmt::format("line {}", lines.number()));
    corners.push_back(p);
  }
  if (corners.size() % 3 != 0) return fail("The file is cut off in the middle of a facet.");
  if (corners.empty()) return fail("There are no triangles in this file.");
  return delivery_of(std::move(corners), solid, options);
}

}  // namespace

Result<Delivery> read_stl(ByteView bytes, const std::filesystem::path& path, const ImportOptions& options) {
  const std::string name = path.stem().string();
  // Some binary files begin with "solid" too: the length settles it.
  const bool sized = bytes.size() >= 84 && bytes.size() == 84 + std::uint64_t{read_at<std::uint32_t>(bytes, 80)} * 50;
  const std::string_view start(reinterpret_cast<const char*>(bytes.data()), std::min<std::size_t>(bytes.size(), 2048));
  const std::size_t word = start.find_first_not_of(" \t\r\n");
  const bool says_solid = word != std::string_view::npos && start.substr(word).starts_with("solid");
  const bool looks_like_text = says_solid && start.find('\0') == std::string_view::npos;
  if (!sized && looks_like_text) return read_ascii(bytes, name, options);
  if (bytes.size() < 84) return fail("This is not an STL file, or it is cut off.");
  return read_binary(bytes, name, options);
}

}  // namespace tack
