# make setup | demo | serve | test | bench | bench-long | shots | lint. Each works as the only command on a fresh machine.
PYTHON ?= python3
VENV := .venv
BIN := $(VENV)/bin
PORT ?= 8000
# the matrices are small: two processes beside each other are faster than the threads of one
export OPENBLAS_NUM_THREADS ?= 1
export PORT
# every start of the program would compile all of it anew
unexport PYTHONDONTWRITEBYTECODE

.PHONY: setup setup-dev demo demo-reset serve test lint bench bench-long plots shots vendor

setup: $(VENV)/ready
setup-dev: $(VENV)/ready-dev

$(VENV)/ready: requirements/base.txt pyproject.toml
	$(PYTHON) -m venv $(VENV)
	$(BIN)/pip install --quiet --disable-pip-version-check -r requirements/base.txt
	$(BIN)/pip install --quiet --disable-pip-version-check --no-deps --editable .
	touch $@

$(VENV)/ready-dev: $(VENV)/ready requirements/dev.txt
	$(BIN)/pip install --quiet --disable-pip-version-check -r requirements/dev.txt
	touch $@

# PDFs need Pango; without it everything else runs and the browser prints
demo: setup
	@tools/want-pango
	@$(BIN)/hailstone demo

demo-reset: setup
	@$(BIN)/hailstone demo --reset

serve: setup
	@$(BIN)/hailstone serve

lint: setup-dev
	$(BIN)/ruff check .
	$(BIN)/ruff format --check .
	$(BIN)/mypy
	$(BIN)/lint-imports --no-cache

test: setup-dev
	@tools/need-debian chromium ngspice
	@tools/want-pango
	@$(MAKE) --no-print-directory lint
	$(BIN)/pytest --numprocesses=2 --dist=worksteal

bench: setup-dev
	@tools/need-debian ngspice
	@tools/want-pango
	@$(BIN)/python -u -m bench $(PART)

# the large counts, for docs/figures: about half an hour
bench-long: setup-dev
	@mkdir -p docs/figures
	@$(BIN)/python -u -m bench --long | tee docs/figures/taps.txt

plots: setup-dev
	@$(BIN)/python -m bench --plots

shots: setup-dev
	@tools/need-debian chromium
	@$(BIN)/python tools/shots.py

vendor: setup-dev
	$(BIN)/python tools/vendor.py
