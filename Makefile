# Every target does its own set-up and is safe to repeat.
SHELL := /bin/bash
VENV := .venv
PY := $(VENV)/bin/python
PORT ?= 8480
export PIP_DISABLE_PIP_VERSION_CHECK := 1
# Where the environment forbids it, every program that starts compiles what it imports anew: seconds each.
export PYTHONDONTWRITEBYTECODE :=
TEST_DATA := build/test-data
# File by file, so that what a file's tests share is made once; the browser's before the core's, because they take longest.
PYTEST := ZESTY_DATA=$(TEST_DATA) $(VENV)/bin/pytest --numprocesses 2 --dist loadfile --no-loadscope-reorder

# `lint` is the part of `check` that runs no test.
.PHONY: demo test check lint lint-core lint-web units shots speed soak test-long mutants types clean

demo: web/dist/index.html
	@exec $(PY) -m studio --demo --port $(PORT)

$(VENV)/.installed: pyproject.toml requirements.lock
	test -x $(PY) || python3 -m venv $(VENV)
	# Compiled as it is first imported: most of what the packages bring never is.
	$(PY) -m pip install --quiet --no-compile --requirement requirements.lock
	$(PY) -m pip install --quiet --no-deps --editable .
	touch $@

web/node_modules/.installed: web/package.json web/package-lock.json
	cd web && npm ci --no-audit --no-fund --loglevel=error
	touch $@

WEB_SOURCES := $(shell find web/src web/public -type f) web/index.html web/vite.config.ts
web/dist/index.html: $(VENV)/.installed web/node_modules/.installed $(WEB_SOURCES)
	cd web && npx vite build --logLevel warn
	# Packed once here, and served so; names carry a hash, so they are kept for good.
	$(PY) -m whitenoise.compress --quiet web/dist
	touch $@

# The interface's types are made from the API; this fails where the committed ones have drifted.
types: $(VENV)/.installed web/node_modules/.installed
	mkdir -p build
	ZESTY_DATA=$(TEST_DATA) $(PY) -m studio.http.openapi build/openapi.json
	cd web && npx openapi-typescript ../build/openapi.json --default-non-nullable=false -o src/api/schema.d.ts
	for form in kit edits table pattern; do $(VENV)/bin/zesty schema $$form > docs/schemas/$$form.schema.json; done

lint: lint-core lint-web

lint-core: $(VENV)/.installed
	$(VENV)/bin/ruff check .
	$(PY) tools/gone_words.py
	$(VENV)/bin/ruff format --check .
	ZESTY_DATA=$(TEST_DATA) $(VENV)/bin/mypy
	ZESTY_DATA=$(TEST_DATA) $(PY) manage.py makemigrations --check --dry-run

lint-web: $(VENV)/.installed web/node_modules/.installed
	mkdir -p build
	ZESTY_DATA=$(TEST_DATA) $(PY) -m studio.http.openapi build/openapi.json
	cd web && npx openapi-typescript ../build/openapi.json --default-non-nullable=false -o ../build/schema.d.ts >/dev/null
	diff -q build/schema.d.ts web/src/api/schema.d.ts || { echo "The API's types have drifted; run: make types"; exit 1; }
	cd web && npx biome check src && npx tsc --noEmit

# The browser's logic without a browser.
units: web/node_modules/.installed
	cd web && npx vitest run --reporter=dot

check: lint units
	$(PYTEST) tests/core tests/studio tests/twins

/usr/bin/chromium:
	apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq chromium >/dev/null

# What the tests need, and what needs no tests, two things at a time: installing alone takes a minute.
test:
	@began=$$(date +%s); \
	$(MAKE) --no-print-directory --jobs=2 --output-sync=target units lint web/dist/index.html /usr/bin/chromium && \
	echo "Installing, building, lint, types and the browser's logic: $$(($$(date +%s) - began)) s"
	$(PYTEST) tests/browser tests/core tests/studio tests/twins

shots: web/dist/index.html /usr/bin/chromium
	$(PY) tools/shots.py

speed: web/dist/index.html /usr/bin/chromium
	$(PY) tools/speed.py

# What takes too long for every change: many more examples, requests and files at random, and random faults.
test-long: $(VENV)/.installed
	HYPOTHESIS_PROFILE=long FUZZ=30000 TRIALS=60 $(PYTEST) tests/core tests/studio tests/twins
	$(PY) tools/mutants.py

# Not part of `test`: the running studio is used, misused and killed for MINUTES. Where a disk may be mounted it runs full.
MINUTES ?= 5
soak: $(VENV)/.installed
	$(PY) tools/soak.py --minutes $(MINUTES)

# Not part of `test`: it breaks the core at random and takes some minutes.
mutants: $(VENV)/.installed
	$(PY) tools/mutants.py

clean:
	rm -rf $(VENV) web/node_modules web/dist build
