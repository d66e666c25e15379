/* SPDX-License-Identifier: MIT */
/* Every kind of fault of a scene, by what it does to a reading, while it is there and not after. */
#include "support.h"
#include "tinyladder/bench.h"
#include <math.h>
#include <stdio.h>
#include <string.h>

#define PLAN                                                                                                 \
    "tinyladder: plan 1\ntitle: t\nboard: " TL_SOURCE "/demo/lapwing.board.yaml\n"                           \
    "supplies: {battery: 12 V, five: 5 V}\nsignals:\n"                                                       \
    "  battery-volts: {source: {rail: battery}, stages: [divider: {upper: 47k, lower: 10k}], pin: L4}\n"     \
    "  knob: {source: {potentiometer: 10k, top: logic}, pin: L5}\n"                                          \
    "  warm: {source: {resistance: 10k, at: 25 degC, beta: 3950 K, over: -25 .. 60 degC}, stages: "          \
    "[partner: "                                                                                             \
    "{upper: 10k, to: logic}], pin: L6}\n"                                                                   \
    "  level: {source: {voltage: 0 V .. 3 V, resistance: 1k}, pin: L7}\n"                                    \
    "  ratio: {source: {resistance: 100 ohm .. 10k, to: ground}, stages: [partner: {upper: 1k, to: five}, "  \
    "divider: {upper: 10k, "                                                                                 \
    "lower: 10k}], pin: bank.0}\n"                                                                           \
    "  held: {source: {voltage: 0 V .. 3 V}, stages: [pull: {down: 100k, to: ground}], pin: L17}\n"          \
    "  lifted: {source: {voltage: 0 V .. 3 V}, stages: [capacitor: 100 nF, pull: {up: 100k, to: logic}], "   \
    "pin: L18}\n"                                                                                            \
    "  other: {source: {voltage: 1 V}, pin: bank.1}\n"                                                       \
    "  third: {source: {voltage: 2 V}, pin: bank.2}\n"                                                       \
    "  button: {source: {contact: ground}, stages: [pull: {up: 10k, to: logic}, guard: 1k], pin: L12}\n"     \
    "  stop: {source: {contact: logic}, stages: [pull: {down: 10k, to: ground}, guard: 1k], pin: L11}\n"     \
    "muxes: {bank: {part: " TL_SOURCE "/demo/redshank.mux.yaml, supply: logic, select: [L20, L21, L22], "    \
    "enable: L23, common: L16}}\nmeters: {handheld: {resistance: 100 kohm}}\n"

static tl_plan *plan;
static tl_circuit *circuit;

/* The pin's volts, or a contact's state, of a signal in a scene with one fault, at a time. */
static double seen(const char *fault, const char *signal, double at)
{
    char text[600];
    tl_bench_reading reading;
    int index = 0;
    tl_report *report = tl_report_new();
    snprintf(text, sizeof text, "tinyladder: scene 1\nlength: 10 s\n%s\n", fault);
    tl_scene *scene = tl_scene_load(scratch_file("fault.scene.yaml", text, strlen(text)), circuit, report);
    CHECK_ROW(fault, scene != NULL);
    tl_report_free(report);
    if (scene == NULL)
        return NAN;
    tl_bench *bench = tl_bench_new(circuit, scene, 3);
    while (strcmp(plan->signals[index].name, signal) != 0)
        index++;
    tl_bench_go_to(bench, at);
    const tl_net_status net = tl_bench_read(bench, index, &reading);
    CHECK_ROW(fault, net == TL_NET_SOLVED && reading.status == TL_OK);
    const double result = reading.analog ? (double)reading.count : reading.high;
    tl_bench_free(bench);
    tl_scene_free(scene);
    return result;
}

