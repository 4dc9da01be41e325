"""The command `yellow-slope`: the window, and everything without one."""

from __future__ import annotations

import argparse
import os
import sys
from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path
from typing import TextIO

from yellow_slope import __version__
from yellow_slope.core.errors import YellowSlopeError
from yellow_slope.core.study.edits.models import set_reported
from yellow_slope.core.study.edits.report import choose_set
from yellow_slope.core.study.probe import Probe
from yellow_slope.core.study.report import ReadySet
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.spelling.letters import shown
from yellow_slope.core.words.spelling.numerals import counted, listed

OK, REFUSED, INTERRUPTED = 0, 1, 130


def parser() -> argparse.ArgumentParser:
    """The command line."""
    top = argparse.ArgumentParser(
        prog="yellow-slope",
        description="Does the effect of X on Y depend on M? Without a command the window opens.",
        epilog="A file that is there is written over, but never one that the command reads. "
        "Exit codes: 0 done; 1 the request could not be met, with the reason; 2 the command line is wrong.",
    )
    top.add_argument("--version", action="version", version=f"Yellow Slope {__version__}")
    top.add_argument("--verbose", action="store_true", help="say on the terminal what is done, step by step")
    commands = top.add_subparsers(dest="command", metavar="COMMAND")
    window = commands.add_parser("open", help="open a table or a study in the window")
    window.add_argument("file", type=Path, nargs="?")
    new = commands.add_parser("new", help="make a study from a table file and a quick line or a small JSON description")
    new.add_argument("table", type=Path, help="a table file, or a study whose table is used as it was described")
    new.add_argument("--spec", type=Path, help="the description (docs/schemas/spec.schema.json)")
    new.add_argument(
        "--line", action="append", default=[], help="the model as a quick line; further ones add to it or change it"
    )
    new.add_argument("--to", type=Path, required=True, help="the study file to write (.yslope)")
    line = commands.add_parser("line", help="print the model of a study as a quick line")
    line.add_argument("study", type=Path)
    line.add_argument("--model", type=int, default=1, help="which model, counted from 1")
    evaluate = commands.add_parser("evaluate", help="write every number of a study to a JSON file")
    evaluate.add_argument("study", type=Path)
    evaluate.add_argument("--to", type=Path, required=True, help="the results file to write, - for standard output")
    evaluate.add_argument("--cases", type=Path, help="a .csv file with a row for each case of the current model")
    report = commands.add_parser("report", help="write a study's report")
    report.add_argument("study", type=Path)
    kinds = "a .html, .docx, .odt, .pdf, .tex or .md file; may be repeated"
    report.add_argument("--to", type=Path, required=True, action="append", help=kinds)
    sets = [ready.value for ready in ReadySet]
    report.add_argument("--parts", choices=sets, help="a ready set of parts; without it those that the study chose")
    report.add_argument("--step", type=int, help="the step that is reported; without it the one that the study chose")
    figure = commands.add_parser("figure", help="write a figure of a study, or of one of its probes or checks")
    figure.add_argument("study", type=Path)
    kinds = "a .png, .tiff, .svg or .pdf file, or .csv for the numbers behind it; may be repeated"
    figure.add_argument("--to", type=Path, required=True, action="append", help=kinds)
    figure.add_argument("--dpi", type=int, default=300)
    names = "stand, spread, normal, straight, pull, far, moves, order, overlap or own"
    figure.add_argument("--figure", help="the name of a figure of the study")
    figure.add_argument("--look", help='its look for these files, as in "paper, grey"')
    figure.add_argument("--width", help='its size for these files, as in "8.5cm", "17.5 x 9 cm" or "single column"')
    figure.add_argument("--outlines", action="store_true", help="letters of an SVG as outlines, not as text")
    figure.add_argument("--check", help=f'in place of a probe a check, as in "does it stand": {names}')
    figure.add_argument("--probe", default="1", help="which probe: the name it is kept under, or its number from 1")
    figure.add_argument(
        "--view",
        choices=["lines", "above", "map"],
        default="lines",
        help="lines with the effect, the outcome from above, or the map of the effect",
    )
    figure.add_argument("--panel", type=int, default=1, help="which place of its second moderator, counted from 1")
    figure.add_argument("--comparison", type=int, default=1, help="which comparison of its groups, counted from 1")
    export = commands.add_parser("export", help="write a study's table, with or without what was computed")
    export.add_argument("study", type=Path)
    kinds = ".csv, .tsv, .xlsx, .ods, .parquet or .zip (data package)"
    export.add_argument("--to", type=Path, required=True, action="append", help=f"a {kinds}; may be repeated")
    export.add_argument("--labels", action="store_true", help="groups by the names of their levels")
    export.add_argument("--without-computed", action="store_true", help="without computed columns")
    export.add_argument("--model-columns", action="store_true", help="with treated, code and product columns")
    export.add_argument("--used-only", action="store_true", help="only the cases that the current model uses")
    export.add_argument("--as-text", action="store_true", help="an apostrophe before texts that begin with = + - @")
    export.add_argument("--without-code-book", action="store_true", help="no description beside it")
    demo = commands.add_parser("demo", help="open the demo study, or without a display write its report and figures")
    demo.add_argument("--to", type=Path, default=Path("build/demo"))
    return top


