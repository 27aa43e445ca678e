// The text forms of tack addresses; declared in tack.h.
#include <fmt/format.h>

#include <charconv>

#include "core/catch/tack.h"
#include "core/entry/units.h"

namespace tack {
namespace {

constexpr std::string_view kForms =
    "Write \"Part\" vertex 17, \"Part\" box 0.5,0.5,1, \"Part\" world-box 0,0,0, \"Part\" pivot, or point 1,2,3.";

std::string_view trimmed(std::string_view text) {
  while (!text.empty() && (text.front() == ' ' || text.front() == '\t')) text.remove_prefix(1);
  while (!text.empty() && (text.back() == ' ' || text.back() == '\t')) text.remove_suffix(1);
  return text;
}

Result<Vec3> parse_triple(std::string_view text) {
  Vec3 v;
  const char* at = text.data();
  const char* end = at + text.size();
  for (int i = 0; i < 3; ++i) {
    while (at != end && *at == ' ') ++at;
    const auto [next, error] = std::from_chars(at, end, v[i]);
    if (error != std::errc{} || !std::isfinite(v[i]))
      return fail(fmt::format("\"{}\" should be three numbers with commas between them, like 0.5,0.5,1.", text));
    at = next;
    while (at != end && *at == ' ') ++at;
    if (i < 2 && (at == end || *at++ != ','))
      return fail(fmt::format("\"{}\" should be three numbers with commas between them, like 0.5,0.5,1.", text));
  }
  if (at != end) return fail(fmt::format("There is something left over after the third number in \"{}\".", text));
  return v;
}

std::string triple_text(const Vec3& v) { return full_digits(v.x) + "," + full_digits(v.y) + "," + full_digits(v.z); }

}  // namespace

Result<TackAddress> parse_address(const Scene& scene, std::string_view text) {
  text = trimmed(text);
  if (text.starts_with("point ")) {
    const auto at = parse_triple(trimmed(text.substr(6)));
    if (!at) return tl::unexpected(at.error());
    return TackAddress{TackKind::Point, kNoPart, 0, *at};
  }
  if (text.empty() || text.front() != '"')
    return fail(fmt::format("\"{}\" does not name a place.", text), {}, std::string(kForms));
  std::string path;
  std::size_t i = 1;
  for (; i < text.size() && text[i] != '"'; ++i) {
    // \" stands for a quote in a name; other backslashes belong to the path's own escapes.
    if (text[i] == '\\' && i + 1 < text.size() && text[i + 1] == '"') ++i;
    path += text[i];
  }
  if (i == text.size()) return fail(fmt::format("The quote around the part's name is not closed in {}.", text));
  const auto part = find_by_path(scene, path);
  if (!part) return tl::unexpected(part.error());
  const std::string_view rest = trimmed(text.substr(i + 1));
  const std::size_t space = rest.find(' ');
  const std::string_view kind = rest.substr(0, space);
  const std::string_view argument = space == std::string_view::npos ? std::string_view{} : trimmed(rest.substr(space));
  if (kind == "pivot" && argument.empty()) return TackAddress{TackKind::Pivot, *part, 0, {}};
  if (kind == "vertex") {
    std::uint32_t index = 0;
    const auto [end, error] = std::from_chars(argument.data(), argument.data() + argument.size(), index);
    if (argument.empty() || error != std::errc{} || end != argument.data() + argument.size())
      return fail(fmt::format("\"{}\" is not a vertex number.", argument), {}, std::string(kForms));
    return TackAddress{TackKind::Vertex, *part, index, {}};
  }
  if (kind == "box" || kind == "world-box") {
    const auto fraction = parse_triple(argument);
    if (!fraction) return tl::unexpected(fraction.error());
    return TackAddress{kind == "box" ? TackKind::BoxPoint : TackKind::WorldBoxPoint, *part, 0, *fraction};
  }
  return fail(fmt::format("\"{}\" is not a kind of place known here.", rest), {}, std::string(kForms));
}

std::string address_text(const Scene& scene, const TackAddress& address) {
  if (address.kind == TackKind::Point) return "point " + triple_text(address.parameter);
  std::string path;
  for (const char c : path_of(scene, address.part)) {
    if (c == '"') path += '\\';
    path += c;
  }
  const std::string part = "\"" + path + "\" ";
  switch (address.kind) {
    case TackKind::Vertex: return part + fmt::format("vertex {}", address.index);
    case TackKind::BoxPoint: return part + "box " + triple_text(address.parameter);
    case TackKind::WorldBoxPoint: return part + "world-box " + triple_text(address.parameter);
    default: return part + "pivot";
  }
}

std::string kind_words(const TackAddress& address) {
  switch (address.kind) {
    case TackKind::Vertex: return "vertex";
    case TackKind::Pivot: return "pivot";
    case TackKind::Point: return "point";
    default: break;
  }
  int ends = 0, middles = 0;
  for (int i = 0; i < 3; ++i) {
    ends += address.parameter[i] == 0 || address.parameter[i] == 1;
    middles += address.parameter[i] == 0.5;
  }
  if (ends + middles < 3) return "box point";
  constexpr std::string_view kNames[] = {"box centre", "box face centre", "box edge middle", "box corner"};
  return std::string(kNames[ends]);
}

std::string tack_words(const Scene& scene, const TackAddress& address) {
  if (address.kind == TackKind::Point)
    return fmt::format("point {}, {}, {}", show_number(address.parameter.x, 3).text,
                       show_number(address.parameter.y, 3).text, show_number(address.parameter.z, 3).text);
  const Part* part = scene.find(address.part);
  return kind_words(address) + " · " + (part ? part->name : std::string("a part that is gone"));
}

}  // namespace tack
