#!/bin/sh
# SPDX-License-Identifier: MIT
# static.sh FOLDER: the sources by the analysers of gcc and clang-tidy and by cppcheck; the core by all that clang-tidy asks and by MISRA's rules, too. What
# they say and is not so stands in tests/static/, each with its reason; anything else is an error.
set -eu
cd "$(dirname "$0")/.."
mkdir -p "$1"
folder=$1 failed=0
ls src/*/*.c | xargs -P "$(nproc)" -n 8 sh -c 'for f; do gcc -std=gnu11 -O1 -fanalyzer -Iinclude -Isrc $(pkg-config --cflags pangocairo libfyaml jansson) \
    -DTL_VERSION=\"0\" -c "$f" -o /dev/null 2>&1; done' - | grep -E 'warning:' | sed 's/:[0-9]*:[0-9]*:/:/' | sort -u >"$folder/analyser.txt" || true
cppcheck --quiet --enable=warning,portability --std=c11 -Iinclude -Isrc --suppress=missingIncludeSystem -j "$(nproc)" src ports/linux conformance \
    --template='{file}: {severity}: {message} [{id}]' 2>&1 | grep -E ': (error|warning|portability): ' | sort -u >"$folder/cppcheck.txt" || true
# Left out: what is said of nearly every call (parameters that could be swapped, results of printf), what -Wconversion asks better, and
# functions that only a library of C11's optional part has.
checks='-*,bugprone-*,cert-*,clang-analyzer-*,-bugprone-easily-swappable-parameters,-bugprone-narrowing-conversions,-cert-err33-c'
checks="$checks,-clang-analyzer-security.insecureAPI.DeprecatedOrUnsafeBufferHandling"
ls src/core/*.c | xargs -P "$(nproc)" -n 8 sh -c 'for f; do clang-tidy --quiet --checks="'"$checks"'" "$f" -- -std=c11 -Iinclude -Isrc 2>/dev/null; done' - | grep -E '(warning|error): ' | sed "s|^$PWD/||; s/:[0-9]*:[0-9]*:/:/" |
    sort -u >"$folder/tidy.txt" || true
checks='-*,clang-analyzer-core*,clang-analyzer-unix*,clang-analyzer-deadcode*'
ls src/*/*.c | grep -v '^src/core/' | xargs -P "$(nproc)" -n 8 sh -c 'for f; do clang-tidy --quiet --checks="'"$checks"'" "$f" -- -std=gnu11 -Iinclude -Isrc \
    $(pkg-config --cflags pangocairo libfyaml jansson) -DTL_VERSION=\"0\" 2>/dev/null; done' - | grep -E '(warning|error): ' | sed "s|^$PWD/||; s/:[0-9]*:[0-9]*:/:/" |
    sort -u >"$folder/tidy-rooms.txt" || true
sort -u -o "$folder/tidy.txt" "$folder/tidy.txt" "$folder/tidy-rooms.txt"
for tool in analyser cppcheck tidy; do
    grep -v '^#' "tests/static/$tool.txt" | sed 's/ *#.*//' | sort -u >"$folder/$tool.known"
    comm -23 "$folder/$tool.txt" "$folder/$tool.known" >"$folder/$tool.new"
    echo "$tool: $(wc -l <"$folder/$tool.txt") said, $(wc -l <"$folder/$tool.new") of them new"
    [ ! -s "$folder/$tool.new" ] || { cat "$folder/$tool.new" && failed=1; }
done
cppcheck --quiet --std=c11 --enable=style --addon=misra -Iinclude -Isrc src/core --template='{id}' 2>&1 | sed -n 's/^misra-c2012-//p' | sort -V | uniq -c |
    awk '{ print $2 }' | sort >"$folder/misra.txt"
sed -n 's/^| \([0-9., ]*\) |.*/\1/p' docs/misra.md | tr -d ' ' | tr , '\n' | sort >"$folder/misra.known"
echo "MISRA: reports of $(wc -l <"$folder/misra.txt") rules, $(comm -23 "$folder/misra.txt" "$folder/misra.known" | tee "$folder/misra.new" | wc -l) of them not in docs/misra.md"
[ ! -s "$folder/misra.new" ] || { cat "$folder/misra.new" && failed=1; }
exit $failed
