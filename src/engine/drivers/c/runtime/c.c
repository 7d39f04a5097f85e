/* Calls and steps of C: functions by the tables of the units, objects by their addresses. */
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include "types.h"

enum { MAX_OBJECTS = 256, DEFAULT_ROOM = 64 * 1024, LONG_NAME = 512 };

typedef struct {
  const char *name;
  void *address;
  const st_type *type;
} object;

static object objects[MAX_OBJECTS];
static int object_count;

const st_field *st_field_named(const st_type *type, const char *name);
void st_decode_field(st_value *value, const st_type *type, const st_field *field, char *place);
void st_encode_field(st_out *out, const st_type *type, const st_field *field, const char *place);

void *st_named(st_value *value, const st_type **type) {
  st_value *body;
  *type = NULL;
  if (!st_is_tag(value, "~as", &body) || body->kind != ST_JSON_TEXT) return NULL;
  for (int at = object_count - 1; at >= 0; at--)
    if (strcmp(objects[at].name, body->text) == 0) {
      *type = objects[at].type;
      return objects[at].address;
    }
  st_misfit("no step has named an object \"%s\"", body->text);
}

static void keep(const char *name, void *address, const st_type *type) {
  if (!name) return;
  if (object_count == MAX_OBJECTS) st_misfit("a case may name at most %d objects", MAX_OBJECTS);
  objects[object_count++] = (object){name, address, type};
}

static void forget(void) { object_count = 0; }

static object object_on(const char *name) {
  for (int at = object_count - 1; at >= 0; at--)
    if (strcmp(objects[at].name, name) == 0) {
      if (!objects[at].address) st_misfit("the object \"%s\" is a null pointer", name);
      return objects[at];
    }
  st_missing(name);
}

/* -- finding --------------------------------------------------------------------------------------------------------- */

static bool is_in(const char *file, const st_value *files) {
  for (const st_value *one = files->first; one; one = one->next)
    if (strcmp(one->text, file) == 0) return true;
  return false;
}

/* A name without underscores and capitals. */
static void loosen(const char *name, char *to, size_t room) {
  size_t used = 0;
  for (; *name && used + 1 < room; name++)
    if (*name != '_' && *name != ' ') to[used++] = *name >= 'A' && *name <= 'Z' ? (char)(*name + 32) : *name;
  to[used] = 0;
}

static const char *simple_name(const char *type) {
  const char *space = type ? strrchr(type, ' ') : NULL;
  return space ? space + 1 : type ? type : "";
}

static const st_function *function_named(const char *name, const st_value *files) {
  for (int unit = 0; st_units[unit]; unit++)
    for (const st_function *one = st_units[unit]->functions; one->name; one++)
      if (strcmp(one->name, name) == 0 && is_in(one->file, files)) return one;
  return NULL;
}

/* The function whose name is these parts, whatever its underscores and capitals; null parts are left out. */
static const st_function *function_of(const char *first, const char *second, const char *third, const st_value *files) {
  char whole[LONG_NAME], wanted[LONG_NAME], own[LONG_NAME];
  snprintf(whole, sizeof whole, "%s%s%s", first, second ? second : "", third ? third : "");
  loosen(whole, wanted, sizeof wanted);
  for (int unit = 0; st_units[unit]; unit++)
    for (const st_function *one = st_units[unit]->functions; one->name; one++) {
      loosen(one->name, own, sizeof own);
      if (strcmp(own, wanted) == 0 && is_in(one->file, files)) return one;
    }
  return NULL;
}

static bool takes_first(const st_function *function, const st_type *type) {
  if (function->count == 0) return false;
  const st_type *first = function->parameters[0].type, *of = first->kind == ST_STRUCT ? first : first->of;
  if (!of || !type || !type->name || !of->name) return of && first->kind != ST_INTEGER;
  return strcmp(of->name, type->name) == 0 || of->kind == ST_VOID;
}

/* -- calling --------------------------------------------------------------------------------------------------------- */

