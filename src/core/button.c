/*
 * A contact, debounced: a level counts once it has been seen steadily for the steady time; the time is
 * measured between looks (elapsed.h), so a late look or a clock that is set back accepts nothing by itself.
 */
#include "tinyladder/button.h"
#include "elapsed.h"
#include "timeout.h"

tl_status tl_button_init(tl_button *button, const TL_IN_ROM tl_button_config *config, const tl_port *port)
{
    uint32_t now_us = 0;
    tl_line_use use = TL_LINE_INPUT;

    if (button == NULL || !config || port == NULL)
        return TL_ERR_ARG;
    if (config->steady_us > INT32_MAX)
        return TL_ERR_ARG;
    if (config->internal_pull)
        use = config->closed_is_low ? TL_LINE_INPUT_PULL_UP : TL_LINE_INPUT_PULL_DOWN;
    tl_status status = tl_port_line_use(port, config->line, use);
    if (status == TL_OK)
        status = tl_port_clock_us(port, &now_us);
    if (status != TL_OK)
        return status;
    *button = (tl_button){.needed_us = config->steady_us,
                          .seen_us = now_us,
                          .line = config->line,
                          .closed_is_low = config->closed_is_low};
    return TL_OK;
}

tl_button_event tl_button_feed(tl_button *button, bool high, uint32_t now_us)
{
    const bool closed = high != button->closed_is_low;

    if (closed != button->seen) {
        button->seen = closed;
        button->steady_us = 0;
        button->seen_us = now_us;
    }
    if (tl_elapsed_us(&button->steady_us, &button->seen_us, now_us) < button->needed_us ||
        closed == button->closed)
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
    uint32_t now_us = 0;

    *event = TL_BUTTON_QUIET;
    tl_status status = tl_port_line_level(port, button->line, &high);
    if (status == TL_OK)
        status = tl_port_clock_us(port, &now_us);
    if (status == TL_OK)
        *event = tl_button_feed(button, high, now_us);
    return status;
}

tl_status tl_hold_init(tl_hold *hold, uint32_t after_us, uint32_t every_us)
{
    if (hold == NULL || after_us > INT32_MAX || every_us > INT32_MAX)
        return TL_ERR_ARG;
    *hold = (tl_hold){.after_us = after_us, .every_us = every_us};
    return TL_OK;
}

tl_hold_event tl_hold_feed(tl_hold *hold, bool closed, uint32_t now_us)
{
    if (closed != hold->closed) {
        hold->closed = closed;
        hold->held = false;
        hold->lasted_us = 0;
        hold->seen_us = now_us;
    }
    const uint32_t lasted_us = tl_elapsed_us(&hold->lasted_us, &hold->seen_us, now_us);
    if (!closed || (hold->held && hold->every_us == 0) ||
        lasted_us < (hold->held ? hold->every_us : hold->after_us))
        return TL_HOLD_QUIET;
    const bool again = hold->held;
    hold->held = true;
    hold->lasted_us = 0;
    return again ? TL_HOLD_AGAIN : TL_HOLD_KEPT;
}

tl_status tl_line_await(const tl_port *port, uint8_t line, bool high, uint32_t longest_us)
{
    wait_timeout timeout;
    if (longest_us == 0 || longest_us > INT32_MAX)
        return TL_ERR_ARG;
    tl_status status = tl_timeout_begin(&timeout, port, longest_us);
    while (status == TL_OK) {
        bool now_high = !high;
        status = tl_port_line_level(port, line, &now_high);
        if (status != TL_OK || now_high == high)
            return status;
        status = tl_timeout_keep(&timeout, port);
    }
    return status;
}
