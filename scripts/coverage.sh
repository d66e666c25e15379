#!/bin/sh
# SPDX-License-Identifier: MIT
# coverage.sh FOLDER: the tests in a build that counts, and each call about files failing (tests/cli/failing_files.py); then lines and branches
# of each room, and the lines of the core that none reached. Four suites do not pass in that build: what counts writes files of its own (trust, mishaps), and
# libraries that count are not linked into programs that do not (install, golden).
set -eu
cd "$(dirname "$0")/.."
mkdir -p "$1"
log=$1/coverage.log
cc -c tests/counted_end.c -o "$1/counted_end.o"
cmake -S . -B "$1" -DCMAKE_EXE_LINKER_FLAGS="$PWD/$1/counted_end.o" -DCMAKE_BUILD_TYPE=Debug -DCMAKE_C_FLAGS="--coverage -O0" -DTINYLADDER_TESTS=ON >"$log" || { cat "$log"; exit 1; }
cmake --build "$1" -j "$(nproc)" >>"$log" 2>&1
find "$1" -name '*.gcda' -delete
ctest --test-dir "$1" -j "$(nproc)" >>"$log" 2>&1 || tail -12 "$log"
TL_LONG=1 ctest --test-dir "$1" -R '^(wrong words|random|explain|large plans)$' >>"$log" 2>&1 || tail -6 "$log"
python3 tests/cli/failing_files.py "$1/tinyladder" "$1/tests/libno-files.so" demo "$1/failing" 120 >>"$log" 2>&1 || tail -2 "$log"
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
root=$PWD
(cd "$work" && find "$root/$1" -path '*/src/*' -name '*.gcda' | xargs gcov -b -c -p >all.txt 2>/dev/null) || true
awk -v root="$root/" '/^File / { file = substr($2, 2, length($2) - 2); sub(root, "", file) }
    /^Lines executed/ { split($2, a, ":"); lines = $0; sub(/.*:/, "", lines); split(lines, l, "% of "); }
    /^Branches executed/ { }
    /^Taken at least once/ { taken = $0; sub(/.*:/, "", taken); split(taken, b, "% of ");
        if (file ~ /^src\//) { split(file, p, "/"); room = p[2]; n[room] += l[2]; hit[room] += l[1] / 100 * l[2]; m[room] += b[2]; got[room] += b[1] / 100 * b[2] } }
    END { printf "%-10s %8s %7s %10s %7s\n", "room", "lines", "%", "branches", "%"; for (r in n) printf "%-10s %8d %7.1f %10d %7.1f\n", r, n[r], 100 * hit[r] / n[r], m[r], m[r] ? 100 * got[r] / m[r] : 100 }' \
    "$work/all.txt" | sort
echo "lines of the core that no test reached:"
grep -H "^ *#####" "$work"/*src#core#*.gcov | sed "s/.*src#core#//; s/.gcov: *#####: */ /" | head -40 || true
