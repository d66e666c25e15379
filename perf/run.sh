#!/bin/sh
# SPDX-License-Identifier: MIT
# run.sh BUILD: every measurement on one page. Cycles and sizes are exact; times are ratios taken side by side here.
set -eu
build=$1
here=$(dirname "$0")
out=$build/perf
mkdir -p "$out"
chip() { sed -n "s/^$1 := //p" "$here/../targets.mk"; }

echo "== On an 8-bit AVR, counted by an instruction-level simulator, gcc-avr -Os, 12 bits"
avr-gcc -mmcu="$(chip AVR_CHIP)" -DMARK_ADDRESS="$(chip AVR_MARK_ADDRESS)" -std=gnu11 -Os -I "$here/../include" \
    "$here/avr/firmware.c" "$here/../src/core/scale.c" "$here/../src/core/ratio.c" "$here/../src/core/lean.c" -Wl,--gc-sections -o "$out/firmware.elf"
cc -O1 -I "$here/../ports/avr" "$here/avr/cycles.c" "$here/../ports/avr/simulated.c" -o "$out/cycles" -lsimavr -lelf
"$out/cycles" "$out/firmware.elf" "$(chip AVR_CHIP)" "$(chip AVR_HERTZ)" "$(chip AVR_MARK_ADDRESS)" | grep '^ '

echo "== Code of the whole core, -Os"
"$here/../scripts/check-targets.sh" "$out/targets" sizes | sed 's/^/  /'

