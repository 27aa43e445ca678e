// What several tests need: seeded random scenes, and numbers that are printed at the end of a run.
#pragma once

#include <random>

#include "core/catch/tack.h"

namespace tack::test {

/// A generator with a fixed seed; every test that uses chance says its seed.
class Chance {
 public:
  explicit Chance(std::uint64_t seed) : engine_(seed) {}
  double between(double low, double high) { return std::uniform_real_distribution<double>(low, high)(engine_); }
  int whole(int low, int high) { return std::uniform_int_distribution<int>(low, high)(engine_); }
  Vec3 point(double reach) { return {between(-reach, reach), between(-reach, reach), between(-reach, reach)}; }
  /// A unit vector, evenly over the sphere.
  Vec3 direction();
  /// Turned, placed, unevenly scaled between 0.2 and 5, mirrored now and then.
  Placement placement(double reach, bool mirrors = true);

 private:
  std::mt19937_64 engine_;
};

MeshPtr cube(double side);                   ///< from the origin to (side, side, side); 8 vertices, 12 triangles
MeshPtr blob(Chance& chance, int vertices);  ///< random vertices, and triangles over them
Part part_of(const std::string& name, const MeshPtr& mesh, const Placement& placement = {}, PartId parent = kNoPart);

inline TackAddress vertex(PartId part, std::uint32_t index) { return {TackKind::Vertex, part, index, {}}; }
inline TackAddress point(const Vec3& at) { return {TackKind::Point, kNoPart, 0, at}; }
inline TackAddress kept_tack(PartId part, const std::string& name) {
  TackAddress address{TackKind::Kept, part, 0, {}};
  address.name = name;
  return address;
}
inline TackAddress box_point(PartId part, const Vec3& fraction) { return {TackKind::BoxPoint, part, 0, fraction}; }

/// Appends a line to numbers.txt in the build folder; ./run-tests prints it.
void note_number(const std::string& line);

/// A folder of its own for one test, removed with the object.
class Folder {
 public:
  Folder();
  ~Folder();
  std::string operator/(const std::string& name) const { return path_ + "/" + name; }
  const std::string& path() const { return path_; }

 private:
  std::string path_;
};

/// Whether this is the build with address checks.
#if defined(__SANITIZE_ADDRESS__)
inline constexpr bool kSanitized = true;
#elif defined(__has_feature)
inline constexpr bool kSanitized = __has_feature(address_sanitizer);
#else
inline constexpr bool kSanitized = false;
#endif

std::string source(const std::string& relative);  ///< a file of the repository

}  // namespace tack::test
