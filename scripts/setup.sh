#!/bin/sh
# SPDX-License-Identifier: MIT
# setup.sh GOAL: installs what Debian packages the goal still lacks, and says so. Goals: build check sanitize memory targets perf shots rooms abi ci mutants prove fuzz static headers package check-package amalgam.
set -eu

base="gcc libc6-dev make cmake pkg-config libfyaml-dev libjansson-dev liblapacke-dev libcsv-dev libsqlite3-dev libncurses-dev libmosquitto-dev gnuplot-nox libpango1.0-dev fonts-dejavu-extra"
tests="chromium-headless-shell device-tree-compiler doxygen dwarves libcunit1-dev g++ groff-base mosquitto mosquitto-clients openssl procps python3-jsonschema python3-ruamel.yaml"
case "${1:-}" in
build) packages="$base" ;;
check) packages="$base $tests" ;;
sanitize) packages="$base $tests clang libclang-rt-14-dev" ;;
memory) packages="$base valgrind" ;;
targets) packages="gcc libc6-dev gcc-avr avr-libc libsimavr-dev libelf-dev libunicorn-dev gcc-arm-none-eabi libnewlib-arm-none-eabi gcc-riscv64-unknown-elf picolibc-riscv64-unknown-elf qemu-system-arm qemu-system-misc sdcc sdcc-ucsim" ;;
perf) packages="$base python3-numpy mawk time gcc-avr avr-libc libsimavr-dev libelf-dev gcc-arm-none-eabi libnewlib-arm-none-eabi gcc-riscv64-unknown-elf picolibc-riscv64-unknown-elf" ;;
rooms) packages="graphviz" ;;
ci) packages="$base $tests clang libclang-rt-14-dev valgrind frama-c-base gcc libc6-dev gcc-avr avr-libc libsimavr-dev libelf-dev libunicorn-dev gcc-arm-none-eabi libnewlib-arm-none-eabi gcc-riscv64-unknown-elf picolibc-riscv64-unknown-elf qemu-system-arm qemu-system-misc sdcc sdcc-ucsim" ;;
mutants) packages="$base $tests python3-clang" ;;
prove) packages="frama-c-base gcc" ;;
fuzz) packages="$base clang libclang-rt-14-dev" ;;
static) packages="$base clang clang-tidy cppcheck" ;;
abi) packages="$base dwarves python3" ;;
headers) packages="doxygen" ;;
package) packages="$base dpkg-dev debhelper fakeroot lintian libsimavr-dev libelf-dev libunicorn-dev" ;;
check-package) packages="mmdebstrap" ;;
amalgam) packages="python3" ;;
shots) packages="$base chromium-headless-shell gnuplot-nox xvfb xterm imagemagick x11-utils fonts-dejavu-core" ;;
*)
    echo "setup.sh: which goal? build check sanitize memory targets perf shots rooms abi ci mutants prove fuzz static headers package check-package amalgam" >&2
    exit 2
    ;;
esac

if ! command -v dpkg-query >/dev/null 2>&1; then
    echo "setup: this is not a Debian system; install these packages or their equivalents: $packages"
    exit 0
fi

missing=
for package in $packages; do
    state=$(dpkg-query -W -f '${db:Status-Status}' "$package" 2>/dev/null || true)
    [ "$state" = installed ] || missing="$missing $package"
done
[ -n "$missing" ] || exit 0

if [ "$(id -u)" = 0 ]; then
    become=
elif command -v sudo >/dev/null 2>&1 && { sudo -n true 2>/dev/null || [ -t 0 ]; }; then
    become=sudo
else
    echo "setup: these Debian packages are missing, and you have no right to install them:$missing" >&2
    echo "setup: ask an administrator to run:  apt-get install --no-install-recommends$missing" >&2
    exit 1
fi

echo "setup: installing Debian packages:$missing"
log=$(mktemp)
trap 'rm -f "$log"' EXIT
if ! { $become apt-get update && $become env DEBIAN_FRONTEND=noninteractive apt-get install -y --no-install-recommends $missing; } >"$log" 2>&1; then
    cat "$log" >&2
    echo "setup: the packages could not be installed; the lines above say why" >&2
    exit 1
fi
