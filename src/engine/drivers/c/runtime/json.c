/* JSON: parsed into a tree that lives as long as a request, written into text that grows. */
#include <stdarg.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include "sidetwin.h"
#include "state.h"

enum { MAX_DEPTH = 400, BLOCK = 64 * 1024 };

static void *sure(void *memory) {
  if (memory) return memory;
  fputs("out of memory\n", stderr);
  abort();
}

void *st_brief(size_t size) {
  st_block *block = st_state->blocks;
  size = (size + 15) & ~(size_t)15;
  if (!block || block->used + size > block->room) {
    size_t room = size > BLOCK ? size : BLOCK;
    block = sure(malloc(sizeof(st_block) + room));
    *block = (st_block){.next = st_state->blocks, .room = room};
    st_state->blocks = block;
  }
  char *memory = (char *)(block + 1) + block->used;
  block->used += size;
  return memset(memory, 0, size);
}

void st_forget_brief(void) {
  st_block *block = st_state->blocks;
  while (block && block->next) {
    st_block *next = block->next;
    free(block);
    block = next;
  }
  if (block) block->used = 0;
  st_state->blocks = block;
}

/* -- writing ---------------------------------------------------------------------------------------------------------- */

void st_put_bytes(st_out *out, const char *data, size_t length) {
  if (out->length + length + 1 > out->room) {
    out->room = (out->length + length + 1) * 2;
    out->data = sure(realloc(out->data, out->room));
  }
  memcpy(out->data + out->length, data, length);
  out->length += length;
  out->data[out->length] = 0;
}

void st_put(st_out *out, const char *text) { st_put_bytes(out, text, strlen(text)); }

void st_put_format(st_out *out, const char *format, ...) {
  char short_text[512];
  va_list arguments, again;
  va_start(arguments, format);
  va_copy(again, arguments);
  int length = vsnprintf(short_text, sizeof short_text, format, arguments);
  va_end(arguments);
  if (length >= (int)sizeof short_text) {
    char *text = sure(malloc((size_t)length + 1));
    vsnprintf(text, (size_t)length + 1, format, again);
    st_put_bytes(out, text, (size_t)length);
    free(text);
  } else if (length > 0) {
    st_put_bytes(out, short_text, (size_t)length);
  }
  va_end(again);
}

void st_put_text(st_out *out, const char *text, size_t length) {
  st_put_bytes(out, "\"", 1);
  size_t from = 0;
  for (size_t at = 0; at < length; at++) {
    unsigned char byte = (unsigned char)text[at];
    if (byte >= 32 && byte != '"' && byte != '\\' && byte != 127) continue;
    st_put_bytes(out, text + from, at - from);
    from = at + 1;
    if (byte == '"' || byte == '\\') st_put_format(out, "\\%c", byte);
    else if (byte == '\n') st_put(out, "\\n");
    else st_put_format(out, "\\u%04x", byte);
  }
  st_put_bytes(out, text + from, length - from);
  st_put_bytes(out, "\"", 1);
}

bool st_is_utf8(const char *text, size_t length) {
  const unsigned char *at = (const unsigned char *)text, *end = at + length;
  while (at < end) {
    unsigned char byte = *at++;
    if (byte < 0x80) continue;
    int more = byte >= 0xf0 ? 3 : byte >= 0xe0 ? 2 : 1;
    if (byte < 0xc2 || byte > 0xf4 || end - at < more) return false;
    unsigned char second = *at;
    if ((byte == 0xe0 && second < 0xa0) || (byte == 0xed && second > 0x9f)) return false;
    if ((byte == 0xf0 && second < 0x90) || (byte == 0xf4 && second > 0x8f)) return false;
    for (; more > 0; more--)
      if ((*at++ & 0xc0) != 0x80) return false;
  }
  return true;
}

/* -- parsing ---------------------------------------------------------------------------------------------------------- */

typedef struct { const char *at, *end; int depth; } reader;

static void skip_space(reader *from) {
  while (from->at < from->end && strchr(" \t\r\n", *from->at) && *from->at) from->at++;
}

static bool takes(reader *from, char wanted) {
  skip_space(from);
  if (from->at >= from->end || *from->at != wanted) return false;
  from->at++;
  return true;
}

static bool read_hex(reader *from, unsigned *code) {
  if (from->end - from->at < 4) return false;
  *code = 0;
  for (int digit = 0; digit < 4; digit++) {
    char letter = *from->at++;
    unsigned value = letter >= '0' && letter <= '9'   ? (unsigned)(letter - '0')
                     : letter >= 'a' && letter <= 'f' ? (unsigned)(letter - 'a' + 10)
                     : letter >= 'A' && letter <= 'F' ? (unsigned)(letter - 'A' + 10)
                                                      : 16;
    if (value > 15) return false;
    *code = *code * 16 + value;
  }
  return true;
}

