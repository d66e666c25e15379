/* Multiplexers: the order of their lines, every call failing in turn; pulses, gaps and patterns. */
#include "support.h"
#include "tinyladder/core.h"
#include <string.h>

/* A port that remembers its lines, and what happened in which order. */
typedef struct {
    tl_line_use use[40];
    bool high[40];
    unsigned calls, fail_at;
    uint32_t waited_us;
    bool switched_while_on; /* a select line moved while enable (line 3, active low) let something through */
} line_port;

static tl_status enter(line_port *p)
{
    return ++p->calls == p->fail_at ? TL_ERR_PORT : TL_OK;
}

static tl_status use_line(void *context, uint8_t line, tl_line_use use)
{
    line_port *p = context;
    const tl_status status = enter(p);
    if (status == TL_OK)
        p->use[line] = use;
    return status;
}

static tl_status drive_line(void *context, uint8_t line, bool high)
{
    line_port *p = context;
    const tl_status status = enter(p);
    if (status != TL_OK)
        return status;
    if (line < 3 && p->use[3] == TL_LINE_OUTPUT && !p->high[3] && p->high[line] != high)
        p->switched_while_on = true;
    p->high[line] = high;
    return TL_OK;
}

static tl_status wait_us(void *context, uint32_t duration_us)
{
    line_port *p = context;
    p->waited_us = duration_us;
    return enter(p);
}

static const tl_port_ops ops = {.line_use = use_line, .line_drive = drive_line, .wait_us = wait_us};
static const tl_mux_lines near_mux TL_ROM = {
    .select = {0, 1, 2}, .select_count = 3, .enable = 3, .enable_high = false, .dwell_us = 20};
static const tl_mux_lines far_mux TL_ROM = {
    .select = {10, 11, TL_MUX_NO_LINE}, .select_count = 3, .enable = TL_MUX_NO_LINE, .dwell_us = 50};

static void inputs_are_led_through(void)
{
    line_port p = {.high = {[3] = true}};
    const tl_port port = {&ops, &p};
    CU_ASSERT(tl_mux_open(&port, &near_mux) == TL_OK && tl_mux_open(&port, &far_mux) == TL_OK);
    for (uint8_t input = 0; input < 8; input++) {
        const tl_mux_step steps[] = {{&near_mux, input}, {&far_mux, (uint8_t)(input & 3)}};
        CU_ASSERT(tl_mux_lead(&port, steps, 2) == TL_OK);
        CU_ASSERT((p.high[0] | p.high[1] << 1 | p.high[2] << 2) == input && !p.high[3]);
        CU_ASSERT((p.high[10] | p.high[11] << 1) == (input & 3) && p.waited_us == 50);
    }
    CU_ASSERT(!p.switched_while_on);
    const tl_mux_step beyond = {&near_mux, 8};
    CU_ASSERT(tl_mux_lead(&port, &beyond, 1) == TL_ERR_ARG && p.high[3]); /* and switched off */
    CU_ASSERT(tl_mux_release(&port, &near_mux) == TL_OK && p.use[0] == TL_LINE_RELEASED &&
              p.use[3] == TL_LINE_RELEASED);
    CU_ASSERT(tl_mux_open(&port, NULL) == TL_ERR_ARG && tl_mux_lead(&port, NULL, 1) == TL_ERR_ARG);
}

/* Whichever call fails, a status comes back and nothing half switched stays on. */
static void whichever_call_fails(void)
{
    const tl_mux_step steps[] = {{&near_mux, 5}, {&far_mux, 2}};
    unsigned failing = 1;
    for (; failing < 50; failing++) {
        line_port p = {.high = {[3] = true}};
        const tl_port port = {&ops, &p};
        CU_ASSERT(tl_mux_open(&port, &near_mux) == TL_OK && tl_mux_open(&port, &far_mux) == TL_OK);
        p.calls = 0;
        p.fail_at = failing;
        if (tl_mux_lead(&port, steps, 2) == TL_OK)
            break;
        CU_ASSERT(p.high[3] || failing > 7); /* off; once all lines stand only the wait can fail */
    }
    CU_ASSERT(failing == 9); /* off, 3 selects, on; 2 selects; wait */
}

static void pulses_are_measured(void)
{
    static const struct {
        bool high;
        uint32_t at_us;
        bool ends;
        uint32_t length_us;
    } rows[] = {
        {false, UINT32_MAX - 99, false, 0}, /* whatever it was before, its beginning was not seen */
        {true, UINT32_MAX - 49, false, 0},
        {true, 20, false, 0},
        {false, 250, true, 300}, /* across the clock's end */
        {true, 300, true, 50},
        {true, 2000000000u, false, 0},
        {true, 4000000000u, false, 0},
        {false, 4000000100u, true, INT32_MAX}, /* too long to count: stays at the most */
        {true, 4000000150u, true, 50},
    };
    tl_pulse pulse;
    tl_pulse_init(&pulse);
    for (size_t i = 0; i < ROWS(rows); i++) {
        tl_length_us ended = {false, 0};
        CU_ASSERT(tl_pulse_feed(&pulse, rows[i].high, rows[i].at_us, &ended) == rows[i].ends);
        if (rows[i].ends)
            CU_ASSERT(ended.length_us == rows[i].length_us && ended.high == !rows[i].high);
    }
    CU_ASSERT(pulse.rising == 3 && pulse.falling == 2);
    CU_ASSERT(tl_pulse_missed(&pulse, 5) == 0 && tl_pulse_missed(&pulse, 9) == 4);
}

