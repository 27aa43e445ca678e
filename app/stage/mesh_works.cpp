#include "app/stage/mesh_works.h"

#include <QThreadPool>
#include <algorithm>
#include <utility>

namespace tack {

MeshWorks::MeshWorks(QObject* parent) : QObject(parent) {}

MeshWorks::~MeshWorks() {
  stop_ = true;
  QThreadPool::globalInstance()->waitForDone();
}

void MeshWorks::want(const Scene& scene) {
  std::vector<MeshPtr> fresh;
  std::set<const Mesh*> seen;
  for (const PartId id : scene.in_tree_order()) {
    const MeshPtr& mesh = scene.part(id).mesh;
    if (!mesh) continue;
    seen.insert(mesh.get());
    if (asked_.insert(mesh.get()).second) fresh.push_back(mesh);
  }
  // A mesh that left the scene may be asked for again under the same address.
  std::erase_if(asked_, [&](const Mesh* m) { return !seen.contains(m); });
  if (fresh.empty()) return;
  waiting_ += static_cast<int>(fresh.size());
  ++indexing_;
  // Small meshes first and in one go: the picture is there at once, the heavy ones follow.
  std::sort(fresh.begin(), fresh.end(),
            [](const MeshPtr& a, const MeshPtr& b) { return a->triangles().size() < b->triangles().size(); });
  QThreadPool::globalInstance()->start([this, fresh] {
    constexpr std::size_t kHeavy = 100'000;  // triangles: shown before its coarser levels are there
    std::size_t since = 0;
    std::vector<Ready> later;
    const auto hand_on = [&](Ready ready, bool now) {
      {
        const std::lock_guard lock(mutex_);
        done_.push_back(std::move(ready));
      }
      if (now) QMetaObject::invokeMethod(this, &MeshWorks::ready, Qt::QueuedConnection);
    };
    for (std::size_t i = 0; i < fresh.size() && !stop_; ++i) {
      const std::size_t triangles = fresh[i]->triangles().size();
      Ready ready{fresh[i], make_mesh_arrays(*fresh[i])};
      if (triangles < kHeavy)
        add_levels(*ready.mesh, ready.arrays);
      else
        ++waiting_, later.push_back(ready);
      since += triangles;
      const bool now = since > 50000 || i + 1 == fresh.size();
      hand_on(std::move(ready), now);
      --waiting_;
      if (now) since = 0;
    }
    for (std::size_t i = 0; i < fresh.size() && !stop_; ++i)
      fresh[i]->index(), fresh[i]->mass(), fresh[i]->evident_bands();
    --indexing_;
    if (!stop_) QMetaObject::invokeMethod(this, &MeshWorks::settled, Qt::QueuedConnection);
    for (Ready& ready : later) {
      if (stop_) break;
      add_levels(*ready.mesh, ready.arrays);
      if (ready.arrays.levels.size() > 1) hand_on(std::move(ready), true);
      ready = {};
      --waiting_;
    }
  });
}

bool MeshWorks::knows_neighbours(const MeshPtr& mesh) {
  constexpr std::size_t kAtOnce = 60'000;  // triangles: some 30 ms
  if (mesh->triangles().size() <= kAtOnce) return true;
  const std::lock_guard lock(mutex_);
  if (neighbours_known_.contains(mesh->number())) return true;
  if (!neighbours_asked_.insert(mesh->number()).second) return false;
  ++indexing_;
  QThreadPool::globalInstance()->start([this, mesh] {
    if (!stop_) mesh->neighbours(), mesh->features();
    {
      const std::lock_guard known(mutex_);
      neighbours_known_.insert(mesh->number());
    }
    --indexing_;
    if (!stop_) QMetaObject::invokeMethod(this, &MeshWorks::settled, Qt::QueuedConnection);
  });
  return false;
}

bool MeshWorks::has_ready() const {
  const std::lock_guard lock(mutex_);
  return !done_.empty();
}

std::vector<MeshWorks::Ready> MeshWorks::take() {
  const std::lock_guard lock(mutex_);
  return std::exchange(done_, {});
}

}  // namespace tack
