#!/usr/bin/env bash
# SPDX-License-Identifier: MIT
# screenshots.sh BUILD: one picture of each main command's output on the demo data, into docs/screenshots/.
set -euo pipefail
build=$(realpath "$1")
cd "$(dirname "$0")/.."
display=:$((200 + RANDOM % 200))
Xvfb "$display" -screen 0 1280x800x24 -nolisten tcp >/dev/null 2>&1 &
screen=$!
trap 'kill "$screen" 2>/dev/null; rm -f "$flag"' EXIT
flag=$(mktemp -u)
for _ in $(seq 50); do xdpyinfo -display "$display" >/dev/null 2>&1 && break; sleep 0.1; done

# shot NAME COMMAND...: every command is shown with a prompt, its output below; empty margins are cut off
shot() {
    local name=$1 script=
    shift
    for command in "$@"; do
        script+="printf '\033[?25l\033[32m\$\033[0m %s\n\n' \"$command\"; $command; echo; "
    done
    rm -f "$flag"
    PATH="$build:$PATH" DISPLAY=$display LC_ALL=C.UTF-8 TERM=xterm-256color xterm -u8 -fa 'DejaVu Sans Mono' -fs 11 -b 12 \
        -geometry 138x46+0+0 -bg '#101418' -fg '#d8dee9' -e bash -c "$script touch '$flag'; sleep 60" &
    local terminal=$!
    for _ in $(seq 200); do [ -e "$flag" ] && break; sleep 0.1; done
    sleep 0.6
    DISPLAY=$display import -window root "$flag.png"
    convert "$flag.png" -shave 8x8 -bordercolor '#101418' -border 1 -fuzz 10% -trim -bordercolor '#101418' -border 14 "docs/screenshots/$name.png"
    rm -f "$flag.png"
    kill "$terminal" 2>/dev/null
    wait "$terminal" 2>/dev/null || true
}

