library(testthat)
library(ableturn)

test_check("ableturn")
