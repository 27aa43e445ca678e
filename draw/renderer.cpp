#include "draw/renderer.h"

#include <epoxy/gl.h>

#include <unordered_map>

#include "draw/grid_lines.h"
#include "draw/shaders.h"

namespace tack {
namespace {

using Mat4 = std::array<float, 16>;  // columns one after another

struct Program {
  GLuint id = 0;
  // Looked up once for each place in the code that names it: the driver compares strings.
  mutable std::unordered_map<const char*, GLint> known;
  GLint at(const char* name) const {
    const auto [place, fresh] = known.try_emplace(name, 0);
    if (fresh) place->second = glGetUniformLocation(id, name);
    return place->second;
  }
};

struct GpuMesh {
  std::weak_ptr<const Mesh> mesh;
  GLuint vertices = 0, indices = 0, edges = 0, faces_array = 0, edges_array = 0;
  GLsizei edge_count = 0;
  std::vector<Primitive> primitives;
  Vec3 origin;
  float radius = 0;
};

// A target to draw into, with or without several samples a pixel.
struct Target {
  GLuint framebuffer = 0, colour = 0, depth = 0;
  int width = 0, height = 0, samples = -1;
};

GLuint compile(GLenum kind, const char* source, std::string& error) {
  const GLuint shader = glCreateShader(kind);
  glShaderSource(shader, 1, &source, nullptr);
  glCompileShader(shader);
  GLint ok = 0;
  glGetShaderiv(shader, GL_COMPILE_STATUS, &ok);
  if (!ok) {
    std::array<char, 1000> log{};
    glGetShaderInfoLog(shader, static_cast<GLsizei>(log.size()), nullptr, log.data());
    error = log.data();
  }
  return shader;
}

Program link(const char* vertex, const char* fragment, std::string& error) {
  const GLuint v = compile(GL_VERTEX_SHADER, vertex, error), f = compile(GL_FRAGMENT_SHADER, fragment, error);
  Program program{glCreateProgram()};
  glAttachShader(program.id, v);
  glAttachShader(program.id, f);
  glLinkProgram(program.id);
  glDeleteShader(v);
  glDeleteShader(f);
  GLint ok = 0;
  glGetProgramiv(program.id, GL_LINK_STATUS, &ok);
  if (!ok && error.empty()) error = "The shaders of this OpenGL cannot be linked.";
  return program;
}

// From eye coordinates to clip coordinates; near and far in mm along the line of sight.
std::array<double, 16> projection_of(const View& view, double near, double far) {
  std::array<double, 16> m{};
  const double sx = 2 * view.pixels_per_unit / view.width, sy = 2 * view.pixels_per_unit / view.height;
  m[0] = sx;
  m[5] = sy;
  if (view.perspective) {
    m[10] = -(far + near) / (far - near);
    m[11] = -1;
    m[14] = -2 * far * near / (far - near);
  } else {
    m[10] = -2 / (far - near);
    m[14] = -(far + near) / (far - near);
    m[15] = 1;
  }
  return m;
}

// projection × (model in eye coordinates), multiplied in double and only then made float.
Mat4 to_clip(const std::array<double, 16>& p, const Mat3& linear, const Vec3& offset) {
  const auto column = [&](const Vec3& v, double w, int c, Mat4& out) {
    for (int r = 0; r < 4; ++r) {
      const auto i = static_cast<std::size_t>(r);
      out[static_cast<std::size_t>(c) * 4 + i] =
          static_cast<float>(p[i] * v.x + p[4 + i] * v.y + p[8 + i] * v.z + p[12 + i] * w);
    }
  };
  Mat4 out{};
  for (int c = 0; c < 3; ++c) column(linear.column[static_cast<std::size_t>(c)], 0, c, out);
  column(offset, 1, 3, out);
  return out;
}

// Opposite directions differ by how light they are, neighbours by hue: told apart without seeing colours, too.
constexpr std::array<Colour, 6> kFacing{{{0.56f, 0.71f, 0.80f, 1},
                                         {0.27f, 0.33f, 0.48f, 1},
                                         {0.34f, 0.45f, 0.37f, 1},
                                         {0.80f, 0.60f, 0.53f, 1},
                                         {0.92f, 0.87f, 0.69f, 1},
                                         {0.38f, 0.29f, 0.21f, 1}}};
constexpr Colour kBehind{0.70f, 0.23f, 0.18f, 1};

void set_colour(GLint at, const Colour& c) { glUniform4f(at, c.r, c.g, c.b, c.a); }

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

struct Renderer::Card {
  Program faces, lines, background;
  GLuint background_array = 0, loose_lines = 0, loose_array = 0;
  std::unordered_map<const Mesh*, GpuMesh> meshes;
  Target many, one;

