#!/usr/bin/python3
# SPDX-License-Identifier: MIT
"""drawn_mutants.py SOURCE WORK SEED COUNT ROOM...: breaks COUNT places of each room of src/, drawn by SEED, and tells which
breaks no suite notices.

All breaks are compiled into one copy of SOURCE under WORK, each behind a question: the environment's MUTANT names the one
that is on. Every suite runs once without any, which shows how long it takes and which places it reaches; then each break
runs in the suites that reach its place, the quick ones first, until one fails. What was found stands in WORK/results; a
break that stands there is not tried again, so that a run may be interrupted. With LONGEST in the environment, suites that
take more than so many seconds are left out; a later run with a larger LONGEST asks those alone. With SANITIZE, the copy is
built with sanitizers, and what was not noticed is asked again."""
import concurrent.futures
import os
import pathlib
import random
import re
import shutil
import subprocess
import sys
import threading
import time

from clang import cindex

SWAPS = {'<': '<=', '<=': '<', '>': '>=', '>=': '>', '==': '!=', '!=': '==', '&&': '||', '||': '&&', '+': '-', '-': '+',
         '*': '/', '/': '*', '<<': '>>', '>>': '<<', '&': '|', '|': '&'}
ON_ANY_TYPE = ('<', '<=', '>', '>=', '==', '!=', '&&', '||')
QUESTION = '''\
/* Which break is on, and which places are reached. */
#include <fcntl.h>
#include <stdio.h>
#include <stdlib.h>
#include <unistd.h>
static int mutant_on;
static const char *mutant_log;
static void __attribute__((constructor)) mutant_begin(void)
{
    const char *text = getenv("MUTANT");
    mutant_on = text == NULL ? 0 : atoi(text);
    mutant_log = getenv("MUTANT_REACHED");
}
static int mutant(int number)
{
    static char told[%d];
    if (mutant_log != NULL && !told[number]) {
        told[number] = 1;
        char line[16];
        const int length = snprintf(line, sizeof line, "%%d\\n", number);
        const int file = open(mutant_log, O_WRONLY | O_CREAT | O_APPEND, 0666);
        if (file >= 0 && (write(file, line, (size_t)length) != length || close(file) != 0))
            abort();
    }
    return number == mutant_on;
}
#line 1
'''


def places(path, flags):
    """Every place of a file that may be broken: where it begins and ends, what stands there, and what it becomes."""
    text = path.read_bytes().decode()
    unit = cindex.Index.create().parse(str(path), args=flags)
    kinds, types = cindex.CursorKind, cindex.TypeKind
    found = []

    def span(cursor):
        return cursor.extent.start.offset, cursor.extent.end.offset

    def visit(cursor, parent, in_list):
        first, last = span(cursor)
        children = list(cursor.get_children())
        if cursor.kind == kinds.ENUM_DECL or cursor.kind == kinds.VAR_DECL and cursor.storage_class == cindex.StorageClass.STATIC:
            return
        array = cursor.kind == kinds.VAR_DECL and cursor.type.get_canonical().kind == types.CONSTANTARRAY
        if cursor.kind == kinds.BINARY_OPERATOR and len(children) == 2:
            (left, left_end), (right, right_end) = span(children[0]), span(children[1])
            between = text[left_end:right].strip()
            arithmetic = not any(child.type.get_canonical().kind in (types.POINTER, types.CONSTANTARRAY) for child in children)
            if between in SWAPS and left == first and right_end == last and (between in ON_ANY_TYPE or arithmetic):
                floating = any(child.type.get_canonical().kind in (types.DOUBLE, types.FLOAT)
                               for child in children)
                if not (floating and between in ('<', '<=', '>', '>=')): # a real number is never just at the edge
                    found.append((first, last, 'operator', between, (left, left_end, right, right_end)))
                elif between in ('<', '<=', '>', '>='):
                    found.append((first, last, 'turned', between, (left, left_end, right, right_end)))
        if cursor.kind == kinds.INTEGER_LITERAL and not in_list:
            if re.fullmatch(r'\d+u?', text[first:last]):
                found.append((first, last, 'number', text[first:last], None))
        if cursor.kind == kinds.CALL_EXPR and parent.kind == kinds.COMPOUND_STMT and text[last:last + 1] == ';':
            found.append((first, last, 'left out', text[first:last], None))
        if parent.kind == kinds.COMPOUND_STMT and text[last:last + 1] == ';' and (
                cursor.kind == kinds.COMPOUND_ASSIGNMENT_OPERATOR or
                cursor.kind == kinds.BINARY_OPERATOR and re.match(r'\s*=[^=]', text[span(children[0])[1]:])):
            found.append((first, last, 'left out', text[first:last], None))
        for at, child in enumerate(children):
            if child.extent.start.file is None or child.extent.start.file.name != str(path):
                continue
            if cursor.kind == kinds.CASE_STMT and at == 0 or array and child.kind != kinds.INIT_LIST_EXPR:
                continue
            visit(child, cursor, in_list or child.kind == kinds.INIT_LIST_EXPR)

    for cursor in unit.cursor.get_children():
        if cursor.kind == kinds.FUNCTION_DECL and cursor.is_definition() and cursor.location.file.name == str(path):
            body = [child for child in cursor.get_children() if child.kind == kinds.COMPOUND_STMT]
            if body and not text[span(cursor)[0]:].startswith('TL_'):
                visit(body[0], cursor, False)
    return text, found


