#!/bin/sh
# The kernels with address and undefined-behaviour sanitizers, on the tests that reach them; then the plain build
# with the garbage collector at every 50th chance.
set -eu
room=$(mktemp -d)
trap 'rm -rf "$room"' EXIT
mkdir "$room/lib"
printf 'CXXFLAGS = -g -O1 -fsanitize=address,undefined -fno-omit-frame-pointer\nCXX14FLAGS = $(CXXFLAGS)\nCXX17FLAGS = $(CXXFLAGS)\nCXX11FLAGS = $(CXXFLAGS)\nLDFLAGS = -fsanitize=address,undefined\n' > "$room/Makevars"
cp -r . "$room/source"
rm -f "$room"/source/src/*.o "$room"/source/src/*.so
asan=$(g++ -print-file-name=libasan.so)
R_MAKEVARS_USER="$room/Makevars" R CMD INSTALL --no-test-load --no-docs -l "$room/lib" "$room/source" > "$room/log" 2>&1 || { tail -20 "$room/log"; exit 1; }
bad=0
for name in src src-index src-gone src-facts src-ways all-bounds book-facts book-receipt all-random; do
  R_LIBS="$room/lib" LD_PRELOAD="$asan" ASAN_OPTIONS=detect_leaks=0 UBSAN_OPTIONS=print_stacktrace=1 \
    Rscript tools/test.R "tests/testthat/test-$name.R" "$room/result.rds" > "$room/$name.log" 2>&1 || true
  if grep -qE "runtime error|AddressSanitizer" "$room/$name.log"; then bad=1; grep -E "runtime error|AddressSanitizer" "$room/$name.log" | sort | uniq -c | head -20; fi
  grep -q "FAIL 0 " "$room/$name.log" || bad=1
  echo "sanitized $name: $(tail -n 1 "$room/$name.log")"
done
cat > "$room/torture.R" <<'END'
library(ableturn)
options(ableturn.quiet = TRUE)
data <- data.frame(x = c(1:30, NA, 99), t = rep(c("a", "b", NA, "c"), 8), w = runif(32))
gctorture2(50)
book <- turnbook(data)
book <- define(book, x, missing = c(gone = 99))
book <- turn_recode(book, x, as = "r", becomes(1, upto(9)), becomes(2, from(10)))
book <- turn_composite(book, c(x, w), as = "s", at_least = 1)
book <- turn_standardize(book, x, within = t, how = "percentile")
book <- turn_bin(book, w, groups = 3, by = "gaps")
book <- turn_dummy(book, t)
few <- turnbook(data.frame(a = rep(c(1:5, NA), 40), b = rep(c(2, 4, 1, NA), 60), c = rep(c("u", "v", NA), 80)))
few <- turn_reverse(few, a, limits = c(1, 5))
few <- turn_composite(few, c(a_r, b), as = "s", at_least = 1)
few <- turn_standardize(few, s, as = "z")
few <- turn_recode(few, c, as = "d", becomes(1, "u"), the_rest(2))
stopifnot(length(few$z[c(3, 9)]) == 2, sum(is.na(few$d)) == 80, length(few$s) == 240)
path <- tempfile(fileext = ".csv")
write_data(book, path)
again <- turnbook(path)
gctorture2(0)
stopifnot(identical(dim(again), dim(book)))
cat("tortured: done\n")
END
Rscript "$room/torture.R" || bad=1
exit $bad
