/* The rules, one row a slug: what it looks at, how heavy it is, which edit may mend it, what it means, its
 * formula and its fix. The functions that ask them stand in check.c, by what they look at. */
#include "tinyladder/design/rules.h"
#include <string.h>

static const tl_rule rules[] = {
    {"over-limit", TL_SCOPE_SIGNAL, TL_ERROR, TL_ERROR, TL_MENDS_KEY | TL_MENDS_STAGE,
     "At some corner of supplies, sources and tolerances the pin gets more than its absolute maximum. A pin "
     "is "
     "damaged by volts, "
     "not by time: once can be enough. The limit usually follows the pin's own supply, so it is lowest when "
     "that supply is low; "
     "the worst case takes both at the same corner.",
     "V(pin) <= limit, V(pin) of a divider: V P / (Rsource + Ru + P), P = Rl || Rload",
     "Divide the source down, or take a supply that stays within the limit. 'size divider' finds the legs."},
    {"below-ground", TL_SCOPE_SIGNAL, TL_ERROR, TL_ERROR, TL_MENDS_STAGE,
     "At some corner the pin is pulled under its lowest limit, usually a few tenths of a volt below ground. "
     "The pin's own clamp then "
     "conducts, and the current through it can upset the whole chip.",
     "V(pin) >= limit; a lower leg to a supply Vs lifts the tap: (V Rl + Vs Ru) / (Ru + Rl)",
     "Let the lower leg of the divider go to a supply, or rectify or invert the signal before the pin."},
    {"over-range", TL_SCOPE_SIGNAL, TL_WARNING, TL_ERROR, TL_MENDS_STAGE,
     "The pin is safe, but the signal goes beyond the converter's reference: from there on every reading is "
     "the highest code. Within the "
     "supply is not within the range: a reference can be lower than the supply. An error where more than a "
     "hundredth of the span is lost.",
     "V(pin) <= Vreference",
     "Choose the reference that the signal hangs on, or divide the signal down to it."},
    {"range-wasted", TL_SCOPE_SIGNAL, TL_NOTE, TL_NOTE, TL_MENDS_NOT,
     "The signal uses less than a quarter of the converter's range, so most of its codes never occur and the "
     "resolution is poor.",
     "(highest - lowest) / reference < 1/4",
     "A lower reference, a divider with a larger share, or a gain before the pin."},
    {"dead-signal", TL_SCOPE_SIGNAL, TL_ERROR, TL_ERROR, TL_MENDS_NOT,
     "Over the whole range of its source the pin moves by less than one count: both ends of the sensor, or "
     "of its "
     "partner, are at the same level, or what stands between swallows it. It reads the same for ever.",
     "|V(pin) at one end of the source - V(pin) at the other| >= Vreference / 2^N",
     "Let one end go to another rail: a sensor to ground needs its partner up to a supply, and the other way "
     "round."},
    {"not-analog", TL_SCOPE_SIGNAL, TL_ERROR, TL_ERROR, TL_MENDS_NOT,
     "The signal is a voltage, but its pin has no converter channel. A pin has a position, a name and a "
     "channel, and they are easily mixed up.",
     NULL, "Use one of the pins that the finding lists; 'pins' shows them all."},
    {"slow-acquisition", TL_SCOPE_SIGNAL, TL_WARNING, TL_ERROR, TL_MENDS_STAGE | TL_MENDS_VALUE,
     "The converter charges a small capacitor through whatever resistance the signal has. In the acquisition "
     "time it does not come "
     "within half a count of the signal, so the reading is low, or leans toward the channel that was read "
     "before.",
     "error = (Vbefore - V) exp(-t / ((Rsource + Rswitch) C)); half a count: t >= tau ln 2^(N+1)",
     "A longer acquisition, less resistance, a capacitor at the pin ('size reservoir'), or a follower ('size "
     "follower')."},
    {"leakage-error", TL_SCOPE_SIGNAL, TL_WARNING, TL_ERROR, TL_MENDS_NOT,
     "A pin draws or gives a little current of its own, of either sign and larger when warm; so does every "
     "multiplexer input that is off. Through a large source resistance that is a voltage, and the reading is "
     "off by "
     "it: by more than the plan's own decimals resolve. An error where it is more than a hundredth of the "
     "span.",
     "error = sum of I Rsource, each leakage where it flows",
     "Smaller resistances, or a follower before the pin: 'size follower'. A capacitor does not help."},
    {"floating-input", TL_SCOPE_SIGNAL, TL_ERROR, TL_ERROR, TL_MENDS_STAGE,
     "In some state nothing defines the level of the pin: it reads whatever it picks up, changes at random, "
     "and can even heat the chip.",
     NULL, "A pull-up or pull-down, away from the rail that the contact closes to; 'size pull' finds it."},
    {"same-rail", TL_SCOPE_SIGNAL, TL_ERROR, TL_ERROR, TL_MENDS_KEY,
     "The contact closes to the very rail that its pull is on, so the pin sees the same level pressed or "
     "not; or both ends of a track are at one level.",
     NULL, "Pull to the other rail, or let the contact close to it."},
    {"level-not-reached", TL_SCOPE_SIGNAL, TL_ERROR, TL_ERROR, TL_MENDS_NOT,
     "In some state the pin does not clear its threshold at every corner. Common causes: the pull on the "
     "pin's side of a large guard, a pull too "
     "weak for the leakage, too much resistance in what closes.",
     "idle: V - R I >= VIH; closed: V Rclosed / (R + Rclosed) <= VIL, all at the same corner of the rail",
     "Put the pull before the guard; choose the pull with 'size pull'."},
    {"weak-driver", TL_SCOPE_SIGNAL, TL_ERROR, TL_ERROR, TL_MENDS_NOT,
     "An open collector or a logic output holds its level only up to a certain current. The pull or the "
     "divider behind it asks for more.",
     "(V - Vlevel) / R <= on-current",
     "A larger pull, larger resistances, or a stronger driver; 'size pull --drives' keeps to it."},
    {"no-partner", TL_SCOPE_SIGNAL, TL_ERROR, TL_ERROR, TL_MENDS_STAGE,
     "A resistance becomes a voltage only together with a second resistor. Alone it ties the pin to its far "
     "end, and the reading never moves.",
     "V(pin) = V R / (R + Rpartner)",
     "Add a partner in the other leg: 'size partner' finds the widest swing."},
    {"compliance", TL_SCOPE_SIGNAL, TL_ERROR, TL_ERROR, TL_MENDS_NOT,
     "A loop's transmitter needs a certain voltage across itself. At the highest current the load takes too "
     "much of the loop's supply, so the "
     "current can never get there.",
     "Vsupply - I (Rload + Rwire) >= compliance",
     "A smaller load, or a higher supply: 'size loop' counts both."},
    {"steady-too-short", TL_SCOPE_SIGNAL, TL_WARNING, TL_WARNING, TL_MENDS_KEY,
     "A contact bounces for a few milliseconds. If the debounce takes less time than that, one press can "
     "count several times.",
     "steady >= bounce; twice the bounce is taken where the plan says nothing",
     "A longer steady time, or none: the default is enough."},
    {"pin-taken", TL_SCOPE_PLAN, TL_ERROR, TL_ERROR, TL_MENDS_NOT,
     "Two signals end on the same pin. They would drive each other, and neither could be read.", NULL,
     "Move one to a pin that the finding lists as free."},
    {"over-budget", TL_SCOPE_PLAN, TL_ERROR, TL_ERROR, TL_MENDS_NOT,
     "All that the plan draws from a supply, each at its worst, is more than the supply's 'current' allows. "
     "A divider of a few hundred ohms "
     "draws milliamperes all day, and a battery feels it.",
     "sum of V / (Rsource + Ru + P) over all signals <= current",
     "Larger resistances, as long as the pin does not see too much; 'size divider --current' keeps both."},
    {"no-tolerance", TL_SCOPE_PLAN, TL_NOTE, TL_NOTE, TL_MENDS_NOT,
     "Some parts have no tolerance, so the checker took them as exact. What it then calls guaranteed rests "
     "on that.",
     NULL, "Say what the parts are: 10k ±1 %."},
    {"drawer-exhausted", TL_SCOPE_PLAN, TL_WARNING, TL_WARNING, TL_MENDS_NOT,
     "The plan wants more resistors of a value than the drawer that it names holds. Parts marked as fitted "
     "are not counted.",
     NULL, "Buy some, take another value, or join two: 22k + 4k7."},
    {"clamp-current", TL_SCOPE_SIGNAL, TL_ERROR, TL_ERROR, TL_MENDS_NOT,
     "At some corner more flows through a clamp part than it stands by the plan.",
     "I = (V - (Vrail + drop)) / R <= current", "A larger resistor before the clamp, or a stronger part."},
    {"injection", TL_SCOPE_SIGNAL, TL_ERROR, TL_ERROR, TL_MENDS_VALUE,
     "The plan counts on the pin's own clamps to hold the pin at its limit. They stand a small current only, "
     "and at some corner the chain pushes more through them than the board allows.",
     "I = (V - (VDD + b)) / R <= injection",
     "A larger resistor before the pin: 'size injection' finds it; or a divider, so that the clamp never "
     "conducts."},
    {"pull-too-high", TL_SCOPE_SIGNAL, TL_ERROR, TL_ERROR, TL_MENDS_KEY | TL_MENDS_STAGE,
     "The line idles at the rail of its pull, and that rail is higher than the pin stands. Nothing need "
     "drive it: the pull alone lifts the pin over its absolute maximum.",
     "V(idle) = Vpull <= limit",
     "Pull to the pin's own supply. An open drain does not mind which rail it pulls down from."},
    {"shifter-missing", TL_SCOPE_SIGNAL, TL_ERROR, TL_ERROR, TL_MENDS_KEY | TL_MENDS_STAGE,
     "The source gives levels of another supply than the pin's: a higher one damages the pin, a lower one is "
     "no sure high.",
     "VOH(max) <= limit and VOH(min) >= VIH",
     "'size shift' lists the ways, cheapest first: directly where it is proved, a divider, a diode, a "
     "transistor, a buffer."},
    {"back-feed", TL_SCOPE_SIGNAL, TL_WARNING, TL_ERROR, TL_MENDS_NOT,
     "A source that stays live while the board is off meets a pin whose limit has collapsed to a few tenths "
     "of a volt. Its current flows through the pin's clamp into the board's supply: it can half wake the "
     "board, or damage it.",
     "I = (V - b) / R <= injection, with every other supply at 0 V",
     "More resistance, a divider, or a switch that opens with the board's supply."},
    {"lower-leg-open", TL_SCOPE_SIGNAL, TL_NOTE, TL_NOTE, TL_MENDS_NOT,
     "If the lower leg of a divider comes off, a dry joint or a broken wire, the whole source lies on the "
     "pin behind the upper leg alone.",
     "I = (V - limit) / (Ru + Rguard) <= injection",
     "Larger legs or a guard, so that even then the clamps stand the current."},
    {"output-into-output", TL_SCOPE_SIGNAL, TL_ERROR, TL_ERROR, TL_MENDS_STAGE,
     "The plan says that firmware drives this pin, and an output drives it as well. When they disagree, both "
     "push against each other and only resistance in between limits the current.",
     "I = VDD / R <= the weaker of both",
     "A guard between them, or never drive the pin: leave 'driven' out."},
    {"driven-contact", TL_SCOPE_SIGNAL, TL_ERROR, TL_ERROR, TL_MENDS_STAGE,
     "The plan says that firmware also drives this pin, and a contact can close it to the other rail: the "
     "output is shorted whenever somebody presses.",
     "I = VDD / (Rguard + Rclosed) <= the pin's current",
     "A guard: 'size guard' finds it. The pull does not help, it lies on the other side."},
    {"weak-rail", TL_SCOPE_PLAN, TL_WARNING, TL_WARNING, TL_MENDS_NOT,
     "A pin that is used as a rail gives more than its output levels hold for: the rail stands somewhere "
     "else than "
     "the plan counts on. Over what the pin may ever give it is 'over-drive'.",
     "sum of all currents out of the pin <= what it drives",
     "Larger resistances on it, a second pin, or a supply of its own."},
    {"over-drive", TL_SCOPE_OUTPUT, TL_NOTE, TL_ERROR, TL_MENDS_VALUE,
     "An output gives more than its pin may: over 'current' is damage, over 'drives' its levels are no "
     "longer what the board file says.",
     "I = (V - Vlamp) / R", "A larger resistor ('size lamp'), or a transistor ('size driver')."},
    {"lamp-lit", TL_SCOPE_OUTPUT, TL_ERROR, TL_ERROR, TL_MENDS_NOT,
     "The lamp hangs on a higher rail than its pin can rise to, and what is left between them still drives "
     "current "
     "through it: it never goes dark.",
     "Vrail - VDD - Vlamp <= 0", "The pin's own rail for the lamp, or a transistor."},
    {"wired-lamp", TL_SCOPE_SIGNAL, TL_WARNING, TL_ERROR, TL_MENDS_NOT,
     "The board hangs a lamp on this pin. Used as an input, the lamp takes current from whatever drives it, "
     "and a weak "
     "source or a pull cannot lift the pin past the lamp's own volts by much.",
     "V' = V - R (V - Vlamp) / (R + Rlamp)",
     "A pin without a lamp, or a source that is strong against its resistor."},
    {"lamp-dark", TL_SCOPE_OUTPUT, TL_ERROR, TL_ERROR, TL_MENDS_NOT,
     "At the lowest supply and the highest forward voltage nothing is left for the resistor, so the lamp "
     "does not surely light.",
     "V - Vlamp > 0",
     "A lamp of another colour needs fewer volts; or let the pin sink from a higher supply."},
    {"total-current", TL_SCOPE_OUTPUT, TL_ERROR, TL_ERROR, TL_MENDS_NOT,
     "Every pin is within its limit, but all together draw more than the chip's supply pins may carry.",
     "sum of I over all outputs that are on <= total-current",
     "Larger resistors, fewer at a time, or transistors for the largest."},
    {"power-rating", TL_SCOPE_SIGNAL, TL_ERROR, TL_ERROR, TL_MENDS_NOT,
     "At some corner a resistor turns more volts into heat than it is rated for.", "P = I^2 R <= rated",
     "Larger resistances, a larger part, or two that share the heat."},
    {"sensor-short", TL_SCOPE_SIGNAL, TL_ERROR, TL_ERROR, TL_MENDS_NOT,
     "A sensor that is shorted, or reaches 0 ohm, leaves its partner alone across the rail: more flows than "
     "the supply's budget or the partner's rating allows.",
     "I = V / (Rpartner + Rlead)", "A larger partner, or a resistor that stays when the sensor is gone."},
    {"no-pull", TL_SCOPE_SIGNAL, TL_ERROR, TL_ERROR, TL_MENDS_STAGE,
     "An open collector or open drain pulls its line to one rail only. Without a pull to the other, the line "
     "floats whenever it lets go.",
     NULL, "A pull-up (for one that pulls to ground): 'size pull' finds it."},
    {"pulls-fight", TL_SCOPE_SIGNAL, TL_ERROR, TL_ERROR, TL_MENDS_NOT,
     "One resistor pulls the line up, another pulls it down; together they are a divider, and the idle level "
     "lies between the thresholds.",
     "V = VDD Rdown / (Rup + Rdown)", "Leave one out. The chip's own pull counts, too, where it is on."},
    {"shifter-direction", TL_SCOPE_SIGNAL, TL_ERROR, TL_ERROR, TL_MENDS_NOT,
     "The shifter is the wrong way round for this line: a diode passes lows alone, and a transistor whose "
     "gate is on the higher rail never closes.",
     NULL,
     "Gate on the lower rail; a diode's cathode towards the output; or a way that suits both directions."},
    {"shifter-weak", TL_SCOPE_SIGNAL, TL_ERROR, TL_ERROR, TL_MENDS_NOT,
     "The shifter's transistor does not get what it needs to conduct: too little from gate to source, or "
     "into its base. From the higher side the channel must open past the body diode.",
     "Vgate - VOL (- Vdiode) >= VGS(th) highest; Ibase * 20 >= Icollector",
     "A transistor with a lower threshold, a higher gate rail, or a smaller base resistor."},
    {"shifter-input", TL_SCOPE_SIGNAL, TL_ERROR, TL_ERROR, TL_MENDS_NOT,
     "The buffer's own input does not understand, or does not stand, what the source gives: being a shifter "
     "does not make its thresholds fit.",
     "VOL <= VIL, VOH >= VIH and V <= limit of the buffer",
     "A buffer whose inputs suit the source's supply."},
    {"shifter-slow", TL_SCOPE_SIGNAL, TL_WARNING, TL_WARNING, TL_MENDS_NOT,
     "Behind a shifter the line rises through a pull, and that takes time: here more than 30 % of the "
     "shortest pulse. The figure is one time constant of all capacitance behind all resistance, so it is "
     "cautious.",
     "t = R C ln((V - Vstart) / (V - Vthreshold)) <= 0.3 / (2 f)",
     "A smaller pull, a shorter cable, or a buffer."},
    {"edge-slow", TL_SCOPE_SIGNAL, TL_WARNING, TL_WARNING, TL_MENDS_NOT,
     "The line cannot follow its source: resistance and capacitance make an edge that takes more than 30 % "
     "of the shortest pulse, so pulses shrink or vanish.",
     "t = R C ln((V - Vstart) / (V - Vthreshold)) <= 0.3 / (2 f)",
     "Smaller resistances or a smaller filter capacitor."},
    {"steady-too-long", TL_SCOPE_SIGNAL, TL_WARNING, TL_WARNING, TL_MENDS_NOT,
     "The debounce waits longer than the shortest pulse lasts, so pulses are lost.",
     "steady <= shortest, steady <= 1 / (2 f)", "A steady time between the bounce and the shortest pulse."},
    {"wetting", TL_SCOPE_SIGNAL, TL_WARNING, TL_WARNING, TL_MENDS_NOT,
     "Contacts oxidise. A small current each time they close keeps them clean, and this one gets less than "
     "it wants.",
     "V / R >= wetting current", "A smaller pull: 'size pull --wetting'."},
    {"bus-pull", TL_SCOPE_BUS, TL_ERROR, TL_ERROR, TL_MENDS_VALUE,
     "A bus line's pull must be large enough for the weakest device to hold the line low, and small enough "
     "for the line to rise in time. All pulls of both sides count for the low; each side rises through its "
     "own.",
     "Rmin = (VDD - VOL) / IOL; Rmax = tr / (0.8473 C) (UM10204)",
     "'size bus-pull' says what is left between both limits, or that nothing is."},
    {"several-pulls", TL_SCOPE_BUS, TL_NOTE, TL_NOTE, TL_MENDS_NOT,
     "More than one pull hangs on the same side of a bus line, often because every module brings its own. "
     "They act in parallel.",
     "1/R = 1/R1 + 1/R2 ..", "Leave out all but one, or count on the smaller value."},
    {"bus-level", TL_SCOPE_PLAN, TL_WARNING, TL_WARNING, TL_MENDS_NOT,
     "A device on a bus takes for a high what lies above seven tenths of its own supply. The bus idles "
     "lower, so the "
     "device may see lows alone.",
     "V(pull) or VOH >= 0.7 V(supply)", "One supply for both, or a shifter on the bus."},
    {"bus-capacitance", TL_SCOPE_BUS, TL_WARNING, TL_WARNING, TL_MENDS_NOT,
     "The bus has more capacitance than its mode allows, whatever the pulls.",
     "C <= 400 pF (standard, fast), 550 pF (fast-plus)", "A shorter cable, a slower mode, or a bus buffer."},
    {"bus-pin", TL_SCOPE_BUS, TL_WARNING, TL_WARNING, TL_MENDS_NOT,
     "The pins of the bus cannot do it in hardware, by the board file's 'can'.", NULL,
     "Other pins; or bytes shifted by firmware, where the board allows no better."},
    {"address-twice", TL_SCOPE_BUS, TL_ERROR, TL_ERROR, TL_MENDS_NOT,
     "Two devices on one bus answer to the same address: both talk at once.", NULL,
     "Most parts have an address pin; or put one of them on another bus."},
    {"not-sendable", TL_SCOPE_SIGNAL, TL_ERROR, TL_ERROR, TL_MENDS_NOT,
     "What the plan wants of a converter on a bus cannot be told to it, as its file describes it. A setting "
     "without a code, "
     "settings "
     "in another register than the one that is written, a ready bit outside its register, a register that is "
     "not whole bytes, more than 32 bits before or in the answer.",
     NULL, "Describe its registers, fields and frame as the data sheet prints them: docs/board-guide.md."},
    {"part-supply", TL_SCOPE_BUS, TL_ERROR, TL_ERROR, TL_MENDS_NOT,
     "A part does not run on the supply that it is given.", NULL, "Another supply."},
    {"not-differential", TL_SCOPE_SIGNAL, TL_ERROR, TL_ERROR, TL_MENDS_NOT,
     "A bridge gives a small difference between two wires around half its supply. A single-ended input sees "
     "one of them and never moves.",
     NULL, "A converter with pairs of inputs, or an amplifier with a differential input."},
    {"gain-range", TL_SCOPE_SIGNAL, TL_WARNING, TL_ERROR, TL_MENDS_STAGE,
     "The signal leaves the range that the converter is set to, and sticks at its end.", "|V| <= range",
     "A larger range; or a divider, if it is the largest already."},
    {"source-resistance", TL_SCOPE_SIGNAL, TL_WARNING, TL_ERROR, TL_MENDS_STAGE | TL_MENDS_VALUE,
     "Even the longest acquisition that the converter offers is too short for the source resistance at the "
     "pin.",
     "t >= (Rsource + Rswitch) C ln 2^(N+1)",
     "Smaller resistances, a reservoir at the pin ('size reservoir'), or a follower ('size follower')."},
    {"reservoir-small", TL_SCOPE_SIGNAL, TL_WARNING, TL_ERROR, TL_MENDS_STAGE | TL_MENDS_VALUE,
     "There is a capacitor at the pin, but it is too small to feed the sampling capacitor, and too large to "
     "be recharged in time.",
     "C >= Csample (2^(N+1) - 1)",
     "A larger one: 'size reservoir'; or none, with a smaller source resistance."},
    {"discard-needed", TL_SCOPE_SIGNAL, TL_WARNING, TL_ERROR, TL_MENDS_STAGE | TL_MENDS_VALUE,
     "The sampling capacitor still holds the channel before, and one conversion is not enough to get rid of "
     "it; a second one is.",
     "error^2 / span <= half a count", "Read twice and keep the second: 'discard: 1' in a sweep."},
    {"follower-headroom", TL_SCOPE_SIGNAL, TL_ERROR, TL_ERROR, TL_MENDS_NOT,
     "A follower only follows within what its output reaches and its input takes; beyond, it stands still "
     "and the reading with it.",
     "Vlow <= V <= Vrail - headroom",
     "A higher supply, a rail-to-rail one, or a divider before it: 'size follower'."},
    {"channel-disagrees", TL_SCOPE_SIGNAL, TL_ERROR, TL_ERROR, TL_MENDS_VALUE,
     "The firmware converts another channel than the one the wire ends on. Position, name and channel of a "
     "pin are three numbers.",
     NULL, "Move the wire, or convert the pin's own channel."},
    {"sweep-slow", TL_SCOPE_SIGNAL, TL_ERROR, TL_ERROR, TL_MENDS_VALUE,
     "Dwell, acquisition, conversion and what is thrown away add up to more than the time between two "
     "sweeps.",
     "sum of (dwell + n (t_acquire + t_convert)) <= every",
     "A longer interval, fewer samples, or two sweeps."},
    {"ground-shift", TL_SCOPE_SIGNAL, TL_WARNING, TL_ERROR, TL_MENDS_NOT,
     "A wire that several share, or a supply with resistance, carries somebody else's current: what a plan's "
     "outputs "
     "take, or what 'carries' says. What that drops adds to this signal by more than the reading resolves. "
     "An error "
     "where it is more than a hundredth of the span. A supply that is measured itself may sag: that is what "
     "is read.",
     "error = (I(carries) + I(loads)) R(wire or supply), as far as it reaches the pin",
     "A wire or a supply of its own, one with less resistance, or the other current led elsewhere."},
    {"follower-error", TL_SCOPE_SIGNAL, TL_WARNING, TL_ERROR, TL_MENDS_NOT,
     "A follower adds its offset, and follows only as far as its gain goes: here by more than the reading "
     "resolves. An "
     "error where it is more than a hundredth of the span.",
     "error = offset + V / (1 + gain)",
     "A better follower, fewer decimals, or a trim that takes the offset out."},
    {"points-unreachable", TL_SCOPE_SIGNAL, TL_WARNING, TL_WARNING, TL_MENDS_NOT,
     "All points of a reading lie where its source never comes: every value is carried on from afar.", NULL,
     "Points within what the source gives."},
    {"digits-empty", TL_SCOPE_SIGNAL, TL_NOTE, TL_NOTE, TL_MENDS_NOT,
     "The last digit that the plan asks for is finer than a count, or than what noise leaves after "
     "averaging: it shows "
     "something, but nothing that was measured.",
     "a count of the shown figure, over sqrt n where noise of half a count or more spreads n readings; noise "
     "/ sqrt n",
     "Fewer decimals, or more readings averaged; 'round' for coarser steps."},
    {"not-ratiometric", TL_SCOPE_SIGNAL, TL_NOTE, TL_NOTE, TL_MENDS_NOT,
     "A resistance or a travel is read as a share of its rail. If the converter's reference is another one, "
     "the rail's "
     "tolerance and the reference's do not cancel, and here they cost more than the last digit that is "
     "shown.",
     "code = V(rail) share / V(reference)", "The same rail for both, or fewer decimals."},
    {"measures-itself", TL_SCOPE_SIGNAL, TL_NOTE, TL_NOTE, TL_MENDS_NOT,
     "The rail that is read is the converter's own reference, so the count is the divider's share whatever "
     "the rail "
     "does: the figure that is shown is what the plan says of the rail, not what it is.",
     "code = V share / V", "Read it against a reference that does not follow it."},
    {"trim-close", TL_SCOPE_SIGNAL, TL_WARNING, TL_WARNING, TL_MENDS_NOT,
     "A trim takes its gain from the distance of its points. So close together, the meter's last digits and "
     "a count "
     "make the gain unsure by more than a hundredth, and that is carried to both ends of the range.",
     "(2 digits + 1 count) / distance <= 1 %", "Points near both ends of the range."},
    {"trim-contradicts", TL_SCOPE_SIGNAL, TL_WARNING, TL_WARNING, TL_MENDS_NOT,
     "A point of the trim lies further from what the wiring gives than all tolerances, the converter and the "
     "meter can "
     "explain together. Trimming hides such a fault instead of finding it.",
     "|meter - plan| <= sum of all limits",
     "Look for another value, another pin or a loose wire: 'trim' judges the pair."},
    {"percent-unreachable", TL_SCOPE_SIGNAL, TL_WARNING, TL_WARNING, TL_MENDS_NOT,
     "An end of the percentage lies where the source never comes: the figure stays below 100 %, or above 0 "
     "%, for "
     "ever.",
     NULL, "Ends within what the source gives, or a 'margin'."},
    {"threshold-close", TL_SCOPE_SIGNAL, TL_WARNING, TL_WARNING, TL_MENDS_NOT,
     "An output starts and stops at figures that lie less than one count apart: the same reading can mean "
     "both, and "
     "noise switches it on and off without an end.",
     "|start - stop| >= one count of the reading",
     "Start and stop several counts apart, more than the noise of the reading."},
    {"threshold-unreachable", TL_SCOPE_SIGNAL, TL_WARNING, TL_WARNING, TL_MENDS_NOT,
     "An output waits for a figure that the signal it shows never has, so it never switches on, or never off "
     "again.",
     NULL, "A threshold within what the source gives."},
    {"fault-unreachable", TL_SCOPE_SIGNAL, TL_WARNING, TL_WARNING, TL_MENDS_NOT,
     "A fault window begins where the converter has no codes: a broken wire, or a short, would never be "
     "seen.",
     "below the reference, above code 0", "A level within the converter's range."},
    {"no-reading", TL_SCOPE_SIGNAL, TL_NOTE, TL_NOTE, TL_MENDS_KEY,
     "The plan says where the signal ends but not what it means; the farthest back that the source allows is "
     "taken.",
     NULL, "A 'reading' with unit and decimals."},
    {"restated", TL_SCOPE_SIGNAL, TL_WARNING, TL_ERROR, TL_MENDS_VALUE,
     "A key that only restates what follows from the wiring says something else. It stands for what existing "
     "firmware believes, so that firmware is wrong, or the wiring is.",
     NULL, "Correct the firmware; the finding names the figure that follows from the plan."},
    {"percent-reversed", TL_SCOPE_SIGNAL, TL_WARNING, TL_WARNING, TL_MENDS_NOT,
     "Empty and full are exchanged: the figure would read 100 % when nothing is left.", NULL,
     "Exchange them; a resistance can say which end is full by 'full'."},
    {"fault-window", TL_SCOPE_SIGNAL, TL_ERROR, TL_ERROR, TL_MENDS_VALUE,
     "A lawful value of the signal lies inside the window that is taken for a broken wire or a short.",
     "window beyond the worst case of the valid range",
     "Move the window out; if no room is left, another partner makes room."},
    {"fault-side", TL_SCOPE_SIGNAL, TL_ERROR, TL_ERROR, TL_MENDS_NOT,
     "With the sensor in the lower leg an open wire reads high and a short reads low; in the upper leg it is "
     "the other way round. This window waits on the wrong side.",
     NULL, "'above' for 'below', or the other way round."},
    {"table-short", TL_SCOPE_SIGNAL, TL_WARNING, TL_WARNING, TL_MENDS_NOT,
     "A table holds only between its points. Here it is used beyond them, where the end value is all that it "
     "can give.",
     NULL, "More points, or a smaller range."},
    {"buttons-close", TL_SCOPE_SIGNAL, TL_WARNING, TL_ERROR, TL_MENDS_NOT,
     "Two states of the buttons on one pin give counts that overlap, or come closer than the guard band, at "
     "some corner.",
     "lowest of one - highest of the other >= apart",
     "Values from 'size ladder', closer tolerances, or fewer buttons on the pin."},
    {"two-as-third", TL_SCOPE_SIGNAL, TL_WARNING, TL_WARNING, TL_MENDS_NOT,
     "Two buttons of a star pressed at once read as a third one.", "R1 || R2 = R3 within tolerance",
     "A chain, where the nearer button wins by itself; or other values."},
    {"select-missing", TL_SCOPE_MUX, TL_ERROR, TL_ERROR, TL_MENDS_NOT,
     "A multiplexer of n inputs has log2 n select lines. One that is missing, or held for good, hides half "
     "of its inputs.",
     "lines = ceil(log2 inputs)", "Name all of them; tie one to a rail only if the other half is not used."},
    {"select-shared", TL_SCOPE_MUX, TL_ERROR, TL_ERROR, TL_MENDS_NOT,
     "A select or enable line is used for something else as well. Two multiplexers may share select lines, "
     "if their commons or their enable lines differ.",
     NULL, "A pin of its own."},
    {"select-level", TL_SCOPE_MUX, TL_WARNING, TL_WARNING, TL_MENDS_NOT,
     "A part that runs on more volts than the pins that select it may not take their high for one. What it "
     "takes is in "
     "its data sheet; seven tenths of its supply is usual.",
     "VOH >= 0.7 V(supply)", "The same supply for part and pins, or a part whose lines take lower levels."},
    {"enable-undriven", TL_SCOPE_MUX, TL_ERROR, TL_ERROR, TL_MENDS_KEY,
     "The enable line is left open, or held where it switches the part off: no input ever gets through, or "
     "now and then one does.",
     NULL, "Tie it to its active level, or give it a pin."},
    {"mux-floating", TL_SCOPE_MUX, TL_WARNING, TL_WARNING, TL_MENDS_NOT,
     "Unused inputs of a multiplexer that are left open float, leave the supply's range, and leak into the "
     "one that is read.",
     NULL, "Tie them to ground: tied: {5 .. 7: ground}."},
    {"mux-range", TL_SCOPE_MUX, TL_ERROR, TL_ERROR, TL_MENDS_NOT,
     "A multiplexer passes what lies within its supply. Beyond, its protection conducts and disturbs the "
     "other inputs.",
     "0 <= V <= supply", "Divide the signal down before the multiplexer."},
    {"dwell-short", TL_SCOPE_MUX, TL_WARNING, TL_ERROR, TL_MENDS_VALUE,
     "After switching, the common line has to come to the new level through the source and the "
     "on-resistance, and the "
     "sampling capacitor then drags it back once more. Dwell and acquisition are one: together they leave "
     "more than "
     "half a count. An error where more than a hundredth of the span is left.",
     "two capacitors in two phases: the line alone for the dwell, then both for the acquisition",
     "A longer dwell or acquisition, or no dwell given: the quickest pair that does it is then taken."},
    {"driver-weak", TL_SCOPE_OUTPUT, TL_WARNING, TL_ERROR, TL_MENDS_VALUE,
     "A transistor that is not fully on gets hot and leaves the load with too little. A threshold voltage "
     "proves nothing: it is stated at microamperes.",
     "Ibase * gain >= Iload; Ron Iload small against V",
     "A smaller base resistor, a transistor with less on-resistance at the pin's level: 'size driver'."},
    {"no-flyback", TL_SCOPE_OUTPUT, TL_ERROR, TL_ERROR, TL_MENDS_KEY,
     "A coil keeps its current going. When the transistor switches off, that current lifts its collector or "
     "drain to whatever breaks it.",
     "the diode carries the load's current", "A diode across the load, cathode to the supply."},
    {"driver-no-pull", TL_SCOPE_OUTPUT, TL_WARNING, TL_WARNING, TL_MENDS_KEY,
     "Until the firmware has set the pin up it is an input, and the gate floats: the load may be on, or half "
     "on.",
     NULL, "A pull of some tens of kilohms from gate to ground."},
    {"unproven", TL_SCOPE_PLAN, TL_NOTE, TL_NOTE, TL_MENDS_NOT,
     "So many toleranced parts hang together that not every corner can be tried. The volts in the table are "
     "then bounded "
     "from outside: guaranteed, but not attained. The rules look at the corners of the parts that move the "
     "pin most; "
     "source resistance and currents have no bound.",
     "each part that is left: at most the island's volts times its tolerance",
     "Leave out tolerances that do not matter, or give the shared rail a node of its own."},
    {"unused-supply", TL_SCOPE_PLAN, TL_NOTE, TL_NOTE, TL_MENDS_NOT,
     "Nothing hangs on this supply or shared node. Perhaps a 'to' names another one by mistake.", NULL,
     "Leave it out, or correct the 'to'."},
    {"shorted", TL_SCOPE_SIGNAL, TL_ERROR, TL_ERROR, TL_MENDS_NOT,
     "In some state zero ohms join two rails of different volts.", NULL, "Put a resistance between them."},
    {"unsolved", TL_SCOPE_SIGNAL, TL_ERROR, TL_ERROR, TL_MENDS_NOT,
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
    int count;
    const tl_rule *of_files = tl_file_rules(&count);
    for (size_t i = 0; i < sizeof rules / sizeof rules[0]; i++) {
        if (strcmp(rules[i].slug, slug) == 0)
            return &rules[i];
    }
    for (int i = 0; i < count; i++) {
        if (strcmp(of_files[i].slug, slug) == 0)
            return &of_files[i];
    }
    return NULL;
}
