/* SPDX-License-Identifier: MIT */
/* Multiplexers: the order of their lines, every call failing in turn. */
#include "line_port.h"
#include "support.h"
#include "tinyladder/core.h"

static const TL_ROM tl_mux_lines far_mux = {
    .select = {10, 11, TL_MUX_NO_LINE}, .select_count = 3, .enable = TL_MUX_NO_LINE, .dwell = 50};
static const TL_ROM tl_mux_lines near_mux = {.select = {0, 1, 2},
                                             .select_count = 3,
                                             .enable = 3,
                                             .enable_high = false,
                                             .dwell = 20,
                                             .into = &far_mux,
                                             .into_input = 2};

static void inputs_are_led_through(void)
{
    line_port p = {.high = {[3] = true}};
    const tl_port port = {&line_port_ops, &p, &(tl_port_reader){&p}};
    CU_ASSERT(tl_mux_open(&port, &near_mux) == TL_OK && tl_mux_open(&port, &far_mux) == TL_OK);
    for (uint8_t input = 0; input < 8; input++) {
        tl_mux_lines near = near_mux;
        near.into_input = input & 3;
        CU_ASSERT(tl_mux_lead(&port, &p, &near, input) == TL_OK);
        CU_ASSERT((p.high[0] | p.high[1] << 1 | p.high[2] << 2) == input && !p.high[3]);
        CU_ASSERT((p.high[10] | p.high[11] << 1) == (input & 3) && p.waited_us == 50);
    }
    CU_ASSERT(!p.switched_while_on);
    CU_ASSERT(tl_mux_lead(&port, &p, &near_mux, 8) == TL_ERR_ARG && p.high[3]); /* and switched off */
    CU_ASSERT(tl_mux_release(&port, &near_mux) == TL_OK && p.use[0] == TL_LINE_RELEASED &&
              p.use[3] == TL_LINE_RELEASED);
    CU_ASSERT(tl_mux_open(&port, NULL) == TL_ERR_ARG && tl_mux_lead(&port, &p, NULL, 1) == TL_ERR_ARG);
}

/* Opening switches it off, whatever the line was and whichever level means on. */
static void is_off_once_opened(void)
{
    for (int on_is_high = 0; on_is_high < 2; on_is_high++) {
        for (int was = 0; was < 2; was++) {
            tl_mux_lines lines = near_mux;
            line_port p = {.high = {[3] = was != 0}};
            const tl_port port = {&line_port_ops, &p, &(tl_port_reader){&p}};
            lines.enable_high = on_is_high != 0;
            CU_ASSERT(tl_mux_open(&port, &lines) == TL_OK);
            CU_ASSERT(p.use[3] == TL_LINE_OUTPUT && p.high[3] == (on_is_high == 0));
        }
    }
}

/* Whichever call fails, a status comes back and nothing half switched stays on. */
static void whichever_call_fails(void)
{
    unsigned failing = 1;
    for (; failing < 50; failing++) {
        line_port p = {.high = {[3] = true}};
        const tl_port port = {&line_port_ops, &p, &(tl_port_reader){&p}};
        CU_ASSERT(tl_mux_open(&port, &near_mux) == TL_OK && tl_mux_open(&port, &far_mux) == TL_OK);
        p.calls = 0;
        p.fail_at = failing;
        if (tl_mux_lead(&port, &p, &near_mux, 5) == TL_OK)
            break;
        CU_ASSERT(p.high[3] || failing > 7); /* off; once all lines stand only the wait can fail */
    }
    CU_ASSERT(failing == 9); /* off, 3 selects, on; 2 selects; wait */
}

/* A ring of multiplexers is no tree: it is aborted, and they are all off. */
static void a_ring_is_no_way(void)
{
    line_port p = {.high = {[3] = true}};
    const tl_port port = {&line_port_ops, &p, &(tl_port_reader){&p}};
    tl_mux_lines ring = near_mux;
    ring.into = &ring;
    CU_ASSERT(tl_mux_lead(&port, &p, &ring, 5) == TL_ERR_ARG && p.high[3] && p.waited_us == 0);
}

CU_TestInfo mux_tests[] = {
    {"inputs are led through", inputs_are_led_through},
    {"is off once opened", is_off_once_opened},
    {"whichever call fails", whichever_call_fails},
    {"a ring is no way", a_ring_is_no_way},
    CU_TEST_INFO_NULL,
};
