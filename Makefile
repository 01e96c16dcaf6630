# make demo  installs what is missing, runs the examples on the demo survey, says where the results are
# make desk  installs what is missing and opens the demo survey in the browser
# make test  installs what is missing, runs the tests; of long tables a part of the entries, ABLETURN_TESTS=all all
# make test-formats tries the file formats whose libraries take minutes to build, and has what we write read by others
# make test-desk tries the desk in a real browser
# make test-engines tries what is done in SQL on PostgreSQL and DuckDB as well
# make attack tries what strangers, disks, kills and locales may do (TIMES=20 SEED=)
# make sanitize runs the kernels under sanitizers; make fuzz the reading of tables, guided by coverage (SECONDS=60)
# make coverage says how much of the code the tests reach; make site builds the pages of the help into site/
# make bench measures speed and memory (about a quarter of an hour); tables and a figure in bench/results
RSCRIPT ?= Rscript

TIMES ?= 20
SEED ?=
SECONDS ?= 60

.PHONY: demo desk test test-formats test-desk test-engines check lint bench attack sanitize fuzz coverage format site document data

demo:
	@$(RSCRIPT) tools/setup.R figures
	@$(RSCRIPT) exec/ableturn demo --out demo

desk:
	@$(RSCRIPT) tools/setup.R figures desk
	@$(RSCRIPT) exec/ableturn desk

test:
	@$(RSCRIPT) tools/setup.R test
	@$(RSCRIPT) tools/test.R

test-formats:
	@$(RSCRIPT) tools/setup.R test formats validators
	@$(RSCRIPT) tools/test.R set formats
	@$(RSCRIPT) tools/validators/run.R

test-desk:
	@$(RSCRIPT) tools/setup.R test desk browser
	@$(RSCRIPT) tools/test.R set desk

test-engines:
	@$(RSCRIPT) tools/setup.R test engines
	@$(RSCRIPT) tools/engines/run.R

check:
	@$(RSCRIPT) tools/setup.R check packages-only
	@sh tools/check.sh

lint:
	@$(RSCRIPT) tools/setup.R lint packages-only
	@$(RSCRIPT) tools/lint.R

bench:
	@$(RSCRIPT) tools/setup.R figures
	@$(RSCRIPT) bench/run.R

attack:
	@$(RSCRIPT) tools/setup.R test
	@$(RSCRIPT) bench/attack/run.R $(TIMES) $(SEED)

sanitize:
	@$(RSCRIPT) tools/setup.R test
	@sh bench/attack/sanitize.sh

fuzz:
	@$(RSCRIPT) tools/setup.R fuzz packages-only
	@sh bench/attack/fuzz.sh $(SECONDS)

format:
	@$(RSCRIPT) tools/setup.R format packages-only
	@$(RSCRIPT) tools/format.R

coverage:
	@$(RSCRIPT) tools/setup.R test coverage packages-only
	@$(RSCRIPT) tools/coverage.R

site:
	@$(RSCRIPT) tools/setup.R figures site
	@$(RSCRIPT) tools/site.R

document:
	@$(RSCRIPT) tools/setup.R document packages-only
	@$(RSCRIPT) tools/document.R

data:
	@$(RSCRIPT) data-raw/make-demo.R
