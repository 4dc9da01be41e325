"""A set of codes without a block of its own, where the block's test says something else than the set's."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

import numpy as np

from yellow_slope.core.fit.fitted.evaluate import Evaluation
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.flags.flag import Flag, Remedy
from yellow_slope.core.study.edits.composing import split_block
from yellow_slope.core.study.flagkeys import FlagKey, FlagKind
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term
from yellow_slope.core.words.names.terms import label
from yellow_slope.core.words.spelling.numerals import bounded
from yellow_slope.core.words.spelling.testtexts import written_or_why


def sets_without_a_block(evaluation: Evaluation) -> Iterator[Flag]:
    """Sets in a block with other terms, one of the two significant and the other not."""
    study, fit = evaluation.study, evaluation.fit
    if fit is None:
        return
    alpha = 1 - study.model.level
    for step, block in enumerate(study.model.steps):
        result = fit.steps[step]
        whole = result.change.test.p
        if len(block.terms) < 2 or np.isnan(whole):
            continue
        for term in block.terms:
            test = result.joint.get(term)
            if test is not None and not np.isnan(test.p) and (test.p < alpha) != (whole < alpha):
                title = f"{label(study, term)} and its block disagree"
                yield Flag(FlagKey(FlagKind.SET, term.key), title, partial(_told, study, fit, step, term), term=term)


def _told(study: Study, fit: Fit, step: int, term: Term) -> tuple[str, tuple[Remedy, ...]]:
    result, block = fit.steps[step], study.model.steps[step]
    index = next(i for i, b in enumerate(study.model.blocks) if b.id == block.id)
    cost = (
        f"Block {index + 1} adds {bounded(result.change.r2)} to R² "
        f"({written_or_why(result.change.test)}), but the joint test of "
        f"{label(study, term)} alone gives {written_or_why(result.joint[term])}. The "
        f"test of the block is not a test of {label(study, term)}; in a block of its "
        "own, the set has its own change in R²."
    )
    return cost, (
        Remedy(f"Give {label(study, term)} a block of its own", partial(split_block, index=index, terms=[term])),
    )
