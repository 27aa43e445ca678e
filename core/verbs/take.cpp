#include "core/verbs/take.h"

#include <fmt/format.h>

#include <charconv>

#include "core/catch/guide_law.h"
#include "core/math/split.h"
#include "core/verbs/patch.h"
#include "core/verbs/phrase.h"

namespace tack {
namespace {

constexpr std::size_t kMostNumbers = 100'000'000;
constexpr std::size_t kMostPlaces = 20'000;  // that a steps file keeps to find elements again by

constexpr std::string_view kKindKeys[] = {"vertices", "edges", "faces"};

std::size_t elements_in(const Take& take) {
  std::size_t count = 0;
  for (const Taken& t : take.of.items()) count += t.elements.size();
  return count;
}
ElementKind kind_of(const Take& take) {
  return take.of.items().empty() ? ElementKind::Vertices : take.of.items().front().elements.kind;
}

std::string what_words(const Take& take, const Scene& scene) {
  std::vector<PartId> parts;
  for (const Taken& t : take.of.items()) parts.push_back(t.part);
  return fmt::format("{} of {}", count_words(kind_of(take), elements_in(take)), names_of(scene, parts));
}

std::string name_for(const Take& take, const Scene& scene) {
  const auto items = take.of.items();
  return items.size() == 1 ? what_words(take, scene)
                           : fmt::format("{} of {} parts", count_words(kind_of(take), elements_in(take)), items.size());
}

Json edges_to_json(const std::vector<ElementEdge>& edges) {
  Json list = Json::array();
  for (const ElementEdge& e : edges) list.push_back(fmt::format("{}-{}", e[0], e[1]));
  return list;
}

Json of_to_json(const Take& take, const Scene& scene) {
  Json list = Json::array();
  for (const Taken& t : take.of.items()) {
    Json one{{"part", scene.contains(t.part) ? path_of(scene, t.part) : std::string()}};
    const std::string key(kKindKeys[static_cast<std::size_t>(t.elements.kind)]);
    one[key] =
        t.elements.kind == ElementKind::Edges ? edges_to_json(t.elements.edges) : Json(ranges_text(t.elements.numbers));
    if (!t.places.empty() && t.places.size() <= kMostPlaces) {
      one["mesh"] = {t.vertices, t.triangles};
      Json places = Json::array();
      for (const Vec3& p : t.places) places.push_back({p.x, p.y, p.z});
      one["places"] = std::move(places);
    }
    list.push_back(std::move(one));
  }
  return list;
}

Result<std::vector<ElementEdge>> edges_from_json(const Json& json, const std::string& where) {
  std::vector<ElementEdge> edges;
  if (!json.is_array()) return fail("This should be a list of edges, like [\"12-13\"].", where);
  for (const Json& e : json) {
    if (!e.is_string()) return fail("An edge is written by its two vertices, like \"12-13\".", where);
    const auto& text = e.get_ref<const std::string&>();
    ElementEdge edge{};
    const auto dash = text.find('-');
    const char* begin = text.data();
    const char* end = begin + text.size();
    if (dash == std::string::npos) return fail("An edge is written by its two vertices, like \"12-13\".", where);
    const auto a = std::from_chars(begin, begin + dash, edge[0]);
    const auto b = std::from_chars(begin + dash + 1, end, edge[1]);
    if (a.ec != std::errc() || a.ptr != begin + dash || b.ec != std::errc() || b.ptr != end || edge[0] == edge[1])
      return fail(fmt::format("\"{}\" is no edge: it is written by its two vertices, like \"12-13\".", text), where);
    if (edge[0] > edge[1]) std::swap(edge[0], edge[1]);
    edges.push_back(edge);
  }
  return edges;
}

Result<Taken> taken_from_json(const Json& json, std::size_t number, const Scene& scene) {
  const std::string where = fmt::format("of, {}", number + 1);
  static constexpr std::string_view kKeys[] = {"part", "vertices", "edges", "faces", "mesh", "places"};
  if (!json.is_object()) return fail("This should be an object with a part and its vertices, edges or faces.", where);
  if (auto ok = check_keys(json, {std::begin(kKeys), std::end(kKeys)}); !ok) return tl::unexpected(ok.error());
  Taken t;
  if (!json.contains("part") || !json["part"].is_string()) return fail("This names no part.", where + ", part");
  const auto part = find_by_path(scene, json["part"].get_ref<const std::string&>());
  if (!part) return fail(part.error().what, where + ", part", part.error().remedy);
  t.part = *part;
  int kinds = 0;
  for (std::size_t k = 0; k < 3; ++k) {
    const std::string key(kKindKeys[k]);
    if (!json.contains(key)) continue;
    ++kinds;
    t.elements.kind = static_cast<ElementKind>(k);
    const std::string there = fmt::format("{}, {}", where, key);
    if (t.elements.kind == ElementKind::Edges) {
      auto edges = edges_from_json(json[key], there);
      if (!edges) return tl::unexpected(edges.error());
      t.elements.edges = std::move(*edges);
    } else {
      if (!json[key].is_string()) return fail("This should be numbers, like \"0-3,7\".", there);
      auto numbers = numbers_from_ranges(json[key].get_ref<const std::string&>(), there);
      if (!numbers) return tl::unexpected(numbers.error());
      t.elements.numbers = std::move(*numbers);
    }
  }
  if (kinds != 1) return fail("This should have one of \"vertices\", \"edges\" and \"faces\".", where);
  t.elements = in_order(std::move(t.elements));
  if (json.contains("places") != json.contains("mesh")) return fail("\"places\" and \"mesh\" go together.", where);
  if (json.contains("places")) {
    const Json &places = json["places"], &mesh = json["mesh"];
    const auto is_count = [](const Json& n) { return n.is_number_unsigned(); };
    if (!mesh.is_array() || mesh.size() != 2 || !is_count(mesh[0]) || !is_count(mesh[1]))
      return fail("This should be the numbers of vertices and of triangles.", where + ", mesh");
    t.vertices = mesh[0].get<std::size_t>();
    t.triangles = mesh[1].get<std::size_t>();
    if (!places.is_array()) return fail("This should be a list of places.", where + ", places");
    for (const Json& p : places) {
      if (!p.is_array() || p.size() != 3 ||
          !std::all_of(p.begin(), p.end(), [](const Json& n) { return n.is_number(); }))
        return fail("A place is three numbers.", where + ", places");
      t.places.push_back({p[0].get<double>(), p[1].get<double>(), p[2].get<double>()});
    }
  }
  return t;
}

Result<void> of_from_json(Take& take, const Json& json, const Scene& scene) {
  if (!json.is_array() || json.empty()) return fail("This should be a list of parts with their elements.", "of");
  auto list = std::make_shared<std::vector<Taken>>();
  for (std::size_t i = 0; i < json.size(); ++i) {
    auto t = taken_from_json(json[i], i, scene);
    if (!t) return tl::unexpected(t.error());
    if (!list->empty() && t->elements.kind != list->front().elements.kind)
      return fail("Vertices, edges and faces are not taken together.", "of");
    if (std::any_of(list->begin(), list->end(), [&](const Taken& other) { return other.part == t->part; }))
      return fail(fmt::format("\"{}\" stands here twice.", scene.part(t->part).name), "of");
    list->push_back(std::move(*t));
  }
  take.of.list = std::move(list);
  return {};
}

constexpr Choice kMeasuredAlong[] = {{"through space", "space"}, {"along the surface", "surface"}};

Result<void> check(const Take& take) {
  if (take.of.items().empty() || elements_in(take) == 0)
    return fail("Nothing is taken.", "of", "Click vertices, edges or faces.");
  if (take.reach.text.empty() && !(take.reach.value >= 0)) return fail("A reach is not below 0.", "reach");
  return {};
}

void sentence(Phrase& s, const Take& take) {
  s.say("Took ", "Take ").say(what_words(take, s.scene()));
  s.say("; what is within ").blank("reach").say(" ").blank("surface").say(" goes along by its share");
  std::vector<PartId> parts;
  for (const Taken& t : take.of.items()) parts.push_back(t.part);
  if (take.copies != Copies::All || shares_mesh(s.scene(), parts)) s.say(", changing ").blank("copies");
  s.say(".");
}

// The elements on the meshes as they are now.
Result<std::vector<Taken>> present(const Take& take, const Scene& scene) {
  std::vector<Taken> all;
  for (const Taken& t : take.of.items()) {
    const Part* part = scene.find(t.part);
    if (!part) return fail("A part that something was taken of is no longer there.", "of");
    if (part->patch) return fail(fmt::format("\"{}\" was itself taken from a mesh.", part->name), "of");
    if (!part->mesh) return fail(fmt::format("\"{}\" has no mesh.", part->name), "of");
    if (part->skin)
      return fail(fmt::format("\"{}\" is bent by its joints: its vertices stand where those put them.", part->name),
                  "of");
    const Mesh& mesh = *part->mesh;
    Taken now = t;
    now.vertices = mesh.positions().size();
    now.triangles = mesh.triangles().size();
    if (!t.places.empty() && (t.vertices != now.vertices || t.triangles != now.triangles)) {
      // Its numbers are those of a mesh that is gone: the vertices in their order are those of the elements.
      std::vector<std::uint32_t> vertices;
      if (t.elements.kind == ElementKind::Vertices) vertices = t.elements.numbers;
      for (const ElementEdge& e : t.elements.edges) vertices.insert(vertices.end(), e.begin(), e.end());
      std::sort(vertices.begin(), vertices.end());
      vertices.erase(std::unique(vertices.begin(), vertices.end()), vertices.end());
      // Corners of faces are told by their places alone.
      if (t.elements.kind == ElementKind::Faces)
        for (std::uint32_t i = 0; i < t.places.size(); ++i) vertices.push_back(i);
      now.elements = found_again(t.elements, vertices, t.places, mesh);
      if (now.elements.empty())
        return fail(fmt::format("Nothing of {} is where it was on \"{}\": its mesh is another.",
                                count_words(t.elements.kind, t.elements.size()), part->name),
                    "of", "Take it anew.");
    } else {
      const std::size_t limit = t.elements.kind == ElementKind::Faces ? now.triangles : now.vertices;
      for (const std::uint32_t n : t.elements.numbers)
        if (n >= limit)
          return fail(fmt::format("\"{}\" has no {} {}.", part->name,
                                  t.elements.kind == ElementKind::Faces ? "face" : "vertex", n),
                      "of");
      for (const ElementEdge& e : t.elements.edges)
        if (mesh.neighbours().edge_between(e[0], e[1]) == Topology::kNoEdge)
          return fail(fmt::format("\"{}\" has no edge {}-{}.", part->name, e[0], e[1]), "of");
      // Seams have one name for each place.
      const auto& welded = mesh.neighbours().topology.welded;
      if (t.elements.kind == ElementKind::Vertices)
        for (std::uint32_t& n : now.elements.numbers) n = welded[n];
      for (ElementEdge& e : now.elements.edges) {
        e = {welded[e[0]], welded[e[1]]};
        if (e[0] > e[1]) std::swap(e[0], e[1]);
      }
      now.elements = in_order(std::move(now.elements));
    }
    if (!now.elements.empty()) all.push_back(std::move(now));
  }
  return all;
}

// Where a patch stands, in the world: its middle, and of faces their mean normal as z.
Affine frame_of(const std::vector<Taken>& all, const Scene& scene) {
  Vec3 sum, normal;
  double weight = 0;
  for (const Taken& t : all) {
    const Mesh& mesh = *scene.part(t.part).mesh;
    const Affine world = world_of(scene, t.part);
    const double side = determinant(world.linear) < 0 ? -1 : 1;
    if (t.elements.kind == ElementKind::Faces) {
      for (const std::uint32_t f : t.elements.numbers) {
        auto c = mesh.corners(f);
        for (Vec3& p : c) p = world * p;
        const Vec3 area = cross(c[1] - c[0], c[2] - c[0]) * (0.5 * side);
        const double size = length(area);
        sum = sum + (c[0] + c[1] + c[2]) * (size / 3);
        normal = normal + area;
        weight += size;
      }
    } else {
      for (const std::uint32_t v : welded_vertices(mesh, t.elements))
        sum = sum + world * mesh.positions()[v], weight += 1;
    }
  }
  // Faces without area: the middle of their corners.
  if (!(weight > 0)) {
    weight = 0;
    for (const Taken& t : all)
      for (const std::uint32_t v : welded_vertices(*scene.part(t.part).mesh, t.elements))
        sum = sum + world_of(scene, t.part) * scene.part(t.part).mesh->positions()[v], weight += 1;
  }
  const Affine like = all.size() == 1 ? world_of(scene, all.front().part) : Affine{};
  Affine frame;
  frame.translation = sum * (1 / weight);
  const bool even = is_similarity(like.linear);
  if (even)
    for (std::size_t i = 0; i < 3; ++i) frame.linear.column[i] = normalized(like.linear.column[i]);
  if (even && determinant(frame.linear) < 0) frame.linear.column[0] = frame.linear.column[0] * -1.0;
  if (!even || !(length(normal) > 1e-9 * weight)) return frame;
  const Vec3 z = normalized(normal);
  // The axis of the part that the faces lean to least is their x.
  std::size_t flattest = 0;
  for (std::size_t i = 1; i < 3; ++i)
    if (std::abs(dot(frame.linear.column[i], z)) < std::abs(dot(frame.linear.column[flattest], z)) - 1e-9) flattest = i;
  const Vec3 along = frame.linear.column[flattest];
  const Vec3 x = normalized(along - z * dot(along, z));
  frame.linear.column = {x, cross(z, x), z};
  return frame;
}

}  // namespace

std::string count_words(ElementKind kind, std::size_t count) {
  constexpr std::string_view kOne[] = {"vertex", "edge", "face"};
  const auto k = static_cast<std::size_t>(kind);
  return fmt::format("{} {}", count, count == 1 ? kOne[k] : kKindKeys[k]);
}

std::string ranges_text(const std::vector<std::uint32_t>& numbers) {
  std::string text;
  for (std::size_t i = 0; i < numbers.size();) {
    std::size_t j = i;
    while (j + 1 < numbers.size() && numbers[j + 1] == numbers[j] + 1) ++j;
    if (!text.empty()) text += ',';
    text += j == i ? fmt::format("{}", numbers[i]) : fmt::format("{}-{}", numbers[i], numbers[j]);
    i = j + 1;
  }
  return text;
}

Result<std::vector<std::uint32_t>> numbers_from_ranges(std::string_view text, std::string_view key) {
  std::vector<std::uint32_t> numbers;
  const auto wrong = [&] {
    return fail(fmt::format("\"{}\" is no list of numbers, like \"0-3,7\".", text.substr(0, 40)), std::string(key));
  };
  const char* at = text.data();
  const char* end = at + text.size();
  while (at != end) {
    std::uint32_t from = 0, to = 0;
    auto read = std::from_chars(at, end, from);
    if (read.ec != std::errc()) return wrong();
    to = from;
    if (read.ptr != end && *read.ptr == '-') {
      read = std::from_chars(read.ptr + 1, end, to);
      if (read.ec != std::errc() || to < from) return wrong();
    }
    if (numbers.size() + (to - from) >= kMostNumbers) return fail("These are too many numbers.", std::string(key));
    for (std::uint64_t n = from; n <= to; ++n) numbers.push_back(static_cast<std::uint32_t>(n));
    at = read.ptr;
    if (at == end) break;
    if (*at != ',' || at + 1 == end) return wrong();
    ++at;
  }
  if (numbers.empty()) return wrong();
  return numbers;
}

Taken taken(const Scene& scene, PartId part, Elements elements) {
  const Mesh& mesh = *scene.part(part).mesh;
  Taken t{part, std::move(elements), {}, mesh.positions().size(), mesh.triangles().size()};
  for (const std::uint32_t v : welded_vertices(mesh, t.elements)) t.places.push_back(mesh.positions()[v]);
  return t;
}

Result<Scene> apply(const Take& take, const Scene& scene) {
  if (auto ok = check(take); !ok) return tl::unexpected(ok.error());
  const auto all = present(take, scene);
  if (!all) return tl::unexpected(all.error());
  const auto reach = evaluate(take.reach, EntryKind::Length, 0, Reading(scene));
  if (!reach) return tl::unexpected(reach.error());
  if (!(*reach >= 0)) return fail("A reach is not below 0.", "reach");
  auto patch = std::make_shared<Patch>();
  patch->reach = *reach;
  patch->surface = take.surface;
  patch->instances = take.copies == Copies::All;
  for (const Taken& t : *all) {
    const Mesh& mesh = *scene.part(t.part).mesh;
    auto shares = shares_of(mesh, t.elements, world_of(scene, t.part).linear, *reach, take.surface);
    patch->of.push_back(
        {t.part, t.elements, std::make_shared<const Shares>(std::move(shares)), t.vertices, t.triangles});
  }
  Scene result = scene;
  Part part;
  part.name = take.name.empty() ? name_for(take, scene) : take.name;
  part.name = free_name(scene, kNoPart, part.name);
  const auto placement = placement_in(scene, kNoPart, frame_of(*all, scene));
  if (!placement) return tl::unexpected(placement.error());
  part.placement = *placement;
  part.patch = patch;
  const PartId id = result.add(std::move(part));
  const auto to_patch = inverse(world_of(result, id));
  if (!to_patch) return fail("The part is flattened.", "of");
  auto mesh = mesh_of_patch(result, *patch, *to_patch);
  if (!mesh) return tl::unexpected(mesh.error());
  Part shown = result.part(id);
  shown.mesh = *mesh;
  shown.colours.resize((*mesh)->primitives().size());
  result.replace(id, std::move(shown));
  return result;
}

// clang-format off
const Table<Take>& table_of(const Take*) {
  static const Table<Take> table{.key = "take", .does = "Takes vertices, edges or faces as something that is placed like a part.", .on_patches = true,
      .check = check,
      .parts = [](const Take& t, const Scene&) {
        std::vector<PartId> parts;
        for (const Taken& one : t.of.items()) parts.push_back(one.part);
        return parts;
      },
      .leading = "reach",
      .hints = {.nothing = "Click vertices, edges or faces.",
      .done = "Ctrl-click: more. + and −: a ring. Type or drag a reach. Then Move, Rotate, Scale …",
      .dragging = "Type how far what is near goes along, or let go."},
      .sentence = sentence, .rows = {
    {.key = "of", .name = "Elements", .needed = true, .write = of_to_json, .read = of_from_json,
     .value = "a list of objects with `part` and `vertices`, `edges` or `faces`",
     .doc = "what is taken: `\"0-3,7\"` for vertices and triangles, `[\"12-13\"]` for edges; `mesh` and `places` as they were, to find them again by, may be left out"},
    {.key = "reach", .name = "Reach", .at = slot<&Take::reach>,
     .doc = "mm: what is nearer goes along by its share, (1 − (d / reach)²)²; left out: nothing does"},
    {.key = "surface", .name = "Measured", .at = slot<&Take::surface>, .choices = kMeasuredAlong, .always = true,
     .doc = "whether that is measured along the surface, or through space; left out: `true`"},
    {.key = "copies", .name = "Instances", .at = slot<&Take::copies>, .choices = kCopiesChoices, .always = true,
     .doc = "whether the other parts that share the mesh change with it; left out: `instances`"},
    {.key = "name", .name = "Name", .at = slot<&Take::name>, .doc = "left out: `3 faces of Crate`, with a number"},
  }};
  return table;
}
// clang-format on

}  // namespace tack
