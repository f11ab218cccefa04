# make help says what there is; demo and test are all that a newcomer needs.
SHELL := /bin/bash
.DELETE_ON_ERROR:
.DEFAULT_GOAL := help
.PHONY: help demo demo-devices demo-reset demo-built demo-program dev test test-one check shots figures bench bench-load bench-history queries types format packages-demo packages-test

PORT ?= 8420
NUVEK := target/debug/nuvek
SCRATCH := $(NUVEK) with-scratch-database
PART := @scripts/part

help: ## says this
	@awk -F':.*## ' '/^[a-z-]+:.*## / { printf "  make %-14s %s\n", $$1, $$2 }' Makefile

demo: demo-built ## the invented site on http://127.0.0.1:8420 (PORT=… for another port)
	@target/demo/nuvek demo --port $(PORT)

demo-devices: demo-built ## the demo with a broker and simulated devices that send all the time
	@scripts/need-packages mosquitto
	@target/demo/nuvek demo --port $(PORT) --devices

demo-reset: demo-built ## the demo with its data thrown away
	@target/demo/nuvek demo --port $(PORT) --reset

# Pages and program at the same time: this program reads the pages from their folder.
demo-built: packages-demo
	@$(MAKE) --no-print-directory --jobs=2 web/dist/index.html demo-program

demo-program:
	cargo build --profile demo --locked --bin nuvek

dev: packages-demo web/dist/index.html ## the demo at http://127.0.0.1:5173; server and pages start anew with each change
	cd web && PORT=$(PORT) npx concurrently --kill-others --names server,web "npm run --silent dev-server" "npm run --silent dev"

# The compiler lints what it builds: one run for both. What is built so is kept apart from what is built by hand.
test check: export RUSTC_WORKSPACE_WRAPPER := clippy-driver
test check: export CLIPPY_ARGS := -Dwarnings

# Many tests wait for sockets and clocks more than they compute.
test: export RUST_TEST_THREADS := 4

test: packages-test ## everything: the quick part, every crate on PostgreSQL, journeys in a real browser
	@scripts/part --begin
	@$(MAKE) --no-print-directory check
	$(PART) "tests in Rust" $(SCRATCH) --migrated cargo test --workspace --locked
	$(PART) "journeys" $(SCRATCH) npm --prefix e2e test
	@scripts/part --end

test-one: packages-test web/dist/index.html e2e/node_modules/.package-lock.json ## what T=… means: a journey's file, a test file of the browser, or Rust tests by name
	cargo build --locked --bin nuvek
	$(SCRATCH) --migrated scripts/test-one $(T)

# Compiling leaves one of two cores idle for long stretches, which the pages' part fills.
check: packages-demo web/node_modules/.package-lock.json e2e/node_modules/.package-lock.json ## the quick part: formats, lints, types, arrows, generated files, queries
	$(PART) "architecture" node scripts/check-architecture.mjs
	$(PART) "format" $(MAKE) --no-print-directory format-check
	@$(MAKE) --no-print-directory --jobs=2 check-program check-pages
	$(PART) "generated types" scripts/generate-types --check

.PHONY: check-program check-pages
check-program:
	$(PART) "build, lints, queries" pg_virtualenv scripts/prepare-queries --check

check-pages:
	$(PART) "web build" $(MAKE) --no-print-directory web/dist/index.html
	$(PART) "web checks" npm --prefix web run check
	$(PART) "journeys' types" npm --prefix e2e run check

PRETTY := web/node_modules/.bin/prettier --log-level warn web e2e scripts

format: web/node_modules/.package-lock.json ## writes every file in its one format
	cargo fmt --all
	$(PRETTY) --write

.PHONY: format-check
format-check: web/node_modules/.package-lock.json
	cargo fmt --all --check
	$(PRETTY) --check

shots: packages-test web/dist/index.html e2e/node_modules/.package-lock.json ## one picture of each main view, from the demo site
	cargo build --locked --bin nuvek
	$(SCRATCH) npm --prefix e2e run shots

figures: packages-test web/dist/index.html e2e/node_modules/.package-lock.json ## how long from key to pencil, and from save to another screen
	cargo build --release --locked --bin nuvek
	NUVEK_BINARY=$(CURDIR)/target/release/nuvek $(SCRATCH) npm --prefix e2e run figures

bench-load: packages-demo web/dist/index.html ## a large site's load for a minute, written to docs/performance.md
	cargo build --release --locked --bin nuvek
	target/release/nuvek with-scratch-database --durable target/release/nuvek bench-load

bench-history: packages-demo web/dist/index.html ## what people wait for beside ten million samples (20 GB of disk, an hour), written to docs/performance.md
	cargo build --release --locked --bin nuvek
	target/release/nuvek with-scratch-database --durable target/release/nuvek bench-history

# numpy and pandas are for this alone.
bench: target/bench/done ## speed and memory of the core (Python 3 with venv), written to docs/performance.md
	PYTHONDONTWRITEBYTECODE=1 target/bench/bin/python benches/report.py $(CURDIR)/target

target/bench/done:
	python3 -m venv target/bench
	target/bench/bin/pip install --quiet numpy pandas
	touch $@

queries: packages-demo ## the cache of checked queries, after a change of a query or of the schema
	pg_virtualenv scripts/prepare-queries

types: web/node_modules/.package-lock.json ## the browser's types, after a change of the interface
	cargo build --locked --bin nuvek
	scripts/generate-types

packages-demo:
	@scripts/need-packages postgresql

packages-test:
	@scripts/need-packages postgresql chromium mosquitto

web/dist/index.html: web/node_modules/.package-lock.json $(shell find web/src web/public web/index.html web/vite.config.ts -type f) scripts/crate-licences.mjs Cargo.lock
	npm --prefix web run build
	node scripts/crate-licences.mjs web/dist/licences.md

%/node_modules/.package-lock.json: %/package-lock.json
	npm --prefix $* ci --no-audit --no-fund
	@touch $@