static void show_in_readings(void)
{
    /* 4096 counts are 3.3 V. Without any fault: 12 V read 2613, the knob 2048, the thermistor 2392, 1.5 V
     * 1862. */
    static const struct {
        const char *fault, *signal;
        double low, high;
    } rows[] = {
        {"", "battery-volts", 2550, 2680},
        {"", "warm", 2385, 2400},
        {"faults: [{open: battery-volts.divider.lower}]", "battery-volts", 4095, 4095},
        {"faults: [{open: battery-volts.divider.upper}]", "battery-volts", 0, 10},
        {"faults: [{short: battery-volts.divider.lower}]", "battery-volts", 0, 10},
        {"faults: [{wrong: battery-volts.divider.lower, value: 1k}]", "battery-volts", 300, 325},
        {"faults: [{swap: [battery-volts.divider.upper, battery-volts.divider.lower]}]", "battery-volts",
         4095, 4095},
        {"faults: [{missing: battery}]", "battery-volts", 0, 10},
        {"faults: [{leak: battery-volts.divider, ohms: 10k, to: ground}]", "battery-volts", 1390, 1480},
        {"faults: [{open: warm.source}]", "warm", 4085, 4095},
        {"faults: [{open: held.source}]", "held", 0, 14}, /* its pull stays: 100 nA are 10 mV */
        {"faults: [{open: lifted.source}]", "lifted", 4081, 4095},
        {"faults: [{short: warm.source.resistance}]", "warm", 0, 10},
        {"faults: [{open: knob.source.lower}]", "knob", 4085, 4095},
        {"faults: [{open: knob.source.upper}]", "knob", 0, 10},
        {"faults: [{short: knob.pin, to: ground}]", "knob", 0, 10},
        {"faults: [{short: knob.pin, to: logic}]", "knob", 4085, 4095},
        {"faults: [{swap: [knob.pin, level.pin]}]", "level", 2020, 2076},
        {"faults: [{setting: main, reference: inner}]", "knob", 2600, 2820},
        {"faults: [{swap: [bank.select-0, bank.select-1]}]", "other", 2400, 2560}, /* the third's */
        {"faults: [{stuck: bank.select-0, at: low}]", "other", 2200, 2350},        /* the other channel's */
        {"faults: [{stuck: bank.enable, at: low}]", "other", 1200, 1290},
        {"", "button", 1, 1},
        {"faults: [{stuck: button.source, at: closed}]", "button", 0, 0},
        {"faults: [{stuck: button.pin, at: low}]", "button", 0, 0},
        {"faults: [{stuck: L12, at: high}]\npresses: {button: [0 s for 9 s]}", "button", 1, 1},
        {"presses: {button: [0 s for 9 s]}", "button", 0, 0},
        {"faults: [{short: knob.pin, to: level.pin}]", "knob", 1880, 1950}, /* 2.5 kohm against 1 kohm */
        {"meter: {use: handheld, on: warm.pin}", "warm", 2250, 2300},       /* 100k beside 4k16 */
        {"faults: [{meter: handheld, on: warm.pin}]", "warm", 2250, 2300},
        {"faults: [{meter: handheld, on: battery-volts.divider}]", "battery-volts", 2360, 2465}, /* 9k09 */
        {"faults: [{joint: held.source, ohms: 4k7}]", "held", 1700, 1790}, /* 1.433 V, hardly settled */
        {"faults: [{joint: battery-volts.divider.upper, ohms: 47k}]", "battery-volts", 1395, 1470},
        {"faults: [{joint: battery-volts.source, ohms: 47k}]", "battery-volts", 1395, 1470},
        {"faults: [{joint: other.pin, ohms: 1 ohm}]", "other", 1215, 1265}, /* behind a multiplexer */
        {"faults: [{open: lifted.source}, {moved: lifted.pull, to: ground}]", "lifted", 0, 14},
        {"faults: [{moved: battery-volts.divider.lower, to: five}]", "battery-volts", 4095, 4095}, /* 6.2 V */
        {"faults: [{moved: stop.source, to: ground}]\npresses: {stop: [0 s for 9 s]}", "stop", 0, 0},
        {"presses: {stop: [0 s for 9 s]}", "stop", 1, 1},
        {"faults: [{reversed: knob.source}]\nvalues: {knob: 20 %}", "knob", 3255, 3300},
        {"values: {knob: 20 %}", "knob", 800, 840},
        {"faults: [{wrong: battery, value: 6 V}]", "battery-volts", 1275, 1340},
        {"faults: [{swap: [other.pin, third.pin]}]", "other", 2420, 2540},
        {"faults: [{misread: battery-volts, as: high-byte}]", "battery-volts", 159, 167},
        {"faults: [{misread: battery-volts, as: other-sign}]", "battery-volts", -1550, -1420},
        {"faults: [{misread: level, as: low-byte}]", "level", 52, 92}, /* 1862 of which 1792 are above */
        {"faults: [{misread: level, as: swapped-bytes}]", "level", 0,
         4095}, /* 0x0746 is 0x4607: what is left */
    };
    tl_report *report = tl_report_new();
    plan = tl_plan_load(scratch_file("faulty.plan.yaml", PLAN, strlen(PLAN)), report);
    CU_ASSERT_FATAL(plan != NULL);
    circuit = tl_circuit_new(plan);
    tl_report_free(report);
    for (size_t i = 0; i < ROWS(rows); i++) {
        const double found = seen(rows[i].fault, rows[i].signal, 5);
        CHECK_ROW(rows[i].fault, found >= rows[i].low && found <= rows[i].high);
        if (!(found >= rows[i].low && found <= rows[i].high))
            printf("\n  %s: %s reads %g\n", rows[i].fault, rows[i].signal, found);
    }
}

