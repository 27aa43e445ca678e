#include "app/stage/close_up.h"

#include "app/stage/stage.h"
#include "app/theme.h"

namespace tack {

CloseUp::CloseUp(Stage& stage, Renderer& renderer) : stage_(stage), picture_(renderer) {}

DrawFrame CloseUp::frame(bool finished) const {
  constexpr std::size_t kAtOnce = 5'000;  // triangles and edges: 5 ms for a card that is none, 20 of long slivers
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
  frame.most_off = 2;
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
  finished_ = !image_.isNull() && now.samples > 0 && stage_.renderer_.drawn().off == 0;
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
  const auto width = static_cast<int>(view_->width), height = static_cast<int>(view_->height);
  if (!picture_.begun()) {
    const DrawFrame now = frame(true);
    picture_.begin(std::span(&now, 1), width, height);
  }
  if (!picture_.go_on(milliseconds)) return;
  image_ = Stage::image_of(picture_.to_memory(), width, height);
  image_.setDevicePixelRatio(stage_.devicePixelRatioF());
  finished_ = true;
  emit refined();
}

}  // namespace tack
