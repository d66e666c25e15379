#!/usr/bin/env python3
# SPDX-License-Identifier: MIT
"""header_examples.py FOLDER CC [OPTION...]: the example of each public header, cut out into FOLDER and compiled with warnings as errors."""
import re
import subprocess
import sys
from pathlib import Path

folder, compiler = Path(sys.argv[1]), sys.argv[2:]
folder.mkdir(parents=True, exist_ok=True)
compiled = 0
for header in sorted(Path("include").rglob("*.h")):
    name = header.relative_to("include")
    example = re.search(r"@code\{\.c\}\n(.*?) \* @endcode", header.read_text(), re.S)
    if not example:
        print(f"{name} has no example")
        continue
    small = ["-DTL_SMALL"] if name.name == "bound.h" else []
    source = folder / (str(name).replace("/", "_")[:-2] + ".c")
    source.write_text(f'#include "{name}"\n#include <stdio.h>\n#include <stdlib.h>\n' + re.sub(r"^ \* ?", "", example[1], flags=re.M))
    done = subprocess.run([*compiler, *small, "-std=c11", "-Wall", "-Wextra", "-Werror", "-Iinclude", "-fsyntax-only", str(source)])
    compiled += done.returncode == 0
print(compiled, "examples compile")
