# The report as one page.
report_html <- function(book, title) {
  tags <- htmltools::tags
  names <- derived_names(book)
  told <- as.data.frame(findings(book))
  # a connection to a database cannot be used by two processes
  cores <- if (site_can(site_of(book), "several processes")) 2L else 1L
  parts <- in_parallel(report_pieces(names, book, told), cores)
  last <- length(parts)
  page_html(title, list(facts_html(summary_part(book, told)), findings_html(told),
    htmltools::HTML(parts[[1]]), list_html(names, book),
    lapply(parts[-c(1, last)], htmltools::HTML), htmltools::HTML(parts[[last]])))
}

# A page that can be searched; nothing is fetched, so it works anywhere. The first part stands under
# its title.
page_html <- function(title, parts) {
  tags <- htmltools::tags
  page <- tags$html(lang = "en",
    tags$head(tags$meta(charset = "utf-8"), tags$meta(name = "viewport",
      content = "width=device-width, initial-scale=1"),
    tags$title(title), tags$style(htmltools::HTML(report_asset("report.css")))),
    tags$body(
      tags$a(class = "skip", href = "#variables", "To the variables"),
      tags$header(tags$h1(title), parts[[1]]),
      tags$main(parts[-1]),
      tags$script(htmltools::HTML(report_asset("report.js")))
    )
  )
  c("<!DOCTYPE html>", strsplit(show_controls(htmltools::doRenderTags(page), "\n\t"), "\n",
    fixed = TRUE)[[1]])
}

report_asset <- function(file) {
  paste(readLines(system.file("report", file, package = "ableturn"), encoding = "UTF-8"),
    collapse = "\n")
}

# The parts that take time, each ready to be worked out: the lineage, the variables, the end.
report_pieces <- function(names, book, told) {
  variables <- lapply(seq_along(names), function(i) {
    function() variable_html(variable_part(names[i], book, told), report_figure(names[i], book, i))
  })
  c(function() lineage_html(book), variables, function() htmltools::tagList(end_html(book)))
}

# Two at a time where the system can; long work shows how far it is.
in_parallel <- function(pieces, most = 2L) {
  cores <- if (.Platform$OS.type == "unix" && length(pieces) > 4) most else 1L
  chunks <- split(pieces, (seq_along(pieces) - 1) %/% 24)
  progress <- progress_of(length(pieces), "variable")
  made <- 0
  unlist(lapply(chunks, function(chunk) {
    # What goes wrong in a piece is raised below.
    done <- suppressWarnings(parallel::mclapply(chunk, function(p) htmltools::doRenderTags(p()),
      mc.cores = cores))
    broken <- Filter(function(x) inherits(x, "try-error"), done)
    if (length(broken)) stop(attr(broken[[1]], "condition"))
    made <<- made + length(chunk)
    progress(made)
    done
  }), recursive = FALSE, use.names = FALSE)
}

facts_html <- function(facts) {
  tags <- htmltools::tags
  facts <- facts[nzchar(facts)]
  tags$dl(class = "facts", Map(function(key, value) tags$div(tags$dt(key), tags$dd(value)),
    names(facts), facts))
}

findings_html <- function(told) {
  tags <- htmltools::tags
  tags$section(id = "findings", tags$h2("Findings"),
    if (!nrow(told)) tags$p("Nothing looks wrong.") else
      tags$ul(class = "findings", lapply(seq_len(nrow(told)), function(i) finding_html(told[i, ]))))
}

finding_html <- function(f) {
  tags <- htmltools::tags
  sign <- if (nzchar(f$accepted)) "accepted" else if (f$severity == "warn") "open" else "note"
  tags$li(class = sign, tags$span(class = "sign", sign), " ", tags$span(f$what), " ",
    if (nzchar(f$accepted)) tags$span(class = "reason", paste0("Accepted: ", f$accepted)) else
      tags$span(class = "todo", f$todo), " ", tags$code(f$id))
}

lineage_html <- function(book) {
  tags <- htmltools::tags
  figure <- figure_lineage(book)
  tags$section(id = "lineage", tags$h2("Where the variables come from"),
    figure_html(figure, "lineage", "Originals on the left, derived variables to the right.", 10, 6))
}

list_html <- function(names, book) {
  found <- lapply(names, derived_in, book = book)
  htmltools::tags$section(id = "variables", htmltools::tags$h2("Derived variables"), search_html(),
    names_html(names, unlist(Map(search_text, names, found)),
      lapply(found, function(derived) derived$meaning$label)))
}

search_html <- function() {
  tags <- htmltools::tags
  tags$p(class = "search", tags$label(`for` = "search", "Search names, labels and sources"),
    tags$input(id = "search", type = "search", autocomplete = "off"),
    tags$span(id = "found", role = "status"))
}