  void resize(Target& t, int width, int height, int samples) {
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

  static void free(Target& t) {
    if (!t.framebuffer) return;
    glDeleteFramebuffers(1, &t.framebuffer);
    glDeleteRenderbuffers(1, &t.colour);
    glDeleteRenderbuffers(1, &t.depth);
    t = {};
  }

  static void free(GpuMesh& m) {
    for (GLuint* buffer : {&m.vertices, &m.indices, &m.edges}) glDeleteBuffers(1, buffer);
    for (GLuint* array : {&m.faces_array, &m.edges_array}) glDeleteVertexArrays(1, array);
  }

  // Binds a buffer of lines to attributes 0 and 1 (and 2 for colours), one line for each instance.
  static void line_attributes(GLsizei stride, bool coloured) {
    for (GLuint i = 0; i < 2; ++i) {
      glEnableVertexAttribArray(i);
      glVertexAttribPointer(i, 3, GL_FLOAT, GL_FALSE, stride, reinterpret_cast<const void*>(std::size_t{12} * i));
      glVertexAttribDivisor(i, 1);
    }
    if (!coloured) return;
    glEnableVertexAttribArray(2);
    glVertexAttribPointer(2, 4, GL_FLOAT, GL_FALSE, stride, reinterpret_cast<const void*>(std::size_t{24}));
    glVertexAttribDivisor(2, 1);
  }
};

Renderer::Renderer() : card_(std::make_unique<Card>()) {}
Renderer::~Renderer() = default;

std::string Renderer::create() {
  std::string error;
  card_->faces = link(shaders::kFacesVertex, shaders::kFacesFragment, error);
  card_->lines = link(shaders::kLinesVertex, shaders::kLinesFragment, error);
  card_->background = link(shaders::kBackgroundVertex, shaders::kBackgroundFragment, error);
  glGenVertexArrays(1, &card_->background_array);
  glGenVertexArrays(1, &card_->loose_array);
  glGenBuffers(1, &card_->loose_lines);
  glBindVertexArray(card_->loose_array);
  glBindBuffer(GL_ARRAY_BUFFER, card_->loose_lines);
  Card::line_attributes(sizeof(GridLine), true);
  glBindVertexArray(0);
  return error;
}

void Renderer::release() {
  for (auto& [mesh, gpu] : card_->meshes) Card::free(gpu);
  card_->meshes.clear();
  Card::free(card_->many);
  Card::free(card_->one);
  for (const Program* p : {&card_->faces, &card_->lines, &card_->background})
    if (p->id) glDeleteProgram(p->id);
  if (card_->loose_lines) glDeleteBuffers(1, &card_->loose_lines);
  for (GLuint* array : {&card_->background_array, &card_->loose_array})
    if (*array) glDeleteVertexArrays(1, array);
  *card_ = Card{};
}

bool Renderer::has(const Mesh& mesh) const {
  // Another mesh may have come to lie where one that is gone was.
  const auto known = card_->meshes.find(&mesh);
  return known != card_->meshes.end() && !known->second.mesh.expired();
}

void Renderer::upload(const MeshPtr& mesh, const MeshArrays& arrays) {
  if (auto old = card_->meshes.find(mesh.get()); old != card_->meshes.end()) {
    Card::free(old->second);
    card_->meshes.erase(old);
  }
  GpuMesh gpu;
  gpu.mesh = mesh;
  gpu.origin = arrays.origin;
  gpu.radius = arrays.radius;
  gpu.primitives = arrays.primitives;
  gpu.edge_count = static_cast<GLsizei>(arrays.edges.size());
  glGenVertexArrays(1, &gpu.faces_array);
  glGenVertexArrays(1, &gpu.edges_array);
  glGenBuffers(1, &gpu.vertices);
  glGenBuffers(1, &gpu.indices);
  glGenBuffers(1, &gpu.edges);
  glBindVertexArray(gpu.faces_array);
  glBindBuffer(GL_ARRAY_BUFFER, gpu.vertices);
  glBufferData(GL_ARRAY_BUFFER, static_cast<GLsizeiptr>(arrays.vertices.size() * sizeof(MeshArrays::Vertex)),
               arrays.vertices.data(), GL_STATIC_DRAW);
  glBindBuffer(GL_ELEMENT_ARRAY_BUFFER, gpu.indices);
  glBufferData(GL_ELEMENT_ARRAY_BUFFER, static_cast<GLsizeiptr>(arrays.indices.size() * sizeof(std::uint32_t)),
               arrays.indices.data(), GL_STATIC_DRAW);
  glEnableVertexAttribArray(0);
  glVertexAttribPointer(0, 3, GL_FLOAT, GL_FALSE, sizeof(MeshArrays::Vertex), nullptr);
  glEnableVertexAttribArray(1);
  glVertexAttribPointer(1, 3, GL_BYTE, GL_TRUE, sizeof(MeshArrays::Vertex),
                        reinterpret_cast<const void*>(std::size_t{12}));
  glBindVertexArray(gpu.edges_array);
  glBindBuffer(GL_ARRAY_BUFFER, gpu.edges);
  glBufferData(GL_ARRAY_BUFFER, static_cast<GLsizeiptr>(arrays.edges.size() * sizeof(MeshArrays::Edge)),
               arrays.edges.data(), GL_STATIC_DRAW);
  Card::line_attributes(sizeof(MeshArrays::Edge), false);
  glBindVertexArray(0);
  card_->meshes.emplace(mesh.get(), std::move(gpu));
}

void Renderer::drop_gone() {
  for (auto at = card_->meshes.begin(); at != card_->meshes.end();) {
    if (!at->second.mesh.expired()) {
      ++at;
      continue;
    }
    Card::free(at->second);
    at = card_->meshes.erase(at);
  }
}

namespace {

// Everything one call of draw() shares.
struct Pass {
  const DrawFrame& frame;
  std::array<double, 16> projection;
  std::vector<const GpuMesh*> gpu;  // one for each item; nullptr: not drawn

