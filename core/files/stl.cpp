// STL, ASCII and binary. Corners at exactly the same place become one vertex; each named solid is a part.
#include <fmt/format.h>

#include <bit>

#include "core/files/axes_comment.h"
#include "core/files/delivery.h"
#include "core/files/scanner.h"
#include "core/printable.h"

namespace tack {
namespace {

// Gives equal places one number, in order of first appearance.
class Welder {
 public:
  explicit Welder(std::size_t corners) {
    // Most closed meshes have half as many vertices as triangles, a sixth of the corners: room for thrice that.
    grow(std::bit_ceil(std::max<std::size_t>(64, corners / 2)));
  }

  std::uint32_t number_of(const Vec3& p) {
    for (std::size_t slot = hash(p) & mask_;; slot = (slot + 1) & mask_) {
      std::uint32_t& known = table_[slot];
      if (known == kFree) {
        known = static_cast<std::uint32_t>(places_.size());
        // Negative zeros are zeros.
        places_.push_back({p.x + 0.0, p.y + 0.0, p.z + 0.0});
        const std::uint32_t number = known;
        if (places_.size() * 4 > table_.size() * 3) grow(table_.size() * 2);
        return number;
      }
      if (places_[known] == p) return known;
    }
  }

  std::vector<Vec3> take_places() { return std::move(places_); }

 private:
  static constexpr std::uint32_t kFree = 0xFFFFFFFF;

  static std::uint64_t hash(const Vec3& p) {
    std::uint64_t h = 0;
    for (int i = 0; i < 3; ++i) {
      h ^= std::bit_cast<std::uint64_t>(p[i] + 0.0);
      h *= 0x9E3779B97F4A7C15ull;
      h ^= h >> 29;
    }
    h *= 0xBF58476D1CE4E5B9ull;
    return h ^ (h >> 32);
  }
  void grow(std::size_t size) {
    table_.assign(size, kFree);
    mask_ = size - 1;
    for (std::size_t i = 0; i < places_.size(); ++i) {
      std::size_t slot = hash(places_[i]) & mask_;
      while (table_[slot] != kFree) slot = (slot + 1) & mask_;
      table_[slot] = static_cast<std::uint32_t>(i);
    }
  }

  std::vector<std::uint32_t> table_;
  std::size_t mask_ = 0;
  std::vector<Vec3> places_;
};

struct Solid {
  std::string name;
  Welder welder;
  std::vector<Triangle> triangles;
};

Delivery delivery_of(std::vector<Solid> solids, const FileAxes& axes) {
  Delivery delivery;
  delivery.read_as = axes;
  for (Solid& solid : solids) {
    MeshData mesh;
    mesh.positions = solid.welder.take_places();
    mesh.triangles = std::move(solid.triangles);
    convert_positions(mesh.positions, axes);
    DeliveredPart part;
    part.name = std::move(solid.name);
    part.mesh = static_cast<int>(delivery.meshes.size());
    part.colours.emplace_back();
    delivery.meshes.push_back(spans_of(std::move(mesh)));
    delivery.parts.push_back(std::move(part));
  }
  return delivery;
}

Result<Delivery> read_binary(ByteView bytes, const std::string& name, const ImportOptions& options,
                             const Around& around) {
  const auto count = read_at<std::uint32_t>(bytes, 80);
  const std::size_t room = (bytes.size() - 84) / 50;
  if (count > room)
    return fail(fmt::format("The file is cut off: it says {} triangles and has room for {}.", count, room));
  if (count == 0) return fail("There are no triangles in this file.");
  const std::string_view header(reinterpret_cast<const char*>(bytes.data()), 80);
  const FileAxes axes = axes_for(options, axes_in_comment(header), {1, UpAxis::Z});
  std::vector<Solid> solids;
  solids.push_back({name, Welder(std::size_t{count} * 3), {}});
  Solid& solid = solids.front();
  solid.triangles.resize(count);
  bool coloured = false;
  for (std::size_t t = 0; t < count; ++t) {
    const std::size_t at = 84 + t * 50;
    std::array<float, 9> c;
    std::memcpy(c.data(), bytes.data() + at + 12, sizeof c);
    for (std::size_t k = 0; k < 3; ++k) {
      const Vec3 p{c[k * 3], c[k * 3 + 1], c[k * 3 + 2]};
      if (!is_finite(p)) return fail(fmt::format("Triangle {} has a coordinate that is not a number.", t));
      solid.triangles[t][k] = solid.welder.number_of(p);
    }
    coloured |= read_at<std::uint16_t>(bytes, at + 48) != 0;
    if (t % 65536 == 0) around.done(static_cast<double>(t) / count);
  }
  Delivery delivery = delivery_of(std::move(solids), axes);
  if (const std::size_t more = bytes.size() - 84 - std::size_t{count} * 50; more > 0)
    delivery.notes.push_back(
        fmt::format("The file says {} triangles; {} bytes behind them were left out.", count, more));
  if (coloured)
    delivery.notes.emplace_back("What stands beside each triangle, as colours of some programs do, was left out.");
  return delivery;
}

// The words of the file, whatever its lines are: some writers put all of it on one.
class Words {
 public:
  explicit Words(std::string_view text) : text_(text), rest_(text) {}
  std::string_view next() { return take_word(rest_); }
  bool number(double& value) { return take_number(rest_, value); }
  // What is left of the present line.
  std::string_view rest_of_line() {
    const std::size_t end = std::min(rest_.find_first_of("\r\n"), rest_.size());
    const std::string_view line = rest_.substr(0, end);
    rest_.remove_prefix(end);
    return trim(line);
  }
  std::string_view rest() const { return rest_; }
  // To a place before the present one.
  void go_back_to(const char* at) { rest_ = {at, static_cast<std::size_t>(text_.data() + text_.size() - at)}; }
  double share() const { return 1 - static_cast<double>(rest_.size()) / static_cast<double>(text_.size()); }
  std::string where() const {
    const std::size_t read = text_.size() - rest_.size();
    return fmt::format("line {}",
                       1 + std::count(text_.begin(), text_.begin() + static_cast<std::ptrdiff_t>(read), '\n'));
  }

