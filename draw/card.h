// What the renderer keeps on the card, and the jobs that a frame is drawn in. For the renderer's own sources alone.
#pragma once

#include <epoxy/gl.h>

#include <iterator>
#include <unordered_map>

#include "draw/card_pace.h"
#include "draw/frame_plan.h"
#include "draw/grid_lines.h"
#include "draw/renderer.h"

namespace tack {

struct CardProgram {
  GLuint id = 0;
  // Looked up once for each place in the code that names it: the driver compares strings.
  mutable std::unordered_map<const char*, GLint> known;
  GLint at(const char* name) const {
    const auto [place, fresh] = known.try_emplace(name, 0);
    if (fresh) place->second = glGetUniformLocation(id, name);
    return place->second;
  }
};

// Edges lie in buffers that shaders read by number; a card may limit how long one is.
struct EdgeBuffer {
  GLuint buffer = 0, texture = 0;
  std::uint32_t first = 0, count = 0;
};

struct GpuMesh {
  std::weak_ptr<const Mesh> mesh;
  GLuint vertices = 0, indices = 0, faces_array = 0;
  bool few = false;  // vertices: an index has two bytes
  std::vector<EdgeBuffer> edges;
  KnownMesh known;
};

// A target to draw into, with or without several samples a pixel.
struct CardTarget {
  GLuint framebuffer = 0, colour = 0, depth = 0;
  int width = 0, height = 0, samples = -1;
};

// The shape of what is picked, from which its outline is drawn.
struct CardMask {
  GLuint framebuffer = 0, texture = 0;
  int width = 0, height = 0;
};

// What a picture is drawn into and with. Each has its own, for jobs of one come between those of another.
struct CardCanvas {
  GLuint framebuffer = 0;
  CardMask mask;
  CardTarget numbers;  // the numbers of the parts that are seen
  Renderer::Drawn drawn;
};

// The first of indices, or edges, and how many there are.
using CardRange = std::array<std::uint32_t, 2>;

// Three times four corners, in eye coordinates.
using CardFront = std::array<std::array<float, 3>, 12>;

// A run of a part, drawn where it shows: what is nearer may hide it.
struct CardPiece {
  std::uint32_t first = 0, count = 0;  // indices, or edges
  bool asks = false;                   // whether it shows is asked before it is drawn
  bool hidden = false;                 // the answer, once it is known
  GLuint query = 0;
};

// What a frame is drawn in, one after another. Each job sets all that it needs, so that it can wait for the next slice.
// Numbers and Mask of no part clear what the others draw into.
struct CardJob {
  enum class Kind {
    Begin,
    Numbers,
    NumberEdges,
    Ask,
    Faces,
    Grid,
    Edges,
    Mask,
    Outline,
    PickedEdges,
    Ghosts,
    GhostEdges
  };
  Kind kind = Kind::Begin;
  std::uint32_t batch = 0;
  std::uint32_t part = 0, parts = 0;   // of the batch
  std::uint32_t first = 0, count = 0;  // indices of one primitive, or edges of the mesh
  std::uint32_t primitive = 0;
  std::uint32_t first_piece = 0, pieces = 0;  // asked about; or drawn, and none: all of the above. `count` is their sum
  // In triangles: about what it costs, with what the card needs for each part.
  std::size_t work() const { return std::size_t{parts} * (count / 3 + 100) + 100; }
};

// A frame that is being drawn: the settings, without what they point at, its plan and its jobs.
struct CardFrame {
  DrawFrame settings;
  FramePlan plan;
  std::vector<GridLine> grid;
  std::vector<CardJob> jobs;
  // The plan's parts, each buffer as long as shaders may read one; and its colours.
  struct Parts {
    GLuint buffer = 0, texture = 0;
    std::uint32_t first = 0, count = 0;
  };
  std::vector<Parts> parts;
  GLuint colours = 0, corners = 0;
  // Of heavy meshes in a close-up; and for each the front of its box.
  std::vector<CardPiece> pieces;
  std::vector<CardFront> fronts;
  GLuint fronts_buffer = 0;
  bool looks = false;  // its jobs find out which parts are seen; then it is drawn
  const Parts& parts_with(std::uint32_t part) const;
};

// A picture that is drawn in slices.
struct CardPicture {
  CardTarget target;
  CardCanvas canvas;
  std::vector<CardFrame> frames;
  std::size_t at_frame = 0, at_job = 0;  // where it has come to
  bool begun = false, done = false;
};

// Some hundredth of a second of work each, for a card that is none.
inline constexpr std::uint32_t kIndicesOfBox = kCornersOfBox / 4 * 6, kBoxesTogether = 3'000;
inline constexpr std::size_t kJobTriangles = 20'000;

struct Renderer::Card {
  CardProgram faces, facing_faces, small_faces, numbers, facing_boxes, small_boxes, loose_lines, edges, thin_edges,
      background, mask, box_mask, outline;
  GLuint empty_array = 0, loose_buffer = 0, loose_array = 0, box_array = 0, box_corners = 0;
  int most_texels = 65536;
  std::unordered_map<const Mesh*, GpuMesh> meshes;
  CardTarget many, one;
  CardCanvas at_once;                  // of pictures that are drawn in one call
  FramePlan used;                      // its memory is taken for the next plan of such a picture
  std::vector<CardPicture*> pictures;  // those that are drawn in slices
  // Dropped, to be freed when the context is there.
  std::vector<CardFrame> old_frames;
  std::vector<CardPicture> old_pictures;
  MeshPtr sample;  // drawn by warm_up()
  int warmed = 0;  // pictures of it
  CardPace pace;

