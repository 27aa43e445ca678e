// A verb's table without the verb's type: what works on tables is compiled once, not once for every verb.
#pragma once

#include <memory>
#include <nlohmann/json.hpp>

#include "core/verbs/blank_codec.h"

namespace tack {

template <class V>
const Table<V>& table() {
  return table_of(static_cast<const V*>(nullptr));
}

namespace detail {

// Calls a function of a row or a table whose verb comes without its type.
template <auto kCall>
struct Untyped;
template <class Of, class R, class V, class... A, R (*Of::*kCall)(V&, A...)>
struct Untyped<kCall> {
  static R call(const void* of, void* verb, A... a) {
    return (static_cast<const Of*>(of)->*kCall)(*static_cast<V*>(verb), std::forward<A>(a)...);
  }
};

}  // namespace detail

/// A row as Row<V> has it, its functions called with the row itself (`of`) and the verb before the rest. What is not
/// given there is null here.
struct AnyRow {
  const void* of = nullptr;
  std::string_view key, name, ask, waiting, in, value, doc;
  EntryKind kind = EntryKind::Length;
  std::span<const Choice> choices;
  Role role = Role::None;
  bool needed = false, always = false, acts = false, three = false;
  Slot (*at)(const void*, void*, std::size_t) = nullptr;
  std::string_view (*asks)(const void*, void*, std::size_t) = nullptr;
  bool (*needed_if)(const void*, void*) = nullptr;
  std::size_t (*count)(const void*, void*) = nullptr;
  void (*resize)(const void*, void*, std::size_t) = nullptr;
  std::string_view (*barred)(const void*, void*) = nullptr;
  void (*given)(const void*, void*, std::size_t) = nullptr;
  std::optional<double> (*now)(const void*, void*, const Scene&, std::size_t) = nullptr;
  std::vector<Option> (*options)(const void*, void*, const Scene&, std::size_t) = nullptr;
  void (*choose)(const void*, void*, std::size_t, std::size_t, const ChoiceContext&) = nullptr;
  void (*place)(const void*, void*, std::size_t, const TackAddress&) = nullptr;
  void (*part)(const void*, void*, std::size_t, PartId) = nullptr;
  Json (*write)(const void*, void*, const Scene&) = nullptr;
  Result<void> (*read)(const void*, void*, const Json&, const Scene&) = nullptr;

  RowFacts facts() const { return {key, kind, choices, waiting, now ? 1.0 : 0.0, {}, kNoPart}; }
};

/// A table as Table<V> has it, likewise. What makes a verb of another changes the one that it is given.
struct AnyTable {
  const void* of = nullptr;
  std::string_view key, leading, still, axis, answer;
  const Hints* hints = nullptr;
  bool in_files = true, on_patches = false, at_once = false, goes_on = false, either_first = false;
  std::vector<AnyRow> rows;
  std::shared_ptr<void> (*fresh)() = nullptr;  ///< a verb with nothing given
  /// The verb's axes, its [what], its copy that stays, the axes that it is limited to where it goes from place to
  /// place; null for a verb that has none.
  Axes* (*axes)(void*) = nullptr;
  std::vector<PartId>* (*what)(void*) = nullptr;
  bool* (*copy)(void*) = nullptr;
  AxisSet* (*limits)(void*) = nullptr;
  Result<void> (*check)(const void*, void*) = nullptr;
  Result<void> (*check_in)(const void*, void*, const Scene&) = nullptr;
  bool (*ready)(const void*, void*) = nullptr;
  BlankId (*waits)(const void*, void*) = nullptr;
  void (*whole)(const void*, void*, const Scene&) = nullptr;
  void (*next)(const void*, void*) = nullptr;
  bool (*stands)(const void*, void*, const Scene&) = nullptr;  ///< false: it cannot be done so
  void (*begun)(const void*, void*, const Scene&) = nullptr;
  std::vector<PartId> (*parts)(const void*, void*, const Scene&) = nullptr;
  std::string (*left)(const void*, void*, const Scene&, const Scene&, const LengthUnit&) = nullptr;
  std::string (*remark)(const void*, void*, const Scene&, const Scene&) = nullptr;
  bool (*take_back)(const void*, void*) = nullptr;
  void (*offered)(const void*, void*, PartId) = nullptr;
  void (*to_axis)(const void*, void*, std::size_t) = nullptr;
  bool (*heavy)(const void*, void*, const Scene&) = nullptr;
  BlankId (*leads)(const void*, void*) = nullptr;
  std::string (*notice)(const void*, void*, const Scene&) = nullptr;
  void (*sentence)(const void*, void*, Phrase&) = nullptr;

