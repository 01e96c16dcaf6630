# Every page of the desk in a real browser: by the keyboard alone, for who cannot see it, narrow and
# dark; what is typed wrongly; and who is not let in.

# What stands open for each kind of turn, and something wrong to type into one of its fields.
pages <- list(
  recode = list("crossings", ".range .when", "4 .. 1", ".range .becomes", "1"),
  collapse = list("ticket", "#f-rarer_than", "often"), bin = list("age", "#f-at", "x"),
  reverse = list("md_1", "#f-limits", "5 1"),
  composite = list(c("st_1", "st_3"), "#f-at_least", "9"),
  dummy = list("island", "#f-as", "age"), flag = list("age", "#f-condition", "system('x') > 1"),
  compute = list("age", "#f-formula", "agee + 1"),
  standardize = list("income", "#f-within", "nobody"),
  rescale = list("md_1", "#f-to", "1"), tally = list(c("use_work", "use_care"), "#f-of", "9 .. 1"),
  key = list(c("qz_1", "qz_2"), "#f-wrong", "none"), norm = list("st_1", ".path", "no.csv"),
  crosswalk = list("occupation", ".path", "no.csv"), group = list("income", "#f-within", "nobody"),
  change = list("wait_min", "#f-unit", "nobody"), interact = list("wait_min", "#f-b", "nobody"),
  instrument = list("age", ".path", "no.yaml"),
  must_hold = list("age", "#f-condition", "children <="),
  define = list("crossings", "#f-limits", "5 1")
)

# What an independent checker finds on the page as it stands, wide and narrow, light and dark; and
# whether it is wider than the window.
expect_open_to_all <- function(say, page) {
  for (width in c(1280, 400)) {
    say("size", width = width, height = 800)
    for (dark in c(FALSE, TRUE)) {
      say("dark", on = dark)
      expect_equal(unlist(say("axe")), NULL, info = paste(page, width, dark))
    }
    over <- "document.documentElement.scrollWidth - document.documentElement.clientWidth"
    expect_lte(say("ask", code = over), 0)
  }
  say("size", width = 1280, height = 800)
  say("dark", on = FALSE)
}

test_that("every page is open to all, and what is wrong is told at its field and changes nothing", {
  skip_without_browser()
  expect_setequal(names(pages), vapply(core("all_desk_forms")(), `[[`, "", "verb"))
  on <- open_desk()
  say <- on$say
  expect_open_to_all(say, "start")
  for (verb in names(pages)) {
    page <- pages[[verb]]
    choose(say, page[[1]])
    answer_with(say, verb)
    for (place in seq(2, length(page), 2)) {
      say("type", at = page[[place]], text = page[[place + 1]])
    }
    say("key", key = "Enter")
    expect_match(say("text", at = "#pane-trial"), "Not yet", info = verb)
    expect_gt(nchar(paste(say("text", at = ".field-error"), collapse = "")), 20)
    expect_open_to_all(say, verb)
    keep(say)
    expect_equal(say("count", at = ".card"), 0, info = verb)
    say("key", key = "Escape")
  }
  choose(say, c("st_1", "st_3"))
  say("click", at = "[data-do=items]")
  expect_open_to_all(say, "items")
  for (way in c(names(core("ways_out")), "close")) {
    say("click", at = paste0(".leave [data-way=", way, "]"))
    expect_open_to_all(say, way)
    say("key", key = "Escape")
  }
  a_session(say)
  choose(say, "rider3")
  for (tab in names(core("desk_tabs"))) {
    say("click", at = paste0("#tab-", tab))
    expect_open_to_all(say, tab)
  }
  expect_length(say("heard")$errors, 0)
})

test_that("the keyboard alone does all of it", {
  skip_without_browser()
  on <- open_desk("desk(open = FALSE)")
  key <- function(key, times = 1) on$say("key", key = key, times = times)
  write <- function(text) on$say("write", text = text)
  # Tab until something has the keyboard that this fits; each place it comes to has a name.
  to <- function(code) {
    for (i in 1:80) {
      key("Tab")
      if (isTRUE(on$say("ask", code = paste0("document.activeElement.matches(\"", code, "\")")))) {
        return(invisible())
      }
    }
    stop("the keyboard does not come to ", code)
  }
  to("#search")
  write("reversed st_2 calm")
  on$say("ask", code = "document.getElementById('search').value = ''")
  write("calm")
  on$say("until", code = "document.querySelectorAll('[role=option]').length === 1")
  to("#pane-variables")
  key("ArrowDown")
  key("Enter")
  expect_match(on$say("text", at = "#now-title"), "st_2")
  to("[data-do=ask][data-verb=reverse]")
  key("Enter")
  to("#f-limits")
  key("Control+a")
  write("1 5")
  to("#form button.main")
  key("Enter")
  expect_equal(on$say("ask", code = "document.activeElement.id"), "now-title")
  expect_match(on$say("text", at = "#now-title"), "st_2_r")
  to(".card [data-do=amend]")
  key("Enter")
  to("#f-limits")
  key("Control+a")
  write("0 6")
  key("Control+Enter")
  to("[data-do=undo]")
  key("Enter")
  expect_equal(on$say("ask", code = "document.activeElement.dataset.do"), "undo")
  to("#tab-record")
  key("ArrowRight")
  expect_match(on$say("text", at = "#pane-tab"), "limits = c[(]1, 5[)]")
  on$say("click", at = "[data-way=sheet]")
  key("Control+a")
  write("by-keys.turns.yaml")
  key("Enter")
  expect_true(file.exists(file.path(on$room, "by-keys.turns.yaml")))
})

