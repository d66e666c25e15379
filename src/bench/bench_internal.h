/* SPDX-License-Identifier: MIT */
/* The bench from inside: its islands, stimuli, edges, pins, converters and buses, and what its files ask of
 * each other. */
#ifndef TL_BENCH_INTERNAL_H
#define TL_BENCH_INTERNAL_H

#include "bench/part_of_plan.h"
#include "bench/random.h"
#include "elaborate/circuit_struct.h"
#include "tinyladder/bench.h"
#include "tinyladder/external.h"

/* Something that happens to an island at a time. */
typedef enum {
    EDGE_PRESS,   /* a contact of a source turns over: pressed, released, or bouncing */
    EDGE_HOLD,    /* it is stuck: value 0 for free again, 1 open, 2 closed */
    EDGE_CONTACT, /* a fault's or a meter's contact: value 0 opens, 1 closes it */
    EDGE_VALUE,   /* a parameter has this value from now on, whatever moves it otherwise, */
    EDGE_FREE     /* until this */
} edge_kind;

typedef struct {
    int64_t at_ns;
    edge_kind kind;
    int which; /* contact or parameter */
    double value;
} bench_edge;

/* The presses of one signal, its pattern, or the breaks of a loose joint, turned into edges shortly before
 * they are due: a day of them needs no room. */
typedef struct {
    int signal;                  /* of presses */
    int next_press;              /* of the scene's list; this signal's own from there on */
    const tl_repeat *pattern;    /* NULL for single presses: */
    unsigned long next_repeated; /* of its presses */
    const tl_scene_fault *loose; /* NULL for presses */
    double next_break;
    random_source random; /* its own, so that it does not matter who is looked at first */
} bench_cursor;

/* A parameter that moves by itself: after a waveform, or as a supply's ripple. */
typedef struct {
    int param;
    const tl_waveform *waveform; /* NULL for ripple */
    const tl_source *source;
    double share;                /* of what its law says */
    double middle, swing, hertz; /* of ripple */
    bool held;                   /* a fault has it elsewhere */
    double period;               /* of a wave; 0 for none */
    bool resting;                /* it stands at its middle, */
    int64_t rest_ns[2];          /* from one of its peaks to another */
    bool exact;                  /* volts or amperes: the rest follows in a straight line, however far */
    int64_t known_ns[2];         /* its values at the two times asked for last, */
    double known[2];
    int known_next;
    bool still;    /* ohms that stay as they are until its next turn */
    double placed; /* and the value whose cell is known: */
    bool placed_still;
    uint64_t pattern; /* of that cell */
    double base, by;  /* where the island's systems were worked out, and how far they hold otherwise */
} bench_stimulus;

/* The equations of an island in one state of its contacts. */
typedef struct {
    uint64_t key;
    tl_transient *transient; /* NULL where the state cannot be solved */
    bool floats;             /* some pin has nothing that defines it */
    bool loose;              /* some node has: a pin, or a line inside */
    bool known;
} bench_system;

/* A switch of the circuit in an island. */
typedef struct {
    const tl_switch *is;
    int node, against; /* of the island; TL_NET_NONE for a rail */
    double level;      /* as the island's values have it now, rails at either side counted in */
    double slack;      /* volts by which it may be wrong: it has flipped too often */
} bench_switch;

#define NOTHING_VOLTS 1e-9 /* so little makes no difference to anything */
#define PIN_DEFINED INT64_MIN

enum { SYSTEMS_MOST = 256, BENCH_BEFORE = -1001 }; /* seconds: everything has settled when a scene begins */

/* Where an island stands in time. */
typedef struct {
    tl_island *island;
    int size;
    double *volts;  /* of its nodes */
    double *values; /* of all parameters, as this island has them at its time */
    int64_t at_ns;
    bench_edge *edges; /* rising, those that are due next */
    int edge_count;
    bench_cursor *cursors;
    int cursor_count;
    bench_stimulus *stimuli;
    int stimulus_count;
    bench_switch *switches; /* those of the circuit that its nodes work */
    int switch_count;
    int *signals, signal_count;
    bool wired;                         /* what began before the bench has happened to it, */
    bool begun;                         /* and it stands where it was asked for last */
    bool changed;                       /* contacts or values, since the switches were looked at */
    uint64_t key;                       /* of the present contacts */
    unsigned long events;               /* this many have happened to it */
    bench_system systems[SYSTEMS_MOST]; /* each at its key's place, or close behind it */
    uint64_t replaced;
    bench_system *last;         /* the one asked for last, if it is still there */
    bool rails_move, ohms_move; /* among its stimuli are rails that levels follow; ohms */
    double period;              /* of the slowest wave among them; 0 for none */
    bool jumps;                 /* some of them jump */
    bool suffers;               /* some pin of it is over its limits */
    bool forced;                /* a source of amperes can lift it beyond its rails */
    double lowest, highest;     /* of its rails, a little room around them: volts beyond are a lie */
    bool drifts;                /* some pin of it has nothing that defines it, or had just now */
    double steepest;    /* most that a stimulus changes in a second, as a share of its largest value */
    bool hurt;          /* some pin of it has suffered, and its record is not full */
    int64_t calm_ns;    /* a whole wave had been gone through then, and nothing had happened */
    int64_t touched_ns; /* when an edge or a switch moved it last */
    bool settled;       /* it rests, and nothing moves it but edges */
    double next_event;  /* seconds: none before; of its cursors */
    double *before;     /* scratch: volts at the start of a step */
    bool in_trouble;
} bench_island;

