#include "core/files/replay.h"

#include <fmt/format.h>

#include <map>
#include <unordered_set>

#include "core/files/outline.h"
#include "core/files/steps.h"
#include "core/verbs/patch.h"

namespace tack {
namespace {

bool is_left_out(const Json& entry) { return entry.is_object() && entry.contains(kLeftOut) && entry[kLeftOut] == true; }

// The entry as a steps file would have it.
Json without_ours(Json entry) {
  if (entry.is_object())
    for (const char* ours : {kLeftOut, kKeptScene}) entry.erase(ours);
  return entry;
}

struct Attempt {
  Journal journal;
  std::size_t lost = 0;  // steps that could not be read
  std::string why;       // of the first of those
};

// What doing steps again may make: a few words can ask for more than any memory holds. Ample for what was made by hand,
// whose meshes all stand in memory at once as well. How many parts there may be, every verb looks to.
class Room {
 public:
  Room(const Scene& start, const Scene& end, double least)
      : vertices_(std::max(least, 64 * (vertices_of(start) + vertices_of(end)))) {}

  // Whether what a step has made of a scene still has room.
  bool takes(const Scene& before, const Scene& after) {
    for (const PartId id : after.unlike(before)) {
      const Part *was = before.find(id), *is = after.find(id);
      if (is && is->mesh && (!was || was->mesh != is->mesh) && seen_.insert(is->mesh->number()).second)
        vertices_ -= static_cast<double>(is->mesh->positions().size());
    }
    return vertices_ >= 0;
  }

 private:
  static double vertices_of(const Scene& scene) {
    double count = 0;
    for (const PartId id : scene.in_tree_order())
      if (const MeshPtr& mesh = scene.part(id).mesh) count += static_cast<double>(mesh->positions().size());
    return count;
  }

  double vertices_;
  std::unordered_set<std::uint64_t> seen_;
};

class Again {
 public:
  Again(const DeliveredRecord& record, Scene start, const Scene& end, double vertices, const std::atomic<bool>* stop,
        const std::function<void(double)>& progress)
      : record_(record), start_(std::move(start)), end_(end), vertices_(vertices), stop_(stop), progress_(progress) {}

  bool stopped() const { return stop_ && stop_->load(); }

  // With every step done, and those that are left out taken out of what is there then: a step that is about what one of
  // them made is found so. Or in turn, without them. Fails when it is stopped, or has no room.
  Result<Attempt> done(bool everything) const {
    Attempt attempt{Journal(start_), 0, {}};
    Room room(start_, end_, vertices_);
    std::vector<std::size_t> left_out;
    std::size_t n = 0;
    for (const Json& entry : record_.steps) {
      if (stopped()) return fail("doing them again was stopped. The file still has them.");
      if (progress_) progress_(static_cast<double>(n++) / static_cast<double>(record_.steps.size()));
      auto verb = verb_of(entry, attempt.journal.scene());
      if (!verb) {
        if (attempt.lost++ == 0) attempt.why = sentence(verb.error());
        continue;
      }
      if (is_left_out(entry) && !everything) {
        attempt.journal.add_idle(*verb, true, std::nullopt);
        continue;
      }
      if (is_left_out(entry)) left_out.push_back(attempt.journal.record().steps.size());
      const Scene before = attempt.journal.scene();
      if (const auto added = attempt.journal.add(*verb); !added) attempt.journal.add_idle(*verb, false, added.error());
      if (!room.takes(before, attempt.journal.scene()))
        return fail("doing them again would take more memory than there is for it.");
    }
    attempt.journal.leave_out(left_out, true);
    return attempt;
  }

  bool leaves_out() const { return std::any_of(record_.steps.begin(), record_.steps.end(), is_left_out); }

 private:
  // No file is read because a document says so: what a step brought in is in the document.
  Result<Verb> verb_of(const Json& entry, const Scene& scene) const {
    const auto brought = brought_by(entry);
    if (!brought && entry.is_object() && entry.contains("verb") && entry["verb"] == "bring")
      return fail("What a step brought in is not in the document.");
    return verb_from_entry(without_ours(entry), scene, {}, brought);
  }

  std::shared_ptr<const Delivery> brought_by(const Json& entry) const {
    if (!entry.is_object() || !entry.contains(kKeptScene) || !entry[kKeptScene].is_number_unsigned()) return nullptr;
    const auto number = entry[kKeptScene].get<std::uint64_t>();
    return number == 0 || number >= record_.scenes.size() ? nullptr : record_.scenes[number];
  }

