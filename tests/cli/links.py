#!/usr/bin/env python3
# SPDX-License-Identifier: MIT
"""links.py PAGE|FOLDER...: every link of these pages, and of every page in these folders, leads to a file that is there, and to a heading of it. Says how many."""
import re
import sys
from pathlib import Path

LINK = re.compile(r"\]\(([^)\s#]*)(?:#([^)\s]*))?\)")
FENCE = re.compile(r"^```.*?^```$", re.M | re.S)


def headings(page):
    for line in re.findall(r"^#+ +(.*)$", FENCE.sub("", page.read_text()), re.M):
        yield re.sub(r"[^\w\- ]", "", line.lower()).replace(" ", "-")


def main():
    links = 0
    for folder in map(Path, sys.argv[1:]):
        for page in [folder] if folder.is_file() else sorted(folder.rglob("*.md")):
            for file, heading in LINK.findall(re.sub(r"`[^`]*`", "", FENCE.sub("", page.read_text()))):
                if re.match(r"\w+:", file):
                    continue
                links += 1
                to = page.parent / file if file else page
                if not to.exists():
                    print(f"{page}: {file} is not there")
                elif heading and heading not in headings(to):
                    print(f"{page}: {file} has no heading #{heading}")
    print(links, "links")


main()
