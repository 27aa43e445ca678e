// The record of steps inside a document: what it began with, the files that were brought in, and the steps, behind
// everything else in the document's buffer. Layout: docs/format.md, "The record".
#pragma once

#include "core/files/byte_runs.h"
#include "core/files/glb.h"

namespace tack {

/// The record as it is read from a document: the glTF that it began with, those that were brought in since, and the
/// steps.
struct KeptRecord {
  std::vector<Glb> scenes;  ///< the first is the start
  Json steps = Json::array();
};

/// Steps and scenes as text beyond this are not kept (bytes): opening such a record would take minutes.
inline constexpr std::uint64_t kMostRecordText = std::uint64_t{64} << 20;
/// Scenes beyond this are not kept.
inline constexpr std::size_t kMostRecordScenes = 1000;

/// A glTF as it goes into a file. As text it takes a quarter of the memory that its values take.
struct WrittenGltf {
  std::string json;
  ByteRuns binary;
  std::vector<std::size_t> cuts;  ///< where the views of its buffer begin and end, in order, with 0 and its size
};
/// The record as it goes into a file.
struct WrittenRecord {
  std::vector<WrittenGltf> scenes;  ///< the first is the start
  std::string steps = "[]";         ///< a JSON list
};

/// The bytes between any two neighbours of these are used by the same buffer views: in this glTF and in any other that
/// has the same views. `size` is that of its buffer.
std::vector<std::size_t> cuts_of(const Json& json, std::size_t size);

/// Puts the record behind `binary`, and one buffer view for it at the end of `json`'s. What the buffer has already is
/// pointed at and not written again. The result is the "record" member of TACKPOINT_layout; fails, nothing changed,
/// when the record is too much to be kept.
Result<Json> put_record(const WrittenRecord& record, Json& json, ByteRuns& binary);

/// Fills in what put_record left open: the mark by which take_record sees that no other program has written the
/// document since. Nothing happens where there is no record.
void seal_record(GlbRuns& glb);

/// Takes the record out of a document: its buffer view and its bytes go from `json` and `binary`, and with `reads` the
/// record is read. `glb` is the whole file. nullopt when it has none, or is not read. Fails, with the view gone where
/// nothing else uses it, when another program has written the document since, or the record is damaged. What it says is
/// believed no further than the bytes that are there; its scenes take at most 16 times the document's own bytes
/// together.
Result<std::optional<KeptRecord>> take_record(ByteView glb, Json& json, Blob& binary, bool reads);

}  // namespace tack
