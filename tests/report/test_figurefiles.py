"""Files of figures, read back by readers of their own: pixels and dpi, texts and fonts, numbers, the same bytes."""

from __future__ import annotations

import csv
import io
from pathlib import Path
from xml.etree import ElementTree

import numpy as np
import pytest
from PIL import Image
from pypdf import PdfReader

from yellow_slope.cli import main
from yellow_slope.core.errors import FileError
from yellow_slope.core.figured.subjects import subject_of
from yellow_slope.core.fit.fitted.evaluate import evaluate
from yellow_slope.core.study.checks import Check
from yellow_slope.core.study.edits.figures import add_figure
from yellow_slope.core.study.figures import (
    PAPER_GREY,
    Figure,
    FigureSize,
    LineKey,
    LineOf,
    ProbeShown,
    Role,
    ShowsCheck,
    ShowsGroup,
    ShowsProbe,
    ShowsSteps,
    TextKey,
    TextTuning,
)
from yellow_slope.core.study.study import Study
from yellow_slope.files.study.studyfile import write_study
from yellow_slope.report.figures import Drawn, FigureFile, drawn_figure
from yellow_slope.values import replace

SVG = "{http://www.w3.org/2000/svg}"
FIGURE = Figure("slopes", ShowsProbe("practice", "coaching"), size=FigureSize(17.5))
NASTY = "=1+1 <b>& $x_1$ “née”"


@pytest.fixture(scope="module")
def drawn(demo: Study) -> Drawn:
    return drawn_figure(FIGURE, subject_of(evaluate(demo), FIGURE.shows), numbers=True)


@pytest.mark.parametrize("dpi", [72, 300, 1200])
@pytest.mark.parametrize("kind", ["png", "tiff", "tif"])
def test_pictures_have_the_promised_pixels_and_dpi(drawn: Drawn, kind: str, dpi: int) -> None:
    content = FigureFile(Path(f"a.{kind}"), dpi).content(drawn)
    with Image.open(io.BytesIO(content)) as picture:
        assert picture.width == pytest.approx(17.5 / 2.54 * dpi, abs=1)
        assert picture.info["dpi"] == pytest.approx((dpi, dpi), rel=1e-3)
        assert picture.format == ("PNG" if kind == "png" else "TIFF")
        assert picture.mode == ("RGBA" if kind == "png" else "RGB")
        assert picture.getpixel((1, 1))[:3] == (255, 255, 255)  # type: ignore[index]


def test_an_svg_has_its_texts_as_text_in_the_fonts_name_and_says_what_it_shows(drawn: Drawn) -> None:
    root = ElementTree.fromstring(FigureFile(Path("a.svg")).content(drawn))
    texts = [node.text for node in root.iter(f"{SVG}text")]
    assert {"one-to-one", "none", "practice (hours a week)"} <= set(texts)
    assert all("Slope Sans" in node.attrib["style"] for node in root.iter(f"{SVG}text"))
    assert root.attrib["width"].startswith("496.06")
    described = root.find(f"{SVG}desc")
    assert described is not None
    assert described.text is not None
    assert described.text.startswith("Interaction plot: Practice by coaching.")
    assert root.attrib["role"] == "img"
    outlined = ElementTree.fromstring(FigureFile(Path("a.svg"), outlines=True).content(drawn))
    assert not list(outlined.iter(f"{SVG}text"))


def test_a_pdf_has_its_font_within_and_its_texts_can_be_read(drawn: Drawn) -> None:
    reader = PdfReader(io.BytesIO(FigureFile(Path("a.pdf")).content(drawn)))
    page = reader.pages[0]
    text = page.extract_text()
    for word in ("one-to-one", "practice (hours a week)", "control score"):
        assert word in text
    fonts = page["/Resources"]["/Font"]  # type: ignore[index]
    assert fonts
    for name in fonts:
        font = fonts[name]
        inner = font["/DescendantFonts"][0].get_object() if "/DescendantFonts" in font else font
        described = inner["/FontDescriptor"]
        assert "/FontFile2" in described or "/FontFile3" in described or font["/Subtype"] == "/Type3"
        assert "SlopeSans" in str(inner["/BaseFont"])
    assert float(page.mediabox.width) == pytest.approx(17.5 / 2.54 * 72, abs=0.1)
    assert reader.metadata is not None
    assert reader.metadata.subject is not None
    assert reader.metadata.subject.startswith("Interaction plot")


@pytest.mark.parametrize("kind", ["png", "svg", "pdf", "tiff", "csv"])
def test_the_same_study_gives_the_same_bytes(demo: Study, drawn: Drawn, kind: str) -> None:
    again = drawn_figure(FIGURE, subject_of(evaluate(demo), FIGURE.shows), numbers=True)
    file = FigureFile(Path(f"a.{kind}"), 100)
    assert file.content(drawn) == file.content(again)


def test_names_are_no_markup_no_formula_and_no_mathematics(demo: Study) -> None:
    key = TextKey(Role.LINE, line=LineKey(LineOf.LEVEL, "coaching", "3"))
    figure = replace(FIGURE.with_text(key, TextTuning(NASTY)), alternative=f"{NASTY} \x07", title=NASTY)
    made = drawn_figure(figure, subject_of(evaluate(demo), figure.shows), numbers=True)
    svg = ElementTree.fromstring(FigureFile(Path("a.svg")).content(made))
    assert NASTY in [node.text for node in svg.iter(f"{SVG}text")]
    assert NASTY in PdfReader(io.BytesIO(FigureFile(Path("a.pdf")).content(made))).pages[0].extract_text()


