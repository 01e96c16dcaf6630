# What a colleague sends: semicolons, decimal commas, days first, a title above the names
library(ableturn)
writeLines(c("Ferry panel, second office", "person;paid;sailed;island",
  "1001;12,50;28.02.2031;1", "1002;1.204,00;01.03.2031;2", "1003;8,75;14.03.2031;9"), "office.csv")
office <- turnbook("office.csv", id = person, reading = list(skip = 1))

# What two ways could mean is asked for, never guessed
writeLines(c("person,sailed", "1001,03.04.2031", "1002,05.06.2031"), "dates.csv")
asked <- turnbook("dates.csv")
dates <- turnbook("dates.csv", reading = list(dates = "day first"))

# Label it and score it as ever
office <- define(office, island, codes = c(Northholm = 1, Eastray = 2), missing = c(Refused = 9))
office <- turn_flag(office, paid > 10, as = "dear", label = "Paid more than 10 crowns")

# Hand on all of it: data, codebooks, turns, script, report, and the SHA-256 of each file
if (requireNamespace("zip", quietly = TRUE) && requireNamespace("svglite", quietly = TRUE)) {
  write_package(office, "office.zip", overwrite = TRUE,
    about = list(title = "Ferry panel, second office", creators = "A. Berg", licence = "CC-BY-4.0"))
}

# Whoever gets it opens it with all turns, and sees whether anything was changed
if (file.exists("office.zip")) {
  turnbook("office.zip")
}
if (file.exists("office.zip")) check_package("office.zip")
