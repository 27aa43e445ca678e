// Naming parts by path; declared in scene.h.
#include <fmt/format.h>

#include <algorithm>
#include <unordered_map>

#include "core/scene/nearest_word.h"
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
  paths.reserve(scene.size());
  std::unordered_map<PartId, std::string> path_by_id;  // of those that have children
  std::unordered_map<PartId, std::unordered_map<std::string_view, int>> seen;
  for (const PartId id : scene.in_tree_order()) {
    const Part& part = scene.part(id);
    std::string text = escaped(part.name);
    if (const int nth = ++seen[part.parent][part.name]; nth > 1) text += fmt::format("#{}", nth);
    if (part.parent != kNoPart) text.insert(0, path_by_id[part.parent] + "/");
    if (!part.children.empty()) path_by_id[id] = text;
    paths.emplace_back(id, std::move(text));
  }
  return paths;
}

bool ends_in_path(const std::string& path, std::string_view end) {
  if (path.size() <= end.size()) return path == end;
  const std::size_t at = path.size() - end.size();
  if (path.compare(at, std::string::npos, end) != 0 || path[at - 1] != '/') return false;
  // The '/' before the end must separate, not belong to a name: an odd number of backslashes before it escapes it.
  std::size_t backslashes = 0;
  while (backslashes + 1 < at && path[at - 2 - backslashes] == '\\') ++backslashes;
  return backslashes % 2 == 0;
}

// One name of a path, and which of the parts of that name it is; the path goes on at `rest`.
struct PathStep {
  std::string name;
  int nth = 1;
  std::string_view rest;
};
PathStep first_step(std::string_view path) {
  PathStep step;
  std::size_t i = 0;
  bool numbered = false;
  for (; i < path.size() && path[i] != '/'; ++i) {
    if (path[i] == '\\' && i + 1 < path.size()) {
      step.name += path[++i];
    } else if (path[i] == '#') {
      numbered = true;
      step.nth = 0;
    } else if (numbered) {
      step.nth = path[i] >= '0' && path[i] <= '9' && step.nth < 100'000'000 ? step.nth * 10 + (path[i] - '0') : -1;
      if (step.nth < 0) break;
    } else {
      step.name += path[i];
    }
  }
  step.rest = i < path.size() ? path.substr(i + 1) : std::string_view();
  if (i < path.size() && path[i] != '/') step.nth = -1;
  return step;
}

// The part with this whole path, found by going down the tree; kNoPart when there is none.
PartId by_whole_path(const Scene& scene, std::string_view path) {
  PartId at = kNoPart;
  do {
    const PathStep step = first_step(path);
    int nth = 0;
    PartId found = kNoPart;
    for (const PartId id : siblings_of(scene, at))
      if (scene.part(id).name == step.name && ++nth == step.nth) {
        found = id;
        break;
      }
    if (found == kNoPart) return kNoPart;
    at = found;
    path = step.rest;
  } while (!path.empty());
  return at;
}

tl::unexpected<Problem> several_named(std::string_view path, const std::vector<std::string_view>& paths) {
  std::string list;
  for (std::size_t i = 0; i < std::min<std::size_t>(paths.size(), 4); ++i)
    list += fmt::format("{}\"{}\"", i ? ", " : "", paths[i]);
  if (paths.size() > 4) list += fmt::format(" and {} more", paths.size() - 4);
  return fail(fmt::format("There are {} parts named \"{}\".", paths.size(), path), {},
              fmt::format("Give the whole path: {}.", list));
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

std::vector<std::string> paths_of(const Scene& scene, const std::vector<PartId>& parts) {
  std::unordered_map<PartId, std::string> known;
  for (auto& [id, path] : all_paths(scene)) known.emplace(id, std::move(path));
  std::vector<std::string> paths;
  paths.reserve(parts.size());
  for (const PartId id : parts) paths.push_back(known.contains(id) ? known[id] : std::string());
  return paths;
}

Result<std::vector<PartId>> find_by_paths(const Scene& scene, const std::vector<std::string>& paths) {
  std::unordered_map<std::string, PartId> known;
  for (auto& [id, path] : all_paths(scene)) known.emplace(std::move(path), id);
  std::vector<PartId> parts;
  parts.reserve(paths.size());
  for (const std::string& path : paths) {
    if (const auto at = known.find(path); at != known.end()) {
      parts.push_back(at->second);
      continue;
    }
    const auto found = find_by_path(scene, path);
    if (!found) return tl::unexpected(found.error());
    parts.push_back(*found);
  }
  return parts;
}

Result<PartId> find_by_path(const Scene& scene, std::string_view path) {
  if (const PartId whole = by_whole_path(scene, path); whole != kNoPart && path_of(scene, whole) == path) return whole;
  const auto paths = all_paths(scene);
  std::vector<std::size_t> ending, named;
  for (std::size_t i = 0; i < paths.size(); ++i) {
    if (ends_in_path(paths[i].second, path)) ending.push_back(i);
    // A name typed with unescaped special characters is found when it can only mean one part.
    if (scene.part(paths[i].first).name == path) named.push_back(i);
  }
  for (const auto* list : {&ending, &named}) {
    if (list->size() == 1) return paths[list->front()].first;
    if (list->empty()) continue;
    std::vector<std::string_view> all;
    for (const std::size_t i : *list) all.push_back(paths[i].second);
    return several_named(path, all);
  }
  std::vector<std::string_view> names;
  names.reserve(paths.size());
  for (const auto& [id, text] : paths) names.push_back(scene.part(id).name);
  const std::string_view near = nearest_word(path, names);
  for (std::size_t i = 0; i < names.size(); ++i)
    if (!near.empty() && names[i].data() == near.data())
      return fail(fmt::format("There is no part named \"{}\".", path), {},
                  fmt::format("Did you mean \"{}\"?", paths[i].second));
  return fail(fmt::format("There is no part named \"{}\".", path));
}

FreeNames::FreeNames(const Scene& scene, PartId parent) {
  for (const PartId id : siblings_of(scene, parent)) taken_.insert(scene.part(id).name);
}

std::string FreeNames::take(const std::string& wanted) {
  if (taken_.insert(wanted).second) return wanted;
  int& number = last_.try_emplace(wanted, 1).first->second;
  std::string name;
  do name = wanted + " " + std::to_string(++number);
  while (!taken_.insert(name).second);
  return name;
}

std::string FreeNames::next(const std::string& stem, std::uint64_t number) {
  std::uint64_t& last = counted_.try_emplace(stem, number).first->second;
  last = std::max(last, number);
  std::string name;
  do name = stem + std::to_string(++last);
  while (!taken_.insert(name).second);
  return name;
}

std::string free_name(const Scene& scene, PartId parent, const std::string& wanted) {
  return FreeNames(scene, parent).take(wanted);
}

}  // namespace tack
