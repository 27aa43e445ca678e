// A picture that nobody sees; for the renderer's own sources alone.
#pragma once

#include "draw/card.h"
#include "draw/sliced_picture.h"

namespace tack {

// A small cube, in one run as if it were heavy: a close-up asks whether it shows. Null without memory.
MeshPtr sample_mesh();
MeshArrays sample_arrays(const Mesh& cube);

struct Renderer::WarmUp {
  MeshPtr sample;
  std::vector<Colour> colours{{}};
  std::vector<DrawItem> items;
  SlicedPicture picture;

  WarmUp(Renderer& renderer, MeshPtr mesh) : sample(std::move(mesh)), picture(renderer) {}
  // Of the pictures that are needed this one.
  void begin(int number);
};

}  // namespace tack