def _say(text: str, file: TextIO | None = None) -> None:
    """A line on the terminal: control characters of names do not reach it, and it takes what it can write."""
    stream = file or sys.stdout
    encoding = stream.encoding or "utf-8"
    print(shown(text).encode(encoding, "replace").decode(encoding), file=stream)


def main(arguments: Sequence[str] | None = None) -> int:
    """Run the command; the exit code."""
    given = list(sys.argv[1:] if arguments is None else arguments)
    known = {"open", "new", "line", "evaluate", "report", "figure", "export", "demo"}
    if given and given[0] not in known and not given[0].startswith("-"):
        given.insert(0, "open")
    asked = parser().parse_args(given)
    if asked.verbose:
        from yellow_slope.files.safely.logfile import begin_log

        begin_log(verbose=True)
    try:
        return _run(asked)
    except YellowSlopeError as error:
        _say(f"yellow-slope: {error}", file=sys.stderr)
        return REFUSED
    except BrokenPipeError:
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        return REFUSED
    except KeyboardInterrupt:
        return INTERRUPTED


def _run(asked: argparse.Namespace) -> int:
    if asked.command in (None, "open"):
        return _window(getattr(asked, "file", None), asked.verbose)
    if asked.command == "demo":
        return _demo(asked.to)
    if asked.command == "new":
        return _new(asked)
    if asked.command == "line":
        return _line(asked.study, asked.model)
    if asked.command == "evaluate":
        return _evaluate(asked.study, asked.to, asked.cases)
    if asked.command == "figure":
        return _figure(asked)
    if asked.command == "export":
        return _export(asked)
    return _report(asked.study, asked.to, asked.step, asked.parts)


def _window(file: Path | None, verbose: bool = False) -> int:
    from yellow_slope.app.main import run

    return run(file, verbose)


