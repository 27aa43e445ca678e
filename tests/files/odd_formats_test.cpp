// OBJ, STL and PLY as their users write them: marks, comments, holes, strips, several libraries, cut files.
#include <fmt/format.h>
#include <catch2/catch.hpp>

#include <fstream>

#include "core/files/axes_comment.h"
#include "core/files/document.h"
#include "core/files/export.h"
#include "core/files/glb.h"
#include "core/files/import.h"
#include "core/files/save.h"
#include "core/files/scanner.h"
#include "tests/files/document_checks.h"
#include "tests/support.h"

using namespace tack;
using namespace tack::test;

namespace {

Result<Delivery> read_odd(const char* name) { return read_delivery(source("tests/files/odd") + "/" + name, {}); }

Result<Delivery> text(const std::string& what, const char* name, const ImportOptions& options = {}) {
  return read_delivery(ByteView(reinterpret_cast<const std::uint8_t*>(what.data()), what.size()), name, options);
}

double area(const MeshSpans& mesh) {
  double sum = 0;
  for (const Triangle& t : mesh.triangles)
    sum += length(cross(mesh.positions[t[1]] - mesh.positions[t[0]], mesh.positions[t[2]] - mesh.positions[t[0]])) / 2;
  return sum;
}

std::vector<std::string> names(const Delivery& delivery) {
  std::vector<std::string> all;
  for (const DeliveredPart& part : delivery.parts) all.push_back(part.name);
  return all;
}

bool says(const std::vector<std::string>& notes, const std::string& what) {
  return std::any_of(notes.begin(), notes.end(),
                     [&](const std::string& n) { return n.find(what) != std::string::npos; });
}

}  // namespace

TEST_CASE("faces with bridged holes and thousands of corners have their own area") {
  const auto keyhole = read_odd("keyhole.obj");
  REQUIRE(keyhole);
  CHECK(area(keyhole->meshes[0]) == Approx(84).epsilon(1e-12));
  const auto star = read_odd("star2500.obj");
  REQUIRE(star);
  CHECK(star->meshes[0].triangles.size() == star->meshes[0].positions.size() - 2);
  // By the shoelace formula, which knows nothing of triangles; the star lies flat.
  const auto p = star->meshes[0].positions;
  Vec3 sum;
  for (std::size_t i = 0; i < p.size(); ++i) sum += cross(p[i], p[(i + 1) % p.size()]);
  CHECK(area(star->meshes[0]) == Approx(length(sum) / 2).epsilon(1e-9));
}

TEST_CASE("a byte order mark is no part of the first line; UTF-16 is read") {
  const auto obj = read_odd("bom_short.obj");
  REQUIRE(obj);
  CHECK(obj->meshes[0].positions.size() == 4);
  CHECK(obj->meshes[0].positions[0] == Vec3{9, -9, 9});
  CHECK(
      text("\xEF\xBB\xBFply\nformat ascii 1.0\nelement vertex 1\nproperty float x\nproperty float y\nproperty float "
           "z\nend_header\n1 2 3\n",
           "a.ply"));
  CHECK(
      text("\xEF\xBB\xBFsolid a\nfacet normal 0 0 1\nouter loop\nvertex 0 0 0\nvertex 1 0 0\nvertex 0 1 "
           "0\nendloop\nendfacet\nendsolid a\n",
           "a.stl"));
  // UTF-16 of either order is the same text.
  const std::string narrow = "o Kn\xC3\xB6pfe\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n";
  std::string low = "\xFF\xFE", high = "\xFE\xFF";
  for (const char16_t c : std::u16string(u"o Kn\u00F6pfe\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n")) {
    low += {static_cast<char>(c & 0xFF), static_cast<char>(c >> 8)};
    high += {static_cast<char>(c >> 8), static_cast<char>(c & 0xFF)};
  }
  for (const std::string& wide : {low, high}) {
    const auto read = text(wide, "wide.obj");
    REQUIRE(read);
    CHECK(names(*read) == names(*text(narrow, "narrow.obj")));
  }
}

