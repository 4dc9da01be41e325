"""In words: the findings as a results section has them. The sample, how predictors were coded, what each block
explained, planned comparisons, and every significant interaction with its simple slopes and regions."""

from __future__ import annotations

import math
from enum import Enum, auto

from yellow_slope.core.data.variable import Kind
from yellow_slope.core.errors import YellowSlopeError
from yellow_slope.core.fit.design.bases import GroupBasis
from yellow_slope.core.fit.fitted.evaluate import Evaluation
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.fitted.inference import FTest
from yellow_slope.core.probe.asking import ProductTests, of_product
from yellow_slope.core.probe.probed import Probed
from yellow_slope.core.probe.probing import probe_fit
from yellow_slope.core.study.coding import Planned
from yellow_slope.core.study.report import PartKind
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term
from yellow_slope.core.words.names.groups import comparison_name
from yellow_slope.core.words.names.quoted import spoken
from yellow_slope.core.words.names.study import zero_point
from yellow_slope.core.words.names.terms import column_name, label
from yellow_slope.core.words.sentences.blocksfound import blocks_paragraph, entered_sentences
from yellow_slope.core.words.sentences.interactions import (
    Pieces,
    in_a_row,
    interaction_name,
    interaction_paragraph,
    of_column,
    of_columns,
    tells_effects,
    told_by,
    verdict,
)
from yellow_slope.core.words.sentences.longnames import LongNames
from yellow_slope.core.words.sentences.samples import sample_sentence
from yellow_slope.core.words.spelling.letters import capital
from yellow_slope.core.words.spelling.numerals import counted, listed, p_relation
from yellow_slope.core.words.spelling.reasons import reason
from yellow_slope.core.words.spelling.rich import Rich, rich, sym, trimmed
from yellow_slope.core.words.spelling.testtexts import written_pieces
from yellow_slope.values import dataclass, replace

MOST_NAMED = 8
MOST_PROBED = 4
"""Significant products that nobody probed, each of which has a paragraph of its own."""
MOST_PREDICTORS = 12


class FindingOf(Enum):
    """What a paragraph of the findings is about."""

    SAMPLE = auto()
    BLOCKS = auto()
    PROBE = auto()


@dataclass(frozen=True, slots=True)
class Finding:
    """A paragraph; of a probe with it."""

    of: FindingOf
    text: Rich
    probed: Probed | None = None


def findings(evaluation: Evaluation, fit: Fit, probes: list[Probed]) -> list[Finding]:
    """Paragraphs: sample and variables, blocks, planned comparisons or single predictors, one for each probe and for
    each significant product that nobody probed, and the tests of all others."""
    names = LongNames(spoken(evaluation.study))
    study = names.study
    evaluation = replace(evaluation, study=study)
    sample = sample_sentence(evaluation, names_all=not study.report.part(PartKind.EXCLUSIONS).on)
    found = [
        Finding(FindingOf.SAMPLE, rich(sample, " ", entered_sentences(study, fit))),
        Finding(FindingOf.BLOCKS, blocks_paragraph(study, fit)),
        *(Finding(FindingOf.BLOCKS, text) for text in _planned(study, fit)),
        Finding(FindingOf.BLOCKS, rich("") if any(p.by_itself for p in probes) else _predictors(study, fit)),
    ]
    left, more = _unprobed(study, fit, probes)
    says_rest = True
    for probed in (*probes, *more):
        found.append(Finding(FindingOf.PROBE, interaction_paragraph(study, probed, says_rest), probed))
        says_rest = says_rest and not tells_effects(probed)
    found.append(Finding(FindingOf.BLOCKS, _others(study, fit, left)))
    alpha = 1 - study.model.level
    if not any(tells_effects(p) for p in (*probes, *more)) and not any(test.p < alpha for _, test in left):
        found.append(Finding(FindingOf.BLOCKS, _predictors(study, fit, beside_products=True)))
    found = [replace(one, text=trimmed(one.text)) for one in found if str(one.text).strip()]
    return [replace(one, text=names.printed(one.text)) for one in found]


# ---- what the model was made for besides its products


