"""Every claim of a report against figures that were reckoned without the program: significant or not, higher or lower,
b and interval and test, the step, where an effect holds and for how many cases, ranges and references.

`make claims FROM=0 TO=300` reads as many reports as one likes; a few of fixed seeds are read in every run.
"""

from __future__ import annotations

import os
import re
from collections.abc import Iterator
from functools import cache

import mpmath
import numpy as np
import pytest
from mpmath import mpf

from tests.support.described import DIGITS, Row, at_place, drawn
from tests.support.judge import Joint, Judge, Judged, NothingToldError
from tests.support.seeds import few
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.fit.fitted.evaluate import Evaluation, evaluate
from yellow_slope.core.fit.fitted.inference import ConditionalEffect
from yellow_slope.core.fit.solve.why import Why
from yellow_slope.core.probe.places import LevelPlace, NumberPlace, Place, Point
from yellow_slope.core.probe.probed import Probed
from yellow_slope.core.study.coding import Dummy
from yellow_slope.core.study.terms import Term
from yellow_slope.core.words.names.numbers import transformed_name
from yellow_slope.core.words.sentences.effects import EffectReader
from yellow_slope.core.words.sentences.findings import findings
from yellow_slope.core.words.sentences.interactions import leading, told_by
from yellow_slope.report.parts import build_report, probes_of

SEEDS = range(int(os.environ.get("CLAIMS_FROM", "0")), int(os.environ.get("CLAIMS_TO") or few(10, 24)))
NUMBER = r"−?\d[\d,]*(?:\.\d+)?(?:e[+−]\d+)?"
P = r"p (<|=|>) (\.\d+)"
TEST = rf"(?:F\((\d+), (\d+)\) = ({NUMBER}), )?{P}\."
ADDED = re.compile(rf"R²(?: about zero)? = (−?\d*\.\d+), (?:adjusted R² = [^,]+, )?(?:\d+% CI \[[^]]*\], )?{TEST}")
SENTENCE = re.compile(r"(?<=[.)]) (?=In the first|Adding|None of|The final model|The model of step)")
SILENT = re.compile(r"None of steps (\d+) to (\d+) ")
VERDICT = re.compile(
    r"(?:^|(?<=\. ))(?:In step (\d+), )?"
    r"((?:[Tt]he (?:slope|effect|differences?|interaction|curvature|terms) |[^.]+? and )[^.]*?) "
    r"(depended on|did not depend significantly on|(?:was|were) significant|(?:was|were) not significant)(?: [^,]+)?, "
    rf"(?:b = ({NUMBER}), )?(?:\d+% CI \[({NUMBER}), ({NUMBER})\], )?{TEST}"
)
EFFECT = re.compile(
    rf"({NUMBER}) (?:\(\d+% CI )?\[({NUMBER}), ({NUMBER})\]\)? "
    r"(when .+? was (?:low|average|high) \([^)]*\)|at .+?|in “.+?”)"
    rf"(?=, {NUMBER} \[| and {NUMBER} \[|\.(?: |$))"
)
REGION = re.compile(rf"(below|above) ({NUMBER})|({NUMBER}) to ({NUMBER})")
OUTSIDE = re.compile(rf"at ([^,;(]+?) ({NUMBER}) \(outside its observed range, ({NUMBER}) to ({NUMBER})\)")


@pytest.fixture(autouse=True)
def digits() -> Iterator[None]:
    with mpmath.workdps(DIGITS):
        yield


def value(text: str) -> float:
    return float(text.replace(",", "").replace("−", "-"))


def unit_of(text: str) -> float:
    """Half of the last digit that is written."""
    mantissa, _, power = text.replace("−", "-").partition("e")
    decimals = len(mantissa.partition(".")[2])
    return 0.5 * 10.0 ** (-decimals + int(power or 0))


def says(text: str, number: float, off: float) -> bool:
    return abs(value(text) - number) <= 1.001 * unit_of(text) + off + 1e-9 * abs(number)


def says_p(relation: str, text: str, between: tuple[float, float]) -> bool:
    low, high = between[0] - 1e-6, between[1] + 1e-6
    if relation == "<":
        return low < float(text)
    if relation == ">":
        return high > float(text)
    return low - 1.001 * unit_of(text) <= float(text) <= high + 1.001 * unit_of(text)


