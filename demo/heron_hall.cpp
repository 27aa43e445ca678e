#include "demo/heron_hall.h"

#include <fmt/format.h>

#include "core/files/document.h"
#include "core/files/steps.h"
#include "core/math/degrees.h"
#include "demo/shapes.h"

namespace tack::demo {
namespace {

constexpr Colour kWood{0.863f, 0.773f, 0.627f, 1}, kTeal{0.576f, 0.741f, 0.741f, 1}, kCoral{0.867f, 0.584f, 0.498f, 1},
    kBrass{0.906f, 0.796f, 0.494f, 1}, kSteel{0.725f, 0.761f, 0.776f, 1}, kGlass{0.93f, 0.92f, 0.88f, 1};

// What they are called in the document.
const std::pair<const char*, Colour> kNamed[] = {{"Maple", kWood},  {"Lagoon", kTeal}, {"Coral", kCoral},
                                                 {"Brass", kBrass}, {"Steel", kSteel}, {"Opal", kGlass}};

constexpr double kTop = 40;       // of the board
constexpr double kSlope = 4;      // degrees, of the channels
constexpr double kRun = 240;      // length of a long channel
constexpr double kPostTop = 262;  // of Post 1, above z = 0

MeshPtr mesh(MeshData data) { return *make_mesh(std::move(data)); }

// A channel's profile: 28 wide, 14 high, a groove of 17 for marbles of 16, its floor 3 thick.
const std::vector<Point2> kChannel{{-14, 0}, {14, 0}, {14, 14}, {8.5, 14}, {8.5, 3}, {-8.5, 3}, {-8.5, 14}, {-14, 14}};

struct Meshes {
  MeshPtr board = mesh(box({-600, -300, -18}, {600, 300, 0}));
  MeshPtr foot = mesh(lathe({{9, 0}, {14, 0}, {14, 6}, {5, 8}, {5, 20}}, 32));
  MeshPtr post = mesh(lathe({{17, 0}, {17, 6}, {6.5, 7}, {6.5, 186}, {11, 186}, {11, 200}}, 40));
  MeshPtr long_channel = mesh(extrude(kChannel, kRun));
  MeshPtr short_channel = mesh(extrude(kChannel, 120));
  MeshPtr left_curve = mesh(quarter_curve(kChannel, 90, 18, true));
  MeshPtr right_curve = mesh(quarter_curve(kChannel, 90, 18, false));
  MeshPtr ramp = mesh(box({0, -70, -8}, {230, 70, 0}));
  MeshPtr landing = mesh(box({0, 0, 0}, {110, 150, 70}));
  MeshPtr funnel = mesh(lathe({{13, 0}, {17, 0}, {17, 41}, {66, 84}, {62, 84}, {13, 42}}, 56, true));
  MeshPtr leg = mesh(box({-5, -5, 0}, {5, 5, 120}));
  MeshPtr basin = mesh(lathe({{0, 0}, {70, 0}, {78, 26}, {74, 26}, {66.5, 4}, {0, 4}}, 56));
  MeshPtr drum = mesh(lathe({{0, -35}, {84, -35}, {84, 35}, {0, 35}}, 72));
  MeshPtr stud = mesh(lathe({{7, 0}, {5.5, 14}}, 20));
  MeshPtr bearing = mesh(box({-14, -9, 0}, {14, 9, 128}));
  MeshPtr hub = mesh(lathe({{5, -34}, {12, -34}, {12, 34}, {5, 34}}, 32, true));
  MeshPtr paddle = mesh(box({10, -30, -2}, {72, 30, 2}));
  MeshPtr wheel_post = mesh(box({-9, -7, 0}, {9, 7, 120}));
  MeshPtr tower = mesh([] {
    MeshData m = box({-35, -35, 0}, {35, 35, 10});
    for (const double x : {-30.0, 24.0})
      for (const double y : {-30.0, 24.0}) add(m, box({x, y, 10}, {x + 6, y + 6, 300}));
    add(m, box({-35, -35, 300}, {35, 35, 308}));
    return m;
  }());
  MeshPtr carriage = mesh(box({-22, -22, 0}, {22, 22, 16}));
  MeshPtr scoop = mesh(lathe({{0, 0}, {16, 0}, {20, 20}, {17, 20}, {13.5, 3}, {0, 3}}, 36));
  MeshPtr lever = mesh([] {
    MeshData m = box({-40, -6, -4}, {110, 6, 4});
    add(m, box({-40, -14, 4}, {-12, 14, 12}));
    return m;
  }());
  MeshPtr fulcrum = mesh(extrude({{-16, 0}, {16, 0}, {0, 34}}, 20));
  MeshPtr tray_bottom = mesh(box({0, 0, 0}, {500, 120, 6}));
  MeshPtr tray_end = mesh(box({0, 0, 0}, {6, 120, 30}));
  MeshPtr tray_side = mesh(box({0, 0, 0}, {488, 6, 30}));
  MeshPtr tray_divider = mesh(box({0, 0, 0}, {4, 108, 30}));
  // A plate with a lip bent forward along its upper edge.
  MeshPtr baffle = mesh(extrude({{-12, 96}, {0, 96}, {0, 0}, {4, 0}, {4, 100}, {-12, 100}}, 200));
  MeshPtr marble = mesh(sphere(8, 32, 16));
};

Placement at(const Vec3& position, const Vec3& rotation = {}, const Vec3& scale = {1, 1, 1}, const Vec3& pivot = {}) {
  Placement p;
  p.position = position;
  p.rotation = rotation;
  p.scale = scale;
  p.pivot = pivot;
  return p;
}

class Builder {
 public:
  PartId group(const std::string& name, PartId parent = kNoPart, const Placement& placement = {}) {
    Part part;
    part.name = name;
    part.parent = parent;
    part.placement = placement;
    return scene.add(std::move(part));
  }
  PartId part(const std::string& name, PartId parent, const MeshPtr& m, const Colour& colour,
              const Placement& placement, const std::shared_ptr<const KeptTacks>& kept = nullptr) {
    Part p;
    p.kept = kept;
    p.name = name;
    p.parent = parent;
    p.mesh = m;
    p.colours = {colour};
    for (const auto& [word, named] : kNamed)
      if (named == colour) p.colour_names = std::make_shared<const std::vector<std::string>>(1, word);
    p.placement = placement;
    return scene.add(std::move(p));
  }
  Scene scene;
};

// The joints of a channel: the middle of its groove's floor at either end, looking out of it, upright.
std::shared_ptr<const KeptTacks> joints(const Vec3& out, const Vec3& out_direction) {
  const Vec3 up{0, 0, 1};
  return std::make_shared<const KeptTacks>(
      KeptTacks{{"in", {0, 0, 3}, Vec3{-1, 0, 0}, up}, {"out", out + up * 3, out_direction, up}});
}

// Where the channels' floor line runs: the in of channel n (from 0) on its slope.
Vec3 joint(int n) {
  const SinCos a = sin_cos_degrees(kSlope);
  return {-510 + n * kRun * a.cos, -90, kPostTop - n * kRun * a.sin};
}

void add_board(Builder& b, const Meshes& m) {
  b.part("Base board", kNoPart, m.board, kWood, at({0, 0, kTop}));
  const PartId feet = b.group("Levelling feet");
  const double heights[] = {22, 21.4, 22.6, 21.8};
  for (int i = 0; i < 4; ++i) {
    const double x = i % 2 == 0 ? -560 : 560, y = i < 2 ? -260 : 260;
    b.part(fmt::format("Foot {}", i + 1), feet, m.foot, kSteel,
           at({x, y, 22 - heights[i]}, {}, {1, 1, heights[i] / 20}));
  }
}

void add_posts(Builder& b, const Meshes& m) {
  const PartId posts = b.group("Posts");
  for (int i = 0; i < 4; ++i) {
    const Vec3 top = joint(i);
    // All are a little off: the fourth stands where it was put down.
    const Vec3 off = i == 3 ? Vec3{6, -9, 0} : Vec3{0.4 * i, 0, 0};
    b.part(fmt::format("Post {}", i + 1), posts, m.post, kWood,
           at({top.x + off.x, top.y + off.y, kTop}, {}, {1, 1, (top.z - kTop) / 200}));
  }
}

void add_channels(Builder& b, const Meshes& m) {
  const PartId channels = b.group("Channels");
  const auto straight = joints({kRun, 0, 0}, {1, 0, 0});
  for (int i = 0; i < 2; ++i) {
    const Vec3 gap = i == 0 ? Vec3{} : Vec3{0.4, 0, 0};
    b.part(fmt::format("Channel {}", i + 1), channels, m.long_channel, kTeal, at(joint(i) + gap, {0, kSlope, 0}),
           straight);
  }
  b.part("Channel 3", channels, m.long_channel, kCoral, at({60, -420, 0}, {0, 0, -24}), straight);
  b.part("Curve left", channels, m.left_curve, kTeal, at({-240, -470, 0}, {0, 0, 89.7}),
         joints({90, 90, 0}, {0, 1, 0}));
  b.part("Curve right", channels, m.right_curve, kTeal, at({-90, -500, 0}, {0, 0, 12}),
         joints({90, -90, 0}, {0, -1, 0}));
  b.part("Short channel", channels, m.short_channel, kCoral, at({-470, -440, 0}, {0, 0, 8}),
         joints({120, 0, 0}, {1, 0, 0}));
}

void add_drum(Builder& b, const Meshes& m) {
  const Vec3 axle{-190, 130, kTop + 128};
  const PartId drum = b.part("Drum", kNoPart, m.drum, kBrass, at(axle + Vec3{0, 0, 0.4}, {90, 0, 0}));
  for (int i = 0; i < 14; ++i) {
    const double angle = 360.0 / 14 * i;
    const SinCos a = sin_cos_degrees(angle);
    const double along = i % 2 == 0 ? -18 : 18;
    // The stud's own z points out of the drum: turned about Y by 90°, then about the drum's z.
    b.part(fmt::format("Stud {}", i + 1), drum, m.stud, kCoral, at({84 * a.cos, 84 * a.sin, along}, {0, 90, angle}));
  }
  b.part("Bearing front", kNoPart, m.bearing, kWood, at({axle.x, axle.y - 46, kTop}));
  b.part("Bearing back", kNoPart, m.bearing, kWood, at({axle.x, axle.y + 46, kTop}));
}

void add_wheel(Builder& b, const Meshes& m) {
  const Vec3 axle{70, 150, kTop + 112};
  const PartId hub = b.part("Hub", kNoPart, m.hub, kSteel, at(axle, {90, 0, 0}));
  for (int i = 0; i < 6; ++i)
    b.part(fmt::format("Paddle {}", i + 1), hub, m.paddle, kTeal, at({}, {90, 0, 60.0 * i + 15}));
  b.part("Wheel post front", kNoPart, m.wheel_post, kWood, at({axle.x, axle.y - 44, kTop}));
  b.part("Wheel post back", kNoPart, m.wheel_post, kWood, at({axle.x, axle.y + 44, kTop}));
}

void add_ramp(Builder& b, const Meshes& m) {
  b.part("Landing", kNoPart, m.landing, kWood, at({215, 75, kTop}));
  b.part("Ramp", kNoPart, m.ramp, kCoral, at({225, 150, kTop + 82}, {0, 7.5, 0}));
}

void add_funnel(Builder& b, const Meshes& m) {
  const Vec3 centre{440, -60, kTop + 78};
  const PartId stand = b.group("Funnel stand");
  for (int i = 0; i < 3; ++i) {
    const SinCos a = sin_cos_degrees(90.0 + 120.0 * i);
    b.part(fmt::format("Leg {}", i + 1), stand, m.leg, kWood, at({centre.x + 46 * a.cos, centre.y + 46 * a.sin, kTop}));
  }
  b.part("Funnel", kNoPart, m.funnel, kCoral, at(centre));
  b.part("Catch basin", kNoPart, m.basin, kSteel, at({centre.x + 35, centre.y - 40, kTop}));
}

void add_lift(Builder& b, const Meshes& m) {
  const PartId tower = b.part("Lift", kNoPart, m.tower, kWood, at({-520, 190, kTop}));
  // Unevenly scaled on purpose: what hangs below it has world numbers of its own.
  const PartId carriage = b.part("Carriage", tower, m.carriage, kSteel, at({0, 0, 150}, {0, 0, 0}, {1.2, 0.8, 1}));
  b.part("Scoop", carriage, m.scoop, kBrass, at({0, 0, 16}, {0, 0, 30}));
}

void add_lever(Builder& b, const Meshes& m) {
  b.part("Fulcrum", kNoPart, m.fulcrum, kSteel, at({290, -220, kTop}));
  b.part("Tipping lever", kNoPart, m.lever, kTeal, at({300, -220, kTop + 38}, {}, {1, 1, 1}, {0, 0, -4}));
}

void add_marbles(Builder& b, const Meshes& m) {
  const PartId marbles = b.group("Marbles");
  const SinCos a = sin_cos_degrees(kSlope);
  const double along[] = {60, 330, 420};
  for (int i = 0; i < 3; ++i) {
    // The centre 3 + 8 mm above the channels' underside, square to the slope.
    const Vec3 start = joint(0);
    const Vec3 p{start.x + along[i] * a.cos + 11 * a.sin, start.y, start.z - along[i] * a.sin + 11 * a.cos};
    b.part(fmt::format("Marble {}", i + 1), marbles, m.marble, kGlass, at(p));
  }
  b.part("Marble 4", marbles, m.marble, kGlass, at({330, -420, 8}));
}

// Bottom, four walls 6 mm thick and five dividers 4 mm thick, evenly apart.
void add_tray(Builder& b, const Meshes& m) {
  const PartId tray = b.group("Marble tray", kNoPart, at({-570, -285, kTop}));
  b.part("Bottom", tray, m.tray_bottom, kWood, at({}));
  b.part("Left wall", tray, m.tray_end, kTeal, at({0, 0, 6}));
  b.part("Right wall", tray, m.tray_end, kTeal, at({494, 0, 6}));
  b.part("Front wall", tray, m.tray_side, kTeal, at({6, 0, 6}));
  b.part("Back wall", tray, m.tray_side, kTeal, at({6, 114, 6}));
  for (int i = 1; i <= 5; ++i)
    b.part(fmt::format("Divider {}", i), tray, m.tray_divider, kCoral, at({6 + 488.0 * i / 6 - 2, 6, 6}));
}

void add_baffle(Builder& b, const Meshes& m) { b.part("Baffle", kNoPart, m.baffle, kSteel, at({-150, 84, kTop + 4})); }

}  // namespace

Scene heron_hall_parts() {
  const Meshes m;
  Builder b;
  add_board(b, m);
  add_posts(b, m);
  add_channels(b, m);
  add_drum(b, m);
  add_wheel(b, m);
  add_ramp(b, m);
  add_funnel(b, m);
  add_lift(b, m);
  add_lever(b, m);
  add_marbles(b, m);
  add_tray(b, m);
  add_baffle(b, m);
  std::vector<NamedColour> colours;
  for (const auto& [name, colour] : kNamed) colours.push_back({name, colour, {}, {}, {}});
  b.scene.set_colours(std::move(colours));
  return b.scene;
}

Result<Scene> heron_hall(const std::filesystem::path& folder) {
  const auto steps = heron_hall_steps(folder);
  if (!steps) return tl::unexpected(steps.error());
  return steps->scene();
}

Result<Journal> heron_hall_steps(const std::filesystem::path& folder) {
  const auto steps = read_steps(folder / "finish.json");
  if (!steps) return tl::unexpected(steps.error());
  const auto delivery = read_delivery(folder / "heron-hall-parts.glb", {});
  if (!delivery) return tl::unexpected(delivery.error());
  const auto parts = document_of(*delivery);
  if (!parts) return tl::unexpected(parts.error());
  Journal journal(parts->scene);
  for (const StepOutcome& outcome : run_steps(journal, *steps, folder))
    if (outcome.problem) return tl::unexpected(*outcome.problem);
  return journal;
}

MeshData sign_plate_inches() {
  // 12 × 3 × 1/4 inches with raised letters; upright in its own axes it leans by 13°.
  MeshData m = box({0, 0, -0.25}, {12, 3, 0});
  add(m, letters("HERON HALL", 1.35, 0.12), translation({0.55, 0.8, 0}));
  const Affine askew{rotation_about({0, 0, 1}, 13), {}};
  return moved(std::move(m), askew);
}

MeshData hook_rail_centimetres() {
  // Its outline from the front, along x: the outer side first, then back along the inner one.
  constexpr double kHalf = 30, kOuter = 1.8, kThick = 0.3, kStraight = kHalf - kOuter - 0.9;
  constexpr int kSteps = 20;  // of 10°, so that one of them is at the very end
  std::vector<Point2> outline;
  const auto arc = [&](double side, double radius, double from, double to) {
    for (int i = 0; i <= kSteps; ++i) {
      const SinCos a = sin_cos_degrees(from + (to - from) * i / kSteps);
      outline.push_back({side * (kHalf - kOuter + radius * a.cos), kOuter + radius * a.sin});
    }
  };
  outline.push_back({-kStraight, 0});
  outline.push_back({kStraight, 0});
  arc(1, kOuter, -90, 110);
  arc(1, kOuter - kThick, 110, -90);
  outline.push_back({kStraight, kThick});
  outline.push_back({-kStraight, kThick});
  arc(-1, kOuter - kThick, -90, 110);
  arc(-1, kOuter, 110, -90);
  const Mat3 along_x{{Vec3{0, -1, 0}, Vec3{1, 0, 0}, Vec3{0, 0, 1}}};
  return moved(extrude(outline, 1.6), {along_x, {}});
}

Scene big_scene(int parts, long long triangles) {
  Builder b;
  const double each = static_cast<double>(triangles) / parts;
  // A sphere of s segments and s / 2 rings has s² − 2 s triangles.
  const int segments = std::max(4, 2 * static_cast<int>(std::lround((1 + std::sqrt(1 + each)) / 2)));
  const MeshPtr ball = mesh(sphere(40, segments, segments / 2));
  const int side = static_cast<int>(std::ceil(std::cbrt(parts)));
  for (int i = 0; i < parts; ++i) {
    const int column = i % side, row = i / side % side, layer = i / side / side;
    const Vec3 place{100.0 * column, 100.0 * row, 100.0 * layer + 40};
    b.part(fmt::format("Ball {}", i + 1), kNoPart, ball,
           i % 3 == 0   ? kTeal
           : i % 3 == 1 ? kCoral
                        : kBrass,
           at(place, {10.0 * (i % 36), 7.0 * (i % 50), 3.0 * (i % 100)}));
  }
  return b.scene;
}

}  // namespace tack::demo
