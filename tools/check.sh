#!/bin/sh
# R CMD check in a temporary folder; fails on any error, warning or note.
set -eu
room=$(mktemp -d)
trap 'rm -rf "$room"' EXIT
here=$(pwd)
cd "$room"
printf 'CXXFLAGS = -O2 -Wall -pedantic\nCXX14FLAGS = -O2 -Wall -pedantic\n' > Makevars
# It is built and then checked; what is compiled for the first is taken again for the second.
if command -v ccache > /dev/null; then
  printf 'CXX = ccache %s\n' "$(R CMD config CXX)" >> Makevars
  export CCACHE_DIR="$room/ccache"
fi
# long tables are tried as a whole by make test
# The size that is looked at: byte code of some 3,500 functions is three megabytes of it, which nothing makes smaller.
export _R_CHECK_PKG_SIZES_THRESHOLD_=6
export R_MAKEVARS_USER="$room/Makevars" MAKEFLAGS=-j2 ABLETURN_TESTS=
R CMD build "$here" > build.log 2>&1 || { cat build.log; exit 1; }
_R_CHECK_FORCE_SUGGESTS_=false R CMD check --no-manual ${CHECK_OPTIONS:-} ableturn_*.tar.gz > check.log 2>&1 || { cat check.log; cat ableturn.Rcheck/tests/*.fail 2>/dev/null; exit 1; }
if ! grep -q '^Status: OK' check.log; then cat check.log; exit 1; fi
grep '^Status' check.log