typedef struct {
  const st_function *function;
  st_value **given;
  void **slots;
  size_t *counts;
  /* Whether lengths are arguments, or follow from what they belong to. */
  bool is_explicit;
} call;

static bool is_implied(const call *of, int at) { return of->function->parameters[at].length_of && !of->is_explicit; }

static bool is_asked_for(const call *of, int at) {
  return (of->function->parameters[at].way & ST_IN) && !is_implied(of, at);
}

static bool same_name(const char *left, const char *right) {
  char a[LONG_NAME], b[LONG_NAME];
  loosen(left, a, sizeof a);
  loosen(right, b, sizeof b);
  return strcmp(a, b) == 0;
}

static void bind(call *of, const st_order *order, bool has_receiver) {
  const st_function *function = of->function;
  size_t given = order->args->count, full = 0, lengths = 0;
  const st_value *named = order->kwargs && order->kwargs->kind == ST_JSON_OBJECT ? order->kwargs : NULL;
  if (named) given += named->count;
  for (int at = has_receiver; at < function->count; at++) {
    full += (function->parameters[at].way & ST_IN) != 0;
    lengths += (function->parameters[at].way & ST_IN) && function->parameters[at].length_of;
  }
  of->is_explicit = given == full;
  st_reading(NULL, NULL);
  if (!of->is_explicit && given != full - lengths)
    st_misfit("%s takes %zu arguments, not %zu", function->name, full - lengths, given);
  for (st_value *one = named ? named->first : NULL; one; one = one->next) {
    int at = has_receiver;
    while (at < function->count && !same_name(function->parameters[at].name, one->key)) at++;
    if (at == function->count || !is_asked_for(of, at)) st_misfit("%s has no parameter %s", function->name, one->key);
    of->given[at] = one;
  }
  int at = has_receiver;
  for (st_value *one = order->args->first; one; one = one->next) {
    while (at < function->count && (of->given[at] || !is_asked_for(of, at))) at++;
    if (at == function->count) st_misfit("%s takes other arguments", function->name);
    of->given[at] = one;
  }
}

static long long length_given(const call *of, int at) {
  const st_parameter *parameter = &of->function->parameters[at];
  if (!parameter->length || !of->is_explicit || !of->given[parameter->length - 1]) return -1;
  bool is_negative;
  unsigned long long magnitude;
  const st_parameter *length = &of->function->parameters[parameter->length - 1];
  st_reading(length->name, of->function->name);
  st_whole(of->given[parameter->length - 1], &is_negative, &magnitude);
  st_reading(parameter->name, of->function->name);
  return is_negative || magnitude > (1ULL << 40) ? -1 : (long long)magnitude;
}

static size_t size_of(const st_type *type) { return type->size ? type->size : 1; }

static void prepare(call *of, int at) {
  const st_parameter *parameter = &of->function->parameters[at];
  const st_type *type = parameter->type;
  st_value *value = of->given[at];
  st_reading(parameter->name, of->function->name);
  if (!(parameter->way & ST_IN)) {
    long long wanted = length_given(of, at);
    size_t room = parameter->room ? parameter->room : wanted >= 0 ? (size_t)wanted : parameter->length ? DEFAULT_ROOM : 1;
    of->counts[at] = room;
    void *memory = calloc(room + 1, size_of(type->of));
    if (!memory) st_misfit("there is no memory for it");
    *(void **)of->slots[at] = memory;
    return;
  }
  bool is_object = st_is_tag(value, "~as", NULL);
  bool is_several = parameter->length || parameter->shape == ST_AS_BYTES || parameter->shape == ST_AS_LIST;
  if (type->kind != ST_POINTER || is_object || st_is_null(value) || !is_several || parameter->shape == ST_AS_HANDLE) {
    st_decode(value, type, of->slots[at]);
    st_value *items = type->kind == ST_POINTER && !is_object ? st_items(value) : NULL;
    if (items) of->counts[at] = items->count;
    return;
  }
  long long length = length_given(of, at);
  size_t room = parameter->room > (size_t)(length > 0 ? length : 0) ? parameter->room : (size_t)(length > 0 ? length : 0);
  *(void **)of->slots[at] = st_decode_items(value, type->of, room, &of->counts[at]);
  if (length > (long long)of->counts[at] && !(type->of->is_char && !type->is_const))
    st_misfit("its length is given as %lld, but it has %zu items", length, of->counts[at]);
}

