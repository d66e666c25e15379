/* SPDX-License-Identifier: MIT */
#define _GNU_SOURCE /* strtok_r, strdup */
/* `read --expect`: the lengths that a line shows against those that it should. */
#include "reading/expect.h"
#include "base/memory.h"
#include "base/vcd_read.h"
#include "tinyladder/core.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

enum { USUAL_WITHIN = 5 }; /* percent */
enum { LOOKS_A_LENGTH = 200, SEEN_MOST = 2 * TL_PATTERN_MOST };

typedef struct {
    tl_length_us wanted[TL_PATTERN_MOST], seen[SEEN_MOST];
    uint8_t count;
    int seen_count;
    bool high;              /* where it never changed: which level it had */
    double shortest, total; /* seconds */
} lengths;

/* One `300ms high`, in either order. */
static bool read_one(const char *text, tl_length_us *length, double *seconds)
{
    char copy[80], *save = NULL;
    tl_text_error error;
    tl_quantity time = {0};
    int level = -1;
    char figure[60] = "";
    snprintf(copy, sizeof copy, "%s", text);
    for (char *word = strtok_r(copy, " ", &save); word != NULL; word = strtok_r(NULL, " ", &save)) {
        if (strcmp(word, "high") == 0 || strcmp(word, "low") == 0)
            level = word[0] == 'h';
        else if (strlen(figure) + strlen(word) + 2 < sizeof figure)
            strcat(strcat(figure, figure[0] != '\0' ? " " : ""), word);
    }
    if (level < 0 || !tl_quantity_read(figure, TL_DIM_SECOND, &time, &error) || !(time.nominal >= 1e-6) ||
        time.nominal > 2000)
        return false;
    *seconds = time.nominal;
    *length = (tl_length_us){level == 1, (uint32_t)llround(1e6 * time.nominal)};
    return true;
}

static bool read_lengths_wanted(const char *text, lengths *l)
{
    char *copy = must(strdup(text)), *save = NULL;
    bool good = copy != NULL;
    l->shortest = INFINITY;
    for (char *part = good ? strtok_r(copy, ",", &save) : NULL; part != NULL && good;
         part = strtok_r(NULL, ",", &save)) {
        double seconds = 0;
        good = l->count < TL_PATTERN_MOST && read_one(part, &l->wanted[l->count], &seconds);
        good = good && (l->count == 0 || l->wanted[l->count].high != l->wanted[l->count - 1].high);
        l->count++;
        l->shortest = fmin(l->shortest, seconds);
        l->total += seconds;
    }
    free(copy);
    return good && l->count > 0;
}

/* The whole lengths between the changes of a recorded line. */
static bool read_recorded(const char *text, lengths *l)
{
    vcd_levels levels;
    tl_report *report = tl_report_new();
    const bool loaded = vcd_load(text, report, &levels);
    const int wanted =
        levels.count - 2; /* what was there before the first change and behind the last is no length */
    if (!loaded)
        tl_report_tell(report, stderr);
    tl_report_free(report);
    l->shortest = INFINITY;
    for (int i = 1; i <= wanted && l->count < TL_PATTERN_MOST; i++) {
        const double seconds = levels.levels[i + 1].at - levels.levels[i].at;
        l->wanted[l->count++] = (tl_length_us){levels.levels[i].high, (uint32_t)llround(1e6 * seconds)};
        l->shortest = fmin(l->shortest, seconds);
        l->total += seconds;
    }
    const bool good = l->count == wanted && wanted > 0 && l->shortest >= 1e-6;
    if (loaded && !good)
        fprintf(stderr,
                "tinyladder: --expect: between its changes the line has %d lengths; expected 1 to %d, of 1 "
                "us or more\n",
                wanted > 0 ? wanted : 0, TL_PATTERN_MOST);
    vcd_free(&levels);
    return good;
}

/* What the plan says that the line should show. */
static bool take_planned(const tl_plan_reading *reading, lengths *l)
{
    l->shortest = INFINITY;
    for (int i = 0; i < reading->expect_count && i < TL_PATTERN_MOST; i++) {
        const tl_length *planned = &reading->expect[i];
        l->wanted[l->count++] = (tl_length_us){planned->high, (uint32_t)llround(1e6 * planned->seconds)};
        l->shortest = fmin(l->shortest, planned->seconds);
        l->total += planned->seconds;
    }
    return l->count > 0;
}

/* A pattern that has not come in twice its own lengths may come yet: the last lengths are its beginning,
 * perhaps. */
static tl_status start_over(tl_pattern *pattern, const lengths *l, double within_percent,
                            tl_pattern_state *state)
{
    const tl_status status = tl_pattern_init(pattern, l->wanted, l->count, (uint8_t)within_percent);
    for (int i = l->seen_count - l->count + 1; i < l->seen_count && status == TL_OK; i++)
        *state = i >= 0 ? tl_pattern_feed(pattern, &l->seen[i]) : TL_PATTERN_WAITING;
    return status;
}

