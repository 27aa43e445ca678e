#include "core/files/kept_record.h"

#include <fmt/format.h>

#include <algorithm>
#include <unordered_map>

#include "core/files/gltf_data.h"
#include "core/files/gltf_schema.h"

namespace tack {
namespace {

// Where the mark stands in the JSON text. A name cannot hold it: its quotes would be written with a stroke before them.
constexpr std::string_view kMark = R"("TACKPOINT_record_mark":")";
constexpr std::string_view kOpen = "0000000000000000";
constexpr std::uint64_t kFirstMark = 14695981039346656037ull;
constexpr std::uint64_t kMostTimes = 16, kFreeBytes = std::uint64_t{64} << 20;

// Eight bytes at a time, from whatever runs they come in: a gigabyte in a third of a second. Tells that bytes were
// changed; not for security.
class Mark {
 public:
  explicit Mark(std::uint64_t from = kFirstMark) : mark_(from) {}
  void add(ByteView bytes) {
    size_ += bytes.size();
    while (waiting_ > 0 && !bytes.empty()) {
      wait_[waiting_++] = bytes.front();
      bytes = bytes.subspan(1);
      if (waiting_ == wait_.size()) add_eight(wait_), waiting_ = 0;
    }
    for (; bytes.size() >= wait_.size(); bytes = bytes.subspan(wait_.size())) add_eight(bytes);
    for (const std::uint8_t b : bytes) wait_[waiting_++] = b;
  }
  std::uint64_t end() const {
    std::uint64_t mark = mark_;
    for (std::size_t i = 0; i < waiting_; ++i) mark = (mark ^ wait_[i]) * 1099511628211ull;
    return mark ^ (mark >> 32) ^ size_;
  }

 private:
  void add_eight(ByteView bytes) {
    mark_ = (mark_ ^ read_at<std::uint64_t>(bytes, 0)) * 0x9E3779B97F4A7C15ull;
    mark_ ^= mark_ >> 29;
  }

  std::uint64_t mark_;
  std::size_t size_ = 0, waiting_ = 0;
  std::array<std::uint8_t, 8> wait_{};
};

std::uint64_t mark_of(ByteView bytes, std::uint64_t from = kFirstMark) {
  Mark mark(from);
  mark.add(bytes);
  return mark.end();
}

constexpr std::size_t kTextAt = 20;  // in a GLB, behind its head and that of the JSON chunk

// The JSON chunk's text; the caller has seen that the file is a GLB.
ByteView chunk_text(ByteView glb) {
  if (glb.size() < kTextAt) return {};
  return glb.subspan(kTextAt, std::min<std::size_t>(read_at<std::uint32_t>(glb, 12), glb.size() - kTextAt));
}

// Where the mark's digits begin in the text; the text's size when it has none.
std::size_t mark_in(ByteView text) {
  const std::string_view all(reinterpret_cast<const char*>(text.data()), text.size());
  const std::size_t at = all.find(kMark);
  if (at == std::string_view::npos || at + kMark.size() + kOpen.size() > text.size()) return text.size();
  return at + kMark.size();
}

// Of the text but for the mark, and of all that is behind it in the file.
std::string mark_for(ByteView text, std::size_t at, const ByteRuns& behind) {
  Mark mark(mark_of(text.subspan(at + kOpen.size()), mark_of(text.first(at))));
  behind.each([&](ByteView run) {
    mark.add(run);
    return true;
  });
  return fmt::format("{:016x}", mark.end());
}

// Bytes that are in the file already: of the document (0), or of the record (1).
struct Piece {
  std::size_t from = 0, at = 0, length = 0;
};

// Finds each run of bytes once, and notes it for the next that are the same.
class Pieces {
 public:
  Pieces(const Json& json, const ByteRuns& binary) : document_(binary) {
    const std::vector<std::size_t> cuts = cuts_of(json, binary.size());
    for (std::size_t i = 0; i + 1 < cuts.size(); ++i) know({0, cuts[i], cuts[i + 1] - cuts[i]});
  }

  Json put(const WrittenGltf& scene) {
    Json list = Json::array();
    Piece last;
    const auto flush = [&] {
      if (last.length > 0) list.push_back(Json::array({last.from, last.at, last.length}));
    };
    for (std::size_t i = 0; i + 1 < scene.cuts.size(); ++i) {
      const Piece piece = found(scene.binary.slice(scene.cuts[i], scene.cuts[i + 1] - scene.cuts[i]));
      if (last.length > 0 && last.from == piece.from && last.at + last.length == piece.at) {
        last.length += piece.length;
        continue;
      }
      flush();
      last = piece;
    }
    flush();
    return list;
  }
  const ByteRuns& own() const { return own_; }

