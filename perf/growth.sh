#!/bin/sh
# SPDX-License-Identifier: MIT
# growth.sh TINYLADDER OUT: how the time of a check grows with what is on one node: N knobs on one feed, N knobs between a
# feed and a return, N contacts on one soft feed; and ten seconds of N such contacts at about 10 Hz. User seconds, and
# the exponent between a row and the one before it.
set -eu
tinyladder=$1
out=$2
demo=$(cd "$(dirname "$0")/../demo" && pwd)
{ # the demo's board, with as many pins as this needs
    sed '/^  L0 .. L3:/,$d' "$demo/lapwing.board.yaml" | sed 's/^total-current: .*/total-current: 10 A/'
    printf '  A0 .. A159: {position: 3 .. 162, channel: 0 .. 159}\n  D0 .. D63: {position: 163 .. 226}\n'
    sed -n '/^converters:/,/^    registers:/p' "$demo/lapwing.board.yaml" | sed '$d'
} >"$out/growth.board.yaml"
plan() { # KIND N
    printf 'tinyladder: plan 1\ntitle: %s of %s\nboard: growth.board.yaml\nshared:\n' "$1" "$2"
    case $1 in
    knobs) printf '  feed: {from: logic, series: 1 ohm}\n' ;;
    between) printf '  feed: {from: logic, series: 1 ohm}\n  back: {from: ground, series: 1 ohm}\n' ;;
    contacts) printf '  feed: {from: logic, series: 10 ohm ±5 %%}\n' ;;
    esac
    echo 'signals:'
    for i in $(seq 0 $(($2 - 1))); do
        case $1 in
        knobs) printf '  s%s: {source: {potentiometer: 10k ±20 %%, top: feed}, pin: A%s}\n' "$i" "$i" ;;
        between) printf '  s%s: {source: {potentiometer: 10k ±20 %%, top: feed, bottom: back}, pin: A%s}\n' "$i" "$i" ;;
        contacts) printf '  s%s: {source: {contact: ground}, stages: [pull: {up: 10k ±5 %%, to: feed}], pin: D%s}\n' "$i" "$i" ;;
        esac
    done
}
scene() { # N
    printf 'tinyladder: scene 1\nlength: 10 s\nvalues:\n'
    for i in $(seq 0 $(($1 - 1))); do
        printf '  s%s: {repeat: [closed %s ms, open %s ms]}\n' "$i" $((45 + i % 7)) $((50 + i % 5))
    done
}
before= was=
row() { # WHAT N COMMAND...: the best of three
    what=$1 n=$2 best=
    shift 2
    for _ in 1 2 3; do
        took=$( { /usr/bin/time -f %U "$@" >/dev/null; } 2>&1 | tail -1)
        best=$(echo "$took $best" | awk '{ print $2 == "" || $1 < $2 ? $1 : $2 }')
    done
    echo "$what $n $best $before $was" | awk '{
        exponent = $5 != "" && $5 > 0.02 && $3 > 0 ? sprintf("%.1f", log($3 / $5) / log($2 / $4)) : "-"
        printf "%-28s %4d %8.2f s  exponent %s\n", $1, $2, $3, exponent }'
    before=$n was=$best
}
for n in 4 5 6 20 40 80 160; do
    plan knobs "$n" >"$out/growth.plan.yaml"
    row check-knobs-on-a-feed "$n" "$tinyladder" check "$out/growth.plan.yaml"
done
before= was=
for n in 5 10 20 40; do
    plan between "$n" >"$out/growth.plan.yaml"
    row check-knobs-between-two "$n" "$tinyladder" check "$out/growth.plan.yaml"
done
before= was=
for n in 16 32 64; do
    plan contacts "$n" >"$out/growth.plan.yaml"
    row check-contacts-on-a-feed "$n" "$tinyladder" check "$out/growth.plan.yaml"
done
before= was=
for n in 16 32 64; do
    plan contacts "$n" >"$out/growth.plan.yaml"
    scene "$n" >"$out/growth.scene.yaml"
    row read-10s-of-contacts "$n" "$tinyladder" read "$out/growth.plan.yaml" --scene "$out/growth.scene.yaml" --at 10s
done
