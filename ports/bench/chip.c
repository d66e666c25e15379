/* SPDX-License-Identifier: MIT */
/* A program onto the kind of chip that it was compiled for. */
#include "chip_inside.h"
#include <errno.h>
#include <fcntl.h>
#include <stdio.h>
#include <string.h>
#include <unistd.h>

static const chip_kind *const kinds[] = {
#ifdef BENCH_RUN_AVR
    &chip_kind_avr,
#endif
#ifdef BENCH_RUN_STAND_IN
    &chip_kind_arm,
    &chip_kind_riscv,
#endif
};
enum { KINDS = sizeof kinds / sizeof kinds[0] };

/* The head of an ELF file says for which kind of chip it is. */
static const chip_kind *kind_for(const char *image)
{
    enum { BITS_AT = 4, MACHINE_AT = 18 };
    unsigned char head[MACHINE_AT + 2] = {0};
    const int file = open(image, O_RDONLY | O_CLOEXEC | O_NONBLOCK);
    const bool whole = file >= 0 && read(file, head, sizeof head) == (ssize_t)sizeof head;
    if (file >= 0)
        close(file);
    if (!whole || memcmp(head, "\177ELF", 4) != 0)
        return NULL;
    for (int i = 0; i < KINDS; i++) {
        if (kinds[i]->machine == (head[MACHINE_AT] | head[MACHINE_AT + 1] << 8) &&
            kinds[i]->bits == 32 * head[BITS_AT])
            return kinds[i];
    }
    return NULL;
}

static void find_buses(chip *of)
{
    const tl_plan *plan = chip_plan(of);
    of->two_wire_bus = of->spi_bus = of->selected = TL_NONE;
    for (int i = plan->bus_count; i-- > 0;)
        *(plan->buses[i].spi ? &of->spi_bus : &of->two_wire_bus) = i;
}

chip *chip_new(tl_bench *bench, const char *image, const char *name, unsigned long hertz, char why[200])
{
    if (access(image, R_OK) != 0) {
        snprintf(why, 200, "%s: %s", image, strerror(errno));
        return NULL;
    }
    const chip_kind *kind = kind_for(image);
    snprintf(why, 200, "%s: not a program for such a chip", image);
    if (kind == NULL)
        return NULL;
    chip *of = kind->make();
    if (of == NULL) {
        snprintf(why, 200, "there is no more memory");
        return NULL;
    }
    of->kind = kind;
    of->bench = bench;
    of->port = tl_bench_port(bench);
    of->hertz = hertz != 0 ? hertz : kind->hertz;
    for (int call = 0; call < TL_BENCH_CALLS; call++)
        tl_bench_call_takes(bench, (tl_bench_call)call, 1e-9, 0); /* time passes on the chip */
    find_buses(of);
    if (kind->open(of, image, name != NULL ? name : kind->name, why))
        return of;
    kind->free(of);
    return NULL;
}

void chip_free(chip *of)
{
    if (of != NULL)
        of->kind->free(of);
}

bool chip_run(chip *of, double until)
{
    return of->kind->run(of, until);
}

double chip_time(const chip *of)
{
    return of->kind->time(of);
}

bool chip_crashed(const chip *of)
{
    return of->crashed;
}

bool chip_drives(const chip *of, int pin, double *share)
{
    for (int i = 0; i < of->line_count; i++) {
        *share = of->lines[i].share / (double)UINT16_MAX;
        if (of->lines[i].line == pin)
            return of->lines[i].use == TL_LINE_OUTPUT;
    }
    return false;
}

void chip_listen(chip *of, chip_heard *heard, void *context)
{
    of->heard = heard;
    of->heard_by = context;
}

void chip_say(chip *of, char byte)
{
    if (of->said_count < SAID_MOST)
        of->said[(of->said_first + of->said_count++) % SAID_MOST] = byte;
}

bool chip_next_said(chip *of, uint8_t *byte)
{
    if (of->said_count == 0)
        return false;
    of->said_count--;
    *byte = (uint8_t)of->said[of->said_first++ % SAID_MOST];
    return true;
}

const tl_plan *chip_plan(const chip *of)
{
    return tl_circuit_plan(tl_bench_circuit(of->bench));
}

void chip_bring_bench(chip *of)
{
    tl_bench_go_to(of->bench, of->kind->time(of));
}
