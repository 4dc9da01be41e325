"""The report: sample, descriptives, ladder, conditional effects, regions, figure, equation, as one document."""

from __future__ import annotations

import base64
from dataclasses import dataclass, field, replace
from functools import cached_property
from pathlib import Path
from typing import assert_never

from jinja2 import Environment, FileSystemLoader, select_autoescape

from yellow_slope import __version__, looks
from yellow_slope.core.errors import StudyError, YellowSlopeError
from yellow_slope.core.figured.subjects import subject_of
from yellow_slope.core.fit.asked.bygroup import by_group
from yellow_slope.core.fit.fitted.evaluate import Evaluation
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.flags import dismissed_flags
from yellow_slope.core.probe.asking import asked_probes
from yellow_slope.core.probe.probed import Probed
from yellow_slope.core.probe.probing import probe_all
from yellow_slope.core.probe.seen import Seen, Sight
from yellow_slope.core.quickline.writing import write_line
from yellow_slope.core.stand.checked import checked
from yellow_slope.core.stand.standing import asked_in, is_large, probed_product, whole_stand
from yellow_slope.core.study.checks import Check
from yellow_slope.core.study.figures import ShowsProbe
from yellow_slope.core.study.probe import Probe
from yellow_slope.core.study.report import PartKind, ReportPart
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.names.terms import label
from yellow_slope.core.words.sentences.bygroup import GroupReader
from yellow_slope.core.words.sentences.checks import remark as check_remark
from yellow_slope.core.words.sentences.coefficients import Reader
from yellow_slope.core.words.sentences.effects import EffectReader
from yellow_slope.core.words.sentences.equation import equation
from yellow_slope.core.words.sentences.figures import alternative, caption, figure_remarks, figure_title, plain_figure
from yellow_slope.core.words.sentences.findings import findings
from yellow_slope.core.words.sentences.methods import how_to_repeat, methods_used
from yellow_slope.core.words.sentences.models import beside_sentence
from yellow_slope.core.words.sentences.probecard import few_boundaries, share_text, size_notes, together_notes
from yellow_slope.core.words.sentences.rivals import asked_name
from yellow_slope.core.words.sentences.samples import declared_sentences, sample_sentence
from yellow_slope.core.words.spelling.letters import capital
from yellow_slope.core.words.spelling.numerals import counted
from yellow_slope.core.words.spelling.rich import Rich, emphasized, runs_of
from yellow_slope.plots.figures import layout
from yellow_slope.plots.marks import Page
from yellow_slope.report.checks import checks_said
from yellow_slope.report.drawing import page_bytes
from yellow_slope.report.fontchain import remark
from yellow_slope.report.tables import (
    MOST_LISTED,
    PrintedTable,
    across_table,
    descriptives_table,
    effects_table,
    groups_table,
    ladder_table,
    models_table,
    regions_table,
    shown_foci,
    steps_table,
)
from yellow_slope.report.told import Told

MOST_SAID = 12
"""Of more places only so many are put into words."""
MOST_PRINTED = 40
"""Probes of a study."""
MOST_FOUND = 4
"""Probes that the findings tell of."""
MOST_PICTURES = 6
"""Of more panels and comparisons of one probe only so many are drawn."""


@dataclass(frozen=True)
class Picture:
    """A figure with its caption, drawn in the form that is asked for."""

    title: str
    caption: str
    page: Page = field(repr=False)
    alternative: str = ""
    """For those who do not see it."""
    own: int | None = None
    """Which figure of the study it is, from 0; None: one that the report draws by itself."""

    @cached_property
    def svg(self) -> str:
        """For a page that is printed."""
        told = Told(self.title, self.alternative or self.caption)
        return page_bytes(self.page, "svg", told=told).decode("utf-8")

    @cached_property
    def png(self) -> bytes:
        """For the screen."""
        return page_bytes(self.page, "png", 160)


@dataclass(frozen=True, slots=True)
class Section:
    """A heading with paragraphs, tables and pictures."""

    title: str
    paragraphs: tuple[str | Rich, ...] = ()
    tables: tuple[PrintedTable, ...] = ()
    pictures: tuple[Picture, ...] = ()
    after: tuple[Rich, ...] = ()
    """What somebody says below it."""
    kind: PartKind | None = None
    """The part that it belongs to."""

    @property
    def aligned_tables(self) -> tuple[PrintedTable, ...]:
        """The tables as they are printed."""
        return tuple(table.aligned() for table in self.tables)


