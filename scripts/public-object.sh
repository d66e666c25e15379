#!/bin/sh
# SPDX-License-Identifier: MIT
# public-object.sh OUT LD OBJCOPY OBJECT...: one object out of many that has the names of the public headers alone. They
# are weak: where two such objects are linked together, each name of theirs is there twice.
set -eu
out=$1 ld=$2 objcopy=$3
shift 3
names=$out.names
sed -n 's/^ *\(tl_[a-z0-9_]*\);$/\1/p' "$(dirname "$0")/../abi/host.map" >"$names"
"$ld" -r -o "$out" "$@"
"$objcopy" --keep-global-symbols="$names" --weaken-symbols="$names" "$out"
rm "$names"