pages=$(mktemp -d)
"$build/tinyladder" sheet demo/fernhill.plan.yaml house-battery mirror-temperature open-button roof-position keypad heater-1 -o "$pages/sheet.png" >/dev/null
mv "$pages/sheet-1.png" docs/screenshots/sheet.png
"$build/tinyladder" sheet demo/cold-frame.plan.yaml -o "$pages/cold.png" >/dev/null
convert "$(ls "$pages"/cold-*.png | tail -1)" -crop 1280x582+0+60 +repage -fuzz 5% -trim -bordercolor white -border 14 docs/screenshots/plug-in.png
# The page with some readings in it, one of them out.
"$build/tinyladder" sheet demo/fernhill.plan.yaml house-battery mirror-temperature open-button roof-position keypad -o "$pages/page.html" >/dev/null
{ grep -v '^</body>' "$pages/page.html"; cat <<'END'; } >"$pages/read.html"
<script>
["13k", "12.6", "2.55", "2.2", "1.99"].forEach((text, i) => {
  const field = document.querySelectorAll("input.reading")[i];
  field.value = text;
  field.dispatchEvent(new Event("input", { bubbles: true }));
});
document.getElementById("w1").querySelector("input").click();
document.querySelectorAll("main section:not(#circuits):not(#checkpoints)").forEach(s => s.remove());
</script>
</body></html>
END
chromium-headless-shell --no-sandbox --hide-scrollbars --window-size=1280,1174 --screenshot="$pages/page.png" "file://$pages/read.html" >/dev/null 2>&1
convert "$pages/page.png" -fuzz 5% -trim -bordercolor white -border 14 docs/screenshots/sheet-page.png
rm -r "$pages"
# The circuits of the recipes: of the first plan that each shows.
for recipe in docs/recipes/*.md; do
    plan=$(grep -o '[a-z0-9-]*\.plan\.yaml' "$recipe" | while read -r name; do [ -f "docs/recipes/$name" ] && echo "$name" && break; done || true)
    if [ -n "$plan" ]; then "$build/tinyladder" sheet "docs/recipes/$plan" --circuits -o "${recipe%.md}.svg" >/dev/null; fi
done
shot pins "tinyladder pins demo/fernhill.plan.yaml | sed -n '1,16p;46,70p'"
shot size-divider "tinyladder size divider --vin 10.5V..14.8V --vmax 3.2V --max-current 500uA"
shot size-plan "tinyladder size demo/fernhill.plan.yaml house-battery.divider" "tinyladder size demo/fernhill.plan.yaml open-button.pull --top 3"
shot check "tinyladder check demo/fernhill.plan.yaml"
shot finding "tinyladder check demo/faulty/sensor-short.plan.yaml | head -5" "tinyladder check demo/faulty/pull-too-high.plan.yaml | head -7" "tinyladder check --brief demo/faulty/fault-window.plan.yaml" "tinyladder check --about no-pull"
shot read "tinyladder read demo/fernhill.plan.yaml --scene demo/evening.scene.yaml --at 71.1s"
shot explain "tinyladder explain demo/fernhill.plan.yaml heater-3 --saw 4095 --source '5 degC ±2 degC' --most 2" "tinyladder explain demo/fernhill.plan.yaml --observed demo/keypad.observed.yaml --most 2"
shot explain-ask "printf '\\n\\n' | tinyladder explain demo/fernhill.plan.yaml --mystery 13 --ask --reveal --most 2"
shot trim "tinyladder trim demo/fernhill.plan.yaml house-battery --scene demo/evening.scene.yaml --live 0s,10min,20min,30min,40min" "tinyladder trim demo/fernhill.plan.yaml mirror-temperature --curve beta 25degC=10.02k 0degC=33.1k 45degC=4.35k"
shot watch "(tinyladder watch demo/fernhill.plan.yaml --scene demo/evening.scene.yaml --speed 200 </dev/tty & sleep 11; touch $flag; sleep 3)"
shot watch-damage "(tinyladder watch demo/fernhill.plan.yaml --scene demo/mishap.scene.yaml --at 8s --speed 2 </dev/tty & sleep 6; touch $flag; sleep 3)"
record=$(mktemp -u).csv
"$build/tinyladder" record demo/fernhill.plan.yaml house-battery twilight mirror-temperature heater-1 heater-2 wind-vane roof-position rain-plate gate-closed wheel \
    --scene demo/evening.scene.yaml --every 5s -o "$record" >/dev/null
"$build/tinyladder" plot "$record" -o docs/screenshots/plot.png
rm -f "$record"
shot header "tinyladder header demo/fernhill.plan.yaml -o fernhill_plan.h" "sed -n '/--- house-battery/,/tl_input house/p' fernhill_plan.h"
rm -f fernhill_plan.h
shot word "tinyladder word demo/fernhill.plan.yaml counterweight" "tinyladder word demo/lapwing.board.yaml --set channel=6 --set align=left --set acquisition=3us --register control" "tinyladder word demo/lapwing.board.yaml --register power --decode 0x5b"
# What the chip's compiler made is there after `make check-targets`; without it that picture stays as it was.
if [ -e build/cold-frame/cold_frame.elf ] && [ -e "$build/tinyladder-bench-run" ]; then
    make -s -C examples/cold-frame stand-in
    shot bench-run "tinyladder-bench-run demo/cold-frame.plan.yaml build/cold-frame/cold_frame.elf --scene demo/cold-frame.scene.yaml --for 3s --outputs | tail -7" \
        "tinyladder-bench-run demo/cold-frame.plan.yaml build/cold-frame/cold_frame-cortex-m0.elf --scene demo/cold-frame.scene.yaml --for 3s --outputs | tail -7" \
        "tinyladder-bench-run demo/cold-frame.plan.yaml build/cold-frame/cold_frame-rv32.elf --for 1s | tinyladder read demo/cold-frame.plan.yaml --counts -"
fi
shot demo "tinyladder demo | head -40"
