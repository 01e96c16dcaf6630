#' Draw where derived variables come from
#'
#' Originals on the left, what was made from them to the right, each turn named
#' under its result. Many variables that all go the same way share a box.
#'
#' @param book A turnbook.
#' @param vars Derived variables; left out, all.
#' @return A ggplot.
#' @section Errors: Class `ableturn_error`, if nothing was made yet.
#' @examplesIf requireNamespace("ggplot2", quietly = TRUE)
#' book <- turnbook(demo_file("ferry-survey.csv"),
#'   codebook = demo_file("ferry-survey.codebook.json"), id = person)
#' book <- turn_composite(book, st_1:st_6, as = "strain", reversed = c(st_2, st_5))
#' book <- turn_standardize(book, strain)
#' figure_lineage(book)
#' @export
figure_lineage <- function(book, vars = NULL) {
  need_figures()
  book <- as_book(book)
  chosen <- rlang::enquo(vars)
  names <- if (rlang::quo_is_null(chosen)) last_names(book) else select_vars(book, chosen)
  rows <- do.call(rbind, lapply(names, function(name) lineage_of(name, name, 0, book)))
  if (is.null(rows)) fail("no-turns")
  title <- if (length(names) == 1) paste("Where", named_label(book, names), "comes from") else
    paste("Where", length(names), "variables come from")
  titled(lineage_figure(as.data.frame(rows)), title)
}

lineage_figure <- function(rows) {
  graph <- placed_graph(joined_nodes(graph_of(rows)))
  nodes <- graph$nodes
  size <- max(2.6, min(4.2, 60 / max(table(nodes$x))))
  ggplot2::ggplot() +
    ggplot2::geom_path(ggplot2::aes(x = .data$x, y = .data$y, group = .data$edge),
      edge_paths(graph), colour = tones[["quiet"]], linewidth = 0.5, alpha = 0.6) +
    ggplot2::geom_label(ggplot2::aes(x = .data$x, y = .data$y, label = .data$text), nodes,
      size = size, hjust = 0.5,
      fill = ifelse(nodes$by == "original", "#f1efe9", "#dcecef"), colour = tones[["ink"]],
      label.size = 0.2, label.padding = ggplot2::unit(0.32, "lines"), lineheight = 0.95) +
    ggplot2::scale_x_continuous(expand = ggplot2::expansion(add = 0.45)) +
    ggplot2::scale_y_continuous(expand = ggplot2::expansion(add = 0.06)) + figure_theme() +
    ggplot2::theme(axis.text = ggplot2::element_blank(),
      panel.grid.major = ggplot2::element_blank()) +
    ggplot2::labs(x = NULL, y = NULL)
}

# Nodes and edges, each once, from the rows of a lineage.
graph_of <- function(rows) {
  nodes <- rows[!duplicated(rows$name), c("name", "by", "from")]
  from <- strsplit(nodes$from, ", ", fixed = TRUE)
  edges <- data.frame(from = unlist(from), to = rep(nodes$name, lengths(from)))
  list(nodes = data.frame(name = nodes$name, by = nodes$by),
    edges = edges[edges$from %in% nodes$name, ])
}

# More than three variables that come from the same and go to the same become one node.
joined_nodes <- function(graph) {
  users <- vapply(graph$nodes$name, function(n) {
    paste(sort(graph$edges$to[graph$edges$from == n]),
      collapse = " ")
  }, "")
  made <- vapply(graph$nodes$name, function(n) {
    paste(graph$edges$from[graph$edges$to == n],
      collapse = " ")
  }, "")
  groups <- paste(graph$nodes$by, users, made)
  alike <- stats::ave(seq_along(groups), groups, FUN = length) > 3
  for (names in split(graph$nodes$name[alike], groups[alike])) graph <- one_node(graph, names)
  graph
}

one_node <- function(graph, names) {
  joined <- paste0(short_words(names[1], 16), " to ", short_words(names[length(names)], 16), " (",
    length(names), ")")
  graph$nodes$name[graph$nodes$name == names[1]] <- joined
  graph$nodes <- graph$nodes[!graph$nodes$name %in% names, ]
  graph$edges$from[graph$edges$from %in% names] <- joined
  graph$edges$to[graph$edges$to %in% names] <- joined
  graph$edges <- unique(graph$edges)
  graph
}

# A node stands one step right of all it is made from; within a step near the middle of its sources.
placed_graph <- function(graph) {
  nodes <- graph$nodes
  step <- setNames(rep(0, nrow(nodes)), nodes$name)
  for (round in seq_along(step)) {
    for (i in seq_len(nrow(graph$edges))) {
      step[graph$edges$to[i]] <- max(step[graph$edges$to[i]], step[graph$edges$from[i]] + 1)
    }
    if (round > max(step)) break
  }
  nodes$x <- unname(step[nodes$name])
  nodes$y <- NA_real_
  for (s in sort(unique(nodes$x))) {
    here <- which(nodes$x == s)
    nodes$y[here] <- even_places(vapply(nodes$name[here], wanted_place, 0, graph = graph,
      nodes = nodes))
  }
  between <- if (max(table(nodes$x)) > 12) ": " else "\n"
  nodes$text <- paste0(short_words(nodes$name, 44), ifelse(nodes$by == "original", "",
    paste0(between, nodes$by)))
  list(nodes = nodes, edges = graph$edges)
}

wanted_place <- function(name, graph, nodes) {
  y <- nodes$y[nodes$name %in% graph$edges$from[graph$edges$to == name]]
  users <- match(graph$edges$to[graph$edges$from == name], nodes$name)
  if (length(y) && !all(is.na(y))) mean(y, na.rm = TRUE) else -min(users, nrow(nodes)) / nrow(nodes)
}

even_places <- function(wanted) {
  n <- length(wanted)
  if (n == 1) return(if (is.na(wanted) || wanted < 0) 0.5 else wanted)
  y <- numeric(n)
  y[order(wanted)] <- seq(0, 1, length.out = n)
  y
}

edge_paths <- function(graph) {
  at <- function(name) graph$nodes[match(name, graph$nodes$name), c("x", "y")]
  start <- at(graph$edges$from)
  end <- at(graph$edges$to)
  step <- seq(0, 1, length.out = 20)
  bend <- (1 - cos(pi * step)) / 2
  do.call(rbind, lapply(seq_len(nrow(graph$edges)), function(i) {
    data.frame(edge = i, x = start$x[i] + (end$x[i] - start$x[i]) * step,
      y = start$y[i] + (end$y[i] - start$y[i]) * bend)
  }))
}