static void patterns_pass_or_fail(void)
{
    static const tl_length_us wanted[] = {{true, 300000}, {false, 200000}, {true, 300000}};
    static const struct {
        const char *name;
        tl_length_us seen[5];
        int count;
        tl_pattern_state state;
    } rows[] = {
        {"as expected", {{true, 300000}, {false, 200000}, {true, 300000}}, 3, TL_PATTERN_PASSED},
        {"at the edge of 5 %", {{true, 315000}, {false, 190000}, {true, 285000}}, 3, TL_PATTERN_PASSED},
        {"just beyond it", {{true, 315000}, {false, 189999}}, 2, TL_PATTERN_FAILED},
        {"something else before it",
         {{true, 10}, {false, 200000}, {true, 300000}, {false, 200000}, {true, 300000}},
         5,
         TL_PATTERN_PASSED},
        {"not there yet", {{true, 300000}}, 1, TL_PATTERN_RUNNING},
        {"not begun", {{false, 300000}}, 1, TL_PATTERN_WAITING},
        {"wrong level", {{true, 300000}, {true, 200000}}, 2, TL_PATTERN_FAILED},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        tl_pattern pattern;
        tl_pattern_state state = TL_PATTERN_WAITING;
        CU_ASSERT(tl_pattern_init(&pattern, wanted, 3, 5) == TL_OK);
        for (int n = 0; n < rows[i].count; n++)
            state = tl_pattern_feed(&pattern, &rows[i].seen[n]);
        CHECK_ROW(rows[i].name, state == rows[i].state);
    }
    tl_pattern pattern;
    CU_ASSERT(tl_pattern_init(&pattern, wanted, 0, 5) == TL_ERR_ARG &&
              tl_pattern_init(&pattern, wanted, 3, 101) == TL_ERR_ARG);
}

static void thresholds_keep_between_their_levels(void)
{
    static const tl_threshold cold = {200, 400},
                              full = {900, 700}; /* start below 200, stop above 400; and above 900 */
    static const struct {
        int32_t value;
        bool heating, draining;
    } rows[] = {{300, false, false}, {200, false, false}, {199, true, false},  {300, true, false},
                {400, true, false},  {401, false, false}, {900, false, false}, {901, false, true},
                {701, false, true},  {699, false, false}};
    bool heating = false, draining = false;
    for (size_t i = 0; i < ROWS(rows); i++) {
        heating = tl_threshold_next(&cold, heating, rows[i].value);
        draining = tl_threshold_next(&full, draining, rows[i].value);
        CU_ASSERT(heating == rows[i].heating && draining == rows[i].draining);
    }
    CU_ASSERT(!tl_safe_state(TL_SAFE_OFF, true, true, true) && tl_safe_state(TL_SAFE_ON, true, false, false));
    CU_ASSERT(tl_safe_state(TL_SAFE_HOLD, true, true, false) &&
              !tl_safe_state(TL_SAFE_ON, false, true, false));
    CU_ASSERT(tl_duty_of(0, 4095, 255) == 0 && tl_duty_of(4095, 4095, 255) == 255 &&
              tl_duty_of(2048, 4095, 65535) == 32775);
}

/* Whichever call fails, every line is let go of. */
static void bars_are_let_go_of(void)
{
    static const tl_bar bar TL_ROM = {.lines = {30, 31, 32, 33}, .count = 4}, none TL_ROM = {.count = 0};
    unsigned failing = 1;
    for (; failing < 40; failing++) {
        line_port p = {.fail_at = failing};
        const tl_port port = {&ops, &p};
        tl_status status = tl_bar_open(&port, &bar);
        if (status == TL_OK)
            status = tl_bar_show(&port, &bar, 3);
        if (status == TL_OK) {
            CU_ASSERT(p.high[30] && p.high[32] && !p.high[33]);
            break;
        }
        CU_ASSERT(p.use[30] == TL_LINE_RELEASED && p.use[33] == TL_LINE_RELEASED);
    }
    CU_ASSERT(failing == 13); /* four lines set up, made dark, lit */
    line_port p = {.fail_at = 1};
    const tl_port port = {&ops, &p};
    CU_ASSERT(tl_bar_release(&port, &bar) == TL_ERR_PORT && p.calls == 4); /* all the same */
    CU_ASSERT(tl_bar_open(&port, &none) == TL_ERR_ARG && tl_bar_open(&port, NULL) == TL_ERR_ARG);
}

CU_TestInfo mux_tests[] = {
    {"thresholds keep between their levels", thresholds_keep_between_their_levels},
    {"bars are let go of", bars_are_let_go_of},
    {"inputs are led through", inputs_are_led_through},
    {"whichever call fails", whichever_call_fails},
    {"pulses are measured", pulses_are_measured},
    {"patterns pass or fail", patterns_pass_or_fail},
    CU_TEST_INFO_NULL,
};
