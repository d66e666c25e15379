/* SPDX-License-Identifier: MIT */
/* A YAML file as a tree of texts that know their place. */
#ifndef TL_YAML_NODE_H
#define TL_YAML_NODE_H

#include "tinyladder/design/findings.h"
#include <stdbool.h>
#include <stddef.h>

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

void yaml_free(yaml_tree *root);

/* How many items it has, keys and values of a map each. */
int yaml_items(const yaml_tree *node);

/* The value of a key, or NULL; the key is noted as asked for. */
const yaml_tree *yaml_get(const yaml_tree *map, const char *key);

/* The same of whoever only looks. */
const yaml_tree *yaml_find(const yaml_tree *map, const char *key);

#endif
