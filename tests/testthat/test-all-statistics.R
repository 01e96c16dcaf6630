# Every statistic of every type of variable, alone, within groups and weighted, by every way,
# against R's own functions; and what is equal, whatever its bytes.
skip_on_cran()
skip_if_not_installed("RSQLite")

kinds <- data.frame(
  id = 1:24, g = c(rep(c("a", "b\r=", "c.d"), 7), NA, "a", "one"), h = rep(c(1.5, 2, 2.5, 2), 6),
  w = c(rep(c(1, 2, 0, 3), 5), NA, 2, 1, 1), n = c(5, -3, NA, 2.25, 8, 0, 1, 7:19, NA, 4, 2, 6),
  t = rep(c(TRUE, FALSE, TRUE, NA), 6), x = c(" 3", "1.5", NA, rep(c("2", "4e1", "-1"), 7)))
kinds$d <- as.Date("2031-03-01") + c(0, 400, 5, NA, 7, 6, 31:48)
kinds$u <- as.difftime(c(1:11, NA, 13:24) / 4, units = "hours")

# Over the valid rows of positive weight; whole weights are rows that stand there so often.
statistics <- list(
  mean = function(x, w) sum(w * x) / sum(w), sum = function(x, w) sum(w * x),
  min = function(x, w) min(x), max = function(x, w) max(x),
  median = function(x, w, type) stats::quantile(rep(x, w), 0.5, type = type, names = FALSE),
  quantile = function(x, w, type) stats::quantile(rep(x, w), 0.3, type = type, names = FALSE),
  sd = function(x, w) {
    n <- length(x)
    if (n < 2) NA else sqrt(sum(w * (x - sum(w * x) / sum(w))^2) / (sum(w) * (n - 1) / n))
  },
  mad = function(x, w, type) {
    middle <- function(x) stats::quantile(rep(x, w), 0.5, type = type, names = FALSE)
    1.4826 * middle(abs(x - middle(x)))
  })

expected <- function(what, name, within, weight) {
  x <- as.double(if (is.character(kinds[[name]])) as.numeric(kinds[[name]]) else kinds[[name]])
  w <- if (is.null(weight)) rep(1, 24) else kinds[[weight]]
  use <- !is.na(x) & !is.na(w) & w > 0
  by <- list(list(rep(1, 24)), kinds["g"], kinds[c("g", "h")])[[length(within) + 1]]
  cell <- match(do.call(paste, by), unique(do.call(paste, by)))
  of <- statistics[[what]]
  out <- vapply(seq_along(x), function(i) {
    if (any(is.na(lapply(by, `[`, i)))) return(NA_real_)
    rows <- use & cell == cell[i]
    if (!any(rows)) return(NA_real_)
    parts <- list(x[rows], w[rows], if (is.null(weight)) 7 else 2)
    as.double(do.call(of, parts[seq_along(formals(of))]))
  }, 0)
  if (name == "d" && !what %in% c("sd", "mad")) as.Date(floor(out), origin = "1970-01-01") else out
}

formula_for <- function(what, name, within, weight) {
  options <- c(if (what == "quantile") "0.3", if (length(within)) paste0("within = c(",
    paste(within, collapse = ", "), ")"), if (!is.null(weight)) paste("weight =", weight))
  parse(text = paste0(what, "(", paste(c(name, options), collapse = ", "), ")"))[[1]]
}

cells <- expand.grid(what = names(statistics), name = c("n", "d", "u", "t", "x"),
  groups = 0:2, weighted = c(FALSE, TRUE), stringsAsFactors = FALSE)
cells <- cells[!(cells$what == "sum" & cells$name == "d"), ]

all_cells <- function(book, cells) {
  for (i in seq_len(nrow(cells))) {
    at <- cells[i, ]
    formula <- formula_for(at$what, at$name, c("g", "h")[seq_len(at$groups)],
      if (at$weighted) "w")
    book <- quietly(turn_compute(book, !!formula, as = paste0("v", i)))
  }
  book
}

# In the order of the identifier.
expect_cells <- function(given, way, cells) {
  given <- given[order(given$id), ]
  for (i in seq_len(nrow(cells))) {
    at <- cells[i, ]
    right <- expected(at$what, at$name, c("g", "h")[seq_len(at$groups)], if (at$weighted) "w")
    x <- given[[paste0("v", i)]]
    info <- paste(c(way, unlist(at)), collapse = " ")
    expect_identical(inherits(x, "Date"), inherits(right, "Date"), info = info)
    expect_equal(as.double(x), as.double(right), tolerance = 1e-12, info = info)
  }
}

