// Steps kept in the document: reopened, they lead to the same scene, and can be changed as if it had never been closed.
#include <catch2/catch.hpp>

#include "core/files/kept_record.h"
#include "core/files/outline.h"
#include "core/files/replay.h"
#include "core/files/steps.h"
#include "core/verbs/patch.h"
#include "demo/heron_hall.h"
#include "tests/files/document_checks.h"

using namespace tack;
using namespace tack::test;

namespace {

Bytes kept(const Journal& journal) {
  std::string note;
  auto bytes = write_document(journal.scene(), {}, &journal.record(), &note);
  REQUIRE(bytes);
  CHECK(note.empty());
  return *bytes;
}

// Read as the window reads it: through the block of memory that the helper hands over.
Document reopened(const Bytes& bytes) {
  ImportOptions options;
  options.steps = true;
  auto read = read_delivery(bytes, "document.glb", options);
  REQUIRE(read);
  const auto block = std::make_shared<const Bytes>(pack(*read));
  const auto delivery = unpack(*block, block);
  REQUIRE(delivery);
  auto document = document_of(*delivery);
  REQUIRE(document);
  do_again(*delivery, *document);
  return *document;
}

Document opened_again(const Bytes& bytes) {
  Document document = reopened(bytes);
  for (const std::string& note : document.notes) UNSCOPED_INFO(note);
  REQUIRE(document.past);
  return document;
}

void check_same_parts(const Scene& a, const Scene& b) {
  CHECK(difference_between(a, b).empty());
  const std::vector<PartId> ours = a.in_tree_order(), theirs = b.in_tree_order();
  REQUIRE(ours.size() == theirs.size());
  for (std::size_t i = 0; i < ours.size(); ++i) {
    const Part &p = a.part(ours[i]), &q = b.part(theirs[i]);
    INFO(p.name);
    CHECK(p.placement == q.placement);
    if (p.mesh) CHECK(world_box_of(*p.mesh, {}) == world_box_of(*q.mesh, {}));
  }
}

void do_steps(Journal& journal, const Json& list, const std::filesystem::path& folder = {}) {
  for (const StepOutcome& o : run_steps(journal, list, folder)) {
    INFO((o.problem ? sentence(*o.problem) : o.words));
    REQUIRE_FALSE(o.problem);
  }
}

Json move(const std::string& what, const std::vector<double>& by) {
  return Json::array({{{"verb", "move"}, {"what", {what}}, {"by", by}}});
}

std::string page_text(const std::string& relative) {
  const auto bytes = read_file(source(relative));
  REQUIRE(bytes);
  return {bytes->begin(), bytes->end()};
}

}  // namespace

TEST_CASE("the demo's steps come back with the document, and one of them is changed", "[record]") {
  Journal journal(document_of(*read_delivery(*write_document(demo::heron_hall_parts(), {}), "a.glb", {}))->scene);
  do_steps(journal, Json::parse(page_text("demo/finish.json")), source("demo"));
  const Bytes bytes = kept(journal);
  check_valid(bytes);
  Document document = opened_again(bytes);
  Journal& again = *document.past;
  REQUIRE(again.record().steps.size() == journal.record().steps.size());
  for (std::size_t i = 0; i < journal.record().steps.size(); ++i) {
    const Step &was = *journal.record().steps[i], &is = *again.record().steps[i];
    CHECK(plain_text(was.words) == plain_text(is.words));
    CHECK(was.remark == is.remark);
  }
  check_same_parts(journal.scene(), again.scene());
  // Written again: the same bytes.
  const auto twice = write_document(again.scene(), document.settings, &again.record());
  REQUIRE(twice);
  CHECK((*twice == bytes));
  // Each step out and in again; the last ones depend on it as they did.
  for (const std::size_t step : {std::size_t{0}, std::size_t{3}, journal.record().steps.size() / 2}) {
    journal.leave_out(step, true);
    again.leave_out(step, true);
    check_same_parts(journal.scene(), again.scene());
    CHECK(journal.problems() == again.problems());
    journal.leave_out(step, false);
    again.leave_out(step, false);
  }
  check_same_parts(journal.scene(), again.scene());
  while (again.can_undo()) again.undo();
  CHECK(again.record().steps.empty());
  check_same_parts(journal.record().start, again.scene());
}

