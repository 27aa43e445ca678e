#include "cli/commands.h"

#include <algorithm>
#include <charconv>
#include <unordered_map>

#include "cli/answer.h"
#include "core/files/export.h"
#include "core/files/steps.h"
#include "core/fit/measure.h"
#include "draw/draw_list.h"
#include "draw/offscreen.h"
#include "draw/plane_grid.h"

namespace tack {
namespace {

int wrong_line(const std::string& what) { return complain({what, {}, "See --help."}, 2); }

bool has_units(const std::string& file) {
  return file.ends_with(".glb") || file.ends_with(".gltf") || file.ends_with(".GLB") || file.ends_with(".GLTF");
}

Box box_of_part(const Scene& scene, PartId id, const Affine& world) {
  const Part& part = scene.part(id);
  return part.mesh ? world_box_of(*part.mesh, world) : Box{};
}

// The kind and the dimensions of a live shape; null for a mesh and a group.
Json shape_of(const Part& part) {
  if (!part.shape) return nullptr;
  const Shape& shape = part.shape->shape;
  Json json{{"kind", word_of(shape.kind)}};
  for (const Dimension d : dimensions_of(shape.kind)) {
    const std::string key(key_of(shape.kind, d));
    if (key == "size")
      json[key] = triple({shape[Dimension::Width], shape[Dimension::Depth], shape[Dimension::Height]});
    else
      json[key] = shape[d];
  }
  return json;
}

Json part_json(const Scene& scene, PartId id, const Affine& world, const Vec3& size, const std::string& path,
               const Json& parent) {
  const Part& part = scene.part(id);
  Json matrix = Json::array();
  for (int r = 0; r < 3; ++r) {
    for (int c = 0; c < 3; ++c) matrix.push_back(world.linear(r, c));
    matrix.push_back(world.translation[r]);
  }
  for (const double v : {0.0, 0.0, 0.0, 1.0}) matrix.push_back(v);
  Json kept = Json::array();
  for (const KeptTack& k : kept_of(scene, id)) kept.push_back(k.name);
  Json bands = Json::array();
  for (const KeptBand& k : bands_of(scene, id)) bands.push_back(k.name);
  return {{"name", part.name},
          {"path", path},
          {"parent", parent},
          {"position", triple(part.placement.position)},
          {"rotation", triple(part.placement.rotation)},
          {"scale", triple(part.placement.scale)},
          {"skew", triple(part.placement.skew)},
          {"pivot", triple(part.placement.pivot)},
          {"world", matrix},
          {"size", triple(size)},
          {"vertices", part.mesh ? part.mesh->positions().size() : 0},
          {"triangles", part.mesh ? part.mesh->triangles().size() : 0},
          {"kept", kept},
          {"hidden", part.hidden},
          {"locked", part.locked},
          {"shape", shape_of(part)},
          {"bands", bands}};
}

}  // namespace

int verbs(const CommandLine& line) {
  if (line.verb.empty()) {
    for (const auto& [verb, keys] : all_keys()) fmt::print("{}\n", verb);
    return 0;
  }
  const std::string table = key_table_of(line.verb);
  if (table.empty()) return wrong_line(fmt::format("There is no verb \"{}\".", line.verb));
  fmt::print("{}", table);
  return 0;
}

int info(const CommandLine& line) {
  const auto document = open(line.file);
  if (!document) return complain(document.error());
  const Scene& scene = document->scene;
  const std::vector<Affine> worlds = worlds_of(scene);
  std::size_t vertices = 0, triangles = 0;
  Box box;
  Json parts = Json::array();
  const std::vector<PartId> all = scene.in_tree_order();
  const std::vector<std::string> paths = paths_of(scene, all);
  std::unordered_map<PartId, std::size_t> number;
  for (std::size_t i = 0; i < all.size(); ++i) number[all[i]] = i;
  std::vector<Vec3> sizes;
  sizes.reserve(all.size());
  for (std::size_t i = 0; i < all.size(); ++i) {
    const PartId id = all[i];
    const Part& part = scene.part(id);
    const Box own = box_of_part(scene, id, worlds[id]);
    sizes.push_back(own.size());
    if (part.mesh) {
      vertices += part.mesh->positions().size();
      triangles += part.mesh->triangles().size();
      box.include(own);
    }
    if (!line.json) continue;
    const Json parent = part.parent == kNoPart ? Json(nullptr) : Json(paths[number[part.parent]]);
    parts.push_back(part_json(scene, id, worlds[id], sizes[i], paths[i], parent));
  }
  Json planes = Json::array();
  for (std::size_t i = 0; i < all.size(); ++i) {
    if (scene.part(all[i]).guide != GuideKind::Plane) continue;
    const Affine frame = plane_frame(scene, all[i]);
    planes.push_back({{"name", scene.part(all[i]).name},
                      {"path", paths[i]},
                      {"origin", triple(frame.translation)},
                      {"x", triple(frame.linear.column[0])},
                      {"y", triple(frame.linear.column[1])},
                      {"normal", triple(frame.linear.column[2])},
                      {"follows", scene.part(all[i]).law != nullptr}});
  }
  if (line.json) {
    const Json out{{"file", line.file},
                   {"document", document->is_document},
                   {"unit", document->settings.unit},
                   {"count", scene.size()},
                   {"vertices", vertices},
                   {"triangles", triangles},
                   {"size", triple(box.size())},
                   {"ties", scene.ties().size()},
                   {"planes", planes},
                   {"plane", scene.plane() == kNoPart ? std::string(kWorldPlane) : paths[number[scene.plane()]]},
                   {"parts", parts}};
    print_json(out);
    return 0;
  }
  fmt::print("{}: {} parts, {} vertices, {} triangles, {} mm\n", printable(line.file), scene.size(), vertices,
             triangles, shown_triple(box.size()));
  if (scene.plane() != kNoPart) fmt::print("  the plane in use is {}\n", printable(paths[number[scene.plane()]]));
  for (std::size_t i = 0; i < all.size(); ++i) {
    const PartId id = all[i];
    const Part& part = scene.part(id);
    fmt::print("  {}\n    position {}  rotation {}  scale {}  size {}\n", printable(paths[i]),
               shown_triple(part.placement.position), shown_triple(part.placement.rotation),
               shown_triple(part.placement.scale), shown_triple(sizes[i]));
  }
  return 0;
}

int list_steps(const CommandLine& line) {
  const auto document = open(line.file, {}, true);
  if (!document) return complain(document.error());
  print_json(document->past ? steps_to_json(document->past->record()) : Json::array());
  return 0;
}

int run(const CommandLine& line) {
  const auto document = open(line.file, {}, true);
  if (!document) return complain(document.error());
  if (line.out && line.out->empty()) return wrong_line("--out names no file.");
  const auto steps = read_steps(line.steps);
  if (!steps) return complain(steps.error());
  Journal journal = document->past ? *document->past : Journal(document->scene);
  const auto outcomes = run_steps(journal, *steps, std::filesystem::path(line.steps).parent_path());
  const bool ok = outcomes.empty() || !outcomes.back().problem;
  Result<Saved> written;
  if (ok && line.out) written = write_as(*line.out, journal.scene(), document->settings, {}, &journal.record());
  if (written && !written->note.empty()) fmt::print(stderr, "Note: {}\n", printable(written->note, 1000));
  if (line.json) {
    Json list = Json::array();
    for (const StepOutcome& o : outcomes) {
      Json entry{{"verb", o.verb}, {"ok", !o.problem}};
      if (o.problem)
        entry["problem"] = sentence(*o.problem);
      else
        entry["sentence"] = o.words;
      if (!o.note.empty()) entry["note"] = o.note;
      list.push_back(std::move(entry));
    }
    Json out{{"ok", ok && written.has_value()},
             {"done", outcomes.size() - (ok ? 0 : 1)},
             {"of", steps->size()},
             {"steps", list}};
    out["out"] = ok && written && line.out ? Json(*line.out) : Json(nullptr);
    print_json(out);
  } else {
    for (const StepOutcome& o : outcomes)
      if (!o.problem)
        fmt::print("{}{}{}\n", printable(o.words, 2000), o.note.empty() ? "" : " ", printable(o.note, 2000));
  }
  if (!ok) {
    const Problem& p = *outcomes.back().problem;
    fmt::print(stderr, "Step {} ({}) failed, and nothing was written. {}\n", outcomes.size(),
               printable(outcomes.back().verb, 60), sentence(p));
    return 1;
  }
  if (!written) return complain(written.error());
  if (!line.out && !line.json) fmt::print("Nothing was written: give --out to keep the result.\n");
  return 0;
}

int measure_tacks(const CommandLine& line) {
  const auto document = open(line.file);
  if (!document) return complain(document.error());
  std::vector<Tack> tacks;
  for (const std::string& text : line.tacks) {
    const auto address = parse_address(document->scene, text);
    if (!address) return complain(address.error());
    const auto tack = find_tack(document->scene, *address);
    if (!tack) return complain(tack.error());
    tacks.push_back(*tack);
  }
  const auto direction = [](const std::optional<Vec3>& v) { return v ? triple(*v) : Json(nullptr); };
  if (tacks.size() == 1) {
    const Tack& t = tacks[0];
    if (line.json) {
      const Json out{{"from", triple(t.point)},
                     {"direction", direction(t.direction)},
                     {"roll", direction(t.roll)},
                     {"words", tack_words(document->scene, t.address)}};
      print_json(out);
    } else {
      fmt::print("{}: {} mm\n", tack_words(document->scene, t.address), shown_triple(t.point));
    }
    return 0;
  }
  const Measured m = measure(tacks[0], tacks[1]);
  const double bound = exact_bound(document->scene, tacks[0].address, tacks[1].address);
  if (line.json) {
    const Json out{
        {"distance", m.distance}, {"delta", triple(m.delta)}, {"angle", m.angle ? Json(*m.angle) : Json(nullptr)},
        {"from", triple(m.from)}, {"to", triple(m.to)},       {"exact", m.distance <= bound}};
    print_json(out);
  } else {
    fmt::print("{} mm  ({}){}{}\n", show_number(m.distance, 9).text, shown_triple(m.delta),
               m.angle ? fmt::format("  {}°", show_number(*m.angle, 6).text) : "",
               m.distance <= bound ? "  exact" : "");
  }
  return 0;
}

namespace {

// A unit and an axis as they were given on the command line; false, and it is said, when one of them is none.
bool take_axes(const std::string& unit_name, const std::string& up_name, std::optional<double>& unit,
               std::optional<UpAxis>& up) {
  if (!unit_name.empty()) {
    const auto known = length_unit(unit_name);
    if (!known) {
      wrong_line(fmt::format("\"{}\" is not a unit of length.", unit_name));
      return false;
    }
    unit = known->millimetres;
  }
  if (!up_name.empty()) up = up_name == "y" ? UpAxis::Y : UpAxis::Z;
  return true;
}

}  // namespace

int convert(const CommandLine& line) {
  std::optional<double> unit, out_unit;
  std::optional<UpAxis> up, out_up;
  if (!take_axes(line.unit, line.up, unit, up) || !take_axes(line.out_unit, line.out_up, out_unit, out_up)) return 2;
  const bool in_says = has_units(line.file), out_says = has_units(*line.out);
  if (out_says && (out_unit || out_up))
    return wrong_line("A .glb says its unit and which axis is up itself; --out-unit and --out-up mean nothing here.");
  if ((unit || up) && in_says && out_says)
    return wrong_line("Both files say their unit and which axis is up themselves; --unit and --up mean nothing here.");
  if ((unit && out_unit && in_says) || (up && out_up && in_says))
    return wrong_line("What is written is said twice: by --unit or --up, and by --out-unit or --out-up.");
  // Unit and up axis are for the side that cannot say them itself; when neither can, for what is read.
  ImportOptions read;
  if (!in_says) {
    read.unit = unit;
    read.up = up;
  } else {
    if (!out_unit) out_unit = unit;
    if (!out_up) out_up = up;
  }
  ExportOptions write;
  write.unit = out_unit.value_or(1);
  write.up = out_up.value_or(UpAxis::Z);
  const auto document = open(line.file, read);
  if (!document) return complain(document.error());
  const auto written = write_as(*line.out, document->scene, document->settings, write);
  if (!written) return complain(written.error());
  if (!written->note.empty()) fmt::print(stderr, "Note: {}\n", printable(written->note, 1000));
  return 0;
}

int shot(const CommandLine& line) {
  constexpr std::pair<std::string_view, Side> kSides[] = {
      {"front", Side::Front}, {"back", Side::Back},     {"left", Side::Left}, {"right", Side::Right},
      {"top", Side::Top},     {"bottom", Side::Bottom}, {"iso", Side::Iso}};
  const auto* const side =
      std::find_if(std::begin(kSides), std::end(kSides), [&](const auto& s) { return s.first == line.view; });
  if (side == std::end(kSides)) return wrong_line(fmt::format("There is no view \"{}\".", line.view));
  int width = 0, height = 0;
  const char* end = line.size.data() + line.size.size();
  const auto first = std::from_chars(line.size.data(), end, width);
  const bool crossed = first.ec == std::errc{} && first.ptr != end && *first.ptr == 'x';
  const auto second = crossed ? std::from_chars(first.ptr + 1, end, height) : first;
  if (!crossed || second.ec != std::errc{} || second.ptr != end || width < 16 || height < 16 || width > 8192 ||
      height > 8192)
    return wrong_line(fmt::format("\"{}\" is not a size from 16x16 to 8192x8192.", line.size));
  const auto document = open(line.file);
  if (!document) return complain(document.error());

  const Offscreen offscreen;
  if (!offscreen.error().empty()) return complain({offscreen.error(), {}, {}});
  Renderer renderer;
  if (const std::string error = renderer.create(); !error.empty()) return complain({error, {}, {}});
  DrawFrame frame;
  DrawList list;
  list.show(document->scene, {});
  frame.items = list.items();
  for (const DrawItem& item : frame.items)
    if (!renderer.has(*item.mesh)) renderer.upload(item.mesh, make_mesh_arrays(*item.mesh));
  Camera camera = turned_to({}, side->second);
  camera = framed(camera, world_box_of(document->scene), width, height);
  frame.view = view_of(camera, width, height);
  frame.grid = plane_grid_look(document->scene, frame.view, camera.target).drawn;
  frame.grid.shown = side->second == Side::Iso || side->second == Side::Top;
  frame.theme = line.night ? night_theme() : day_theme();
  frame.samples = 4;
  const auto pixels = renderer.draw_to_memory(frame);
  renderer.release();
  const auto written = write_png(*line.out, width, height, pixels);
  return written ? 0 : complain(written.error());
}

}  // namespace tack
