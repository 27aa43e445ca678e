// What verb.h offers for all verbs, made from the table and the functions of each, for any variant of verbs.
#pragma once

#include <variant>

#include "core/scene/nearest_word.h"
#include "core/verbs/phrase.h"

namespace tack {

namespace detail {
// What the verb does, found by its type.
inline constexpr auto applied = [](const auto& verb, const Scene& scene) { return apply(verb, scene); };
}  // namespace detail

template <class Any>
struct VerbSet;

template <class... V>
struct VerbSet<std::variant<V...>> {
  using Any = std::variant<V...>;
  /// f(verb, its table).
  template <class R, class F>
  static R with_table(const Any& verb, F&& f) {
    return std::visit([&](const auto& v) -> R { return f(v, tack::table<std::decay_t<decltype(v)>>()); }, verb);
  }
  /// f(table) of every verb that steps files may have.
  template <class F>
  static void each_in_files(F&& f) {
    const auto call = [&](const auto& t) {
      if (t.in_files) f(t);
    };
    (call(tack::table<V>()), ...);
  }

  static Result<Any> read(const Json& json, const Scene& scene) {
    if (!json.is_object() || !json.contains("verb") || !json["verb"].is_string())
      return fail("A step needs a \"verb\", like {\"verb\": \"move\", …}.");
    const auto& key = json["verb"].template get_ref<const std::string&>();
    std::optional<Result<Any>> result;
    std::vector<std::string_view> known;
    each_in_files([&]<class T>(const Table<T>& table) {
      known.push_back(table.key);
      if (table.key == key) result = read_verb<T>(json, scene).map([](T verb) { return Any(std::move(verb)); });
    });
    if (result) return *std::move(result);
    const std::string_view near = nearest_word(key, known);
    return fail(fmt::format("\"{}\" is not a verb of this version.", key), "verb",
                near.empty() ? fmt::format("It knows: {}.", fmt::join(known, ", "))
                             : fmt::format("Did you mean \"{}\"? It knows: {}.", near, fmt::join(known, ", ")));
  }
  static Json write(const Any& verb, const Scene& scene) {
    return std::visit([&](const auto& v) { return write_verb(v, scene); }, verb);
  }
  static std::vector<std::pair<std::string_view, std::vector<std::string_view>>> keys() {
    std::vector<std::pair<std::string_view, std::vector<std::string_view>>> all;
    each_in_files([&](const auto& t) { all.emplace_back(t.key, keys_of(t)); });
    return all;
  }
  static std::string documentation(std::string_view verb) {
    std::string text;
    each_in_files([&](const auto& t) {
      if (t.key == verb) text = key_table(t);
    });
    return text;
  }

  static Result<void> check(const Any& verb) {
    return std::visit([](const auto& v) { return check_blanks(v); }, verb);
  }
  static Result<Scene> apply(const Any& verb, const Scene& scene) {
    if (const auto ok = check(verb); !ok) return tl::unexpected(ok.error());
    return std::visit([&](const auto& v) { return detail::applied(v, scene); }, verb);
  }
  static Sentence sentence(const Any& verb, const Scene& scene, Tense tense, const LengthUnit& unit,
                           const Scene* after = nullptr) {
    return std::visit([&](const auto& v) { return sentence_of(v, scene, tense, unit, after); }, verb);
  }

  /// Something that the blank says of itself: f(verb, row, blank).
  template <class R, class F>
  static R of_row(const Any& verb, BlankId blank, R none, F&& f) {
    return std::visit(
        [&](const auto& v) -> R {
          const auto* row = row_of<std::decay_t<decltype(v)>>(blank);
          return row ? f(v, *row) : none;
        },
        verb);
  }
  static Slot slot(const Any& verb, BlankId blank) {
    return std::visit([&](const auto& v) { return slot_at(v, blank); }, verb);
  }
  static BlankId blank(const Any& verb, std::string_view key, std::size_t index) {
    return std::visit([&](const auto& v) { return blank_of<std::decay_t<decltype(v)>>(key, index); }, verb);
  }

  /// The verb that f(v) makes of it; nullopt when it makes none.
  template <class F>
  static std::optional<Any> changed(const Any& verb, F&& f) {
    return std::visit(
        [&](const auto& v) -> std::optional<Any> {
          auto changed = f(v);
          if (!changed) return std::nullopt;
          return Any(std::move(*changed));
        },
        verb);
  }
};

}  // namespace tack
