// What the artist has chosen once for all documents; kept in the settings.
#pragma once

#include <QString>

#include "core/entry/units.h"
#include "core/hands/increments.h"

namespace tack {

struct Preferences {
  QString unit = "mm";    ///< of new scenes
  int decimals = 4;       ///< of lengths, at most
  double touch = 0.01;    ///< mm: up to there two places touch
  Increments increments;  ///< that drags begin with
  int catch_radius = 10;  ///< pixels from the pointer
  enum class Theme { Day, Night, System } theme = Theme::Day;
  int text_percent = 100;    ///< of the system's text size
  bool remembers = false;    ///< meetings are remembered as ties
  bool along_plane = false;  ///< free drags go along the plane in use, not across the view
  bool keeps_steps = true;   ///< documents keep the steps that led to them
  bool nudges = false;       ///< what is picked has small handles while nothing but picking is chosen

  friend bool operator==(const Preferences&, const Preferences&) = default;
};

Preferences load_preferences();
void save_preferences(const Preferences& preferences);
/// Whether the night theme is to be shown; System: whether the system's own window colour is dark.
bool is_night(const Preferences& preferences);

}  // namespace tack