@dataclass(frozen=True, slots=True)
class Report:
    """The whole report."""

    title: str
    sections: tuple[Section, ...]


def build_report(evaluation: Evaluation) -> Report:
    """The report of an evaluation, of the parts that are chosen; coefficients, equation and probes are those of the
    step that is reported."""
    study, fit = evaluation.study, evaluation.fit
    if fit is None or study.model.outcome is None:
        sample = Section("Sample", tuple(_sample(evaluation)), kind=PartKind.SAMPLE)
        return Report(study.name, (sample, Section("Model", (evaluation.problem,), kind=PartKind.STEPS)))
    making = _Making(evaluation, fit)
    sections: list[Section] = []
    for part in study.report.whole().parts:
        if part.on:
            made = making.sections(part.kind)
            sections += _commented(made, part)
    return Report(study.name, tuple(sections))


def _commented(made: list[Section], part: ReportPart) -> list[Section]:
    """Sections with what somebody says above and below them."""
    if not made or not (part.above or part.below):
        return made
    first, last = made[0], made[-1]
    made = [replace(first, paragraphs=(*emphasized(part.above), *first.paragraphs)), *made[1:]]
    last = made[-1]
    return [*made[:-1], replace(last, after=tuple(emphasized(part.below)))]


class _Making:
    """Makes the sections of each part, each result once."""

    def __init__(self, evaluation: Evaluation, fit: Fit) -> None:
        self.evaluation, self.fit, self.study = evaluation, fit, evaluation.study
        self.read = Reader(self.study, fit, self.study.model)
        self.step = self.study.model.reported_step
        self._own: OwnFigures | None = None
        self._probes: tuple[Probed, ...] | None = None

    @property
    def own(self) -> OwnFigures:
        """The study's own figures."""
        if self._own is None:
            self._own = _own_figures(self.evaluation)
        return self._own

    @property
    def probes(self) -> tuple[Probed, ...]:
        """The probes that are printed."""
        if self._probes is None:
            self._probes = probes_of(self.evaluation, MOST_PRINTED)
        return self._probes

    def sections(self, kind: PartKind) -> list[Section]:
        """The sections of a part; none where there is nothing to print."""
        return [replace(section, kind=kind) for section in self._made(kind)]

    def _made(self, kind: PartKind) -> list[Section]:
        evaluation, study, fit = self.evaluation, self.study, self.fit
        match kind:
            case PartKind.FINDINGS:
                return [
                    Section(
                        "Findings", tuple(findings(evaluation, fit, list(self.probes[:MOST_FOUND]), self._stands()))
                    )
                ]
            case PartKind.SAMPLE:
                return [Section("Sample", tuple(_sample(evaluation)))]
            case PartKind.VARIABLES:
                table = descriptives_table(evaluation)
                many = () if table else ("The model has too many columns for a table of correlations.",)
                return [Section("The variables", many, (table,) if table else ())]
            case PartKind.STEPS:
                ladder, steps = ladder_table(evaluation), steps_table(self.read)
                blocks = tuple(self.read.block(s.index) for s in fit.steps)
                return [Section("The model, step by step", blocks, (*((ladder,) if ladder else ()), steps))]
            case PartKind.WORDS:
                title = f"The coefficients of step {self.step + 1} in words"
                return [Section(title, tuple(_words(self.read, self.step)))]
            case PartKind.GROUPS:
                return [_groups_section(evaluation, fit)] if study.model.by is not None else []
            case PartKind.MODELS:
                others = [m for m in study.models if m.id != study.current]
                said = tuple(beside_sentence(evaluation, m) for m in others)
                return [Section("Models side by side", said, (models_table(evaluation),))] if others else []
            case PartKind.PROBES:
                return self._probe_sections()
            case PartKind.CHECKS:
                return [_checks_section(evaluation, fit)]
            case PartKind.FIGURES:
                return [self.own.section()] if self.own.left() else []
            case PartKind.EQUATION:
                return [Section(f"Equation of step {self.step + 1}", (equation(study, fit, self.step),))]
            case PartKind.METHODS:
                return [Section("Methods", tuple(methods_used(study, fit, self.probes)))]
            case PartKind.REPEAT:
                line = write_line(study, portable=True) if study.model.blocks else ""
                return [Section("How to repeat it", tuple(how_to_repeat(study, line, __version__)))]
            case _:
                assert_never(kind)

    def _stands(self) -> str:
        """Whether the product stands, in one sentence; empty where there is none or it is looked for elsewhere."""
        asked = asked_in(self.study, self.step, probed_product(self.study, self.fit))
        if asked is None or is_large(self.fit, self.step):
            return ""
        stand = whole_stand(self.study, self.fit, self.step, asked)
        found = checked(self.study, self.fit, self.step, asked)
        name = capital(asked_name(self.study, self.fit, asked))
        return f"{name} where one thing was done otherwise: {continued(check_remark(Check.STAND, found, stand))}"

    def _probe_sections(self) -> list[Section]:
        sections = [_probe_section(self.evaluation, probed, self.own) for probed in self.probes]
        asked = asked_probes(self.study, self.fit)
        if len(asked) > MOST_PRINTED:
            left = f"{counted(len(asked) - MOST_PRINTED, 'further probe')} of the study are not printed."
            sections.append(Section("Further probes", (left,)))
        return sections