test_that("statistics are those of R and have the type of their variable, by every way", {
  book <- all_cells(turnbook(kinds, id = id), cells)
  expect_cells(as.data.frame(book), "memory", cells)
  path <- withr::local_tempfile(fileext = ".yaml")
  save_turns(book, path)
  expect_cells(as.data.frame(quietly(apply_turns(kinds[24:1, ], path))), "sheet", cells)
  expect_true(attr(prove(book), "proved"))
  spans <- paste0("v", which(cells$name == "u" & cells$what %in% c("mean", "mad")))
  expect_equal(unique(codebook(book)$unit[match(spans, codebook(book)$name)]), "hours")
})

# With few answers at a time, sums and ranks are asked for where the rows are. Each place is asked a
# third of them.
answers <- expand.grid(place = names(places_here()), most = c(6, 65535), stringsAsFactors = FALSE)
answers$part <- seq_len(nrow(answers)) %% 3
test_each("statistics of a table are the same", setNames(split(answers, seq_len(nrow(answers))),
  paste(answers$place, answers$most)), function(at, name) {
  stored <- kinds
  stored$u <- as.double(stored$u)
  connection <- table_on(at$place, quietly(turnbook(stored, id = id)), "kinds", by = "id")
  withr::local_options(ableturn.answers = at$most)
  asked <- cells[seq_len(nrow(cells)) %% 3 == at$part, ]
  ranks <- asked$weighted & asked$what %in% c("median", "quantile", "mad")
  if (at$most == 6) asked <- asked[!ranks, ]
  if (at$place == "sqlite") asked <- asked[asked$name != "d", ] # it keeps them as text
  made <- as.data.frame(all_cells(turnbook(connection, table = "kinds", id = id), asked))
  expect_cells(made, name, asked)
})

test_that("groups, dates and spans of turns go the same way", {
  book <- turnbook(kinds, id = id) |>
    turn_group(d, within = g, how = "max", as = "last") |>
    turn_group(d, within = c(g, h), how = "mean", as = "middle") |>
    turn_group(n, within = c(g, h), how = "median", as = "half") |>
    turn_group(n, within = c(g, h), how = "size", as = "rows") |>
    turn_compute(years_between(min(d, within = g), last), as = "years") |>
    turn_compute(last - d, as = "left") |> quietly()
  made <- as.data.frame(book)
  by <- interaction(match(kinds$g, kinds$g), kinds$h)
  day <- function(x) as.Date(floor(x), origin = "1970-01-01")
  expect_equal(made$last, day(ave(as.double(kinds$d), kinds$g, FUN = \(x) max(x, na.rm = TRUE)) +
    ifelse(is.na(kinds$g), NA, 0)))
  expect_equal(made$middle, day(ave(as.double(kinds$d), by, FUN = \(x) mean(x, na.rm = TRUE)) +
    ifelse(is.na(kinds$g), NA, 0)))
  rows <- ave(kinds$id, by, FUN = length) + ifelse(is.na(kinds$g), NA, 0)
  expect_equal(made$rows, as.integer(rows))
  expect_equal(made$left, as.double(made$last - kinds$d))
  expect_true(attr(prove(book), "proved"))
  same_on_engines(book, "groups")
  # learned values are kept for all statistics, and made anew for all when that is asked for
  path <- withr::local_tempfile(fileext = ".yaml")
  save_turns(quietly(turn_compute(turn_group(turnbook(kinds), n, within = h, as = "m1"),
    mean(n, within = h), as = "m2")), path)
  later <- transform(kinds, n = n + 100)
  for (how in c("recorded", "refit")) {
    again <- quietly(apply_turns(later, path, learned = how))
    expect_equal(again$m1, again$m2)
    expect_equal(mean(again$m1, na.rm = TRUE) > 50, how == "refit")
  }
})

test_each("what goes together is of one unit", list(
  differ = list(quote(u - m), "units_differ"), choice = list(quote(if (id > 2) u else m),
    "units_differ"), row = list(quote(row_mean(u, m)), "units_differ"),
  day = list(quote(d + u), "units_differ"), converted = list(quote(u - m / 60), NULL),
  apart = list(quote(d - min(d)), NULL), times = list(quote(u * m), NULL)), function(case, name) {
  data <- kinds
  data$m <- as.difftime(as.double(data$u) * 60, units = "mins")
  make <- function() quietly(turn_compute(turnbook(data, id = id), !!case[[1]], as = "y"))
  if (is.null(case[[2]])) return(expect_true(attr(prove(make()), "proved")))
  expect_error(make(), class = paste0("ableturn_error_", case[[2]]))
  # a sheet that was made with other units is told, too
  path <- withr::local_tempfile(fileext = ".yaml")
  save_turns(quietly(turn_flag(turnbook(data), u > 1, as = "f")), path)
  units(data$u) <- "mins"
  expect_error(quietly(apply_turns(data, path)), class = "ableturn_error_unit_changed")
})

