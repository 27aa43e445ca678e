// The search outward from the pointer. For catch_scene.cpp alone; catch_scene.h is what others use.
#pragma once

#include <queue>

#include "core/catch/projection.h"
#include "core/catch/sight.h"

namespace tack {

/// A tack on its way to be chosen.
struct Candidate {
  Caught caught;
  Vec3 seen;  ///< the place that has to be visible: the tack's own, or that of the rim it is had by
};

/// Everything within the radius but faces and the grid, outward from the pointer: vertices, edges and centres come out
/// of the trees of the meshes by a lower bound of their score, so that candidates arrive sorted.
class OutwardSearch {
 public:
  /// With a `sight`, what it says is surely hidden is passed over.
  OutwardSearch(const CatchScene& scene, const View& view, double x, double y, const CatchOptions& options,
                const Sight* sight);

  /// Gives candidates by rising score until `visit` returns false.
  template <typename Visit>
  void run(Visit&& visit) {
    if (!scene_.tree.nodes.empty()) push_parts(0);
    while (!queue_.empty()) {
      const Entry entry = queue_.top();
      queue_.pop();
      if (entry.kind == Entry::Found) {
        if (!visit(found_[entry.index])) return;
      } else if (entry.kind == Entry::Vertex) {
        if (!visit(vertex_of(entry))) return;
      } else {
        expand(entry);
      }
    }
  }

 private:
  struct Entry {
    enum Kind : std::uint8_t {
      Found,      // a candidate
      Vertex,     // a vertex that is one, but has not been written out: most are never looked at
      BoxPoints,  // those of a part
      Parts,      // nodes of the scene's tree
      Vertices,   // nodes of the three trees of a mesh
      Edges,
      Centres
    };
    double bound;
    // Small, because the queue moves them about more than anything else is done. Room for 536 million vertices.
    Kind kind : 3;
    std::uint32_t index : 29;  // of a candidate, a vertex or a node
    std::uint32_t part;        // into near_
    bool operator<(const Entry& other) const { return bound > other.bound; }
  };
  struct NearPart {
    const CatchPart* part;
    PointerProjection projection;
    const Features* features;  // nullptr until they are found
    double loose = 0;          // what its vertices off all edges carry besides
  };
  struct SeenEdge {
    std::uint32_t part;  // into near_
    std::uint32_t edge;
    EdgeOnPicture picture;
    Vec3 a, b;  // world
  };

  void push_parts(std::uint32_t node);
  void add_part(const CatchPart& part);
  void add_box_points(const NearPart& near);
  void add_guide(const NearPart& near);
  void cross_guides(const NearPart& near);
  void cross_lines(const SeenEdge& edge);
  void offer(CatchKind kind, const NearPart& near, const TackAddress& address, const Vec3& local, double handicap);
  void push(const Candidate& candidate);
  Candidate vertex_of(const Entry& entry) const;
  void push_node(Entry::Kind kind, std::uint32_t slot, std::uint32_t node);
  double least_handicap(Entry::Kind kind, const NearPart& near) const;
  void expand(const Entry& entry);
  void add_vertex(std::uint32_t slot, std::uint32_t vertex);
  void add_edge(std::uint32_t slot, std::uint32_t edge);
  void add_centre(std::uint32_t slot, std::uint32_t item);
  void add_crossings(const SeenEdge& edge);
  void offer_crossing(const SeenEdge& edge, double way);
  void cross_faces(const SeenEdge& edge);
  bool several_loose() const;
  template <typename Test>
  bool any_item(const BoxTree& tree, const PointerProjection& projection, Test&& test) const;
  Caught caught_at(const TackAddress& address, const Vec3& point, double pixels, double handicap) const;

  const CatchScene& scene_;
  const View& view_;
  double x_, y_;
  const CatchOptions& options_;
  const Sight* sight_;
  PointerProjection whole_;  // of the world itself
  std::vector<NearPart> near_;
  std::vector<Candidate> found_;
  std::vector<SeenEdge> edges_;
  std::vector<std::pair<PartId, std::uint32_t>> rims_;  // round edges offered by their rim
  // Whether vertices off all edges carry the handicap of dense meshes; found out when the first part is met.
  std::optional<bool> several_;
  std::priority_queue<Entry> queue_;
};

}  // namespace tack
