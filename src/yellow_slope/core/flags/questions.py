"""Planned questions that cannot be coded: they follow from others, are one too many, or have an empty side."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

from yellow_slope.core.fit.design.bases import GroupBasis
from yellow_slope.core.fit.fitted.evaluate import Evaluation
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.flags.flag import Flag, Remedy
from yellow_slope.core.groups.codecard import code_card
from yellow_slope.core.study.coding import Planned
from yellow_slope.core.study.edits.questions import ask, questions_of
from yellow_slope.core.study.flagkeys import FlagKey, FlagKind
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.sentences.comparisons import comparison_title, effect_text, question_troubles


def surplus_questions(evaluation: Evaluation) -> Iterator[Flag]:
    """Groups with planned questions that are not coded."""
    study, fit = evaluation.study, evaluation.fit
    for name, basis in fit.design.bases.items() if fit is not None else ():
        if (
            isinstance(basis, GroupBasis)
            and isinstance(basis.coding, Planned)
            and len(basis.levels) > 1
            and fit is not None
        ):
            n = len(basis.coding.questions) - (basis.n_asked or 0)
            if n > 0:
                title = (
                    f"{n} of {len(basis.coding.questions)} questions about {study.variable(name).label} "
                    f"{'is' if n == 1 else 'are'} not coded"
                )
                yield Flag(FlagKey(FlagKind.QUESTION, (name,)), title, partial(_told, study, fit, name), variable=name)


def _told(study: Study, fit: Fit, name: str) -> tuple[str, tuple[Remedy, ...]]:
    card = code_card(study, study.model, name, fit)
    troubles = question_troubles(study, card)
    tested = {int(c.key): i for i, c in enumerate(card.comparisons) if i >= card.n_coded}
    said = []
    for place, trouble in troubles.items():
        result = ""
        if place in tested:
            at = tested[place]
            result = f" ({comparison_title(card, study, at)}: {effect_text(card.effects[at], ', ')})"
        said.append(f"Question {place + 1}: {trouble}{result}.")

    def without(now: Study) -> Study:
        return ask(now, name, [q for i, q in enumerate(questions_of(now, name)) if i not in troubles])

    label = "Remove it" if len(troubles) == 1 else f"Remove the {len(troubles)}"
    return " ".join(said), (Remedy(label, without),)
