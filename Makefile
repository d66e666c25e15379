# SPDX-License-Identifier: MIT
# Everything a person types here. `make demo`, `make check` and the goals of developers install missing Debian
# packages; `make`, `make all` and `make install` install none.
MAKEFLAGS += --no-print-directory
BUILD ?= build
JOBS ?= $(shell nproc)
SUITES_AT_ONCE := $(shell expr $(JOBS) + 1)

.PHONY: all setup amalgam demo check golden recipes keys manual abi rooms examples check-long check-sanitize check-threads check-memory check-targets check-editors prove fuzz check-fuzz kills coverage static headers package check-package mutants drawn-mutants perf shots format install clean help

## all: build (also plain make); installs no packages
all:
	@mkdir -p $(BUILD)
	@cmake -S . -B $(BUILD) $(if $(wildcard $(BUILD)/CMakeCache.txt),,-DTINYLADDER_TESTS=OFF) >$(BUILD)/configure.log || \
	  { cat $(BUILD)/configure.log; echo "If a package is missing, 'make setup' installs it."; exit 1; }
	@cmake --build $(BUILD) -j $(JOBS)

## setup: install the Debian packages that a build needs
setup: $(BUILD)/.setup-build

## demo: install what is missing, build, then show a tour of the commands on the demo data
demo: $(BUILD)/.setup-build
	@$(MAKE) all
	@$(BUILD)/tinyladder demo

## check: install what is missing, build, then run every test, suites side by side (SUITES='net bench' runs some, one after the other)
check: $(BUILD)/.setup-check
	@cmake -S . -B $(BUILD) -DTINYLADDER_TESTS=ON -DTINYLADDER_WERROR=ON >$(BUILD)/configure.log || { cat $(BUILD)/configure.log; exit 1; }
	@cmake --build $(BUILD) -j $(JOBS)
ifdef SUITES
	@$(BUILD)/tests/tinyladder-tests $(SUITES)
else
	@ctest --test-dir $(BUILD) -j $(SUITES_AT_ONCE) --output-on-failure
endif

## golden: record the output of every verb on the demo data; the difference shows what changed
golden: all
	@tests/golden/record.sh $(BUILD)/tinyladder tests/golden

## recipes: write the output of the commands in docs/recipes below them
recipes: all
	@scripts/recipes.py $(BUILD)

## keys: write schema/, the tables of docs/plan-reference.md and good practice in docs/methods.md
keys: all
	@mkdir -p schema && $(BUILD)/write-keys schema schema && $(BUILD)/write-keys reference docs/plan-reference.md && $(BUILD)/write-keys reference docs/methods.md

## manual: write the manual page of each verb into docs/man/, as --help has its options
manual: all
	@scripts/manual.py $(BUILD)

## abi: write the list of exported symbols from the public headers, and the layout of their structures
abi: $(BUILD)/.setup-abi all
	@scripts/abi.sh >abi/host.map.new && mv abi/host.map.new abi/host.map
	@scripts/abi_layout.py $(BUILD)/libtinyladder-host.so >abi/host.layout.new && mv abi/host.layout.new abi/host.layout

## rooms: draw the rooms of src/ from the includes, into docs/
rooms: $(BUILD)/.setup-rooms
	@scripts/rooms.sh >docs/rooms.dot && dot -Tsvg -o docs/rooms.svg docs/rooms.dot

## amalgam: write the core as one .c and one .h into build/amalgam
amalgam: $(BUILD)/.setup-amalgam
	@mkdir -p $(BUILD)/amalgam && scripts/amalgam.py $(BUILD)/amalgam && ls $(BUILD)/amalgam/*

## examples: build and run the example programs on the bench
examples: all
	@for example in $(BUILD)/examples/example-*; do echo "--- $${example##*/example-}"; $$example || exit 1; done

## check-long: run the property tests with many more seeds (some minutes)
check-long: $(BUILD)/.setup-check
	@cmake -S . -B $(BUILD) -DTINYLADDER_TESTS=ON >$(BUILD)/configure.log || { cat $(BUILD)/configure.log; exit 1; }
	@cmake --build $(BUILD) -j $(JOBS)
	@TL_LONG=1 $(BUILD)/tests/tinyladder-tests proposed agreement mutations "one way" "every fault" dense mishaps

SANITIZED = -DCMAKE_BUILD_TYPE=Debug -DCMAKE_C_FLAGS_DEBUG="-O1 -g1" -DTINYLADDER_WERROR=ON -DTINYLADDER_TESTS=ON

## check-sanitize: run every test as clang compiles it, with address and undefined-behaviour checks
check-sanitize: $(BUILD)/.setup-sanitize
	@cmake -S . -B $(BUILD)-clang -DCMAKE_C_COMPILER=clang $(SANITIZED) -DTINYLADDER_SANITIZE=address,undefined >$(BUILD)/configure.log \
	  || { cat $(BUILD)/configure.log; exit 1; }
	@cmake --build $(BUILD)-clang -j $(JOBS) && ctest --test-dir $(BUILD)-clang -j $(SUITES_AT_ONCE) --output-on-failure

