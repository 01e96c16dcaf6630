# The report: all that it promises, in one file, in a real browser.
skip_on_cran() # long; make test runs it
for (package in c("ggplot2", "svglite", "htmltools")) skip_if_not_installed(package)

work <- quietly(demo_work() |>
  turn_bin(wait_min, as = "wait3", at = c(10, 30), accept = c("boundary" = "as the ferry company counts")) |>
  turn_collapse(ticket, as = "ticket4", rarer_than = 0.05) |> turn_dummy(island, reference = "Northholm") |>
  turn_compute(log(wait_min), as = "wait_log") |> turn_standardize(strain, within = island))
page <- tempfile(fileext = ".html")
report(work, page, title = "Ferry <report> & more")
html <- paste(readLines(page, encoding = "UTF-8"), collapse = "\n")

test_that("the page holds everything of every variable", {
  made <- core("derived_names")(work)
  expect_equal(lengths(regmatches(html, gregexpr("<svg ", html))), length(made) + 1)
  for (name in made) {
    part <- sub(paste0("(?s).*<section class=\"variable\" id=\"v-", name, "\".*?>(.*?)</section>.*"), "\\1", html,
      perl = TRUE)
    for (word in c("Made by", "Valid rows", "Formula", "Worked out for row", "In the base R script", "<svg ",
      "aria-label")) {
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
  watched <- paste0("<head>", script("window.wrong = []; window.onerror = function (m) { window.wrong.push(m); };"))
  probed <- paste0(script(readLines(test_path("page-probe.js"))), "</body>")
  probe <- temporary(sub("</body>", probed, sub("<head>", watched, html, fixed = TRUE), fixed = TRUE), ".html")
  said <- suppressWarnings(system2(browser[nzchar(browser)][1], c("--headless", "--no-sandbox", "--disable-gpu",
    paste0("--window-size=", width, ",800"), "--virtual-time-budget=3000", "--dump-dom", paste0("file://", probe)),
    stdout = TRUE, stderr = FALSE))
  told <- sub(".*<output id=\"probe\">(.*?)</output>.*", "\\1", paste(said, collapse = "\n"))
  jsonlite::fromJSON(gsub("&quot;", "\"", told))
}

test_that("in a browser the search and the links work, nothing overflows, nothing is fetched, nothing fails", {
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
