/* SPDX-License-Identifier: MIT */
/*
 * More targets: what comes in while something runs (counts of a board, requests of a client, answers on a
 * bus), and what is made of a plan (its sheet, an edit of its file) or read back (a record).
 */
#include "fuzz.h"
#include "listen/calls.h"
#include "model/parts.h"
#include "reading/counts.h"
#include "record/chart.h"
#include "sheet/sheet.h"
#include "tinyladder/core.h"
#include "tinyladder/design/edit.h"
#include "tinyladder/design/rules.h"
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

static const char plan_path[] = "demo/cold-frame.plan.yaml";

/* The input as a file of its own. */
static const char *file_of(const input *in, const char *ending, char path[80])
{
    snprintf(path, 80, "/dev/shm/tinyladder-fuzz-%d%s", (int)getpid(), ending);
    FILE *file = fopen(path, "wb");
    if (file == NULL || fwrite(in->data, 1, in->size, file) != in->size || fclose(file) != 0)
        abort();
    return path;
}

/* Lines of counts, of all three kinds: each reading has a flag that says what it is worth. */
void fuzz_counts(void *context)
{
    char path[80];
    tl_report *report = tl_report_new();
    tl_plan *plan = tl_plan_load(plan_path, report);
    tl_circuit *circuit = tl_circuit_new(plan);
    int status = 0;
    counts *of = counts_open(file_of(context, ".txt", path), circuit, &status);
    taken *readings = calloc((size_t)plan->signal_count, sizeof *readings);
    bool *told = calloc((size_t)plan->signal_count, sizeof *told);
    double at, before = 0;
    while (of != NULL && counts_next(of, 0, readings, told, &at) == COUNTS_LINE) {
        if (!(at >= before))
            abort(); /* a time before that of the line before is none */
        before = at;
    }
    if (of != NULL)
        (void)counts_close(of, 0);
    free(readings);
    free(told);
    tl_circuit_free(circuit);
    tl_plan_free(plan);
    tl_report_free(report);
}

/* A record, drawn. */
void fuzz_record(void *context)
{
    char path[80];
    const chart_choice choice = {.record = file_of(context, ".csv", path), .run = -1};
    const chart_paper paper = {.columns = 80, .rows = 24};
    chart c;
    if (chart_load(&c, &choice)) {
        for (int page = chart_pages(&c, &paper); page-- > 0;) {
            size_t size;
            free(chart_script(&c, &paper, page, &size));
        }
    }
    chart_free(&c);
}

/* Requests of one client, a line each: each has an answer that says whether it is good, and when it is. */
void fuzz_request(void *context)
{
    const input *in = context;
    tl_bench *bench = tl_bench_open(plan_path, NULL, NULL);
    const char *at = (const char *)in->data, *end = at + in->size;
    for (int i = 0; i < 20 && at < end; i++) {
        const char *stop = memchr(at, '\n', (size_t)(end - at));
        const size_t length = (size_t)((stop != NULL ? stop : end) - at);
        char *line = malloc(length + 1);
        memcpy(line, at, length);
        line[length] = '\0';
        json_t *answer = calls_answer(bench, line, length);
        if (!json_is_boolean(json_object_get(answer, "ok")) ||
            !json_is_number(json_object_get(answer, "at")) ||
            json_is_false(json_object_get(answer, "ok")) != (json_object_get(answer, "error") != NULL))
            abort();
        json_decref(answer);
        free(line);
        at += length + 1;
    }
    tl_bench_free(bench);
}

/* --- a port whose devices answer with the input's bytes --- */

typedef struct {
    const input *in;
    size_t used;
    uint32_t now_us;
} answers;

static uint8_t next_byte(answers *of)
{
    return of->used < of->in->size ? of->in->data[of->used++] : 0;
}

static tl_status next_status(answers *of)
{
    const uint8_t byte = next_byte(of);
    return byte < 8 ? (tl_status)byte : TL_OK;
}

static tl_status spi(void *context, uint8_t bus, uint8_t select, const uint8_t *out, uint8_t *in,
                     uint8_t count)
{
    (void)bus, (void)select, (void)out;
    const tl_status status = next_status(context);
    for (uint8_t i = 0; i < count && status == TL_OK; i++)
        in[i] = next_byte(context);
    return status;
}

static tl_status i2c(void *context, uint8_t bus, uint8_t address, const uint8_t *out, uint8_t out_count,
                     uint8_t *in, uint8_t in_count)
{
    (void)bus, (void)address, (void)out, (void)out_count;
    const tl_status status = next_status(context);
    for (uint8_t i = 0; i < in_count && status == TL_OK; i++)
        in[i] = next_byte(context);
    return status;
}

static tl_status clock_of(void *context, uint32_t *now_us)
{
    answers *of = context;
    *now_us = of->now_us += next_byte(of) < 16 ? 50 : 3; /* at times late */
    return TL_OK;
}

