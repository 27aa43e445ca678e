#include "app/panels/steps_panel.h"

#include <QMenu>
#include <QTimer>
#include <QVBoxLayout>

#include "app/text.h"
#include "app/theme.h"
#include "app/workbench.h"
#include "core/verbs/brief.h"

namespace tack {

StepsPanel::StepsPanel(Store& store, Workbench& bench, QWidget* parent)
    : QWidget(parent), store_(store), bench_(bench), list_(new QListWidget(this)) {
  list_->setObjectName("steps");
  list_->setAccessibleName("Steps");
  list_->setToolTip("Click a step to open its sentence; untick it to leave it out");
  list_->setItemDelegate(
      new StepRows([this](int row) { return row_of(row); }, [this](int row) { return below(row); }, list_));
  list_->setMouseTracking(true);
  list_->setResizeMode(QListView::Adjust);
  list_->setFont(ui_font(0.95));
  list_->setFrameShape(QFrame::NoFrame);
  list_->setSelectionMode(QAbstractItemView::SingleSelection);
  list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  list_->setFocusPolicy(Qt::TabFocus);
  list_->setContextMenuPolicy(Qt::CustomContextMenu);
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(0);
  layout->addWidget(list_, 1);
  connect(&store_, &Store::scene_changed, this, &StepsPanel::refresh);
  connect(&bench_, &Workbench::marks_changed, this, &StepsPanel::show_open);
  // The list is made anew by what an item does, so that happens once its own event is over.
  connect(list_, &QListWidget::itemChanged, this, [this](QListWidgetItem* item) {
    if (filling_) return;
    const std::size_t step = step_of(*item);
    const bool out = item->checkState() == Qt::Unchecked;
    QTimer::singleShot(0, this, [this, step, out] { store_.leave_out(step, out); });
  });
  const auto reopen = [this](QListWidgetItem* item) {
    const std::size_t step = step_of(*item);
    QTimer::singleShot(0, this, [this, step] {
      const Record& record = store_.journal().record();
      if (step >= record.steps.size()) return;
      if (record.steps[step]->problem)
        store_.say(*record.steps[step]->problem);
      else
        bench_.reopen(step);
    });
  };
  connect(list_, &QListWidget::itemClicked, this, reopen);
  connect(list_, &QListWidget::itemActivated, this, reopen);
  connect(list_, &QWidget::customContextMenuRequested, this, &StepsPanel::show_menu);
  refresh();
}

std::size_t StepsPanel::step_of(const QListWidgetItem& item) const { return item.data(Qt::UserRole).toULongLong(); }

// The step of a row; null for the words of an empty list.
const Step* StepsPanel::step_at(int row) const {
  const QListWidgetItem* item = list_->item(row);
  const auto& steps = store_.journal().record().steps;
  const bool is_step = item && item->data(Qt::UserRole).isValid() && step_of(*item) < steps.size();
  return is_step ? steps[step_of(*item)].get() : nullptr;
}

StepRow StepsPanel::row_of(int row) const {
  const Step* step = step_at(row);
  const QListWidgetItem* item = list_->item(row);
  StepRow shown;
  shown.ink = theme().soft;
  if (!step) {
    shown.what = item ? item->text() : QString();
    return shown;
  }
  const std::size_t number = step_of(*item);
  const Brief brief = brief_of(*step, store_.journal().record().before(number));
  shown.number = QString::number(number + 1);
  shown.icon = QString::fromUtf8(key_of(step->verb).data(), static_cast<int>(key_of(step->verb).size()));
  shown.what = label_of(brief.what);
  shown.to = label_of(brief.to);
  shown.value = label_of(brief.value);
  if (!step->left_out) shown.ink = step->problem ? theme().wrong : theme().ink;
  shown.open = open_ == number;
  return shown;
}

StepBelow StepsPanel::below(int row) const {
  const Step* step = step_at(row);
  if (!step) return {};
  if (step->problem)
    return {QString("No longer: %1").arg(QString::fromStdString(sentence(*step->problem))), theme().wrong};
  if (open_ != step_of(*list_->item(row))) return {};
  return {QString::fromStdString(plain_text(step->words)), theme().soft};
}

void StepsPanel::show_open() {
  const auto now = bench_.draft().open_step();
  if (now == open_) return;
  open_ = now;
  list_->doItemsLayout();
  if (open_)
    for (int i = 0; i < list_->count(); ++i)
      if (step_of(*list_->item(i)) == *open_) list_->scrollToItem(list_->item(i));
}

void StepsPanel::show_menu(QPoint at) {
  const QListWidgetItem* item = list_->itemAt(at);
  if (!item || !item->data(Qt::UserRole).isValid()) return;
  const std::size_t step = step_of(*item);
  const bool out = store_.journal().record().steps[step]->left_out;
  QMenu menu;
  menu.setObjectName("step menu");
  const QAction* open = menu.addAction("Open it in the sentence");
  const QAction* leave = menu.addAction(out ? "Take it in again" : "Leave it out");
  const QAction* remove = menu.addAction("Remove it");
  const QAction* chosen = menu.exec(list_->viewport()->mapToGlobal(at));
  if (chosen == open) bench_.reopen(step);
  if (chosen == leave) store_.leave_out(step, !out);
  if (chosen == remove) store_.remove_step(step);
}

void StepsPanel::refresh() {
  const Record& record = store_.journal().record();
  filling_ = true;
  list_->clear();
  if (record.steps.empty()) {
    auto* item = new QListWidgetItem("Nothing has been done yet.", list_);
    item->setForeground(theme().soft);
    item->setFlags(Qt::ItemIsEnabled);
    open_.reset();
    filling_ = false;
    return;
  }
  // A long record shows its last steps; all of it is in the journal.
  constexpr std::size_t kShown = 500;
  const std::size_t first = record.steps.size() > kShown ? record.steps.size() - kShown : 0;
  for (std::size_t i = first; i < record.steps.size(); ++i) {
    const Step& step = *record.steps[i];
    QString words = QString::fromStdString(plain_text(step.words));
    // What no longer works says why in place.
    if (step.problem) words += QString(" No longer: %1").arg(QString::fromStdString(sentence(*step.problem)));
    auto* item = new QListWidgetItem(QString("%1  %2").arg(i + 1).arg(words), list_);
    item->setData(Qt::UserRole, static_cast<qulonglong>(i));
    item->setFlags(Qt::ItemIsEnabled | Qt::ItemIsUserCheckable | Qt::ItemIsSelectable);
    item->setCheckState(step.left_out ? Qt::Unchecked : Qt::Checked);
    if (step.left_out) item->setForeground(theme().soft);
    if (step.problem) item->setForeground(theme().wrong);
    item->setToolTip(step.remark.empty() ? words : words + "\n" + QString::fromStdString(step.remark));
  }
  list_->scrollToBottom();
  filling_ = false;
}

}  // namespace tack
