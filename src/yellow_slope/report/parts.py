"""The report of an evaluation, part by part: which of them, in which order and with which words is the study's choice.

A new part is a kind in `PartKind` and a branch of `_made`.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import assert_never

from yellow_slope import __version__
from yellow_slope.core.errors import StudyError
from yellow_slope.core.fit.asked.bygroup import by_group
from yellow_slope.core.fit.fitted.evaluate import Evaluation
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.solve.why import Why
from yellow_slope.core.flags import told_flags
from yellow_slope.core.flags.notes import notes_of
from yellow_slope.core.probe.asking import asked_probes
from yellow_slope.core.probe.probed import Probed
from yellow_slope.core.probe.probing import probe_all
from yellow_slope.core.quickline.writing import write_line
from yellow_slope.core.study.checks import Check
from yellow_slope.core.study.flagkeys import FlagKind
from yellow_slope.core.study.report import PAPER_PARTS, PartKind, ReportPart
from yellow_slope.core.told.origins import AtCheck, AtModels, AtProbe, AtSample, AtStep, Origin
from yellow_slope.core.words.names.quoted import spoken
from yellow_slope.core.words.names.terms import label
from yellow_slope.core.words.sentences.bygroup import GroupReader
from yellow_slope.core.words.sentences.coefficients import Reader
from yellow_slope.core.words.sentences.equation import equation
from yellow_slope.core.words.sentences.findings import Finding, FindingOf, findings
from yellow_slope.core.words.sentences.livefigures import with_figures
from yellow_slope.core.words.sentences.longnames import LongNames
from yellow_slope.core.words.sentences.methods import how_to_repeat, methods_used, steps_methods
from yellow_slope.core.words.sentences.models import beside_sentence
from yellow_slope.core.words.sentences.putback import put_back_sentence
from yellow_slope.core.words.sentences.rivals import stand_sentence
from yellow_slope.core.words.sentences.samples import declared_sentences, sample_sentence
from yellow_slope.core.words.sentences.works import Method, references
from yellow_slope.core.words.spelling.letters import capital
from yellow_slope.core.words.spelling.numerals import counted
from yellow_slope.core.words.spelling.rich import emphasized
from yellow_slope.report.checks import Asked, asked_of, checks_said
from yellow_slope.report.document import Paragraph, Picture, Report, Section, said
from yellow_slope.report.fontchain import remark
from yellow_slope.report.modeltables import MOST_LISTED, coefficients_table, groups_tables, models_table, steps_tables
from yellow_slope.report.ownfigures import OwnFigures, own_figures
from yellow_slope.report.probeparts import crossover_section, effects_in_words, effects_section, regions_section
from yellow_slope.report.sampletables import codes_tables, descriptives_tables, exclusions_table, variables_table
from yellow_slope.values import replace

MOST_PRINTED = 40
"""Probes of a study."""
MOST_FOUND = 4
"""Probes that the findings tell of."""


def build_report(evaluation: Evaluation) -> Report:
    """The report of an evaluation, of the parts that are chosen; coefficients, equation and probes are those of the
    step that is reported."""
    return Report(evaluation.study.name, tuple(sections_of(evaluation)))


def sections_of(evaluation: Evaluation) -> Iterator[Section]:
    """The sections one after the other, each made when it is asked for."""
    study, fit = evaluation.study, evaluation.fit
    if fit is None or study.model.outcome is None:
        yield Section("Sample", tuple(_sample(evaluation)), kind=PartKind.SAMPLE)
        yield Section("Model", (said(evaluation.problem),), kind=PartKind.STEPS)
        return
    making = _Making(evaluation, fit)
    in_appendix, begins = False, study.report.appendix
    for part in study.report.whole().parts:
        in_appendix = in_appendix or part.kind is begins
        if not part.on:
            continue
        for section in _commented(evaluation, making.sections(part.kind), part):
            if in_appendix and begins is not None:
                yield Section("Appendix", (said("The sections below document the analysis reported above."),))
                begins = None
            yield section


def _commented(evaluation: Evaluation, sections: Iterator[Section], part: ReportPart) -> Iterator[Section]:
    """Sections with what somebody says above and below them; each as soon as it is made, the last below which something
    is said excepted."""
    held: Section | None = None
    i = -1
    for i, section in enumerate(sections):
        if i == 0 and part.above:
            section = replace(section, paragraphs=(*_own_words(evaluation, part.above), *section.paragraphs))
        if not part.below:
            yield section
            continue
        if held is not None:
            yield held
        held = section
    if held is not None:
        yield replace(held, after=_own_words(evaluation, part.below))
    if i < 0 and (part.above or part.below):  # nothing of the program's stands there, but something of somebody's
        own = (*_own_words(evaluation, part.above), *_own_words(evaluation, part.below))
        yield Section(capital(part.kind.label), own, kind=part.kind)


def _own_words(evaluation: Evaluation, text: str) -> tuple[Paragraph, ...]:
    """What somebody says, with the figures that are asked for in it."""
    return tuple(said(paragraph) for paragraph in emphasized(with_figures(evaluation, text)))


class _Making:
    """Makes the sections of each part, each result once."""

    def __init__(self, evaluation: Evaluation, fit: Fit) -> None:
        self.evaluation, self.fit, self.study = evaluation, fit, evaluation.study
        self.read = Reader(self.study, fit, self.study.model)
        self.spoken = Reader(spoken(self.study), fit, self.study.model)
        self.step = self.study.model.reported_step
        self._own: OwnFigures | None = None
        self._probes: tuple[Probed, ...] | None = None
        self._asked: Asked | None = None
        self._is_asked = False

    @property
    def asked(self) -> Asked | None:
        """What is checked; None where there are too many cases for it to be done in passing."""
        if not self._is_asked:
            self._asked, self._is_asked = asked_of(self.study, self.fit, self.step), True
        return self._asked

    @property
    def own(self) -> OwnFigures:
        """The study's own figures."""
        if self._own is None:
            self._own = own_figures(self.evaluation)
        return self._own

    @property
    def probes(self) -> tuple[Probed, ...]:
        """The probes that are printed."""
        if self._probes is None:
            self._probes = probes_of(self.evaluation, MOST_PRINTED)
        return self._probes

    def sections(self, kind: PartKind) -> Iterator[Section]:
        """The sections of a part; none where there is nothing to print."""
        for section in self._made(kind):
            yield replace(section, kind=kind)

    def _made(self, kind: PartKind) -> Iterable[Section]:  # noqa: C901, PLR0912 - a table: one case for each kind
        evaluation, study, fit = self.evaluation, self.study, self.fit
        match kind:
            case PartKind.FINDINGS:
                return self._findings()
            case PartKind.SAMPLE:
                sample = tuple(_sample(evaluation))
                return [Section("Sample", sample)] if sample else []
            case PartKind.EXCLUSIONS:
                excluded = exclusions_table(evaluation)
                return [Section("Exclusions", (), (excluded,))] if excluded is not None else []
            case PartKind.CODES:
                return [Section("Variables and codes", (), (variables_table(study, fit), *codes_tables(study, fit)))]
            case PartKind.VARIABLES:
                tables = tuple(descriptives_tables(evaluation))
                many = () if tables else (said("The model has too many columns for a table of correlations."),)
                return [Section("Descriptives and correlations", many, tables)]
            case PartKind.STEPS:
                is_told = study.report.part(PartKind.FINDINGS).on  # what each block adds is said there
                blocks = () if is_told else tuple(said(self.read.block(s.index), AtStep(s.index)) for s in fit.steps)
                return [Section("The model, step by step", blocks, steps_tables(self.read))]
            case PartKind.COEFFICIENTS:
                table = coefficients_table(evaluation)
                return [Section("Coefficients", (), (table,))] if table is not None else []
            case PartKind.WORDS:
                title = f"The coefficients of step {self.step + 1} in words"
                made = [Section(title, tuple(said(text) for text in _words(self.spoken, self.step)))]
                words = [(p, text) for p in self.probes for text in effects_in_words(self.spoken.study, p)]
                effects = [said(text, AtProbe(p.probe)) for p, text in words]
                return [*made, Section("Conditional effects in words", tuple(effects))] if effects else made
            case PartKind.GROUPS:
                return [_groups_section(evaluation, fit)] if study.model.by is not None else []
            case PartKind.MODELS:
                others = [m for m in study.models if m.id != study.current]
                told = tuple(said(beside_sentence(evaluation, m), AtModels()) for m in others)
                return [Section("Models side by side", told, (models_table(evaluation),))] if others else []
            case PartKind.PROBES:
                return self._probe_sections()
            case PartKind.REGIONS:
                regions = (regions_section(study, probed) for probed in self.probes)
                return (section for section in regions if section is not None)
            case PartKind.CROSSOVER:
                crossover = crossover_section(study, list(self.probes))
                return [crossover] if crossover is not None else []
            case PartKind.CHECKS:
                return [_checks_section(fit, self.asked)]
            case PartKind.FIGURES:
                return self._figures()
            case PartKind.FLAGS:
                return _flags_sections(evaluation)
            case PartKind.EQUATION:
                said_ = said(equation(study, fit, self.step), AtStep(self.step))
                return [Section(f"Equation of step {self.step + 1}", (said_,))]
            case PartKind.METHODS:
                used = self._methods()
                works = tuple(said(text) for work in references(used) for text in emphasized(work))
                methods = Section("Methods", tuple(said(one.text) for one in used))
                return [methods, Section("Sources", works)] if works else [methods]
            case PartKind.REPEAT:
                line = write_line(study, portable=True) if study.model.blocks else ""
                told = tuple(said(text) for text in how_to_repeat(study, line, __version__))
                return [Section("How to repeat it", told)]
            case _:
                assert_never(kind)

    def _findings(self) -> Iterator[Section]:
        """What is found; whether it stands, which takes longest to tell, follows without a heading of its own."""
        found = findings(self.evaluation, self.fit, list(self.probes[:MOST_FOUND]))
        yield Section("Findings", tuple(said(f.text, self._about(f)) for f in found))
        after = [said(stands, AtCheck(Check.STAND))] if (stands := self._stands()) else []
        after += [said(back, AtSample())] if (back := self._put_back()) else []
        if after:
            yield Section("", tuple(after))

    def _about(self, finding: Finding) -> Origin:
        """Where the figures of a finding are made."""
        match finding.of:
            case FindingOf.SAMPLE:
                return AtSample()
            case FindingOf.BLOCKS:
                return AtStep(self.step)
            case FindingOf.PROBE:
                assert finding.probed is not None
                return AtProbe(finding.probed.probe)
            case _:
                assert_never(finding.of)

    def _stands(self) -> str:
        """Whether the product stands, in one sentence; empty where there is none or it is looked for elsewhere."""
        asked = self.asked
        if asked is None or asked.stand is None:
            return ""
        names = LongNames(self.spoken.study, are_known=True)
        said = stand_sentence(names.study, self.fit, asked.stand, capital(asked.named(names.study)))
        return names.printed_text(said)

    def _put_back(self) -> str:
        """What setting cases aside changed; empty where none are or it would take too long in passing."""
        asked = self.asked
        if asked is None:
            return ""
        names = LongNames(self.spoken.study, are_known=True)
        subject = asked.named(names.study)
        return names.printed_text(put_back_sentence(names.study, self.fit, asked.stand, subject))

    def _methods(self) -> list[Method]:
        """What was used, as far as parts are printed that give it."""
        shown = {part.kind for part in self.study.report.whole().parts if part.on}
        checks = self.asked.kinds if PartKind.CHECKS in shown and self.asked is not None else []
        used = methods_used(self.study, self.fit, self.probes, checks)
        if shown & {PartKind.STEPS, PartKind.COEFFICIENTS} or not shown & set(PAPER_PARTS):  # those of the paper
            used[1:1] = steps_methods(self.read)
        return used

    def _probe_sections(self) -> Iterator[Section]:
        for probed in self.probes:
            yield effects_section(self.study, probed, self.own)
        asked = asked_probes(self.study, self.fit)
        if len(asked) > MOST_PRINTED:
            left = f"{counted(len(asked) - MOST_PRINTED, 'further probe')} of the study are not printed."
            yield Section("Further probes", (said(left),))

    def _figures(self) -> list[Section]:
        """The study's figures that do not stand with a probe."""
        if self.study.report.part(PartKind.PROBES).on:
            for probed in self.probes:
                self.own.of(probed.probe)
        return [self.own.section()] if self.own.left() else []


