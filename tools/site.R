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
cat("The pages are in site/index.html\n")
