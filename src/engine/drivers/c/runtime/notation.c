/* Side Twin's value notation (docs/formats.md, section 3): what C and C++ share of it. */
#include <math.h>
#include <stdarg.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include "sidetwin.h"
#include "state.h"

static const char *const TAGS[] = {"~num", "~int", "~float", "~dec", "~bytes", "~utf16", "~none", "~esc", "~date",
                                   "~time", "~tuple", "~list", "~set", "~map", "~obj", "~as", "~callback"};

const char *st_tag(const st_value *value, st_value **body) {
  if (value->kind != ST_JSON_OBJECT || !value->first || value->first->key[0] != '~') {
    if (value->kind != ST_JSON_OBJECT || !st_member(value, "~obj")) return NULL;
  }
  for (size_t at = 0; at < sizeof TAGS / sizeof *TAGS; at++) {
    st_value *found = st_member(value, TAGS[at]);
    if (!found) continue;
    if (body) *body = found;
    return TAGS[at];
  }
  return NULL;
}

bool st_is_tag(const st_value *value, const char *tag, st_value **body) {
  const char *found = st_tag(value, body);
  return found && strcmp(found, tag) == 0;
}

st_value *st_items(st_value *value) {
  st_value *body;
  if (value->kind == ST_JSON_LIST) return value;
  if (st_is_tag(value, "~tuple", &body) || st_is_tag(value, "~list", &body) || st_is_tag(value, "~set", &body)) return body;
  return NULL;
}

st_value *st_fields(st_value *value) {
  st_value *body;
  if (value->kind != ST_JSON_OBJECT) return NULL;
  const char *tag = st_tag(value, &body);
  if (!tag) return value;
  if (strcmp(tag, "~obj") == 0) return st_member(value, "fields");
  return strcmp(tag, "~esc") == 0 ? body : NULL;
}

bool st_is_null(const st_value *value) { return value->kind == ST_JSON_NULL || st_is_tag(value, "~none", NULL); }

const char *st_shown(const st_value *value) {
  bool is_long = value->raw_length > 80;
  size_t length = is_long ? 80 : value->raw_length;
  while (is_long && length > 0 && ((unsigned char)value->raw[length] & 0xc0) == 0x80) length--;
  char *text = st_brief(length + 4);
  memcpy(text, value->raw, length);
  if (is_long) strcpy(text + length, "…");
  return text;
}

/* -- problems -------------------------------------------------------------------------------------------------------- */

void st_reading(const char *parameter, const char *function) {
  st_state->parameter = parameter;
  st_state->function = function;
}

/* C++ throws; null where the request ends at once. */
void (*st_on_misfit)(const char *what);

void st_misfit(const char *format, ...) {
  va_list arguments;
  size_t length = 0;
  if (st_state->parameter)
    length = (size_t)snprintf(st_state->what, sizeof st_state->what / 2, "the argument %s of %s: ", st_state->parameter,
                              st_state->function);
  va_start(arguments, format);
  vsnprintf(st_state->what + length, sizeof st_state->what - length, format, arguments);
  va_end(arguments);
  if (st_on_misfit) st_on_misfit(st_state->what);
  st_state->problem = ST_MISFIT;
  longjmp(st_state->jump, 1);
}

void st_missing(const char *name) {
  snprintf(st_state->what, sizeof st_state->what, "%s", name);
  st_state->problem = ST_MISSING;
  longjmp(st_state->jump, 1);
}

void st_undefined(const char *name) {
  st_reading(NULL, NULL);
  st_misfit("it calls %s, which no source of this side defines: name its library in \"call\".\"link\"", name);
}

/* -- numbers --------------------------------------------------------------------------------------------------------- */

void st_put_whole(st_out *out, bool is_negative, unsigned long long magnitude) {
  const char *sign = is_negative && magnitude ? "-" : "";
  bool is_safe = magnitude <= 9007199254740991ULL;
  st_put_format(out, is_safe ? "%s%llu" : "{\"~int\":\"%s%llu\"}", sign, magnitude);
}

