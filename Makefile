# Two commands: `make demo` and `make test`. Each sets up what it needs and is quick the second time.
PORT ?= 8610
DATA ?= data
VENV := .venv
BIN := $(VENV)/bin
STAMPS := .stamps
WEB := src/wardrobe/server/web/index.html
PYTEST := $(BIN)/python -m pytest --numprocesses 2 --dist loadfile

.PHONY: demo demo-reset test quick thorough looked-over lint types web-unit unit bench accuracy torture requirements api screenshots clean

demo: $(STAMPS)/app $(WEB)
	@$(BIN)/wardrobe demo --port $(PORT) --data-dir $(DATA)

demo-reset: $(STAMPS)/app
	@$(BIN)/wardrobe demo --reset --no-start --data-dir $(DATA)
	@echo "  The demo pieces are as they were; your own pieces were not touched."

test: looked-over unit

# What most changes need, without a browser.
quick: looked-over $(STAMPS)/readers
	@echo "== tests: pytest, core and recipe"
	@$(PYTEST) tests/core tests/recipe tests/reference

# Two at a time, each told when it is done.
looked-over: $(STAMPS)/dev $(STAMPS)/node
	@$(MAKE) --no-print-directory --jobs 2 --output-sync=target $(STAMPS)/kernels types lint web-unit

lint: $(STAMPS)/dev $(STAMPS)/node
	@echo "== lint: ruff, layers, eslint"
	@$(BIN)/ruff check src tests benchmarks scripts
	@$(BIN)/lint-imports --no-cache
	@$(BIN)/python scripts/test_share.py
	@cd web && npm run --silent lint

types: $(STAMPS)/dev $(STAMPS)/node
	@echo "== types: mypy, generated API types, tsc"
	@$(BIN)/mypy
	@sh scripts/api-types.sh --check
	@cd web && npm run --silent types

web-unit: $(STAMPS)/node
	@echo "== tests: vitest"
	@cd web && npm run --silent test

unit: $(STAMPS)/dev $(STAMPS)/browser $(STAMPS)/readers $(WEB)
	@echo "== tests: pytest, with Chromium"
	@$(PYTEST)

# The same with the many random cases that `make test` tries a few of; for a night.
thorough: export WARDROBE_THOROUGH = 1
thorough: unit

bench: $(STAMPS)/dev $(STAMPS)/browser $(STAMPS)/readers $(WEB)
	@$(BIN)/python -m benchmarks.run
	@$(BIN)/python -m benchmarks.paper
	@$(BIN)/python -m benchmarks.learn

# Drawings by several hands, from npm and Debian packages; about 120 MB, not committed.
$(STAMPS)/corpora:
	@echo "== setting up: drawings to measure by"
	@mkdir -p .corpus && cd .corpus && npm install --silent --no-audit --no-fund openmoji@17.0.0 \
		@dicebear/core@9.4.3 @dicebear/adventurer@9.4.3 @dicebear/croodles@9.4.3 @dicebear/open-peeps@9.4.3
	@cd .corpus && apt-get download --quiet openclipart-svg && dpkg-deb -x openclipart-svg_*.deb openclipart \
		&& rm openclipart-svg_*.deb
	@mkdir -p $(STAMPS) && touch $@

accuracy: $(STAMPS)/dev $(STAMPS)/corpora
	@$(BIN)/python -m benchmarks.figure
	@$(BIN)/python -m benchmarks.people
	@$(BIN)/python -m benchmarks.grouping
	@$(BIN)/python -m benchmarks.hatching
	@$(BIN)/python -m benchmarks.redrawn
	@$(BIN)/python -m benchmarks.accuracy
	@$(BIN)/python -m benchmarks.flats
	@$(BIN)/python -m benchmarks.shades
	@$(BIN)/python -m benchmarks.light
	@$(BIN)/python -m benchmarks.judge
	@$(BIN)/python -m benchmarks.coloured
	@$(BIN)/python -m benchmarks.panels
	@$(BIN)/python -m benchmarks.carry

# Kills, damaged files, full disks, impatient clients: about ten minutes; TORTURE="--scale 4 --seed 7" does more.
torture: $(STAMPS)/dev $(WEB)
	@$(BIN)/python -m tests.torture.run $(TORTURE)

screenshots: $(STAMPS)/dev $(STAMPS)/browser $(WEB)
	@$(BIN)/python -m scripts.screenshots

api: $(STAMPS)/dev $(STAMPS)/node
	@sh scripts/api-types.sh

# Pins with hashes, without index addresses.
requirements: $(STAMPS)/app
	@$(BIN)/python -m pip install --quiet uv
	@for set in app dev; do $(BIN)/uv pip compile --quiet --universal --python-version 3.11 \
		--generate-hashes --no-emit-index-url --no-header --no-annotate \
		requirements/$$set.in --output-file requirements/$$set.txt; done

$(STAMPS)/venv:
	@sh scripts/system.sh python
	@echo "== setting up: Python environment in $(VENV)"
	@python3 -m venv $(VENV)
	@mkdir -p $(STAMPS) && touch $@

$(STAMPS)/app: requirements/app.txt pyproject.toml | $(STAMPS)/venv
	@echo "== setting up: Python packages of the application"
	@$(BIN)/python -m pip install --quiet --require-hashes -r requirements/app.txt
	@$(BIN)/python -m pip install --quiet --no-deps --no-build-isolation -e .
	@touch $@

$(STAMPS)/dev: requirements/dev.txt $(STAMPS)/app
	@echo "== setting up: Python packages of the tests"
	@$(BIN)/python -m pip install --quiet --require-hashes -r requirements/dev.txt
	@touch $@

$(STAMPS)/node: web/package-lock.json
	@sh scripts/system.sh node
	@echo "== setting up: packages of the web application"
	@cd web && npm ci --silent --no-audit --no-fund
	@mkdir -p $(STAMPS) && touch $@

# Compiled here once: processes that start together would each compile them.
$(STAMPS)/kernels: $(shell find src/wardrobe -name '*.py') | $(STAMPS)/app
	@echo "== setting up: compiled kernels"
	@$(BIN)/python -m wardrobe.server.warm > /dev/null
	@touch $@

$(STAMPS)/browser:
	@sh scripts/system.sh chromium
	@mkdir -p $(STAMPS) && touch $@

# Other programs that read what is delivered: poppler and Ghostscript.
$(STAMPS)/readers:
	@sh scripts/system.sh readers
	@mkdir -p $(STAMPS) && touch $@

$(WEB): $(STAMPS)/node $(shell find web/src web/public web/index.html web/vite.config.ts -type f)
	@echo "== building the web application"
	@cd web && npm run --silent build -- --logLevel warn
	@touch $@

clean:
	rm -rf $(VENV) $(STAMPS) web/node_modules src/wardrobe/server/web .mypy_cache .ruff_cache .pytest_cache
