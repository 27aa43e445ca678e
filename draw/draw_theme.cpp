// The colours of both themes; declared in renderer.h.
#include "draw/renderer.h"

namespace tack {
namespace {

// Opposite directions differ by how light they are, neighbours by hue: told apart without seeing colours, too.
constexpr std::array<Colour, 6> kFacing{{{0.56f, 0.71f, 0.80f, 1},
                                         {0.27f, 0.33f, 0.48f, 1},
                                         {0.34f, 0.45f, 0.37f, 1},
                                         {0.80f, 0.60f, 0.53f, 1},
                                         {0.92f, 0.87f, 0.69f, 1},
                                         {0.38f, 0.29f, 0.21f, 1}}};
constexpr Colour kBehind{0.70f, 0.23f, 0.18f, 1};

}  // namespace

DrawTheme day_theme() {
  return {{0.949f, 0.941f, 0.918f, 1},
          {0.855f, 0.882f, 0.875f, 1},
          {0.63f, 0.60f, 0.53f, 0.42f},
          {0.45f, 0.44f, 0.41f, 0.60f},
          {0.133f, 0.192f, 0.227f, 0.55f},
          {0.133f, 0.192f, 0.227f, 0.72f},
          {0.133f, 0.192f, 0.227f, 1},
          {0.608f, 0.173f, 0.435f, 0.34f},
          1,
          kFacing,
          kBehind};
}

DrawTheme night_theme() {
  return {{0.169f, 0.212f, 0.239f, 1},
          {0.122f, 0.157f, 0.180f, 1},
          {0.42f, 0.49f, 0.53f, 0.40f},
          {0.55f, 0.62f, 0.66f, 0.60f},
          {0.89f, 0.92f, 0.92f, 0.5f},
          {0.89f, 0.92f, 0.92f, 0.62f},
          {0.93f, 0.95f, 0.95f, 1},
          {0.878f, 0.541f, 0.729f, 0.36f},
          0.66f,
          kFacing,
          kBehind};
}

}  // namespace tack
