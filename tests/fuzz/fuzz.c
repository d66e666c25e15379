/* SPDX-License-Identifier: MIT */
/*
 * What any bytes may do to what reads them: nothing. For libFuzzer; FUZZ_TARGET names the target, and seeds
 * are the demo (scripts/fuzz.sh). The files' targets change lines and figures of valid files, so that most
 * inputs come far.
 */
#include "fuzz.h"
#include "base/plain_text.h"
#include "base/replace_file.h"
#include "base/vcd_read.h"
#include "tinyladder/bench.h"
#include "tinyladder/core.h"
#include "tinyladder/design/edit.h"
#include "tinyladder/design/firmware.h"
#include "tinyladder/design/memory.h"
#include "tinyladder/design/proposals.h"
#include "tinyladder/design/rules.h"
#include <stdint.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

int LLVMFuzzerInitialize(int *argc, char ***argv);
int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size);
size_t LLVMFuzzerMutate(uint8_t *data, size_t size, size_t most);
size_t LLVMFuzzerCustomMutator(uint8_t *data, size_t size, size_t most, unsigned seed);

/* --- files: the plan of the demo, with one file of it replaced by the input --- */

static void look_at_plan(const tl_plan *plan, tl_report *report)
{
    tl_circuit *circuit = tl_circuit_new(plan);
    tl_firmware_row *rows = calloc((size_t)plan->signal_count + 1, sizeof *rows);
    char why[200];
    tl_plan_check(circuit, report);
    for (int i = 0; i < tl_report_count(report) && i < 3; i++) {
        tl_edit edit;
        if (tl_edit_of_change(report, &tl_report_finding(report, i)->change, &edit)) {
            size_t length;
            free(tl_edit_apply(report, &edit, 1, &length));
            tl_edit_free(&edit);
        }
    }
    if (tl_report_at_least(report, TL_ERROR) == 0 && rows != NULL) {
        free(tl_firmware_header(circuit, NULL, rows, why));
        free(tl_overlay(circuit));
        tl_scene *scene = tl_scene_new();
        tl_bench *bench = tl_bench_new(circuit, scene, 1);
        tl_bench_reading reading;
        for (int i = 0; i < plan->signal_count && i < 8; i++)
            (void)tl_bench_read(bench, i, &reading);
        tl_bench_free(bench);
        tl_scene_free(scene);
    }
    free(rows);
    tl_circuit_free(circuit);
}

static void read_with(const char *path, const char *instead, const input *in, const char *scene_path)
{
    tl_report *report = tl_report_new();
    tl_report_instead(report, instead, (const char *)in->data, in->size);
    tl_plan *plan = tl_plan_load(path, report);
    if (plan != NULL && scene_path == NULL)
        look_at_plan(plan, report);
    if (plan != NULL && scene_path != NULL) {
        tl_circuit *circuit = tl_circuit_new(plan);
        tl_scene *scene = tl_scene_load(scene_path, circuit, report);
        tl_bench *bench = scene != NULL ? tl_bench_new(circuit, scene, 1) : NULL;
        tl_bench_reading reading;
        if (bench != NULL)
            (void)tl_bench_read(bench, 0, &reading);
        tl_bench_free(bench);
        tl_scene_free(scene);
        tl_circuit_free(circuit);
    }
    tl_plan_free(plan);
    tl_report_free(report);
}

void fuzz_plan(void *context)
{
    read_with("demo/cold-frame.plan.yaml", "demo/cold-frame.plan.yaml", context, NULL);
}

void fuzz_board(void *context)
{
    read_with("demo/cold-frame.plan.yaml", "demo/curlew.board.yaml", context, NULL);
}

void fuzz_converter(void *context)
{
    read_with("demo/cold-frame.plan.yaml", "demo/dunlin.converter.yaml", context, NULL);
}

void fuzz_scene(void *context)
{
    read_with("demo/cold-frame.plan.yaml", "demo/cold-frame.scene.yaml", context,
              "demo/cold-frame.scene.yaml");
}

void fuzz_table(void *context)
{
    read_with("docs/recipes/oil.plan.yaml", "docs/recipes/oil.table.csv", context, NULL);
}

/* --- texts --- */

static const char *text_of(const input *in, char text[400])
{
    const size_t length = in->size < 399 ? in->size : 399;
    memcpy(text, in->data, length);
    text[length] = '\0';
    return text;
}

/* What was read is written, and read again it is the same. */
void fuzz_quantity(void *context)
{
    char text[400], written[32], unit[16];
    tl_quantity quantity, again;
    tl_level low, high;
    tl_text_error error;
    double figure;
    text_of(context, text);
    for (int d = 0; d <= TL_DIM_NUMBER; d++) {
        if (!tl_quantity_read(text, (tl_dimension)d, &quantity, &error))
            continue;
        if (!(quantity.low <= quantity.nominal && quantity.nominal <= quantity.high))
            abort();
        tl_quantity_write(quantity.nominal, (tl_dimension)d, TL_ROUND_NEAREST, written);
        (void)tl_quantity_read(written, (tl_dimension)d, &again, &error);
    }
    (void)tl_free_figure_read(text, &figure, unit, &error);
    (void)tl_level_read(text, &low, &error);
    (void)tl_level_span_read(text, &low, &high, &error);
}

