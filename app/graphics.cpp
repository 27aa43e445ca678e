#include "app/graphics.h"

#include <QApplication>
#include <QSurfaceFormat>

namespace tack {

void prepare_graphics() {
  QSurfaceFormat format;
  format.setVersion(3, 3);
  format.setProfile(QSurfaceFormat::CoreProfile);
  format.setDepthBufferSize(24);
  format.setStencilBufferSize(8);
  QSurfaceFormat::setDefaultFormat(format);
  QApplication::setAttribute(Qt::AA_ShareOpenGLContexts);
}

}  // namespace tack