 private:
  std::string_view text_, rest_;
};

bool is(std::string_view word, std::string_view small) {
  if (word.size() != small.size()) return false;
  for (std::size_t i = 0; i < word.size(); ++i)
    if ((word[i] | 0x20) != small[i]) return false;
  return true;
}

// The name of a solid: what stands behind the word up to the end of its line, unless the facets begin there already.
std::string name_of_solid(Words& words, const std::string& otherwise) {
  Words ahead = words;
  const std::string_view line = ahead.rest_of_line();
  const std::string small = lower(line);
  std::size_t facet = small.find("facet normal");
  while (facet != std::string::npos && facet > 0 && !is_space(small[facet - 1]))
    facet = small.find("facet normal", facet + 1);
  words = ahead;
  if (facet != std::string::npos) words.go_back_to(line.data() + facet);
  const std::string_view name = trim(line.substr(0, facet));
  return name.empty() ? otherwise : std::string(name);
}

Result<Delivery> read_ascii(std::string_view text, const std::string& file, const ImportOptions& options,
                            const Around& around) {
  Words words(text);
  std::vector<Solid> solids;
  std::optional<FileAxes> said;
  std::size_t facets = 0;
  const auto bad = [&](std::string what) { return fail(std::move(what), words.where()); };
  for (std::string_view word = words.next(); !word.empty(); word = words.next()) {
    if (!is(word, "solid")) return bad(fmt::format("\"{}\" stands where a solid should begin.", printable(word, 40)));
    std::string name = name_of_solid(words, file);
    if (const auto axes = axes_in_comment(name)) {
      said = *axes;
      name = file;
    }
    // Solids of one name are one part.
    auto solid = std::find_if(solids.begin(), solids.end(), [&](const Solid& s) { return s.name == name; });
    if (solid == solids.end()) {
      solids.push_back({name, Welder(text.size() / 80), {}});
      solid = solids.end() - 1;
    }
    for (;;) {
      word = words.next();
      if (is(word, "endsolid") || (is(word, "end") && is(words.next(), "solid"))) {
        words.rest_of_line();
        break;
      }
      if (word.empty()) return bad("The file is cut off: its last solid does not end.");
      if (!is(word, "facet")) return bad(fmt::format("\"{}\" stands where a facet should.", printable(word, 40)));
      if (is(words.next(), "normal"))
        for (int i = 0; i < 3; ++i) words.next();  // nobody needs it, and some write nan
      if (!is(words.next(), "outer") || !is(words.next(), "loop")) return bad("A facet does not begin with a loop.");
      Triangle triangle{};
      for (std::uint32_t& corner : triangle) {
        Vec3 p;
        if (!is(words.next(), "vertex")) return bad("A facet does not have three vertices.");
        for (int i = 0; i < 3; ++i)
          if (!words.number(p[i])) return bad("A vertex needs three numbers.");
        corner = solid->welder.number_of(p);
      }
      if (!is(words.next(), "endloop") || !is(words.next(), "endfacet"))
        return bad(words.rest().empty() ? "The file is cut off in the middle of a facet."
                                        : "A facet does not have three vertices.");
      solid->triangles.push_back(triangle);
      if (++facets % 65536 == 0) around.done(words.share());
    }
  }
  std::erase_if(solids, [](const Solid& s) { return s.triangles.empty(); });
  if (solids.empty()) return fail("There are no triangles in this file.");
  return delivery_of(std::move(solids), axes_for(options, said, {1, UpAxis::Z}));
}

}  // namespace

Result<Delivery> read_stl(ByteView bytes, const std::filesystem::path& path, const ImportOptions& options,
                          const Around& around) {
  const std::string name = path.stem().string();
  // Some binary files begin with "solid" too: the length settles it.
  const bool sized = bytes.size() >= 84 && bytes.size() == 84 + std::uint64_t{read_at<std::uint32_t>(bytes, 80)} * 50;
  if (!sized) {
    const auto text = text_of(bytes);
    if (!text) return tl::unexpected(text.error());
    std::string_view start = text->substr(0, 2048);
    const bool is_text = start.find('\0') == std::string_view::npos;
    if (is_text && is(take_word(start), "solid")) return read_ascii(*text, name, options, around);
  }
  if (bytes.size() < 84) return fail("This is not an STL file, or it is cut off.");
  return read_binary(bytes, name, options, around);
}

}  // namespace tack
