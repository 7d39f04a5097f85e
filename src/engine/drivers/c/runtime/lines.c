/* Which lines a case ran, by the probes in the copy of the sources. */
#include <stdlib.h>
#include <string.h>

#include "sidetwin.h"
#include "state.h"

extern const char *const st_probe_files[];
extern const int st_probe_file[], st_probe_line[], st_probe_count;

/* One a probe; in memory of its own, since what a case changes in the program's is put back. */
unsigned char *st_hits;

__attribute__((constructor(101))) static void make_room(void) { st_hits = calloc((size_t)st_probe_count + 1, 1); }

void st_forget_lines(void) { memset(st_hits, 0, (size_t)st_probe_count); }

/* The number of the set of lines that ran since the last time; -1 where there are no probes. `is_new`: it was not there yet. */
int st_take_lines(st_out *lines, bool *is_new) {
  unsigned long long hash = 14695981039346656037ULL;
  int count = 0;
  *is_new = false;
  if (st_probe_count == 0) return -1;
  for (int at = 0; at < st_probe_count; at++)
    if (st_hits[at]) hash = (hash ^ (unsigned)at) * 1099511628211ULL, count++;
  hash ^= (unsigned long long)count << 40;
  for (int at = 0; at < st_state->set_count; at++)
    if (st_state->sets[at] == hash) {
      st_forget_lines();
      return at;
    }
  unsigned long long *sets = realloc(st_state->sets, sizeof *sets * ((size_t)st_state->set_count + 1));
  if (!sets) return -1;
  st_state->sets = sets;
  sets[st_state->set_count] = hash;
  *is_new = true;
  int file = -1, line = 0;
  st_put(lines, "\"lines\":{");
  for (int at = 0; at < st_probe_count; at++) {
    if (!st_hits[at]) continue;
    bool is_other = st_probe_file[at] != file;
    if (!is_other && st_probe_line[at] == line) continue;
    if (is_other) {
      if (file >= 0) st_put(lines, "],");
      file = st_probe_file[at];
      st_put_text(lines, st_probe_files[file], strlen(st_probe_files[file]));
      st_put(lines, ":[");
    }
    line = st_probe_line[at];
    st_put_format(lines, "%s%d", is_other ? "" : ",", line);
  }
  st_put(lines, file >= 0 ? "]}" : "}");
  st_forget_lines();
  return st_state->set_count++;
}