static void prepare_length(call *of, int at) {
  const st_parameter *parameter = &of->function->parameters[at];
  size_t count = parameter->length_of > 0 ? of->counts[parameter->length_of - 1] : 0;
  void *place = of->slots[at];
  const st_type *type = parameter->type;
  st_reading(parameter->name, of->function->name);
  if (type->kind == ST_POINTER) {
    type = type->of;
    place = *(void **)of->slots[at] = calloc(1, 16);
  }
  if (type->kind == ST_INTEGER) st_set_integer(type, place, false, count);
}

/* The number of items after the call, where the length went over by its address. */
static size_t count_after(const call *of, int length, size_t before) {
  if (!length) return before;
  const st_type *type = of->function->parameters[length - 1].type;
  const void *place = of->slots[length - 1];
  if (type->kind == ST_POINTER) place = *(void *const *)place, type = type->of;
  long long count = place && type->kind == ST_INTEGER ? st_integer_at(type, place) : 0;
  return count > 0 ? (size_t)count : 0;
}

static void encode_after(const call *of, int at, st_out *out) {
  const st_parameter *parameter = &of->function->parameters[at];
  const st_type *type = parameter->type;
  st_value *given = of->given[at];
  bool is_same = given && (type->kind != ST_POINTER || type->is_const || st_is_tag(given, "~as", NULL) || st_is_null(given));
  if (is_same) {
    st_put_bytes(out, given->raw, given->raw_length);
    return;
  }
  const void *to = *(void *const *)of->slots[at];
  size_t count = of->counts[at];
  const st_parameter *length = parameter->length ? &of->function->parameters[parameter->length - 1] : NULL;
  bool is_several = length || parameter->shape == ST_AS_BYTES || parameter->shape == ST_AS_LIST || parameter->room || (given && st_items(given));
  if (parameter->shape == ST_AS_TEXT || (type->of->is_char && !(parameter->shape == ST_AS_BYTES || parameter->shape == ST_AS_LIST))) {
    st_put_string(out, to, strlen(to));
  } else if (is_several) {
    if (length && length->type->kind == ST_POINTER) count = count_after(of, parameter->length, count);
    st_encode_items(out, type->of, to, count, parameter->shape);
  } else {
    st_encode(out, type->of, to);
  }
}

/* The value that is returned, alone or before the outs. */
static void encode_result(const call *of, void *result, bool is_kept, st_out *out) {
  const st_function *function = of->function;
  const st_type *type = function->result;
  if (type->kind == ST_HANDLE && is_kept && *(void **)result) {
    st_put_format(out, "{\"~obj\":\"%s\",\"fields\":{}}", simple_name(type->of ? type->of->name : NULL));
  } else if ((function->length || function->shape == ST_AS_BYTES || function->shape == ST_AS_LIST) && type->kind == ST_POINTER) {
    st_encode_items(out, type->of, *(void **)result, count_after(of, function->length, 0), function->shape);
  } else if (function->shape == ST_AS_TEXT && type->kind == ST_POINTER && *(void **)result) {
    st_put_string(out, *(char **)result, strlen(*(char **)result));
  } else {
    st_encode(out, type, result);
  }
}

static bool is_out(const st_parameter *parameter) { return parameter->way == ST_OUT && !parameter->length_of; }

