// The GLB container and the JSON in it.
#pragma once

#include <nlohmann/json.hpp>
#include <string_view>

#include "core/files/byte_runs.h"
#include "core/verbs/json.h"

namespace tack {

/// Parses JSON text; fails with the place when it is damaged, is not an object, or is nested more than `deepest`
/// brackets (deeper nesting would run the stack out when it is written again).
Result<Json> parse_json(std::string_view text, int deepest = 256);
/// The same for a list.
Result<Json> parse_json_list(std::string_view text, int deepest = 256);

struct Glb {
  Json json;
  Blob binary;  ///< empty when there is no binary chunk
};

bool is_glb(ByteView bytes);
/// Takes a GLB 2.0 apart (glTF 2.0 specification, chapter 4); every length is checked against the file. With `keep`,
/// which holds `bytes`, the binary chunk is not copied.
Result<Glb> read_glb(ByteView bytes, const std::shared_ptr<const void>& keep = nullptr);
/// Puts one together, chunks padded to 4 bytes. Fails over 4 GiB, the most the container can hold.
Result<Bytes> write_glb(const Json& json, ByteView binary);
/// A GLB on its way into a file, in parts that are not copied.
struct GlbRuns {
  Bytes head;  ///< of the file and of the JSON chunk
  std::string json;
  ByteRuns behind;  ///< the binary chunk with its head; may be empty
};
/// Puts one together of JSON that is text already; fails as write_glb() does.
Result<GlbRuns> glb_around(std::string text, const ByteRuns& binary);
/// The whole file.
ByteRuns runs_of(GlbRuns glb);
/// The JSON as it stands in a document: without spaces, bytes that are not UTF-8 replaced.
std::string json_text(const Json& json);

}  // namespace tack
