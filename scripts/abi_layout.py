#!/usr/bin/env python3
# SPDX-License-Identifier: MIT
"""abi_layout.py LIBRARY: how the structures of the public headers lie in memory, as the debugging information of the library tells it,
and the constants of their enumerations. abi/host.layout holds the latest (`make abi`); what differs is another ABI number."""
import re
import subprocess
import sys
from pathlib import Path

INCLUDE = Path(__file__).resolve().parent.parent / "include"
STRUCT = re.compile(r"^/\* <\w+> \S*/include/tinyladder/\S+ \*/\nstruct (tl_\w+) \{\n(.*?)^\};", re.M | re.S)
MEMBER = re.compile(r"^\t(\S.*?);? +/\* +(\d+(?::\s*\d+)?) +(\d+) \*/$", re.M)
ENUM = re.compile(r"\benum\s+(?:TL_PACKED\s+)?(\w*)\s*\{(.*?)\}", re.S)


def structures(library):
    told = subprocess.run(["pahole", "-I", library], capture_output=True, text=True, check=True).stdout
    found = {}
    for name, body in STRUCT.findall(told):
        size = re.search(r"/\* size: (\d+)", body)[1]
        members = [f"{offset} {' '.join(text.split())}" for text, offset, _ in MEMBER.findall(body)]
        found[name] = f"struct {name}: {size} bytes\n" + "".join(f"  {member}\n" for member in members)
    return found


def enumerations():
    for header in sorted(INCLUDE.rglob("*.h")):
        text = re.sub(r"/\*.*?\*/|//[^\n]*", "", header.read_text(), flags=re.S)
        for name, body in ENUM.findall(text):
            yield f"enum {name or 'of ' + header.stem}: {' '.join(body.split()).rstrip(',')}\n"


def main():
    found = structures(sys.argv[1])
    print("".join(found[name] for name in sorted(found)) + "".join(enumerations()), end="")


main()
