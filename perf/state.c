/* SPDX-License-Identifier: MIT */
/* What a signal costs in RAM: an array as large as each state, for the symbol table to tell. */
#include <tinyladder/core.h>

#define STATE(type) char size_of_##type[sizeof(type)];
STATE(tl_scale)
STATE(tl_button)
STATE(tl_hold)
STATE(tl_pulse)
STATE(tl_rhythm)
STATE(tl_pattern)
STATE(tl_fault)
STATE(tl_peak)
STATE(tl_mean)
STATE(tl_window) STATE(tl_exponential) STATE(tl_oversample) STATE(tl_lines) STATE(tl_sweep) STATE(tl_sample)
