# A book is a data frame: what R and packages do with data frames gives the same with a book as with
# the plain data frame, and what another package changed in a copy is noticed.
flagged <- function() {
  cars <- transform(datasets::mtcars, group = factor(cyl))
  quietly(turn_flag(define(cars, gear, missing = c("Not told" = 5)), mpg > 20, as = "far"))
}

same <- alist(
  rows = b[1:3, ], column = b[, 2], kept = b[, 2, drop = FALSE], some = b[c("mpg", "far")],
  name = b[["mpg"]], truth = b[b$mpg > 20, ], cell = b[1, 1], less = b[-1], head = head(b),
  numbers = b[vapply(b, is.numeric, NA)], gone = b[is.na(b)], tail = tail(b, 3),
  split = split(b, b$group), order = b[order(b$mpg), ], omit = na.omit(b), unique = unique(b),
  twice = duplicated(b), below = rbind(b, b), plain = rbind(as.data.frame(b), b),
  beside = cbind(b, k = 1), before = cbind(k = 1, b), frame = data.frame(b), reversed = rev(b),
  merged = merge(b, b[c("mpg", "far")], by = "mpg"), groups = aggregate(mpg ~ far, b, mean),
  by = aggregate(b["mpg"], b["far"], mean), with = with(b, mean(mpg)),
  subset = subset(b, mpg > 20, c(mpg, far)), each = lapply(b, class), matrix = as.matrix(b[1:3]),
  applied = apply(b[c("mpg", "far")], 1, sum), turned = t(b[1:3]), missing = sum(is.na(b)),
  complete = sum(complete.cases(b)), sums = rowSums(b[c("mpg", "wt")]), list = as.list(b),
  stacked = stack(b[c("mpg", "wt")]), long = reshape(b[c("mpg", "wt")], direction = "long",
    varying = c("mpg", "wt"), v.names = "v", timevar = "t"), table = table(b$far, b$group),
  model = coef(lm(mpg ~ wt + far, b)), logit = coef(glm(far ~ wt, stats::binomial, b)),
  rows_of_model = lapply(model.frame(mpg ~ far + group, b), c),
  design = model.matrix(mpg ~ far + group, b),
  counts = xtabs(~ far + group, b), parts = unclass(by(b, b$far, function(d) mean(d$mpg))),
  dimensions = dim(b), names = names(b), row_names = rownames(b),
  limits = range(b[c("mpg", "wt")]),
  greater = b["mpg"] > 20, levels = droplevels(b), test = t.test(mpg ~ far, b)$p.value,
  written = capture.output(utils::write.csv(b)), shown = capture.output(str(as.data.frame(b))),
  json = jsonlite::toJSON(b), slice = vctrs::vec_slice(b, 1:3), bound = vctrs::vec_rbind(b, b),
  together = vctrs::vec_c(b, b), distinct = vctrs::vec_unique(b), repeated = vctrs::vec_rep(b, 2),
  wider = vctrs::vec_cbind(b, data.frame(k = 1:32)),
  filled = vctrs::vec_assign(as.data.frame(b), 1L, b[2, ])
)

test_that("what R does with a data frame it does with a book", {
  b <- flagged()
  expect_identical(class(b), c("turnbook", "data.frame"))
  expect_identical(.subset2(b, "mpg"), datasets::mtcars$mpg)
  plain <- as.data.frame(b)
  expect_identical(class(plain), "data.frame")
  for (name in names(same)) {
    with_book <- eval(same[[name]], list(b = b))
    expect_equal(with_book, eval(same[[name]], list(b = plain)), info = name)
    expect_false(inherits(with_book, "turnbook"), info = name)
  }
  if (rlang::is_installed("RSQLite")) {
    connection <- withr::local_db_connection(DBI::dbConnect(RSQLite::SQLite()))
    DBI::dbWriteTable(connection, "b", b)
    expect_equal(DBI::dbReadTable(connection, "b")$far, b$far)
  }
})

# What packages do that take data frames; `of` is a function of one that may be there.
of <- function(package, name) getExportedValue(package, name)
packages <- alist(
  nlme = of("nlme", "fixef")(of("nlme", "lme")(mpg ~ wt, b, ~ 1 | group)),
  grouped = of("nlme", "gls")(mpg ~ wt + far, b)$coefficients,
  survival = summary(of("survival", "coxph")(of("survival", "Surv")(mpg, far) ~ wt,
    b))$coefficients,
  strata = of("survival", "survfit")(of("survival", "Surv")(mpg, far) ~ group, b)$surv,
  MASS = coef(of("MASS", "rlm")(mpg ~ wt + far, b)),
  lattice = of("lattice", "xyplot")(mpg ~ wt | group, b)$packet.sizes,
  ggplot2 = of("ggplot2", "layer_data")(of("ggplot2", "ggplot")(b, of("ggplot2", "aes")(wt, mpg,
    colour = group)) + of("ggplot2", "geom_point")()),
  facets = nrow(of("ggplot2", "ggplot_build")(of("ggplot2", "ggplot")(b,
    of("ggplot2", "aes")(mpg)) +
    of("ggplot2", "geom_histogram")(bins = 5) + of("ggplot2", "facet_wrap")("far"))$data[[1]]),
  knitr = of("knitr", "kable")(b[1:3, 1:4]), readr = of("readr", "format_csv")(b),
  tibble = of("tibble", "as_tibble")(b), yaml = of("yaml", "as.yaml")(b[1:2, ]),
  boxplot = graphics::boxplot(mpg ~ far, b, plot = FALSE)$stats,
  predicted = predict(lm(mpg ~ wt, b), b[1:3, ]), variance = anova(lm(mpg ~ wt + far, b))$F,
  groups = tapply(b$mpg, b$far, mean), reduced = Reduce(function(x, y) merge(x, y, by = "mpg"),
    list(b[c("mpg", "wt")], b[c("mpg", "far")])), factors = interaction(b[c("far", "group")]),
  components = stats::prcomp(b[c("mpg", "wt", "hp")])$sdev, distances = stats::dist(b[1:5, 1:3]),
  parallel = parallel::mclapply(1:2, function(i) sum(b$far), mc.cores = 1)
)

