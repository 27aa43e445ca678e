// A tack: a place caught on the scene. Every verb consumes tacks; measuring compares them.
#pragma once

#include <optional>
#include <string>

#include "core/scene/scene.h"

namespace tack {

enum class TackKind { Vertex, Edge, Face, FaceCentre, BoxPoint, WorldBoxPoint, TreeBoxPoint, Pivot, Mass, Point };

/// Names a tack so that it can be found again after its part moved. Its text form is the same everywhere:
/// `"Post 4" vertex 17` · `"Post 4" edge 12-13 at 0.5` · `"Post 4" face 5 at
/// 0.2,0.3` · `"Post 4" face-centre 5` · `"Post 4" box 0.5,0.5,1` · `"Post 4" world-box 0,0,0` ·
/// `"Lift" tree-box 0,0,0` · `"Post 4" pivot` · `"Post 4" mass` · `point 1,2,3`.
struct TackAddress {
  TackKind kind = TackKind::Point;
  PartId part = kNoPart;  ///< kNoPart for Point
  /// Vertex, Edge: the mesh's own vertex number, from 0, before any welding. Face, FaceCentre: a triangle's number.
  std::uint32_t index = 0;
  Vec3 parameter;  ///< fractions of a box; Edge: x is the fraction of the way; Face: x, y are
                   ///< the ways from the triangle's first corner to its second and third; Point: world position in mm
  std::uint32_t second = 0;  ///< Edge: the vertex at its other end

  friend bool operator==(const TackAddress&, const TackAddress&) = default;
};

/// A tack found in a scene, in world coordinates (mm).
struct Tack {
  TackAddress address;
  Vec3 point;
  std::optional<Vec3> direction;  ///< unit; pointing out of the matter
  std::optional<Vec3> roll;       ///< unit, across the direction
};

/// Reads the text form. Parts are found by find_by_path. Says what is wrong and which forms there are.
Result<TackAddress> parse_address(const Scene& scene, std::string_view text);
/// Reads an address without the part's name: `vertex 17`, `box 0.5,0.5,1`, `pivot`. Its part is kNoPart.
Result<TackAddress> parse_feature(std::string_view text);
std::string feature_text(const TackAddress& address);
/// Three numbers with commas between them, and back with every digit.
Result<Vec3> parse_triple(std::string_view text);
std::string triple_text(const Vec3& v);
/// Writes the text form; parse_address gives the same address back.
std::string address_text(const Scene& scene, const TackAddress& address);
/// In words for people: "vertex · Post 4", "top front right corner of the box · Funnel", "pivot · Lever", "point 1, 2,
/// 3".
std::string tack_words(const Scene& scene, const TackAddress& address);
/// The kind alone in words: "vertex", "edge", "edge middle", "box corner", "box edge middle", "box face centre", "box
/// centre", "pivot", "centre of mass", "point".
std::string kind_words(const TackAddress& address);

/// Finds the tack: its point by one matrix product from the stored numbers (error about 1e-16 of the coordinates for
/// each level of nesting). Vertex: direction is the mean of the normals of the faces around it weighted by their angles
/// (Thürmer & Wüthrich 1998), roll the edge with the largest fold, made square to the direction. Edge: direction is the
/// mean of the normals of its faces, roll along it from the first vertex to the second. Face: direction is the normal
/// of the flat region the triangle is in, roll along that region's longest border. Face centre: the region's centroid
/// by area. Box point: direction away from the box's centre, roll along the box's x (y when that is parallel); a tree
/// box is that of a part and everything below it, along its own coordinates. Pivot: its z and x. Centre of mass: a
/// point only, see mass_centre(); of a group, that of everything below it. Fails when the part or the feature is not
/// there.
Result<Tack> find_tack(const Scene& scene, const TackAddress& address);

/// How large the features about a tack are (mm): for a vertex its shortest edge, for other places an eighth of the
/// part's extent; never less than 0.1. What a close-up of the tack should show.
double feature_size(const Scene& scene, const TackAddress& address);

}  // namespace tack
