#include "app/stage/close_up.h"

#include "app/stage/stage.h"
#include "app/theme.h"

namespace tack {

CloseUp::CloseUp(Stage& stage, Renderer& renderer) : stage_(stage), picture_(renderer) {}

DrawFrame CloseUp::frame(bool finished) const {
  constexpr std::size_t kAtOnce = 25'000;  // triangles and edges: some 8 ms for a card that is none
  DrawFrame frame;
  frame.view = *view_;
  frame.items = stage_.items();
  frame.theme = theme().draw;
  frame.grid.shown = false;
  frame.cut_at_eye = true;
  frame.pixel_ratio = stage_.devicePixelRatioF();
  const bool smooth = finished || !stage_.moving_;
  frame.samples = smooth && stage_.memory_ == Stage::Memory::Plenty ? kStageSamples : 0;
  frame.off = 0;  // what is looked at closely is the mesh itself
  frame.most = finished ? 0 : kAtOnce;
  return frame;
}

void CloseUp::look(const View& view) {
  view_ = view;
  finished_ = false;
  picture_.drop();
  if (!stage_.created_) return;
  const DrawFrame now = frame(false);
  image_ = stage_.drawn(now);
  image_.setDevicePixelRatio(now.pixel_ratio);
  finished_ = now.samples > 0 && stage_.renderer_.drawn().off == 0;
  if (!finished_) stage_.finish_soon();
}

void CloseUp::look_away() {
  view_.reset();
  image_ = {};
  picture_.drop();
}

void CloseUp::outdate() {
  finished_ = false;
  picture_.drop();
}

void CloseUp::go_on(double milliseconds) {
  if (stage_.memory_ == Stage::Memory::None) return void(finished_ = true);
  const DrawFrame now = frame(true);
  const auto width = static_cast<int>(now.view.width), height = static_cast<int>(now.view.height);
  if (!picture_.begun()) picture_.begin(std::span(&now, 1), width, height);
  if (!picture_.go_on(milliseconds)) return;
  const auto pixels = picture_.to_memory();
  if (!pixels.empty()) {
    image_ = QImage(pixels.data(), width, height, width * 4, QImage::Format_RGBA8888).copy();
    image_.setDevicePixelRatio(now.pixel_ratio);
  }
  finished_ = true;
  emit refined();
}

}  // namespace tack
