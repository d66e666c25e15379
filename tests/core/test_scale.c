/* Counts to microvolts against exact rationals: every code, every kind of step, a grid of spans and dividers.
 */
#include "support.h"
#include "tinyladder/scale.h"

__extension__ typedef __int128 wide;

/*
 * error * 2 * D * den, exactly, where D = 2^bits or 2^bits - 1 and error = found - exact, in microvolts:
 * exact = (low + (2 k + h) / (2 D) * span) * num / den + offset, h = 1 for the full kind.
 */
static bool within_one_uv(const tl_scale_config *c, int32_t found, uint32_t code)
{
    const wide d = c->steps == TL_STEPS_END_TO_END ? ((wide)1 << c->bits) - 1 : (wide)1 << c->bits;
    const wide h = c->steps == TL_STEPS_FULL ? 1 : 0;
    const wide span = (wide)c->reference_high_uv - c->reference_low_uv;
    const wide exact = (2 * d * c->reference_low_uv + (2 * (wide)code + h) * span) * c->undo_num;
    const wide error = ((wide)found - c->offset_uv) * 2 * d * c->undo_den - exact;
    const wide bound = 2 * d * c->undo_den;
    return error <= bound && error >= -bound;
}

static void is_exact_and_monotonic_for_every_code(void)
{
    static const int32_t spans[][2] = {
        {0, 3300000},    {0, 5000000}, {0, 2500000}, {0, 1},     {-2500000, 2500000},       {-1000, 999},
        {0, 2000000000}, {0, 1100000}, {7, 4095999}, {0, 65536}, {-2000000000, 2000000000},
    };
    static const uint32_t undo[][2] = {{1, 1},           {57, 10}, {3, 2}, {1, 3}, {4294967295u, 4294967295u},
                                       {1000003, 999983}};
    static const int32_t offsets[] = {0, -1, 1234567};
    for (size_t s = 0; s < ROWS(spans); s++) {
        for (size_t u = 0; u < ROWS(undo); u++) {
            for (int kind = 0; kind < 3; kind++) {
                for (uint8_t bits = 6; bits <= 16; bits++) {
                    const tl_scale_config c = {spans[s][0],         spans[s][1], bits,
                                               (tl_steps)kind,      undo[u][0],  undo[u][1],
                                               offsets[(s + u) % 3]};
                    tl_scale scale;
                    if (tl_scale_init(&scale, &c) != TL_OK)
                        continue; /* out of reach of 2000 V: refused, see below */
                    bool exact = true, rising = true;
                    int32_t before = INT32_MIN;
                    for (uint32_t code = 0; code < 1u << bits; code++) {
                        const int32_t uv = tl_scale_uv(&scale, (uint16_t)code);
                        exact = exact && within_one_uv(&c, uv, code);
                        rising = rising && uv >= before;
                        before = uv;
                    }
                    CU_ASSERT(exact);
                    CU_ASSERT(rising);
                }
            }
        }
    }
}

static void gives_values_worked_out_by_hand(void)
{
    static const struct {
        const char *name;
        tl_scale_config config;
        uint16_t count;
        int32_t uv;
    } rows[] = {
        {"half kind, first code is 0", {0, 3300000, 12, TL_STEPS_HALF, 1, 1, 0}, 0, 0},
        {"half kind, middle code", {0, 3300000, 12, TL_STEPS_HALF, 1, 1, 0}, 2048, 1650000},
        {"half kind, last code is one LSB short", {0, 4096000, 12, TL_STEPS_HALF, 1, 1, 0}, 4095, 4095000},
        {"full kind, first code is half an LSB", {0, 4096000, 12, TL_STEPS_FULL, 1, 1, 0}, 0, 500},
        {"full kind, last code", {0, 4096000, 12, TL_STEPS_FULL, 1, 1, 0}, 4095, 4095500},
        {"end to end, last code is the reference",
         {0, 3300000, 12, TL_STEPS_END_TO_END, 1, 1, 0},
         4095,
         3300000},
        {"10 bits at 5 V", {0, 5000000, 10, TL_STEPS_HALF, 1, 1, 0}, 512, 2500000},
        {"divider 47k and 10k undone", {0, 3300000, 12, TL_STEPS_HALF, 57, 10, 0}, 2048, 9405000},
        {"offset at the source", {0, 3300000, 12, TL_STEPS_HALF, 2, 1, -500}, 2048, 3299500},
        {"references on both sides of ground", {-2500000, 2500000, 12, TL_STEPS_HALF, 1, 1, 0}, 2048, 0},
        {"a count beyond the last is the last", {0, 4096000, 12, TL_STEPS_HALF, 1, 1, 0}, 65535, 4095000},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        tl_scale scale;
        CHECK_ROW(rows[i].name, tl_scale_init(&scale, &rows[i].config) == TL_OK);
        CHECK_ROW(rows[i].name, tl_scale_uv(&scale, rows[i].count) == rows[i].uv);
    }
}

