#!/bin/sh
# SPDX-License-Identifier: MIT
# prove.sh FOLDER [NAME...]: each entry of tests/proof/proof.c by abstract interpretation: no run of it, whatever the inputs, divides by
# nothing, overflows a signed number, shifts too far, reads what was not written or what is not there. One alarm is a failure.
set -eu
cd "$(dirname "$0")/.."
mkdir -p "$1"
folder=$1
shift
names=${*:-$(sed -n 's/^void prove_\([a-z]*\)(void)$/\1/p' tests/proof/proof.c | sort -r | tr '\n' ' ' | sed 's/ $//')}
sources="button due elapsed fault filter lean lines output pulse quadrature ratio resistance rhythm rungs scale share table text timeout word port"
files=$(for source in $sources; do echo "src/core/$source.c"; done)
one() { # NAME
    frama-c -eva -eva-precision 6 -eva-split-return full -eva-slevel 100 -eva-auto-loop-unroll 64 -eva-warn-key builtins:missing-spec=inactive \
        -machdep x86_64 -cpp-extra-args="-Iinclude -Isrc -Isrc/core" -main "prove_$1" -no-unicode tests/proof/proof.c $files >"$folder/$1.txt" 2>&1 ||
        { tail -5 "$folder/$1.txt" && return 1; }
    alarms=$(grep -c '\[eva:alarm\]' "$folder/$1.txt" || true)
    printf '%-12s %3d alarms\n' "$1" "$alarms"
    [ "$alarms" = 0 ] || { grep -A1 '\[eva:alarm\]' "$folder/$1.txt" | head -20 && return 1; }
}
# The long ones first, as many at once as there are processors.
if [ "${names#* }" = "$names" ]; then
    one "$names"
else
    echo "$names" | tr ' ' '\n' | xargs -P "$(nproc)" -n 1 "$0" "$folder"
fi
