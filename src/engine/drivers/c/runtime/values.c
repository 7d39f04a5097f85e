/* C values from and to Side Twin's notation, by the tables of their types. */
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include "types.h"

enum { MAX_DEPTH = 150, MAX_ITEMS = 10000 };

bool st_is_byte(const st_type *type) {
  return type->size == 1 && (type->kind == ST_INTEGER || type->kind == ST_VOID || type->kind == ST_OPAQUE);
}

/* Memory that is handed to ported code, which may keep, move or free it. */
static void *lasting(size_t count, size_t size) {
  void *memory = calloc(count ? count : 1, size ? size : 1);
  if (!memory) st_misfit("there is no memory for it");
  return memory;
}

static const char *title(const st_type *type) { return type->name ? type->name : "value of its type"; }

/* -- numbers --------------------------------------------------------------------------------------------------------- */

#define STORE(T) (*(T *)place = is_negative ? (T)(0 - magnitude) : (T)magnitude)

void st_set_integer(const st_type *type, void *place, bool is_negative, unsigned long long magnitude) {
  unsigned long long most = type->size >= 8 ? ~0ULL : (1ULL << (8 * type->size)) - 1;
  unsigned long long limit = !type->is_signed ? (is_negative ? 0 : most) : (most >> 1) + is_negative;
  if (magnitude > limit) st_misfit("%s%llu is out of the range of %s", is_negative ? "-" : "", magnitude, title(type));
  switch (type->size) {
    case 1: STORE(uint8_t); break;
    case 2: STORE(uint16_t); break;
    case 4: STORE(uint32_t); break;
    case 8: STORE(uint64_t); break;
    default: st_misfit("a %s cannot be handed over", title(type));
  }
}

long long st_integer_at(const st_type *type, const void *place) {
  switch (type->size) {
    case 1: return type->is_signed ? *(const int8_t *)place : *(const uint8_t *)place;
    case 2: return type->is_signed ? *(const int16_t *)place : *(const uint16_t *)place;
    case 4: return type->is_signed ? *(const int32_t *)place : (long long)*(const uint32_t *)place;
    default: return *(const int64_t *)place;
  }
}

static void encode_integer(st_out *out, const st_type *type, const void *place) {
  if (type->size == 8 && !type->is_signed) st_put_whole(out, false, *(const uint64_t *)place);
  else if (type->size <= 8) st_put_signed(out, st_integer_at(type, place));
  else st_put(out, "{\"~opaque\":\"<an integer of more than 64 bits>\"}");
}

static void decode_float(st_value *value, const st_type *type, void *place) {
  double number = st_floating(value);
  if (type->size == sizeof(float)) *(float *)place = (float)number;
  else if (type->size == sizeof(double)) *(double *)place = number;
  else *(long double *)place = number;
}

static void encode_float(st_out *out, const st_type *type, const void *place) {
  if (type->size == sizeof(float)) st_put_floating(out, *(const float *)place);
  else if (type->size == sizeof(double)) st_put_floating(out, *(const double *)place);
  else st_put_floating(out, (double)*(const long double *)place);
}

/* A member's name or value, or an object with its value. */
static void decode_enum(st_value *value, const st_type *type, void *place) {
  st_value *fields = value->kind == ST_JSON_OBJECT ? st_fields(value) : NULL;
  st_value *given = fields ? st_member(fields, "value") : value;
  if (!given) st_misfit("%s is no %s", st_shown(value), title(type));
  bool is_negative = false;
  unsigned long long magnitude = 0;
  if (given->kind != ST_JSON_TEXT) st_whole(given, &is_negative, &magnitude);
  long long number = is_negative ? -(long long)magnitude : (long long)magnitude;
  for (const st_enumerator *one = type->enumerators; one && one->name; one++) {
    bool fits = given->kind == ST_JSON_TEXT ? strcmp(one->name, given->text) == 0 : one->value == number;
    if (!fits) continue;
    st_type whole = {.kind = ST_INTEGER, .size = type->size, .is_signed = type->is_signed, .name = type->name};
    st_set_integer(&whole, place, one->value < 0, one->value < 0 ? 0ULL - (unsigned long long)one->value : (unsigned long long)one->value);
    return;
  }
  st_misfit("%s is no member of %s", st_shown(given), title(type));
}

/* -- pointers -------------------------------------------------------------------------------------------------------- */

static const char *text_in(st_value *value, size_t *length) {
  if (value->kind == ST_JSON_TEXT) return *length = value->length, value->text;
  return st_decode_bytes(value, length);
}

void *st_decode_items(st_value *value, const st_type *item, size_t room, size_t *count) {
  size_t length = 0;
  const char *data = st_is_byte(item) && (item->is_char || value->kind != ST_JSON_TEXT) ? text_in(value, &length) : NULL;
  if (data) {
    char *made = lasting((length > room ? length : room) + 1, 1);
    memcpy(made, data, length);
    *count = length;
    return made;
  }
  st_value *items = st_items(value);
  if (!items) st_misfit("%s is no list of %s", st_shown(value), title(item));
  size_t size = item->size ? item->size : 1;
  char *made = lasting((items->count > room ? items->count : room) + 1, size), *place = made;
  static const st_type BYTE = {.kind = ST_INTEGER, .size = 1, .name = "unsigned char"};
  for (st_value *one = items->first; one; one = one->next, place += size) st_decode(one, item->kind == ST_VOID ? &BYTE : item, place);
  *count = items->count;
  return made;
}

