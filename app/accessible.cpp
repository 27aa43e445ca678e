#include "app/accessible.h"

#include <QAccessibleWidget>
#include <QWidget>
#include <array>

namespace tack {
namespace {

constexpr std::array<std::pair<const char*, QAccessible::Role>, 6> kRoles{{
    {"tack::Stage", QAccessible::Canvas},
    {"tack::SentenceBar", QAccessible::Grouping},
    {"tack::LoupeView", QAccessible::Graphic},
    {"tack::Tour", QAccessible::Grouping},
    {"tack::VerbRow", QAccessible::ToolBar},
    {"tack::PlacementPanel", QAccessible::Grouping},
}};

QAccessibleInterface* face_for(const QString& type, QObject* object) {
  auto* widget = qobject_cast<QWidget*>(object);
  if (!widget) return nullptr;
  for (const auto& [name, role] : kRoles)
    if (type == QLatin1String(name)) return new QAccessibleWidget(widget, role);
  return nullptr;
}

}  // namespace

void install_roles() { QAccessible::installFactory(face_for); }

}  // namespace tack