def broken(text, place):
    first, last, kind, what, inside = place
    if kind in ('operator', 'turned'):
        left, right = text[inside[0]:inside[1]], text[inside[2]:inside[3]]
        other = SWAPS[what] if kind == 'operator' else {'<': '>', '<=': '>', '>': '<', '>=': '<'}[what]
        return f'{left} {other} {right}', f'({left}) {other} ({right})'
    if kind == 'number':
        more = str(int(what.rstrip('u')) + 1) + ('u' if what.endswith('u') else '')
        return more, more
    return '', None


def draw(tree, rooms, seed, count):
    """Breaks the files of the rooms in place; the list of breaks."""
    flags = ['-std=gnu11', f'-I{tree}/include', f'-I{tree}/src', '-I' + subprocess.run(
        ['gcc', '-print-file-name=include'], capture_output=True, text=True, check=True).stdout.strip()]
    flags += subprocess.run(['pkg-config', '--cflags', 'libfyaml', 'jansson', 'pango'], capture_output=True, text=True).stdout.split()
    mutants, number = [], 0
    for room in rooms:
        pool = []
        texts = {}
        for path in sorted((tree / 'src' / room).glob('*.c')):
            texts[path], found = places(path, flags)
            pool += [(path, place) for place in found]
        chosen = random.Random(f'{seed} {room}').sample(pool, min(count, len(pool)))
        taken = {}
        for path, place in chosen:
            first, last = place[:2]
            if all(last <= other[0] or first >= other[1] for other in taken.get(path, [])): # no break in a break
                taken.setdefault(path, []).append(place)
        for path, its in sorted(taken.items()):
            text = texts[path]
            done = []
            for place in sorted(its):
                number += 1
                line = text.count('\n', 0, place[0]) + 1
                shown = text.splitlines()[line - 1].strip()
                mutants.append((number, room, f'src/{room}/{path.name}:{line}', text[place[0]:place[1]].replace('\n', ' '),
                                broken(text, place)[0].replace('\n', ' '), shown))
                done.append((place, number))
            out = text
            for place, which in reversed(done):
                first, last = place[:2]
                as_it_is, other = text[first:last], broken(text, place)[1]
                if other is None:
                    new = f'if (!mutant({which})) {as_it_is}'
                else:
                    new = f'(mutant({which}) ? {other} : {as_it_is})' if place[2] == 'number' else f'(mutant({which}) ? ({other}) : ({as_it_is}))'
                out = out[:first] + new + out[last:]
            path.write_text(QUESTION % (number + 2) + out)
        print(f'{room}: {sum(1 for mutant in mutants if mutant[1] == room)} of {len(pool)} places', flush=True)
    return mutants


def suite_names(tree):
    return re.findall(r'^    {"([a-z0-9 -]+)", NULL', (tree / 'tests/main.c').read_text(), re.M)


def run(tree, suite, seconds, **environment):
    began = time.monotonic()
    process = subprocess.Popen([str(tree / 'build/tests/tinyladder-tests'), suite], cwd=tree, start_new_session=True,
                               stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL, env={**os.environ, **environment})
    try:
        failed = process.wait(seconds) != 0
    except subprocess.TimeoutExpired:
        failed = True
        os.killpg(process.pid, 9)
        process.wait()
    return failed, time.monotonic() - began


