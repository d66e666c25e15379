#!/usr/bin/env python3
# SPDX-License-Identifier: MIT
"""manual.py BUILD [FOLDER]: a manual page for each verb and program, from its `--help`, into FOLDER (docs/man). What it does is told
by its paragraph in tinyladder.1, which is written by hand."""
import re
import subprocess
import sys
from pathlib import Path

BUILD = Path(sys.argv[1])
FOLDER = Path(sys.argv[2] if len(sys.argv) > 2 else "docs/man")
OPTION = re.compile(r"^ {2,6}(?:-(\w), )?--([a-z-]+)(\[?=[^ ]+)? *(.*)$")
OVERVIEW = Path("docs/man/tinyladder.1").read_text()
COMMON = {"help", "usage"}


def help_of(program, *words):
    answer = subprocess.run([BUILD / program, *words, "--help"], capture_output=True, text=True, check=True)
    return answer.stdout.splitlines()


def roff(text):
    text = text.replace("\\", "\\e").replace("-", "\\-")
    return "\\&" + text if text[:1] in ".'" else text


class Page:
    """`--help` taken apart: usage lines, the texts before and behind the options, the options."""

    def __init__(self, lines):
        self.usages, self.before, self.options, self.after = [], [], [], []
        last = None
        for line in lines:
            usage = re.match(r"^(?:Usage:|  or:) +(.*)$", line)
            match = OPTION.match(line)
            if usage:
                self.usages.append(usage[1])
            elif match:
                last = [match[1], match[2], (match[3] or "").strip("[]="), match[4]]
                if last[1] not in COMMON:
                    self.options.append(last)
            elif last is not None and line.startswith(" " * 20):
                last[3] = (last[3] + " " + line.strip()).strip()
            elif line.startswith(("  -?, --help", "Mandatory or optional arg", "for any corresponding short")):
                continue
            else:
                (self.after if last else self.before).append(line)


def paragraphs(lines):
    """Running text joined, what is indented as it stands."""
    verbatim = paragraph = False
    for line in lines:
        if not line.strip():
            paragraph = False
            continue
        if line.startswith("  ") != verbatim:
            verbatim = not verbatim
            yield ".PP\n.nf" if verbatim else ".fi"
            paragraph = verbatim
        if not paragraph and not verbatim:
            yield ".PP"
            paragraph = True
        yield roff(line)
    if verbatim:
        yield ".fi"


def option_lines(options):
    for letter, name, argument, meaning in options:
        yield ".TP"
        words = ("\\fB\\-%s\\fR, " % letter if letter else "") + "\\fB\\-\\-%s\\fR" % roff(name)
        yield words + (" \\fI%s\\fR" % roff(argument) if argument else "")
        yield roff(meaning)


def overview_of(verb):
    match = re.search(r"^\.TP\n\.B %s\n(.*?)(?=^\.TP|^\.PP|^\.SH)" % verb, OVERVIEW, re.M | re.S)
    return [match[1].rstrip()] if match else []


def write_page(name, title, page, told, parts=()):
    lines = ['.TH %s 1 "" "Tiny Ladder" "User Commands"' % roff(name.upper()),
             ".SH NAME", "%s \\- %s" % (roff(name), roff(title[0].lower() + title[1:].rstrip("."))), ".SH SYNOPSIS"]
    for i, usage in enumerate(page.usages):
        command, _, rest = usage.partition(" [") if " [" in usage else (usage, "", "")
        lines += [".br"] * (i > 0) + ["\\fB%s\\fR%s" % (roff(command), " [" + roff(rest) if rest else "")]
    lines += [".SH DESCRIPTION", *(told or paragraphs(page.before)), *paragraphs(page.after)]
    if page.options:
        lines += [".SH OPTIONS", *option_lines(page.options)]
    for part, options, after in parts:
        lines += [".SS " + part, *option_lines(options), *paragraphs(after)]
    lines += [".SH SEE ALSO", ".BR tinyladder (1)", ""]
    (FOLDER / (name + ".1")).write_text("\n".join(lines))


def main():
    for verb, title in re.findall(r"^  ([a-z]+) +([A-Z].*)$", "\n".join(help_of("tinyladder")), re.M):
        page, parts = Page(help_of("tinyladder", verb)), []
        if verb == "size":
            for job in re.findall(r"^  ([a-z-]+) {2,}\S", "\n".join(help_of("tinyladder", "size")), re.M):
                inner = Page(help_of("tinyladder", "size", job))
                parts.append(("size " + job, inner.options, inner.after))
        write_page("tinyladder-" + verb, title, page, overview_of(verb), parts)
    for program, title in [("tinyladder-bench", "the bench of a plan behind a socket, for other programs"),
                           ("tinyladder-bench-run", "run a compiled program on the simulated bench of its plan")]:
        if (BUILD / program).exists():
            write_page(program, title, Page(help_of(program)), [])


main()