def is_significant(between: tuple[float, float], alpha: float) -> bool | None:
    """None where rounding decides."""
    if between[0] - 1e-6 <= alpha <= between[1] + 1e-6:
        return None
    return between[1] < alpha


class Reports:
    """A report and its judge."""

    def __init__(self, seed: int) -> None:
        made = drawn(seed)
        self.evaluation: Evaluation = evaluate(made.study)
        self.study, self.said = self.evaluation.study, made.said
        fit = self.evaluation.fit
        if fit is None or any(len(codes[0]) < 2 for codes in Judge(self.study).reckoned.codes.values()):
            raise NothingToldError
        self.fit, self.judge = fit, Judge(self.study)
        self.alpha = 1 - self.study.model.level
        self.probes = list(probes_of(self.evaluation))
        self.findings = findings(self.evaluation, fit, self.probes)


@cache
def reports_of(seed: int) -> Reports | None:
    """The report of a seed, made once for all tests; None where there is nothing to hold it against."""
    try:
        with mpmath.workdps(DIGITS):
            return Reports(seed)
    except NothingToldError:
        return None


@pytest.fixture(params=SEEDS)
def read(request: pytest.FixtureRequest) -> Reports:
    found = reports_of(request.param)
    if found is None:
        pytest.skip("there is nothing to hold it against")
    return found


def product_told(read: Reports, probed: Probed | None, name: str) -> Term | None:
    """The one product that a verdict is of; None where it is of several, or of one at a place of another variable."""
    products = [t for t in read.study.model.terms if t.is_product]
    if probed is not None:
        if EffectReader(read.study, probed, 0).product_at() or probed.by_itself:
            return None
        names = told_by(probed)
    else:
        told = re.fullmatch(r"[Tt]he interaction of (.+)", name)
        labels = re.split(r", | and ", told.group(1)) if told else []
        names = frozenset(v.name for v in read.study.variables if v.label in labels)
    found = [t for t in products if frozenset(t.variables) == names and len(t.variables) == len(names)]
    others = [t for t in products if frozenset(t.variables) == names]
    return found[0] if len(found) == len(others) == 1 else None


@pytest.mark.no_cover
def test_what_each_step_adds(read: Reports) -> None:
    judge, index, seen = read.judge, -1, 0
    text = next((str(f.text) for f in read.findings if "R²" in str(f.text)), "")
    for sentence in SENTENCE.split(text):
        silent = SILENT.match(sentence)
        if silent is not None:
            index = int(silent.group(2)) - 1
            continue
        if sentence.startswith(("The final model", "The model of step")):
            break
        index += 1
        told = ADDED.search(sentence)
        if told is None:
            continue
        share, df1, df2, f, relation, p = told.groups()
        here = judge.r2(index) - (judge.r2(index - 1) if index else 0)
        assert abs(value(share) - here) <= 1.01 * unit_of(share) + 1e-6, (read.said, sentence, index, here)
        width = len(judge.steps[index].columns)
        first = len(judge.steps[index - 1].columns) if index else 1
        beyond_mean = index == 0 and judge.about_mean and not read.study.model.constant
        joint = None if beyond_mean else judge.joint(index, list(range(first, width)))
        check_joint(joint, df1, df2, f, relation, p, (read.said, sentence, index))
        if joint is not None and (verdict := is_significant(joint.p, read.alpha)) is not None:
            assert verdict == ("did not explain" not in sentence), (read.said, sentence, joint)
        seen += 1
    assert seen or not any(step.change.test.exists for step in read.fit.steps), (read.said, text)


def check_joint(joint: Joint | None, df1: str, df2: str, f: str, relation: str, p: str, where: object) -> None:
    if joint is None:
        return
    assert says_p(relation, p, joint.p), (where, joint)
    assert bool(f) == (joint.f is not None), (where, joint)
    if joint.f is not None:
        assert (int(df1), int(df2)) == joint.df, (where, joint)
        assert abs(value(f) - joint.f) <= 1.01 * unit_of(f) + 1e-4 * joint.f, (where, joint)


