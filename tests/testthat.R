library(testthat)
library(drystack)

test_check("drystack")