test_that("only the browser with the key is let in, once, and one page at a time works", {
  skip_without_browser()
  on <- open_desk()
  bare <- sub("[?].*", "", on$address)
  for (url in c(bare, paste0(bare, "?key=", strrep("0", 64)), on$address)) {
    expect_equal(on$say("open", url = url, name = "other", fresh = TRUE), 403)
    expect_false(on$say("ask", code = "document.documentElement.innerHTML.includes('crossings')"))
  }
  # a page of another origin that opens the websocket gets nothing, nor does one without the cookie
  socket <- paste0("new Promise((done) => { const s = new WebSocket('", sub("http", "ws", bare),
    "websocket/'); let told = ''; s.onopen = () => s.send(JSON.stringify({method: 'init',",
    " data: {}})); s.onmessage = (m) => { if (!told) s.send(JSON.stringify({method:",
    " 'update', data: {said: JSON.stringify({do: 'hello', n: 1})}})); told += m.data; };",
    " s.onclose = () => done(told); setTimeout(() => done(told), 4000); })")
  expect_no_match(on$say("ask", code = socket), "crossings")
  on$say("turnto", name = "main")
  # on this machine, cookies go to all ports: that the page is of another one is what is refused
  stranger <- new_desk_process("desk(open = FALSE)", withr::local_tempdir())
  on$say("open", url = sub("[?].*", "", stranger$address), name = "stranger")
  expect_no_match(on$say("ask", code = socket), "crossings")
  on$say("turnto", name = "main")
  expect_match(on$say("ask", code = socket), "crossings")
  on$say("reload")
  on$say("open", url = bare, name = "second")
  on$say("until", code = "document.querySelectorAll('[role=option]').length > 0")
  on$say("turnto", name = "main")
  expect_match(on$say("text", at = "#trouble"), "another window")
  choose(on$say, "income")
  expect_match(on$say("text", at = "#trouble"), "another window")
  on$say("click", at = "#trouble button")
  choose(on$say, "income")
  expect_match(on$say("text", at = "#now-title"), "income")
  on$say("reload")
  on$say("until", code = "document.querySelectorAll('[role=option]').length > 0")
  expect_match(on$say("text", at = "#now-title"), "income")
})

test_that("hostile names, labels, values and files are text, and large files are not sent", {
  skip_without_browser()
  code <- paste0("desk(define(turnbook(data.frame(x = rep(1:3, 9), t = rep(c('<b>a', '\"><img",
    " src=x onerror=alert(1)>', '</pre><script>alert(2)</script>'), 9))), x, label =",
    " '<script>window.hit = 1</script>', codes = c('<img src=x onerror=\"window.hit=1\">' = 1)),",
    " open = FALSE)")
  on <- open_desk(code)
  say <- on$say
  choose(say, "t")
  answer_with(say, "recode")
  say("type", at = ".values input >> nth=0", text = "<img src=x onerror='window.hit=1'>")
  say("type", at = "#f-label", text = "<script>window.hit = 1</script>")
  say("type", at = "#f-as", text = "<i>new</i>")
  keep(say)
  choose(say, "x")
  for (tab in names(core("desk_tabs"))) say("click", at = paste0("#tab-", tab))
  expect_null(say("ask", code = "window.hit"))
  made <- "document.querySelectorAll('#desk img, #desk i, pre b').length"
  expect_equal(say("ask", code = made), 0)
  answer_with(say, "crosswalk")
  big <- withr::local_tempfile(fileext = ".csv")
  con <- file(big, "wb")
  seek(con, 2e8)
  writeBin(as.raw(10), con)
  close(con)
  say("file", at = "#f-table", path = big)
  expect_match(say("text", at = "[data-field=table] .field-error"), "larger than 5 MB")
  named <- file.path(withr::local_tempdir(), "<img src=x onerror=window.hit=1>.csv")
  writeLines(c("code,value", "1,10", "2,20", "3,30"), named)
  say("file", at = "#f-table", path = named)
  expect_match(say("text", at = "#pane-trial"), "What would come of it")
  keep(say)
  expect_null(say("ask", code = "window.hit"))
  expect_length(say("heard")$errors, 0)
})
