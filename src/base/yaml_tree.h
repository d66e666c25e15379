/* SPDX-License-Identifier: MIT */
/*
 * Reading a YAML file as a tree. Built from libfyaml's events, so that nothing is resolved, expanded or
 * guessed: aliases, anchors and tags are refused where they stand.
 */
#ifndef TL_YAML_TREE_H
#define TL_YAML_TREE_H

#include "base/yaml_node.h"

enum { TL_FILE_LARGEST = 1 << 20, TL_YAML_DEEPEST = 24 };

/* Whether a file may be taken into the one that names it: it lies below that one's folder, or the report
 * allows others. Says why not. */
bool may_join(const char *path, tl_place asked_from, const char *file, tl_report *report);

/* Takes a file into the report's files: text, not too large, nothing that costs dearly. Its number there, or
 * -1. */
int load_text_file(const char *path, tl_place asked_from, tl_report *report);

/*
 * Reads one file; what others name is read once for a report. The tree is the report's, which keeps it with
 * the text. Every failure is reported with its place and answered with NULL. slug "unreadable-file" is used
 * where the file itself cannot be read, "syntax" where it is no YAML of the kind we take.
 */
const yaml_tree *yaml_read_file(const char *path, tl_place asked_from, tl_report *report);

#endif
