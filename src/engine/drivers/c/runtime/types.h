/*
 * C's types as tables that the generated code of each source fills in; sizes, offsets and signs are those of the compiler.
 */
#ifndef SIDE_TWIN_TYPES_H
#define SIDE_TWIN_TYPES_H

#include "sidetwin.h"

enum {
  ST_VOID,
  ST_BOOLEAN,
  ST_INTEGER,
  ST_FLOAT,
  ST_ENUM,
  ST_STRUCT,
  ST_ARRAY,
  /* A pointer to one value, or to several where a length goes with it. */
  ST_POINTER,
  /* A pointer to what only the code itself can read. */
  ST_HANDLE,
  /* A pointer to a function. */
  ST_FUNCTION,
  /* A union, or what else cannot be read. */
  ST_OPAQUE
};

typedef struct st_type st_type;

typedef struct {
  const char *name;
  size_t offset;
  const st_type *type;
  /* For a pointer: 1 + the field with the number of its items, or 0. */
  int length;
  /* For a bit field. */
  long long (*read)(const void *);
  void (*write)(void *, long long);
} st_field;

typedef struct {
  const char *name;
  long long value;
} st_enumerator;

struct st_type {
  int kind;
  size_t size;
  bool is_signed;
  /* A `char`, of which arrays and pointers are text. */
  bool is_char;
  /* Pointers: what it leads to cannot be changed through it. */
  bool is_const;
  const char *name;
  const st_type *of;
  size_t count;
  const st_field *fields;
  const st_enumerator *enumerators;
};

/* A number's kind, by what a conversion to its type does. */
#define ST_NUMBER(T)                                                                                                       \
  .kind = (T)2 == (T)1 ? ST_BOOLEAN : (T)0.5 != (T)0 ? ST_FLOAT : ST_INTEGER, .size = sizeof(T), .is_signed = (T)-1 < (T)0

enum { ST_IN = 1, ST_OUT = 2, ST_IN_OUT = 3 };
/* ST_ANY: decided by the type. */
enum { ST_ANY, ST_AS_TEXT, ST_AS_BYTES, ST_AS_LIST, ST_AS_ONE, ST_AS_HANDLE };

typedef struct {
  const char *name;
  const st_type *type;
  int way;
  int shape;
  /* For a pointer: 1 + the parameter with the number of its items, or 0. */
  int length;
  /* For a length: 1 + the parameter it counts, or -1 for the length of the result. */
  int length_of;
  /* The items of a buffer that the function fills, where nothing is handed over. */
  size_t room;
} st_parameter;

typedef struct {
  const char *file, *name;
  const st_type *result;
  int shape;
  /* 1 + the parameter with the number of items that are returned, or 0. */
  int length;
  void (*release)(void *);
  /* Why it cannot be called, or null. */
  const char *refused;
  int count;
  const st_parameter *parameters;
  void (*call)(void **arguments, void *result);
} st_function;

/* Functions, variables and types of one source. The lists end with a null name. */
typedef struct {
  const st_function *functions;
  const st_type *const *types;
} st_unit;

/* Stores a value of the type at `place`; ends the request where it does not fit. `objects` are those that steps have named. */
void st_decode(st_value *value, const st_type *type, void *place);
void st_encode(st_out *out, const st_type *type, const void *place);
/* Items of a pointer, with a length or up to a null pointer. */
void st_encode_items(st_out *out, const st_type *item, const void *items, size_t count, int shape);
/* Items for a pointer to `item`, with one more that is zero; at least `room` of them. */
void *st_decode_items(st_value *value, const st_type *item, size_t room, size_t *count);
/* The address and type of the object that `{"~as": name}` names; null type if the value is not one. */
void *st_named(st_value *value, const st_type **type);
long long st_integer_at(const st_type *type, const void *place);
void st_set_integer(const st_type *type, void *place, bool is_negative, unsigned long long magnitude);
bool st_is_byte(const st_type *type);

extern const st_unit *const st_units[];
extern const st_language st_c;

#endif