typedef struct {
    bench_island *island;
    int node; /* of its pin, in the island */
} bench_signal;

/* A pin of the plan that has a net on it. */
typedef struct {
    bench_island *island; /* NULL where nothing is connected to it */
    int node;             /* in the island */
    int signal;           /* the first that ends there */
    bool level, looked;   /* as its input saw it last, if it ever did */
    double stray;         /* where it drifts to when nothing defines it, as a share of the rail */
    double loose_volts;   /* where it stood when that began */
    int64_t loose_ns;     /* PIN_DEFINED: something defines it */
    double rail, lowest, highest, vil, vih; /* as its island's values have them now */
    bool drives;
    int damage;   /* its latest event in the record, or TL_NONE */
    int events;   /* this many */
    bool suffers; /* one is under way: */
    double watts; /* so much when it was looked at last */
    int64_t looked_ns;
} bench_pin;

/* Real errors of one converter, in counts; noise rms. */
typedef struct {
    double offset, gain, bow, noise;
} bench_errors;

/* A converter on a bus: what it was told, what it has, and when. */
typedef struct {
    uint8_t pointer;
    unsigned long words[TL_REGISTERS_MOST]; /* of the registers that its file lists */
    uint32_t word;                          /* the result */
    int64_t end_ns;
} bench_chip;

typedef struct {
    tl_external external;
    uint32_t settings; /* what starts a conversion */
    bool sendable;     /* else the rule 'not-sendable' says why not */
} bench_told;

/* A mean that goes on from reading to reading. */
typedef struct {
    long *codes; /* the latest, a ring */
    int next;
    double trailing;
    bool filled;
} bench_filter;

typedef struct {
    tl_line_use use;
    bool high;
    uint16_t duty; /* of 65535 */
} bench_line;

/* What each end sees of a bus line, by who pulls it low: [by the board][by a chip]; and of which state of its
 * island that is known. */
typedef struct {
    bool at_pin[2][2], at_chip[2][2];
    bool known;
    uint64_t key;
    unsigned long events;
} bench_bus_line;

/* A supply that a fault can cut off: its parameter, the node that it feeds, the contact that is closed while
 * it is off. */
typedef struct {
    int param, node, cut;
} bench_lift;

/* A pin that feeds a rail of the plan: the parameter that says to which share of its supply, and the contact
 * that is closed while it does not. */
typedef struct {
    int pin, supply, share, cut;
    int part;             /* its output's resistance */
    bench_island *island; /* that its rail is in; NULL: in none that anybody can look at */
    int node;             /* of it */
} bench_feed;

enum { LOAD_EVENTS_MOST = 100 };

/* What is connected to an output pin. */
typedef struct {
    int output, pin;
    bool active_high;
    double share; /* of the time that it is on */
    const tl_output_nodes *nodes;
    const tl_plan_part *coil; /* that does harm when it is released; NULL for none */
    bench_island *island;     /* that its pin is in; NULL: in none */
    int events;
} bench_load;

/* A chip on SPI between its selection and the end of its frame. */
typedef struct {
    int converter;
    int at;        /* clocks since it was selected */
    uint32_t head; /* what it was told so far */
    bool started, refuses;
} spi_chip;

/* What goes on on a bus of that kind. */
typedef struct {
    const int *pins; /* of the bus; NULL before the first frame */
    spi_chip chip;
    bool hears;
} bench_frame;

/* A line whose frequency, duty or period is measured. */
typedef struct bench_rhythm {
    int signal;
    tl_button button;
    tl_rhythm rhythm;
    bool high;
    uint32_t edge_us;   /* when it became so */
    int64_t late_ns;    /* the most by which an edge was seen late */
    double edges_apart; /* seconds by which one edge may take longer than the other */
} bench_rhythm;

