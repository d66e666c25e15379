#!/usr/bin/env python3
# SPDX-License-Identifier: MIT
"""command.py COMMAND SECONDS SEED: the command with options drawn at random, in a copy of the demo. It must end within 30 s by
a status of its own (0 to 4); with a status of 2 to 4 it says why; no sanitizer says anything. Prints how many runs there were
and each that broke a rule; status 1 where one did."""
import os
import random
import re
import shutil
import subprocess
import sys
import tempfile
import time
from pathlib import Path

WORDS = ['', '0', '1', '-1', '3', '4095', '1e9', '1e-12', 'nan', '10k', '4k7', '10k ±1 %', '3.3V', '5 V ±5 %', '0 V .. 5 V', '4V..20V',
         '100 nF', '2 mA', '20 degC', '50 %', '100ms', '2s', 'up', 'down', 'E12', 'all', 'house-battery', 'wanted', 'lid', 'keypad', 'nothing',
         'house-battery.divider', 'wanted.pin', 'wanted.pin=2.3V', 'wanted=20 %', '{open: wanted.source}', '818 819', '0x8101', 'brown black red gold',
         '470/390,4k7/3k9', 'out.csv', 'out.db', 'out.vcd', 'out.h', 'out.svg', '-', 'ä\t"\'`$(x)', '%n%s', 'x' * 5000, 'over-limit']
FILES = ['cold-frame.plan.yaml', 'cold-frame.scene.yaml', 'fernhill.plan.yaml', 'evening.scene.yaml', 'lapwing.board.yaml', 'drawer.yaml',
         'keypad.observed.yaml', 'faulty/over-limit.plan.yaml', 'out.csv', 'out.db', 'no-such-file', '.', 'knot.converter.yaml']
# What waits for a terminal, a broker or the wall clock is asked elsewhere.
NEVER = {'--real-time', '--publish', '--publish-as', '--publish-ca', '--publish-login', '--ask', '--listen'}


def main():
    command, seconds, seed = Path(sys.argv[1]).resolve(), float(sys.argv[2]), sys.argv[3]
    demo = Path(__file__).resolve().parent.parent.parent / 'demo'
    verbs = re.findall(r'^  ([a-z]+) ', subprocess.run([command, '--help'], capture_output=True, text=True, check=True).stdout, re.M)
    verbs = [verb for verb in verbs if verb not in ('watch', 'demo')]
    options, jobs = {}, []
    for verb in verbs:
        said = subprocess.run([command, verb, '--help'], capture_output=True, text=True).stdout
        options[verb] = [(name, value) for name, value in re.findall(r'^ +(?:-., )?(--[a-z-]+)(\[?=[A-Z0-9:\[\]]+)?', said, re.M) if name not in NEVER]
        jobs = jobs or (re.findall(r'^  ([a-z-]+) ', said, re.M) if verb == 'size' else [])
    draw = random.Random(seed)
    runs = broken = 0
    end = time.monotonic() + seconds
    with tempfile.TemporaryDirectory() as folder:
        while time.monotonic() < end:
            if runs % 200 == 0:
                shutil.rmtree(f'{folder}/demo', ignore_errors=True)
                shutil.copytree(demo, f'{folder}/demo')
            verb = draw.choice(verbs)
            arguments = [verb]
            if verb == 'size':
                arguments += draw.choice([[draw.choice(jobs)] if jobs else [], ['fernhill.plan.yaml', 'house-battery.divider']])
                if jobs and arguments[1] in jobs:
                    said = subprocess.run([command, 'size', arguments[1], '--help'], capture_output=True, text=True).stdout
                    options['size'] = re.findall(r'^ +(?:-., )?(--[a-z-]+)(\[?=[A-Z0-9:\[\]]+)?', said, re.M)
            elif draw.random() < 0.9:
                arguments.append(draw.choice(FILES[:4]) if draw.random() < 0.8 else draw.choice(FILES))
            for _ in range(draw.randrange(4)):
                name, value = draw.choice(options[verb] or [('--help', '')])
                word = draw.choice(FILES) if 'FILE' in value and draw.random() < 0.8 else draw.choice(WORDS)
                arguments.append(f'{name}={word}' if value and draw.random() < 0.95 else name)
            if draw.random() < 0.4:
                arguments.append(draw.choice(WORDS))
            runs += 1
            try:
                done = subprocess.run([command, *arguments], cwd=f'{folder}/demo', stdin=subprocess.DEVNULL, capture_output=True, timeout=30,
                                      env=dict(os.environ, LC_ALL='C.UTF-8', TERM='dumb'))
                status, said = done.returncode, done.stderr.decode(errors='replace')
                wrong = ('a status of no meaning' if not 0 <= status <= 4 else 'a sanitizer' if 'Sanitizer' in said or 'runtime error' in said else
                         'no word of why' if status >= 2 and said.strip() == '' and '--brief' not in arguments and '--json' not in arguments else '')
            except subprocess.TimeoutExpired:
                wrong, said = 'no end', ''
            if wrong:
                broken += 1
                print(f'{wrong}: {arguments}\n{said[:2000]}')
    print(f'{runs} runs, {broken} broke a rule')
    return broken > 0


sys.exit(main())
