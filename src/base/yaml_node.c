/* SPDX-License-Identifier: MIT */
/* A YAML file as a tree: what is in it, and its end. */
#include "base/yaml_node.h"
#include <stdlib.h>
#include <string.h>

int yaml_items(const yaml_tree *node)
{
    return node->kind == YAML_MAP ? 2 * node->count : node->count;
}

static void free_inside(yaml_tree *node)
{
    for (int i = 0; i < yaml_items(node); i++)
        free_inside(&node->items[i]);
    free(node->items);
    free(node->text);
}

void yaml_free(yaml_tree *root)
{
    if (root == NULL)
        return;
    free_inside(root);
    free(root);
}

/* The place of a key among a map's items; -1 where it is not there. */
static int key_at(const yaml_tree *map, const char *key)
{
    for (int i = 0; map != NULL && map->kind == YAML_MAP && i < map->count; i++) {
        const yaml_tree *name = &map->items[2 * i];
        if (name->kind == YAML_TEXT && strcmp(name->text, key) == 0)
            return 2 * i;
    }
    return -1;
}

const yaml_tree *yaml_get(const yaml_tree *map, const char *key)
{
    const int at = key_at(map, key);
    if (at < 0)
        return NULL;
    map->items[at].asked = true;
    return &map->items[at + 1];
}

const yaml_tree *yaml_find(const yaml_tree *map, const char *key)
{
    const int at = key_at(map, key);
    return at < 0 ? NULL : &map->items[at + 1];
}
