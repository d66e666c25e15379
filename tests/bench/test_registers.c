/* SPDX-License-Identifier: MIT */
/* What a converter on a bus is told, as its file prints it: the bytes and bits are written down here by hand,
 * and what is read over the bus is the volts that are there. What cannot be told is refused by `check`, and
 * never read. */
#include "bench/open_with.h"
#include "tinyladder/design/rules.h"
#include <math.h>

#define I2C_PART                                                                                             \
    "tinyladder: converter 1\ntitle: P\nbus: i2c\nsupply: 2.7 V .. 5.5 V\nbits: 16\nsteps: half\n"           \
    "ranges: [±0.5 V, ±2 V, ±4 V]\ninputs: [x, y, z]\npairs: {xy: [x, y], zy: [z, y]}\n"                  \
    "limits: -0.3 V .. rail + 0.3 V\nconversion: 8 ms\n"
#define HIGH_FIRST "word: {sign: twos-complement, in: 16, fill: sign, bytes: high-first}\n"
#define LOW_FIRST "word: {sign: twos-complement, in: 16, fill: sign, bytes: low-first}\n"
#define SPI_PART                                                                                             \
    "tinyladder: converter 1\ntitle: P\nbus: spi\nsupply: 2.7 V .. 5.5 V\nbits: 12\nsteps: half\nword: "     \
    "{in: 16}\n"                                                                                             \
    "references: {supply: supply, inner: 2 V}\ninputs: [x, y, z]\npairs: {xy: [x, y], zy: [z, y]}\n"         \
    "limits: -0.3 V .. rail + 0.3 V\nconversion: 8 us\n"
#define FIELDS                                                                                               \
    "range: {bits: 3 .. 5, 2V: 1, 500mV: 6, 4V: 3}, input: {bits: 8 .. 10, x: 7, y: 2, z: 5, xy: 0, zy: 4}"

/* a at x within ±2 V, b at z within ±0.5 V, c the pair zy within ±4 V. */
static const char i2c_signals[] =
    "signals:\n"
    "  a: {source: {voltage: 0 V .. 1.9 V}, pin: p.x, range: ±2 V, reading: {unit: V}}\n"
    "  b: {source: {voltage: 0 V .. 0.4 V}, pin: p.z, range: ±0.5 V, reading: {unit: V}}\n"
    "  c: {source: {bridge: 1k, voltage: 0 V .. 1 V, supply: logic}, pin: p.zy, range: ±4 V, reading: {unit: "
    "V}}\n"
    "buses: {w: {pins: {scl: L24, sda: L25}, stages: [pull: {up: 2k2, to: logic}]}}\n"
    "converters: {p: {part: part.converter.yaml, supply: logic, bus: w, address: 0x2a}}\n";
static const char spi_signals[] =
    "signals:\n"
    "  a: {source: {voltage: 0 V .. 1.9 V}, pin: p.x, reference: inner, reading: {unit: V}}\n"
    "  b: {source: {voltage: 0 V .. 0.4 V}, pin: p.z, reference: supply, reading: {unit: V}}\n"
    "  c: {source: {bridge: 1k, voltage: 0 V .. 1 V, supply: logic}, pin: p.zy, reading: {unit: V}}\n"
    "buses: {w: {pins: {clock: L27, in: L28, out: L29}, mode: spi}}\n"
    "converters: {p: {part: part.converter.yaml, supply: logic, bus: w, select: L26}}\n";

