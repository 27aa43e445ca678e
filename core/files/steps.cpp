#include "core/files/steps.h"

#include <fmt/format.h>

#include "core/files/glb.h"
#include "core/verbs/blank_table.h"

namespace tack {
namespace {

Result<Verb> bring_from_json(const Json& json, const Scene& scene, const std::filesystem::path& folder,
                             std::shared_ptr<const Delivery> delivery) {
  if (const auto ok = check_keys(json, keys_of(any_table<Bring>())); !ok) return tl::unexpected(ok.error());
  if (!json.contains("file") || !json["file"].is_string()) return fail("Bring needs a \"file\".", "file");
  ImportOptions options;
  if (json.contains("unit")) {
    const auto unit = json["unit"].is_string() ? length_unit(json["unit"].get<std::string>()) : std::nullopt;
    if (!unit)
      return fail(fmt::format("{} is not a unit of length.", json["unit"].dump()), "unit", "Use mm, cm, m, in or ft.");
    options.unit = unit->millimetres;
  }
  if (json.contains("up")) {
    if (json["up"] != "y" && json["up"] != "z") return fail("The axis that points up is y or z.", "up");
    options.up = json["up"] == "y" ? UpAxis::Y : UpAxis::Z;
  }
  if (json.contains("scene")) {
    if (!json["scene"].is_number_unsigned() || json["scene"].get<std::uint64_t>() > 1'000'000)
      return fail("The scene's number is a whole number from 0.", "scene");
    options.scene = json["scene"].get<int>();
  }
  const std::filesystem::path file = folder / json["file"].get<std::string>();
  if (!delivery) {
    auto read = import_file(file, options);
    if (!read) return tl::unexpected(read.error());
    delivery = std::make_shared<const Delivery>(std::move(*read));
  }
  BringOptions how;
  if (json.contains("instance")) {
    if (!json["instance"].is_boolean()) return fail("This should be true or false.", "instance");
    how.instances = json["instance"].get<bool>();
  }
  if (json.contains("unknown")) {
    if (json["unknown"] != "keep" && json["unknown"] != "leave-out")
      return fail("What is unknown is kept or left out: \"keep\" or \"leave-out\".", "unknown");
    if (json["unknown"] == "leave-out") how.unknown = UnknownNumbers::LeaveOut;
  }
  auto bring = bring_of(*delivery, file, scene, how);
  if (!bring) return tl::unexpected(bring.error());
  bring->source = delivery;
  if (options.unit) bring->unit = json["unit"].get<std::string>();
  if (options.up) bring->up = json["up"].get<std::string>();
  bring->scene = options.scene;
  if (json.contains("at")) {
    const Json& at = json["at"];
    const auto all = amounts_from_json(at, EntryKind::Length, "at", scene, 0);
    if (!all) return tl::unexpected(all.error());
    if (!(*all)[0] || !(*all)[1] || !(*all)[2]) return fail("This should be three lengths, like [120, 0, 18].", "at");
    bring->at = Vec3{(*all)[0]->value, (*all)[1]->value, (*all)[2]->value};
  }
  if (json.contains("on")) {
    if (!json["on"].is_string()) return fail("This should be a place, like \"\\\"Ramp\\\" face-centre 4\".", "on");
    const auto on = parse_address(scene, json["on"].get<std::string>());
    if (!on) return fail(on.error().what, "on");
    bring->on = *on;
  }
  return Verb(std::move(*bring));
}

}  // namespace

Result<Verb> verb_from_entry(const Json& entry, const Scene& scene, const std::filesystem::path& folder,
                             std::shared_ptr<const Delivery> kept) {
  const bool brings = entry.is_object() && entry.contains("verb") && entry["verb"] == "bring";
  return brings ? bring_from_json(entry, scene, folder, std::move(kept)) : verb_from_json(entry, scene);
}

std::vector<StepOutcome> run_steps(Journal& journal, const Json& list, const std::filesystem::path& folder) {
  std::vector<StepOutcome> outcomes;
  for (const Json& entry : list) {
    StepOutcome outcome;
    const bool named = entry.is_object() && entry.contains("verb") && entry["verb"].is_string();
    outcome.verb = named ? entry["verb"].get<std::string>() : std::string("?");
    const auto verb = verb_from_entry(entry, journal.scene(), folder);
    if (!verb) {
      outcome.problem = verb.error();
    } else if (const auto done = journal.add(*verb); !done) {
      outcome.problem = done.error();
    } else {
      outcome.words = plain_text(journal.record().steps.back()->words);
      outcome.note = journal.record().steps.back()->remark;
      if (const auto* bring = std::get_if<Bring>(&*verb))
        for (const std::string& note : bring->notes) outcome.note += (outcome.note.empty() ? "" : " ") + note;
    }
    const bool failed = outcome.problem.has_value();
    outcomes.push_back(std::move(outcome));
    if (failed) break;
  }
  return outcomes;
}

Result<Json> read_steps(const std::filesystem::path& path) {
  const auto bytes = read_file(path, 256u << 20);
  if (!bytes) return tl::unexpected(bytes.error());
  auto json = parse_json_list(std::string_view(reinterpret_cast<const char*>(bytes->data()), bytes->size()));
  if (!json)
    return fail("A steps file is a JSON list, like [{\"verb\": \"move\", …}].", path.filename().string(),
                json.error().what);
  return json;
}

Json steps_to_json(const Record& record) {
  Json list = Json::array();
  for (std::size_t i = 0; i < record.steps.size(); ++i)
    // Steps that are left out, or no longer work, did nothing to the scene.
    if (const Step& step = *record.steps[i]; !step.left_out && !step.problem)
      list.push_back(to_json(step.verb, record.before(i)));
  return list;
}

}  // namespace tack
