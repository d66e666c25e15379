/* SPDX-License-Identifier: MIT */
/* Asked to end from outside: noticed, and then obeyed as whoever asked expects. */
#ifndef TL_ENDING_H
#define TL_ENDING_H

#include <stdbool.h>

/* From here on a request to end (SIGINT, SIGTERM, SIGHUP, SIGQUIT) only asks. */
void ending_watch(void);
bool ending_asked(void);
/* Ends the command by the signal that asked, if one did: all is written and put back by now. */
void ending_obey(void);

#endif
