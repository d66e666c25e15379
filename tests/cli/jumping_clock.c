/* SPDX-License-Identifier: MIT */
/* Loaded before the C library: the clock on the wall is set a day forth and back, each time that anybody
 * looks. */
#define _GNU_SOURCE
#include <dlfcn.h>
#include <stddef.h>
#include <sys/time.h>
#include <time.h>

static time_t jump(void)
{
    static const time_t day = 86400;
    static int looks;
    return looks++ % 2 == 0 ? day : -day;
}

int clock_gettime(clockid_t which, struct timespec *now)
{
    static int (*next)(clockid_t, struct timespec *);
    if (next == NULL)
        *(void **)&next = dlsym(RTLD_NEXT, "clock_gettime");
    const int status = next(which, now);
    if (which == CLOCK_REALTIME && status == 0)
        now->tv_sec += jump();
    return status;
}

int gettimeofday(struct timeval *restrict now, void *restrict zone)
{
    struct timespec is;
    (void)zone;
    const int status = clock_gettime(CLOCK_REALTIME, &is);
    now->tv_sec = is.tv_sec;
    now->tv_usec = is.tv_nsec / 1000;
    return status;
}

time_t time(time_t *at)
{
    struct timespec is;
    (void)clock_gettime(CLOCK_REALTIME, &is);
    if (at != NULL)
        *at = is.tv_sec;
    return is.tv_sec;
}