TEST_CASE("objects with equal groups stay apart, and an object with several groups stands above them") {
  CHECK(names(*read_odd("objects_same_group.obj")) == std::vector<std::string>{"Left", "Right"});
  CHECK(names(*read_odd("g_off.obj")) == std::vector<std::string>{"Body", "Lid"});
  const auto nested =
      text("v 0 0 0\nv 1 0 0\nv 0 1 0\no Cart\ng wheel\nf 1 2 3\ng body\nf 1 2 3\no Lid\nf 3 2 1\n", "a.obj");
  REQUIRE(nested);
  CHECK(names(*nested) == std::vector<std::string>{"Cart", "wheel", "body", "Lid"});
  CHECK(nested->parts[1].parent == 1);
  CHECK(nested->parts[2].parent == 1);
  CHECK(nested->parts[3].parent == 0);
  // Faces of the object itself are the part that the groups are below.
  const auto own =
      text("v 0 0 0\nv 1 0 0\nv 0 1 0\no Cart\ng wheel\nf 1 2 3\no Plate\nf 1 2 3\ng Pin\nf 3 2 1\n", "a.obj");
  REQUIRE(own);
  CHECK(names(*own) == std::vector<std::string>{"Cart", "Plate", "Pin"});
  CHECK(own->parts[2].parent == 2);
}

TEST_CASE("comments, continued lines, plus signs and tiny numbers are read") {
  const auto commented = read_odd("trailing_comment.obj");
  REQUIRE(commented);
  CHECK(commented->meshes[0].triangles.size() +
            (commented->meshes.size() > 1 ? commented->meshes[1].triangles.size() : 0) ==
        2);
  const auto continued = text("v 0 0 \\  \n0\nv +1 1e-400 0\nv 0 1 0\nf 1 2 \\\t\n3\n", "a.obj");
  REQUIRE(continued);
  CHECK(continued->meshes[0].positions[1] == Vec3{1, 0, 0});
  CHECK_FALSE(text("v 1e400 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n", "a.obj"));
  const auto plus = read_odd("plus.ply");
  REQUIRE(plus);
}

TEST_CASE("several material files, names with spaces, and pictures come along") {
  const Folder folder;
  const auto put = [&](const std::string& name, const std::string& what) {
    REQUIRE(save_atomically(folder / name, ByteView(reinterpret_cast<const std::uint8_t*>(what.data()), what.size())));
  };
  std::filesystem::create_directories(folder / "tex");
  REQUIRE(save_atomically(folder / "tex/wood.png", *read_file(source("docs/screenshots/align.png"))));
  put("a.mtl", "newmtl red\nKd 1 0 0\n");
  put("b c.mtl", "newmtl oak wood\nKd 0.5 0.4 0.3\nTr 0.25\nmap_Kd -s 2 2 1 tex\\wood.png\n");
  put("x.obj",
      "mtllib a.mtl\nmtllib b c.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nv 1 1 0\nvt 0 0\nvt 1 0\nvt 0 1\nvt 0.5 0.5\n"
      "vn 0 0 1\nusemtl red\nf 1/1/1 2/2/1 3/3/1\nusemtl oak wood\nf 2/2/1 4/4/1 3/1/1\nl 1 2\n");
  const auto d = read_delivery(std::filesystem::path(folder / "x.obj"), {});
  REQUIRE(d);
  CHECK(says(d->notes, "1 line"));
  REQUIRE(d->colours.size() == 2);
  REQUIRE(d->carried);
  // The corner that has another place in the picture stands behind the others.
  CHECK(d->meshes[0].positions.size() == 5);
  CHECK(d->meshes[0].positions[4] == d->meshes[0].positions[2]);
  const auto document = document_of(*d);
  REQUIRE(document);
  const auto bytes = write_document(document->scene, {});
  check_valid(*bytes);
  const Json json = read_glb(*bytes)->json;
  CHECK(json["images"][0]["mimeType"] == "image/png");
  const Json& primitives = json["meshes"][0]["primitives"];
  REQUIRE(primitives.size() == 2);
  CHECK(primitives[0]["attributes"].contains("TEXCOORD_0"));
  CHECK(primitives[0]["attributes"].contains("NORMAL"));
  const Json& oak = json["materials"][primitives[1]["material"].get<std::size_t>()];
  CHECK(oak["pbrMetallicRoughness"].contains("baseColorTexture"));
  const Document back = read_back(*bytes);
  CHECK(back.scene.part(1).mesh->positions().size() == 5);
  CHECK(*write_document(back.scene, {}) == *bytes);
  CHECK(read_odd("two_mtllibs.obj"));
}

TEST_CASE("vertices of what is left out do not hang about, and it is said") {
  const auto d = text("v 0 0 0\nv 1 0 0\nv 0 1 0\nv 9 9 9\nv 8 8 8\nf 1 2 3\nl 4 5\ncurv 0 1 4 5\n", "a.obj");
  REQUIRE(d);
  CHECK(d->meshes[0].positions.size() == 3);
  CHECK(says(d->notes, "1 line and 1 curve"));
}

