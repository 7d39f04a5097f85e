/*
 * Loaded before a program whose clock or random numbers are fixed (SIDE_TWIN_NOW, SIDE_TWIN_SEED), in each of its processes:
 * replaces the C library's functions for both. Works for every program that calls them: C, C++, Rust, PHP, the Java virtual
 * machine. The monotonic clock runs on. With SIDE_TWIN_CLOCK the process sets SIDE_TWIN_NOW itself, as often as it likes.
 */
#define _GNU_SOURCE
#include <dlfcn.h>
#include <errno.h>
#include <stdbool.h>
#include <stdint.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/syscall.h>
#include <sys/time.h>
#include <sys/types.h>
#include <time.h>
#include <unistd.h>

static bool has_now, has_seed, is_live;
static struct timespec fixed_now;
static uint64_t state;

typedef int (*clock_function)(clockid_t, struct timespec *);
typedef ssize_t (*random_function)(void *, size_t, unsigned);
typedef long (*syscall_function)(long, long, long, long, long, long, long);

static clock_function real_clock;
static random_function real_random;
static syscall_function real_syscall;

/* Reads an ISO 8601 time; false if the text is not one. */
static bool read_time(const char *text, struct timespec *place) {
  struct tm parts = {0};
  double seconds = 0;
  char sign = 'Z';
  int hours = 0, minutes = 0;
  if (sscanf(text, "%d-%d-%dT%d:%d:%lf%c%d:%d", &parts.tm_year, &parts.tm_mon, &parts.tm_mday, &parts.tm_hour, &parts.tm_min, &seconds, &sign, &hours, &minutes) < 6) return false;
  parts.tm_year -= 1900;
  parts.tm_mon -= 1;
  long away = (sign == '-' ? -1 : sign == '+' ? 1 : 0) * (hours * 60L + minutes) * 60;
  place->tv_sec = timegm(&parts) + (time_t)seconds - away;
  place->tv_nsec = (long)((seconds - (double)(long)seconds) * 1e9);
  return true;
}

static void read_clock(void) {
  const char *now = getenv("SIDE_TWIN_NOW");
  has_now = now && read_time(now, &fixed_now);
}

__attribute__((constructor(101))) static void start(void) {
  real_clock = (clock_function)dlsym(RTLD_NEXT, "clock_gettime");
  real_random = (random_function)dlsym(RTLD_NEXT, "getrandom");
  real_syscall = (syscall_function)dlsym(RTLD_NEXT, "syscall");
  const char *seed = getenv("SIDE_TWIN_SEED");
  is_live = getenv("SIDE_TWIN_CLOCK") != NULL;
  read_clock();
  if (!seed) return;
  state = strtoull(seed, NULL, 10);
  has_seed = true;
  srand((unsigned)state);
  srand48((long)state);
}

int clock_gettime(clockid_t clock, struct timespec *place) {
  if (is_live) read_clock();
  if (has_now && (clock == CLOCK_REALTIME || clock == CLOCK_REALTIME_COARSE)) {
    *place = fixed_now;
    return 0;
  }
  return real_clock ? real_clock(clock, place) : (int)syscall(SYS_clock_gettime, clock, place);
}

time_t time(time_t *place) {
  struct timespec now;
  clock_gettime(CLOCK_REALTIME, &now);
  if (place) *place = now.tv_sec;
  return now.tv_sec;
}

/* Calls after which the clock moves by a microsecond: PHP's uniqid() waits for that in a loop. */
enum { SPINS = 10000 };

int gettimeofday(struct timeval *restrict place, void *restrict zone) {
  static long calls;
  struct timespec now;
  if (zone) memset(zone, 0, sizeof(struct timezone));
  clock_gettime(CLOCK_REALTIME, &now);
  long microseconds = now.tv_nsec / 1000 + (has_now ? __atomic_fetch_add(&calls, 1, __ATOMIC_RELAXED) / SPINS : 0);
  *place = (struct timeval){now.tv_sec + microseconds / 1000000, microseconds % 1000000};
  return 0;
}

int timespec_get(struct timespec *place, int base) {
  return base == TIME_UTC && clock_gettime(CLOCK_REALTIME, place) == 0 ? base : 0;
}

/* SplitMix64 (Steele, Lea and Flood 2014). */
static uint64_t next_number(void) {
  uint64_t mixed = __atomic_add_fetch(&state, 0x9e3779b97f4a7c15u, __ATOMIC_RELAXED);
  mixed = (mixed ^ (mixed >> 30)) * 0xbf58476d1ce4e5b9u;
  mixed = (mixed ^ (mixed >> 27)) * 0x94d049bb133111ebu;
  return mixed ^ (mixed >> 31);
}

static void fill(void *place, size_t length) {
  for (size_t at = 0; at < length; at += 8) {
    uint64_t number = next_number();
    memcpy((char *)place + at, &number, length - at < 8 ? length - at : 8);
  }
}

ssize_t getrandom(void *place, size_t length, unsigned flags) {
  if (has_seed) {
    fill(place, length);
    return (ssize_t)length;
  }
  return real_random ? real_random(place, length, flags) : (ssize_t)syscall(SYS_getrandom, place, length, flags);
}

int getentropy(void *place, size_t length) {
  if (length > 256) {
    errno = EIO;
    return -1;
  }
  return getrandom(place, length, 0) == (ssize_t)length ? 0 : -1;
}

uint32_t arc4random(void) {
  uint32_t number = 0;
  getrandom(&number, sizeof number, 0);
  return number;
}

void arc4random_buf(void *place, size_t length) {
  for (size_t at = 0; at < length; at += 256) getrandom((char *)place + at, length - at < 256 ? length - at : 256, 0);
}

uint32_t arc4random_uniform(uint32_t bound) {
  if (bound < 2) return 0;
  uint32_t least = -bound % bound, number;
  do number = arc4random();
  while (number < least);
  return number % bound;
}

/* Some libraries make the system call themselves (such as Rust's getrandom). */
long syscall(long number, ...) {
  __builtin_va_list list;
  long given[6];
  __builtin_va_start(list, number);
  for (int at = 0; at < 6; at++) given[at] = __builtin_va_arg(list, long);
  __builtin_va_end(list);
  if (number == SYS_getrandom && has_seed) return getrandom((void *)given[0], (size_t)given[1], (unsigned)given[2]);
  if (!real_syscall) real_syscall = (syscall_function)dlsym(RTLD_NEXT, "syscall");
  return real_syscall(number, given[0], given[1], given[2], given[3], given[4], given[5]);
}

/* std::random_device::_M_getval() of libstdc++, which reads the processor's own generator. */
unsigned _ZNSt13random_device9_M_getvalEv(void *device) {
  static unsigned (*real)(void *);
  if (has_seed) return (unsigned)next_number();
  if (!real) real = (unsigned (*)(void *))dlsym(RTLD_NEXT, "_ZNSt13random_device9_M_getvalEv");
  return real(device);
}
