# Two commands do all the set-up: `make demo` and `make test`. Both are safe to repeat.

PYTHON ?= python3
BIN := .venv/bin
PORT ?= 8710
DATABASE ?= var/demo.db

SERVER := $(shell find jaxel -name '*.py' -o -name '*.sql' -o -name '*.toml' -o -name '*.csv')
PAGES := $(shell find frontend/src frontend/public -type f ! -name schema.d.ts) \
	frontend/index.html frontend/vite.config.ts frontend/tsconfig.json

.PHONY: demo test check dev format coverage bench truth soak docs screenshots build lock chromium clean
.DELETE_ON_ERROR:

demo: build
	$(BIN)/python -m jaxel serve --demo --database $(DATABASE) --port $(PORT)

test: build .venv/.test-installed chromium
	$(MAKE) --no-print-directory check
	$(BIN)/python -m tests

chromium:
	@test -x /usr/bin/chromium || (apt-get update -qq && apt-get install -y -qq --no-install-recommends chromium)

check: build .venv/.test-installed
	$(BIN)/ruff check jaxel tests bench docs
	$(BIN)/ruff format --check --quiet jaxel tests bench docs
	$(BIN)/mypy
	$(BIN)/lint-imports
	cd frontend && npm run --silent check

dev: build
	$(BIN)/python -m jaxel serve --demo --database $(DATABASE) --port $(PORT) & \
	trap "kill $$!" EXIT; cd frontend && npm run --silent dev

format: build .venv/.test-installed
	$(BIN)/ruff check --fix --quiet jaxel tests bench docs
	$(BIN)/ruff format --quiet jaxel tests bench docs
	cd frontend && npm run --silent format

coverage: build .venv/.test-installed
	$(BIN)/coverage run -m tests tests.core tests.store tests.web tests.test_commands
	$(BIN)/coverage report

docs: .venv/.test-installed requirements-docs.txt
	$(BIN)/pip install --quiet --disable-pip-version-check -r requirements-docs.txt
	$(BIN)/python -m docs.build

screenshots: build .venv/.test-installed
	$(BIN)/python -m docs.screenshots

bench: build .venv/.test-installed chromium
	$(BIN)/python -m bench
	$(BIN)/python -m bench.logs
	$(BIN)/python -m bench.start
	$(BIN)/python -m bench.workshop
	$(BIN)/python -m bench.browser
	$(BIN)/python -m bench.pages

# What is claimed against what lands, on machines of another physics: some ten minutes.
truth: build .venv/.test-installed
	OMP_NUM_THREADS=1 $(BIN)/python -m bench.truth

# Fuzzed, killed, and worked on by six hands for an hour: docs/reliability.md.
soak: build .venv/.test-installed
	$(BIN)/python -m bench.soak

# The pinned requirements, made from pyproject.toml by pip-compile.
lock: .venv/.installed
	$(BIN)/pip install --quiet --disable-pip-version-check pip-tools
	$(BIN)/pip-compile --quiet --upgrade --strip-extras --no-emit-index-url --no-emit-find-links --output-file requirements.txt pyproject.toml
	$(BIN)/pip-compile --quiet --strip-extras --no-emit-index-url --no-emit-find-links --extra test --constraint requirements.txt --output-file requirements-test.txt pyproject.toml
	$(BIN)/pip-compile --quiet --strip-extras --no-emit-index-url --no-emit-find-links --extra docs --constraint requirements.txt --output-file requirements-docs.txt pyproject.toml

build: .venv/.installed .venv/.compiled frontend/dist/index.html

.venv/.installed: requirements.txt
	test -x $(BIN)/python || $(PYTHON) -m venv .venv
	$(BIN)/pip install --quiet --disable-pip-version-check -r requirements.txt
	touch $@

# A start reads what is compiled: it takes half as long.
.venv/.compiled: .venv/.installed $(SERVER)
	$(BIN)/python -m compileall -q jaxel
	touch $@

.venv/.test-installed: requirements-test.txt .venv/.installed
	$(BIN)/pip install --quiet --disable-pip-version-check -r requirements-test.txt
	touch $@

frontend/node_modules/.installed: frontend/package.json frontend/package-lock.json
	cd frontend && npm ci --silent
	touch $@

frontend/openapi.json: .venv/.installed $(SERVER)
	$(BIN)/python -m jaxel.web.openapi > $@.new
	@if cmp -s $@.new $@; then rm $@.new; touch $@; else mv $@.new $@; fi

frontend/src/api/server/schema.d.ts: frontend/openapi.json frontend/node_modules/.installed
	cd frontend && npm run --silent api

frontend/dist/index.html: frontend/src/api/server/schema.d.ts $(PAGES)
	cd frontend && npm run --silent build

clean:
	rm -rf .venv frontend/node_modules frontend/dist frontend/openapi.json frontend/src/api/server/schema.d.ts var
