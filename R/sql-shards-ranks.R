# The numbers at some ranks over all shards: first how many numbers lie between some cuts, then the
# numbers between the two cuts where a rank lies. Only these leave a shard.

# See values_at_whole_ranks().
ranks_on_shards <- function(question, ranks) {
  cuts <- cuts_on_shards(question)
  counts <- counts_between(question, cuts)
  wanted <- ranks_between(counts, ranks)
  found <- values_between(question, cuts, wanted)
  at <- match_keys(c(lapply(counts$keys, `[`, wanted$group), wanted[c("between", "place")]),
    c(found$keys, found[c("between", "place")]))
  list(keys = lapply(found$keys, `[`, at), ranks = wanted$rank, values = found$values[at])
}

# Numbers in order between which about as many lie: each shard gives some of its own.
cuts_on_shards <- function(question) {
  engine <- question$site$engine
  each <- number_sql(max(10, ceiling(1000 / length(question$site$shards$each))), engine)
  placed <- c("SELECT s.ask_1,", row_number_sql(NULL, "s.ask_1"), "AS place, COUNT(*) OVER () AS n",
    question$from, finite_rows(question))
  spaced <- c("SELECT s.ask_1 FROM (", placed, ") AS s WHERE s.place % (s.n /", each, "+ 1) = 0")
  found <- fetch_asked(question, spaced, c(ask_1 = engine$real),
    function(from) paste("SELECT DISTINCT s.ask_1 FROM", from))
  cuts <- sort(as.double(found$ask_1))
  cuts[unique(round(seq(1, length(cuts), length.out = min(length(cuts), 2000))))]
}

finite_rows <- function(question) paste("WHERE", finite_test("s.ask_1", question$site$engine))

# The place of a number among the cuts.
between_sql <- function(cuts, engine) {
  if (!length(cuts)) return("0.0")
  values <- listed_sql(number_sql(cuts, engine))
  paste0("WIDTH_BUCKET(s.ask_1, CAST(ARRAY[", values, "] AS FLOAT8[]))")
}

# How many numbers of each group lie between two cuts.
counts_between <- function(question, cuts) {
  wide <- question
  wide$names <- c(question$names, "between")
  engine <- question$site$engine
  wide$columns <- c(question$columns, cast_sql(between_sql(cuts, engine), engine$real))
  wide$types <- c(question$types, engine$real)
  wide$like <- c(question$like, list(numeric()))
  keys <- wide$names[-1]
  found <- fetch_grouped(wide, keys, c(n = "COUNT(*)"), where = finite_rows(question))
  last <- length(keys)
  list(keys = found$keys[-last], between = found$keys[[last]], n = found$told$n)
}

# For each group, told by one of its rows in `counts`, and each rank the cuts between which it lies,
# and its place among the numbers there.
ranks_between <- function(counts, ranks) {
  groups <- groups_among(counts$keys, length(counts$n))
  rows <- lapply(seq_along(groups$first), function(i) {
    at <- which(groups$place == i)
    at <- at[order(counts$between[at])]
    upto <- cumsum(counts$n[at])
    ranks <- ranks[ranks < sum(counts$n[at])]
    which <- findInterval(ranks, upto) + 1
    data.frame(group = rep(at[1], length(ranks)), rank = ranks,
      between = counts$between[at][which], place = ranks - c(0, upto)[which])
  })
  do.call(rbind, c(list(data.frame(group = integer(), rank = numeric(), between = numeric(),
    place = numeric())), rows))
}

values_between <- function(question, cuts, wanted) {
  engine <- question$site$engine
  keys <- question$names[-1]
  groups <- paste0("s.", keys, recycle0 = TRUE)
  pairs <- unique(wanted[c("between", "place")])
  if (!nrow(pairs)) return(list(keys = rep(list(numeric()), length(keys))))
  of <- between_sql(cuts, engine)
  needed <- paste(of, "IN", paste0("(", listed_sql(number_sql(unique(pairs$between), engine)), ")"))
  counted <- c(paste("SELECT", listed_sql(c(groups, paste(cast_sql(of, engine$real), "AS between_"),
    "s.ask_1", paste(count_sql(engine), "AS n")))), question$from,
  paste(finite_rows(question), "AND", needed), "GROUP BY", listed_sql(c(groups, of, "s.ask_1")))
  types <- setNames(c(question$types[-1], rep(engine$real, 3)), c(keys, "between_", "ask_1", "n"))
  found <- fetch_asked(question, counted, types, function(from) {
    places_met(groups, pairs, engine, from)
  })
  list(keys = asked_values(found, question, keys), between = found$between_, place = found$place,
    values = as.double(found$ask_1))
}

# Those of some places that numbers take which come with their rows.
places_met <- function(groups, pairs, engine, from) {
  over <- listed_sql(c(groups, "s.between_"))
  once <- c("SELECT", listed_sql(c(groups, "s.between_", "s.ask_1", "SUM(s.n) AS n")), "FROM", from,
    "GROUP BY", listed_sql(c(groups, "s.between_", "s.ask_1")))
  upto <- c("SELECT s.*, SUM(s.n) OVER (PARTITION BY", over, "ORDER BY s.ask_1) AS upto FROM (",
    once, ") AS s")
  wanted <- listed_sql(paste0("(", number_sql(pairs$between, engine), ", ",
    number_sql(pairs$place, engine), ")"))
  c(paste("SELECT", listed_sql(c(groups, "s.between_", "s.ask_1",
    paste(cast_sql("w.place", engine$real), "AS place"))), "FROM ("), upto, ") AS s JOIN (VALUES",
  wanted, ") AS w (between_, place) ON w.between_ = s.between_ AND w.place < s.upto AND",
  "w.place >= s.upto - s.n")
}
