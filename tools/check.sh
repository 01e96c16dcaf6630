#!/bin/sh
# R CMD check in a temporary folder; fails on any error, warning or note.
# The size is counted without the debug symbols of a local build.
set -eu
room=$(mktemp -d)
trap 'rm -rf "$room"' EXIT
here=$(pwd)
cd "$room"
R CMD build "$here" > build.log 2>&1 || { cat build.log; exit 1; }
_R_CHECK_FORCE_SUGGESTS_=false R CMD check --no-manual --install-args=--strip ableturn_*.tar.gz > check.log 2>&1 || { cat check.log; cat ableturn.Rcheck/tests/*.fail 2>/dev/null; exit 1; }
if ! grep -q '^Status: OK' check.log; then cat check.log; exit 1; fi
grep '^Status' check.log
