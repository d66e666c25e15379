/* SPDX-License-Identifier: MIT */
/* Boards, drawers and scenes that cannot be read, and files that are damaged anywhere. */
#include "reader/bad_file.h"
#include "tinyladder/design/scene.h"
#include <stdlib.h>
#include <unistd.h>

#define BOARD                                                                                                \
    "tinyladder: board 1\ntitle: B\nsupplies: {v: 5 V}\nevery-pin: {supply: v, limits: 0 V .. rail, vil: 1 " \
    "V, vih: 2 V}\n"
#define REGISTERS                                                                                            \
    "converters: {main: {bits: 10, steps: full, word: {}, references: {v: v}, sampling: {capacitor: 5 pF, "  \
    "switch: 1k}, acquisition: [1 us], conversion: 1 us,\n registers: {r: {width: 8, fields: "
#define CONVERTER                                                                                            \
    "converters: {main: {bits: 10, steps: full, word: {}, references: {v: v}, sampling: {capacitor: 5 pF, "  \
    "switch: 1k}, acquisition: [1 us], conversion: 1 us}}\n"
#define SCENE "tinyladder: scene 1\nlength: 1 min\n"

static void boards_are_refused_at_the_place(void)
{
    static const bad_file rows[] = {
        {"17 bits",
         BOARD "pins: {A: {}}\nconverters: {main: {bits: 17, steps: full, word: {}, references: {v: v}, "
               "sampling: {capacitor: 5 pF, switch: 1k}, acquisition: [1 us], conversion: 1 us}}\n",
         "bad-number", 6, 27, "4 to 16"},
        {"only the high byte",
         BOARD "pins: {A: {}}\nconverters: {main: {bits: 12, steps: full, word: {align: left, in: 16, bytes: "
               "high-only}, references: {v: v}, "
               "sampling: {capacitor: 5 pF, switch: 1k}, acquisition: [1 us], conversion: 1 us}}\n",
         "unknown-word", 6, 79, "8 bits"},
        {"a reference of 0 V", BOARD "pins: {A: {}}\nconverters: {main: {bits: 10, steps: full, word: {}, references: {v: 0 V}, sampling: {capacitor: 5 pF, switch: 1k}, acquisition: [1 us], conversion: 1 us}}\n", "bad-quantity", 6, 0, "a reference must be above 0 V"},
        {"references that are none", BOARD "pins: {A: {}}\nconverters: {main: {bits: 10, steps: full, word: {}, references: [v], sampling: {capacitor: 5 pF, switch: 1k}, acquisition: [1 us], conversion: 1 us}}\n", "wrong-shape", 6, 0, ""},
        {"no references", BOARD "pins: {A: {}}\nconverters: {main: {bits: 10, steps: full, word: {}, references: {}, sampling: {capacitor: 5 pF, switch: 1k}, acquisition: [1 us], conversion: 1 us}}\n", "wrong-shape", 6, 0, ""},
        {"one that is no text", BOARD "pins: {A: {}}\nconverters: {main: {bits: 10, steps: full, word: {}, references: {v: [1]}, sampling: {capacitor: 5 pF, switch: 1k}, acquisition: [1 us], conversion: 1 us}}\n", "wrong-shape", 6, 0, ""},
        {"a range that is not even", BOARD "pins: {A: {}}\nconverters: {main: {bits: 10, steps: full, word: {}, references: {v: v}, sampling: {capacitor: 5 pF, switch: 1k}, acquisition: [1 us], conversion: 1 us, ranges: [1 V .. 2 V]}}\n", "bad-quantity", 6, 0, ""},
        {"a capacitor of nothing", BOARD "pins: {A: {}}\nconverters: {main: {bits: 10, steps: full, word: {}, references: {v: v}, sampling: {capacitor: 0 pF, switch: 1k}, acquisition: [1 us], conversion: 1 us}}\n", "bad-quantity", 6, 0, "above 0"},
        {"charged before", BOARD "pins: {A: {}}\nconverters: {main: {bits: 10, steps: full, word: {}, references: {v: v}, sampling: {capacitor: 5 pF, switch: 1k, starts-from: 99 kV}, acquisition: [1 us], conversion: 1 us}}\n", "unknown-word", 6, 0, "starts-from cannot be"},
        {"no times", BOARD "pins: {A: {}}\nconverters: {main: {bits: 10, steps: full, word: {}, references: {v: v}, sampling: {capacitor: 5 pF, switch: 1k}, acquisition: [], conversion: 1 us}}\n", "wrong-shape", 6, 0, "acquisition lists 1 to"},
        {"a time of nothing", BOARD "pins: {A: {}}\nconverters: {main: {bits: 10, steps: full, word: {}, references: {v: v}, sampling: {capacitor: 5 pF, switch: 1k}, acquisition: [0 us], conversion: 1 us}}\n", "bad-quantity", 6, 0, ""},
        {"two converters", BOARD "pins: {A: {}}\nconverters: {main: {bits: 10, steps: full, word: {}, references: {v: v}, sampling: {capacitor: 5 pF, switch: 1k}, acquisition: [1 us], conversion: 1 us}, other: {bits: 10, steps: full, word: {}, references: {v: v}, sampling: {capacitor: 5 pF, switch: 1k}, acquisition: [1 us], conversion: 1 us}}\n", "wrong-shape", 6, 0, ""},
        {"converters in a list", BOARD "pins: {A: {}}\nconverters: [1]\n", "wrong-shape", 6, 0, ""},
        {"pins in a list", BOARD "pins: [A]\n" CONVERTER, "wrong-shape", 5, 0, ""},
        {"more than 256 pins", BOARD "pins: {A0 .. A255: {}, B0: {}}\n" CONVERTER, "bad-number", 5, 0, "more than 256 pins"},
        {"one channel for two", BOARD "pins: {A1 .. A2: {channel: 3}}\n" CONVERTER, "bad-number", 5, 0, "cannot all have number 3"},
        {"a header of unequal rows", BOARD "pins: {A: {}}\nheader: [[A, A], [A]]\n" CONVERTER, "wrong-shape", 6, 0, "equally long"},
        {"registers in a list", BOARD "pins: {A: {}}\nconverters: {main: {bits: 10, steps: full, word: {}, references: {v: v}, sampling: {capacitor: 5 pF, switch: 1k}, acquisition: [1 us], conversion: 1 us, registers: [1]}}\n", "wrong-shape", 6, 0, "registers are written as names"},
        {"fields in a list", BOARD "pins: {A: {}}\nconverters: {main: {bits: 10, steps: full, word: {}, references: {v: v}, sampling: {capacitor: 5 pF, switch: 1k}, acquisition: [1 us], conversion: 1 us, registers: {r: {width: 8, fields: [1]}}}}\n", "wrong-shape", 6, 0, ""},
        {"channel twice", BOARD "pins: {A: {channel: 0}, B: {channel: 0}}\n" CONVERTER, "channel-twice", 5,
         25, "belongs to A"},
        {"pin twice", BOARD "pins: {A1 .. A3: {}, A2: {}}\n" CONVERTER, "key-twice", 5, 22, "twice"},
        {"numbers beyond any", BOARD "pins: {A1 .. A3: {channel: 254 .. 256}}\n" CONVERTER, "bad-number", 5, 28,
         "from 0 to 255"},
        {"numbers do not count along", BOARD "pins: {A1 .. A3: {channel: 0 .. 3}}\n" CONVERTER, "bad-number",
         5, 28, "3 numbers"},
        {"range of names backwards", BOARD "pins: {A3 .. A1: {}}\n" CONVERTER, "bad-name", 5, 8,
         "is no name"},
        {"no limits",
         "tinyladder: board 1\ntitle: B\nsupplies: {v: 5 V}\nevery-pin: {supply: v, vil: 1 V, vih: 2 "
         "V}\npins: {A: {}}\n" CONVERTER,
         "missing-key", 4, 12, "'limits'"},
        {"level without unit",
         "tinyladder: board 1\ntitle: B\nsupplies: {v: 5 V}\nevery-pin: {supply: v, limits: 0 V .. rail, "
         "vil: 1, vih: 2 V}\npins: {A: {}}\n" CONVERTER,
         "bad-quantity", 4, 51, "'1' has no unit"},
        {"acquisition falls",
         BOARD "pins: {A: {}}\nconverters: {main: {bits: 10, steps: full, word: {}, references: {v: v}, "
               "sampling: {capacitor: 5 pF, switch: 1k}, acquisition: [2 us, 1 us], conversion: 1 us}}\n",
         "bad-quantity", 6, 135, "rise"},
        {"a conversion that takes years",
         BOARD
         "pins: {A: {}}\nconverters: {main: {bits: 10, steps: full, word: {}, references: {v: v}, "
         "sampling: {capacitor: 5 pF, switch: 1k}, acquisition: [1 us, 2 us], conversion: 2147483648 us}}\n",
         "bad-quantity", 6, 154, "0 s to 100 s"},
        {"fields that overlap", BOARD "pins: {A: {}}\n" REGISTERS "{a: {bits: 0 .. 3}, b: {bits: 3}}}}}}\n",
         "fields-overlap", 7, 56, "'b' overlaps 'a' in bit 3"},
        {"bit outside the register", BOARD "pins: {A: {}}\n" REGISTERS "{a: {bits: 8}}}}}}\n", "bad-number",
         7, 47, "0 .. 7"},
        {"bits the wrong way round", BOARD "pins: {A: {}}\n" REGISTERS "{a: {bits: 3 .. 0}}}}}}\n",
         "bad-number", 7, 47, "lower one first"},
        {"value that does not fit", BOARD "pins: {A: {}}\n" REGISTERS "{a: {bits: 0 .. 1, x: 4}}}}}}\n",
         "bad-number", 7, 58, "from 0 to 3"},
        {"field without bits", BOARD "pins: {A: {}}\n" REGISTERS "{a: {x: 4}}}}}}\n", "missing-key", 7, 40,
         "needs 'bits'"},
        {"field twice",
         BOARD "pins: {A: {}}\n" REGISTERS "{a: {bits: 0}}}, q: {width: 8, fields: {a: {bits: 1}}}}}}\n",
         "key-twice", 7, 76, "in register 'r'"},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        tl_report *report = tl_report_new();
        CHECK_ROW(rows[i].name,
                  tl_board_load(scratch_file("bad.board.yaml", rows[i].text, strlen(rows[i].text)), report) ==
                      NULL);
        check_report(&rows[i], report);
        tl_report_free(report);
    }
    tl_report *report = tl_report_new();
    tl_board *board = tl_board_load(
        scratch_file("good.board.yaml",
                     BOARD "pins: {A1 .. A3: {position: 5 .. 7, channel: 2 .. 4}}\n" CONVERTER,
                     strlen(BOARD "pins: {A1 .. A3: {position: 5 .. 7, channel: 2 .. 4}}\n" CONVERTER)),
        report);
    CU_ASSERT(board != NULL && tl_report_count(report) == 0);
    if (board != NULL)
        CU_ASSERT(board->pin_count == 3 && strcmp(board->pins[2].name, "A3") == 0 &&
                  board->pins[2].position == 7 && board->pins[2].channel == 4);
    tl_board_free(board);
    tl_report_free(report);
}