void st_put_signed(st_out *out, long long number) {
  st_put_whole(out, number < 0, number < 0 ? 0ULL - (unsigned long long)number : (unsigned long long)number);
}

void st_put_floating(st_out *out, double number) {
  if (isnan(number)) st_put(out, "{\"~num\":\"NaN\"}");
  else if (isinf(number)) st_put(out, number > 0 ? "{\"~num\":\"Infinity\"}" : "{\"~num\":\"-Infinity\"}");
  else if (number == 0 && signbit(number)) st_put(out, "{\"~num\":\"-0\"}");
  else {
    char text[40];
    for (int digits = 15; digits <= 17; digits++) {
      snprintf(text, sizeof text, "%.*g", digits, number);
      if (strtod(text, NULL) == number) break;
    }
    if (number != trunc(number)) st_put(out, text);
    else st_put_format(out, "{\"~float\":\"%s%s\"}", text, strpbrk(text, ".e") ? "" : ".0");
  }
}

void st_whole(const st_value *value, bool *is_negative, unsigned long long *magnitude) {
  st_value *body;
  const char *text = value->kind == ST_JSON_NUMBER ? value->text : st_is_tag(value, "~int", &body) ? body->text : NULL;
  if (!text || !*text || text[strspn(text, "-0123456789")]) st_misfit("%s is no whole number", st_shown(value));
  *is_negative = *text == '-';
  const char *digits = text + *is_negative;
  *magnitude = 0;
  for (; *digits; digits++) {
    unsigned digit = (unsigned)(*digits - '0');
    if (*magnitude > (~0ULL - digit) / 10) st_misfit("%s is out of range", text);
    *magnitude = *magnitude * 10 + digit;
  }
}

double st_floating(const st_value *value) {
  st_value *body = NULL;
  const char *tag = st_tag(value, &body);
  const char *text = NULL;
  if (value->kind == ST_JSON_NUMBER) text = value->text;
  else if (tag && (strcmp(tag, "~float") == 0 || strcmp(tag, "~int") == 0 || strcmp(tag, "~dec") == 0 || strcmp(tag, "~num") == 0))
    text = body->text;
  if (!text) st_misfit("%s is no number", st_shown(value));
  return strtod(text, NULL);
}

bool st_boolean(const st_value *value) {
  if (value->kind != ST_JSON_BOOL) st_misfit("%s is no boolean", st_shown(value));
  return value->flag;
}

/* -- bytes and text --------------------------------------------------------------------------------------------------- */

static const char DIGITS[] = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";

void st_put_base64(st_out *out, const char *data, size_t length) {
  st_put(out, "{\"~bytes\":\"");
  for (size_t at = 0; at < length; at += 3) {
    unsigned triple = 0;
    for (size_t more = 0; more < 3; more++)
      triple = triple << 8 | (at + more < length ? (unsigned char)data[at + more] : 0);
    char four[4];
    for (int digit = 0; digit < 4; digit++) four[digit] = DIGITS[triple >> (18 - 6 * digit) & 63];
    if (at + 1 >= length) four[2] = '=';
    if (at + 2 >= length) four[3] = '=';
    st_put_bytes(out, four, 4);
  }
  st_put(out, "\"}");
}

char *st_decode_bytes(const st_value *value, size_t *length) {
  st_value *body;
  if (!st_is_tag(value, "~bytes", &body) || body->kind != ST_JSON_TEXT) return NULL;
  char *data = st_brief(body->length + 1);
  unsigned bits = 0;
  int count = 0;
  *length = 0;
  for (const char *at = body->text; *at && *at != '='; at++) {
    const char *digit = strchr(DIGITS, *at);
    if (!digit) return NULL;
    bits = bits << 6 | (unsigned)(digit - DIGITS);
    count += 6;
    if (count < 8) continue;
    count -= 8;
    data[(*length)++] = (char)(bits >> count & 255);
  }
  return data;
}

void st_put_string(st_out *out, const char *data, size_t length) {
  if (st_is_utf8(data, length)) st_put_text(out, data, length);
  else st_put_base64(out, data, length);
}