/* Looks until it is there, or for ten times as long as the pattern takes: it may be part of a longer one. */
static tl_status watch(tl_bench *bench, uint8_t line, double within_percent, lengths *l,
                       tl_pattern_state *state)
{
    const tl_port *port = tl_bench_port(bench);
    const uint32_t every_us = (uint32_t)fmax(1, 1e6 * l->shortest / LOOKS_A_LENGTH);
    const double end = tl_bench_time(bench) + 10 * l->total;
    tl_pulse pulse;
    tl_pattern pattern;
    tl_length_us ended;
    tl_status status = tl_port_line_use(port, line, TL_LINE_INPUT);
    if (status == TL_OK)
        status = tl_pattern_init(&pattern, l->wanted, l->count, (uint8_t)within_percent);
    tl_pulse_init(&pulse);
    *state = TL_PATTERN_WAITING;
    while (status == TL_OK && *state != TL_PATTERN_PASSED && tl_bench_time(bench) < end) {
        bool high = false;
        uint32_t now_us = 0;
        status = tl_port_line_level(port, line, &high);
        if (status == TL_OK)
            status = tl_port_clock_us(port, &now_us);
        l->high = high;
        if (status == TL_OK && tl_pulse_feed(&pulse, high, now_us, &ended)) {
            if (l->seen_count < SEEN_MOST)
                l->seen[l->seen_count++] = ended;
            *state = tl_pattern_feed(&pattern, &ended);
            if (*state == TL_PATTERN_FAILED)
                status = start_over(&pattern, l, within_percent, state);
        }
        if (status == TL_OK)
            status = tl_port_wait_us(port, every_us);
    }
    return status;
}

/* `100.0 ms high, 200.0 ms low`, folded. */
static void print_list(const char *head, const tl_length_us *of, int count, int more)
{
    size_t size = 0;
    char *text = NULL;
    FILE *to = tl_text_begin(&text, &size);
    for (int i = 0; i < count; i++)
        fprintf(to, "%s%s %s", i > 0 ? ", " : "", show(1e-6 * of[i].length_us, TL_DIM_SECOND).text,
                of[i].high ? "high" : "low");
    if (more > 0)
        fprintf(to, ", and %d more", more);
    tl_text_end(to, &text);
    put_note(head, "    ", text);
    free(text);
}

static void print_lengths(const char *name, const lengths *l, bool passed, double within_percent)
{
    char head[60];
    const int listed = l->seen_count < 2 * l->count ? l->seen_count : 2 * l->count;
    printf("%s: %s\n", name, passed ? "shows the pattern" : "does not show the pattern");
    snprintf(head, sizeof head, "  expected, within %g %%: ", within_percent);
    print_list(head, l->wanted, l->count, 0);
    if (l->seen_count > 0)
        print_list("  seen: ", l->seen, listed, l->seen_count - listed);
    else
        printf("  seen: %s all the time, for %s\n", l->high ? "high" : "low",
               show(10 * l->total, TL_DIM_SECOND).text);
}

static void print_as_json(const char *name, const lengths *l, bool passed)
{
    json_t *seen = json_array();
    for (int i = 0; i < l->seen_count; i++)
        json_array_append_new(seen, json_pack("{s:s,s:o}", "level", l->seen[i].high ? "high" : "low", "s",
                                              json_number(1e-6 * l->seen[i].length_us)));
    json_print(json_pack("{s:s,s:b,s:o}", "signal", name, "passed", passed, "seen", seen));
}

int expect_lengths(tl_bench *bench, int signal, const char *text, double within_percent, double at, bool json)
{
    const tl_signal *s = &tl_circuit_plan(tl_bench_circuit(bench))->signals[signal];
    lengths l = {0};
    tl_pattern_state state;
    char why[40];
    if (s->analog) {
        fprintf(stderr, "tinyladder: --expect: %s is no digital signal\n", s->name);
        return EXIT_USAGE;
    }
    if (strcmp(text, "plan") == 0) {
        if (!take_planned(&s->reading, &l)) {
            fprintf(stderr, "tinyladder: --expect: the plan says nothing of what %s should show ('expect')\n",
                    s->name);
            return EXIT_USAGE;
        }
        within_percent = isnan(within_percent) ? s->reading.within : within_percent;
    } else if (names_vcd(text)) {
        if (!read_recorded(text, &l))
            return EXIT_UNREADABLE;
    } else if (!read_lengths_wanted(text, &l)) {
        fprintf(stderr,
                "tinyladder: --expect: expected alternating lengths, such as '300ms high, 200ms low', at "
                "most %d\n",
                TL_PATTERN_MOST);
        return EXIT_USAGE;
    }
    within_percent = isnan(within_percent) ? USUAL_WITHIN : within_percent;
    tl_bench_go_to(bench, at);
    const tl_status status = watch(bench, (uint8_t)s->pin, within_percent, &l, &state);
    if (status != TL_OK) {
        tl_status_text(status, why, sizeof why);
        fprintf(stderr, "tinyladder: %s cannot be watched: %s\n", s->name, why);
        return EXIT_HARDWARE;
    }
    if (json)
        print_as_json(s->name, &l, state == TL_PATTERN_PASSED);
    else
        print_lengths(s->name, &l, state == TL_PATTERN_PASSED, within_percent);
    return state == TL_PATTERN_PASSED ? EXIT_DONE : EXIT_FOUND;
}
