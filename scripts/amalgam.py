#!/usr/bin/python3
# SPDX-License-Identifier: MIT
"""amalgam.py FOLDER: the core as one tinyladder.h and one tinyladder.c, for those who copy it into their project.

Headers come in the order in which they need each other. Inner functions of two sources may have one name: in the
single source each bears the name of its file in front.
"""
import os
import re
import sys

here = os.path.join(os.path.dirname(os.path.abspath(__file__)), "..")
INCLUDE = re.compile(r'^#include "([^"]+)"\n', re.M)
STATIC = re.compile(r"^static (?:inline )?[\w ]+?[ *](\w+)\(", re.M)


def text_of(*path):
    with open(os.path.join(here, *path), encoding="utf-8") as file:
        return file.read()


def in_order(names, folder, done):
    """Each file after those that it includes; what is not in the folder is nobody's here."""
    for name in names:
        if name in done or not os.path.exists(os.path.join(here, folder, name)):
            continue
        in_order(INCLUDE.findall(text_of(folder, name)), folder, done)
        if name not in done:
            done.append(name)
    return done


def main(folder):
    version = re.findall(r"VERSION_(?:MAJOR|MINOR|PATCH) (\d+)", text_of("include/tinyladder/version.h"))
    licence = "".join(" * " + line + "\n" if line else " *\n" for line in text_of("LICENSE").splitlines())
    head = "/*\n * Tiny Ladder " + ".".join(version) + ", the core in one file.\n *\n" + licence + " */\n"

    headers = in_order(["tinyladder/version.h", "tinyladder/core.h"], "include", [])
    os.makedirs(folder, exist_ok=True)
    with open(os.path.join(folder, "tinyladder.h"), "w", encoding="utf-8") as out:
        out.write(head)
        for name in headers:
            out.write("\n" + INCLUDE.sub("", text_of("include", name)))

    sources = re.findall(r"src/core/(\w+\.c)", text_of("cmake/core_sources.cmake"))
    inner = in_order([n for s in sources for n in INCLUDE.findall(text_of("src/core", s))], "src/core", [])
    with open(os.path.join(folder, "tinyladder.c"), "w", encoding="utf-8") as out:
        out.write(head + '#include "tinyladder.h"\n')
        for name in inner:
            out.write("\n" + INCLUDE.sub("", text_of("src/core", name)))
        for name in sources:
            text = INCLUDE.sub("", text_of("src/core", name))
            stem = name[:-2]
            for function in sorted(set(STATIC.findall(text))):
                text = re.sub(r"(?<![\w.>])%s(?=\(|[,}])" % function, stem + "_" + function, text)
            out.write("\n/* --- " + name + " --- */\n\n" + text)


if __name__ == "__main__":
    main(sys.argv[1])
