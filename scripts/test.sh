#!/bin/sh
# All tests, with the floor of what they must run through (scripts/floors.py).
set -eu
cd "$(dirname "$0")/.."
mkdir -p build
# Two workers share the machine; what multiplies matrices keeps to one thread in each.
export OPENBLAS_NUM_THREADS=1
export QT_QPA_PLATFORM=offscreen
# Programs that tests start are there at once: what was compiled is kept.
unset PYTHONDONTWRITEBYTECODE
.venv/bin/python -m compileall -q src tests scripts
# Freed memory is filled, so that a widget used after its end shows at once and not now and then.
MALLOC_PERTURB_=165 .venv/bin/python -m pytest -n 2 --dist worksteal --cov --cov-report= "$@"
.venv/bin/python -m coverage report --skip-covered --skip-empty --sort=cover >build/coverage.txt
.venv/bin/python -m coverage json -q -o build/coverage.json
.venv/bin/python scripts/floors.py build/coverage.json || { tail -30 build/coverage.txt; exit 1; }