#define DEVICE                                                                                               \
    "tinyladder: converter 1\nbus: i2c\nsupply: 3 V .. 5 V\nbits: 12\nsteps: half\nword: {in: 16}\nranges: " \
    "[±1 V]\ninputs: [x]\nlimits: 0 V .. rail\n"
#define TWO                                                                                                  \
    "registers: {one: {width: 8, address: 1, fields: {a: {bits: 0}}}, two: {width: 8, fields: {b: {bits: "   \
    "0}}}}\n"

#define SPI_OF(align, in)                                                                                    \
    "tinyladder: converter 1\nbus: spi\nsupply: 3 V .. 5 V\nbits: 10\nsteps: half\nword: {align: " align     \
    ", in: " #in "}\nranges: [0 V .. 1 V]\ninputs: [x]\n"

/* Line 10 is the registers', line 11 the frame's. */
static void frames_are_read_and_refused(void)
{
    static const bad_file rows[] = {
        {"address of a register",
         DEVICE "registers: {one: {width: 8, address: 256, fields: {a: {bits: 0}}}}\n"
                "frame: {result: 0, longest: 1 ms}\n",
         "bad-number", 10, 38, "0 to 255"},
        {"one address twice",
         DEVICE
         "registers: {one: {width: 8, address: 1, fields: {a: {bits: 0}}}, two: {width: 8, address: 0x01, "
         "fields: {b: {bits: 0}}}}\nframe: {result: 0, longest: 1 ms}\n",
         "key-twice", 10, 91, "'one' has this address"},
        {"a register that is misspelt", DEVICE TWO "frame: {settings: onw, result: 0, longest: 1 ms}\n",
         "unknown-word", 11, 19, "did you mean 'one'?"},
        {"a register without an address", DEVICE TWO "frame: {settings: two, result: 0, longest: 1 ms}\n",
         "missing-key", 11, 19, "'two' has no 'address'"},
        {"a register beyond a byte", DEVICE TWO "frame: {settings: 1, result: 0x100, longest: 1 ms}\n",
         "bad-number", 11, 30, "from 0 to 255"},
        {"a ready bit without its word",
         DEVICE TWO "frame: {settings: 1, result: 0, ready: 7, longest: 1 ms}\n", "bad-number", 11, 40,
         "is written 'bit 7'"},
        {"a ready bit at another level",
         DEVICE TWO "frame: {settings: 1, result: 0, ready: bit 7 is 2, longest: 1 ms}\n", "bad-number", 11,
         40, "is written"},
        {"a ready bit with more behind it",
         DEVICE TWO "frame: {settings: 1, result: 0, ready: bit 7 of one or so, longest: 1 ms}\n",
         "bad-number", 11, 40, "is written"},
        {"a ready bit of no register",
         DEVICE TWO "frame: {settings: 1, result: 0, ready: bit 7 of tow, longest: 1 ms}\n", "unknown-word",
         11, 40, "did you mean 'two'?"},
        {"a field that is not there",
         DEVICE TWO "frame: {settings: 1, result: 0, also: {c: 1}, longest: 1 ms}\n", "unknown-word", 11, 40,
         "no register has a field 'c'"},
        {"a value that it has not",
         DEVICE TWO "frame: {settings: 1, result: 0, also: {a: 2}, longest: 1 ms}\n", "unknown-word", 11, 43,
         "does not fit into a"},
        {"fewer bits taken than the code has", SPI_OF("right", 16) "frame: {send: [1], take: 9}\n",
         "word-unfit", 9, 26, "9 bits are taken: a code of 10 bits in a word of 16 wants 10 to 16"},
        {"more bits taken than the word has", SPI_OF("right", 12) "frame: {send: [1], take: 13}\n",
         "word-unfit", 9, 26, "10 to 12"},
        {"a word aligned left of which a part is taken", SPI_OF("left", 16) "frame: {send: [1], take: 10}\n",
         "word-unfit", 9, 26, "a word of 16 bits that is aligned left wants all of them"},
        {"a stretched word of which a part is taken",
         SPI_OF("stretched", 16) "frame: {send: [1], take: 10}\n", "word-unfit", 9, 26,
         "stretched wants all of them"},
        {"what is sent", DEVICE TWO "frame: {send: [1, canal], take: 12, longest: 1 ms}\n", "unknown-word",
         11, 19, "a field of the file's registers"},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        tl_report *report = tl_report_new();
        const char *path = scratch_file("bad.converter.yaml", rows[i].text, strlen(rows[i].text));
        CHECK_ROW(rows[i].name, tl_converter_load(path, report) == NULL);
        check_report(&rows[i], report);
        tl_report_free(report);
    }
}

