// What is done for a frame, job by job.
#include "draw/card.h"

namespace tack {
namespace {

using Mat4 = std::array<float, 16>;  // columns one after another

void set_colour(GLint at, const Colour& c) { glUniform4f(at, c.r, c.g, c.b, c.a); }

Mat4 as_float(const std::array<double, 16>& m) {
  Mat4 f{};
  std::transform(m.begin(), m.end(), f.begin(), [](double v) { return static_cast<float>(v); });
  return f;
}

}  // namespace

void Renderer::Card::project(const CardProgram& program, const CardFrame& frame) {
  glUniformMatrix4fv(program.at("projection"), 1, GL_FALSE, as_float(frame.plan.projection).data());
}

void Renderer::Card::add_faces(CardFrame& frame, CardJob::Kind kind, std::uint32_t number, std::uint32_t parts) const {
  const Batch& batch = frame.plan.batches[number];
  if (parts == 0) return;
  if (!batch.mesh) {
    for (std::uint32_t part = 0; part < parts; part += kBoxesTogether)
      frame.jobs.push_back({kind, number, part, std::min(kBoxesTogether, parts - part), 0, kIndicesOfBox, 0});
    return;
  }
  if (add_runs(frame, kind, number, 0, parts, false)) return;
  const auto& primitives = meshes.at(batch.mesh).known.levels[batch.level].primitives;
  for (std::uint32_t p = 0; p < primitives.size(); ++p) {
    const auto [first, count] = primitives[p];
    if (count == 0) continue;
    // Many parts at once, or few triangles of one.
    const auto together = static_cast<std::uint32_t>(std::max<std::size_t>(1, kJobTriangles * 3 / count));
    for (std::uint32_t part = 0; part < parts; part += together)
      for (std::uint32_t i = 0; i < count; i += kJobTriangles * 3)
        split_by_buffer(frame, {kind, number, part, std::min(together, parts - part), first + i,
                                std::min<std::uint32_t>(kJobTriangles * 3, count - i), p});
  }
}

void Renderer::Card::add_edges(CardFrame& frame, CardJob::Kind kind, std::uint32_t number, std::uint32_t first,
                               std::uint32_t parts) const {
  const Batch& batch = frame.plan.batches[number];
  if (parts == 0 || !batch.mesh) return;
  if (add_runs(frame, kind, number, first, parts, true)) return;
  const GpuMesh& gpu = meshes.at(batch.mesh);
  const MeshArrays::Level& level = gpu.known.levels[batch.level];
  constexpr std::uint32_t kMost = kJobTriangles / 4;
  for (const EdgeBuffer& e : gpu.edges) {
    const std::uint32_t begin = std::max(level.first_edge, e.first),
                        end = std::min(level.first_edge + level.edge_count, e.first + e.count);
    if (begin >= end) continue;
    const std::uint32_t together = std::max(1u, kMost / (end - begin));
    for (std::uint32_t part = 0; part < parts; part += together)
      for (std::uint32_t i = begin; i < end; i += kMost)
        split_by_buffer(frame,
                        {kind, number, first + part, std::min(together, parts - part), i, std::min(kMost, end - i), 0});
  }
}

bool Renderer::Card::add_runs(CardFrame& frame, CardJob::Kind kind, std::uint32_t number, std::uint32_t first,
                              std::uint32_t parts, bool of_edges) const {
  constexpr std::uint32_t kFew = 50;  // parts: of more, each is small
  const Batch& batch = frame.plan.batches[number];
  const GpuMesh& gpu = meshes.at(batch.mesh);
  const auto& runs = of_edges ? gpu.known.edge_runs : gpu.known.runs;
  if (batch.level != 0 || runs.empty() || parts > kFew) return false;
  for (std::uint32_t part = first; part < first + parts; ++part) {
    CardJob job{kind, number, part, 1, 0, 0, 0};
    const auto add = [&] {
      if (job.count > 0) split_by_buffer(frame, job);
      job.count = 0;
    };
    const PartOnCard& on_card = frame.plan.parts[batch.first + part];
    const EyeOnMesh eye(frame.settings.view, on_card);
    for (const MeshArrays::Run& run : runs) {
      if (!may_show(frame.settings, eye_box_of(on_card, run)) || (batch.culled && eye.sees_behind(run))) continue;
      // Those that follow one another are drawn together, as far as a job goes; edges lie in several buffers.
      const bool follows = job.count > 0 && job.first + job.count == run.first && job.primitive == run.primitive &&
                           job.count + run.count <= (of_edges ? kJobTriangles / 4 : kJobTriangles * 3) &&
                           (!of_edges || std::any_of(gpu.edges.begin(), gpu.edges.end(), [&](const EdgeBuffer& e) {
                             return job.first >= e.first && run.first + run.count <= e.first + e.count;
                           }));
      if (!follows) {
        add();
        job.first = run.first, job.primitive = run.primitive;
      }
      job.count += run.count;
    }
    add();
  }
  return true;
}

// Gives the card the plan's parts and colours.
void Renderer::Card::hand_over(CardFrame& frame, const std::vector<Colour>& colours, Drawn& drawn) const {
  const auto most = static_cast<std::uint32_t>(std::max(most_texels / 7, 1));
  const auto all = static_cast<std::uint32_t>(frame.plan.parts.size());
  for (std::uint32_t first = 0; first < all; first += most) {
    CardFrame::Parts part;
    part.first = first;
    part.count = std::min(most, all - first);
    glGenBuffers(1, &part.buffer);
    glGenTextures(1, &part.texture);
    glBindBuffer(GL_TEXTURE_BUFFER, part.buffer);
    glBufferData(GL_TEXTURE_BUFFER, static_cast<GLsizeiptr>(part.count * sizeof(PartOnCard)),
                 frame.plan.parts.data() + first, GL_STREAM_DRAW);
    glBindTexture(GL_TEXTURE_BUFFER, part.texture);
    glTexBuffer(GL_TEXTURE_BUFFER, GL_RGBA32F, part.buffer);
    frame.parts.push_back(part);
  }
  glBindTexture(GL_TEXTURE_BUFFER, 0);
  const auto give = [](GLuint& buffer, const auto& values) {
    glGenBuffers(1, &buffer);
    glBindBuffer(GL_ARRAY_BUFFER, buffer);
    glBufferData(GL_ARRAY_BUFFER, static_cast<GLsizeiptr>(values.size() * sizeof values[0]), values.data(),
                 GL_STREAM_DRAW);
    return values.size() * sizeof values[0];
  };
  drawn.bytes += all * sizeof(PartOnCard);
  drawn.bytes += give(frame.colours, colours);
  if (!frame.plan.corners.empty()) drawn.bytes += give(frame.corners, frame.plan.corners);
}

// What few parts are hidden by is not worth being found out, nor is it where finding out takes as long as drawing; and
// what is seen through hides nothing.
CardFrame Renderer::Card::look(const DrawFrame& settings, Drawn& drawn) const {
  constexpr std::size_t kMany = 400;
  const bool solid = settings.style == DrawStyle::Shaded || settings.style == DrawStyle::Facing;
  if (!solid || settings.off == 0 || settings.items.size() < kMany) return prepare(settings, drawn);
  CardFrame frame;
  frame.settings = settings;
  frame.settings.off = 2 * settings.off;
  frame.plan = plan_frame(frame.settings, [&](const Mesh& mesh) { return known(mesh); });
  if (frame.plan.parts.size() < kMany) return prepare(settings, drawn);
  frame.looks = true;
  // Each part's number, as the colours of its primitives.
  std::vector<Colour> as_colours(frame.plan.colours.size());
  for (std::uint32_t b = 0; b < frame.plan.batches.size(); ++b) {
    const Batch& batch = frame.plan.batches[b];
    if (batch.what != Batch::What::Solid || !batch.mesh) continue;
    const std::size_t primitives = meshes.at(batch.mesh).known.levels.front().primitives.size();
    for (std::uint32_t i = 0; i < batch.count; ++i) {
      const std::uint32_t number = batch.first + i + 1;
      const auto share = [&](int shift) { return static_cast<float>((number >> shift) & 255) / 255.0f; };
      const Colour colour{share(0), share(8), share(16), share(24)};
      frame.plan.parts[batch.first + i].colour = colour;
      for (std::size_t p = 0; p < primitives; ++p) as_colours[batch.first_colour + p * batch.count + i] = colour;
    }
  }
  hand_over(frame, as_colours, drawn);
  frame.jobs.push_back({CardJob::Kind::Numbers});
  // Edges too where no pixel may have a face: of a line, and of a sheet or a rod that is seen from its side.
  for (std::uint32_t b = 0; b < frame.plan.batches.size(); ++b)
    if (const Batch& batch = frame.plan.batches[b]; batch.what == Batch::What::Solid && batch.mesh) {
      add_faces(frame, CardJob::Kind::Numbers, b, batch.count);
      if (!meshes.at(batch.mesh).known.solid || batch.thickness < 1)
        add_edges(frame, CardJob::Kind::NumberEdges, b, 0, batch.count);
    }
  return frame;
}

void Renderer::Card::draw_numbers(const CardFrame& frame, const CardJob& job, CardCanvas& canvas) const {
  const int width = static_cast<int>(frame.settings.view.width), height = static_cast<int>(frame.settings.view.height);
  resize(canvas.numbers, width, height, 0);
  glBindFramebuffer(GL_FRAMEBUFFER, canvas.numbers.framebuffer);
  glViewport(0, 0, width, height);
  glDisable(GL_SCISSOR_TEST);
  glDisable(GL_BLEND);
  glEnable(GL_DEPTH_TEST);
  glDepthFunc(GL_LEQUAL);
  glDepthMask(GL_TRUE);
  if (job.parts == 0) {
    glClearColor(0, 0, 0, 0);
    return glClear(GL_COLOR_BUFFER_BIT | GL_DEPTH_BUFFER_BIT);
  }
  const CardRange all{job.first, job.count};
  if (job.kind == CardJob::Kind::NumberEdges) return draw_edges(frame, job, {&all, 1}, 1, nullptr, 1);
  glUseProgram(numbers.id);
  project(numbers, frame);
  draw_faces(frame, job, {&all, 1});
}

void Renderer::Card::draw_what_is_seen(CardFrame& frame, CardCanvas& canvas) const {
  const CardTarget& seen = canvas.numbers;
  DrawFrame settings = frame.settings;
  settings.off /= 2;
  std::vector<bool> hidden(settings.items.size());
  std::vector<std::uint32_t> pixels(static_cast<std::size_t>(seen.width) * static_cast<std::size_t>(seen.height));
  glBindFramebuffer(GL_FRAMEBUFFER, seen.framebuffer);
  glPixelStorei(GL_PACK_ALIGNMENT, 1);
  glReadPixels(0, 0, seen.width, seen.height, GL_RGBA, GL_UNSIGNED_BYTE, pixels.data());
  for (const Batch& batch : frame.plan.batches)
    if (batch.what == Batch::What::Solid && batch.mesh)
      for (std::uint32_t i = 0; i < batch.count; ++i) hidden[frame.plan.items[batch.first + i]] = true;
  for (const std::uint32_t number : pixels)
    if (number > 0 && number <= frame.plan.items.size()) hidden[frame.plan.items[number - 1]] = false;
  // The outline of what is picked is seen through what is not.
  const auto covers = [&](std::uint32_t item) {
    const DrawItem& i = settings.items[item];
    return !hidden[item] && !i.picked && !i.ghost;
  };
  if (std::any_of(frame.plan.items.begin(), frame.plan.items.end(), covers))
    for (const std::uint32_t item : frame.plan.items)
      if (settings.items[item].picked) hidden[item] = false;
  free(frame);
  frame = prepare(settings, canvas.drawn, hidden);
}

CardFrame Renderer::Card::prepare(const DrawFrame& settings, Drawn& drawn, const std::vector<bool>& hidden,
                                  FramePlan spent) const {
  CardFrame frame;
  frame.settings = settings;
  frame.plan = plan_frame(
      settings, [&](const Mesh& mesh) { return known(mesh); }, hidden, std::move(spent));
  if (settings.grid.shown) frame.grid = grid_lines(settings);
  hand_over(frame, frame.plan.colours, drawn);

  const auto each = [&](auto&& f) {
    for (std::uint32_t b = 0; b < frame.plan.batches.size(); ++b) f(b, frame.plan.batches[b]);
  };
  const auto is = [](const Batch& batch, Batch::What what) { return batch.what == what; };
  frame.jobs.push_back({});
  // What is seen through comes after what is solid, and hides nothing; ghosts last: nothing hides behind what is not
  // there yet.
  // Where edges alone are drawn, boxes are of meshes that have no edges here.
  for (const Batch::What what : {Batch::What::Solid, Batch::What::Clear}) {
    each([&](std::uint32_t b, const Batch& batch) {
      if (is(batch, what) && !asks_about(frame, batch) && (settings.style != DrawStyle::EdgesOnly || !batch.mesh))
        add_faces(frame, CardJob::Kind::Faces, b, batch.count);
    });
    if (what == Batch::What::Solid) add_asked_faces(frame);
  }
  if (settings.grid.shown) frame.jobs.push_back({CardJob::Kind::Grid});
  each([&](std::uint32_t b, const Batch& batch) {
    // Those of what is picked come later, and thicker.
    if (is(batch, Batch::What::Ghost) || batch.toned) return;
    if (asks_about(frame, batch))
      add_asked_edges(frame, b, batch.picked, batch.count - batch.picked);
    else
      add_edges(frame, CardJob::Kind::Edges, b, batch.picked, batch.count - batch.picked);
  });
  if (frame.plan.any_picked()) {
    frame.jobs.push_back({CardJob::Kind::Mask});
    each([&](std::uint32_t b, const Batch& batch) {
      if (!is(batch, Batch::What::Ghost)) add_faces(frame, CardJob::Kind::Mask, b, batch.picked);
    });
    frame.jobs.push_back({CardJob::Kind::Outline});
    each([&](std::uint32_t b, const Batch& batch) {
      if (!is(batch, Batch::What::Ghost) && !batch.toned)
        add_edges(frame, CardJob::Kind::PickedEdges, b, 0, batch.picked);
    });
  }
  for (const CardJob::Kind kind : {CardJob::Kind::Ghosts, CardJob::Kind::GhostEdges})
    each([&](std::uint32_t b, const Batch& batch) {
      if (!is(batch, Batch::What::Ghost)) return;
      kind == CardJob::Kind::Ghosts ? add_faces(frame, kind, b, batch.count)
                                    : add_edges(frame, kind, b, 0, batch.count);
    });
  hand_over_fronts(frame, drawn);
  drawn.bytes += frame.grid.size() * sizeof(GridLine);
  drawn.parts += frame.plan.parts.size();
  drawn.off = std::max(drawn.off, frame.plan.off);
  return frame;
}

const CardFrame::Parts& CardFrame::parts_with(std::uint32_t part) const {
  const std::size_t number = part / parts.front().count;
  return parts[std::min(number, parts.size() - 1)];
}

// A job whose parts lie in two buffers is two.
void Renderer::Card::split_by_buffer(CardFrame& frame, CardJob job) const {
  const std::uint32_t first = frame.plan.batches[job.batch].first;
  while (job.parts > 0) {
    const CardFrame::Parts& in = frame.parts_with(first + job.part);
    CardJob here = job;
    here.parts = std::min(job.parts, in.first + in.count - (first + job.part));
    frame.jobs.push_back(here);
    job.part += here.parts;
    job.parts -= here.parts;
  }
}

// Lets a program that looks parts up begin with this one.
void Renderer::Card::read_parts(const CardProgram& program, const CardFrame& frame, std::uint32_t part) const {
  const CardFrame::Parts& in = frame.parts_with(part);
  glActiveTexture(GL_TEXTURE1);
  glBindTexture(GL_TEXTURE_BUFFER, in.texture);
  glActiveTexture(GL_TEXTURE0);
  glUniform1i(program.at("parts"), 1);
  glUniform1i(program.at("first_part"), static_cast<GLint>(part - in.first));
}

// Binds parts, from one on, to the attributes of the array that is bound.
void Renderer::Card::parts_from(const CardFrame& frame, std::uint32_t part) const {
  const CardFrame::Parts& in = frame.parts_with(part);
  glBindBuffer(GL_ARRAY_BUFFER, in.buffer);
  for (GLuint i = 0; i < 6; ++i) {
    const std::size_t at = sizeof(PartOnCard) * (part - in.first) + std::size_t{16} * i;
    glEnableVertexAttribArray(2 + i);
    glVertexAttribPointer(2 + i, i < 3 ? 4 : 3, GL_FLOAT, GL_FALSE, sizeof(PartOnCard),
                          reinterpret_cast<const void*>(at));
    glVertexAttribDivisor(2 + i, 1);
  }
}

// With the program that is in use: that of faces, or of boxes where the batch has no mesh.
void Renderer::Card::draw_faces(const CardFrame& frame, const CardJob& job, std::span<const CardRange> ranges) const {
  const Batch& batch = frame.plan.batches[job.batch];
  if (!batch.mesh) {
    glFrontFace(GL_CCW);
    glBindVertexArray(box_array);
    glBindBuffer(GL_ARRAY_BUFFER, frame.corners);
    const std::size_t at = sizeof(BoxCorner) * (batch.first_corner + std::size_t{kCornersOfBox} * job.part);
    const auto attribute = [&](GLuint i, GLint size, GLenum type, std::size_t offset) {
      glEnableVertexAttribArray(i);
      glVertexAttribPointer(i, size, type, type != GL_FLOAT, sizeof(BoxCorner),
                            reinterpret_cast<const void*>(at + offset));
    };
    attribute(0, 3, GL_FLOAT, offsetof(BoxCorner, x));
    attribute(1, 3, GL_BYTE, offsetof(BoxCorner, normal));
    attribute(2, 4, GL_UNSIGNED_BYTE, offsetof(BoxCorner, colour));
    glDrawElements(GL_TRIANGLES, static_cast<GLsizei>(kIndicesOfBox * job.parts), GL_UNSIGNED_SHORT, nullptr);
    return;
  }
  glFrontFace(batch.mirrored ? GL_CW : GL_CCW);
  if (batch.culled) glEnable(GL_CULL_FACE);
  const GpuMesh& gpu = meshes.at(batch.mesh);
  glBindVertexArray(gpu.faces_array);
  parts_from(frame, batch.first + job.part);
  const std::size_t colour = batch.first_colour + std::size_t{job.primitive} * batch.count + job.part;
  glBindBuffer(GL_ARRAY_BUFFER, frame.colours);
  glEnableVertexAttribArray(8);
  glVertexAttribPointer(8, 4, GL_FLOAT, GL_FALSE, sizeof(Colour),
                        reinterpret_cast<const void*>(colour * sizeof(Colour)));
  glVertexAttribDivisor(8, 1);
  for (const auto [first, count] : ranges)
    glDrawElementsInstanced(GL_TRIANGLES, static_cast<GLsizei>(count), gpu.few ? GL_UNSIGNED_SHORT : GL_UNSIGNED_INT,
                            reinterpret_cast<const void*>(std::size_t{first} * (gpu.few ? 2 : 4)),
                            static_cast<GLsizei>(job.parts));
  glDisable(GL_CULL_FACE);
}

// Lines stand `pixels` before their faces, measured like widths on the screen: near and far alike, so that edges behind
// a face stay hidden however the depth range is spread.
void Renderer::Card::lines(const CardProgram& program, const CardFrame& frame, float width, float pixels) const {
  const DrawFrame& f = frame.settings;
  glUseProgram(program.id);
  const Mat4 projection = as_float(frame.plan.projection);
  glUniformMatrix4fv(program.at("projection"), 1, GL_FALSE, projection.data());
  glUniform2f(program.at("half_viewport"), static_cast<float>(f.view.width / 2), static_cast<float>(f.view.height / 2));
  glUniform1f(program.at("width"), width * static_cast<float>(f.pixel_ratio));
  glUniform4f(program.at("nearer"), static_cast<float>(pixels / f.view.pixels_per_unit), projection[10], projection[14],
              f.view.perspective ? 1.0f : 0.0f);
}

void Renderer::Card::draw_edges(const CardFrame& frame, const CardJob& job, std::span<const CardRange> ranges,
                                float width, const Colour* colour, float pixels) const {
  const Batch& batch = frame.plan.batches[job.batch];
  const GpuMesh& gpu = meshes.at(batch.mesh);
  const auto e = std::find_if(gpu.edges.begin(), gpu.edges.end(), [&](const EdgeBuffer& b) {
    return job.first >= b.first && job.first < b.first + b.count;
  });
  if (e == gpu.edges.end()) return;
  const bool thin = batch.thin || !colour;
  const CardProgram& program = thin ? thin_edges : edges;
  lines(program, frame, width, pixels);
  if (colour) set_colour(program.at("colour"), *colour);
  if (thin) glUniform1f(program.at("own_colour"), colour ? 0 : 1);
  glUniform1i(program.at("edges"), 0);
  glActiveTexture(GL_TEXTURE0);
  glBindTexture(GL_TEXTURE_BUFFER, e->texture);
  read_parts(program, frame, batch.first + job.part);
  glBindVertexArray(empty_array);
  for (const auto [first, count] : ranges) {
    glUniform1i(program.at("first"), static_cast<GLint>(first - e->first));
    glUniform1i(program.at("count"), static_cast<GLint>(count));
    glDrawArrays(thin ? GL_LINES : GL_TRIANGLES, 0, static_cast<GLsizei>((thin ? 2 : 6) * count * job.parts));
  }
  glBindTexture(GL_TEXTURE_BUFFER, 0);
}

void Renderer::Card::draw_grid(const CardFrame& frame) const {
  lines(loose_lines, frame, 1, 0);
  glBindVertexArray(loose_array);
  glBindBuffer(GL_ARRAY_BUFFER, loose_buffer);
  glBufferData(GL_ARRAY_BUFFER, static_cast<GLsizeiptr>(frame.grid.size() * sizeof(GridLine)), frame.grid.data(),
               GL_STREAM_DRAW);
  glDrawArraysInstanced(GL_TRIANGLE_STRIP, 0, 4, static_cast<GLsizei>(frame.grid.size()));
}

// The shape of what is picked, whatever stands before it.
void Renderer::Card::draw_mask(const CardFrame& frame, const CardJob& job, CardMask& into) const {
  const int width = static_cast<int>(frame.settings.view.width), height = static_cast<int>(frame.settings.view.height);
  resize(into, width, height);
  glBindFramebuffer(GL_FRAMEBUFFER, into.framebuffer);
  glViewport(0, 0, width, height);
  glDisable(GL_SCISSOR_TEST);
  if (job.parts == 0) {
    glClearColor(0, 0, 0, 0);
    return glClear(GL_COLOR_BUFFER_BIT);
  }
  glDisable(GL_DEPTH_TEST);
  glDisable(GL_BLEND);
  const Batch& batch = frame.plan.batches[job.batch];
  const CardProgram& program = batch.mesh ? mask : box_mask;
  glUseProgram(program.id);
  project(program, frame);
  const CardRange all{job.first, job.count};
  draw_faces(frame, job, {&all, 1});
}

void Renderer::Card::draw_outline(const CardFrame& frame, const CardMask& of) const {
  const DrawFrame& f = frame.settings;
  const double reach = 1.7 * f.pixel_ratio;
  const auto side = [](double v, double limit) { return static_cast<GLint>(std::clamp(v, 0.0, limit)); };
  const GLint left = side(frame.plan.picked[0] - reach - 2, f.view.width),
              bottom = side(frame.plan.picked[1] - reach - 2, f.view.height),
              right = side(frame.plan.picked[2] + reach + 2, f.view.width),
              top = side(frame.plan.picked[3] + reach + 2, f.view.height);
  if (right <= left || top <= bottom) return;
  glEnable(GL_SCISSOR_TEST);
  glScissor(f.left + left, f.bottom + bottom, right - left, top - bottom);
  glDisable(GL_DEPTH_TEST);
  glEnable(GL_BLEND);
  glUseProgram(outline.id);
  glActiveTexture(GL_TEXTURE0);
  glBindTexture(GL_TEXTURE_2D, of.texture);
  glUniform1i(outline.at("mask"), 0);
  glUniform2i(outline.at("corner"), f.left, f.bottom);
  glUniform1f(outline.at("reach"), static_cast<float>(reach));
  set_colour(outline.at("colour"), f.theme.outline);
  glBindVertexArray(empty_array);
  glDrawArrays(GL_TRIANGLES, 0, 3);
  glBindTexture(GL_TEXTURE_2D, 0);
}

void Renderer::Card::run(CardFrame& frame, const CardJob& job, CardCanvas& canvas) const {
  const DrawFrame& f = frame.settings;
  const int width = static_cast<int>(f.view.width), height = static_cast<int>(f.view.height);
  if (job.kind == CardJob::Kind::Mask) {
    ++canvas.drawn.draw_calls;
    return draw_mask(frame, job, canvas.mask);
  }
  if (job.kind == CardJob::Kind::Numbers || job.kind == CardJob::Kind::NumberEdges)
    return draw_numbers(frame, job, canvas);
  const std::vector<CardRange> ranges = shown(frame, job);
  if (ranges.empty()) return;
  canvas.drawn.draw_calls += job.kind == CardJob::Kind::Ask ? job.pieces : ranges.size();
  if (job.kind == CardJob::Kind::Faces || job.kind == CardJob::Kind::Ghosts)
    for (const auto [first, count] : ranges) canvas.drawn.triangles += std::size_t{job.parts} * count / 3;
  if (job.kind == CardJob::Kind::Edges || job.kind == CardJob::Kind::PickedEdges ||
      job.kind == CardJob::Kind::GhostEdges)
    for (const auto [first, count] : ranges) canvas.drawn.edges += std::size_t{job.parts} * count;
  glBindFramebuffer(GL_FRAMEBUFFER, canvas.framebuffer);
  glViewport(f.left, f.bottom, width, height);
  // Clearing goes by the scissor, not by the viewport.
  glEnable(GL_SCISSOR_TEST);
  glScissor(f.left, f.bottom, width, height);
  glColorMask(GL_TRUE, GL_TRUE, GL_TRUE, GL_TRUE);
  glDisable(GL_CULL_FACE);
  glDisable(GL_STENCIL_TEST);
  glDisable(GL_POLYGON_OFFSET_FILL);
  glEnable(GL_DEPTH_TEST);
  glDepthFunc(GL_LEQUAL);
  glBlendFuncSeparate(GL_SRC_ALPHA, GL_ONE_MINUS_SRC_ALPHA, GL_ONE, GL_ONE_MINUS_SRC_ALPHA);
  // Only solid faces are written to the depth: thick lines would cut into each other.
  const bool solid = job.kind == CardJob::Kind::Faces && frame.plan.batches[job.batch].what == Batch::What::Solid;
  glDepthMask(solid ? GL_TRUE : GL_FALSE);
  if (solid)
    glDisable(GL_BLEND);
  else
    glEnable(GL_BLEND);
  switch (job.kind) {
    case CardJob::Kind::Begin:
      glDepthMask(GL_TRUE);
      glDisable(GL_BLEND);
      glClear(GL_DEPTH_BUFFER_BIT);
      glDisable(GL_DEPTH_TEST);
      glUseProgram(background.id);
      set_colour(background.at("top"), f.theme.mist_top);
      set_colour(background.at("bottom"), f.theme.mist_bottom);
      glBindVertexArray(empty_array);
      glDrawArrays(GL_TRIANGLES, 0, 3);
      break;
    case CardJob::Kind::Faces:
    case CardJob::Kind::Ghosts: {
      const bool ghost = job.kind == CardJob::Kind::Ghosts;
      if (!ghost) {
        glEnable(GL_POLYGON_OFFSET_FILL);
        glPolygonOffset(1, 1);
      }
      const Batch& batch = frame.plan.batches[job.batch];
      const bool facing = f.style == DrawStyle::Facing && !ghost;
      // Boxes are small.
      const CardProgram& of_faces = facing ? facing_faces : batch.thin && batch.culled ? small_faces : faces;
      const CardProgram& program = batch.mesh ? of_faces : facing ? facing_boxes : small_boxes;
      glUseProgram(program.id);
      project(program, frame);
      glUniform1f(program.at("shade"), f.theme.shade);
      if (!facing) {
        draw_faces(frame, job, ranges);
        break;
      }
      glUniform4fv(program.at("facing"), 6, &f.theme.facing[0].r);
      set_colour(program.at("behind"), f.theme.behind);
      // Of what is seen through the far side is always seen from behind, and nothing is wrong with it.
      glUniform1f(program.at("hatch"), batch.hatched ? static_cast<float>(7 * f.pixel_ratio) : 0);
      std::array<float, 9> to_world{};
      for (std::size_t c = 0; c < 3; ++c)
        for (std::size_t r = 0; r < 3; ++r)
          to_world[3 * c + r] = static_cast<float>(f.view.to_eye.column[r][static_cast<int>(c)]);
      glUniformMatrix3fv(program.at("to_world"), 1, GL_FALSE, to_world.data());
      draw_faces(frame, job, ranges);
      break;
    }
    case CardJob::Kind::Grid: draw_grid(frame); break;
    case CardJob::Kind::Edges: draw_edges(frame, job, ranges, 1.1f, &f.theme.edge, 1); break;
    case CardJob::Kind::Outline: draw_outline(frame, canvas.mask); break;
    case CardJob::Kind::PickedEdges: draw_edges(frame, job, ranges, 1.9f, &f.theme.outline, 1.2f); break;
    case CardJob::Kind::GhostEdges: {
      Colour line = f.theme.ghost;
      line.a = 0.95f;
      glDisable(GL_DEPTH_TEST);
      draw_edges(frame, job, ranges, 1.4f, &line, 1);
      break;
    }
    case CardJob::Kind::Ask: ask(frame, job); break;
    case CardJob::Kind::Numbers:
    case CardJob::Kind::NumberEdges:
    case CardJob::Kind::Mask: break;  // above
  }
  glDisable(GL_POLYGON_OFFSET_FILL);
}

}  // namespace tack
