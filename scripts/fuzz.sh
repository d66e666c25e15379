#!/bin/sh
# SPDX-License-Identifier: MIT
# fuzz.sh FOLDER SECONDS ROOMS [TARGET...]: any bytes to what reads bytes, with address and undefined-behaviour checks, for that number of
# seconds a target. ROOMS is the folder of a build of clang with these checks. What is found lies in FOLDER/found; the inputs that came far in FOLDER/corpus. Its end is a table for docs/reliability.md.
set -eu
cd "$(dirname "$0")/.."
mkdir -p "$1"
folder=$(cd "$1" && pwd) seconds=$2 rooms=$3
shift 3
targets=${*:-plan board converter scene table sheet edit counts record request bus quantity marking dump word}
mkdir -p "$folder/found"
packages="libfyaml jansson sqlite3 pangocairo ncursesw"
checks=address,undefined
rooms="$rooms/libcommand-rooms.a $rooms/libtinyladder-rooms.a $rooms/libtinyladder.a"
seeds() { # TARGET
    case $1 in
    plan | sheet | edit) ls demo/cold-frame.plan.yaml demo/sound/*.plan.yaml demo/faulty/*.plan.yaml | grep -v unproven ;; # that one is slow on purpose
    board) ls demo/*.board.yaml ;;
    converter) ls demo/*.converter.yaml ;;
    scene) ls demo/*.scene.yaml docs/recipes/*.scene.yaml ;;
    table) ls docs/recipes/*.table.csv demo/*.table.csv ;;
    counts | record | request) ls tests/fuzz/*.$1 ;;
    esac
}
# $rooms and the packages are lists of words on purpose.
clang -std=gnu11 -g1 -O1 -Iinclude -Isrc -Itests/fuzz $(pkg-config --cflags $packages) -fsanitize=fuzzer,$checks -fno-sanitize-recover=all \
    tests/fuzz/fuzz.c tests/fuzz/fuzz_streams.c src/listen/calls.c $rooms $rooms $(pkg-config --libs $packages) -llapacke -lcsv -lm -o "$folder/fuzz"
failed=0
printf '%-10s %12s %8s %10s %s\n' target executions seconds 'peak, MB' found
for target in $targets; do
    mkdir -p "$folder/corpus/$target"
    # In a short run a few seeds are enough: reading all of the plans takes longer than it lasts.
    for seed in $(seeds "$target" | awk -v every="$([ "$seconds" -ge 10 ] && echo 1 || echo 12)" 'NR % every == 1 || every == 1'); do
        sed "s/: \.\.\//: /" "$seed" >"$folder/corpus/$target/$(echo "$seed" | tr / _)"
    done
    status=0
    FUZZ_TARGET=$target "$folder/fuzz" -max_total_time="$seconds" -timeout=30 -rss_limit_mb=512 -max_len=16384 -print_final_stats=1 \
        -close_fd_mask=3 -artifact_prefix="$folder/found/$target-" "$folder/corpus/$target" >"$folder/$target.log" 2>&1 || status=$?
    awk -v target="$target" -v seconds="$seconds" -v status="$status" '/stat::number_of_executed_units/ { runs = $2 } /stat::peak_rss_mb/ { peak = $2 }
        END { printf "%-10s %12d %8d %10d %s\n", target, runs, seconds, peak, status == 0 ? "nothing" : "SOMETHING" }' "$folder/$target.log"
    [ "$status" = 0 ] || failed=1
done
exit $failed
