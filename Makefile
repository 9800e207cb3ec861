# make demo    install, run the example on the made-up orders, say what it wrote
# make test    install, run all tests; ends with a line of counts
# make test-servers    the same asks of PostgreSQL and of a cluster, which it starts on loopback
# make test-browser    the explorer in a real browser, by keyboard and by mouse
# make check   R CMD check of the built package
# make sanitize    the kernel's own driver under the sanitizers
# make fuzz    the tests that draw at random, with all their trials
# make attack  hostile files, full disks, killed runs against the installed program, a fuzzer on the kernel
# make bench   speed, side by side with base R and with one plain pass over the same bytes
# make lint    lintr with the project's own rules (needs the package lintr)
# make document, make screenshots    write man/ and docs/screenshots/ again

.PHONY: demo test test-servers test-browser check sanitize fuzz attack bench lint document screenshots setup

setup:
	@tools/setup

demo: setup
	@tools/demo

test: setup
	@tools/test

test-servers: setup
	@TESTS_IN=tests/servers tools/servers tools/test

test-browser: setup
	@TESTS_IN=tests/browser tools/browser tools/test

check: setup
	@tools/check

sanitize: setup
	@tools/sanitize

drawn = laws|standing|measure-oracle|plain-oracle|table-lenses|source-damage|explore-walks|changes

fuzz: setup
	@FUZZ_SHARE=$${FUZZ_SHARE:-1} tools/test '$(drawn)'

attack: setup
	@tools/attack/run

bench: setup
	@tools/bench

lint:
	@Rscript tools/lint.R

document:
	@tools/document

screenshots: setup
	@tools/screenshots
