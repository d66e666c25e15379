#!/usr/bin/env bash
# SPDX-License-Identifier: MIT
# record.sh COMMAND FOLDER: what every verb says on the demo data, as text and as JSON, one file a verb. `make golden`
# refreshes the files beside this one; `make check` records anew and compares.
set -uo pipefail
tool=$(realpath "$1")
mkdir -p "$2"
folder=$(realpath "$2")
cd "$(dirname "$0")/../.."
export LC_ALL=C.UTF-8 TERM=dumb NO_COLOR=1 COLUMNS=100
plan=demo/fernhill.plan.yaml scene=demo/evening.scene.yaml board=demo/lapwing.board.yaml drawer=demo/bench.drawer.yaml
scratch=$(mktemp -d)
trap 'rm -rf "$scratch"' EXIT

# ask FILE WORDS...: one call with its outputs and its status
ask() {
    local file=$folder/$1.txt
    shift
    {
        echo "\$ tinyladder $*" | sed "s#$scratch/##g"
        "$tool" "$@" </dev/null 2>"$scratch/err" | sed "s#$scratch/##g"
        local status=${PIPESTATUS[0]}
        sed "s#^#! #; s#$scratch/##g" "$scratch/err"
        echo "= $status"
        echo
    } >>"$file"
}
both() {
    ask "$@"
    ask "$@" --json
}

