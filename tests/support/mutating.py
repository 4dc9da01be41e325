"""Inputs of every kind, changed at random: what stands in files, and what is typed."""

from __future__ import annotations

import io
import json
import os
import random
import shutil
import zipfile
from collections.abc import Callable, Iterable
from contextlib import suppress
from dataclasses import dataclass
from datetime import UTC, datetime
from functools import cache
from pathlib import Path
from typing import Any

from tests.support.drawnfigures import drawn_figure, drawn_shown, tuned
from yellow_slope.core.data.conditiontext import condition_text, typed_condition
from yellow_slope.core.data.formula import expression_text
from yellow_slope.core.errors import YellowSlopeError
from yellow_slope.core.fit.fitted.evaluate import evaluate
from yellow_slope.core.quickline import said_by, write_line
from yellow_slope.core.study.edits.computed import derive
from yellow_slope.core.study.edits.descriptions import describe
from yellow_slope.core.study.edits.dismissals import dismiss
from yellow_slope.core.study.edits.figures import add_figure, figure_named, tune_figure
from yellow_slope.core.study.edits.levels import name_level
from yellow_slope.core.study.edits.models import rename_study, set_by
from yellow_slope.core.study.edits.probes import keep_probe, put_probe
from yellow_slope.core.study.edits.report import comment_part, switch_part
from yellow_slope.core.study.edits.samples import set_aside, set_rule
from yellow_slope.core.study.figures import READY_LOOKS
from yellow_slope.core.study.flagkeys import FlagKey, FlagKind
from yellow_slope.core.study.history import Edited, Opened, Step
from yellow_slope.core.study.probe import Probe, Smallest
from yellow_slope.core.study.report import PartKind
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.sentences.livefigures import with_figures
from yellow_slope.demo.learners import STUDY, TABLE
from yellow_slope.files.journal.keeping import Journal
from yellow_slope.files.journal.unclosed import taken_up, throw_away, unclosed_work
from yellow_slope.files.opening import open_anything, open_text
from yellow_slope.files.spec import read_spec, study_from
from yellow_slope.files.study.studyfile import packed
from yellow_slope.files.written.exporting import ExportChoices, write_export
from yellow_slope.files.written.ownlooks import own_looks, save_look
from yellow_slope.report.document import Report
from yellow_slope.report.formats import Format, ReportFile, report_contents
from yellow_slope.report.parts import build_report
from yellow_slope.values import replace

OLD = Path(__file__).parent.parent / "files" / "study" / "old"
AWKWARD = (
    b"\x00",
    b'"',
    b"\r",
    b"\xff",
    b",,",
    b"inf",
    b"1e999",
    b"\\ud800",
    b"[[[[",
    b"((((",
    b"-",
    b"\n\n",
    b"NaN",
    b"'",
    b"{",
    b"9" * 400,
    b"<b>",
    b"\x1b[31m",
    b"=1+1",
    b" x ",
    b";",
    b"../",
    "\u202e\u2028ł".encode(),
)


def mutated(content: bytes, rng: random.Random) -> bytes:
    """The content with some bytes flipped, cut out, doubled, or put in from a list of awkward ones."""
    out = bytearray(content)
    for _ in range(rng.randint(1, 6)):
        at = rng.randrange(max(1, len(out)))
        match rng.randrange(5):
            case 0:
                if out:
                    out[at] = rng.randrange(256)
            case 1:
                del out[at : at + rng.randint(1, 40)]
            case 2:
                out[at:at] = rng.choice(AWKWARD)
            case 3:
                out[at:at] = out[at : at + rng.randint(1, 60)]
            case _:
                if rng.random() < 0.2:
                    del out[at:]
    return bytes(out)


ODD_VALUES: tuple[Any, ...] = (
    *(None, True, -1, 0, 1e308, 1e-320, 2**70, "", " ", "x" * 5000, "\ufffe", "a\rb", "\x1b", "NaN", [], {}, [[]]),
    *({"": ""}, "practice", "coaching", "b1", "#FF0000", "none", ["practice", "practice"], -0.0, 40, "9" * 400),
)


