// Deliveries as one block of memory; declared in delivery.h.
//
// Layout: the 8 letters "TACKPACK", the length of a JSON text (uint64), the JSON, then raw arrays one after another,
// each beginning at a multiple of 8. The JSON says how many numbers each array has. The receiver believes nothing of
// it.
#include <fmt/format.h>

#include <unordered_map>

#include "core/files/delivery.h"
#include "core/files/glb.h"
#include "core/files/gltf_node.h"
#include "core/files/part_extension.h"
#include "core/printable.h"

namespace tack {
namespace {

constexpr std::string_view kPackMagic = "TACKPACK";

// Where each array will lie, and what it is made of.
class Layout {
 public:
  template <typename T>
  Json array(std::span<const T> values) {
    at_ = (at_ + 7) / 8 * 8;
    const std::size_t at = at_;
    arrays_.push_back({reinterpret_cast<const std::uint8_t*>(values.data()), values.size_bytes()});
    known_.emplace(ends_of(arrays_.back()), std::pair{at, arrays_.size() - 1});
    at_ += values.size_bytes();
    return {{"at", at}, {"count", values.size()}};
  }
  // The same for what may lie there already: then that is it.
  template <typename T>
  Json shared(std::span<const T> values) {
    const ByteView bytes{reinterpret_cast<const std::uint8_t*>(values.data()), values.size_bytes()};
    if (bytes.empty()) return array(values);
    const auto [begin, end] = known_.equal_range(ends_of(bytes));
    for (auto it = begin; it != end; ++it)
      if (const ByteView have = arrays_[it->second.second];
          have.size() == bytes.size() && std::memcmp(have.data(), bytes.data(), bytes.size()) == 0)
        return {{"at", it->second.first}, {"count", values.size()}};
    return array(values);
  }
  const std::vector<ByteView>& arrays() const { return arrays_; }

 private:
  static std::uint64_t ends_of(ByteView bytes) {
    const std::size_t n = std::min<std::size_t>(bytes.size(), 64);
    return hash_of(bytes.first(n)) ^ (hash_of(bytes.last(n)) << 1) ^ bytes.size();
  }

