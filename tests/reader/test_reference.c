/* docs/plan-reference.md is complete: every key that the reader knows is described in its section. */
#include "support.h"
#include <dirent.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

/* Each table of keys in the reader, and the section that describes it. */
static const struct {
    const char *file, *table, *section;
} sections[] = {
    {"read_plan.c", "plan_keys", "Plan"},
    {"read_plan.c", "include_keys", "Plan"},
    {"read_plan.c", "signal_keys", "Signals"},
    {"read_rails.c", "supply_keys", "Supplies"},
    {"read_rails.c", "pin_rail_keys", "Supplies"},
    {"read_rails.c", "shared_keys", "Shared nodes"},
    {"read_source.c", "*", "Sources"},
    {"read_stage.c", "*", "Stages"},
    {"read_reading.c", "*", "Readings"},
    {"read_wiring.c", "mux_keys", "Multiplexers"},
    {"read_wiring.c", "own_keys", "Converters"},
    {"read_wiring.c", "added_keys", "Converters"},
    {"read_wiring.c", "*", "Buses"},
    {"read_output.c", "*", "Outputs"},
    {"read_sweep.c", "*", "Sweeps and meters"},
    {"read_board.c", "board_keys", "Board"},
    {"read_board.c", "converter_keys", "Converter parts"},
    {"read_board.c", "*", "Pins"},
    {"read_converter.c", "*", "Converter parts"},
    {"read_registers.c", "*", "Converter parts"},
    {"read_device.c", "mux_keys", "Multiplexer parts"},
    {"read_device.c", "*", "Converter parts"},
    {"read_drawer.c", "*", "Drawer"},
    {"read_scene.c", "*", "Scene"},
    {"read_waveform.c", "*", "Scene"},
    {"read_fault.c", "meter_keys", "Scene"},
    {"read_fault.c", "*", "Faults"},
    {"reader.c", "keys", "Quantities"},
};

static char *read_whole(const char *path)
{
    FILE *stream = fopen(path, "rb");
    CU_ASSERT_FATAL(stream != NULL);
    char *text = calloc(1, 1 << 18);
    CU_ASSERT_FATAL(text != NULL && fread(text, 1, (1 << 18) - 1, stream) > 0);
    fclose(stream);
    return text;
}

static const char *section_of(const char *file, const char *table)
{
    for (size_t i = 0; i < ROWS(sections); i++) {
        if (strcmp(sections[i].file, file) == 0 &&
            (strcmp(sections[i].table, table) == 0 || sections[i].table[0] == '*'))
            return sections[i].section;
    }
    return NULL;
}

/* Whether a key stands between backticks, as a word of its own, before the next heading. */
static bool is_described(const char *reference, const char *section, const char *key)
{
    char heading[80];
    const size_t length = strlen(key);
    bool code = false;
    snprintf(heading, sizeof heading, "\n## %s\n", section);
    const char *at = strstr(reference, heading);
    const char *end = at != NULL ? strstr(at + 4, "\n## ") : NULL;
    for (at = at != NULL ? at + strlen(heading) : reference + strlen(reference); *at != '\0' && at != end;
         at++) {
        if (*at == '`')
            code = !code;
        const bool begins = code && strchr("` {[,(", at[-1]) != NULL,
                   ends = strchr("` :,})", at[length]) != NULL;
        if (begins && strncmp(at, key, length) == 0 && ends)
            return true;
    }
    return false;
}

/* The keys of one table: every string until its closing brace. */
static int check_table(const char *text, const char *reference, const char *file)
{
    char table[60] = "", key[60];
    int keys = 0;
    (void)sscanf(text, "known_key %59[a-z_]", table);
    const char *section = section_of(file, table), *end = strstr(text, "};");
    CHECK_ROW(table, section != NULL && end != NULL);
    for (const char *at = strchr(text, '"'); section != NULL && at != NULL && at < end;
         at = strchr(at + 1, '"')) {
        if (sscanf(at, "\"%59[a-z-]\"", key) != 1)
            continue;
        const bool described = is_described(reference, section, key);
        CHECK_ROW(key, described);
        if (!described)
            printf("\n  '%s' of %s in %s is not described under '%s'\n", key, table, file, section);
        at = strchr(at + 1, '"');
        keys++;
    }
    return keys;
}

static void describes_every_key(void)
{
    char *reference = read_whole(TL_SOURCE "/docs/plan-reference.md");
    DIR *folder = opendir(TL_SOURCE "/src/reader");
    CU_ASSERT_FATAL(folder != NULL);
    int keys = 0;
    for (struct dirent *entry; (entry = readdir(folder)) != NULL;) {
        char path[600];
        const char *end = strrchr(entry->d_name, '.');
        if (end == NULL || strcmp(end, ".c") != 0)
            continue;
        snprintf(path, sizeof path, TL_SOURCE "/src/reader/%s", entry->d_name);
        char *text = read_whole(path);
        for (const char *at = text; (at = strstr(at, "static const known_key ")) != NULL; at++)
            keys += check_table(at + strlen("static const "), reference, entry->d_name);
        free(text);
    }
    closedir(folder);
    CU_ASSERT(keys > 200);
    CU_ASSERT(!is_described(reference, "Plan", "no-such-key"));
    free(reference);
}

CU_TestInfo reference_tests[] = {
    {"describes every key", describes_every_key},
    CU_TEST_INFO_NULL,
};
