#include "core/files/delivery.h"

#include <fmt/format.h>

#include "core/files/glb.h"
#include "core/files/scanner.h"
#include "core/printable.h"

namespace tack {

Result<Format> format_of(ByteView bytes, const std::filesystem::path& path) {
  if (bytes.empty()) return fail("The file is empty.");
  if (is_glb(bytes)) return Format::Gltf;
  const std::string_view start(reinterpret_cast<const char*>(bytes.data()), std::min<std::size_t>(bytes.size(), 512));
  if (start.starts_with("ply\n") || start.starts_with("ply\r")) return Format::Ply;
  if (start.starts_with("glTF")) return Format::Gltf;
  std::string ending = path.extension().string();
  for (char& c : ending) c = static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
  if (ending == ".glb" || ending == ".gltf") return Format::Gltf;
  if (ending == ".obj") return Format::Obj;
  if (ending == ".stl") return Format::Stl;
  if (ending == ".ply") return Format::Ply;
  if (start.starts_with("{") && start.find("\"asset\"") != std::string_view::npos) return Format::Gltf;
  return Format::Other;
}

Result<Delivery> read_delivery(const std::filesystem::path& path, const ImportOptions& options) {
  try {
    const auto bytes = read_file(path);
    if (!bytes) return tl::unexpected(bytes.error());
    return read_delivery(*bytes, path, options);
  } catch (const std::exception&) {
    return fail("The file needs more memory than there is.", path.filename().string());
  }
}

namespace {

// What holds of every file, whatever its format: names are UTF-8 and not longer than a name is, and no part stands
// where doubles run out.
Result<Delivery> made_sound(Delivery delivery) {
  constexpr double kMostInWorld = 1e15;
  constexpr std::size_t kLongestName = 1 << 16;  // bytes
  std::vector<Affine> worlds;
  worlds.reserve(delivery.parts.size());
  for (DeliveredPart& part : delivery.parts) {
    part.name = shortened(as_utf8(part.name), kLongestName);
    const Affine local = matrix_of(part.placement);
    const bool below = part.parent > 0 && part.parent <= worlds.size();
    const Affine world = below ? worlds[part.parent - 1] * local : local;
    double most = largest_component(world.translation);
    for (const Vec3& column : world.linear.column) most = std::max(most, largest_component(column));
    if (!is_finite(world) || !(most <= kMostInWorld))
      return fail(fmt::format("\"{}\" is placed further away, or scaled more, than can be computed with.", part.name));
    worlds.push_back(world);
  }
  for (std::string& note : delivery.notes) note = as_utf8(note);
  return delivery;
}

// A format that something beside this library knows, made a glTF first.
Result<Delivery> read_other(ByteView bytes, const std::filesystem::path& path, const ImportOptions& options,
                            const Around& around) {
  if (!around.other)
    return fail(fmt::format("Files ending in \"{}\" cannot be read.", printable(path.extension().string(), 40)), {},
                "Use .glb, .gltf, .obj, .stl or .ply.");
  std::vector<std::string> notes;
  FileAxes axes;
  auto made = around.other(bytes, path, options, notes, axes);
  if (!made) return tl::unexpected(made.error());
  auto delivery = read_gltf(std::move(*made), path, {}, around);
  if (!delivery) return delivery;
  delivery->notes.insert(delivery->notes.begin(), notes.begin(), notes.end());
  delivery->read_as = axes;
  return delivery;
}

}  // namespace

Result<Delivery> read_delivery(ByteView bytes, const std::filesystem::path& path, const ImportOptions& options,
                               Around around) {
  if (!around.beside) around.beside = files_beside(path.parent_path());
  const std::string name = path.filename().string();
  const auto with_name = [&](Result<Delivery> result) -> Result<Delivery> {
    if (result) result = made_sound(*std::move(result));
    if (result) result->file = name;
    // Whatever is wrong, it is said of which file.
    if (!result && result.error().where.find(name) == std::string::npos)
      result.error().where = name + (result.error().where.empty() ? "" : ", " + result.error().where);
    return result;
  };
  // The JSON library and the standard containers throw; what a file can make them throw ends here.
  try {
    // Some editors save text in UTF-16.
    std::optional<Bytes> narrow;
    if (const auto format = format_of(bytes, path); format && *format != Format::Gltf && *format != Format::Other) {
      narrow = from_utf16(bytes);
      if (narrow) bytes = *narrow;
    }
    const auto format = format_of(bytes, path);
    if (!format) return with_name(tl::unexpected(format.error()));
    if (*format == Format::Gltf && (options.unit || options.up))
      return with_name(
          fail("A glTF file says its unit and its axes itself.", {}, "Leave the unit and the up axis out."));
    if (*format != Format::Gltf && options.scene)
      return with_name(fail("Only glTF files have several scenes.", {}, "Leave the scene out."));
    switch (*format) {
      case Format::Gltf: return with_name(read_gltf(bytes, path, options, around));
      case Format::Obj: return with_name(read_obj(bytes, path, options, around));
      case Format::Stl: return with_name(read_stl(bytes, path, options, around));
      case Format::Ply: return with_name(read_ply(bytes, path, options, around));
      default: return with_name(read_other(bytes, path, options, around));
    }
  } catch (const Json::exception&) {
    return with_name(fail("The file is damaged: a value in it is not of the kind it should be."));
  } catch (const std::exception&) {
    return with_name(fail("The file needs more memory than there is."));
  }
}

void convert_positions(std::vector<Vec3>& positions, const FileAxes& axes) {
  for (Vec3& p : positions) {
    if (axes.up == UpAxis::Y) p = {p.x, -p.z, p.y};
    p = p * axes.unit;
  }
}

FileAxes axes_for(const ImportOptions& options, const std::optional<FileAxes>& said, const FileAxes& otherwise) {
  const FileAxes& guessed = said ? *said : otherwise;
  return {options.unit.value_or(guessed.unit), options.up.value_or(guessed.up)};
}

}  // namespace tack
