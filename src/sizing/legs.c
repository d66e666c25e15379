/* SPDX-License-Identifier: MIT */
/* Lists of legs: made from a stock, sorted by their least ohms, looked up by them. */
#include "sizing/legs.h"
#include <stdint.h>
#include <stdlib.h>
#include <string.h>

tl_leg leg_at(const leg_list *list, int i)
{
    const leg_key *key = &list->keys[i];
    if (is_said(list->fixed.nominal))
        return list->fixed;
    const tl_leg a = leg_of(list->stock, key->first);
    if (key->second < 0)
        return a;
    const tl_leg b = leg_of(list->stock, key->second);
    const double watts = fmin(a.watts, b.watts); /* however it is shared, each can take all of it */
    if (key->join == '+')
        return (tl_leg){
            a.low + b.low, a.nominal + b.nominal, a.high + b.high, watts, key->first, key->second, '+'};
    return (tl_leg){a.low * b.low / (a.low + b.low),
                    a.nominal * b.nominal / (a.nominal + b.nominal),
                    a.high * b.high / (a.high + b.high),
                    watts,
                    key->first,
                    key->second,
                    '|'};
}

/* Radix sort by the bits of the ohms, which are positive and so order like whole numbers: 16 bits a pass. */
static void sort_keys(leg_key *keys, int count)
{
    enum { BUCKETS = 1 << 16 };
    int sorted = 1;
    while (sorted < count && keys[sorted - 1].low <= keys[sorted].low)
        sorted++;
    if (sorted >= count)
        return;
    leg_key *other = tl_alloc((size_t)count, sizeof *other);
    int *start = tl_alloc(BUCKETS + 1, sizeof *start);
    for (int pass = 0; pass < 4; pass++) {
        memset(start, 0, (BUCKETS + 1) * sizeof *start);
        for (int scatter = 0; scatter < 2; scatter++) {
            for (int i = 0; i < count; i++) {
                uint64_t bits;
                memcpy(&bits, &keys[i].low, sizeof bits);
                const unsigned bucket = (unsigned)(bits >> (16 * pass)) & (BUCKETS - 1);
                if (scatter == 0)
                    start[bucket + 1]++;
                else
                    other[start[bucket]++] = keys[i];
            }
            for (int b = 0; scatter == 0 && b < BUCKETS; b++)
                start[b + 1] += start[b];
        }
        memcpy(keys, other, (size_t)count * sizeof *keys);
    }
    free(other);
    free(start);
}

tl_leg leg_given(const tl_quantity *ohms)
{
    return (tl_leg){ohms->low, ohms->nominal, ohms->high, INFINITY, -1, -1, 0};
}

static double ratio_with(double upper, double lower, double ohms, double load)
{
    const double below = parallel_of(lower, load);
    return below / (ohms + upper + below);
}

void ratio_errors(const tl_leg *upper, const tl_leg *lower, double ohms, double load, double now[2])
{
    const double nominal = ratio_with(upper->nominal, lower->nominal, ohms, load);
    now[0] = 100 * (ratio_with(upper->high, lower->low, ohms, load) / nominal - 1);
    now[1] = 100 * (ratio_with(upper->low, lower->high, ohms, load) / nominal - 1);
}

void ratio_drift(const tl_leg *upper, const tl_leg *lower, double ohms, double load, double share,
                 double left[2])
{
    tl_leg u = *upper, l = *lower;
    u.low = u.nominal * (1 - share);
    u.high = u.nominal * (1 + share);
    l.low = l.nominal * (1 - share);
    l.high = l.nominal * (1 + share);
    ratio_errors(&u, &l, ohms, load, left);
}

leg_list single_legs(const tl_stock *stock, const tl_quantity *fixed)
{
    leg_list list = {tl_alloc((size_t)stock->count + 1, sizeof(leg_key)), 0, leg_given(fixed), stock};
    if (is_said(fixed->nominal))
        list.keys[list.count++] = (leg_key){fixed->low, -1, -1, 0};
    for (int i = 0; i < stock->count && !is_said(fixed->nominal); i++)
        list.keys[list.count++] = (leg_key){leg_of(stock, i).low, (short)i, -1, 0};
    sort_keys(list.keys, list.count);
    return list;
}

leg_list double_legs(const tl_stock *stock, const tl_quantity *fixed)
{
    const size_t pairs = is_said(fixed->nominal) ? 0 : (size_t)stock->count * ((size_t)stock->count + 1);
    leg_list list = {tl_alloc(pairs, sizeof(leg_key)), 0, leg_given(fixed), stock};
    for (int i = 0; i < stock->count && pairs > 0; i++) {
        const double a = leg_of(stock, i).low;
        for (int j = i; j < stock->count; j++) {
            const double b = leg_of(stock, j).low;
            if (i == j && stock->parts[i].count == 1)
                continue;
            list.keys[list.count++] = (leg_key){a + b, (short)i, (short)j, '+'};
            list.keys[list.count++] = (leg_key){a * b / (a + b), (short)i, (short)j, '|'};
        }
    }
    sort_keys(list.keys, list.count);
    return list;
}

/* A drawer may hold too few of a value for both legs. */
bool enough_parts(const tl_stock *stock, const tl_leg *upper, const tl_leg *lower)
{
    const int used[4] = {upper->first, upper->second, lower->first, lower->second};
    for (int i = 0; i < 4; i++) {
        int times = 0;
        for (int j = 0; j < 4; j++)
            times += used[i] >= 0 && used[j] == used[i];
        if (used[i] >= 0 && stock->parts[used[i]].count >= 0 && times > stock->parts[used[i]].count)
            return false;
    }
    return true;
}

/* The first leg of at least this many ohms; from a place near it, since neighbours ask for nearly the same.
 */
int first_from(const leg_list *list, double least, int near)
{
    while (near < list->count && list->keys[near].low < least)
        near++;
    while (near > 0 && list->keys[near - 1].low >= least)
        near--;
    return near;
}
