/* SPDX-License-Identifier: MIT */
/*
 * The header, in this order: who made it of what, the board's pins, multiplexers and converters on buses, one
 * block a signal in the plan's order, sweeps, outputs. Nothing in it depends on the day or on the folder.
 */
#include "base/memory.h"
#include "firmware/maker.h"
#include "tinyladder/design/measurement.h"
#include "tinyladder/lean.h"
#include <ctype.h>
#include <stdlib.h>
#include <string.h>

/* --- names --- */

typedef struct {
    char **list;
    int count;
} name_list;

/* Everything in the header that is named by the plan. False, with the reason, where two are one in capitals.
 */
static bool add_name(name_list *names, const char *name, char why[200])
{
    char capitals[MAKER_NAME], other[MAKER_NAME];
    c_capitals(name, capitals);
    for (int i = 0; i < names->count; i++) {
        if (strcmp(c_capitals(names->list[i], other), capitals) == 0) {
            snprintf(why, 200,
                     "'%.40s' and '%.40s' would both be called %.40s: give one of them another name",
                     names->list[i], name, capitals);
            return false;
        }
    }
    names->list = tl_grow(names->list, (size_t)names->count, sizeof *names->list);
    names->list[names->count++] = tl_copy_text(name);
    return true;
}

static bool names_are_apart(const tl_plan *plan, char why[200])
{
    name_list names = {NULL, 0};
    bool good = true;
    for (int i = 0; i < plan->signal_count && good; i++)
        good = add_name(&names, plan->signals[i].name, why);
    for (int i = 0; i < plan->mux_count && good; i++)
        good = add_name(&names, plan->muxes[i].name, why);
    for (int i = 1; i < plan->converter_count && good; i++)
        good = add_name(&names, plan->converters[i].name, why);
    for (int i = 0; i < plan->output_count && good; i++)
        good = add_name(&names, plan->outputs[i].name, why);
    for (int i = 0; i < plan->sweep_count && good; i++)
        good = add_name(&names, plan->sweeps[i].name, why);
    for (int i = 0; i < names.count; i++)
        free(names.list[i]);
    free(names.list);
    return good;
}

/* --- small things --- */

/* --- the head --- */

static const char *file_name(const char *path)
{
    const char *slash = strrchr(path, '/');
    return slash != NULL ? slash + 1 : path;
}

static void put_head(const maker *m, const char *guard, const tl_report *findings)
{
    FILE *out = m->out;
    fprintf(out, "/* Made by 'tinyladder header' of ");
    put_comment(m, file_name(m->plan->path));
    fprintf(out, ": change the plan, then make it anew. */\n/* ");
    put_comment(m, m->plan->title);
    fprintf(out, ", on ");
    put_comment(m, m->plan->board->title);
    fprintf(
        out,
        ". */\n#ifndef %s\n#define %s\n\n#ifndef TINYLADDER_CORE_H\n#include <tinyladder/core.h>\n#endif\n\n",
        guard, guard);
    fprintf(
        out,
        "#if TL_LEAN_FORMAT != %d\n#error \"this header and the core are not of one format: make the header "
        "anew\"\n#endif\n\n",
        TL_LEAN_FORMAT);
    fprintf(
        out,
        "/* The port's number of a pin: its place in the board file. A port that counts otherwise defines\n"
        "   TL_PIN(place, name) before; the name is the port's own where the board file gives one. */\n"
        "#ifndef TL_PIN\n#define TL_PIN(place, name) (place)\n#endif\n"
        "/* In the same way its number of a reference of the ADC, whose names are the board file's. */\n"
        "#ifndef TL_REFERENCE\n#define TL_REFERENCE(place, name) (place)\n#endif\n");
    for (int i = 0; findings != NULL && i < tl_report_count(findings); i++) {
        const tl_finding *f = tl_report_finding(findings, i);
        if (f->severity != TL_ERROR)
            continue;
        fprintf(out, "\n/* ERROR in line %d of the plan: ", f->place.line);
        put_comment(m, f->cause);
        fprintf(out, " [%s] */\n", f->slug);
    }
}