test_that("packages that take data frames take a book", {
  b <- flagged()
  plain <- as.data.frame(b)
  for (name in names(packages)) {
    code <- paste(deparse(packages[[name]]), collapse = " ")
    used <- unlist(regmatches(code, gregexpr("(?<=of\\(\")[A-Za-z0-9]+", code, perl = TRUE)))
    if (!all(vapply(used, rlang::is_installed, NA))) next
    run <- function(b) suppressWarnings(eval(packages[[name]], list(b = b)))
    expect_equal(run(b), run(plain), info = name, ignore_attr = "call")
  }
})

# An analyst's code; that of a package may do with a copy what it likes.
by_hand <- function(code, b) eval(code, list2env(list(b = b), parent = globalenv()))

test_that("a book is not opened again as new data unless that is said", {
  refused(turnbook(flagged()), "open-book")
  sheet <- withr::local_tempfile(fileext = ".yaml")
  save_turns(flagged(), sheet)
  refused(apply_turns(flagged(), sheet), "open-book")
  expect_equal(names(turnbook(as.data.frame(flagged()))), names(flagged()))
})

test_that("nothing can be assigned to a book by hand", {
  for (code in expression(b$k <- 1, b[["mpg"]] <- 1, b[1, 1] <- 2, names(b) <- letters[1:13],
    within(b, k <- 1), transform(b, k = 1))) {
    expect_error(by_hand(code, flagged()), class = "ableturn_error", info = deparse(code))
  }
  expect_warning(expect_null(by_hand(quote(b$geer), flagged())), "Did you mean `gear`")
})

# What packages may leave of a book, its class and all it remembers still on it.
changed_copies <- list(
  cells = list(function(b) replace_columns(b, mpg = b$mpg + 1), "changed: mpg"),
  made = list(function(b) replace_columns(b, far = 1L - b$far), "changed: far"),
  new = list(function(b) replace_columns(b, k = 1:32), "new: k"),
  gone = list(function(b) replace_columns(b, wt = NULL), "gone: wt"),
  rows = list(function(b) {
    rows <- lapply(unclass(b), `[`, 1:20)
    attributes(rows) <- replace(attributes(b), "row.names", list(.set_row_names(20L)))
    rows
  }, "rows: 32 before, 20 now")
)

replace_columns <- function(b, ...) {
  kept <- attributes(b)
  columns <- utils::modifyList(as.list(b), list(...))
  attributes(columns) <- replace(kept, "names", list(names(columns)))
  columns
}

test_each("a copy that was changed is noticed", changed_copies, function(case, name) {
  saved <- withr::local_tempfile()
  copy <- case[[1]](flagged())
  saveRDS(copy, saved)
  for (b in list(copy, readRDS(saved))) {
    said <- receipts(after <- turn_flag(b, cyl > 4, as = "large"))
    expect_match(gsub("\\s+", " ", paste(said, collapse = " ")), case[[2]], fixed = TRUE)
    expect_equal(core("original_names")(after), names(copy))
    expect_equal(core("meaning_in")(after, "far")$codes, c(No = 0, Yes = 1))
    expect_equal(after$large, as.integer(copy$cyl > 4))
  }
})

test_that("a copy that holds the same is the book", {
  b <- flagged()
  saved <- withr::local_tempfile()
  saveRDS(b, saved)
  again <- readRDS(saved)
  expect_identical(again, b)
  expect_equal(again$gear, b$gear)
  for (copy in list(b, again, replace_columns(b, mpg = b$mpg + 0), b[0:32 * 0 + 1, ])) {
    if (!inherits(copy, "turnbook")) next
    expect_length(receipts(after <- turn_flag(copy, far == 1, as = "same")), 7)
    expect_equal(core("original_names")(after), setdiff(names(b), "far"))
    expect_equal(after$same, b$far)
    expect_identical(capture.output(print(lineage(after))), capture.output(print(
      lineage(quietly(turn_flag(b, far == 1, as = "same"))))))
    expect_proved(after)
  }
  turned <- withr::local_tempfile()
  backwards <- unclass(b)[rev(names(b))]
  attributes(backwards) <- replace(attributes(b), "names", list(rev(names(b))))
  saveRDS(backwards, turned)
  for (copy in list(backwards, readRDS(turned))) {
    expect_equal(names(quietly(turn_flag(copy, far == 1, as = "same"))), c(names(b), "same"))
  }
  other <- readRDS(saved)
  packed <- core("kept_book")(attr(other, "turnbook"))
  core("keep_in")(attr(other, "turnbook"), replace(packed, "format", 99L), NULL)
  refused(turn_flag(other, mpg > 3, as = "m"), "book-of-other-version")
  forked <- if (.Platform$OS.type == "unix") parallel::mclapply(1:2, function(i) {
    quietly(turn_flag(b, cyl > !!i + 4, as = paste0("over", i)))
  }, mc.cores = 2)
  for (one in forked) expect_equal(core("derived_names")(one)[1], "far")
})
