# The desk in a real browser: who is not let in, and what strangers may put into data and files.

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
  on$say("until", code = "!document.querySelector('#trouble').textContent.includes('another')")
  titled <- "document.querySelector('#now-title').textContent.includes('income')"
  choose(on$say, "income")
  on$say("until", code = titled)
  on$say("reload")
  on$say("until", code = titled)
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
