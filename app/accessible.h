// Roles of our own widgets, as a screen reader is told them.
#pragma once

namespace tack {

/// To be called once, before the first window is made.
void install_roles();

}  // namespace tack
