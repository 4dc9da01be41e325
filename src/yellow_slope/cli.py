"""The command `yellow-slope`: the window, and everything without one."""

from __future__ import annotations

import argparse
import difflib
import os
import sys
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import NoReturn

from yellow_slope import __version__, terminal
from yellow_slope.commands import figures, studies
from yellow_slope.core.errors import FileError, YellowSlopeError
from yellow_slope.core.letters import shown
from yellow_slope.core.study.report import ReadySet
from yellow_slope.files.safely.regular import reason_of

OK, REFUSED, WRONG_LINE, INTERRUPTED = 0, 1, 2, 130
LONGEST_SAID = 300


class Parser(argparse.ArgumentParser):
    """A command line that is refused in one sentence."""

    def print_help(self, file: object = None) -> None:
        """Say the help. YellowSlopeError where it cannot be written."""
        terminal.say(self.format_help().rstrip())

    def error(self, message: str) -> NoReturn:
        """Say what is wrong, and leave."""
        said = message if len(message) <= LONGEST_SAID else f"{message[:LONGEST_SAID]} …"
        terminal.remark(f"{shown(said)}. See {self.prog} --help.")
        raise SystemExit(WRONG_LINE)


def whole_number(text: str) -> int:
    """A whole number as it is typed."""
    if not (text.isascii() and text.isdecimal() and len(text) < 10):
        said = text if len(text) <= 20 else f"{text[:20]} …"
        raise argparse.ArgumentTypeError(f"a whole number is expected here, not “{said}”")
    return int(text)


def command_line() -> tuple[Parser, list[str]]:
    """The command line, and the names of its commands."""
    top = Parser(
        prog="yellow-slope",
        description="Does the effect of X on Y depend on M? Without a command the window opens.",
        epilog="An existing file is overwritten, but never one that the command reads. "
        "Exit codes: 0 done; 1 the request could not be met, with the reason; 2 "
        "the command line is wrong.",
    )
    top.add_argument("--version", action="store_true", help="print the version")
    top.add_argument("--verbose", action="store_true", help="report on the terminal what is done, step by step")
    commands = top.add_subparsers(dest="command", metavar="COMMAND")
    window = commands.add_parser("open", help="open a table or a study in the window")
    window.set_defaults(do=_open)
    window.add_argument("file", type=Path, nargs="?")
    new = commands.add_parser("new", help="make a study from a table file and a quick line or a small JSON description")
    new.set_defaults(do=studies.new)
    new.add_argument("table", type=Path, help="a table file, or a study whose table is used as it was described")
    new.add_argument("--spec", type=Path, help="the description (docs/schemas/spec.schema.json)")
    new.add_argument(
        "--line", action="append", default=[], help="the model as a quick line; further lines add to it or change it"
    )
    new.add_argument("--to", type=Path, required=True, help="the study file to write (.yslope)")
    line = commands.add_parser("line", help="print the model of a study as a quick line")
    line.set_defaults(do=studies.line)
    line.add_argument("study", type=Path)
    line.add_argument("--model", type=whole_number, default=1, help="which model, counted from 1")
    evaluate = commands.add_parser("evaluate", help="write every number of a study to a JSON file")
    evaluate.set_defaults(do=studies.evaluate)
    evaluate.add_argument("study", type=Path)
    evaluate.add_argument("--to", type=Path, required=True, help="the results file to write, - for standard output")
    evaluate.add_argument("--cases", type=Path, help="a .csv file with a row for each case of the current model")
    report = commands.add_parser("report", help="write a study's report")
    report.set_defaults(do=studies.report)
    report.add_argument("study", type=Path)
    kinds = "a .html, .docx, .odt, .pdf, .tex or .md file; may be repeated"
    report.add_argument("--to", type=Path, required=True, action="append", help=kinds)
    sets = [ready.value for ready in ReadySet]
    report.add_argument("--parts", choices=sets, help="a ready set of parts; without it the parts chosen in the study")
    report.add_argument("--step", type=whole_number, help="the step to report; without it the one chosen in the study")
    figure = commands.add_parser("figure", help="write a figure of a study, or of one of its probes or checks")
    figure.set_defaults(do=figures.figure_asked)
    figure.add_argument("study", type=Path)
    kinds = "a .png, .tiff, .svg or .pdf file, or .csv for the numbers behind it; may be repeated"
    figure.add_argument("--to", type=Path, required=True, action="append", help=kinds)
    figure.add_argument("--dpi", type=whole_number, default=300)
    names = "stand, spread, normal, straight, pull, far, moves, order, overlap or own"
    figure.add_argument("--figure", help="the name of a figure of the study")
    figure.add_argument("--look", help='its look for these files, as in "paper, grey"')
    figure.add_argument("--width", help='its size for these files, as in "8.5cm", "17.5 x 9 cm" or "single column"')
    figure.add_argument("--outlines", action="store_true", help="letters of an SVG as outlines, not as text")
    figure.add_argument("--check", help=f'a check in place of a probe, as in "robustness": {names}')
    figure.add_argument("--probe", default="1", help="which probe: its name if it is kept, or its number from 1")
    figure.add_argument(
        "--view",
        choices=["lines", "above", "map"],
        default="lines",
        help="lines with the effect, the outcome from above, or the map of the effect",
    )
    figure.add_argument(
        "--panel", type=whole_number, default=1, help="which place of its second moderator, counted from 1"
    )
    figure.add_argument(
        "--comparison", type=whole_number, default=1, help="which comparison of its groups, counted from 1"
    )
    export = commands.add_parser("export", help="write a study's table, with or without what was computed")
    export.set_defaults(do=studies.export)
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
    demo.set_defaults(do=_demo)
    demo.add_argument("--to", type=Path, default=Path("build/demo"))
    top.set_defaults(do=_open, file=None)
    return top, list(commands.choices)