struct tl_bench {
    tl_circuit *circuit; /* what the plan believes */
    tl_net *net;         /* the circuit's, as it is soldered: faults and meters in it */
    const tl_scene *scene;
    tl_plan *own_plan;
    tl_circuit *own_circuit;
    tl_scene *own_scene;
    tl_port port;
    tl_port_reader reader;
    unsigned long seed;
    const bool *of; /* which signals it is a bench of; NULL: all of the plan */
    /* Each its own, and one for each signal's presses, so that a press more does not change the parts. */
    random_source parts, hand, jitter;

    int64_t now_ns, begun_ns;
    bool wired;     /* all is there, and its islands may begin */
    double *values; /* the real value of every parameter, nothing happening to it */
    bool *closed;   /* every contact */
    bool *pressed;  /* what the scene does to it, */
    bool *by_hand;  /* unless a hand has taken it over, */
    uint8_t *held;  /* and unless it is stuck: 1 open, 2 closed */
    bench_island **island_of_contact;
    bench_signal *signals; /* and lines behind them */
    bench_island *islands;
    int island_count;
    bench_pin *pins; /* of the plan */
    bench_line *lines;
    int *mux_input; /* of every multiplexer, the one that is switched through; TL_NONE */
    int *routed, routed_count; /* signals on the bench that come through multiplexers */
    int *muxes, mux_count;     /* those that they come through, and those with an input at a rail */
    tl_bench_damage *damages;
    int damage_count;
    int64_t line_turn_ns; /* when a fault next may move a line or a multiplexer; INT64_MAX: never */
    bench_lift *lifts;
    int lift_count;
    bench_feed *feeds;
    int feed_count;
    bench_load *loads;
    int load_count;
    tl_switch *switches; /* the circuit's, by what they go here, and those of leaks */
    int switch_count;
    int *leaking; /* contacts through which leakage reaches its node, closed to begin with */
    int leaking_count;
    int *hum;           /* of each fault of the scene the parameter of its hum; TL_NET_NONE */
    int *fault_contact; /* of each fault of the scene that joins something; TL_NET_NONE */
    bool strict;
    char trouble[160]; /* empty, or the first state that could not be solved */

    /* the converter */
    double held_volts;     /* on the sampling capacitor */
    bench_filter *filters; /* of every signal */
    int *read_last;        /* of every converter of the plan: the signal that it converted last; TL_NONE */
    bench_chip *chips;     /* of every converter of the plan; the board's own is not used */
    bench_told *told;      /* of every signal: its converter on a bus, as the core gets it */
    bench_errors *errors;  /* of every converter of the plan */
    bench_bus_line (*buses)[2]; /* SCL and SDA of every bus of the plan */
    bench_frame frame;
    int *first_at_channel;      /* of the board's: the first signal that a channel can see; TL_NONE */
    int64_t end_ns, sampled_ns; /* of the latest conversion; when its capacitor was released */
    bool converting;
    bool unpowered;
    uint32_t word;

    bench_rhythm *rhythms; /* lines that are measured */
    int rhythm_count;

    /* faults of the port */
    int64_t call_ns[TL_BENCH_CALLS], call_jitter_ns[TL_BENCH_CALLS];
    unsigned long calls, fail_at;
    double chip_volts; /* of the converter's reference, by a chip's own registers; NAN */
    double bus_rate;   /* of one bus, in the same way; 0 */
    int rated_bus;
    bool fail_once, never_end, frozen;
    uint32_t clock_start_us;
    int64_t frozen_ns;
};

/* solder.c: the circuit's net with the scene's faults and meters in it; draws every part's real value. */
void wiring_init(tl_bench *bench);
/* sensors.c: what a sensor of a law really has, as a share of what its law says. */
double sensor_share(const tl_bench *bench, int signal);

/* bench_clock.c: time goes on, for everything that wants to know. Not back. */
void bench_pass_to(tl_bench *bench, int64_t to_ns);
/* rhythms.c: the same for lines that are measured. To one of them: its level from now on; what has passed
 * until now, as if it had been looked at all the time: what was steady for long enough was accepted just
 * then. */
void rhythms_follow(tl_bench *bench, int64_t to_ns);
uint32_t rhythm_clock(const tl_bench *bench);
void rhythm_feed(bench_rhythm *r, uint32_t at_us);
void rhythm_go_on(bench_rhythm *r, uint32_t at_us);
/* rhythm_reading.c: a whole reading, with as much time as it takes. */
tl_status rhythm_read(tl_bench *bench, int signal, tl_bench_reading *reading);