static const struct {
    const char *name, *part;
    bool spi;
    const char *sent[3];
} rows[] = {
    {"16 bits, the ready bit on top",
     I2C_PART HIGH_FIRST "frame: {settings: 0x01, result: 0x00, ready: bit 15, longest: 20 ms}\n"
                         "registers: {settings: {width: 16, fields: {" FIELDS
                         ", start: {bits: 15, wait: 0, now: 1}}}}\n",
     false,
     {"01 87 08", "01 85 30", "01 84 18"}},
    {"16 bits, the lower byte first",
     I2C_PART LOW_FIRST "frame: {settings: 0x01, result: 0x00, ready: bit 15, longest: 20 ms}\n"
                        "registers: {settings: {width: 16, fields: {" FIELDS
                        ", start: {bits: 15, wait: 0, now: 1}}}}\n",
     false,
     {"01 08 87", "01 30 85", "01 18 84"}},
    {"24 bits, ready in a register of its own, low",
     I2C_PART HIGH_FIRST
     "frame: {settings: control, result: 0x04, ready: bit 19 of state is 0, longest: 20 ms}\n"
     "registers: {state: {address: 0x05, width: 24, fields: {busy: {bits: 19}}}, control: {address: 0x10, "
     "width: 24, fields: {" FIELDS ", start: {bits: 23, now: 1}}}}\n",
     false,
     {"10 80 07 08", "10 80 05 30", "10 80 04 18"}},
    {"what every conversion sets besides",
     I2C_PART HIGH_FIRST "frame: {settings: 1, result: 0, also: {mode: once, rate: 3}, longest: 20 ms}\n"
                         "registers: {settings: {width: 16, fields: {" FIELDS
                         ", mode: {bits: 0, once: 1}, rate: {bits: 11 .. 12}}}}\n",
     false,
     {"01 1f 09", "01 1d 31", "01 1c 19"}},
    {"32 bits, and no bit that starts",
     I2C_PART HIGH_FIRST "frame: {settings: 3, result: 7, longest: 20 ms}\n"
                         "registers: {settings: {width: 32, fields: {" FIELDS "}}}\n",
     false,
     {"03 00 00 07 08", "03 00 00 05 30", "03 00 00 04 18"}},
    {"SPI: fields, with the codes of its sheet",
     SPI_PART "frame: {send: [1, input, reference, 0], zeros: 2, take: 12}\n"
              "registers: {head: {width: 8, fields: {input: {bits: 0 .. 2, x: 6, y: 1, z: 3, xy: 0, zy: 5}, "
              "reference: {bits: 4 .. 5, supply: 2, inner: 1}}}}\n",
     true,
     {"1110010", "1011100", "1101100"}},
    {"SPI: pairs by the codes of its sheet",
     SPI_PART "frame: {send: [1, single, input, reference], zeros: 2, take: 12}\n"
              "registers: {head: {width: 8, fields: {input: {bits: 0 .. 2, x: 0, y: 1, z: 2, xy: 3, zy: 5}, "
              "reference: {bits: 4, supply: 0, inner: 1}}}}\n",
     true,
     {"110001", "110100", "101010"}},
};

static void is_told_what_the_sheet_prints(void)
{
    static const char *const names[] = {"a", "b", "c"};
    static const double volts[] = {1.7, 0.3, 0.9};
    for (size_t i = 0; i < ROWS(rows); i++) {
        scratch_file("part.converter.yaml", rows[i].part, strlen(rows[i].part));
        tl_bench *bench =
            open_with(rows[i].spi ? spi_signals : i2c_signals, "values: {a: 1.7 V, b: 0.3 V, c: 0.9 V}\n");
        for (int s = 0; s < 3; s++) {
            char line[60];
            tl_bench_reading reading;
            run_result r = run_command("word", scratch_path("wired.plan.yaml"), names[s], NULL);
            snprintf(line, sizeof line, rows[i].spi ? "the bits %s are sent" : "is written %s;",
                     rows[i].sent[s]);
            CHECK_ROW(rows[i].name, r.status == 0 && strstr(r.out, line) != NULL);
            run_free(&r);
            CHECK_ROW(rows[i].name, tl_bench_read(bench, s, &reading) == TL_NET_SOLVED &&
                                        reading.status == TL_OK &&
                                        near(reading.is.value, volts[s], rows[i].spi ? 0.03 : 0.003));
        }
        tl_bench_free(bench);
    }
}

/* At 100 kHz a bit takes 10 us: the start, the address and all bytes with their acknowledges, the stop. Four
 * more while the bench looks what its lines do, and 1 us of the call. */
static void a_transfer_takes_its_bits(void)
{
    static const uint8_t out[3] = {1, 0x87, 0x08};
    scratch_file("part.converter.yaml", rows[0].part, strlen(rows[0].part));
    tl_bench *bench = open_with(i2c_signals, NULL);
    for (uint8_t count = 1; count <= 3; count++) {
        const double before = tl_bench_time(bench);
        CU_ASSERT(tl_port_i2c_transfer(tl_bench_port(bench), 0, 0x2a, out, count, NULL, 0) == TL_OK);
        CU_ASSERT(fabs(tl_bench_time(bench) - before - 1e-5 * (9 * (1 + count) + 2 + 4) - 1e-6) < 1e-8);
    }
    tl_bench_free(bench);
}