/* FNV-1a over everything that follows it: another plan has another one. */
unsigned long id_of(const char *text)
{
    unsigned long id = 2166136261ul;
    for (; *text != '\0'; text++)
        id = ((id ^ (unsigned char)*text) * 16777619ul) & 0xfffffffful;
    return id;
}

bool tl_firmware_header_is_whole(const char *text)
{
    static const char end[] = "\n#endif\n";
    unsigned long id = 0;
    const char *at = strstr(text, "_ID 0x"), *body = at != NULL ? strchr(at, '\n') : NULL;
    const size_t length = body != NULL ? strlen(body + 1) : 0;
    if (length < sizeof end - 1 || sscanf(at, "_ID 0x%8lx", &id) != 1 ||
        strcmp(body + 1 + length - (sizeof end - 1), end) != 0)
        return false;
    char *own = tl_copy_text(body + 1);
    own[length - (sizeof end - 1)] = '\0';
    const bool whole = id_of(own) == id;
    free(own);
    return whole;
}

/* --- the whole --- */

static void put_signal(maker *m, int signal, tl_firmware_row *row)
{
    const tl_signal *s = &m->plan->signals[signal];
    fprintf(m->out, "\n/* --- %s ---\n", s->name);
    put_provenance(m, signal);
    if (!s->analog) {
        const bool timed = tl_reading_is_timed(&s->reading);
        row->way = timed ? TL_FIRMWARE_RHYTHM : TL_FIRMWARE_CONTACT;
        row->decimals = timed ? s->reading.decimals : 0;
        row->deviation = timed ? 0.5 : 0; /* rounded to the nearest, of what was measured */
        put_contact(m, signal);
    } else if (m->plan->pins[s->pin].channel < 0) {
        snprintf(row->why, sizeof row->why, "its pin has no ADC channel");
    } else if (tl_circuit_path(m->circuit, signal)->fault != TL_NET_SOLVED) {
        snprintf(row->why, sizeof row->why, "%s",
                 tl_net_status_text(tl_circuit_path(m->circuit, signal)->fault));
    } else if (s->source.button_count > 0) {
        row->way = TL_FIRMWARE_BUTTONS;
        put_buttons(m, signal);
    } else {
        put_analog(m, signal, row);
    }
    if (row->way == TL_FIRMWARE_LEFT_OUT)
        fprintf(m->out, "   Left out: %s. */\n", row->why);
}

static void put_body(maker *m, tl_firmware_row *rows)
{
    put_pin_rails(m);
    put_muxes(m);
    put_externals(m);
    for (int i = 0; i < m->plan->signal_count; i++)
        put_signal(m, i, &rows[i]);
    for (int i = 0; i < m->plan->sweep_count; i++)
        put_sweep(m, &m->plan->sweeps[i]);
    for (int i = 0; i < m->plan->output_count; i++)
        put_output(m, &m->plan->outputs[i], rows);
}

char *tl_firmware_header(tl_circuit *circuit, const tl_report *findings, tl_firmware_row *rows, char why[200])
{
    const tl_plan *plan = tl_circuit_plan(circuit);
    char *body = NULL, *text = NULL, stem[MAKER_NAME], own[MAKER_NAME], guard[40];
    size_t size = 0;
    maker m = {NULL, circuit, plan, NULL, 0};
    if (!names_are_apart(plan, why))
        return NULL;
    memset(rows, 0, (size_t)plan->signal_count * sizeof *rows);
    m.out = tl_text_begin(&body, &size);
    put_body(&m, rows);
    tl_text_end(m.out, &body);
    snprintf(stem, sizeof stem, "%.*s", (int)strcspn(file_name(plan->path), "."), file_name(plan->path));
    /* Two plans of one name are two headers: neither leaves the other out. */
    snprintf(guard, sizeof guard, "TL_PLAN_%08lX_H", id_of(body));
    m.out = tl_text_begin(&text, &size);
    put_head(&m, guard, findings);
    fprintf(m.out,
            "\n/* Of everything below: another plan has another one. */\n#define %s_PLAN_ID "
            "0x%08lxul\n%s\n#endif\n",
            c_capitals(stem, own), id_of(body), body);
    for (int i = 0; i < m.curve_count; i++)
        free(m.curves[i].points);
    free(m.curves);
    free(body);
    tl_text_end(m.out, &text);
    return text;
}