static tl_status wait_of(void *context, uint32_t duration_us)
{
    answers *of = context;
    of->now_us += duration_us;
    return TL_OK;
}

/* Any description and any answers: a status, and a code within its word. */
void fuzz_bus(void *context)
{
    answers of = {.in = context};
    static const tl_port_ops ops = {.clock_step_us = 1,
                                    .clock_us = clock_of,
                                    .wait_us = wait_of,
                                    .spi_exchange = spi,
                                    .i2c_transfer = i2c};
    tl_port_reader reader = {0};
    const tl_port port = {&ops, &of, &reader};
    const bool on_spi = (next_byte(&of) & 1) != 0;
    tl_external converter = {.kind = on_spi ? TL_EXTERNAL_SPI : TL_EXTERNAL_I2C,
                             .word = {.bits = (uint8_t)(next_byte(&of) % 26),
                                      .width = (uint8_t)(next_byte(&of) % 34),
                                      .align = next_byte(&of) % 4,
                                      .sign = next_byte(&of) % 4,
                                      .sign_filled = (next_byte(&of) & 1) != 0},
                             .byte_order = next_byte(&of) % 3,
                             .longest = 200,
                             .earliest = next_byte(&of) % 20,
                             .settings_bits = (uint8_t)(next_byte(&of) % 40),
                             .settings = next_byte(&of),
                             .result = next_byte(&of),
                             .ready = next_byte(&of),
                             .ready_bits = (uint8_t)(next_byte(&of) % 40),
                             .ready_bit = (uint8_t)(next_byte(&of) % 40),
                             .ready_when = (next_byte(&of) & 1) != 0,
                             .zeros = (uint8_t)(next_byte(&of) % 34),
                             .take = (uint8_t)(next_byte(&of) % 34)};
    const tl_external_input wire = {{on_spi ? &tl_spi_conversion : &tl_i2c_conversion}, &converter, 0x8583};
    const tl_way way = {.input = &wire.kind, .discard = next_byte(&of) % 3};
    tl_sample sample = {.value = 77};
    for (int i = 0; i < 3; i++) {
        const tl_status status = tl_take(&port, &way, &sample);
        const bool fresh = (sample.flags & TL_READING_FRESH) != 0;
        if ((status == TL_OK) != fresh)
            abort();
        if (fresh && converter.word.bits < 26 &&
            (sample.value >= INT32_C(1) << 25 || sample.value < -(INT32_C(1) << 25)))
            abort();
    }
}

/* --- what is made of a plan --- */

static tl_plan *plan_of(const input *in, tl_report *report)
{
    tl_report_instead(report, plan_path, (const char *)in->data, in->size);
    return tl_plan_load(plan_path, report);
}

/* The sheet as text and as a drawing. */
void fuzz_sheet(void *context)
{
    tl_report *report = tl_report_new();
    tl_plan *plan = plan_of(context, report);
    if (plan != NULL) {
        tl_circuit *circuit = tl_circuit_new(plan);
        int *signals = calloc((size_t)plan->signal_count + 1, sizeof *signals), faults;
        for (int i = 0; i < plan->signal_count; i++)
            signals[i] = i;
        tl_plan_check(circuit, report);
        const sheet_options options = {.signals = signals,
                                       .signal_count = plan->signal_count,
                                       .whole = true,
                                       .command = "sheet",
                                       .verdict = "checked",
                                       .findings = report};
        free(sheet_text(circuit, &options, SHEET_TEXT, NULL, &faults));
        free(sheet_text(circuit, &options, SHEET_HTML, NULL, &faults));
        free(signals);
        tl_circuit_free(circuit);
    }
    tl_plan_free(plan);
    tl_report_free(report);
}

/* A change that a finding offers is one that keeps the file a plan. */
void fuzz_edit(void *context)
{
    const input *in = context;
    tl_report *report = tl_report_new();
    tl_plan *plan = plan_of(in, report);
    if (plan != NULL) {
        tl_circuit *circuit = tl_circuit_new(plan);
        tl_plan_check(circuit, report);
        for (int i = 0; i < tl_report_count(report) && i < 4; i++) {
            tl_edit edit;
            size_t size = 0;
            if (!tl_edit_of_change(report, &tl_report_finding(report, i)->change, &edit))
                continue;
            char *text = tl_edit_apply(report, &edit, 1, &size);
            if (text != NULL) {
                const input changed = {(const uint8_t *)text, size};
                tl_report *again = tl_report_new();
                tl_plan *then = plan_of(&changed, again);
                if (then == NULL) {
                    tl_report_tell(again, stdout);
                    fwrite(text, 1, size, stdout);
                    fflush(stdout);
                    abort();
                }
                tl_plan_free(then);
                tl_report_free(again);
            }
            free(text);
            tl_edit_free(&edit);
        }
        tl_circuit_free(circuit);
    }
    tl_plan_free(plan);
    tl_report_free(report);
}
