# make demo    install, run the example on the made-up orders, say what it wrote
# make test    install, run all tests; ends with a line of counts
# make check   R CMD check of the built package
# make bench   speed, side by side with base R and with one plain pass over the same bytes
# make lint    lintr with the project's own rules (needs the package lintr)
# make document, make screenshots    write man/ and docs/screenshots/ again

.PHONY: demo test check bench lint document screenshots setup

setup:
	@tools/setup

demo: setup
	@tools/demo

test: setup
	@tools/test

check: setup
	@tools/check

bench: setup
	@tools/bench

lint:
	@Rscript tools/lint.R

document:
	@tools/document

screenshots: setup
	@tools/screenshots