TEST_CASE("vertex colours of OBJ and PLY come through") {
  const auto obj = text("v 0 0 0 1 0 0\nv 1 0 0 0 1 0\nv 0 1 0 0 0 1\nf 1 2 3\n", "a.obj");
  const auto ply = text(
      "ply\nformat ascii 1.0\nelement vertex 3\nproperty float x\nproperty float y\nproperty float z\nproperty ushort "
      "red\nproperty ushort green\nproperty ushort blue\nelement face 1\nproperty list uchar int "
      "vertex_indices\nend_header\n0 0 0 65535 0 0\n1 0 0 0 32768 0\n0 1 0 0 0 65535\n3 0 1 2\n",
      "a.ply");
  for (const auto* d : {&obj, &ply}) {
    REQUIRE(*d);
    const auto bytes = write_document(document_of(**d)->scene, {});
    check_valid(*bytes);
    CHECK(read_glb(*bytes)->json["meshes"][0]["primitives"][0]["attributes"].contains("COLOR_0"));
  }
  CHECK((*ply).parts[0].colours[0].g < 0.8f);
}

TEST_CASE("STL in capitals, on one line, of several solids, and cut off") {
  CHECK(read_odd("upper.stl"));
  CHECK(read_odd("oneline.stl"));
  for (const char* name : {"cut_third.stl"}) CHECK_FALSE(read_odd(name));
  const std::string facet = "facet normal 0 0 1 outer loop vertex 0 0 0 vertex 1 0 0 vertex 0 1 0 endloop endfacet ";
  const auto two = text(
      "solid Lid of box\n" + facet + "\nendsolid Lid of box\nsolid Base\n" + facet + facet + "\nendsolid\n", "a.stl");
  REQUIRE(two);
  CHECK(names(*two) == std::vector<std::string>{"Lid of box", "Base"});
  // A name that has the word for what follows in it.
  const auto tricky = text("solid a surfacet normal\n" + facet + "endsolid\n", "a.stl");
  REQUIRE(tricky);
  CHECK(names(*tricky) == std::vector<std::string>{"a surfacet normal"});
  CHECK_FALSE(text("solid afacet normal 0 0 1", "a.stl"));
  // Wherever it is cut before the end, it is refused.
  const std::string whole = "solid a\n" + facet + "endsolid a\n";
  for (std::size_t at = 8; at + 11 < whole.size(); ++at) CHECK_FALSE(text(whole.substr(0, at), "a.stl"));
  // Binary: fewer triangles than it says, and more bytes.
  std::string binary(84 + 50, '\0');
  binary[80] = 1;
  const float one = 1;
  std::memcpy(binary.data() + 84 + 24, &one, 4);
  std::memcpy(binary.data() + 84 + 40, &one, 4);
  REQUIRE(text(binary, "b.stl"));
  CHECK_FALSE(text(binary.substr(0, binary.size() - 1), "b.stl"));
  const auto more = text(binary + "tail", "b.stl");
  REQUIRE(more);
  CHECK(says(more->notes, "4 bytes behind"));
}

TEST_CASE("PLY with strips, faces first, polygons and lines that do not fit") {
  const auto strips = read_odd("tristrips.ply");
  REQUIRE(strips);
  CHECK(strips->meshes[0].triangles.size() == 2);
  CHECK(area(strips->meshes[0]) == Approx(1));
  Vec3 sum;
  for (const Triangle& t : strips->meshes[0].triangles) {
    const auto& p = strips->meshes[0].positions;
    sum += cross(p[t[1]] - p[t[0]], p[t[2]] - p[t[0]]);
  }
  CHECK(length(sum) == Approx(2));  // both face the same way
  CHECK_FALSE(read_odd("noxyz.ply"));
  CHECK_FALSE(read_odd("extra_col.ply"));
  const auto first = text(
      "ply\nformat ascii 1.0\nelement face 2\nproperty list uchar int vertex_indices\nelement vertex 5\nproperty float "
      "x\nproperty float y\nproperty float z\nend_header\n4 0 1 2 3\n3 0 3 4\n0 0 0\n2 0 0\n2 1 0\n0 1 0\n-1 0.5 0\n",
      "a.ply");
  REQUIRE(first);
  CHECK(first->meshes[0].triangles.size() == 3);
  CHECK(area(first->meshes[0]) == Approx(2.5));
}

