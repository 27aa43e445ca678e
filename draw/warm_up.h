// A picture that nobody sees; for the renderer's own sources alone.
#pragma once

#include "draw/card.h"
#include "draw/sliced_picture.h"

namespace tack {

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
