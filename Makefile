# Ennead: each target does what it needs on a new machine, then its work.
.DELETE_ON_ERROR:
PYTHON ?= python3
VENV := .venv
PY := $(VENV)/bin/python
DEMO := build/skerry-sound-house.ennead

# A command to call from anywhere: .venv/bin/ennead
LAUNCHER = printf '\#!/bin/sh\nPYTHONPATH="%s" exec "%s" -m ennead "$$@"\n' "$(CURDIR)" "$(CURDIR)/$(PY)" > $(VENV)/bin/ennead \
	&& chmod +x $(VENV)/bin/ennead

.PHONY: setup demo test lint house bench fuzz mutants screenshots clean
setup: $(VENV)/app.stamp

$(VENV)/bin/python:
	@$(PYTHON) -c 'import sys; sys.exit(sys.version_info < (3, 11))' || { echo "Ennead needs Python 3.11 or newer; try: make $(MAKECMDGOALS) PYTHON=python3.11"; exit 1; }
	@$(PYTHON) -m venv $(VENV) || { echo "python3 cannot make virtual environments here; as root: apt-get install -y python3-venv"; exit 1; }

$(VENV)/app.stamp: requirements/app.lock tools/system_packages.sh | $(VENV)/bin/python
	@bash tools/system_packages.sh app
	$(PY) -m pip install --quiet --disable-pip-version-check --require-hashes -r requirements/app.lock
	@$(LAUNCHER)
	@$(PY) -m compileall -q ennead
	@touch $@

$(VENV)/dev.stamp: requirements/dev.lock tools/system_packages.sh | $(VENV)/bin/python
	@bash tools/system_packages.sh app test
	$(PY) -m pip install --quiet --disable-pip-version-check --require-hashes -r requirements/dev.lock
	@$(LAUNCHER)
	@$(PY) -m compileall -q ennead
	@touch $@ $(VENV)/app.stamp

demo: setup
	@mkdir -p build
	@test -f $(DEMO) || $(PY) -m ennead demo $(DEMO)
	$(PY) -m ennead $(DEMO)

test: $(VENV)/dev.stamp
	QT_QPA_PLATFORM=offscreen $(PY) tools/run_tests.py

lint: $(VENV)/dev.stamp
	$(PY) -m ruff check .
	$(PY) -m ruff format --check --quiet .
	$(PY) -m mypy
	$(VENV)/bin/lint-imports --no-cache
	@$(PY) tools/house.py

house: $(VENV)/dev.stamp
	@$(PY) tools/house.py

# Parts: make bench PARTS="survey clock allocation commit window start kills evenings arrangements floods loops measure live passes"; KILLS=N, EVENINGS=N set how often.
bench: $(VENV)/dev.stamp
	@bash tools/system_packages.sh bench
	@$(PY) -m compileall -q ennead bench
	$(PY) -m bench $(PARTS) --out build $(if $(KILLS),--kills $(KILLS)) $(if $(EVENINGS),--evenings $(EVENINGS))

fuzz: N ?= 2000
fuzz: $(VENV)/dev.stamp
	$(PY) -m bench.fuzz $(N)
	$(PY) -m bench.answers check
	ENNEAD_TRIALS=whole $(PY) tools/run_tests.py $$(cd tests && grep -l "import few" test_*.py | sed "s/.py//")

# Single faults planted in the core, N of them (300), another sample by SEED=.
mutants: N ?= 300
mutants: $(VENV)/dev.stamp
	$(PY) -m bench.mutants $(N) --seed $(if $(SEED),$(SEED),1)

screenshots: $(VENV)/dev.stamp
	QT_QPA_PLATFORM=offscreen $(PY) tools/screenshots.py docs/screenshots

clean:
	rm -rf $(VENV) build .mypy_cache .ruff_cache .hypothesis
