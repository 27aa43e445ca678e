// Views kept by name in the document.
#pragma once

#include "core/verbs/blank_row.h"

namespace tack {

/// Keeps a view by name; one that has the name already is replaced.
struct KeepView {
  std::string name;
  NamedView view;  ///< its name is not used
  friend bool operator==(const KeepView&, const KeepView&) = default;
};
struct ForgetView {
  std::string name;
  friend bool operator==(const ForgetView&, const ForgetView&) = default;
};
/// Fails for a name that cannot be shown and for numbers that no camera has.
Result<Scene> apply(const KeepView& keep, const Scene& scene);
/// Fails for a name that no view has, with those there are.
Result<Scene> apply(const ForgetView& forget, const Scene& scene);
const Table<KeepView>& table_of(const KeepView*);
const Table<ForgetView>& table_of(const ForgetView*);

/// A view in a file, and back; fails with what is wrong.
Json view_to_json(const NamedView& view);
Result<NamedView> view_from_json(const Json& json);

}  // namespace tack
