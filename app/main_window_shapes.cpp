// Live shapes and bands in the Part menu; declared in main_window.h.
#include <QMenu>

#include "app/main_window.h"
#include "app/text.h"

namespace tack {

// Vertices, edges and faces: what is picked, what is taken with them, what is done to them beyond placing.
void MainWindow::add_element_entries(QMenu& part, const AddEntry& add) {
  QMenu* menu = part.addMenu("Vertices, edges and faces");
  const auto picks = [&](const QString& text, PickOf of) {
    add(menu, text, {}, [this, of](bool) { bench_->draft().pick_elements(of); });
  };
  picks("Pick vertices", PickOf::Vertices);
  picks("Pick edges", PickOf::Edges);
  picks("Pick faces", PickOf::Faces);
  picks("Pick parts again", PickOf::Parts);
  menu->addSeparator();
  const auto rings = [&](const QString& text, Drafting::Ring ring) {
    add(menu, text, {}, [this, ring](bool) { bench_->draft().change_taken(ring); });
  };
  rings("One ring more", Drafting::Ring::More);
  rings("One ring less", Drafting::Ring::Less);
  rings("All that is connected", Drafting::Ring::Connected);
  rings("All the others", Drafting::Ring::Others);
  menu->addSeparator();
  const auto does = [&](const QString& text, const Verb& verb) {
    add(menu, text, {}, [this, verb](bool) {
      const auto patches = bench_->draft().picked_patches();
      if (patches.empty()) return store_.say("Take vertices, edges or faces first.", Tone::Wrong);
      bench_->offer(with_parts(verb, patches).value_or(verb));
    });
  };
  does("Push out", Push{});
  does("Smooth", Smooth{});
  does("Slide edges", SlideEdges{});
  menu->addSeparator();
  add(menu, "Smooth by brushing", {}, [this](bool) {
    bench_->draft().take_brush();
    stage_->setFocus();
  });
}

void MainWindow::add_shape_entries(QMenu& part, const AddEntry& add) {
  add_element_entries(part, add);
  add(&part, "Keep a band", {}, [this](bool) {
    if (!store_.has_picked()) return;
    // Along the longest side of what is picked, where most parts grow.
    KeepBand keep;
    keep.what = store_.picked();
    const Vec3 size = own_size(store_.scene(), keep.what.front());
    for (int axis = 1; axis < 3; ++axis)
      if (size[axis] > size[keep.along]) keep.along = axis;
    bench_->offer(keep);
  });
  QMenu* forget = part.addMenu("Take a band off");
  connect(forget, &QMenu::aboutToShow, this, [this, forget] {
    forget->clear();
    std::vector<std::string> names;
    for (const PartId id : store_.picked())
      for (const KeptBand& kept : bands_of(store_.scene(), id))
        if (std::find(names.begin(), names.end(), kept.name) == names.end()) names.push_back(kept.name);
    for (const std::string& name : names)
      connect(forget->addAction(label_of(name).replace('&', "&&")), &QAction::triggered, this, [this, name] {
        std::vector<PartId> having;
        for (const PartId id : store_.picked())
          for (const KeptBand& kept : bands_of(store_.scene(), id))
            if (kept.name == name) having.push_back(id);
        store_.perform(ForgetBand{having, name});
      });
    if (names.empty()) forget->addAction("None on the picked part")->setEnabled(false);
  });
  add(&part, "Make it a plain mesh", {}, [this](bool) {
    if (store_.has_picked()) store_.perform(MakeMesh{store_.picked()});
  });
  part.addSeparator();
}

}  // namespace tack