/* Pins that can do nothing but the bus, or not even that in hardware, are driven all the same. */
static void a_bus_is_driven_whatever_else_its_pins_can_do(void)
{
    static const char board[] = "tinyladder: board 1\ntitle: B\nsupplies: {logic: 3.3 V}\nevery-pin: "
                                "{supply: logic, limits: -0.3 V .. "
                                "rail + 0.3 V, vil: 0.3 rail, vih: 0.7 rail}\npins: {A0: {position: 1, "
                                "channel: 0}, A1: {position: 2, "
                                "channel: 1, can: []}, C: {position: 3, can: [i2c]}, D: {position: 4, can: "
                                "[i2c]}}\nconverters: {main: {bits: "
                                "12, steps: half, word: {in: 16}, references: {logic: logic}, sampling: "
                                "{capacitor: 12 pF, switch: 1k5}, "
                                "acquisition: [3 us], conversion: 1 us}}\n";
    static const char *const pins[] = {"scl: C, sda: D", "scl: A0, sda: A1"};
    scratch_file("own.board.yaml", board, strlen(board));
    scratch_file("part.converter.yaml", rows[0].part, strlen(rows[0].part));
    for (size_t i = 0; i < ROWS(pins); i++) {
        char text[1000];
        tl_bench_reading reading;
        snprintf(
            text, sizeof text,
            "tinyladder: plan 1\ntitle: t\nboard: own.board.yaml\nsignals:\n  b: {source: {voltage: 0.3 V}, "
            "pin: "
            "p.z, range: ±0.5 V, reading: {unit: V}}\nbuses: {w: {pins: {%s}, stages: [pull: {up: 2k2, to: "
            "logic}]}}\nconverters: {p: {part: part.converter.yaml, supply: logic, bus: w, address: 0x2a}}\n",
            pins[i]);
        tl_bench *bench = tl_bench_open(scratch_file("bus.plan.yaml", text, strlen(text)), NULL, NULL);
        CU_ASSERT_FATAL(bench != NULL);
        CHECK_ROW(pins[i], tl_bench_read(bench, 0, &reading) == TL_NET_SOLVED && reading.status == TL_OK &&
                               near(reading.is.value, 0.3, 0.003));
        tl_bench_free(bench);
    }
}

/* A converter whose settings are in disorder keeps to them: what is told wrong is read wrong. */
static void wrong_codes_are_read_wrong(void)
{
    tl_bench_reading reading;
    const char *const right = rows[0].part;
    scratch_file("part.converter.yaml", right, strlen(right));
    tl_bench *bench = open_with(i2c_signals, "values: {a: 1.7 V, b: 0.3 V}\n");
    /* By hand, over the port: input z with the range of ±4 V, and its word. */
    const uint8_t settings[] = {0x01, 0x85, 0x18}, result[] = {0x00};
    uint8_t word[2];
    const tl_port *port = tl_bench_port(bench);
    CU_ASSERT(tl_port_i2c_transfer(port, 0, 0x2a, settings, 3, NULL, 0) == TL_OK);
    CU_ASSERT(tl_port_wait_us(port, 20000) == TL_OK);
    CU_ASSERT(tl_port_i2c_transfer(port, 0, 0x2a, result, 1, word, 2) == TL_OK);
    CU_ASSERT(near((int16_t)(word[0] << 8 | word[1]) * 4.0 / 32768, 0.3, 0.002));
    /* Without the start bit nothing is converted: the word stays, whatever the volts do. */
    const uint8_t waiting[] = {0x01, 0x07, 0x08};
    uint8_t again[2];
    CU_ASSERT(tl_port_i2c_transfer(port, 0, 0x2a, waiting, 3, NULL, 0) == TL_OK);
    CU_ASSERT(tl_port_wait_us(port, 20000) == TL_OK);
    CU_ASSERT(tl_port_i2c_transfer(port, 0, 0x2a, result, 1, again, 2) == TL_OK);
    CU_ASSERT(memcmp(word, again, 2) == 0);
    CU_ASSERT(tl_bench_read(bench, 1, &reading) == TL_NET_SOLVED && near(reading.is.value, 0.3, 0.002));
    tl_bench_free(bench);
}

