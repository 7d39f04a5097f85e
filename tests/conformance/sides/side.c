#include <math.h>
#include <stdbool.h>
#include <stdint.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

typedef struct boat {
  const char *name;
  int metres;
} Boat;

typedef struct quay {
  int room;
} Quay;

Quay *quay_new(int room) {
  Quay *made = malloc(sizeof *made);
  made->room = room;
  return made;
}

int quay_moor(Quay *quay, const Boat *boat) {
  if (boat->metres > quay->room) return -1;
  quay->room -= boat->metres;
  return quay->room;
}

bool quay_larger(const Quay *quay, const Quay *other) { return quay->room > other->room; }

static int ticks;

int twice(int number) { return number * 2; }
double half(double number) { return number / 2; }

char *join(const char **words, size_t count, const char *separator) {
  size_t length = 1;
  for (size_t at = 0; at < count; at++) length += strlen(words[at]) + strlen(separator);
  char *made = calloc(1, length);
  for (size_t at = 0; at < count; at++) {
    if (at) strcat(made, separator);
    strcat(made, words[at]);
  }
  return made;
}

static bool is_even(int number) { return number % 2 == 0; }

const Boat *longest(const Boat *boats, size_t count) {
  const Boat *best = NULL;
  for (size_t at = 0; at < count; at++)
    if (!best || boats[at].metres > best->metres) best = &boats[at];
  return best;
}

void fill(int *numbers, size_t count, int value) {
  for (size_t at = 0; at < count; at++) numbers[at] = value;
}

void greet(const char *name) { printf("hello %s\n", name); }
int64_t big(void) { return INT64_MAX; }
double odd_number(int which) { return (double[]){NAN, INFINITY, -0.0}[which]; }

uint8_t *reversed_bytes(const uint8_t *data, size_t length, size_t *made) {
  uint8_t *reversed = malloc(length + 1);
  for (size_t at = 0; at < length; at++) reversed[at] = data[length - 1 - at];
  *made = length;
  return reversed;
}

int tick(void) { return ++ticks; }
