/* SPDX-License-Identifier: MIT */
/*
 * A chip that is made up (ports/stand-in/registers.h) with a Cortex-M0 or an RV32 in it: the emulator runs
 * the program, and its registers are the bench. Time is counted in instructions: each takes one clock.
 * The bench is never behind the chip; it may be ahead by what the chip does in one piece.
 */
#include "stand_in.h"
#include "../stand-in/registers.h"
#include <fcntl.h>
#include <gelf.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

static const struct {
    uint32_t begin, size;
} memories[] = {{0x00000000, 1 << 20}, {0x20000000, 1 << 17}, {0x80000000, 1 << 18}};

static double time_of(const chip *base)
{
    return (double)((const stand_in *)base)->clocks / (double)base->hertz;
}

static bool has_port(const chip *base, char name)
{
    (void)base;
    return name >= 'A' && name < 'A' + STAND_IN_LINES / 8;
}

/* Before each instruction. */
static void on_instruction(uc_engine *processor, uint64_t address, uint32_t size, void *context)
{
    (void)size;
    (void)address;
    stand_in *of = context;
    if (of->clocks < of->asleep || of->clocks >= of->end)
        uc_emu_stop(processor); /* it comes again */
    else
        of->clocks++;
}

static bool load_segment(stand_in *of, Elf *file, const GElf_Phdr *part)
{
    size_t length;
    const char *whole = elf_rawfile(file, &length);
    return whole != NULL && part->p_offset <= length && part->p_filesz <= length - part->p_offset &&
           uc_mem_write(of->processor, part->p_paddr, whole + part->p_offset, (size_t)part->p_filesz) ==
               UC_ERR_OK;
}

/* The file's parts to where they lie before the start. */
static bool load(stand_in *of, int file, uint32_t *entry)
{
    size_t parts = 0;
    GElf_Ehdr head;
    (void)elf_version(EV_CURRENT);
    Elf *elf = elf_begin(file, ELF_C_READ, NULL);
    bool good =
        elf != NULL && gelf_getehdr(elf, &head) != NULL && elf_getphdrnum(elf, &parts) == 0 && parts > 0;
    for (size_t i = 0; i < parts && good; i++) {
        GElf_Phdr part;
        good = gelf_getphdr(elf, (int)i, &part) != NULL &&
               (part.p_type != PT_LOAD || part.p_filesz == 0 || load_segment(of, elf, &part));
    }
    if (good)
        *entry = (uint32_t)head.e_entry;
    (void)elf_end(elf);
    return good;
}

static bool load_file(stand_in *of, const char *image, uint32_t *entry)
{
    const int file = open(image, O_RDONLY | O_CLOEXEC);
    const bool good = file >= 0 && load(of, file, entry);
    if (file >= 0)
        close(file);
    return good;
}

static bool is_arm(const stand_in *of)
{
    return of->base.kind == &chip_kind_arm;
}

static bool set_up(stand_in *of)
{
    uc_hook hook;
    /* The emulator takes any function as an address. */
    const union {
        uc_cb_hookcode_t call;
        void *address;
    } hooked = {.call = on_instruction};
    const uc_arch arch = is_arm(of) ? UC_ARCH_ARM : UC_ARCH_RISCV;
    const uc_mode mode = is_arm(of) ? UC_MODE_THUMB | UC_MODE_MCLASS : UC_MODE_RISCV32;
    bool good = uc_open(arch, mode, &of->processor) == UC_ERR_OK;
    good = good && (!is_arm(of) || uc_ctl_set_cpu_model(of->processor, UC_CPU_ARM_CORTEX_M0) == UC_ERR_OK);
    for (size_t i = 0; i < sizeof memories / sizeof memories[0] && good; i++)
        good = uc_mem_map(of->processor, memories[i].begin, memories[i].size, UC_PROT_ALL) == UC_ERR_OK;
    return good &&
           uc_mmio_map(of->processor, STAND_IN_BASE, STAND_IN_SIZE, stand_in_read, of, stand_in_write, of) ==
               UC_ERR_OK &&
           uc_hook_add(of->processor, &hook, UC_HOOK_CODE, hooked.address, of, 1, 0) == UC_ERR_OK;
}

/* The smallest Cortex-M begins with the two first words of its memory: the stack, and where to start. */
static bool reset(stand_in *of, uint32_t entry)
{
    uint32_t first[2] = {0, entry};
    if (is_arm(of) && (uc_mem_read(of->processor, 0, first, sizeof first) != UC_ERR_OK ||
                       uc_reg_write(of->processor, UC_ARM_REG_SP, &first[0]) != UC_ERR_OK))
        return false;
    of->next = first[1];
    return first[1] != 0;
}

static chip *make(void)
{
    stand_in *of = calloc(1, sizeof *of);
    return of != NULL ? &of->base : NULL;
}

static bool open_image(chip *base, const char *image, const char *name, char why[200])
{
    stand_in *of = (stand_in *)base;
    uint32_t entry = 0;
    if (strcmp(name, base->kind->name) != 0) {
        snprintf(why, 200, "the emulator knows no chip '%s', but %s", name, base->kind->name);
        return false;
    }
    if (!set_up(of)) {
        snprintf(why, 200, "the emulator of %s does not start", name);
        return false;
    }
    return load_file(of, image, &entry) && reset(of, entry) && chip_wire_lines(base, has_port, why);
}

static void free_chip(chip *base)
{
    stand_in *of = (stand_in *)base;
    if (of->processor != NULL)
        uc_close(of->processor);
    free(of);
}

static uint32_t place_of(const stand_in *of)
{
    uint32_t place = 0;
    (void)uc_reg_read(of->processor, is_arm(of) ? UC_ARM_REG_PC : UC_RISCV_REG_PC, &place);
    return is_arm(of) ? place | 1 : place;
}

static bool run(chip *base, double until)
{
    stand_in *of = (stand_in *)base;
    of->end = (uint64_t)(until * (double)base->hertz);
    while (of->clocks < of->end) {
        if (of->asleep > of->clocks) {
            of->clocks = of->asleep < of->end ? of->asleep : of->end;
            continue;
        }
        base->crashed = uc_emu_start(of->processor, of->next, UINT32_MAX - 1, 0, 0) != UC_ERR_OK;
        of->next = place_of(of);
        if (base->crashed)
            return false;
    }
    chip_bring_bench(base);
    return true;
}

const chip_kind chip_kind_arm = {.machine = 40,
                                 .bits = 32,
                                 .name = "cortex-m0",
                                 .hertz = BENCH_RUN_STAND_IN,
                                 .make = make,
                                 .open = open_image,
                                 .run = run,
                                 .time = time_of,
                                 .free = free_chip};

const chip_kind chip_kind_riscv = {.machine = 243,
                                   .bits = 32,
                                   .name = "rv32",
                                   .hertz = BENCH_RUN_STAND_IN,
                                   .make = make,
                                   .open = open_image,
                                   .run = run,
                                   .time = time_of,
                                   .free = free_chip};
