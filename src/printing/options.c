/* Options that say a quantity, a number or a file: read, or refused as wrong usage. */
#include "printing/options.h"
#include <stdlib.h>

tl_quantity option_quantity(struct argp_state *state, const char *option, const char *text,
                            tl_dimension dimension)
{
    tl_quantity quantity = {0};
    tl_text_error error;
    if (!tl_quantity_read(text, dimension, &quantity, &error))
        argp_error(state, "--%s: %s: '%.70s'", option, error.text, text);
    return quantity;
}

double option_value(struct argp_state *state, const char *option, const char *text, tl_dimension dimension)
{
    const tl_quantity quantity = option_quantity(state, option, text, dimension);
    if (quantity.low != quantity.high)
        argp_error(state, "--%s: one value is wanted, not a range: '%.70s'", option, text);
    return quantity.nominal;
}

void option_file(struct argp_state *state, const char *kind, const char **path, const char *text)
{
    if (*path != NULL)
        argp_error(state, "one %s at a time: '%.60s' is one argument too many", kind, text);
    *path = text;
}

long option_number(struct argp_state *state, const char *option, const char *text, long least, long most)
{
    char *end = NULL;
    const long number = strtol(text, &end, 10);
    if (end == text || *end != '\0' || number < least || number > most)
        argp_error(state, "--%s: a whole number from %ld to %ld is wanted: '%.70s'", option, least, most,
                   text);
    return number;
}