def main(arguments: Sequence[str] | None = None) -> int:
    """Run the command; the exit code."""
    terminal.begin()
    given = list(sys.argv[1:] if arguments is None else arguments)
    code = _ended(lambda: _run(given))
    return _ended(terminal.end) or code if code in (OK, REFUSED) else code


def _run(given: list[str]) -> None:
    top, commands = command_line()
    first = next((i for i, text in enumerate(given) if not text.startswith("-")), None)
    if first is not None and given[first] not in commands:
        if not _may_be_a_file(given[first]):
            near = difflib.get_close_matches(given[first], commands, 1)
            top.error(f"there is no command “{given[first]}”{f'; did you mean “{near[0]}”?' if near else ''}")
        given.insert(first, "open")
    asked = top.parse_args(given)
    if asked.version:
        terminal.say(f"Yellow Slope {__version__}")
        return
    if asked.verbose:
        from yellow_slope.files.safely.logfile import begin_log

        begin_log(verbose=True)
    from yellow_slope.files.safely.plans import recover

    for text in recover():
        terminal.remark(text)
    asked.do(asked)


def _may_be_a_file(name: str) -> bool:
    """Whether a word can be meant as the name of a file."""
    return "." in name or "/" in name or len(name) > LONGEST_SAID or os.path.exists(name)


def _ended(step: Callable[[], None]) -> int:
    """The exit code of a step; why it was refused is said."""
    try:
        step()
    except SystemExit as end:
        return end.code if isinstance(end.code, int) else OK
    except YellowSlopeError as error:
        terminal.remark(str(error))
    except KeyboardInterrupt:
        return INTERRUPTED
    except MemoryError:
        terminal.remark("there is not enough memory for this.")
    except OSError as error:
        terminal.remark(f"{error.filename or 'the system refuses'}: {reason_of(error)}.")
        _write_down(error)
    except Exception as error:
        terminal.remark(f"something went wrong inside Yellow Slope; nothing was written. {_write_down(error)}")
    else:
        return OK
    return REFUSED


def _write_down(error: Exception) -> str:
    """Log an error that nobody foresaw; where it stands."""
    import logging

    from yellow_slope.files.safely.logfile import begin_log, log_place

    begin_log(on_terminal=False)
    logging.getLogger(__name__).error("a command ended", exc_info=error)
    return f"The log says more: {log_place()}."


def _open(asked: argparse.Namespace) -> None:
    """Open the window, and stay until it is closed."""
    file = asked.file
    if file is not None:
        from yellow_slope.files.safely.paths import expanded

        if not os.path.exists(path := expanded(file)):
            raise FileError(f"{file} cannot be read: there is no such file.")
        file = path
    _window(file, asked.verbose)


def _window(file: Path | None, verbose: bool) -> None:
    if not (has_display() or os.environ.get("QT_QPA_PLATFORM")):
        raise YellowSlopeError("There is no display to open the window on. See yellow-slope --help for the commands.")
    from yellow_slope.app.main import run

    code = run(file, verbose)
    if code:
        raise SystemExit(code)


def has_display() -> bool:
    """Whether a window can be shown."""
    return bool(os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY"))


def _demo(asked: argparse.Namespace) -> None:
    """Open the demo study, or without a display write what it gives."""
    from yellow_slope.demo.learners import STUDY

    if has_display():
        _window(STUDY, asked.verbose)
    else:
        studies.demo(asked.to)


if __name__ == "__main__":
    sys.exit(main())
