// The text forms of tack addresses; declared in tack.h.
#include <fmt/format.h>

#include <charconv>

#include "core/catch/tack.h"
#include "core/entry/quoted.h"
#include "core/entry/units.h"
#include "core/mesh/features.h"
#include "core/mesh/mass.h"

namespace tack {
namespace {

constexpr std::string_view kForms =
    "Write \"Part\" vertex 17, \"Part\" edge 12-13 at 0.5, \"Part\" crossing 12-13 at 0.5, \"Part\" face 5, \"Part\" "
    "face-centre 5, \"Part\" box "
    "0.5,0.5,1, \"Part\" world-box 0,0,0, \"Part\" "
    "tree-box 0,0,0, \"Part\" kept out, \"Part\" guide 12.5, \"Part\" pivot, \"Part\" mass, \"Part\" round 40, "
    "\"Part\" axis 5 at 0.5, "
    "\"Part\" plane 10,20, plane 10,20 or point "
    "1,2,3.";

std::string_view trimmed(std::string_view text) {
  while (!text.empty() && (text.front() == ' ' || text.front() == '\t')) text.remove_prefix(1);
  while (!text.empty() && (text.back() == ' ' || text.back() == '\t')) text.remove_suffix(1);
  return text;
}

// A vertex number off the front of `text`.
std::optional<std::uint32_t> take_index(std::string_view& text) {
  std::uint32_t index = 0;
  const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), index);
  if (error != std::errc{}) return std::nullopt;
  text.remove_prefix(static_cast<std::size_t>(end - text.data()));
  return index;
}

Result<TackAddress> parse_edge(TackKind kind, std::string_view text) {
  const auto bad = [&] {
    return fail(fmt::format("\"{}\" is not an edge between two vertices.", text), {},
                "Write edge 12-13, or edge 12-13 at 0.5.");
  };
  std::string_view rest = text;
  TackAddress address{kind, kNoPart, 0, {0.5, 0, 0}};
  const auto a = take_index(rest);
  if (!a || rest.empty() || rest.front() != '-') return bad();
  rest.remove_prefix(1);
  const auto b = take_index(rest);
  if (!b) return bad();
  address.index = *a;
  address.second = *b;
  rest = trimmed(rest);
  if (rest.empty()) return address;
  if (!rest.starts_with("at ")) return bad();
  rest = trimmed(rest.substr(3));
  const auto [end, error] = std::from_chars(rest.data(), rest.data() + rest.size(), address.parameter.x);
  if (error != std::errc{} || end != rest.data() + rest.size() || !std::isfinite(address.parameter.x)) return bad();
  if (address.parameter.x < 0 || address.parameter.x > 1)
    return fail(fmt::format("An edge goes from 0 to 1; {} lies beyond its end.", full_digits(address.parameter.x)));
  return address;
}

}  // namespace

