# Juxtakine: `make demo` to see it, `make test` to check it. Everything that is missing is installed first.
.PHONY: demo serve faults setup setup-dev setup-bench test test-alone test-run test-day lint format bench accuracy accuracy-full screenshots api lock
.DEFAULT_GOAL := demo

demo: setup ## start everything with the demo data, and print the address
	@.venv/bin/python -m juxtakine.servers.up --demo

serve: setup ## the same with no demo data
	@.venv/bin/python -m juxtakine.servers.up

setup:
	@scripts/setup.sh run

setup-dev:
	@scripts/setup.sh dev

setup-bench:
	@scripts/setup.sh bench

test: setup-dev lint ## all checks and tests
	npm test --silent
	@$(MAKE) --no-print-directory --jobs=2 --output-sync=target test-alone test-run

NOT_SHARED := tests/cli tests/core tests/demo tests/exchange tests/faults tests/media tests/pipeline tests/servers

test-alone: ## the tests that need no servers, or start their own
	.venv/bin/pytest $(NOT_SHARED)

test-run: ## those of one application as it runs
	.venv/bin/pytest $(NOT_SHARED:%=--ignore=%)

DAY := $(shell date +%Y%m%d)

test-day: ## the property tests by another seed each day: make test-day DAY=20261202 for that of another one
	@echo "the day's seed: $(DAY)"
	.venv/bin/pytest -q -m hypothesis tests/core tests/exchange tests/pipeline --hypothesis-profile=day --hypothesis-seed=$(DAY)

lint: setup-dev
	.venv/bin/ruff check .
	.venv/bin/ruff format --check .
	.venv/bin/mypy
	.venv/bin/lint-imports
	.venv/bin/python scripts/api_types.py
	npm run --silent lint
	npm run --silent types

format: setup-dev
	.venv/bin/ruff check --fix .
	.venv/bin/ruff format .
	npx biome check --write frontend

api: setup-dev ## the front end's types from the server's
	.venv/bin/python scripts/api_types.py

bench: setup-dev ## how fast it is
	.venv/bin/python -m bench.speed

accuracy: setup-bench ## how right it is: some minutes
	PYTHONPATH=bench .venv/bin/python -m accuracy --tracks 40 --video 1 --failures 10 --unusual 6 --crowded 10 --sounds 10 --eased 16
	PYTHONPATH=bench .venv/bin/python -m watching --clips 4 --structures 10

accuracy-full: setup-bench ## the whole table: about three hours from nothing
	PYTHONPATH=bench .venv/bin/python -m accuracy --tracks 400 --video 44 --library 18 --failures 100 --unusual 96 --crowded 150 --sounds 120 --eased 160 --people --write docs/accuracy.md
	PYTHONPATH=bench .venv/bin/python -m watching --clips 20 --structures 40 --films 6 --mirrors 60

faults: setup-dev ## kills, races, odd requests and damaged clips: about half an hour
	PYTHONPATH=tests .venv/bin/python -m faults

screenshots: setup-dev ## the main views anew, from the demo data
	PYTHONPATH=tests .venv/bin/python scripts/screenshots.py

lock:
	scripts/lock.sh
