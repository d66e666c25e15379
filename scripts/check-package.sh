#!/bin/sh
# SPDX-License-Identifier: MIT
# check-package.sh FOLDER: installs the packages of FOLDER in a clean Debian 12 that is made for this and gone afterwards; there the tour is
# taken, a sheet is drawn, a compiled program runs on the bench, and a small program is compiled against what is installed. As root.
# Where this computer gets its packages (/etc/apt), the clean one gets them.
set -eu
folder=$(cd "$1" && pwd)
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
cp "$folder"/*.deb "$work/"
rm -f "$work"/*-dbgsym_*
cat >"$work/hut.plan.yaml" <<'END'
tinyladder: plan 1
board: /usr/share/tinyladder/demo/lapwing.board.yaml
supplies: {pack: 6 V .. 8.4 V}
signals:
  pack: {source: {rail: pack}, stages: [divider: {upper: 18k ±1 %, lower: 10k ±1 %}], pin: L4, reading: {unit: V}}
END
cat >"$work/hut.c" <<'END'
#include <stdio.h>
#include <tinyladder/bench.h>
int main(void)
{
    tl_bench *bench = tl_bench_open("hut.plan.yaml", NULL, NULL);
    puts(bench != NULL ? "the bench is open" : "no bench");
    tl_bench_free(bench);
    return bench == NULL;
}
END
cat >"$work/use.sh" <<'END'
set -eu
export DEBIAN_FRONTEND=noninteractive
cd /root/packages
apt-get install -y --no-install-recommends ./*.deb gcc libc6-dev pkg-config >install.log 2>&1 || { cat install.log; exit 1; }
echo "installed: $(dpkg-query -W -f '${Package} ' 'tinyladder*' 'libtinyladder*')"
tinyladder demo --all >tour.txt
echo "tour: $(wc -l <tour.txt) lines"
tinyladder --outside check hut.plan.yaml | head -1
tinyladder --outside sheet hut.plan.yaml -o hut.pdf
cc -std=c11 hut.c $(pkg-config --cflags --libs tinyladder-host) -o hut-shared && ./hut-shared
cc -std=c11 -static-libgcc hut.c $(pkg-config --cflags --libs tinyladder-bench) -o hut-static && ./hut-static
cc -std=c11 -c -I/usr/include /usr/share/tinyladder/core/sweep.c -o sweep.o
tinyladder-bench-run --help | head -1
man -w tinyladder-check >/dev/null 2>&1 || test -e /usr/share/man/man1/tinyladder-check.1.gz
test -e /usr/share/doc/tinyladder/docs/first-steps.md
test -e /usr/share/doc/tinyladder/demo/fernhill.plan.yaml
apt-get purge -y 'tinyladder*' 'libtinyladder*' >purge.log 2>&1 || { cat purge.log; exit 1; }
echo "left behind: $(find /usr /etc /var/lib -path /var/lib/dpkg -prune -o -name '*tinyladder*' -print | wc -l) files"
END
sources=/etc/apt/sources.list
[ -s "$sources" ] || sources=/etc/apt/sources.list.d/debian.sources
mmdebstrap --quiet --variant=apt --dpkgopt='path-include=/usr/share/man/*' --dpkgopt='path-include=/usr/share/doc/*' \
    --customize-hook='mkdir "$1/root/packages"' --customize-hook="copy-in $work/. /root/packages" \
    --customize-hook='chroot "$1" sh /root/packages/use.sh >&2' bookworm /dev/null "$sources"
