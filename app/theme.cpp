#include "app/theme.h"

#include <QApplication>
#include <QFontDatabase>
#include <QFontInfo>
#include <QHash>
#include <QPainter>
#include <QPalette>
#include <QSvgRenderer>

// Outside any namespace, as Qt wants it: resources of a static library are not found without it.
static void init_resources() { Q_INIT_RESOURCE(resources); }

namespace tack {
namespace {

Theme day() {
  Theme t;
  t.paper = "#F4F1EA", t.card = "#FBF9F4", t.ink = "#22313A", t.soft = "#566268", t.hair = "#C9C2B4",
  t.field = "#FBF9F4";
  t.from = "#9B2C6F", t.to = "#0E797D", t.good = "#4A7732", t.drifting = "#8F5D12", t.wrong = "#B23A2E",
  t.on_to = "#FFFFFF";
  t.axis[0] = "#B4453B", t.axis[1] = "#3A7840", t.axis[2] = "#2F62A8";
  t.draw = day_theme();
  return t;
}

Theme night() {
  Theme t;
  t.night = true;
  t.paper = "#20282D", t.card = "#283238", t.ink = "#E4EAEA", t.soft = "#9FADB2", t.hair = "#41505A",
  t.field = "#1B2226";
  t.from = "#E08ABA", t.to = "#5CC9CC", t.good = "#93C47A", t.drifting = "#E2B05E", t.wrong = "#EC8A7E",
  t.on_to = "#12181B";
  t.axis[0] = "#E58A80", t.axis[1] = "#86C68C", t.axis[2] = "#86B1EA";
  t.draw = night_theme();
  return t;
}

Theme current = day();
double system_pixels = 12;
double text_factor = 1;

// Paths in a 17 × 17 square, one stroke width: our own drawings.
QString icon_path(const QString& name) {
  static const std::pair<const char*, const char*> kPaths[] = {
      {"pick", "M4 3l9 5-4 1.2L7 13z"},
      {"move", "M3 8.5h11M11.5 6l2.5 2.5-2.5 2.5M3 6v5M6 7.5v2M9 7.5v2"},
      {"rotate", "M3.5 13.5A9.5 9.5 0 0 1 13 4M13 4l-2.6-.6M13 4l-1.2 2.4M3.5 13.5h3M6.1 8.4l1.5 1.2M9.2 5.4l.9 1.7"},
      {"scale", "M3 8.5h5.5V14H3zM8.5 3H14v5.5M10 7l4-4"},
      {"pivot", "M8.5 5.2a3.3 3.3 0 1 0 .01 0M8.5 1.8v3.4M8.5 11.8v3.4M1.8 8.5h3.4M11.8 8.5h3.4"},
      {"meet", "M8.5 2v4M6.5 6h4l-2 3zM4 13.5h9M8.5 11v2.5"},
      {"align", "M2 3.5h13M4 3.5v6h4v-6M10 3.5v10h3.5v-10"},
      {"plane", "M5.5 3.5h9.5l-3.5 10H2zM5.2 10.6l1.6-4.6M5.2 10.6h4.6"},
      {"use-plane", "M5 4h10l-3.5 9H1.5zM6.3 8.6l1.7 1.7 3-3.6"},
      {"grid", "M2.5 2.5h12v12h-12zM6.5 2.5v12M10.5 2.5v12M2.5 6.5h12M2.5 10.5h12"},
      {"onto-plane", "M4.5 10h10L12 15H2zM9 1.8v6M6.6 5.4L9 7.8l2.4-2.4"},
      {"lay", "M4.5 10h10L12 15H2zM4 7.8V4.5L12 1v3.3z"},
      {"keep-view", "M2 7c3.4-4.6 9.6-4.6 13 0-3.4 4.6-9.6 4.6-13 0zM5 14.5h7"},
      {"forget-view", "M2 7c3.4-4.6 9.6-4.6 13 0-3.4 4.6-9.6 4.6-13 0zM4.5 14.5l8-12.5"},
      {"distribute", "M2 3v11M15 3v11M5 5.5h2v6H5zM10 5.5h2v6h-2z"},
      {"stretch", "M2.5 3.5v10M14.5 3.5v10M2.5 8.5h1.8l1.4-2.6 1.8 5.2 2-5.2 1.8 5.2 1.2-2.6h2"},
      {"shape", "M8.5 1.9l5.7 3.1v6.8l-5.7 3.4-5.7-3.4V5zM2.8 5l5.7 3.2L14.2 5M8.5 8.2v7"},
      {"repeat", "M2 6.5h4v4H2zM7 6.5h4v4H7zM12.5 6.5h2.5M12.5 10.5h2.5M12 4.5v8"},
      {"take", "M3 13.5L8.5 3.5l5.5 10zM3 13.5v.01M8.5 3.5v.01M14 13.5v.01M5.8 8.5h5.4"},
      {"push", "M3 12.5h11M3 9.5h3.2l2.3-2.5 2.3 2.5H14M8.5 2.5v4M6.8 4.2l1.7-1.7 1.7 1.7"},
      {"brush",
       "M14.500 2.500L8.800 9.600M7.200 8.300L10 10.800M7.200 8.300C4.500 8.500 5.500 12 2.500 14C6 14.800 9.800 14 10 "
       "10.800"},
      {"smooth", "M2.5 11c2 0 2.5-4.5 4.2-4.5S9 9.500 10.500 9.500 13 8 14.500 8M2.500 14h12"},
      {"slide", "M3 3.500v10M14 3.500v10M7 4.500v8M9 8.500h3.500M11 7l1.700 1.500L11 10"},
      {"tidy", "M3 3.5h3v3H3zM3 10.5h3v3H3zM10.5 3.5h3v3h-3zM10.5 10.5h3v3h-3z"},
      {"drop", "M5 2.5h7v5H5zM8.5 8.5v3.5M6.8 10.3l1.7 1.7 1.7-1.7M2.5 14.5h12"},
      {"measure", "M2.5 10.5l8-8 4 4-8 8zM6 7l1.2 1.2M8 5l1.8 1.8M10 9"},
      {"search", "M7 3.2a3.8 3.8 0 1 0 .01 0M9.8 9.8L14 14"},
      {"shown", "M2 8.5c3.4-4.6 9.6-4.6 13 0-3.4 4.6-9.6 4.6-13 0zM8.5 7a1.5 1.5 0 1 0 .01 0"},
      {"hidden", "M2 8.5c3.4 4.6 9.6 4.6 13 0M4.4 11l-1 1.6M8.5 12v2M12.6 11l1 1.6"},
      {"locked", "M4.5 8h8v6h-8zM6 8V5.5a2.5 2.5 0 0 1 5 0V8"},
      {"place", "M3 3v11h11M6 11V6.5M9 11V8M12 11V4.5"},
      {"bake", "M3 5.8l5.5-3 5.5 3v6l-5.5 3-5.5-3zM3 5.8l5.5 3 5.5-3M8.5 8.8v6"},
      {"fit-box", "M2.5 6V2.5H6M11 14.5h3.5V11M6 6h5v5H6z"},
      {"bring", "M8.5 2v7.5M5.5 6.7l3 3 3-3M3 11.5v3h11v-3"},
      {"show", "M2 8.5c3.4-4.6 9.6-4.6 13 0-3.4 4.6-9.6 4.6-13 0zM8.5 7a1.5 1.5 0 1 0 .01 0"},
      {"lock", "M4.5 8h8v6h-8zM6 8V5.5a2.5 2.5 0 0 1 5 0V8"},
      {"rename", "M3 14.5h11M4 11.5l6.5-7 2.2 2.1-6.5 6.4H4z"},
      {"delete", "M3.5 5h10M6.5 5V2.8h4V5M5 5l.7 9.3h5.6L12 5"},
      {"parent", "M4.5 3v8.5H9M2.5 3h4M9 9h5v5H9z"},
      {"group", "M2.5 2.5h12v12h-12zM5 5h3v3H5zM9 9h3v3H9z"},
      {"ungroup", "M2.5 6V2.5H6M11 14.5h3.5V11M5 5h3v3H5zM9 9h3v3H9z"},
      {"copy", "M3 3h7v7H3zM7 10v4h7V7h-4"},
      {"separate", "M2.5 5h4.5v7H2.5zM10 5h4.5v7H10z"},
      {"see-through", "M2.5 2.5h9v9h-9zM6 6h8.5v8.5H6z"},
      {"name-colour", "M8.5 2.5c3 3.6 4.5 5.6 4.5 7.5a4.5 4.5 0 0 1-9 0c0-1.9 1.5-3.9 4.5-7.5zM2 15.2h13"},
      {"edit-colour", "M8.5 2.5c3 3.6 4.5 5.6 4.5 7.5a4.5 4.5 0 0 1-9 0c0-1.9 1.5-3.9 4.5-7.5zM6.5 10h4M8.5 8v4"},
      {"colour", "M8.5 2.5c3 3.6 4.5 5.6 4.5 7.5a4.5 4.5 0 0 1-9 0c0-1.9 1.5-3.9 4.5-7.5z"},
      {"keep", "M8.5 3l5 5.5-5 5.5-5-5.5z"},
      {"forget", "M8.5 3l5 5.5-5 5.5-5-5.5zM3.5 14L14 3"},
      {"close", "M2 8.5h4M11 8.5h4M6 5v7M11 5v7"},
      {"share", "M3 12.5c1.5-7 9.5-7 11 0M1.8 12.5h2.5M12.7 12.5h2.5M8.5 5.2v2.6"},
      {"tie", "M4.6 6.2a2.3 2.3 0 1 0 .01 0M12.4 6.2a2.3 2.3 0 1 0 .01 0M6.9 8.5h3.2"},
      {"guide", "M2.5 14.5l3-2.7M7 10.4l3-2.7M11.5 6.4l3-2.7"},
      {"unlocked", "M4.5 8h8v6h-8zM6 8V5a2.5 2.5 0 0 1 4.6-1.4"},
  };
  for (const auto& [key, path] : kPaths)
    if (name == QLatin1String(key)) return QString::fromLatin1(path);
  return {};
}

QString style_sheet(const Theme& t) {
  const QString text = R"(
    QMainWindow, QWidget#page { background: @paper; }
    QMainWindow::separator { background: @hair; width: 1px; height: 1px; margin: 0; padding: 0; }
    QListView { padding: 0 10px; }
    QMenuBar { background: @paper; color: @soft; padding: 1px 6px; }
    QMenuBar::item { padding: 4px 9px; background: transparent; border-radius: 3px; }
    QMenuBar::item:selected { color: @ink; background: @press; }
    QMenu { background: @card; color: @ink; border: 1px solid @hair; padding: 4px 0; }
    QMenu::item { padding: 5px 26px 5px 22px; }
    QMenu::item:selected { background: @press; color: @ink; }
    QMenu::item:disabled { color: @soft; }
    QMenu::separator { height: 1px; background: @hair; margin: 4px 0; }
    QDockWidget { color: @soft; }
    QTreeView, QListView { background: @paper; color: @ink; border: none; outline: none; }
    QTreeView::item, QListView::item { padding: 2px 0; border: none; }
    QTreeView::item:selected, QListView::item:selected { background: @select; color: @ink; }
    QTreeView::item:hover:!selected { background: @press; }
    QLineEdit { background: @field; color: @ink; border: 1px solid @hair; border-radius: 3px; padding: 2px 5px; selection-background-color: @to; selection-color: @onto; }
    QLineEdit:focus { border: 1px solid @ink; }
    QLineEdit:read-only { background: transparent; }
    QToolTip { background: @card; color: @ink; border: 1px solid @hair; padding: 3px; }
    QScrollBar:vertical { background: transparent; width: 9px; margin: 0; }
    QScrollBar::handle:vertical { background: @hair; border-radius: 4px; min-height: 24px; }
    QScrollBar:horizontal { background: transparent; height: 9px; margin: 0; }
    QScrollBar::handle:horizontal { background: @hair; border-radius: 4px; min-width: 24px; }
    QScrollBar::add-line, QScrollBar::sub-line { width: 0; height: 0; }
    QSplitter::handle { background: @hair; }
    QTabBar { background: @paper; }
    QTabBar::tab { background: transparent; color: @soft; border: none; padding: 7px 8px 5px 8px; margin-left: 6px; }
    QTabBar::tab:selected { color: @ink; border-bottom: 2px solid @ink; }
    QTabBar::tab:hover:!selected { color: @ink; }
    QPushButton { background: @card; color: @ink; border: 1px solid @hair; border-radius: 3px; padding: 4px 12px; }
    QPushButton:hover { background: @press; }
    QPushButton:focus, QPushButton:default { border-color: @ink; }
    QToolButton[objectName="do it"] { background: @ink; color: @paper; border: none; border-radius: 3px; padding: 5px 12px; }
    QToolButton[objectName="do it"]:hover { background: @to; color: @onto; }
    QToolButton[objectName="do it"]:focus { border: 2px solid @to; padding: 3px 10px; }
    QRadioButton { background: @field; color: @ink; border: 1px solid @hair; border-radius: 3px; padding: 3px 10px; spacing: 0; }
    QRadioButton::indicator { width: 0; height: 0; image: none; }
    QRadioButton:hover { background: @press; }
    QRadioButton:checked { background: @select; border: 1px solid @ink; }
    QRadioButton:checked:focus { border: 2px solid @ink; padding: 2px 9px; }
    QDialog, QMessageBox { background: @paper; color: @ink; border: 1px solid @hair; }
    QLabel { color: @ink; }
  )";
  QString s = text;
  const auto mixed = [&](double part) {
    const auto mix = [&](int a, int b) { return static_cast<int>(a * part + b * (1 - part)); };
    return QColor(mix(t.ink.red(), t.paper.red()), mix(t.ink.green(), t.paper.green()),
                  mix(t.ink.blue(), t.paper.blue()))
        .name();
  };
  const std::pair<const char*, QString> roles[] = {
      {"@paper", t.paper.name()}, {"@card", t.card.name()},   {"@ink", t.ink.name()},   {"@soft", t.soft.name()},
      {"@hair", t.hair.name()},   {"@field", t.field.name()}, {"@select", mixed(0.13)}, {"@press", mixed(0.07)},
      {"@onto", t.on_to.name()},  {"@to", t.to.name()}};
  for (const auto& [role, colour] : roles) s.replace(QLatin1String(role), colour);
  return s;
}

}  // namespace

