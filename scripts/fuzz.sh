#!/bin/sh
# SPDX-License-Identifier: MIT
# fuzz.sh FOLDER SECONDS [TARGET...]: any bytes to what reads bytes, with address and undefined-behaviour checks, for so many seconds a
# target. What is found lies in FOLDER/found; the inputs that came far in FOLDER/corpus. Its end is a table for docs/reliability.md.
set -eu
cd "$(dirname "$0")/.."
mkdir -p "$1"
folder=$(cd "$1" && pwd) seconds=$2
shift 2
targets=${*:-plan board converter scene table quantity marking dump word}
mkdir -p "$folder/found"
flags="-std=gnu11 -g1 -O1 -Iinclude -Isrc -fsanitize=fuzzer-no-link,address,undefined -fno-sanitize-recover=all"
if [ ! -e "$folder/rooms.a" ] || [ -n "$(find src include -newer "$folder/rooms.a" -name '*.[ch]')" ]; then
    mkdir -p "$folder/objects"
    ls src/base/*.c src/core/*.c src/circuit/*.c src/sizing/*.c src/model/*.c src/reader/*.c src/elaborate/*.c src/scene/*.c src/analysis/*.c \
        src/rules/*.c src/proposals/*.c src/firmware/*.c src/bench/*.c |
        xargs -P "$(nproc)" -I{} sh -c 'clang '"$flags"' -c "$1" -o "'"$folder"'/objects/$(basename "$1").o"' - {}
    ar rcs "$folder/rooms.a" "$folder"/objects/*.o
fi
seeds() { # TARGET
    case $1 in
    plan) ls demo/cold-frame.plan.yaml demo/sound/*.plan.yaml demo/faulty/*.plan.yaml ;;
    board) ls demo/*.board.yaml ;;
    converter) ls demo/*.converter.yaml ;;
    scene) ls demo/*.scene.yaml docs/recipes/*.scene.yaml ;;
    table) ls docs/recipes/*.table.csv demo/*.table.csv ;;
    esac
}
failed=0
printf '%-10s %12s %8s %10s %s\n' target executions seconds 'peak, MB' found
for target in $targets; do
    lines=
    case $target in plan | board | converter | scene | table) lines=-DLINES ;; esac
    clang $flags -fsanitize=fuzzer,address,undefined -DTARGET="$target" $lines tests/fuzz/fuzz.c "$folder/rooms.a" "$folder/rooms.a" \
        -llapacke -lfyaml -lcsv -lm -o "$folder/fuzz-$target"
    mkdir -p "$folder/corpus/$target"
    for seed in $(seeds "$target"); do
        cp "$seed" "$folder/corpus/$target/$(echo "$seed" | tr / _)"
    done
    status=0
    "$folder/fuzz-$target" -max_total_time="$seconds" -timeout=10 -rss_limit_mb=512 -max_len=16384 -print_final_stats=1 \
        -artifact_prefix="$folder/found/$target-" "$folder/corpus/$target" >"$folder/$target.log" 2>&1 || status=$?
    awk -v target="$target" -v seconds="$seconds" -v status="$status" '/stat::number_of_executed_units/ { runs = $2 } /stat::peak_rss_mb/ { peak = $2 }
        END { printf "%-10s %12d %8d %10d %s\n", target, runs, seconds, peak, status == 0 ? "nothing" : "SOMETHING" }' "$folder/$target.log"
    [ "$status" = 0 ] || failed=1
done
exit $failed
