// Naming parts by path; declared in scene.h.
#include <fmt/format.h>

#include <algorithm>
#include <unordered_map>

#include "core/scene/scene.h"

namespace tack {
namespace {

std::string escaped(const std::string& name) {
  std::string text;
  for (const char c : name) {
    if (c == '/' || c == '#' || c == '\\') text += '\\';
    text += c;
  }
  return text;
}

const std::vector<PartId>& siblings_of(const Scene& scene, PartId parent) {
  return parent == kNoPart ? scene.roots() : scene.part(parent).children;
}

// The paths of all parts, in tree order. One pass, so that looking a path up does not cost a pass for each part.
std::vector<std::pair<PartId, std::string>> all_paths(const Scene& scene) {
  std::vector<std::pair<PartId, std::string>> paths;
  std::unordered_map<PartId, std::string> path_by_id;
  std::unordered_map<PartId, std::unordered_map<std::string, int>> seen;
  for (const PartId id : scene.in_tree_order()) {
    const Part& part = scene.part(id);
    std::string text = escaped(part.name);
    if (const int nth = ++seen[part.parent][part.name]; nth > 1) text += fmt::format("#{}", nth);
    if (part.parent != kNoPart) text.insert(0, path_by_id[part.parent] + "/");
    path_by_id[id] = text;
    paths.emplace_back(id, std::move(text));
  }
  return paths;
}

bool ends_in_path(const std::string& path, std::string_view end) {
  if (path.size() <= end.size()) return path == end;
  const std::size_t at = path.size() - end.size();
  // The '/' before the end must separate, not belong to a name.
  return path.compare(at, std::string::npos, end) == 0 && path[at - 1] == '/' && (at < 2 || path[at - 2] != '\\');
}

std::size_t edit_distance(std::string_view a, std::string_view b) {
  std::vector<std::size_t> row(b.size() + 1);
  for (std::size_t j = 0; j <= b.size(); ++j) row[j] = j;
  for (std::size_t i = 1; i <= a.size(); ++i) {
    std::size_t diagonal = row[0];
    row[0] = i;
    for (std::size_t j = 1; j <= b.size(); ++j) {
      const std::size_t above = row[j];
      row[j] = std::min({above + 1, row[j - 1] + 1, diagonal + (a[i - 1] == b[j - 1] ? 0 : 1)});
      diagonal = above;
    }
  }
  return row[b.size()];
}

}  // namespace

std::string path_of(const Scene& scene, PartId id) {
  std::string path;
  for (const Part* p = scene.find(id); p; id = p->parent, p = scene.find(id)) {
    int nth = 1;
    for (const PartId sibling : siblings_of(scene, p->parent)) {
      if (sibling == id) break;
      if (scene.part(sibling).name == p->name) ++nth;
    }
    std::string text = escaped(p->name);
    if (nth > 1) text += fmt::format("#{}", nth);
    if (!path.empty()) text += '/';
    path.insert(0, text);
  }
  return path;
}

Result<PartId> find_by_path(const Scene& scene, std::string_view path) {
  const auto paths = all_paths(scene);
  std::vector<const std::pair<PartId, std::string>*> ending;
  for (const auto& entry : paths) {
    if (entry.second == path) return entry.first;
    if (ends_in_path(entry.second, path)) ending.push_back(&entry);
  }
  if (ending.size() == 1) return ending.front()->first;
  if (ending.size() > 1) {
    std::string list;
    for (std::size_t i = 0; i < std::min<std::size_t>(ending.size(), 4); ++i)
      list += fmt::format("{}\"{}\"", i ? ", " : "", ending[i]->second);
    if (ending.size() > 4) list += fmt::format(" and {} more", ending.size() - 4);
    return fail(fmt::format("There are {} parts named \"{}\".", ending.size(), path), {},
                fmt::format("Give the whole path: {}.", list));
  }
  // A name typed with unescaped special characters is found when it can only mean one part.
  for (const auto& entry : paths)
    if (scene.part(entry.first).name == path) return entry.first;
  const std::pair<PartId, std::string>* nearest = nullptr;
  std::size_t best = std::max<std::size_t>(3, path.size() / 3 + 1);
  if (path.size() <= 200)
    for (const auto& entry : paths)
      if (const std::string& name = scene.part(entry.first).name; name.size() <= 200)
        if (const std::size_t d = edit_distance(name, path); d < best) {
          best = d;
          nearest = &entry;
        }
  return fail(fmt::format("There is no part named \"{}\".", path), {},
              nearest ? fmt::format("Did you mean \"{}\"?", nearest->second) : std::string{});
}

std::string free_name(const Scene& scene, PartId parent, const std::string& wanted) {
  const auto& siblings = siblings_of(scene, parent);
  return first_free(wanted, [&](const std::string& name) {
    return std::any_of(siblings.begin(), siblings.end(), [&](PartId id) { return scene.part(id).name == name; });
  });
}

}  // namespace tack
