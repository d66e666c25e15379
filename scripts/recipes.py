#!/usr/bin/env python3
# SPDX-License-Identifier: MIT
"""recipes.py BUILD [check]: runs what the recipes say, and writes what comes back under it.

A block ```sh of a recipe is run in a folder of its own, with the recipes' files in it and Tiny Ladder installed beside; the
block ```text behind it is what the commands print. With "check" nothing is written: what is not as it stands there is told,
exit status 1. A program that a compiler complains of is wrong in either case."""
import os
import re
import shutil
import subprocess
import sys
import tempfile
from pathlib import Path

COMPLAINT = re.compile(r"\.[ch]:\d+:\d+: (error|warning):")
BLOCKS = re.compile(r"```sh\n(.*?)```\n\n```text\n(.*?)```\n", re.S)


def environment(build, prefix):
    """The command of this build in the path; for C programs, what `make install` would put into a prefix."""
    subprocess.run(["cmake", "--install", build, "--prefix", prefix], check=True, stdout=subprocess.DEVNULL)
    packages = next(Path(prefix).rglob("tinyladder.pc")).parent
    return dict(os.environ, PATH=f"{build}:{os.environ['PATH']}", LC_ALL="C.UTF-8", PKG_CONFIG_PATH=str(packages),
                LD_LIBRARY_PATH=str(packages.parent))


def run(script, folder, env):
    done = subprocess.run(["sh", "-e"], input=script, cwd=folder, env=env, text=True, stdout=subprocess.PIPE,
                          stderr=subprocess.STDOUT, timeout=60)
    return done.stdout


def main():
    build, check = Path(sys.argv[1]).resolve(), len(sys.argv) > 2
    recipes = Path(__file__).resolve().parent.parent / "docs" / "recipes"
    wrong = blocks = 0
    alone = [recipes.parent.parent / "README.md", recipes.parent / "first-steps.md"]  # in an empty folder
    with_demo = [recipes.parent / name for name in ("troubleshooting.md", "editors.md", "overlay.md")]  # with the demo beside it
    installed = tempfile.TemporaryDirectory()
    env = environment(build, installed.name)
    for recipe in [*alone, *with_demo, *sorted(recipes.glob("*.md"))]:
        text = recipe.read_text()
        with tempfile.TemporaryDirectory() as folder:
            if recipe in with_demo:
                shutil.copytree(recipes.parent.parent / "demo", Path(folder) / "demo")
            for file in recipes.iterdir():
                if file.suffix != ".md" and recipe not in alone:
                    shutil.copy(file, folder)
            for shared in ["display.c", "display.h"] if recipe not in alone else []:
                shutil.copy(recipes.parent.parent / "examples" / shared, folder)

            def answer(block):
                nonlocal wrong, blocks
                blocks += 1
                said = run(block.group(1), folder, env)
                if said != block.group(2) and check or COMPLAINT.search(said):
                    wrong += 1
                    print(f"{recipe.name}: after\n{block.group(1)}comes\n{said}", end="")
                return f"```sh\n{block.group(1)}```\n\n```text\n{said}```\n"

            now = BLOCKS.sub(answer, text)
        if not check and now != text:
            recipe.write_text(now)
    print(f"{blocks} blocks run, {wrong} differ from the page")
    return 1 if wrong else 0


sys.exit(main())
