#include "core/catch/typed_place.h"

namespace tack {
namespace {

EntryError whole(std::string_view text, const Problem& problem) { return {0, text.size(), sentence(problem)}; }

// Where the text is to be cut: at commas that stand in no quotes.
std::vector<std::pair<std::size_t, std::size_t>> pieces_of(std::string_view text) {
  std::vector<std::pair<std::size_t, std::size_t>> pieces;
  std::size_t from = 0;
  bool quoted = false;
  for (std::size_t i = 0; i <= text.size(); ++i) {
    if (i < text.size() && text[i] == '"') quoted = !quoted;
    if (i < text.size() && (text[i] != ',' || quoted)) continue;
    pieces.emplace_back(from, i - from);
    from = i + 1;
  }
  return pieces;
}

bool is_blank(std::string_view text) { return text.find_first_not_of(" \t") == std::string_view::npos; }

// An inch mark looks like the start of a name: only a quote at the very beginning names a part.
bool is_address(std::string_view text) {
  const std::size_t first = text.find_first_not_of(" \t=");
  if (first == std::string_view::npos) return false;
  const std::string_view rest = text.substr(first);
  return rest.front() == '"' || rest.starts_with("point ") || rest.starts_with("plane ");
}

}  // namespace

tl::expected<TackAddress, EntryError> typed_place(const Scene& scene, std::string_view text,
                                                  const EntryContext& lengths, const Affine& frame) {
  if (is_address(text)) {
    const auto address = parse_address(scene, text.substr(text.find_first_not_of(" \t=")));
    if (!address) return tl::unexpected(whole(text, address.error()));
    if (const auto tack = find_tack(scene, *address); !tack) return tl::unexpected(whole(text, tack.error()));
    return *address;
  }
  const auto pieces = pieces_of(text);
  if (pieces.size() != 3)
    return tl::unexpected(EntryError{
        0, text.size(), "A place is three lengths with commas between them, or an address like \"Post 4\" vertex 17."});
  Vec3 at;
  for (std::size_t i = 0; i < 3; ++i) {
    const auto [from, size] = pieces[i];
    const std::string_view piece = text.substr(from, size);
    if (is_blank(piece)) continue;
    auto value = parse_entry(piece, lengths);
    if (!value) {
      value.error().at += from;
      return tl::unexpected(value.error());
    }
    at[static_cast<int>(i)] = *value;
  }
  return TackAddress{TackKind::Point, kNoPart, 0, frame * at};
}

tl::expected<PartId, EntryError> typed_part(const Scene& scene, std::string_view text) {
  std::string_view name = text;
  while (!name.empty() && (name.front() == ' ' || name.front() == '=')) name.remove_prefix(1);
  while (!name.empty() && name.back() == ' ') name.remove_suffix(1);
  if (name.size() > 1 && name.front() == '"' && name.back() == '"') name = name.substr(1, name.size() - 2);
  const auto part = find_by_path(scene, name);
  if (!part) return tl::unexpected(whole(text, part.error()));
  return *part;
}

}  // namespace tack
