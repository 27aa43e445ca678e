// A tack: a place caught on the scene. Every verb consumes tacks; measuring compares them.
#pragma once

#include <optional>
#include <string>

#include "core/scene/scene.h"

namespace tack {

/// A tack found in a scene, in world coordinates (mm).
struct Tack {
  TackAddress address;
  Vec3 point;
  std::optional<Vec3> direction;  ///< unit; pointing out of the matter
  std::optional<Vec3> roll;       ///< unit, across the direction
};

/// Reads the text form. Parts are found by find_by_path. Says what is wrong and which forms there are.
Result<TackAddress> parse_address(const Scene& scene, std::string_view text);
/// Reads an address without the part's name: `vertex 17`, `box 0.5,0.5,1`, `pivot`, `kept out`. Its part is kNoPart.
Result<TackAddress> parse_feature(std::string_view text);
std::string feature_text(const TackAddress& address);
/// Three numbers with commas between them, and back with every digit.
Result<Vec3> parse_triple(std::string_view text);
std::string triple_text(const Vec3& v);
/// Writes the text form; parse_address gives the same address back.
std::string address_text(const Scene& scene, const TackAddress& address);
/// In words for people: "vertex · Post 4", "centre of round edge · Funnel", "pivot · Lever", "point 1, 2, 3". The
/// centre of a circle that the part's placement makes an oval says so.
std::string tack_words(const Scene& scene, const TackAddress& address);
/// The kind alone in words: "vertex", "edge", "edge middle", "edge third", "edge quarter", "centre of round edge",
/// "axis of round face", "crossing", "guide", "kept out" (with its name), "box corner", "box edge middle", "box face
/// centre", "box centre", "pivot", "centre of mass", "grid point", "point".
std::string kind_words(const TackAddress& address);

/// Finds the tack: its point by one matrix product from the stored numbers (error about 1e-16 of the coordinates for
/// each level of nesting). Vertex: direction is the mean of the normals of the faces around it weighted by their angles
/// (Thürmer & Wüthrich 1998), roll the edge with the largest fold, made square to the direction. Edge: direction is the
/// mean of the normals of its faces, roll along it from the first vertex to the second; a crossing likewise. Face,
/// where it is flat: direction is its normal, roll along its longest border; where it is curved: the stored normals, or
/// those of the triangles of that face weighted by their angles, interpolated at the point, and roll along the
/// triangle's longest side. Face centre: the centroid of a flat face; a curved one has none, and it fails. Centre of a
/// round edge: direction along the circle's axis out of the matter (square to the plane of the circle where the part is
/// scaled unevenly), roll to the vertex that names it. Axis of a round face: direction along it. Box point: direction
/// away from the box's centre, roll along the box's x (y when that is parallel); a tree box is that of a part and
/// everything below it, along its own coordinates. Pivot: its z and x. Kept tack: as saved, its direction carried like
/// a normal and its roll along with the part. Guide: along a line, or the normal of a plane, and its x; a point has
/// neither. Centre of mass: a point only, see mass_centre(); of a group, that of
/// everything below it. Fails when the part or the feature is not there.
Result<Tack> find_tack(const Scene& scene, const TackAddress& address);

/// The frame that a tack gives (columns orthonormal, right-handed): z along its direction, x along its roll. Without a
/// roll x is the world axis least along z, made square to it; without a direction x is the roll alone; a tack with
/// neither has the world's.
Mat3 frame_of(const Tack& tack);

/// Places nearer than this touch (mm), until the artist says otherwise.
inline constexpr double kTouch = 0.01;

/// The largest gap that still counts as exact between two parts: 1e-9 × (extent of both + their distance from the
/// origin).
double exact_bound(const Scene& scene, const TackAddress& from, const TackAddress& to);

/// How large the features about a tack are (mm): for a vertex its shortest edge, for a place on an edge a quarter of
/// it, for the centre of a round edge its radius, for other places an eighth of the part's extent; never less than 0.1.
/// What a close-up of the tack should show.
double feature_size(const Scene& scene, const TackAddress& address);

}  // namespace tack
