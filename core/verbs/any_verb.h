// What verb.h offers for all verbs, made from the table and the functions of each, for any variant of verbs.
#pragma once

#include <variant>

#include "core/scene/nearest_word.h"
#include "core/verbs/blank_table.h"

namespace tack {

namespace detail {
// What each verb has written by hand, found by its type.
template <class V>
Result<Scene> applied(const V& verb, const Scene& scene) {
  return apply(verb, scene);
}
template <class V>
Sentence said(const V& verb, const Scene& scene, Tense tense, const LengthUnit& unit) {
  return sentence(verb, scene, tense, unit);
}
}  // namespace detail

template <class Any>
struct VerbSet;

template <class... V>
struct VerbSet<std::variant<V...>> {
  using Any = std::variant<V...>;
  static Result<Any> read(const Json& json, const Scene& scene) {
    if (!json.is_object() || !json.contains("verb") || !json["verb"].is_string())
      return fail("A step needs a \"verb\", like {\"verb\": \"move\", …}.");
    const auto& key = json["verb"].template get_ref<const std::string&>();
    Result<Any> result = tl::unexpected(Problem{});
    std::vector<std::string_view> known;
    const auto try_one = [&](auto* type) {
      using T = std::remove_cv_t<std::remove_pointer_t<decltype(type)>>;
      if (!tack::table<T>().in_files) return false;
      known.push_back(tack::table<T>().key);
      if (tack::table<T>().key != key) return false;
      auto verb = read_verb<T>(json, scene);
      if (verb)
        result = Any(std::move(*verb));
      else
        result = tl::unexpected(verb.error());
      return true;
    };
    if ((try_one(static_cast<const V*>(nullptr)) || ...)) return result;
    const std::string_view near = nearest_word(key, known);
    return fail(fmt::format("\"{}\" is not a verb of this version.", key), "verb",
                near.empty() ? fmt::format("It knows: {}.", fmt::join(known, ", "))
                             : fmt::format("Did you mean \"{}\"? It knows: {}.", near, fmt::join(known, ", ")));
  }
  static Json write(const Any& verb, const Scene& scene) {
    return std::visit([&](const auto& v) { return write_verb(v, scene); }, verb);
  }
  static std::string_view key(const Any& verb) {
    return std::visit([](const auto& v) { return tack::table<std::decay_t<decltype(v)>>().key; }, verb);
  }
  static std::vector<std::pair<std::string_view, std::vector<std::string_view>>> keys() {
    std::vector<std::pair<std::string_view, std::vector<std::string_view>>> all;
    const auto add = [&](const auto& t) {
      if (t.in_files) all.emplace_back(t.key, keys_of(t));
    };
    (add(tack::table<V>()), ...);
    return all;
  }
  static std::string documentation(std::string_view verb) {
    std::string text;
    const auto add = [&](const auto& t) {
      if (t.in_files && t.key == verb) text = key_table(t);
    };
    (add(tack::table<V>()), ...);
    return text;
  }

  static Result<void> check(const Any& verb) {
    return std::visit([](const auto& v) { return check_blanks(v); }, verb);
  }
  static Result<Scene> apply(const Any& verb, const Scene& scene) {
    if (const auto ok = check(verb); !ok) return tl::unexpected(ok.error());
    return std::visit([&](const auto& v) -> Result<Scene> { return detail::applied(v, scene); }, verb);
  }
  static Sentence sentence(const Any& verb, const Scene& scene, Tense tense, const LengthUnit& unit) {
    return std::visit([&](const auto& v) { return detail::said(v, scene, tense, unit); }, verb);
  }

  static std::vector<PartId> parts(const Any& verb, const Scene& scene) {
    return std::visit(
        [&](const auto& v) -> std::vector<PartId> {
          const auto& t = tack::table<std::decay_t<decltype(v)>>();
          if (t.parts) return t.parts(v, scene);
          if constexpr (requires { v.what; }) return v.what;
          return {};
        },
        verb);
  }
  static bool is_ready(const Any& verb) {
    return std::visit(
        [](const auto& v) {
          const auto& t = tack::table<std::decay_t<decltype(v)>>();
          return t.ready ? t.ready(v) : check_blanks(v).has_value();
        },
        verb);
  }
  static BlankId waits_for(const Any& verb) {
    return std::visit(
        [](const auto& v) {
          const auto& t = tack::table<std::decay_t<decltype(v)>>();
          return t.waits ? t.waits(v) : BlankId{};
        },
        verb);
  }
  static Any made_whole(const Any& verb, const Scene& scene) {
    return std::visit(
        [&](const auto& v) {
          const auto& t = tack::table<std::decay_t<decltype(v)>>();
          return t.whole ? Any(t.whole(v, scene)) : Any(v);
        },
        verb);
  }
  static Any next_after(const Any& verb) {
    return std::visit(
        [](const auto& v) {
          using T = std::decay_t<decltype(v)>;
          return tack::table<T>().next ? Any(tack::table<T>().next(v)) : Any(T{});
        },
        verb);
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
