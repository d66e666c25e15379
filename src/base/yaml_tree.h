/* SPDX-License-Identifier: MIT */
/*
 * A YAML file as a tree of texts that know their place. Built from libfyaml's events, so that nothing is
 * resolved, expanded or guessed: aliases, anchors and tags are refused where they stand.
 */
#ifndef TL_YAML_TREE_H
#define TL_YAML_TREE_H

#include "tinyladder/design/findings.h"
#include <stdbool.h>

enum { TL_FILE_LARGEST = 1 << 20, TL_YAML_DEEPEST = 24 };

typedef enum { YAML_TEXT, YAML_LIST, YAML_MAP } yaml_kind;

typedef struct yaml_tree yaml_tree;
struct yaml_tree {
    yaml_kind kind;
    tl_place place;
    size_t begin, end; /* the bytes of the file that it takes, quotes and brackets included */
    char *text;        /* of a text */
    yaml_tree *items;  /* of a list; of a map key, value, key, value ... */
    int count;         /* items, or pairs */
    bool asked;        /* of a key: yaml_get() was asked for it */
};

/* Whether a file may be taken into the one that names it: it lies below that one's folder, or the report
 * allows others. Says why not. */
bool may_join(const char *path, tl_place asked_from, const char *file, tl_report *report);

/* Takes a file into the report's files: text, not too large, nothing that costs dearly. Its number there, or
 * -1. */
int load_text_file(const char *path, tl_place asked_from, tl_report *report);

/*
 * Reads one file. Every failure is reported with its place and answered with NULL. slug "unreadable-file" is
 * used where the file itself cannot be read, "syntax" where it is no YAML of the kind we take.
 */
yaml_tree *yaml_read_file(const char *path, tl_place asked_from, tl_report *report);
/* The same from a text that was a file's. */
yaml_tree *yaml_read_text(const char *text, size_t size, tl_report *report);
void yaml_free(yaml_tree *root);

/* The value of a key, or NULL; the key is noted as asked for. */
const yaml_tree *yaml_get(const yaml_tree *map, const char *key);

/* The same of whoever only looks. */
const yaml_tree *yaml_find(const yaml_tree *map, const char *key);

#endif