const Theme& theme() { return current; }

void set_theme(bool is_night) {
  current = is_night ? night() : day();
  QPalette p;
  p.setColor(QPalette::Window, current.paper);
  p.setColor(QPalette::WindowText, current.ink);
  p.setColor(QPalette::Base, current.field);
  p.setColor(QPalette::AlternateBase, current.card);
  p.setColor(QPalette::Text, current.ink);
  p.setColor(QPalette::Button, current.card);
  p.setColor(QPalette::ButtonText, current.ink);
  p.setColor(QPalette::Highlight, current.to);
  p.setColor(QPalette::HighlightedText, current.on_to);
  p.setColor(QPalette::ToolTipBase, current.card);
  p.setColor(QPalette::ToolTipText, current.ink);
  p.setColor(QPalette::PlaceholderText, current.soft);
  p.setColor(QPalette::Link, current.to);
  QApplication::setPalette(p);
  qApp->setStyleSheet(style_sheet(current));
}

void load_fonts() {
  init_resources();
  system_pixels = std::clamp(QFontInfo(QApplication::font()).pixelSize() + 0.5, 11.0, 40.0);
  for (const char* file : {"Inter-Regular.otf", "Inter-Medium.otf", "Inter-SemiBold.otf", "JetBrainsMono-Regular.ttf"})
    QFontDatabase::addApplicationFont(QStringLiteral(":/fonts/") + QLatin1String(file));
  QApplication::setFont(ui_font());
}

