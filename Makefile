# make demo    install what it needs, run the example on the made-up orders, say what to look at
# make test    install what tests need, run them all; ends with a line of counts
# make setup-all    install everything that some part could need
# make test-servers    the same asks of PostgreSQL and of a cluster, which it starts on loopback
# make test-browser    the explorer in a real browser, by keyboard and by mouse
# make check   R CMD check of the built package
# make sanitize    the kernel's own driver under the sanitizers
# make fuzz    the tests that draw at random, with all their trials
# make attack  hostile files, full disks, killed runs against the installed program, a fuzzer on the kernel
# make bench   speed, side by side with base R and with one plain pass over the same bytes
# make lint    lintr with the project's own rules (needs the package lintr)
# make format  breaks the lines of R/ that have over 100 columns
# make mutate  small changes of the core and the kernel, and which of them no test notices
# make coverage    the lines of R and C++ that the tests reach, in out/coverage.txt
# make site    the reference and the pages that teach, as a site in out/site
# make document, make screenshots    write man/ and docs/screenshots/ again

.PHONY: demo test test-servers test-browser check sanitize fuzz attack bench lint format document screenshots site mutate coverage setup-all

setup-all:
	@tools/setup all

demo:
	@tools/setup demo
	@tools/demo

test:
	@tools/setup test
	@tools/test

test-servers:
	@tools/setup test
	@tools/setup postgresql
	@TESTS_IN=tests/servers tools/servers tools/test

test-browser:
	@tools/setup test
	@TESTS_IN=tests/browser tools/browser tools/test

check:
	@tools/setup test
	@tools/check

sanitize:
	@tools/setup demo
	@tools/sanitize

drawn = laws|blanks|standing|states|hostile|engines|scan|records|nights|measure-oracle|plain-oracle|table-lenses|source-damage|parquet-columns|dirty-exports|explore-walks|members-oracle|questions|changes|surfaces|said-forms

fuzz:
	@tools/setup test
	@FUZZ_SHARE=$${FUZZ_SHARE:-1} tools/test '$(drawn)'

attack:
	@tools/setup test
	@tools/attack/run

bench:
	@tools/setup test
	@tools/bench

mutate:
	@tools/setup test
	@tools/mutate/run $(CHANGES) $(SEED)

coverage:
	@tools/setup coverage
	@tools/coverage

lint:
	@Rscript tools/lint.R

format:
	@Rscript tools/format.R R/[a-z]*.R

document:
	@tools/document

site:
	@tools/setup site
	@tools/site

screenshots:
	@tools/setup test
	@tools/screenshots