  static void resize(CardTarget& t, int width, int height, int samples) {
    if (t.framebuffer && t.width == width && t.height == height && t.samples == samples) return;
    free(t);
    t = {0, 0, 0, width, height, samples};
    glGenFramebuffers(1, &t.framebuffer);
    glGenRenderbuffers(1, &t.colour);
    glGenRenderbuffers(1, &t.depth);
    glBindFramebuffer(GL_FRAMEBUFFER, t.framebuffer);
    glBindRenderbuffer(GL_RENDERBUFFER, t.colour);
    glRenderbufferStorageMultisample(GL_RENDERBUFFER, samples, GL_RGBA8, width, height);
    glFramebufferRenderbuffer(GL_FRAMEBUFFER, GL_COLOR_ATTACHMENT0, GL_RENDERBUFFER, t.colour);
    glBindRenderbuffer(GL_RENDERBUFFER, t.depth);
    glRenderbufferStorageMultisample(GL_RENDERBUFFER, samples, GL_DEPTH24_STENCIL8, width, height);
    glFramebufferRenderbuffer(GL_FRAMEBUFFER, GL_DEPTH_STENCIL_ATTACHMENT, GL_RENDERBUFFER, t.depth);
  }

  static void resize(CardMask& m, int width, int height) {
    if (m.framebuffer && m.width == width && m.height == height) return;
    free(m);
    m.width = width, m.height = height;
    glGenFramebuffers(1, &m.framebuffer);
    glGenTextures(1, &m.texture);
    glBindTexture(GL_TEXTURE_2D, m.texture);
    glTexImage2D(GL_TEXTURE_2D, 0, GL_R8, width, height, 0, GL_RED, GL_UNSIGNED_BYTE, nullptr);
    glTexParameteri(GL_TEXTURE_2D, GL_TEXTURE_MIN_FILTER, GL_NEAREST);
    glTexParameteri(GL_TEXTURE_2D, GL_TEXTURE_MAG_FILTER, GL_NEAREST);
    glBindFramebuffer(GL_FRAMEBUFFER, m.framebuffer);
    glFramebufferTexture2D(GL_FRAMEBUFFER, GL_COLOR_ATTACHMENT0, GL_TEXTURE_2D, m.texture, 0);
  }

  static void free(CardMask& m) {
    if (m.framebuffer) glDeleteFramebuffers(1, &m.framebuffer);
    if (m.texture) glDeleteTextures(1, &m.texture);
    m = {};
  }

  static void free(CardTarget& t) {
    if (!t.framebuffer) return;
    glDeleteFramebuffers(1, &t.framebuffer);
    glDeleteRenderbuffers(1, &t.colour);
    glDeleteRenderbuffers(1, &t.depth);
    t = {};
  }

  static void free(GpuMesh& m) {
    for (GLuint* buffer : {&m.vertices, &m.indices}) glDeleteBuffers(1, buffer);
    for (EdgeBuffer& e : m.edges) {
      glDeleteTextures(1, &e.texture);
      glDeleteBuffers(1, &e.buffer);
    }
    glDeleteVertexArrays(1, &m.faces_array);
  }

  static void free(CardFrame& f) {
    for (CardFrame::Parts& p : f.parts) {
      glDeleteTextures(1, &p.texture);
      glDeleteBuffers(1, &p.buffer);
    }
    for (CardPiece& piece : f.pieces)
      if (piece.query) glDeleteQueries(1, &piece.query);
    for (GLuint* buffer : {&f.colours, &f.corners, &f.fronts_buffer})
      if (*buffer) glDeleteBuffers(1, buffer), *buffer = 0;
    f.parts.clear();
    f.pieces.clear();
  }

