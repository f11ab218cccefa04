# demo · test · check · shots: the only commands a newcomer needs.
SHELL := /bin/bash
.DELETE_ON_ERROR:
.PHONY: demo demo-devices demo-reset test check shots figures bench bench-load queries types packages-demo packages-test

PORT ?= 8420
NUVEK := target/debug/nuvek
SCRATCH := $(NUVEK) with-scratch-database

demo: packages-demo web/dist/index.html
	cargo build --release --locked --bin nuvek
	@target/release/nuvek demo --port $(PORT)

# The demo with a broker and simulated devices that send all the time.
demo-devices: packages-demo web/dist/index.html
	@scripts/need-packages mosquitto
	cargo build --release --locked --bin nuvek
	@target/release/nuvek demo --port $(PORT) --devices

demo-reset: packages-demo web/dist/index.html
	cargo build --release --locked --bin nuvek
	@target/release/nuvek demo --port $(PORT) --reset

# Everything: the quick part, the store and the server on PostgreSQL, journeys in a real browser.
test: packages-test check
	$(SCRATCH) scripts/prepare-queries --check
	$(SCRATCH) cargo test --workspace --locked
	$(SCRATCH) npm --prefix e2e test

# The quick part: formats, lints, types, and that generated files are what they are made from.
check: web/dist/index.html e2e/node_modules/.package-lock.json
	node scripts/check-architecture.mjs
	cargo fmt --all --check
	cargo clippy --workspace --all-targets --locked -- -D warnings
	cargo build --locked --bin nuvek
	scripts/generate-types --check
	npm --prefix web run check
	npm --prefix e2e run check

# One picture of each main view, from the demo site.
shots: packages-test web/dist/index.html e2e/node_modules/.package-lock.json
	cargo build --locked --bin nuvek
	$(SCRATCH) npm --prefix e2e run shots

# How long it takes from key to pencil and from save to another screen, in a release build.
figures: packages-test web/dist/index.html e2e/node_modules/.package-lock.json
	cargo build --release --locked --bin nuvek
	NUVEK_BINARY=$(CURDIR)/target/release/nuvek $(SCRATCH) npm --prefix e2e run figures

# A large site's load on a server beside its database, for a minute, written to docs/performance.md.
bench-load: packages-demo web/dist/index.html
	cargo build --release --locked --bin nuvek
	target/release/nuvek with-scratch-database --durable target/release/nuvek bench-load

# Speed and memory of the core (Python 3 with venv), written to docs/performance.md; numpy and pandas are for this alone.
bench: target/bench/done
	PYTHONDONTWRITEBYTECODE=1 target/bench/bin/python benches/report.py $(CURDIR)/target

target/bench/done:
	python3 -m venv target/bench
	target/bench/bin/pip install --quiet numpy pandas
	touch $@

# The cache of checked queries, after a change of a query or of the schema.
queries:
	test -x $(NUVEK) || cargo build --locked --bin nuvek
	$(SCRATCH) scripts/prepare-queries

# The browser's types, after a change of the interface.
types: web/node_modules/.package-lock.json
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