/* feeds.c: pins that are rails. Before values are drawn; when there are lines; when a line was told
 * something. */
void feeds_wire(tl_bench *bench);
void feeds_begin(tl_bench *bench);
void feeds_find(tl_bench *bench); /* when there are islands */
void feeds_follow(tl_bench *bench, int pin);

/* A parameter of every island that has it is another from now on. */
void bench_set_value(tl_bench *bench, int param, double value);

/* leaks.c: when values are drawn. */
void leaks_wire(tl_bench *bench);
void leaks_begin(tl_bench *bench); /* when there are contacts */

/* loads.c: what is connected to outputs. */
void loads_wire(tl_bench *bench);
void loads_find(tl_bench *bench); /* when there are islands */
/* load_currents.c: through a part that conducts now, from its a to its b. */
double part_amperes(const tl_bench *bench, const bench_island *s, int part);
/* The node at an output's pin; TL_NET_NONE. What the pin gives or takes now, of the time that it is on the
 * mean.
 */
int load_pin_node(const tl_bench *bench, const bench_load *load);
double load_pin_amperes(const tl_bench *bench, const bench_island *s, const bench_load *load);
void loads_follow(tl_bench *bench, int pin);

/* events.c: what happens when. */
void events_init(tl_bench *bench);
/* Makes sure that the first edge up to a time is there; NULL where there is none. */
const bench_edge *events_first(tl_bench *bench, bench_island *island, int64_t to_ns);
void events_apply_first(tl_bench *bench, bench_island *island);
/* A parameter has another value, now. */
void island_set_value(tl_bench *bench, bench_island *island, int param, double value);
void edge_add(bench_island *island, int64_t at_ns, edge_kind kind, int which, double value);
void bouncing_edge_add(bench_island *island, random_source *random, int contact, double at, double bounce);

/* scene_faults.c: whether a fault is there now; the line that a line of the plan really is then, and whether
 * it is stuck (0, 1; else -1); what is set otherwise of a converter, NULL for nothing. */
bool fault_is_on(const tl_bench *bench, const tl_scene_fault *fault);

/* unpowered.c: what of a signal's source and stages goes with a supply: parts that come off, a parameter that
 * is 0. */
enum { UNPOWERED_MOST = 32 };
typedef struct {
    int parts[UNPOWERED_MOST], count;
    int param; /* TL_NET_NONE for none */
} unpowered;
unpowered unpowered_signal(const tl_bench *bench, int signal, int supply);
/* Whether a supply, or what a shared node comes from, is off now. */
bool supply_is_missing(const tl_bench *bench, int rail);
int line_really(const tl_bench *bench, int line, int *stuck);
/* What is driven over a line as it really is: outputs may be stuck, or change places. */
bench_line line_state(const tl_bench *bench, int pin);
const tl_scene_setting *setting_of(const tl_bench *bench, int converter);

/* quiet.c: until when the level of a line certainly stays as it is, at most until end_ns; now where nothing
 * is sure.
 */
int64_t line_quiet_until(tl_bench *bench, int line, int64_t end_ns);

/* stimuli.c: sources that move. */
void stimuli_init(tl_bench *bench);
double stimulus_value(bench_stimulus *stimulus, int64_t at_ns);
void stimuli_set(tl_bench *bench, bench_island *island, int64_t at_ns);
/* Where they are when a stretch ends, before what jumps there does. */
void stimuli_aim(tl_bench *bench, bench_island *island, int64_t from_ns, int64_t to_ns);
/* A wave that is fast against a long way rests in the middle of it, from peak to peak, where nothing has
 * flipped since: what follows it slowly does not notice. */
void stimuli_rest(bench_island *island, int64_t from_ns, int64_t to_ns);
/* The next moment after a time at which a stimulus turns or jumps; never later than to_ns. */
int64_t stimuli_next_turn(const bench_island *island, int64_t after_ns, int64_t to_ns);
/* Of those that are no waves only. */
int64_t stimuli_next_knot(const bench_island *island, int64_t after_ns, int64_t to_ns);

/* states.c: the equations of the present state, kept from one time to the next; NULL where it cannot be
 * solved. */
bench_system *system_now(tl_bench *bench, bench_island *island);
void systems_drop(bench_island *island);
void contact_set(tl_bench *bench, int contact, bool closed);

/* A parameter as an island has it; of a supply that is cut off the volts of its node. */
double param_volts(const tl_bench *bench, const bench_island *island, int param);

