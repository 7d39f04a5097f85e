/*
 * All that the runtime remembers, in memory of its own: what a program's variables held after loading is put back after each
 * case, the runtime's with them.
 */
#ifndef SIDE_TWIN_STATE_H
#define SIDE_TWIN_STATE_H

#include <setjmp.h>
#include <time.h>

#include "sidetwin.h"

typedef struct st_block {
  struct st_block *next;
  size_t used, room;
} st_block;

enum { ST_NO_PROBLEM, ST_MISFIT, ST_MISSING };

typedef struct {
  st_block *blocks;
  jmp_buf jump;
  int problem;
  char what[2048];
  /* The request that is being answered, while ported code may end the process. */
  long long due;
  bool is_due;
  const char *parameter, *function;
  const st_language *language;
  const st_complaint *complaints;
  char secret[128];
  /* The digest that seals 16 replies, and the number of these. */
  unsigned char digest[64];
  long long sealed;
  bool is_sealed;
  long long output_limit;
  st_out reply, replies, lines;
  /* A hash of each set of lines that ran, by its number. */
  unsigned long long *sets;
  int set_count;
  struct timespec now;
  bool has_now;
  bool wants_blocks, wants_errno;
  int error_number;
  char *start, *image;
  size_t image_size;
} st_state_type;

extern st_state_type *st_state;

void st_forget_brief(void);
int st_take_lines(st_out *lines, bool *is_new);
void st_forget_lines(void);
void st_fix_clock(const char *text);

#endif