static void refuses_what_it_cannot_hold(void)
{
    static const struct {
        const char *name;
        tl_scale_config config;
        tl_status status;
    } rows[] = {
        {"5 bits", {0, 1000000, 5, TL_STEPS_HALF, 1, 1, 0}, TL_ERR_ARG},
        {"6 bits", {0, 1000000, 6, TL_STEPS_HALF, 1, 1, 0}, TL_OK},
        {"16 bits", {0, 1000000, 16, TL_STEPS_HALF, 1, 1, 0}, TL_OK},
        {"17 bits", {0, 1000000, 17, TL_STEPS_HALF, 1, 1, 0}, TL_ERR_ARG},
        {"zero divisor", {0, 1000000, 12, TL_STEPS_HALF, 1, 0, 0}, TL_ERR_ARG},
        {"zero factor", {0, 1000000, 12, TL_STEPS_HALF, 0, 1, 0}, TL_ERR_ARG},
        {"no such kind of step", {0, 1000000, 12, (tl_steps)3, 1, 1, 0}, TL_ERR_ARG},
        {"references reversed", {1000000, 0, 12, TL_STEPS_HALF, 1, 1, 0}, TL_ERR_RANGE},
        {"references equal", {5, 5, 12, TL_STEPS_HALF, 1, 1, 0}, TL_ERR_RANGE},
        {"reference beyond 2000 V", {0, 2000000001, 12, TL_STEPS_HALF, 1, 1, 0}, TL_ERR_RANGE},
        {"source just within 2000 V", {0, 3300000, 12, TL_STEPS_HALF, 606, 1, 0}, TL_OK},
        {"source beyond 2000 V", {0, 3300000, 12, TL_STEPS_HALF, 607, 1, 0}, TL_ERR_RANGE},
        {"absurd factor", {0, 3300000, 12, TL_STEPS_HALF, 4294967295u, 1, 0}, TL_ERR_RANGE},
    };
    const tl_scale untouched = {.base_uv = -7, .last = 7};
    for (size_t i = 0; i < ROWS(rows); i++) {
        tl_scale scale = untouched;
        CHECK_ROW(rows[i].name, tl_scale_init(&scale, &rows[i].config) == rows[i].status);
        CHECK_ROW(rows[i].name, (scale.base_uv == -7 && scale.last == 7) == (rows[i].status != TL_OK));
    }
    CU_ASSERT(tl_scale_init(NULL, &rows[1].config) == TL_ERR_ARG);
}

static void flags_the_first_and_the_last_code(void)
{
    const tl_scale scale = {.last = 4095};
    CU_ASSERT(tl_scale_clipped(&scale, 0) == TL_READING_CLIPPED_LOW);
    CU_ASSERT(tl_scale_clipped(&scale, 1) == 0);
    CU_ASSERT(tl_scale_clipped(&scale, 4094) == 0);
    CU_ASSERT(tl_scale_clipped(&scale, 4095) == TL_READING_CLIPPED_HIGH);
}

CU_TestInfo scale_tests[] = {
    {"is exact and monotonic for every code", is_exact_and_monotonic_for_every_code},
    {"gives values worked out by hand", gives_values_worked_out_by_hand},
    {"refuses what it cannot hold", refuses_what_it_cannot_hold},
    {"flags the first and the last code", flags_the_first_and_the_last_code},
    CU_TEST_INFO_NULL,
};
