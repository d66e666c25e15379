/**
 * @file Constant descriptions in read-only memory.
 *
 * On a Harvard machine a plain `static const` object is copied into RAM at start. Descriptions marked TL_ROM
 * stay in program memory there and are read through tl_rom_copy(). Where a header says that something is
 * TL_ROM, it must be marked so: on such a machine RAM of the same address would be read as program memory,
 * and the other way round. Elsewhere both are plain C.
 */
#ifndef TINYLADDER_ROM_H
#define TINYLADDER_ROM_H

#include <stddef.h>
#include <stdint.h>
#include <string.h>

#if defined(__AVR__)
#include <avr/pgmspace.h>
#define TL_ROM PROGMEM
static inline void tl_rom_copy(void *to, const void *rom, size_t size)
{
    memcpy_P(to, rom, size);
}
static inline uint8_t tl_rom_byte(const void *rom)
{
    return pgm_read_byte(rom);
}
static inline uint16_t tl_rom_word(const void *rom)
{
    return pgm_read_word(rom);
}
static inline const void *tl_rom_pointer(const void *rom)
{
    return pgm_read_ptr(rom);
}
#else
#define TL_ROM
/** Copies size bytes of a TL_ROM object into RAM. */
static inline void tl_rom_copy(void *to, const void *rom, size_t size)
{
    memcpy(to, rom, size);
}
/** A byte, 16 bits, a pointer of a TL_ROM object. */
static inline uint8_t tl_rom_byte(const void *rom)
{
    return *(const uint8_t *)rom;
}
static inline uint16_t tl_rom_word(const void *rom)
{
    uint16_t word;
    memcpy(&word, rom, sizeof word);
    return word;
}
static inline const void *tl_rom_pointer(const void *rom)
{
    const void *pointer;
    memcpy(&pointer, rom, sizeof pointer);
    return pointer;
}
#endif

#endif
