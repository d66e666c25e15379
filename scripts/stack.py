#!/usr/bin/env python3
# SPDX-License-Identifier: MIT
"""stack.py INCLUDE FILE.ci...: of each public header of the core the call that needs most stack, as rows of a table. The
header itself says so in its head: where it says another figure, that is told, and the status is 1.

The files are call graphs with frames, as gcc writes them with -fcallgraph-info=su. Calls through the port's table count
nothing: their stack is the port's; taking.c calls nothing else in that way than the conversions of other files. Calls into the
C library are taken as 16 bytes."""
import re
import sys
from pathlib import Path

LIBRARY = 16
CONVERSIONS = ("start", "look_for_end", "exchange", "look_at_pin", "take_word", "tl_pin_start")
NODE = re.compile(r'node: \{ title: "([^"]+)" label: "[^"]*\\n(\d+) bytes \((\w+)\)"')
EDGE = re.compile(r'edge: \{ sourcename: "([^"]+)" targetname: "([^"]+)"')


def main():
    include, files = Path(sys.argv[1]), sys.argv[2:]
    frames, calls = {}, {}
    for name in files:
        text = Path(name).read_text()
        for title, size, kind in NODE.findall(text):
            frames[title] = int(size)
            if kind != "static":
                sys.exit(f"{title}: its frame is not static")
        for source, target in EDGE.findall(text):
            calls.setdefault(source, set()).add("conversion" if target == "__indirect_call" and "taking" in name else target)
    calls["conversion"] = {title for title in frames if title.split(":")[-1] in CONVERSIONS and "taking.c" not in title}
    frames["conversion"] = 0
    if len({title.split(":")[-1] for title in calls["conversion"]}) != len(CONVERSIONS):
        sys.exit("conversions have other names: " + " ".join(calls["conversion"]))

    def depth(name, seen=()):
        if name == "__indirect_call":
            return 0
        if name in seen:
            sys.exit(f"{name} calls itself")
        below = max((depth(called, seen + (name,)) for called in calls.get(name, ())), default=0)
        return frames.get(name, LIBRARY) + below

    wrong = False
    for header in sorted(set(include.glob("*.h")) - {include / "core.h", include / "bound.h"}):
        declared = re.sub(r"/\*.*?\*/", "", header.read_text(), flags=re.S)
        names = re.findall(r"\b(tl_\w+)\(", declared)
        rows = sorted(((depth(name), name) for name in set(names) if name in frames), key=lambda row: (-row[0], row[1]))
        if not rows:
            continue
        print(f"| `{header.name}` | {rows[0][0]} | `{rows[0][1]}()` |")
        if f"Stack: {rows[0][0]} bytes at most, in {rows[0][1]}()" not in header.read_text():
            print(f"{header}: it needs {rows[0][0]} bytes of stack, in {rows[0][1]}()", file=sys.stderr)
            wrong = True
    return wrong


sys.exit(main())
