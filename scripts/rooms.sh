#!/bin/sh
# SPDX-License-Identifier: MIT
# rooms.sh: the rooms of src/ and who leans on whom, read from the includes, as a graph for graphviz's dot.
# An arrow that follows from others is left out; a number says how many files are in a room.
set -eu
cd "$(dirname "$0")/.."
grep -H '^#include "' src/*/*.[ch] include/tinyladder/*.h include/tinyladder/design/*.h | awk '
FILENAME == "src/rooms.txt" {
    if ($0 ~ /^#/) next
    split($0, half, ":")
    order[++rooms] = half[1]
    count = split(half[2], headers, " ")
    for (i = 1; i <= count; i++) of["tinyladder/" headers[i]] = half[1]
    next
}
{
    split($0, part, "/")
    from = part[2]
    file = $0; sub(/:#include.*/, "", file)
    if (sub(/^include\//, "", file)) from = file in of ? of[file] : "core"
    if (!(file in seen)) { seen[file] = 1; files[from]++ }
    named = $0; sub(/.*#include "/, "", named); sub(/".*/, "", named)
    if (named in of) to = of[named]
    else if (named ~ /^tinyladder\//) to = "core"
    else if (named ~ /\//) { to = named; sub(/\/.*/, "", to) }
    else to = from
    if (to != from) leans[from, to] = 1
}
END {
    print "digraph rooms {"
    print "  rankdir=TB; node [shape=box, style=rounded, fontname=\"DejaVu Sans\"]; edge [color=\"#607080\"];"
    for (i = 1; i <= rooms; i++) printf "  %s [label=\"%s\\n%d files\"];\n", order[i], order[i], files[order[i]]
    for (i = 1; i <= rooms; i++) for (k = 1; k < i; k++) way[i, k] = ((order[i], order[k]) in leans)
    for (m = 1; m <= rooms; m++) for (i = 1; i <= rooms; i++) for (k = 1; k <= rooms; k++)
        if (way[i, m] && way[m, k]) way[i, k] = 1
    for (i = rooms; i >= 1; i--)
        for (k = i - 1; k >= 1; k--) {
            if (!((order[i], order[k]) in leans)) continue
            reached = 0
            for (m = k + 1; m < i; m++) if (way[i, m] && way[m, k]) reached = 1
            if (!reached) printf "  %s -> %s;\n", order[i], order[k]
        }
    print "}"
}' src/rooms.txt -
