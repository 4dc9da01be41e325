"""The zero point that is moved, the chosen comparison or pair, or what a treatment does."""

from __future__ import annotations

from functools import partial

from yellow_slope.app.explanations.data import chosen_together, variable_explanation
from yellow_slope.app.explanations.link import Explanation, Link
from yellow_slope.app.state.desk import CardView
from yellow_slope.app.state.requests import Request
from yellow_slope.app.state.session import StudySession
from yellow_slope.core.fit.design.bases import NumberBasis
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.groups.codecard import CodeCard
from yellow_slope.core.groups.overview import Overview
from yellow_slope.core.study.coding import Planned, Trends
from yellow_slope.core.study.edits.questions import change_sides
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.treatment import WithinGroups
from yellow_slope.core.words.names.quoted import spoken
from yellow_slope.core.words.sentences.comparisons import (
    comparison_figures,
    comparison_sentence,
    comparison_title,
    effect_text,
    joint_sentence,
    omnibus_text,
    pair_sentence,
)
from yellow_slope.core.words.sentences.zeros import centering_sentence, zero_sentence
from yellow_slope.core.words.spelling.numerals import number_or_place, place


def prepare_explanation(session: StudySession) -> Explanation:
    """The zero point that is being moved, the chosen comparison or pair, or what the current variable's treatment
    does."""
    view, desk, name = session.view, session.desk, session.desk.variable
    assert view is not None
    if chosen_together(session):
        return variable_explanation(session)
    if desk.zero is not None and desk.zero[0] == name:
        return _zero(view.study, view.fit, *desk.zero)
    found = session.prepared
    if found is None or found.name != name or name not in {v.name for v in view.study.variables}:
        return variable_explanation(session)
    if found.card is not None and desk.card in (CardView.COMPARISONS, CardView.COLUMNS):
        return _comparison(session, found.study, found.card, desk.comparison)
    if found.overview is not None:
        return _pair(found.study, found.overview, desk.comparison)
    if found.centering is not None:
        plain = variable_explanation(session)
        links = (*plain.links, *_means_link(session, name))
        return Explanation(
            plain.title, plain.figures, centering_sentence(spoken(found.study), found.centering), links, in_words=False
        )
    plain = variable_explanation(session)
    return Explanation(
        plain.title, plain.figures, plain.text, (*plain.links, *_means_link(session, name)), plain.in_words
    )


def _zero(study: Study, fit: Fit | None, name: str, at: float) -> Explanation:
    variable = study.variable(name)
    basis = fit.design.bases.get(name) if fit is not None else None
    title = (
        f"{variable.label}: zero at "
        f"{place(at, basis.axis_sd) if isinstance(basis, NumberBasis) else number_or_place(at)}"
    )
    if fit is None or not isinstance(basis, NumberBasis):
        return Explanation(
            title, "", "It is in no model that is fitted: no coefficient depends on it yet.", (), in_words=False
        )
    return Explanation(title, "", zero_sentence(spoken(study), fit, name, at), (), in_words=False)


def _means_link(session: StudySession, name: str | None) -> list[Link]:
    study = session.study
    if name is None or not isinstance(study.model.treatment(name).zero, WithinGroups):
        return []
    return [
        Link(
            "Add the group means",
            "The means it is centered within, as a variable of their own",
            partial(session.ask, Request.ADD_GROUP_MEANS),
        )
    ]


def _comparison(session: StudySession, study: Study, card: CodeCard, chosen: int | None) -> Explanation:
    variable = study.variable(card.variable)
    where = "without other predictors" if card.is_alone else f"in step {card.step + 1}"
    if chosen is None or chosen >= len(card.comparisons):
        waiting = chosen is not None and isinstance(card.basis.coding, Planned)
        text = (
            "Put levels on the two sides: click left of the middle for −, right of it for +."
            if waiting
            else joint_sentence(card, spoken(study))
        )
        offers: list[Link] = []
        if isinstance(card.basis.coding, Trends):
            offers.append(
                Link(
                    "Space the levels",
                    "Give the levels their places on the axis",
                    partial(session.ask, Request.SPACE_LEVELS),
                )
            )
        if card.basis.n_asked is not None and card.basis.n_asked < card.n_coded:
            told = "Add the questions that complete the set to your own"
            offers.append(Link("Complete the set", told, partial(session.ask, Request.COMPLETE_QUESTIONS)))
        return Explanation(f"{variable.label} {where}", "", text, tuple(offers), in_words=not waiting)
    made, title = card.comparisons[chosen], comparison_title(card, study, chosen)
    links: list[Link] = []
    if made.key and isinstance(card.basis.coding, Planned):
        at = int(made.key)

        def turned() -> None:
            session.edit("swap the sides of a question", lambda s: change_sides(s, card.variable, at))

        links.append(Link("Swap sides", "Swap plus and minus (T)", turned))
    if made.key:
        links.append(
            Link("Name it", "Give the comparison a name of its own (F2)", partial(session.ask, Request.NAME_COMPARISON))
        )
    return Explanation(
        title, comparison_figures(card, chosen), comparison_sentence(card, spoken(study), chosen), tuple(links)
    )


def _pair(study: Study, found: Overview, chosen: int | None) -> Explanation:
    variable = study.variable(found.variable)
    if chosen is None or chosen >= len(found.pairs):
        return Explanation(f"{variable.label}: all groups together", "", omnibus_text(found, spoken(study)))
    pair = found.pairs[chosen]
    one, other = (variable.level(found.levels[i]).label for i in (pair.one, pair.other))
    return Explanation(f"{one} minus {other}", effect_text(pair.effect), pair_sentence(found, spoken(study), chosen))