# A list of links to the parts about each variable; `search` is what it is found by.
names_html <- function(names, search, labels = NULL) {
  tags <- htmltools::tags
  tags$ul(class = "names", lapply(seq_along(names), function(i) {
    tags$li(`data-search` = search[[i]], tags$a(href = paste0("#v-", names[i]), names[i]), " ",
      if (length(labels)) labels[[i]])
  }))
}

variable_html <- function(part, figure) {
  tags <- htmltools::tags
  tags$section(class = "variable", id = paste0("v-", part$name),
    `data-search` = part$search,
    tags$h3(part$name, tags$small(part$label)), tags$p(part$words), facts_html(part$facts), figure,
    if (nrow(part$findings)) tags$ul(class = "findings", lapply(seq_len(nrow(part$findings)),
      function(i) finding_html(part$findings[i, ]))),
    table_html(part$rules, "Rules, and the rows each caught"), table_html(part$cross,
      "Its source by the result, in rows"),
    tags$h4("Formula"), tags$pre(tabindex = "0", part$formula),
    if (!is.null(part$working)) list(tags$h4(paste("Worked out for", part$working$row)),
      tags$pre(tabindex = "0", paste(part$working$lines, collapse = "\n"))),
    tags$h4(part$script$title), tags$pre(tabindex = "0", paste(part$script$lines,
      collapse = "\n")),
    tags$p(class = "back", tags$a(href = "#variables", "To the list"))
  )
}

table_html <- function(table, caption) {
  if (is.null(table)) return(NULL)
  tags <- htmltools::tags
  number <- vapply(table, reads_as_number, NA)
  cell <- function(value, i) {
    tags$td(class = if (number[i]) "number", if (is.numeric(value)) grouped(value) else
      show_controls(as.character(value)))
  }
  row <- function(r) {
    head <- show_controls(as.character(table[r, 1]))
    tags$tr(tags$th(scope = "row", head),
      lapply(seq_along(table)[-1], function(i) cell(table[r, i], i)))
  }
  tags$div(class = "scroll", tabindex = "0", role = "region", `aria-label` = caption,
    tags$table(tags$caption(caption),
      tags$thead(tags$tr(lapply(names(table), function(n) {
        tags$th(scope = "col", show_controls(n))
      }))),
      tags$tbody(lapply(seq_len(nrow(table)), row))))
}

end_html <- function(book) {
  tags <- htmltools::tags
  whole <- function(dialect) {
    tags$details(tags$summary(dialects[[dialect]]$title),
      tags$pre(tabindex = "0", paste(script_lines(book, dialect), collapse = "\n")))
  }
  entries <- as.data.frame(codebook(book))
  entries <- entries[vapply(entries, function(column) any(nzchar(column)), NA)]
  list(
    tags$section(id = "methods", tags$h2("Methods paragraph"),
      tags$p(paste(methods_words(book), collapse = " "))),
    tags$section(id = "scripts", tags$h2("The whole scripts"), lapply(scripts_told(book), whole)),
    tags$section(id = "codebook", tags$h2("Codebook"), table_html(entries,
      "All variables, originals first"))
  )
}

# The figure of a variable as an image inside the page, with words for those who do not see it.
report_figure <- function(name, book, number) {
  figure <- figure_before_after(book, tidyselect::all_of(name))
  figure_html(figure, paste0("f", number), paste0(named_label(book, name), ". ",
    validity_words(book, name), "."))
}

figure_html <- function(figure, id, words, width = 9, height = 4.6) {
  drawn <- own_ids(drawn_lines(figure, width, height), id)
  drawn <- sub("<svg ", paste0("<svg role='img' aria-label=\"", htmltools::htmlEscape(words, TRUE),
    "\" "), drawn)
  htmltools::tags$figure(htmltools::HTML(drawn))
}

# Names of parts of a drawing, told apart from those of the other drawings of the page. Inside a tag
# only: what words of others say is not touched, as no tag can begin in them.
own_ids <- function(drawn, id) {
  drawn <- gsub("(<clipPath id=')cp", paste0("\\1", id, "cp"), drawn)
  gsub("(<[a-zA-Z][^<>]*clip-path='url\\(#)cp", paste0("\\1", id, "cp"), drawn)
}

# On a device of its own, which is closed whatever happens; those of the analyst stay open.
drawn_lines <- function(figure, width, height) {
  # Fonts are looked for by language, too; a figure is to look alike wherever it is drawn.
  withr::local_envvar(FC_LANG = "en")
  image <- svglite::svgstring(width = width, height = height, bg = "white", standalone = FALSE,
    fix_text_size = FALSE)
  device <- grDevices::dev.cur()
  tryCatch(print(figure), finally = grDevices::dev.off(device))
  paste(image(), collapse = "\n")
}
