// A picture that is drawn aside, a slice at a time, while another is shown: between two slices any event comes first.
#pragma once

#include "draw/renderer.h"

namespace tack {

struct CardPicture;

/// Several may be under way with one renderer. Calls need the renderer's context, but for the constructor, drop() and
/// the destructor.
class SlicedPicture {
 public:
  /// The renderer must outlive it.
  explicit SlicedPicture(Renderer& renderer);
  ~SlicedPicture();
  SlicedPicture(const SlicedPicture&) = delete;
  SlicedPicture& operator=(const SlicedPicture&) = delete;

  /// Begins a picture of one or several views. `width` × `height` is the whole framebuffer in which the frames lie, in
  /// pixels; beside them it keeps what it had, unless its size or their `samples` change. What the frames point at must
  /// live until it is done or dropped. Of many solid parts, where they may be drawn coarser, it is first found which
  /// are seen, on a picture with one sample a pixel and as coarse as twice `off` or as the limit asks; the others are
  /// not drawn, unless they are picked and something that is not stands before them.
  void begin(std::span<const DrawFrame> frames, int width, int height);
  /// Goes on for about so many milliseconds, by the card's own clock; true when it is done, or was never begun.
  bool go_on(double milliseconds);
  /// Forgets it: what it was begun of is no longer so. A renderer that is given another mesh, or lets go of one, drops
  /// its pictures by itself; not the finished ones where the mesh only gets its coarser levels.
  void drop();
  bool begun() const;  ///< also once it is done
  bool done() const;

  /// Shows it, once it is done, in a framebuffer of its size (0: the default one).
  void show(unsigned framebuffer) const;
  /// Shows what it had, when it was done last, where `frame` lies: for views that have not changed since, beside others
  /// that have.
  void show_kept(const DrawFrame& frame, unsigned framebuffer) const;
  /// Its pixels, as Renderer::draw_to_memory() has them; empty before it is done.
  std::vector<unsigned char> to_memory() const;
  /// What it is made of; of several views all together.
  const Renderer::Drawn& drawn() const;

 private:
  using Card = Renderer::Card;

  Renderer& renderer_;
  std::unique_ptr<CardPicture> picture_;
};

}  // namespace tack
