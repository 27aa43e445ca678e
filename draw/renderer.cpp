#include "draw/renderer.h"

#include <epoxy/gl.h>

#include <utility>

#include "draw/card.h"
#include "draw/shaders.h"
#include "draw/warm_up.h"

namespace tack {
namespace {

GLuint compile(GLenum kind, std::initializer_list<const char*> sources, std::string& error) {
  const GLuint shader = glCreateShader(kind);
  glShaderSource(shader, static_cast<GLsizei>(sources.size()), sources.begin(), nullptr);
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

using Pieces = std::initializer_list<const char*>;

CardProgram link(Pieces vertex, Pieces fragment, std::string& error) {
  const GLuint v = compile(GL_VERTEX_SHADER, vertex, error), f = compile(GL_FRAGMENT_SHADER, fragment, error);
  CardProgram program{glCreateProgram()};
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

}  // namespace

Renderer::Renderer() : card_(std::make_unique<Card>()) {}
Renderer::~Renderer() = default;

std::string Renderer::create() {
  std::string error;
  Card& c = *card_;
  using namespace shaders;
  const Pieces by_direction{kVersion, kLight, kByDirectionFragment}, by_vertex{kVersion, kByVertexFragment},
      numbers{kVersion, kNumbersFragment}, mask{kVersion, kMaskFragment}, lines{kVersion, kLinesFragment};
  c.faces = link({kVersion, kFacesVertex, kByPixelVertex}, {kVersion, kLight, kByPixelFragment}, error);
  c.facing_faces = link({kVersion, kFacesVertex, kByPixelVertex}, by_direction, error);
  c.small_faces = link({kVersion, kFacesVertex, kLight, kByVertexVertex}, by_vertex, error);
  c.mask = link({kVersion, kFacesVertex, kByPixelVertex}, mask, error);
  c.facing_boxes = link({kVersion, kBoxesVertex, kByPixelVertex}, by_direction, error);
  c.small_boxes = link({kVersion, kBoxesVertex, kLight, kByVertexVertex}, by_vertex, error);
  c.box_mask = link({kVersion, kBoxesVertex, kByPixelVertex}, mask, error);
  c.loose_lines = link({kVersion, kNearer, kLooseLinesVertex, kWideLines}, lines, error);
  c.edges = link({kVersion, kNearer, kPart, kEdges, kEdgesVertex, kWideLines}, lines, error);
  c.thin_edges = link({kVersion, kNearer, kPart, kEdges, kThinEdgesVertex}, {kVersion, kThinEdgesFragment}, error);
  c.numbers = link({kVersion, kFacesVertex, kByPixelVertex}, numbers, error);
  c.background = link({kVersion, kBackgroundVertex}, {kVersion, kBackgroundFragment}, error);
  c.outline = link({kVersion, kBackgroundVertex}, {kVersion, kOutlineFragment}, error);
  glGetIntegerv(GL_MAX_TEXTURE_BUFFER_SIZE, &c.most_texels);
  for (GLuint* array : {&c.empty_array, &c.loose_array, &c.box_array}) glGenVertexArrays(1, array);
  glGenBuffers(1, &c.loose_buffer);
  glBindVertexArray(c.loose_array);
  glBindBuffer(GL_ARRAY_BUFFER, c.loose_buffer);
  for (GLuint i = 0; i < 3; ++i) {
    glEnableVertexAttribArray(i);
    glVertexAttribPointer(i, i < 2 ? 3 : 4, GL_FLOAT, GL_FALSE, sizeof(GridLine),
                          reinterpret_cast<const void*>(std::size_t{12} * i));
    glVertexAttribDivisor(i, 1);
  }
  // The corners of as many boxes as are drawn at once.
  std::vector<std::uint16_t> corners;
  for (std::uint32_t side = 0; side < kBoxesTogether * kCornersOfBox / 4; ++side)
    for (const std::uint32_t corner : {0u, 1u, 2u, 0u, 2u, 3u})
      corners.push_back(static_cast<std::uint16_t>(4 * side + corner));
  static_assert(kBoxesTogether * kCornersOfBox <= 65536);
  glGenBuffers(1, &c.box_corners);
  glBindVertexArray(c.box_array);
  glBindBuffer(GL_ELEMENT_ARRAY_BUFFER, c.box_corners);
  glBufferData(GL_ELEMENT_ARRAY_BUFFER, static_cast<GLsizeiptr>(corners.size() * sizeof corners[0]), corners.data(),
               GL_STATIC_DRAW);
  glBindVertexArray(0);
  // Here, for a mesh that came later would drop the pictures.
  if (error.empty()) {
    c.sample = sample_mesh();
    if (c.sample) upload(c.sample, sample_arrays(*c.sample));
  }
  return error;
}

void Renderer::release() {
  Card& c = *card_;
  warm_up_.reset();
  c.warmed = 0;
  for (auto& [mesh, gpu] : c.meshes) Card::free(gpu);
  for (CardPicture* picture : c.pictures) Card::free(*picture);
  c.free_old();
  c.pace.release();
  for (CardTarget* target : {&c.many, &c.one}) Card::free(*target);
  Card::free(c.at_once.mask);
  for (const CardProgram* p :
       {&c.faces, &c.facing_faces, &c.small_faces, &c.facing_boxes, &c.small_boxes, &c.loose_lines, &c.edges,
        &c.thin_edges, &c.numbers, &c.background, &c.mask, &c.box_mask, &c.outline})
    if (p->id) glDeleteProgram(p->id);
  for (GLuint* buffer : {&c.loose_buffer, &c.box_corners})
    if (*buffer) glDeleteBuffers(1, buffer);
  for (GLuint* array : {&c.empty_array, &c.loose_array, &c.box_array})
    if (*array) glDeleteVertexArrays(1, array);
  Card empty;
  empty.pictures = std::move(c.pictures);
  c = std::move(empty);
}

bool Renderer::has(const Mesh& mesh) const { return card_->known(mesh) != nullptr; }

void Renderer::upload(const MeshPtr& mesh, const MeshArrays& arrays) {
  // Levels that come later change nothing of a picture that is done.
  const KnownMesh* before = card_->known(*mesh);
  const bool is_new = !before || before->levels.empty();
  for (CardPicture* picture : card_->pictures)
    if (is_new || !picture->done) card_->drop(*picture);
  if (auto old = card_->meshes.find(mesh.get()); old != card_->meshes.end()) {
    Card::free(old->second);
    card_->meshes.erase(old);
  }
  GpuMesh gpu;
  gpu.mesh = mesh;
  gpu.known = {arrays.origin, arrays.half, arrays.radius,    arrays.solid,
               arrays.levels, arrays.runs, arrays.edge_runs, arrays.edge_density};
  glGenVertexArrays(1, &gpu.faces_array);
  glGenBuffers(1, &gpu.vertices);
  glGenBuffers(1, &gpu.indices);
  glBindVertexArray(gpu.faces_array);
  glBindBuffer(GL_ARRAY_BUFFER, gpu.vertices);
  glBufferData(GL_ARRAY_BUFFER, static_cast<GLsizeiptr>(arrays.vertices.size() * sizeof(MeshArrays::Vertex)),
               arrays.vertices.data(), GL_STATIC_DRAW);
  glBindBuffer(GL_ELEMENT_ARRAY_BUFFER, gpu.indices);
  gpu.few = arrays.vertices.size() <= 0x10000;
  const auto hand_over = [](const auto& indices) {
    glBufferData(GL_ELEMENT_ARRAY_BUFFER, static_cast<GLsizeiptr>(indices.size() * sizeof(indices[0])), indices.data(),
                 GL_STATIC_DRAW);
  };
  if (gpu.few)
    hand_over(std::vector<std::uint16_t>(arrays.indices.begin(), arrays.indices.end()));
  else
    hand_over(arrays.indices);
  glEnableVertexAttribArray(0);
  glVertexAttribPointer(0, 3, GL_FLOAT, GL_FALSE, sizeof(MeshArrays::Vertex), nullptr);
  glEnableVertexAttribArray(1);
  glVertexAttribPointer(1, 3, GL_BYTE, GL_TRUE, sizeof(MeshArrays::Vertex),
                        reinterpret_cast<const void*>(std::size_t{12}));
  glBindVertexArray(0);
  // No run of edges lies in two buffers.
  const std::size_t most =
      std::max<std::size_t>(1, static_cast<std::size_t>(card_->most_texels) / 2 / kRunTogether) * kRunTogether;
  for (std::size_t first = 0; first < arrays.edges.size(); first += most) {
    EdgeBuffer e;
    e.first = static_cast<std::uint32_t>(first);
    e.count = static_cast<std::uint32_t>(std::min(most, arrays.edges.size() - first));
    std::vector<float> texels;
    texels.reserve(std::size_t{8} * e.count);
    for (std::size_t i = first; i < first + e.count; ++i) {
      const MeshArrays::Edge& edge = arrays.edges[i];
      for (const float f : {edge.ax, edge.ay, edge.az, 1.0f, edge.bx, edge.by, edge.bz, 1.0f}) texels.push_back(f);
    }
    glGenBuffers(1, &e.buffer);
    glGenTextures(1, &e.texture);
    glBindBuffer(GL_TEXTURE_BUFFER, e.buffer);
    glBufferData(GL_TEXTURE_BUFFER, static_cast<GLsizeiptr>(texels.size() * sizeof(float)), texels.data(),
                 GL_STATIC_DRAW);
    glBindTexture(GL_TEXTURE_BUFFER, e.texture);
    glTexBuffer(GL_TEXTURE_BUFFER, GL_RGBA32F, e.buffer);
    gpu.edges.push_back(e);
  }
  glBindTexture(GL_TEXTURE_BUFFER, 0);
  card_->meshes.emplace(mesh.get(), std::move(gpu));
}

void Renderer::drop_gone() {
  for (auto at = card_->meshes.begin(); at != card_->meshes.end();) {
    if (!at->second.mesh.expired()) {
      ++at;
      continue;
    }
    for (CardPicture* picture : card_->pictures) card_->drop(*picture);
    Card::free(at->second);
    at = card_->meshes.erase(at);
  }
}

void Renderer::Card::leave() {
  glDepthMask(GL_TRUE);
  glStencilMask(0xFF);
  glEnable(GL_DEPTH_TEST);
  glDisable(GL_BLEND);
  glDisable(GL_SCISSOR_TEST);
  glFrontFace(GL_CCW);
  glBindVertexArray(0);
  glBindBuffer(GL_ARRAY_BUFFER, 0);
  glUseProgram(0);
}

void Renderer::Card::show(const CardTarget& from, int left, int bottom, int right, int top, GLuint framebuffer) {
  glBindFramebuffer(GL_READ_FRAMEBUFFER, from.framebuffer);
  glBindFramebuffer(GL_DRAW_FRAMEBUFFER, framebuffer);
  glDisable(GL_SCISSOR_TEST);
  glBlitFramebuffer(left, bottom, right, top, left, bottom, right, top, GL_COLOR_BUFFER_BIT, GL_NEAREST);
  glBindFramebuffer(GL_FRAMEBUFFER, framebuffer);
}

std::vector<unsigned char> Renderer::Card::pixels_of(GLuint framebuffer, int width, int height) {
  glBindFramebuffer(GL_FRAMEBUFFER, framebuffer);
  const auto row = static_cast<std::size_t>(width) * 4;
  std::vector<unsigned char> pixels(row * static_cast<std::size_t>(height)), flipped(pixels.size());
  glPixelStorei(GL_PACK_ALIGNMENT, 1);
  glReadPixels(0, 0, width, height, GL_RGBA, GL_UNSIGNED_BYTE, pixels.data());
  for (std::size_t y = 0; y < static_cast<std::size_t>(height); ++y)
    std::copy_n(pixels.data() + row * (static_cast<std::size_t>(height) - 1 - y), row, flipped.data() + row * y);
  return flipped;
}

GLuint Renderer::Card::bound_framebuffer() {
  GLint bound = 0;
  glGetIntegerv(GL_FRAMEBUFFER_BINDING, &bound);
  return static_cast<GLuint>(bound);
}

void Renderer::draw(const DrawFrame& frame, unsigned framebuffer) {
  const int width = static_cast<int>(frame.view.width), height = static_cast<int>(frame.view.height);
  if (width <= 0 || height <= 0) return;
  Card& c = *card_;
  c.free_old();
  CardCanvas& canvas = c.at_once;
  canvas.drawn = {};
  canvas.framebuffer = framebuffer;
  DrawFrame placed = frame;
  if (frame.samples > 0) {
    Card::resize(c.many, width, height, frame.samples);
    canvas.framebuffer = c.many.framebuffer;
    placed.left = placed.bottom = 0;
  }
  CardFrame prepared = c.prepare(placed, canvas.drawn, {}, std::exchange(c.used, {}));
  for (const CardJob& job : prepared.jobs) {
    c.run(prepared, job, canvas);
    if (c.pace.add(job.work())) (void)c.pace.has_room(1000);
  }
  Card::free(prepared);
  c.used = std::move(prepared.plan);
  Card::leave();
  glBindFramebuffer(GL_FRAMEBUFFER, framebuffer);
  if (frame.samples == 0) return;
  glBindFramebuffer(GL_READ_FRAMEBUFFER, canvas.framebuffer);
  glBindFramebuffer(GL_DRAW_FRAMEBUFFER, framebuffer);
  glBlitFramebuffer(0, 0, width, height, frame.left, frame.bottom, frame.left + width, frame.bottom + height,
                    GL_COLOR_BUFFER_BIT, GL_NEAREST);
  glBindFramebuffer(GL_FRAMEBUFFER, framebuffer);
}

const Renderer::Drawn& Renderer::drawn() const { return card_->at_once.drawn; }

std::vector<unsigned char> Renderer::draw_to_memory(const DrawFrame& frame) {
  const int width = static_cast<int>(frame.view.width), height = static_cast<int>(frame.view.height);
  const GLuint before = Card::bound_framebuffer();
  Card::resize(card_->one, width, height, 0);
  draw(frame, card_->one.framebuffer);
  auto pixels = Card::pixels_of(card_->one.framebuffer, width, height);
  glBindFramebuffer(GL_FRAMEBUFFER, before);
  return pixels;
}

}  // namespace tack