@pytest.mark.no_cover
def test_verdicts(read: Reports) -> None:
    """A product that is called significant is so, by the test that stands there; b and interval are of that test."""
    seen = 0
    for finding in read.findings:
        for told in VERDICT.finditer(str(finding.text)):
            seen += 1
            step, name, verb, b, low, high, df1, df2, f, relation, p = told.groups()
            is_not, where = " not " in verb, (read.said, str(finding.text))
            shown = float(p) if relation != "<" else 0.0
            assert (shown < read.alpha) == (not is_not) or abs(shown - read.alpha) < 0.0011, where
            term = product_told(read, finding.probed, name)
            index = int(step) - 1 if step else finding.probed.step if finding.probed else len(read.judge.steps) - 1
            if term is None:
                continue
            columns = [j + 1 for j in read.fit.design.columns_of(term)]
            columns = [j for j in columns if j < len(read.judge.steps[index].columns)]
            joint = read.judge.joint(index, columns)
            check_joint(joint, df1, df2, f, relation, p, where)
            if joint is not None:
                verdict = is_significant(joint.p, read.alpha)
                assert verdict is None or verdict == (not is_not), (where, joint)
            if b and joint is not None:
                assert len(columns) == 1, where
                one = read.judge.effect(index, read.judge.unit(index, columns[0]))
                assert one is not None, where
                check_figures(b, low, high, one, where)
    asked = [f for f in read.findings if f.probed is not None and (first := leading(f.probed)) and first.test.exists]
    assert seen >= len(asked), (read.said, [str(f.text) for f in read.findings])


def check_figures(b: str, low: str | None, high: str | None, one: Judged, where: object) -> None:
    assert says(b, one.b, one.off), (where, one)
    if low and high:
        assert says(low, one.low, one.off), (where, one)
        assert says(high, one.high, one.off), (where, one)


def rows_of(read: Reports, probed: Probed, focus: int, where: list[tuple[str, Place]]) -> Row:
    focal, reckoned = probed.probe.focal, read.judge.reckoned
    weights = None if focal in reckoned.axes else reckoned.codes[focal][2][focus]
    return at_place(reckoned, focal, weights, where)


@pytest.mark.no_cover
def test_effects_in_findings_and_in_words(read: Reports) -> None:
    """The slopes of a paragraph at the places it names; higher and lower as they are; what remains open."""
    for probed in read.probes:
        if probed.second is not None:
            continue
        moderator = probed.probe.moderator
        reader = EffectReader(read.study, probed, 0)
        paragraph = next((str(f.text) for f in read.findings if f.probed is probed), "")
        told = EFFECT.findall(paragraph)
        shown = [(at, e) for at, e in zip(probed.places, probed.panels[0].foci[0].effects) if is_told(e)]
        if told and len(told) == len(shown):
            for (b, low, high, at), (place, _) in zip(told, shown):
                one = read.judge.effect(probed.step, rows_of(read, probed, 0, [(moderator, place)]))
                where = (read.said, paragraph, at)
                assert one is not None, where
                check_figures(b, low, high, one, where)
                check_place(read, probed, at, place, where)
        for k, focus in enumerate(probed.panels[0].foci):
            for place, effect in zip(probed.places, focus.effects):
                one = read.judge.effect(probed.step, rows_of(read, probed, k, [(moderator, place)]))
                if one is None or not effect.exists or effect.why is not None:
                    continue
                text = reader.effect(k, effect, place)
                here = (read.said, str(probed.probe), text, one)
                up, down = " higher" in text, " lower" in text
                if abs(one.b) > one.off and "trend of" not in text:
                    assert up != down, here
                    assert up == (one.b > 0), here
                verdict = is_significant(one.p, read.alpha)
                assert verdict is None or verdict == ("Not significant" not in text), here


def is_told(effect: ConditionalEffect) -> bool:
    return effect.exists and effect.why is not Why.FIXED