static void encode_value(const call *of, void *result, bool is_kept, st_out *out) {
  const st_function *function = of->function;
  int outs = 0, written = 0;
  bool has_result = function->result->kind != ST_VOID;
  for (int at = 0; at < function->count; at++) outs += is_out(&function->parameters[at]);
  if (outs == 0) {
    encode_result(of, result, is_kept, out);
    return;
  }
  bool is_tuple = outs + has_result > 1;
  if (is_tuple) st_put(out, "{\"~tuple\":[");
  if (has_result) encode_result(of, result, is_kept, out), written++;
  for (int at = 0; at < function->count; at++) {
    if (!is_out(&function->parameters[at])) continue;
    if (written++) st_put(out, ",");
    encode_after(of, at, out);
  }
  if (is_tuple) st_put(out, "]}");
}

/* Calls; writes the value unless `shown` is given in its place, then the arguments after the call. The result's place is returned. */
static void *invoke(const st_function *function, const st_order *order, const object *receiver, bool is_kept, const char *shown,
                    st_out *out, double *milliseconds) {
  int count = function->count;
  st_reading(NULL, NULL);
  if (function->refused) st_misfit("%s cannot be called: %s", function->name, function->refused);
  call of = {function, st_brief(sizeof(st_value *) * (size_t)(count + 1)), st_brief(sizeof(void *) * (size_t)(count + 1)),
             st_brief(sizeof(size_t) * (size_t)(count + 1)), false};
  bind(&of, order, receiver != NULL);
  for (int at = 0; at < count; at++) of.slots[at] = st_brief(size_of(function->parameters[at].type));
  for (int at = 0; at < count; at++) {
    const st_type *type = function->parameters[at].type;
    if (at == 0 && receiver && type->kind == ST_STRUCT) memcpy(of.slots[0], receiver->address, type->size);
    else if (at == 0 && receiver) *(void **)of.slots[0] = receiver->address;
    else if (!is_implied(&of, at) && !(function->parameters[at].length_of && function->parameters[at].way == ST_OUT)) prepare(&of, at);
  }
  for (int at = receiver != NULL; at < count; at++) {
    const st_parameter *parameter = &function->parameters[at];
    if (is_implied(&of, at) || (parameter->length_of && parameter->way == ST_OUT)) prepare_length(&of, at);
  }
  st_reading(NULL, NULL);
  void *result = st_brief(size_of(function->result) + 16);
  double since = st_now();
  st_enter();
  function->call(of.slots, result);
  st_leave();
  double took = st_now() - since;
  if (milliseconds) *milliseconds = took;
  st_put(out, "\"value\":");
  bool is_null = shown && function->result->kind != ST_STRUCT && function->result->kind != ST_VOID && !*(void **)result;
  if (shown && !is_null) st_put(out, shown);
  else encode_value(&of, result, is_kept, out);
  st_put(out, ",\"args\":[");
  for (const st_value *one = order->args->first; one; one = one->next) {
    if (one != order->args->first) st_put(out, ",");
    for (int at = 0; at < count; at++)
      if (of.given[at] == one) encode_after(&of, at, out);
  }
  st_put(out, "]");
  if (order->kwargs && order->kwargs->first) {
    st_put(out, ",\"kwargs\":{");
    for (const st_value *one = order->kwargs->first; one; one = one->next) {
      st_put(out, one == order->kwargs->first ? "" : ",");
      st_put_text(out, one->key, strlen(one->key));
      st_put(out, ":");
      for (int at = 0; at < count; at++)
        if (of.given[at] == one) encode_after(&of, at, out);
    }
    st_put(out, "}");
  }
  if (function->release && *(void **)result && !is_kept) function->release(*(void **)result);
  return result;
}

static void keep_result(const st_function *function, void *result, const char *as) {
  const st_type *type = function->result;
  if (!as) return;
  if (type->kind == ST_POINTER || type->kind == ST_HANDLE) {
    keep(as, *(void **)result, type->of ? type->of : type);
    return;
  }
  void *copy = calloc(1, size_of(type));
  if (!copy) st_misfit("there is no memory for it");
  memcpy(copy, result, type->size);
  keep(as, copy, type);
}

