// C++ values from and to Side Twin's notation (docs/formats.md, sections 3, 17 and 20).
#ifndef SIDE_TWIN_VALUES_HPP
#define SIDE_TWIN_VALUES_HPP

#include <algorithm>
#include <array>
#include <chrono>
#include <complex>
#include <cstddef>
#include <cstring>
#include <ctime>
#include <deque>
#include <forward_list>
#include <list>
#include <map>
#include <memory>
#include <new>
#include <optional>
#include <set>
#include <string>
#include <string_view>
#include <tuple>
#include <type_traits>
#include <typeinfo>
#include <unordered_map>
#include <unordered_set>
#include <utility>
#include <variant>
#include <vector>
#if __cplusplus >= 202002L
#include <span>
#endif

#include "sidetwin.h"

namespace st {

// Whether a type is more than a name here: what it holds may be known in another source alone.
template <class T, class = void>
constexpr bool is_complete = false;
template <class T>
constexpr bool is_complete<T, decltype(void(sizeof(T)))> = true;

// A value that does not fit.
struct Misfit {
  std::string what;
};

[[noreturn]] inline void misfit(const std::string &what) { throw Misfit{what}; }

// The last part of a type's name, without its arguments.
std::string kind_of(const std::type_info &type);
std::string name_of(const std::type_info &type);

template <class T>
[[noreturn]] void refuse(const st_value *value) {
  misfit(std::string(st_shown(value)) + " is no " + name_of(typeid(T)));
}

inline void write(st_out *out, const char *text) { st_put(out, text); }

// Describes a class of the side: specialised by the generated code. `each` calls its visitor with the name and place of
// each field, those of bases first.
template <class T>
struct Fields {
  static constexpr bool known = false;
};

// An enum's members, by name and value: specialised by the generated code.
template <class T>
struct Members {
  static constexpr bool known = false;
};

// A class of the side while the program runs.
struct Class {
  const char *name;
  const std::type_info *type;
  // Makes an object from its notation; null for an abstract class.
  void *(*make)(st_value *);
  void (*give)(st_out *, const void *);
  // The address of the object as its base with the type, or null.
  void *(*as)(void *, const std::type_info &);
  bool (*get)(void *, const char *, st_out *);
  bool (*set)(void *, const char *, st_value *);
};

const Class *class_of(const std::type_info &type);
const Class *class_named(const std::string &name);

// An object that a step has named. `holder` is the smart pointer that keeps it, of a type, or null.
struct Object {
  void *address = nullptr;
  const std::type_info *type = nullptr;
  void *holder = nullptr;
  const std::type_info *held = nullptr;
  // How it ends, where the driver made it or was given it.
  void (*destroy)(void *) = nullptr;
};

template <class T>
void destroy(void *object) {
  if constexpr (std::is_destructible_v<T>) delete static_cast<T *>(object);
}

// The object that `{"~as": name}` names, or null if the value is not one.
Object *named(const st_value *value);

// An object as one of type T, or null.
template <class T>
T *object_as(const Object &object) {
  // A handle is known by its pointer's type.
  if constexpr (!is_complete<T>) return *object.type == typeid(T *) ? static_cast<T *>(object.address) : nullptr;
  else {
  if (*object.type == typeid(T)) return static_cast<T *>(object.address);
  const Class *known = class_of(*object.type);
  return known && known->as ? static_cast<T *>(known->as(object.address, typeid(T))) : nullptr;
  }
}

// Constructs at `place`, and writes: for each kind of type below. Nothing is known of other types.
template <class T, class = void>
struct Coder {
  static void make(st_value *, void *) { misfit("a " + name_of(typeid(T)) + " cannot be handed over"); }
  static void give(st_out *out, const T &) { opaque(out, typeid(T)); }
  static void opaque(st_out *out, const std::type_info &type) {
    std::string text = "<" + name_of(type) + ">";
    st_put(out, "{\"~opaque\":");
    st_put_text(out, text.data(), text.size());
    st_put(out, "}");
  }
};

template <class T>
T made(st_value *value) {
  alignas(T) unsigned char place[sizeof(T)];
  Coder<T>::make(value, place);
  T *object = std::launder(reinterpret_cast<T *>(place));
  T moved = std::move(*object);
  object->~T();
  return moved;
}

template <class T>
void give(st_out *out, const T &value) {
  Coder<std::remove_cv_t<T>>::give(out, value);
}

// -- numbers, texts ----------------------------------------------------------------------------------------------------

template <>
struct Coder<bool> {
  static void make(st_value *value, void *place) { new (place) bool(st_boolean(value)); }
  static void give(st_out *out, bool value) { write(out, value ? "true" : "false"); }
};

template <class T>
struct Coder<T, std::enable_if_t<std::is_integral_v<T> && !std::is_same_v<T, bool>>> {
  static void make(st_value *value, void *place) {
    bool is_negative;
    unsigned long long magnitude;
    st_whole(value, &is_negative, &magnitude);
    unsigned long long most = static_cast<unsigned long long>(std::numeric_limits<T>::max());
    unsigned long long limit = !is_negative ? most : std::is_signed_v<T> ? most + 1 : 0;
    if (magnitude > limit) misfit(std::string(st_shown(value)) + " is out of the range of " + name_of(typeid(T)));
    new (place) T(static_cast<T>(is_negative ? 0 - magnitude : magnitude));
  }
  static void give(st_out *out, T value) {
    if constexpr (std::is_signed_v<T>) st_put_signed(out, value);
    else st_put_whole(out, false, value);
  }
};

template <class T>
struct Coder<T, std::enable_if_t<std::is_floating_point_v<T>>> {
  static void make(st_value *value, void *place) { new (place) T(static_cast<T>(st_floating(value))); }
  static void give(st_out *out, T value) { st_put_floating(out, static_cast<double>(value)); }
};

template <class T>
struct Coder<std::complex<T>> {
  static void make(st_value *value, void *place) {
    st_value *fields = st_fields(value), *real = fields ? st_member(fields, "real") : nullptr, *imag = fields ? st_member(fields, "imag") : nullptr;
    if (!real || !imag) refuse<std::complex<T>>(value);
    new (place) std::complex<T>(static_cast<T>(st_floating(real)), static_cast<T>(st_floating(imag)));
  }
  static void give(st_out *out, const std::complex<T> &value) {
    write(out, "{\"~obj\":\"complex\",\"fields\":{\"real\":");
    st_put_floating(out, static_cast<double>(value.real()));
    write(out, ",\"imag\":");
    st_put_floating(out, static_cast<double>(value.imag()));
    write(out, "}}");
  }
};

inline std::string text_of(st_value *value) {
  if (value->kind == ST_JSON_TEXT) return std::string(value->text, value->length);
  size_t length;
  if (const char *data = st_decode_bytes(value, &length)) return std::string(data, length);
  refuse<std::string>(value);
}

template <>
struct Coder<std::string> {
  static void make(st_value *value, void *place) { new (place) std::string(text_of(value)); }
  static void give(st_out *out, const std::string &value) { st_put_string(out, value.data(), value.size()); }
};

// The text stays for as long as the program runs.
template <>
struct Coder<std::string_view> {
  static void make(st_value *value, void *place) { new (place) std::string_view(*new std::string(text_of(value))); }
  static void give(st_out *out, std::string_view value) { st_put_string(out, value.data(), value.size()); }
};

template <class T>
struct Coder<T *, std::enable_if_t<std::is_same_v<std::remove_cv_t<T>, char>>> {
  static void make(st_value *value, void *place) {
    if (st_is_null(value)) {
      new (place) (T *)(nullptr);
      return;
    }
    std::string text = text_of(value);
    if (value->kind == ST_JSON_TEXT && text.find('\0') != std::string::npos) misfit("a text with NUL within does not fit char *");
    new (place) (T *)(strcpy(new char[text.size() + 1], text.c_str()));
  }
  static void give(st_out *out, const char *value) {
    if (value) st_put_string(out, value, strlen(value));
    else write(out, "null");
  }
};

template <>
struct Coder<std::monostate> {
  static void make(st_value *value, void *place) {
    if (!st_is_null(value)) refuse<std::monostate>(value);
    new (place) std::monostate();
  }
  static void give(st_out *out, std::monostate) { write(out, "null"); }
};

template <>
struct Coder<std::nullptr_t> {
  static void make(st_value *, void *place) { new (place) std::nullptr_t(); }
  static void give(st_out *out, std::nullptr_t) { write(out, "null"); }
};

// -- what holds others -------------------------------------------------------------------------------------------------

template <class T>
constexpr bool is_byte = std::is_same_v<T, unsigned char> || std::is_same_v<T, std::byte>;

inline st_value *items_of(st_value *value, const std::type_info &type) {
  st_value *items = st_items(value);
  if (!items) misfit(std::string(st_shown(value)) + " is no " + name_of(type));
  return items;
}

// Calls `add` with each item of a list, or each byte.
template <class T, class F>
void each_item(st_value *value, const std::type_info &type, F add) {
  if constexpr (is_byte<T>) {
    size_t length;
    if (const char *data = st_decode_bytes(value, &length)) {
      for (size_t at = 0; at < length; at++) add(static_cast<T>(static_cast<unsigned char>(data[at])));
      return;
    }
    for (st_value *item = items_of(value, type)->first; item; item = item->next) add(static_cast<T>(made<unsigned char>(item)));
  } else {
    for (st_value *item = items_of(value, type)->first; item; item = item->next) add(made<T>(item));
  }
}

template <class I>
void give_items(st_out *out, I first, I last) {
  using T = std::remove_cv_t<std::remove_reference_t<decltype(*first)>>;
  if constexpr (is_byte<T>) {
    std::string data;
    for (; first != last; ++first) data.push_back(static_cast<char>(*first));
    st_put_base64(out, data.data(), data.size());
  } else {
    write(out, "[");
    for (bool is_first = true; first != last; ++first, is_first = false) {
      if (!is_first) write(out, ",");
      if constexpr (std::is_same_v<T, std::vector<bool>::reference>) give(out, static_cast<bool>(*first));
      else give(out, *first);
    }
    write(out, "]");
  }
}

#define ST_SEQUENCE(CONTAINER)                                                                                              \
  template <class T, class A>                                                                                               \
  struct Coder<CONTAINER<T, A>> {                                                                                           \
    static void make(st_value *value, void *place) {                                                                        \
      auto *list = new (place) CONTAINER<T, A>();                                                                           \
      each_item<T>(value, typeid(CONTAINER<T, A>), [&](T item) { list->push_back(std::move(item)); });                      \
    }                                                                                                                       \
    static void give(st_out *out, const CONTAINER<T, A> &value) { give_items(out, value.begin(), value.end()); }            \
  };
ST_SEQUENCE(std::vector)
ST_SEQUENCE(std::deque)
ST_SEQUENCE(std::list)
#undef ST_SEQUENCE

template <class T, class A>
struct Coder<std::forward_list<T, A>> {
  static void make(st_value *value, void *place) {
    auto *list = new (place) std::forward_list<T, A>();
    auto last = list->before_begin();
    each_item<T>(value, typeid(*list), [&](T item) { last = list->insert_after(last, std::move(item)); });
  }
  static void give(st_out *out, const std::forward_list<T, A> &value) { give_items(out, value.begin(), value.end()); }
};

template <class T, size_t N>
struct Coder<std::array<T, N>> {
  static void make(st_value *value, void *place) {
    std::vector<T> items;
    each_item<T>(value, typeid(std::array<T, N>), [&](T item) { items.push_back(std::move(item)); });
    if (items.size() != N) misfit(std::string(st_shown(value)) + " has " + std::to_string(items.size()) + " items, not " + std::to_string(N));
    auto *made = new (place) std::array<T, N>();
    std::move(items.begin(), items.end(), made->begin());
  }
  static void give(st_out *out, const std::array<T, N> &value) { give_items(out, value.begin(), value.end()); }
};

template <class T, size_t N>
struct Coder<T[N]> {
  static void make(st_value *value, void *place) {
    T *to = static_cast<T *>(place);
    size_t at = 0;
    if constexpr (std::is_same_v<T, char>) {
      std::string text = text_of(value);
      if (text.size() > N) misfit(std::string(st_shown(value)) + " is longer than " + std::to_string(N));
      memset(to, 0, N);
      memcpy(to, text.data(), text.size());
    } else {
      each_item<T>(value, typeid(T[N]), [&](T item) {
        if (at == N) misfit(std::string(st_shown(value)) + " has more than " + std::to_string(N) + " items");
        new (to + at++) T(std::move(item));
      });
      if (at < N) misfit(std::string(st_shown(value)) + " has fewer than " + std::to_string(N) + " items");
    }
  }
  static void give(st_out *out, const T (&value)[N]) {
    if constexpr (std::is_same_v<T, char>) st_put_string(out, value, strnlen(value, N));
    else give_items(out, value, value + N);
  }
};

#if __cplusplus >= 202002L
template <class T>
struct Coder<std::span<T>> {
  static void make(st_value *value, void *place) {
    using Item = std::remove_const_t<T>;
    auto *items = new std::vector<Item>(st::made<std::vector<Item>>(value));
    new (place) std::span<T>(*items);
  }
  static void give(st_out *out, std::span<T> value) { give_items(out, value.begin(), value.end()); }
};
#endif

#define ST_SET(CONTAINER, OPEN, CLOSE)                                                                                      \
  template <class T, class... R>                                                                                            \
  struct Coder<CONTAINER<T, R...>> {                                                                                        \
    static void make(st_value *value, void *place) {                                                                        \
      auto *set = new (place) CONTAINER<T, R...>();                                                                         \
      each_item<T>(value, typeid(CONTAINER<T, R...>), [&](T item) { set->insert(std::move(item)); });                       \
    }                                                                                                                       \
    static void give(st_out *out, const CONTAINER<T, R...> &value) {                                                        \
      write(out, OPEN);                                                                                                     \
      give_items(out, value.begin(), value.end());                                                                          \
      write(out, CLOSE);                                                                                                    \
    }                                                                                                                       \
  };
ST_SET(std::set, "{\"~set\":", "}")
ST_SET(std::unordered_set, "{\"~set\":", "}")
ST_SET(std::multiset, "", "")
ST_SET(std::unordered_multiset, "", "")
#undef ST_SET

template <class M>
struct MapCoder {
  using K = typename M::key_type;
  using V = typename M::mapped_type;
  static K key(const st_value *member) {
    st_value text = {};
    text.kind = ST_JSON_TEXT;
    text.text = text.raw = member->key;
    text.length = text.raw_length = strlen(member->key);
    // Number keys equal their text.
    if constexpr (std::is_arithmetic_v<K>) text.kind = ST_JSON_NUMBER;
    return made<K>(&text);
  }
  static void make(st_value *value, void *place) {
    auto *map = new (place) M();
    st_value *pairs;
    if (st_is_tag(value, "~map", &pairs)) {
      for (st_value *pair = pairs->first; pair; pair = pair->next) map->emplace(made<K>(pair->first), made<V>(pair->first->next));
      return;
    }
    st_value *fields = st_fields(value);
    if (!fields) refuse<M>(value);
    for (st_value *field = fields->first; field; field = field->next) map->emplace(key(field), made<V>(field));
  }
  static void give(st_out *out, const M &value) {
    using Entry = std::pair<std::string, const V *>;
    std::vector<Entry> entries;
    for (const auto &[name, item] : value) {
      st_out text = {};
      st::give(&text, name);
      entries.emplace_back(std::string(text.data, text.length), &item);
      free(text.data);
    }
    constexpr bool is_object = std::is_convertible_v<K, std::string_view>;
    std::stable_sort(entries.begin(), entries.end(), [](const Entry &left, const Entry &right) { return left.first < right.first; });
    auto is_key = [&](const char *name) { return std::any_of(entries.begin(), entries.end(), [&](const Entry &one) { return one.first == name; }); };
    bool is_tagged = is_object && ((entries.size() == 1 && entries[0].first.rfind("\"~", 0) == 0) || is_key("\"~obj\"") || is_key("\"~list\""));
    write(out, !is_object ? "{\"~map\":[" : is_tagged ? "{\"~esc\":{" : "{");
    for (size_t at = 0; at < entries.size(); at++) {
      if (at) write(out, ",");
      if (!is_object) write(out, "[");
      write(out, entries[at].first.c_str());
      write(out, is_object ? ":" : ",");
      st::give(out, *entries[at].second);
      if (!is_object) write(out, "]");
    }
    write(out, !is_object ? "]}" : is_tagged ? "}}" : "}");
  }
};

template <class... A>
struct Coder<std::map<A...>> : MapCoder<std::map<A...>> {};
template <class... A>
struct Coder<std::unordered_map<A...>> : MapCoder<std::unordered_map<A...>> {};
template <class... A>
struct Coder<std::multimap<A...>> : MapCoder<std::multimap<A...>> {};

template <class T, class... A>
struct TupleCoder {
  template <size_t... At>
  static void read(st_value **items, void *place, std::index_sequence<At...>) {
    new (place) T{made<std::decay_t<std::tuple_element_t<At, T>>>(items[At])...};
  }
  static void make(st_value *value, void *place) {
    constexpr size_t count = sizeof...(A);
    st_value *list = items_of(value, typeid(T)), *items[count + 1] = {};
    if (list->count != count) misfit(std::string(st_shown(value)) + " has " + std::to_string(list->count) + " items, not " + std::to_string(count));
    size_t at = 0;
    for (st_value *item = list->first; item; item = item->next) items[at++] = item;
    read(items, place, std::index_sequence_for<A...>{});
  }
  static void give(st_out *out, const T &value) {
    write(out, "{\"~tuple\":[");
    bool is_first = true;
    std::apply([&](const auto &...item) { ((write(out, is_first ? "" : ","), is_first = false, st::give(out, item)), ...); }, value);
    write(out, "]}");
  }
};

template <class... A>
struct Coder<std::tuple<A...>> : TupleCoder<std::tuple<A...>, A...> {};
template <class A, class B>
struct Coder<std::pair<A, B>> : TupleCoder<std::pair<A, B>, A, B> {};

template <class T>
struct Coder<std::optional<T>> {
  static void make(st_value *value, void *place) {
    auto *made = new (place) std::optional<T>();
    if (!st_is_null(value)) made->emplace(st::made<T>(value));
  }
  static void give(st_out *out, const std::optional<T> &value) {
    if (value) st::give(out, *value);
    else write(out, "null");
  }
};

// The first alternative that fits: whole numbers before others.
template <class... A>
struct Coder<std::variant<A...>> {
  template <class T>
  static bool tried(st_value *value, void *place, bool wants_whole) {
    if (wants_whole != (std::is_integral_v<T> && !std::is_same_v<T, bool>)) return false;
    try {
      new (place) std::variant<A...>(std::in_place_type<T>, st::made<T>(value));
      return true;
    } catch (const Misfit &) {
      return false;
    }
  }
  static void make(st_value *value, void *place) {
    if (!((tried<A>(value, place, true) || ...) || (tried<A>(value, place, false) || ...))) refuse<std::variant<A...>>(value);
  }
  static void give(st_out *out, const std::variant<A...> &value) {
    std::visit([&](const auto &item) { st::give(out, item); }, value);
  }
};

// -- times -------------------------------------------------------------------------------------------------------------

template <class R, class P>
struct Coder<std::chrono::duration<R, P>> {
  static void make(st_value *value, void *place) { new (place) std::chrono::duration<R, P>(made<R>(value)); }
  static void give(st_out *out, const std::chrono::duration<R, P> &value) { st::give(out, value.count()); }
};

template <class D>
struct Coder<std::chrono::time_point<std::chrono::system_clock, D>> {
  using Point = std::chrono::time_point<std::chrono::system_clock, D>;
  static void make(st_value *value, void *place) {
    st_value *body;
    const char *tag = st_tag(value, &body);
    if (!tag || (strcmp(tag, "~time") != 0 && strcmp(tag, "~date") != 0)) refuse<Point>(value);
    std::tm parts = {};
    double seconds = 0;
    int away_hours = 0, away_minutes = 0;
    char sign = '+';
    sscanf(body->text, "%d-%d-%dT%d:%d:%lf%c%d:%d", &parts.tm_year, &parts.tm_mon, &parts.tm_mday, &parts.tm_hour, &parts.tm_min, &seconds, &sign, &away_hours, &away_minutes);
    parts.tm_year -= 1900;
    parts.tm_mon -= 1;
    auto whole = std::chrono::seconds(timegm(&parts)) - std::chrono::minutes((sign == '-' ? -1 : 1) * (away_hours * 60 + away_minutes));
    auto rest = std::chrono::duration_cast<std::chrono::nanoseconds>(std::chrono::duration<double>(seconds));
    new (place) Point(std::chrono::duration_cast<D>(whole + rest));
  }
  static void give(st_out *out, const Point &value) {
    long long micros = std::chrono::duration_cast<std::chrono::microseconds>(value.time_since_epoch()).count();
    long long rest = ((micros % 1000000) + 1000000) % 1000000;
    std::time_t seconds = static_cast<std::time_t>((micros - rest) / 1000000);
    std::tm parts = {};
    gmtime_r(&seconds, &parts);
    st_put_format(out, "{\"~time\":\"%04d-%02d-%02dT%02d:%02d:%02d", parts.tm_year + 1900, parts.tm_mon + 1, parts.tm_mday, parts.tm_hour, parts.tm_min, parts.tm_sec);
    if (rest) st_put_format(out, ".%06lld", rest);
    write(out, "Z\"}");
  }
};

#if __cplusplus >= 202002L
template <>
struct Coder<std::chrono::year_month_day> {
  static void make(st_value *value, void *place) {
    st_value *body;
    int year = 0;
    unsigned month = 0, day = 0;
    if (!st_is_tag(value, "~date", &body) || sscanf(body->text, "%d-%u-%u", &year, &month, &day) != 3) refuse<std::chrono::year_month_day>(value);
    new (place) std::chrono::year_month_day(std::chrono::year(year), std::chrono::month(month), std::chrono::day(day));
  }
  static void give(st_out *out, const std::chrono::year_month_day &value) {
    st_put_format(out, "{\"~date\":\"%04d-%02u-%02u\"}", int(value.year()), unsigned(value.month()), unsigned(value.day()));
  }
};
#endif

// -- enums, classes ----------------------------------------------------------------------------------------------------

template <class T>
struct Coder<T, std::enable_if_t<std::is_enum_v<T> && !std::is_same_v<T, std::byte>>> {
  using Number = std::underlying_type_t<T>;
  static void make(st_value *value, void *place) {
    st_value *fields = value->kind == ST_JSON_OBJECT ? st_fields(value) : nullptr;
    st_value *given = fields ? st_member(fields, "value") : value;
    if (!given) refuse<T>(value);
    if constexpr (Members<T>::known) {
      for (const auto &[name, member] : Members<T>::all) {
        bool fits = given->kind == ST_JSON_TEXT ? strcmp(name, given->text) == 0 : static_cast<Number>(member) == made<Number>(given);
        if (!fits) continue;
        new (place) T(member);
        return;
      }
      misfit(std::string(st_shown(given)) + " is no member of " + kind_of(typeid(T)));
    } else {
      new (place) T(static_cast<T>(made<Number>(given)));
    }
  }
  static void give(st_out *out, T value) {
    constexpr bool is_scoped = !std::is_convertible_v<T, Number>;
    if (is_scoped) st_put_format(out, "{\"~obj\":\"%s\",\"fields\":{\"value\":", kind_of(typeid(T)).c_str());
    st::give(out, static_cast<Number>(value));
    if (is_scoped) write(out, "}}");
  }
};

bool same_loosely(const char *left, const char *right);
// Counts how deep the value that is written lies; false where it is too deep.
bool enter(st_out *out, const void *place);
void leave();

template <class T>
struct Coder<T, std::enable_if_t<Fields<T>::known>> {
  // Fields are made one by one where no constructor makes them all; a class with virtual functions needs a constructor.
  static void make(st_value *value, void *place) {
    if (Object *object = named(value)) {
      T *found = object_as<T>(*object);
      if (!found) refuse<T>(value);
      if constexpr (std::is_copy_constructible_v<T>) new (place) T(*found);
      else if constexpr (std::is_move_constructible_v<T>) new (place) T(std::move(*found));
      else misfit("a " + kind_of(typeid(T)) + " can be neither copied nor moved");
      return;
    }
    if constexpr (std::is_abstract_v<T>) misfit("a " + kind_of(typeid(T)) + " is abstract");
    else {
      constexpr bool is_default = std::is_default_constructible_v<T>;
      if constexpr (!is_default && std::is_polymorphic_v<T>) misfit("a " + kind_of(typeid(T)) + " cannot be made of its fields: it has no constructor without arguments");
      else {
        if constexpr (is_default) new (place) T();
        else memset(place, 0, sizeof(T));
        fill<is_default>(value, *static_cast<T *>(place));
      }
    }
  }
  template <bool IsMade>
  static void fill(st_value *value, T &object) {
    st_value *items = st_items(value), *fields = items ? nullptr : st_fields(value);
    if (!items && !fields) misfit(std::string(st_shown(value)) + " is no " + kind_of(typeid(T)));
    st_value *next = items ? items->first : nullptr;
    size_t used = 0;
    Fields<T>::each(object, [&](const char *name, auto &field) {
      using F = std::remove_cv_t<std::remove_reference_t<decltype(field)>>;
      st_value *found = next;
      if (items) next = next ? next->next : nullptr;
      for (st_value *one = fields ? fields->first : nullptr; one && !found; one = one->next)
        if (same_loosely(one->key, name)) found = one;
      void *place = const_cast<F *>(&field);
      used += found != nullptr;
      if (!found) {
        if constexpr (!IsMade && std::is_default_constructible_v<F>) new (place) F();
        else if (!IsMade) misfit(std::string(kind_of(typeid(T))) + " needs its field " + name);
        return;
      }
      try {
        if constexpr (IsMade && std::is_destructible_v<F>) field.~F();
        Coder<F>::make(found, place);
      } catch (const Misfit &problem) {
        if constexpr (IsMade && std::is_default_constructible_v<F>) new (place) F();
        misfit(std::string(name) + ": " + problem.what);
      }
    });
    for (st_value *one = fields ? fields->first : nullptr; one && used < fields->count; one = one->next) {
      bool is_known = false;
      Fields<T>::each(object, [&](const char *name, auto &) { is_known = is_known || same_loosely(one->key, name); });
      if (!is_known) misfit(kind_of(typeid(T)) + " has no field " + one->key);
    }
    if (items && used < items->count) misfit(std::string(st_shown(value)) + " has more items than " + kind_of(typeid(T)) + " has fields");
  }
  static void give(st_out *out, const T &value) {
    if constexpr (std::is_polymorphic_v<T>) {
      const Class *own = typeid(value) == typeid(T) ? nullptr : class_of(typeid(value));
      if (own) {
        own->give(out, dynamic_cast<const void *>(&value));
        return;
      }
    }
    give_fields(out, value);
  }
  static void give_fields(st_out *out, const T &value) {
    if (!enter(out, &value)) return;
    st_put_format(out, "{\"~obj\":\"%s\",\"fields\":{", kind_of(typeid(T)).c_str());
    bool is_first = true;
    Fields<T>::each(const_cast<T &>(value), [&](const char *name, auto &field) {
      st_put_format(out, "%s\"%s\":", is_first ? "" : ",", name);
      is_first = false;
      st::give(out, field);
    });
    write(out, "}}");
    leave();
  }
};

// -- pointers ----------------------------------------------------------------------------------------------------------

// A new object: of the class that the case names, where it has T as a base.
template <class T>
T *made_new(st_value *value) {
  if constexpr (!is_complete<T>) misfit(std::string(st_shown(value)) + " is no object of an earlier step");
  else {
  st_value *body;
  if constexpr (std::is_class_v<T>) {
    if (st_is_tag(value, "~obj", &body) && body->kind == ST_JSON_TEXT) {
      const Class *known = class_named(body->text);
      if (known && known->make && known->as && *known->type != typeid(T))
        if (T *found = static_cast<T *>(known->as(known->make(value), typeid(T)))) return found;
    }
  }
  using Plain = std::remove_cv_t<T>;
  void *place = ::operator new(sizeof(Plain));
  Coder<Plain>::make(value, place);
  return static_cast<T *>(place);
  }
}

template <class T>
void give_pointer(st_out *out, const T *value) {
  if (!value) write(out, "null");
  else if constexpr (is_complete<T>) st::give(out, *value);
  else Coder<Misfit>::opaque(out, typeid(T *));
}

template <class T>
struct Coder<T *, std::enable_if_t<!std::is_same_v<std::remove_cv_t<T>, char>>> {
  static void make(st_value *value, void *place) {
    T *&made = *new (place) (T *)(nullptr);
    if (st_is_null(value)) return;
    if (Object *object = named(value)) {
      if constexpr (std::is_void_v<T>) made = object->address;
      else if constexpr (!std::is_function_v<T>) made = object_as<std::remove_cv_t<T>>(*object);
      if (!made) refuse<T *>(value);
      return;
    }
    if constexpr (std::is_void_v<T> || std::is_function_v<T>) refuse<T *>(value);
    else if constexpr (!is_complete<T>) made = made_new<T>(value);
    else if constexpr (std::is_class_v<T>) made = made_new<T>(value);
    else if constexpr (std::is_object_v<T>) {
      if (!st_items(value)) made = made_new<T>(value);
      else made = const_cast<std::remove_cv_t<T> *>((new std::vector<std::remove_cv_t<T>>(st::made<std::vector<std::remove_cv_t<T>>>(value)))->data());
    }
  }
  static void give(st_out *out, T *const &value) {
    if constexpr (std::is_void_v<T> || std::is_function_v<T>) {
      if (value) Coder<T **>::opaque(out, typeid(T *));
      else write(out, "null");
    } else give_pointer<std::remove_cv_t<T>>(out, value);
  }
  static void opaque(st_out *out, const std::type_info &type) { Coder<Misfit>::opaque(out, type); }
};

template <class T, class D>
struct Coder<std::unique_ptr<T, D>> {
  static void make(st_value *value, void *place) {
    auto *made = new (place) std::unique_ptr<T, D>();
    if (st_is_null(value)) return;
    if (Object *object = named(value)) {
      if (object->held && *object->held == typeid(std::unique_ptr<T, D>)) {
        *made = std::move(*static_cast<std::unique_ptr<T, D> *>(object->holder));
        return;
      }
      T *found = object->held ? nullptr : object_as<T>(*object);
      if (!found) misfit(std::string(st_shown(value)) + " is no object that can be given away as " + kind_of(typeid(T)));
      made->reset(found);
      object->destroy = nullptr;
      return;
    }
    made->reset(made_new<T>(value));
  }
  static void give(st_out *out, const std::unique_ptr<T, D> &value) { give_pointer<T>(out, value.get()); }
};

template <class T>
struct Coder<std::shared_ptr<T>> {
  static void make(st_value *value, void *place) {
    auto *made = new (place) std::shared_ptr<T>();
    if (st_is_null(value)) return;
    Object *object = named(value);
    if (!object) {
      made->reset(made_new<T>(value));
    } else if (object->held && *object->held == typeid(std::shared_ptr<T>)) {
      *made = *static_cast<std::shared_ptr<T> *>(object->holder);
    } else {
      T *found = object_as<T>(*object);
      if (!found) refuse<T>(value);
      *made = std::shared_ptr<T>(found, [](T *) {});
    }
  }
  static void give(st_out *out, const std::shared_ptr<T> &value) { give_pointer<T>(out, value.get()); }
};

template <class T>
struct Coder<std::weak_ptr<T>> {
  static void make(st_value *value, void *place) { new (place) std::weak_ptr<T>(*new std::shared_ptr<T>(st::made<std::shared_ptr<T>>(value))); }
  static void give(st_out *out, const std::weak_ptr<T> &value) { give_pointer<T>(out, value.lock().get()); }
};

}  // namespace st
#endif
