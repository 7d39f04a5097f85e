// C++ calls: arguments by declared type, results and exceptions.
#ifndef SIDE_TWIN_CALLS_HPP
#define SIDE_TWIN_CALLS_HPP

#include "values.hpp"

namespace st {

// A parameter with its shape; parameter numbers count from 0, -1 means none.
struct Parameter {
  const char *name;
  int length, length_of;
  bool is_out;
  size_t room;
};

struct Call;

// A function with one number of arguments: another one with defaults left out is another entry.
struct Function {
  const char *file, *name;
  std::vector<Parameter> parameters;
  // Why it cannot be called, or null.
  const char *refused;
  void (*run)(Call &);
  // Overloads are tried in this order.
  int rank;
};

// One call while it is made. `given` is by parameter, null for lengths that follow from what they belong to.
struct Call {
  const Function &function;
  std::vector<st_value *> given;
  std::vector<size_t> counts;
  Object *receiver;
  const char *keeps;
  std::string value;
  std::vector<std::string> after;
  std::string thrown_kind, thrown_message;
  bool has_thrown = false;
  // Whether the value only has to be there: an object that is made.
  bool is_made = false;
  // Whether the object was made by a constructor.
  bool owns = false;
  double milliseconds = -1;
};

void keep(Call &call, Object object);

template <class F>
std::string written(F write) {
  st_out out = {};
  write(&out);
  std::string text(out.data ? out.data : "", out.length);
  free(out.data);
  return text;
}

// Memory for one object, made or not.
template <class T>
struct Place {
  alignas(T) unsigned char bytes[sizeof(T)];
  bool is_made = false;
  T *at() { return std::launder(reinterpret_cast<T *>(bytes)); }
  void make(st_value *value) {
    Coder<T>::make(value, bytes);
    is_made = true;
  }
  ~Place() {
    if constexpr (std::is_destructible_v<T>)
      if (is_made) at()->~T();
  }
};

// An argument handed over by value or reference.
template <class P>
struct Arg {
  using T = std::remove_cv_t<std::remove_reference_t<P>>;
  Place<T> own;
  T *object = nullptr;

  void read(Call &call, int at) {
    st_value *value = call.given[at];
    if constexpr (std::is_reference_v<P> && std::is_class_v<T>) {
      if (Object *known = named(value)) {
        object = object_as<T>(*known);
        if (object) return;
      }
      st_value *body;
      bool is_other = std::is_abstract_v<T> || (std::is_polymorphic_v<T> && st_is_tag(value, "~obj", &body) && kind_of(typeid(T)) != body->text);
      if (is_other) {
        object = made_new<T>(value);
        return;
      }
    }
    own.make(value);
    object = own.at();
  }
  void set_length(size_t count) {
    if constexpr (std::is_integral_v<T>) {
      new (own.bytes) T(static_cast<T>(count));
      object = own.at();
    }
  }
  P get() {
    if constexpr (std::is_lvalue_reference_v<P>) return *object;
    else return std::move(*object);
  }
  bool is_changed() const { return std::is_lvalue_reference_v<P> && !std::is_const_v<std::remove_reference_t<P>>; }
  void give(Call &, int, st_out *out) { st::give(out, *object); }
  size_t count() const { return 0; }
};

// An argument handed over by its address: one value, or several.
template <class T>
struct Arg<T *> {
  using Item = std::conditional_t<std::is_void_v<T>, unsigned char, std::remove_cv_t<T>>;
  T *pointer = nullptr;
  std::vector<Item> *items = nullptr;
  size_t given = 0;