rm -f "$folder"/*.txt
for verb in pins size check read watch record plot convert trim explain word header demo; do ask help $verb --help; done
for kind in divider ratio nearest marking partner feed follower pull guard lamp driver loop bus-pull shift mux ladder filter reservoir injection; do
    ask help size $kind --help
done
ask help --help
ask help
ask help no-such-verb

ask header header $plan
both header header $plan -o "$scratch/fernhill_plan.h"
ask header header demo/sound/workshop-on-the-plover.plan.yaml
ask header header demo/faulty/not-sendable.plan.yaml --despite-errors

ask explain explain $plan --observed demo/keypad.observed.yaml
ask explain explain $plan house-battery --saw '0 0 0' --source '12.7 V ±0.1 V'
ask explain explain $plan house-battery --saw '3180 3181' --source '12.7 V ±0.1 V'
ask explain explain $plan mirror-temperature --saw '4095 4095'

both pins pins $board
both pins pins $plan
both pins pins demo/plover.board.yaml

both size size divider --vin 10.5V..14.8V --vmax 3.2V --max-current 500uA
ask size size mux --r-on 70ohm..200ohm --source-resistance 1k --used 20 --inputs 8 --board $board --top 1
ask size size ratio --ratio 33/148 --sum 20k..200k --tempco '100 ppm/K' --temp-change '20 K' --top 1
both size size divider --vin 12V --board $board --parts 2 --top 3
both size size divider --vin 14.8V --vmax 2.5V --lower 1k6 --drawer $drawer
both size size divider --vin 12V --vmax 3V --load-resistance 1M --order share --plan $plan --drawer $drawer --top 3
both size size divider --vin 14.8V --vmax 2.5V --lower '1k6 ±5 %' --top 3
both size size ratio --ratio 33/148 --sum 20k..200k
both size size nearest --value 48k --series E12
both size size marking --read 'yellow violet black brown brown red'
both size size marking --value '0.47 ohm ±5 %'
both size size partner --sensor 400ohm..900k --supply 3.3V
both size size partner --sensor 8k..12k --supply '3.3V ±2 %' --at 10k --board $board --top 3
both size size feed --track '10k ±20 %' --supply '5V ±5 %' --vmax 3.234V
both size size follower --vin 0V..3.2V --source-resistance 250k --supply '5V ±5 %' --vmax 3.5V
both size size pull --vdd '3.3V ±2 %' --leakage 1uA
both size size pull --vdd '3.3V ±5 %' --direction down --wetting 200uA --board $board
both size size pull --vdd 3.3V --internal 30k..60k --leakage 10uA
both size size guard --vdd 3.366V --pin-current 12mA
both size size lamp --supply '3.3V ±2 %' --vf 1.9V..2.2V --led-current 4mA
both size size driver --supply 12V --load-resistance 80ohm..100ohm --coil 100mH --voh 2.8V..3.4V --pin-current 4mA
both size size loop --vmax 3.2V --supply 24V
both size size bus-pull --mode fast --supply 3.3V --line-capacitance 200pF
both size size bus-pull --mode fast-plus --supply 1.8V --line-capacitance 100pF
both size size shift --driver-supply '5V ±5 %' --receiver-supply '3.3V ±2 %' --bit-rate 100kHz
both size size shift --driver-supply '3.3V ±2 %' --receiver-supply '5V ±5 %' --both-ways --open-drain --bit-rate 100kHz
both size size shift --driver-supply '1.8V ±5 %' --receiver-supply '3.3V ±2 %' --may-invert --injection 1mA
both size size mux --r-on 70ohm..200ohm --source-resistance 10k --board $board
both size size ladder --buttons 5 --top 4
both size size ladder --buttons 3 --circuit star --drawer $drawer
both size size filter --passband 5Hz --stopband 100Hz
both size size reservoir --source-resistance 100k --sample-rate 100Hz --board $board
both size size injection --vin 0V..26V --vdd '3.3V ±2 %' --injection 1mA

both check check $plan
both check check demo/dome.plan.yaml
ask check check --about all
for slug in over-limit slow-acquisition back-feed no-such-rule; do ask check check --about $slug; done
for file in demo/sound/*.yaml; do both check-sound check "$file"; done
for file in demo/faulty/*.plan.yaml; do both check-faulty check "$file"; done

both read read $plan
both read read $plan --scene $scene --at 71.1s
both read read $plan house-battery roof-position heater-1 rain-plate --seeds 200
ask read read $plan house-battery twilight --ideal
ask read read $plan house-battery heater-6 --mystery 2 --reveal
both read read $plan --scene $scene --at 25min --seed 7
ask read read $plan house-battery twilight --scene $scene --at 18min --times 4 --every 4min
ask read read $plan --scene $scene --at 10min --csv
ask read read $plan wind-vane --meter wind-vane.source --meter-ohms 1Mohm
ask read read $plan motor-status --scene $scene --expect '1 s low, 300ms high, 200ms low'
ask read read $plan no-such-signal
for file in demo/sound/*.yaml; do ask read-sound read "$file"; done

ask watch watch $plan keypad house-battery --scene $scene --at 70.9s --frames 6
ask record record $plan house-battery rain-plate keypad mirror-temperature twilight --scene $scene --every 5min -o "$scratch/night.csv"
{ cat "$scratch/night.csv"; echo; } >>"$folder/record.txt"
ask plot plot "$scratch/night.csv" house-battery rain-plate map-light

for signal in house-battery heater-1 keypad wind-vane counterweight open-button; do
    printf 'count\n0\n1\n1000\n2769\n4094\n4095\nx\n' >"$scratch/rows"
    ask convert convert $plan $signal "$scratch/rows"
done
printf '12.7\n10\n9\n-300\n' >"$scratch/rows"
for signal in house-battery heater-1; do ask convert convert $plan $signal "$scratch/rows" --back; done
printf '0\n511\n1023\n1024\n' >"$scratch/rows"
for steps in half full end-to-end; do
    ask convert convert --bits 10 --reference 5V --steps $steps --ratio 2 "$scratch/rows"
done

both trim trim $plan house-battery 2769=12.71V 2400=11.05V
both trim trim $plan house-battery 2769=14.1V 2400=12.4V
both trim trim $plan house-battery --scene $scene --live 0s,20min,40min
ask trim trim $plan mirror-temperature --curve beta 25degC=10.02k 0degC=33.1k 45degC=4.35k
ask trim trim $plan mirror-temperature --curve steinhart 25degC=10.02k 0degC=33.1k 45degC=4.35k
ask trim trim $plan house-battery --against twilight --of pin 2764/2760=2.2268V

both word word $board --set channel=6 --set align=left --set acquisition=3us --register control
both word word $board --register power --decode 0x5b
both word word $plan --converter fine --set input=pair-0
both word word demo/dunlin.converter.yaml --decode 0x91

ask demo demo
