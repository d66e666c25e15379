#!/usr/bin/env python3
# SPDX-License-Identifier: MIT
"""failing_files.py COMMAND SHIM DEMO FOLDER [MOST]: runs of the command in which the n-th call about files, folders or children fails, for
every n, or for MOST of them at equal distances. Each must end by a status of its own. Where that is what it is without a failure, output and files are the same,
too; else there is a line that says why, a file of the user is the old or the new one, whole, and nothing else is left behind."""
import os
import shutil
import subprocess
import sys
from pathlib import Path

command, shim, demo, folder = (Path(word).resolve() for word in sys.argv[1:5])
most = int(sys.argv[5]) if len(sys.argv) > 5 else 1000000
RUNS = {  # the words; the file that is changed or made
    'check --fix faulty/over-limit.plan.yaml': 'faulty/over-limit.plan.yaml',
    'size fernhill.plan.yaml house-battery.divider --write': 'fernhill.plan.yaml',
    'trim fernhill.plan.yaml house-battery 3179=12.40V 2500=9.75V --write': 'fernhill.plan.yaml',
    'record cold-frame.plan.yaml --for 2s -o new.csv': 'new.csv',
    'record cold-frame.plan.yaml --for 2s -o new.db': 'new.db',
    'record cold-frame.plan.yaml --for 2s -o new.vcd': 'new.vcd',
    'read cold-frame.plan.yaml --counts board.txt': None,
    'convert cold-frame.plan.yaml wanted --counts board.txt': None,
    'explain cold-frame.plan.yaml wanted --saw 1023': None,
    'header cold-frame.plan.yaml -o new.h': 'new.h',
    'header cold-frame.plan.yaml --verify old.h': None,
    'plot frame.csv wanted -o new.svg': 'new.svg',
    'sheet cold-frame.plan.yaml -o new.html': 'new.html',
    'sheet cold-frame.plan.yaml -o new.svg': 'new-1.svg',
    'new board -o new.yaml': 'new.yaml',
    'pins cold-frame.plan.yaml --wiring': None,
}


def fresh():
    shutil.rmtree(folder, ignore_errors=True)
    shutil.copytree(demo, folder)
    (folder / 'board.txt').write_text('s 1 wanted 818 air 822 tank 217 tray 783 lid 1\n')
    shutil.copy(kept / 'old.h', folder)
    shutil.copy(kept / 'frame.csv', folder)


def files():
    return {str(path.relative_to(folder)) for path in folder.rglob('*') if path.is_file()}


def run(words, **environment):
    return subprocess.run([command, *words.split()], cwd=folder, stdin=subprocess.DEVNULL, capture_output=True, timeout=20,
                          env=dict(os.environ, LC_ALL='C.UTF-8', **environment))


def content(name):
    path = folder / name if name else None
    return path.read_bytes() if path and path.exists() else None


kept = folder.parent / (folder.name + '-kept')
shutil.rmtree(kept, ignore_errors=True)
kept.mkdir(parents=True)
subprocess.run([command, 'header', demo / 'cold-frame.plan.yaml', '-o', kept / 'old.h'], check=True, capture_output=True)
subprocess.run([command, 'record', demo / 'cold-frame.plan.yaml', '--for', '2s', '-o', kept / 'frame.csv'], check=True, capture_output=True)
told = kept / 'told'
failures = wrong = 0
for words, name in RUNS.items():
    if os.environ.get('ONLY', '') not in words:
        continue
    fresh()
    before, there = content(name), files()
    whole = run(words)
    after, made = content(name), files()
    fresh()
    told.unlink(missing_ok=True)
    run(words, LD_PRELOAD=str(shim), NO_FILE_IN='tinyladder', NO_FILE_COUNT=str(told))
    count = int(told.read_text()) if told.exists() else 200
    for at in range(1, count + 1, -(-count // most)):
        fresh()
        told.unlink(missing_ok=True)
        try:
            done = run(words, LD_PRELOAD=str(shim), NO_FILE_AT=str(at), NO_FILE_IN='tinyladder', NO_FILE_TOLD=str(told))
        except subprocess.TimeoutExpired:
            print(f'{words}, at {at} ({told.read_text()}): no end', flush=True)
            wrong += 1
            continue
        if not told.exists():
            continue # this run had fewer calls
        failures += 1
        is_now, left = content(name), files() - made - there
        if name and name.endswith('.db'):
            is_now, left = None, left - {name + '-wal', name + '-shm', name + '-journal'}
        problem = ''
        if not 0 <= done.returncode <= 4:
            problem = f'status {done.returncode}'
        elif done.returncode == whole.returncode:
            if done.stdout != whole.stdout and not done.stderr:
                problem = 'less is said, without a word'
            elif name and not name.endswith(('.db', '.csv')) and is_now != after and not done.stderr:
                problem = 'another file, without a word'
        elif not done.stderr.strip():
            problem = f'status {done.returncode}, without a word'
        if name and name.endswith('.yaml') and is_now not in (before, after):
            problem = 'the file is neither the old nor the new one'
        if left:
            problem = f'left behind: {left}'
        if problem:
            wrong += 1
            print(f'{words}, at {at} ({told.read_text()}): {problem}\n{done.stderr.decode()[:300]}', flush=True)
print(f'{failures} failures in {len(RUNS)} runs, {wrong} of them badly ended', flush=True)
sys.exit(wrong > 0)
