/**
 * @file Everything that runs on the microcontroller.
 *
 * Calls named _init and _open look at what they are given, NULL too, once and at the start. All others are
 * called often: their pointers are never NULL, unless a parameter says that it may be.
 */
#ifndef TINYLADDER_CORE_H
#define TINYLADDER_CORE_H

#include "tinyladder/button.h"
#include "tinyladder/due.h"
#include "tinyladder/external.h"
#include "tinyladder/fault.h"
#include "tinyladder/filter.h"
#include "tinyladder/input.h"
#include "tinyladder/lean.h"
#include "tinyladder/lines.h"
#include "tinyladder/mux.h"
#include "tinyladder/output.h"
#include "tinyladder/port.h"
#include "tinyladder/pulse.h"
#include "tinyladder/quadrature.h"
#include "tinyladder/resistance.h"
#include "tinyladder/rom.h"
#include "tinyladder/rungs.h"
#include "tinyladder/scale.h"
#include "tinyladder/share.h"
#include "tinyladder/status.h"
#include "tinyladder/sweep.h"
#include "tinyladder/table.h"
#include "tinyladder/text.h"
#include "tinyladder/word.h"

#endif
