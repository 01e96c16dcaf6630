#!/bin/sh
# R CMD check in a temporary folder; fails on any error, warning or note.
# Compiled without symbols, as the size that is checked is that of a released build.
set -eu
room=$(mktemp -d)
trap 'rm -rf "$room"' EXIT
here=$(pwd)
cd "$room"
printf 'CXXFLAGS = -O2 -Wall -pedantic\nCXX14FLAGS = -O2 -Wall -pedantic\nLDFLAGS = -s\n' > Makevars
# It is built and then checked; what is compiled for the first is taken again for the second.
if command -v ccache > /dev/null; then
  printf 'CXX = ccache %s\n' "$(R CMD config CXX)" >> Makevars
  export CCACHE_DIR="$room/ccache"
fi
# long tables are tried as a whole by make test
export R_MAKEVARS_USER="$room/Makevars" MAKEFLAGS=-j2 ABLETURN_TESTS=
R CMD build "$here" > build.log 2>&1 || { cat build.log; exit 1; }
_R_CHECK_FORCE_SUGGESTS_=false R CMD check --no-manual ${CHECK_OPTIONS:-} ableturn_*.tar.gz > check.log 2>&1 || { cat check.log; cat ableturn.Rcheck/tests/*.fail 2>/dev/null; exit 1; }
if ! grep -q '^Status: OK' check.log; then cat check.log; exit 1; fi
grep '^Status' check.log
