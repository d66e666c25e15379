# SPDX-License-Identifier: MIT
"""json_keys.py: the keys that the sources print as JSON, and those that docs/json.md explains; they are the same."""
import glob
import re
import sys

printed = set()
for path in glob.glob("src/*/*.c"):
    if path.startswith("src/listen/"):
        continue
    text = open(path).read()
    for call in re.finditer(r"json_(?:pack|object_set_new|object_set|object_update_new)\(", text):
        at, depth = call.end(), 1
        while depth:
            if text[at] == '"':
                at = text.index('"', at + 1)
            depth += {"(": 1, ")": -1}.get(text[at], 0)
            at += 1
        printed |= set(re.findall(r'"([a-z][a-z_0-9]*)"', text[call.end():at]))
explained = set()
for line in open("docs/json.md"):
    if line.startswith("| `"):
        explained |= set(re.findall(r"`([a-z_0-9]+)`", line.split(" | ")[0]))
for key in sorted(printed - explained):
    print("not explained:", key)
for key in sorted(explained - printed):
    print("not printed:", key)
print(len(printed), "keys")
sys.exit(printed != explained)
