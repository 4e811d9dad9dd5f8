# Two commands do everything on a fresh machine: `make demo` and `make test`.
SHELL := /bin/bash
.SHELLFLAGS := -eu -o pipefail -c
.DEFAULT_GOAL := help

PORT ?= 8000
HOST ?= 127.0.0.1
PYTHON ?= python3
BIN := .venv/bin
# What is begun again and again is not compiled each time, whatever the shell says.
export PYTHONDONTWRITEBYTECODE :=
MANAGE := $(BIN)/python manage.py
SERVE := $(BIN)/gunicorn ballast.server.wsgi --bind $(HOST):$(PORT) --workers 2 --threads 40 --preload --no-control-socket
DEMO := BALLAST_MODE=demo BALLAST_VAR=var/demo
SCHEMA := DJANGO_SETTINGS_MODULE=ballast.server.settings BALLAST_VAR=var/test $(BIN)/python -m ballast.server.openapi

.PHONY: help demo serve backup restore dev checks check test test-postgres bench screens sbom schema format build check-tools chromium

help:
	@echo "make demo     the made-up demo world on http://localhost:$(PORT) (PORT= for another, FRESH=1 rebuilds its data)"
	@echo "make serve    the application for real, starting with nobody"
	@echo "make backup   a checked copy of the database, while it runs (FILE= for another place)"
	@echo "make restore  FILE= puts such a copy back, while no server runs"
	@echo "make check    lint, types, contracts, core and page units: no browser"
	@echo "make test     all of that, the server and the browser"
	@echo "make dev      hot reload: page on port 5173, server on $(PORT)"
	@echo "make test-postgres  the server's tests and races on PostgreSQL, on a cluster of its own"
	@echo "make bench    the figures to hold, as ratios in one run"
	@echo "make screens  the pictures in docs/screenshots/"
	@echo "make sbom     what the application is made of (CycloneDX), into var/sbom/"

check-tools:
	@command -v $(PYTHON) >/dev/null || { echo "Python is missing: install Python 3.11 or later (Debian: apt-get install python3 python3-venv)."; exit 1; }
	@$(PYTHON) -c 'import sys; sys.exit(sys.version_info < (3, 11))' || { echo "Python 3.11 or later is needed, this is $$($(PYTHON) -V). Name another: make PYTHON=python3.12 …"; exit 1; }
	@$(PYTHON) -c 'import venv, ensurepip' 2>/dev/null || { echo "Python's venv is missing: install it (Debian: apt-get install python3-venv)."; exit 1; }
	@command -v node >/dev/null || { echo "Node is missing: install Node 20.19 or later (Debian: apt-get install nodejs npm)."; exit 1; }
	@node -e 'const [a, b] = process.versions.node.split(".").map(Number); process.exit(a > 20 || (a === 20 && b >= 19) ? 0 : 1)' || { echo "Node 20.19 or later is needed, this is $$(node -v)."; exit 1; }
	@command -v npm >/dev/null || { echo "npm is missing: install it (Debian: apt-get install npm)."; exit 1; }
	@mkdir -p var 2>/dev/null && test -w var || { echo "This folder cannot be written to: take a copy that is yours, or mend its rights (chown)."; exit 1; }

.venv/base: requirements/base.txt | check-tools
	@test -x $(BIN)/python || $(PYTHON) -m venv .venv
	@echo "Installing the server's packages …"
	@$(BIN)/python -m pip install --quiet --disable-pip-version-check --require-hashes -r requirements/base.txt
	@touch $@

.venv/dev: requirements/dev.txt .venv/base
	@echo "Installing the packages for tests …"
	@$(BIN)/python -m pip install --quiet --disable-pip-version-check --require-hashes -r requirements/dev.txt
	@touch $@

web/node_modules/.stamp: web/package-lock.json | check-tools
	@echo "Installing the page's packages …"
	@cd web && npm ci --silent --no-audit --no-fund
	@touch $@

WEB_SOURCES := $(shell find web/src web/public -type f 2>/dev/null) web/index.html web/vite.config.ts
web/dist/index.html: web/node_modules/.stamp .venv/base $(WEB_SOURCES)
	@echo "Building the page …"
	@cd web && npx vite build --logLevel warn
	@$(BIN)/python -m whitenoise.compress --quiet web/dist
	@touch $@

build: web/dist/index.html

demo: build
	@if [ -n "$${FRESH:-}" ]; then rm -rf var/demo; fi
	@$(DEMO) $(MANAGE) migrate --verbosity 0
	@$(DEMO) $(MANAGE) demo
	@echo
	@echo "Gentle Ballast, the made-up demo: http://localhost:$(PORT)"
	@echo "Enter with one click as fleet maintainer, technician, auditor or RV owner. Ctrl-C ends it."
	@$(DEMO) exec $(SERVE)

serve: build
	@$(MANAGE) migrate --verbosity 0
	@echo "Gentle Ballast: http://localhost:$(PORT) (the first visit makes the first person)"
	@exec $(SERVE)

backup: .venv/base
	@$(MANAGE) backup $(FILE)

restore: .venv/base
	@test -n "$(FILE)" || { echo "Which copy? make restore FILE=var/backups/…"; exit 1; }
	@$(MANAGE) restore "$(FILE)"

