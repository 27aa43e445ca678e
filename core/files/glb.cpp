#include "core/files/glb.h"

#include <fmt/format.h>

#include <nlohmann/json.hpp>
#include <set>

namespace tack {
namespace {

constexpr std::uint32_t kMagic = 0x46546C67, kJsonChunk = 0x4E4F534A, kBinaryChunk = 0x004E4942;

// Whether brackets outside strings nest no deeper than allowed.
bool shallow(std::string_view text, int deepest) {
  int depth = 0;
  bool in_string = false;
  for (std::size_t i = 0; i < text.size(); ++i) {
    const char c = text[i];
    if (in_string) {
      if (c == '\\')
        ++i;
      else if (c == '"')
        in_string = false;
    } else if (c == '"') {
      in_string = true;
    } else if (c == '[' || c == '{') {
      if (++depth > deepest) return false;
    } else if (c == ']' || c == '}') {
      --depth;
    }
  }
  return true;
}

}  // namespace

namespace {

std::size_t line_of(std::string_view text, std::size_t at) {
  return 1 + static_cast<std::size_t>(std::count(text.begin(), text.begin() + static_cast<std::ptrdiff_t>(at), '\n'));
}

Result<Json> parsed(std::string_view text, int deepest, bool list) {
  if (!shallow(text, deepest)) return fail(fmt::format("The JSON is nested more than {} deep.", deepest));
  // In what people write, a key that stands twice is a mistake that must not be passed over: the keys of the objects
  // that are open.
  std::vector<std::set<std::string>> open;
  std::string twice;
  const auto watch = [&](int, Json::parse_event_t event, Json& value) {
    if (event == Json::parse_event_t::object_start) open.emplace_back();
    if (event == Json::parse_event_t::object_end && !open.empty()) open.pop_back();
    if (event == Json::parse_event_t::key && !open.empty() && !open.back().insert(value.get<std::string>()).second)
      twice = value.get<std::string>();
    return true;
  };
  try {
    Json json = list ? Json::parse(text, watch) : Json::parse(text);
    if (list ? !json.is_array() : !json.is_object())
      return fail(list ? "The JSON is not a list." : "The JSON is not an object.");
    if (!twice.empty()) return fail(fmt::format("\"{}\" stands twice in one object.", twice));
    return json;
  } catch (const Json::parse_error& error) {
    const std::size_t at = std::min(error.byte > 0 ? error.byte - 1 : 0, text.size());
    return fail(fmt::format("The JSON is damaged at byte {}, in line {}.", error.byte, line_of(text, at)));
  } catch (const Json::out_of_range&) {
    return fail("The JSON has a number in it that is too large.");
  } catch (const Json::exception&) {
    return fail("The JSON cannot be read.");
  }
}

}  // namespace

Result<Json> parse_json(std::string_view text, int deepest) { return parsed(text, deepest, false); }
Result<Json> parse_json_list(std::string_view text, int deepest) { return parsed(text, deepest, true); }

bool is_glb(ByteView bytes) { return bytes.size() >= 4 && read_at<std::uint32_t>(bytes, 0) == kMagic; }

Result<Glb> read_glb(ByteView bytes, const std::shared_ptr<const void>& keep) {
  if (bytes.size() < 20 || !is_glb(bytes)) return fail("This is not a GLB file, or it is cut off.");
  const auto version = read_at<std::uint32_t>(bytes, 4), length = read_at<std::uint32_t>(bytes, 8);
  if (length < 20) return fail("The GLB says that it is shorter than its own header.");
  if (version != 2) return fail(fmt::format("This is GLB version {}; only version 2 can be read.", version));
  if (length > bytes.size())
    return fail(fmt::format("The file is cut off: it should have {} bytes and has {}.", length, bytes.size()));
  const auto json_length = read_at<std::uint32_t>(bytes, 12);
  if (read_at<std::uint32_t>(bytes, 16) != kJsonChunk || json_length > length - 20)
    return fail("The GLB does not begin with a whole JSON chunk.");
  auto json = parse_json({reinterpret_cast<const char*>(bytes.data()) + 20, json_length});
  if (!json) return tl::unexpected(json.error());
  Glb glb{std::move(*json), {}};
  for (std::size_t at = 20 + std::size_t{json_length}; at + 8 <= length;) {
    const auto chunk_length = read_at<std::uint32_t>(bytes, at), type = read_at<std::uint32_t>(bytes, at + 4);
    at += 8;
    if (chunk_length > length - at) return fail("A chunk of the GLB is longer than the file.");
    if (type == kBinaryChunk) {
      const ByteView chunk = bytes.subspan(at, chunk_length);
      glb.binary = keep ? Blob(chunk, keep) : Blob(Bytes(chunk.begin(), chunk.end()));
      break;
    }
    at += chunk_length;
  }
  return glb;
}

std::string json_text(const Json& json) { return json.dump(-1, ' ', false, Json::error_handler_t::replace); }

Result<Bytes> write_glb(const Json& json, ByteView binary) {
  auto glb = glb_around(json_text(json), ByteRuns(Blob(binary, nullptr)));
  if (!glb) return tl::unexpected(glb.error());
  return bytes_of(runs_of(std::move(*glb)));
}

Result<GlbRuns> glb_around(std::string text, const ByteRuns& binary) {
  GlbRuns glb;
  text.resize((text.size() + 3) / 4 * 4, ' ');
  const std::uint64_t padded = (binary.size() + 3) / 4 * 4;
  const std::uint64_t total = 12 + 8 + text.size() + (binary.empty() ? 0 : 8 + padded);
  if (total > 0xFFFFFFFFu) return fail("The document would be over 4 GB, the most a .glb file can hold.");
  append(glb.head, kMagic);
  append(glb.head, std::uint32_t{2});
  append(glb.head, static_cast<std::uint32_t>(total));
  append(glb.head, static_cast<std::uint32_t>(text.size()));
  append(glb.head, kJsonChunk);
  glb.json = std::move(text);
  if (binary.empty()) return glb;
  Bytes head;
  append(head, static_cast<std::uint32_t>(padded));
  append(head, kBinaryChunk);
  glb.behind.copy(head);
  glb.behind.hold(binary);
  glb.behind.pad(4);
  return glb;
}

ByteRuns runs_of(GlbRuns glb) {
  ByteRuns all;
  all.copy(glb.head);
  all.hold(blob_of(std::move(glb.json)));
  all.hold(glb.behind);
  return all;
}

}  // namespace tack
