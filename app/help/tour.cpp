#include "app/help/tour.h"

#include <QHBoxLayout>
#include <QSettings>

#include "app/theme.h"

namespace tack {
namespace {

constexpr int kTourSteps = 4;
constexpr const char *kMoves = "Channel 3", *kStays = "Channel 2";

struct TourWords {
  const char *title, *text;
};
constexpr TourWords kTourWords[kTourSteps] = {
    {"Catch",
     "Press T for Meet. Then point at the near end of Channel 3, without clicking: the place that would be caught is "
     "named, and the loupe shows it from two sides."},
    {"Meet",
     "Click “in”, the diamond at the end of Channel 3. Then click “out”, the diamond at the free end of Channel 2, up "
     "on the posts."},
    {"Prove",
     "The loupe says exact. Click “remember it as a tie” at the end of the sentence. Then look into Fit, beside Steps, "
     "and click the tie: from now on it is watched."},
    {"Correct",
     "Nothing is final. Click the meeting in Steps, click its gap in the sentence, type 2 mm and press Enter."},
};

TackAddress kept_place(PartId part, const char* name) {
  TackAddress place{TackKind::Kept, part, 0, {}};
  place.name = name;
  return place;
}

}  // namespace

Tour::Tour(Store& store, Workbench& bench, Stage& stage, QWidget* parent)
    : QFrame(parent),
      store_(store),
      bench_(bench),
      stage_(stage),
      number_(new QLabel(this)),
      text_(new QLabel(this)),
      yes_(new QPushButton(this)),
      no_(new QPushButton(this)) {
  setObjectName("tour");
  setAccessibleName("Tour");
  number_->setFont(ui_font(1, QFont::DemiBold));
  text_->setObjectName("tour text");
  text_->setWordWrap(true);
  text_->setMinimumWidth(200);
  yes_->setObjectName("tour yes");
  no_->setObjectName("tour no");
  for (QPushButton* b : {yes_, no_}) b->setFocusPolicy(Qt::TabFocus);
  auto* layout = new QHBoxLayout(this);
  layout->setContentsMargins(14, 8, 14, 8);
  layout->setSpacing(12);
  layout->addWidget(number_, 0, Qt::AlignTop);
  layout->addWidget(text_, 1);
  layout->addWidget(yes_);
  layout->addWidget(no_);
  hide();
  connect(no_, &QPushButton::clicked, this, &Tour::leave);
  connect(yes_, &QPushButton::clicked, this, [this] { step_ == 0 ? start() : leave(); });
  connect(&bench_, &Workbench::marks_changed, this, &Tour::look);
  connect(&bench_, &Workbench::ties_changed, this, &Tour::look);
  connect(&store_, &Store::started, this, [this] {
    // Another document than the demo ends it: its parts are gone.
    if (step_ > 0 && part(kMoves) == kNoPart) leave();
  });
}

bool Tour::is_new() { return !QSettings().value("tour/seen", false).toBool(); }

PartId Tour::part(const char* name) const { return find_by_path(store_.scene(), name).value_or(kNoPart); }

void Tour::offer() {
  QSettings().setValue("tour/seen", true);
  number_->setText("New here?");
  text_->setText(
      "Four steps on a marble run show how places are caught, brought together, proved and corrected. It takes about "
      "two minutes.");
  yes_->setText("Show me");
  yes_->show();
  no_->setText("Not now");
  show();
}

void Tour::start() {
  QSettings().setValue("tour/seen", true);
  const auto begin = [this] {
    met_.reset();
    step_ = 1;
    bench_.use(id_of<Pick>);
    show_step();
    look();
  };
  // Where they stand apart, and nothing has been done to the scene yet, it is the demo as it was delivered.
  const bool here = part(kMoves) != kNoPart && part(kStays) != kNoPart && store_.journal().record().steps.empty() &&
                    store_.scene().ties().empty();
  if (here || !open_demo) return begin();
  hide();
  open_demo(begin);
}

void Tour::leave() {
  step_ = 0;
  stage_.point_out({});
  hide();
  stage_.setFocus();
}

void Tour::show_step() {
  if (step_ > kTourSteps) {
    number_->setText("That is all.");
    text_->setText(
        "Catch, meet, prove, correct: every other verb works the same way. F1 has the guides, / finds whatever there "
        "is to do.");
    yes_->setText("Done");
    yes_->show();
    no_->hide();
    stage_.point_out({});
    return show();
  }
  const TourWords& words = kTourWords[step_ - 1];
  number_->setText(QString("%1 of %2 · %3").arg(step_).arg(kTourSteps).arg(words.title));
  text_->setText(QString::fromUtf8(words.text));
  yes_->hide();
  no_->setText("Leave the tour");
  no_->show();
  const TackAddress in = kept_place(part(kMoves), "in"), out = kept_place(part(kStays), "out");
  stage_.point_out(step_ == 1   ? std::vector<TackAddress>{in}
                   : step_ == 2 ? std::vector<TackAddress>{in, out}
                                : std::vector<TackAddress>{});
  if (step_ == 3) emit panel_wanted("Fit");
  if (step_ == 4) emit panel_wanted("Steps");
  show();
}

void Tour::look() {
  while (step_ >= 1 && step_ <= kTourSteps && is_done()) {
    ++step_;
    show_step();
  }
}

bool Tour::is_done() {
  const auto& steps = store_.journal().record().steps;
  const Drafting& draft = bench_.draft();
  switch (step_) {
    case 1:
      return draft.row() == id_of<Meet> && draft.look().caught && draft.look().caught->address.part == part(kMoves);
    case 2:
      if (steps.empty() || !std::holds_alternative<Meet>(steps.back()->verb)) return false;
      met_ = steps.back()->verb;
      met_step_ = steps.size() - 1;
      return true;
    case 3:
      if (met_step_ < steps.size()) met_ = steps[met_step_]->verb;
      return !store_.scene().ties().empty() && !bench_.looked_at_tie().empty();
    default: {
      if (met_step_ >= steps.size()) return false;
      const auto *now = std::get_if<Meet>(&steps[met_step_]->verb), *was = met_ ? std::get_if<Meet>(&*met_) : nullptr;
      return now && was && now->gap != was->gap;
    }
  }
}

}  // namespace tack
