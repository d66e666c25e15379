/* SPDX-License-Identifier: MIT */
/*
 * One rule for every count, beyond the range as well: what the generated header computes, what `convert`
 * writes and what the plan says of the same count, values and flags, over all demo and sound plans and over
 * random dividers with percent.
 */
#define _GNU_SOURCE
#include "support.h"
#include "tinyladder/design/firmware.h"
#include "tinyladder/design/measurement.h"
#include <glob.h>
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

enum { STRIDE = 13 }; /* of counts of more than 12 bits */

typedef struct {
    tl_report *report;
    tl_plan *plan;
    tl_circuit *circuit;
    tl_firmware_row *rows;
    char *header;
} made;

static bool make(const char *path, made *m)
{
    char why[200];
    *m = (made){.report = tl_report_new()};
    tl_report_allow_outside(m->report, true);
    m->plan = tl_plan_load(path, m->report);
    CU_ASSERT_FATAL(m->plan != NULL);
    m->circuit = tl_circuit_new(m->plan);
    m->rows = calloc((size_t)m->plan->signal_count, sizeof *m->rows);
    m->header = tl_firmware_header(m->circuit, NULL, m->rows, why);
    return m->header != NULL;
}

static void drop(made *m)
{
    free(m->header);
    free(m->rows);
    tl_circuit_free(m->circuit);
    tl_plan_free(m->plan);
    tl_report_free(m->report);
}

static bool has_value(const made *m, int signal)
{
    return m->rows[signal].way >= TL_FIRMWARE_LINE;
}

static long stride_of(const tl_analog_path *path)
{
    const long codes = path->last_code - path->first_code;
    return codes > 65535 ? 251 * STRIDE : codes > 4095 ? STRIDE : 1;
}

static const char *c_of(const char *name, char text[80])
{
    snprintf(text, 80, "%s", name);
    for (char *at = text; *at != '\0'; at++)
        *at = (char)(*at == '-' ? '_' : *at);
    return text;
}

/* A line a count: value, percent or -1, beyond or not. */
static void write_program(const made *m, FILE *to)
{
    fprintf(to, "#include \"all.h\"\n#include <stdio.h>\nint main(void)\n{\n");
    for (int i = 0; i < m->plan->signal_count; i++) {
        char name[80], percent[100], beyond[100];
        if (!has_value(m, i))
            continue;
        const tl_analog_path *path = tl_circuit_path(m->circuit, i);
        const bool wide = path->last_code - path->first_code > 65535;
        c_of(m->plan->signals[i].name, name);
        snprintf(percent, sizeof percent, " %s_percent(", name);
        snprintf(beyond, sizeof beyond, " %s_beyond(", name);
        fprintf(to,
                "    for (long c = %ld; c <= %ld; c += %ld) {\n        const %s_count is = {(%s)(c - %ld)};\n"
                "        printf(\"%%ld %%d %%d\\n\", (long)%s_value(is), ",
                path->first_code, path->last_code, stride_of(path), name, wide ? "int32_t" : "uint16_t",
                wide ? 0 : path->first_code, name);
        fprintf(to, strstr(m->header, percent) != NULL ? "(int)%s_percent(is), " : "-1, ", name);
        fprintf(to, strstr(m->header, beyond) != NULL ? "(int)%s_beyond(is));\n    }\n" : "0);\n    }\n",
                name);
    }
    fprintf(to, "    return 0;\n}\n");
}

static run_result run_header(const made *m)
{
    /* What is not used is dropped, so that these are enough. */
    static const char *const compile[] = {"cc",
                                          "-std=c11",
                                          "-O1",
                                          "-w",
                                          "-I",
                                          TL_SOURCE "/include",
                                          "all.c",
                                          TL_SOURCE "/src/core/lean.c",
                                          TL_SOURCE "/src/core/table.c",
                                          TL_SOURCE "/src/core/ratio.c",
                                          TL_SOURCE "/src/core/share.c",
                                          TL_SOURCE "/src/core/rungs.c",
                                          "-o",
                                          "all",
                                          NULL};
    scratch_file("all.h", m->header, strlen(m->header));
    FILE *to = fopen(scratch_path("all.c"), "w");
    write_program(m, to);
    fclose(to);
    run_result r = run_program(compile, TL_SCRATCH);
    CU_ASSERT_FATAL(r.status == 0);
    run_free(&r);
    return run_program((const char *const[]){"./all", NULL}, TL_SCRATCH);
}

/* What `convert` makes of the same codes. */
static run_result run_convert(const char *path, const tl_signal *signal, const tl_analog_path *codes)
{
    FILE *to = fopen(scratch_path("codes.csv"), "w");
    fprintf(to, "count\n");
    for (long c = codes->first_code; c <= codes->last_code; c += stride_of(codes))
        fprintf(to, "%ld\n", c);
    fclose(to);
    return run_command("--outside", "convert", path, signal->name, scratch_path("codes.csv"), NULL);
}

typedef struct {
    long off, percents, beyonds, converted, counts;
} disagreements;