echo "== Code by feature, bytes: AVR, Cortex-M0"
for object in "$out"/targets/avr/*.o; do
    feature=$(basename "$object" .o)
    printf '  %-10s %6d %6d\n' "$feature" "$(avr-size "$object" | awk 'NR == 2 { print $1 }')" \
        "$(arm-none-eabi-size "$out/targets/arm/$feature.o" | awk 'NR == 2 { print $1 }')"
done

echo "== State, bytes of RAM: AVR, Cortex-M0 (budget: 24 a signal; tl_lines is for 32 of them; windows and arrays are the caller's)"
avr-gcc -mmcu="$(chip AVR_CHIP)" -std=gnu11 -I "$here/../include" -c "$here/state.c" -o "$out/state-avr.o"
arm-none-eabi-gcc -mcpu="$(chip ARM_CPU)" -mthumb -std=c11 -I "$here/../include" -c "$here/state.c" -o "$out/state-arm.o"
for object in avr:avr arm:arm-none-eabi; do
    "${object#*:}-nm" -S -t d "$out/state-${object%:*}.o" | awk '{ sub("size_of_", "", $4); print $4, $2 + 0 }' | sort >"$out/state-${object%:*}"
done
join "$out/state-avr" "$out/state-arm" | awk '{ printf "  %-16s %4d %4d\n", $1, $2, $3 }'

echo "== One conversion and one debounced button alone, Cortex-M0: what the linker keeps of the core"
arm="arm-none-eabi-gcc -mcpu=$(chip ARM_CPU) -mthumb -Os -std=c11 -ffunction-sections -fdata-sections"
# The four descriptions are the board's own: their addresses do not matter here. $arm is a list of words on purpose.
$arm -nostartfiles -I "$here/../include" "$here/arm/smallest.c" "$here"/../src/core/*.c -Wl,--gc-sections -Wl,-e,smallest \
    -Wl,--defsym=port=0,--defsym=input=0,--defsym=scale=0,--defsym=config=0 -o "$out/smallest.elf"
arm-none-eabi-nm -S -t d "$out/smallest.elf" | awk '
    $4 ~ /^mem(cpy|set)$/ { library += $2 } $4 ~ /^tl_/ || $3 == "t" { core += $2 }
    END { printf "  %d bytes of the core, and %d of memcpy and memset\n", core, library }'

echo "== Linked images, bytes of code and constants, RAM apart: AVR, Cortex-M0 (whole program optimised)"
"$build/tinyladder" header "$here/../demo/fernhill.plan.yaml" -o "$out/fernhill_plan.h" --force >/dev/null
firmware=$here/../examples/firmware
sizes() { # TEXT AVR-IMAGE ARM-IMAGE
    printf '  %-70s %5d + %3d %5d + %3d\n' "$1" $(avr-size "$2" | awk 'NR == 2 { print $1 + $2, $2 + $3 }') \
        $(arm-none-eabi-size "$3" | awk 'NR == 2 { print $1 + $2, $2 + $3 }')
}
image() { # TEXT FLAGS FILE...: both sizes; then as the build of a library gives them, each file for itself and no flag but these
    text=$1 flags=$2
    shift 2
    common="-Os -std=gnu11 -ffunction-sections -fdata-sections -Wl,--gc-sections -I $here/../include -I $out -I $firmware $flags"
    on_arm="-mcpu=$(chip ARM_CPU) -mthumb -nostartfiles -Wl,-e,main -Wl,-Ttext=0 --specs=nano.specs"
    avr-gcc -g -mmcu="$(chip AVR_CHIP)" -flto -mrelax ${avr_flags:-} $common "$@" -o "$out/linked-avr.elf"
    arm-none-eabi-gcc $on_arm -flto -fno-ipa-cp -fno-move-loop-invariants $common "$@" -o "$out/linked-arm.elf"
    sizes "$text" "$out/linked-avr.elf" "$out/linked-arm.elf"
    avr-gcc -mmcu="$(chip AVR_CHIP)" $common "$@" -o "$out/plain-avr.elf"
    arm-none-eabi-gcc $on_arm $common "$@" -o "$out/plain-arm.elf"
    sizes "  each file for itself" "$out/plain-avr.elf" "$out/plain-arm.elf"
}
for what in percent button sweep; do
    image "$what" "" "$here/linked/$what.c" "$here/linked/port.c" "$here"/../src/core/*.c
    image "$what, small build" -DTL_SMALL "$here/linked/$what.c" "$here/linked/port.c" "$here"/../src/core/*.c
    image "$what, by hand" "" "$here/linked/${what}_by_hand.c"
done
image "percent, in float" "" "$here/linked/percent_in_float.c"
avr_flags="-mcall-prologues -fno-move-loop-invariants" # of use where there are many functions
for flags in "" -DTL_SMALL "-DTL_SMALL -DFERNHILL_QUIET"; do
    image "examples/firmware: all 27 signals ${flags:+, $flags}" "$flags" "$firmware/fernhill.c" "$here/linked/all.c" "$firmware/stand_in.c" "$here"/../src/core/*.c
done
echo "== What the bytes of the last one are for, AVR"
"$here/by-feature.sh" "$out/linked-avr.elf" avr

echo "== One look at 32 debounced lines (tl_lines_look), Cortex-M0: it has no branch, so every instruction runs once"
arm-none-eabi-objdump -d "$out/targets/arm/lines.o" |
    awk '/<tl_lines_look>:/ { inside = 1; next } /^$/ { inside = 0 } inside && /^ / { n++; if ($0 ~ /\tb[a-z]*\t/ && $0 !~ /\tbics?\t/) branches++ }
         END { printf "  %d instructions, %d of them branches\n", n, branches }'

echo "== Dividers of up to two resistors a leg, E96 over six decades"
cc -std=c11 -O2 -I "$here/../include" "$here/host/divider.c" "$build/libtinyladder-design.a" "$build/libtinyladder.a" -llapacke -lfyaml -lcsv -lm -o "$out/divider"
"$out/divider"

echo "== The checker on a large plan"
"$here/large-plan.sh" "$out"
cc -std=c11 -O2 -I "$here/../include" "$here/host/check.c" "$build/libtinyladder-design.a" "$build/libtinyladder.a" -llapacke -lfyaml -lcsv -lm -o "$out/check"
"$out/check" "$out/large.plan.yaml"

echo "== The bench: virtual hardware"
cc -std=c11 -O2 -D_GNU_SOURCE -I "$here/../include" -I "$here/../src" "$here/host/bench.c" "$build/libtinyladder-rooms.a" \
    "$build/libtinyladder.a" -llapacke -lfyaml -lcsv -lm -o "$out/bench"
"$out/bench" "$here/host/day.plan.yaml" "$here/host/day.scene.yaml" | tee "$out/bench.txt" | grep -v '^us '
/usr/bin/python3 "$here/host/dense.py" "$(sed -n 's/^us //p' "$out/bench.txt")"

echo "== convert: five million rows of CSV, user time, side by side with mawk doing the same"
awk 'BEGIN { print "time,count"; for (i = 0; i < 5000000; i++) print i "," (i * 7919) % 4096 }' >"$out/rows.csv"
user() { # SECONDS of user time of a command whose output goes nowhere
    { /usr/bin/env time -f %U "$@" >/dev/null; } 2>&1 | tail -1
}
ours=$(user "$build/tinyladder" convert "$here/../demo/fernhill.plan.yaml" house-battery "$out/rows.csv")
theirs=$(user mawk -F, -v OFS=, 'NR > 1 { v = $2 * 3.3 / 4096; printf "%s,%.6f,%.2f,%s\n", $0, v, v * 59 / 12, $2 == 0 ? "clipped low" : $2 == 4095 ? "clipped high" : "fresh" }' "$out/rows.csv")
plain=$(user mawk -F, '{ print $1 "," $2 * 3.3 / 4096 }' "$out/rows.csv")
echo "$ours $theirs $plain" | awk '{ printf "  tinyladder %.2f s; mawk %.2f s, %.1f times as long; mawk with the bare multiplication %.2f s, %.1f times\n", $1, $2, $2 / $1, $3, $3 / $1 }'
rm -f "$out/rows.csv"

echo "== Here, whole processes, best of 20 runs (side by side with 'true', which only starts and ends)"
best() { # TEXT COMMAND...: milliseconds of the quickest of 20 runs
    text=$1
    shift
    least=
    for _ in 1 2 3 4 5 6 7 8 9 10 11 12 13 14 15 16 17 18 19 20; do
        start=$(date +%s%N)
        "$@" >/dev/null || true
        took=$((($(date +%s%N) - start) / 1000))
        if [ -z "$least" ] || [ "$took" -lt "$least" ]; then least=$took; fi
    done
    printf '  %-52s %6d us\n' "$text" "$least"
}
best "true" true
best "tinyladder size divider, E24" "$build/tinyladder" size divider --vin 10.5V..14.8V --vmax 3.3V
best "tinyladder size divider, E192" "$build/tinyladder" size divider --vin 10.5V..14.8V --vmax 3.3V --series E192
best "tinyladder size divider, two E96 parts a leg" "$build/tinyladder" size divider --vin 10.5V..14.8V --vmax 3.3V --series E96 --parts 2 --order share
best "tinyladder size shift" "$build/tinyladder" size shift --driver-supply 5V --receiver-supply 3.3V
best "tinyladder size ladder, 8 buttons" "$build/tinyladder" size ladder --buttons 8
best "tinyladder check, the Fernhill plan" "$build/tinyladder" check "$here/../demo/fernhill.plan.yaml"
best "tinyladder read, the Fernhill plan" "$build/tinyladder" read "$here/../demo/fernhill.plan.yaml"
best "tinyladder sheet, the Fernhill plan as PDF" "$build/tinyladder" sheet "$here/../demo/fernhill.plan.yaml" -o "$out/sheet.pdf"
best "tinyladder sheet, as a page" "$build/tinyladder" sheet "$here/../demo/fernhill.plan.yaml" -o "$out/sheet.html"
"$here/large-island.sh" "$out"
best "tinyladder read, one island of 34 signals, 120 nodes" "$build/tinyladder" read "$out/island.plan.yaml"
best "tinyladder read, one signal of it" "$build/tinyladder" read "$out/island.plan.yaml" s4
best "tinyladder check, that island" "$build/tinyladder" check "$out/island.plan.yaml"
best "10 s of 32 contacts on one node, 10 Hz" "$build/tinyladder" read "$out/contacts.plan.yaml" --scene "$out/contacts.scene.yaml" --at 10s
best "500 Hz of ripple behind 10 s, an hour on" "$build/tinyladder" read "$out/ripple.plan.yaml" --at 1h

echo "== Diagnosis: faults drawn by how often they happen, on benches with parts of their own; a fifth with sources twice as far off"
explain="$here/../src/explain/hypotheses.c $here/../src/explain/observed.c $here/../src/explain/rehearsal.c $here/../src/explain/next.c
    $here/../src/explain/predict.c $here/../src/explain/situation_scene.c $here/../src/explain/seen_figures.c $here/../src/explain/likelihood.c $here/../src/explain/rank.c $here/../src/explain/near.c
    $here/../src/explain/touch.c $here/../src/explain/within.c $here/../src/explain/focus.c"
cc -std=c11 -O2 -I "$here/../include" -I "$here/../src" "$here/host/explain.c" $explain -o "$out/explain" \
    "$build/libtinyladder-rooms.a" "$build/libtinyladder-bench.a" "$build/libtinyladder-design.a" "$build/libtinyladder.a" \
    "$build/libtinyladder-rooms.a" "$build/libtinyladder-bench.a" -llapacke -lfyaml -lcsv -ljansson -lm
"$out/explain" 15 "$here"/../demo/sound/*.plan.yaml "$here/../demo/desk.plan.yaml"
echo "   the demo plan:"
"$out/explain" 200 "$here/../demo/fernhill.plan.yaml"
best "tinyladder explain, one signal of the Fernhill plan" "$build/tinyladder" explain "$here/../demo/fernhill.plan.yaml" house-battery --saw '1200 1201' --source '12.7 V ±0.1 V'

echo "== Growth: user seconds, and the exponent from row to row"
"$here/growth.sh" "$build/tinyladder" "$out" | sed 's/^/  /'

echo "== record, the whole demo plan with intervals: four hours at a row a second (27 signals, 4 outputs), best of 5"
least=
for _ in 1 2 3 4 5; do
    rm -f "$out/demo.csv"
    took=$(user "$build/tinyladder" record "$here/../demo/fernhill.plan.yaml" --scene "$here/../demo/evening.scene.yaml" --for 4h --every 1s -o "$out/demo.csv")
    least=$(echo "$took $least" | awk '{ print $2 == "" || $1 < $2 ? $1 : $2 }')
done
echo "$least" | awk '{ printf "  %.2f s: %d readings a second, a day in %.1f s\n", $1, 14400 * 27 / $1, 6 * $1 }'
rm -f "$out/demo.csv"
