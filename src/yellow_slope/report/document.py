"""The report: sample, descriptives, ladder, conditional effects, regions, figure, equation, as one document."""

from __future__ import annotations

import base64
from dataclasses import dataclass
from pathlib import Path

from jinja2 import Environment, FileSystemLoader, select_autoescape

from yellow_slope import looks
from yellow_slope.core.equation import equation
from yellow_slope.core.errors import YellowSlopeError
from yellow_slope.core.evaluate import Evaluation
from yellow_slope.core.probe import Probed, default_probe, probe_fit
from yellow_slope.core.reading import Reader, sample_sentence
from yellow_slope.core.study import Probe
from yellow_slope.report.figures import figure_bytes, figure_of
from yellow_slope.report.tables import PrintedTable, descriptives_table, effects_table, ladder_table, regions_table


@dataclass(frozen=True, slots=True)
class Picture:
    """A figure in both forms, with its caption."""

    caption: str
    svg: str
    png: bytes


@dataclass(frozen=True, slots=True)
class Section:
    """A heading with paragraphs, tables and a picture."""

    title: str
    paragraphs: tuple[str, ...] = ()
    tables: tuple[PrintedTable, ...] = ()
    picture: Picture | None = None

    @property
    def aligned_tables(self) -> tuple[PrintedTable, ...]:
        """The tables as they are printed."""
        return tuple(table.aligned() for table in self.tables)


@dataclass(frozen=True, slots=True)
class Report:
    """The whole report."""

    title: str
    sections: tuple[Section, ...]


def build_report(evaluation: Evaluation, step: int | None = None) -> Report:
    """The report of an evaluation; the equation is that of the chosen step (None: the last)."""
    study, fit = evaluation.study, evaluation.fit
    sections = [Section("Sample", (sample_sentence(evaluation), *_dismissed(evaluation)))]
    if fit is None or study.outcome is None:
        return Report(study.name, (*sections, Section("Model", (evaluation.problem,))))
    read = Reader(study, fit)
    table = descriptives_table(evaluation)
    sections.append(Section("The variables", (), (table,) if table else ()))
    ladder = ladder_table(evaluation)
    blocks = tuple(read.block(s.index) for s in fit.steps)
    sections.append(Section("The model, step by step", blocks, (ladder,) if ladder else ()))
    last = len(fit.steps) - 1
    words = tuple(f"{read.term_name(j)}: {read.coefficient(last, j)}" for j in range(fit.last.n_columns))
    sections.append(Section(f"The coefficients of step {last + 1} in words", words))
    for probed in probes_of(evaluation):
        sections.append(_probe_section(evaluation, probed))
    at = last if step is None else min(step, last)
    sections.append(Section(f"Equation of step {at + 1}", (equation(study, fit, at),)))
    return Report(study.name, tuple(sections))


def probes_of(evaluation: Evaluation) -> tuple[Probed, ...]:
    """Every probe of the study that can be answered; without any, the product entered last."""
    study, fit = evaluation.study, evaluation.fit
    assert fit is not None
    wanted: list[Probe] = list(study.probes)
    first = default_probe(study)
    if not wanted and first is not None:
        wanted = [first]
    found: list[Probed] = []
    for probe in wanted:
        try:
            found.append(probe_fit(study, fit, probe))
        except YellowSlopeError:
            continue
    return tuple(found)


def _dismissed(evaluation: Evaluation) -> tuple[str, ...]:
    return tuple(f"A flag was put aside ({d.flag}): {d.reason}" for d in evaluation.study.dismissals)


def caption_of(evaluation: Evaluation, probed: Probed) -> str:
    """The figure's caption: what is drawn, at which places, and where everything else stands."""
    study = evaluation.study
    assert evaluation.fit is not None
    read = Reader(study, evaluation.fit)
    outcome = study.variable(study.outcome or "").label
    focal, moderator = (study.variable(b.variable).label for b in (probed.focal, probed.moderator))
    held = read.held(probed)
    rest = f" {held[0][:1].upper()}{', '.join(held)[1:]}." if held else ""
    wash = " Yellow: where the effect is told apart from zero." if probed.foci[0].regions else ""
    return f"{outcome} by {focal} and {moderator} in step {probed.step + 1}, with {100 * study.level:g}% intervals.{rest}{wash}"


def _probe_section(evaluation: Evaluation, probed: Probed) -> Section:
    study, fit = evaluation.study, evaluation.fit
    assert fit is not None
    read = Reader(study, fit)
    focal, moderator = (study.variable(b.variable).label for b in (probed.focal, probed.moderator))
    sentences: list[str] = []
    for index, focus in enumerate(probed.foci):
        for i, effect in enumerate(focus.effects):
            number = not hasattr(probed.moderator, "levels")
            where = read.at_value(probed, probed.places[i].value) if number else read.at_level(probed, i)
            sentences.append(read.effect(probed, index, effect, where))
    crossing = read.crossing(probed)
    if crossing:
        sentences.append(f"The {crossing}.")
    regions = regions_table(study, fit, probed)
    figure = figure_of(study, fit, probed)
    picture = Picture(
        caption_of(evaluation, probed), figure_bytes(figure, "svg").decode("utf-8"), figure_bytes(figure, "png", 160)
    )
    tables = (effects_table(study, fit, probed), *((regions,) if regions else ()))
    return Section(f"{focal[:1].upper()}{focal[1:]} by {moderator}", tuple(sentences), tables, picture)


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
        report=report, looks=looks.LIGHT, family=looks.FONT_FAMILY, font=font, bold=bold, on_screen=on_screen
    )


def pictures(report: Report) -> list[Picture]:
    """The report's figures in order."""
    return [section.picture for section in report.sections if section.picture is not None]


def _font(style: str) -> bytes:
    return (looks.FONT_FOLDER / f"SlopeSans-{style}.otf").read_bytes()