  void read(Call &call, int at) {
    const Parameter &parameter = call.function.parameters[at];
    st_value *value = call.given[at];
    if constexpr (!is_complete<Item>) {
      Coder<T *>::make(value, &pointer);
      return;
    } else if constexpr (!std::is_function_v<T> && std::is_default_constructible_v<Item> && std::is_move_constructible_v<Item> && !std::is_same_v<Item, bool>) {
      if (parameter.is_out) {
        items = new std::vector<Item>(std::max<size_t>(parameter.room, 1) + 1);
        given = parameter.room ? parameter.room : parameter.length >= 0 ? 0 : 1;
        pointer = items->data();
        return;
      }
      bool is_text = value->kind == ST_JSON_TEXT && std::is_same_v<Item, char>;
      bool is_bytes = sizeof(Item) == 1 && st_is_tag(value, "~bytes", nullptr);
      if (parameter.length >= 0 && (st_items(value) || is_text || is_bytes)) {
        items = new std::vector<Item>();
        if (is_text || is_bytes)
          for (char letter : text_of(value)) items->push_back(static_cast<Item>(letter));
        else each_item<Item>(value, typeid(T *), [&](Item item) { items->push_back(std::move(item)); });
        given = items->size();
        size_t room = given;
        if (st_value *length = call.given[parameter.length]) {
          room = made<size_t>(length);
          if (room > given && !(is_text && !std::is_const_v<T>)) misfit("its length is given as " + std::to_string(room) + ", but it has " + std::to_string(given) + " items");
        }
        items->resize(std::max(room, given) + 1);
        pointer = items->data();
        return;
      }
    }
    Coder<T *>::make(value, &pointer);
    if constexpr (std::is_same_v<std::remove_cv_t<T>, char>) return;
    st_value *list = value ? st_items(value) : nullptr;
    if (list) given = list->count;
  }
  void set_length(size_t count) {
    if constexpr (std::is_integral_v<T> && !std::is_const_v<T>) pointer = new T(static_cast<T>(count));
  }
  T *get() { return pointer; }
  bool is_changed() const { return !std::is_const_v<T> && !std::is_void_v<T>; }
  void give(Call &call, int at, st_out *out) {
    if constexpr (std::is_function_v<T> || !is_complete<Item>) st_put(out, "null");
    else {
      bool is_list = pointer && (items || given) && !std::is_same_v<Item, char>;
      if (call.function.parameters[at].is_out && call.function.parameters[at].length < 0 && given == 1) is_list = false;
      const Item *first = static_cast<const Item *>(static_cast<const void *>(pointer));
      if (is_list) {
        if constexpr (std::is_copy_constructible_v<Item>) give_items(out, first, first + given);
      } else if constexpr (std::is_void_v<T>) st_put(out, "null");
      else Coder<T *>::give(out, pointer);
    }
  }
  size_t count() const { return given; }
};

template <class R>
constexpr bool is_handle = false;
template <class T>
constexpr bool is_handle<T *> = !std::is_void_v<T> && !std::is_function_v<T> && !is_complete<T>;

template <class R>
bool result_is_there(const R &result) {
  if constexpr (std::is_pointer_v<R>) return result != nullptr;
  else return true;
}

inline std::string handle_kind(const std::type_info &pointer) {
  std::string name = kind_of(pointer);
  return name.substr(0, name.find_first_of(" *"));
}

// Stores a result under the name that the step gives it.
template <class R>
struct Keeper {
  static void keep(Call &call, R &&value) {
    using T = std::remove_cv_t<std::remove_reference_t<R>>;
    if (!call.keeps) return;
    if constexpr (std::is_lvalue_reference_v<R>) st::keep(call, {const_cast<T *>(&value), &typeid(value)});
    else if constexpr (std::is_move_constructible_v<T>)
      st::keep(call, {new T(std::move(value)), &typeid(T), nullptr, nullptr, destroy<T>});
  }
};

template <class T>
const std::type_info &dynamic_type(T *value) {
  if constexpr (!is_complete<T>) return typeid(T *);
  else if constexpr (std::is_polymorphic_v<T>) return typeid(*value);
  else return typeid(T);
}

template <class T>
void *whole(T *value) {
  using Plain = std::remove_cv_t<T>;
  if constexpr (!is_complete<T>) return const_cast<Plain *>(value);
  else if constexpr (std::is_polymorphic_v<T>) return dynamic_cast<void *>(const_cast<Plain *>(value));
  else return const_cast<Plain *>(value);
}

template <class T>
struct Keeper<T *> {
  static void keep(Call &call, T *value) {
    if (!call.keeps) return;
    if constexpr (std::is_void_v<T> || std::is_function_v<T>) st::keep(call, {(void *)value, &typeid(T)});
    else if constexpr (!is_complete<T>) st::keep(call, {whole(value), &typeid(std::remove_cv_t<T> *)});
    // Objects made by a constructor belong to the driver; those returned by address belong to the code.
    else if (value) st::keep(call, {whole(value), &dynamic_type(value), nullptr, nullptr, call.owns ? destroy<T> : nullptr});
    else st::keep(call, {nullptr, &typeid(T)});
  }
};

template <class S>
void keep_smart(Call &call, S &&pointer) {
  if (!call.keeps) return;
  using T = typename S::element_type;
  T *value = pointer.get();
  if (!value) return st::keep(call, {nullptr, &typeid(T *)});
  st::keep(call, {whole(value), &dynamic_type(value), new S(std::move(pointer)), &typeid(S), destroy<S>});
}

template <class T, class D>
struct Keeper<std::unique_ptr<T, D>> {
  static void keep(Call &call, std::unique_ptr<T, D> &&pointer) { keep_smart(call, std::move(pointer)); }
};

template <class T>
struct Keeper<std::shared_ptr<T>> {
  static void keep(Call &call, std::shared_ptr<T> &&pointer) { keep_smart(call, std::move(pointer)); }
};

template <class T>
struct Keeper<std::optional<T>> {
  static void keep(Call &call, std::optional<T> &&value) {
    if (!call.keeps) return;
    if (value) Keeper<T>::keep(call, std::move(*value));
    else st::keep(call, {nullptr, &typeid(T)});
  }
};

void note_exception(Call &call);

// The result of a call with its out-parameters: a single value, or a tuple.
inline void join(Call &call, std::vector<std::string> parts) {
  if (parts.size() == 1) call.value = parts[0];
  else {
    call.value = "{\"~tuple\":[";
    for (size_t at = 0; at < parts.size(); at++) call.value += (at ? "," : "") + parts[at];
    call.value += "]}";
  }
}

template <class... P, size_t... At, class F>
void invoke_with(Call &call, F function, std::index_sequence<At...>) {
  std::tuple<Arg<P>...> args;
  const auto &parameters = call.function.parameters;
  auto read = [&](auto &arg, int at) {
    if (!call.given[at] && !parameters[at].is_out) return;
    try {
      arg.read(call, at);
    } catch (const Misfit &problem) {
      misfit("the argument " + std::string(parameters[at].name) + " of " + call.function.name + ": " + problem.what);
    }
    call.counts[at] = arg.count();
  };
  (read(std::get<At>(args), At), ...);
  auto lengths = [&](auto &arg, int at) {
    if (!call.given[at] && parameters[at].length_of >= 0) arg.set_length(call.counts[parameters[at].length_of]);
  };
  (lengths(std::get<At>(args), At), ...);
  std::vector<std::string> parts;
  double since = st_now();
  st_enter();
  try {
    using R = decltype(function(std::get<At>(args).get()...));
    if constexpr (std::is_void_v<R>) {
      function(std::get<At>(args).get()...);
      call.milliseconds = st_now() - since;
      st_leave();
    } else {
      R &&result = function(std::get<At>(args).get()...);
      call.milliseconds = st_now() - since;
      st_leave();
      if (call.is_made) {
        bool is_null = false;
        if constexpr (std::is_pointer_v<std::remove_reference_t<R>>) is_null = !result;
        parts.push_back(is_null ? "null" : "{\"~obj\":\"new\",\"fields\":{}}");
      } else if (call.keeps && is_handle<std::remove_reference_t<R>> && result_is_there(result)) {
        // Opaque values are still objects.
        parts.push_back("{\"~obj\":\"" + handle_kind(typeid(result)) + "\",\"fields\":{}}");
      } else {
        parts.push_back(written([&](st_out *out) { st::give(out, result); }));
      }
      st_count_blocks(st_wants_blocks());
      Keeper<R>::keep(call, std::forward<R>(result));
      st_count_blocks(false);
    }
  } catch (const Misfit &) {
    // The driver's own: a function that is not there was called.
    st_leave();
    throw;
  } catch (...) {
    st_leave();
    if (call.milliseconds < 0) call.milliseconds = st_now() - since;
    note_exception(call);
  }
  auto after = [&](auto &arg, int at) {
    st_value *given = call.given[at];
    if (parameters[at].is_out && parameters[at].length_of < 0) {
      if (!call.has_thrown) parts.push_back(written([&](st_out *out) { arg.give(call, at, out); }));
      return;
    }
    if (!given) return;
    bool is_same = !arg.is_changed() || st_is_tag(given, "~as", nullptr) || st_is_null(given);
    call.after[at] = is_same ? std::string(given->raw, given->raw_length) : written([&](st_out *out) { arg.give(call, at, out); });
  };
  (after(std::get<At>(args), At), ...);
  if (!call.has_thrown) parts.empty() ? void(call.value = "null") : join(call, parts);
}

// Calls with arguments of the declared types P.
template <class... P, class F>
void invoke(Call &call, F function) {
  invoke_with<P...>(call, function, std::index_sequence_for<P...>{});
}

// The object that a method is called on.
template <class T>
T &self(Call &call) {
  T *found = call.receiver ? object_as<T>(*call.receiver) : nullptr;
  if (!found) misfit("the object is no " + kind_of(typeid(T)));
  return *found;
}

// Overloads with whole numbers come before those with others.
template <class P>
constexpr int rank_of = std::is_integral_v<std::decay_t<P>> ? 0 : std::is_floating_point_v<std::decay_t<P>> ? 1 : 2;

void add(Function function);
void add(const Class *made);
// A file of the side, whether anything in it can be called or not.
void add_file(const char *file);

// The functions of a class that the driver needs.
template <class T>
struct Known {
  static void *make(st_value *value) { return made_new_of(value); }
  static void *made_new_of(st_value *value) {
    if constexpr (std::is_abstract_v<T>) return misfit("it is abstract"), nullptr;
    else {
      void *place = ::operator new(sizeof(T));
      Coder<T>::make(value, place);
      return place;
    }
  }
  static void give(st_out *out, const void *object) { Coder<T>::give_fields(out, *static_cast<const T *>(object)); }
  static bool get(void *object, const char *wanted, st_out *out) {
    bool is_found = false;
    Fields<T>::each(*static_cast<T *>(object), [&](const char *name, auto &field) {
      if (is_found || !same_loosely(name, wanted)) return;
      is_found = true;
      st::give(out, field);
    });
    return is_found;
  }
  static bool set(void *object, const char *wanted, st_value *value) {
    bool is_found = false;
    Fields<T>::each(*static_cast<T *>(object), [&](const char *name, auto &field) {
      using F = std::remove_reference_t<decltype(field)>;
      if (is_found || !same_loosely(name, wanted)) return;
      is_found = true;
      if constexpr (std::is_const_v<F> || !std::is_move_assignable_v<F>) misfit(std::string("the field ") + name + " cannot be set");
      else field = made<F>(value);
    });
    return is_found;
  }
};

// The address of an object as one of its bases B.
template <class T, class... B>
void *as_base(void *object, const std::type_info &type) {
  T *own = static_cast<T *>(object);
  if (typeid(T) == type) return own;
  void *found = nullptr;
  auto look = [&](auto *base) {
    using Base = std::remove_pointer_t<decltype(base)>;
    if (found) return;
    const Class *known = class_of(typeid(Base));
    if (typeid(Base) == type) found = base;
    else if (known && known->as) found = known->as(base, type);
  };
  (look(static_cast<B *>(own)), ...);
  return found;
}

}  // namespace st
#endif
