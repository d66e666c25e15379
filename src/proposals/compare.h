/* Dividers that one has in mind, side by side, whether they do or not. */
#ifndef TL_COMPARE_LEGS_H
#define TL_COMPARE_LEGS_H

#include "tinyladder/design/sizing.h"

enum { PAIRS_MOST = 8 };

typedef struct {
    char name[40], why[500]; /* why it does not do; "" where it does */
    tl_divider_requirement with;
    tl_choice choice;
    bool known; /* its figures are */
} compared;

/* The pairs of a text such as `470/180,4k7/1k8`, upper leg first, into an array of PAIRS_MOST; tolerance: of
 * legs that say none. Answers how many; -1 with what is wrong in why. */
int compare_read(const char *text, const tl_divider_requirement *with, double tolerance, compared *pairs,
                 char why[160]);
/* Its figures first, without any limit; then every limit that it breaks. */
void compare_try(compared *pair, const tl_stock *stock);
/* Percent that the tap is off from what nominal legs would give: tolerance, leakage and load together. */
double compare_off_by(const compared *pair);

#endif