def _sample(evaluation: Evaluation) -> list[Paragraph]:
    """What was declared of the values; which cases were excluded, where the findings do not say it."""
    study = evaluation.study
    has_table = evaluation.fit is not None and study.report.part(PartKind.EXCLUSIONS).on
    cases = sample_sentence(evaluation, names_all=not has_table)
    told = [
        *([] if study.report.part(PartKind.FINDINGS).on and evaluation.fit is not None else [cases]),
        *declared_sentences(study),
    ]
    return [said(text, AtSample()) for text in told]


def _flags_sections(evaluation: Evaluation) -> list[Section]:
    """What deserves care and what was put aside, with the reasons; none where there is neither."""
    standing, aside = told_flags(evaluation)
    # Who is excluded is said with the sample.
    told = notes_of(evaluation, [flag for flag in standing if flag.key.kind is not FlagKind.LOST])
    told += [f"Dismissed ({flag.title}): {why}" for flag, why in aside]
    return [Section("Points to note", tuple(said(text) for text in told))] if told else []


def _groups_section(evaluation: Evaluation, fit: Fit) -> Section:
    study = evaluation.study
    title = f"One model per group of {study.variable(study.model.by or '').label}"
    try:
        read = GroupReader(study, fit, by_group(study, study.model, fit))
    except StudyError as error:
        return Section(title, (said(str(error)),))
    told = tuple(said(text) for text in (read.headline(), read.left()) if text)
    return Section(title, told, tuple(groups_tables(read)))


