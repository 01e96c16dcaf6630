# The gate of the desk: the key once, then the cookie, and no other host or origin.

asked <- function(gate, host = "127.0.0.1:7000", key = NULL, cookie = NULL, origin = NULL) {
  list(HTTP_HOST = host, QUERY_STRING = if (is.null(key)) "" else paste0("?a=1&key=", key),
    HTTP_COOKIE = cookie, HTTP_ORIGIN = origin)
}

test_that("the key lets in once, and the cookie from then on", {
  gate <- core("new_gate")(7000)
  says <- function(...) core("gate_says")(gate, asked(gate, ...))
  lets <- function(...) core("gate_lets_in")(gate, asked(gate, ...))
  address <- core("gate_address")(gate)
  expect_match(address, "^http://127.0.0.1:7000/\\?key=[0-9a-f]{64}$")
  key <- sub(".*key=", "", address)
  for (wrong in list(NULL, "", "x", substr(key, 1, 63), paste0(key, "0"), toupper(key))) {
    expect_equal(says(key = wrong), "refused")
  }
  expect_equal(says(key = key, host = "evil.example:7000"), "refused")
  expect_equal(says(key = key, host = "127.0.0.1:7001"), "refused")
  expect_equal(says(key = key, host = NULL), "refused")
  expect_equal(says(key = key), "cookie")
  expect_equal(says(key = key), "refused") # spent
  set <- core("gate_cookie")(gate)
  expect_match(set, "; HttpOnly; SameSite=Strict$")
  cookie <- paste0("other=1; ", sub(";.*", "", set))
  expect_equal(says(cookie = cookie), "in")
  expect_false(grepl(key, set, fixed = TRUE))
  expect_true(lets(cookie = cookie, origin = "http://127.0.0.1:7000"))
  expect_true(lets(cookie = cookie))
  for (origin in c("http://evil.example", "http://127.0.0.1:7001", "null",
    "https://127.0.0.1:7000")) {
    expect_false(lets(cookie = cookie, origin = origin), info = origin)
  }
  expect_false(lets(origin = "http://127.0.0.1:7000"))
  expect_false(lets(cookie = paste0(cookie, "; ", sub("=.*", "=x", set))))
  expect_false(lets(cookie = sub(".$", "", cookie)))
  expect_false(core("gate_lets_in")(core("new_gate")(7000), asked(gate, cookie = cookie)))
})
