// The short list of the window: what there is to do at the pointer and elsewhere; declared in main_window.h.
#include <QMenu>
#include <QMenuBar>
#include <QPointer>

#include "app/main_window.h"
#include "app/pointer_list.h"
#include "app/text.h"

namespace tack {
namespace {

// The actions of a menu and of those in it, each with the way to it: "Part · Lay a guide · Point".
void collect(QMenu& menu, const QString& way, std::vector<PointerEntry>& entries) {
  for (QAction* action : menu.actions()) {
    if (action->isSeparator()) continue;
    const QString text = action->text().remove('&').section('\t', 0, 0);
    const QString here = way + " · " + text;
    if (QMenu* below = action->menu()) {
      emit below->aboutToShow();  // what is in it may depend on what is picked
      collect(*below, here, entries);
      continue;
    }
    if (!action->isEnabled()) continue;
    const QString key = action->shortcut().isEmpty() ? action->text().section('\t', 1)
                                                     : action->shortcut().toString(QKeySequence::NativeText);
    // Such a menu may be filled anew before the list is answered.
    const auto run = [action = QPointer<QAction>(action)] {
      if (action) action->trigger();
    };
    entries.push_back({here, key, here, run, false});
  }
}

}  // namespace

void MainWindow::open_list(QPointF stage_point) {
  bench_->leave_entry();
  const Stage::Under under = stage_->under(stage_point);
  const Scene& scene = store_.scene();
  std::vector<PointerEntry> entries;
  const auto here = [&](const QString& words, const QString& id, std::function<void()> run) {
    entries.push_back({words, {}, id, std::move(run), true});
  };
  QString title = "Nothing lies here.";
  if (under.place) {
    const Caught place = *under.place;
    const QString words = caught_words(scene, place.address, place.behind);
    title = words;
    // The verb with this place as its first: the second is clicked next.
    const auto from = [this, place](VerbId verb) {
      return [this, place, verb] {
        bench_->use(id_of<Pick>);
        bench_->use(verb);
        bench_->note_use();
        bench_->draft().press(place, {});
        stage_->setFocus();
      };
    };
    here("Bring this place to another", "here meet", from(id_of<Meet>));
    here("Measure from here", "here measure", from(id_of<Measure>));
    if (!store_.picked().empty()) {
      here("Put the pivot here", "here pivot",
           [this, place] { store_.perform(Pivot{.what = store_.picked(), .at = about_place(place.address)}); });
      const BlankId still = bench_->draft().still();
      if (still)
        here("Hold this place still", "here still", [this, place, still] {
          bench_->draft().wait_for(still, Click::Place);
          bench_->draft().press(place, {});
          stage_->setFocus();
        });
    }
    if (is_on_part(place.address))
      here("Keep a tack here", "here keep", [this, place] {
        bench_->begin(Keep{}, "at");
        bench_->draft().press(place, {});
      });
    here("Lay a guide point here", "here guide", [this, place] {
      store_.perform(AddGuide{GuideKind::Point, place.address, {}});
    });
    here("Lay a plane here and use it", "here plane",
         [this, place] { store_.perform(LayPlane{.way = LayPlane::Way::On, .at = place.address, .use = true}); });
  }
  if (scene.contains(under.part)) {
    const PartId id = under.part;
    const QString name = label_of(scene.part(id).name);
    if (!under.place) title = name;
    here("Pick " + name, "here pick", [this, id] { store_.pick({id}); });
    if (!store_.picked().empty() && !store_.is_picked(id))
      here("Pick " + name + " as well", "here pick too", [this, id] { store_.pick_one(id, true); });
    here("Frame " + name, "here frame", [this, id] {
      store_.pick({id});
      stage_->frame_picked();
    });
    here("Hide " + name, "here hide", [this, id] { store_.perform(Show{{id}, false}); });
    here((scene.part(id).locked ? "Unlock " : "Lock ") + name, "here lock", [this, id, locked = scene.part(id).locked] {
      store_.perform(Lock{{id}, !locked});
    });
  }
  for (const VerbFace& verb : verb_faces())
    entries.push_back({verb.name, keys_.of("verb " + verb.name).toString(QKeySequence::NativeText), "verb " + verb.name,
                       [this, id = verb.id()] {
                         bench_->use(id);
                         stage_->setFocus();
                       },
                       false});
  for (QAction* menu : menuWidget()->findChild<QMenuBar*>("menus")->actions())
    if (menu->menu()) collect(*menu->menu(), menu->text().remove('&'), entries);
  const QStringList axes = store_.axes_words();
  for (int i = 0; i < axes.size(); ++i)
    entries.push_back({"Axes · " + axes[i],
                       {},
                       "axes " + QString::number(i),
                       [this, i] {
                         if (const auto chosen = store_.axes_for(i)) store_.set_axes(*chosen);
                       },
                       false});
  const auto plane = [&](PartId id) {
    entries.push_back({"Plane in use · " + label_of(plane_words(scene, id)),
                       id == kNoPart ? keys_.of("world").toString(QKeySequence::NativeText) : QString(),
                       {},
                       [this, id] {
                         store_.use_plane(id);
                         stage_->setFocus();
                       },
                       false});
  };
  plane(kNoPart);
  for (const PartId id : planes_in(scene, 1000)) plane(id);
  for (const PartId id : scene.in_tree_order())
    entries.push_back({"Part · " + QString::fromStdString(path_of(scene, id)),
                       {},
                       {},
                       [this, id] {
                         store_.pick({id});
                         stage_->setFocus();
                       },
                       false});
  list_->open(stage_->mapToGlobal(stage_point.toPoint()), title, std::move(entries));
}

void MainWindow::reset_picked(bool position, bool rotation, bool factors) {
  if (!store_.has_picked()) return;
  Place place;
  place.what = store_.picked();
  place.axes = AxesKind::Parent;
  const auto all = [](double value) { return Amounts{Amount{value}, Amount{value}, Amount{value}}; };
  if (position) place.position = all(0);
  if (rotation) place.rotation = all(0);
  if (factors) place.scale = all(1);
  store_.perform(place);
}

}  // namespace tack
