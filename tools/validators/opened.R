# Opens the files that writers.py and two packages for R wrote, and compares what is there with what
# was written. Use: Rscript opened.R FOLDER
suppressMessages(library(ableturn))
options(ableturn.quiet = TRUE)
folder <- commandArgs(TRUE)[1]
inside <- function(...) file.path(folder, ...)
table <- data.frame(id = c("007", "008", "009"), q = c(1L, 9L, 2L), cost = c(1234.5, 0.1, NA),
  when = as.Date(c("2031-02-28", "2031-03-01", NA)), sure = c(TRUE, FALSE, NA),
  said = c("\u00e9t\u00e9; \"good\"", "two\nlines", NA))

tell <- function(file, writer, same, what) {
  state <- if (length(same) && all(same)) "ok" else "FAILED"
  cat(state, file, writer, paste0(what, "\n"), sep = "\t")
}

opened <- function(file, writer, reading = NULL, as_texts = character()) {
  data <- tryCatch(read_data(inside(file), reading = reading), error = identity)
  if (inherits(data, "error")) return(tell(file, writer, FALSE, conditionMessage(data)))
  wanted <- table
  for (name in as_texts) wanted[[name]] <- as.character(wanted[[name]])
  plain <- function(x) if (is.integer(x)) as.double(x) else x
  same <- vapply(names(wanted), function(name) {
    identical(plain(data[[name]]), plain(wanted[[name]]))
  }, NA)
  tell(file, writer, same, if (all(same)) sprintf("%d columns, %d values", ncol(wanted),
    ncol(wanted) * nrow(wanted)) else paste("not the same:", toString(names(same)[!same])))
}

opened("comma.csv", "csv, UTF-16 (Python)")
opened("plain.csv.gz", "csv, gzip (Python)")
opened("lines.jsonl", "json (Python)", as_texts = "when")
opened("table.xlsx", "openpyxl (Python)", list(table = "Answers"))
opened("table.ods", "odf (Python)", list(table = "Answers"))

# A column whose values are places in a dictionary is a factor.
dictionary <- read_data(inside("dictionary.parquet"))
tell("dictionary.parquet", "apache-arrow (JavaScript)", c(
  identical(dictionary$ticket, factor(c("Single", "Return", NA, "Single"), c("Single", "Return"))),
  identical(dictionary$cost, c(1.5, 0.1, NA, 1234.5)),
  identical(dictionary$said, c("\u00e9t\u00e9", "=1+1", NA, ""))
), "a factor of 2 levels, 3 columns, 12 values")

# Data Packages with labels, as two packages write them.
answers <- table
answers$q <- as.integer(answers$q)
schema <- frictionless::create_schema(answers)
schema$fields[[2]]$categories <- list(list(value = 1, label = "No"), list(value = 2, label = "Yes"))
schema$fields[[2]]$missingValues <- list(list(value = "9", label = "Refused"))
package <- frictionless::add_resource(frictionless::create_package(), "answers", answers, schema)
dir.create(inside("frictionless"))
frictionless::write_package(package, inside("frictionless"))
opened(file.path("frictionless", "datapackage.json"), "frictionless (R)")
book <- turnbook(inside("frictionless", "datapackage.json"))
told <- as.data.frame(codebook(book))[2, c("codes", "missing")]
tell("frictionless/datapackage.json", "frictionless (R)", told == c("1 = No; 2 = Yes",
  "9 = Refused"), paste(unlist(told), collapse = "; "))

dir.create(inside("datapackage"))
made <- datapackage::new_datapackage(inside("datapackage"), name = "answers")
answers$f <- factor(c("No", "Yes", NA), c("No", "Yes"))
resource <- datapackage::dp_generate_dataresource(answers, "answers")
datapackage::dp_resource(made, "answers") <- resource
datapackage::dp_write_data(made, resource_name = "answers", data = answers,
  write_categories = TRUE)
opened(file.path("datapackage", "datapackage.json"), "datapackage (R)", list(table = "answers"))