  std::size_t at_ = 0;
  std::vector<ByteView> arrays_;
  std::unordered_multimap<std::uint64_t, std::pair<std::size_t, std::size_t>> known_;  // to place and number
};

template <typename T>
Result<std::span<const T>> array_at(std::uint64_t at, std::uint64_t count, ByteView body) {
  if (at % 8 != 0 || at > body.size() || count > (body.size() - at) / sizeof(T))
    return fail("The import helper's answer is cut off.");
  return std::span<const T>(reinterpret_cast<const T*>(body.data() + at), count);
}

template <typename T>
Result<std::span<const T>> array_in(const Json& json, ByteView body) {
  if (!json.is_object() || !json.contains("at") || !json["at"].is_number_unsigned() || !json.contains("count") ||
      !json["count"].is_number_unsigned())
    return fail("The import helper's answer is damaged.");
  return array_at<T>(json["at"].get<std::uint64_t>(), json["count"].get<std::uint64_t>(), body);
}

template <typename T>
std::vector<T> copied(const Result<std::span<const T>>& values) {
  return {values->begin(), values->end()};
}

Json affines_json(const std::vector<Affine>& all) {
  Json list = Json::array();
  for (const Affine& a : all) list.push_back(affine_json(a));
  return list;
}

Json colour_to_list(const Colour& c) { return Json::array({c.r, c.g, c.b, c.a}); }

Colour colour_from_list(const Json& json) {
  const auto channel = [&](std::size_t i) { return std::clamp(json.at(i).get<float>(), 0.0f, 1.0f); };
  return {channel(0), channel(1), channel(2), channel(3)};
}

// What every part has, and every mesh, as they lie in the block: a scene of fifty thousand parts is read in a moment
// that way. What few have stands in the JSON.
struct PackedPart {
  Placement placement;
  std::uint32_t parent = 0, colours = 0, named = 0;  // how many of the lists behind each other
  std::int32_t mesh = -1, carried_mesh = -1, original = -1;
  std::uint32_t flags = 0;
  std::uint32_t unused = 0;
};
struct PackedMesh {
  std::array<std::uint64_t, 4> at{}, count{};  // positions, triangles, normals, primitives
};
static_assert(std::is_trivially_copyable_v<PackedPart> && std::is_trivially_copyable_v<PackedMesh> &&
              std::is_trivially_copyable_v<Colour>);
enum Flag : std::uint32_t { kMetres = 1, kHidden = 2, kLocked = 4, kSeeThrough = 8, kCarried = 16, kAnimated = 32 };

PackedPart packed(const DeliveredPart& d) {
  PackedPart p;
  p.placement = d.placement;
  p.parent = d.parent;
  p.colours = static_cast<std::uint32_t>(d.colours.size());
  p.named = static_cast<std::uint32_t>(d.named.size());
  p.mesh = d.mesh;
  p.carried_mesh = d.carried_mesh;
  if (d.carried) p.original = d.carried->original;
  const std::pair<bool, Flag> flags[] = {{d.geometry_in_metres, kMetres},
                                         {d.hidden, kHidden},
                                         {d.locked, kLocked},
                                         {d.see_through, kSeeThrough},
                                         {d.carried.has_value(), kCarried},
                                         {d.carried && d.carried->animated, kAnimated}};
  for (const auto& [set, flag] : flags)
    if (set) p.flags |= flag;
  return p;
}

// What a part has beside that; null for most.
Json more_of(const DeliveredPart& d) {
  Json j;
  if (d.base >= 0) {
    j["base"] = d.base;
    j["base_carried"] = d.base_carried;
    if (d.base_in_metres) j["base_in_metres"] = true;
    j["lengths"] = lengths_json(d.lengths);
  }
  if (d.typed || d.kept || d.shape || d.bands || d.guide != GuideKind::None || d.grid != PlaneGrid{}) {
    Part part;
    part.placement = d.placement;
    part.typed = d.typed;
    part.kept = d.kept;
    part.shape = d.shape;
    part.bands = d.bands;
    part.guide = d.guide;
    if (d.grid != PlaneGrid{}) part.grid = std::make_shared<const PlaneGrid>(d.grid);
    j["extension"] = write_part_extension(part);
  }
  if (!d.carried) return j;
  for (const auto& [key, value] :
       {std::pair{"head", &d.carried->head}, {"content", &d.carried->content}, {"rest", &d.carried->rest}})
    if (!value->is_null() && !value->empty()) j[key] = *value;
  if (d.carried->taken != Affine{}) j["taken"] = affine_json(d.carried->taken);
  return j;
}

// Nothing of it is believed: numbers that are none, or that no placement has, end the reading.
DeliveredPart unpacked(const PackedPart& p) {
  DeliveredPart d;
  const Placement& at = p.placement;
  for (const Vec3* v : {&at.position, &at.rotation, &at.scale, &at.skew, &at.pivot})
    if (!is_finite(*v)) throw std::range_error("a placement");
  d.placement = at;
  d.parent = p.parent;
  d.mesh = p.mesh;
  d.carried_mesh = p.carried_mesh;
  d.geometry_in_metres = (p.flags & kMetres) != 0;
  d.hidden = (p.flags & kHidden) != 0;
  d.locked = (p.flags & kLocked) != 0;
  d.see_through = (p.flags & kSeeThrough) != 0;
  if ((p.flags & kCarried) != 0) {
    d.carried.emplace();
    d.carried->head = Json::object();
    d.carried->content = Json::object();
    d.carried->original = p.original;
    d.carried->animated = (p.flags & kAnimated) != 0;
    if (d.carried->animated) d.carried->rest = Json::object();
  }
  return d;
}

void add_more(const Json& j, DeliveredPart& d) {
  if (j.contains("extension")) {
    std::vector<std::string> said;  // where the file was read
    const DeliveredPart was = d;
    read_part_extension(j.at("extension"), d, said);
    d.placement = was.placement;
    d.hidden = was.hidden;
    d.locked = was.locked;
    d.see_through = was.see_through;
  }
  if (j.contains("base")) {
    d.base = j.at("base").get<int>();
    d.base_carried = j.at("base_carried").get<int>();
    d.base_in_metres = j.contains("base_in_metres");
    d.lengths = lengths_from(j.at("lengths"));
  }
  if (!d.carried) return;
  if (j.contains("head")) d.carried->head = j.at("head");
  if (j.contains("content")) d.carried->content = j.at("content");
  if (j.contains("rest")) d.carried->rest = j.at("rest");
  if (j.contains("taken")) d.carried->taken = affine_from(j.at("taken")).value();
}

float share_of(float v) { return v >= 0 && v <= 1 ? v : v > 1 ? 1.0f : 0.0f; }

bool skin_fits(const DeliveredSkin& skin, const DeliveredPart& part, const Delivery& delivery) {
  if (part.mesh < 0 || !delivery.carried || skin.carried < 0 ||
      skin.carried >= count_of(delivery.carried->json, Ref::Skin) || skin.joints.empty() ||
      skin.inverse_bind.size() != skin.joints.size())
    return false;
  for (const std::uint32_t joint : skin.joints)
    if (joint == 0 || joint > delivery.parts.size()) return false;
  const std::size_t vertices = delivery.meshes[static_cast<std::size_t>(part.mesh)].positions.size();
  if (skin.first.size() != vertices + 1 || skin.first.front() != 0 || skin.first.back() != skin.influences.size())
    return false;
  if (!std::is_sorted(skin.first.begin(), skin.first.end())) return false;
  return std::all_of(skin.influences.begin(), skin.influences.end(), [&](const BoundShape::Influence& i) {
    return i.joint < skin.joints.size() && std::isfinite(i.weight);
  });
}

// Whether every number of the delivery names something that is there. What writes the scene again follows them blindly.
bool numbers_fit(const Delivery& delivery) {
  const CarriedDocument* document = delivery.carried.get();
  const int nodes = document ? document->node_limit : 0;
  const int carried_meshes = document && document->json.contains("meshes") && document->json["meshes"].is_array()
                                 ? static_cast<int>(document->json["meshes"].size())
                                 : 0;
  const auto in = [](int number, int limit) { return number >= -1 && number < limit; };
  for (const DeliveredPart& part : delivery.parts) {
    if (!in(part.base, static_cast<int>(delivery.meshes.size())) || !in(part.base_carried, carried_meshes))
      return false;
    if (!in(part.mesh, static_cast<int>(delivery.meshes.size())) || !in(part.carried_mesh, carried_meshes))
      return false;
    if (part.carried && !in(part.carried->original, nodes)) return false;
    if (part.skin && !skin_fits(*part.skin, part, delivery)) return false;
    for (const int n : part.named)
      if (!in(n, static_cast<int>(delivery.colours.size()))) return false;
  }
  const int materials = document && document->json.contains("materials") && document->json["materials"].is_array()
                            ? static_cast<int>(document->json["materials"].size())
                            : 0;
  for (const NamedColour& colour : delivery.colours)
    for (const int m : colour.materials)
      if (m < 0 || m >= materials) return false;
  if (!document) return true;
  if (!document->json.is_object() || !document->other_scenes.is_array() || nodes < 0) return false;
  return document->other_nodes.empty() ||
         (document->other_nodes.begin()->first >= 0 && document->other_nodes.rbegin()->first < nodes);
}

}  // namespace

namespace {

// What a delivery is laid out as, beside the arrays that it has itself.
struct Laid {
  std::vector<PackedMesh> meshes;
  std::vector<PackedPart> parts;
  std::vector<Colour> colours;
  std::vector<int> named;
  std::string names;  // each ended by a zero byte
};

// The text of a delivery whose arrays lie in `layout`. One that is `beside` another shares what it has with that.
Json lay(const Delivery& delivery, bool beside, Layout& layout, Laid& laid) {
  laid.meshes.reserve(delivery.meshes.size());
  for (const MeshSpans& m : delivery.meshes) {
    PackedMesh packed;
    const auto put = [&](std::size_t i, auto values) {
      const Json where = beside ? layout.shared(values) : layout.array(values);
      packed.at[i] = where["at"].get<std::uint64_t>();
      packed.count[i] = where["count"].get<std::uint64_t>();
    };
    put(0, m.positions);
    put(1, m.triangles);
    put(2, m.normals);
    put(3, std::span<const Primitive>(m.primitives));
    laid.meshes.push_back(packed);
  }
  Json more = Json::array(), skins = Json::array();
  laid.parts.reserve(delivery.parts.size());
  for (std::size_t i = 0; i < delivery.parts.size(); ++i) {
    const DeliveredPart& part = delivery.parts[i];
    laid.parts.push_back(packed(part));
    laid.colours.insert(laid.colours.end(), part.colours.begin(), part.colours.end());
    laid.named.insert(laid.named.end(), part.named.begin(), part.named.end());
    // A zero byte would end a name early.
    for (const char c : as_utf8(part.name)) laid.names += c == 0 ? ' ' : c;
    laid.names += '\0';
    if (Json extra = more_of(part); !extra.is_null()) more.push_back(Json::array({i, std::move(extra)}));
    if (part.skin)
      skins.push_back({{"part", i},
                       {"joints", part.skin->joints},
                       {"inverse_bind", affines_json(part.skin->inverse_bind)},
                       {"first", layout.array<std::uint32_t>(part.skin->first)},
                       {"influences", layout.array<BoundShape::Influence>(part.skin->influences)},
                       {"carried", part.skin->carried}});
  }
  Json json{{"meshes", layout.array<PackedMesh>(laid.meshes)},
            {"parts", layout.array<PackedPart>(laid.parts)},
            {"part_colours", layout.array<Colour>(laid.colours)},
            {"part_named", layout.array<int>(laid.named)},
            {"names", layout.array<char>(std::span<const char>(laid.names))},
            {"more", std::move(more)},
            {"skins", std::move(skins)},
            {"file", as_utf8(delivery.file)},
            {"notes", delivery.notes},
            {"is_document", delivery.is_document},
            {"unit", delivery.settings.unit},
            {"ties", delivery.ties},
            {"planes", delivery.planes}};
  json["colours"] = Json::array();
  for (const NamedColour& c : delivery.colours)
    json["colours"].push_back(
        {{"name", c.name}, {"colour", colour_to_list(c.colour)}, {"materials", c.materials}, {"textured", c.textured}});
  if (delivery.read_as)
    json["read_as"] = {{"unit", delivery.read_as->unit}, {"y_up", delivery.read_as->up == UpAxis::Y}};
  if (delivery.settings.view) json["view"] = *delivery.settings.view;
  if (delivery.carried) {
    Json nodes = Json::array();
    for (const auto& [number, node] : delivery.carried->other_nodes) nodes.push_back(Json::array({number, node}));
    const ByteView binary = delivery.carried->binary.view();
    json["carried"] = {{"json", delivery.carried->json},
                       {"nodes", nodes},
                       {"scenes", delivery.carried->other_scenes},
                       {"node_limit", delivery.carried->node_limit},
                       {"binary", beside ? layout.shared(binary) : layout.array(binary)}};
  }
  return json;
}

}  // namespace

bool pack(Delivery delivery, const std::function<bool(ByteView)>& out) {
  Layout layout;
  Laid laid;
  std::vector<Laid> beside;
  Json json = lay(delivery, false, layout, laid);
  const std::size_t mesh_arrays = 4 * delivery.meshes.size();
  if (const auto& record = delivery.record) {
    Json scenes = Json::array();
    beside.resize(record->scenes.size());
    for (std::size_t i = 0; i < record->scenes.size(); ++i)
      scenes.push_back(lay(*record->scenes[i], true, layout, beside[i]));
    json["record"] = {{"scenes", std::move(scenes)}, {"steps", record->steps}};
  }
  const std::string text = json.dump(-1, ' ', false, Json::error_handler_t::replace);
  json = {};
  constexpr std::array<std::uint8_t, 8> kZeros{};
  std::size_t at = 0;
  const auto put = [&](ByteView bytes) {
    at += bytes.size();
    return bytes.empty() || out(bytes);
  };
  const auto align = [&] { return put(ByteView(kZeros).first((8 - at % 8) % 8)); };
  Bytes head(kPackMagic.begin(), kPackMagic.end());
  append(head, static_cast<std::uint64_t>(text.size()));
  if (!put(head) || !put({reinterpret_cast<const std::uint8_t*>(text.data()), text.size()}) || !align()) return false;
  for (std::size_t i = 0; i < layout.arrays().size(); ++i) {
    if (!align() || !put(layout.arrays()[i])) return false;
    if (i < mesh_arrays && i % 4 == 3) delivery.meshes[i / 4] = {};
  }
  return true;
}

Bytes pack(const Delivery& delivery) {
  Bytes all;
  pack(delivery, [&](ByteView bytes) {
    all.insert(all.end(), bytes.begin(), bytes.end());
    return true;
  });
  return all;
}

namespace {

// The delivery of one text; throws where the text is damaged.
Result<Delivery> delivery_of(const Json& json, ByteView body, const std::shared_ptr<const void>& keep) {
  Delivery delivery;
  const auto meshes = array_in<PackedMesh>(json.at("meshes"), body);
  const auto parts = array_in<PackedPart>(json.at("parts"), body);
  const auto colours = array_in<Colour>(json.at("part_colours"), body);
  const auto named = array_in<int>(json.at("part_named"), body);
  const auto names = array_in<char>(json.at("names"), body);
  if (!meshes || !parts || !colours || !named || !names) return fail("The import helper's answer is cut off.");
  delivery.meshes.reserve(meshes->size());
  for (const PackedMesh& m : *meshes) {
    const auto positions = array_at<Vec3>(m.at[0], m.count[0], body);
    const auto triangles = array_at<Triangle>(m.at[1], m.count[1], body);
    const auto normals = array_at<std::array<float, 3>>(m.at[2], m.count[2], body);
    const auto primitives = array_at<Primitive>(m.at[3], m.count[3], body);
    if (!positions || !triangles || !normals || !primitives) return fail("The import helper's answer is cut off.");
    if (keep)
      delivery.meshes.push_back({*positions, *triangles, *normals, copied(primitives), keep});
    else
      delivery.meshes.push_back(spans_of({copied(positions), copied(triangles), copied(normals), copied(primitives)}));
  }
  std::size_t colours_at = 0, named_at = 0, names_at = 0;
  delivery.parts.reserve(parts->size());
  for (const PackedPart& p : *parts) {
    if (p.colours > colours->size() - colours_at || p.named > named->size() - named_at)
      return fail("The import helper's answer is damaged.");
    DeliveredPart part = unpacked(p);
    for (std::size_t i = 0; i < p.colours; ++i) {
      const Colour& c = (*colours)[colours_at++];
      part.colours.push_back({share_of(c.r), share_of(c.g), share_of(c.b), share_of(c.a)});
    }
    part.named.assign(named->begin() + static_cast<std::ptrdiff_t>(named_at),
                      named->begin() + static_cast<std::ptrdiff_t>(named_at + p.named));
    named_at += p.named;
    const auto end = std::find(names->begin() + static_cast<std::ptrdiff_t>(names_at), names->end(), '\0');
    if (end == names->end()) return fail("The import helper's answer is damaged.");
    part.name.assign(names->begin() + static_cast<std::ptrdiff_t>(names_at), end);
    part.name = as_utf8(part.name);
    names_at = static_cast<std::size_t>(end - names->begin()) + 1;
    delivery.parts.push_back(std::move(part));
  }
  for (const Json& extra : json.at("more")) add_more(extra.at(1), delivery.parts.at(extra.at(0).get<std::size_t>()));
  for (const Json& s : json.at("skins")) {
    DeliveredSkin skin;
    skin.joints = s.at("joints").get<std::vector<std::uint32_t>>();
    for (const Json& bind : s.at("inverse_bind")) skin.inverse_bind.push_back(affine_from(bind).value());
    const auto first = array_in<std::uint32_t>(s.at("first"), body);
    const auto influences = array_in<BoundShape::Influence>(s.at("influences"), body);
    if (!first || !influences) return fail("The import helper's answer is cut off.");
    skin.first = copied(first);
    skin.influences = copied(influences);
    skin.carried = s.at("carried").get<int>();
    delivery.parts.at(s.at("part").get<std::size_t>()).skin = std::move(skin);
  }
  delivery.file = json.at("file").get<std::string>();
  delivery.notes = json.at("notes").get<std::vector<std::string>>();
  delivery.is_document = json.at("is_document").get<bool>();
  delivery.settings.unit = json.at("unit").get<std::string>();
  delivery.ties = json.at("ties");
  delivery.planes = json.at("planes");
  for (const Json& c : json.at("colours")) {
    const Colour colour = colour_from_list(c.at("colour"));
    const auto name = c.at("name").get<std::string>();
    delivery.colours.push_back(
        {name, colour, c.at("materials").get<std::vector<int>>(), name, colour, c.at("textured").get<bool>()});
  }
  if (json.contains("read_as")) {
    const Json& as = json.at("read_as");
    delivery.read_as = FileAxes{as.at("unit").get<double>(), as.at("y_up").get<bool>() ? UpAxis::Y : UpAxis::Z};
  }
  if (json.contains("view")) delivery.settings.view = json.at("view");
  if (json.contains("carried")) {
    const Json& c = json.at("carried");
    auto document = std::make_shared<CarriedDocument>();
    document->json = c.at("json");
    for (const Json& node : c.at("nodes")) document->other_nodes[node.at(0).get<int>()] = node.at(1);
    document->other_scenes = c.at("scenes");
    document->node_limit = c.at("node_limit").get<int>();
    const auto binary = array_in<std::uint8_t>(c.at("binary"), body);
    if (!binary) return tl::unexpected(binary.error());
    document->binary = keep ? Blob(*binary, keep) : Blob(copied(binary));
    delivery.carried = std::move(document);
  }
  if (!numbers_fit(delivery)) return fail("The import helper's answer is damaged.");
  return delivery;
}

}  // namespace

Result<Delivery> unpack(ByteView bytes, const std::shared_ptr<const void>& keep) {
  if (bytes.size() < 16 || std::string_view(reinterpret_cast<const char*>(bytes.data()), 8) != kPackMagic)
    return fail("The import helper gave no proper answer.");
  const auto text_size = read_at<std::uint64_t>(bytes, 8);
  if (text_size > bytes.size() - 16) return fail("The import helper's answer is cut off.");
  const std::size_t body_at = (16 + text_size + 7) / 8 * 8;
  const ByteView body = body_at < bytes.size() ? bytes.subspan(body_at) : ByteView{};
  try {
    const auto json = parse_json({reinterpret_cast<const char*>(bytes.data()) + 16, text_size}, 300);
    if (!json) return tl::unexpected(json.error());
    auto delivery = delivery_of(*json, body, keep);
    if (!delivery || !json->contains("record")) return delivery;
    DeliveredRecord record;
    for (const Json& scene : json->at("record").at("scenes")) {
      auto beside = delivery_of(scene, body, keep);
      if (!beside) return beside;
      record.scenes.push_back(std::make_shared<const Delivery>(std::move(*beside)));
    }
    record.steps = json->at("record").at("steps");
    if (!record.steps.is_array() || record.scenes.empty()) return fail("The import helper's answer is damaged.");
    delivery->record = std::make_shared<const DeliveredRecord>(std::move(record));
    return delivery;
  } catch (const std::exception&) {
    return fail("The import helper's answer is damaged.");
  }
}

}  // namespace tack
