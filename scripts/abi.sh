#!/bin/sh
# SPDX-License-Identifier: MIT
# abi.sh: the linker's version script of the shared library, from the public headers: what they declare is exported,
# nothing else. abi/host.map holds the latest; `make abi` writes it anew, a test holds it against the headers.
set -eu
cd "$(dirname "$0")/.."
version=$(sed -n 's/^set(TINYLADDER_ABI \([0-9]*\)).*/\1/p' cmake/host.cmake)
echo "/* What libtinyladder-host exports: made by \`make abi\` from include/. */"
echo "TINYLADDER_$version {"
echo "  global:"
cat $(find include -name '*.h' ! -name bound.h | sort) |
    sed 's|/\*.*\*/||' |
    awk '/\/\*/ {inside = 1} !inside && !/^ *#/ && !/^ *static/ && !/typedef/ {print} /\*\// {inside = 0}' |
    grep -o '\btl_[a-z0-9_]*(\|^extern const .*;' | sed 's/(//; s/.* \(tl_[a-z0-9_]*\);/\1/' | LC_ALL=C sort -u | sed 's/^/    /; s/$/;/'
echo "  local: *;"
echo "};"