  Mat3 linear(std::size_t i) const { return frame.view.to_eye * frame.items[i].world.linear; }
  Vec3 offset(std::size_t i) const {
    return frame.view.to_eye * (frame.items[i].world * gpu[i]->origin - frame.view.eye);
  }
};

void draw_background(const Program& program, GLuint array, const DrawFrame& frame) {
  glDisable(GL_DEPTH_TEST);
  glUseProgram(program.id);
  set_colour(program.at("top"), frame.theme.mist_top);
  set_colour(program.at("bottom"), frame.theme.mist_bottom);
  glBindVertexArray(array);
  glDrawArrays(GL_TRIANGLES, 0, 3);
  glEnable(GL_DEPTH_TEST);
}

// How a part's own colour is changed: a little warmer when picked, the ghost's colour for ghosts.
Colour shown_colour(const DrawFrame& frame, const DrawItem& item, std::size_t primitive) {
  if (item.ghost) return frame.theme.ghost;
  Colour c = item.colours && primitive < item.colours->size() ? (*item.colours)[primitive] : Colour{};
  if (item.picked) c = {std::min(1.0f, c.r * 1.06f + 0.03f), c.g * 0.99f, c.b * 0.90f, c.a};
  if (frame.style == DrawStyle::SeeThrough || item.see_through) c.a *= 0.30f;
  return c;
}

// A map of normals as float. Lengths differ by many powers of ten between metres and millimetres; only the direction
// matters.
std::array<float, 9> directions(const Mat3& normals) {
  const double scale = std::max({1e-300, largest_component(normals.column[0]), largest_component(normals.column[1]),
                                 largest_component(normals.column[2])});
  std::array<float, 9> map{};
  for (std::size_t c = 0; c < 3; ++c)
    for (int r = 0; r < 3; ++r)
      map[c * 3 + static_cast<std::size_t>(r)] = static_cast<float>(normals.column[c][r] / scale);
  return map;
}

void draw_faces(const Program& program, const Pass& pass, std::size_t i, float flat, const Colour* one_colour,
                float shift_x = 0, float shift_y = 0) {
  const DrawItem& item = pass.frame.items[i];
  const GpuMesh& gpu = *pass.gpu[i];
  const Mat3 linear = pass.linear(i), normals = normal_map(linear);
  const Mat4 clip = to_clip(pass.projection, linear, pass.offset(i));
  const std::array<float, 9> to_eye = directions(normals);
  glUniformMatrix4fv(program.at("to_clip"), 1, GL_FALSE, clip.data());
  glUniformMatrix3fv(program.at("to_eye"), 1, GL_FALSE, to_eye.data());
  glUniform2f(program.at("shift"), shift_x, shift_y);
  const bool facing = pass.frame.style == DrawStyle::Facing && flat == 0 && !item.ghost;
  glUniform1f(program.at("by_direction"), facing ? 1 : 0);
  if (facing) {
    // Of what is seen through the far side is always seen from behind, and nothing is wrong with it.
    glUniform1f(program.at("hatch"), item.see_through ? 0 : static_cast<float>(7 * pass.frame.pixel_ratio));
    const std::array<float, 9> to_world = directions(normal_map(item.world.linear));
    glUniformMatrix3fv(program.at("to_world"), 1, GL_FALSE, to_world.data());
  }
  glUniform1f(program.at("flat_colour"), flat);
  glUniform1f(program.at("shade"), pass.frame.theme.shade);
  glFrontFace(determinant(item.world.linear) < 0 ? GL_CW : GL_CCW);
  glBindVertexArray(gpu.faces_array);
  for (std::size_t p = 0; p < gpu.primitives.size(); ++p) {
    set_colour(program.at("colour"), one_colour ? *one_colour : shown_colour(pass.frame, item, p));
    glDrawElements(GL_TRIANGLES, static_cast<GLsizei>(gpu.primitives[p].triangle_count * 3), GL_UNSIGNED_INT,
                   reinterpret_cast<const void*>(std::size_t{gpu.primitives[p].first_triangle} * 12));
  }
}

// Lines stand `pixels` before their faces, measured like widths on the screen: near and far alike, so that edges behind
// a face stay hidden however the depth range is spread.
void begin_lines(const Program& program, const Pass& pass, float width, const Colour& colour, float pixels) {
  const DrawFrame& frame = pass.frame;
  glUseProgram(program.id);
  glUniform2f(program.at("half_viewport"), static_cast<float>(frame.view.width / 2),
              static_cast<float>(frame.view.height / 2));
  glUniform1f(program.at("width"), width * static_cast<float>(frame.pixel_ratio));
  glUniform4f(program.at("nearer"), static_cast<float>(pixels / frame.view.pixels_per_unit),
              static_cast<float>(pass.projection[10]), static_cast<float>(pass.projection[14]),
              frame.view.perspective ? 1.0f : 0.0f);
  glUniform1f(program.at("use_line_colour"), 0);
  set_colour(program.at("colour"), colour);
}

void draw_edges(const Program& program, const Pass& pass, std::size_t i) {
  const GpuMesh& gpu = *pass.gpu[i];
  if (gpu.edge_count == 0) return;
  const Mat4 clip = to_clip(pass.projection, pass.linear(i), pass.offset(i));
  glUniformMatrix4fv(program.at("to_clip"), 1, GL_FALSE, clip.data());
  glBindVertexArray(gpu.edges_array);
  glDrawArraysInstanced(GL_TRIANGLE_STRIP, 0, 4, gpu.edge_count);
}

}  // namespace

void Renderer::draw(const DrawFrame& frame, unsigned framebuffer) {
  const int width = static_cast<int>(frame.view.width), height = static_cast<int>(frame.view.height);
  if (width <= 0 || height <= 0) return;
  if (frame.samples > 0) {
    card_->resize(card_->many, width, height, frame.samples);
    glBindFramebuffer(GL_FRAMEBUFFER, card_->many.framebuffer);
  } else {
    glBindFramebuffer(GL_FRAMEBUFFER, framebuffer);
  }
  const bool aside = frame.samples == 0;
  glViewport(aside ? frame.left : 0, aside ? frame.bottom : 0, width, height);
  // Clearing goes by the scissor, not by the viewport.
  glEnable(GL_SCISSOR_TEST);
  glScissor(aside ? frame.left : 0, aside ? frame.bottom : 0, width, height);
  glDepthMask(GL_TRUE);
  glStencilMask(0xFF);
  glClearStencil(0);
  glClear(GL_DEPTH_BUFFER_BIT | GL_STENCIL_BUFFER_BIT);
  glDisable(GL_CULL_FACE);
  glDisable(GL_STENCIL_TEST);
  glDisable(GL_BLEND);
  draw_background(card_->background, card_->background_array, frame);

  // Depth range from what is in view; parts outside the picture are passed over.
  Pass pass{frame, {}, std::vector<const GpuMesh*>(frame.items.size(), nullptr)};
  const double tan_x = frame.view.width / 2 / frame.view.pixels_per_unit,
               tan_y = frame.view.height / 2 / frame.view.pixels_per_unit;
  double near = 1e30, far = 1;
  for (std::size_t i = 0; i < frame.items.size(); ++i) {
    const auto found = card_->meshes.find(frame.items[i].mesh.get());
    if (found == card_->meshes.end() || found->second.mesh.expired()) continue;
    const Mat3& l = frame.items[i].world.linear;
    const double radius = found->second.radius * (length(l.column[0]) + length(l.column[1]) + length(l.column[2]));
    const Vec3 c = frame.view.to_eye * (frame.items[i].world * found->second.origin - frame.view.eye);
    const double depth = -c.z;
    if (frame.view.perspective) {
      const double outside_x = (std::abs(c.x) - depth * tan_x) / std::hypot(1, tan_x);
      const double outside_y = (std::abs(c.y) - depth * tan_y) / std::hypot(1, tan_y);
      if (depth + radius <= 0 || outside_x > radius || outside_y > radius) continue;
    } else if (std::abs(c.x) > tan_x + radius || std::abs(c.y) > tan_y + radius) {
      continue;
    }
    pass.gpu[i] = &found->second;
    near = std::min(near, depth - radius);
    far = std::max(far, depth + radius);
  }
  const double centre_depth = dot(frame.view.eye - frame.grid.centre, frame.view.back());
  far = std::max({far, centre_depth * 8, 10.0});
  near = std::min(near, std::max(centre_depth * 0.02, 0.01));
  if (frame.view.perspective) near = std::max(near, far * 2e-5);
  if (frame.cut_at_eye) near = 0;
  pass.projection = projection_of(frame.view, near, far);

  glDepthFunc(GL_LEQUAL);
  glBlendFuncSeparate(GL_SRC_ALPHA, GL_ONE_MINUS_SRC_ALPHA, GL_ONE, GL_ONE_MINUS_SRC_ALPHA);
  glEnable(GL_POLYGON_OFFSET_FILL);
  glPolygonOffset(1, 1);
  const bool see_through = frame.style == DrawStyle::SeeThrough;
  if (frame.style != DrawStyle::EdgesOnly) {
    glUseProgram(card_->faces.id);
    glUniform4fv(card_->faces.at("facing"), 6, &frame.theme.facing[0].r);
    set_colour(card_->faces.at("behind"), frame.theme.behind);
    // What is seen through comes after what is solid, and hides nothing.
    const auto draw_those = [&](bool clear) {
      for (std::size_t i = 0; i < frame.items.size(); ++i)
        if (pass.gpu[i] && !frame.items[i].ghost && (see_through || frame.items[i].see_through) == clear)
          draw_faces(card_->faces, pass, i, 0, nullptr);
    };
    draw_those(false);
    glEnable(GL_BLEND);
    glDepthMask(GL_FALSE);
    draw_those(true);
    glDepthMask(GL_TRUE);
    glDisable(GL_BLEND);
  }
  glDisable(GL_POLYGON_OFFSET_FILL);
  glEnable(GL_BLEND);

  if (frame.grid.shown) {
    const std::vector<GridLine> lines = grid_lines(frame);
    begin_lines(card_->lines, pass, 1, frame.theme.grid, 0);
    glUniform1f(card_->lines.at("use_line_colour"), 1);
    const Mat4 clip = to_clip(pass.projection, {}, {});
    glUniformMatrix4fv(card_->lines.at("to_clip"), 1, GL_FALSE, clip.data());
    glDepthMask(GL_FALSE);
    glBindVertexArray(card_->loose_array);
    glBindBuffer(GL_ARRAY_BUFFER, card_->loose_lines);
    glBufferData(GL_ARRAY_BUFFER, static_cast<GLsizeiptr>(lines.size() * sizeof(GridLine)), lines.data(),
                 GL_STREAM_DRAW);
    glDrawArraysInstanced(GL_TRIANGLE_STRIP, 0, 4, static_cast<GLsizei>(lines.size()));
    glDepthMask(GL_TRUE);
  }

  // Feature edges: never written to the depth, or thick lines would cut into each other.
  glDepthMask(GL_FALSE);
  begin_lines(card_->lines, pass, 1.1f, frame.theme.edge, 1);
  for (std::size_t i = 0; i < frame.items.size(); ++i)
    if (pass.gpu[i] && !frame.items[i].ghost) draw_edges(card_->lines, pass, i);
  glDepthMask(GL_TRUE);

  // The outline of what is picked: its shape, shifted to eight sides, wherever the shape itself is not.
  const bool any_picked =
      std::any_of(frame.items.begin(), frame.items.end(), [](const DrawItem& i) { return i.picked; });
  if (any_picked) {
    const auto each_picked = [&](auto&& action) {
      for (std::size_t i = 0; i < frame.items.size(); ++i)
        if (pass.gpu[i] && frame.items[i].picked && !frame.items[i].ghost) action(i);
    };
    glUseProgram(card_->faces.id);
    glEnable(GL_STENCIL_TEST);
    glColorMask(GL_FALSE, GL_FALSE, GL_FALSE, GL_FALSE);
    glDepthMask(GL_FALSE);
    glStencilFunc(GL_ALWAYS, 1, 0xFF);
    glStencilOp(GL_KEEP, GL_REPLACE, GL_REPLACE);
    each_picked([&](std::size_t i) { draw_faces(card_->faces, pass, i, 1, &frame.theme.outline); });
    glColorMask(GL_TRUE, GL_TRUE, GL_TRUE, GL_TRUE);
    glStencilFunc(GL_NOTEQUAL, 1, 0xFF);
    glStencilOp(GL_KEEP, GL_KEEP, GL_KEEP);
    const double reach = 1.7 * frame.pixel_ratio;
    for (int side = 0; side < 8; ++side) {
      const double angle = side * 0.78539816339744831;
      each_picked([&](std::size_t i) {
        draw_faces(card_->faces, pass, i, 1, &frame.theme.outline,
                   static_cast<float>(2 * reach * std::cos(angle) / width),
                   static_cast<float>(2 * reach * std::sin(angle) / height));
      });
    }
    glDisable(GL_STENCIL_TEST);
    begin_lines(card_->lines, pass, 1.9f, frame.theme.outline, 1.2f);
    each_picked([&](std::size_t i) { draw_edges(card_->lines, pass, i); });
    glDepthMask(GL_TRUE);
  }

  // Ghosts last: nothing hides behind what is not there yet.
  const bool any_ghost = std::any_of(frame.items.begin(), frame.items.end(), [](const DrawItem& i) { return i.ghost; });
  if (any_ghost) {
    glDepthMask(GL_FALSE);
    glUseProgram(card_->faces.id);
    for (std::size_t i = 0; i < frame.items.size(); ++i)
      if (pass.gpu[i] && frame.items[i].ghost) draw_faces(card_->faces, pass, i, 0, nullptr);
    Colour line = frame.theme.ghost;
    line.a = 0.95f;
    begin_lines(card_->lines, pass, 1.4f, line, 1);
    glDisable(GL_DEPTH_TEST);
    for (std::size_t i = 0; i < frame.items.size(); ++i)
      if (pass.gpu[i] && frame.items[i].ghost) draw_edges(card_->lines, pass, i);
    glEnable(GL_DEPTH_TEST);
    glDepthMask(GL_TRUE);
  }
  glDisable(GL_BLEND);
  glBindVertexArray(0);
  glUseProgram(0);
  if (frame.samples > 0) {
    glBindFramebuffer(GL_READ_FRAMEBUFFER, card_->many.framebuffer);
    glBindFramebuffer(GL_DRAW_FRAMEBUFFER, framebuffer);
    glDisable(GL_SCISSOR_TEST);
    glBlitFramebuffer(0, 0, width, height, frame.left, frame.bottom, frame.left + width, frame.bottom + height,
                      GL_COLOR_BUFFER_BIT, GL_NEAREST);
    glBindFramebuffer(GL_FRAMEBUFFER, framebuffer);
  }
  glDisable(GL_SCISSOR_TEST);
}

std::vector<unsigned char> Renderer::draw_to_memory(const DrawFrame& frame) {
  const int width = static_cast<int>(frame.view.width), height = static_cast<int>(frame.view.height);
  GLint before = 0;
  glGetIntegerv(GL_FRAMEBUFFER_BINDING, &before);
  card_->resize(card_->one, width, height, 0);
  draw(frame, card_->one.framebuffer);
  glBindFramebuffer(GL_FRAMEBUFFER, card_->one.framebuffer);
  const auto row = static_cast<std::size_t>(width) * 4;
  std::vector<unsigned char> pixels(row * static_cast<std::size_t>(height)), flipped(pixels.size());
  glPixelStorei(GL_PACK_ALIGNMENT, 1);
  glReadPixels(0, 0, width, height, GL_RGBA, GL_UNSIGNED_BYTE, pixels.data());
  glBindFramebuffer(GL_FRAMEBUFFER, static_cast<GLuint>(before));
  for (std::size_t y = 0; y < static_cast<std::size_t>(height); ++y)
    std::copy_n(pixels.data() + row * (static_cast<std::size_t>(height) - 1 - y), row, flipped.data() + row * y);
  return flipped;
}

}  // namespace tack