/* -- the protocol's operations ---------------------------------------------------------------------------------------- */

static const char MADE[] = "{\"~obj\":\"new\",\"fields\":{}}";

static void run_call(const st_order *order, st_out *out, double *milliseconds) {
  for (const st_value *name = order->names->first; name; name = name->next) {
    const st_function *function = function_named(name->text, order->files);
    if (!function) continue;
    invoke(function, order, NULL, false, NULL, out, milliseconds);
    return;
  }
  st_missing(order->names->first ? order->names->first->text : "a name");
}

static const st_type *struct_named(const char *name) {
  for (int unit = 0; st_units[unit]; unit++)
    for (const st_type *const *one = st_units[unit]->types; *one; one++)
      if ((*one)->kind == ST_STRUCT && (*one)->name && same_name(simple_name((*one)->name), name)) return *one;
  return NULL;
}

/* A struct from its fields in their order. */
static void create_struct(const st_type *type, const st_order *order, const char *as, st_out *out) {
  char *made = calloc(1, size_of(type));
  if (!made) st_misfit("there is no memory for it");
  const st_field *field = type->fields;
  for (st_value *one = order->args->first; one; one = one->next, field++) {
    if (!field->name) st_misfit("%s has fewer fields than %zu", type->name, order->args->count);
    st_reading(field->name, type->name);
    st_decode_field(one, type, field, made);
  }
  for (st_value *one = order->kwargs ? order->kwargs->first : NULL; one; one = one->next) {
    const st_field *named = st_field_named(type, one->key);
    st_reading(one->key, type->name);
    if (!named) st_misfit("%s has no field %s", type->name, one->key);
    st_decode_field(one, type, named, made);
  }
  st_put_format(out, "\"value\":%s,\"args\":[", MADE);
  for (const st_value *one = order->args->first; one; one = one->next) {
    if (one != order->args->first) st_put(out, ",");
    st_put_bytes(out, one->raw, one->raw_length);
  }
  st_put(out, "]");
  keep(as, made, type);
}

/* Calls a function of that name or a usual maker's, or one that fills a struct in, or takes the struct's fields in their order. */
static void create(const st_order *order, const char *as, st_out *out) {
  static const char *const AFTER[] = {"new", "create", "make", "open", "alloc"};
  for (const st_value *wanted = order->names->first; wanted; wanted = wanted->next) {
    const char *dot = strrchr(wanted->text, '.'), *name = dot ? dot + 1 : wanted->text;
    const st_function *function = function_named(name, order->files);
    for (size_t at = 0; !function && at < sizeof AFTER / sizeof *AFTER; at++) {
      function = function_of(name, AFTER[at], NULL, order->files);
      if (!function) function = function_of(AFTER[at], name, NULL, order->files);
    }
    if (function) {
      keep_result(function, invoke(function, order, NULL, true, MADE, out, NULL), as);
      return;
    }
    function = function_of(name, "init", NULL, order->files);
    const st_type *first = function && function->count > 0 ? function->parameters[0].type : NULL;
    if (first && first->kind == ST_POINTER && first->of->kind == ST_STRUCT) {
      object made = {as, calloc(1, size_of(first->of)), first->of};
      if (!made.address) st_misfit("there is no memory for it");
      invoke(function, order, &made, true, MADE, out, NULL);
      keep(as, made.address, made.type);
      return;
    }
    const st_type *type = struct_named(name);
    if (type) {
      create_struct(type, order, as, out);
      return;
    }
  }
  st_missing(order->names->first ? order->names->first->text : "a name");
}

static const st_function *method(const object *on, const char *name, const char *verb, const st_value *files) {
  const char *type = simple_name(on->type->name);
  const st_function *found = verb ? NULL : function_named(name, files);
  if (!found || !takes_first(found, on->type)) found = function_of(type, verb ? verb : name, verb ? name : NULL, files);
  if (!found && verb) found = function_of(verb, name, NULL, files);
  return found && takes_first(found, on->type) ? found : NULL;
}

