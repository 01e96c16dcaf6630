# The report: all that it promises, in one file, in a real browser.
skip_on_cran() # long; make test runs it
for (package in c("ggplot2", "svglite", "htmltools")) skip_if_not_installed(package)

work <- quietly(demo_work() |>
  turn_bin(wait_min, as = "wait3", at = c(10, 30),
    accept = c("boundary" = "as the ferry company counts")) |>
  turn_collapse(ticket, as = "ticket4", rarer_than = 0.05) |>
  turn_dummy(island, reference = "Northholm") |>
  turn_compute(log(wait_min), as = "wait_log") |> turn_standardize(strain, within = island))
page <- tempfile(fileext = ".html")
report(work, page, title = "Ferry <report> & more")
html <- paste(readLines(page, encoding = "UTF-8"), collapse = "\n")

test_that("the page holds everything of every variable", {
  made <- core("derived_names")(work)
  expect_equal(lengths(regmatches(html, gregexpr("<svg ", html))), length(made) + 1)
  for (name in made) {
    part <- sub(paste0("(?s).*<section class=\"variable\" id=\"v-", name,
      "\".*?>(.*?)</section>.*"), "\\1", html, perl = TRUE)
    for (word in c("Made by", "Valid rows", "Formula", "Worked out for row",
      "In the base R script", "<svg ", "aria-label")) {
      expect_match(part, word, fixed = TRUE, info = paste(name, word))
    }
    expect_match(html, paste0("href=\"#v-", name, "\""), fixed = TRUE)
  }
  expect_match(html, "Accepted: as the ferry company counts", fixed = TRUE)
  expect_match(html, "wait_log` is undefined in 61 rows", fixed = TRUE)
  expect_match(html, "(strain) was the mean of 6 items", fixed = TRUE)
  expect_match(html, "Cronbach's alpha = 0.88", fixed = TRUE)
  expect_match(html, "<title>Ferry &lt;report&gt; &amp; more</title>", fixed = TRUE)
  expect_false(grepl("(src|href)=\"?(http|//)|url\\(http|@import", html))
  expect_lt(file.size(page), 2e6)
  ids <- regmatches(html, gregexpr("(?<=\\bid=['\"])[^'\"]+", html, perl = TRUE))[[1]]
  expect_equal(anyDuplicated(ids), 0)
})

test_that("a device that is open stays open", {
  grDevices::pdf(NULL)
  on.exit(grDevices::dev.off())
  before <- grDevices::dev.cur()
  report(work, tempfile(fileext = ".html"))
  expect_equal(grDevices::dev.cur(), before)
})

test_that("the same in Markdown, and what cannot be written is said", {
  path <- tempfile(fileext = ".md")
  report(work, path)
  lines <- readLines(path, encoding = "UTF-8")
  expect_true(all(paste0("### ", core("derived_names")(work), ":") %in% sub(":.*", ":", lines)))
  expect_true("| 1 | Occasional | 1 to 4 | 563 |" %in% lines)
  expect_true(any(grepl("Accepted: as the ferry company counts", lines, fixed = TRUE)))
  refused(report(work, path), "file-exists")
  refused(report(open_demo(), tempfile()), "no-turns")
  refused(report(work, tempfile(), format = "pdf"), "bad-choice")
})

# The page tells what it found about itself, in its last line, once its own script has run.
browser <- Sys.which(c("chromium", "chromium-browser", "google-chrome"))
look_in_browser <- function(width) {
  script <- function(lines) paste0("<script>", paste(lines, collapse = "\n"), "</script>")
  watched <- paste0("<head>",
    script("window.wrong = []; window.onerror = function (m) { window.wrong.push(m); };"))
  probed <- paste0(script(readLines(test_path("page-probe.js"))), "</body>")
  probe <- temporary(sub("</body>", probed, sub("<head>", watched, html, fixed = TRUE),
    fixed = TRUE), ".html")
  said <- suppressWarnings(system2(browser[nzchar(browser)][1],
    c("--headless", "--no-sandbox", "--disable-gpu",
      paste0("--window-size=", width, ",800"), "--virtual-time-budget=3000", "--dump-dom",
      paste0("file://", probe)), stdout = TRUE, stderr = FALSE))
  told <- sub(".*<output id=\"probe\">(.*?)</output>.*", "\\1", paste(said, collapse = "\n"))
  jsonlite::fromJSON(gsub("&quot;", "\"", told))
}

