# Two commands do everything: `make demo` and `make test`. Each sets up what it needs by itself.
# `make check` is everything but the tests; `make test ONLY=tests/core/fit/test_rank.py` is one of them. See CONTRIBUTING.md.
PYTHON := .venv/bin/python
ONLY ?=
PART ?=
FROM ?= 0
TO ?= 1000
export QT_LOGGING_RULES ?= qt.qpa.*=false

.PHONY: demo test thorough check bench setup pictures keys schemas episodes sentences studies claims where mutated walks edits layouts

setup:
	@sh scripts/setup.sh

demo: setup
	@$(PYTHON) -m yellow_slope demo --to build/demo

check:
	@sh scripts/check.sh

ifeq ($(ONLY),)
test: setup
	@sh scripts/check.sh
	@sh scripts/test.sh
else
test: setup
	@QT_QPA_PLATFORM=offscreen $(PYTHON) -m pytest $(ONLY)
endif

bench: setup
	@$(PYTHON) scripts/bench.py $(PART)

pictures: setup
	@QT_QPA_PLATFORM=offscreen $(PYTHON) scripts/pictures.py

episodes: setup
	@QT_QPA_PLATFORM=offscreen YELLOW_SLOPE_WRITE=1 $(PYTHON) -m pytest tests/episodes

sentences: setup
	@YELLOW_SLOPE_WRITE=1 $(PYTHON) -m pytest tests/core/words/test_sentences.py

# Random studies by their seeds, compared with 60 digits: make studies FROM=0 TO=1000
studies: setup
	@STUDIES_FROM=$(FROM) STUDIES_TO=$(TO) $(PYTHON) -m pytest -q tests/core/fit/test_described.py

# Claims of whole reports of random studies, held against figures of their own: make claims FROM=0 TO=300
claims: setup
	@CLAIMS_FROM=$(FROM) CLAIMS_TO=$(TO) $(PYTHON) -m pytest -q -n 2 tests/core/words/test_claims.py

# Where effects hold, of random models by their seeds, against 40 digits: make where FROM=0 TO=300
where:
	@WHERE_FROM=$(FROM) WHERE_TO=$(TO) $(PYTHON) -m pytest -q -n 2 tests/core/probe/test_where_it_holds.py

# Inputs of every kind, changed at random: make mutated FROM=0 TO=10000
mutated: setup
	@MUTATED_FROM=$(FROM) MUTATED_TO=$(TO) QT_QPA_PLATFORM=offscreen $(PYTHON) -m pytest -q -n 2 tests/files/test_mutated.py

# Figures of random studies in every look and size: make layouts FROM=0 TO=200
layouts: setup
	@LAYOUTS_FROM=$(FROM) LAYOUTS_TO=$(TO) QT_QPA_PLATFORM=offscreen $(PYTHON) -m pytest -q -n 2 tests/plots/test_figures.py -k sound

# Random walks in the window: make walks FROM=0 TO=200
walks: setup
	@WALKS_FROM=$(FROM) WALKS_TO=$(TO) QT_QPA_PLATFORM=offscreen $(PYTHON) -m pytest -q -n 2 tests/app/test_window_walks.py

# Edits of every kind at random: make edits TO=20000
edits: setup
	@EDITS_TO=$(TO) $(PYTHON) -m pytest -q -n 2 tests/test_walks.py

# Everything with all seeds and examples there are, of which `make test` takes a part
thorough: setup
	@SEEDS=all sh scripts/test.sh

keys: setup
	@QT_QPA_PLATFORM=offscreen $(PYTHON) scripts/write_keys.py

schemas: setup
	@$(PYTHON) scripts/write_schemas.py
