// Parts on the clipboard: as a glTF document, which other windows and other programs read, and as a table of numbers.
#pragma once

#include <QMimeData>

#include "core/files/document.h"

namespace tack {

inline constexpr const char* kGltfType = "model/gltf-binary";

/// What is put on the clipboard for parts.
struct Copied {
  Bytes document;  ///< glTF binary
  std::string
      table;  ///< a line for each part: its path, then position (mm), rotation (degrees) and factors in the world
};

/// The parts, with all below them, in the places where they stand in the world, whatever they hang under. Fails for
/// none, below a flattened parent, and where they cannot be written.
Result<Copied> copied_parts(const Scene& scene, const std::vector<PartId>& what, const DocumentSettings& settings);
/// The caller owns the result.
QMimeData* mime_of(const Copied& copied);
/// The document that the clipboard holds; empty when it holds none.
QByteArray parts_on(const QMimeData* clipboard);

}  // namespace tack
