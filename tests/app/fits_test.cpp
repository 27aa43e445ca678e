// No text is cut, covered or hard to read: over all verbs, with the longest names of the demo, at 1280 × 800 and with
// text half as large again; and everything has a name for those who do not see it.
#include <QAbstractButton>
#include <QAccessible>
#include <QDialog>
#include <QDockWidget>
#include <QLabel>
#include <QListWidget>
#include <QMenuBar>
#include <QSpinBox>
#include <QTreeWidget>

#include "app/files/export_dialog.h"
#include "app/files/import_dialog.h"
#include "app/help/help_window.h"
#include "app/preferences_dialog.h"
#include "app/theme.h"
#include "app/verb_row.h"
#include "tests/app/desk.h"

using namespace tack;
using namespace tack::test;

namespace {

QString where(const QWidget* w) {
  QString way;
  for (; w; w = w->parentWidget())
    way = (w->objectName().isEmpty() ? QString(w->metaObject()->className()) : w->objectName()) +
          (way.isEmpty() ? "" : " / ") + way;
  return way;
}

// Whether the words of a control have the room they need.
bool has_room(const QWidget* w, QString& what) {
  const QFontMetrics metrics(w->font());
  if (const auto* label = qobject_cast<const QLabel*>(w)) {
    if (label->text().isEmpty() || label->textFormat() == Qt::RichText || label->objectName() == "message") return true;
    what = label->text();
    if (label->wordWrap())
      return metrics
                 .boundingRect(QRect(0, 0, std::max(1, label->contentsRect().width()), 100000), Qt::TextWordWrap, what)
                 .height() <= label->contentsRect().height() + 2;
    return metrics.horizontalAdvance(what) <= label->contentsRect().width() + 1;
  }
  if (const auto* verb = dynamic_cast<const VerbButton*>(w)) {
    what = verb->text();
    return verb->width() >= verb->sizeHint().width();
  }
  if (const auto* button = qobject_cast<const QAbstractButton*>(w)) {
    what = button->text();
    if (what.isEmpty()) return true;
    return metrics.horizontalAdvance(QString(what).remove('&')) <= button->width() + 1 &&
           metrics.height() <= button->height() + 2;
  }
  if (const auto* edit = qobject_cast<const QLineEdit*>(w)) {
    what = edit->text().isEmpty() ? edit->placeholderText() : edit->text();
    return metrics.horizontalAdvance(what) <= edit->width() - 8;
  }
  return true;
}

// Every visible control of the window or of a dialog, and whether siblings lie over each other.
void all_fits(QWidget& top, const char* state) {
  for (QWidget* w : top.findChildren<QWidget*>()) {
    // A panel behind another tab is not seen.
    if (!w->isVisible() || w->window() != &top || w->visibleRegion().isEmpty()) continue;
    QString what;
    const bool room = has_room(w, what);
    INFO(state << ": “" << what.toStdString() << "” in " << where(w).toStdString() << ", " << w->width() << " × "
               << w->height());
    CHECK(room);
    // Nothing reaches out of the window.
    const QRect in_top(w->mapTo(&top, QPoint(0, 0)), w->size());
    const bool scrolled = [&] {
      for (const QWidget* p = w->parentWidget(); p; p = p->parentWidget())
        if (qobject_cast<const QAbstractScrollArea*>(p)) return true;
      return false;
    }();
    if (!scrolled && !what.isEmpty()) CHECK(top.rect().adjusted(-1, -1, 1, 1).contains(in_top));
    // Siblings with words keep clear of each other.
    if (what.isEmpty() || !w->parentWidget()) continue;
    for (QWidget* other : w->parentWidget()->findChildren<QWidget*>(Qt::FindDirectChildrenOnly)) {
      QString others;
      if (other <= w || !other->isVisible() || other->visibleRegion().isEmpty()) continue;
      has_room(other, others);
      if (others.isEmpty()) continue;
      INFO("over “" << others.toStdString() << "”");
      // An entry lies over the blank it is typed into.
      if (other->objectName() == "sentence entry" || w->objectName() == "sentence entry") continue;
      CHECK_FALSE(w->geometry().adjusted(1, 1, -1, -1).intersects(other->geometry()));
    }
  }
}

double luminance(const QColor& c) {
  const auto linear = [](double v) { return v <= 0.03928 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4); };
  return 0.2126 * linear(c.redF()) + 0.7152 * linear(c.greenF()) + 0.0722 * linear(c.blueF());
}
// WCAG 2.1, success criterion 1.4.3.
double contrast(const QColor& a, const QColor& b) {
  const double x = luminance(a), y = luminance(b);
  return (std::max(x, y) + 0.05) / (std::min(x, y) + 0.05);
}

void walk_verbs(Desk& desk, const char* size) {
  // The longest names of the demo.
  PartId longest = kNoPart, next = kNoPart;
  for (const PartId id : desk.scene().in_tree_order()) {
    if (!desk.scene().part(id).mesh) continue;
    const auto length = [&](PartId p) { return p == kNoPart ? 0 : desk.scene().part(p).name.size(); };
    if (length(id) > length(longest))
      next = longest, longest = id;
    else if (length(id) > length(next))
      next = id;
  }
  for (const VerbFace& verb : verb_faces())
    for (const auto& picked : {std::vector<PartId>{}, {longest}, {longest, next}}) {
      desk.store().pick(picked);
      desk.window().bench().use(verb.id());
      desk.settle();
      all_fits(desk.window(), (verb.name.toStdString() + " at " + size).c_str());
    }
  desk.window().bench().use(id_of<Pick>);
}

}  // namespace

