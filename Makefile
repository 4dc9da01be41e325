# Two commands do everything: `make demo` and `make test`. Each sets up what it needs by itself.
PYTHON := .venv/bin/python
export QT_LOGGING_RULES ?= qt.qpa.*=false

.PHONY: demo test bench setup pictures keys schemas episodes sentences

setup:
	@sh scripts/setup.sh

demo: setup
	@$(PYTHON) -m yellow_slope demo --to build/demo

test: setup
	@sh scripts/check.sh

bench: setup
	@$(PYTHON) scripts/bench.py

pictures: setup
	@QT_QPA_PLATFORM=offscreen $(PYTHON) scripts/pictures.py

episodes: setup
	@QT_QPA_PLATFORM=offscreen YELLOW_SLOPE_WRITE=1 $(PYTHON) -m pytest tests/episodes

sentences: setup
	@YELLOW_SLOPE_WRITE=1 $(PYTHON) -m pytest tests/core/words/test_sentences.py

keys: setup
	@QT_QPA_PLATFORM=offscreen $(PYTHON) scripts/write_keys.py

schemas: setup
	@$(PYTHON) scripts/write_schemas.py