def changed_tree(value: Any, rng: random.Random) -> Any:
    """A JSON value of which one part is another value, gone, doubled, or has a new neighbour."""
    if isinstance(value, dict) and value and rng.random() < 0.85:
        key = rng.choice(list(value))
        match rng.randrange(12):
            case 0:
                return {k: v for k, v in value.items() if k != key}
            case 1:
                return {**value, rng.choice(["more", "", key.upper(), "\ufffe"]): rng.choice(ODD_VALUES)}
            case _:
                return {**value, key: changed_tree(value[key], rng)}
    if isinstance(value, list) and value and rng.random() < 0.85:
        at = rng.randrange(len(value))
        match rng.randrange(8):
            case 0:
                return value[:at] + value[at + 1 :]
            case 1:
                return [*value, value[at]]
            case _:
                return [*value[:at], changed_tree(value[at], rng), *value[at + 1 :]]
    return rng.choice(ODD_VALUES)


def changed_json(content: bytes, rng: random.Random) -> bytes:
    """JSON with other values, or with other bytes."""
    if rng.random() < 0.3:
        return mutated(content, rng)
    value = json.loads(content)
    for _ in range(rng.choice([1, 1, 2, 4])):
        value = changed_tree(value, rng)
    return json.dumps(value).encode()


def members_of(content: bytes) -> dict[str, bytes]:
    """The parts of an archive."""
    with zipfile.ZipFile(io.BytesIO(content)) as archive:
        return {name: archive.read(name) for name in archive.namelist()}


def archive_of(parts: Iterable[tuple[str, bytes]], method: int = zipfile.ZIP_DEFLATED) -> bytes:
    """An archive of these parts, by name."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", method) as archive:
        for name, content in parts:
            archive.writestr(name, content)
    return out.getvalue()


def mutated_archive(content: bytes, rng: random.Random) -> bytes:
    """The archive with one of its parts changed, or as bytes."""
    parts = members_of(content)
    at = rng.randrange(len(parts) + 1)
    if at == len(parts):
        return mutated(content, rng)
    name = list(parts)[at]
    return archive_of({**parts, name: mutated(parts[name], rng)}.items())


@cache
def rich_study() -> Study:
    """The demo with computed variables, samples, cases set aside, one model per group and a flag put aside."""
    study = open_anything(STUDY)
    study = derive(study, "short sleep", "8 - sleep")
    study = derive(study, "often", "1 if practice at least 5 and coaching is not none else 0")
    study = derive(study, "mood", "mean of worry, reversed balance with 1")
    rule = typed_condition("age between 18 and 60 or (site is 1 or 2 and worry not missing)", study.variables)
    study = set_aside(set_rule(study, rule), [3, 7], "wrong boots")
    study = set_by(study, "coaching")
    study = dismiss(study, FlagKey(FlagKind.LOST), "few")
    probe = Probe("practice", "worry", smallest=Smallest(0.5))
    study = keep_probe(put_probe(study, probe), probe, "mine")
    rng = random.Random(5)
    for k in range(6):
        figure = drawn_figure(rng, study, drawn_shown(rng, study, probe), f"figure {k}")
        study = add_figure(study, tuned(rng, study, figure))
    return comment_part(study, PartKind.FINDINGS, "So it is: {b practice x worry}.", "{p practice} and {R2}")


@cache
def exported(suffix: str) -> bytes:
    """The demo's table, written in a format."""
    import tempfile

    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / f"t{suffix}"
        study = open_anything(STUDY)
        write_export(evaluate(study), [path], ExportChoices(code_book=False))
        return path.read_bytes()


@cache
def described() -> dict[str, bytes]:
    """A table with its schema and its code book."""
    import tempfile

    with tempfile.TemporaryDirectory() as folder:
        write_export(evaluate(open_anything(STUDY)), [Path(folder) / "t.csv"], ExportChoices())
        return {path.name: path.read_bytes() for path in Path(folder).iterdir()}


SPEC = {
    "outcome": "control",
    "blocks": [[["age"]], [["practice"], ["coaching"]], [["practice", "coaching"]]],
    "probes": [{"focal": "practice", "moderator": "coaching"}],
    "variables": {"practice": {"treatment": "centered", "label": "practice"}},
    "level": 0.9,
    "derived": {"z": "8 - age", "often": "1 if practice at least 1 else 0"},
    "samples": [{"name": "s", "rule": "age at most 90 or z missing", "aside": [{"rows": [2], "reason": "odd"}]}],
    "sample": "s",
}


@dataclass(frozen=True, slots=True)
class Kind:
    """A kind of input: how one is made, and what a program does with it."""

    name: str
    act: Callable[[Path, random.Random], Study | None]


