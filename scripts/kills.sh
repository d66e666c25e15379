#!/bin/sh
# SPDX-License-Identifier: MIT
# kills.sh BUILD TIMES: ends what writes files by SIGKILL, at random moments, so many times each. Afterwards the file is the old one or the
# new one, a record has whole rows (the last may be cut off, and the next run takes it away), a database is sound, and nothing lies beside it.
set -eu
tinyladder=$(cd "$1" && pwd)/tinyladder times=$2
demo=$(cd "$(dirname "$0")/../demo" && pwd)
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
cd "$work"
cp "$demo"/*.yaml "$demo"/*.csv .
sed 's|board: .*|board: lapwing.board.yaml|' "$demo/faulty/over-limit.plan.yaml" >over.yaml
seed=20261201
most=25000
next_moment() { # a random wait of up to `most` microseconds
    seed=$(((seed * 1103515245 + 12345) % 2147483648))
    moment=$(printf '0.%06d' $((seed / 65536 * 20 % most)))
}
killed() { # COMMAND...: started, then killed; says whether it had ended
    "$@" >/dev/null 2>&1 &
    next_moment
    sleep "$moment"
    kill -9 $! 2>/dev/null && ended=0 || ended=1
    wait $! 2>/dev/null || true
}
plan() { # NAME BEFORE COMMAND...: of one.plan.yaml
    name=$1 before=$2
    shift 2
    cp "$before" one.plan.yaml
    "$@" >/dev/null 2>&1 || true
    cp one.plan.yaml after.yaml
    bad=0 new=0
    for i in $(seq "$times"); do
        cp "$before" one.plan.yaml
        killed "$@"
        if cmp -s one.plan.yaml after.yaml; then new=$((new + 1)); elif ! cmp -s one.plan.yaml "$before"; then bad=$((bad + 1)); fi
    done
    cp "$before" one.plan.yaml
    "$@" >/dev/null 2>&1 || true # takes away what a killed one has left
    printf '%-14s %5d kills, %5d had written, %d files damaged, %d left beside\n' "$name" "$times" "$new" "$bad" "$(find . -name 'one.plan.yaml.*' | wc -l)"
    [ "$bad" = 0 ] && [ "$(find . -name 'one.plan.yaml.*' | wc -l)" = 0 ] || failed=1
}
failed=0
plan "check --fix" over.yaml "$tinyladder" check one.plan.yaml --fix
plan "trim --write" over.yaml "$tinyladder" trim one.plan.yaml house-battery 1000=0.81V 3000=2.42V --of pin --write
most=800000
plan "size --write" fernhill.plan.yaml "$tinyladder" size one.plan.yaml house-battery.divider --write
most=25000
for form in csv db; do
    bad=0
    for i in $(seq "$times"); do
        [ $((i % 20)) != 1 ] || rm -f night.*
        killed "$tinyladder" record fernhill.plan.yaml house-battery open-button --scene evening.scene.yaml --for 2000s -o "night.$form"
        if [ "$form" = csv ] && [ -s night.csv ]; then
            sed '$d' night.csv | awk -F, 'NR == 1 { n = NF } /"/ { next } NF != n { exit 1 }' || bad=$((bad + 1))
        elif [ -s night.db ]; then
            python3 -c 'import sqlite3, sys; sys.exit(sqlite3.connect("night.db").execute("pragma integrity_check").fetchone()[0] != "ok")' || bad=$((bad + 1))
        fi
    done
    "$tinyladder" record fernhill.plan.yaml house-battery --for 1s -o "night.$form" >/dev/null || bad=$((bad + 1))
    printf '%-14s %5d kills, %d records damaged\n' "record $form" "$times" "$bad"
    [ "$bad" = 0 ] || failed=1
done
exit $failed
