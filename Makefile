# Everything on a new machine: `make demo` (a window), or `make example` (no monitor); and `make test`.
PYTHON ?= python3
VENV := .venv
BIN := $(VENV)/bin
CORE := .venv-core
STAMP := $(VENV)/.ready
CORE_STAMP := $(CORE)/.ready

.PHONY: venv demo example example-web test test-core test-rest journeys check screenshots bench record clean

venv: $(STAMP)

$(STAMP): pyproject.toml
	@$(PYTHON) -c 'import sys; sys.exit(sys.version_info < (3, 11))' || { echo "Copione needs Python 3.11 or newer: apt-get install python3"; exit 1; }
	@$(PYTHON) -c 'import venv, ensurepip' 2>/dev/null || { echo "Python cannot make virtual environments here: apt-get install python3-venv"; exit 1; }
	$(PYTHON) -m venv $(VENV)
	$(BIN)/pip install --quiet --disable-pip-version-check --upgrade pip
	$(BIN)/pip install --quiet --disable-pip-version-check -e '.[app,text,dev]'
	@$(BIN)/python -m copione.app.display
	@touch $@

$(CORE_STAMP): pyproject.toml
	$(PYTHON) -m venv $(CORE)
	$(CORE)/bin/pip install --quiet --disable-pip-version-check -e .
	@touch $@

demo: $(STAMP)
	$(BIN)/python -m copione demo

example: $(STAMP)
	$(BIN)/python examples/show.py out

# Browsers as devices: needs chromium, chromium-driver, webkit2gtk-driver and xvfb.
example-web: $(STAMP)
	$(BIN)/python examples/show_web.py out

# Every test once: the core's where PySide6 is not installed, the rest, and then alone what goes by a real window's pace.
# With -j2 the core's run beside the rest.
test: $(STAMP) $(CORE_STAMP)
	$(MAKE) --no-print-directory test-core test-rest
	$(MAKE) --no-print-directory journeys

test-core: $(CORE_STAMP)
	$(CORE)/bin/python -m tests --core

test-rest: $(STAMP)
	QT_QPA_PLATFORM=offscreen $(BIN)/python -m tests --rest

# A real window under an X server of its own, moved by mouse and keys: needs xvfb, openbox and xdotool.
journeys: $(STAMP)
	$(BIN)/python -m tests --journeys

check: $(STAMP)
	$(BIN)/ruff check .
	$(BIN)/ruff format --check .
	$(BIN)/mypy
	$(BIN)/lint-imports --no-cache

screenshots: $(STAMP)
	QT_QPA_PLATFORM=offscreen $(BIN)/python docs/screenshots.py

bench: $(STAMP)
	QT_QPA_PLATFORM=offscreen $(BIN)/python -m benchmarks

# The demo script, recorded anew.
record: $(STAMP)
	$(BIN)/python examples/record.py

clean:
	rm -rf $(VENV) $(CORE) out
