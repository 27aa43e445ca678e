#include "core/files/outline.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/printable.h"
#include "core/verbs/patch.h"

namespace tack {
namespace {

void put(Bytes& bytes, const std::string& text) {
  append(bytes, static_cast<std::uint64_t>(text.size()));
  bytes.insert(bytes.end(), text.begin(), text.end());
}

// Takes values off the front of bytes; once there are too few it gives zeros and `ok` is false.
class Taker {
 public:
  explicit Taker(ByteView bytes) : left_(bytes) {}
  template <typename T>
  T number() {
    if (left_.size() < sizeof(T)) ok_ = false;
    if (!ok_) return T{};
    const T value = read_at<T>(left_, 0);
    left_ = left_.subspan(sizeof(T));
    return value;
  }
  bool yes_or_no() {
    const auto value = number<std::uint8_t>();
    ok_ = ok_ && value <= 1;
    return value == 1;
  }
  std::string text() {
    const auto size = number<std::uint64_t>();
    if (size > left_.size()) ok_ = false;
    if (!ok_) return {};
    std::string text(left_.begin(), left_.begin() + static_cast<std::ptrdiff_t>(size));
    left_ = left_.subspan(size);
    return text;
  }
  // How many elements follow, each of at least `least` bytes: no more are made room for than there can be.
  std::size_t count(std::size_t least) {
    const auto count = number<std::uint64_t>();
    if (count > left_.size() / least) ok_ = false;
    return ok_ ? count : 0;
  }
  bool ok() const { return ok_; }
  bool at_end() const { return left_.empty(); }

