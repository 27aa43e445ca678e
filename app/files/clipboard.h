// Parts on the clipboard: as a glTF document, which other windows and other programs read, and as a table of numbers.
#pragma once

#include <QMimeData>

#include "core/files/document.h"

namespace tack {

inline constexpr const char* kGltfType = "model/gltf-binary";

/// The picked parts, with all below them, in the places where they stand in the world. The caller owns the result;
/// null, with the reason, where they cannot be written.
Result<QMimeData*> clipboard_of(const Scene& scene, const std::vector<PartId>& picked,
                                const DocumentSettings& settings);
/// The document that the clipboard holds; empty when it holds none.
QByteArray parts_on(const QMimeData* clipboard);

}  // namespace tack
