#!/usr/bin/env python3
# SPDX-License-Identifier: MIT
"""manual.py BUILD [PAGE]: the options of every verb in docs/tinyladder.1 as `--help` has them, between its two marks."""
import re
import subprocess
import sys

BUILD = sys.argv[1]
PAGE = sys.argv[2] if len(sys.argv) > 2 else "docs/tinyladder.1"
BEGIN, END = '.\\" options: written by `make manual`\n', '.\\" end of options\n'
VERBS = "new pins size word check read convert record plot watch trim header demo completion".split()
OPTION = re.compile(r"^ {2,6}(?:-(\w), )?--([a-z-]+)(\[?=[^ ]+)? *(.*)$")


def help_of(*words):
    return subprocess.run([BUILD + "/tinyladder", *words, "--help"], capture_output=True, text=True).stdout


def roff(text):
    text = text.replace("\\", "\\e").replace("-", "\\-")
    return "\\&" + text if text[:1] in ".'" else text


def options(text):
    found, last = [], None
    for line in text.splitlines():
        match = OPTION.match(line)
        if match and match[2] in ("help", "usage"):
            break
        if match:
            last = [match[1], match[2], (match[3] or "").strip("[]="), match[4]]
            found.append(last)
        elif last is not None and line.startswith(" " * 29):
            last[3] = (last[3] + " " + line.strip()).strip()
    return found


def lines_of(title, text):
    found = options(text)
    if not found:
        return
    yield ".SS " + title
    for letter, name, argument, meaning in found:
        yield ".TP"
        words = ("\\fB\\-%s\\fR, " % letter if letter else "") + "\\fB\\-\\-%s\\fR" % roff(name)
        yield words + (" \\fI%s\\fR" % roff(argument) if argument else "")
        yield roff(meaning)


def page_options():
    for verb in VERBS:
        yield from lines_of(verb, help_of(verb))
    for kind in re.findall(r"^  (\S+) {2,}\S", help_of("size"), re.M):
        yield from lines_of("size " + kind, help_of("size", kind))


page = open(PAGE).read()
before, rest = page.split(BEGIN)
after = rest.split(END)[1]
open(PAGE, "w").write(before + BEGIN + "\n".join(page_options()) + "\n" + END + after)