/* Every field of the demo's registers: what is put in comes out, by number and by name, and nothing else
 * changes. */
static void register_fields_keep_to_themselves(void)
{
    tl_report *report = tl_report_new();
    tl_board *board = tl_board_load(TL_SOURCE "/demo/lapwing.board.yaml", report);
    CU_ASSERT_FATAL(board != NULL && board->converter.register_count == 2);
    for (int r = 0; r < board->converter.register_count; r++) {
        const tl_register *reg = &board->converter.registers[r];
        for (int f = 0; f < reg->field_count; f++) {
            const tl_field *field = &reg->fields[f];
            const unsigned long most = tl_field_get(field, ~0ul);
            for (unsigned long n = 0; n <= most; n++) {
                char text[24], why[160];
                unsigned long zeros = 0, ones = ~0ul;
                snprintf(text, sizeof text, n % 2 ? "0x%lx" : "%lu", n);
                CU_ASSERT(tl_field_set(field, text, &zeros, why) && tl_field_set(field, text, &ones, why));
                CU_ASSERT(tl_field_get(field, zeros) == n && tl_field_get(field, ones) == n);
                CU_ASSERT(zeros == n << field->low && ones == (~0ul ^ ((most ^ n) << field->low)));
                const char *name = tl_field_value_name(field, n);
                CU_ASSERT(name == NULL ||
                          (tl_field_set(field, name, &zeros, why) && tl_field_get(field, zeros) == n));
            }
        }
    }
    tl_board_free(board);
    tl_report_free(report);
}