def _planned(study: Study, fit: Fit) -> list[Rich]:
    """Each planned comparison of a group with its own estimate and test."""
    index = study.model.reported_step
    step, found = fit.steps[index], []
    for name, basis in fit.design.bases.items():
        if not isinstance(basis, GroupBasis) or not isinstance(basis.coding, Planned) or not basis.n_asked:
            continue
        columns = [j for j in fit.design.columns_of(Term((name,))) if j < step.n_columns][: basis.n_asked]
        at = _partners_at(study, fit, name)
        names = [f"“{comparison_name(study, basis, q)}”" for q in range(len(columns))]
        is_one, label_ = len(columns) == 1, study.variable(name).label
        pieces = _verdicts(study, fit, columns, [f"the planned comparison {names[0]} of {label_}"] if is_one else names)
        if not pieces:
            continue
        lead = f"{capital(at.strip())}, " if at else ""
        if not is_one:
            lead = f"Of the planned comparisons of {label_}{at}, "
        elif not at:
            pieces = _verdicts(study, fit, columns, [f"The planned comparison {names[0]} of {label_}"])
        told: Pieces = [lead, *pieces, "."]
        for term in _by_numbers(study, name):
            within = [j for j in fit.design.columns_of(term) if j < step.n_columns][: basis.n_asked]
            other = study.variable(next(n for n in term.variables if n != name)).label
            if pieces := _verdicts(study, fit, within, ["it"] if is_one else names):
                told += [f" As {'a moderator' if is_one else 'moderators'} of {other}, ", *pieces, "."]
        if len(columns) > MOST_NAMED:
            told.append(f" The table lists all {len(columns)} planned comparisons.")
        found.append(rich(*told))
    return found


def _verdicts(study: Study, fit: Fit, columns: list[int], names: list[str]) -> Pieces:
    """Which comparisons were significant and which were not, each with its estimate and test."""
    index = study.model.reported_step
    kinds: tuple[list[Pieces], list[Pieces], list[Pieces]] = ([], [], [])
    for name, j in list(zip(names, columns))[:MOST_NAMED]:
        told, found = of_column(study, fit, index, j, study.model.level), fit.steps[index].coefficient(j)
        if not told or math.isnan(found.p):
            kinds[2].append([f"{name} ({reason(found.why)})" if found.why is not None else name])
        else:
            kinds[found.p >= 1 - study.model.level].append([f"{name} (", *told, *_p(found.p), ")"])
    said: Pieces = []
    for rows, (one, several) in zip(kinds, VERDICTS):
        if rows:
            said += ["; " if said else "", *in_a_row(rows), f" {one if len(rows) == 1 else several}"]
    return said


VERDICTS = (
    ("was significant", "were significant"),
    ("was not significant", "were not significant"),
    ("has no test", "have no test"),
)


def _by_numbers(study: Study, name: str) -> list[Term]:
    """The products of a group with one number, up to the reported step."""
    terms = [t for block in study.model.steps[: study.model.reported_step + 1] for t in block.terms]
    return [
        t
        for t in terms
        if len(t.variables) == 2
        and name in t.variables
        and all(study.variable(n).kind is Kind.NUMBER for n in t.variables if n != name)
    ]


def _partners_at(study: Study, fit: Fit, name: str) -> str:
    """Where the variables are that a group stands in products with: “ at average practice (4.05)”; empty for none."""
    products = [t for block in study.model.steps[: study.model.reported_step + 1] for t in block.terms if t.is_product]
    partners = dict.fromkeys(n for t in products if name in t.variables for n in t.variables if n != name)
    places = [zero_point(study, fit.design.bases[n]) for n in partners if n in fit.design.bases]
    return f" {listed(places)}" if places else ""