Result<Vec3> parse_triple(std::string_view text) {
  text = trimmed(text);
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

Result<TackAddress> parse_feature(std::string_view text) {
  const std::string_view rest = trimmed(text);
  const std::size_t space = rest.find(' ');
  const std::string_view kind = rest.substr(0, space);
  std::string_view argument = space == std::string_view::npos ? std::string_view{} : trimmed(rest.substr(space));
  if (kind == "pivot" && argument.empty()) return TackAddress{TackKind::Pivot, kNoPart, 0, {}};
  if (kind == "mass" && argument.empty()) return TackAddress{TackKind::Mass, kNoPart, 0, {}};
  if (kind == "guide") {
    TackAddress address{TackKind::Guide, kNoPart, 0, {}};
    if (argument.empty()) return address;
    const bool two = argument.find(',') != std::string_view::npos;
    const auto at = parse_triple(std::string(argument) + (two ? ",0" : ",0,0"));
    if (!at)
      return fail(fmt::format("\"{}\" is no place of a guide.", argument), {},
                  "Write guide, guide 12.5 or guide 10,20.");
    address.parameter = *at;
    return address;
  }
  if (kind == "plane") {
    const auto at = parse_triple(std::string(argument) + ",0");
    if (!at) return fail(fmt::format("\"{}\" should be two numbers, like 10,20.", argument));
    return TackAddress{TackKind::PlanePoint, kNoPart, 0, *at};
  }
  if (kind == "kept") {
    if (argument.empty()) return fail("A kept tack is named after \"kept\".", {}, "Write kept out.");
    TackAddress address{TackKind::Kept, kNoPart, 0, {}};
    address.name = argument;
    return address;
  }
  if (kind == "edge") return parse_edge(TackKind::Edge, argument);
  if (kind == "crossing") return parse_edge(TackKind::Crossing, argument);
  if (kind == "round") {
    std::string_view number = argument;
    const auto index = take_index(number);
    if (!index || !number.empty())
      return fail(fmt::format("\"{}\" is not the vertex that names a round edge.", argument), {}, "Write round 40.");
    return TackAddress{TackKind::RoundCentre, kNoPart, *index, {}};
  }
  if (kind == "axis") {
    std::string_view left = argument;
    const auto index = take_index(left);
    TackAddress address{TackKind::Axis, kNoPart, index.value_or(0), {0.5, 0, 0}};
    left = trimmed(left);
    const bool says_where = left.starts_with("at ");
    const auto where =
        says_where ? parse_triple(std::string(left.substr(3)) + ",0,0") : Result<Vec3>(address.parameter);
    if (!index || !where || !(says_where || left.empty()))
      return fail(fmt::format("\"{}\" is not a face number.", argument), {}, "Write axis 5, or axis 5 at 0.5.");
    address.parameter = *where;
    return address;
  }
  if (kind == "face" || kind == "face-centre") {
    std::string_view left = argument;
    const auto index = take_index(left);
    TackAddress address{kind == "face" ? TackKind::Face : TackKind::FaceCentre, kNoPart, index.value_or(0), {}};
    left = trimmed(left);
    if (kind == "face" && index && left.starts_with("at ")) {
      const auto two = parse_triple(std::string(left.substr(3)) + ",0");
      if (!two) return fail(fmt::format("\"{}\" should be two numbers, like 0.2,0.3.", left.substr(3)));
      // Written with all their digits, two shares may add up to a little more than 1.
      if (two->x < 0 || two->y < 0 || two->x + two->y > 1 + 1e-9)
        return fail(fmt::format("{} lies beside the face: the two shares are 0 or more, and 1 at most together.",
                                left.substr(3)));
      address.parameter = *two;
      left = {};
    } else if (kind == "face") {
      address.parameter = {1.0 / 3, 1.0 / 3, 0};
    }
    if (!index || !left.empty())
      return fail(fmt::format("\"{}\" is not a face number.", argument), {},
                  "Write face 5, face 5 at 0.2,0.3 or face-centre 5.");
    return address;
  }
  if (kind == "vertex") {
    std::string_view number = argument;
    const auto index = take_index(number);
    if (!index || !number.empty())
      return fail(fmt::format("\"{}\" is not a vertex number.", argument), {}, std::string(kForms));
    return TackAddress{TackKind::Vertex, kNoPart, *index, {}};
  }
  for (const auto& [word, box] : {std::pair{"box", TackKind::BoxPoint}, std::pair{"world-box", TackKind::WorldBoxPoint},
                                  std::pair{"tree-box", TackKind::TreeBoxPoint}}) {
    if (kind != word) continue;
    const auto fraction = parse_triple(argument);
    if (!fraction) return tl::unexpected(fraction.error());
    for (const double f : {fraction->x, fraction->y, fraction->z})
      if (f < 0 || f > 1)
        return fail(fmt::format("A box goes from 0 to 1 along each axis; {} lies beside it.", full_digits(f)));
    return TackAddress{box, kNoPart, 0, *fraction};
  }
  return fail(fmt::format("\"{}\" is not a kind of place known here.", rest), {}, std::string(kForms));
}

std::string feature_text(const TackAddress& address) {
  switch (address.kind) {
    case TackKind::Vertex: return fmt::format("vertex {}", address.index);
    case TackKind::Edge:
      return fmt::format("edge {}-{} at {}", address.index, address.second, full_digits(address.parameter.x));
    case TackKind::Crossing:
      return fmt::format("crossing {}-{} at {}", address.index, address.second, full_digits(address.parameter.x));
    case TackKind::RoundCentre: return fmt::format("round {}", address.index);
    case TackKind::Axis: return fmt::format("axis {} at {}", address.index, full_digits(address.parameter.x));
    case TackKind::Face:
      return fmt::format("face {} at {},{}", address.index, full_digits(address.parameter.x),
                         full_digits(address.parameter.y));
    case TackKind::FaceCentre: return fmt::format("face-centre {}", address.index);
    case TackKind::BoxPoint: return "box " + triple_text(address.parameter);
    case TackKind::WorldBoxPoint: return "world-box " + triple_text(address.parameter);
    case TackKind::TreeBoxPoint: return "tree-box " + triple_text(address.parameter);
    case TackKind::Mass: return "mass";
    case TackKind::Kept: return "kept " + address.name;
    case TackKind::Guide: {
      const Vec3& at = address.parameter;
      if (at.x == 0 && at.y == 0) return "guide";
      return "guide " + full_digits(at.x) + (at.y == 0 ? std::string() : "," + full_digits(at.y));
    }
    case TackKind::PlanePoint:
      return "plane " + full_digits(address.parameter.x) + "," + full_digits(address.parameter.y);
    default: return "pivot";
  }
}

Result<TackAddress> parse_address(const Scene& scene, std::string_view text) {
  text = trimmed(text);
  if (text.starts_with("point ")) {
    const auto at = parse_triple(trimmed(text.substr(6)));
    if (!at) return tl::unexpected(at.error());
    return TackAddress{TackKind::Point, kNoPart, 0, *at};
  }
  if (text.starts_with("plane ")) {
    // On the plane that is in use now.
    auto at = parse_feature(text);
    if (at) at->part = scene.plane();
    return at;
  }
  if (text.empty() || text.front() != '"')
    return fail(fmt::format("\"{}\" does not name a place.", text), {}, std::string(kForms));
  std::size_t behind = 0;
  const auto path = out_of_quotes(text, behind);
  if (!path) return fail(fmt::format("The quote around the part's name is not closed in {}.", text));
  if (*path == kWorldPlane && trimmed(text.substr(behind)).starts_with("plane "))
    return parse_feature(text.substr(behind));
  const auto part = find_by_path(scene, *path);
  if (!part) return tl::unexpected(part.error());
  auto address = parse_feature(text.substr(behind));
  if (address) address->part = *part;
  return address;
}

std::string address_text(const Scene& scene, const TackAddress& address) {
  if (address.kind == TackKind::Point) return "point " + triple_text(address.parameter);
  if (address.kind == TackKind::PlanePoint && address.part == kNoPart)
    return (scene.plane() == kNoPart ? "" : in_quotes(std::string(kWorldPlane)) + " ") + feature_text(address);
  return in_quotes(path_of(scene, address.part)) + " " + feature_text(address);
}

namespace {

std::string_view part_of_edge(double way) {
  if (way == 0.5) return "edge middle";
  for (const auto& [parts, words] : {std::pair{3, std::string_view("edge third")}, {4, "edge quarter"}})
    for (int k = 1; k < parts; ++k)
      if (way == static_cast<double>(k) / parts) return words;
  return "edge";
}

// Whether a part's placement makes a circle across `axis` (mesh coordinates) an oval.
bool makes_oval(const Affine& world, const Vec3& axis) {
  const Vec3 x = normalized(cross(least_axis(axis), axis)), y = cross(axis, x);
  const Vec3 a = world.linear * x, b = world.linear * y;
  const double one = length(a), two = length(b);
  return std::abs(one - two) > 1e-6 * (one + two) || std::abs(dot(a, b)) > 1e-6 * one * two;
}

}  // namespace

std::string kind_words(const TackAddress& address) {
  switch (address.kind) {
    case TackKind::Vertex: return "vertex";
    case TackKind::Edge: return std::string(part_of_edge(address.parameter.x));
    case TackKind::Crossing: return "crossing";
    case TackKind::RoundCentre: return "centre of round edge";
    case TackKind::Axis: return "axis of round face";
    case TackKind::PlanePoint: return "grid point";
    case TackKind::Face: return "face";
    case TackKind::FaceCentre: return "face centre";
    case TackKind::Mass: return "centre of mass";
    case TackKind::Pivot: return "pivot";
    case TackKind::Point: return "point";
    case TackKind::Kept: return "kept " + printable(address.name);
    case TackKind::Guide: return address.index == kGuideCrossing ? "crossing of guides" : "guide";
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
  if (address.kind == TackKind::PlanePoint)
    return fmt::format("grid point {}, {}{}", show_number(address.parameter.x, 3).text,
                       show_number(address.parameter.y, 3).text,
                       !scene.contains(address.part) ? "" : " · " + printable(scene.part(address.part).name));
  const Part* part = scene.find(address.part);
  std::string kind = kind_words(address);
  if (part && part->mesh && address.kind == TackKind::RoundCentre)
    if (const Features* features = part->mesh->features_if_ready())
      if (const RoundEdge* round = features->round_at(address.index))
        if (makes_oval(world_of(scene, address.part), round->axis)) kind += " (oval here)";
  if (part && part->mesh && address.kind == TackKind::FaceCentre)
    if (const Features* features = part->mesh->features_if_ready())
      if (address.index < features->face_of.size() && features->face_at(address.index).kind == MeshFace::Kind::Ball)
        kind = "centre of ball";
  if (part && part->mesh && address.kind == TackKind::Mass)
    if (const MassCentre* mass = part->mesh->mass_if_ready())
      kind += mass->closed ? " (of its volume)" : " (of its surface: it is not closed)";
  return kind + " · " + (part ? printable(part->name) : std::string("a part that is gone"));
}

}  // namespace tack
