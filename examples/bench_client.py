#!/usr/bin/env python3
# SPDX-License-Identifier: MIT
"""Battery and buttons of the observatory from Python: the simulated bench, asked over its socket.

Start `tinyladder-bench demo/fernhill.plan.yaml --scene demo/evening.scene.yaml --listen SOCKET --once` first."""
import json
import socket
import sys

bench = socket.socket(socket.AF_UNIX)
bench.connect(sys.argv[1])
lines = bench.makefile("rw")


def ask(**call):
    lines.write(json.dumps(call) + "\n")
    lines.flush()
    answer = json.loads(lines.readline())
    if not answer["ok"]:
        sys.exit(f"{call['do']}: {answer['error']}")
    return answer


ask(do="use", line="L12", **{"as": "pull-up"})
while ask(do="clock")["us"] < 60_000_000:
    if ask(do="wait-change", lines=["L12"], at_most_us=20_000_000)["changed"]:
        ask(do="wait", us=20_000)  # until the contact has stopped bouncing
        state = "released" if ask(do="level", line="L12")["high"] else "pressed"
        print(f"{ask(do='clock')['us'] / 1e6:.2f} s: the open button is {state}")
    volts = ask(do="read", signal="house-battery")["value"]
    print(f"{ask(do='clock')['us'] / 1e6:.2f} s: the battery has {volts:.1f} V")
