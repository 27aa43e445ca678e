// The document: a scene with its settings, opened, written, and brought into another.
#pragma once

#include "core/files/delivery.h"
#include "core/verbs/journal.h"

namespace tack {

struct Document {
  Scene scene;
  DocumentSettings settings;
  std::vector<std::string> notes;  ///< what was decided while reading, in sentences
  bool is_document = false;        ///< written by Tack Point, so that saving goes back to the same file
  /// What led to the scene, where the file keeps it and it was done again (replay.h): its scene is this one.
  std::optional<Journal> past;
};

/// Makes the parts of a delivery: meshes are checked and shared between instances. Fails on the first mesh that is
/// not sound.
/// `said` gets what had to be decided: live shapes whose mesh another program has changed are meshes.
Result<std::vector<Part>> parts_of(const Delivery& delivery, std::vector<std::string>* said = nullptr);

/// A delivery as a document of its own.
Result<Document> document_of(const Delivery& delivery);
/// The same for one that came in the same block as another, whose parts are in `scene`: meshes that lie at the same
/// place as one of its are that one.
Result<Document> document_of(const Delivery& delivery, const Scene& scene);

/// What becomes of extensions that may hold numbers which nobody here can shift, when a file goes behind another.
enum class UnknownNumbers { Keep, LeaveOut };
/// Their names; none for most files.
std::set<std::string> unknown_numbers_in(const Delivery& delivery);

struct BringOptions {
  UnknownNumbers unknown = UnknownNumbers::Keep;
  /// Where the scene has the same part already – the same meshes in the same arrangement – it comes in as an instance
  /// of that: with its meshes, their colours, and nothing of the file twice.
  bool instances = false;
};
/// A delivery as a step that brings it into `scene`, which may have carried data of its own.
Result<Bring> bring_of(const Delivery& delivery, const std::filesystem::path& path, const Scene& scene,
                       const BringOptions& options = {});

/// The document as a .glb: metres, Y up through one root node, every number of ours below it; validator-clean, and the
/// same bytes for the same document whenever it is written. The layout is in docs/format.md. With a record of steps the
/// document keeps that too, unless it is too much: then `note` says so, in a sentence.
Result<Bytes> write_document(const Scene& scene, const DocumentSettings& settings, const Record* record = nullptr,
                             std::string* note = nullptr);
/// The same for writing into a file: meshes, and what was carried along, are held where they lie. Copied are the JSON
/// and, of new meshes, the places in single precision.
Result<ByteRuns> document_runs(const Scene& scene, const DocumentSettings& settings, const Record* record = nullptr,
                               std::string* note = nullptr);

}  // namespace tack