/* What firmware makes of good counts: 1.5 V times what it is off by. */
static void are_mistakes_of_firmware(void)
{
    static const struct {
        const char *mistake;
        double volts;
    } rows[] = {{"as: bit-less", 3},           {"as: bit-more", 0.75},
                {"factor: 110 %", 1.65},       {"as: whole-division", 0},
                {"as: high-byte", 0.093457}, /* 116 of 4096 */
                {"as: other-steps", 1.500366}, {"as: whole-ratio", 0},
                {"as: inverted", 1.7992}}; /* 4095 - 1862 */
    for (size_t i = 0; i < ROWS(rows); i++) {
        char line[80];
        tl_bench_reading reading;
        tl_report *report = tl_report_new();
        tl_scene *scene = tl_scene_new();
        snprintf(line, sizeof line, "{misread: level, %s}", rows[i].mistake);
        CHECK_ROW(line, tl_scene_add_fault(scene, line, circuit, report));
        tl_bench *bench = tl_bench_new(circuit, scene, TL_BENCH_IDEAL);
        tl_bench_go_to(bench, 1);
        CHECK_ROW(line, tl_bench_read(bench, tl_bench_signal(bench, "level"), &reading) == TL_NET_SOLVED);
        CHECK_ROW(line, fabs(reading.is.value - rows[i].volts) < 2 * 3.3 / 4096);
        if (!(fabs(reading.is.value - rows[i].volts) < 2 * 3.3 / 4096))
            printf("\n  %s: %g\n", line, reading.is.value);
        tl_bench_free(bench);
        tl_scene_free(scene);
        tl_report_free(report);
    }
}

static long count_of(tl_circuit *of, int signal, const char *fault)
{
    tl_bench_reading reading = {.count = 0};
    tl_report *report = tl_report_new();
    tl_scene *scene = tl_scene_new();
    CHECK_ROW(fault, fault[0] == '\0' || tl_scene_add_fault(scene, fault, of, report));
    tl_bench *bench = tl_bench_new(of, scene, TL_BENCH_IDEAL);
    (void)tl_bench_read(bench, signal, &reading);
    tl_bench_free(bench);
    tl_scene_free(scene);
    tl_report_free(report);
    return (long)reading.count;
}

/* Of a converter with sixteen bits in two's complement. */
static void are_mistakes_with_signed_counts(void)
{
    int signal = 0;
    tl_report *report = tl_report_new();
    tl_plan *frame = tl_plan_load(TL_SOURCE "/demo/cold-frame.plan.yaml", report);
    CU_ASSERT_FATAL(frame != NULL && tl_plan_signal(frame, "tray", &signal) != NULL);
    tl_circuit *of = tl_circuit_new(frame);
    const long count = count_of(of, signal, "");
    CU_ASSERT(count > 300);
    CU_ASSERT(count_of(of, signal, "{misread: tray, as: inverted}") == -1 - count);
    CU_ASSERT(count_of(of, signal, "{misread: tray, as: low-byte}") == (count & 0xff));
    CU_ASSERT(count_of(of, signal, "{misread: tray, as: high-byte}") == count >> 8);
    tl_circuit_free(of);
    tl_plan_free(frame);
    tl_report_free(report);
}

