#include "app/panels/steps_panel.h"

#include <QLabel>
#include <QVBoxLayout>

#include "app/theme.h"

namespace tack {

StepsPanel::StepsPanel(Store& store, QWidget* parent) : QWidget(parent), store_(store), list_(new QListWidget(this)) {
  auto* title = new QLabel(tr("Steps"), this);
  title->setFont(ui_font(0.95, QFont::DemiBold));
  title->setContentsMargins(14, 8, 10, 4);
  list_->setObjectName("steps");
  list_->setAccessibleName(tr("Steps"));
  list_->setWordWrap(true);
  list_->setFont(ui_font(0.95));
  list_->setFrameShape(QFrame::NoFrame);
  list_->setSelectionMode(QAbstractItemView::NoSelection);
  list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  list_->setFocusPolicy(Qt::TabFocus);
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(0);
  layout->addWidget(title);
  layout->addWidget(list_, 1);
  connect(&store_, &Store::scene_changed, this, &StepsPanel::refresh);
  refresh();
}

void StepsPanel::refresh() {
  const Record& record = store_.journal().record();
  list_->clear();
  if (record.steps.empty()) {
    auto* item = new QListWidgetItem(tr("Nothing has been done yet."), list_);
    item->setForeground(theme().soft);
    return;
  }
  // A long record shows its last steps; all of it is in the journal.
  constexpr std::size_t kShown = 500;
  const std::size_t first = record.steps.size() > kShown ? record.steps.size() - kShown : 0;
  for (std::size_t i = first; i < record.steps.size(); ++i) {
    const QString words = QString::fromStdString(
        plain_text(sentence(record.steps[i]->verb, record.before(i), Tense::Past, store_.unit())));
    auto* item = new QListWidgetItem(QString("%1  %2").arg(i + 1).arg(words), list_);
    item->setToolTip(words);
  }
  list_->scrollToBottom();
}

}  // namespace tack