 private:
  Blob at(const Piece& p) const { return (p.from == 0 ? document_ : own_).slice(p.at, p.length); }
  void know(const Piece& piece) { known_.emplace(mark_of(at(piece)), piece); }
  Piece found(const Blob& wanted) {
    const auto [begin, end] = known_.equal_range(mark_of(wanted));
    for (auto it = begin; it != end; ++it)
      if (it->second.length == wanted.size()) {
        const Blob have = at(it->second);
        // What both hold where it lies is not compared.
        if (have.view().data() == wanted.view().data() || std::ranges::equal(have.view(), wanted.view()))
          return it->second;
      }
    const Piece piece{1, own_.size(), wanted.size()};
    own_.hold(wanted);
    know(piece);
    return piece;
  }

  const ByteRuns& document_;
  ByteRuns own_;
  std::unordered_multimap<std::uint64_t, Piece> known_;
};

Result<Bytes> bytes_of_pieces(const Json& pieces, ByteView document, ByteView own, std::uint64_t& left) {
  Bytes all;
  for (const Json& p : pieces) {
    if (!p.is_array() || p.size() != 3) return fail("The record is damaged.");
    for (const Json& n : p)
      if (!n.is_number_unsigned()) return fail("The record is damaged.");
    const ByteView from = p[0].get<std::uint64_t>() == 0 ? document : own;
    const auto at = p[1].get<std::uint64_t>(), length = p[2].get<std::uint64_t>();
    if (at > from.size() || length > from.size() - at || length > left) return fail("The record is damaged.");
    left -= length;
    all.insert(all.end(), from.begin() + static_cast<std::ptrdiff_t>(at),
               from.begin() + static_cast<std::ptrdiff_t>(at + length));
  }
  return all;
}

Result<KeptRecord> read_record(ByteView text, ByteView document, ByteView own) {
  auto json = parse_json({reinterpret_cast<const char*>(text.data()), text.size()}, 300);
  if (!json) return tl::unexpected(json.error());
  if (!json->contains("scenes") || !(*json)["scenes"].is_array() || (*json)["scenes"].empty() ||
      (*json)["scenes"].size() > kMostRecordScenes || !json->contains("steps") || !(*json)["steps"].is_array())
    return fail("The record is damaged.");
  KeptRecord record;
  std::uint64_t left = kFreeBytes + kMostTimes * (document.size() + own.size());
  for (Json& scene : (*json)["scenes"]) {
    if (!scene.is_object() || !scene.contains("gltf") || !scene["gltf"].is_object() || !scene.contains("pieces") ||
        !scene["pieces"].is_array())
      return fail("The record is damaged.");
    auto bytes = bytes_of_pieces(scene["pieces"], document, own, left);
    if (!bytes) return tl::unexpected(bytes.error());
    record.scenes.push_back({std::move(scene["gltf"]), Blob(std::move(*bytes))});
  }
  record.steps = std::move((*json)["steps"]);
  return record;
}

bool view_is_used(Json& json, std::uint64_t view) {
  bool used = false;
  each_reference(json, [&](Ref kind, Json& value) {
    used |= kind == Ref::BufferView && value.is_number_integer() && value.get<std::int64_t>() >= 0 &&
            value.get<std::uint64_t>() == view;
  });
  return used;
}

// Where the record lies in the buffer.
struct RecordPlace {
  std::uint64_t view = 0, at = 0, length = 0, text = 0, document = 0;
};

std::optional<RecordPlace> place_of_record(const Json& record, const Json& json, std::size_t size) {
  if (!record.is_object() || !json.contains("bufferViews") || !json["bufferViews"].is_array()) return std::nullopt;
  const auto view = unsigned_at(record, "bufferView", kNoNumber), text = unsigned_at(record, "text", 0),
             document = unsigned_at(record, "document", 0);
  if (!view || !text || !document || *view + 1 != json["bufferViews"].size()) return std::nullopt;
  const Json& last = json["bufferViews"][*view];
  const auto at = unsigned_at(last, "byteOffset", 0), length = unsigned_at(last, "byteLength", 0);
  if (!last.is_object() || !at || !length || *at > size || *length > size - *at || *text > *length || *document > *at)
    return std::nullopt;
  return RecordPlace{*view, *at, *length, *text, *document};
}

}  // namespace