 private:
  ByteView left_;
  bool ok_ = true;
};

}  // namespace

Outline outline_of(const Scene& scene) {
  Outline outline;
  const std::vector<Affine> worlds = worlds_of(scene);
  for (const PartId id : scene.in_tree_order()) {
    const Part& part = scene.part(id);
    Outline::OfPart& of = outline.parts.emplace_back();
    of.name = part.name;
    of.world = worlds[id];
    of.children = part.children.size();
    of.see_through = part.see_through;
    of.has_mesh = part.mesh != nullptr;
    if (!part.mesh) continue;
    of.vertices = part.mesh->positions().size();
    of.triangles = part.mesh->triangles().size();
  }
  for (const NamedColour& colour : scene.colours()) outline.colours.push_back(colour.name);
  if (const Part* plane = scene.find(scene.plane())) outline.plane = plane->name;
  outline.views = scene.views();
  outline.grid = scene.ground_grid();
  outline.ties = scene.ties().size();
  return outline;
}

Bytes pack(const Outline& outline) {
  Bytes bytes;
  const auto flag = [&](bool is) { append(bytes, static_cast<std::uint8_t>(is ? 1 : 0)); };
  append(bytes, static_cast<std::uint64_t>(outline.parts.size()));
  for (const Outline::OfPart& part : outline.parts) {
    put(bytes, part.name);
    append(bytes, part.world);
    for (const std::uint64_t n : {part.children, part.vertices, part.triangles}) append(bytes, n);
    flag(part.see_through);
    flag(part.has_mesh);
  }
  append(bytes, static_cast<std::uint64_t>(outline.colours.size()));
  for (const std::string& name : outline.colours) put(bytes, name);
  flag(outline.plane.has_value());
  put(bytes, outline.plane.value_or(std::string()));
  append(bytes, static_cast<std::uint64_t>(outline.views.size()));
  for (const NamedView& view : outline.views) {
    put(bytes, view.name);
    append(bytes, view.target);
    for (const double n : {view.turn, view.tilt, view.roll, view.distance}) append(bytes, n);
    flag(view.perspective);
  }
  append(bytes, outline.grid.spacing);
  append(bytes, static_cast<std::int64_t>(outline.grid.parts));
  append(bytes, outline.grid.extent);
  append(bytes, outline.ties);
  return bytes;
}

Result<Outline> unpack_outline(ByteView bytes) {
  Taker from(bytes);
  Outline outline;
  outline.parts.resize(from.count(sizeof(std::uint64_t) * 4 + sizeof(Affine) + 2));
  for (Outline::OfPart& part : outline.parts) {
    part.name = from.text();
    part.world = from.number<Affine>();
    for (std::uint64_t* n : {&part.children, &part.vertices, &part.triangles}) *n = from.number<std::uint64_t>();
    part.see_through = from.yes_or_no();
    part.has_mesh = from.yes_or_no();
  }
  outline.colours.resize(from.count(sizeof(std::uint64_t)));
  for (std::string& name : outline.colours) name = from.text();
  const bool has_plane = from.yes_or_no();
  std::string plane = from.text();
  if (has_plane) outline.plane = std::move(plane);
  outline.views.resize(from.count(sizeof(std::uint64_t) + sizeof(Vec3) + 4 * sizeof(double) + 1));
  for (NamedView& view : outline.views) {
    view.name = from.text();
    view.target = from.number<Vec3>();
    for (double* n : {&view.turn, &view.tilt, &view.roll, &view.distance}) *n = from.number<double>();
    view.perspective = from.yes_or_no();
  }
  outline.grid.spacing = from.number<double>();
  outline.grid.parts = static_cast<int>(from.number<std::int64_t>());
  outline.grid.extent = from.number<double>();
  outline.ties = from.number<std::uint64_t>();
  if (!from.ok() || !from.at_end()) return fail("The import helper's answer is damaged.");
  return outline;
}

std::string difference_between(const Scene& whole, const Outline& read) {
  const Scene scene = without_patches(whole);
  const std::vector<PartId> ours = scene.in_tree_order();
  if (ours.size() != read.parts.size()) return fmt::format("of {} parts {} came back", ours.size(), read.parts.size());
  const std::vector<Affine> worlds = worlds_of(scene);
  for (std::size_t i = 0; i < ours.size(); ++i) {
    const Part& a = scene.part(ours[i]);
    const Outline::OfPart& b = read.parts[i];
    const std::string name = printable(a.name);
    if (a.name != b.name) return fmt::format("\"{}\" came back as \"{}\"", name, printable(b.name));
    if (a.children.size() != b.children) return fmt::format("what is below \"{}\" changed", name);
    const Affine &there = worlds[ours[i]], &here = b.world;
    double extent = 1;
    if (a.mesh && !a.mesh->box().empty()) extent += a.mesh->box().extent() + length(a.mesh->box().centre());
    double off = distance(there.translation, here.translation), size = 0;
    for (std::size_t c = 0; c < 3; ++c) {
      off += distance(there.linear.column[c], here.linear.column[c]) * extent;
      size += length(there.linear.column[c]) * extent;
    }
    if (!(off <= 1e-9 * (size + length(there.translation) + 1)))
      return fmt::format("\"{}\" came back in another place", name);
    if (a.see_through != b.see_through) return fmt::format("\"{}\" came back looking otherwise", name);
    if ((a.mesh != nullptr) != b.has_mesh) return fmt::format("the mesh of \"{}\" is gone", name);
    if (a.mesh && (a.mesh->positions().size() != b.vertices || a.mesh->triangles().size() != b.triangles))
      return fmt::format("the mesh of \"{}\" changed", name);
  }
  const std::vector<NamedColour>& colours = scene.colours();
  if (!std::equal(colours.begin(), colours.end(), read.colours.begin(), read.colours.end(),
                  [](const NamedColour& a, const std::string& b) { return a.name == b; }))
    return fmt::format("the list of {} colours came back as another of {}", colours.size(), read.colours.size());
  const Part* plane = scene.find(scene.plane());
  if ((plane != nullptr) != read.plane.has_value() || (plane && plane->name != *read.plane))
    return "another plane is in use";
  if (scene.views() != read.views || scene.ground_grid() != read.grid)
    return "the views or the grid came back otherwise";
  if (scene.ties().size() != read.ties) return fmt::format("of {} ties {} came back", scene.ties().size(), read.ties);
  return {};
}

std::string difference_between(const Scene& scene, const Scene& read) {
  return difference_between(scene, outline_of(read));
}

}  // namespace tack
