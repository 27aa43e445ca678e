// Getting meshes ready to be drawn and caught on, away from the interface thread.
#pragma once

#include <QObject>
#include <QThreadPool>
#include <atomic>
#include <chrono>
#include <mutex>
#include <optional>
#include <set>
#include <vector>

#include "core/scene/scene.h"
#include "draw/mesh_arrays.h"

namespace tack {

class MeshWorks : public QObject {
  Q_OBJECT

 public:
  explicit MeshWorks(QObject* parent);
  ~MeshWorks() override;

  /// What a drag makes of a mesh that is too heavy to be made ready within a frame.
  struct Passing {
    MeshPtr mesh, base;         ///< the mesh, and the one that the drag began with
    std::vector<PartId> shown;  ///< the parts that have it in the drag
  };
  struct Ready {
    MeshPtr mesh;
    MeshArrays arrays;            ///< without levels where there is too little memory for them: it is drawn as a box
    bool finer = false;           ///< the mesh was ready before, and now has its coarser levels as well
    std::vector<PartId> passing;  ///< parts that have it in a drag, which may be further by now
  };
  /// Starts work on the scene's meshes that nobody has asked for yet, on all processors.
  void want(const Scene& scene);
  /// Bytes that making a mesh ready takes at most at once, by measuring: features, arrays and levels.
  static std::size_t needed_for(const Mesh& mesh);
  /// What was ready is not any more, such as boxes for want of memory: it is made again when it is wanted next.
  void forget(const Mesh& mesh) { forgot_ = asked_.erase(&mesh) > 0 || forgot_; }
  void forget_all() { forgot_ = true, asked_.clear(); }
  /// Makes ready what a drag shows: the newest that was wanted each time, when the one before is done.
  void want_passing(Passing passing);
  /// Whether it is known what is next to what on a mesh; of a large one it is found in the background from the first
  /// question on, and settled() says when.
  bool knows_neighbours(const MeshPtr& mesh);
  /// What has become ready since the last call.
  std::vector<Ready> take();
  /// How many meshes cannot be drawn yet.
  int waiting() const { return waiting_; }
  /// How many can be drawn, but have no coarser levels yet.
  int refining() const { return refining_; }
  /// How many still lack what catching is quick with; what is next to what counts, too.
  int indexing() const { return indexing_; }
  bool has_ready() const;

 signals:
  void ready();    ///< on the interface thread, a few times a second
  void settled();  ///< the same, when what was wanted can be caught on and measured in every way

 private:
  struct Load;
  void work_on(Load& load);
  // One less of `of` is to come; what has become of it is taken over where there is something to draw.
  void done_with(std::atomic<int>& of, std::optional<Ready> ready);

  QThreadPool pool_;  // of its own: files are read and saved meanwhile
  std::set<const Mesh*> asked_;
  Scene wanted_;  // whose meshes they are
  bool forgot_ = false;
  std::set<std::uint64_t> neighbours_asked_, neighbours_known_;  // by the meshes' numbers
  mutable std::mutex mutex_;
  std::vector<Ready> done_;
  std::optional<Passing> next_passing_;
  bool passing_ = false;                        // one is being made ready
  std::chrono::steady_clock::time_point told_;  // when ready() was sent last
  std::atomic<bool> stop_{false};
  std::atomic<int> waiting_{0}, refining_{0}, indexing_{0};
};

}  // namespace tack
