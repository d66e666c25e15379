#!/bin/sh
# SPDX-License-Identifier: MIT
# check-editors.sh FOLDER: opens the plans of the demo, and one with a mistake in it, in a YAML language server; what it finds
# and offers must be as it stands here. Without npm, or where its registry is not reached, that is said, and nothing is tried.
set -eu
here=$(cd "$(dirname "$0")/.." && pwd)
mkdir -p "$1"
work=$(cd "$1" && pwd)
if ! command -v npm >/dev/null 2>&1; then
    echo "check-editors: left out, there is no npm (Debian packages nodejs and npm)"
    exit 0
fi
server=$work/node_modules/.bin/yaml-language-server
if [ ! -x "$server" ] && ! npm install --prefix "$work" --no-audit --no-fund --silent yaml-language-server@1 >"$work/npm.log" 2>&1; then
    echo "check-editors: left out, npm could not install the server ($work/npm.log)"
    exit 0
fi
rm -rf "$work/plans" "$work/schema"
mkdir -p "$work/plans"
cp -r "$here/schema" "$work/"
cp "$here"/demo/*.plan.yaml "$here"/demo/sound/*.plan.yaml "$work/plans/"
for plan in "$work"/plans/*; do
    grep -q '^# yaml-language-server' "$plan" || sed -i '1i # yaml-language-server: $schema=../schema/plan.schema.json' "$plan"
done
cat >"$work/plans/typo.plan.yaml" <<'END'
# yaml-language-server: $schema=../schema/plan.schema.json
tinyladder: plan 1
board: own.board.yaml
signals:
  bell:
    source: {contact: ground, bounse: 5 ms}
    pin: D0
    stages:
    - filter:
        series: 1k
        capacitor: 100 nF
    # here
END
node "$here/tests/editor/ask_server.js" "$server" "$work/plans" >"$work/answers"
awk '/^[^ ].* findings$/ && !/^typo/ && !/: 0 findings$/ { wrong = 1; print } /^[^ ].* 0 findings$/ { sound++ }
     END { print sound " plans without a finding"; exit wrong || sound < 10 }' "$work/answers"
sed -n '/^typo/,/^  said/p' "$work/answers" | sed 's/said: .*capacitor to ground behind the series resistor.*220 nF.*/said: what the key means, with an example/' >"$work/typo"
diff - "$work/typo" <<'END'
typo.plan.yaml: 1 findings
  6:31: Property bounse is not allowed.
  offered: acquisition channel driven range reading reference
  said: what the key means, with an example
END
echo "the plan with a mistake: as it should be"
