#ifndef TL_BENCH_INTERNAL_H
#define TL_BENCH_INTERNAL_H

#include "random.h"
#include "tinyladder/bench.h"

/* Where one signal's island stands in time. */
typedef struct {
    double *volts; /* of the island's nodes */
    int64_t at_ns;
    int64_t *edges; /* when the contact changes; it is open before the first */
    int edge_count;
    const tl_course *course;
    tl_transient *transient; /* for the state below */
    bool closed, sampling, floating;
    bool level; /* as the pin's input sees it */
} bench_signal;

typedef struct {
    tl_line_use use;
    bool high;
} bench_line;

struct tl_bench {
    const tl_circuit *circuit;
    const tl_scene *scene;
    tl_plan *own_plan;
    tl_circuit *own_circuit;
    tl_scene *own_scene;
    tl_port port;
    random_source random;

    int64_t now_ns;
    double *values; /* the real value of every parameter */
    bool *closed;
    bench_signal *signals;
    bench_line *lines;
    tl_bench_damage *damages;
    int damage_count;

    /* the converter */
    double held_volts;        /* on the sampling capacitor */
    double offset, gain, bow; /* real errors, in counts */
    int64_t end_ns;
    bool converting;
    uint32_t word;

    /* faults of the port */
    unsigned long calls, fail_at;
    bool never_end, frozen;
    uint32_t clock_start_us;
    int64_t frozen_ns;
};

/* signal.c: moves a signal's island on to a time. */
void signal_init(tl_bench *bench, int signal);
void signal_free(bench_signal *signal);
void signal_advance(tl_bench *bench, int signal, int64_t to_ns);
double signal_pin_volts(const tl_bench *bench, int signal);
int signal_of_pin(const tl_bench *bench, int pin);

/* converter.c: samples and converts; leaves the word and the time of its end in the bench. */
void converter_init(tl_bench *bench);
void converter_start(tl_bench *bench, uint8_t channel, uint32_t acquisition_ns);

/* bench_port.c */
extern const tl_port_ops bench_port_ops;

/* What a wire with nothing on it picks up, around half the rail: mains hum and noise. */
double stray_volts(tl_bench *bench, double rail);

#endif