  const DeliveredRecord& record_;
  Scene start_;
  const Scene& end_;
  double vertices_;
  const std::atomic<bool>* stop_;
  const std::function<void(double)>& progress_;
};

bool stand_alike(const Mesh& a, const Mesh& b) {
  if (&a == &b) return true;
  const double near =
      1e-9 *
      (a.box().empty() ? 0 : a.box().extent() + largest_component(a.box().low) + largest_component(a.box().high));
  return std::equal(a.positions().begin(), a.positions().end(), b.positions().begin(), b.positions().end(),
                    [&](const Vec3& p, const Vec3& q) { return largest_component(p - q) <= near; }) &&
         std::equal(a.triangles().begin(), a.triangles().end(), b.triangles().begin(), b.triangles().end());
}

// What the scene that was done again has otherwise than the one in the document; empty when nothing.
std::string difference(const Scene& done, const Scene& read) {
  if (std::string words = difference_between(done, read); !words.empty()) return words;
  const std::vector<PartId> ours = without_patches(done).in_tree_order(), theirs = read.in_tree_order();
  for (std::size_t i = 0; i < ours.size(); ++i) {
    const Part &a = done.part(ours[i]), &b = read.part(theirs[i]);
    if (a.mesh && !stand_alike(*a.mesh, *b.mesh)) return fmt::format("the mesh of \"{}\" changed", a.name);
    if (a.hidden != b.hidden || a.locked != b.locked || a.guide != b.guide)
      return fmt::format("\"{}\" came back otherwise", a.name);
  }
  return {};
}

// The document's parts under the ids that the steps gave them.
Scene with_ids_of(const Scene& done, const Scene& read) {
  const std::vector<PartId> ours = without_patches(done).in_tree_order(), theirs = read.in_tree_order();
  std::map<PartId, PartId> here{{kNoPart, kNoPart}};
  for (std::size_t i = 0; i < ours.size(); ++i) here[theirs[i]] = ours[i];
  Scene scene = done;
  for (std::size_t i = 0; i < ours.size(); ++i) {
    Part part = read.part(theirs[i]);
    const Part& was = done.part(ours[i]);
    // What no file holds.
    part.had = was.had;
    if (was.quarters && was.quarters->now == part.placement.rotation) part.quarters = was.quarters;
    if (part.typed) {
      TypedNumbers typed = *part.typed;
      for (TypedGroup* group : {&typed.position, &typed.rotation, &typed.scale}) group->of = here.at(group->of);
      part.typed = std::make_shared<const TypedNumbers>(std::move(typed));
    }
    if (part.law) {
      GuideLaw law = *part.law;
      for (TackAddress& place : law.places) place.part = here.at(place.part);
      part.law = std::make_shared<const GuideLaw>(std::move(law));
    }
    if (part.skin) {
      auto skin = std::make_shared<Skin>(*part.skin);
      for (PartId& joint : skin->joints) joint = here.at(joint);
      part.skin = std::move(skin);
    }
    scene.replace(ours[i], std::move(part));
  }
  scene.set_carried(read.carried());
  scene.set_colours(read.colours());
  std::vector<Tie> ties = read.ties();
  for (Tie& tie : ties) each_part(tie, [&](PartId& part) { part = here.at(part); });
  scene.set_ties(std::move(ties));
  scene.use_plane(here.at(read.plane()));
  scene.set_ground_grid(read.ground_grid());
  scene.set_views(read.views());
  return scene;
}

}  // namespace

void do_again(const Delivery& delivery, Document& document, const std::atomic<bool>* stop,
              const std::function<void(double)>& progress, double vertices) {
  if (!delivery.record || delivery.record->scenes.empty()) return;
  const auto lost = [&](const std::string& why) {
    document.notes.push_back(fmt::format("The steps that led to this document are not to be had: {}", why));
  };
  auto start = document_of(*delivery.record->scenes.front(), document.scene);
  if (!start) return lost(sentence(start.error()));
  const Again again(*delivery.record, std::move(start->scene), document.scene, vertices, stop, progress);
  std::string why;
  for (const bool everything : {true, false}) {
    // Without a step that is left out both are the same.
    if (!everything && !again.leaves_out()) break;
    auto attempt = again.done(everything);
    if (!attempt) return lost(attempt.error().what);
    why = difference(attempt->journal.scene(), document.scene);
    const bool other_way = everything && attempt->lost > 0 && again.leaves_out();
    if (!why.empty() || other_way) continue;
    if (attempt->lost > 0)
      document.notes.push_back(fmt::format("Of the steps that led to this document {} that did nothing {} gone: {}",
                                           attempt->lost, attempt->lost == 1 ? "is" : "are", attempt->why));
    document.scene = with_ids_of(attempt->journal.scene(), document.scene);
    attempt->journal.settle(document.scene);
    document.past = std::move(attempt->journal);
    return;
  }
  lost(fmt::format("done again, {}.", why));
}

}  // namespace tack
