#!/bin/sh
# check-targets.sh FOLDER: compiles the core for each target and proves that it keeps no static memory.
set -eu
out=${1:-build/targets}
here=$(dirname "$0")/..
warnings="-std=c11 -Os -ffunction-sections -Wall -Wextra -Wconversion -Wshadow -Wpedantic -Werror"
chip() { sed -n "s/^$1 := //p" "$here/targets.mk"; }
sources=$(sed -n 's/^ *\(src\/core\/[a-z_]*\.c\).*/\1/p' "$here/cmake/core_sources.cmake")
status=0

build() { # NAME COMPILER SIZE FLAGS...
    name=$1 compiler=$2 size=$3
    shift 3
    mkdir -p "$out/$name"
    for source in $sources; do
        # $warnings is a list of words on purpose
        "$compiler" "$@" $warnings -I "$here/include" -c "$here/$source" -o "$out/$name/$(basename "$source" .c).o"
    done
    set -- $("$size" "$out/$name"/*.o | awk 'NR > 1 { text += $1; data += $2; bss += $3 } END { print text, data, bss }')
    echo "$name: code $1 bytes, static data $2, zeroed $3"
    [ "$2" = 0 ] && [ "$3" = 0 ] || { echo "$name: the core keeps static memory" >&2; status=1; }
}

build avr avr-gcc avr-size -mmcu="$(chip AVR_CHIP)"
build arm arm-none-eabi-gcc arm-none-eabi-size -mcpu="$(chip ARM_CPU)" -mthumb -ffreestanding
exit $status