static void drawers_are_read_and_refused(void)
{
    static const bad_file rows[] = {
        {"no tolerance", "tinyladder: drawer 1\nresistors: [{values: [1k]}]\n", "missing-key", 2, 13,
         "needs 'tolerance'"},
        {"neither series nor values", "tinyladder: drawer 1\nresistors: [{tolerance: 1 %}]\n", "missing-key",
         2, 13, "either"},
        {"series without span", "tinyladder: drawer 1\nresistors: [{preferred: E12, tolerance: 1 %}]\n",
         "missing-key", 2, 25, "'over'"},
        {"no such series",
         "tinyladder: drawer 1\nresistors: [{preferred: E13, over: 1k .. 2k, tolerance: 1 %}]\n",
         "unknown-word", 2, 25, "no series"},
        {"zero ohms", "tinyladder: drawer 1\nresistors: [{values: [0 ohm], tolerance: 1 %}]\n", "zero-part",
         2, 23, "above 0"},
        {"volts for ohms", "tinyladder: drawer 1\nresistors: [{values: [1 V], tolerance: 1 %}]\n",
         "bad-quantity", 2, 25, "expected a resistance"},
        {"count below none", "tinyladder: drawer 1\nresistors: [{values: [1k], tolerance: 1 %, count: -1}]\n",
         "bad-number", 2, 51, "whole number"},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        tl_report *report = tl_report_new();
        tl_stock stock = {0};
        CHECK_ROW(rows[i].name,
                  !tl_drawer_load(scratch_file("bad.drawer.yaml", rows[i].text, strlen(rows[i].text)), &stock,
                                  NULL, report));
        check_report(&rows[i], report);
        CHECK_ROW(rows[i].name, stock.count == 0);
        tl_report_free(report);
    }
    /* The demo's: E12 from 100 ohm to 1M and three odd values; what the plan uses is gone. */
    tl_report *report = tl_report_new();
    tl_stock ohms, farads;
    CU_ASSERT_FATAL(tl_drawer_load(TL_SOURCE "/demo/bench.drawer.yaml", &ohms, &farads, report));
    tl_plan *plan = tl_plan_load(TL_SOURCE "/demo/fernhill.plan.yaml", report);
    CU_ASSERT(ohms.count == 49 + 3 && farads.count == 5 && plan != NULL);
    int before = 0, after = 0;
    for (int i = 0; i < ohms.count; i++)
        before += ohms.parts[i].count;
    tl_plan_take_parts(plan, &ohms);
    for (int i = 0; i < ohms.count; i++)
        after += ohms.parts[i].count;
    /* Chains 24, keypad 5, bus 4, feed 1, bar 10, dew heater 2; fitted and wired ones are not taken. */
    CU_ASSERT(before - after == 46);
    tl_stock_free(&ohms);
    tl_stock_free(&farads);
    tl_plan_free(plan);
    tl_report_free(report);
}