void fuzz_marking(void *context)
{
    char text[400], why[160];
    tl_marking marking;
    text_of(context, text);
    (void)tl_marking_read_bands(text, &marking, why);
    (void)tl_marking_read_code(text, TL_DIM_OHM, &marking, why);
    (void)tl_marking_read_code(text, TL_DIM_FARAD, &marking, why);
    plain_text_copy(why, sizeof why, text);
    if (plain_text_length(why, strlen(why), NULL) != strlen(why))
        abort();
}

void fuzz_dump(void *context)
{
    const input *in = context;
    vcd_levels levels;
    char why[200];
    int line;
    if (!vcd_read((const char *)in->data, in->size, NULL, &levels, &line, why))
        return;
    for (int i = 1; i < levels.count; i++) {
        if (levels.levels[i].high == levels.levels[i - 1].high ||
            levels.levels[i].at <= levels.levels[i - 1].at)
            abort();
    }
    vcd_free(&levels);
}

/* Any format, any word: refused, or a code that makes this word again. */
void fuzz_word(void *context)
{
    const input *in = context;
    if (in->size < 9)
        return;
    const tl_word format = {in->data[0], in->data[1], in->data[2], in->data[3], (in->data[4] & 1) != 0};
    tl_raw word;
    uint32_t again;
    int32_t code;
    memcpy(&word, in->data + 5, 4);
    if (tl_word_code(&format, word, &code) == TL_OK &&
        (tl_word_make(&format, code, &again) != TL_OK || again != word))
        abort();
    tl_sample sample;
    (void)tl_word_sample(&format, word, &sample);
    (void)tl_word_join(in->data + 5, in->data[4] % 5, (tl_byte_order)(in->data[4] & 1), &word);
}

/* --- which one --- */

static const struct target {
    const char *name;
    fuzz_target *run;
    bool of_lines; /* a file, or lines of some kind */
} targets[] = {
    {"plan", fuzz_plan, true},        {"board", fuzz_board, true},   {"converter", fuzz_converter, true},
    {"scene", fuzz_scene, true},      {"table", fuzz_table, true},   {"sheet", fuzz_sheet, true},
    {"edit", fuzz_edit, true},        {"counts", fuzz_counts, true}, {"record", fuzz_record, true},
    {"request", fuzz_request, true},  {"bus", fuzz_bus, false},      {"quantity", fuzz_quantity, false},
    {"marking", fuzz_marking, false}, {"dump", fuzz_dump, false},    {"word", fuzz_word, false},
};
static const struct target *target;

int LLVMFuzzerInitialize(int *argc, char ***argv)
{
    (void)argc, (void)argv;
    const char *name = getenv("FUZZ_TARGET");
    for (size_t i = 0; name != NULL && i < sizeof targets / sizeof targets[0]; i++)
        target = strcmp(targets[i].name, name) == 0 ? &targets[i] : target;
    if (target == NULL) {
        fputs("FUZZ_TARGET names no target\n", stderr);
        exit(2);
    }
    return 0;
}

int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size)
{
    input in = {data, size};
    (void)tl_attempt(target->run, &in);
    return 0;
}

/* --- changes that keep a file a file --- */

static unsigned next(unsigned *seed)
{
    *seed = *seed * 1664525u + 1013904223u;
    return *seed >> 8;
}

/* Another figure in place of one: as large as it likes to be, or without its unit. */
static size_t change_figure(uint8_t *data, size_t size, size_t most, unsigned *seed)
{
    static const char *const figures[] = {"0",   "1",      "-1",       "0.001",      "1e9",   "10k",
                                          "4k7", "100 nF", "5 V ±5 %", "0 V .. 5 V", "1e-12", "2147483648"};
    const char *figure = figures[next(seed) % (sizeof figures / sizeof figures[0])];
    size_t at = next(seed) % size;
    while (at < size && (data[at] < '0' || data[at] > '9'))
        at++;
    size_t end = at;
    while (end < size && data[end] >= '0' && data[end] <= '9')
        end++;
    const size_t length = strlen(figure);
    if (at == end || size - (end - at) + length > most)
        return size;
    memmove(data + at + length, data + end, size - end);
    memcpy(data + at, figure, length);
    return size - (end - at) + length;
}

/* A line is left out, or stands there twice. */
static size_t change_line(uint8_t *data, size_t size, size_t most, unsigned *seed)
{
    size_t at = next(seed) % size, end;
    while (at > 0 && data[at - 1] != '\n')
        at--;
    for (end = at; end < size && data[end] != '\n'; end++)
        continue;
    end += end < size;
    if (next(seed) % 2 == 0) {
        memmove(data + at, data + end, size - end);
        return size - (end - at);
    }
    if (size + (end - at) > most)
        return size;
    memmove(data + end, data + at, size - at);
    return size + (end - at);
}

size_t LLVMFuzzerCustomMutator(uint8_t *data, size_t size, size_t most, unsigned seed)
{
    const unsigned how = next(&seed) % 8;
    if (!target->of_lines || size == 0 || how == 0)
        return LLVMFuzzerMutate(data, size, most);
    return how < 5 ? change_figure(data, size, most, &seed) : change_line(data, size, most, &seed);
}
