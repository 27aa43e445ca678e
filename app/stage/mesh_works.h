// Getting meshes ready to be drawn and caught on, away from the interface thread.
#pragma once

#include <QObject>
#include <atomic>
#include <mutex>
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

  struct Ready {
    MeshPtr mesh;
    MeshArrays arrays;
  };
  /// Starts work on the scene's meshes that nobody has asked for yet.
  void want(const Scene& scene);
  /// Whether it is known what is next to what on a mesh; of a large one it is found in the background from the first
  /// question on, and settled() says when.
  bool knows_neighbours(const MeshPtr& mesh);
  /// What has become ready since the last call.
  std::vector<Ready> take();
  int waiting() const { return waiting_; }
  /// Whether meshes still lack what catching needs.
  bool indexing() const { return indexing_ > 0; }
  bool has_ready() const;

 signals:
  void ready();    ///< on the interface thread
  void settled();  ///< the same, when what was wanted can be caught on and measured in every way

 private:
  std::set<const Mesh*> asked_;
  std::set<std::uint64_t> neighbours_asked_, neighbours_known_;  // by the meshes' numbers
  mutable std::mutex mutex_;
  std::vector<Ready> done_;
  std::atomic<bool> stop_{false};
  std::atomic<int> waiting_{0}, indexing_{0};
};

}  // namespace tack
