#!/bin/sh
# SPDX-License-Identifier: MIT
# static.sh FOLDER: the sources by the analyser of gcc and by cppcheck. What they say and is not so stands in tests/static/, each with its
# reason; anything else is an error.
set -eu
cd "$(dirname "$0")/.."
mkdir -p "$1"
folder=$1 failed=0
ls src/*/*.c | xargs -P "$(nproc)" -n 8 sh -c 'for f; do gcc -std=gnu11 -O1 -fanalyzer -Iinclude -Isrc $(pkg-config --cflags pangocairo libfyaml jansson) \
    -DTL_VERSION=\"0\" -c "$f" -o /dev/null 2>&1; done' - | grep -E 'warning:' | sed 's/:[0-9]*:[0-9]*:/:/' | sort -u >"$folder/analyser.txt" || true
cppcheck --quiet --enable=warning,portability --std=c11 -Iinclude -Isrc --suppress=missingIncludeSystem -j "$(nproc)" src ports/linux conformance \
    --template='{file}: {severity}: {message} [{id}]' 2>&1 | grep -E ': (error|warning|portability): ' | sort -u >"$folder/cppcheck.txt" || true
for tool in analyser cppcheck; do
    grep -v '^#' "tests/static/$tool.txt" | sed 's/ *#.*//' | sort -u >"$folder/$tool.known"
    comm -23 "$folder/$tool.txt" "$folder/$tool.known" >"$folder/$tool.new"
    echo "$tool: $(wc -l <"$folder/$tool.txt") said, $(wc -l <"$folder/$tool.new") of them new"
    [ ! -s "$folder/$tool.new" ] || { cat "$folder/$tool.new" && failed=1; }
done
exit $failed
