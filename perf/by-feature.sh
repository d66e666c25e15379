#!/bin/sh
# SPDX-License-Identifier: MIT
# by-feature.sh IMAGE PREFIX: the bytes of an image of an AVR or Cortex-M0 by what they are for, inlined code too: each instruction by
# the source line that it comes from (compile with -g), constants by their names. PREFIX is that of the binary tools.
set -eu
image=$1 prefix=$2
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
"$prefix-nm" -S -t d "$image" | awk '$3 ~ /[tTdDrR]/ && NF == 4 { print $1 + 0, $2 + 0, $4 }' | sort -n >"$work/symbols"
"$prefix-objdump" -d -z "$image" | awk -F'\t' '/^ +[0-9a-f]+:/ { gsub(/[ :]/, "", $1); n = gsub(/[0-9a-f][0-9a-f]/, "", $2); print $1, n }' >"$work/pieces"
cut -d' ' -f1 "$work/pieces" | "$prefix-addr2line" -e "$image" | sed 's/:.*//; s/.*\///; s/\.[chS]$//' >"$work/files"
paste -d' ' "$work/pieces" "$work/files" | awk -v symbols="$work/symbols" '
    function hex(text,   i, n) { for (i = 1; i <= length(text); i++) n = 16 * n + index("0123456789abcdef", substr(text, i, 1)) - 1; return n }
    function feature(file) {
        if (file ~ /^mux/) return "multiplexers"
        if (file ~ /^(taking|take|sweep|elapsed|timeout|bound|clear|due)$/) return "takes and sweeps: steps, claims, bounded waits"
        if (file ~ /^(input|convert|pin_conversion|pin_word|word|word_internal|failed)$/) return "conversions, words, freshness"
        if (file ~ /^external_/) return "converters on buses"
        if (file ~ /^(button|lines|pulse|quadrature|rhythm)$/) return "contacts, turns, patterns"
        if (file ~ /^(fault|filter)$/) return "fault ranges and filters"
        if (file == "output") return "outputs and safe states"
        if (file ~ /^(lean|share|scale|text|table|rungs|ratio)$/ || file ~ /_plan$/) return "values, percent, levels"
        if (file ~ /^(port|port_calls|port_table|stand_in|small)$/) return "the port"
        if (file ~ /^(fernhill|all)$/) return "the program"
        return ""
    }
    BEGIN { while ((getline line < symbols) > 0) { split(line, word, " "); first[++count] = word[1]; size[count] = word[2]; name[count] = word[3] } }
    {
        what = feature($3)
        if (what == "") {
            at = hex($1)
            what = "start and the library of the compiler"
            for (i = 1; i <= count; i++)
                if (at >= first[i] && at < first[i] + size[i] && name[i] !~ /^_|^mem/) what = "tables and descriptions of the plan"
        }
        bytes[what] += $2
    }
    END { for (what in bytes) printf "  %5d %s\n", bytes[what], what }' | sort -rn
