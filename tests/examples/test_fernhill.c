/* The constants of the examples against the plan: a number that is typed twice must not drift. */
#include "fernhill.h"
#include "support.h"
#include <math.h>
#include <stdint.h>
#include <string.h>
#include <tinyladder/design/measurement.h>

typedef struct {
    tl_report *report;
    tl_plan *plan;
    tl_circuit *circuit;
} fernhill;

static void set_up(fernhill *f)
{
    f->report = tl_report_new();
    f->plan = tl_plan_load(TL_SOURCE "/demo/fernhill.plan.yaml", f->report);
    CU_ASSERT_FATAL(f->plan != NULL);
    f->circuit = tl_circuit_new(f->plan);
}

static void tear_down(fernhill *f)
{
    tl_circuit_free(f->circuit);
    tl_plan_free(f->plan);
    tl_report_free(f->report);
}

static int signal_named(const fernhill *f, const char *name)
{
    for (int i = 0; i < f->plan->signal_count; i++) {
        if (strcmp(f->plan->signals[i].name, name) == 0)
            return i;
    }
    CHECK_ROW(name, false);
    return 0;
}

static const tl_plan_output *output_named(const fernhill *f, const char *name)
{
    for (int i = 0; i < f->plan->output_count; i++) {
        if (strcmp(f->plan->outputs[i].name, name) == 0)
            return &f->plan->outputs[i];
    }
    CHECK_ROW(name, false);
    return f->plan->outputs;
}

static void lines_are_where_they_hang(void)
{
    static const struct {
        const char *signal;
        int line;
    } rows[] = {{"motor-status", MOTOR_STATUS}, {"rain-plate", RAIN_PLATE},
                {"encoder-1", ENCODER_1},       {"encoder-2", ENCODER_2},
                {"close-button", CLOSE_BUTTON}, {"stop-button", STOP_BUTTON},
                {"open-button", OPEN_BUTTON},   {"wheel", WHEEL},
                {"gate-closed", GATE_CLOSED},   {"paddle-click", PADDLE_CLICK}};
    fernhill f;
    set_up(&f);
    for (size_t i = 0; i < ROWS(rows); i++)
        CHECK_ROW(rows[i].signal, f.plan->signals[signal_named(&f, rows[i].signal)].pin == rows[i].line);
    CU_ASSERT(output_named(&f, "map-light")->pins[0] == MAP_LIGHT &&
              output_named(&f, "dew-fan")->pins[0] == DEW_FAN);
    for (int i = 0; i < 10; i++)
        CU_ASSERT(output_named(&f, "position-bar")->pins[i] == FIRST_LAMP + i);
    const tl_mux *mux = &f.plan->muxes[f.plan->pins[f.plan->signals[signal_named(&f, "heater-1")].pin].mux];
    for (int i = 0; i < 3; i++)
        CU_ASSERT(mux->select[i].pin == heaters.select[i]);
    CU_ASSERT(mux->enable.pin == heaters.enable && (mux->part->enable == 2) == heaters.enable_high);
    CU_ASSERT(heaters.dwell_us >= 1e6 * tl_circuit_path(f.circuit, signal_named(&f, "heater-8"))->dwell);
    tear_down(&f);
}

static void inputs_and_scales_are_the_path(void)
{
    static const struct {
        const char *signal;
        const tl_input *input;
    } rows[] = {{"house-battery", &house_battery},
                {"heater-1", &heaters_common},
                {"wind-vane", &wind_vane},
                {"twilight", &twilight},
                {"keypad", &keypad},
                {"roof-position", &roof_position},
                {"mirror-temperature", &mirror_temperature},
                {"paddle-x", &paddle_x},
                {"paddle-y", &paddle_y}};
    fernhill f;
    set_up(&f);
    for (size_t i = 0; i < ROWS(rows); i++) {
        const tl_input *wanted = &tl_circuit_path(f.circuit, signal_named(&f, rows[i].signal))->input;
        CHECK_ROW(rows[i].signal, rows[i].input->channel == wanted->channel &&
                                      rows[i].input->acquisition_ns >= wanted->acquisition_ns &&
                                      rows[i].input->word.bits == wanted->word.bits &&
                                      rows[i].input->word.width == wanted->word.width &&
                                      rows[i].input->word.align == wanted->word.align);
    }
    const tl_analog_path *path = tl_circuit_path(f.circuit, signal_named(&f, "house-battery"));
    CU_ASSERT(path->pin_scale.reference_high_uv == at_the_pin.reference_high_uv &&
              path->pin_scale.steps == at_the_pin.steps);
    CU_ASSERT((uint64_t)path->source_scale.undo_num * at_the_battery.undo_den ==
              (uint64_t)path->source_scale.undo_den * at_the_battery.undo_num);
    CU_ASSERT(mirror_wire.open_level == lround(0.97 * 4096) &&
              mirror_wire.short_level == lround(0.05 * 4096));
    tl_interval codes;
    double middle;
    for (int state = 0; state < KEYPAD_LEVELS; state++) {
        CU_ASSERT(tl_plan_state_codes(f.circuit, signal_named(&f, "keypad"), state, &codes, &middle) ==
                  TL_NET_SOLVED);
        const bool same = keypad_rungs[state].low == codes.low && keypad_rungs[state].high == codes.high;
        CU_ASSERT(same);
        if (!same)
            printf("\n  rung %d: {%.0f, %.0f}\n", state, codes.low, codes.high);
    }
    tear_down(&f);
}

static void tables_are_the_plans_own_curve(void)
{
    static const struct {
        const char *signal;
        const tl_table *table;
        double per_unit, off; /* of the table's own step */
    } rows[] = {{"wind-vane", &vane_tenths, 10, 1},
                {"mirror-temperature", &mirror_tenths, 10, 3},
                {"heater-1", &heater_tenths, 10, 3},
                {"counterweight", &counterweight_tenths, 10, 1}};
    fernhill f;
    set_up(&f);
    for (size_t i = 0; i < ROWS(rows); i++) {
        const int signal = signal_named(&f, rows[i].signal);
        const int32_t first = rows[i].table->points[0].from,
                      last = rows[i].table->points[rows[i].table->count - 1].from;
        double worst = 0;
        for (int32_t code = first; code <= last; code++) {
            double shown = 0;
            CU_ASSERT(tl_plan_shown(f.circuit, signal, code, &shown) == TL_NET_SOLVED);
            worst = fmax(worst, fabs(tl_table_value(rows[i].table, code, NULL) - shown * rows[i].per_unit));
        }
        CHECK_ROW(rows[i].signal, worst <= rows[i].off);
    }
    tear_down(&f);
}

CU_TestInfo fernhill_tests[] = {
    {"lines are where they hang", lines_are_where_they_hang},
    {"inputs and scales are the path", inputs_and_scales_are_the_path},
    {"tables are the plan's own curve", tables_are_the_plans_own_curve},
    CU_TEST_INFO_NULL,
};
