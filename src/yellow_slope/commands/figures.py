"""The command that writes figures: those of the study, and those of a probe or of a check."""

from __future__ import annotations

import argparse
from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING

from yellow_slope import terminal
from yellow_slope.commands.asked import opened, refuse_inputs, write
from yellow_slope.core.errors import YellowSlopeError
from yellow_slope.core.study.probe import Probe
from yellow_slope.core.words.spelling.numerals import counted, listed
from yellow_slope.values import replace

if TYPE_CHECKING:
    from yellow_slope.report.figures import Drawn, FigureFile

MOST_DIGITS = 6
"""A probe's number has fewer."""


def figure_asked(asked: argparse.Namespace) -> None:
    """Write what the command line asks for."""
    if asked.figure is not None:
        named(asked)
    elif asked.look is not None or asked.width is not None or asked.outlines:
        raise YellowSlopeError("--look, --width and --outlines apply to a figure of the study: name it with --figure.")
    elif asked.check is not None:
        check(asked.study, asked.to, asked.check, asked.dpi)
    else:
        figure(asked.study, asked.to, asked.probe, asked.dpi, asked.panel, asked.comparison, asked.view)


def named(asked: argparse.Namespace) -> None:
    """Write a figure of the study to every target; its caption is said."""
    from yellow_slope.core.figured.subjects import subject_of
    from yellow_slope.core.fit.fitted.evaluate import evaluate
    from yellow_slope.core.study.edits.figures import figure_named, tune_figure
    from yellow_slope.core.study.figuretext import read_look, read_size
    from yellow_slope.core.words.sentences.figures import caption, figure_remarks
    from yellow_slope.files.written.ownlooks import own_looks
    from yellow_slope.report.figures import FigureFile, drawn_figure

    files = [FigureFile(target, asked.dpi, asked.outlines) for target in asked.to]
    study = opened(asked.study)
    refuse_inputs(asked.to, study, asked.study)
    meant = figure_named(study, asked.figure)
    if asked.look is not None:
        meant = meant.in_look(read_look(asked.look, own_looks()))
    if asked.width is not None:
        meant = replace(meant, size=read_size(asked.width))
    study = tune_figure(study, asked.figure, meant)
    evaluation = evaluate(study)
    subject = subject_of(evaluation, meant.shows)
    _write(files, drawn_figure(meant, subject, _is_with_numbers(files)), *figure_remarks(evaluation, meant, subject))
    terminal.say(caption(meant, subject))


def check(study: Path, targets: Sequence[Path], name: str, dpi: int) -> None:
    """Write the plot of a check to every target; its answer is said."""
    from yellow_slope.core.figured.subjects import CheckSubject
    from yellow_slope.core.fit.fitted.evaluate import evaluate
    from yellow_slope.core.stand.checked import checked
    from yellow_slope.core.stand.standing import asked_in, probed_product, whole_stand
    from yellow_slope.core.study.checks import Check
    from yellow_slope.core.study.figures import ShowsCheck
    from yellow_slope.core.words.sentences.checks import check_named, check_title
    from yellow_slope.core.words.sentences.checks import remark as answer
    from yellow_slope.plots.checks import can_be_drawn, why_not_drawn
    from yellow_slope.report.checks import check_figure, stand_figure
    from yellow_slope.report.figurenumbers import numbers_csv
    from yellow_slope.report.figures import Drawn, FigureFile
    from yellow_slope.report.told import Told

    kind = check_named(name)
    files = [FigureFile(target, dpi) for target in targets]
    read = opened(study)
    refuse_inputs(targets, read, study)
    evaluation = evaluate(read)
    fit, step = evaluation.fit, read.model.reported_step
    if fit is None:
        raise YellowSlopeError(f"{study}: {evaluation.problem}")
    asked = asked_in(read, step, probed_product(read, fit))
    found = checked(read, fit, step, asked)
    stand = whole_stand(read, fit, step, asked) if asked is not None and kind is Check.STAND else None
    if not can_be_drawn(kind, found, stand):
        raise YellowSlopeError(f"{study}: {why_not_drawn(kind, found)}")
    page = stand_figure(found, stand) if stand is not None else check_figure(kind, found, stand)
    subject = CheckSubject(read, found, stand, ShowsCheck(kind))
    said = answer(kind, found, stand)
    _write(files, Drawn(page, Told(check_title(kind), said), numbers_csv(subject) if _is_with_numbers(files) else b""))
    terminal.say(f"{check_title(kind)} {said}")


