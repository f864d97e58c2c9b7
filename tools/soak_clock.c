/* A clock that can be set back for one program: preloaded by a soak. The file ZESTY_SOAK_CLOCK holds seconds to add.
 * Only the time of day moves; what is measured by a steady clock stays right, as on a machine whose clock is set. */
#define _GNU_SOURCE
#include <dlfcn.h>
#include <stdio.h>
#include <stdlib.h>
#include <sys/time.h>
#include <time.h>

static int (*real_clock)(clockid_t, struct timespec *);

static long offset(void) {
  static long seconds;
  static time_t looked = -1;
  struct timespec now;
  real_clock(CLOCK_MONOTONIC, &now);
  if (now.tv_sec != looked) {
    looked = now.tv_sec;
    const char *path = getenv("ZESTY_SOAK_CLOCK");
    FILE *file = path ? fopen(path, "r") : NULL;
    if (file) {
      long found;
      if (fscanf(file, "%ld", &found) == 1) seconds = found;
      fclose(file);
    }
  }
  return seconds;
}

int clock_gettime(clockid_t clock, struct timespec *at) {
  if (!real_clock) real_clock = dlsym(RTLD_NEXT, "clock_gettime");
  int result = real_clock(clock, at);
  if (result == 0 && (clock == CLOCK_REALTIME || clock == CLOCK_REALTIME_COARSE)) at->tv_sec += offset();
  return result;
}

int gettimeofday(struct timeval *restrict at, void *restrict zone) {
  struct timespec now;
  (void)zone;
  int result = clock_gettime(CLOCK_REALTIME, &now);
  at->tv_sec = now.tv_sec;
  at->tv_usec = now.tv_nsec / 1000;
  return result;
}

time_t time(time_t *at) {
  struct timespec now;
  clock_gettime(CLOCK_REALTIME, &now);
  if (at) *at = now.tv_sec;
  return now.tv_sec;
}
