/* Runs firmware in an instruction-level simulator until it sleeps for good, and prints the bytes that it
 * hands out. */
#include <simavr/sim_avr.h>
#include <simavr/sim_elf.h>
#include <simavr/sim_io.h>
#include <stdio.h>
#include <stdlib.h>

static void print_byte(struct avr_t *avr, avr_io_addr_t address, uint8_t byte, void *param)
{
    (void)avr;
    (void)address;
    (void)param;
    printf("%02x\n", (unsigned)byte);
}

int main(int argc, char **argv)
{
    const avr_cycle_count_t enough = 4000000000u;
    elf_firmware_t firmware = {0};
    if (argc != 5 || elf_read_firmware(argv[1], &firmware) != 0) {
        fprintf(stderr, "usage: simulate_avr FIRMWARE CHIP HERTZ BYTE_ADDRESS\n");
        return 2;
    }
    avr_t *avr = avr_make_mcu_by_name(argv[2]);
    if (avr == NULL)
        return 2;
    avr_init(avr);
    avr_load_firmware(avr, &firmware);
    avr->frequency = (uint32_t)strtoul(argv[3], NULL, 0);
    avr_register_io_write(avr, (avr_io_addr_t)strtoul(argv[4], NULL, 0), print_byte, NULL);
    int state = cpu_Running;
    while (state != cpu_Done && state != cpu_Crashed && avr->cycle < enough)
        state = avr_run(avr);
    return state == cpu_Done ? 0 : 1;
}
