// What of heavy meshes is hidden in a close-up: found out by the card, run by run, while it draws. Declared in card.h.
//
// A close-up is small, and shows meshes as they are: of hundreds of thousands of triangles few are seen. The nearest
// runs are drawn; then the card is asked, by occlusion queries on their boxes, which of the next ones would show
// (Bittner et al. 2004, without their coherence from frame to frame); and so on, twice as many each time. Boxes are
// tested at every sample of a pixel: the picture is the same as if everything were drawn.
#include <tuple>

#include "draw/card.h"

namespace tack {
namespace {

constexpr std::uint32_t kFirstIndices = 3 * 16'384;  // drawn before anything is asked
constexpr std::uint32_t kFacesTogether = 10'000;     // triangles of a job
constexpr std::uint32_t kAskedTogether = 256;        // boxes of a job

// What covers a run, and everything within `more` mm of it, for an eye that looks along −z: the three sides of its box
// that are seen; of a part that is all but flat the front of its box along the eye's axes, three times. Four corners
// each.
CardFront front_of(const PartOnCard& part, const MeshArrays::Run& run, const EyeBox& box, double more) {
  const auto& r = part.rows;
  const std::array<Vec3, 3> axes{Vec3{r[0], r[4], r[8]}, Vec3{r[1], r[5], r[9]}, Vec3{r[2], r[6], r[10]}};
  const double volume = dot(axes[0], cross(axes[1], axes[2]));
  CardFront front{};
  const auto put = [&](std::size_t side, std::size_t corner, const Vec3& p) {
    front[4 * side + corner] = {static_cast<float>(p.x), static_cast<float>(p.y), static_cast<float>(p.z)};
  };
  constexpr std::array<std::array<int, 2>, 4> kRound{{{-1, -1}, {1, -1}, {1, 1}, {-1, 1}}};
  if (!(std::abs(volume) > 1e-4 * length(axes[0]) * length(axes[1]) * length(axes[2]))) {
    for (std::size_t side = 0; side < 3; ++side)
      for (std::size_t k = 0; k < 4; ++k)
        put(side, k,
            box.centre +
                Vec3{kRound[k][0] * (box.half.x + more), kRound[k][1] * (box.half.y + more), box.half.z + more});
    return front;
  }
  // What single numbers round comes on top, as in `box`.
  double size = 0;
  for (int i = 0; i < 3; ++i) size += std::abs(box.centre[i]) + std::abs(r[4 * static_cast<std::size_t>(i) + 3]);
  more += 1e-6 * size;
  std::array<Vec3, 3> half, across;
  for (std::size_t i = 0; i < 3; ++i) {
    across[i] = cross(axes[(i + 1) % 3], axes[(i + 2) % 3]) * (volume > 0 ? 1.0 : -1.0);
    half[i] = axes[i] * (run.half[i] + more * length(across[i]) / std::abs(volume));
  }
  for (std::size_t i = 0; i < 3; ++i) {
    const Vec3 side = box.centre + half[i] * (across[i].z > 0 ? 1.0 : -1.0);
    for (std::size_t k = 0; k < 4; ++k)
      put(i, k, side + half[(i + 1) % 3] * kRound[k][0] + half[(i + 2) % 3] * kRound[k][1]);
  }
  return front;
}

}  // namespace

bool Renderer::Card::asks_about(const CardFrame& frame, const Batch& batch) const {
  const DrawFrame& f = frame.settings;
  const bool exact = f.cut_at_eye && !f.view.perspective && f.off == 0 && f.most == 0;
  const bool solid = f.style == DrawStyle::Shaded || f.style == DrawStyle::Facing;
  return exact && solid && batch.mesh && batch.level == 0 && batch.what == Batch::What::Solid &&
         !meshes.at(batch.mesh).known.runs.empty();
}

void Renderer::Card::add_piece(CardFrame& frame, const PartOnCard& part, const MeshArrays::Run& run, const EyeBox& box,
                               double reach, bool asks) const {
  const CardFront front = front_of(part, run, box, reach / frame.settings.view.pixels_per_unit);
  // What the eye's plane cuts off a front hides nothing.
  const bool whole = std::all_of(front.begin(), front.end(), [](const auto& corner) { return corner[2] < 0; });
  frame.pieces.push_back({run.first, run.count, asks && whole});
  frame.fronts.push_back(front);
}

// What the pieces from one on are drawn in, and before it the questions about them.
void Renderer::Card::add_jobs_of_pieces(CardFrame& frame, std::uint32_t first_piece, const std::vector<CardJob>& jobs) {
  const auto end = static_cast<std::uint32_t>(frame.pieces.size());
  for (std::uint32_t at = first_piece; at < end; at += kAskedTogether) {
    CardJob job{CardJob::Kind::Ask};
    job.first_piece = at, job.pieces = std::min(kAskedTogether, end - at);
    const auto begin = frame.pieces.begin() + at;
    if (std::any_of(begin, begin + job.pieces, [](const CardPiece& piece) { return piece.asks; }))
      frame.jobs.push_back(job);
  }
  frame.jobs.insert(frame.jobs.end(), jobs.begin(), jobs.end());
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
      add_piece(frame, frame.plan.parts[frame.plan.batches[n.batch].first + n.part], run, n.box, 1, asks);
      ++jobs.back().pieces;
      jobs.back().count += run.count;
    }
    add_jobs_of_pieces(frame, first_piece, jobs);
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
        add_piece(frame, on_card, run, box, kLineReach, true);
        ++jobs.back().pieces;
        jobs.back().count += run.count;
      }
    }
  }
  add_jobs_of_pieces(frame, first_piece, jobs);
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
  project(box_mask, frame);
  glBindVertexArray(box_array);
  glBindBuffer(GL_ARRAY_BUFFER, frame.fronts_buffer);
  glEnableVertexAttribArray(0);
  for (const GLuint unused : {1u, 2u}) glDisableVertexAttribArray(unused);
  for (std::uint32_t i = job.first_piece; i < job.first_piece + job.pieces; ++i) {
    CardPiece& piece = frame.pieces[i];
    if (!piece.asks) continue;
    glVertexAttribPointer(0, 3, GL_FLOAT, GL_FALSE, kCorner, reinterpret_cast<const void*>(sizeof(CardFront) * i));
    glGenQueries(1, &piece.query);
    glBeginQuery(GL_ANY_SAMPLES_PASSED, piece.query);
    glDrawElements(GL_TRIANGLES, 18, GL_UNSIGNED_SHORT, nullptr);
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
