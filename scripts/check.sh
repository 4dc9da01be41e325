#!/bin/sh
# Everything that is checked without running the program: lint, format, types, layers.
set -eu
cd "$(dirname "$0")/.."
bin=.venv/bin
[ -x $bin/mypy ] || { echo "There is no .venv yet: make test sets it up." >&2; exit 1; }
mkdir -p build
$bin/ruff check -q src tests scripts
$bin/ruff format -q --check src tests scripts
echo "lint and format: fine"
$bin/mypy --no-error-summary
echo "types: fine"
$bin/lint-imports --no-cache >build/layers.txt 2>&1 || { cat build/layers.txt; exit 1; }
echo "layers: fine"