/* A part that comes off leaves the lines of the board as they are, those of a multiplexer among them. */
static void leave_other_lines_alone(void)
{
    static const char *const faults[] = {"{open: knob.source}", "{open: battery-volts.divider.lower}",
                                         "{loose: warm.source}", "{open: button.source}"};
    for (size_t i = 0; i < ROWS(faults); i++) {
        tl_report *report = tl_report_new();
        tl_scene *scene = tl_scene_new();
        CHECK_ROW(faults[i], tl_scene_add_fault(scene, faults[i], circuit, report));
        CHECK_ROW(faults[i], scene->faults[0].line[0] == TL_NONE && scene->faults[0].line[1] == TL_NONE);
        tl_scene_free(scene);
        tl_report_free(report);
    }
}

/* What cannot be, or changes nothing, is refused where it stands, and with the reason. */
static void are_refused_with_the_reason(void)
{
    static const struct {
        const char *fault, *reason;
    } rows[] = {
        {"{short: battery, to: ground}", "missing: battery, off: shorted"},
        {"{short: knob.pin, to: knob.pin}", "the same point"},
        {"{moved: level.source, to: ground}", "no end of 'level.source'"},
        {"{moved: warm.partner, to: logic}", "connected to logic already"},
        {"{moved: knob.source, to: five}", "name one part, such as knob.source.upper"},
        {"{reversed: warm.source}", "the same the other way round"},
        {"{reversed: nothing.source}", "no source or lamp 'nothing.source'"},
        {"{wrong: bank.0, value: 1k}", "{joint: bank.0, ohms: ...}"},
        {"{misread: button, as: low-byte}", "it is digital"},
        {"{misread: knob}", "either 'as' or 'factor'"},
        {"{misread: knob, factor: 100 %}", "not 100 %"},
        {"{joint: knob.pin, ohms: 0 ohm}", "1 mohm or more"},
        {"{meter: benchtop, on: knob.pin}", "no meter 'benchtop'"},
        {"{open: warm.partnr}", "did you mean 'warm.partner'"},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        tl_report *report = tl_report_new();
        tl_scene *scene = tl_scene_new();
        CHECK_ROW(rows[i].fault, !tl_scene_add_fault(scene, rows[i].fault, circuit, report));
        const char *cause = tl_report_count(report) > 0 ? tl_report_finding(report, 0)->cause : "";
        CHECK_ROW(rows[i].fault, strstr(cause, rows[i].reason) != NULL);
        if (strstr(cause, rows[i].reason) == NULL)
            printf("\n  %s: %s\n", rows[i].fault, cause);
        tl_scene_free(scene);
        tl_report_free(report);
    }
}

/* The plan with text in place of the buses' and outputs' one, a scene, and what one signal is. */
static bool high_in(const char *text, const char *scene_text, unsigned long seed)
{
    tl_bench_reading reading = {.high = false};
    tl_report *report = tl_report_new();
    tl_plan *own = tl_plan_load(scratch_file("own.plan.yaml", text, strlen(text)), report);
    CHECK_ROW(scene_text, own != NULL);
    tl_circuit *of = tl_circuit_new(own);
    tl_scene *scene =
        tl_scene_load(scratch_file("own.scene.yaml", scene_text, strlen(scene_text)), of, report);
    CHECK_ROW(scene_text, scene != NULL);
    tl_bench *bench = tl_bench_new(of, scene, seed);
    tl_bench_go_to(bench, 2);
    CHECK_ROW(scene_text, tl_bench_read(bench, 0, &reading) == TL_NET_SOLVED);
    tl_bench_free(bench);
    tl_scene_free(scene);
    tl_circuit_free(of);
    tl_plan_free(own);
    tl_report_free(report);
    return reading.analog ? reading.count > 4080 : reading.high;
}

/* A transistor's body diode and then its channel pull down a line without its pull, on every bench; one whose
 * base is off lets its line rise; a select line that is stuck leads to what its other input is tied to. */
