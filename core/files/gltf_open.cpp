// Opening a glTF: its container, and in a document of ours the record of steps beside the scene.
#include <fmt/format.h>

#include "core/files/delivery.h"
#include "core/files/kept_record.h"

namespace tack {
namespace {

Result<DeliveredRecord> record_of(KeptRecord kept, const std::filesystem::path& path, const Around& around) {
  DeliveredRecord record;
  record.steps = std::move(kept.steps);
  Around inside = around;  // what is told of the file's bytes does not hold for these
  inside.passed = {};
  inside.progress = {};
  for (Glb& scene : kept.scenes) {
    auto read = read_gltf(std::move(scene), path, {}, inside);
    if (!read) return tl::unexpected(read.error());
    read->notes.clear();  // said of the document already
    record.scenes.push_back(std::make_shared<const Delivery>(std::move(*read)));
  }
  return record;
}

}  // namespace

Result<Delivery> read_gltf(ByteView bytes, const std::filesystem::path& path, const ImportOptions& options,
                           const Around& around) {
  Glb glb;
  if (is_glb(bytes)) {
    auto read = read_glb(bytes, around.keep);
    if (!read) return tl::unexpected(read.error());
    glb = std::move(*read);
  } else {
    auto json = parse_json({reinterpret_cast<const char*>(bytes.data()), bytes.size()});
    if (!json) return tl::unexpected(json.error());
    glb.json = std::move(*json);
  }
  // The steps that led to a document come out of it first: what is left is the document.
  Result<std::optional<KeptRecord>> record = std::optional<KeptRecord>{};
  if (is_glb(bytes)) record = take_record(bytes, glb.json, glb.binary, options.steps);
  auto delivery = read_gltf(std::move(glb), path, options, around);
  if (!delivery || !delivery->is_document) return delivery;
  const auto lost = [&](const std::string& why) {
    delivery->notes.push_back(fmt::format("The steps that led to this document are not to be had: {}", why));
  };
  if (!record) lost(record.error().what);
  if (!record || !*record) return delivery;
  auto read = record_of(std::move(**record), path, around);
  if (!read)
    lost(read.error().what);
  else
    delivery->record = std::make_shared<const DeliveredRecord>(std::move(*read));
  return delivery;
}

}  // namespace tack
