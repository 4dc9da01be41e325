#!/bin/sh
# Everything that is checked before a change counts: lint, format, types, layers, tests.
set -eu
cd "$(dirname "$0")/.."
bin=.venv/bin
mkdir -p build
$bin/ruff check -q src tests scripts
$bin/ruff format -q --check src tests scripts
echo "lint and format: fine"
$bin/mypy --no-error-summary
echo "types: fine"
$bin/lint-imports --no-cache >build/layers.txt 2>&1 || { cat build/layers.txt; exit 1; }
echo "layers: fine"
# Two workers share the machine; what multiplies matrices keeps to one thread in each.
export OPENBLAS_NUM_THREADS=1
# Freed memory is filled, so that a widget used after its end shows at once and not now and then.
MALLOC_PERTURB_=165 QT_QPA_PLATFORM=offscreen $bin/python -m pytest -n 2 "$@"