static void *decode_pointer(st_value *value, const st_type *type) {
  const st_type *of = type->of;
  size_t count;
  if (st_is_null(value)) return NULL;
  bool is_several = st_items(value) || st_is_tag(value, "~bytes", NULL);
  if (of->is_char && value->kind == ST_JSON_TEXT) {
    if (strlen(value->text) < value->length) st_misfit("a text with NUL within does not fit %s", title(type));
    return st_decode_items(value, of, 0, &count);
  }
  if (of->is_char && !is_several && value->kind != ST_JSON_NUMBER) st_misfit("%s is no text", st_shown(value));
  if (is_several) return st_decode_items(value, of, 0, &count);
  if (of->kind == ST_VOID) st_misfit("%s is no object of an earlier step", st_shown(value));
  void *made = lasting(2, of->size);
  st_decode(value, of, made);
  return made;
}

void st_encode_items(st_out *out, const st_type *item, const void *items, size_t count, int shape) {
  if (!items) {
    st_put(out, "null");
    return;
  }
  if (shape == ST_AS_TEXT || (item->is_char && shape != ST_AS_BYTES && shape != ST_AS_LIST)) {
    const char *end = memchr(items, 0, count);
    st_put_string(out, items, shape == ST_AS_TEXT && end ? (size_t)(end - (const char *)items) : count);
    return;
  }
  if (shape == ST_AS_BYTES || (st_is_byte(item) && !item->is_signed && shape != ST_AS_LIST)) {
    st_put_base64(out, items, count * (item->size ? item->size : 1));
    return;
  }
  st_put(out, "[");
  for (size_t at = 0; at < count; at++) {
    if (at) st_put(out, ",");
    st_encode(out, item, (const char *)items + at * item->size);
  }
  st_put(out, "]");
}

/* -- structs --------------------------------------------------------------------------------------------------------- */

/* A path of places that lead to the value that is written, to find cycles. */
static const void *path[MAX_DEPTH + 1];
static int depth;

static bool same_loosely(const char *left, const char *right) {
  for (;; left++, right++) {
    while (*left == '_') left++;
    while (*right == '_') right++;
    char a = *left >= 'A' && *left <= 'Z' ? (char)(*left + 32) : *left, b = *right >= 'A' && *right <= 'Z' ? (char)(*right + 32) : *right;
    if (a != b) return false;
    if (!a) return true;
  }
}

const st_field *st_field_named(const st_type *type, const char *name) {
  const st_field *found = NULL;
  for (const st_field *field = type->kind == ST_STRUCT ? type->fields : NULL; field && field->name; field++) {
    if (strcmp(field->name, name) == 0) return field;
    if (same_loosely(field->name, name)) found = field;
  }
  return found;
}

void st_decode_field(st_value *value, const st_type *type, const st_field *field, char *place) {
  if (field->write) {
    bool is_negative;
    unsigned long long magnitude;
    if (value->kind == ST_JSON_BOOL) magnitude = value->flag, is_negative = false;
    else st_whole(value, &is_negative, &magnitude);
    long long number = is_negative ? -(long long)magnitude : (long long)magnitude;
    field->write(place, number);
    if (field->read(place) != number) st_misfit("%s is out of the range of the field %s", st_shown(value), field->name);
  } else if (field->length && !st_is_null(value) && (st_items(value) || value->kind == ST_JSON_TEXT || st_is_tag(value, "~bytes", NULL))) {
    const st_field *length = &type->fields[field->length - 1];
    size_t count;
    *(void **)(place + field->offset) = st_decode_items(value, field->type->of, 0, &count);
    st_set_integer(length->type, place + length->offset, false, count);
  } else {
    st_decode(value, field->type, place + field->offset);
  }
}

static void decode_struct(st_value *value, const st_type *type, char *place) {
  st_value *fields = st_fields(value), *items = st_items(value);
  if (items) {
    const st_field *field = type->fields;
    for (st_value *one = items->first; one; one = one->next, field++) {
      if (!field || !field->name) st_misfit("%s has more items than %s has fields", st_shown(value), title(type));
      st_decode_field(one, type, field, place);
    }
    return;
  }
  if (!fields) st_misfit("%s is no %s", st_shown(value), title(type));
  for (st_value *one = fields->first; one; one = one->next) {
    const st_field *field = st_field_named(type, one->key);
    if (!field) st_misfit("%s has no field %s", title(type), one->key);
    st_decode_field(one, type, field, place);
  }
}

