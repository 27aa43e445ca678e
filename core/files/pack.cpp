// Deliveries as one block of memory; declared in delivery.h.
//
// Layout: the 8 letters "TACKPACK", the length of a JSON text (uint64), the JSON, then raw arrays one after another,
// each beginning at a multiple of 8. The JSON says how many numbers each array has. The receiver believes nothing of
// it.
#include <fmt/format.h>

#include "core/files/delivery.h"
#include "core/files/glb.h"
#include "core/files/gltf_node.h"
#include "core/files/part_extension.h"

namespace tack {
namespace {

constexpr std::string_view kPackMagic = "TACKPACK";

class Packer {
 public:
  template <typename T>
  Json array(std::span<const T> values) {
    while (body_.size() % 8 != 0) body_.push_back(0);
    const std::size_t at = body_.size();
    const auto* bytes = reinterpret_cast<const std::uint8_t*>(values.data());
    body_.insert(body_.end(), bytes, bytes + values.size_bytes());
    return {{"at", at}, {"count", values.size()}};
  }

  Bytes finish(const Json& json) const {
    const std::string text = json.dump(-1, ' ', false, Json::error_handler_t::replace);
    Bytes out(kPackMagic.begin(), kPackMagic.end());
    append(out, static_cast<std::uint64_t>(text.size()));
    out.insert(out.end(), text.begin(), text.end());
    while (out.size() % 8 != 0) out.push_back(0);
    out.insert(out.end(), body_.begin(), body_.end());
    return out;
  }