  const AnyRow* row(BlankId blank) const { return blank.row < rows.size() ? &rows[blank.row] : nullptr; }
  BlankId blank(std::string_view row_key, std::size_t index = 0) const;
};

/// A verb with its table. It is changed only by what says so.
struct VerbRef {
  void* verb = nullptr;
  const AnyTable* table = nullptr;
};

namespace detail {

template <class V>
AnyRow any_row(const Row<V>& row) {
  using R = Row<V>;
  AnyRow any;
  any.of = &row;
  any.key = row.key, any.name = row.name, any.ask = row.ask, any.waiting = row.waiting, any.in = row.in;
  any.value = row.value, any.doc = row.doc, any.kind = row.kind, any.choices = row.choices, any.role = row.role;
  any.needed = row.needed, any.always = row.always, any.acts = row.acts, any.three = row.three;
  if (row.at) any.at = Untyped<&R::at>::call;
  if (row.asks) any.asks = Untyped<&R::asks>::call;
  if (row.needed_if) any.needed_if = Untyped<&R::needed_if>::call;
  if (row.count) any.count = Untyped<&R::count>::call;
  if (row.resize) any.resize = Untyped<&R::resize>::call;
  if (row.barred) any.barred = Untyped<&R::barred>::call;
  if (row.given) any.given = Untyped<&R::given>::call;
  if (row.now) any.now = Untyped<&R::now>::call;
  if (row.options) any.options = Untyped<&R::options>::call;
  if (row.choose) any.choose = Untyped<&R::choose>::call;
  if (row.place) any.place = Untyped<&R::place>::call;
  if (row.part) any.part = Untyped<&R::part>::call;
  if (row.write) any.write = Untyped<&R::write>::call;
  if (row.read) any.read = Untyped<&R::read>::call;
  return any;
}

// The functions that take a verb and give another.
template <class V>
void add_makers(const Table<V>& table, AnyTable& any) {
  using T = Table<V>;
  if (table.whole)
    any.whole = [](const void* of, void* verb, const Scene& scene) {
      auto& v = *static_cast<V*>(verb);
      v = static_cast<const T*>(of)->whole(std::move(v), scene);
    };
  if (table.begun)
    any.begun = [](const void* of, void* verb, const Scene& scene) {
      auto& v = *static_cast<V*>(verb);
      v = static_cast<const T*>(of)->begun(std::move(v), scene);
    };
  any.next = [](const void* of, void* verb) {
    auto& v = *static_cast<V*>(verb);
    const auto next = static_cast<const T*>(of)->next;
    v = next ? next(v) : V{};
  };
  if (table.stands)
    any.stands = [](const void* of, void* verb, const Scene& scene) {
      auto& v = *static_cast<V*>(verb);
      auto stands = static_cast<const T*>(of)->stands(v, scene);
      if (!stands) return false;
      v = *std::move(stands);
      return true;
    };
}

template <class V>
AnyTable made_any_table() {
  using T = Table<V>;
  const T& table = tack::table<V>();
  AnyTable any;
  any.of = &table;
  any.key = table.key, any.leading = table.leading, any.still = table.still, any.axis = table.axis;
  any.answer = table.answer, any.hints = &table.hints, any.in_files = table.in_files;
  any.on_patches = table.on_patches, any.at_once = table.at_once, any.goes_on = table.goes_on;
  any.either_first = table.either_first;
  for (const Row<V>& row : table.rows) any.rows.push_back(any_row(row));
  any.fresh = []() -> std::shared_ptr<void> { return std::make_shared<V>(); };
  if constexpr (requires(V v) {
                  { &v.axes } -> std::same_as<Axes*>;
                })
    any.axes = [](void* verb) { return &static_cast<V*>(verb)->axes; };
  if constexpr (requires(V v) {
                  { &v.what } -> std::same_as<std::vector<PartId>*>;
                })
    any.what = [](void* verb) { return &static_cast<V*>(verb)->what; };
  if constexpr (requires(V v) {
                  { &v.leave_copy } -> std::same_as<bool*>;
                })
    any.copy = [](void* verb) { return &static_cast<V*>(verb)->leave_copy; };
  if constexpr (requires(V v) {
                  v.to;
                  { &v.along } -> std::same_as<AxisSet*>;
                })
    any.limits = [](void* verb) { return &static_cast<V*>(verb)->along; };
  if (table.check) any.check = Untyped<&T::check>::call;
  if (table.check_in) any.check_in = Untyped<&T::check_in>::call;
  if (table.ready) any.ready = Untyped<&T::ready>::call;
  if (table.waits) any.waits = Untyped<&T::waits>::call;
  if (table.parts) any.parts = Untyped<&T::parts>::call;
  if (table.left) any.left = Untyped<&T::left>::call;
  if (table.remark) any.remark = Untyped<&T::remark>::call;
  if (table.take_back) any.take_back = Untyped<&T::take_back>::call;
  if (table.offered) any.offered = Untyped<&T::offered>::call;
  if (table.to_axis) any.to_axis = Untyped<&T::to_axis>::call;
  if (table.heavy) any.heavy = Untyped<&T::heavy>::call;
  if (table.leads) any.leads = Untyped<&T::leads>::call;
  if (table.notice) any.notice = Untyped<&T::notice>::call;
  any.sentence = [](const void* of, void* verb, Phrase& phrase) {
    static_cast<const T*>(of)->sentence(phrase, *static_cast<const V*>(verb));
  };
  add_makers(table, any);
  return any;
}

}  // namespace detail

template <class V>
const AnyTable& any_table() {
  static const AnyTable any = detail::made_any_table<V>();
  return any;
}

template <class V>
VerbRef ref_of(const V& verb) {
  return {const_cast<V*>(&verb), &any_table<V>()};
}

}  // namespace tack
