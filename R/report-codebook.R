#' @include file-codebook.R
NULL

# A codebook to read, as one page: every variable with its meaning and how often each answer came.

codebook_format("html", function(book, path, overwrite) {
  need_package("htmltools", "a codebook to read")
  write_lines_whole(in_plain_settings(codebook_html(book)), path, overwrite)
})

codebook_html <- function(book) {
  tags <- htmltools::tags
  info <- info_of(book)
  told <- c(vapply(info$about, paste, "", collapse = "; "), grouped(row_count(book)),
    grouped(length(names(book))))
  facts <- setNames(told, c(about_fields[names(info$about)], "Rows", "Variables"))
  codes <- as.data.frame(codebook(book))
  page_html(paste("Codebook of", data_title(book)), list(facts_html(facts[names(facts) != "Title"]),
    tags$section(id = "variables", tags$h2("Variables"), search_html(), names_html(names(book),
      vapply(names(book), described_shortly, "", book = book), codes$label)),
    lapply(seq_along(names(book)), function(i) codebook_entry(codes[i, ], book))))
}

described_shortly <- function(name, book) {
  lower_case(paste(name, meaning_in(book, name)$label))
}

codebook_entry <- function(entry, book) {
  tags <- htmltools::tags
  name <- entry$name
  seen <- look_at(book, list(subject_of_variable(name, book)))
  facts <- c(Type = entry$type, Level = entry$level, "Asked if" = entry$asked, Range = entry$limits,
    "High means" = entry$high, Unit = entry$unit, Missing = entry$missing,
    Made = if (is_derived(book, name)) upper_first(made_shortly(name, book)),
    figures_of(seen))
  tags$section(class = "variable", id = paste0("v-", name),
    `data-search` = described_shortly(name, book), tags$h3(name, tags$small(entry$label)),
    if (nzchar(entry$note)) tags$p(entry$note), facts_html(facts),
    table_html(answers_in_codebook(seen, name, book), "Answers"),
    tags$p(class = "back", tags$a(href = "#variables", "To the list")))
}

# What the numbers are like.
figures_of <- function(seen) {
  figures <- as.data.frame(seen)[seen$part == "statistic", ]
  words <- statistic_words(figures, attr(seen, "subjects")[[1]]$kind)
  setNames(words, ifelse(figures$value == "sd", "SD", upper_first(figures$value)))
}

# How often each answer came; of texts without codes, and of more answers than anybody reads, only
# how many there are: they may be anybody's own words.
answers_in_codebook <- function(seen, name, book) {
  seen <- as.data.frame(seen)[seen$part != "statistic", ]
  values <- seen$part == "value"
  own_words <- !length(meaning_in(book, name)$codes) &&
    is.character(column_of(variable_in(book, name))$x)
  if (any(values) && (own_words || sum(values) > most_answers)) {
    all <- seen[values, ][1, ]
    all[c("value", "label")] <- c(counted(sum(values), "different answer"), "")
    all[c("rows", "percent")] <- lapply(seen[values, c("rows", "percent")], sum)
    seen <- rbind(all, seen[!values, ])
  }
  if (!nrow(seen)) return(NULL)
  out <- data.frame(answer = seen$value, label = ifelse(seen$part == "missing", "no answer",
    seen$label), rows = seen$rows, percent = to_percent(seen$percent))
  out[vapply(out, function(column) any(nzchar(column)), NA)]
}

most_answers <- 60
