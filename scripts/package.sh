#!/bin/sh
# SPDX-License-Identifier: MIT
# package.sh FOLDER: the Debian packages of this source tree, made in a copy of it, in FOLDER; then what lintian says of them. Its
# errors are ours.
set -eu
cd "$(dirname "$0")/.."
mkdir -p "$1"
folder=$(cd "$1" && pwd)
version=$(sed -n '1s/.*(\(.*\)).*/\1/p' debian/changelog)
rm -rf "${folder:?}"/*
mkdir "$folder/tinyladder-$version"
git ls-files -z --cached --others --exclude-standard | xargs -0 -I{} sh -c '[ ! -e "$1" ] || cp --parents -P "$1" "$2"' - {} "$folder/tinyladder-$version"
(cd "$folder/tinyladder-$version" && DEB_BUILD_OPTIONS="nocheck parallel=$(nproc)" dpkg-buildpackage -us -uc -b >"$folder/build.log" 2>&1) || {
    tail -40 "$folder/build.log" >&2
    exit 1
}
ls "$folder"/*.deb
lintian --fail-on error "$folder"/*.changes
