/* Seeded random numbers: splitmix64 (Steele, Lea, Flood 2014), whose 64 bits pass for independent. */
#ifndef TL_RANDOM_H
#define TL_RANDOM_H

#include <math.h>
#include <stdint.h>

typedef struct {
    uint64_t state;
} random_source;

static inline uint64_t random_bits(random_source *r)
{
    uint64_t z = r->state += UINT64_C(0x9e3779b97f4a7c15);
    z = (z ^ z >> 30) * UINT64_C(0xbf58476d1ce4e5b9);
    z = (z ^ z >> 27) * UINT64_C(0x94d049bb133111eb);
    return z ^ z >> 31;
}

enum { RANDOM_PARTS, RANDOM_NOISE, RANDOM_PRESSES, RANDOM_LOOSE = 1 << 16 }; /* the last two: one of each signal, fault */

/* One of many independent streams of a seed. */
static inline random_source random_stream(unsigned long seed, unsigned which)
{
    random_source mix = {seed};
    const uint64_t start = random_bits(&mix);
    mix.state = start ^ which;
    return (random_source){random_bits(&mix)};
}

/* Evenly spread over [0, 1). */
static inline double random_even(random_source *r)
{
    return ldexp((double)(random_bits(r) >> 11), -53);
}

/* Normal, mean 0, standard deviation 1 (Box and Muller 1958). */
static inline double random_normal(random_source *r)
{
    const double radius = sqrt(-2 * log(1 - random_even(r)));
    return radius * cos(6.283185307179586 * random_even(r));
}

#endif
