# Hollow Marble. `make demo` and `make test` set up what is missing; everything else is for those who work on it.
PYTHON ?= python3.11
VENV := .venv
BIN := $(VENV)/bin
STAMPS := .stamps
STATIC := src/hollow_marble/web/static/index.html
DATA ?=
DATA_OPTION := $(if $(DATA),--data "$(DATA)")

INTERFACE := $(shell find frontend/src frontend/public -type f -not -name schema.ts 2>/dev/null) frontend/index.html frontend/vite.config.ts frontend/tsconfig.json

.PHONY: setup demo test lint bench format lock clean

setup: $(STAMPS)/system $(STAMPS)/python $(STATIC) $(STAMPS)/warm

demo: setup
	@$(BIN)/hollow-marble demo $(DATA_OPTION)

test: setup lint
	@echo "Running the interface's tests"
	@cd frontend && npx --no-install vitest run --reporter=dot
	@echo "Running the tests"
	@$(BIN)/python -m pytest --numprocesses 2 --ignore tests/browser
	@echo "Running the tests in the browser"
	@$(BIN)/python -m pytest --numprocesses 2 tests/browser

lint: $(STAMPS)/python $(STATIC)
	@echo "Checking style and types"
	@$(BIN)/ruff check src tests benchmarks
	@$(BIN)/ruff format --check src tests benchmarks
	@$(BIN)/mypy
	@cd frontend && npx --no-install tsc --noEmit && npx --no-install biome check src tests vite.config.ts vitest.config.ts && node tools/words.mjs --check

format: $(STAMPS)/python $(STAMPS)/node
	@$(BIN)/ruff check --fix src tests benchmarks; $(BIN)/ruff format src tests benchmarks
	@cd frontend && npx --no-install biome check --write src tests vite.config.ts vitest.config.ts

bench: setup
	@$(BIN)/hollow-marble bench

lock: $(STAMPS)/python
	@echo "Locking Python packages (this takes some minutes)"
	@$(BIN)/pip-compile -q --extra test --generate-hashes --strip-extras --no-emit-index-url --no-emit-trusted-host --no-emit-find-links --no-emit-options --allow-unsafe -o requirements.lock pyproject.toml

clean:
	rm -rf $(VENV) $(STAMPS) frontend/node_modules frontend/api-types/node_modules src/hollow_marble/web/static

$(STAMPS)/system: tools/system-packages
	@mkdir -p $(STAMPS)
	@tools/system-packages
	@touch $@

$(STAMPS)/python: requirements.lock pyproject.toml
	@mkdir -p $(STAMPS)
	@command -v $(PYTHON) >/dev/null || { echo "Python 3.11 is missing. Install it, or say where it is: make PYTHON=/path/to/python3.11"; exit 1; }
	@test -x $(BIN)/python || { echo "Making a Python environment in $(VENV)"; $(PYTHON) -m venv $(VENV); }
	@echo "Installing Python packages"
	@$(BIN)/python -m pip install --quiet --disable-pip-version-check --require-hashes -r requirements.lock 2>$(STAMPS)/pip.log || { cat $(STAMPS)/pip.log; exit 1; }
	@$(BIN)/python -m pip install --quiet --disable-pip-version-check --no-deps --no-build-isolation -e .
	@touch $@

$(STAMPS)/node: frontend/package-lock.json frontend/api-types/package-lock.json
	@mkdir -p $(STAMPS)
	@command -v npm >/dev/null || { echo "Node 20 with npm is missing. Install it and run this again."; exit 1; }
	@echo "Installing the interface's packages"
	@cd frontend && npm ci --silent --no-audit --no-fund
	@cd frontend/api-types && npm ci --silent --no-audit --no-fund
	@touch $@

frontend/src/api/schema.ts: frontend/src/api/openapi.json $(STAMPS)/node
	@echo "Making the interface's types from the server's OpenAPI document"
	@cd frontend/api-types && npx --no-install openapi-typescript ../src/api/openapi.json --default-non-nullable false --enum-values -o ../src/api/schema.ts >/dev/null

$(STATIC): $(STAMPS)/python $(STAMPS)/node frontend/src/api/schema.ts $(INTERFACE)
	@echo "Building the interface"
	@cd frontend && npx --no-install tsc --noEmit && npx --no-install vite build --logLevel warn
	@$(BIN)/python -m whitenoise.compress --quiet $(dir $(STATIC))

$(STAMPS)/warm: $(STAMPS)/python $(shell find src/hollow_marble/core -name '*.py' 2>/dev/null)
	@echo "Compiling the hot loops"
	@$(BIN)/hollow-marble warm
	@touch $@
