/* Pairs of legs with their figures, and every limit that they break. */
#include "proposals/compare_legs.h"
#include <math.h>
#include <stdio.h>
#include <string.h>

/* One leg as `470`, `4k7` or `47k ±1 %`, at the tolerance of the rest where it has none. */
static bool read_leg(const char *text, size_t length, double tolerance, tl_quantity *leg)
{
    char word[60], with_unit[70];
    tl_text_error ignored;
    snprintf(word, sizeof word, "%.*s", (int)(length < sizeof word ? length : sizeof word - 1), text);
    snprintf(with_unit, sizeof with_unit, "%s ohm", word);
    if (!tl_quantity_read(word, TL_DIM_OHM, leg, &ignored) &&
        !tl_quantity_read(with_unit, TL_DIM_OHM, leg, &ignored))
        return false;
    if (!leg->toleranced) {
        leg->low *= 1 - tolerance;
        leg->high *= 1 + tolerance;
        leg->toleranced = tolerance > 0;
    }
    return leg->low > 0;
}

int compare_read(const char *text, const tl_divider_requirement *with, double tolerance, compared *pairs,
                 char why[160])
{
    int count = 0;
    for (const char *at = text; *at != '\0'; count++) {
        const size_t length = strcspn(at, ","), upper = strcspn(at, "/");
        if (count == PAIRS_MOST) {
            snprintf(why, 160, "at most %d pairs", PAIRS_MOST);
            return -1;
        }
        compared *p = &pairs[count];
        *p = (compared){.with = *with};
        snprintf(p->name, sizeof p->name, "%.*s", (int)(length < 39 ? length : 39), at);
        if (upper >= length || !read_leg(at, upper, tolerance, &p->with.upper) ||
            !read_leg(at + upper + 1, length - upper - 1, tolerance, &p->with.lower)) {
            snprintf(why, 160, "pairs are wanted, the upper leg first, such as 470/180,4k7/1k8: '%s'",
                     p->name);
            return -1;
        }
        at += length + (at[length] == ',');
    }
    return count;
}

static void say(compared *p, const char *text, int figure, double limit)
{
    const tl_size_figure *f = &p->choice.figure[figure];
    const size_t used = strlen(p->why);
    if (f->value <= limit)
        return;
    char value[32], most[32];
    tl_quantity_write(f->value, f->dimension, f->extreme == TL_HIGHEST ? TL_ROUND_UP : TL_ROUND_NEAREST,
                      value);
    tl_quantity_write(limit, f->dimension, TL_ROUND_NEAREST, most);
    snprintf(p->why + used, sizeof p->why - used, "%s%s %s, limit %s", used > 0 ? "; " : "", text, value,
             most);
}

void compare_try(compared *p, const tl_stock *stock)
{
    tl_divider_requirement any = p->with;
    tl_size_result *result = tl_size_result_new(stock, 1);
    any.limit = any.reference = 0.999 * any.source.high; /* a limit above the source needs no divider */
    any.most_amperes = any.most_tap_ohms = INFINITY;
    any.least_share = NAN;
    tl_size_divider(&any, result);
    p->known = result->count > 0;
    if (p->known) {
        const double limit = fmin(p->with.limit, isnan(p->with.reference) ? INFINITY : p->with.reference);
        p->choice = result->choices[0];
        say(p, "over the limit: tap, highest", TL_DIVIDER_TAP_HIGHEST, limit);
        say(p, "too weak for the pin: source resistance", TL_DIVIDER_OHMS, p->with.most_tap_ohms);
        say(p, "draws too much: current", TL_DIVIDER_CURRENT, p->with.most_amperes);
    } else {
        snprintf(p->why, sizeof p->why, "%s", result->refusal);
    }
    tl_size_result_free(result);
}

double compare_off_by(const compared *p)
{
    const double nominal =
        p->with.source.high * p->with.lower.nominal / (p->with.lower.nominal + p->with.upper.nominal);
    return 100 * fmax(fabs(p->choice.figure[TL_DIVIDER_TAP_HIGHEST].value / nominal - 1),
                      fabs(p->choice.figure[TL_DIVIDER_TAP_LOWEST].value * p->with.source.high /
                               p->with.source.low / nominal -
                           1));
}
