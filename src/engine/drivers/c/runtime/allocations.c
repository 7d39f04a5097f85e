/*
 * Blocks that the ported code holds, where a case asks: all that is allocated while it runs and not freed since. The functions
 * of the C library are met under their own names; only glibc gives them others beside.
 */
#include <errno.h>
#include <stdint.h>
#include <stdlib.h>
#include <string.h>

#include "sidetwin.h"

#ifdef __GLIBC__

void *__libc_malloc(size_t), *__libc_calloc(size_t, size_t), *__libc_realloc(void *, size_t), *__libc_memalign(size_t, size_t);
void __libc_free(void *);

/* Addresses in open addressing; in memory of its own, since what a case changes in the program's is put back. */
typedef struct {
  bool is_counting;
  size_t count, room;
  void **blocks;
} st_blocks;

static st_blocks *held;

static st_blocks *blocks(void) {
  if (!held) held = __libc_calloc(1, sizeof *held);
  return held;
}

static size_t place_of(const st_blocks *all, const void *block) {
  size_t at = ((uintptr_t)block >> 4) * 0x9e3779b97f4a7c15ULL & (all->room - 1);
  while (all->blocks[at] && all->blocks[at] != block) at = (at + 1) & (all->room - 1);
  return at;
}

static void grow(st_blocks *all) {
  st_blocks bigger = {all->is_counting, 0, all->room ? all->room * 2 : 1024, NULL};
  bigger.blocks = __libc_calloc(bigger.room, sizeof(void *));
  if (!bigger.blocks) return;
  for (size_t at = 0; at < all->room; at++)
    if (all->blocks[at]) bigger.blocks[place_of(&bigger, all->blocks[at])] = all->blocks[at], bigger.count++;
  __libc_free(all->blocks);
  *all = bigger;
}

static void note(void *block) {
  st_blocks *all = held;
  if (!block || !all || !all->is_counting) return;
  if (all->count * 2 >= all->room) grow(all);
  if (!all->blocks) return;
  size_t at = place_of(all, block);
  all->count += !all->blocks[at];
  all->blocks[at] = block;
}

static void forget(void *block) {
  st_blocks *all = held;
  if (!block || !all || all->count == 0) return;
  size_t at = place_of(all, block);
  if (!all->blocks[at]) return;
  all->blocks[at] = NULL;
  all->count--;
  // Those behind it move up, or they would not be found any more.
  for (size_t next = (at + 1) & (all->room - 1); all->blocks[next]; next = (next + 1) & (all->room - 1)) {
    void *moved = all->blocks[next];
    all->blocks[next] = NULL;
    all->blocks[place_of(all, moved)] = moved;
  }
}

void *malloc(size_t size) {
  void *block = __libc_malloc(size);
  note(block);
  return block;
}

void *calloc(size_t count, size_t size) {
  void *block = __libc_calloc(count, size);
  note(block);
  return block;
}

void *realloc(void *block, size_t size) {
  void *moved = __libc_realloc(block, size);
  if (moved || size == 0) forget(block);
  note(moved);
  return moved;
}

void free(void *block) {
  forget(block);
  __libc_free(block);
}

void *memalign(size_t alignment, size_t size) {
  void *block = __libc_memalign(alignment, size);
  note(block);
  return block;
}

void *aligned_alloc(size_t alignment, size_t size) { return memalign(alignment, size); }

int posix_memalign(void **place, size_t alignment, size_t size) {
  void *block = memalign(alignment, size);
  if (!block) return ENOMEM;
  *place = block;
  return 0;
}

void st_count_blocks(bool is_counting) { blocks()->is_counting = is_counting; }

void st_forget_blocks(void) {
  st_blocks *all = blocks();
  all->is_counting = false;
  if (all->count) memset(all->blocks, 0, all->room * sizeof(void *));
  all->count = 0;
}

long st_held_blocks(void) { return (long)blocks()->count; }

bool st_holds_block(const void *block) {
  st_blocks *all = blocks();
  return block && all->count && all->blocks[place_of(all, block)];
}

#else

void st_count_blocks(bool is_counting) { (void)is_counting; }
void st_forget_blocks(void) {}
long st_held_blocks(void) { return -1; }
bool st_holds_block(const void *block) {
  (void)block;
  return false;
}

#endif
