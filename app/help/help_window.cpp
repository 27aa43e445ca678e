#include "app/help/help_window.h"

#include <QDir>
#include <QFile>
#include <QHBoxLayout>
#include <QScreen>
#include <QTextCursor>
#include <QVBoxLayout>

#include "app/theme.h"

namespace tack {
namespace {

const QString kGuides = QStringLiteral(":/guide/");

QString guide_text(const QString& guide) {
  QFile file(kGuides + guide + ".md");
  return file.open(QIODevice::ReadOnly) ? QString::fromUtf8(file.readAll()) : QString();
}

// The heading of its first line.
QString guide_title(const QString& text) { return text.section('\n', 0, 0).remove('#').trimmed(); }

}  // namespace

HelpWindow::HelpWindow(Keys& keys, QWidget* parent)
    : QDialog(parent),
      search_(new QLineEdit(this)),
      pages_(new QListWidget(this)),
      stack_(new QStackedWidget(this)),
      guide_(new QTextBrowser(this)),
      keys_(new KeysPage(keys, this)) {
  setObjectName("help");
  setWindowTitle("Help – Tack Point");
  search_->setObjectName("search help");
  search_->setAccessibleName("Search the guides");
  search_->setPlaceholderText("Search the guides");
  search_->setClearButtonEnabled(true);
  pages_->setObjectName("help pages");
  pages_->setAccessibleName("Guides");
  pages_->setFrameShape(QFrame::NoFrame);
  guide_->setObjectName("guide");
  guide_->setAccessibleName("Guide");
  guide_->setFrameShape(QFrame::NoFrame);
  guide_->setOpenLinks(false);
  guide_->document()->setDocumentMargin(18);
  for (const QString& file : QDir(kGuides).entryList({"*.md"}, QDir::Files, QDir::Name)) {
    const QString name = file.chopped(3);
    auto* item = new QListWidgetItem(guide_title(guide_text(name)), pages_);
    item->setData(Qt::UserRole, name);
  }
  new QListWidgetItem("All keys", pages_);
  auto* left = new QVBoxLayout;
  left->setContentsMargins(12, 14, 4, 12);
  left->setSpacing(8);
  left->addWidget(search_);
  left->addWidget(pages_, 1);
  auto* layout = new QHBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(0);
  layout->addLayout(left);
  layout->addWidget(stack_, 1);
  stack_->addWidget(guide_);
  stack_->addWidget(keys_);
  search_->setFixedWidth(QFontMetrics(font()).averageCharWidth() * 26);
  pages_->setFixedWidth(search_->width());
  connect(search_, &QLineEdit::textChanged, this, &HelpWindow::search);
  connect(pages_, &QListWidget::currentRowChanged, this, &HelpWindow::show_page);
  // A link to another guide, to a heading of this one; none leads out of the program.
  connect(guide_, &QTextBrowser::anchorClicked, this, [this](const QUrl& url) {
    const QString name = url.path().section('/', -1).section('.', 0, 0);
    if (url.path().isEmpty())
      guide_->scrollToAnchor(url.fragment());
    else
      show_guide(name);
  });
  const QRect room = (parent ? parent->screen() : screen())->availableGeometry();
  const double larger = std::max(1.0, text_percent() / 100.0);
  resize(std::min(qRound(940 * larger), room.width() - 40), std::min(qRound(640 * larger), room.height() - 60));
}

void HelpWindow::show_guide(const QString& name) {
  search_->clear();
  int row = 0;
  for (int i = 0; i < pages_->count(); ++i)
    if (pages_->item(i)->data(Qt::UserRole).toString() == name) row = i;
  pages_->setCurrentRow(row);
  show();
  raise();
  activateWindow();
}

void HelpWindow::show_keys() {
  search_->clear();
  pages_->setCurrentRow(pages_->count() - 1);
  show();
  raise();
  activateWindow();
  keys_->search()->setFocus();
}

void HelpWindow::show_page(int row) {
  if (row < 0) return;
  const QString name = pages_->item(row)->data(Qt::UserRole).toString();
  stack_->setCurrentWidget(name.isEmpty() ? static_cast<QWidget*>(keys_) : guide_);
  if (name.isEmpty()) return;
  guide_->setMarkdown(guide_text(name));
  mark_found();
}

// Guides that have all the words stay in the list; the first is opened, at the words.
void HelpWindow::search(const QString& text) {
  const QStringList words = text.split(' ', Qt::SkipEmptyParts);
  int first = -1;
  for (int i = 0; i < pages_->count(); ++i) {
    const QString name = pages_->item(i)->data(Qt::UserRole).toString();
    const QString page = name.isEmpty() ? QString() : guide_text(name);
    const bool fits = std::all_of(words.begin(), words.end(),
                                  [&](const QString& w) { return page.contains(w, Qt::CaseInsensitive); });
    pages_->item(i)->setHidden(!fits);
    if (fits && first < 0) first = i;
  }
  const bool here = pages_->currentItem() && !pages_->currentItem()->isHidden();
  if (!here && first >= 0)
    pages_->setCurrentRow(first);
  else
    mark_found();
}

void HelpWindow::mark_found() {
  QList<QTextEdit::ExtraSelection> found;
  const QStringList words = search_->text().split(' ', Qt::SkipEmptyParts);
  for (const QString& word : words)
    for (QTextCursor at = guide_->document()->find(word); !at.isNull(); at = guide_->document()->find(word, at)) {
      QTextEdit::ExtraSelection mark;
      mark.cursor = at;
      mark.format.setBackground(theme().to);
      mark.format.setForeground(theme().on_to);
      found << mark;
    }
  guide_->setExtraSelections(found);
  if (found.isEmpty()) return;
  QTextCursor at = found.front().cursor;
  at.clearSelection();
  guide_->setTextCursor(at);
  guide_->ensureCursorVisible();
}

}  // namespace tack
