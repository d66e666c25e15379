/* An 8-bit AVR, instruction by instruction, with D2 high and 2.5 V of 5 V on channel 0; prints what it says.
 */
#include <simavr/avr_adc.h>
#include <simavr/avr_ioport.h>
#include <simavr/sim_avr.h>
#include <simavr/sim_elf.h>
#include <simavr/sim_io.h>
#include <stdio.h>
#include <stdlib.h>

static void print_character(struct avr_t *avr, avr_io_addr_t address, uint8_t byte, void *param)
{
    (void)avr;
    (void)address;
    (void)param;
    putchar(byte);
}

int main(int argc, char **argv)
{
    const avr_cycle_count_t enough = 4000000000u;
    elf_firmware_t firmware = {0};
    if (argc != 5 || elf_read_firmware(argv[1], &firmware) != 0) {
        fprintf(stderr, "usage: simulate FIRMWARE CHIP HERTZ CHARACTER_ADDRESS\n");
        return 2;
    }
    avr_t *avr = avr_make_mcu_by_name(argv[2]);
    if (avr == NULL)
        return 2;
    avr_init(avr);
    avr_load_firmware(avr, &firmware);
    avr->frequency = (uint32_t)strtoul(argv[3], NULL, 0);
    avr->vcc = avr->avcc = avr->aref = 5000;
    avr_register_io_write(avr, (avr_io_addr_t)strtoul(argv[4], NULL, 0), print_character, NULL);
    avr_raise_irq(avr_io_getirq(avr, AVR_IOCTL_ADC_GETIRQ, ADC_IRQ_ADC0), 2500);
    avr_raise_irq(avr_io_getirq(avr, AVR_IOCTL_IOPORT_GETIRQ('D'), 2), 1);
    int state = cpu_Running;
    while (state != cpu_Done && state != cpu_Crashed && avr->cycle < enough)
        state = avr_run(avr);
    return state == cpu_Done ? 0 : 1;
}
