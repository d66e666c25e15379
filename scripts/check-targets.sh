#!/bin/sh
# SPDX-License-Identifier: MIT
# check-targets.sh FOLDER [sizes]: compiles the core for each target, proves that it keeps no static memory, that its arithmetic
# gives the same bits on 64, 32 and 8 bits, that the port of the 8-bit chip keeps its promises, and that the whole firmware of the demo
# says the same lines everywhere (HEADERS: where its generated header lies). With "sizes" only the first two.
set -eu
out=${1:-build/targets}
here=$(dirname "$0")/..
warnings="-Os -ffunction-sections -Wall -Wextra -Wconversion -Wshadow -Wpedantic -Werror"
strict=-std=c11
avr="-mmcu=$(sed -n 's/^AVR_CHIP := //p' "$here/targets.mk") -std=gnu11" # its read-only memory is a word of GNU C
chip() { sed -n "s/^$1 := //p" "$here/targets.mk"; }
sources=$(sed -n 's/^ *\(src\/core\/[a-z0-9_]*\.c\).*/\1/p' "$here/cmake/core_sources.cmake")
status=0

build() { # NAME COMPILER SIZE FLAGS...
    name=$1 compiler=$2 size=$3
    shift 3
    rm -rf "$out/$name" && mkdir -p "$out/$name" # nothing of files that are gone
    for source in $sources; do
        # $warnings is a list of words on purpose
        "$compiler" "$@" $warnings -I "$here/include" -c "$here/$source" -o "$out/$name/$(basename "$source" .c).o"
    done
    set -- $("$size" "$out/$name"/*.o | awk 'NR > 1 { text += $1; data += $2; bss += $3 } END { print text, data, bss }')
    echo "$name: code $1 bytes, static data $2, zeroed $3"
    echo "$1" >"$out/$name.size"
    [ "$2" = 0 ] && [ "$3" = 0 ] || { echo "$name: the core keeps static memory" >&2; status=1; }
}

# What a new port is tried with must run there, too.
suite() { # COMPILER FLAGS...
    compiler=$1
    shift
    "$compiler" "$@" $warnings -I "$here/include" -c "$here/conformance/conformance.c" -o "$out/conformance.o"
}

mkdir -p "$out"
suite avr-gcc $avr
suite arm-none-eabi-gcc -mcpu="$(chip ARM_CPU)" -mthumb -ffreestanding $strict
build avr avr-gcc avr-size $avr
build arm arm-none-eabi-gcc arm-none-eabi-size -mcpu="$(chip ARM_CPU)" -mthumb -ffreestanding $strict
riscv="-march=$(chip RISCV_ARCH) -mabi=$(chip RISCV_ABI) -mcmodel=medany --specs=picolibc.specs $strict" # a list of words, too
build riscv riscv64-unknown-elf-gcc riscv64-unknown-elf-size $riscv
[ "${2:-}" != sizes ] || exit $status

# Compiled programs on the bench of their plan, beside all that follows.
"$here/scripts/check-bench-run.sh" "$out/bench-run" >"$out/bench-run.said" 2>&1 &
on_bench=$!
trap 'kill $on_bench 2>/dev/null || true' EXIT

# A description that is not in the memory that it is read from is an error, both ways round.
mistake() { # LINE OF C
    printf '#include "tinyladder/core.h"\nextern tl_button button;\nextern const tl_port port;\nvoid f(void);\nvoid f(void)\n{\n%s\n}\n' "$1" >"$out/mistake.c"
    ! avr-gcc $avr -I "$here/include" -c "$out/mistake.c" -o "$out/mistake.o" 2>"$out/mistake" && grep -q "address space" "$out/mistake"
}
mistake 'static const tl_button_config forgot = {1, 2, true, false}; (void)tl_button_init(&button, &forgot, &port);' ||
    { echo "rom.h: a forgotten TL_ROM passes" >&2; status=1; }
mistake 'static const TL_ROM tl_word word = {12, 16, 0, 0, false}; int32_t code; (void)tl_word_code(&word, 1, &code);' ||
    { echo "rom.h: a TL_ROM where RAM is meant passes" >&2; status=1; }
! mistake 'static const TL_ROM tl_button_config good = {1, 2, true, false}; (void)tl_button_init(&button, &good, &port);' ||
    { echo "rom.h: what is right does not pass" >&2; status=1; }

# --- the same bits everywhere: an emulator runs the target's own instructions, from reset on, and counts its time by them
tests=$here/tests/targets
on_arm="-mcpu=$(chip ARM_CPU) -mthumb $strict $warnings --specs=nano.specs -nostartfiles -T $here/ports/cortex-m/link.ld -I $here/ports/cortex-m
    $tests/on_arm.c $here/ports/cortex-m/start.c $here/ports/cortex-m/port_cortex_m.c"
on_riscv="$riscv $warnings -nostartfiles -T $here/ports/riscv/link.ld -Wl,--no-warn-rwx-segments $tests/on_riscv.c $here/ports/riscv/start.c"
emulate() { # arm|riscv32 MACHINE IMAGE
    timeout 300 "qemu-system-$1" -icount shift=6,sleep=off -M "$2" -bios none -nographic -monitor none -serial none \
        -chardev stdio,id=out -semihosting-config enable=on,chardev=out -kernel "$3"
}
mark="-DMARK_ADDRESS=$(chip AVR_MARK_ADDRESS)"
cores=$(for source in $sources; do printf '%s ' "$here/$source"; done)
# The lists of words below are meant to be taken apart.
cc $strict $warnings -I "$here/include" "$tests/identity.c" "$tests/on_host.c" $cores -o "$out/identity-host"
avr-gcc $avr "$mark" $warnings -Wl,--gc-sections -I "$here/include" "$tests/identity.c" "$tests/on_avr.c" $cores \
    -o "$out/identity-avr"
cc -O1 -I "$here/ports/avr" "$tests/simulate_avr.c" "$here/ports/avr/simulated.c" -o "$out/simulate-avr" -lsimavr -lelf
arm-none-eabi-gcc $on_arm -I "$here/include" "$tests/identity.c" $cores -o "$out/identity-arm"
riscv64-unknown-elf-gcc $on_riscv -I "$here/include" "$tests/identity.c" $cores -o "$out/identity-riscv"
"$out/identity-host" >"$out/bits-64"
emulate riscv32 "$(chip RISCV_MACHINE)" "$out/identity-riscv" >"$out/bits-riscv"
emulate arm "$(chip ARM_MACHINE)" "$out/identity-arm" >"$out/bits-32"
"$out/simulate-avr" "$out/identity-avr" "$(chip AVR_CHIP)" "$(chip AVR_HERTZ)" "$(chip AVR_MARK_ADDRESS)" | grep -a -o '[0-9a-f][0-9a-f]$' >"$out/bits-8"
bytes=$(wc -l <"$out/bits-64")
[ "$bytes" = 44 ] || { echo "identity: $bytes bytes instead of 44" >&2; status=1; }
for bits in 32 riscv 8; do
    cmp -s "$out/bits-64" "$out/bits-$bits" || { echo "identity: $bits bits differ from 64" >&2; status=1; }
done

# --- built by cmake with nothing but a bare cross compiler, and the demo's header in C++
rm -rf "$out/alone"
cmake -S "$here" -B "$out/alone" -DTINYLADDER_CORE_ONLY=ON -DCMAKE_SYSTEM_NAME=Generic -DCMAKE_C_COMPILER=avr-gcc \
    -DCMAKE_C_FLAGS="-mmcu=$(chip AVR_CHIP) -Os" >"$out/alone.log" 2>&1 && cmake --build "$out/alone" >>"$out/alone.log" 2>&1 ||
    { cat "$out/alone.log" >&2; status=1; }
printf '#include "fernhill_plan.h"\nint16_t f(uint16_t n);\nint16_t f(uint16_t n)\n{\nheater_1_count is = {n}; return heater_1_value(is);\n}\n' >"$out/plan.cc"
avr-g++ -mmcu="$(chip AVR_CHIP)" -std=c++14 $warnings -I "$here/include" -I "${HEADERS:-$here/build/examples}" -c "$out/plan.cc" -o "$out/plan.o"

# --- the port of the 8-bit chip, tried on it by the suite
ports=$here/ports/avr
avr-gcc $avr -DF_CPU="$(chip AVR_HERTZ)UL" "$mark" $warnings -fdata-sections -Wl,--gc-sections -I "$here/include" \
    -I "$here/conformance" -I "$ports" "$ports"/port_avr*.c "$ports/conformance_run.c" "$here/conformance/conformance.c" $cores \
    -o "$out/conformance-avr"
cc -O1 "$ports/simulate.c" "$ports/simulated.c" -o "$out/simulate-port" -lsimavr -lelf
"$out/simulate-port" "$out/conformance-avr" "$(chip AVR_CHIP)" "$(chip AVR_HERTZ)" "$(chip AVR_MARK_ADDRESS)" | grep -a -v '^Loaded' >"$out/promises"
sed 's/^/avr port: /' "$out/promises"
grep -q ' promises, 0 broken$' "$out/promises" || status=1

# --- the ports of the other processors, by the same suite, with lines and a converter that are made up
lines() { sed -n 's/^.*\([0-9a-f][0-9a-f]\)$/\1/p' | tr -d '\n' | sed 's/../\\x&/g' | xargs -0 printf '%b'; }
tried="$tests/port_run.c $here/conformance/conformance.c $here/ports/stand-in/stand_in_chip.c $cores -I $here/include -I $here/conformance -I $here/ports/stand-in"
arm-none-eabi-gcc $on_arm "-DCORE_HERTZ=$(chip ARM_HERTZ)u" $tried -o "$out/conformance-arm"
riscv64-unknown-elf-gcc $on_riscv "-DMTIME_ADDRESS=$(chip RISCV_MTIME)" "-DMTIME_HERTZ=$(chip RISCV_MTIME_HERTZ)u" -I "$here/ports/riscv" \
    "$here/ports/riscv/port_riscv.c" $tried -o "$out/conformance-riscv"
emulate arm "$(chip ARM_MACHINE)" "$out/conformance-arm" | lines | sed 's/^/cortex-m port: /' | tee "$out/promises-arm"
emulate riscv32 "$(chip RISCV_MACHINE)" "$out/conformance-riscv" | lines | sed 's/^/riscv port: /' | tee "$out/promises-riscv"
grep -q ' promises, 0 broken$' "$out/promises-arm" && grep -q ' promises, 0 broken$' "$out/promises-riscv" || status=1

# --- the whole firmware, from the plan's header, unchanged
firmware=$here/examples/firmware
files="$firmware/fernhill.c $firmware/stand_in.c $tests/firmware_run.c"
where="-I $here/include -I $firmware -I $tests -I ${HEADERS:-$here/build/examples}"
# FLAG NAME: in that build, on four kinds of processors
firmware_in() {
    cc $strict $warnings $1 $where $files "$tests/on_host.c" $cores -o "$out/firmware-host$2" || return 1
    avr-gcc $avr "$mark" $warnings $1 -fdata-sections -flto -mcall-prologues -fno-move-loop-invariants -Wl,--gc-sections $where $files \
        "$tests/on_avr.c" $cores -o "$out/firmware-avr$2" || return 1
    arm-none-eabi-gcc $on_arm $1 $where $files $cores -o "$out/firmware-arm$2" || return 1
    riscv64-unknown-elf-gcc $on_riscv $1 $where $files $cores -o "$out/firmware-riscv$2" || return 1
    "$out/firmware-host$2" | lines >"$out/said-64$2"
    emulate riscv32 "$(chip RISCV_MACHINE)" "$out/firmware-riscv$2" | lines >"$out/said-riscv$2"
    emulate arm "$(chip ARM_MACHINE)" "$out/firmware-arm$2" | lines >"$out/said-32$2"
    "$out/simulate-avr" "$out/firmware-avr$2" "$(chip AVR_CHIP)" "$(chip AVR_HERTZ)" "$(chip AVR_MARK_ADDRESS)" |
        grep -a '[0-9a-f][0-9a-f]$' | lines >"$out/said-8$2"
    [ "$(wc -l <"$out/said-64$2")" = 62 ] || { echo "firmware$2: it does not say 62 lines" >&2; return 1; }
    for bits in 32 riscv 8; do
        cmp -s "$out/said-64$2" "$out/said-$bits$2" || { echo "firmware$2: $bits bits say something else than 64" >&2; return 1; }
    done
}
firmware_in "" "" || status=1
firmware_in -DTL_SMALL -small || status=1
[ "$(cut -d' ' -f1 "$out/said-64")" = "$(cut -d' ' -f1 "$out/said-64-small")" ] || { echo "firmware: the small build says other names" >&2; status=1; }
# --- the lean arithmetic by a compiler of its own kind, with the demo's header as it is; what else the header could call is not linked
small=$out/small
mkdir -p "$small"
rm -f "$small/sums.ihx"
for source in "$here/src/core/lean.c" "$tests/lean_sums.c" "$tests/sums_on_8_bits.c"; do
    sdcc "-m$(chip SMALL_TARGET)" --std-c11 --opt-code-size --Werror $where -c "$source" -o "$small/$(basename "$source" .c).rel"
done
sdcc "-m$(chip SMALL_TARGET)" "$small/sums_on_8_bits.rel" "$small/lean_sums.rel" "$small/lean.rel" -o "$small/sums.ihx" >"$small/linked" 2>&1 || [ -s "$small/sums.ihx" ]
cc $strict $warnings $where "$tests/lean_sums.c" "$tests/sums_on_host.c" $cores -o "$small/sums-host"
"$small/sums-host" >"$small/sums-64"
(echo run; sleep 8; echo dump ram 0 0x180; echo dump rom 0 0x180; echo quit) | "s$(chip SMALL_TARGET)" -t"$(chip SMALL_CHIP)" "$small/sums.ihx" 2>/dev/null |
    sed -n 's/^0x[0-9a-f]* *\(\([0-9a-f][0-9a-f] \)*\).*/\1/p' | tr -d '\n' | sed 's/\([0-9a-f][0-9a-f]\) /\\x\1/g' | xargs -0 printf '%b' |
    tr -d '\000-\011' >"$small/sums-8"
cmp -s "$small/sums-64" "$small/sums-8" || { echo "lean: another 8-bit compiler makes something else of the header" >&2; status=1; }
[ $status != 0 ] || echo "lean: the same $(wc -l <"$small/sums-64") sums by another 8-bit compiler in its simulator"

avr-gcc $avr "$mark" $warnings -Wl,--gc-sections -I "$here/include" "$tests/interrupt_avr.c" $cores -o "$out/interrupt-avr"
"$out/simulate-avr" "$out/interrupt-avr" "$(chip AVR_CHIP)" "$(chip AVR_HERTZ)" "$(chip AVR_MARK_ADDRESS)" | grep -a '[0-9a-f][0-9a-f]$' | lines >"$out/interrupts"
sed 's/^/a timer interrupt beside a sweep: /' "$out/interrupts"
grep -q ' refused, 0 torn$' "$out/interrupts" || status=1
wait $on_bench || status=1
cat "$out/bench-run.said"
# --- docs/targets.md, of what was found here
size() { cat "$out/$1.size"; }
stacks() {
    rm -rf "$out/stack" && mkdir -p "$out/stack"
    for source in $sources; do
        arm-none-eabi-gcc -mcpu="$(chip ARM_CPU)" -mthumb -ffreestanding $strict $warnings -fcallgraph-info=su -I "$here/include" -c "$here/$source" \
            -o "$out/stack/$(basename "$source" .c).o" || return 1
    done
    "$here/scripts/stack.py" "$here/include/tinyladder" "$out"/stack/*.ci
}
version() { "$1" -dumpversion; }
stacks >"$out/stacks" || status=1
cat >"$out/targets.md" <<END
# Targets

Written by \`make check-targets\`, which also runs the tests in this table (the chips' names are in targets.mk).

| target | compiler | the whole core, code | static memory | what is tested there |
| --- | --- | --- | --- | --- |
| 8-bit AVR | avr-gcc $(version avr-gcc) | $(size avr) bytes | 0 | arithmetic bit for bit, the demo firmware line by line, conformance of the port, a copy in an interrupt, a compiled image on the bench; all in an instruction-level simulator |
| Cortex-M0 | arm-none-eabi-gcc $(version arm-none-eabi-gcc) | $(size arm) bytes | 0 | arithmetic bit for bit, the demo firmware line by line, conformance with made-up lines and ADC; emulated from reset |
| RV32 | riscv64-unknown-elf-gcc $(version riscv64-unknown-elf-gcc) | $(size riscv) bytes | 0 | the same, emulated too |
| another 8-bit chip | sdcc $(sdcc --version | sed -n 's/.* \([0-9]*\.[0-9]*\.[0-9]*\) .*/\1/p' | head -1) | - | - | the demo's header and the lean arithmetic, in that compiler's simulator |
| 64-bit Linux | cc | - | 0 | everything; \`ports/linux\` with a simulated kernel |

## Stack

The call of each header that needs most stack on the Cortex-M0, from the call graph of the compiler; the stack of the port's functions
is added to it. No function calls itself, and no frame changes its size.

| header | bytes | call |
| --- | --- | --- |
$(cat "$out/stacks")

## Waiting

Only these calls wait, each no longer than the table shows. All others return at once, except for the time of the port's functions
(\`tinyladder/port.h\` shows the bound of each).

| call | at most |
| --- | --- |
| \`tl_port_convert()\`, \`tl_input_sample()\`, \`tl_input_take()\` and a header's \`..._take()\` | the acquisition and the input's own bound |
| \`tl_take()\` | settling times, discarded conversions, and the time of the converter |
| \`tl_mux_lead()\` | the settling time of each multiplexer in the path |
| \`tl_sweep_run()\` | the conversions and settling times of all its entries; \`tl_sweep_step()\` waits for none |
| \`tl_line_await()\` | its argument |
END
if [ "${HEADERS:-}" != "" ] && ! cmp -s "$out/targets.md" "$here/docs/targets.md"; then
    compilers() { sed -n '/^| target/,/^$/p' "$1" | cut -d'|' -f2,3; }
    if [ "$(compilers "$out/targets.md")" = "$(compilers "$here/docs/targets.md")" ]; then
        echo "docs/targets.md shows other figures than these: cp $out/targets.md docs/" >&2
        status=1
    else
        echo "docs/targets.md is of other compilers than these: $out/targets.md is of these"
    fi
fi
[ $status != 0 ] || echo "firmware: the same $(wc -l <"$out/said-64") lines on 64 bits, 32 bits of two makes, and 8 bits; so in the small build"
[ $status != 0 ] || echo "arithmetic: the same bits on 64 bits, 32 bits of two makes, and 8 bits"
exit $status
