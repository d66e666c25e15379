#!/bin/sh
# SPDX-License-Identifier: MIT
# large-plan.sh FOLDER: a board of 200 pins and a plan of 200 signals on it, for perf/host/check.c.
set -eu
demo=$(dirname "$0")/../demo
sed -e '/^pins:/,/^converters:/{/^converters:/!d}' -e '/^header:/,$d' "$demo/lapwing.board.yaml" >"$1/large.board.yaml"
printf 'pins:\n  A0 .. A149: {channel: 0 .. 149}\n  D0 .. D49: {}\n' >>"$1/large.board.yaml"
{
    printf 'tinyladder: plan 1\ntitle: large\nboard: large.board.yaml\n'
    printf 'supplies: {battery: {voltage: 10.5 V .. 14.8 V, current: 1 A}}\nsignals:\n'
    for i in $(seq 0 2 149); do
        echo "  b$i: {source: {rail: battery}, stages: [divider: {upper: 47k ±1 %, lower: 10k ±1 %}, filter: {series: 1k ±1 %, capacitor: 220n ±10 %}], pin: A$i}"
        echo "  k$i: {source: {potentiometer: 10k ±20 %, top: logic}, pin: A$((i + 1))}"
    done
    for i in $(seq 0 49); do
        echo "  s$i: {source: {contact: ground, closed: 0 ohm .. 20 ohm, bounce: 6 ms, leakage: 1 uA}, stages: [cable: 300 pF ±20 %, pull: {up: 10k ±1 %, to: logic}, guard: 1k ±1 %], pin: D$i}"
    done
} >"$1/large.plan.yaml"