void st_encode_field(st_out *out, const st_type *type, const st_field *field, const char *place) {
  if (field->read) {
    if (field->type->kind == ST_BOOLEAN) st_put(out, field->read(place) ? "true" : "false");
    else st_put_signed(out, field->read(place));
  } else if (field->length) {
    const st_field *length = &type->fields[field->length - 1];
    long long count = st_integer_at(length->type, place + length->offset);
    st_encode_items(out, field->type->of, *(void *const *)(place + field->offset), count > 0 ? (size_t)count : 0, ST_ANY);
  } else {
    st_encode(out, field->type, place + field->offset);
  }
}

static void encode_struct(st_out *out, const st_type *type, const char *place) {
  st_put(out, "{\"~obj\":");
  st_put_text(out, type->name ? type->name : "", type->name ? strlen(type->name) : 0);
  st_put(out, ",\"fields\":{");
  for (const st_field *field = type->fields; field && field->name; field++) {
    st_put_format(out, "%s\"%s\":", field == type->fields ? "" : ",", field->name);
    st_encode_field(out, type, field, place);
  }
  st_put(out, "}}");
}

/* -- both ways ------------------------------------------------------------------------------------------------------- */

static void decode_array(st_value *value, const st_type *type, char *place) {
  size_t count;
  void *items = st_decode_items(value, type->of, 0, &count);
  // A text may fill its array to the last byte.
  if (count > type->count) st_misfit("%s is longer than %zu", st_shown(value), type->count);
  if (count < type->count && !st_is_byte(type->of)) st_misfit("%s is shorter than %zu", st_shown(value), type->count);
  memset(place, 0, type->size);
  memcpy(place, items, count * type->of->size);
  free(items);
}

void st_decode(st_value *value, const st_type *type, void *place) {
  const st_type *named;
  void *object = st_named(value, &named);
  if (named) {
    if (type->kind == ST_STRUCT && named->size == type->size) memcpy(place, object, type->size);
    else if (type->kind == ST_POINTER || type->kind == ST_HANDLE) *(void **)place = object;
    else st_misfit("%s is no %s", st_shown(value), title(type));
    if (type->name && named->name && type->of && type->of->kind != ST_VOID && strcmp(type->of->name ? type->of->name : "", named->name) != 0)
      st_misfit("%s is a %s, not a %s", st_shown(value), named->name, title(type->of));
    return;
  }
  switch (type->kind) {
    case ST_BOOLEAN: *(bool *)place = st_boolean(value); return;
    case ST_INTEGER: {
      bool is_negative;
      unsigned long long magnitude;
      st_whole(value, &is_negative, &magnitude);
      st_set_integer(type, place, is_negative, magnitude);
      return;
    }
    case ST_FLOAT: decode_float(value, type, place); return;
    case ST_ENUM: decode_enum(value, type, place); return;
    case ST_STRUCT: decode_struct(value, type, place); return;
    case ST_ARRAY: decode_array(value, type, place); return;
    case ST_POINTER: *(void **)place = decode_pointer(value, type); return;
    case ST_HANDLE:
    case ST_FUNCTION:
      if (!st_is_null(value)) st_misfit("%s is no %s", st_shown(value), type->kind == ST_HANDLE ? "object of an earlier step" : "function of C");
      *(void **)place = NULL;
      return;
    default: st_misfit("a %s cannot be handed over", title(type));
  }
}

static void encode_pointer(st_out *out, const st_type *type, const void *to) {
  if (!to) {
    st_put(out, "null");
  } else if (type->of->is_char) {
    st_put_string(out, to, strlen(to));
  } else if (type->of->kind == ST_POINTER && type->of->of->is_char) {
    size_t count = 0;
    while (((char *const *)to)[count] && count < MAX_ITEMS) count++;
    st_encode_items(out, type->of, to, count, ST_AS_LIST);
  } else {
    for (int at = 0; at < depth; at++)
      if (path[at] == to) {
        st_put_format(out, "{\"~ref\":%d}", at);
        return;
      }
    st_encode(out, type->of, to);
  }
}

void st_encode(st_out *out, const st_type *type, const void *place) {
  if (depth >= MAX_DEPTH) {
    st_put_format(out, "{\"~opaque\":\"<nested deeper than %d>\"}", MAX_DEPTH);
    return;
  }
  path[depth++] = place;
  switch (type->kind) {
    case ST_VOID: st_put(out, "null"); break;
    case ST_BOOLEAN: st_put(out, *(const bool *)place ? "true" : "false"); break;
    case ST_INTEGER:
    case ST_ENUM: encode_integer(out, type, place); break;
    case ST_FLOAT: encode_float(out, type, place); break;
    case ST_STRUCT: encode_struct(out, type, place); break;
    case ST_ARRAY: st_encode_items(out, type->of, place, type->count, type->of->is_char ? ST_AS_TEXT : ST_ANY); break;
    case ST_POINTER:
      depth--;
      encode_pointer(out, type, *(void *const *)place);
      depth++;
      break;
    default:
      if (type->kind != ST_OPAQUE && !*(void *const *)place) st_put(out, "null");
      else st_put_format(out, "{\"~opaque\":\"<%s>\"}", title(type));
  }
  depth--;
}
