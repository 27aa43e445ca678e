// Documents with our own extensions. The input is the JSON of a document whose one mesh is there already; what was read
// must be written and read again.
#include <cstdlib>
#include <nlohmann/json.hpp>

#include "core/files/document.h"
#include "core/files/glb.h"

namespace {

// A triangle: 36 bytes of positions, 12 of indices.
const tack::Bytes& triangle() {
  static const tack::Bytes bytes = [] {
    tack::Bytes b;
    for (const float v : {0.f, 0.f, 0.f, 10.f, 0.f, 0.f, 0.f, 10.f, 0.f}) tack::append(b, v);
    for (const std::uint32_t i : {0u, 1u, 2u}) tack::append(b, i);
    return b;
  }();
  return bytes;
}

tack::Result<tack::Document> read(const tack::Bytes& bytes) {
  const auto delivery = tack::read_delivery(bytes, "fuzz.glb", {});
  if (!delivery) return tl::unexpected(delivery.error());
  return tack::document_of(*delivery);
}

}  // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  auto json = tack::parse_json(std::string_view(reinterpret_cast<const char*>(data), size), 64);
  if (!json) return 0;
  // What every document has; the rest – nodes, scenes, ties, whatever else – is the input's.
  (*json)["asset"] = {{"version", "2.0"}};
  (*json)["buffers"] = tack::Json::array({{{"byteLength", 48}}});
  (*json)["bufferViews"] = tack::Json::array({{{"buffer", 0}, {"byteOffset", 0}, {"byteLength", 36}},
                                              {{"buffer", 0}, {"byteOffset", 36}, {"byteLength", 12}}});
  (*json)["accessors"] =
      tack::Json::array({{{"bufferView", 0},
                          {"componentType", 5126},
                          {"count", 3},
                          {"type", "VEC3"},
                          {"min", {0, 0, 0}},
                          {"max", {10, 10, 0}}},
                         {{"bufferView", 1}, {"componentType", 5125}, {"count", 3}, {"type", "SCALAR"}}});
  if (!json->contains("meshes"))
    (*json)["meshes"] =
        tack::Json::array({{{"primitives", tack::Json::array({{{"attributes", {{"POSITION", 0}}}, {"indices", 1}}})}}});
  const auto glb = tack::write_glb(*json, triangle());
  if (!glb) return 0;
  const auto document = read(*glb);
  if (!document) return 0;
  for (const tack::PartId id : document->scene.in_tree_order())
    if (!tack::is_finite(tack::world_of(document->scene, id))) std::abort();
  const auto written = tack::write_document(document->scene, document->settings);
  if (!written) std::abort();  // what was opened can be saved
  const auto again = read(*written);
  if (!again || again->scene.size() != document->scene.size()) std::abort();
  return 0;
}
