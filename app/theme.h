// Colours, fonts and icons of the two themes.
#pragma once

#include <QColor>
#include <QFont>
#include <QIcon>

#include "draw/renderer.h"

namespace tack {

/// The roles of colour in the interface. From is always plum and To always teal, in both themes.
struct Theme {
  bool night = false;
  QColor paper, card, ink, soft, hair, field;
  QColor from, to, good, drifting, wrong;
  QColor on_to;  ///< text on a filled To
  QColor axis[3];
  DrawTheme draw;
};

const Theme& theme();
/// Changes the theme of the whole program: palette, style sheet, icons on their next paint.
void set_theme(bool night);

/// Loads the shipped fonts; call once after QApplication.
void load_fonts();
/// Text is so many percent of the system's size; widgets are told by the palette's and the font's own events.
void set_text_percent(int percent);
int text_percent();
/// The interface face at `factor` times the system's text size; the face for numbers likewise.
QFont ui_font(double factor = 1, QFont::Weight weight = QFont::Normal);
QFont number_font(double factor = 1);

/// Gives a widget a style sheet unless it has that one: Qt polishes everything below it anew even then.
void set_style(QWidget& widget, const QString& style);

/// A small square of a colour, for lists and menus; `clear`: with only its lower half filled, for what is see-through.
QIcon swatch(const QColor& colour, bool clear = false);
/// One of our line icons (theme.cpp), in a colour.
QIcon line_icon(const QString& name, const QColor& colour, int size = 17);

}  // namespace tack
