# Everything a newcomer needs: `make demo` and `make test`. Both make their own virtual environment first.
PYTHON ?= python3
VENV := .venv
BIN := $(VENV)/bin

$(VENV)/installed: pyproject.toml
	$(PYTHON) -m venv $(VENV)
	$(BIN)/python -m pip install --quiet -e .
	touch $@

.PHONY: demo test check package fuzz screenshots bench docs clean

$(VENV)/ready: pyproject.toml
	$(PYTHON) -m venv $(VENV)
	$(BIN)/python -m pip install --quiet --upgrade pip
	$(BIN)/python -m pip install --quiet -e '.[dev]'
	$(BIN)/python -m compileall -q src  # an installed package starts from compiled modules too
	touch $@

demo: $(VENV)/installed  # only what running needs
	$(BIN)/homepath demo

test: $(VENV)/ready
	PYTHON=$(BIN)/python sh scripts/test

check: $(VENV)/ready
	$(BIN)/ruff check .
	$(BIN)/ruff format --check .
	$(BIN)/mypy
	$(BIN)/lint-imports --no-logo
	$(BIN)/python scripts/check_cycles.py

package: $(VENV)/ready
	PYTHON=$(BIN)/python sh scripts/package

fuzz: $(VENV)/ready
	$(BIN)/python scripts/fuzz.py --seconds 60

docs: $(VENV)/ready
	$(BIN)/python scripts/make_reference.py

screenshots: $(VENV)/ready
	$(BIN)/python scripts/make_screenshots.py

bench: $(VENV)/ready
	$(BIN)/python bench/run.py

clean:
	rm -rf $(VENV) .mypy_cache .ruff_cache .hypothesis .import_linter_cache