def figure(
    study: Path,
    targets: Sequence[Path],
    name: str = "1",
    dpi: int = 300,
    panel: int = 1,
    comparison: int = 1,
    view: str = "lines",
) -> None:
    """Write the figure of a probe to every target; the title of what is on it is said."""
    from yellow_slope.core.fit.fitted.evaluate import evaluate
    from yellow_slope.core.fit.fitted.fit import Fit
    from yellow_slope.core.probe.asking import asked_probes
    from yellow_slope.core.probe.probing import probe_fit
    from yellow_slope.core.probe.seen import Seen, Sight
    from yellow_slope.core.study.figures import ProbeShown
    from yellow_slope.core.words.sentences.effects import EffectReader
    from yellow_slope.core.words.sentences.figures import plain_figure
    from yellow_slope.plots.figures import views_of
    from yellow_slope.report.figures import FigureFile, drawn_figure

    files = [FigureFile(target, dpi) for target in targets]
    read = opened(study)
    refuse_inputs(targets, read, study)
    evaluation = evaluate(read)
    if evaluation.fit is None:
        raise YellowSlopeError(f"{study}: {evaluation.problem}")
    asked = asked_probes(evaluation.study, evaluation.fit)
    number = _probe_number(study, asked, name)
    fit = evaluation.of(asked[number - 1].model)
    if not isinstance(fit, Fit):
        raise YellowSlopeError(f"{study}: {fit.said}")
    probed = probe_fit(evaluation.study, fit, asked[number - 1])
    panels, comparisons = len(probed.panels), len(probed.panels[0].foci)
    if not 1 <= panel <= panels:
        raise YellowSlopeError(f"Probe {number} has {counted(panels, 'panel')}; there is no number {panel}.")
    if not 1 <= comparison <= comparisons:
        raise YellowSlopeError(
            f"Probe {number} has {counted(comparisons, 'comparison')}; there is no number {comparison}."
        )
    shown = {"lines": ProbeShown.BOTH, "above": ProbeShown.ABOVE, "map": ProbeShown.MAP}[view]
    sight = Sight.of(probed, Seen(panel - 1, comparison - 1))
    if shown not in views_of(sight):
        raise YellowSlopeError(f"Probe {number} has no view “{view}”, which needs two predictors that are numbers.")
    _write(files, drawn_figure(*plain_figure(evaluation.study, sight, shown), _is_with_numbers(files)))
    title = EffectReader(evaluation.study, probed, panel - 1).picture_title(comparison - 1)
    more = f" (panel {panel} of {panels}, comparison {comparison} of {comparisons})" if panels * comparisons > 1 else ""
    terminal.say(f"{title}{more}")


def _probe_number(study: Path, asked: Sequence[Probe], name: str) -> int:
    """The position of a probe, from 1: of the name it is kept under, or of its number."""
    kept = [i for i, probe in enumerate(asked, 1) if probe.name and probe.name == name]
    if kept:
        return kept[0]
    if not (name.isascii() and name.isdecimal()):
        names = [f"“{probe.name}”" for probe in asked if probe.name]
        there = f"; kept are {listed(names)}" if names else ""
        raise YellowSlopeError(f"{study} keeps no probe as “{name}”{there}.")
    number = int(name) if len(name) < MOST_DIGITS else 0
    if not 1 <= number <= len(asked):
        raise YellowSlopeError(f"{study} has {counted(len(asked), 'probe')}; there is no number {name[:MOST_DIGITS]}.")
    return number


def _is_with_numbers(files: Sequence[FigureFile]) -> bool:
    from yellow_slope.report.figures import NUMBERS

    return any(file.kind == NUMBERS for file in files)


def _write(files: Sequence[FigureFile], drawn: Drawn, *remarks: str) -> None:
    """Write a figure to every file, all or none; what there is to say of it is said."""
    from yellow_slope.report.fontchain import remark

    write([(file.path, file.content(drawn)) for file in files])
    for text in (remark(drawn.page), *remarks):
        if text:
            terminal.remark(text)
