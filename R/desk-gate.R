# Who is let in to the desk: only a browser on this machine that was given the address with its
# one-time key. The first request with the key spends it and gets a cookie; the page, the websocket
# and the downloads ask for that cookie from then on. A request is one as Rook has it: an
# environment or a list with QUERY_STRING, HTTP_COOKIE, HTTP_HOST, HTTP_ORIGIN.

# `key` and `pass` (what the cookie holds) are each 256 random bits; `patience`, after how many
# seconds without a page a new key is given.
new_gate <- function(port, patience = getOption("ableturn.desk_patience", 30)) {
  gate <- new.env(parent = emptyenv())
  gate$port <- port
  gate$key <- random_token()
  gate$pass <- random_token()
  gate$spent <- FALSE
  gate$patience <- patience
  gate
}

# Another key, for a browser that has lost its cookie; that of before is good until it is spent.
renew_key <- function(gate) {
  gate$key <- random_token()
  gate$spent <- FALSE
  if (!is.null(gate$page)) write_gate_page(gate)
}

# A page in a folder that only she can look into, which goes to the address: a browser is started
# with the path of a file, so that the key stands in no command line.
gate_page <- function(gate) {
  folder <- tempfile("desk-")
  dir.create(folder, mode = "0700")
  gate$page <- file.path(folder, "desk.html")
  write_gate_page(gate)
  gate$page
}

write_gate_page <- function(gate) {
  unlink(gate$page)
  put_bytes(gate$page, charToRaw(going_to(gate_address(gate))), TRUE, TRUE, 384L)
}

going_to <- function(address) {
  paste0("<!doctype html><title>Able Turn</title><link rel=\"icon\" href=\"data:,\">",
    "<meta http-equiv=\"refresh\" content=\"0;url=", address, "\">")
}

close_gate <- function(gate) if (!is.null(gate$page)) unlink(dirname(gate$page), recursive = TRUE)

gate_address <- function(gate) paste0("http://127.0.0.1:", gate$port, "/?key=", gate$key)

# What becomes of a request for the page: "in" with the cookie; "cookie" where it is to be set, as
# the key was right (with a page that goes on to the address without the key: a browser that comes
# from a file forgets such a cookie where it is sent on at once); else "refused".
gate_says <- function(gate, request) {
  if (!is_own_host(gate, request)) return("refused")
  if (has_pass(gate, request)) return("in")
  if (gate$spent || !equal_in_constant_time(key_in(request), gate$key)) return("refused")
  gate$spent <- TRUE
  gate$pass <- random_token() # the cookie of before ends
  "cookie"
}

# The websocket and downloads: the cookie, and no page of another origin.
gate_lets_in <- function(gate, request) {
  origin <- request$HTTP_ORIGIN
  own <- is.null(origin) || origin %in% paste0("http://", own_hosts(gate))
  is_own_host(gate, request) && has_pass(gate, request) && own
}

gate_cookie <- function(gate) {
  paste0(cookie_name(gate), "=", gate$pass, "; Path=/; HttpOnly; SameSite=Strict")
}

cookie_name <- function(gate) paste0("able_turn_", gate$port)

# A name that was made to lead here is no name of this machine.
is_own_host <- function(gate, request) isTRUE(request$HTTP_HOST %in% own_hosts(gate))

own_hosts <- function(gate) paste0(c("127.0.0.1:", "localhost:"), gate$port)

has_pass <- function(gate, request) {
  cookies <- strsplit(request$HTTP_COOKIE %||% "", ";\\s*")[[1]]
  mine <- cookies[startsWith(cookies, paste0(cookie_name(gate), "="))]
  length(mine) == 1 && equal_in_constant_time(sub("^[^=]*=", "", mine), gate$pass)
}

key_in <- function(request) {
  parts <- strsplit(sub("^[?]", "", request$QUERY_STRING %||% ""), "&", fixed = TRUE)[[1]]
  key <- parts[startsWith(parts, "key=")]
  if (length(key) == 1) sub("key=", "", key, fixed = TRUE) else ""
}

# Compared by their sums, so that the time tells nothing of how much of a word was right.
equal_in_constant_time <- function(a, b) identical(openssl::sha256(a), openssl::sha256(b))