static void scenes_are_refused_at_the_place(void)
{
    static const bad_file rows[] = {
        {"unknown signal", SCENE "values: {house-batery: [0 s: 12 V]}\n", "unknown-signal", 3, 10,
         "did you mean 'house-battery'"},
        {"times fall", SCENE "values: {house-battery: [5 s: 12 V, 5 s: 11 V]}\n", "time-order", 3, 37,
         "rise"},
        {"a value alone, of another kind", SCENE "values: {house-battery: 50 %}\n", "bad-quantity", 3, 28,
         "a voltage"},
        {"travel beyond its end", SCENE "values: {roof-position: [0 s: 120 %]}\n", "bad-quantity", 3, 25,
         "0 % .. 100 %"},
        {"value of a button", SCENE "values: {open-button: [0 s: 1 V]}\n", "wrong-shape", 3, 10, "presses"},
        {"press as a map", SCENE "presses: {open-button: [{at: 5 s}]}\n", "wrong-shape", 3, 25,
         "expected a press, such as '5 s for 200 ms'"},
        {"press of a knob", SCENE "presses: {roof-position: [1 s for 1 s]}\n", "wrong-shape", 3, 11,
         "only a contact"},
        {"press without length", SCENE "presses: {open-button: [1 s]}\n", "bad-quantity", 3, 25,
         "TIME for LENGTH"},
        {"presses overlap", SCENE "presses: {open-button: [1 s for 2 s, 2 s for 1 s]}\n", "time-order", 3, 38,
         "take their turn"},
        {"steps and more", SCENE "values: {house-battery: {steps: [0 s: 1 V], period: 1 s}}\n", "unknown-key",
         3, 45, "period"},
        {"a wave of no period", SCENE "values: {house-battery: {middle: 1 V, swing: 1 V, period: 0 s}}\n",
         "bad-quantity", 3, 59, "1 ms or longer"},
        {"a wave beyond the travel",
         SCENE "values: {roof-position: {middle: 95 %, swing: 10 %, period: 7 s}}\n", "bad-quantity", 3, 25,
         "0 % .. 100 %"},
        {"a file that is not there", SCENE "values: {twilight: {file: none.csv}}\n", "unreadable-file", 3, 27,
         "none.csv"},
        {"a pattern of three", SCENE "values: {motor-status: {repeat: [high 1 s, low 1 s, high 1 s]}}\n",
         "wrong-shape", 3, 24, "an even number"},
        {"a pattern in the wrong words", SCENE "values: {wheel: {repeat: [high 1 s, low 1 s]}}\n",
         "bad-quantity", 3, 27, "'closed 300 ms'"},
        {"a pattern that nobody can follow", SCENE "values: {wheel: {repeat: [closed 1 ns, open 1 ns]}}\n",
         "bad-quantity", 3, 27, "10 us or more"},
        {"pattern and presses",
         SCENE "values: {wheel: {repeat: [closed 1 s, open 1 s]}}\npresses: {wheel: [1 s for 1 s]}\n",
         "key-twice", 4, 11, "'values' already"},
        {"seed", SCENE "seed: many\n", "bad-number", 3, 7, "whole number"},
        {"of another plan", SCENE "plan: other.plan.yaml\n", "other-plan", 3, 7, "other.plan.yaml"},
    };
    tl_report *report = tl_report_new();
    tl_plan *plan = tl_plan_load(TL_SOURCE "/demo/fernhill.plan.yaml", report);
    CU_ASSERT_FATAL(plan != NULL);
    tl_circuit *circuit = tl_circuit_new(plan);
    tl_report_free(report);
    for (size_t i = 0; i < ROWS(rows); i++) {
        report = tl_report_new();
        CHECK_ROW(rows[i].name,
                  tl_scene_load(scratch_file("bad.scene.yaml", rows[i].text, strlen(rows[i].text)), circuit,
                                report) == NULL);
        check_report(&rows[i], report);
        tl_report_free(report);
    }
    tl_circuit_free(circuit);
    tl_plan_free(plan);
}

