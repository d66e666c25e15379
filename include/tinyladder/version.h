/* SPDX-License-Identifier: MIT */
/**
 * @file
 * Which version this is: the one place where it stands.
 *
 * Stable: within one minor version calls, macros and structures that you fill in keep their meaning;
 * structures that hold a state may get further members.
 *
 * @code{.c}
 * #if TINYLADDER_VERSION < 100
 * #error "needs Tiny Ladder 0.1.0"
 * #endif
 * @endcode
 */
#ifndef TINYLADDER_VERSION_H
#define TINYLADDER_VERSION_H

#define TINYLADDER_VERSION_MAJOR 0
#define TINYLADDER_VERSION_MINOR 1
#define TINYLADDER_VERSION_PATCH 0

/** For comparing: 100 is 0.1.0, 10203 is 1.2.3. */
#define TINYLADDER_VERSION                                                                                   \
    (TINYLADDER_VERSION_MAJOR * 10000 + TINYLADDER_VERSION_MINOR * 100 + TINYLADDER_VERSION_PATCH)

#endif
