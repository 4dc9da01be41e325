"""The commands that make a study, print its line, and write out its numbers, its report and its table."""

from __future__ import annotations

import argparse
from pathlib import Path

from yellow_slope import terminal
from yellow_slope.commands.asked import opened, refuse_inputs, write
from yellow_slope.core.errors import YellowSlopeError
from yellow_slope.core.study.edits.models import set_reported
from yellow_slope.core.study.edits.report import choose_set
from yellow_slope.core.study.report import ReadySet
from yellow_slope.core.words.spelling.numerals import counted, listed

STANDARD_OUTPUT = "-"


def new(asked: argparse.Namespace) -> None:
    """Make a study from a table file."""
    from yellow_slope.core.quickline import said_by
    from yellow_slope.files.opening import open_anything
    from yellow_slope.files.spec import read_spec, study_from
    from yellow_slope.files.study.studyfile import packed

    if asked.spec is None and not asked.line:
        raise YellowSlopeError("Nothing says what the model is: give --line, --spec or both.")
    study = (
        open_anything(asked.table)
        if asked.spec is None
        else study_from(asked.table, read_spec(asked.spec), asked.spec.name)
    )
    for line in asked.line:
        study = said_by(study, line)
    refuse_inputs([asked.to], study, asked.table, *([asked.spec] if asked.spec is not None else []))
    write([(asked.to, packed(study))])
    terminal.say(f"{asked.to}: {counted(study.table.n_rows, 'case')}, {counted(len(study.model.blocks), 'block')}")


def line(asked: argparse.Namespace) -> None:
    """Print a model as a quick line."""
    from yellow_slope.core.quickline import unsaid, write_line

    study, number = opened(asked.study), asked.model
    if not 1 <= number <= len(study.models):
        raise YellowSlopeError(f"{asked.study} has {counted(len(study.models), 'model')}; there is no number {number}.")
    model = study.models[number - 1]
    terminal.give(write_line(study, model, portable=True))
    left_out = unsaid(study, model)
    if left_out:
        terminal.remark(f"a line cannot express {listed(left_out)}.")


def evaluate(asked: argparse.Namespace) -> None:
    """Write every number of a study to a file or standard output. YellowSlopeError, after it is written, where a model
    has no answer."""
    from yellow_slope.core.fit.fitted.evaluate import evaluate as evaluated
    from yellow_slope.files.safely.jsontext import json_text
    from yellow_slope.files.study.typed import as_json
    from yellow_slope.files.written.casefile import case_table
    from yellow_slope.files.written.results import results_document

    study, to_output = opened(asked.study), str(asked.to) == STANDARD_OUTPUT
    targets = [*([] if to_output else [asked.to]), *([asked.cases] if asked.cases is not None else [])]
    refuse_inputs(targets, study, asked.study)
    evaluation = evaluated(study)
    document = results_document(evaluation)
    text = json_text(as_json(document), 1) + b"\n"
    files = [] if to_output else [(asked.to, text)]
    if asked.cases is not None and evaluation.fit is not None:
        files.append((asked.cases, case_table(study, evaluation.fit)))
    write(files)
    if to_output:
        terminal.give_bytes(text)
    several = len(document.models) > 1
    said = [f"{m.name or m.id}: {m.problem}" if several else m.problem for m in document.models if m.problem]
    said = said or [refused.why for refused in document.refused]
    for text_said in said[:-1]:
        terminal.remark(f"{asked.study}: {text_said}")
    if said:
        raise YellowSlopeError(f"{asked.study}: {said[-1]}")


def report(asked: argparse.Namespace) -> None:
    """Write a study's report."""
    from yellow_slope.core.fit.fitted.evaluate import evaluate as evaluated
    from yellow_slope.report.formats import ReportFile, report_contents
    from yellow_slope.report.parts import build_report

    files = [ReportFile(target) for target in asked.to]
    study = opened(asked.study)
    refuse_inputs(asked.to, study, asked.study)
    steps = study.model.steps
    if asked.step is not None and steps:
        if not 1 <= asked.step <= len(steps):
            raise YellowSlopeError(f"There is no step {asked.step}; the study has {len(steps)}.")
        study = set_reported(study, steps[asked.step - 1].id)
    if asked.parts is not None:
        study = choose_set(study, ReadySet(asked.parts))
    contents = report_contents(files, build_report(evaluated(study)))
    refuse_inputs([path for path, _ in contents], study, asked.study)
    write(contents)


def export(asked: argparse.Namespace) -> None:
    """Write a study's table."""
    from yellow_slope.core.fit.fitted.evaluate import evaluate as evaluated
    from yellow_slope.files.written.exporting import ExportChoices, write_export, written_files

    study = opened(asked.study)
    choices = ExportChoices(
        asked.labels,
        not asked.without_computed,
        asked.model_columns,
        asked.used_only,
        asked.as_text,
        not asked.without_code_book,
    )
    refuse_inputs(written_files(asked.to, choices), study, asked.study)
    written = write_export(evaluated(study), asked.to, choices)
    for text in written.remarks:
        terminal.remark(text)
    for path in written.files:
        terminal.say(str(path))


def demo(folder: Path) -> None:
    """Write the demo study, its results, its report and figures of its probes."""
    from yellow_slope.commands.figures import figure
    from yellow_slope.demo.learners import STUDY

    folder.mkdir(parents=True, exist_ok=True)
    study = folder / STUDY.name
    write([(study, STUDY.read_bytes())])
    evaluate(argparse.Namespace(study=study, to=folder / "results.json", cases=None))
    report(argparse.Namespace(study=study, to=[folder / "report.html"], step=None, parts=None))
    for number in (1, 2, 3):
        figure(study, [folder / f"figure-{number}.png", folder / f"figure-{number}.svg"], str(number))
    terminal.say(
        f"There is no display, so the whole example ran without a window. Report, figures and results are in {folder}:"
    )
    for path in sorted(folder.iterdir()):
        terminal.say(f"  {path}")