void set_text_percent(int percent) {
  text_factor = percent / 100.0;
  QApplication::setFont(ui_font());
}

int text_percent() { return qRound(text_factor * 100); }

QFont ui_font(double factor, QFont::Weight weight) {
  QFont font("Inter");
  font.setPixelSize(std::max(8, qRound(system_pixels * text_factor * factor)));
  font.setWeight(weight);
  return font;
}

QFont number_font(double factor) {
  QFont font("JetBrains Mono");
  font.setPixelSize(std::max(8, qRound(system_pixels * text_factor * factor)));
  font.setStyleStrategy(QFont::PreferAntialias);
  return font;
}

namespace {

// Icons that were made before: ten thousand rows of a tree have a handful of them. Never destroyed, for the pictures in
// them must not outlive the application.
template <typename Make>
QIcon known_icon(const QString& key, Make&& make) {
  static auto* icons = new QHash<QString, QIcon>;
  constexpr int kMost = 4000;
  if (const auto known = icons->constFind(key); known != icons->constEnd()) return *known;
  if (icons->size() >= kMost) icons->clear();
  return *icons->insert(key, make());
}

QIcon made_swatch(const QColor& colour, bool clear) {
  QPixmap pixmap(22, 22);
  pixmap.fill(Qt::transparent);
  pixmap.setDevicePixelRatio(2);
  QPainter p(&pixmap);
  p.setRenderHint(QPainter::Antialiasing);
  const QRectF square(1, 1, 8.6, 8.6);
  p.setPen(Qt::NoPen);
  p.setBrush(colour);
  if (clear)
    p.drawPolygon(QPolygonF({square.topRight(), square.bottomRight(), square.bottomLeft()}));
  else
    p.drawRoundedRect(square, 1.8, 1.8);
  p.setPen(QPen(clear ? theme().soft : QColor(0, 0, 0, 70), 0.8));
  p.setBrush(Qt::NoBrush);
  p.drawRoundedRect(square, 1.8, 1.8);
  p.end();
  QIcon icon(pixmap);
  icon.addPixmap(pixmap, QIcon::Selected);  // a colour is not tinted by being picked
  return icon;
}

QIcon made_line_icon(const QString& name, const QColor& colour, int size) {
  const QString svg =
      QStringLiteral(
          "<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 17 17'><path d='%1' fill='none' stroke='%2' "
          "stroke-width='1.4' stroke-linecap='round' stroke-linejoin='round'/></svg>")
          .arg(icon_path(name), colour.name());
  QSvgRenderer renderer(svg.toUtf8());
  QIcon icon;
  for (const int scale : {1, 2}) {
    QPixmap pixmap(size * scale, size * scale);
    pixmap.fill(Qt::transparent);
    QPainter painter(&pixmap);
    renderer.render(&painter);
    pixmap.setDevicePixelRatio(scale);
    icon.addPixmap(pixmap);
  }
  return icon;
}

}  // namespace

void set_style(QWidget& widget, const QString& style) {
  if (widget.styleSheet() != style) widget.setStyleSheet(style);
}

QIcon swatch(const QColor& colour, bool clear) {
  const QString key = QString("swatch %1 %2 %3").arg(colour.rgba()).arg(clear).arg(theme().soft.rgba());
  return known_icon(key, [&] { return made_swatch(colour, clear); });
}

QIcon line_icon(const QString& name, const QColor& colour, int size) {
  const QString key = QString("%1 %2 %3").arg(name).arg(colour.rgba()).arg(size);
  return known_icon(key, [&] { return made_line_icon(name, colour, size); });
}

}  // namespace tack
