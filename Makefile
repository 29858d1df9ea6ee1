# Hexlet. `make help` lists the commands.
SHELL := /bin/bash
.SHELLFLAGS := -eu -o pipefail -c
.DEFAULT_GOAL := help
PORT ?= 8000
PY := .venv/bin/python
MANAGE := $(PY) server/manage.py
S := .stamps
CORE := $(shell find core -name '*.py' -o -name '*.json' | grep -v __pycache__)
SERVER := $(shell find server -name '*.py' | grep -v __pycache__)
WEB := $(shell find web/src web/public -type f 2>/dev/null | grep -v schema.d.ts) web/index.html web/vite.config.ts
export PYTHONWARNINGS := error::DeprecationWarning:hexlet_core

.PHONY: help run test attack check lint types architecture bench stats golden lock build restore api clean shots

help: ## this list
	@grep -hE '^[a-z]+:.*##' $(MAKEFILE_LIST) | sed -E 's/:.*## /\t/' | expand -t 14

run: $(S)/web $(S)/kernel ## set up, build, load the demo and serve (PORT=8000)
	@$(MANAGE) set_up
	@cd server && PORT=$(PORT) ../$(PY) -m config.serve

test: $(S)/dev $(S)/web $(S)/kernel $(S)/chromium ## every test: front-end units, core, server, browser
	@cd web && npm run -s test
	@PYTHONPATH=. $(MANAGE) test tests.core -t . --parallel 2
	@PYTHONPATH=. $(MANAGE) test tests.server tests.browser -t . --timing
	@PYTHONPATH=. $(PY) -m tools.attack --short

check: lint types architecture test ## what CI runs: lint, types, architecture, test

lint: $(S)/dev $(S)/npm ## ruff and eslint
	@.venv/bin/ruff check . && .venv/bin/ruff format --check core server tests tools
	@cd web && npm run -s lint

types: $(S)/dev $(S)/npm $(S)/api ## mypy and tsc, strict
	@.venv/bin/mypy
	@cd web && npm run -s types

architecture: $(S)/dev ## who may import whom
	@.venv/bin/lint-imports

attack: $(S)/dev $(S)/kernel $(S)/web ## bad inputs, crowds, kills and a full disk against a server of its own
	@PYTHONPATH=. $(PY) -m tools.attack

bench: $(S)/dev $(S)/kernel $(S)/web ## speed, as ratios within one run
	@PYTHONPATH=. $(PY) tools/bench.py

stats: ## lines of code and the share of tests
	@python3 tools/stats.py

golden: $(S)/dev $(S)/kernel ## write the golden files anew; read their diff
	@HEXLET_GOLDEN=write PYTHONPATH=. $(MANAGE) test tests.core.test_golden -t .

api: $(S)/api ## the API's schema and the types made from it

shots: $(S)/dev $(S)/web $(S)/chromium ## the pictures in docs/screenshots, from the demo data
	@PYTHONPATH=. $(PY) tools/shots.py

build: $(S)/web ## the front end

restore: $(S)/run ## bring the newest copy of the database back (FROM=name for another)
	@$(MANAGE) restore $(FROM)

lock: $(S)/venv ## write the lock files anew
	@for f in requirements requirements-dev; do .venv/bin/uv pip compile -q --python-version 3.11 --generate-hashes --no-emit-index-url --no-emit-find-links --custom-compile-command "make lock" -o $$f.txt $$f.in; done
	@cd web && npm install --package-lock-only

clean: ## what was built; your data in var/ stays
	@rm -rf $(S) web/dist server/static web/node_modules .venv

# --- set-up, each step once --------------------------------------------------------------------------
$(S)/venv: uv.txt
	@mkdir -p $(S)
	@echo "Making the Python environment"
	@python3 -m venv .venv && .venv/bin/pip install -q --disable-pip-version-check --require-hashes -r uv.txt
	@$(PY) -c "import site, pathlib; pathlib.Path(site.getsitepackages()[0], 'hexlet.pth').write_text('$(CURDIR)/core\n$(CURDIR)/server\n')"
	@touch $@

$(S)/run: $(S)/venv requirements.txt
	@echo "Installing Python packages"
	@test -e $(S)/dev || .venv/bin/uv pip install -q --require-hashes -r requirements.txt
	@touch $@

$(S)/dev: $(S)/venv requirements-dev.txt
	@echo "Installing Python packages for checks"
	@.venv/bin/uv pip install -q --require-hashes -r requirements-dev.txt
	@touch $@ $(S)/run

$(S)/npm: web/package-lock.json web/package.json
	@mkdir -p $(S)
	@command -v npm >/dev/null || { echo "Installing node"; apt-get update -qq && apt-get install -y -qq nodejs npm >/dev/null; }
	@echo "Installing front-end packages"
	@cd web && npm ci --silent --no-audit --no-fund
	@touch $@

$(S)/api: $(S)/run $(S)/npm $(CORE) $(SERVER)
	@$(MANAGE) export_openapi server/openapi.json
	@cd web && npm run -s api >/dev/null
	@touch $@

$(S)/web: $(S)/api $(WEB)
	@echo "Building the front end"
	@cd web && npm run -s build -- --logLevel warn
	@$(MANAGE) collectstatic --noinput -v0
	@touch $@

$(S)/kernel: $(S)/run $(CORE)
	@echo "Compiling the circuit kernel (half a minute, once)"
	@$(PY) -m hexlet_core.warm
	@touch $@

$(S)/chromium:
	@test -x /usr/bin/chromium || { echo "Installing Chromium"; apt-get update -qq && apt-get install -y -qq chromium >/dev/null; }
	@touch $@
