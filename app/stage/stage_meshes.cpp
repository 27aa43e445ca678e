// What the stage draws meshes from: getting it ready, giving it to the card, and doing with little memory; declared in
// stage.h.
#include "app/memory.h"
#include "app/stage/overlay.h"
#include "app/stage/stage.h"

namespace tack {
namespace {

constexpr int kSoon = 400;  // milliseconds: what is done sooner is not spoken of

}  // namespace

void Stage::want_meshes() {
  if (!boxed_.empty()) {
    std::set<const Mesh*> there;
    for (const PartId id : store_.scene().in_tree_order())
      if (const MeshPtr& mesh = store_.scene().part(id).mesh) there.insert(mesh.get());
    std::erase_if(boxed_, [&](const Mesh* mesh) { return !there.contains(mesh); });
    // There may be more room now.
    const std::size_t left = memory_left();
    for (const Mesh* mesh : boxed_)
      if (left > MeshWorks::needed_for(*mesh) + 2 * kMemoryReserve) works_.forget(*mesh);
  }
  works_.want(store_.scene());
  if (works_.indexing() == 0) return;
  since_wanted_.start();
  QTimer::singleShot(kSoon + 20, overlay_, qOverload<>(&QWidget::update));
}

// A few milliseconds at a time: what thousands of meshes are drawn from does not hold up what is typed meanwhile.
void Stage::upload_ready() {
  constexpr qint64 kMost = 8'000'000;  // nanoseconds
  constexpr qint64 kBetween = 250;     // milliseconds from one picture to the next
  if (!created_) return;
  for (MeshWorks::Ready& ready : works_.take()) uploads_.push_back(std::move(ready));
  if (uploads_.empty()) return;
  QElapsedTimer timer;
  timer.start();
  const std::size_t boxed_before = boxed_.size();
  std::size_t left = memory_left();
  makeCurrent();
  while (!uploads_.empty() && timer.nsecsElapsed() < kMost) {
    MeshWorks::Ready ready = std::move(uploads_.front());
    uploads_.pop_front();
    const std::size_t bytes = ready.arrays.bytes();
    const bool fits = left > bytes + kMemoryReserve;
    if (!fits && (ready.finer || !ready.passing.empty())) continue;
    if (!fits) ready.arrays = box_arrays(*ready.mesh);
    left -= fits ? bytes : 0;
    ready.arrays.levels.empty() ? void(boxed_.insert(ready.mesh.get())) : void(boxed_.erase(ready.mesh.get()));
    for (const PartId id : ready.passing) items_.drawn_with(id, ready.mesh);
    // The finished picture does not change by levels that are coarser.
    uploads_show_ = uploads_show_ || !ready.finer;
    renderer_.upload(ready.mesh, ready.arrays);
  }
  renderer_.drop_gone();
  doneCurrent();
  if (boxed_.size() > boxed_before)
    store_.say(QString("There is too little memory to draw everything: %1 shown as boxes. Close what is not needed.")
                   .arg(boxed_.size() == 1 ? "one mesh is" : QString("%1 meshes are").arg(boxed_.size())),
               Tone::Note);
  if (!uploads_.empty()) QTimer::singleShot(0, this, &Stage::upload_ready);
  overlay_->update();
  const bool passing = bench_.marks().shown != nullptr;
  if (!uploads_show_ || (!passing && !is_shown() && since_uploaded_.isValid() && since_uploaded_.elapsed() < kBetween))
    return;
  uploads_show_ = false;
  since_uploaded_.start();
  items_known_ = false;
  for (StripPicture& strip : pictures_) strip.items = 0;
  moved();
}

// Meshes that have only just been made, as a drag or a hovering pointer makes them with every move, are shown at once
// where that takes no longer than a frame; others come from the works, and so do all of a scene that has just been
// opened.
void Stage::upload_small(std::span<const DrawItem> items) {
  constexpr std::size_t kTogether = 40'000;  // triangles; about 10 ms
  constexpr int kOpening = 16;               // meshes
  if (works_.waiting() > kOpening || memory_ != Memory::Plenty) return;
  std::size_t sum = 0;
  for (const DrawItem& item : items) {
    const std::size_t triangles = item.mesh->triangles().size();
    if (triangles > kSmallMesh || renderer_.has(*item.mesh)) continue;
    if ((sum += triangles + 50) > kTogether) return;
    renderer_.upload(item.mesh, make_mesh_arrays(*item.mesh));
  }
  if (sum > 0) renderer_.drop_gone();
}

// Of parts whose meshes a drag makes anew, heavier than a frame's time takes, what it makes is shown as soon as it can
// be. Asked for once for each list of what is drawn.
void Stage::want_passing() {
  const std::vector<PartId> unready = std::exchange(unready_, {});
  const auto scene = bench_.marks().shown;
  if (!scene || compared_) return;
  for (const PartId id : unready) {
    const MeshPtr& mesh = scene->part(id).mesh;
    const Part* before = store_.scene().find(id);
    if (!before || !before->mesh) continue;
    MeshWorks::Passing passing{mesh, before->mesh, {}};
    for (const PartId other : unready)
      if (scene->part(other).mesh == mesh) passing.shown.push_back(other);
    return works_.want_passing(std::move(passing));
  }
}

bool Stage::look_for_memory() {
  const double pixels = width() * devicePixelRatioF() * height() * devicePixelRatioF();
  // What smoothing takes: colour and depth of each sample.
  const auto smooth = static_cast<std::size_t>(pixels) * 8 * (kStageSamples + 1);
  const std::size_t left = memory_left();
  const Memory now = left > kMemoryReserve + smooth ? Memory::Plenty
                     : left > kMemoryReserve / 2    ? Memory::Little
                                                    : Memory::None;
  if (now == memory_) return false;
  memory_ = now;
  if (memory_ == Memory::None)
    store_.say("There is too little memory left to draw. Save, and close what is not needed.", Tone::Note);
  overlay_->update();
  return true;
}

// What is not needed any more is given back; with little memory it is looked up again now and then whether there is
// more, also from other programs.
void Stage::tidy() {
  give_back_memory();
  if (memory_ == Memory::Plenty && boxed_.empty()) return;
  if (look_for_memory()) moved();
  want_meshes();
  tidy_.start();
}

QStringList Stage::notices() const {
  QStringList notices;
  const auto meshes = [](std::size_t n, const char* one, const char* many) {
    return n == 1 ? QString(one) : QString(many).arg(n);
  };
  if (memory_ == Memory::None) notices << "too little memory to draw";
  if (memory_ == Memory::Little) notices << "without smoothing: too little memory";
  if (!boxed_.empty())
    notices << meshes(boxed_.size(), "1 mesh as a box: too little memory", "%1 meshes as boxes: too little memory");
  if (!since_wanted_.isValid() || since_wanted_.elapsed() < kSoon) return notices;
  const auto waiting = static_cast<std::size_t>(works_.waiting()) + uploads_.size();
  if (waiting > 0) notices << meshes(waiting, "1 mesh is still to be drawn", "%1 meshes are still to be drawn");
  if (const auto finding = static_cast<std::size_t>(works_.indexing()); finding > 0)
    notices << meshes(finding, "edges and faces of 1 mesh are still being found",
                      "edges and faces of %1 meshes are still being found");
  return notices;
}

}  // namespace tack
