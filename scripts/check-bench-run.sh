#!/bin/bash
# SPDX-License-Identifier: MIT
# check-bench-run.sh FOLDER: compiled programs on the bench of their plan. The commands of docs/firmware.md say what it promises;
# images of three processors say the same; what a program sets wrongly shows and is named; its serial line is what the bench reads.
# The folder keeps what was compiled and said. Build/ must be there.
set -euo pipefail
cd "$(dirname "$0")/.."
mkdir -p "$1"
out=$(realpath "$1")
frame=demo/cold-frame.plan.yaml
tests=tests/targets/bench
wrong() {
    echo "$*" >&2
    exit 1
}

# --- the commands of docs/firmware.md, and what they promise: the last seven lines before --verify's; noise is worth two counts
block() { sed -n "/^\`\`\`$1/,/^\`\`\`/p" docs/firmware.md | grep -v '^```'; }
alike() { # SAID PROMISED: line by line; numbers may differ by 2, shares of the time by an eighth of a percent
    paste -d '|' "$1" "$2" | awk -F'|' '
        { n = split($1, said, " "); if (split($2, promised, " ") != n) bad = 1
          for (i = 1; i <= n; i++) if (said[i] != promised[i] && !(said[i] ~ /^[0-9.]+$/ && (said[i] - promised[i]) ^ 2 <= 4)) bad = 1 }
        END { exit bad || NR != 7 }'
}
block sh >"$out/commands"
block text >"$out/promised"
[ "$(wc -l <"$out/commands")" = 10 ] || wrong "firmware.md: these are not ten commands"
sh -e <"$out/commands" >"$out/said" 2>&1 || { cat "$out/said" >&2; wrong "firmware.md: a command failed"; }
grep -B 7 ': as the plan is$' "$out/said" | head -7 >"$out/said-avr"
alike "$out/said-avr" "$out/promised" || wrong "firmware.md: tinyladder-bench-run says something else than it promises"
make -s -C examples/cold-frame stand-in >"$out/made" 2>&1 || { cat "$out/made" >&2; exit 1; }
for processor in cortex-m0 rv32; do
    build/tinyladder-bench-run $frame build/cold-frame/cold_frame-$processor.elf --scene demo/cold-frame.scene.yaml --for 3s --outputs |
        tail -7 >"$out/said-$processor" &
done
wait
for processor in cortex-m0 rv32; do
    alike "$out/said-$processor" "$out/promised" || wrong "bench-run: a $processor says something else"
done
echo "firmware.md: its ten commands run, and say what it promises; so do a Cortex-M0 and an RV32"

# --- what a program sets wrongly gives what the chip would give, and is named
mistaken() { # NAME FILE CHANGE NAMED GONE
    local at="$out/mistaken-${1// /-}" image=cold_frame.elf
    case $2 in stand-in/*) image=cold_frame-cortex-m0.elf ;; esac
    rm -rf "$at" && mkdir -p "$at"
    cp -r ports "$at/ports"
    sed -i "$3" "$at/ports/$2"
    ! cmp -s "ports/$2" "$at/ports/$2" || { echo "bench-run: '$1' changes nothing" >&2; return 1; }
    make -s -C examples/cold-frame PORTS="$at/ports" OUT="$at" "$at/$image" >"$at/made" 2>&1 || { grep error "$at/made" >&2; return 1; }
    build/tinyladder-bench-run $frame "$at/$image" --for 500ms >"$at/said" 2>"$at/named" || true
    grep -q "$4" "$at/named" && ! grep -q "^$5\$" "$at/said" || { echo "bench-run: '$1' is not seen" >&2; return 1; }
}
mistakes=0
while IFS=$'\002' read -r -u 3 name file change named gone; do
    mistaken "$name" "$file" "${change//$'\001'/|}" "$named" "$gone" &
    mistakes=$((mistakes + 1))
    [ $((mistakes % 2)) != 0 ] || wait -n # two at a time
done 3< <(grep -v '^#' $tests/mistakes.txt | sed 's/\\|/\x01/g; s/ | /\x02/g')
for job in $(jobs -p); do
    wait "$job" || exit 1
done
echo "bench-run: $mistakes mistakes of a program are seen and named"

# --- an internal pull stays, whatever else the port register does
build/tinyladder header $tests/pulls.plan.yaml -o "$out/pulls_plan.h" --force >/dev/null
setting() { sed -n "s/^$1 := //p" targets.mk; }
avr-gcc -mmcu="$(setting AVR_CHIP)" -std=gnu11 -Os -DF_CPU="$(setting AVR_HERTZ)UL" -flto -ffunction-sections -fdata-sections -Wl,--gc-sections \
    -I include -I ports/avr -I "$out" $tests/pulls.c ports/avr/port_avr*.c src/core/*.c -o "$out/pulls.elf"
said=$(build/tinyladder-bench-run $tests/pulls.plan.yaml "$out/pulls.elf" --scene $tests/pulls.scene.yaml --for 1s)
[ "$said" = CoCoCo ] || wrong "bench-run: a contact with an internal pull says '$said'"

# --- what is no program for such a chip
head -c 100 build/cold-frame/cold_frame-rv32.elf >"$out/cut.elf"
for image in README.md "$(command -v sh)" "$out/cut.elf" /nowhere; do
    ! said=$(build/tinyladder-bench-run $frame "$image" 2>&1) || wrong "bench-run takes $image"
    case $said in *'not a program for such a chip'* | *'No such file'*) ;; *) wrong "bench-run on $image: $said" ;; esac
done

# --- what the chip's lines say over its own terminal is what the bench reads, but for the last counts
build/tinyladder-bench-run $frame build/cold-frame/cold_frame.elf --pty --real-time --for 4s >"$out/pty" &
runs=$!
for _ in 1 2 3 4 5 6 7 8 9 10; do
    grep -q 'serial line' "$out/pty" && break
    sleep 0.1
done
build/tinyladder read $frame --counts "$(sed -n 's/^serial line: //p' "$out/pty")@38400" --csv >"$out/counted"
build/tinyladder read $frame --csv | grep -v 'fan\|lamp' >"$out/on-bench"
wait $runs
for signal in wanted air lid tank tray; do
    counted=$(sed -n "s/^[^,]*,$signal,\([0-9]*\),.*/\1/p" "$out/counted") bench=$(sed -n "s/^[^,]*,$signal,\([0-9]*\),.*/\1/p" "$out/on-bench")
    [ -n "$counted" ] && [ $((counted - bench)) -ge -2 ] && [ $((counted - bench)) -le 2 ] || wrong "--counts: $signal is $counted instead of $bench"
done
echo "--counts: what the chip says over its serial line is what the bench reads"
