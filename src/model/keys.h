/* SPDX-License-Identifier: MIT */
/*
 * Every key of the language, a row each: what it is called, what its value looks like, what is taken where it
 * is left out, and a sentence for people. "Did you mean", the reference (docs/plan-reference.md),
 * the schemas (schema/) and `tinyladder new` are made from these rows, and take_keys() reads by them: what
 * has a field goes there; the rest is taken by its name in the reader of its section.
 */
#ifndef TL_KEYS_H
#define TL_KEYS_H

#include "tinyladder/design/quantity.h"
#include <stdbool.h>
#include <stddef.h>
#include <stdint.h>

/* What a value looks like. */
typedef enum {
    KEY_TEXT,        /* any text */
    KEY_NAME,        /* the name of something that is there */
    KEY_FILE,        /* of a file beside this one */
    KEY_FILES,       /* one, or a list of them */
    KEY_WHOLE,       /* a whole number, least .. most */
    KEY_WHOLES,      /* one, or a list of them, or a range of them */
    KEY_QUANTITY,    /* of a dimension, with a tolerance or a range; or {range, typical} */
    KEY_VALUE,       /* of a dimension, one value */
    KEY_VALUES,      /* one, or a list of them */
    KEY_LEVEL,       /* volts, or a share of a rail */
    KEY_LEVELS,      /* two of them: LOW .. HIGH */
    KEY_WORD,        /* one of `words` */
    KEY_WORDS,       /* one, or a list of them */
    KEY_YES,         /* yes or no */
    KEY_NAMES,       /* a list of names, or ranges of names */
    KEY_LIST,        /* a list of another shape: see the sentence */
    KEY_MAP,         /* keys of a section */
    KEY_TEXT_OR_MAP, /* a short form, or keys of a section */
    KEY_NAMED,       /* names, each with keys of a section (or its short form) */
    KEY_MAPS,        /* one, or a list, of a section's */
    KEY_STAGES,      /* a list of stages */
    KEY_SOURCE,      /* keys of the one source whose own key stands there */
    KEY_READING,     /* keys of an analog or a digital reading */
    KEY_FAULT,       /* a list of faults, each with its own key */
    KEY_FREE         /* as the sentence says */
} key_form;

/* What a value becomes, and in what kind of field. */
typedef enum {
    INTO_CODE,     /* nothing by itself: the section's reader takes it */
    INTO_NOTHING,  /* said to people alone */
    INTO_LOCATED,  /* tl_located: a quantity */
    INTO_PART,     /* tl_located: a quantity above 0, since a part of 0 ohm is none */
    INTO_QUANTITY, /* tl_quantity */
    INTO_OHMS,     /* tl_quantity above 0 */
    INTO_VALUE,    /* double: one value */
    INTO_SIZE,     /* double: the largest size of `5 mV` or `±5 mV` */
    INTO_LEVEL,    /* tl_level */
    INTO_LEVELS,   /* two of them, one behind the other */
    INTO_RAIL,     /* int: a rail by name, or ground */
    INTO_SUPPLY,   /* int: a rail by name */
    INTO_WORD,     /* int, or an enum: which of `words` */
    INTO_SECOND,   /* bool: the second of two words */
    INTO_WHOLE,    /* int */
    INTO_LONG,     /* long */
    INTO_COUNT,    /* double: a whole number */
    INTO_YES       /* bool */
} key_into;

/* Where it goes in the structure that the section is read into. */
typedef struct {
    key_into into;
    size_t at, place; /* offsets of the field, and of a tl_place that notes where it stands; or NOWHERE */
    bool otherwise;   /* the row's `otherwise` is taken where the key is left out */
} key_binding;

#define NOWHERE SIZE_MAX
#define BY_CODE                                                                                              \
    {                                                                                                        \
        INTO_CODE, NOWHERE, NOWHERE, false                                                                   \
    }
#define FOR_PEOPLE                                                                                           \
    {                                                                                                        \
        INTO_NOTHING, NOWHERE, NOWHERE, false                                                                \
    }
#define INTO(what, type, field)                                                                              \
    {                                                                                                        \
        INTO_##what, offsetof(type, field), NOWHERE, false                                                   \
    }
#define OR_ELSE(what, type, field)                                                                           \
    {                                                                                                        \
        INTO_##what, offsetof(type, field), NOWHERE, true                                                    \
    }
#define PLACED(what, type, field, where)                                                                     \
    {                                                                                                        \
        INTO_##what, offsetof(type, field), offsetof(type, where), false                                     \
    }

typedef struct key_section key_section;

typedef struct {
    const char *name;
    bool needed;
    key_form form;
    tl_dimension dimension; /* of quantities and values */
    const char *words;      /* `low|high`, of words; of whole numbers `0..6` */
    const char *otherwise;  /* what is taken where it is left out; NULL where that is nothing */
    const char *sentence;   /* what it means */
    const char *example;
    const key_section *section; /* of maps */
    key_binding binding;
} known_key;

struct key_section {
    const char *id;        /* in schemas and in the reference */
    const char *what;      /* in messages: "a divider" */
    const known_key *keys; /* ends with a NULL name */
};

/* Files. */
extern const key_section keys_plan, keys_include, keys_board, keys_converter_file, keys_mux_file, keys_drawer, keys_plug_in,
    keys_scene, keys_observed;
/* Sections of a plan. */
extern const key_section keys_supply, keys_pin_rail, keys_shared, keys_signal, keys_mux, keys_bus,
    keys_i2c_pins, keys_spi_pins, keys_own_converter, keys_added_converter, keys_output, keys_driver,
    keys_load, keys_into, keys_sweep, keys_meter, keys_module, keys_module_pin;
/* Sources, stages, readings. */
extern const key_section keys_rail, keys_voltage, keys_current, keys_resistance, keys_potentiometer,
    keys_bridge, keys_chain, keys_star, keys_contact, keys_collector, keys_logic;
extern const key_section *const all_sources[]; /* ends with NULL; the first key of each says which it is */
extern const key_section keys_divider, keys_pull, keys_partner, keys_filter, keys_capacitor, keys_follower,
    keys_shifter, keys_clamp;
/* A stage by its key; section NULL where it is written as one value only. */
typedef struct {
    const char *name;
    bool text; /* may be one value */
    const key_section *section;
    const char *sentence, *example;
} known_stage;
extern const known_stage all_stages[]; /* ends with a NULL name */
extern const key_section keys_analog_reading, keys_digital_reading, keys_percent, keys_windows, keys_trim,
    keys_restated_word;
/* Boards and parts. */
extern const key_section keys_limits, keys_pin, keys_internal, keys_wired, keys_converter, keys_word,
    keys_sampling, keys_errors, keys_frame, keys_register, keys_entry, keys_typical;
/* Scenes. */
extern const key_section keys_wave, keys_steps, keys_values_file, keys_repeat, keys_scene_meter, keys_setting,
    keys_situation;
extern const key_section
    *const all_faults[]; /* by tl_scene_fault_kind; ends with NULL; the first key says which it is */

/* The kinds of file, by the word of their first line. */
typedef struct {
    const char *kind;
    const key_section *section;
} file_kind;
extern const file_kind file_kinds[]; /* ends with a NULL kind */

/* --- reading words and numbers of a row --- */

/* The i-th of `low|high`; 0 where there is none. Answers its length. */
int key_word(const char *words, int i, const char **word);
/* Of `0..6`; false where the row has no bounds. */
bool key_bounds(const known_key *key, long *least, long *most);

#endif
