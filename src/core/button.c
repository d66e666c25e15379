/* SPDX-License-Identifier: MIT */
/*
 * A contact, debounced: a level counts once it has been seen steadily for the steady time; the time is
 * measured between looks (elapsed.h), so a late look or a clock that is set back accepts nothing by itself.
 */
#include "tinyladder/button.h"
#include "clear.h"
#include "elapsed.h"
#include "port_calls.h"
#include "timeout.h"

tl_status tl_button_init(tl_button *button, const TL_IN_ROM tl_button_config *config, const tl_port *port)
{
    tl_line_use use = TL_LINE_INPUT;

    if (MISTAKEN(button == NULL || !config || port == NULL))
        return TL_ERR_ARG;
    if (MISTAKEN(config->steady > TL_TIME_MOST))
        return TL_ERR_ARG;
    if (config->internal_pull)
        use = config->closed_is_low ? TL_LINE_INPUT_PULL_UP : TL_LINE_INPUT_PULL_DOWN;
    const tl_status status = tl_port_line_use(port, config->line, use);
    if (status != TL_OK)
        return status;
    tl_clear(button, sizeof *button); /* the clock matters from the first change on */
    button->needed = config->steady;
    button->line = config->line;
    button->closed_is_low = config->closed_is_low;
    return TL_OK;
}

tl_button_event tl_button_feed(tl_button *button, bool high, tl_time now)
{
    const bool closed = high != button->closed_is_low;

    if (closed != button->seen) {
        button->seen = closed;
        button->steady = 0;
        button->seen_at = now;
    }
    if (tl_elapsed(&button->steady, &button->seen_at, now) < button->needed || closed == button->closed)
        return TL_BUTTON_QUIET;
    button->closed = closed;
    if (!closed)
        return TL_BUTTON_OPENED;
    button->closings++;
    return TL_BUTTON_CLOSED;
}

tl_status tl_button_look(tl_button *button, const tl_port *port, tl_button_event *event)
{
    bool high = false;
    tl_time now = 0;

    *event = TL_BUTTON_QUIET;
    tl_status status = tl_port_line_level(port, button->line, &high);
    if (status == TL_OK)
        status = tl_port_clock(port, &now);
    if (status != TL_OK)
        return status;
#ifndef TL_SMALL
    const bool waits = button->seen != button->closed && now == button->seen_at;
    button->still = waits ? (uint16_t)(button->still + 1) : 0;
    if (button->still >= TL_PORT_FROZEN_POLLS) {
        button->still = TL_PORT_FROZEN_POLLS;
        return TL_ERR_CLOCK;
    }
#endif
    *event = tl_button_feed(button, high, now);
    return TL_OK;
}

tl_status tl_hold_init(tl_hold *hold, tl_time after, tl_time every)
{
    if (hold == NULL || after > TL_TIME_MOST || every > TL_TIME_MOST)
        return TL_ERR_ARG;
    *hold = (tl_hold){.after = after, .every = every};
    return TL_OK;
}

tl_hold_event tl_hold_feed(tl_hold *hold, bool closed, tl_time now)
{
    if (closed != hold->closed) {
        hold->closed = closed;
        hold->held = false;
        hold->lasted = 0;
        hold->seen_at = now;
    }
    const tl_time lasted = tl_elapsed(&hold->lasted, &hold->seen_at, now);
    if (!closed || (hold->held && hold->every == 0) || lasted < (hold->held ? hold->every : hold->after))
        return TL_HOLD_QUIET;
    const bool again = hold->held;
    hold->held = true;
    hold->lasted = 0;
    return again ? TL_HOLD_AGAIN : TL_HOLD_KEPT;
}

tl_status tl_line_await(const tl_port *port, uint8_t line, bool high, tl_span longest)
{
    wait_timeout timeout;
    if (longest == 0 || longest > TL_SPAN_MOST)
        return TL_ERR_ARG;
    tl_status status = tl_timeout_begin(&timeout, port, longest);
    while (status == TL_OK) {
        bool now_high = !high;
        status = tl_port_line_level(port, line, &now_high);
        if (status != TL_OK || now_high == high)
            return status;
        status = tl_timeout_keep(&timeout, port);
    }
    return status;
}