 private:
  Bytes body_;
};

template <typename T>
Result<std::vector<T>> unpack_array(const Json& json, ByteView body) {
  if (!json.is_object() || !json.contains("at") || !json["at"].is_number_unsigned() || !json.contains("count") ||
      !json["count"].is_number_unsigned())
    return fail("The import helper's answer is damaged.");
  const auto at = json["at"].get<std::uint64_t>(), count = json["count"].get<std::uint64_t>();
  if (at > body.size() || count > (body.size() - at) / sizeof(T)) return fail("The import helper's answer is cut off.");
  std::vector<T> values(count);
  if (count > 0) std::memcpy(values.data(), body.data() + at, count * sizeof(T));
  return values;
}

Json colour_to_list(const Colour& c) { return Json::array({c.r, c.g, c.b, c.a}); }

Colour colour_from_list(const Json& json) {
  const auto channel = [&](std::size_t i) { return std::clamp(json.at(i).get<float>(), 0.0f, 1.0f); };
  return {channel(0), channel(1), channel(2), channel(3)};
}

Json part_json(const DeliveredPart& d) {
  Part part;
  part.placement = d.placement;
  part.typed = d.typed;
  part.hidden = d.hidden;
  part.locked = d.locked;
  part.see_through = d.see_through;
  part.kept = d.kept;
  part.guide = d.guide;
  if (d.grid != PlaneGrid{}) part.grid = std::make_shared<const PlaneGrid>(d.grid);
  Json j{{"name", d.name},
         {"parent", d.parent},
         {"mesh", d.mesh},
         {"carried_mesh", d.carried_mesh},
         {"metres", d.geometry_in_metres},
         {"placement", write_part_extension(part)}};
  Json colours = Json::array();
  for (const Colour& c : d.colours) colours.push_back(colour_to_list(c));
  j["colours"] = colours;
  if (!d.named.empty()) j["named"] = d.named;
  if (d.carried)
    j["carried"] = {{"head", d.carried->head},
                    {"content", d.carried->content},
                    {"original", d.carried->original},
                    {"animated", d.carried->animated},
                    {"rest", d.carried->rest}};
  return j;
}

DeliveredPart part_from(const Json& j) {
  DeliveredPart d;
  d.name = j.at("name").get<std::string>();
  d.parent = j.at("parent").get<std::uint32_t>();
  d.mesh = j.at("mesh").get<int>();
  d.carried_mesh = j.at("carried_mesh").get<int>();
  d.geometry_in_metres = j.at("metres").get<bool>();
  std::vector<std::string> said;  // where the file was read
  read_part_extension(j.at("placement"), d, said);
  for (const Json& c : j.at("colours")) d.colours.push_back(colour_from_list(c));
  if (j.contains("named")) d.named = j.at("named").get<std::vector<int>>();
  if (j.contains("carried")) {
    const Json& c = j.at("carried");
    d.carried = CarriedNode{c.at("head"), c.at("content"), c.at("original").get<int>(), c.at("animated").get<bool>(),
                            c.at("rest")};
  }
  return d;
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
    if (!in(part.mesh, static_cast<int>(delivery.meshes.size())) || !in(part.carried_mesh, carried_meshes))
      return false;
    if (part.carried && !in(part.carried->original, nodes)) return false;
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

Bytes pack(const Delivery& delivery) {
  Packer packer;
  Json meshes = Json::array(), parts = Json::array();
  for (const MeshData& m : delivery.meshes)
    meshes.push_back({{"positions", packer.array<Vec3>(m.positions)},
                      {"triangles", packer.array<Triangle>(m.triangles)},
                      {"normals", packer.array<std::array<float, 3>>(m.normals)},
                      {"primitives", packer.array<Primitive>(m.primitives)}});
  for (const DeliveredPart& part : delivery.parts) parts.push_back(part_json(part));
  Json json{{"meshes", meshes},
            {"parts", parts},
            {"notes", delivery.notes},
            {"is_document", delivery.is_document},
            {"unit", delivery.settings.unit},
            {"ties", delivery.ties},
            {"planes", delivery.planes}};
  json["colours"] = Json::array();
  for (const NamedColour& c : delivery.colours)
    json["colours"].push_back(
        {{"name", c.name}, {"colour", colour_to_list(c.colour)}, {"materials", c.materials}, {"textured", c.textured}});
  if (delivery.settings.view) json["view"] = *delivery.settings.view;
  if (delivery.carried) {
    Json nodes = Json::array();
    for (const auto& [number, node] : delivery.carried->other_nodes) nodes.push_back(Json::array({number, node}));
    json["carried"] = {{"json", delivery.carried->json},
                       {"nodes", nodes},
                       {"scenes", delivery.carried->other_scenes},
                       {"node_limit", delivery.carried->node_limit},
                       {"binary", packer.array<std::uint8_t>(*delivery.carried->binary)}};
  }
  return packer.finish(json);
}

Result<Delivery> unpack(ByteView bytes) {
  if (bytes.size() < 16 || std::string_view(reinterpret_cast<const char*>(bytes.data()), 8) != kPackMagic)
    return fail("The import helper gave no proper answer.");
  const auto text_size = read_at<std::uint64_t>(bytes, 8);
  if (text_size > bytes.size() - 16) return fail("The import helper's answer is cut off.");
  const std::size_t body_at = (16 + text_size + 7) / 8 * 8;
  const ByteView body = body_at < bytes.size() ? bytes.subspan(body_at) : ByteView{};
  try {
    const auto json = parse_json({reinterpret_cast<const char*>(bytes.data()) + 16, text_size}, 300);
    if (!json) return tl::unexpected(json.error());
    Delivery delivery;
    for (const Json& m : json->at("meshes")) {
      auto positions = unpack_array<Vec3>(m.at("positions"), body);
      auto triangles = unpack_array<Triangle>(m.at("triangles"), body);
      auto normals = unpack_array<std::array<float, 3>>(m.at("normals"), body);
      auto primitives = unpack_array<Primitive>(m.at("primitives"), body);
      if (!positions || !triangles || !normals || !primitives) return fail("The import helper's answer is cut off.");
      delivery.meshes.push_back(
          {std::move(*positions), std::move(*triangles), std::move(*normals), std::move(*primitives)});
    }
    for (const Json& part : json->at("parts")) delivery.parts.push_back(part_from(part));
    delivery.notes = json->at("notes").get<std::vector<std::string>>();
    delivery.is_document = json->at("is_document").get<bool>();
    delivery.settings.unit = json->at("unit").get<std::string>();
    delivery.ties = json->at("ties");
    delivery.planes = json->at("planes");
    for (const Json& c : json->at("colours")) {
      const Colour colour = colour_from_list(c.at("colour"));
      const auto name = c.at("name").get<std::string>();
      delivery.colours.push_back(
          {name, colour, c.at("materials").get<std::vector<int>>(), name, colour, c.at("textured").get<bool>()});
    }
    if (json->contains("view")) delivery.settings.view = json->at("view");
    if (json->contains("carried")) {
      const Json& c = json->at("carried");
      auto document = std::make_shared<CarriedDocument>();
      document->json = c.at("json");
      for (const Json& node : c.at("nodes")) document->other_nodes[node.at(0).get<int>()] = node.at(1);
      document->other_scenes = c.at("scenes");
      document->node_limit = c.at("node_limit").get<int>();
      auto binary = unpack_array<std::uint8_t>(c.at("binary"), body);
      if (!binary) return tl::unexpected(binary.error());
      document->binary = std::make_shared<const Bytes>(std::move(*binary));
      delivery.carried = std::move(document);
    }
    if (!numbers_fit(delivery)) return fail("The import helper's answer is damaged.");
    return delivery;
  } catch (const std::exception&) {
    return fail("The import helper's answer is damaged.");
  }
}

}  // namespace tack
