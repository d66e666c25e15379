/* SPDX-License-Identifier: MIT */
/* A converter, a clock of 4 us and one port of eight lines: an 8-bit AVR's own, on others at made-up
 * addresses. Images are measured, never run. */
#ifndef LINKED_BOARD_H
#define LINKED_BOARD_H

#include <stdint.h>

#if defined(__AVR__)
#include <avr/io.h>
#define CONVERT(channel) (ADMUX = (uint8_t)(0x40 | (channel)), ADCSRA |= 1 << 6)
#define CONVERTING ((ADCSRA & 1 << 6) != 0)
#define RESULT ADC
#define TICKS TCNT1
#define LINES_OUT PORTB
#define LINES_IN PINB
#define LINES_USE DDRB
#else
#define REGISTER(n) (*(volatile uint32_t *)(0x40000000u + 4u * (n)))
#define CONVERT(channel) (REGISTER(0) = 0x40u | (channel))
#define CONVERTING ((REGISTER(1) & 1) != 0)
#define RESULT REGISTER(2)
#define TICKS REGISTER(3)
#define LINES_OUT REGISTER(4)
#define LINES_IN REGISTER(5)
#define LINES_USE REGISTER(6)
#endif

#endif
