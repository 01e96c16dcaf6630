# Random draws as a pure function of seed and row identifier, by whole numbers below 2^53, so that
# the order of the rows and the back end do not matter. The mixing is by cubing modulo a prime,
# round after round, as in the cipher MiMC (Albrecht et al. 2016); cubing is a permutation there.
draw_prime <- 67108859

draw_rounds <- 8

mix_round <- function(x, key) {
  for (i in seq_len(draw_rounds)) {
    x <- (x + key + i * 7919) %% draw_prime
    x <- ((x * x) %% draw_prime * x) %% draw_prime
  }
  x
}

# A share between 0 and 1, never 0 or 1.
uniform_draw <- function(id, seed) {
  part <- id_parts(id)
  key <- seed %% draw_prime
  high <- mix_round(mix_round(part[[1]], key) + part[[2]], key)
  low <- mix_round(mix_round(part[[2]], key) + part[[1]], key)
  (high + (low + 0.5) / draw_prime) / draw_prime
}

# Two shares make a normal draw (Box and Muller 1958); neither is the uniform draw of the same seed.
normal_keys <- c(2000003, 1000003)

normal_draw <- function(id, seed) {
  share <- lapply(seed + normal_keys, uniform_draw, id = id)
  sqrt(-2 * log(share[[1]])) * cos(2 * pi * share[[2]])
}

# An identifier as two whole numbers below the prime.
id_parts <- function(id) {
  if (!is.character(id)) {
    id <- as.numeric(id)
    return(list(id %% draw_prime, floor(id / draw_prime) %% draw_prime))
  }
  list(text_number(id, 257), text_number(id, 65537))
}

text_number <- function(text, base) {
  vapply(text, function(t) {
    if (is.na(t)) {
      NA_real_
    } else {
      Reduce(function(h, code) (h * base + code) %% draw_prime, utf8ToInt(enc2utf8(t)), 0)
    }
  }, 0, USE.NAMES = FALSE)
}