TEST_CASE("what is written comes back as it stood, whatever its axes and unit") {
  Scene scene;
  Placement p;
  p.position = {12, -7, 3.5};
  p.rotation = {10, 20, 30};
  scene.add(part_of("A", cube(10), p));
  scene.add(part_of("Part #7 \\", cube(4)));
  const Box was = world_box_of(scene);
  for (const UpAxis up : {UpAxis::Y, UpAxis::Z})
    for (const double unit : {1.0, 25.4, 1000.0, 0.001}) {
      const ExportOptions options{unit, up};
      const std::pair<const char*, Result<Bytes>> files[] = {{"a.obj", write_obj(scene, options)},
                                                             {"a.stl", write_stl(scene, options)},
                                                             {"a.ply", write_ply(scene, options)}};
      for (const auto& [name, bytes] : files) {
        INFO(name << ", unit " << unit);
        REQUIRE(bytes);
        const auto back = read_delivery(*bytes, name, {});
        REQUIRE(back);
        const Box is = world_box_of(document_of(*back)->scene);
        CHECK(distance(was.low, is.low) + distance(was.high, is.high) < 1e-5);
        // What is said when reading counts.
        ImportOptions other;
        other.unit = unit * 2;
        const auto twice = read_delivery(*bytes, name, other);
        CHECK(world_box_of(document_of(*twice)->scene).size().z == Approx(2 * was.size().z).epsilon(1e-5));
      }
    }
  CHECK(axes_in_comment("# " + axes_comment({25.4, UpAxis::Y}))->unit == 25.4);
  CHECK_FALSE(axes_in_comment("# Tack Point: X up, 1 unit = 1 mm"));
  CHECK(read_delivery(*write_obj(scene, {}), "a.obj", {})->parts.size() == 2);
}

TEST_CASE("a text STL of very many small solids costs no more than it says") {
  // Each with a name of its own, but for every tenth, which is one part with the first of them.
  constexpr int kSolids = 30'000;
  std::string text;
  for (int i = 0; i < kSolids; ++i) {
    const std::string name = i % 10 == 0 ? "Stud" : fmt::format("Stud {}", i);
    text += fmt::format(
        "solid {}\nfacet normal 0 0 1\nouter loop\nvertex {} 0 0\nvertex {} 1 0\nvertex {} 0 1\n"
        "endloop\nendfacet\nendsolid {}\n",
        name, i, i, i, name);
  }
  const Folder folder;
  std::ofstream(folder / "studs.stl") << text;
  // In the helper, whose memory is bounded by what the file is.
  const auto delivery = import_file(folder / "studs.stl", {});
  REQUIRE(delivery);
  REQUIRE(delivery->parts.size() == kSolids - kSolids / 10 + 1);
  CHECK(delivery->parts[0].name == "Stud");
  CHECK(delivery->meshes[0].triangles.size() == kSolids / 10);
  CHECK(delivery->meshes[1].positions[0] == Vec3{1, 0, 0});
}

TEST_CASE("names of a kilobyte come through whole") {
  std::string name;
  for (int i = 0; i < 300; ++i) name += "über";
  Scene scene;
  scene.add(part_of(name, cube(10)));
  CHECK(read_back(*write_document(scene, {})).scene.part(1).name == name);
}

TEST_CASE("numbers of all lengths are read to the nearest double, also by the short way") {
  Chance chance(77);
  const auto same = [](const std::string& written) {
    std::string_view line = written;
    double value = 0;
    REQUIRE(take_number(line, value));
    const double nearest = std::strtod(written.c_str(), nullptr);
    INFO(written);
    CHECK(std::memcmp(&value, &nearest, sizeof value) == 0);
    // With more behind it, which is read eight characters at a time.
    const std::string more = written + (written.size() % 2 == 0 ? " 17.25 99999999 -3\n" : "\n0123456789 0123456789");
    std::string_view rest = more;
    REQUIRE(take_number(rest, value));
    CHECK(std::memcmp(&value, &nearest, sizeof value) == 0);
    CHECK(rest.size() == more.size() - written.size());
  };
  for (const char* written : {"0", "-0", "-0.0", "5.", ".5", "1e22", "1e23", "9007199254740993", "123456789012345678",
                              "0.1e-21", "1E+05", "4.35", "0.000001", "8.5e-5", "1e-400", "2.2250738585072011e-308"})
    same(written);
  for (int i = 0; i < 200000; ++i) {
    std::string written = chance.whole(0, 1) ? "-" : "";
    const int before = chance.whole(0, 12), after = chance.whole(before == 0 ? 1 : 0, 12);
    for (int k = 0; k < before; ++k) written += static_cast<char>('0' + chance.whole(0, 9));
    if (after > 0) written += ".";
    for (int k = 0; k < after; ++k) written += static_cast<char>('0' + chance.whole(0, 9));
    if (before + after == 0) written += "7";
    if (chance.whole(0, 3) == 0) written += "e" + std::to_string(chance.whole(-30, 30));
    same(written);
  }
}
