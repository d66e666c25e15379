#!/bin/sh
# SPDX-License-Identifier: MIT
# headers.sh FOLDER: the public headers as pages for a browser (html) and for man (man3), in FOLDER. A warning is an error.
set -eu
cd "$(dirname "$0")/.."
mkdir -p "$1"
{
    cat docs/Doxyfile
    echo "OUTPUT_DIRECTORY = $1"
    echo "PROJECT_NUMBER = $(sed -n 's/^#define TINYLADDER_VERSION_[MP].* \([0-9]*\)$/\1/p' include/tinyladder/version.h | paste -sd.)"
} | doxygen - >"$1/doxygen.log" 2>"$1/warnings"
if [ -s "$1/warnings" ]; then
    cat "$1/warnings" >&2
    exit 1
fi