TEST_CASE("every example of the steps' page is kept and done again", "[record]") {
  const std::string page = page_text("docs/steps.md");
  const Folder folder;
  for (const char* file : {"sign-plate.obj", "hook-rail.stl"})
    std::filesystem::copy_file(source(std::string("demo/") + file), folder / file);
  const Scene start = demo::heron_hall_parts();
  std::size_t examples = 0;
  for (std::size_t at = page.find("```json"); at != std::string::npos; at = page.find("```json", at)) {
    const std::size_t begin = page.find('\n', at), end = page.find("```", begin);
    const std::string text = page.substr(begin, end - begin);
    at = end + 3;
    INFO(text);
    Journal journal(start);
    do_steps(journal, Json::parse(text), folder.path());
    const Bytes bytes = kept(journal);
    const Document document = opened_again(bytes);
    CHECK(document.past->record().steps.size() == journal.record().steps.size());
    const auto twice = write_document(document.past->scene(), document.settings, &document.past->record());
    CHECK((*twice == bytes));
    ++examples;
  }
  CHECK(examples > 20);
}

TEST_CASE("a file that was brought in is kept with its step, also when it is gone", "[record]") {
  const Folder folder;
  std::filesystem::copy_file(source("demo/sign-plate.obj"), folder / "sign-plate.obj");
  Journal journal(two_boxes());
  const Json bring{{"verb", "bring"}, {"file", "sign-plate.obj"}, {"at", {10, 20, 30}}};
  do_steps(journal, Json::array({bring}), folder.path());
  const PartId brought = journal.record().steps.back()->made.front();
  do_steps(journal, move(journal.scene().part(brought).name, {5, 0, 0}));
  std::filesystem::remove(folder / "sign-plate.obj");
  const Bytes bytes = kept(journal);
  // Where it lay is in no document.
  const std::string text(bytes.begin(), bytes.end());
  CHECK(text.find(folder.path()) == std::string::npos);
  Document document = opened_again(bytes);
  check_same_parts(journal.scene(), document.past->scene());
  // The earlier step is changed: what came in goes elsewhere, and the later one follows.
  auto verb = std::get<Bring>(document.past->record().steps[0]->verb);
  verb.at = Vec3{110, 20, 30};
  const double before = world_box_of(document.past->scene()).high.x;
  REQUIRE(document.past->amend(0, Verb(verb)));
  CHECK(world_box_of(document.past->scene()).high.x == Approx(before + 100));
  // And it can be kept once more.
  check_same_parts(document.past->scene(), opened_again(kept(*document.past)).past->scene());
}

TEST_CASE("steps that are left out, and those that fail without them, come back so", "[record]") {
  Journal journal(two_boxes());
  do_steps(journal, Json::array({{{"verb", "copy"}, {"what", {"A"}}}}));
  const PartId copy = journal.record().steps.back()->made.front();
  do_steps(journal, move(journal.scene().part(copy).name, {7, 0, 0}));
  do_steps(journal, move("A", {0, 3, 0}));
  journal.leave_out(0, true);
  REQUIRE(journal.problems() == 1);
  const Bytes bytes = kept(journal);
  Document document = opened_again(bytes);
  Journal& again = *document.past;
  REQUIRE(again.record().steps.size() == 3);
  CHECK(again.record().steps[0]->left_out);
  CHECK(again.record().steps[1]->problem.has_value());
  CHECK(again.record().steps[2]->problem == std::nullopt);
  check_same_parts(journal.scene(), again.scene());
  CHECK((*write_document(again.scene(), document.settings, &again.record()) == bytes));
  journal.leave_out(0, false);
  again.leave_out(0, false);
  CHECK(again.problems() == 0);
  check_same_parts(journal.scene(), again.scene());
}