static const struct {
    const char *name, *part;
    bool spi;
    const char *why;
} refused[] = {
    {"no whole bytes",
     I2C_PART HIGH_FIRST "frame: {settings: 1, result: 0, longest: 20 ms}\n"
                         "registers: {settings: {width: 12, fields: {" FIELDS "}}}\n",
     false, "'settings' has 12 bits"},
    {"ready beyond its register",
     I2C_PART HIGH_FIRST "frame: {settings: 1, result: 0, ready: bit 16, longest: 20 ms}\n"
                         "registers: {settings: {width: 16, fields: {" FIELDS "}}}\n",
     false, "ready bit 16 is beyond the 16 bits"},
    {"a range without a code",
     I2C_PART HIGH_FIRST "frame: {settings: 1, result: 0, longest: 20 ms}\nregisters: {settings: {width: 16, "
                         "fields: {range: {bits: 3 .. 5, 2V: 1, 5V: 6, 4V: 3}}}}\n",
     false, "'range' has no value that says 500 mV"},
    {"an input without a code",
     I2C_PART HIGH_FIRST "frame: {settings: 1, result: 0, longest: 20 ms}\nregisters: {settings: {width: 16, "
                         "fields: {input: {bits: 3 .. 5, x: 1, z: 2}}}}\n",
     false, "'input' has no value 'zy'"},
    {"fields in two registers",
     I2C_PART HIGH_FIRST "frame: {settings: one, result: 0, longest: 20 ms}\nregisters: {one: {address: 1, "
                         "width: 8, fields: {on: {bits: 0}}}, two: {address: 2, width: 16, fields: {" FIELDS
                         "}}}\n",
     false, "'input' is not in the register"},
    {"a register that is not listed",
     I2C_PART HIGH_FIRST "frame: {settings: 9, result: 0, longest: 20 ms}\nregisters: {one: {address: 1, "
                         "width: 16, fields: {" FIELDS "}}}\n",
     false, "the one at 0x09"},
    {"register 255", I2C_PART HIGH_FIRST "frame: {result: 0xff, longest: 20 ms}\n", false, "0xff"},
    {"too slow", I2C_PART HIGH_FIRST "frame: {result: 0, longest: 1 h}\n", false, "half an hour"},
    {"more than 32 bits sent",
     SPI_PART "frame: {send: [1, wide, channel, single], zeros: 1, take: 12}\nregisters: {head: {width: 32, "
              "fields: {wide: {bits: 0 .. 28}}}}\n",
     true, "33 bits are sent"},
    {"more than 32 bits taken", SPI_PART "frame: {send: [single, channel], zeros: 20, take: 13}\n", true,
     "33 bits"},
    {"inputs and pairs alike", SPI_PART "frame: {send: [1, channel], zeros: 1, take: 12}\n", true, "pairs"},
    {"which input is not told", SPI_PART "frame: {send: [1, single], zeros: 1, take: 12}\n", true,
     "which input"},
    {"a field that is not sent",
     SPI_PART "frame: {send: [1, single, channel], zeros: 1, take: 12}\nregisters: {head: {width: 8, fields: "
              "{reference: {bits: 0, supply: 0, inner: 1}}}}\n",
     true, "'reference' is not among"},
};

static void what_cannot_be_told_is_refused(void)
{
    for (size_t i = 0; i < ROWS(refused); i++) {
        scratch_file("part.converter.yaml", refused[i].part, strlen(refused[i].part));
        tl_bench *bench = open_with(refused[i].spi ? spi_signals : i2c_signals, NULL);
        run_result r = run_command("check", scratch_path("wired.plan.yaml"), NULL);
        CHECK_ROW(refused[i].name, r.status == 1 && strstr(r.out, "[not-sendable]") != NULL &&
                                       strstr(r.out, refused[i].why) != NULL);
        run_free(&r);
        bool any = false;
        for (int s = 0; s < 3; s++) {
            tl_bench_reading reading;
            CHECK_ROW(refused[i].name, tl_bench_read(bench, s, &reading) == TL_NET_SOLVED);
            any = any || reading.status == TL_ERR_UNSUPPORTED;
        }
        CHECK_ROW(refused[i].name, any);
        tl_bench_free(bench);
    }
}

CU_TestInfo register_tests[] = {
    {"a transfer takes its bits", a_transfer_takes_its_bits},
    {"is told what the sheet prints", is_told_what_the_sheet_prints},
    {"wrong codes are read wrong", wrong_codes_are_read_wrong},
    {"a bus is driven whatever else its pins can do", a_bus_is_driven_whatever_else_its_pins_can_do},
    {"what cannot be told is refused", what_cannot_be_told_is_refused},
    CU_TEST_INFO_NULL,
};
