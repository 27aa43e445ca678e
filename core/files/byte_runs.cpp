#include "core/files/byte_runs.h"

#include <algorithm>
#include <array>

namespace tack {
namespace {

constexpr std::size_t kBlock = std::size_t{1} << 20, kFew = 512;  // bytes

}  // namespace

void ByteRuns::copy(ByteView bytes) {
  if (bytes.empty()) return;
  if (!block_ || block_->capacity() - block_->size() < bytes.size()) {
    block_ = std::make_shared<Bytes>();
    block_->reserve(std::max(kBlock, bytes.size()));
  }
  const std::uint8_t* at = block_->data() + block_->size();
  block_->insert(block_->end(), bytes.begin(), bytes.end());
  // Behind what was copied before it is the same run.
  if (!runs_.empty() && runs_.back().bytes.view().data() + runs_.back().bytes.size() == at &&
      runs_.back().bytes.keep() == block_)
    runs_.back().bytes = Blob({runs_.back().bytes.view().data(), runs_.back().bytes.size() + bytes.size()}, block_);
  else
    runs_.push_back({size_, Blob({at, bytes.size()}, block_)});
  size_ += bytes.size();
}

void ByteRuns::hold(const Blob& bytes) {
  if (bytes.size() < kFew) return copy(bytes);
  runs_.push_back({size_, bytes});
  size_ += bytes.size();
}

void ByteRuns::hold(const ByteRuns& others) {
  for (const Run& run : others.runs_) hold(run.bytes);
}

void ByteRuns::pad(std::size_t step) {
  constexpr std::array<std::uint8_t, 16> kZeros{};
  for (std::size_t left = (step - size_ % step) % step; left > 0;) {
    const std::size_t some = std::min(left, kZeros.size());
    copy(ByteView(kZeros).first(some));
    left -= some;
  }
}

Blob ByteRuns::slice(std::size_t at, std::size_t length) const {
  if (length == 0) return {};
  auto run = std::upper_bound(runs_.begin(), runs_.end(), at, [](std::size_t a, const Run& r) { return a < r.at; }) - 1;
  std::size_t inside = at - run->at;
  if (length <= run->bytes.size() - inside) return {run->bytes.view().subspan(inside, length), run->bytes.keep()};
  Bytes all;
  all.reserve(length);
  for (; all.size() < length; ++run, inside = 0) {
    const ByteView part = run->bytes.view().subspan(inside);
    all.insert(all.end(), part.begin(),
               part.begin() + static_cast<std::ptrdiff_t>(std::min(part.size(), length - all.size())));
  }
  return Blob(std::move(all));
}

bool ByteRuns::each(const std::function<bool(ByteView)>& take) const {
  return std::all_of(runs_.begin(), runs_.end(), [&](const Run& run) { return take(run.bytes); });
}

Bytes bytes_of(const ByteRuns& runs) {
  Bytes all;
  all.reserve(runs.size());
  runs.each([&](ByteView run) {
    all.insert(all.end(), run.begin(), run.end());
    return true;
  });
  return all;
}

}  // namespace tack