  const KnownMesh* known(const Mesh& mesh) const {
    const auto found = meshes.find(&mesh);
    // Another mesh may have come to lie where one that is gone was.
    return found == meshes.end() || found->second.mesh.expired() ? nullptr : &found->second.known;
  }

  static void free(CardPicture& p) {
    for (CardFrame& frame : p.frames) free(frame);
    free(p.target);
    free(p.canvas.mask);
    free(p.canvas.numbers);
    p = {};
  }

  // Forgets what it was begun of; needs no context.
  void drop(CardPicture& p) {
    std::move(p.frames.begin(), p.frames.end(), std::back_inserter(old_frames));
    p.frames.clear();
    p.at_frame = p.at_job = 0;
    p.begun = p.done = false;
  }

  void free_old() {
    for (CardFrame& frame : old_frames) free(frame);
    for (CardPicture& picture : old_pictures) free(picture);
    old_frames.clear();
    old_pictures.clear();
  }

  CardFrame prepare(const DrawFrame& settings, Drawn& drawn, const std::vector<bool>& hidden = {},
                    FramePlan spent = {}) const;
  void hand_over(CardFrame& frame, const std::vector<Colour>& colours, Drawn& drawn) const;
  // A frame that first finds out what is seen, where that is worth it; and its second half.
  CardFrame look(const DrawFrame& settings, Drawn& drawn) const;
  void draw_what_is_seen(CardFrame& frame, CardCanvas& canvas) const;
  void draw_numbers(const CardFrame& frame, const CardJob& job, CardCanvas& canvas) const;
  void add_faces(CardFrame& frame, CardJob::Kind kind, std::uint32_t batch, std::uint32_t parts) const;
  // Of `parts` of the batch, from `first` on.
  void add_edges(CardFrame& frame, CardJob::Kind kind, std::uint32_t batch, std::uint32_t first,
                 std::uint32_t parts) const;
  // Of heavy meshes as they are, part by part, what may be in the picture; false where that is not worth it.
  bool add_runs(CardFrame& frame, CardJob::Kind kind, std::uint32_t batch, std::uint32_t first, std::uint32_t parts,
                bool of_edges) const;
  // In a close-up that shows meshes as they are: runs of the faces, or edges, of heavy meshes, the nearest first; most
  // are asked about before they are drawn. See card_hidden.cpp.
  bool asks_about(const CardFrame& frame, const Batch& batch) const;
  void add_asked_faces(CardFrame& frame) const;
  void add_asked_edges(CardFrame& frame, std::uint32_t batch, std::uint32_t first, std::uint32_t parts) const;
  void add_piece(CardFrame& frame, const PartOnCard& part, const MeshArrays::Run& run, const EyeBox& box, double reach,
                 bool asks) const;
  static void add_jobs_of_pieces(CardFrame& frame, std::uint32_t first_piece, const std::vector<CardJob>& jobs);
  void hand_over_fronts(CardFrame& frame, Drawn& drawn) const;
  void ask(CardFrame& frame, const CardJob& job) const;
  // What of a job is drawn. Waits for the answers, if there are any to come.
  static std::vector<CardRange> shown(CardFrame& frame, const CardJob& job);
  static bool waits_for_answers(const CardFrame& frame, const CardJob& job);
  void run(CardFrame& frame, const CardJob& job, CardCanvas& canvas) const;
  void split_by_buffer(CardFrame& frame, CardJob job) const;
  void read_parts(const CardProgram& program, const CardFrame& frame, std::uint32_t part) const;
  void parts_from(const CardFrame& frame, std::uint32_t part) const;
  // Gives a program that is in use the frame's projection.
  static void project(const CardProgram& program, const CardFrame& frame);
  void draw_faces(const CardFrame& frame, const CardJob& job, std::span<const CardRange> ranges) const;
  // In `colour`, or with none each part's first, as lines of one pixel.
  void draw_edges(const CardFrame& frame, const CardJob& job, std::span<const CardRange> ranges, float width,
                  const Colour* colour, float pixels) const;
  void lines(const CardProgram& program, const CardFrame& frame, float width, float pixels) const;
  void draw_grid(const CardFrame& frame) const;
  void draw_mask(const CardFrame& frame, const CardJob& job, CardMask& into) const;
  void draw_outline(const CardFrame& frame, const CardMask& of) const;

  // Leaves the state as whoever else draws in this context expects it.
  static void leave();
  // Shows a rectangle of a target, in pixels from the lower left corner, in the same place of a framebuffer.
  static void show(const CardTarget& from, int left, int bottom, int right, int top, GLuint framebuffer);
  // The pixels of a framebuffer, rows from the top, 4 bytes (RGBA) each.
  static std::vector<unsigned char> pixels_of(GLuint framebuffer, int width, int height);
  static GLuint bound_framebuffer();
};

}  // namespace tack
