/* SPDX-License-Identifier: MIT */
/* A record as a value change dump (IEEE 1364): levels, counts and values, as logic analysers and wave viewers
 * read them. */
#ifndef TL_VCD_WRITE_H
#define TL_VCD_WRITE_H

#include "record/record_row.h"

typedef struct vcd_dump vcd_dump;

/* Of the signals of a run, and of all outputs. */
vcd_dump *vcd_dump_new(const recorded_run *of);
void vcd_dump_free(vcd_dump *dump);
/* The text that begins a file, and that of one time's rows: what has changed since. To be freed. */
char *vcd_dump_head(vcd_dump *dump);
char *vcd_dump_rows(vcd_dump *dump, const record_row *rows, int count);

#endif