static void compare_signal(const char *path, const made *m, int signal, char **said, disagreements *d)
{
    const tl_firmware_row *row = &m->rows[signal];
    const tl_signal *s = &m->plan->signals[signal];
    const tl_analog_path *codes = tl_circuit_path(m->circuit, signal);
    const double digit = pow(10, -row->decimals);
    run_result r = run_convert(path, s, codes);
    const char *line = strchr(r.out, '\n');
    for (long c = codes->first_code; c <= codes->last_code; c += stride_of(codes)) {
        double shown = NAN, value = NAN;
        char flags[40] = "";
        tl_value plain;
        const long given = strtol(*said, said, 10), percent = strtol(*said, said, 10),
                   beyond = strtol(*said, said, 10);
        const tl_net_status found = tl_plan_shown(m->circuit, signal, (double)c, &shown);
        if (line == NULL || tl_plan_value_plain(m->circuit, signal, (double)c, &plain) != found)
            break;
        const bool is_value = sscanf(line, "\n%*[^,],%*[^,],%lf,%39[^\n]", &value, flags) == 2;
        line = strchr(line + 1, '\n');
        d->counts++;
        if (found != TL_NET_SOLVED || !isfinite(shown))
            continue;
        double next = shown, most = row->deviation;
        (void)tl_plan_shown(m->circuit, signal, (double)(c < codes->last_code ? c + 1 : c - 1), &next);
        if (row->way == TL_FIRMWARE_TABLE) /* half a count, where that is coarser */
            most *= fmax(1, isfinite(next) ? fabs(next - shown) / digit / 2 : 1e9);
        d->off += fabs((double)given - shown / digit) > most + 1e-6;
        d->percents += percent >= 0 && plain.percent >= 0 && percent != plain.percent;
        d->beyonds += plain.beyond != (beyond != 0);
        if (is_value && !plain.open && !plain.shorted)
            d->converted += (strcmp(flags, "beyond") == 0) != plain.beyond ||
                            fabs(value - plain.value) > 0.5 * digit + 1e-9;
    }
    run_free(&r);
}

static long compare(const char *path)
{
    made m;
    disagreements d = {0};
    if (make(path, &m)) {
        run_result r = run_header(&m);
        char *said = r.out;
        for (int i = 0; i < m.plan->signal_count; i++) {
            if (has_value(&m, i))
                compare_signal(path, &m, i, &said, &d);
        }
        run_free(&r);
    }
    const bool good = d.off == 0 && d.percents == 0 && d.beyonds == 0 && d.converted == 0;
    CHECK_ROW(path, good);
    if (!good)
        printf("\n  %s: of %ld counts %ld values, %ld percents, %ld flags; convert %ld\n", path, d.counts,
               d.off, d.percents, d.beyonds, d.converted);
    drop(&m);
    return d.counts;
}

static void all_rooms_agree(void)
{
    glob_t found;
    long counts = 0;
    CU_ASSERT_FATAL(
        glob(TL_SOURCE "/demo/{sound/*,cold-frame,desk,fernhill}.plan.yaml", GLOB_BRACE, NULL, &found) == 0);
    for (size_t i = 0; i < found.gl_pathc; i += THINNED)
        counts += compare(found.gl_pathv[i]);
    CU_ASSERT(found.gl_pathc > 40 && counts > 100000 / THINNED);
    globfree(&found);
}

/* Straight ways: every percent between the ends is the nearest, whichever ends. */
static void random_percents_are_the_nearest(void)
{
    static const char *const pins[] = {"L4", "L5", "L6", "L7", "L16", "L17", "L18", "L19"};
    unsigned drawn = 12345;
    for (int plan = 0; plan < 3; plan += THINNED) {
        char text[4000] = "tinyladder: plan 1\ntitle: t\nboard: " TL_SOURCE
                          "/demo/lapwing.board.yaml\nsupplies: {house: 4 V .. 16 V}\nsignals:\n";
        for (size_t i = 0; i < ROWS(pins); i++) {
            drawn = drawn * 1103515245u + 12345u;
            const unsigned upper = 40 + drawn / 65536 % 90, empty = 45 + drawn / 97 % 40,
                           full = 90 + drawn / 389 % 65;
            snprintf(
                text + strlen(text), 400,
                "  s%zu: {source: {rail: house}, stages: [divider: {upper: %uk ±1 %%, lower: 10k ±1 %%}], "
                "pin: %s, reading: {unit: V, decimals: 2, percent: {empty: %u.%u V, full: %u.%u V}}}\n",
                i, upper, pins[i], (drawn % 2 ? full : empty) / 10, (drawn % 2 ? full : empty) % 10,
                (drawn % 2 ? empty : full) / 10, (drawn % 2 ? empty : full) % 10);
        }
        char *path = strdup(scratch_file("random.plan.yaml", text, strlen(text)));
        CU_ASSERT(compare(path) > 8 * 4000);
        free(path);
    }
}

CU_TestInfo every_count_tests[] = {
    {"all rooms agree", all_rooms_agree},
    {"random percents are the nearest", random_percents_are_the_nearest},
    CU_TEST_INFO_NULL,
};
