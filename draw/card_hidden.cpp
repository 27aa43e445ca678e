// What of heavy meshes is hidden in a close-up: found out by the card, run by run, while it draws. Declared in card.h.
//
// A close-up is small, and shows meshes as they are: of hundreds of thousands of triangles few are seen. The nearest
// runs are drawn; then it is asked, by occlusion queries on rectangles before them, which of the next ones anything
// would be seen of (Bittner et al. 2004, without their coherence from frame to frame); and so on, twice as many each
// time. Rectangles are tested at every sample of a pixel: the picture is the same as if everything were drawn.
#include <tuple>

#include "draw/card.h"

namespace tack {
namespace {

constexpr std::uint32_t kFirstIndices = 3 * 16'384;  // drawn before anything is asked
constexpr std::uint32_t kFacesTogether = 10'000;     // triangles of a job
constexpr std::uint32_t kAskedTogether = 256;        // rectangles of a job

}  // namespace

bool Renderer::Card::asks_about(const CardFrame& frame, const Batch& batch) const {
  const DrawFrame& f = frame.settings;
  const bool exact = f.cut_at_eye && !f.view.perspective && f.off == 0 && f.most == 0;
  const bool solid = f.style == DrawStyle::Shaded || f.style == DrawStyle::Facing;
  return exact && solid && batch.mesh && batch.level == 0 && batch.what == Batch::What::Solid &&
         !meshes.at(batch.mesh).known.runs.empty();
}

void Renderer::Card::add_piece(CardFrame& frame, const EyeBox& box, const MeshArrays::Run& run, double reach,
                               bool asks) const {
  const double more = reach / frame.settings.view.pixels_per_unit;
  CardPiece piece{run.first, run.count};
  const double near = box.centre.z + box.half.z + more;
  // Nothing stands before what the eye's plane cuts.
  piece.asks = asks && near < 0;
  frame.pieces.push_back(piece);
  const Vec3 half = box.half + Vec3{more, more, 0};
  for (const auto& [x, y] : {std::pair{-1.0, -1.0}, {1.0, -1.0}, {1.0, 1.0}, {-1.0, 1.0}})
    frame.fronts.push_back({static_cast<float>(box.centre.x + x * half.x),
                            static_cast<float>(box.centre.y + y * half.y), static_cast<float>(near)});
}

void Renderer::Card::add_asked_faces(CardFrame& frame) const {
  struct Near {
    double depth;
    std::uint32_t batch, part, run;
    EyeBox box;
  };
  std::vector<Near> all;
  for (std::uint32_t b = 0; b < frame.plan.batches.size(); ++b) {
    const Batch& batch = frame.plan.batches[b];
    if (!asks_about(frame, batch)) continue;
    const auto& runs = meshes.at(batch.mesh).known.runs;
    for (std::uint32_t part = 0; part < batch.count; ++part) {
      const PartOnCard& on_card = frame.plan.parts[batch.first + part];
      const EyeOnMesh eye(frame.settings.view, on_card);
      for (std::uint32_t r = 0; r < runs.size(); ++r) {
        const EyeBox box = eye_box_of(on_card, runs[r]);
        if (!may_show(frame.settings, box) || (batch.culled && eye.sees_behind(runs[r]))) continue;
        all.push_back({-box.centre.z - box.half.z, b, part, r, box});
      }
    }
  }
  std::sort(all.begin(), all.end(), [](const Near& a, const Near& b) {
    return std::tie(a.depth, a.batch, a.part, a.run) < std::tie(b.depth, b.batch, b.part, b.run);
  });
  const auto run_of = [&](const Near& n) -> const MeshArrays::Run& {
    return meshes.at(frame.plan.batches[n.batch].mesh).known.runs[n.run];
  };
  std::uint32_t most = kFirstIndices;
  bool asks = false;
  for (std::size_t begin = 0, end = 0; begin < all.size(); begin = end, most *= 2, asks = true) {
    for (std::uint32_t count = 0; end < all.size() && count < most; ++end) count += run_of(all[end]).count;
    // Within a round those of one part come together.
    std::sort(all.begin() + static_cast<std::ptrdiff_t>(begin), all.begin() + static_cast<std::ptrdiff_t>(end),
              [](const Near& a, const Near& b) {
                return std::tie(a.batch, a.part, a.run) < std::tie(b.batch, b.part, b.run);
              });
    const auto first_piece = static_cast<std::uint32_t>(frame.pieces.size());
    std::vector<CardJob> jobs;
    for (std::size_t i = begin; i < end; ++i) {
      const Near& n = all[i];
      const MeshArrays::Run& run = run_of(n);
      const bool goes_on = !jobs.empty() && jobs.back().batch == n.batch && jobs.back().part == n.part &&
                           jobs.back().primitive == run.primitive && jobs.back().count < 3 * kFacesTogether;
      if (!goes_on) {
        CardJob job{CardJob::Kind::Faces, n.batch, n.part, 1, 0, 0, run.primitive};
        job.first_piece = static_cast<std::uint32_t>(frame.pieces.size());
        jobs.push_back(job);
      }
      add_piece(frame, n.box, run, 1, asks);
      ++jobs.back().pieces;
      jobs.back().count += run.count;
    }
    const auto pieces = static_cast<std::uint32_t>(frame.pieces.size());
    for (std::uint32_t at = first_piece; asks && at < pieces; at += kAskedTogether) {
      CardJob job{CardJob::Kind::Ask};
      job.first_piece = at, job.pieces = std::min(kAskedTogether, pieces - at);
      frame.jobs.push_back(job);
    }
    frame.jobs.insert(frame.jobs.end(), jobs.begin(), jobs.end());
  }
}

// All faces are there by then.
void Renderer::Card::add_asked_edges(CardFrame& frame, std::uint32_t number, std::uint32_t first,
                                     std::uint32_t parts) const {
  const Batch& batch = frame.plan.batches[number];
  const GpuMesh& gpu = meshes.at(batch.mesh);
  const auto first_piece = static_cast<std::uint32_t>(frame.pieces.size());
  std::vector<CardJob> jobs;
  for (std::uint32_t part = first; part < first + parts; ++part) {
    const PartOnCard& on_card = frame.plan.parts[batch.first + part];
    for (const EdgeBuffer& e : gpu.edges) {
      bool goes_on = false;
      for (const MeshArrays::Run& run : gpu.known.edge_runs) {
        if (run.first < e.first || run.first >= e.first + e.count) continue;
        const EyeBox box = eye_box_of(on_card, run);
        if (!may_show(frame.settings, box)) continue;
        if (!goes_on || jobs.back().count >= kJobTriangles / 4) {
          CardJob job{CardJob::Kind::Edges, number, part, 1, e.first, 0, 0};
          job.first_piece = static_cast<std::uint32_t>(frame.pieces.size());
          jobs.push_back(job);
        }
        goes_on = true;
        add_piece(frame, box, run, kLineReach, true);
        ++jobs.back().pieces;
        jobs.back().count += run.count;
      }
    }
  }
  const auto pieces = static_cast<std::uint32_t>(frame.pieces.size());
  for (std::uint32_t at = first_piece; at < pieces; at += kAskedTogether) {
    CardJob job{CardJob::Kind::Ask};
    job.first_piece = at, job.pieces = std::min(kAskedTogether, pieces - at);
    frame.jobs.push_back(job);
  }
  frame.jobs.insert(frame.jobs.end(), jobs.begin(), jobs.end());
}

void Renderer::Card::hand_over_fronts(CardFrame& frame, Drawn& drawn) const {
  if (frame.fronts.empty()) return;
  const std::size_t bytes = frame.fronts.size() * sizeof frame.fronts[0];
  glGenBuffers(1, &frame.fronts_buffer);
  glBindBuffer(GL_ARRAY_BUFFER, frame.fronts_buffer);
  glBufferData(GL_ARRAY_BUFFER, static_cast<GLsizeiptr>(bytes), frame.fronts.data(), GL_STREAM_DRAW);
  drawn.bytes += bytes;
  frame.fronts = {};
}

void Renderer::Card::ask(CardFrame& frame, const CardJob& job) const {
  constexpr std::size_t kCorner = 3 * sizeof(float);
  glColorMask(GL_FALSE, GL_FALSE, GL_FALSE, GL_FALSE);
  glDisable(GL_BLEND);
  glUseProgram(box_mask.id);
  std::array<float, 16> projection{};
  std::transform(frame.plan.projection.begin(), frame.plan.projection.end(), projection.begin(),
                 [](double v) { return static_cast<float>(v); });
  glUniformMatrix4fv(box_mask.at("projection"), 1, GL_FALSE, projection.data());
  glBindVertexArray(box_array);
  glBindBuffer(GL_ARRAY_BUFFER, frame.fronts_buffer);
  glEnableVertexAttribArray(0);
  for (const GLuint unused : {1u, 2u}) glDisableVertexAttribArray(unused);
  for (std::uint32_t i = job.first_piece; i < job.first_piece + job.pieces; ++i) {
    CardPiece& piece = frame.pieces[i];
    if (!piece.asks) continue;
    glVertexAttribPointer(0, 3, GL_FLOAT, GL_FALSE, kCorner, reinterpret_cast<const void*>(4 * kCorner * i));
    glGenQueries(1, &piece.query);
    glBeginQuery(GL_ANY_SAMPLES_PASSED, piece.query);
    glDrawElements(GL_TRIANGLES, 6, GL_UNSIGNED_SHORT, nullptr);
    glEndQuery(GL_ANY_SAMPLES_PASSED);
  }
  glColorMask(GL_TRUE, GL_TRUE, GL_TRUE, GL_TRUE);
}

bool Renderer::Card::waits_for_answers(const CardFrame& frame, const CardJob& job) {
  const auto first = frame.pieces.begin() + job.first_piece;
  return job.kind != CardJob::Kind::Ask &&
         std::any_of(first, first + job.pieces, [](const CardPiece& piece) { return piece.query != 0; });
}

std::vector<CardRange> Renderer::Card::shown(CardFrame& frame, const CardJob& job) {
  if (job.pieces == 0 || job.kind == CardJob::Kind::Ask) return {{job.first, job.count}};
  std::vector<CardRange> ranges;
  for (std::uint32_t i = job.first_piece; i < job.first_piece + job.pieces; ++i) {
    CardPiece& piece = frame.pieces[i];
    if (piece.query) {
      GLuint any = 1;
      glGetQueryObjectuiv(piece.query, GL_QUERY_RESULT, &any);
      glDeleteQueries(1, &piece.query);
      piece.query = 0;
      piece.hidden = any == 0;
    }
    if (piece.hidden) continue;
    if (!ranges.empty() && ranges.back()[0] + ranges.back()[1] == piece.first)
      ranges.back()[1] += piece.count;
    else
      ranges.push_back({piece.first, piece.count});
  }
  return ranges;
}

}  // namespace tack
