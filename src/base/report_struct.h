/* SPDX-License-Identifier: MIT */
/* What a report is made of: for the readers that fill it. Whoever only looks has
 * tinyladder/design/findings.h. */
#ifndef TL_REPORT_STRUCT_H
#define TL_REPORT_STRUCT_H

#include "tinyladder/design/findings.h"

typedef struct tl_report_file {
    char *path;
    char *text;
    size_t size;
    bool hidden; /* it may be anybody's: not a line of it is shown */
    struct yaml_tree *root; /* of a YAML file that could be read; else NULL */
} tl_report_file;

struct tl_report {
    tl_finding *findings;
    int count;
    tl_report_file *files;
    int file_count;
    bool outside;            /* files that join a plan may lie outside its folder; false to begin with */
    tl_report_file *instead; /* see tl_report_instead() */
    int instead_count;
};

#endif