def _predictors(study: Study, fit: Fit, beside_products: bool = False) -> Rich:
    """Of a model without products: which predictors are significant, each with its estimate and test.
    `beside_products`: of a model with products those that stand in none."""
    index = study.model.reported_step
    step = fit.steps[index]
    terms = [t for block in study.model.steps[: index + 1] for t in block.terms]
    multiplied = {name for t in terms if t.is_product for name in t.variables}
    if bool(multiplied) is not beside_products or not fit.design.constant or len(terms) > MOST_PREDICTORS:
        return rich("")
    terms = [t for t in terms if not t.is_product and not multiplied & set(t.variables)]
    planned = {name for name, b in fit.design.bases.items() if isinstance(b, GroupBasis) and _is_planned(b)}
    kinds: tuple[list[Pieces], list[Pieces]] = ([], [])
    for term in terms:
        columns = [j for j in fit.design.columns_of(term) if j < step.n_columns]
        joint = step.joint.get(term)
        if term.variables[0] in planned or not columns or (len(columns) > 1 and joint is None):
            continue
        if len(columns) == 1:
            p, name = step.coefficient(columns[0]).p, column_name(study, fit, columns[0])
            told = [*of_columns(study, fit, index, [term], study.model.level), *_p(p)]
        else:
            assert joint is not None
            p, name, told = joint.p, label(study, term), [*written_pieces(joint)]
        if not math.isnan(p):
            kinds[p >= 1 - study.model.level].append([f"{name} (", *told, ")"])
    significant, others = (in_a_row(rows) for rows in kinds)
    outcome = capital(study.variable(study.model.outcome or "").label)
    if significant and others:
        return rich(f"{outcome} was significantly related to ", *significant, ", but not to ", *others, ".")
    if significant:
        return rich(f"{outcome} was significantly related to ", *significant, ".")
    return rich(f"{outcome} was not significantly related to ", *others, ".") if others else rich("")


def _p(p: float) -> Pieces:
    return [sym("p"), f" {p_relation(p)}"]


def _is_planned(basis: GroupBasis) -> bool:
    return isinstance(basis.coding, Planned)


# ---- products that nobody probed


def _unprobed(study: Study, fit: Fit, probes: list[Probed]) -> tuple[list[tuple[Term, FTest]], list[Probed]]:
    """The products of the reported step that no probe tells of and that are part of no higher one, with their tests;
    those of them that are significant as their own probes, apart."""
    step = study.model.reported_step
    products = [t for block in study.model.steps[: step + 1] for t in block.terms if t.is_product]
    highest = [t for t in products if not any(set(t.variables) < set(o.variables) for o in products)]
    each = {frozenset(t.variables): t for t in highest}
    known = {told_by(p) for p in probes if p.model.id == study.current and p.step == step}
    tests = ProductTests(study, fit)
    left: list[tuple[Term, FTest]] = []
    found: list[Probed] = []
    for names, term in each.items():
        test = tests.test(term) if names not in known else None
        if test is None:
            continue
        probed = None
        if test.exists and test.p < 1 - study.model.level and len(found) < MOST_PROBED:
            probed = _probed(study, fit, term)
        if probed is not None:
            found.append(probed)
        else:
            left.append((term, test))
    return left, found


def _probed(study: Study, fit: Fit, term: Term) -> Probed | None:
    """A product as it is probed at first; None where it cannot be."""
    try:
        probed = probe_fit(study, fit, of_product(study, term))
    except YellowSlopeError:
        return None
    return probed if told_by(probed) == frozenset(term.variables) and probed.step == study.model.reported_step else None


def _others(study: Study, fit: Fit, tested: list[tuple[Term, FTest]]) -> Rich:
    """The tests of products without a paragraph of their own; terms of the same variables, a product and its squares,
    are tested together and named together."""
    step = study.model.reported_step
    products = [t for block in study.model.steps[: step + 1] for t in block.terms if t.is_product]
    sentences: Pieces = []
    for term, test in tested[:MOST_NAMED]:
        same = [t for t in products if set(t.variables) == set(term.variables)]
        column = [*of_columns(study, fit, step, same, study.model.level), *written_pieces(test)] if test.exists else []
        several = len(same) > 1
        together = f"the terms {listed([label(study, t) for t in same])} together"
        name = capital(together if several else interaction_name(study, term))
        sentences += [" " if sentences else "", f"{name} {verdict(test, study.model.level, several)}", *column, "."]
    more = len(tested) - MOST_NAMED
    tail = (
        f" {counted(more, 'further product')} {'is' if more == 1 else 'are'} listed in the table." if more > 0 else ""
    )
    return rich(*sentences, tail) if sentences else rich("")
