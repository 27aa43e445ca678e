#include "core/verbs/about.h"

#include <fmt/format.h>

#include <algorithm>
#include <nlohmann/json.hpp>

#include "core/math/split.h"
#include "core/mesh/extent.h"
#include "core/verbs/words.h"

namespace tack {
namespace {

// Includes the box of `id` and everything below it; `to_frame` leads from its parent's frame.
void include_tree(const Scene& scene, PartId id, const Affine& to_frame, Box& box,
                  const std::vector<PartId>& without = {}) {
  if (!without.empty() && std::binary_search(without.begin(), without.end(), id)) return;
  const Part& part = scene.part(id);
  const Affine here = to_frame * part.local;
  if (part.mesh) box.include(box_in_frame(*part.mesh, here));
  for (const PartId child : part.children) include_tree(scene, child, here, box, without);
}

Affine into(const Mat3& frame) { return {transpose(frame), {}}; }

std::string own_words(const TackAddress& place, bool several) {
  std::string words = kind_words(place);
  if (!several) return "its " + words;
  return "each its own " + words;
}

// Which side, edge or corner a box fraction names, in words: "bottom", "top left edge".
std::string side_words(const Vec3& f) {
  if (f == Vec3{0.5, 0.5, 0.5}) return "middle";
  if (f == Vec3{0.5, 0.5, 0}) return "bottom";
  if (f == Vec3{0.5, 0.5, 1}) return "top";
  if (f == Vec3{0, 0.5, 0.5}) return "low x side";
  if (f == Vec3{1, 0.5, 0.5}) return "high x side";
  if (f == Vec3{0.5, 0, 0.5}) return "low y side";
  if (f == Vec3{0.5, 1, 0.5}) return "high y side";
  return kind_words({TackKind::BoxPoint, kNoPart, 0, f}) +
         fmt::format(" at {}, {}, {}", show_number(f.x, 4).text, show_number(f.y, 4).text, show_number(f.z, 4).text);
}

}  // namespace

Box box_along(const Scene& scene, PartId part, const Mat3& frame, const std::vector<PartId>& without) {
  Box box;
  include_tree(scene, part, into(frame) * parent_world_of(scene, part), box, without);
  return box;
}

Result<Box> box_to_line_up(const Scene& scene, PartId part, const Mat3& frame, const std::vector<PartId>& without) {
  Box box = box_along(scene, part, frame, without);
  if (box.empty() && scene.part(part).guide != GuideKind::None)
    box.include(transpose(frame) * (world_of(scene, part) * scene.part(part).placement.pivot));
  if (box.empty()) return fail(fmt::format("\"{}\" is empty: it has no box.", scene.part(part).name));
  return box;
}

Box box_along(const Scene& scene, const std::vector<PartId>& parts, const Mat3& frame) {
  Box box;
  for (const PartId id : parts) box.include(box_along(scene, id, frame));
  return box;
}

Box own_box(const Scene& scene, PartId id) {
  const Part& part = scene.part(id);
  if (part.mesh) return part.mesh->box();
  Box box;
  for (const PartId child : part.children) include_tree(scene, child, {}, box);
  return box;
}

Result<Vec3> still_point(const About& about, const Scene& scene, PartId part, const std::vector<PartId>& parts,
                         const Axes& axes) {
  const auto empty = [&] { return fail(fmt::format("\"{}\" is empty: it has no box.", scene.part(part).name)); };
  switch (about.kind) {
    case About::Kind::Own:
    case About::Kind::Place: {
      TackAddress place = about.place;
      if (about.kind == About::Kind::Own) place.part = part;
      // A group has no box of its own, but what is in it has one.
      if (about.kind == About::Kind::Own && place.kind == TackKind::BoxPoint && !scene.part(part).mesh) {
        const Box box = own_box(scene, part);
        if (box.empty()) return empty();
        return world_of(scene, part) * box.at(place.parameter);
      }
      const auto tack = find_tack(scene, place);
      if (!tack) return tl::unexpected(tack.error());
      return tack->point;
    }
    case About::Kind::OwnBox: {
      if (axes.kind == AxesKind::Local) {
        const Box box = own_box(scene, part);
        if (box.empty()) return empty();
        return world_of(scene, part) * box.at(about.fraction);
      }
      const Mat3 frame = squared_up(axes_frame(scene, part, axes).linear);
      const Box box = box_along(scene, part, frame);
      if (box.empty()) return empty();
      return frame * box.at(about.fraction);
    }
    default: break;
  }
  // All parts share one box, so the axes must be the same for all: those of the first part where they are its own.
  const Mat3 frame = squared_up(axes_frame(scene, parts.front(), axes).linear);
  const Box box = box_along(scene, parts, frame);
  if (box.empty()) return empty();
  return frame * box.at(about.fraction);
}

Result<About> about_from_json(const Json& json, std::string_view key, const Scene& scene) {
  if (!json.is_string())
    return fail("This should name a place.", std::string(key),
                "Write an address such as \"\\\"Hub\\\" pivot\", or pivot, box 0.5,0.5,0, bottom or middle.");
  const std::string text = json.get<std::string>();
  if (text == "bottom") return bottom();
  if (text == "middle") return middle_of_all();
  for (const auto& [word, kind] : {std::pair{"axes-box ", About::Kind::OwnBox}, std::pair{"all ", About::Kind::AllBox}})
    if (text.starts_with(word)) {
      const auto fraction = parse_triple(std::string_view(text).substr(std::string_view(word).size()));
      if (!fraction) return fail(fraction.error().what, std::string(key), fraction.error().remedy);
      return About{kind, {TackKind::Pivot, kNoPart, 0, {}}, *fraction};
    }
  const bool own = text.find('"') != 0 && !text.starts_with("point");
  const auto address = own ? parse_feature(text) : parse_address(scene, text);
  if (!address) return fail(address.error().what, std::string(key), address.error().remedy);
  return About{own ? About::Kind::Own : About::Kind::Place, *address, {0.5, 0.5, 0.5}};
}

Json about_to_json(const About& about, const Scene& scene) {
  switch (about.kind) {
    case About::Kind::Own: return feature_text(about.place);
    case About::Kind::OwnBox: return "axes-box " + triple_text(about.fraction);
    case About::Kind::AllBox: return "all " + triple_text(about.fraction);
    default: return address_text(scene, about.place);
  }
}

std::string about_words(const About& about, const Scene& scene, const std::vector<PartId>& parts) {
  const bool several = parts.size() > 1;
  switch (about.kind) {
    case About::Kind::Own: return own_words(about.place, several);
    case About::Kind::OwnBox: return (several ? "each its own " : "the ") + side_words(about.fraction);
    case About::Kind::AllBox: return "the " + side_words(about.fraction) + " of all picked";
    default: return place_words(scene, about.place, several || parts.empty() ? kNoPart : parts.front());
  }
}

}  // namespace tack
