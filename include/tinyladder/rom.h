/* SPDX-License-Identifier: MIT */
/**
 * @file
 * Constant descriptions in read-only memory.
 *
 * On a Harvard machine a plain `static const` object is copied into RAM at start. Descriptions that are
 * marked TL_ROM stay in program memory there: `static const TL_ROM tl_output fan = {...};`. Where a parameter
 * is `const TL_IN_ROM`, it points to such a one, and the compiler knows both kinds of memory apart: an object
 * that was not marked, or one that was and is taken as RAM, is an error. C++ has no such kinds: there the
 * mark is the author's care. Elsewhere both are nothing.
 *
 * Stable: within one minor version calls, macros and structures that you fill in keep their meaning;
 * structures that hold a state may get further members.
 *
 * @code{.c}
 * static const TL_ROM unsigned char segments[] = {0x3f, 0x06, 0x5b, 0x4f, 0x66,
 *                                                 0x6d, 0x7d, 0x07, 0x7f, 0x6f};
 * unsigned char segments_of(unsigned char digit)
 * {
 *     const TL_IN_ROM unsigned char *at = segments + digit % 10;
 *     return *at;
 * }
 * @endcode
 */
#ifndef TINYLADDER_ROM_H
#define TINYLADDER_ROM_H

#if defined(__AVR__) && !defined(__cplusplus)
#if defined(__STRICT_ANSI__) || !defined(__FLASH)
#error "program memory is a kind of memory of GNU C: compile with -std=gnu11 on this machine"
#endif
#pragma GCC diagnostic error "-Waddr-space-convert"
#define TL_ROM __flash
#define TL_IN_ROM __flash
#elif defined(__AVR__)
#define TL_ROM __attribute__((progmem))
#define TL_IN_ROM
#else
#define TL_ROM
#define TL_IN_ROM
#endif

/** A member by its name, where the language has that: `{TL_MEMBER(line) 3, TL_MEMBER(as) 0}`. C++ takes them
 * in their order. */
#ifdef __cplusplus
#define TL_MEMBER(name)
#else
#define TL_MEMBER(name) .name =
#endif

#endif
