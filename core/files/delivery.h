// What a reader makes of a file, before it becomes parts of a scene.
#pragma once

#include <optional>

#include "core/entry/units.h"
#include "core/files/carried.h"

namespace tack {

enum class UpAxis { Y, Z };

/// How numbers of a file without units are to be taken; what is not said is guessed from the format's own rules: OBJ
/// millimetres, Y up; STL and PLY millimetres, Z up. glTF says it itself (metres, Y up) and heeds neither.
struct ImportOptions {
  std::optional<double> unit;  ///< millimetres in one of the file's units
  std::optional<UpAxis> up;
  std::optional<int> scene;  ///< which of several glTF scenes
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
  GuideKind guide = GuideKind::None;
  PlaneGrid grid;
  std::vector<Colour> colours;
  std::vector<int> named;  ///< for each colour its number in Delivery::colours, −1 for none; may be empty
  std::optional<CarriedNode> carried;
};

/// Settings of a document that are no part of the scene.
struct DocumentSettings {
  std::string unit = "mm";
  std::optional<Json> view;  ///< the camera, as the app wrote it

  friend bool operator==(const DocumentSettings&, const DocumentSettings&) = default;
};

struct Delivery {
  std::vector<MeshData> meshes;
  std::vector<DeliveredPart> parts;                ///< parents before children
  std::shared_ptr<const CarriedDocument> carried;  ///< for glTF
  bool is_document = false;                        ///< written by Tack Point
  DocumentSettings settings;
  std::vector<NamedColour> colours;  ///< the list of named colours
  Json ties = Json::array();         ///< as they stand in a document of ours
  Json planes = Json::object();      ///< the plane in use, grids, views, what guides follow: likewise
  std::vector<std::string> notes;    ///< sentences about what was decided while reading
};

/// The formats that can be read, by what is in the file and, where that does not tell, by its ending.
enum class Format { Gltf, Obj, Stl, Ply };
Result<Format> format_of(ByteView bytes, const std::filesystem::path& path);

/// Reads a file in this process. For files from outside use import_file (import.h), which does it in another one.
/// Never throws; damaged input ends in a Problem.
Result<Delivery> read_delivery(const std::filesystem::path& path, const ImportOptions& options);

/// The same for bytes that are already there; `path` tells the format and where to look for files beside it.
Result<Delivery> read_delivery(ByteView bytes, const std::filesystem::path& path, const ImportOptions& options);

Result<Delivery> read_gltf(ByteView bytes, const std::filesystem::path& path, const ImportOptions& options);
Result<Delivery> read_obj(ByteView bytes, const std::filesystem::path& path, const ImportOptions& options);
Result<Delivery> read_stl(ByteView bytes, const std::filesystem::path& path, const ImportOptions& options);
Result<Delivery> read_ply(ByteView bytes, const std::filesystem::path& path, const ImportOptions& options);

/// Turns positions of a file without units into mm, Z up, as `options` says, else by `unit` and `up`.
void convert_positions(std::vector<Vec3>& positions, const ImportOptions& options, double unit, UpAxis up);

/// A delivery as one block of memory, for handing it from one process to another, and back with every number checked.
Bytes pack(const Delivery& delivery);
Result<Delivery> unpack(ByteView bytes);

}  // namespace tack
