#include "app/stage/mesh_works.h"

#include <algorithm>
#include <utility>

#include "app/memory.h"

namespace tack {
namespace {

constexpr std::size_t kHeavy = 100'000;  // triangles: shown before its coarser levels are there

// Whether so much may be taken. What is left is looked up for every few megabytes.
bool may_take(std::size_t bytes) {
  constexpr std::size_t kUnseen = std::size_t{4} << 20;
  static thread_local std::size_t since = kUnseen;
  if ((since += bytes) <= kUnseen) return true;
  if (memory_left() < bytes + kMemoryReserve) return false;
  since = 0;
  return true;
}

// What works have used lies free in many pieces, and would add up to more than what they leave.
void have_taken(std::size_t bytes) {
  constexpr std::size_t kBetween = std::size_t{24} << 20;
  static std::atomic<std::size_t> since{0};
  if ((since += bytes) <= kBetween) return;
  since = 0;
  give_back_memory();
}

// Runs it unless it takes more than is left, or finds no memory nevertheless.
template <typename Work>
bool with_memory(std::size_t bytes, const Work& work) {
  if (!may_take(bytes)) return false;
  try {
    work();
  } catch (const std::bad_alloc&) {
    return false;
  }
  have_taken(bytes);
  return true;
}

std::size_t size_of(const Mesh& mesh) { return mesh.triangles().size() + mesh.positions().size(); }

}  // namespace

// Meshes that are wanted together. Several threads take the next of each list in turn.
struct MeshWorks::Load {
  std::vector<MeshPtr> meshes;  // small ones first: most of the picture is there at once
  std::atomic<std::size_t> next_arrays{0}, next_index{0}, without_index{0};
  std::mutex mutex;
  std::vector<Ready> heavy;  // whose levels are still to be made
};

MeshWorks::MeshWorks(QObject* parent) : QObject(parent) {}

MeshWorks::~MeshWorks() {
  stop_ = true;
  pool_.waitForDone();
}

void MeshWorks::want(const Scene& scene) {
  // Most steps change no mesh.
  const auto mesh_in = [](const Scene& in, PartId id) {
    const Part* part = in.find(id);
    return part ? part->mesh.get() : nullptr;
  };
  const std::vector<PartId> unlike = scene.unlike(wanted_);
  const bool same = !std::exchange(forgot_, false) && std::none_of(unlike.begin(), unlike.end(), [&](PartId id) {
    return mesh_in(scene, id) != mesh_in(wanted_, id);
  });
  wanted_ = scene;
  if (same) return;
  const auto load = std::make_shared<Load>();
  std::set<const Mesh*> seen;
  for (const PartId id : scene.in_tree_order()) {
    const MeshPtr& mesh = scene.part(id).mesh;
    if (!mesh) continue;
    seen.insert(mesh.get());
    if (asked_.insert(mesh.get()).second) load->meshes.push_back(mesh);
  }
  // A mesh that left the scene may be asked for again under the same address.
  std::erase_if(asked_, [&](const Mesh* m) { return !seen.contains(m); });
  const auto count = static_cast<int>(load->meshes.size());
  if (count == 0) return;
  std::sort(load->meshes.begin(), load->meshes.end(),
            [](const MeshPtr& a, const MeshPtr& b) { return a->triangles().size() < b->triangles().size(); });
  waiting_ += count;
  indexing_ += count;
  load->without_index = load->meshes.size();
  const int threads = std::min(count, std::max(1, pool_.maxThreadCount()));
  for (int i = 0; i < threads; ++i) pool_.start([this, load] { work_on(*load); });
}

std::size_t MeshWorks::needed_for(const Mesh& mesh) { return 250 * size_of(mesh); }

void MeshWorks::work_on(Load& load) {
  const std::size_t count = load.meshes.size();
  for (std::size_t i = 0; !stop_ && (i = load.next_arrays++) < count;) {
    const MeshPtr& mesh = load.meshes[i];
    const bool heavy = mesh->triangles().size() >= kHeavy;
    Ready ready{mesh, {}}, later{mesh, {}, true};
    const bool made = with_memory(needed_for(*mesh), [&] {
      ready.arrays = make_mesh_arrays(*mesh);
      if (heavy)
        later.arrays = ready.arrays;
      else
        add_levels(*mesh, ready.arrays);
    });
    if (!made) ready.arrays = box_arrays(*mesh);
    const bool refines = made && heavy;
    refining_ += refines;
    done_with(waiting_, std::move(ready));
    // Not before: another thread might be done with the levels first.
    if (!refines) continue;
    const std::lock_guard lock(load.mutex);
    load.heavy.push_back(std::move(later));
  }
  for (std::size_t i = 0; !stop_ && (i = load.next_index++) < count;) {
    const Mesh& mesh = *load.meshes[i];
    with_memory(80 * size_of(mesh), [&] { mesh.index(), mesh.mass(), mesh.evident_bands(); });
    --indexing_;
    if (--load.without_index == 0 && !stop_) QMetaObject::invokeMethod(this, &MeshWorks::settled, Qt::QueuedConnection);
  }
  while (!stop_) {
    Ready ready;
    {
      const std::lock_guard lock(load.mutex);
      if (load.heavy.empty()) return;
      ready = std::move(load.heavy.back());
      load.heavy.pop_back();
    }
    const bool finer = with_memory(60 * size_of(*ready.mesh), [&] { add_levels(*ready.mesh, ready.arrays); }) &&
                       ready.arrays.levels.size() > 1;
    done_with(refining_, finer ? std::optional(std::move(ready)) : std::nullopt);
  }
}

// Each time ready() is sent a picture is drawn: not for each of a thousand meshes.
void MeshWorks::done_with(std::atomic<int>& of, std::optional<Ready> ready) {
  using Clock = std::chrono::steady_clock;
  constexpr auto kBetween = std::chrono::milliseconds(200);
  bool tell = false;
  {
    const std::lock_guard lock(mutex_);
    if (ready) done_.push_back(std::move(*ready));
    const auto now = Clock::now();
    tell = --of == 0 || now - told_ > kBetween;
    if (tell) told_ = now;
  }
  if (tell && !stop_) QMetaObject::invokeMethod(this, &MeshWorks::ready, Qt::QueuedConnection);
}

void MeshWorks::want_passing(Passing passing) {
  {
    const std::lock_guard lock(mutex_);
    next_passing_ = std::move(passing);
    if (std::exchange(passing_, true)) return;
  }
  pool_.start([this] {
    while (true) {
      Passing now;
      {
        const std::lock_guard lock(mutex_);
        passing_ = next_passing_ && !stop_;
        if (!passing_) return;
        now = std::move(*next_passing_);
        next_passing_.reset();
      }
      Ready ready{now.mesh, {}, false, now.shown};
      const bool made = with_memory(150 * size_of(*now.mesh), [&] {
        ready.arrays = make_passing_arrays(*now.mesh, *now.base);
        add_rough_level(ready.arrays);
      });
      if (!made) continue;
      {
        const std::lock_guard lock(mutex_);
        done_.push_back(std::move(ready));
      }
      if (!stop_) QMetaObject::invokeMethod(this, &MeshWorks::ready, Qt::QueuedConnection);
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
  pool_.start([this, mesh] {
    if (!stop_) with_memory(150 * size_of(*mesh), [&] { mesh->neighbours(), mesh->features(); });
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
