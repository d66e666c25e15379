/* SPDX-License-Identifier: MIT */
/* What the readers of files find wrong, one row a slug, so that --about can explain them too. All are errors:
 * a file that cannot be understood is not used at all. */
#include "tinyladder/design/rules.h"

#define ROW(slug, meaning, fix)                                                                              \
    {                                                                                                        \
        slug, TL_SCOPE_FILE, 0, TL_ERROR, TL_ERROR, TL_MENDS_NOT, meaning, NULL, fix                            \
    }

static const tl_rule rules[] = {
    ROW("unreadable-file", "A file cannot be opened or read, is too large, or is not YAML.",
        "Correct the line in the message. File names in a plan are relative to the folder of the plan."),
    ROW("wrong-kind", "The file is of another kind, or its first line does not state its kind.",
        "Write the kind into the first line (after comments): tinyladder: plan 1"),
    ROW("unknown-key", "The key is not known in this section, so it would have no effect.",
        "Use the nearest key of the message, or look the section up in docs/plan-reference.md."),
    ROW("unread-key", "The key belongs to the language, but nothing reads it here: a bug in this program.",
        "Remove the key, and report the bug."),
    ROW("missing-key", "A required key is missing.", "Add the key; the message has an example."),
    ROW("key-twice", "A map has a key twice, or two joined files have the same name.",
        "Remove one of them, or rename it."),
    ROW("wrong-shape", "The key expects a value, a list or a map, and got something else.",
        "Write what the message expects."),
    ROW("unknown-word", "The key expects one of a few words.", "Use one of the words in the message."),
    ROW("bad-name",
        "A name has invalid characters, is too long, or has another meaning already; or two ranges of names have different lengths.",
        "Use letters, digits and -, at most 64 characters; ground and rail are reserved."),
    ROW("too-many", "A map has more than 1000 keys, or a plan more than 1000 signals.", "Split the plan; no bench has so much on it."),
    ROW("bad-number", "The key expects a number, or the number is out of range.", "Use a number in the range of the message."),
    ROW("bad-quantity",
        "The key expects a value with a unit. The unit is missing or of another kind, the range runs backwards, or the value is out of range.",
        "Write a value with its unit, such as 4k7, 3.3 V ±2 %, 10.5 V .. 14.8 V."),
    ROW("zero-part", "A part cannot have zero resistance or capacitance.", "Remove it, or write its value."),
    ROW("no-effect", "A fault of a scene cannot change anything as it is written.",
        "The message says why; name another part, point or value."),
    ROW("bad-table", "The file of a table does not have pairs of numbers and a first line with their units.",
        "Write the units in the first line, such as degC,ohm, and one point in each further line."),
    ROW("table-order", "The points of a table, or of a list of pairs, do not rise or fall all the way.",
        "Sort them; write each value once."),
    ROW("time-order", "The times of a scene do not rise.", "Sort them; write each time once."),
    ROW("percent-ends", "Both ends of a percentage are the same.", "Give empty and full different values."),
    ROW("percent-twice", "A reading in percent also has a 'percent': two figures have one name.",
        "Keep one: points from the source to 0 % and 100 %, or 'percent' with a reading in another unit."),
    ROW("fields-overlap", "Two fields of a register use the same bit.", "Give each bit to one field."),
    ROW("word-unfit",
        "The bits that a frame takes, the resolution of the ADC, and the width and alignment of its word contradict each other.",
        "If aligned right, take at least all bits; if aligned left or stretched, take as many as the word is wide."),
    ROW("channel-twice", "Two pins of a board have the same ADC channel.", "Give each channel to one pin."),
    ROW("vil-above-vih", "VIL is above VIH, so some voltages would be low and high at once.",
        "Write the highest low level as vil, the lowest high level as vih."),
    ROW("unknown-pin", "The board, the multiplexer or the ADC has no such pin.", "Run 'tinyladder pins BOARD' to list the pins."),
    ROW("unknown-rail", "There is no supply or shared node of that name.",
        "Define supplies in the board or the plan, and a shared node before it is used."),
    ROW("unknown-signal", "The plan has no signal of that name.", "Use the nearest name of the message."),
    ROW("unknown-name", "The scene names something that its plan does not have.", "Use the nearest name of the message."),
    ROW("unknown-source", "The source has no key that says which kind it is.",
        "Use one of rail, voltage, current, resistance, potentiometer, bridge, chain, star, contact, open-collector, logic."),
    ROW("no-internal-pull", "The pins of the board have no internal pulls.", "Use a resistor instead: pull: {up: 10k, to: RAIL}"),
    ROW("pin-is-rail", "The pin is a supply or ground, and cannot be read or driven.", "Use another pin."),
    ROW("other-plan", "The scene is for another plan.", "Use it with the plan that its 'plan' names."),
};

const tl_rule *tl_file_rules(int *count)
{
    *count = (int)(sizeof rules / sizeof rules[0]);
    return rules;
}
