/* What every finding of the checker means: for `check --about`, and so that no slug stands without an
 * explanation. */
#include "tinyladder/circuit.h"
#include <string.h>

static const tl_rule rules[] = {
    {"over-limit",
     "At some corner of supplies, sources and tolerances the pin sees more than its absolute limit. A pin is "
     "damaged by volts, "
     "not by time: once can be enough. The limit usually follows the pin's own supply, so it is lowest when "
     "that supply is low; "
     "the worst case takes both at the same corner.",
     "V(pin) <= limit, V(pin) of a divider: V P / (Rsource + Ru + P), P = Rl || Rload",
     "Divide the source down, or take a supply that stays within the limit. 'size divider' finds the legs."},
    {"below-ground",
     "At some corner the pin is pulled under its lowest limit, usually a few tenths of a volt below ground. "
     "The pin's own clamp then "
     "conducts, and the current through it can upset the whole chip.",
     "V(pin) >= limit; a lower leg to a supply Vs lifts the tap: (V Rl + Vs Ru) / (Ru + Rl)",
     "Let the lower leg of the divider go to a supply, or rectify or invert the signal before the pin."},
    {"over-range",
     "The pin is safe, but the signal goes beyond the converter's reference: from there on every reading is "
     "the highest code. Within the "
     "supply is not within the range: a reference can be lower than the supply. An error where more than a "
     "hundredth of the span is lost.",
     "V(pin) <= Vreference",
     "Choose the reference that the signal hangs on, or divide the signal down to it."},
    {"range-wasted",
     "The signal uses less than a quarter of the converter's range, so most of its codes never occur and the "
     "resolution is poor.",
     "(highest - lowest) / reference < 1/4",
     "A lower reference, a divider with a larger share, or a gain before the pin."},
    {"not-analog",
     "The signal is a voltage, but its pin has no converter channel. A pin has a position, a name and a "
     "channel, and they are easily mixed up.",
     NULL, "Use one of the pins that the finding lists; 'pins' shows them all."},
    {"slow-acquisition",
     "The converter charges a small capacitor through whatever resistance the signal has. In the acquisition "
     "time it does not come "
     "within half a count of the signal, so the reading is low, or leans toward the channel that was read "
     "before.",
     "error = (Vbefore - V) exp(-t / ((Rsource + Rswitch) C)); half a count: t >= tau ln 2^(N+1)",
     "A longer acquisition, less resistance, a capacitor at the pin ('size reservoir'), or a follower ('size "
     "follower')."},
    {"leakage-error",
     "A pin draws or gives a little current of its own, of either sign and larger when warm. Through a large "
     "source resistance that is "
     "a voltage, and the reading is off by it: by more than the plan's own decimals resolve, or than a "
     "hundredth of the span.",
     "error = I Rsource",
     "Smaller resistances, or a follower before the pin: 'size follower'. A capacitor does not help."},
    {"floating-input",
     "In some state nothing defines the level of the pin: it reads whatever it picks up, changes at random, "
     "and can even heat the chip.",
     NULL, "A pull-up or pull-down, away from the rail that the contact closes to; 'size pull' finds it."},
    {"same-rail",
     "The contact closes to the very rail that its pull is on, so the pin sees the same level pressed or "
     "not.",
     NULL, "Pull to the other rail, or let the contact close to it."},
    {"level-not-reached",
     "In some state the pin does not clear its threshold at every corner. Common causes: the pull on the "
     "pin's side of a large guard, a pull too "
     "weak for the leakage, too much resistance in what closes.",
     "idle: V - R I >= VIH; closed: V Rclosed / (R + Rclosed) <= VIL, all at the same corner of the rail",
     "Put the pull before the guard; choose the pull with 'size pull'."},
    {"weak-driver",
     "An open collector or a logic output holds its level only up to a certain current. The pull or the "
     "divider behind it asks for more.",
     "(V - Vlevel) / R <= on-current",
     "A larger pull, larger resistances, or a stronger driver; 'size pull --drives' keeps to it."},
    {"no-partner",
     "A resistance becomes a voltage only together with a second resistor. Alone it ties the pin to its far "
     "end, and the reading never moves.",
     "V(pin) = V R / (R + Rpartner)",
     "Add a partner in the other leg: 'size partner' finds the widest swing."},
    {"compliance",
     "A loop's transmitter needs a certain voltage across itself. At the highest current the load takes too "
     "much of the loop's supply, so the "
     "current can never get there.",
     "Vsupply - I (Rload + Rwire) >= compliance",
     "A smaller load, or a higher supply: 'size loop' counts both."},
    {"steady-too-short",
     "A contact bounces for a few milliseconds. If the debounce takes less time than that, one press can "
     "count several times.",
     "steady >= bounce; twice the bounce is taken where the plan says nothing",
     "A longer steady time, or none: the default is enough."},
    {"pin-taken", "Two signals end on the same pin. They would drive each other, and neither could be read.",
     NULL, "Move one to a pin that the finding lists as free."},
    {"over-budget",
     "All that the plan draws from a supply, each at its worst, is more than the supply's 'current' allows. "
     "A divider of a few hundred ohms "
     "draws milliamperes all day, and a battery feels it.",
     "sum of V / (Rsource + Ru + P) over all signals <= current",
     "Larger resistances, as long as the pin does not see too much; 'size divider --current' keeps both."},
    {"no-tolerance",
     "Some parts have no tolerance, so the checker took them as exact. What it then calls guaranteed rests "
     "on that.",
     NULL, "Say what the parts are: 10k ±1 %."},
    {"drawer-exhausted",
     "The plan wants more resistors of a value than the drawer that it names holds. Parts marked as fitted "
     "are not counted.",
     NULL, "Buy some, take another value, or join two: 22k + 4k7."},
    {"shorted", "In some state zero ohms join two rails of different volts.", NULL,
     "Put a resistance between them."},
    {"unsolved",
     "The network around this pin could not be worked out: too many toleranced parts hang together, or it "
     "contradicts itself.",
     NULL, "Tolerances that do not matter can be left out; look for what ties rails together."},
};

const tl_rule *tl_plan_rules(int *count)
{
    *count = (int)(sizeof rules / sizeof rules[0]);
    return rules;
}

const tl_rule *tl_plan_rule(const char *slug)
{
    for (size_t i = 0; i < sizeof rules / sizeof rules[0]; i++) {
        if (strcmp(rules[i].slug, slug) == 0)
            return &rules[i];
    }
    return NULL;
}