TEST_CASE("no text is cut or covered over all verbs, at 1280 × 800", "[aids]") {
  Desk desk;
  walk_verbs(desk, "100 %");
  Desk finished({QString::fromStdString(source("demo/heron-hall.glb"))});
  static_cast<QDockWidget*>(finished.window().findChild<QDockWidget*>("dock Fit"))->raise();
  finished.settle();
  all_fits(finished.window(), "Fit");
  auto* ties = static_cast<QTreeWidget*>(finished.widget("ties"));
  for (int i = 0; i < ties->topLevelItemCount(); ++i) {
    ties->setCurrentItem(ties->topLevelItem(i));
    finished.settle();
    all_fits(finished.window(), "a tie");
    // What was measured is seen whole.
    const QFontMetrics metrics(ties->font());
    CHECK(metrics.horizontalAdvance(ties->topLevelItem(i)->text(1)) < ties->viewport()->width() - 30);
  }
}

TEST_CASE("no text is cut or covered with text half as large again", "[aids]") {
  Desk::text_percent = 150;
  {
    Desk desk;
    CHECK(desk.window().width() <= 1280);
    CHECK(desk.window().height() <= 800);
    CHECK(text_percent() == 150);
    walk_verbs(desk, "150 %");
  }
  Desk::text_percent = 100;
  set_text_percent(100);
}

TEST_CASE("no text is cut in the dialogs", "[aids]") {
  for (const int percent : {100, 150}) {
    Desk::text_percent = percent;
    Desk desk;
    const QRect room = desk.window().screen()->availableGeometry();
    PreferencesDialog preferences(desk.store().preferences(), &desk.window());
    ExportDialog exports(kMillimetres, true, &desk.window());
    const auto plate = read_delivery(source("demo/sign-plate.obj"), {});
    REQUIRE(plate);
    ImportDialog imports("sign-plate.obj", *plate, true, nullptr, &desk.window());
    for (QDialog* dialog :
         {static_cast<QDialog*>(&preferences), static_cast<QDialog*>(&exports), static_cast<QDialog*>(&imports)}) {
      dialog->show();
      desk.settle();
      all_fits(*dialog, "dialog");
      CHECK(dialog->height() <= room.height());
      dialog->hide();
    }
    HelpWindow help(desk.window().keys(), &desk.window());
    help.show_keys();
    desk.settle();
    all_fits(help, "keys");
    CHECK(room.contains(help.geometry()));
    help.show_guide("meet");
    desk.settle();
    all_fits(help, "guide");
    help.hide();
  }
  Desk::text_percent = 100;
  set_text_percent(100);
}

TEST_CASE("menus have no letter twice, and fit the screen", "[aids]") {
  Desk desk;
  const auto letter = [](const QString& text) {
    const auto at = QString(text).replace("&&", "  ").indexOf('&');
    return at < 0 ? QChar() : text[at + 1].toLower();
  };
  for (auto* bar : desk.window().menuWidget()->findChildren<QMenuBar*>()) {
    QString letters;
    for (QAction* action : bar->actions()) {
      const QChar c = letter(action->text());
      CHECK_FALSE(c.isNull());
      CHECK_FALSE(letters.contains(c));
      letters += c;
    }
  }
  for (auto* menu : desk.window().menuWidget()->findChildren<QMenu*>()) {
    QString letters;
    for (QAction* action : menu->actions()) {
      const QChar c = letter(action->text().section('\t', 0, 0));
      if (c.isNull()) continue;
      INFO(menu->title().toStdString() << ": " << action->text().toStdString());
      CHECK_FALSE(letters.contains(c));
      letters += c;
    }
    CHECK(menu->sizeHint().height() <= desk.window().screen()->availableGeometry().height());
  }
}

TEST_CASE("all text stands out from what it stands on, in both themes", "[aids]") {
  for (const bool night : {false, true}) {
    set_theme(night);
    const Theme& t = theme();
    const std::pair<const char*, QColor> inks[] = {
        {"ink", t.ink},           {"soft", t.soft},   {"from", t.from}, {"to", t.to},     {"good", t.good},
        {"drifting", t.drifting}, {"wrong", t.wrong}, {"x", t.axis[0]}, {"y", t.axis[1]}, {"z", t.axis[2]}};
    const std::pair<const char*, QColor> grounds[] = {{"paper", t.paper}, {"card", t.card}, {"field", t.field}};
    for (const auto& [ink, colour] : inks)
      for (const auto& [ground, below] : grounds) {
        INFO((night ? "night: " : "day: ") << ink << " on " << ground << " " << contrast(colour, below));
        CHECK(contrast(colour, below) >= 4.5);
      }
    CHECK(contrast(t.on_to, t.to) >= 4.5);
    CHECK(contrast(t.paper, t.ink) >= 4.5);
  }
  set_theme(false);
}

TEST_CASE("everything that takes the keyboard or the mouse has a name and a role", "[aids]") {
  Desk desk;
  desk.store().pick({desk.part("Channel 3")});
  for (const VerbFace& verb : verb_faces()) {
    desk.window().bench().use(verb.id());
    desk.settle();
    for (QWidget* w : desk.window().findChildren<QWidget*>()) {
      if (!w->isVisible() || !(w->focusPolicy() & (Qt::TabFocus | Qt::ClickFocus))) continue;
      QAccessibleInterface* face = QAccessible::queryAccessibleInterface(w);
      INFO(verb.name.toStdString() << ": " << where(w).toStdString());
      REQUIRE(face);
      const bool parts_of_another = w->objectName().startsWith("qt_");
      if (!parts_of_another) CHECK_FALSE(face->text(QAccessible::Name).isEmpty());
      CHECK(face->role() != QAccessible::NoRole);
    }
  }
}