def rows_of(content: bytes) -> list[dict[str, str]]:
    return list(csv.DictReader(io.StringIO(content.decode("utf-8"))))


def test_the_numbers_behind_a_probe_are_those_of_the_fit(demo: Study, drawn: Drawn) -> None:
    rows = rows_of(drawn.numbers)
    evaluation = evaluate(demo)
    subject = subject_of(evaluation, FIGURE.shows)
    effects = subject.sight.focus.effects  # type: ignore[union-attr]
    told = [row for row in rows if row["plot"] == "effect"]
    assert [float(row["value"]) for row in told] == [e.effect for e in effects]
    assert [float(row["low"]) for row in told] == [e.low for e in effects]
    assert [row["at"] for row in told] == ["none", "group lesson", "video feedback", "one-to-one"]
    lines = [row for row in rows if row["plot"] == "lines" and row["line"] == "none"]
    assert len(lines) == 64
    fit = evaluation.fit
    assert fit is not None
    x = np.asarray(fit.values["practice"])
    assert (float(lines[0]["at"]), float(lines[-1]["at"])) == (x.min(), x.max())
    slope = (float(lines[-1]["value"]) - float(lines[0]["value"])) / (x.max() - x.min())
    assert slope == pytest.approx(effects[0].effect, rel=1e-9)


@pytest.mark.parametrize(
    "shows",
    [
        ShowsProbe("practice", "worry", view=ProbeShown.ABOVE),
        ShowsProbe("returner", "balance", view=ProbeShown.STRIPS),
        ShowsProbe("returner", "coaching"),
        ShowsSteps(),
        ShowsGroup("coaching"),
        *(ShowsCheck(check) for check in Check),
    ],
)
def test_every_kind_of_figure_has_numbers_behind_it(demo: Study, shows: ShowsProbe) -> None:
    from yellow_slope.core.errors import YellowSlopeError
    from yellow_slope.report.figurenumbers import numbers_csv

    try:
        subject = subject_of(evaluate(demo), shows)
    except YellowSlopeError:
        pytest.skip("the demo has no such probe")
    rows = rows_of(numbers_csv(subject))
    assert rows
    assert all(row["value"] or row["plot"] == "boundary" or row["plot"] == "cases" for row in rows)


def test_what_cannot_be_written_is_said_before_anything_is_drawn(drawn: Drawn) -> None:
    with pytest.raises(FileError, match=r"a\.gif: a figure is written as \.png, \.svg, \.pdf, \.tiff or \.csv"):
        FigureFile(Path("a.gif"))
    for dpi in (0, 29, 1201):
        with pytest.raises(FileError, match="30 to 1200 dpi"):
            FigureFile(Path("a.png"), dpi)
    huge = replace(drawn, page=replace(drawn.page, width=3400.0, height=3400.0))
    with pytest.raises(FileError, match=r"too large; up to 3.. dpi"):
        FigureFile(Path("a.png"), 1200).content(huge)


# ---- commands


@pytest.fixture
def study_file(demo: Study, tmp_path: Path) -> Path:
    study = add_figure(demo, FIGURE)
    path = tmp_path / "study.yslope"
    write_study(study, path)
    return path


def test_a_figure_is_written_by_its_name(study_file: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    out = tmp_path / "a.pdf"
    told = ["figure", str(study_file), "--figure", "slopes", "--look", "Paper, grey", "--width", "8.5cm"]
    assert main([*told, "--to", str(out), "--to", str(tmp_path / "a.csv")]) == 0
    assert "Predicted control score by practice and coaching in step 3" in capsys.readouterr().out
    assert float(PdfReader(out).pages[0].mediabox.width) == pytest.approx(8.5 / 2.54 * 72, abs=0.1)
    assert rows_of((tmp_path / "a.csv").read_bytes())


@pytest.mark.parametrize(
    ("more", "said"),
    [
        (["--figure", "none"], "No figure is called “none”; there are: “slopes”."),
        (["--figure", "slopes", "--look", "loud"], "There is no look “loud”; there are “paper”, “paper, grey”"),
        (["--figure", "slopes", "--width", "wide"], "“wide” is not a size; type “8.5 cm”"),
        (["--figure", "slopes", "--width", "2 cm"], "A figure is 3 to 120 cm wide, not 2."),
        (["--figure", "slopes", "--dpi", "9"], "30 to 1200 dpi"),
        (["--look", "paper"], "name it with --figure"),
    ],
)
def test_what_a_command_cannot_do_is_said_and_nothing_is_written(
    study_file: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str], more: list[str], said: str
) -> None:
    out = tmp_path / "a.png"
    assert main(["figure", str(study_file), *more, "--to", str(out)]) != 0
    assert said in capsys.readouterr().err
    assert not out.exists()


def test_looks_of_ones_own_are_kept_for_all_studies(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    from yellow_slope.files.written.ownlooks import drop_look, own_looks, save_look

    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path))
    assert own_looks() == ()
    save_look(replace(PAPER_GREY, name="the journal's", letters=8.0, size=FigureSize(8.5)))
    assert own_looks() == (replace(PAPER_GREY, name="the journal's", letters=8.0, size=FigureSize(8.5)),)
    for name, why in (("", "none was given"), ("paper", "a look of the program"), ("x" * 81, "at most 80")):
        with pytest.raises(FileError, match=why):
            save_look(replace(PAPER_GREY, name=name))
    file = next(tmp_path.rglob("looks.json"))
    file.write_text("[{]", encoding="utf-8")
    assert own_looks() == ()
    with pytest.raises(FileError, match="holds no looks that can be read"):
        drop_look("the journal's")
    assert file.read_text(encoding="utf-8") == "[{]"
    assert own_looks() == ()
