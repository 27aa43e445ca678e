#include "app/preferences.h"

#include <QApplication>
#include <QPalette>
#include <QSettings>
#include <QStyle>
#include <algorithm>
#include <cmath>

namespace tack {
namespace {

struct StepSetting {
  const char* name;
  Increment Increments::*member;
};
constexpr StepSetting kStepSettings[] = {
    {"length", &Increments::length}, {"angle", &Increments::angle}, {"factor", &Increments::factor}};

// A setting may have been written by hand: what makes no sense is as if it were not there.
double number(const QSettings& settings, const QString& key, double otherwise, double low, double high) {
  bool ok = false;
  const double value = settings.value(key).toDouble(&ok);
  return ok && std::isfinite(value) && value >= low && value <= high ? value : otherwise;
}

}  // namespace

Preferences load_preferences() {
  const QSettings settings;
  Preferences p;
  const QString unit = settings.value("unit", p.unit).toString();
  if (length_unit(unit.toStdString())) p.unit = unit;
  p.decimals = static_cast<int>(number(settings, "decimals", p.decimals, 0, 9));
  p.touch = number(settings, "touch", p.touch, 1e-9, 1000);
  p.catch_radius = static_cast<int>(number(settings, "catch radius", p.catch_radius, 2, 60));
  p.text_percent = static_cast<int>(number(settings, "text percent", p.text_percent, 75, 200));
  p.remembers = settings.value("remembers", p.remembers).toBool();
  p.along_plane = settings.value("drags along the plane", p.along_plane).toBool();
  p.keeps_steps = settings.value("documents keep their steps", p.keeps_steps).toBool();
  p.nudges = settings.value("handles while picking", p.nudges).toBool();
  const QString theme = settings.value("theme", settings.value("night", false).toBool() ? "night" : "day").toString();
  p.theme = theme == "night"    ? Preferences::Theme::Night
            : theme == "system" ? Preferences::Theme::System
                                : Preferences::Theme::Day;
  p.increments.on = settings.value("increments/on", p.increments.on).toBool();
  for (const auto& [name, member] : kStepSettings) {
    Increment& increment = p.increments.*member;
    increment.step = number(settings, QString("increments/") + name, increment.step, 1e-9, 1e9);
    increment.from =
        settings.value(QString("increments/") + name + " from zero", increment.from == LandsFrom::Zero).toBool()
            ? LandsFrom::Zero
            : LandsFrom::Here;
  }
  return p;
}

void save_preferences(const Preferences& p) {
  QSettings settings;
  settings.setValue("unit", p.unit);
  settings.setValue("decimals", p.decimals);
  settings.setValue("touch", p.touch);
  settings.setValue("catch radius", p.catch_radius);
  settings.setValue("text percent", p.text_percent);
  settings.setValue("remembers", p.remembers);
  settings.setValue("drags along the plane", p.along_plane);
  settings.setValue("documents keep their steps", p.keeps_steps);
  settings.setValue("handles while picking", p.nudges);
  settings.setValue("theme", p.theme == Preferences::Theme::Night    ? "night"
                             : p.theme == Preferences::Theme::System ? "system"
                                                                     : "day");
  settings.remove("night");
  settings.setValue("increments/on", p.increments.on);
  for (const auto& [name, member] : kStepSettings) {
    settings.setValue(QString("increments/") + name, (p.increments.*member).step);
    settings.setValue(QString("increments/") + name + " from zero", (p.increments.*member).from == LandsFrom::Zero);
  }
}

bool is_night(const Preferences& p) {
  if (p.theme != Preferences::Theme::System) return p.theme == Preferences::Theme::Night;
  // The style's own palette, before ours is laid over it.
  static const bool dark = QApplication::style()->standardPalette().color(QPalette::Window).lightness() < 128;
  return dark;
}

}  // namespace tack
