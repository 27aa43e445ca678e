#include "app/panels/standing_list.h"

#include <QDialogButtonBox>
#include <QFutureWatcher>
#include <QPushButton>
#include <QVBoxLayout>
#include <QtConcurrent>

#include "app/text.h"
#include "app/theme.h"

namespace tack {

constexpr std::size_t kMostRows = 500;

StandingList::StandingList(Store& store, Stage& stage, std::vector<PartId> among, QWidget* parent)
    : QDialog(parent),
      store_(store),
      stage_(stage),
      scene_(std::make_shared<const Scene>(store.scene())),
      any_(!meshes_within(*scene_, among.empty() ? scene_->roots() : among).empty()),
      heading_(new QLabel(this)),
      list_(new QListWidget(this)) {
  setObjectName("standing");
  setWindowTitle("What floats or sinks – Tack Point");
  setAttribute(Qt::WA_DeleteOnClose);
  heading_->setObjectName("standing heading");
  heading_->setFont(ui_font(1.1, QFont::DemiBold));
  heading_->setWordWrap(true);
  heading_->setText(among.empty() ? "Looking at every part …" : "Looking at what is picked …");
  list_->setAccessibleName("What floats or sinks");
  list_->setToolTip("Click: picks the part and frames it");
  list_->setFrameShape(QFrame::NoFrame);
  auto* buttons = new QDialogButtonBox(this);
  QPushButton* all = buttons->addButton("Pick all of them", QDialogButtonBox::ActionRole);
  buttons->addButton("Close", QDialogButtonBox::RejectRole)->setDefault(true);
  all->setObjectName("pick all");
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
  connect(all, &QPushButton::clicked, this, [this] {
    std::vector<PartId> parts;
    for (const Unsupported& one : found_)
      if (store_.scene().contains(one.part)) parts.push_back(one.part);
    store_.pick(std::move(parts));
  });
  connect(list_, &QListWidget::currentRowChanged, this, [this](int row) {
    if (row < 0 || static_cast<std::size_t>(row) >= std::min(found_.size(), kMostRows)) return;
    const PartId part = found_[static_cast<std::size_t>(row)].part;
    if (!store_.scene().contains(part)) return store_.say("This part is not there any more.", Tone::Wrong);
    store_.pick({part});
    stage_.frame_picked();
  });
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(20, 16, 20, 16);
  layout->setSpacing(10);
  layout->addWidget(heading_);
  layout->addWidget(list_, 1);
  layout->addWidget(buttons);
  const double larger = text_percent() / 100.0;
  resize(qRound(430 * larger), qRound(360 * larger));
  auto* watcher = new QFutureWatcher<std::shared_ptr<std::vector<Unsupported>>>(this);
  connect(watcher, &QFutureWatcherBase::finished, this, [this, watcher] {
    if (const auto found = watcher->result()) return show_found(*found);
    done_ = true;
    heading_->setText("There is not enough memory to look at these parts.");
  });
  watcher->setFuture(QtConcurrent::run([scene = scene_, among, stop = stop_, touch = store.preferences().touch] {
    try {
      return std::make_shared<std::vector<Unsupported>>(unsupported(*scene, among, touch, stop.get()));
    } catch (const std::exception&) {
      return std::shared_ptr<std::vector<Unsupported>>();  // memory that cannot be had
    }
  }));
}

StandingList::~StandingList() { *stop_ = true; }

void StandingList::show_found(std::vector<Unsupported> found) {
  found_ = std::move(found);
  done_ = true;
  const std::size_t count = found_.size();
  heading_->setText(!any_        ? QString("There is no surface here that could touch anything.")
                    : count == 0 ? QString("Nothing floats, and nothing has sunk in.")
                    : count == 1 ? QString("1 part floats or has sunk in")
                                 : QString("%1 parts float or have sunk in").arg(count));
  for (std::size_t i = 0; i < std::min(count, kMostRows); ++i)
    list_->addItem(label_of(scene_->part(found_[i].part).name) + "  " +
                   QString::fromStdString(unsupported_words(*scene_, found_[i], store_.unit())));
  if (count > kMostRows) list_->addItem(QString("… and %1 more").arg(count - kMostRows));
}

}  // namespace tack