def _checks_section(fit: Fit, asked: Asked | None) -> Section:
    if asked is None:
        many = counted(fit.cases.n, "case")
        elsewhere = (
            f"With {many}, robustness checks and other checks are shown at the waypoint Checks and in the results."
        )
        return Section("Checks", (said(elsewhere, AtCheck(Check.STAND)),))
    told, tables, plots = checks_said(asked.found.study, asked)
    drawn = tuple(Picture(p.title, f"{p.caption} {remark(p.page)}".strip(), p.page, p.told) for p in plots)
    return Section("Checks", tuple(said(text, AtCheck(check)) for text, check in told), tuple(tables), drawn)


def _words(read: Reader, step: int) -> list[str]:
    """A sentence for each coefficient of a step; of terms of many columns the joint test."""
    fit = read.fit
    told: list[str] = []
    for term in dict.fromkeys(column.term for column in fit.design.columns[: fit.steps[step].n_columns]):
        columns = fit.design.columns_of(term)
        if len(columns) > MOST_LISTED:
            told.append(f"{label(read.study, term)}: {read.joint(step, term)}")
        else:
            told += [_in_words(read, step, j) for j in columns]
    return told


def _in_words(read: Reader, step: int, column: int) -> str:
    """The sentence of a coefficient behind its name, where it does not begin with it."""
    said = read.coefficient(step, column)
    is_named = read.fit.steps[step].why(column) in (Why.LEFT_OUT, Why.NOT_ESTIMABLE)
    return said if is_named else f"{read.column_name(column)}: {said}"


def probes_of(evaluation: Evaluation, most: int | None = None) -> tuple[Probed, ...]:
    """The probes of the study that can be answered, of the first `most`; without any, the product entered last."""
    fits = {key: fit for key, fit in evaluation.fits.items() if isinstance(fit, Fit)}
    return probe_all(evaluation.study, fits, most)
