/* SPDX-License-Identifier: MIT */
/* Seeded random numbers: splitmix64 (Steele, Lea, Flood 2014), whose 64 bits pass for independent. */
#ifndef TL_RANDOM_H
#define TL_RANDOM_H

#include <math.h>
#include <stdbool.h>
#include <stdint.h>

typedef struct {
    uint64_t state;
    double spare; /* of normal ones two come at a time */
    bool has_spare;
} random_source;

static inline uint64_t random_bits(random_source *r)
{
    uint64_t z = r->state += UINT64_C(0x9e3779b97f4a7c15);
    z = (z ^ z >> 30) * UINT64_C(0xbf58476d1ce4e5b9);
    z = (z ^ z >> 27) * UINT64_C(0x94d049bb133111eb);
    return z ^ z >> 31;
}

enum {
    RANDOM_PARTS,
    RANDOM_PRESSES,
    RANDOM_LOOSE = 1 << 16,
    RANDOM_HAND = 1 << 17,
    RANDOM_JITTER,
    RANDOM_LOADS,
    RANDOM_LINES = 3 << 16,
    RANDOM_LEVELS = RANDOM_LINES + (1 << 14),
    RANDOM_SENSORS = RANDOM_LINES + (1 << 15),
    RANDOM_NOISE = 1 << 18
}; /* presses, loose joints: one of each signal, fault */

/* One of many independent streams of a seed. */
static inline random_source random_stream(unsigned long seed, unsigned which)
{
    random_source mix = {.state = seed};
    const uint64_t start = random_bits(&mix);
    mix.state = start ^ which;
    return (random_source){.state = random_bits(&mix)};
}

/* Evenly spread over [0, 1). */
static inline double random_even(random_source *r)
{
    return (double)(random_bits(r) >> 11) * 0x1p-53;
}

/* Normal, mean 0, standard deviation 1, by the polar method (Marsaglia and Bray 1964). */
static inline double random_normal(random_source *r)
{
    double x, y, square;
    if (r->has_spare) {
        r->has_spare = false;
        return r->spare;
    }
    do {
        x = 2 * random_even(r) - 1;
        y = 2 * random_even(r) - 1;
        square = x * x + y * y;
    } while (square >= 1 || square == 0);
    const double stretch = sqrt(-2 * log(square) / square);
    r->spare = y * stretch;
    r->has_spare = true;
    return x * stretch;
}

#endif