def check_place(read: Reports, probed: Probed, at: str, place: Place, where: object) -> None:
    """“at w 2.41 (1 SD below the mean)”: the number and its name are those of the cases' raw values."""
    if isinstance(place, LevelPlace):
        level = read.study.variable(probed.probe.moderator).level(place.code)
        assert level.label in at or level.code in at, where
        return
    if not isinstance(place, NumberPlace):
        return
    moderator = probed.probe.moderator
    if "own group" in at:
        return
    number = re.search(rf"\(({NUMBER})[,)]", at) if at.startswith("when ") else re.search(rf" ({NUMBER})(?: \(|$)", at)
    assert number is not None, where
    raw = np.array([float(read.study.columns.numbers(moderator)[i]) for i in read.judge.reckoned.rows])
    middle, spread = float(raw.mean()), float(raw.std(ddof=1))
    if not read.study.model.treatment(moderator).transforms:
        wanted = {Point.SD_BELOW: middle - spread, Point.MEAN: middle, Point.SD_ABOVE: middle + spread}
        if place.point in wanted:
            assert says(number.group(1), wanted[place.point], 1e-9 * spread), (where, wanted[place.point])
    assert says(number.group(1), place.value, 1e-9 * spread), where


@pytest.mark.no_cover
def test_where_it_holds(read: Reports) -> None:
    """Within a region that is told every case's effect leaves out 0 on the side that is told, elsewhere none does."""
    for probed in read.probes:
        moderator = probed.probe.moderator
        if probed.second is not None or moderator not in read.judge.reckoned.axes or probed.by_itself:
            continue
        basis = probed.fit.design.number(moderator)
        values = np.asarray(read.fit.values[moderator], dtype=np.float64)
        for k, focus in enumerate(probed.panels[0].foci):
            if focus.regions is None or focus.regions.rule is not probed.probe.rule:
                continue
            for at in np.unique(values)[:: max(1, values.size // 12)]:
                if any(abs(at - b) < 1e-4 * basis.sd for b in focus.regions.boundaries):
                    continue
                one = read.judge.effect(
                    probed.step, rows_of(read, probed, k, [(moderator, NumberPlace(float(at), Point.OWN))])
                )
                if one is None or min(abs(one.low), abs(one.high)) <= 3 * one.off:
                    continue
                sign = 1 if one.low > 0 else -1 if one.high < 0 else 0
                found = [r.sign for r in focus.regions.within if r.low <= at <= r.high]
                assert found[:1] == [sign], (read.said, str(probed.probe), float(at), one, focus.regions)
            if isinstance(probed.focal, type(basis)):
                for region in focus.regions.within:
                    inside = int(np.count_nonzero((values >= region.low) & (values <= region.high)))
                    told = sum(near.cases for near in region.cases)
                    edge = int(np.count_nonzero(np.isin(values, [region.low, region.high])))
                    assert abs(told - inside) <= edge, (read.said, str(probed.probe), region, inside)


@pytest.mark.no_cover
def test_ranges_and_references(read: Reports) -> None:
    report = build_report(read.evaluation)
    texts = [str(p) for s in report.sections for p in (*s.paragraphs, *s.after)]
    texts += [table.note for s in report.sections for table in s.tables]
    reckoned = read.judge.reckoned
    variables = {v.name: v for v in read.study.variables}
    for text in texts:
        for name, at, low, high in OUTSIDE.findall(text):
            for variable, axis in reckoned.axes.items():
                raw = [mpf(float(read.study.columns.numbers(variable)[i])) for i in reckoned.rows]
                if name == variables[variable].label:
                    ends = float(min(raw)), float(max(raw))
                elif name == transformed_name(variables[variable], read.study.model.treatment(variable)):
                    ends = float(min(axis[0](v) for v in raw)), float(max(axis[0](v) for v in raw))
                else:
                    continue
                where = (read.said, text[:300], name, ends)
                size = 1e-9 * max(map(abs, ends))
                assert says(low, ends[0], size), where
                assert says(high, ends[1], size), where
                assert value(at) < ends[0] + unit_of(at) or value(at) > ends[1] - unit_of(at), where
        references = re.search(r"The reference group was (.+?)\.(?: |$)", text)
        for reference, group in re.findall(r"“(.+?)” for ([A-Za-z])\b", references.group(1) if references else ""):
            name = group.lower()
            coding = read.study.model.coding(name)
            assert isinstance(coding, Dummy), (read.said, text)
            levels = reckoned.codes[name][0]
            wanted = coding.reference if coding.reference in levels else levels[0]
            assert read.study.variable(name).kind is Kind.GROUP
            assert reference == read.study.variable(name).level(wanted).label, (read.said, text)