static void call_on(const st_order *order, const char *name, const char *as, st_out *out) {
  object on = name ? object_on(name) : (object){0};
  for (const st_value *wanted = order->names->first; wanted; wanted = wanted->next) {
    const st_function *function = name ? method(&on, wanted->text, NULL, order->files) : function_named(wanted->text, order->files);
    if (!function) continue;
    keep_result(function, invoke(function, order, name ? &on : NULL, as != NULL, NULL, out, NULL), as);
    return;
  }
  st_missing(order->names->first ? order->names->first->text : "a name");
}

static void get(const st_order *order, const char *name, const char *as, st_out *out) {
  object on = object_on(name ? name : "");
  for (const st_value *wanted = order->names->first; wanted; wanted = wanted->next) {
    const st_field *field = st_field_named(on.type, wanted->text);
    if (field) {
      st_put(out, "\"value\":");
      st_encode_field(out, on.type, field, on.address);
      if (field->type->kind == ST_POINTER || field->type->kind == ST_HANDLE)
        keep(as, *(void **)((char *)on.address + field->offset), field->type->of ? field->type->of : field->type);
      else if (!field->read) keep(as, (char *)on.address + field->offset, field->type);
      return;
    }
    const st_function *function = method(&on, wanted->text, NULL, order->files);
    if (!function) function = method(&on, wanted->text, "get", order->files);
    if (!function) continue;
    st_order bare = *order;
    st_value empty = {.kind = ST_JSON_LIST};
    bare.args = &empty;
    bare.kwargs = NULL;
    keep_result(function, invoke(function, &bare, &on, as != NULL, NULL, out, NULL), as);
    return;
  }
  st_missing(order->names->first ? order->names->first->text : "a name");
}

static void set(const st_order *order, const char *name, st_value *value, st_out *out) {
  object on = object_on(name ? name : "");
  for (const st_value *wanted = order->names->first; wanted && value; wanted = wanted->next) {
    const st_field *field = st_field_named(on.type, wanted->text);
    if (field) {
      st_reading(field->name, on.type->name);
      st_decode_field(value, on.type, field, on.address);
      st_put(out, "\"value\":null");
      return;
    }
    const st_function *function = method(&on, wanted->text, "set", order->files);
    if (!function) continue;
    st_order one = *order;
    st_value list = {.kind = ST_JSON_LIST, .first = value, .count = 1}, *after = value->next;
    value->next = NULL;
    one.args = &list;
    one.kwargs = NULL;
    size_t before = out->length;
    invoke(function, &one, &on, false, NULL, out, NULL);
    value->next = after;
    out->length = before;
    st_put(out, "\"value\":null");
    return;
  }
  st_missing(order->names->first ? order->names->first->text : "a name");
}

static bool knows(const char *file) {
  for (int unit = 0; st_units[unit]; unit++)
    for (const st_function *one = st_units[unit]->functions; one->name; one++)
      if (strcmp(one->file, file) == 0) return true;
  return false;
}

static void names(const char *file, st_out *out) {
  bool is_first = true;
  for (int unit = 0; st_units[unit]; unit++)
    for (const st_function *one = st_units[unit]->functions; one->name; one++) {
      if (strcmp(one->file, file) != 0) continue;
      st_put_format(out, "%s{\"name\":\"%s\",\"kind\":\"function\",\"params\":[", is_first ? "" : ",", one->name);
      is_first = false;
      for (int at = 0; at < one->count; at++) st_put_format(out, "%s\"%s\"", at ? "," : "", one->parameters[at].name);
      st_put(out, "]}");
    }
}

#ifndef __clang_version__
#define ST_COMPILER "gcc " __VERSION__
#else
#define ST_COMPILER "clang " __clang_version__
#endif

const st_language st_c = {"c", ST_COMPILER, names, knows, run_call, create, call_on, get, set, NULL, forget, true, false};