def main():
    source, work = pathlib.Path(sys.argv[1]).resolve(), pathlib.Path(sys.argv[2]).resolve()
    seed, count, rooms = sys.argv[3], int(sys.argv[4]), sys.argv[5:]
    longest = float(os.environ.get('LONGEST', 'inf'))
    workers = int(os.environ.get('JOBS', '1'))
    sanitize = ['-DCMAKE_BUILD_TYPE=Debug', '-DCMAKE_C_FLAGS_DEBUG=-O1 -g1', '-DTINYLADDER_SANITIZE=address,undefined'] \
        if 'SANITIZE' in os.environ else []
    tracked = subprocess.run(['git', 'ls-files', '-z'], cwd=source, capture_output=True, check=True, text=True).stdout
    trees = [work / f'tree-{worker}' for worker in range(workers)]
    for tree in trees:
        shutil.rmtree(tree, ignore_errors=True)
        for name in filter(None, tracked.split('\0')):
            (tree / name).parent.mkdir(parents=True, exist_ok=True)
            shutil.copy2(source / name, tree / name, follow_symlinks=False)
        mutants = draw(tree, rooms, seed, count)
        with open(work / 'build.log', 'w') as log:
            for command in (['cmake', '-S', '.', '-B', 'build', '-DTINYLADDER_TESTS=ON', *sanitize], ['cmake', '--build', 'build', '-j', '2']):
                if subprocess.run(command, cwd=tree, stdout=log, stderr=log).returncode != 0:
                    sys.exit(f'the broken copy does not build: {log.name}')
    (work / 'mutants').write_text(''.join(f'{n}: {where}: {was!r} -> {now!r}   in: {line}\n' for n, room, where, was, now, line in mutants))
    suites = []
    reached = {}
    for suite in suite_names(trees[0]):
        log = work / 'reached'
        log.unlink(missing_ok=True)
        failed, seconds = run(trees[0], suite, 600, MUTANT_REACHED=str(log))
        if failed:
            print(f'suite {suite} looks at sources or does not pass here: left out', flush=True)
        else:
            suites.append((seconds, suite))
            reached[suite] = set(map(int, log.read_text().split())) if log.exists() else set()
    suites.sort()
    print(f'{len(suites)} suites take {sum(seconds for seconds, _ in suites):.0f} s', flush=True)
    results = work / 'results'
    known = dict(line.split(': ', 1) for line in results.read_text().splitlines()) if results.exists() else {}
    lock, free = threading.Lock(), list(trees)
    kills = {suite: 1 for _, suite in suites}

    def ask(mutant):
        key = f'{mutant[0]} {mutant[2]}'
        asked = 0.0
        if key in known and (not sanitize or not known[key].startswith('NOT') or known[key].endswith('sanitized')):
            part = re.search(r'less than ([0-9.]+) s', known[key])
            asked = float(part[1]) if part else longest
            if asked >= longest:
                return
        with lock:
            tree = free.pop()
            order = sorted((pair for pair in suites if mutant[0] in reached[pair[1]] and pair[0] > asked),
                           key=lambda pair: pair[0] / kills[pair[1]])
        word = 'not reached' if not order else 'NOT NOTICED'
        if any(seconds > longest for seconds, _ in order):
            word += f' by suites of less than {longest:g} s'
        if sanitize:
            word += ' sanitized'
        for seconds, suite in order:
            if seconds <= longest and run(tree, suite, 20 + 10 * seconds, MUTANT=str(mutant[0]))[0]:
                word = f'noticed by {suite}'
                break
        with lock:
            if word.startswith('noticed'):
                kills[suite] += 1
            known[key] = word
            free.append(tree)
            with open(results, 'a') as file:
                file.write(f'{key}: {word}\n')

    with concurrent.futures.ThreadPoolExecutor(workers) as pool:
        list(pool.map(ask, mutants))
    for room in rooms:
        its = [mutant for mutant in mutants if mutant[1] == room]
        noticed = sum(known[f'{mutant[0]} {mutant[2]}'].startswith('noticed') for mutant in its)
        print(f'{room}: {noticed} of {len(its)} noticed, {100 * noticed / len(its):.0f} %')
        for mutant in its:
            if not known[f'{mutant[0]} {mutant[2]}'].startswith('noticed'):
                print(f'  {mutant[2]}: {mutant[3]} -> {mutant[4] or "left out"}   in: {mutant[5]}   {known[f"{mutant[0]} {mutant[2]}"]}')


main()