test_that("in a browser search and links work, nothing overflows, nothing is fetched or fails", {
  skip_if(!any(nzchar(browser)), "no browser here")
  for (width in c(1280, 500)) {
    told <- look_in_browser(width)
    expect_equal(told$errors, list(), info = width)
    expect_equal(told$requests, 0)
    expect_equal(told$deadlinks, list())
    expect_lte(told$scroll, told$window)
    expect_equal(told$all, length(core("derived_names")(work)))
    expect_equal(told$island, 5)
    expect_equal(told$strain_within, 1)
    expect_equal(told$none, 0)
    expect_equal(told$again, told$all)
    expect_true(told$status)
  }
  expect_true(told$phone > 300 && told$phone <= 400)
})

test_that("awkward data are drawn and reported, or refused in words, without a warning", {
  try_turn <- function(book, turn) tryCatch(quietly(turn(book)), ableturn_error = function(e) book)
  turns <- list(
    function(b) turn_recode(b, x, as = "k", becomes(1, upto(3)), the_rest(2)),
    function(b) turn_bin(b, x, as = "bands", at = c(2, 4)),
    function(b) turn_compute(b, x * 2, as = "d"),
    function(b) turn_compute(b, x + y, as = "s"), function(b) {
      turn_composite(b, c(x, y), as = "c",
        at_least = 1)
    },
    function(b) turn_standardize(b, x), function(b) turn_dummy(b, g),
    function(b) turn_flag(b, x > 1, as = "f")
  )
  in_words <- function(code) tryCatch(code, ableturn_error = function(e) NULL)
  grDevices::pdf(NULL)
  on.exit(grDevices::dev.off())
  for (data in sampled(frames, every = 8)) {
    book <- Reduce(try_turn, turns, core("as_book")(data))
    for (name in core("derived_names")(book)) {
      expect_no_warning(in_words(print(figure_flow(book, tidyselect::all_of(name)))))
    }
    if (!length(core("derived_names")(book))) next
    if ("c" %in% names(book)) {
      expect_no_warning(in_words(print(figure_items(book, c))))
      expect_no_warning(print(figure_missing(book, c)))
    }
    expect_no_warning(report(book, tempfile(fileext = ".html")))
    expect_no_warning(report(book, tempfile(fileext = ".md")))
  }
})

test_that("the methods paragraph has a sentence for every kind of turn", {
  folder <- tempfile()
  dir.create(folder)
  file.copy(vapply(demo_file(), demo_file, ""), folder)
  home <- setwd(folder)
  on.exit(setwd(home))
  book <- quietly(turnbook("ferry-survey.csv", codebook = "ferry-survey.codebook.json",
    id = person) |>
    define(age, missing = c("Not given" = 999)) |> define(income,
      missing = c("Refused" = 999999)) |>
    turn_recode(opinion, as = "for_it", becomes(1, 1, 2, label = "For"),
      becomes(0, 3, 4, 5, label = "Not for")) |>
    turn_reverse(c(st_2, st_5), limits = c(1, 5)) |> turn_rescale(tr_1, to = c(0, 100)) |>
    turn_composite(c(st_1, st_2_r, st_3), as = "strain", at_least = 2, high = "more strain") |>
    turn_standardize(strain, how = "t", within = island) |>
    turn_bin(age, as = "age3", at = c(30, 60)) |>
    turn_collapse(ticket, as = "ticket4", rarer_than = 0.05) |>
    turn_dummy(island, reference = "Northholm") |>
    turn_flag(wait_min > 30, as = "long_wait") |> turn_compute(income / household,
      as = "per_head") |>
    turn_crosswalk(occupation, table = "status-score.csv") |>
    turn_group(income, within = household_id) |>
    turn_key(qz_1:qz_5, key = "quiz-key.csv") |> turn_tally(c(use_work, use_school), of = 1,
      as = "uses") |>
    turn_interact(wait_min, hours) |> turn_instrument("ease-aboard.instrument.yaml") |>
    turn_norm(ease, table = "ease-norms.csv"))
  local_reproducible_output(width = 80)
  version <- as.character(packageVersion("ableturn"))
  told <- sub(version, "VERSION", core("methods_words")(book), fixed = TRUE)
  expect_snapshot(cat(strwrap(told, 100, exdent = 2), sep = "\n"))
})
