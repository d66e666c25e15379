# The core, in one list: the host build, the target builds and perf/ all take it from here.
set(TINYLADDER_CORE_SOURCES
  src/core/button.c
  src/core/fault.c
  src/core/filter.c
  src/core/input.c
  src/core/lines.c
  src/core/mux.c
  src/core/port.c
  src/core/pulse.c
  src/core/scale.c
  src/core/share.c
  src/core/status.c
  src/core/sweep.c
  src/core/table.c
  src/core/text.c
  src/core/word.c)
