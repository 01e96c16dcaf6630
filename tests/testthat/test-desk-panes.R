# The desk in a real browser: what stands beside its forms, and the keyboard alone.

test_that("the panes, the ways to leave and the tabs are open to all", {
  skip_without_browser()
  on <- open_desk()
  say <- on$say
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
  key("ArrowRight", 2)
  expect_match(on$say("text", at = "#pane-tab"), "limits = c[(]1, 5[)]")
  on$say("click", at = "[data-way=sheet]")
  key("Control+a")
  write("by-keys.turns.yaml")
  key("Enter")
  expect_true(file.exists(file.path(on$room, "by-keys.turns.yaml")))
})
