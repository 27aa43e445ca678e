// The one renderer: it draws the stage, the loupe and pictures without a window. It knows nothing of verbs or widgets.
// What takes longer than a frame it draws in slices: see sliced_picture.h.
#pragma once

#include <array>
#include <memory>
#include <optional>
#include <span>
#include <string>
#include <vector>

#include "core/scene/scene.h"
#include "core/view/grid_look.h"
#include "core/view/view.h"
#include "draw/mesh_arrays.h"

namespace tack {

/// Colours of a theme, sRGB.
struct DrawTheme {
  Colour mist_top, mist_bottom;  ///< the background, from top to bottom
  Colour grid, grid_strong;
  Colour sheet;     ///< the border of a plane in use
  Colour edge;      ///< feature edges
  Colour outline;   ///< around what is picked
  Colour ghost;     ///< parts shown where they would end up
  float shade = 1;  ///< brightness of parts
  /// Of faces that point to the world's right (+x), left, back (+y), front, up (+z) and down, and of those that are
  /// seen from behind, which are hatched with it.
  std::array<Colour, 6> facing;
  Colour behind;
};
DrawTheme day_theme();
DrawTheme night_theme();

/// Facing: faces have the colours of the directions they point in, mixed by the squares of the normal's parts; those
/// seen from behind are hatched.
enum class DrawStyle { Shaded, SeeThrough, EdgesOnly, Facing };

/// A part to be drawn.
struct DrawItem {
  MeshPtr mesh;
  Affine world;
  const std::vector<Colour>* colours = nullptr;  ///< one for each primitive; must outlive the call
  bool picked = false;
  bool ghost = false;  ///< see-through, in the theme's ghost colour
  bool see_through = false;
};

/// The grid of a plane, and the plane's sheet.
struct DrawGrid {
  bool shown = true;
  Affine frame;                ///< the plane's, to the world
  double step = 0;             ///< mm between lines; 0: as the zoom asks for
  int strong = 10;             ///< of how many lines one is a strong one
  Vec3 centre;                 ///< about where it is drawn: a point of the plane (world)
  std::optional<Sheet> sheet;  ///< how far it goes; none: as far as the view shows
  bool border = false;         ///< the sheet has a hatched border
};

struct DrawFrame {
  View view;
  std::span<const DrawItem> items;
  DrawTheme theme;
  DrawStyle style = DrawStyle::Shaded;
  DrawGrid grid;
  double pixel_ratio = 1;   ///< lines get thicker by it
  bool cut_at_eye = false;  ///< parallel views: nothing in front of the eye is drawn (a close-up looks into the scene)
  int samples = 0;          ///< for each pixel; 0 while things move
  double off = 0.5;         ///< pixels by which parts may be off where they are drawn coarser; 0: none is
  /// Triangles and edges that are drawn at most, by letting `off` grow, but no further than `most_off`; 0: all.
  std::size_t most = 0;
  double most_off = 16;
  /// Where even with that more than `most` would be drawn: edges of small parts (under 60 pixels) that lie closer
  /// together than so many pixels, in the mean over the part, are drawn as the tone that they give its faces. 0: none
  /// are.
  double toned_below = 0;
  int left = 0, bottom = 0;  ///< where in the framebuffer the picture begins, in its pixels
};

/// Needs a current OpenGL 3.3 core context in every call, the same or one that shares with it; vertex arrays are made
/// for the context of create().
class Renderer {
 public:
  Renderer();
  ~Renderer();  ///< everything must have been released, or the context be gone
  Renderer(const Renderer&) = delete;
  Renderer& operator=(const Renderer&) = delete;

  /// Compiles what is needed; returns what is wrong, or an empty text.
  std::string create();
  /// Draws a little of everything aside, a piece with each call, so that the driver translates its programs before a
  /// picture waits for them: some 20 ms each on a card that is none. False once nothing is left to do.
  bool warm_up();
  /// Frees everything on the card.
  void release();

  bool has(const Mesh& mesh) const;
  /// Gives a mesh's arrays to the card; kept until the mesh is gone from memory. Without levels it is drawn as a box.
  void upload(const MeshPtr& mesh, const MeshArrays& arrays);
  /// Frees the arrays of meshes that no longer exist.
  void drop_gone();

  /// Draws into `framebuffer` (0: the default one), of view.width × view.height pixels. Meshes that have not been
  /// uploaded are drawn as nothing.
  void draw(const DrawFrame& frame, unsigned framebuffer);

  /// What the last draw() was made of.
  struct Drawn {
    std::size_t draw_calls = 0, triangles = 0, edges = 0, parts = 0;
    std::size_t bytes = 0;  ///< that were handed to the card for it
    double off = 0;         ///< pixels
  };
  const Drawn& drawn() const;

  /// The same into memory: rows from the top, 4 bytes (RGBA) a pixel.
  std::vector<unsigned char> draw_to_memory(const DrawFrame& frame);

 private:
  friend class SlicedPicture;
  struct Card;
  struct WarmUp;
  std::unique_ptr<Card> card_;
  std::unique_ptr<WarmUp> warm_up_;
};

}  // namespace tack
