/* SPDX-License-Identifier: MIT */
#include "simulated.h"
#include <simavr/sim_elf.h>
#include <stdio.h>
#include <stdlib.h>

avr_t *simulated_chip(int argc, char **argv, avr_io_write_t heard, void *param)
{
    elf_firmware_t firmware = {0};
    if (argc != 5 || elf_read_firmware(argv[1], &firmware) != 0) {
        fprintf(stderr, "usage: %s FIRMWARE CHIP HERTZ ADDRESS\n", argv[0]);
        return NULL;
    }
    avr_t *avr = avr_make_mcu_by_name(argv[2]);
    if (avr == NULL) {
        fprintf(stderr, "%s: the simulator knows no chip '%s'\n", argv[0], argv[2]);
        return NULL;
    }
    avr_init(avr);
    avr_load_firmware(avr, &firmware);
    avr->frequency = (uint32_t)strtoul(argv[3], NULL, 0);
    avr_register_io_write(avr, (avr_io_addr_t)strtoul(argv[4], NULL, 0), heard, param);
    return avr;
}

bool simulated_run(avr_t *avr, avr_cycle_count_t most, const bool *done)
{
    int state = cpu_Running;
    while ((done == NULL || !*done) && state != cpu_Done && state != cpu_Crashed && avr->cycle < most)
        state = avr_run(avr);
    return done != NULL ? *done : state == cpu_Done;
}
