#!/bin/sh
# SPDX-License-Identifier: MIT
# check-memory.sh BUILD [all]: a few verbs under valgrind; all: four verbs on every plan of the demo. What is read before it
# is written, or lost, fails.
set -eu
command=$1/tinyladder
temporary=$(mktemp)
trap 'rm -f "$temporary"' EXIT
cd "$(dirname "$0")/.."
look() { # STATUS WORDS...
    wanted=$1
    shift
    status=0
    valgrind --quiet --error-exitcode=9 --leak-check=full --errors-for-leak-kinds=definite "$command" "$@" >/dev/null || status=$?
    [ "$status" = "$wanted" ] || { echo "check-memory: '$*' ended with $status, not $wanted" >&2; exit 1; }
    echo "clean: tinyladder $*"
}
look 0 check demo/fernhill.plan.yaml
look 0 check demo/cold-frame.plan.yaml
look 1 check demo/faulty/over-limit.plan.yaml
look 0 read demo/fernhill.plan.yaml --json
look 0 read demo/sound/workshop-on-the-plover.plan.yaml --why light
look 0 size divider --from 10.5V..14.8V --limit 3.2V
look 0 size shift --from '5V ±5 %' --to '3.3V ±2 %' --rate 100kHz
look 0 header demo/fernhill.plan.yaml
look 0 pins demo/fernhill.plan.yaml --wiring
[ "${2:-}" = all ] || exit 0
for plan in demo/*.plan.yaml demo/sound/*.plan.yaml demo/faulty/*.plan.yaml; do
    for words in 'check --json' 'read --json' header 'sheet --form txt'; do
        set -- $words
        verb=$1
        shift
        status=0
        "$command" "$verb" "$plan" "$@" >/dev/null 2>&1 || status=$?
        look "$status" "$verb" "$plan" "$@" 2>"$temporary" || { cat "$temporary" >&2; exit 1; }
    done
done
