#!/bin/sh
# SPDX-License-Identifier: MIT
# large-island.sh OUT: plans with much on one node: 34 signals of 120 nodes; 32 contacts at about 10 Hz, 10 s of them; and
# fast ripple behind a slow filter. Writes OUT/island.plan.yaml, contacts.plan.yaml, contacts.scene.yaml, ripple.plan.yaml.
set -eu
out=$1
board=$(cd "$(dirname "$0")/../demo" && pwd)/lapwing.board.yaml
head_of() { printf 'tinyladder: plan 1\ntitle: %s\nboard: %s\n' "$1" "$board"; }
{
    head_of "One island"
    printf 'shared: {feed: {from: logic, series: 100 ohm ±5 %%}}\nsignals:\n'
    for pin in 4 5 6 7 15 16 17 18 19; do
        printf '  s%s: {source: {potentiometer: 10k ±20 %%, top: feed}, stages: [divider: {upper: 10k ±1 %%, lower: 47k ±1 %%}, filter: {series: 1k ±1 %%, capacitor: 100n}], pin: L%s}\n' $pin $pin
    done
    for pin in 0 1 2 3 10 11 12 13 14 20 21 22 23 26 27 28 29 30 31 32 33 34 35 36 37; do
        printf '  c%s: {source: {contact: ground}, stages: [pull: {up: 10k ±5 %%, to: feed}, guard: 1k ±5 %%], pin: L%s}\n' $pin $pin
    done
} >"$out/island.plan.yaml"
{
    head_of "Contacts"
    printf 'shared: {feed: {from: logic, series: 100 ohm ±5 %%}}\nsignals:\n'
    for pin in $(seq 0 31); do
        printf '  c%s: {source: {contact: ground}, stages: [pull: {up: 10k, to: feed}, filter: {series: 1k, capacitor: 10n}], pin: L%s}\n' "$pin" "$pin"
    done
} >"$out/contacts.plan.yaml"
{
    printf 'tinyladder: scene 1\nlength: 10 s\nvalues:\n'
    for pin in $(seq 0 31); do
        printf '  c%s: {repeat: [closed %s ms, open %s ms]}\n' "$pin" $((45 + pin % 7)) $((50 + pin % 5))
    done
} >"$out/contacts.scene.yaml"
{
    head_of "Ripple"
    printf 'supplies: {motor: {voltage: 12 V, ripple: 2 V, frequency: 500 Hz}}\n'
    printf 'signals: {s: {source: {rail: motor}, stages: [divider: {upper: 30k, lower: 10k}, filter: {series: 1M, capacitor: 10 uF}], pin: L4}}\n'
} >"$out/ripple.plan.yaml"
