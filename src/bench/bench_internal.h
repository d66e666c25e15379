#ifndef TL_BENCH_INTERNAL_H
#define TL_BENCH_INTERNAL_H

#include "random.h"
#include "tinyladder/bench.h"
#include "tinyladder/external.h"

/* A contact changes. */
typedef struct {
    int64_t at_ns;
    int contact;
} bench_edge;

/* The presses of one signal, turned into edges shortly before they are due: a day of them needs no room. */
typedef struct {
    int signal;
    int next_press;        /* of the scene's list; this signal's own from there on */
    random_source bounces; /* its own, so that it does not matter who is looked at first */
} bench_presses;

/* Where an island stands in time. */
typedef struct {
    tl_island *island;
    double *volts; /* of its nodes */
    int64_t at_ns;
    bench_edge *edges; /* rising, those that are due next; every contact is open before its first */
    int edge_count;
    bench_presses *presses;
    int presses_count;
    int *signals, signal_count;
    tl_transient *transient; /* for the present contacts and values, unless stale */
    bool stale, moves;       /* moves: some source in it has a course */
} bench_island;

typedef struct {
    bench_island *island;
    const tl_course *course;
    bool floating;
    bool level; /* as the pin's input sees it */
} bench_signal;

/* Real errors of one converter, in counts. */
typedef struct {
    double offset, gain, bow;
} bench_errors;

/* A converter on a bus: what it was told, what it has, and when. */
typedef struct {
    uint8_t pointer, settings;
    uint32_t word;
    int64_t end_ns;
} bench_chip;

typedef struct {
    tl_line_use use;
    bool high;
    uint16_t duty; /* of 65535 */
} bench_line;

struct tl_bench {
    const tl_circuit *circuit;
    const tl_scene *scene;
    tl_plan *own_plan;
    tl_circuit *own_circuit;
    tl_scene *own_scene;
    tl_port port;
    unsigned long seed;
    /* Each its own, and one for each signal's presses, so that a press more does not change the parts or the
     * noise. */
    random_source parts, noise;

    int64_t now_ns;
    double *values; /* the real value of every parameter */
    bool *closed;
    bench_signal *signals;
    bench_island *islands;
    int island_count;
    bench_line *lines;
    tl_bench_damage *damages;
    int damage_count;

    /* the converter */
    double held_volts;    /* on the sampling capacitor */
    bench_chip *chips;    /* of every converter of the plan; the board's own is not used */
    bench_errors *errors; /* of every converter of the plan */
    int64_t end_ns;
    bool converting;
    bool unpowered;
    uint32_t word;

    /* faults of the port */
    unsigned long calls, fail_at;
    bool fail_once, never_end, frozen;
    uint32_t clock_start_us;
    int64_t frozen_ns;
};

/* island.c: moves islands on to a time. */
void islands_init(tl_bench *bench);
void islands_free(tl_bench *bench);
void island_advance(tl_bench *bench, bench_island *island, int64_t to_ns);
/* A contact that is worked from outside, now: a multiplexer's switch, the converter's. */
void island_set_contact(tl_bench *bench, bench_island *island, int contact, bool closed);
void signal_advance(tl_bench *bench, int signal, int64_t to_ns);
/* Of a pair the difference of its inputs. */
double signal_pin_volts(const tl_bench *bench, int signal);
int signal_of_pin(const tl_bench *bench, int pin);
/* Whether all multiplexers on its way are switched to it. */
bool signal_is_routed(const tl_bench *bench, int signal);

/* mux.c: sets the switches as the lines that select them stand now. */
void muxes_update(tl_bench *bench);

/* converter.c: samples and converts; leaves the word and the time of its end in the bench. */
void converter_init(tl_bench *bench);
void converter_start(tl_bench *bench, uint8_t channel, uint32_t acquisition_ns);
/* What a converter on a bus makes of a signal, now: its code. */
long converter_code(tl_bench *bench, int signal);

/* bus.c: converters on buses, and how the core is told of them. */
tl_status bus_i2c(tl_bench *bench, uint8_t bus, uint8_t address, const uint8_t *out, uint8_t out_count,
                  uint8_t *in, uint8_t in_count);
tl_status bus_spi(tl_bench *bench, uint8_t bus, uint8_t select, const uint8_t *out, uint8_t *in,
                  uint8_t count);
tl_external external_of(const tl_plan *plan, int converter);
tl_external_input external_input_of(const tl_plan *plan, int signal);

/* bench_port.c */
extern const tl_port_ops bench_port_ops;

/* What a wire with nothing on it picks up, around half the rail: mains hum and noise. */
double stray_volts(tl_bench *bench, double rail);

#endif