def has_display() -> bool:
    """Whether a window can be shown."""
    return bool(os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY"))


def _demo(folder: Path) -> int:
    from yellow_slope.demo.learners import STUDY

    if has_display():
        return _window(STUDY)
    from yellow_slope.files.opening import open_anything
    from yellow_slope.files.study.studyfile import write_study

    folder.mkdir(parents=True, exist_ok=True)
    study = folder / STUDY.name
    write_study(open_anything(STUDY), study)
    _evaluate(study, folder / "results.json", None)
    _report(study, [folder / "report.html"], None)
    for number in (1, 2, 3):
        _draw(study, [folder / f"figure-{number}.png", folder / f"figure-{number}.svg"], 300, str(number))
    _say(
        f"There is no display, so the whole example ran without a window. Report, figures and results are in {folder}:"
    )
    for path in sorted(folder.iterdir()):
        _say(f"  {path}")
    return OK


def _new(asked: argparse.Namespace) -> int:
    from yellow_slope.core.quickline import said_by
    from yellow_slope.files.opening import open_anything
    from yellow_slope.files.spec import read_spec, study_from
    from yellow_slope.files.study.studyfile import write_study

    if asked.spec is None and not asked.line:
        raise YellowSlopeError("Nothing says what the model is: give --line, --spec or both.")
    study = (
        open_anything(asked.table)
        if asked.spec is None
        else study_from(asked.table, read_spec(asked.spec), asked.spec.name)
    )
    for line in asked.line:
        study = said_by(study, line)
    _refuse_inputs([asked.to], study, asked.table, *([asked.spec] if asked.spec is not None else []))
    write_study(study, asked.to)
    _say(f"{asked.to}: {counted(study.table.n_rows, 'case')}, {counted(len(study.model.blocks), 'block')}")
    return OK


def _opened(file: Path) -> Study:
    """The study of a file; what it named and does not hold is said."""
    from yellow_slope.core.words.sentences.gone import let_go_sentence
    from yellow_slope.files.opening import open_anything

    study = open_anything(file)
    if study.went:
        _say(f"yellow-slope: {file}: {let_go_sentence(study, study.went)}", file=sys.stderr)
    return study


def _refuse_inputs(targets: Sequence[Path], study: Study, *files: Path) -> None:
    """A command does not write onto what it reads."""
    from yellow_slope.files.written.targets import inputs_of, refuse_inputs

    refuse_inputs(targets, [path for file in files for path in inputs_of(study, file)])


def _line(file: Path, number: int) -> int:
    from yellow_slope.core.quickline import unsaid, write_line

    study = _opened(file)
    if not 1 <= number <= len(study.models):
        raise YellowSlopeError(f"{file} has {counted(len(study.models), 'model')}; there is no number {number}.")
    model = study.models[number - 1]
    _say(write_line(study, model, portable=True))
    left_out = unsaid(study, model)
    if left_out:
        _say(f"yellow-slope: a line cannot say {listed(left_out)}.", file=sys.stderr)
    return OK


def _evaluate(study: Path, target: Path, cases: Path | None) -> int:
    from yellow_slope.core.fit.fitted.evaluate import evaluate
    from yellow_slope.files.safely.atomically import write_whole
    from yellow_slope.files.written.casefile import case_table
    from yellow_slope.files.written.results import results_document

    opened = _opened(study)
    _refuse_inputs([path for path in (target, cases) if path is not None and str(path) != "-"], opened, study)
    evaluation = evaluate(opened)
    document = results_document(evaluation)
    text = document.model_dump_json(indent=1, by_alias=True) + "\n"
    if str(target) == "-":
        sys.stdout.write(text)
    else:
        write_whole(target, text.encode("utf-8"))
    if cases is not None and evaluation.fit is not None:
        write_whole(cases, case_table(opened, evaluation.fit))
    said = [
        f"{m.name or m.id}: {m.problem}" if len(document.models) > 1 else m.problem
        for m in document.models
        if m.problem
    ]
    if not said:
        said = [refused.why for refused in document.refused]
    for line in said:
        _say(f"yellow-slope: {study}: {line}", file=sys.stderr)
    return REFUSED if said else OK


def _report(study: Path, targets: list[Path], step: int | None, parts: str | None = None) -> int:
    from yellow_slope.core.fit.fitted.evaluate import evaluate
    from yellow_slope.files.safely.atomically import write_together
    from yellow_slope.report.formats import ReportFile, report_contents
    from yellow_slope.report.parts import build_report

    files = [ReportFile(target) for target in targets]
    opened = _opened(study)
    _refuse_inputs(targets, opened, study)
    steps = opened.model.steps
    if step is not None and steps:
        if not 1 <= step <= len(steps):
            raise YellowSlopeError(f"There is no step {step}; the study has {len(steps)}.")
        opened = set_reported(opened, steps[step - 1].id)
    if parts is not None:
        opened = choose_set(opened, ReadySet(parts))
    report = build_report(evaluate(opened))
    beside = [path for file in files for path in file.beside(report)]
    _refuse_inputs(beside, opened, study)
    write_together(report_contents(files, report))
    return OK


def _export(asked: argparse.Namespace) -> int:
    from yellow_slope.core.fit.fitted.evaluate import evaluate
    from yellow_slope.files.written.exporting import ExportChoices, write_export, written_files

    opened = _opened(asked.study)
    choices = ExportChoices(
        asked.labels,
        not asked.without_computed,
        asked.model_columns,
        asked.used_only,
        asked.as_text,
        not asked.without_code_book,
    )
    _refuse_inputs(written_files(asked.to, choices), opened, asked.study)
    evaluation = evaluate(opened)
    for target in asked.to:
        for path in write_export(evaluation, target, choices):
            _say(str(path))
    return OK


def _figure(asked: argparse.Namespace) -> int:
    if asked.figure is not None:
        _say(_draw_named(asked))
    elif asked.look is not None or asked.width is not None or asked.outlines:
        raise YellowSlopeError("--look, --width and --outlines are of a figure of the study: name it with --figure.")
    elif asked.check is not None:
        _say(_draw_check(asked.study, asked.to, asked.dpi, asked.check))
    else:
        _say(_draw(asked.study, asked.to, asked.dpi, asked.probe, asked.panel, asked.comparison, asked.view))
    return OK


def _draw_named(asked: argparse.Namespace) -> str:
    """Write a figure of the study to every target, all or none; its caption."""
    from yellow_slope.core.figured.subjects import subject_of
    from yellow_slope.core.fit.fitted.evaluate import evaluate
    from yellow_slope.core.study.edits.figures import figure_named, tune_figure
    from yellow_slope.core.study.figuretext import read_look, read_size
    from yellow_slope.core.words.sentences.figures import caption, figure_remarks
    from yellow_slope.files.safely.atomically import write_together
    from yellow_slope.files.written.ownlooks import own_looks
    from yellow_slope.report.figures import NUMBERS, FigureFile, drawn_figure
    from yellow_slope.report.fontchain import remark

    files = [FigureFile(target, asked.dpi, asked.outlines) for target in asked.to]
    study = _opened(asked.study)
    _refuse_inputs(asked.to, study, asked.study)
    figure = figure_named(study, asked.figure)
    if asked.look is not None:
        figure = figure.in_look(read_look(asked.look, own_looks()))
    if asked.width is not None:
        figure = replace(figure, size=read_size(asked.width))
    study = tune_figure(study, asked.figure, figure)
    evaluation = evaluate(study)
    subject = subject_of(evaluation, figure.shows)
    drawn = drawn_figure(figure, subject, any(file.kind == NUMBERS for file in files))
    write_together([(file.path, file.content(drawn)) for file in files])
    said = [remark(drawn.page), *figure_remarks(evaluation, figure, subject)]
    for text in said:
        if text:
            _say(f"yellow-slope: {text}", file=sys.stderr)
    return caption(figure, subject)


def _draw_check(study: Path, targets: list[Path], dpi: int, name: str) -> str:
    """Write the plot of a check to every target; its answer."""
    from yellow_slope.core.fit.fitted.evaluate import evaluate
    from yellow_slope.core.stand.checked import checked
    from yellow_slope.core.stand.standing import asked_in, probed_product, whole_stand
    from yellow_slope.core.study.checks import Check
    from yellow_slope.core.words.sentences.checks import check_named, question, remark
    from yellow_slope.files.safely.atomically import write_together
    from yellow_slope.plots.checks import can_be_drawn, why_not_drawn
    from yellow_slope.report.checks import check_figure, stand_figure
    from yellow_slope.report.figures import FigureFile
    from yellow_slope.report.fontchain import remark as font_remark

    check = check_named(name)
    files = [FigureFile(target, dpi) for target in targets]
    opened = _opened(study)
    _refuse_inputs(targets, opened, study)
    evaluation = evaluate(opened)
    fit, step = evaluation.fit, opened.model.reported_step
    if fit is None:
        raise YellowSlopeError(f"{study}: {evaluation.problem}")
    asked = asked_in(opened, step, probed_product(opened, fit))
    found = checked(opened, fit, step, asked)
    stand = whole_stand(opened, fit, step, asked) if asked is not None and check is Check.STAND else None
    if not can_be_drawn(check, found, stand):
        raise YellowSlopeError(f"{study}: {why_not_drawn(check, found)}")
    page = stand_figure(found, stand) if stand is not None else check_figure(check, found, stand)
    write_together([(file.path, file.bytes_of(page)) for file in files])
    more_said = font_remark(page)
    if more_said:
        _say(f"yellow-slope: {more_said}", file=sys.stderr)
    return f"{question(check)} {remark(check, found, stand)}"


def _probe_number(study: Path, asked: Sequence[Probe], name: str) -> int:
    """The position of a probe, from 1: of the name it is kept under, or of its number."""
    named = [i for i, probe in enumerate(asked, 1) if probe.name and probe.name == name]
    if named:
        return named[0]
    if not name.isdecimal():
        kept = [f"“{probe.name}”" for probe in asked if probe.name]
        there = f"; kept are {listed(kept)}" if kept else ""
        raise YellowSlopeError(f"{study} keeps no probe as “{name}”{there}.")
    if not 1 <= int(name) <= len(asked):
        raise YellowSlopeError(f"{study} has {counted(len(asked), 'probe')}; there is no number {name}.")
    return int(name)


def _draw(
    study: Path,
    targets: list[Path],
    dpi: int = 300,
    name: str = "1",
    panel: int = 1,
    comparison: int = 1,
    view: str = "lines",
) -> str:
    """Write the figure to every target; the title of what is on it."""
    from yellow_slope.core.fit.fitted.evaluate import evaluate
    from yellow_slope.core.fit.fitted.fit import Fit
    from yellow_slope.core.probe.asking import asked_probes
    from yellow_slope.core.probe.probing import probe_fit
    from yellow_slope.core.probe.seen import Seen, Sight
    from yellow_slope.core.study.figures import ProbeShown
    from yellow_slope.core.words.sentences.effects import EffectReader
    from yellow_slope.files.safely.atomically import write_together
    from yellow_slope.plots.figures import views_of
    from yellow_slope.report.figures import FigureFile, figure_page
    from yellow_slope.report.fontchain import remark

    files = [FigureFile(target, dpi) for target in targets]
    opened = _opened(study)
    _refuse_inputs(targets, opened, study)
    evaluation = evaluate(opened)
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
        raise YellowSlopeError(f"Probe {number} has no view “{view}”: that needs two numbers to look over.")
    page = figure_page(evaluation.study, sight, shown)
    write_together([(file.path, file.bytes_of(page)) for file in files])
    more_said = remark(page)
    if more_said:
        _say(f"yellow-slope: {more_said}", file=sys.stderr)
    title = EffectReader(evaluation.study, probed, panel - 1).picture_title(comparison - 1)
    more = f" (panel {panel} of {panels}, comparison {comparison} of {comparisons})" if panels * comparisons > 1 else ""
    return f"{title}{more}"


if __name__ == "__main__":
    sys.exit(main())
