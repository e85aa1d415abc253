# make demo   the application with its sample business
# make test   every check and test
.DEFAULT_GOAL := help
SHELL := /bin/sh
PYTHON ?= python3
PORT ?= 8000
BIN := .venv/bin
SAMPLED := tests.browser.test_accessible tests.browser.test_every_kind tests.browser.test_handing_out tests.browser.test_on_pages tests.browser.test_results tests.browser.test_whole_link tests.test_fuzz tests.test_truth tests.faults.test_every_page tests.faults.test_killed_at_random
QUICK := cravik tests.test_fuzz tests.test_truth tests.test_worked_offers tests.test_schemas tests.test_docs tests.test_ids tests.test_words
ALONE := --settings cravik.config.test_settings --noinput --shuffle 1
TESTS := $(ALONE) --parallel 2
export PYTHONUNBUFFERED := 1
# What Python has compiled is kept, whatever the machine says: a start takes a third of the time then.
export PYTHONDONTWRITEBYTECODE :=

# None of what is named here is a file, the lanes of the tests included.
.PHONY: $(shell grep -oE '^[a-z][a-z0-9 -]*:' Makefile | tr -d :)

help:
	@grep -E '^# ' Makefile | cut -c3-

install: .venv/.base
	@$(BIN)/python -m compileall -q cravik

install-dev: .venv/.dev

.venv/.tools: requirements/tools.txt
	@$(PYTHON) -c 'import sys; sys.exit(sys.version_info < (3, 11))' || { echo "Cravik needs Python 3.11 or newer; name one with PYTHON=…"; exit 1; }
	$(PYTHON) -m venv .venv
	$(BIN)/python -m pip install --quiet --disable-pip-version-check --require-hashes -r requirements/tools.txt
	@touch $@

.venv/.base: .venv/.tools requirements/base.txt
	$(BIN)/uv pip install --quiet --compile-bytecode --python $(BIN)/python --require-hashes -r requirements/base.txt
	@touch $@

.venv/.dev: .venv/.base requirements/dev.txt
	$(BIN)/uv pip install --quiet --compile-bytecode --python $(BIN)/python --require-hashes -r requirements/dev.txt
	@touch $@

# Exec, so that Ctrl+C reaches the supervisor itself.
demo: install
	@exec $(BIN)/python manage.py serve --demo --port $(PORT)

serve: install
	@exec $(BIN)/python manage.py serve --port $(PORT)

browser:
	@sh tools/ensure-debian.sh

check: install-dev
	$(BIN)/ruff check .
	$(BIN)/ruff format --check .
	$(BIN)/djlint --quiet --lint cravik
	$(BIN)/mypy
	$(BIN)/lint-imports --no-cache
	$(BIN)/python manage.py makemigrations --check --dry-run --settings cravik.config.test_settings
	CRAVIK_HTTPS=1 CRAVIK_SECRET_KEY=$$($(BIN)/python -c 'import secrets; print(secrets.token_urlsafe(64))') $(BIN)/python manage.py check --deploy --fail-level WARNING

test: install-dev browser
	@$(MAKE) --no-print-directory -j 3 -O test-quick test-faults
	@$(MAKE) --no-print-directory -j 3 -O test-browser check

# Side by side, each on a database of its own: what is killed mostly waits, and leaves the quick tests their time.
test-faults: test-faults-1 test-faults-2
test-browser: test-browser-1 test-browser-2 test-browser-3
test-quick:
	CRAVIK_DATA_DIR=var/for-quick $(BIN)/python manage.py test $(TESTS) $(QUICK)

test-faults-1 test-faults-2: test-faults-%:
	CRAVIK_DATA_DIR=var/for-faults-$* CRAVIK_SHARE=$*/2 $(BIN)/python manage.py test $(ALONE) tests.faults

test-browser-1 test-browser-2 test-browser-3: test-browser-%:
	CRAVIK_DATA_DIR=var/for-browser-$* CRAVIK_SHARE=$*/3 $(BIN)/python manage.py test $(ALONE) tests.browser

# What the quick tests reach; the floor stands in pyproject.toml.
coverage: install-dev browser
	$(BIN)/coverage erase
	$(BIN)/coverage run manage.py test $(TESTS) $(QUICK)
	$(BIN)/coverage combine --quiet
	@echo "coverage in per cent:"; $(BIN)/coverage report --format=total

# The long proofs: what is long, and what the other tests hold to a sample (tests/sampling.py), whole.
proofs: export CRAVIK_PROOFS = 1
proofs: coverage
	@sh tools/ensure-debian.sh proofs
	$(BIN)/python manage.py test $(TESTS) --timing tests.proofs tests.test_worked_offers cravik.orders.tests.test_hostile_letters
	$(BIN)/python manage.py test $(ALONE) --timing $(SAMPLED)

bench: install-dev
	$(BIN)/python -m bench

screenshots: install-dev browser
	$(BIN)/python -m tools.screenshots

vendor: install-dev
	sh tools/vendor.sh

lock: .venv/.tools
	@for list in base dev tools; do $(BIN)/uv pip compile --quiet --universal --python-version 3.11 --generate-hashes --no-emit-index-url --no-emit-find-links --custom-compile-command "make lock" requirements/$$list.in -o requirements/$$list.txt; done

clean:
	rm -rf .venv var node_modules