/* Every prefix and every lost byte of the demo plan: an error or a plan, never a crash. */
static void no_damage_to_a_file_crashes_it(void)
{
    char text[8192];
    FILE *stream = fopen(TL_SOURCE "/demo/fernhill.plan.yaml", "rb");
    CU_ASSERT_FATAL(stream != NULL);
    const size_t size = fread(text, 1, sizeof text, stream);
    fclose(stream);
    for (size_t cut = 1; cut < size; cut += 3) {
        char damaged[8192];
        memcpy(damaged, text, size);
        memmove(damaged + cut, damaged + cut + 1, size - cut - 1);
        for (int kind = 0; kind < 2; kind++) {
            tl_report *report = tl_report_new();
            tl_plan *plan = tl_plan_load(
                scratch_file("damaged.plan.yaml", kind == 0 ? text : damaged, kind == 0 ? cut : size - 1),
                report);
            CU_ASSERT((plan == NULL) == (tl_report_at_least(report, TL_ERROR) > 0));
            tl_plan_free(plan);
            tl_report_free(report);
        }
    }
}

CU_TestInfo file_tests[] = {
    {"boards are refused at the place", boards_are_refused_at_the_place},
    {"frames are read and refused", frames_are_read_and_refused},
    {"register fields keep to themselves", register_fields_keep_to_themselves},
    {"drawers are read and refused", drawers_are_read_and_refused},
    {"scenes are refused at the place", scenes_are_refused_at_the_place},
    {"no damage to a file crashes it", no_damage_to_a_file_crashes_it},
    CU_TEST_INFO_NULL,
};
