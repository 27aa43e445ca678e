// STL, ASCII and binary. Corners at exactly the same place become one vertex; each named solid is a part.
#include <fmt/format.h>

#include <bit>
#include <unordered_map>

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

  // Where a place will be looked for, for number_of(). What the table has there is fetched meanwhile: it is too large
  // to stay near.
  std::uint64_t announced(const Vec3& p) {
    const std::uint64_t hashed = hash(p);
    __builtin_prefetch(&table_[hashed & mask_]);
    return hashed;
  }

  std::uint32_t number_of(const Vec3& p, std::uint64_t hashed) {
    // Most corners are at a place that one of the last few thousand was at. Not worth a table for small solids, of
    // which a file may have very many.
    if (places_.size() < kRecent / 4) return looked_up(p, hashed);
    if (last_.empty()) last_.assign(kRecent, kFree);
    std::uint32_t& last = last_[hashed >> 50];
    if (last < places_.size() && places_[last] == p) return last;
    return last = looked_up(p, hashed);
  }

  std::vector<Vec3> take_places() { return std::move(places_); }

 private:
  static constexpr std::uint32_t kFree = 0xFFFFFFFF;
  static constexpr std::size_t kRecent = 1 << 14;

  // Negative zeros are zeros. The three products are made side by side; each bit of the sum depends on all three.
  static std::uint64_t hash(const Vec3& p) {
    const auto bits = [&](int i) { return std::bit_cast<std::uint64_t>(p[i] + 0.0); };
    std::uint64_t h = std::rotl(bits(0) * 0x9E3779B97F4A7C15, 23) + std::rotl(bits(1) * 0xC2B2AE3D27D4EB4F, 41) +
                      std::rotl(bits(2) * 0x165667B19E3779F9, 5);
    h = (h ^ (h >> 32)) * 0xBF58476D1CE4E5B9;
    return h ^ (h >> 29);
  }

  std::uint32_t looked_up(const Vec3& p, std::uint64_t hashed) {
    for (std::size_t slot = hashed & mask_;; slot = (slot + 1) & mask_) {
      std::uint32_t& known = table_[slot];
      if (known == kFree) {
        known = static_cast<std::uint32_t>(places_.size());
        places_.push_back({p.x + 0.0, p.y + 0.0, p.z + 0.0});
        const std::uint32_t number = known;
        if (places_.size() * 4 > table_.size() * 3) grow(table_.size() * 2);
        return number;
      }
      if (places_[known] == p) return known;
    }
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

  std::vector<std::uint32_t> table_, last_;
  std::size_t mask_ = 0;
  std::vector<Vec3> places_;
};

class Solid {
 public:
  Solid(std::string name, std::size_t corners) : name_(std::move(name)), welder_(corners) {}

  const std::string& name() const { return name_; }
  void expect(std::size_t triangles) { triangles_.reserve(triangles); }
  void add(const std::array<Vec3, 3>& corners) {
    for (const Vec3& p : corners) waiting_.emplace_back(p, welder_.announced(p));
    if (waiting_.size() >= 96) weld();
  }
  MeshData take_mesh() {
    weld();
    MeshData mesh;
    mesh.positions = welder_.take_places();
    mesh.triangles = std::move(triangles_);
    return mesh;
  }

 private:
  void weld() {
    for (std::size_t i = 0; i + 2 < waiting_.size(); i += 3) {
      Triangle& triangle = triangles_.emplace_back();
      for (std::size_t k = 0; k < 3; ++k)
        triangle[k] = welder_.number_of(waiting_[i + k].first, waiting_[i + k].second);
    }
    waiting_.clear();
  }

  std::string name_;
  Welder welder_;
  std::vector<Triangle> triangles_;
  std::vector<std::pair<Vec3, std::uint64_t>> waiting_;  // corners that are not welded yet
};

Delivery delivery_of(std::vector<Solid> solids, const FileAxes& axes) {
  Delivery delivery;
  delivery.read_as = axes;
  for (Solid& solid : solids) {
    MeshData mesh = solid.take_mesh();
    if (mesh.triangles.empty()) continue;
    convert_positions(mesh.positions, axes);
    DeliveredPart part;
    part.name = solid.name();
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
  Solid& solid = solids.emplace_back(name, std::size_t{count} * 3);
  solid.expect(count);
  bool coloured = false;
  for (std::size_t t = 0; t < count; ++t) {
    const std::size_t at = 84 + t * 50;
    std::array<float, 9> c;
    std::memcpy(c.data(), bytes.data() + at + 12, sizeof c);
    const std::array<Vec3, 3> corners{Vec3{c[0], c[1], c[2]}, Vec3{c[3], c[4], c[5]}, Vec3{c[6], c[7], c[8]}};
    for (const Vec3& p : corners)
      if (!is_finite(p)) return fail(fmt::format("Triangle {} has a coordinate that is not a number.", t));
    solid.add(corners);
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

bool is(std::string_view word, std::string_view small) {
  if (word.size() != small.size()) return false;
  for (std::size_t i = 0; i < word.size(); ++i)
    if ((word[i] | 0x20) != small[i]) return false;
  return true;
}

// The words of the file, whatever its lines are: some writers put all of it on one.
class Words {
 public:
  explicit Words(std::string_view text) : text_(text), rest_(text) {}
  std::string_view next() { return take_word(rest_); }
  // Takes the next word, whatever it is, and says whether it is this one, in large or small letters.
  template <std::size_t N>
  bool take(const char (&small)[N]) {
    const char *at = rest_.data(), *const end = at + rest_.size();
    while (at != end && is_space(*at)) ++at;
    if (static_cast<std::size_t>(end - at) >= N && std::memcmp(at, small, N - 1) == 0 && is_space(at[N - 1])) {
      rest_ = {at + N - 1, static_cast<std::size_t>(end - at) - (N - 1)};
      return true;
    }
    return is(next(), small);
  }
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
  std::unordered_map<std::string, std::size_t> number_of;  // solids of one name are one part
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
    const auto [known, is_new] = number_of.try_emplace(name, solids.size());
    // Mostly the first is all there is.
    if (is_new) solids.emplace_back(name, solids.empty() ? text.size() / 80 : 0);
    Solid& solid = solids[known->second];
    for (;;) {
      word = words.next();
      if (is(word, "endsolid") || (is(word, "end") && is(words.next(), "solid"))) {
        words.rest_of_line();
        break;
      }
      if (word.empty()) return bad("The file is cut off: its last solid does not end.");
      if (!is(word, "facet")) return bad(fmt::format("\"{}\" stands where a facet should.", printable(word, 40)));
      if (words.take("normal"))
        for (int i = 0; i < 3; ++i) words.next();  // nobody needs it, and some write nan
      if (!words.take("outer") || !words.take("loop")) return bad("A facet does not begin with a loop.");
      std::array<Vec3, 3> corners;
      for (Vec3& p : corners) {
        if (!words.take("vertex")) return bad("A facet does not have three vertices.");
        for (int i = 0; i < 3; ++i)
          if (!words.number(p[i])) return bad("A vertex needs three numbers.");
      }
      if (!words.take("endloop") || !words.take("endfacet"))
        return bad(words.rest().empty() ? "The file is cut off in the middle of a facet."
                                        : "A facet does not have three vertices.");
      solid.add(corners);
      if (++facets % 65536 == 0) around.done(words.share());
    }
  }
  if (facets == 0) return fail("There are no triangles in this file.");
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