std::vector<std::size_t> cuts_of(const Json& json, std::size_t size) {
  std::vector<std::size_t> cuts{0, size};
  const auto add = [&](const Json& view) {
    if (!view.is_object() || unsigned_at(view, "buffer", 0) != std::uint64_t{0}) return;
    const auto at = unsigned_at(view, "byteOffset", 0), length = unsigned_at(view, "byteLength", 0);
    if (!at || !length || *at > size || *length > size - *at) return;
    cuts.push_back(*at);
    cuts.push_back(*at + *length);
  };
  if (json.contains("bufferViews") && json["bufferViews"].is_array())
    for (const Json& view : json["bufferViews"]) {
      add(view);
      if (view.is_object() && view.contains("extensions") && view["extensions"].is_object() &&
          view["extensions"].contains("EXT_meshopt_compression"))
        add(view["extensions"]["EXT_meshopt_compression"]);
    }
  std::sort(cuts.begin(), cuts.end());
  cuts.erase(std::unique(cuts.begin(), cuts.end()), cuts.end());
  return cuts;
}

Result<Json> put_record(const WrittenRecord& record, Json& json, ByteRuns& binary) {
  if (record.scenes.size() > kMostRecordScenes)
    return fail("The steps are not kept in the document: too many files were brought in.");
  Pieces pieces(json, binary);
  std::string text = R"({"scenes":[)";
  std::uint64_t whole = 0;
  for (const WrittenGltf& scene : record.scenes) {
    if (&scene != &record.scenes.front()) text += ',';
    text.append(R"({"gltf":)").append(scene.json);
    text.append(R"(,"pieces":)").append(json_text(pieces.put(scene))).append("}");
    whole += scene.binary.size();
  }
  text.append(R"(],"steps":)").append(record.steps).append("}");
  text.resize((text.size() + 7) / 8 * 8, ' ');
  if (text.size() > kMostRecordText || whole > kFreeBytes + kMostTimes * (binary.size() + pieces.own().size()))
    return fail("The steps are not kept in the document: there are too many of them, of too many parts.");
  const std::size_t document = binary.size(), length = text.size();
  binary.pad(8);
  const std::size_t at = binary.size();
  binary.hold(blob_of(std::move(text)));
  binary.hold(pieces.own());
  binary.pad(4);
  json["bufferViews"].push_back({{"buffer", 0}, {"byteOffset", at}, {"byteLength", binary.size() - at}});
  return Json{{"bufferView", json["bufferViews"].size() - 1},
              {"document", document},
              {"TACKPOINT_record_mark", std::string(kOpen)},
              {"text", length}};
}

void seal_record(GlbRuns& glb) {
  const ByteView text(reinterpret_cast<const std::uint8_t*>(glb.json.data()), glb.json.size());
  const std::size_t at = mark_in(text);
  if (at == text.size()) return;
  const std::string mark = mark_for(text, at, glb.behind);
  std::copy(mark.begin(), mark.end(), glb.json.begin() + static_cast<std::ptrdiff_t>(at));
}

Result<std::optional<KeptRecord>> take_record(ByteView glb, Json& json, Blob& binary, bool reads) {
  // Ours is always the first scene.
  const Json* layout = &json;
  for (const char* key : {"scenes", "0", "extensions", "TACKPOINT_layout", "record"}) {
    const bool list = layout->is_array();
    if (list ? layout->empty() : !layout->is_object() || !layout->contains(key)) return std::nullopt;
    layout = list ? &layout->front() : &(*layout)[key];
  }
  const Json said = *layout;
  const auto place = place_of_record(said, json, binary.size());
  Result<KeptRecord> record = fail("Another program has written this document since.");
  const ByteView text = chunk_text(glb), all = binary.view();
  const std::size_t at = reads ? mark_in(text) : text.size();
  if (place && at < text.size() &&
      mark_for(text, at, ByteRuns(Blob(glb.subspan(kTextAt + text.size()), nullptr))) ==
          std::string_view(reinterpret_cast<const char*>(text.data()) + at, kOpen.size()))
    record = read_record(all.subspan(place->at, place->text), all.first(place->document),
                         all.subspan(place->at + place->text, place->length - place->text));
  // It is written anew with the document; what another program made of it would only grow.
  if (place && !view_is_used(json, place->view)) {
    json["bufferViews"].erase(place->view);
    if (place->at + place->length == binary.size() && json.contains("buffers") && json["buffers"].is_array() &&
        !json["buffers"].empty() && json["buffers"][0].is_object()) {
      binary = Blob(binary.view().first(place->document), binary.keep());
      json["buffers"][0]["byteLength"] = place->document;
      if (place->document == 0) json.erase("buffers");
    }
    if (json["bufferViews"].empty()) json.erase("bufferViews");
  }
  if (!reads) return std::nullopt;
  if (!record) return tl::unexpected(record.error());
  return std::optional(std::move(*record));
}

}  // namespace tack