# Texts that hold whatever a key may be joined by, and 0 with two signs.
joined <- data.frame(id = 1:12, t1 = rep(c("a\r=b", "a", "1=a", "a.b"), each = 3),
  t2 = rep(c("c", "b\r=c", "a\r1=a", "b.c"), 3), t3 = rep(c("a.b", "a", "a", "x"), 3),
  x = c(1:4, 10, 20, 30, 40, 2, 5, 9, 7), z = rep(c(0, -0, 5, -0), 3))

sizes <- list(memory = NULL, few = 4, many = 65535)
test_each("combinations of texts and 0 are told apart by what they are", sizes, function(most,
                                                                                         name) {
  right <- function(...) {
    cell <- match(paste(...), unique(paste(...)))
    vapply(seq_len(12), function(i) mean(joined$x[cell == cell[i]]), 0)
  }
  texts <- function(name) nchar(joined[[name]]) + 100 * match(joined[[name]], joined[[name]])
  places <- if (is.null(most)) "memory" else names(places_here())
  for (place in places) {
    withr::local_options(ableturn.answers = most)
    book <- if (place == "memory") {
      turnbook(joined, id = id)
    } else {
      turnbook(table_on(place, turnbook(joined, id = id), "joined", by = "id"), table = "joined",
        id = id)
    }
    book <- quietly(book |>
      turn_compute(mean(x, within = c(t1, t2)), as = "m12") |>
      turn_compute(mean(x, within = c(t1, t3)), as = "m13") |>
      turn_group(x, within = c(t2, t3), as = "m23") |>
      turn_compute(mean(x, within = z), as = "mz") |>
      turn_compute(paste0("v", z * -1), as = "vz") |>
      turn_recode(as = "k", becomes(1, t1 = "a", t2 = "b\r=c"), the_rest(0)) |>
      turn_compute(k + x, as = "s") |> turn_dummy(z))
    made <- as.data.frame(book)
    made <- made[order(made$id), ]
    expect_equal(made$m12, right(texts("t1"), texts("t2")), info = place)
    expect_equal(made$m13, right(texts("t1"), texts("t3")), info = place)
    expect_equal(made$m23, right(texts("t2"), texts("t3")), info = place)
    expect_equal(made$mz, right(joined$z + 0), info = place)
    expect_equal(made$vz, ifelse(joined$z == 0, "v0", "v-5"), info = place)
    expect_equal(made$s, joined$x + (joined$t1 == "a" & joined$t2 == "b\r=c"), info = place)
    expect_equal(made$z_5, as.integer(joined$z == 5), info = place)
    told <- look(book, k, s)
    expect_equal(sum(told$s$rows[told$s$part == "value"] %||% 12), 12, info = place)
    expect_true(attr(prove(book), "proved"), info = place)
  }
})

test_that("a table of norms tells bands of texts apart", {
  table <- data.frame(g1 = c("a\rb", "a"), g2 = c("c", "b\rc"), raw = "1 .. 5", scaled = c(10, 20))
  data <- data.frame(g1 = c("a\rb", "a"), g2 = c("c", "b\rc"), x = c(3, 3))
  made <- quietly(turn_norm(data, x, table = table, within = c(g1, g2), as = "n"))
  expect_equal(made$n, c(10, 20))
})

test_that("a table that has changed since the opening is told", {
  connection <- DBI::dbConnect(RSQLite::SQLite(), ":memory:")
  withr::defer(DBI::dbDisconnect(connection))
  DBI::dbWriteTable(connection, "t", data.frame(id = 1:10, x = 1:10, y = 2:11))
  book <- quietly(turn_flag(turnbook(connection, table = "t", id = id), x > 3, as = "f"))
  DBI::dbExecute(connection, "INSERT INTO t VALUES (11, 11, 2)")
  expect_error(turn_flag(book, y > 3, as = "g"), class = "ableturn_error_table_changed")
  expect_error(write_data(book, connection, table = "out"), class = "ableturn_error_table_changed")
  expect_false(DBI::dbExistsTable(connection, "out"))
})