TEST_CASE("what was taken of a mesh is there again", "[record]") {
  Journal journal(demo::heron_hall_parts());
  do_steps(journal, Json::parse(R"([
    {"verb": "take", "of": [{"part": "Base board", "faces": "0"}], "name": "Lid"},
    {"verb": "move", "what": ["Lid"], "by": [0, 0, 4]}])"));
  Document document = opened_again(kept(journal));
  check_same_parts(without_patches(journal.scene()), without_patches(document.past->scene()));
  const auto lid = find_by_path(document.past->scene(), "Lid");
  REQUIRE(lid);
  REQUIRE(document.past->scene().part(*lid).patch);
  // It still moves what it was taken from.
  const auto board = find_by_path(document.past->scene(), "Base board");
  do_steps(*document.past, move("Lid", {0, 0, 2}));
  do_steps(journal, move("Lid", {0, 0, 2}));
  CHECK(world_box_of(*document.past->scene().part(*board).mesh, {}) ==
        world_box_of(*journal.scene().part(*find_by_path(journal.scene(), "Base board")).mesh, {}));
}

TEST_CASE("meshes stand once in the file, and once in memory", "[record]") {
  Scene scene;
  Chance chance(77);
  scene.add(part_of("Ball", blob(chance, 20'000)));
  Journal journal(scene);
  do_steps(journal, move("Ball", {7, 0, 0}));
  const Bytes with = kept(journal);
  const Bytes without = *write_document(journal.scene(), {});
  CHECK(with.size() < without.size() + 8000);
  const Document document = opened_again(with);
  CHECK(document.past->record().start.part(1).mesh == document.past->scene().part(1).mesh);
}

TEST_CASE("a document that another program wrote anew begins its record anew", "[record]") {
  Journal journal(two_boxes());
  do_steps(journal, move("A", {7, 0, 0}));
  const Bytes bytes = kept(journal);
  const std::size_t plain = write_document(journal.scene(), {})->size();
  SECTION("its text was changed") {
    auto glb = read_glb(bytes);
    glb->json["asset"]["extras"] = "seen by somebody";
    const Document document = reopened(*write_glb(glb->json, glb->binary));
    CHECK_FALSE(document.past);
    REQUIRE(document.notes.size() == 1);
    CHECK(document.notes[0] ==
          "The steps that led to this document are not to be had: Another program has written this document since.");
    // What is of no use goes.
    CHECK(write_document(document.scene, document.settings)->size() < plain + 100);
  }
  SECTION("its numbers were changed") {
    Bytes changed = bytes;
    changed[changed.size() - 1000] ^= 1;
    CHECK_FALSE(reopened(changed).past);
  }
  SECTION("the mark was taken away") {
    auto glb = read_glb(bytes);
    glb->json["scenes"][0]["extensions"]["TACKPOINT_layout"]["record"].erase("TACKPOINT_record_mark");
    CHECK_FALSE(reopened(*write_glb(glb->json, glb->binary)).past);
  }
}

TEST_CASE("what is read for its parts alone does not bring its steps along", "[record]") {
  Journal journal(two_boxes());
  do_steps(journal, move("A", {7, 0, 0}));
  const Bytes bytes = kept(journal);
  const auto delivery = read_delivery(bytes, "document.glb", {});
  REQUIRE(delivery);
  CHECK_FALSE(delivery->record);
  CHECK(delivery->notes.empty());
  const auto document = document_of(*delivery);
  // Written from there it is as if there had never been any.
  CHECK((*write_document(document->scene, document->settings) == *write_document(journal.scene(), {})));
}

TEST_CASE("steps that would make more than memory holds are not done again", "[record]") {
  Journal journal(two_boxes());
  do_steps(journal, move("A", {7, 0, 0}));
  const auto delivery =
      read_delivery(kept(journal), "document.glb", {.unit = {}, .up = {}, .scene = {}, .steps = true});
  REQUIRE(delivery);
  REQUIRE(delivery->record);
  const auto note = [&](const Json& steps) {
    auto record = std::make_shared<DeliveredRecord>(*delivery->record);
    record->steps = steps;
    Delivery hostile = *delivery;
    hostile.record = record;
    Document document = *document_of(hostile);
    do_again(hostile, document, nullptr, {}, 10'000);
    CHECK_FALSE(document.past);
    CHECK(document.scene.size() == 2);
    return document.notes.size() == 1 ? document.notes[0] : std::string();
  };
  // Sixty words, each twice what was there: what they say they lead to is a lie.
  Json steps = Json::array();
  std::string inner = "A";
  for (int i = 0; i < 60; ++i) {
    const std::string group = std::string("Group ") + static_cast<char>('a' + i / 26) + static_cast<char>('a' + i % 26);
    steps.push_back({{"verb", "group"}, {"what", {inner}}, {"name", group}});
    steps.push_back({{"verb", "copy"}, {"what", {group + "/" + inner}}, {"instance", true}});
    inner = group;
  }
  CHECK(note(steps).find("done again, of 196651 parts 2 came back") != std::string::npos);
  // And meshes, one after the other in the place of the one before.
  steps =
      Json::array({{{"verb", "shape"}, {"kind", "sphere"}, {"name", "Ball"}, {"diameter", 60}, {"at", "point 0,0,0"}}});
  for (int i = 0; i < 200; ++i) {
    steps.push_back(steps.front());
    steps.back()["name"] = fmt::format("Ball {}", i);
    steps.back()["diameter"] = 60 + i;
  }
  CHECK(note(steps).find("more memory than there is for it") != std::string::npos);
}

TEST_CASE("no record ends the reading", "[record]") {
  Journal journal(two_boxes());
  do_steps(journal, move("A", {7, 0, 0}));
  const auto whole = read_glb(kept(journal));
  const Json layout = whole->json["scenes"][0]["extensions"]["TACKPOINT_layout"];
  const auto place = whole->json["bufferViews"].back();
  const auto at = place["byteOffset"].get<std::size_t>(), text = layout["record"]["text"].get<std::size_t>();
  // Somebody who knows how the mark is made writes what they like.
  const auto opens = [&](const std::string& record) {
    INFO(record);
    Json json = whole->json;
    Bytes binary(whole->binary.view().begin(), whole->binary.view().begin() + static_cast<std::ptrdiff_t>(at));
    std::string padded = record;
    padded.resize((record.size() + 7) / 8 * 8, ' ');
    binary.insert(binary.end(), padded.begin(), padded.end());
    json["bufferViews"].back()["byteLength"] = padded.size();
    json["buffers"][0]["byteLength"] = binary.size();
    Json& said = json["scenes"][0]["extensions"]["TACKPOINT_layout"]["record"];
    said["text"] = padded.size();
    said["TACKPOINT_record_mark"] = "0000000000000000";
    GlbRuns glb = *glb_around(json_text(json), ByteRuns(Blob(binary, nullptr)));
    seal_record(glb);
    const Document document = reopened(bytes_of(runs_of(std::move(glb))));
    CHECK(document.scene.size() == journal.scene().size());
    return document.past.has_value();
  };
  const ByteView all = whole->binary.view();
  const std::string good(reinterpret_cast<const char*>(all.data()) + at, text);
  Json record = Json::parse(good);
  // What the start takes of the record's own bytes is not there any more: only the scene is.
  CHECK_FALSE(opens("{}"));
  CHECK_FALSE(opens("[]"));
  CHECK_FALSE(opens(R"({"scenes": [], "steps": []})"));
  CHECK_FALSE(opens(R"({"scenes": [{"gltf": {}, "pieces": []}], "steps": [3, null, {"verb": "bring"}]})"));
  CHECK_FALSE(
      opens(R"({"scenes": [{"gltf": {"asset": {"version": "2.0"}}, "pieces": [[0, 0, 99999999999]]}], "steps": []})"));
  CHECK_FALSE(opens(R"({"scenes": [{"gltf": {"asset": {"version": "2.0"}}, "pieces": [[0, -1, 3]]}], "steps": []})"));
  for (Json steps : {Json::array({{{"verb", "delete"}, {"what", {journal.scene().part(1).name}}}}),
                     Json::array({{{"verb", "bring"}, {"file", "/etc/passwd"}}}),
                     Json::array({{{"verb", "bring"}, {"file", "x"}, {"kept", 7}}})}) {
    Json other = record;
    other["steps"] = std::move(steps);
    CHECK_FALSE(opens(other.dump()));
  }
  // Pieces again and again: more than such a document could ever need.
  Json bomb = record;
  for (int i = 0; i < 300'000; ++i) bomb["scenes"][0]["pieces"].push_back(Json::array({0, 0, at / 2}));
  CHECK_FALSE(opens(bomb.dump()));
}