## check-threads: run two circuits in two threads with the thread sanitizer
check-threads: $(BUILD)/.setup-sanitize
	@cmake -S . -B $(BUILD)-threads $(SANITIZED) -DTINYLADDER_SANITIZE=thread >$(BUILD)/configure.log || { cat $(BUILD)/configure.log; exit 1; }
	@cmake --build $(BUILD)-threads -j $(JOBS) --target tinyladder-near-tests && $(BUILD)-threads/tests/tinyladder-near-tests threads

## check-memory: run some verbs under valgrind; PLANS=all: four verbs on every plan of the demo (half an hour)
check-memory: all $(BUILD)/.setup-memory
	@scripts/check-memory.sh $(BUILD) $(PLANS)

## mutants: break one line after the other in a copy; a test must notice each (15 minutes)
mutants: $(BUILD)/.setup-check
	@tests/mutants.py . $(BUILD)/mutants $(FIRST)

## drawn-mutants: break COUNT (70) places of each of ROOMS, drawn by SEED; which breaks does no suite notice? (some hours)
drawn-mutants: $(BUILD)/.setup-mutants
	@tests/drawn_mutants.py . $(BUILD)/drawn-mutants $(or $(SEED),1) $(or $(COUNT),70) $(or $(ROOMS),core circuit analysis rules sizing bench)

## prove: the core by abstract interpretation: no input within its preconditions makes it misbehave (two minutes)
prove: $(BUILD)/.setup-prove
	@scripts/prove.sh $(BUILD)/proof

## fuzz: any bytes to what reads bytes, and any options to the command, SECONDS each (100), with sanitizers
fuzz: $(BUILD)/.setup-fuzz
	@mkdir -p $(BUILD)/fuzz
	@cmake -S . -B $(BUILD)/fuzz/rooms -DCMAKE_C_COMPILER=clang -DCMAKE_BUILD_TYPE=Debug -DCMAKE_C_FLAGS_DEBUG="-O1 -g1" -DTINYLADDER_TESTS=OFF \
	  -DTINYLADDER_EXAMPLES=OFF -DTINYLADDER_SANITIZE=fuzzer-no-link,address,undefined >$(BUILD)/fuzz/build.log || { cat $(BUILD)/fuzz/build.log; exit 1; }
	@cmake --build $(BUILD)/fuzz/rooms -j $(JOBS) >>$(BUILD)/fuzz/build.log
	@scripts/fuzz.sh $(BUILD)/fuzz $(or $(SECONDS),100) $(BUILD)/fuzz/rooms
	@tests/fuzz/command.py $(BUILD)/fuzz/rooms/tinyladder $(or $(SECONDS),100) $(or $(SEED),1)

## check-fuzz: a second of each on the build of check-sanitize, which does not steer them
check-fuzz: check-sanitize
	@scripts/fuzz.sh $(BUILD)/fuzz-short 1 $(BUILD)-clang
	@tests/fuzz/command.py $(BUILD)-clang/tinyladder 5 1

## kills: end what writes files by SIGKILL, 200 times each, and look at the files
kills: all
	@scripts/kills.sh $(BUILD) 200

## coverage: which lines and branches the tests reach, file by file
coverage: $(BUILD)/.setup-check
	@scripts/coverage.sh $(BUILD)-coverage

## static: other compilers' and checkers' warnings, with the list of those that are left out and why
static: $(BUILD)/.setup-static
	@scripts/static.sh $(BUILD)/static

## check-targets: compile the core for AVR, Cortex-M0 and RV32, warnings as errors; prove no static memory, the same bits and the same firmware on all of them
check-targets: $(BUILD)/.setup-targets all
	@HEADERS=$(BUILD)/examples scripts/check-targets.sh $(BUILD)/targets

## check-editors: open the demo's plans in a YAML language server, as an editor does (needs node and npm, and their registry)
check-editors: all
	@scripts/check-editors.sh $(BUILD)/editor

## headers: the public headers as pages for a browser and for man, into build/headers
headers: $(BUILD)/.setup-headers
	@scripts/headers.sh $(BUILD)/headers

## package: build the Debian packages into build/packages, and let lintian look at them
package: $(BUILD)/.setup-package
	@scripts/package.sh $(BUILD)/packages

## check-package: install the packages in a clean Debian 12 of its own, take the tour there and compile a program (as root)
check-package: $(BUILD)/.setup-check-package package
	@scripts/check-package.sh $(BUILD)/packages

## perf: measure code sizes and cycles on the targets, and run times here
perf: all $(BUILD)/.setup-perf
	@perf/run.sh $(BUILD)

## shots: refresh docs/screenshots from the demo data
shots: all $(BUILD)/.setup-shots
	@scripts/screenshots.sh $(BUILD)

## install: install into PREFIX (/usr/local); installs no packages
install: all
	@cmake --install $(BUILD) --prefix $(or $(PREFIX),/usr/local)

format:
	@git ls-files '*.c' '*.h' | xargs clang-format -i

clean:
	rm -rf $(BUILD) $(BUILD)-clang $(BUILD)-threads $(BUILD)-coverage

help:
	@sed -n 's/^## /  make /p' Makefile

# The packages of a goal, once: the stamp keeps a second run from asking the package manager again.
$(BUILD)/.setup-%: scripts/setup.sh
	@mkdir -p $(BUILD)
	@scripts/setup.sh $*
	@touch $@
