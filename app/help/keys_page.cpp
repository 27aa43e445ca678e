#include "app/help/keys_page.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QKeyEvent>
#include <QPrintDialog>
#include <QPrinter>
#include <QTextDocument>
#include <QVBoxLayout>

#include "app/theme.h"

namespace tack {

KeysPage::KeysPage(Keys& keys, QWidget* parent)
    : QWidget(parent),
      keys_(keys),
      search_(new QLineEdit(this)),
      list_(new QTreeWidget(this)),
      says_(new QLabel(this)),
      change_(new QPushButton("Change …", this)),
      standard_(new QPushButton("Standard key", this)),
      all_standard_(new QPushButton("All standard", this)),
      print_(new QPushButton("Print …", this)) {
  search_->setObjectName("search keys");
  search_->setAccessibleName("Search the keys");
  search_->setPlaceholderText("Search: a key, or what it does");
  search_->setClearButtonEnabled(true);
  list_->setObjectName("keys");
  list_->setAccessibleName("All keys");
  list_->setColumnCount(2);
  list_->setHeaderHidden(true);
  list_->setIndentation(14);
  list_->setUniformRowHeights(false);
  list_->setWordWrap(true);
  list_->setRootIsDecorated(false);
  list_->setItemsExpandable(false);
  list_->setFrameShape(QFrame::NoFrame);
  list_->header()->setStretchLastSection(true);
  says_->setObjectName("keys says");
  says_->setWordWrap(true);
  says_->setMinimumHeight(QFontMetrics(font()).lineSpacing() * 2);
  change_->setToolTip("Press another key for what is chosen (or double-click it)");
  standard_->setToolTip("The key it came with");
  all_standard_->setToolTip("Every key as it came");
  auto* row = new QHBoxLayout;
  for (QPushButton* b : {change_, standard_, all_standard_, print_}) {
    b->setObjectName(b->text());
    b->setAutoDefault(false);
    row->addWidget(b);
  }
  row->addStretch(1);
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(16, 14, 16, 12);
  layout->setSpacing(8);
  layout->addWidget(search_);
  layout->addWidget(list_, 1);
  layout->addWidget(says_);
  layout->addLayout(row);
  connect(search_, &QLineEdit::textChanged, this, &KeysPage::filter);
  connect(list_, &QTreeWidget::currentItemChanged, this, [this] {
    if (waits_) end_change({});
    change_->setEnabled(chosen() != nullptr);
    standard_->setEnabled(chosen() && keys_.of(*chosen()) != chosen()->standard);
  });
  connect(list_, &QTreeWidget::itemActivated, this, &KeysPage::begin_change);
  connect(change_, &QPushButton::clicked, this, &KeysPage::begin_change);
  connect(standard_, &QPushButton::clicked, this, [this] {
    if (const KeyEntry* entry = chosen()) take(entry->standard);
  });
  connect(all_standard_, &QPushButton::clicked, this, [this] {
    keys_.reset_all();
    end_change("All keys are as they came.");
  });
  connect(print_, &QPushButton::clicked, this, &KeysPage::print);
  connect(&keys_, &Keys::changed, this, &KeysPage::refresh);
  list_->installEventFilter(this);
  refresh();
}

const KeyEntry* KeysPage::chosen() const {
  const QTreeWidgetItem* item = list_->currentItem();
  if (!item || !item->parent()) return nullptr;
  const auto& entry = keys_.entries()[item->data(0, Qt::UserRole).toULongLong()];
  return entry.fixed.isEmpty() ? &entry : nullptr;
}

void KeysPage::refresh() {
  const QVariant was = list_->currentItem() ? list_->currentItem()->data(0, Qt::UserRole) : QVariant();
  list_->clear();
  QTreeWidgetItem* group = nullptr;
  for (std::size_t i = 0; i < keys_.entries().size(); ++i) {
    const KeyEntry& entry = keys_.entries()[i];
    if (!group || group->text(0) != entry.group) {
      group = nullptr;
      for (int k = 0; k < list_->topLevelItemCount() && !group; ++k)
        if (list_->topLevelItem(k)->text(0) == entry.group) group = list_->topLevelItem(k);
      if (!group) {
        group = new QTreeWidgetItem(list_, {entry.group});
        group->setFont(0, ui_font(1, QFont::DemiBold));
        group->setFlags(Qt::ItemIsEnabled);
      }
    }
    auto* item = new QTreeWidgetItem(group, {entry.words, key_words(keys_, entry)});
    item->setData(0, Qt::UserRole, static_cast<qulonglong>(i));
    item->setFont(1, number_font(0.96));
    const bool own = entry.fixed.isEmpty() && keys_.of(entry) != entry.standard;
    if (!entry.fixed.isEmpty()) item->setForeground(1, theme().soft);
    if (own) item->setText(1, item->text(1).isEmpty() ? "none" : item->text(1) + "  · yours");
    if (was.isValid() && item->data(0, Qt::UserRole) == was) list_->setCurrentItem(item);
  }
  list_->expandAll();
  // The keys take what they need, up to two fifths; what they do wraps.
  list_->header()->setSectionResizeMode(0, QHeaderView::Stretch);
  list_->header()->setStretchLastSection(false);
  list_->header()->setSectionResizeMode(1, QHeaderView::Fixed);
  list_->header()->resizeSection(1, QFontMetrics(number_font(0.96)).horizontalAdvance("Ctrl+Shift+Backspace   "));
  filter();
  change_->setEnabled(chosen() != nullptr);
  standard_->setEnabled(chosen() && keys_.of(*chosen()) != chosen()->standard);
}

void KeysPage::filter() {
  const QStringList words = search_->text().split(' ', Qt::SkipEmptyParts);
  for (int g = 0; g < list_->topLevelItemCount(); ++g) {
    QTreeWidgetItem* group = list_->topLevelItem(g);
    bool any = false;
    for (int i = 0; i < group->childCount(); ++i) {
      QTreeWidgetItem* item = group->child(i);
      const QString text = group->text(0) + " " + item->text(0) + " " + item->text(1);
      const bool fits = std::all_of(words.begin(), words.end(),
                                    [&](const QString& w) { return text.contains(w, Qt::CaseInsensitive); });
      item->setHidden(!fits);
      any |= fits;
    }
    group->setHidden(!any);
  }
}

void KeysPage::begin_change() {
  const KeyEntry* entry = chosen();
  if (!entry) return;
  waits_ = true;
  asked_again_ = {};
  says_->setStyleSheet("color: " + theme().ink.name());
  says_->setText("Press the new key for “" + entry->words + "”. Backspace: none. Esc: leave it.");
  list_->setFocus();
}

void KeysPage::end_change(const QString& words, bool wrong) {
  waits_ = false;
  asked_again_ = {};
  says_->setStyleSheet("color: " + (wrong ? theme().wrong : theme().ink).name());
  says_->setText(words);
}

void KeysPage::take(const QKeySequence& key) {
  const KeyEntry* entry = chosen();
  if (!entry) return end_change({});
  if (const QString why = keys_.refused(*entry, key); !why.isEmpty()) {
    says_->setStyleSheet("color: " + theme().wrong.name());
    return says_->setText(why + " Press another, or Esc.");
  }
  const KeyEntry copy = *entry;
  if (const KeyEntry* other = keys_.clash(copy, key); other && asked_again_ != key) {
    waits_ = true;
    asked_again_ = key;
    says_->setStyleSheet("color: " + theme().drifting.name());
    return says_->setText(key.toString(QKeySequence::NativeText) + " is the key of “" + other->words +
                          "”, which would have none. Press it again to take it, or another.");
  }
  if (const KeyEntry* other = keys_.clash(copy, key)) keys_.set(KeyEntry(*other), {});
  keys_.set(copy, key);
  end_change(key.isEmpty() ? "“" + copy.words + "” has no key now."
                           : "“" + copy.words + "” is " + key.toString(QKeySequence::NativeText) + " now.");
}

bool KeysPage::eventFilter(QObject* watched, QEvent* event) {
  if (!waits_ || (event->type() != QEvent::KeyPress && event->type() != QEvent::ShortcutOverride))
    return QWidget::eventFilter(watched, event);
  const auto* pressed = static_cast<QKeyEvent*>(event);
  const int key = pressed->key();
  event->accept();
  // A shortcut of the window must not take it first.
  if (event->type() == QEvent::ShortcutOverride) return true;
  if (key == Qt::Key_Shift || key == Qt::Key_Control || key == Qt::Key_Alt || key == Qt::Key_Meta ||
      key == Qt::Key_AltGr)
    return true;
  if (key == Qt::Key_Escape)
    end_change("Left as it was.");
  else if (key == Qt::Key_Backspace && pressed->modifiers() == Qt::NoModifier)
    take({});
  else
    take(QKeySequence(key | (pressed->modifiers() & ~Qt::KeypadModifier)));
  return true;
}

void KeysPage::print_to(QPrinter& printer) const {
  QString text = "<h2>Tack Point: all keys</h2>";
  for (int g = 0; g < list_->topLevelItemCount(); ++g) {
    const QTreeWidgetItem* top = list_->topLevelItem(g);
    text += "<h4>" + top->text(0).toHtmlEscaped() + "</h4><table cellpadding='2'>";
    for (int i = 0; i < top->childCount(); ++i)
      text += "<tr><td width='150'><b>" + top->child(i)->text(1).toHtmlEscaped() + "</b></td><td>" +
              top->child(i)->text(0).toHtmlEscaped() + "</td></tr>";
    text += "</table>";
  }
  QTextDocument document;
  document.setDefaultFont(ui_font(0.9));
  document.setHtml(text);
  document.print(&printer);
}

void KeysPage::print() {
  QPrinter printer;
  QPrintDialog dialog(&printer, this);
  dialog.setObjectName("print keys");
  if (dialog.exec() == QDialog::Accepted) print_to(printer);
}

}  // namespace tack
