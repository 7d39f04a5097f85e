// Calls and steps of C++: functions and classes by name, objects by their addresses.
#include <cxxabi.h>

#include <cstdio>
#include <cstdlib>
#include <exception>
#include <iostream>
#include <stdexcept>

#include "calls.hpp"

namespace st {

namespace {

// All that the driver remembers, in memory of its own: a case that changes no variable of the program must not seem to.
struct Memory {
  std::vector<Function> functions;
  std::vector<const Class *> classes;
  std::vector<std::string> files;
  std::map<std::string, Object> objects;
  std::vector<const void *> path;
};

Memory &memory() {
  static Memory *all = new Memory();
  return *all;
}

std::string demangled(const char *name) {
  int status = 0;
  char *text = abi::__cxa_demangle(name, nullptr, nullptr, &status);
  std::string found = status == 0 && text ? text : name;
  free(text);
  return found;
}

std::string loosened(const std::string &name) {
  std::string text;
  for (char letter : name)
    if (letter != '_') text.push_back(static_cast<char>(tolower(static_cast<unsigned char>(letter))));
  return text;
}

}  // namespace

std::string name_of(const std::type_info &type) {
  std::string name = demangled(type.name());
  for (const auto &[from, to] : {std::pair<std::string, std::string>{"std::__cxx11::basic_string<char, std::char_traits<char>, std::allocator<char> >", "std::string"},
                                 {"std::basic_string_view<char, std::char_traits<char> >", "std::string_view"}})
    for (size_t at; (at = name.find(from)) != std::string::npos;) name.replace(at, from.size(), to);
  return name;
}

std::string kind_of(const std::type_info &type) {
  std::string name = demangled(type.name());
  size_t end = name.find('<');
  if (end == std::string::npos) end = name.size();
  size_t from = name.rfind("::", end);
  return name.substr(from == std::string::npos ? 0 : from + 2, end - (from == std::string::npos ? 0 : from + 2));
}

bool same_loosely(const char *left, const char *right) { return loosened(left) == loosened(right); }

bool enter(st_out *out, const void *place) {
  auto &path = memory().path;
  for (size_t at = 0; at < path.size(); at++)
    if (path[at] == place) {
      st_put_format(out, "{\"~ref\":%zu}", at);
      return false;
    }
  if (path.size() > 150) {
    st_put(out, "{\"~opaque\":\"<nested deeper than 150>\"}");
    return false;
  }
  path.push_back(place);
  return true;
}

void leave() { memory().path.pop_back(); }

void add(Function function) { memory().functions.push_back(std::move(function)); }
void add_file(const char *file) { memory().files.push_back(file); }
void add(const Class *made) { memory().classes.push_back(made); }

const Class *class_of(const std::type_info &type) {
  for (const Class *one : memory().classes)
    if (*one->type == type) return one;
  return nullptr;
}

const Class *class_named(const std::string &name) {
  for (const Class *one : memory().classes)
    if (name == one->name) return one;
  return nullptr;
}

Object *named(const st_value *value) {
  st_value *body;
  if (!value || !st_is_tag(value, "~as", &body) || body->kind != ST_JSON_TEXT) return nullptr;
  auto found = memory().objects.find(body->text);
  if (found == memory().objects.end()) misfit(std::string("no step has named an object \"") + body->text + "\"");
  return &found->second;
}

// The driver's own bookkeeping does not count as held by the code.
void keep(Call &call, Object object) {
  st_count_blocks(false);
  memory().objects[call.keeps] = object;
}

void note_exception(Call &call) {
  call.has_thrown = true;
  const std::type_info *type = abi::__cxa_current_exception_type();
  call.thrown_kind = type ? kind_of(*type) : "unknown";
  try {
    throw;
  } catch (const std::exception &problem) {
    call.thrown_message = problem.what();
  } catch (const std::string &text) {
    call.thrown_kind = "string";
    call.thrown_message = text;
  } catch (const char *text) {
    call.thrown_kind = "char";
    call.thrown_message = text;
  } catch (int number) {
    call.thrown_message = std::to_string(number);
  } catch (...) {
  }
}

// -- the protocol's operations ------------------------------------------------------------------------------------------

namespace {

bool is_in(const char *file, const st_value *files) {
  for (const st_value *one = files->first; one; one = one->next)
    if (strcmp(one->text, file) == 0) return true;
  return false;
}

const char *first_name(const st_order *order) { return order->names->first ? order->names->first->text : "a name"; }

// Those of a name, those of whole numbers first. `files` is null for any.
std::vector<const Function *> functions_named(const std::string &name, const st_value *files) {
  std::vector<const Function *> found;
  for (const Function &one : memory().functions)
    if (name == one.name && (!files || is_in(one.file, files))) found.push_back(&one);
  std::stable_sort(found.begin(), found.end(), [](const Function *left, const Function *right) { return left->rank < right->rank; });
  return found;
}

[[noreturn]] void fail(const std::string &what) {
  std::string *kept = new std::string(what);
  st_reading(nullptr, nullptr);
  st_on_misfit = nullptr;
  st_misfit("%s", kept->c_str());
}

// Gives each argument its parameter; false where their number is another one.
bool bind(Call &call, const st_order *order) {
  const auto &parameters = call.function.parameters;
  size_t given = order->args->count, full = 0, lengths = 0;
  const st_value *kwargs = order->kwargs && order->kwargs->kind == ST_JSON_OBJECT ? order->kwargs : nullptr;
  if (kwargs) given += kwargs->count;
  for (const Parameter &one : parameters) {
    full += !one.is_out;
    lengths += !one.is_out && one.length_of >= 0;
  }
  bool is_explicit = given == full;
  if (!is_explicit && given != full - lengths) return false;
  auto is_wanted = [&](size_t at) { return !parameters[at].is_out && (is_explicit || parameters[at].length_of < 0) && !call.given[at]; };
  for (st_value *one = kwargs ? kwargs->first : nullptr; one; one = one->next) {
    size_t at = 0;
    while (at < parameters.size() && !(is_wanted(at) && same_loosely(parameters[at].name, one->key))) at++;
    if (at == parameters.size()) return false;
    call.given[at] = one;
  }
  size_t at = 0;
  for (st_value *one = order->args->first; one; one = one->next) {
    while (at < parameters.size() && !is_wanted(at)) at++;
    if (at == parameters.size()) return false;
    call.given[at] = one;
  }
  return true;
}

void put_answer(const Call &call, const st_order *order, st_out *out) {
  if (call.has_thrown) {
    st_put(out, "\"thrown\":{\"kind\":");
    st_put_string(out, call.thrown_kind.data(), call.thrown_kind.size());
    st_put(out, ",\"message\":");
    st_put_string(out, call.thrown_message.data(), call.thrown_message.size());
    st_put(out, "}");
  } else {
    st_put(out, "\"value\":");
    st_put_bytes(out, call.value.data(), call.value.size());
  }
  auto put_after = [&](const st_value *one) {
    for (size_t at = 0; at < call.given.size(); at++)
      if (call.given[at] == one) st_put_bytes(out, call.after[at].data(), call.after[at].size());
  };
  st_put(out, ",\"args\":[");
  for (const st_value *one = order->args->first; one; one = one->next) {
    if (one != order->args->first) st_put(out, ",");
    put_after(one);
  }
  st_put(out, "]");
  if (!order->kwargs || !order->kwargs->first) return;
  st_put(out, ",\"kwargs\":{");
  for (const st_value *one = order->kwargs->first; one; one = one->next) {
    if (one != order->kwargs->first) st_put(out, ",");
    st_put_text(out, one->key, strlen(one->key));
    st_put(out, ":");
    put_after(one);
  }
  st_put(out, "}");
}

// Calls the first overload that fits; if none does, reports why the first did not.
void run(const std::vector<const Function *> &overloads, const st_order *order, Object *receiver, const char *keeps, bool is_made, st_out *out, double *milliseconds) {
  std::string first, refused;
  for (const Function *function : overloads) {
    if (function->refused) {
      refused = std::string(function->name) + " cannot be called: " + function->refused;
      continue;
    }
    size_t count = function->parameters.size();
    Call call{*function, std::vector<st_value *>(count), std::vector<size_t>(count), receiver, keeps, "", std::vector<std::string>(count), "", ""};
    call.is_made = is_made;
    call.owns = is_made && strstr(function->name, ".new");
    if (!bind(call, order)) {
      if (first.empty()) first = std::string(function->name) + " takes " + std::to_string(count) + " arguments, not " + std::to_string(order->args->count);
      continue;
    }
    try {
      function->run(call);
      std::cout.flush();
    } catch (const Misfit &problem) {
      memory().path.clear();
      if (first.empty() || first.find(" takes ") != std::string::npos) first = problem.what;
      continue;
    }
    if (milliseconds) *milliseconds = call.milliseconds;
    put_answer(call, order, out);
    return;
  }
  fail(first.empty() ? refused : first);
}

void watch() {
  st_on_misfit = [](const char *what) { throw Misfit{what}; };
}

void run_call(const st_order *order, st_out *out, double *milliseconds) {
  watch();
  for (const st_value *name = order->names->first; name; name = name->next) {
    auto found = functions_named(name->text, order->files);
    if (found.empty()) continue;
    run(found, order, nullptr, nullptr, false, out, milliseconds);
    return;
  }
  st_missing(first_name(order));
}

std::string simple(const std::string &name) {
  size_t at = name.find_last_of(".:");
  return at == std::string::npos ? name : name.substr(at + 1);
}

Object *object_on(const char *name) {
  auto found = memory().objects.find(name ? name : "");
  if (found == memory().objects.end()) st_missing(name ? name : "an object");
  if (!found->second.address) fail(std::string("the object \"") + name + "\" is null");
  return &found->second;
}

// A class's constructors, a function of that name, or the class's fields in their order.
void create(const st_order *order, const char *as, st_out *out) {
  watch();
  for (const st_value *wanted = order->names->first; wanted; wanted = wanted->next) {
    std::string name = simple(wanted->text);
    auto makers = functions_named(name + ".new", nullptr);
    if (makers.empty()) makers = functions_named(name, order->files);
    const Class *known = class_named(name);
    bool is_abstract = known && !known->make;
    if (!makers.empty() && !is_abstract) {
      run(makers, order, nullptr, as, true, out, nullptr);
      return;
    }
    if (!known || is_abstract) continue;
    st_value fields = *order->args;
    if (order->kwargs && order->kwargs->first) fields = *order->kwargs;
    void *made = nullptr;
    try {
      made = known->make(&fields);
    } catch (const Misfit &problem) {
      fail(name + ": " + problem.what);
    }
    if (as) memory().objects[as] = {made, known->type, nullptr, nullptr, nullptr};
    st_put(out, "\"value\":{\"~obj\":\"new\",\"fields\":{}},\"args\":[");
    for (const st_value *one = order->args->first; one; one = one->next) {
      if (one != order->args->first) st_put(out, ",");
      st_put_bytes(out, one->raw, one->raw_length);
    }
    st_put(out, "]");
    return;
  }
  st_missing(first_name(order));
}

// Methods of the object's class, else of its bases.
std::vector<const Function *> methods_of(const Object &object, const std::string &name) {
  auto found = functions_named(kind_of(*object.type) + "." + name, nullptr);
  const Class *own = class_of(*object.type);
  for (const Class *one : memory().classes) {
    if (!found.empty()) break;
    if (one != own && own && own->as && own->as(object.address, *one->type)) found = functions_named(std::string(one->name) + "." + name, nullptr);
  }
  return found;
}

void call_on(const st_order *order, const char *name, const char *as, st_out *out) {
  watch();
  for (const st_value *wanted = order->names->first; wanted; wanted = wanted->next) {
    Object *object = name ? object_on(name) : nullptr;
    auto found = object ? methods_of(*object, wanted->text) : functions_named(wanted->text, order->files);
    if (found.empty() && object) {
      // A function of the file that takes the object first.
      auto functions = functions_named(wanted->text, order->files);
      if (functions.empty()) continue;
      st_order with = *order;
      st_value list = *order->args, first = {}, body = {};
      body.kind = ST_JSON_TEXT;
      body.text = name;
      body.length = strlen(name);
      body.key = "~as";
      first.kind = ST_JSON_OBJECT;
      first.first = &body;
      first.count = 1;
      first.next = list.first;
      list.first = &first;
      list.count++;
      with.args = &list;
      st_out text = {};
      run(functions, &with, nullptr, as, false, &text, nullptr);
      std::string answer(text.data, text.length);
      free(text.data);
      size_t at = answer.find(",\"args\":[,");
      if (at != std::string::npos) answer.erase(at + 9, 1);
      st_put_bytes(out, answer.data(), answer.size());
      return;
    }
    if (found.empty()) continue;
    run(found, order, object, as, false, out, nullptr);
    return;
  }
  st_missing(first_name(order));
}

void get(const st_order *order, const char *name, const char *as, st_out *out) {
  watch();
  Object *object = object_on(name);
  const Class *known = class_of(*object->type);
  for (const st_value *wanted = order->names->first; wanted; wanted = wanted->next) {
    size_t before = out->length;
    st_put(out, "\"value\":");
    if (known && known->get && known->get(object->address, wanted->text, out)) return;
    out->length = before;
    for (const std::string &method : {std::string(wanted->text), std::string("get") + wanted->text, std::string("get_") + wanted->text}) {
      std::vector<const Function *> found = methods_of(*object, method);
      if (found.empty()) {
        for (const Function &one : memory().functions)
          if (same_loosely(one.name, (kind_of(*object->type) + "." + method).c_str())) found.push_back(&one);
      }
      if (found.empty()) continue;
      st_order bare = *order;
      st_value none = {};
      none.kind = ST_JSON_LIST;
      bare.args = &none;
      bare.kwargs = nullptr;
      run(found, &bare, object, as, false, out, nullptr);
      return;
    }
  }
  st_missing(first_name(order));
}

void set(const st_order *order, const char *name, st_value *value, st_out *out) {
  watch();
  Object *object = object_on(name);
  const Class *known = class_of(*object->type);
  for (const st_value *wanted = order->names->first; wanted && value; wanted = wanted->next) {
    try {
      if (known && known->set && known->set(object->address, wanted->text, value)) {
        st_put(out, "\"value\":null");
        return;
      }
    } catch (const Misfit &problem) {
      fail(std::string("the field ") + wanted->text + ": " + problem.what);
    }
    std::string setter = loosened(kind_of(*object->type) + ".set" + wanted->text);
    std::vector<const Function *> found;
    for (const Function &one : memory().functions)
      if (loosened(one.name) == setter) found.push_back(&one);
    if (found.empty()) continue;
    st_order with = *order;
    st_value list = {}, only = *value;
    only.next = nullptr;
    list.kind = ST_JSON_LIST;
    list.first = &only;
    list.count = 1;
    with.args = &list;
    with.kwargs = nullptr;
    st_out text = {};
    run(found, &with, object, nullptr, false, &text, nullptr);
    free(text.data);
    st_put(out, "\"value\":null");
    return;
  }
  st_missing(first_name(order));
}

bool knows(const char *file) {
  const auto &files = memory().files;
  return std::find(files.begin(), files.end(), file) != files.end();
}

void names(const char *file, st_out *out) {
  bool is_first = true;
  for (const Function &one : memory().functions) {
    if (strcmp(one.file, file) != 0) continue;
    st_put_format(out, "%s{\"name\":\"%s\",\"kind\":\"function\",\"params\":[", is_first ? "" : ",", one.name);
    is_first = false;
    for (size_t at = 0; at < one.parameters.size(); at++) st_put_format(out, "%s\"%s\"", at ? "," : "", one.parameters[at].name);
    st_put(out, "]}");
  }
}

// Objects that the driver made or was given end as they would at the end of a block; what the code has deleted is gone.
void release() {
  for (auto &[name, object] : memory().objects) {
    void *own = object.holder ? object.holder : object.address;
    if (object.destroy && st_holds_block(own)) object.destroy(own);
    object.destroy = nullptr;
  }
}

void forget() {
  st_on_misfit = nullptr;
  memory().objects.clear();
  memory().path.clear();
}

}  // namespace

}  // namespace st

#ifndef __clang_version__
#define ST_COMPILER "g++ " __VERSION__
#else
#define ST_COMPILER "clang++ " __clang_version__
#endif

extern "C" const st_language st_cpp;
const st_language st_cpp = {"cpp", ST_COMPILER, st::names, st::knows, st::run_call, st::create, st::call_on, st::get, st::set, st::release, st::forget, false, false};