dev: .venv/dev web/node_modules/.stamp
	@mkdir -p var/dev
	@BALLAST_MODE=dev BALLAST_VAR=var/dev $(MANAGE) migrate --verbosity 0
	@trap 'kill 0' EXIT; BALLAST_MODE=dev BALLAST_VAR=var/dev $(MANAGE) runserver $(PORT) & cd web && PORT=$(PORT) npx vite

# Without a window it takes half the processor time; where a system has no such package, the whole of it.
chromium:
	@command -v chromium-headless-shell >/dev/null || command -v chromium >/dev/null || command -v chromium-browser >/dev/null || { \
	  command -v apt-get >/dev/null || { echo "Chromium is missing: install it, the browser tests need it."; exit 1; }; \
	  if [ "$$(id -u)" = 0 ]; then SUDO=; elif command -v sudo >/dev/null; then SUDO=sudo; else \
	    echo "Chromium is missing, and installing it needs root: apt-get install chromium-headless-shell."; exit 1; fi; \
	  echo "Installing Chromium …"; export DEBIAN_FRONTEND=noninteractive; \
	  $$SUDO apt-get update -qq && { \
	    $$SUDO apt-get install -y -qq --no-install-recommends chromium-headless-shell >/dev/null 2>&1 || \
	    $$SUDO apt-get install -y -qq --no-install-recommends chromium >/dev/null; }; }

# Its own packages stand apart: nothing else needs them.
.venv/sbom: requirements/sbom.txt .venv/base
	@echo "Installing what reads the packages …"
	@$(PYTHON) -m venv $@ && $@/bin/python -m pip install --quiet --disable-pip-version-check --require-hashes -r requirements/sbom.txt

sbom: .venv/sbom web/node_modules/.stamp
	@mkdir -p var/sbom
	@.venv/sbom/bin/cyclonedx-py requirements requirements/base.txt --output-reproducible -o var/sbom/server.json
	@cd web && npm sbom --omit=dev --sbom-format=cyclonedx > ../var/sbom/page.json
	@echo "var/sbom/server.json and var/sbom/page.json: every part with its version and mark."

schema: .venv/base web/node_modules/.stamp
	@$(SCHEMA)
	@cd web && npm run --silent schema >/dev/null

format: .venv/dev web/node_modules/.stamp
	@$(BIN)/ruff check --fix --quiet . && $(BIN)/ruff format --quiet .
	@cd web && npm run --silent format

checks: .venv/dev web/node_modules/.stamp
	@echo "Lint …"
	@$(BIN)/ruff check --quiet . && $(BIN)/ruff format --check --quiet . && (cd web && npm run --silent lint)
	@echo "Types …"
	@$(BIN)/mypy --no-error-summary ballast && (cd web && npm run --silent types)
	@echo "Contracts …"
	@mkdir -p var
	@$(BIN)/lint-imports --no-logo > var/contracts.txt || { cat var/contracts.txt; exit 1; }
	@$(SCHEMA) --check
	@cd web && npx openapi-typescript openapi.json --output ../var/schema.d.ts >/dev/null && cmp -s ../var/schema.d.ts src/shared/api/schema.d.ts || { echo "The page's types are not current: run make schema and commit the result."; exit 1; }
	@BALLAST_VAR=var/test $(MANAGE) makemigrations --check --dry-run --verbosity 0 || { echo "A migration is missing: run manage.py makemigrations."; exit 1; }
	@echo "The page's own units …"
	@cd web && npm run --silent units > ../var/units.txt 2>&1 || { cat ../var/units.txt; exit 1; }

check: checks
	@echo "The core's …"
	@BALLAST_VAR=var/test $(BIN)/python -m pytest -n 2 tests/core

test: checks build chromium
	@echo "Tests …"
	@OMP_NUM_THREADS=1 BALLAST_VAR=var/test $(BIN)/python -m pytest -n 2

# On a cluster that the system's package makes, as the user that it is run by, and throws away. The races on both engines.
RACES := BALLAST_RACES=500 BALLAST_VAR=var/test $(BIN)/python -m pytest tests/server/test_meanwhile.py -k "one_moment or two_phones or races"
test-postgres: .venv/dev build
	@command -v pg_virtualenv >/dev/null || { echo "PostgreSQL is missing: install it (Debian: apt-get install postgresql)."; exit 1; }
	@echo "Races on SQLite …"
	@env -u DATABASE_URL $(RACES)
	@pg_virtualenv -i '--locale=C.UTF-8' -o fsync=off -o max_connections=200 bash -euc '\
	  export DATABASE_URL="postgres://$$PGUSER:$$PGPASSWORD@$$PGHOST:$$PGPORT/ballast"; \
	  echo "Races on PostgreSQL …"; $(RACES); \
	  echo "The server on PostgreSQL …"; OMP_NUM_THREADS=1 BALLAST_VAR=var/test $(BIN)/python -m pytest -n 2 tests/server'

bench: .venv/dev build chromium
	@BALLAST_VAR=var/test $(BIN)/python -m tests.bench.run
	@for part in work receivers history fleet longer page phones kills; do $(BIN)/python -m tests.bench.$$part || exit; done

screens: .venv/dev build chromium
	@BALLAST_VAR=var/test $(BIN)/python -m tests.browser.screens