def _file(name: str, content: bytes, archive: bool = False) -> Kind:
    def act(folder: Path, rng: random.Random) -> Study:
        path = folder / name
        path.write_bytes(mutated_archive(content, rng) if archive else mutated(content, rng))
        return open_anything(path)

    return Kind(name, act)


def _beside(which: str) -> Kind:
    def act(folder: Path, rng: random.Random) -> Study:
        files = described()
        for name, content in files.items():
            if name == "t.csv" or name == which:
                (folder / name).write_bytes(mutated(content, rng) if name == which else content)
        return open_anything(folder / "t.csv")

    return Kind(which, act)


def _spec(folder: Path, rng: random.Random) -> Study:
    (folder / "t.csv").write_bytes(TABLE.read_bytes())
    (folder / "s.json").write_bytes(changed_json(json.dumps(SPEC).encode(), rng))
    return study_from(folder / "t.csv", read_spec(folder / "s.json"))


def _journal(folder: Path, rng: random.Random) -> Study | None:
    study = open_anything(STUDY)
    journal = Journal(folder / "journal")
    steps: list[Step[Study]] = [Opened(study, None, STUDY)]
    steps += [Edited(f"edit {k}", rename_study(study, f"name {k}")) for k in range(4)]
    journal.take((datetime.now(UTC), step) for step in steps)
    file = journal.file
    assert file is not None
    content = file.read_bytes()
    journal.end()
    file.write_bytes(mutated(content, rng))
    found = unclosed_work(folder / "journal")
    study_found = taken_up(found[0]).history.study if found else None
    assert study_found is None or study_found.name in {study.name, *(f"name {k}" for k in range(4))}
    for work in found:
        throw_away(work)
    for left in (folder / "journal").iterdir():  # what can be read by no version of the program stays three months
        left.unlink()
    (folder / "journal").rmdir()
    return study_found


def _typed(text: str, rng: random.Random) -> str:
    return mutated(text.encode(), rng).decode("utf-8", "replace")


def _line(_: Path, rng: random.Random) -> Study:
    study = open_anything(STUDY)
    return said_by(study, _typed(write_line(study, study.model), rng))


def _rule(_: Path, rng: random.Random) -> Study:
    study = rich_study()
    rule = study.samples[0].rule
    assert rule is not None
    text = condition_text(rule, {v.name: v for v in study.variables})
    return set_rule(study, typed_condition(_typed(text, rng), study.variables, study.columns.is_numeric))


def _expression(_: Path, rng: random.Random) -> Study:
    study = rich_study()
    one = rng.choice(study.derived)
    text = expression_text(one.expression, {v.name: v for v in study.variables}, stored=False)
    return derive(study, "made anew", _typed(text, rng))


STRANGE = (
    "\ufffe",
    "\uffff",
    "\U0001fffe",
    "\ufdd0",
    "\ufeff",
    "\x01",
    "\x1b[2J",
    "\u202e",
    "\u2066",
    "\ud800",
    "\x00",
    "a\rb",
    "\x85",
)
"""What is no letter, halves of characters, and marks that turn the direction of a text."""


def _strange(folder: Path, rng: random.Random) -> Study:
    """What is no letter, wherever somebody's words stand; and through every writer of a report."""
    study = rich_study()

    def words() -> str:
        return "".join(rng.choice([*STRANGE, "a", " ", "é", "{b practice x worry}"]) for _ in range(rng.randint(1, 8)))

    edits: list[Callable[[Study], Study]] = [
        lambda s: describe(s, "practice", label=f"p{words()}", unit=words()),
        lambda s: name_level(s, "coaching", "3", f"c{words()}"),
        lambda s: rename_study(s, f"s{words()}"),
        lambda s: comment_part(s, PartKind.FINDINGS, words(), words()),
        lambda s: tune_figure(s, "figure 0", replace(figure_named(s, "figure 0"), name=f"f{words()}")),
        lambda s: tune_figure(s, "figure 1", replace(figure_named(s, "figure 1"), title=words())),
        lambda s: set_aside(s, [9], f"r{words()}"),
        lambda s: dismiss(s, FlagKey(FlagKind.LOST), f"d{words()}"),
        lambda s: keep_probe(s, s.probes[0], f"k{words()}"),
    ]
    for change in rng.sample(edits, 3):
        with suppress(YellowSlopeError):  # refused in a sentence is as good
            study = change(study)
    kind = rng.choice([Format.HTML, Format.MARKDOWN, Format.LATEX, Format.HTML, Format.DOCX, Format.ODT, Format.PDF])
    contents = report_contents([ReportFile(folder / f"r{kind.value}")], _report_of(study, rng))
    assert all(content for _, content in contents)
    return study


