/* SPDX-License-Identifier: MIT */
/*
 * Sensors' laws: from a quantity to ohms and back. Beta and Steinhart-Hart for thermistors, IEC 60751 for
 * platinum, and tables that say how they interpolate.
 */
#include "tinyladder/design/plan.h"
#include <math.h>

static const double kelvin = 273.15;
/* IEC 60751 */
static const double plat_a = 3.9083e-3, plat_b = -5.775e-7, plat_c = -4.183e-12;

static double platinum_share(double t)
{
    const double below = t < 0 ? plat_c * (t - 100) * t * t * t : 0;
    return 1 + plat_a * t + plat_b * t * t + below;
}

/* 1/T = a + b x + c x^3 with x = ln R, by Newton: the cubic rises wherever a thermistor's coefficients are
 * used. */
static double steinhart_ohms(const double k[3], double celsius)
{
    const double wanted = 1 / (celsius + kelvin);
    double x = (wanted - k[0]) / k[1];
    for (int i = 0; i < 60; i++) {
        const double step = (k[0] + k[1] * x + k[2] * x * x * x - wanted) / (k[1] + 3 * k[2] * x * x);
        x -= step;
        if (fabs(step) < 1e-14 * fabs(x))
            break;
    }
    return exp(x);
}

static double along(double x, double x0, double x1, double y0, double y1)
{
    return y0 + (y1 - y0) * (x - x0) / (x1 - x0);
}

/* What the law makes straight. */
static double bent(tl_law law, bool ohms, double value)
{
    const bool in_logarithm = law == TL_LAW_LOG_LOG || (law == TL_LAW_LN && ohms);
    return in_logarithm ? log(value) : value;
}

static double unbent(tl_law law, bool ohms, double value)
{
    const bool in_logarithm = law == TL_LAW_LOG_LOG || (law == TL_LAW_LN && ohms);
    return in_logarithm ? exp(value) : value;
}

static double table_ohms(const tl_response *c, double quantity)
{
    int i = 1;
    if (quantity <= c->points[0].quantity)
        return c->points[0].ohms;
    if (quantity >= c->points[c->count - 1].quantity)
        return c->points[c->count - 1].ohms;
    while (quantity > c->points[i].quantity)
        i++;
    const tl_response_point *a = &c->points[i - 1], *b = &c->points[i];
    return unbent(c->law, true,
                  along(bent(c->law, false, quantity), bent(c->law, false, a->quantity),
                        bent(c->law, false, b->quantity), bent(c->law, true, a->ohms),
                        bent(c->law, true, b->ohms)));
}

static double table_quantity(const tl_response *c, double ohms)
{
    const bool rises = c->points[c->count - 1].ohms > c->points[0].ohms;
    const tl_response_point *least = &c->points[rises ? 0 : c->count - 1],
                            *most = &c->points[rises ? c->count - 1 : 0];
    int i = 1;
    if (ohms <= least->ohms)
        return least->quantity;
    if (ohms >= most->ohms)
        return most->quantity;
    while ((ohms - c->points[i].ohms) * (rises ? 1 : -1) > 0)
        i++;
    const tl_response_point *a = &c->points[i - 1], *b = &c->points[i];
    return unbent(c->law, false,
                  along(bent(c->law, true, ohms), bent(c->law, true, a->ohms), bent(c->law, true, b->ohms),
                        bent(c->law, false, a->quantity), bent(c->law, false, b->quantity)));
}

double tl_response_ohms(const tl_response *c, double quantity)
{
    switch (c->law) {
    case TL_LAW_NONE:
        return quantity;
    case TL_LAW_BETA:
        return c->ohms * exp(c->beta * (1 / (quantity + kelvin) - 1 / (c->at + kelvin)));
    case TL_LAW_STEINHART:
        return steinhart_ohms(c->steinhart, quantity);
    case TL_LAW_PLATINUM:
        return c->ohms * platinum_share(quantity);
    default:
        return table_ohms(c, quantity);
    }
}

/* Platinum rises all the way: halving is enough, and certain. */
static double platinum_celsius(const tl_response *c, double ohms)
{
    double low = -200, high = 850;
    for (int i = 0; i < 80; i++) {
        const double middle = (low + high) / 2;
        if (c->ohms * platinum_share(middle) < ohms)
            low = middle;
        else
            high = middle;
    }
    return (low + high) / 2;
}

/* 1/T as degrees; where the law goes below nothing it means hotter than anything. */
static double celsius_of(double reciprocal)
{
    return reciprocal > 0 ? 1 / reciprocal - kelvin : INFINITY;
}

double tl_response_quantity(const tl_response *c, double ohms)
{
    const double x = log(ohms);
    switch (c->law) {
    case TL_LAW_NONE:
        return ohms;
    case TL_LAW_BETA:
        return celsius_of(1 / (c->at + kelvin) + log(ohms / c->ohms) / c->beta);
    case TL_LAW_STEINHART:
        return celsius_of(c->steinhart[0] + c->steinhart[1] * x + c->steinhart[2] * x * x * x);
    case TL_LAW_PLATINUM:
        return platinum_celsius(c, ohms);
    default:
        return table_quantity(c, ohms);
    }
}

/* A beta that is off tilts the curve around its own temperature: most at the farther end of the range. */
void tl_response_spread(tl_response *curve, const tl_quantity *span)
{
    const double own = 1 / (curve->at + kelvin);
    if (curve->law != TL_LAW_BETA)
        return;
    const double farthest = fmax(fabs(1 / (span->low + kelvin) - own), fabs(1 / (span->high + kelvin) - own));
    const double by = exp(curve->beta_off * farthest);
    curve->share_low /= by;
    curve->share_high *= by;
}
