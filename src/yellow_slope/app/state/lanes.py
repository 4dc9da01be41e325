"""The lanes of the worker: each does one job at a time, and belongs to one part of the program."""

from __future__ import annotations

from enum import Enum


class Lane(Enum):
    """What is worked on, as threads and the log name it."""

    FILES = "files"
    """Reading and writing, in order; on all other lanes only the newest job counts."""
    JOURNAL = "journal"
    LOOKING_ROUND = "files and journals to offer"
    BESIDE_STUDY = "table beside the study"
    RECENT = "list of recent files"
    NAMES_IN_FOLDER = "names in a folder as it is typed"
    EVALUATION = "evaluation"
    RESAMPLING = "resampling"
    """Bootstraps that take a while."""
    FIRST_ROWS = "first rows of another reading"
    SORTING = "sorting"
    FINDING = "finding"
    RULE = "a rule as it is typed"
    DERIVING = "a computed variable as it is typed"
    CARD = "card of a column"
    ROSTER = "small distributions of the roster"
    STRIPS = "strips of numbers"
    PREPARED = "what Prepare shows of a variable"
    TYPED_MODEL = "a model as it is typed"
    BESIDE = "plot beside the ladder"
    BELOW = "below the ladder"
    TRUST = "how far to trust a product"
    RELATION = "what two models are to each other"
    CHECKS = "plots of checks"
    CHECKED = "what is checked"
    STAND = "rivals of a product"
    DRAWN_RIVAL = "the resampled rival"
    BEFORE_AND_AFTER = "before and after"
    PROBE_PLOTS = "plots of the probe"
    PROBE_EXTRAS = "how boundaries move"
    REPORT = "report"
    EQUATION = "picture of an equation"
    FLAG = "cost of a flag's remedies"
