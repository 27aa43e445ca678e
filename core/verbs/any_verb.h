// What verb.h offers for all verbs, made from the table and the functions of each, for any variant of verbs.
#pragma once

#include <fmt/format.h>

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

  /// The verb with its table; changed only where `verb` is no constant.
  static VerbRef ref(const Any& verb) {
    return std::visit([](const auto& v) { return ref_of(v); }, verb);
  }
  static const std::array<const AnyTable*, sizeof...(V)>& tables() {
    static const std::array<const AnyTable*, sizeof...(V)> all{&any_table<V>()...};
    return all;
  }
  /// The verb of a table's number, with nothing given.
  static Any fresh(std::size_t number) {
    static constexpr std::array<Any (*)(), sizeof...(V)> kMake{[] { return Any(V{}); }...};
    return kMake[number]();
  }

  static Result<Any> read(const Json& json, const Scene& scene) {
    if (!json.is_object() || !json.contains("verb") || !json["verb"].is_string())
      return fail("A step needs a \"verb\", like {\"verb\": \"move\", …}.");
    const auto& key = json["verb"].template get_ref<const std::string&>();
    std::vector<std::string_view> known;
    for (std::size_t i = 0; i < tables().size(); ++i) {
      if (!tables()[i]->in_files) continue;
      known.push_back(tables()[i]->key);
      if (tables()[i]->key != key) continue;
      Any verb = fresh(i);
      if (auto ok = read_verb(ref(verb), json, scene); !ok) return tl::unexpected(std::move(ok.error()));
      return verb;
    }
    const std::string_view near = nearest_word(key, known);
    return fail(fmt::format("\"{}\" is not a verb of this version.", key), "verb",
                near.empty() ? fmt::format("It knows: {}.", fmt::join(known, ", "))
                             : fmt::format("Did you mean \"{}\"? It knows: {}.", near, fmt::join(known, ", ")));
  }
  static Json write(const Any& verb, const Scene& scene) { return write_verb(ref(verb), scene); }
  static std::vector<std::pair<std::string_view, std::vector<std::string_view>>> keys() {
    std::vector<std::pair<std::string_view, std::vector<std::string_view>>> all;
    for (const AnyTable* table : tables())
      if (table->in_files) all.emplace_back(table->key, keys_of(*table));
    return all;
  }
  static std::string documentation(std::string_view verb) {
    for (const AnyTable* table : tables())
      if (table->in_files && table->key == verb) return key_table(*table);
    return {};
  }

  static Result<void> check(const Any& verb) { return check_blanks(ref(verb)); }
  static Result<Scene> apply(const Any& verb, const Scene& scene) {
    if (const auto ok = check(verb); !ok) return tl::unexpected(ok.error());
    return std::visit([&](const auto& v) { return detail::applied(v, scene); }, verb);
  }
  static Sentence sentence(const Any& verb, const Scene& scene, Tense tense, const LengthUnit& unit,
                           const Scene* after = nullptr) {
    return sentence_of(ref(verb), scene, tense, unit, after);
  }

  /// The verb that f(ref) makes of it, by changing it; nullopt when f says that it made none.
  template <class F>
  static std::optional<Any> changed(const Any& verb, F&& f) {
    std::optional<Any> other = verb;
    if (!f(ref(*other))) other.reset();
    return other;
  }
};

}  // namespace tack
