# The page as it is sent: the frame of its panes, empty; what stands in them is sent to it when it
# is there and whenever it changes.

page_frame <- function(book) {
  tags <- htmltools::tags
  frame <- htmltools::tagList(
    tags$head(tags$title(paste("Desk:", data_title(book))), tags$meta(charset = "utf-8"),
      tags$meta(name = "viewport", content = "width=device-width, initial-scale=1"),
      tags$meta(`http-equiv` = "Content-Security-Policy", content = page_policy),
      tags$meta(name = "referrer", content = "no-referrer"),
      tags$link(rel = "icon", href = "data:,"),
      tags$link(rel = "stylesheet", href = "desk/desk.css"),
      lapply(desk_scripts, function(file) {
        tags$script(src = paste0("desk/", file), defer = NA)
      })),
    tags$body(tags$div(id = "desk", `data-state` = "starting",
      tags$a(class = "skip", href = "#variables", "To the variables"),
      tags$a(class = "skip", href = "#now", "To what is chosen"),
      tags$a(class = "skip", href = "#record", "To the record"),
      header_html(book), main_html(), dialog_html()), tags$div(id = "print"))
  )
  structure(frame, lang = "en")
}

# Nothing comes from elsewhere, and no script stands in the page itself, whatever is in the data.
page_policy <- paste("default-src 'none'; script-src 'self'; style-src 'self' 'unsafe-inline';",
  "img-src 'self' data:; font-src 'self'; connect-src 'self'; form-action 'none'; base-uri 'none'")

header_html <- function(book) {
  tags <- htmltools::tags
  tags$header(class = "top",
    tags$div(tags$h1("Able Turn ", tags$span(class = "quiet", data_title(book))),
      tags$div(id = "pane-kept", class = "quiet")),
    button_html("Open", "open_dialog", called = "Open data"),
    tags$nav(`aria-labelledby` = "leave-with", class = "leave",
      tags$span(id = "leave-with", class = "quiet", "Leave with"),
      Map(function(way, name) {
        button_html(way$word, "out", way = name, called = called_in_full(way))
      }, unname(ways_out), names(ways_out)), button_html("Close", "out", way = "close",
        called = "Close the desk")),
    tags$div(id = "status", role = "status", `aria-live` = "polite"),
    tags$div(id = "work", hidden = NA, tags$span(id = "work-said", role = "status"),
      button_html("Stop it", "stop_work")),
    tags$div(id = "trouble", role = "alert"))
}

# A name that begins with the word one sees.
called_in_full <- function(way) {
  if (startsWith(way$title, way$word)) way$title else paste0(way$word, ": ", lower_first(way$title))
}

main_html <- function() {
  tags <- htmltools::tags
  tags$main(class = "panes",
    tags$section(id = "variables", class = "pane", `aria-labelledby` = "variables-title",
      tags$h2(id = "variables-title", "Variables ", tags$span(id = "chosen-count", class = "quiet",
        `aria-live` = "polite")),
      list_tools_html(),
      tags$div(id = "pane-variables", class = "variable-list", role = "listbox", tabindex = "0",
        `aria-multiselectable` = "true", `aria-label` = "Variables; space takes one more",
        waiting_html("The variables are being listed ..."))),
    tags$section(id = "now", class = "pane", `aria-labelledby` = "now-title",
      tags$div(id = "pane-rescue"), tags$div(id = "pane-news"), tags$div(id = "pane-lesson"),
      tags$h2(id = "now-title", tabindex = "-1", "Now"),
      tags$div(id = "pane-last", `aria-live` = "polite"),
      tags$div(id = "pane-now", waiting_html("The data are being looked at ...")),
      tags$div(id = "pane-question"), tags$div(id = "pane-form")),
    tags$section(id = "record", class = "pane", `aria-labelledby` = "record-title",
      tags$div(id = "pane-trial", `aria-live` = "polite"),
      tags$h2(id = "record-title", "What was done"),
      tags$div(class = "tabs", role = "tablist", `aria-label` = "What was done, as",
        Map(tab_button, names(desk_tabs), desk_tabs, seq_along(desk_tabs))),
      tags$div(id = "pane-tab", role = "tabpanel", tabindex = "0",
        `aria-labelledby` = "tab-record", waiting_html("The record is being read ..."))),
    tags$datalist(id = "variable-names"))
}

# What stands in a pane until its first content is there.
waiting_html <- function(words) htmltools::tags$p(class = "quiet waiting", words)

desk_scripts <- c("desk-send.js", "desk-list.js", "desk-lines.js", "desk-form.js", "desk-grid.js",
  "desk-pick.js", "desk.js")

tab_button <- function(name, tab, place) {
  htmltools::tags$button(type = "button", role = "tab", id = paste0("tab-", name),
    `data-tab` = name, `aria-controls` = "pane-tab",
    `aria-selected` = if (place == 1) "true" else "false",
    tabindex = if (place == 1) "0" else "-1", tab$title)
}

dialog_html <- function() {
  htmltools::tags$dialog(id = "dialog", `aria-labelledby` = "leave-title",
    htmltools::tags$div(id = "pane-dialog"))
}