def continued(text: str) -> str:
    """A sentence as it goes on after a colon."""
    return text[:1].lower() + text[1:]


def _sample(evaluation: Evaluation) -> list[str]:
    return [sample_sentence(evaluation), *declared_sentences(evaluation.study), *_dismissed(evaluation)]


@dataclass(slots=True)
class OwnFigures:
    """The figures of the study, each printed once: with its probe, else in a section of their own."""

    study: Study
    drawn: dict[int, Picture]
    refused: dict[int, str]
    printed: set[int] = field(default_factory=set)

    def of(self, probe: Probe) -> list[Picture]:
        """The figures of a probe; those that cannot be drawn are told of later."""
        found = []
        for i, figure in enumerate(self.study.figures):
            if isinstance(figure.shows, ShowsProbe) and figure.shows.shows(probe) and i in self.drawn:
                self.printed.add(i)
                found.append(self.drawn[i])
        return found

    def left(self) -> list[int]:
        """Those that are not printed yet."""
        return [i for i in range(len(self.study.figures)) if i not in self.printed]

    def section(self) -> Section:
        """All that are left."""
        left = self.left()
        names = {i: self.study.figures[i].name for i in left}
        said = tuple(f"“{names[i]}” is not drawn: {self.refused[i]}" for i in left if i in self.refused)
        return Section("Figures", said, (), tuple(self.drawn[i] for i in left if i in self.drawn))


def _own_figures(evaluation: Evaluation) -> OwnFigures:
    """Every figure of the study, drawn, or with the reason why it cannot be."""
    study = evaluation.study
    found = OwnFigures(study, {}, {})
    for i, figure in enumerate(study.figures):
        try:
            subject = subject_of(evaluation, figure.shows)
            page = layout(figure, subject)
        except YellowSlopeError as error:
            found.refused[i] = str(error)
            continue
        said = [caption(figure, subject), *figure_remarks(evaluation, figure, subject)]
        title, text = figure_title(figure, subject), " ".join((*said, remark(page))).strip()
        found.drawn[i] = Picture(title, text, page, alternative(figure, subject), i)
    return found


def _groups_section(evaluation: Evaluation, fit: Fit) -> Section:
    study = evaluation.study
    title = f"One model per group of {study.variable(study.model.by or '').label}"
    try:
        read = GroupReader(study, fit, by_group(study, study.model, fit))
    except StudyError as error:
        return Section(title, (str(error),))
    said = tuple(text for text in (read.headline(), read.left()) if text)
    return Section(title, said, (groups_table(read),))


def _checks_section(evaluation: Evaluation, fit: Fit) -> Section:
    said, tables, pages = checks_said(evaluation, fit)
    drawn = tuple(_picture(title, caption, page) for title, caption, page in pages)
    return Section("Checks", tuple(said), tuple(tables), drawn)


def _picture(title: str, caption: str, page: Page) -> Picture:
    return Picture(title, f"{caption} {remark(page)}".strip(), page)


def _words(read: Reader, step: int) -> list[str]:
    """A sentence for each coefficient of a step; of terms of many columns the joint test."""
    fit = read.fit
    said: list[str] = []
    for term in dict.fromkeys(column.term for column in fit.design.columns[: fit.steps[step].n_columns]):
        columns = fit.design.columns_of(term)
        if len(columns) > MOST_LISTED:
            said.append(f"{label(read.study, term)}: {read.joint(step, term)}")
        else:
            said += [f"{read.column_name(j)}: {read.coefficient(step, j)}" for j in columns]
    return said