static void follow_parts_that_stay(void)
{
    static const char shifted[] =
        "tinyladder: plan 1\ntitle: t\nboard: " TL_SOURCE "/demo/lapwing.board.yaml\n"
        "supplies: {sensor: 5 V ±5 %}\nsignals:\n"
        "  data: {source: {contact: ground}, stages: [pull: {up: 4k7 ±1 %, to: sensor}, shifter: {way: "
        "n-channel, gate: logic, threshold: 1.5 V, diode: 0.7 V}, pull: {up: 10k ±1 %, to: logic}], pin: "
        "L12}\n",
                      tied[] = "tinyladder: plan 1\ntitle: t\nboard: " TL_SOURCE
                               "/demo/lapwing.board.yaml\nsignals:\n"
                               "  volts: {source: {voltage: 1 V}, pin: bank.0}\n"
                               "muxes: {bank: {part: " TL_SOURCE
                               "/demo/redshank.mux.yaml, supply: logic, select: [L20, "
                               "L21, L22], enable: L23, common: L16, tied: {1: logic, 2: ground}}}\n",
                      pressed[] = "tinyladder: scene 1\nlength: 9 s\npresses: {data: [1 s for 5 s]}\n"
                                  "faults: [{open: data.pull-2}]\n",
                      inverted[] = "tinyladder: plan 1\ntitle: t\nboard: " TL_SOURCE
                                   "/demo/lapwing.board.yaml\nsupplies: {motor: 12 V ±5 %}\nsignals:\n"
                                   "  fault: {source: {logic: motor, low: 0.5 V, drives: 5 mA}, stages: "
                                   "[shifter: {way: inverter, base: 22k ±1 %}, pull: {up: 10k ±1 %, to: "
                                   "logic}], pin: L12}\n",
                      off[] = "tinyladder: scene 1\nlength: 9 s\nfaults: [{open: fault.source}]\n",
                      on[] = "tinyladder: scene 1\nlength: 9 s\n",
                      stuck[] =
                          "tinyladder: scene 1\nlength: 9 s\nfaults: [{stuck: bank.select-%d, at: high}]\n";
    for (unsigned long seed = 1; seed <= 8; seed++)
        CU_ASSERT(!high_in(shifted, pressed, seed) && high_in(inverted, off, seed) &&
                  !high_in(inverted, on, seed));
    for (int line = 0; line < 2; line++) {
        char scene[120];
        snprintf(scene, sizeof scene, stuck, line);
        CU_ASSERT(high_in(tied, scene, 1) == (line == 0));
    }
}

/* Half of the supply is neither low nor high: an input stays as it was, and at power-up it is anything. */
static void are_neither_low_nor_high(void)
{
    static const char text[] =
        "tinyladder: plan 1\ntitle: t\nboard: " TL_SOURCE "/demo/lapwing.board.yaml\nsignals:\n"
        "  c: {source: {contact: ground}, stages: [pull: {up: 10k ±1 %, to: logic}], pin: L12}\n",
                      later[] = "tinyladder: scene 1\nlength: 9 s\npresses: {c: [1 s for 0.5 s]}\n"
                                "faults: [{leak: c.source, ohms: 10k, to: ground%s}]\n";
    int high = 0, undefined = 0;
    for (unsigned long seed = 0; seed < 24; seed++) {
        for (int from_start = 0; from_start < 2; from_start++) {
            char scene_text[200];
            tl_bench_reading reading;
            tl_report *report = tl_report_new();
            tl_plan *own = tl_plan_load(scratch_file("half.plan.yaml", text, strlen(text)), report);
            tl_circuit *of = tl_circuit_new(own);
            snprintf(scene_text, sizeof scene_text, later, from_start ? "" : ", from: 1.2 s");
            tl_scene *scene =
                tl_scene_load(scratch_file("half.scene.yaml", scene_text, strlen(scene_text)), of, report);
            tl_bench *bench = tl_bench_new(of, scene, seed);
            tl_bench_go_to(bench, 0.9); /* before it is pressed */
            CU_ASSERT(tl_bench_read(bench, 0, &reading) == TL_NET_SOLVED);
            CU_ASSERT(reading.undefined == from_start);
            high += from_start && reading.high;
            tl_bench_go_to(bench, 1.3); /* pressed */
            CU_ASSERT(tl_bench_read(bench, 0, &reading) == TL_NET_SOLVED && !reading.high);
            CU_ASSERT(!reading.undefined && (reading.flags & TL_READING_FRESH) != 0);
            tl_bench_go_to(bench, 2); /* released, but not up to VIH */
            CU_ASSERT(tl_bench_read(bench, 0, &reading) == TL_NET_SOLVED && !reading.high);
            undefined += reading.undefined && (reading.flags & TL_READING_FRESH) == 0;
            tl_bench_free(bench);
            tl_scene_free(scene);
            tl_circuit_free(of);
            tl_plan_free(own);
            tl_report_free(report);
        }
    }
    CU_ASSERT(undefined == 48 && high > 3 && high < 21);
}

