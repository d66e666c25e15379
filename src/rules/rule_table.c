/* SPDX-License-Identifier: MIT */
/* The rules as a table, from their rows; and rules by their slug, those of the readers too. */
#include "rules/check.h"
#include "tinyladder/design/rules.h"
#include <string.h>

/* What a rule compares. */
#define ASKS(dimension) (1u << TL_DIM_##dimension)
#define ASKS_THE_PLAN 0u

static const tl_rule rules[] = {
#define RULE(id, ...) [TL_RULE_##id] = {__VA_ARGS__},
#include "rules/rule_rows.inc"
#undef RULE
};

const tl_rule *tl_plan_rules(int *count)
{
    *count = (int)(sizeof rules / sizeof rules[0]);
    return rules;
}

const tl_rule *tl_plan_rule(const char *slug)
{
    int count;
    const tl_rule *of_files = tl_file_rules(&count);
    for (size_t i = 0; i < sizeof rules / sizeof rules[0]; i++) {
        if (strcmp(rules[i].slug, slug) == 0)
            return &rules[i];
    }
    for (int i = 0; i < count; i++) {
        if (strcmp(of_files[i].slug, slug) == 0)
            return &of_files[i];
    }
    return NULL;
}