def probes_of(evaluation: Evaluation, most: int | None = None) -> tuple[Probed, ...]:
    """The probes of the study that can be answered, of the first `most`; without any, the product entered last."""
    fits = {key: fit for key, fit in evaluation.fits.items() if isinstance(fit, Fit)}
    return probe_all(evaluation.study, fits, most)


def _dismissed(evaluation: Evaluation) -> tuple[str, ...]:
    return tuple(f"A flag was put aside ({flag.title}): {why}" for flag, why in dismissed_flags(evaluation))


def _probe_section(evaluation: Evaluation, probed: Probed, own: OwnFigures) -> Section:
    """The tests first, then effects, regions and pictures of every panel."""
    study = evaluation.study
    readers = [EffectReader(study, probed, k) for k in range(len(probed.panels))]
    sentences: list[str] = []
    for read in readers:
        for index, focus in enumerate(read.shown.foci[: shown_foci(probed)]):
            sentences += [f"{capital(text)}." for text in read.tests(index)]
            shown = list(zip(probed.places, focus.effects))[:MOST_SAID]
            sentences += [read.effect(index, effect, where) for where, effect in shown]
        if read.crossing():
            meeting = read.meeting()
            meeting = meeting if meeting.startswith("where") else f"the {meeting}"
            sentences.append(f"{capital(', '.join(x for x in (read.second_name(), meeting) if x))}.")
        for index in range(min(shown_foci(probed), len(read.shown.foci))):
            sight = Sight.of(probed, Seen(read.panel, index))
            where = ", ".join(t for t in (read.focus_name(index), read.second_name()) if t)
            notes = [note for note in (few_boundaries(sight), *size_notes(study, sight, read)) if note]
            sentences += [f"{capital(f'{where}: {note}' if where else note).rstrip('.')}." for note in notes]
        lead = f"{read.second_name()}: " if read.second_name() else ""
        notes = together_notes(study, Sight.of(probed, Seen(read.panel)), read)
        sentences += [f"{capital(lead + note)}." for note in notes]
    share = share_text(study, Sight.of(probed, Seen()))
    sentences += [f"{share}."] if share else []
    for index, found in enumerate(probed.across[: shown_foci(probed)]):
        sentences += [readers[0].across(index, x) for x in found]
    tables = (effects_table(study, probed), across_table(study, probed), regions_table(study, probed))
    made = own.of(probed.probe)
    drawn, left = (tuple(made), 0) if made else _pictures(readers, shown_foci(probed))
    if left:
        sentences.append(
            f"{counted(left, 'further figure')} not drawn: {readers[0].title()} has more panels and comparisons."
        )
    title = readers[0].title()
    return Section(
        f"{probed.probe.name}: {title}" if probed.probe.name else title,
        tuple(dict.fromkeys(sentences)),
        tuple(table for table in tables if table is not None),
        drawn,
    )


def _pictures(readers: list[EffectReader], foci: int) -> tuple[tuple[Picture, ...], int]:
    """A picture of every focal effect with all panels, of so many as have room, and how many have none."""
    wanted = [(readers[0], focus) for focus in range(min(foci, len(readers[0].shown.foci)))]
    drawn = []
    for read, focus in wanted[:MOST_PICTURES]:
        figure, subject = plain_figure(read.study, Sight.of(read.probed, Seen(read.panel, focus)))
        page = layout(figure, subject)
        said = f"{caption(figure, subject)} {remark(page)}".strip()
        drawn.append(Picture(read.picture_title(focus), said, page, alternative(figure, subject)))
    return tuple(drawn), len(wanted) - len(drawn)


def html_of(report: Report, on_screen: bool = False) -> str:
    """One self-contained HTML file; on screen figures are named resources (figure-1.png)."""
    environment = Environment(
        loader=FileSystemLoader(Path(__file__).parent),
        autoescape=select_autoescape(default_for_string=True, default=True),
    )
    template = environment.get_template("report.html.j2")
    font = "" if on_screen else base64.b64encode(_font("Regular")).decode()
    bold = "" if on_screen else base64.b64encode(_font("SemiBold")).decode()
    return template.render(
        report=report,
        looks=looks.LIGHT,
        family=looks.FONT_FAMILY,
        font=font,
        bold=bold,
        on_screen=on_screen,
        runs=runs_of,
    )


def pictures(report: Report) -> list[Picture]:
    """The report's figures in order."""
    return [picture for section in report.sections for picture in section.pictures]


def _font(style: str) -> bytes:
    return (looks.FONT_FOLDER / f"SlopeSans-{style}.otf").read_bytes()