static void come_and_go(void)
{
    int breaks = 0, before = -1;
    CU_ASSERT(seen("faults: [{missing: battery, from: 2 s, until: 4 s}]", "battery-volts", 1) > 2500);
    CU_ASSERT(seen("faults: [{missing: battery, from: 2 s, until: 4 s}]", "battery-volts", 3) < 20);
    CU_ASSERT(seen("faults: [{missing: battery, from: 2 s, until: 4 s}]", "battery-volts", 5) > 2500);
    for (int i = 0; i < 400; i++) {
        const int off = seen("faults: [{loose: warm.source, every: 200 ms}]", "warm", 0.02 * i) > 4000;
        breaks += before >= 0 && off != before;
        before = off;
    }
    CU_ASSERT(breaks > 20 && breaks < 120); /* 8 s, a break every 0.2 s and 0.05 s long on the mean */
    double least = 5000, most = 0;          /* 100 V through 1 Mohm into 1 kohm: a tenth of a volt */
    for (int i = 0; i < 40; i++) {
        const double count =
            seen("faults: [{noise: level.pin, volts: 100 V, frequency: 50 Hz}]", "level", 1 + 0.00137 * i);
        least = fmin(least, count);
        most = fmax(most, count);
    }
    CU_ASSERT(near(most - least, 0.2 / 3.3 * 4096, 0.06));
    tl_circuit_free(circuit);
    tl_plan_free(plan);
}

