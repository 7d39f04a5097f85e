/* A fixed clock for a case that asks for one: the C library's own functions are met under their names. */
#include <stdio.h>
#include <stdlib.h>
#include <sys/syscall.h>
#include <sys/time.h>
#include <time.h>
#include <unistd.h>

#include "sidetwin.h"
#include "state.h"

#ifdef SYS_clock_gettime

int clock_gettime(clockid_t clock, struct timespec *place) {
  if (clock == CLOCK_REALTIME && st_state && st_state->has_now) {
    *place = st_state->now;
    return 0;
  }
  return (int)syscall(SYS_clock_gettime, clock, place);
}

time_t time(time_t *place) {
  struct timespec now;
  clock_gettime(CLOCK_REALTIME, &now);
  if (place) *place = now.tv_sec;
  return now.tv_sec;
}

int gettimeofday(struct timeval *restrict place, void *restrict zone) {
  struct timespec now;
  (void)zone;
  clock_gettime(CLOCK_REALTIME, &now);
  *place = (struct timeval){now.tv_sec, now.tv_nsec / 1000};
  return 0;
}

#endif

/* Fixes the clock at a time in ISO 8601, or lets it go where that is null. */
void st_fix_clock(const char *text) {
  struct tm parts = {0};
  double seconds = 0;
  char sign = 'Z';
  int hours = 0, minutes = 0;
  st_state->has_now = false;
  if (!text || sscanf(text, "%d-%d-%dT%d:%d:%lf%c%d:%d", &parts.tm_year, &parts.tm_mon, &parts.tm_mday, &parts.tm_hour, &parts.tm_min, &seconds, &sign, &hours, &minutes) < 6) return;
  parts.tm_year -= 1900;
  parts.tm_mon -= 1;
  long away = (sign == '-' ? -1 : sign == '+' ? 1 : 0) * (hours * 60L + minutes) * 60;
  st_state->now.tv_sec = timegm(&parts) + (time_t)seconds - away;
  st_state->now.tv_nsec = (long)((seconds - (double)(long)seconds) * 1e9);
  st_state->has_now = true;
}
