#include "app/pointer_list.h"

#include <QKeyEvent>
#include <QLabel>
#include <QPainter>
#include <QScreen>
#include <QSettings>
#include <QStyledItemDelegate>
#include <QVBoxLayout>
#include <algorithm>

#include "app/theme.h"

namespace tack {
namespace {

constexpr int kListRows = 12, kRemembered = 8, kShownMost = 200;

// The words at the left, the key at the right in the softer ink.
class RowDelegate : public QStyledItemDelegate {
 public:
  using QStyledItemDelegate::QStyledItemDelegate;
  QSize sizeHint(const QStyleOptionViewItem& option, const QModelIndex&) const override {
    return {100, option.fontMetrics.height() + 8};
  }
  void paint(QPainter* p, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
    const bool chosen = option.state & QStyle::State_Selected;
    if (chosen) p->fillRect(option.rect, theme().ink);
    const QString key = index.data(Qt::UserRole).toString();
    const QRect row = option.rect.adjusted(12, 0, -12, 0);
    const int taken = key.isEmpty() ? 0 : option.fontMetrics.horizontalAdvance(key) + 16;
    p->setFont(option.font);
    p->setPen(chosen ? theme().card : theme().ink);
    p->drawText(row.adjusted(0, 0, -taken, 0), Qt::AlignVCenter | Qt::AlignLeft,
                option.fontMetrics.elidedText(index.data().toString(), Qt::ElideMiddle, row.width() - taken));
    p->setPen(chosen ? theme().card : theme().soft);
    p->drawText(row, Qt::AlignVCenter | Qt::AlignRight, key);
  }
};

}  // namespace

int answers(const QString& words, const QString& typed) {
  const QStringList wanted = typed.split(' ', Qt::SkipEmptyParts);
  if (wanted.isEmpty()) return 1;
  int worth = 0;
  qsizetype last = -1;
  for (const QString& w : wanted) {
    const qsizetype at = words.indexOf(w, 0, Qt::CaseInsensitive);
    if (at < 0) return 0;
    // The beginning of a word says more than its middle, the beginning of all of it most.
    qsizetype begin = at;
    while (begin > 0 && words[begin - 1].isLetterOrNumber()) begin = words.indexOf(w, begin + 1, Qt::CaseInsensitive);
    worth += at == 0 ? 8 : begin > 0 ? 4 : 1;
    if (at > last) ++worth;
    last = at;
  }
  return worth;
}

PointerList::PointerList(QWidget* parent)
    : QFrame(parent, Qt::Popup), title_(new QLabel(this)), search_(new QLineEdit(this)), list_(new QListWidget(this)) {
  setObjectName("pointer list");
  setAccessibleName("Short list");
  setFrameShape(QFrame::NoFrame);
  title_->setObjectName("pointer list title");
  title_->setContentsMargins(12, 8, 12, 2);
  title_->setFont(ui_font(0.94));
  title_->setTextFormat(Qt::PlainText);
  search_->setObjectName("pointer list search");
  search_->setAccessibleName("What to do");
  search_->setPlaceholderText("Type a few letters");
  search_->setFrame(false);
  list_->setObjectName("pointer list rows");
  list_->setAccessibleName("What there is to do");
  list_->setFrameShape(QFrame::NoFrame);
  list_->setItemDelegate(new RowDelegate(list_));
  list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  list_->setFocusPolicy(Qt::NoFocus);
  list_->setMouseTracking(true);
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(1, 1, 1, 6);
  layout->setSpacing(2);
  layout->addWidget(title_);
  layout->addWidget(search_);
  layout->addWidget(list_, 1);
  search_->installEventFilter(this);
  connect(search_, &QLineEdit::textChanged, this, &PointerList::fill);
  connect(list_, &QListWidget::itemEntered, this, [this](QListWidgetItem* item) { list_->setCurrentItem(item); });
  connect(list_, &QListWidget::itemClicked, this, [this](QListWidgetItem* item) { take(list_->row(item)); });
}

void PointerList::open(QPoint global, const QString& title, std::vector<PointerEntry> entries) {
  entries_ = std::move(entries);
  setStyleSheet(QString("QFrame#pointer\\ list { border: 1px solid %1; background: %2; }")
                    .arg(theme().hair.name(), theme().card.name()));
  title_->setText(title);
  title_->setStyleSheet("color: " + theme().soft.name());
  // What lies here, then what was used last, then the rest as it is in the menus.
  const QStringList used = QSettings().value("short list").toStringList();
  const auto place = [&](const PointerEntry& e) {
    const auto at = e.id.isEmpty() ? -1 : used.indexOf(e.id);
    return e.here ? -1 : at >= 0 ? static_cast<int>(at) : kRemembered;
  };
  order_.resize(entries_.size());
  for (std::size_t i = 0; i < order_.size(); ++i) order_[i] = i;
  std::stable_sort(order_.begin(), order_.end(),
                   [&](std::size_t a, std::size_t b) { return place(entries_[a]) < place(entries_[b]); });
  search_->clear();
  fill();
  const QFontMetrics metrics(list_->font());
  const int row = metrics.height() + 8;
  const QRect room = parentWidget()->screen()->availableGeometry();
  resize(
      std::min(metrics.averageCharWidth() * 52, room.width() - 16),
      std::min(room.height() - 16, title_->sizeHint().height() + search_->sizeHint().height() + row * kListRows + 16));
  QPoint at = global;
  at.setX(std::clamp(at.x(), room.left() + 8, std::max(room.left() + 8, room.right() - width() - 8)));
  at.setY(std::clamp(at.y(), room.top() + 8, std::max(room.top() + 8, room.bottom() - height() - 8)));
  move(at);
  show();
  search_->setFocus();
}

void PointerList::fill() {
  list_->clear();
  const QString typed = search_->text();
  std::vector<std::pair<int, std::size_t>> found;
  for (std::size_t k = 0; k < order_.size(); ++k)
    if (const int worth = answers(entries_[order_[k]].words, typed))
      found.emplace_back(typed.isEmpty() ? 0 : -worth, order_[k]);
  std::stable_sort(found.begin(), found.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
  for (const auto& [worth, number] : found) {
    if (list_->count() == kShownMost) break;
    auto* item = new QListWidgetItem(entries_[number].words, list_);
    item->setData(Qt::UserRole, entries_[number].key);
    item->setData(Qt::UserRole + 1, static_cast<qulonglong>(number));
    item->setToolTip(entries_[number].words);
  }
  if (found.empty()) {
    auto* item = new QListWidgetItem("Nothing is called that.", list_);
    item->setFlags(Qt::NoItemFlags);
  } else {
    list_->setCurrentRow(0);
  }
}

QStringList PointerList::rows() const {
  QStringList rows;
  for (int i = 0; i < list_->count(); ++i) rows << list_->item(i)->text();
  return rows;
}

void PointerList::take(int row) {
  const QListWidgetItem* item = list_->item(row);
  if (!item || !item->data(Qt::UserRole + 1).isValid()) return;
  const PointerEntry entry = entries_[item->data(Qt::UserRole + 1).toULongLong()];
  close();
  if (!entry.id.isEmpty()) {
    QSettings settings;
    QStringList used = settings.value("short list").toStringList();
    used.removeAll(entry.id);
    used.prepend(entry.id);
    settings.setValue("short list", used.mid(0, kRemembered));
  }
  entry.run();
}

bool PointerList::eventFilter(QObject* watched, QEvent* event) {
  if (event->type() != QEvent::KeyPress) return QFrame::eventFilter(watched, event);
  const int key = static_cast<QKeyEvent*>(event)->key(), count = list_->count(), now = list_->currentRow();
  switch (key) {
    case Qt::Key_Down: list_->setCurrentRow((now + 1) % std::max(1, count)); return true;
    case Qt::Key_Up: list_->setCurrentRow((now + count - 1) % std::max(1, count)); return true;
    case Qt::Key_PageDown: list_->setCurrentRow(std::min(count - 1, now + kListRows)); return true;
    case Qt::Key_PageUp: list_->setCurrentRow(std::max(0, now - kListRows)); return true;
    case Qt::Key_Return:
    case Qt::Key_Enter: take(now); return true;
    case Qt::Key_Escape: close(); return true;
    case Qt::Key_Slash:
      if (search_->text().isEmpty()) return close(), true;
      return false;
    default: return false;
  }
}

}  // namespace tack
