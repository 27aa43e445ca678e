// What a reader makes of a file, before it becomes parts of a scene.
#pragma once

#include <optional>

#include "core/entry/units.h"
#include "core/files/beside.h"
#include "core/files/carried.h"
#include "core/files/glb.h"

namespace tack {

enum class UpAxis { Y, Z };

/// Units and axes of a file in a format that may not say them.
struct FileAxes {
  double unit = 1;  ///< millimetres in one of the file's units
  UpAxis up = UpAxis::Z;
};

/// How numbers of a file without units are to be taken; what is not said is guessed from the format's own rules: OBJ
/// millimetres, Y up; STL and PLY millimetres, Z up. glTF says it itself (metres, Y up) and heeds neither.
struct ImportOptions {
  std::optional<double> unit;  ///< millimetres in one of the file's units
  std::optional<UpAxis> up;
  std::optional<int> scene;  ///< which of several glTF scenes
  bool steps = false;  ///< whether the record of a document is read as well: for opening it, not for its parts alone
};

/// The joints of a part's mesh, which is delivered as it is before they bend it.
struct DeliveredSkin {
  std::vector<std::uint32_t> joints;  ///< one more than their numbers in the list of parts
  std::vector<Affine> inverse_bind;   ///< for each of them
  std::vector<std::uint32_t> first;   ///< as in BoundShape
  std::vector<BoundShape::Influence> influences;
  int carried = -1;  ///< into the carried document's skins
};

struct DeliveredPart {
  std::string name;
  std::uint32_t parent = 0;  ///< 0: at the top; else one more than the number of its parent in the list
  Placement placement;
  TypedNumbersPtr typed;
  int mesh = -1;          ///< into Delivery::meshes
  int carried_mesh = -1;  ///< into the carried document's meshes
  bool geometry_in_metres = false;
  bool hidden = false, locked = false, see_through = false;
  std::shared_ptr<const KeptTacks> kept;
  LiveShapePtr shape;  ///< believed once its mesh is the one that the file has
  std::shared_ptr<const KeptBands> bands;
  int base = -1;                     ///< into Delivery::meshes: the mesh that its own is a longer copy of …
  std::vector<Lengthening> lengths;  ///< … and how it was made longer
  int base_carried = -1;             ///< the number of the base in the carried document
  bool base_in_metres = false;
  GuideKind guide = GuideKind::None;
  PlaneGrid grid;
  std::vector<Colour> colours;
  std::vector<int> named;  ///< for each colour its number in Delivery::colours, −1 for none; may be empty
  std::optional<CarriedNode> carried;
  std::optional<DeliveredSkin> skin;
};

/// Settings of a document that are no part of the scene.
struct DocumentSettings {
  std::string unit = "mm";
  std::optional<Json> view;  ///< the camera, as the app wrote it

  friend bool operator==(const DocumentSettings&, const DocumentSettings&) = default;
};

struct DeliveredRecord;

struct Delivery {
  std::string file;  ///< its name, for sentences
  std::vector<MeshSpans> meshes;
  std::vector<DeliveredPart> parts;                ///< parents before children
  std::shared_ptr<const CarriedDocument> carried;  ///< for glTF
  bool is_document = false;                        ///< written by Tack Point
  DocumentSettings settings;
  std::vector<NamedColour> colours;               ///< the list of named colours
  Json ties = Json::array();                      ///< as they stand in a document of ours
  Json planes = Json::object();                   ///< the plane in use, grids, views, what guides follow: likewise
  std::vector<std::string> notes;                 ///< sentences about what was decided while reading
  std::optional<FileAxes> read_as;                ///< for formats that may not say it themselves: as what it was read
  std::shared_ptr<const DeliveredRecord> record;  ///< the steps that a document of ours keeps; mostly null
};

/// What led to a document: its steps as entries of a steps file (steps.h), and the scenes that they take.
struct DeliveredRecord {
  std::vector<std::shared_ptr<const Delivery>> scenes;  ///< the first is the start, others were brought in
  Json steps = Json::array();
};

/// The formats that can be read, by what is in the file and, where that does not tell, by its ending. Other: none that
/// is read here, but Around::other may know it.
enum class Format { Gltf, Obj, Stl, Ply, Other };
Result<Format> format_of(ByteView bytes, const std::filesystem::path& path);

/// Reads a file in this process. For files from outside use import_file (import.h), which does it in another one.
/// Never throws; damaged input ends in a Problem.
Result<Delivery> read_delivery(const std::filesystem::path& path, const ImportOptions& options);

/// The same for bytes that are already there; `path` tells the name and, where they do not themselves, the format.
/// Files beside it are looked for in its folder where `around` does not say where.
Result<Delivery> read_delivery(ByteView bytes, const std::filesystem::path& path, const ImportOptions& options,
                               Around around = {});

Result<Delivery> read_gltf(ByteView bytes, const std::filesystem::path& path, const ImportOptions& options,
                           const Around& around);
/// The same for a glTF that was made from another format.
Result<Delivery> read_gltf(Glb glb, const std::filesystem::path& path, const ImportOptions& options,
                           const Around& around);
Result<Delivery> read_obj(ByteView bytes, const std::filesystem::path& path, const ImportOptions& options,
                          const Around& around);
Result<Delivery> read_stl(ByteView bytes, const std::filesystem::path& path, const ImportOptions& options,
                          const Around& around);
Result<Delivery> read_ply(ByteView bytes, const std::filesystem::path& path, const ImportOptions& options,
                          const Around& around);

/// Turns positions of a file without units into mm, Z up.
void convert_positions(std::vector<Vec3>& positions, const FileAxes& axes);
/// What `options` say, else what the file says of itself, else `otherwise`.
FileAxes axes_for(const ImportOptions& options, const std::optional<FileAxes>& said, const FileAxes& otherwise);

/// A delivery as one block of memory, for handing it from one process to another, piece by piece: `out` is given bytes
/// that go behind each other, and says whether it took them. Meshes are given where they lie; each is let go of when it
/// has been taken. False when `out` took something not.
bool pack(Delivery delivery, const std::function<bool(ByteView)>& out);
Bytes pack(const Delivery& delivery);

/// The delivery back, every number of it checked. Meshes and the carried buffer stay where they are, held by `keep`;
/// without it they are copied.
Result<Delivery> unpack(ByteView bytes, const std::shared_ptr<const void>& keep = nullptr);

}  // namespace tack
