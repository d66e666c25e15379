#!/usr/bin/env python3
# SPDX-License-Identifier: MIT
"""mutants.py SOURCE WORK [FIRST]: breaks the lines of tests/mutants.txt one after the other in a copy of SOURCE under
WORK, builds it and runs every test; tells which breaks no test notices. Status 1 where there are any."""
import pathlib
import re
import shutil
import subprocess
import sys


# Asked first, since most breaks show here already.
QUICK = ('contract scale filter mux pulse output sweep resistance table external word input share button net transient quantity '
         'preferred divider sizings reader check curve interval segments scene proposals limits agreement').split()


def rows(path):
    for number, line in enumerate(path.read_text().splitlines(), 1):
        if line.strip() and not line.startswith('#'):
            file, old, new = (part.replace('\\|', '|').replace('\\n', '\n') for part in re.split(r'(?<!\\)\|', line + ' '))
            yield number, file.strip(), old[1:-1], new[1:-1] if len(new) > 1 else ''


def main():
    source, work = pathlib.Path(sys.argv[1]).resolve(), pathlib.Path(sys.argv[2]).resolve()
    first = int(sys.argv[3]) if len(sys.argv) > 3 else 0
    copy = work / 'tree'
    shutil.rmtree(copy, ignore_errors=True)
    copy.mkdir(parents=True)
    tracked = subprocess.run(['git', 'ls-files', '-z'], cwd=source, capture_output=True, check=True, text=True).stdout
    for name in filter(None, tracked.split('\0')):
        (copy / name).parent.mkdir(parents=True, exist_ok=True)
        shutil.copy2(source / name, copy / name, follow_symlinks=False)
    build = copy / 'build'
    quiet = {'cwd': copy, 'stdout': subprocess.DEVNULL, 'stderr': subprocess.DEVNULL}
    make = ['cmake', '--build', str(build), '-j', '2']
    subprocess.run(['cmake', '-S', '.', '-B', str(build), '-DTINYLADDER_TESTS=ON'], check=True, **quiet)
    subprocess.run(make, check=True, **quiet)
    test = [str(build / 'tests/tinyladder-tests')]
    subprocess.run(test, check=True, timeout=600, **quiet)
    alive = 0
    for number, file, old, new in rows(source / 'tests/mutants.txt'):
        if number < first:
            continue
        path = copy / file
        text = path.read_text()
        if text.count(old) < 1:
            print(f'{number}: {file} has no such line any more: {old!r}', flush=True)
            alive += 1
            continue
        path.write_text(text.replace(old, new, 1))
        try:
            built = subprocess.run(make, **quiet).returncode == 0
            noticed = not built or any(subprocess.run(test + some, timeout=150, **quiet).returncode != 0 for some in (QUICK, []))
        except subprocess.TimeoutExpired:
            noticed = True
        path.write_text(text)
        word = 'noticed' if noticed and built else 'does not build' if not built else 'NOT NOTICED'
        print(f'{number}: {file}: {old!r}: {word}', flush=True)
        alive += not noticed or not built
    print(f'{alive} of them went unnoticed')
    return alive > 0


sys.exit(main())