def _report_of(study: Study, rng: random.Random) -> Report:
    """A report of a few parts, for time."""
    kept = {PartKind.FINDINGS, rng.choice(list(PartKind)), PartKind.SAMPLE} - {PartKind.CHECKS, PartKind.FIGURES}
    for part in PartKind:
        study = switch_part(study, part, part in kept)
    return build_report(evaluate(study))


def _part_of_study(which: str) -> Kind:
    """One part of what a study file says: its figures, its probes, what is said in the report."""

    def act(folder: Path, rng: random.Random) -> Study:
        parts = members_of(packed(rich_study()))
        said = json.loads(parts["study.json"])
        whole = json.dumps({**said, which: "@@"}).encode()
        changed = changed_json(json.dumps(said[which]).encode(), rng)
        path = folder / "s.yslope"
        path.write_bytes(archive_of({**parts, "study.json": whole.replace(b'"@@"', changed)}.items()))
        return open_anything(path)

    return Kind(f"{which} of a study", act)


def _looks(folder: Path, rng: random.Random) -> None:
    """Looks of one's own, whatever stands in their file: read, or left aside and never written over."""
    before = os.environ.get("XDG_CONFIG_HOME")
    os.environ["XDG_CONFIG_HOME"] = str(folder)
    try:
        save_look(replace(READY_LOOKS[0], name="mine"))
        save_look(replace(READY_LOOKS[-1], name="yours"))
        (file,) = folder.rglob("looks.json")
        content = changed_json(file.read_bytes(), rng)
        file.write_bytes(content)
        for look in own_looks():
            assert look.name
        try:
            save_look(replace(READY_LOOKS[0], name="a third"))
        except YellowSlopeError:
            assert file.read_bytes() == content, "looks that cannot be read are written over"
            raise
        assert "a third" in {look.name for look in own_looks()}
    finally:
        shutil.rmtree(folder / "yellow-slope", ignore_errors=True)
        if before is None:
            os.environ.pop("XDG_CONFIG_HOME")
        else:
            os.environ["XDG_CONFIG_HOME"] = before


def _comment(_: Path, rng: random.Random) -> Study:
    """Words in the report with live figures, as somebody types them."""
    study = rich_study()
    text = "So {b practice x worry} is it, {p practice}, {R2 of step 2} and {mean of control}; {SD of worry} *so*."
    study = comment_part(study, rng.choice(list(PartKind)), _typed(text, rng), _typed(text, rng))
    evaluation = evaluate(study)
    for part in PartKind:
        said = study.report.part(part)
        for words in (said.above, said.below):
            assert isinstance(with_figures(evaluation, words), str)
    return study


def _pasted(_: Path, rng: random.Random) -> Study:
    return open_text(_typed(TABLE.read_text()[:2000].replace(",", "\t"), rng))


def kinds() -> list[Kind]:
    """Every kind there is."""
    return [
        _file("s.yslope", packed(rich_study()), archive=True),
        *(_file(path.name, path.read_bytes(), archive=True) for path in sorted(OLD.glob("*.yslope"))),
        Kind("journal", _journal),
        Kind("strange letters", _strange),
        *(_part_of_study(which) for which in ("figures", "probes", "report", "models")),
        Kind("looks", _looks),
        Kind("comment", _comment),
        _file("t.csv", TABLE.read_bytes()[:3000]),
        _file("t.tsv", exported(".tsv")[:3000]),
        *(_file(f"t{suffix}", exported(suffix), archive=True) for suffix in (".xlsx", ".ods", ".zip")),
        _file("t.parquet", exported(".parquet")),
        _file("t.json", b'[{"a": 1, "b": "x"}, {"a": 2.5, "b": null}, {"a": 3, "b": "y"}]'),
        _beside("t.schema.json"),
        _beside("t.codebook.csv"),
        Kind("description", _spec),
        Kind("quick line", _line),
        Kind("rule", _rule),
        Kind("expression", _expression),
        Kind("pasted", _pasted),
    ]
