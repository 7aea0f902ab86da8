# make demo   set up what is missing and start the application with the demo project
# make test   set up what is missing and run all tests
# make lint   style, types and the import rules
# make bench  speed and memory, as a report
HOST ?= 127.0.0.1
PORT ?= 8765
DATA ?= data
WORKERS ?= 2

.PHONY: demo test lint bench setup lock

setup:
	@tools/setup

demo:
	@tools/setup
	@.venv/bin/young-comet serve --demo --host $(HOST) --port $(PORT) --data $(DATA)

test:
	@tools/setup test
	@.venv/bin/python -m pytest -n $(WORKERS) --dist loadgroup $(ARGS)

lint:
	@tools/setup lint
	@.venv/bin/ruff check src tests benchmarks
	@.venv/bin/ruff format --check src tests benchmarks
	@.venv/bin/lint-imports
	@.venv/bin/mypy src
	@.venv/bin/python tools/lint_page.py

bench:
	@tools/setup test
	@.venv/bin/python benchmarks/run.py

# Writes requirements.lock anew from pyproject.toml; needs uv on the PATH.
lock:
	uv pip compile pyproject.toml --extra dev --generate-hashes --no-emit-index-url --no-header -q -o requirements.lock