static size_t put_code(char *text, unsigned code) {
  if (code < 0x80) return text[0] = (char)code, 1;
  if (code < 0x800) return text[0] = (char)(0xc0 | code >> 6), text[1] = (char)(0x80 | (code & 63)), 2;
  if (code < 0x10000) {
    text[0] = (char)(0xe0 | code >> 12), text[1] = (char)(0x80 | (code >> 6 & 63)), text[2] = (char)(0x80 | (code & 63));
    return 3;
  }
  text[0] = (char)(0xf0 | code >> 18), text[1] = (char)(0x80 | (code >> 12 & 63));
  text[2] = (char)(0x80 | (code >> 6 & 63)), text[3] = (char)(0x80 | (code & 63));
  return 4;
}

static bool read_string(reader *from, const char **text, size_t *length) {
  if (!takes(from, '"')) return false;
  const char *close = from->at;
  while (close < from->end && *close != '"') close += *close == '\\' ? 2 : 1;
  if (close >= from->end) return false;
  char *made = st_brief((size_t)(close - from->at) + 1), *to = made;
  while (from->at < close) {
    if (*from->at != '\\') {
      *to++ = *from->at++;
      continue;
    }
    from->at++;
    char letter = *from->at++;
    static const char NAMES[] = "\"\\/bfnrt", MEANT[] = "\"\\/\b\f\n\r\t";
    const char *simple = strchr(NAMES, letter);
    if (simple && letter) {
      *to++ = MEANT[simple - NAMES];
      continue;
    }
    unsigned code, low;
    if (letter != 'u' || !read_hex(from, &code)) return false;
    if (code >= 0xd800 && code < 0xdc00 && close - from->at >= 6 && from->at[0] == '\\' && from->at[1] == 'u') {
      reader ahead = *from;
      ahead.at += 2;
      if (read_hex(&ahead, &low) && low >= 0xdc00 && low < 0xe000) {
        code = 0x10000 + ((code - 0xd800) << 10) + (low - 0xdc00);
        from->at = ahead.at;
      }
    }
    to += put_code(to, code);
  }
  from->at = close + 1;
  *text = made;
  *length = (size_t)(to - made);
  return true;
}

static st_value *read_value(reader *from);

static st_value *read_members(reader *from, st_value *value, char close) {
  st_value **last = &value->first;
  if (takes(from, close)) return value;
  do {
    const char *key = NULL;
    size_t length;
    if (value->kind == ST_JSON_OBJECT && !(read_string(from, &key, &length) && takes(from, ':'))) return NULL;
    st_value *member = read_value(from);
    if (!member) return NULL;
    member->key = key;
    *last = member;
    last = &member->next;
    value->count++;
  } while (takes(from, ','));
  return takes(from, close) ? value : NULL;
}

static st_value *read_word(reader *from, st_value *value) {
  const char *start = from->at;
  while (from->at < from->end && strchr("+-.0123456789abcdefghijklmnopqrstuvwxyzE", *from->at) && *from->at) from->at++;
  value->length = (size_t)(from->at - start);
  char *text = st_brief(value->length + 1);
  memcpy(text, start, value->length);
  value->text = text;
  if (strcmp(text, "null") == 0) return value->kind = ST_JSON_NULL, value;
  value->flag = strcmp(text, "true") == 0;
  if (value->flag || strcmp(text, "false") == 0) return value->kind = ST_JSON_BOOL, value;
  value->kind = ST_JSON_NUMBER;
  return (*text == '-' || (*text >= '0' && *text <= '9')) ? value : NULL;
}

static st_value *read_value(reader *from) {
  skip_space(from);
  if (from->at >= from->end || ++from->depth > MAX_DEPTH) return NULL;
  st_value *value = st_brief(sizeof *value);
  value->raw = from->at;
  if (takes(from, '[')) value->kind = ST_JSON_LIST, value = read_members(from, value, ']');
  else if (takes(from, '{')) value->kind = ST_JSON_OBJECT, value = read_members(from, value, '}');
  else if (*from->at == '"') {
    value->kind = ST_JSON_TEXT;
    if (!read_string(from, &value->text, &value->length)) return NULL;
  } else value = read_word(from, value);
  if (value) value->raw_length = (size_t)(from->at - value->raw);
  from->depth--;
  return value;
}

st_value *st_parse(const char *text, size_t length) {
  reader from = {text, text + length, 0};
  return read_value(&from);
}

st_value *st_member(const st_value *object, const char *key) {
  if (!object || object->kind != ST_JSON_OBJECT) return NULL;
  for (st_value *member = object->first; member; member = member->next)
    if (strcmp(member->key, key) == 0) return member;
  return NULL;
}
