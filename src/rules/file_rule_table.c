/* What the readers of files find wrong, one row a slug, so that --about can explain them too. All are errors:
 * a file that cannot be understood is not used at all. */
#include "tinyladder/design/rules.h"

#define ROW(slug, meaning, fix)                                                                              \
    {                                                                                                        \
        slug, TL_SCOPE_FILE, 0, TL_ERROR, TL_ERROR, TL_MENDS_NOT, meaning, NULL, fix                            \
    }

static const tl_rule rules[] = {
    ROW("unreadable-file", "A file cannot be opened or read whole, is too large, or is not YAML.",
        "The line says what the reader stumbled over. Files that a plan names are looked for beside it."),
    ROW("wrong-kind",
        "The file is of another kind, or it does not state its kind.",
        "Its first line, but for comments, is such as: tinyladder: plan 1"),
    ROW("unknown-key", "The key is not known at this place, so it would have no effect.",
        "docs/plan-reference.md has the keys of every place; a likely one is named."),
    ROW("unread-key", "A key is one of the language, and yet nothing here reads it: a mistake of this program.",
        "Leave it out, and tell the makers of the program."),
    ROW("missing-key", "A key is needed here and is not there.", "The message has an example."),
    ROW("key-twice", "One key stands twice in a map, or one name in two files that are joined.",
        "Leave one of them out, or give it another name."),
    ROW("wrong-shape", "The key needs a value, a list or a map, and something else is there.",
        "The message says what is expected."),
    ROW("unknown-word", "The key takes one of a few words.", "The message lists them."),
    ROW("bad-name",
        "A name has signs that a name may not have, is too long, or already means something else; or two "
        "ranges of names are "
        "not equally long.",
        "Names are letters, digits and -, at most 64; ground and rail are taken."),
    ROW("bad-number", "The key takes a number, or this one is out of range.",
        "The message says the range."),
    ROW("bad-quantity",
        "The key takes a value with a unit. The unit is missing or of another kind, the range runs backwards, or the value is out of range.",
        "Such as 4k7, 3.3 V ±2 %, 10.5 V .. 14.8 V; the message says what it wants."),
    ROW("zero-part", "A part cannot have zero resistance or capacitance.", "Leave it out, or give its value."),
    ROW("bad-table", "The file of a table cannot be read as pairs of numbers with units in its head line.",
        "Such as degC,ohm in the first line and one point a line."),
    ROW("table-order", "The points of a table, or of a list of pairs, do not run one way.",
        "Sort them; each value stands once."),
    ROW("time-order", "The times of a scene do not rise.", "Sort them; each time stands once."),
    ROW("percent-ends", "Both ends of a percentage are the same.", "empty and full are two values."),
    ROW("percent-twice", "A reading that is shown in percent has a 'percent' as well: two figures with one name.",
        "One of them: points from the source to 0 % and 100 %, or 'percent' beside a reading in another unit."),
    ROW("fields-overlap", "Two fields of a register take the same bit.", "Each bit belongs to one field."),
    ROW("word-unfit",
        "What a frame takes, the converter's bits, and the width and alignment of its word contradict each other, so that "
        "its results could not be what the file says.",
        "Aligned right, at least all bits are taken; aligned left or stretched, as many as the word is wide."),
    ROW("channel-twice", "Two pins of a board have the same channel of its converter.",
        "Each channel leads to one pin."),
    ROW("vil-above-vih",
        "The low threshold lies above the high one, so some volts would be low and high at once.",
        "vil is the highest low, vih the lowest high."),
    ROW("unknown-pin", "The board, the multiplexer or the converter has no such pin.",
        "'tinyladder pins BOARD' lists them."),
    ROW("unknown-rail", "There is no supply or shared node of that name.",
        "Supplies stand in the board and in the plan; shared nodes stand before what uses them."),
    ROW("unknown-signal", "The plan has no signal of that name.", "A likely one is named."),
    ROW("unknown-name", "The scene names something that its plan does not have.", "A likely one is named."),
    ROW("unknown-source", "The source has no key that says what it is.",
        "Such as rail, voltage, current, resistance, potentiometer, contact, open-collector, logic."),
    ROW("no-internal-pull", "The board does not say that its pins have pulls of their own.",
        "A resistor instead: pull: {up: 10k, to: RAIL}"),
    ROW("pin-is-rail", "The pin is a supply or ground, and cannot be read or driven.", "Another pin."),
    ROW("other-plan", "The scene is for another plan.", "Its 'plan' names the one that it is for."),
};

const tl_rule *tl_file_rules(int *count)
{
    *count = (int)(sizeof rules / sizeof rules[0]);
    return rules;
}
