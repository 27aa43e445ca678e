// Writing meshes for other programs: OBJ, STL, PLY.
#pragma once

#include "core/files/document.h"
#include "core/files/save.h"

namespace tack {

struct ExportOptions {
  double unit = 1;  ///< millimetres in one of the file's units
  UpAxis up = UpAxis::Z;
};

/// Everything that is shown, in world coordinates; mirrored parts keep their faces pointing out. OBJ: one object for
/// each part, named by its path, numbers with 17 digits. STL: binary (float). PLY: binary, positions in double.
Result<Bytes> write_obj(const Scene& scene, const ExportOptions& options);
Result<Bytes> write_stl(const Scene& scene, const ExportOptions& options);
Result<Bytes> write_ply(const Scene& scene, const ExportOptions& options);

/// Writes by the ending of `path`: .glb a document, .obj, .stl, .ply what they are. Atomic; a document is read in
/// again before it takes the old file's place (save_document). Saved::note names what the scene has and OBJ, STL and
/// PLY are not given: colours, pictures, animations, kept tacks, guides, hidden parts. A document keeps the steps of
/// `record`.
Result<Saved> write_as(const std::filesystem::path& path, const Scene& scene, const DocumentSettings& settings,
                       const ExportOptions& options, const Record* record = nullptr);

}  // namespace tack
