# make demo | make test | make test-postgresql | make fuzz | make soak | make serve | make dev | make lint | make bench | make screenshots | make dist | make setup
# Stamps under .stamps say what is installed and built, so that a second run has little to do.

PYTHON ?= python3
PORT ?= 8341
WORKERS ?= 4
BIN := .venv/bin
UV := $(BIN)/uv
WEB := frontend
STATIC := src/pronostico/api/static
WEB_SOURCES := $(shell find $(WEB)/src $(WEB)/index.html $(WEB)/vite.config.ts -type f 2>/dev/null) \
	docs/method.md docs/formulas.md docs/user-guide.md CHANGELOG.md src/pronostico/__init__.py

.PHONY: dist demo test test-python test-pages test-postgresql fuzz soak golden serve dev lint bench screenshots setup setup-dev types schema format clean

setup: .stamps/app $(STATIC)/index.html

demo: setup
	@$(BIN)/pronostico demo --port $(PORT)

serve: setup
	@$(BIN)/pronostico serve --port $(PORT)

# The tests wait for browsers and servers a third of the time: style and types are checked meanwhile.
test: setup-dev
	@$(MAKE) --no-print-directory -j2 test-python test-pages

# Some at once, each with its own databases, servers and browser.
test-python:
	@echo "== tests"
	@$(BIN)/pytest -n $(WORKERS) --dist worksteal

test-pages: lint
	@echo "== tests of the pages' functions"
	@cd $(WEB) && npm test --silent

# The same tests, where they need a database, over a PostgreSQL server of their own.
test-postgresql: setup-dev
	@echo "== tests over PostgreSQL"
	@TEST_DATABASE=postgresql $(BIN)/pytest tests/api tests/services tests/store -n $(WORKERS) --dist worksteal

# Every route with many examples, other ones each time.
fuzz: setup-dev
	@FUZZ_EXAMPLES=1000 $(BIN)/pytest tests/api/test_contract.py --timeout 0

# An hour of kills, rubbish and a full disk over a real server; MINUTES=5 for less.
MINUTES ?= 60
soak: setup-dev
	@$(BIN)/python -m tests.soak --minutes $(MINUTES)

lint: setup-dev
	@echo "== python: style, imports, types"
	@$(BIN)/ruff format --check .
	@$(BIN)/ruff check .
	@$(BIN)/lint-imports --no-logo > .stamps/imports.txt || (cat .stamps/imports.txt; false)
	@$(BIN)/mypy
	@echo "== pages: style, types"
	@cd $(WEB) && npm run --silent lint && npm run --silent types
	@rm -rf .stamps/locales && cp -r $(WEB)/src/locales .stamps/locales
	@cd $(WEB) && npm run --silent catalogues > /dev/null
	@diff -r .stamps/locales $(WEB)/src/locales > /dev/null || \
		(echo "the message catalogues were not those of the code: they are now; translate what is new" && false)

bench: setup-dev
	@$(BIN)/python -m benchmarks

screenshots: setup-dev
	@$(BIN)/python scripts/screenshots.py

# What is installed where there is neither make nor Node.js: a wheel with the pages inside, and the versions it
# was tested with.
dist: setup
	@rm -rf dist build
	@$(UV) build --quiet --wheel --out-dir dist
	@cp requirements.lock packaging/pronostico.service packaging/Containerfile dist
	@rm -rf build
	@ls dist

# The pages on their own server with reload on change; the API runs over a demonstration beside it.
dev: setup-dev
	@trap 'kill 0' EXIT; $(BIN)/pronostico demo --port 8341 & cd $(WEB) && npm run --silent dev

# The figures that tests/test_golden_results.py compares with; renewed together with MODEL_VERSION.
golden: setup-dev
	@$(BIN)/python -m tests.golden.results

# What is generated and committed: the published schema and the types of the API.
schema: .stamps/app
	@$(BIN)/python -m pronostico.record.schema > docs/schema/record-1.schema.json

types: .stamps/app .stamps/web
	@$(BIN)/python -m pronostico.api.openapi > .stamps/openapi.json
	@cd $(WEB) && npx --no-install openapi-typescript ../.stamps/openapi.json -o src/api/schema.d.ts

format: setup-dev
	@$(BIN)/ruff check --fix-only -q . && $(BIN)/ruff format -q . && cd $(WEB) && npm run --silent format

clean:
	rm -rf .venv .stamps $(WEB)/node_modules $(STATIC)

# Python

.stamps/python:
	@mkdir -p .stamps
	@$(PYTHON) -c 'import sys; sys.exit(0 if sys.version_info >= (3, 11) else 1)' \
	  || { echo "Python 3.11 or newer is needed; $(PYTHON) is $$($(PYTHON) --version 2>&1). Try: make PYTHON=python3.12"; exit 1; }
	@echo "== making .venv"
	@$(PYTHON) -m venv .venv
	@$(BIN)/pip install --quiet --disable-pip-version-check uv==0.13.9
	@touch $@

.stamps/app: .stamps/python requirements.lock pyproject.toml
	@echo "== installing the application's packages"
	@$(UV) pip install --quiet --compile-bytecode --require-hashes -r requirements.lock
	@$(UV) pip install --quiet --no-deps -e .
	@touch $@

.stamps/dev: .stamps/app requirements-dev.lock
	@echo "== installing the test tools"
	@$(UV) pip install --quiet --compile-bytecode --require-hashes -r requirements-dev.lock
	@touch $@

.stamps/debian:
	@mkdir -p .stamps
	@if ! command -v chromium >/dev/null || ! ldconfig -p | grep -q libpangoft2 || ! ls /usr/lib/postgresql/*/bin/initdb >/dev/null 2>&1 || ! command -v espeak-ng >/dev/null; then \
	  echo "== installing Debian's Chromium, PostgreSQL and espeak-ng for the tests, and Pango for PDFs"; \
	  if [ "$$(id -u)" = 0 ]; then SUDO=; else SUDO=sudo; fi; \
	  $$SUDO apt-get update -qq && $$SUDO apt-get install -y -qq --no-install-recommends chromium chromium-headless-shell libpango-1.0-0 libpangoft2-1.0-0 postgresql espeak-ng >/dev/null \
	  || { echo "Install the packages chromium, chromium-headless-shell, libpango-1.0-0, libpangoft2-1.0-0, postgresql and espeak-ng, and try again."; exit 1; }; \
	fi
	@touch $@

setup-dev: setup .stamps/dev .stamps/debian

# Pages

.stamps/web: $(WEB)/package.json $(WEB)/package-lock.json
	@mkdir -p .stamps
	@node -e 'process.exit(+process.versions.node.split(".")[0] >= 20 ? 0 : 1)' 2>/dev/null \
	  || { echo "Node.js 20 or newer is needed; found: $$(node --version 2>&1)"; exit 1; }
	@echo "== installing the pages' packages"
	@cd $(WEB) && npm ci --silent
	@touch $@

$(STATIC)/index.html: .stamps/web $(WEB_SOURCES)
	@echo "== building the pages"
	@cd $(WEB) && npm run --silent build -- --logLevel warn
	@touch $@