/* Told once: what the bench cannot answer, or will not. */
void trouble_note(tl_bench *bench, bench_island *island, const char *what);

enum { ROOM = 2 }; /* volts beyond the rails: clamps, diodes, offsets, a wire's drop */

/* levels.c: levels follow the values, to be called when those have changed; whether all multiplexers on its
 * way are switched to a signal. */
void levels_update(tl_bench *bench, bench_island *island);
void pin_levels_update(tl_bench *bench, int pin);
bool signal_is_routed(const tl_bench *bench, int signal);

/* floating.c: pins that nothing defines drift, and take along what is connected to them; those that something
 * holds stop. What a wire with nothing on it picks up: mains hum and noise. */
void pins_float(tl_bench *bench, bench_island *island, const tl_transient *transient);
double stray_volts(const tl_bench *bench, double rail);

/* islands.c: which there are. Signals that the bench is not of are left out before. */
void leave_others_out(tl_bench *bench);
bool is_on_bench(const tl_bench *bench, int line);
bool is_point_on_bench(const tl_bench *bench, int node);
void islands_init(tl_bench *bench);
void islands_free(tl_bench *bench);

/* live_island.c: moves islands on to a time. */
void island_advance(tl_bench *bench, bench_island *island, int64_t to_ns);
/* What has happened to it before the bench began: contacts and values, no volts yet. */
void island_wire(tl_bench *bench, bench_island *island);
/* From long ago to now: every capacitor and switch where the first instant leaves it. */
/* On through a moment so short that sources stand still in it, its contacts as they are. */
void island_step_still(tl_bench *bench, bench_island *island, int64_t to_ns);
/* A contact that is worked from outside, now: a multiplexer's switch, the converter's, a pin's. */
void island_set_contact(tl_bench *bench, int contact, bool closed);

/* pins.c: what pins see. */
void pins_init(tl_bench *bench);
/* Of a pair the difference of its inputs. */
double signal_volts(tl_bench *bench, int signal);
bool signal_floats(tl_bench *bench, int signal);
/* Whether its pin has nothing on it but a hum that it picks up. */
bool only_hums(tl_bench *bench, int signal);
bool pin_level(tl_bench *bench, int pin);
/* A pin's own contacts follow its use. */
void pin_use(tl_bench *bench, int pin);

/* damage.c: what is too much for pins. Whether something of it begins or ends with the volts as they are; the
 * record of it, at the island's time. */
bool damage_turns(const tl_bench *bench, const bench_island *island);
void damage_record(tl_bench *bench, bench_island *island);

/* routes.c: sets the switches as the lines that select them stand now. */
void routes_init(tl_bench *bench);
void muxes_update(tl_bench *bench);

/* misread.c: what firmware with a mistake takes for the count, and by how much it is off with its value. */
long misread_count(const tl_bench *bench, int signal, long code);
double misread_factor(tl_bench *bench, int signal);

/* bench_lines.c: what is connected to a line follows its new state; all of them, when a fault begins or
 * ends; when after a time a fault of lines or supplies next does. */
void line_moved(tl_bench *bench, int line);
void lines_turn(tl_bench *bench);
int64_t lines_turn_after(const tl_bench *bench, int64_t after_ns);

/* conversion.c: samples and converts; leaves the word and the time of its end in the bench. */
void converter_init(tl_bench *bench);
void converter_start(tl_bench *bench, uint8_t channel, uint8_t reference, uint32_t acquisition_ns);
/* What a converter on a bus makes of a signal, now: its code. */
long converter_code(tl_bench *bench, int signal);

/* bus_i2c.c, bus_spi.c: converters on buses. bus.c: as the core gets them. */
tl_status bus_i2c(tl_bench *bench, uint8_t bus, uint8_t address, const uint8_t *out, uint8_t out_count,
                  uint8_t *in, uint8_t in_count);
void bus_spi(tl_bench *bench, uint8_t bus, uint8_t select, const uint8_t *out, uint8_t *in, uint8_t count);

/* Noise of a thing at an instant, whoever looked at what before: so that it makes no difference who did. */
typedef enum { NOISE_CODE, NOISE_CAPACITOR, NOISE_PIN, NOISE_WIRE, NOISE_BUS } noise_kind;
random_source noise_at(const tl_bench *bench, noise_kind kind, int which, int64_t at_ns);

/* bench_port.c */
extern const tl_port_ops bench_port_ops;

static inline double seconds_of(int64_t ns)
{
    return 1e-9 * (double)ns;
}

#endif
