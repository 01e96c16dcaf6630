# Builds the pages of the help and the articles into site/, from the installed package, without
# asking any server.
options(pkgdown.internet = FALSE)
pkgdown::init_site(".")
pkgdown::build_home(".", preview = FALSE, quiet = TRUE)
pkgdown::build_reference(".", lazy = FALSE, preview = FALSE, devel = FALSE)
pkgdown::build_articles_index(".")
for (name in pkgdown::as_pkgdown(".")$vignettes$name) {
  pkgdown::build_article(name, ".", quiet = TRUE)
}
pkgdown::build_news(".", preview = FALSE)
pkgdown::build_search(".")

# The pages in docs/ and the pictures, to which the home page leads.
dir.create("site/docs", showWarnings = FALSE)
file.copy("docs/screenshots", "site/docs", recursive = TRUE)
to_page <- function(lines) gsub("(docs/[a-z-]+|[(\"][a-z-]+)[.]md\\b", "\\1.html", lines)
for (page in list.files("docs", "[.]md$", full.names = TRUE)) {
  title <- sub("^# ", "", readLines(page, 1))
  text <- tempfile(fileext = ".md")
  writeLines(to_page(readLines(page)), text)
  rmarkdown::pandoc_convert(text, "html", "markdown-citations", normalizePath("site/docs") |>
    file.path(sub("[.]md$", ".html", basename(page))),
  options = c("--standalone", "--metadata", paste0("pagetitle=", title), "--variable",
    "maxwidth=60em"))
}
home <- readLines("site/index.html")
writeLines(to_page(home), "site/index.html")

# Every link and picture within the site leads somewhere.
pages <- list.files("site", "[.]html$", recursive = TRUE, full.names = TRUE)
lost <- unlist(lapply(pages, function(page) {
  text <- paste(readLines(page, warn = FALSE), collapse = "\n")
  links <- regmatches(text, gregexpr("(?<=href=\"|src=\")[^\"#?]+", text, perl = TRUE))[[1]]
  links <- unique(links[!grepl("^([a-z]+:|//)", links)])
  gone <- links[!file.exists(file.path(dirname(page), utils::URLdecode(links)))]
  if (length(gone)) paste0(page, ": ", gone)
}))
if (length(lost)) stop("Links that lead nowhere:\n", paste(lost, collapse = "\n"))
cat("The pages are in site/index.html\n")
