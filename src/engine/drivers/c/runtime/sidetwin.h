/*
 * Side Twin's driver for C and C++: what the generated code of a side and the runtime share. A side's sources are compiled
 * together with tables of their functions and types, and linked with the runtime into a program that answers in JSON Lines
 * (docs/formats.md, section 7).
 */
#ifndef SIDE_TWIN_H
#define SIDE_TWIN_H

#include <stdbool.h>
#include <stddef.h>
#include <stdint.h>

#ifdef __cplusplus
#define ST_NO_RETURN [[noreturn]]
extern "C" {
#else
#define ST_NO_RETURN _Noreturn
#endif

/* -- JSON ---------------------------------------------------------------------------------------------------------- */

enum { ST_JSON_NULL, ST_JSON_BOOL, ST_JSON_NUMBER, ST_JSON_TEXT, ST_JSON_LIST, ST_JSON_OBJECT };

/* A parsed value; members of a list or object hang together by `next`. Lives until the request is answered. */
typedef struct st_value {
  int kind;
  bool flag;
  /* Text without escapes in UTF-8, or a number as it was written; ends with NUL beyond its length. */
  const char *text;
  size_t length;
  const char *key;
  struct st_value *first, *next;
  size_t count;
  /* The value as it was written. */
  const char *raw;
  size_t raw_length;
} st_value;

/* Text that grows. */
typedef struct { char *data; size_t length, room; } st_out;

void st_put(st_out *out, const char *text);
void st_put_bytes(st_out *out, const char *data, size_t length);
/* Writes text as a JSON string; the caller has checked that it is UTF-8. */
void st_put_text(st_out *out, const char *text, size_t length);
void st_put_format(st_out *out, const char *format, ...) __attribute__((format(printf, 2, 3)));

/* Memory that lives until the request is answered. */
void *st_brief(size_t size);
/* Null if it is not JSON. */
st_value *st_parse(const char *text, size_t length);
/* The member of an object, or null. */
st_value *st_member(const st_value *object, const char *key);
bool st_is_utf8(const char *text, size_t length);

/* -- notation (docs/formats.md, section 3) --------------------------------------------------------------------------- */

/* The tag of `{"~tag": body}`, or null; the body is stored where asked. */
const char *st_tag(const st_value *value, st_value **body);
bool st_is_tag(const st_value *value, const char *tag, st_value **body);
/* The body of a tagged list, set or tuple, or the list itself; null if it is not one. */
st_value *st_items(st_value *value);
/* The fields of an object, tagged or plain; null if it is not one. */
st_value *st_fields(st_value *value);
bool st_is_null(const st_value *value);
/* Bytes of `~bytes`; null if it is not one. */
char *st_decode_bytes(const st_value *value, size_t *length);
void st_put_whole(st_out *out, bool is_negative, unsigned long long magnitude);
void st_put_signed(st_out *out, long long number);
void st_put_floating(st_out *out, double number);
void st_put_base64(st_out *out, const char *data, size_t length);
/* Text where it is UTF-8, else bytes. */
void st_put_string(st_out *out, const char *data, size_t length);
/* Each ends the request as broken with the parameter's name where the value does not fit. */
void st_whole(const st_value *value, bool *is_negative, unsigned long long *magnitude);
double st_floating(const st_value *value);
bool st_boolean(const st_value *value);
/* The value as it was written, at most 80 bytes. */
const char *st_shown(const st_value *value);

/* -- problems -------------------------------------------------------------------------------------------------------- */

/* Ends the request: the value does not fit. The parameter that is being read is named in front. */
ST_NO_RETURN void st_misfit(const char *format, ...) __attribute__((format(printf, 1, 2)));
/* Called with what does not fit instead of ending the request; it must not return. Null at first. */
extern void (*st_on_misfit)(const char *what);
/* Ends the request: there is no such name. */
ST_NO_RETURN void st_missing(const char *name);
/* Ends the request: code that was called needs a function that no source defines. */
ST_NO_RETURN void st_undefined(const char *name);
/* Names the parameter that is being read, for `st_misfit`. */
void st_reading(const char *parameter, const char *function);

/* -- what a case observes beside its answer ------------------------------------------------------------------------- */

/* Whether the case asks for the blocks that are held in the end, and for errno. */
bool st_wants_blocks(void);
/* Blocks allocated while counting is on are held until they are freed. */
void st_count_blocks(bool is_counting);
void st_forget_blocks(void);
/* -1 if unsupported. */
long st_held_blocks(void);
bool st_holds_block(const void *block);
/* To be called around the ported code: errno is zero before it, and kept after it. */
void st_enter(void);
void st_leave(void);

/* -- protocol -------------------------------------------------------------------------------------------------------- */

/* A requested step or call. `names` are tried in order. */
typedef struct {
  st_value *names, *args, *kwargs, *files;
} st_order;

/* Implemented by each language. Every function writes the members of the answer: `"value":…,"args":[…]`. */
typedef struct {
  const char *language, *version;
  void (*names)(const char *file, st_out *out);
  bool (*knows)(const char *file);
  /* Calls a function; `milliseconds` is the time of the call alone. */
  void (*call)(const st_order *order, st_out *out, double *milliseconds);
  /* Steps: `object` is the name of an object or null; the answer is kept under `as` where that is not null. */
  void (*create)(const st_order *order, const char *as, st_out *out);
  void (*call_on)(const st_order *order, const char *object, const char *as, st_out *out);
  void (*get)(const st_order *order, const char *object, const char *as, st_out *out);
  void (*set)(const st_order *order, const char *object, st_value *value, st_out *out);
  /* Ends the objects that the language itself would end; null if there are none. */
  void (*release)(void);
  /* Forgets the objects of a case. */
  void (*forget)(void);
  /* Whether state is put back byte by byte; else the process ends after a case that changed it. */
  bool restores;
  /* Whether the process ends after each case: its variables lead to what cannot be put back. */
  bool ends;
} st_language;

/* A file that did not compile, with the first complaint. Ends with a null file. */
typedef struct { const char *file, *what; } st_complaint;

int st_serve(const st_language *language, const st_complaint *complaints);
double st_now(void);

#ifdef __cplusplus
}
#endif
#endif