/* Buses go wrong as buses do, and the core says so, within its bounds. */
static void go_over_buses(void)
{
    static const char text[] =
        "tinyladder: plan 1\ntitle: t\nboard: " TL_SOURCE
        "/demo/lapwing.board.yaml\nsupplies: {sensor: 5 V}\nsignals:\n"
        "  slow: {source: {bridge: 1k, voltage: 40 mV, supply: logic}, pin: fine.pair-0}\n"
        "  quick: {source: {voltage: 1 V}, pin: fast.in-2}\n"
        "buses:\n"
        "  dome: {pins: {scl: L24, sda: L25}, stages: [pull: {up: 4k7, to: sensor}, shifter: {way: "
        "n-channel, gate: logic, "
        "threshold: 1.5 V, diode: 0.7 V}, pull: {up: 4k7, to: logic}, cable: 120 pF]}\n"
        "  box: {mode: spi, pins: {clock: L20, in: L21, out: L22}}\n"
        "converters:\n"
        "  fine: {part: " TL_SOURCE "/demo/dunlin.converter.yaml, supply: logic, bus: dome, address: 0x2a}\n"
        "  fast: {part: " TL_SOURCE "/demo/knot.converter.yaml, supply: logic, bus: box, select: L23}\n";
    static const struct {
        const char *fault;
        int signal;
        tl_status status;
        double low, high; /* of the pin's volts, where it is read */
    } rows[] = {
        {"", 0, TL_OK, 0.0398, 0.0402},
        {"faults: [{setting: fine, address: 0x2b}]", 0, TL_ERR_ACK, 0, 0},
        {"faults: [{setting: fine, stretch: 500 us}]", 0, TL_OK, 0.0398, 0.0402},
        {"faults: [{setting: fine, stretch: 20 ms}]", 0, TL_ERR_PORT, 0, 0},
        {"faults: [{setting: fine, range: ±1 V}]", 0, TL_OK, 0.0037, 0.0042},
        {"faults: [{stuck: L25, at: low}]", 0, TL_ERR_PORT, 0, 0},
        {"faults: [{stuck: L24, at: low}]", 0, TL_ERR_PORT, 0, 0},
        {"faults: [{stuck: L25, at: high}]", 0, TL_ERR_ACK, 0, 0},
        {"faults: [{missing: sensor, off: shorted}]", 0, TL_ERR_PORT, 0, 0},
        {"faults: [{missing: sensor}]", 0, TL_OK, 0.0398,
         0.0402}, /* the pulls to 3.3 V feed the other side */
        {"faults: [{short: dome.sda.pin, to: ground}]", 0, TL_ERR_PORT, 0, 0},
        {"", 1, TL_OK, 0.98, 1.02},
        {"faults: [{stuck: L21, at: high}]", 1, TL_ERR_WORD, 0, 0}, /* the null bit is not there */
        {"faults: [{stuck: L20, at: low}]", 1, TL_ERR_WORD, 0, 0},
        {"faults: [{stuck: L23, at: high}]", 1, TL_ERR_WORD, 0, 0},
        {"faults: [{stuck: L22, at: low}]", 1, TL_ERR_WORD, 0, 0},   /* no start bit: the chip keeps silent */
        {"faults: [{open: dome.sda.pull-2}]", 0, TL_ERR_PORT, 0, 0}, /* the board's side stays below VIH */
        {"faults: [{wrong: dome.scl.pull-2, value: 4M7}]", 0, TL_ERR_PORT, 0, 0},
        {"faults: [{swap: [box.in, box.out]}]", 1, TL_ERR_WORD, 0, 0},
        {"faults: [{open: box.clock}]", 1, TL_ERR_WORD, 0, 0},
        {"faults: [{open: fast.select}]", 1, TL_ERR_WORD, 0, 0},
        {"faults: [{open: dome.scl}]", 0, TL_ERR_PORT, 0, 0}, /* it never rises */
    };
    tl_report *report = tl_report_new();
    plan = tl_plan_load(scratch_file("buses.plan.yaml", text, strlen(text)), report);
    CU_ASSERT_FATAL(plan != NULL);
    circuit = tl_circuit_new(plan);
    for (size_t i = 0; i < ROWS(rows); i++) {
        char scene_text[300];
        tl_bench_reading reading;
        snprintf(scene_text, sizeof scene_text, "tinyladder: scene 1\nlength: 10 s\n%s\n", rows[i].fault);
        tl_scene *scene =
            tl_scene_load(scratch_file("bus.scene.yaml", scene_text, strlen(scene_text)), circuit, report);
        CHECK_ROW(rows[i].fault, scene != NULL);
        if (scene == NULL)
            continue;
        tl_bench *bench = tl_bench_new(circuit, scene, 3);
        CHECK_ROW(rows[i].fault, tl_bench_read(bench, rows[i].signal, &reading) == TL_NET_SOLVED);
        CHECK_ROW(rows[i].fault, reading.status == rows[i].status);
        if (reading.status != rows[i].status)
            printf("\n  %s: status %d\n", rows[i].fault, reading.status);
        CHECK_ROW(rows[i].fault, reading.status != TL_OK || (reading.is.pin_volts >= rows[i].low &&
                                                             reading.is.pin_volts <= rows[i].high));
        tl_bench_free(bench);
        tl_scene_free(scene);
    }
    tl_circuit_free(circuit);
    tl_plan_free(plan);
    tl_report_free(report);
}

CU_TestInfo fault_tests[] = {
    {"show in readings", show_in_readings},
    {"are mistakes of firmware", are_mistakes_of_firmware},
    {"are mistakes with signed counts", are_mistakes_with_signed_counts},
    {"leave other lines alone", leave_other_lines_alone},
    {"are refused with the reason", are_refused_with_the_reason},
    {"follow parts that stay", follow_parts_that_stay},
    {"are neither low nor high", are_neither_low_nor_high},
    {"come and go", come_and_go},
    {"go over buses", go_over_buses},
    CU_TEST_INFO_NULL,
};
