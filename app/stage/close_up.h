// A close look at a place, drawn by the stage's renderer from the scene that the stage shows.
#pragma once

#include <QImage>
#include <QObject>
#include <optional>

#include "core/view/view.h"
#include "draw/sliced_picture.h"

namespace tack {

class Stage;

/// Meshes of few triangles are shown as they are, heavy ones coarser at first, two pixels off at most; and as they are,
/// and smooth, once things rest. That is drawn in slices, after the stage's own finished picture, and anew
/// when what the stage shows has changed.
class CloseUp : public QObject {
  Q_OBJECT

 public:
  /// Of a stage, which owns it.
  CloseUp(Stage& stage, Renderer& renderer);

  /// Looks at something, in device pixels; what stands before the eye is cut away. A picture is there when it returns,
  /// but before OpenGL is there, and with too little memory.
  void look(const View& view);
  /// At nothing.
  void look_away();
  const std::optional<View>& view() const { return view_; }
  /// Null while it looks at nothing; as wide as the view in device pixels, and has the stage's pixel ratio.
  const QImage& image() const { return image_; }
  /// Whether the picture shows the meshes as they are, and will not change by itself.
  bool is_finished() const { return !view_ || finished_; }

 signals:
  void refined();  ///< the picture is another than at once

 private:
  friend class Stage;
  DrawFrame frame(bool finished) const;
  // The stage's calls. What was drawn is no longer so: it is drawn anew when things rest.
  void outdate();
  // Draws a slice of what is not finished, in the stage's context.
  void go_on(double milliseconds);

  Stage& stage_;
  std::optional<View> view_;
  QImage image_;
  bool finished_ = false;
  SlicedPicture picture_;
};

}  // namespace tack
