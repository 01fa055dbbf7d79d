# A fresh machine needs two of these: `make demo` and `make test`.
PY := .venv/bin/python
PIP := .venv/bin/pip install --quiet --disable-pip-version-check
WEB_SOURCES := $(shell find web/src web/parts web/*.html web/*.ts web/tsconfig.json -type f)

.PHONY: demo run test coverage check format types build bench clean screenshots notice sbom kill fuzz

demo: .venv/run src/adhaero/web/index.html  ## the application with the demo data, in a throw-away copy
	.venv/bin/adhaero demo

run: .venv/run src/adhaero/web/index.html  ## the application on your own shop file
	.venv/bin/adhaero serve

test: .venv/dev src/adhaero/web/index.html build/parts/parts.html chromium  ## every test, screens included
	$(PY) -m pytest -n 3 --dist loadfile --no-loadscope-reorder

coverage: .venv/dev src/adhaero/web/index.html build/parts/parts.html chromium  ## which branches the tests take: told, not asked for
	$(PY) -m pytest -n 3 --dist loadfile --no-loadscope-reorder --cov=adhaero --cov-branch --cov-report=term:skip-covered

check: .venv/dev web/node_modules/.done  ## format, lint, types, layers, generated types
	.venv/bin/ruff format --check src tests benchmarks
	.venv/bin/ruff check src tests benchmarks
	.venv/bin/mypy
	.venv/bin/lint-imports
	$(PY) -m adhaero.api.openapi > web/openapi.json
	cd web && npx openapi-typescript openapi.json --output openapi.d.ts >/dev/null && cmp openapi.d.ts src/api/schema.d.ts
	cd web && npx biome check src parts && npx tsc --noEmit

format: .venv/dev web/node_modules/.done
	.venv/bin/ruff format src tests benchmarks
	.venv/bin/ruff check --fix src tests benchmarks
	cd web && npx biome check --write src parts

types: .venv/dev web/node_modules/.done  ## make the front end's types from the API again
	$(PY) -m adhaero.api.openapi > web/openapi.json
	cd web && npx openapi-typescript openapi.json --output src/api/schema.d.ts

build: src/adhaero/web/index.html

bench: .venv/dev src/adhaero/web/index.html chromium  ## planning, and speed and memory on a trial of 2,000 pieces
	$(PY) benchmarks/analyse.py
	$(PY) benchmarks/planning.py
	$(PY) benchmarks/timetable.py
	$(PY) benchmarks/leaving.py
	$(PY) -m benchmarks.comparing
	$(PY) -m benchmarks.library
	$(PY) -m benchmarks.connecting
	$(PY) benchmarks/bench.py

kill: .venv/dev src/adhaero/web/index.html  ## 500 kills of the real server: nothing lost, at most half a second of a trace
	$(PY) benchmarks/kill.py

fuzz: .venv/dev src/adhaero/web/index.html  ## what nobody would type, in great number, against a real server
	$(PY) benchmarks/fuzz.py

screenshots: .venv/dev src/adhaero/web/index.html chromium  ## the pictures in docs/screenshots, from the demo data
	$(PY) docs/screenshots/take.py

notice: .venv/run web/node_modules/.done  ## whose work is shipped, under which licence
	$(PY) tools/notice.py

sbom: .venv/dev web/node_modules/.done  ## what it is made of, as CycloneDX, into sbom/
	mkdir -p sbom
	.venv/bin/cyclonedx-py requirements requirements.txt --output-reproducible -o sbom/python.cdx.json
	cd web && npm sbom --sbom-format cyclonedx --omit dev > ../sbom/web.cdx.json

chromium:
	@test -x /usr/bin/chromium || (apt-get update -qq && apt-get install -y -qq chromium >/dev/null) \
	  || (sudo apt-get update -qq && sudo apt-get install -y -qq chromium >/dev/null)
.PHONY: chromium

.venv/bin/python:
	python3 -m venv .venv

.venv/run: .venv/bin/python requirements.txt pyproject.toml
	$(PIP) -r requirements.txt
	$(PIP) --no-deps --no-build-isolation -e .
	touch $@

.venv/dev: .venv/run requirements-dev.txt
	$(PIP) -r requirements-dev.txt
	touch $@

web/node_modules/.done: web/package.json web/package-lock.json
	cd web && npm ci --no-audit --no-fund --loglevel=error
	touch $@

src/adhaero/web/index.html: web/node_modules/.done $(WEB_SOURCES)
	cd web && npx vite build --logLevel warn
	touch $@

build/parts/parts.html: web/node_modules/.done $(WEB_SOURCES)  # a page for tests/parts, never shipped
	cd web && npx vite build --config vite.parts.ts --logLevel warn
	touch $@

clean:
	rm -rf .venv web/node_modules src/adhaero/web build
