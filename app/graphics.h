// What the window asks of OpenGL.
#pragma once

namespace tack {

/// Asks for OpenGL 3.3 core with depth and stencil, shared by all windows. Call it before QApplication is made.
void prepare_graphics();

}  // namespace tack
