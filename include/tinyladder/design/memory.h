/* SPDX-License-Identifier: MIT */
/**
 * @file
 * Memory that runs out on the host: work that is attempted ends with a status, not with the program.
 *
 * Stable: within one ABI number of libtinyladder-host (abi/host.map, abi/host.layout) no call, structure or
 * constant here changes.
 *
 * @code{.c}
 * static void work(void *context)
 * {
 *     *(bool *)context = true; // calls of the library, which may find no memory
 * }
 * bool do_it(void)
 * {
 *     bool done = false;
 *     return tl_attempt(work, &done) && done;
 * }
 * @endcode
 */
#ifndef TINYLADDER_MEMORY_H
#define TINYLADDER_MEMORY_H

#include <stdbool.h>

#ifdef __cplusplus
extern "C" {
#endif

/**
 * Runs `work`, and is back at once where memory runs out in it. Attempts may stand in one another: the
 * outermost is left. Each thread has its own.
 *
 * What was half made is lost with its memory: take up nothing that the work has not handed over, and begin
 * anew. Outside of any attempt a call that finds no memory ends the process with status 1.
 *
 * @return Whether the work came to its end.
 */
bool tl_attempt(void (*work)(void *context), void *context);

#ifdef __cplusplus
}
#endif
#endif
