#!/bin/sh
# The reading and writing of tables of text (src/csv.h), guided by coverage: sh bench/attack/fuzz.sh [seconds].
# Without clang and its fuzzer it says so and stops. What fails is kept and named.
set -eu
seconds=${1:-60}
command -v clang++ > /dev/null || { echo "No clang here: nothing was tried."; exit 2; }
room=$(mktemp -d)
flags="-g -O1 -std=c++17"
clang++ $flags -fsanitize=fuzzer,address,undefined -fno-sanitize-recover=all bench/attack/fuzz_csv.cpp -o "$room/fuzz"
clang++ $flags -fsanitize=fuzzer -fprofile-instr-generate -fcoverage-mapping bench/attack/fuzz_csv.cpp -o "$room/count"
mkdir "$room/corpus"
for file in inst/extdata/*.csv; do head -c 400 "$file" > "$room/corpus/$(basename "$file")"; done
if ! "$room/fuzz" -max_total_time="$seconds" -max_len=400 -artifact_prefix="$room/" -print_final_stats=1 \
  "$room/corpus" > "$room/log" 2>&1; then
  tail -n 20 "$room/log"
  echo "The tables that failed are in $room"
  exit 1
fi
grep -E "number_of_executed_units" "$room/log"
cd "$room"
./count -runs=0 corpus > /dev/null 2>&1
llvm-profdata merge default.profraw -o all.profdata
llvm-cov report ./count -instr-profile=all.profdata 2> /dev/null | grep -E "^Filename|csv.h"
rm -rf "$room"
