#include "core/files/replay.h"

#include <fmt/format.h>

#include <map>

#include "core/files/save_document.h"
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

class Again {
 public:
  Again(const DeliveredRecord& record, Scene start, const std::atomic<bool>* stop,
        const std::function<void(double)>& progress)
      : record_(record), start_(std::move(start)), stop_(stop), progress_(progress) {
    // The verbs hold on to what was brought in: once for all of them.
    for (std::size_t i = 1; i < record.scenes.size(); ++i)
      brought_.push_back(std::make_shared<const Delivery>(record.scenes[i]));
  }

  bool stopped() const { return stop_ && stop_->load(); }

  // With every step done, and those that are left out taken out of what is there then: a step that is about what one of
  // them made is found so. Or in turn, without them.
  Attempt done(bool everything) const {
    Attempt attempt{Journal(start_), 0, {}};
    std::vector<std::size_t> left_out;
    std::size_t n = 0;
    for (const Json& entry : record_.steps) {
      if (stopped()) return attempt;
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
      if (const auto added = attempt.journal.add(*verb); !added) attempt.journal.add_idle(*verb, false, added.error());
    }
    attempt.journal.leave_out(left_out, true);
    return attempt;
  }

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
    return number == 0 || number > brought_.size() ? nullptr : brought_[number - 1];
  }

  const DeliveredRecord& record_;
  Scene start_;
  const std::atomic<bool>* stop_;
  const std::function<void(double)>& progress_;
  std::vector<std::shared_ptr<const Delivery>> brought_;
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
              const std::function<void(double)>& progress) {
  if (!delivery.record || delivery.record->scenes.empty()) return;
  const auto lost = [&](const std::string& why) {
    document.notes.push_back(fmt::format("The steps that led to this document are not to be had: {}", why));
  };
  auto start = document_of(delivery.record->scenes.front(), document.scene);
  if (!start) return lost(sentence(start.error()));
  const Again again(*delivery.record, std::move(start->scene), stop, progress);
  std::string why;
  for (const bool everything : {true, false}) {
    Attempt attempt = again.done(everything);
    if (again.stopped()) return lost("doing them again was stopped. The file still has them.");
    why = difference(attempt.journal.scene(), document.scene);
    if (!why.empty() || (everything && attempt.lost > 0)) continue;
    if (attempt.lost > 0)
      document.notes.push_back(fmt::format("Of the steps that led to this document {} that did nothing {} gone: {}",
                                           attempt.lost, attempt.lost == 1 ? "is" : "are", attempt.why));
    document.scene = with_ids_of(attempt.journal.scene(), document.scene);
    attempt.journal.settle(document.scene);
    document.past = std::move(attempt.journal);
    return;
  }
  lost(fmt::format("done again, {}.", why));
}

}  // namespace tack
