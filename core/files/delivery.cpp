#include "core/files/delivery.h"

#include <fmt/format.h>

#include "core/files/glb.h"

namespace tack {

Result<Format> format_of(ByteView bytes, const std::filesystem::path& path) {
  if (bytes.empty()) return fail("The file is empty.");
  if (is_glb(bytes)) return Format::Gltf;
  const std::string_view start(reinterpret_cast<const char*>(bytes.data()), std::min<std::size_t>(bytes.size(), 512));
  if (start.starts_with("ply\n") || start.starts_with("ply\r")) return Format::Ply;
  std::string ending = path.extension().string();
  for (char& c : ending) c = static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
  if (ending == ".glb" || ending == ".gltf") return Format::Gltf;
  if (ending == ".obj") return Format::Obj;
  if (ending == ".stl") return Format::Stl;
  if (ending == ".ply") return Format::Ply;
  if (start.starts_with("{") && start.find("\"asset\"") != std::string_view::npos) return Format::Gltf;
  return fail(fmt::format("Files ending in \"{}\" cannot be read.", ending), {},
              "Use .glb, .gltf, .obj, .stl or .ply.");
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
  std::vector<Affine> worlds;
  worlds.reserve(delivery.parts.size());
  for (DeliveredPart& part : delivery.parts) {
    part.name = shortened(as_utf8(part.name), 200);
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

}  // namespace

Result<Delivery> read_delivery(ByteView bytes, const std::filesystem::path& path, const ImportOptions& options) {
  const std::string name = path.filename().string();
  const auto with_name = [&](Result<Delivery> result) -> Result<Delivery> {
    if (result) result = made_sound(*std::move(result));
    // Whatever is wrong, it is said of which file.
    if (!result && result.error().where.find(name) == std::string::npos)
      result.error().where = name + (result.error().where.empty() ? "" : ", " + result.error().where);
    return result;
  };
  // The JSON library and the standard containers throw; what a file can make them throw ends here.
  try {
    const auto format = format_of(bytes, path);
    if (!format) return with_name(tl::unexpected(format.error()));
    if (*format == Format::Gltf && (options.unit || options.up))
      return with_name(
          fail("A glTF file says its unit and its axes itself.", {}, "Leave the unit and the up axis out."));
    if (*format != Format::Gltf && options.scene)
      return with_name(fail("Only glTF files have several scenes.", {}, "Leave the scene out."));
    switch (*format) {
      case Format::Gltf: return with_name(read_gltf(bytes, path, options));
      case Format::Obj: return with_name(read_obj(bytes, path, options));
      case Format::Stl: return with_name(read_stl(bytes, path, options));
      default: return with_name(read_ply(bytes, path, options));
    }
  } catch (const Json::exception&) {
    return with_name(fail("The file is damaged: a value in it is not of the kind it should be."));
  } catch (const std::exception&) {
    return with_name(fail("The file needs more memory than there is."));
  }
}

void convert_positions(std::vector<Vec3>& positions, const ImportOptions& options, double unit, UpAxis up) {
  const double factor = options.unit.value_or(unit);
  const bool y_up = options.up.value_or(up) == UpAxis::Y;
  for (Vec3& p : positions) {
    if (y_up) p = {p.x, -p.z, p.y};
    p = p * factor;
  }
}

}  // namespace tack
