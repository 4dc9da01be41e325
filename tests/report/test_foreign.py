"""Reports opened by programs that read such files all day. Where one is not installed, its test is skipped."""

from __future__ import annotations

import re
import shutil
import subprocess
from pathlib import Path

import pytest

from yellow_slope.core.fit.fitted.evaluate import evaluate
from yellow_slope.core.study.edits.report import choose_set
from yellow_slope.core.study.report import ReadySet
from yellow_slope.core.study.study import Study
from yellow_slope.report.blocks import Pictured, Said, Tabled, blocks_of, rows_of
from yellow_slope.report.document import Report
from yellow_slope.report.formats import ReportFile
from yellow_slope.report.parts import build_report

pytestmark = pytest.mark.no_cover  # what it runs through others run through


def needs(program: str) -> str:
    found = shutil.which(program)
    if found is None:
        pytest.skip(f"{program} is not installed")
    return found


@pytest.fixture(scope="module")
def report(demo: Study) -> Report:
    return build_report(evaluate(choose_set(demo, ReadySet.EVERYTHING)))


def written(report: Report, folder: Path, name: str) -> Path:
    for path, content in ReportFile(folder / name).contents(report):
        path.write_bytes(content)
    return folder / name


def bare(text: str) -> str:
    """Without blanks and hyphens, for lines may be broken at them; ligatures undone."""
    for joined, letters in (("ﬁ", "fi"), ("ﬂ", "fl"), ("ﬀ", "ff"), ("ﬃ", "ffi")):
        text = text.replace(joined, letters)
    return re.sub(r"[\s\u2007\u2008\u00ad-]+", "", text.replace("−", "").replace("–", ""))


def texts(report: Report) -> list[str]:
    """Every paragraph and every cell."""
    said = []
    for block in blocks_of(report):
        match block:
            case Said(text):
                said.append(str(text))
            case Tabled(_, table):
                said += [cell for row in rows_of(table) for cell in row]
            case Pictured(_, picture):
                said.append(picture.title)
            case _:
                said.append(block.text)
    return [text for text in map(bare, said) if text]


def pdf_text(path: Path) -> str:
    made = subprocess.run([needs("pdftotext"), "-layout", str(path), "-"], capture_output=True, check=True, timeout=120)
    return made.stdout.decode("utf-8")


def test_pdf_text_is_found(report: Report, tmp_path: Path) -> None:
    needs("pdftotext")
    path = written(report, tmp_path, "r.pdf")
    flat = subprocess.run([needs("pdftotext"), "-raw", str(path), "-"], capture_output=True, check=True, timeout=120)
    said = bare(flat.stdout.decode("utf-8"))
    missing = [text for text in texts(report) if text not in said]
    assert not missing, missing[:5]


@pytest.mark.parametrize("name", ["r.docx", "r.odt"])
def test_word_processors_open_it(report: Report, tmp_path: Path, name: str) -> None:
    program = needs("soffice")
    path = written(report, tmp_path, name)
    asked = [program, f"-env:UserInstallation=file://{tmp_path}/profile", "--headless"]
    subprocess.run(
        [*asked, "--convert-to", "txt:Text (encoded):UTF8", "--outdir", str(tmp_path), str(path)],
        capture_output=True,
        check=True,
        timeout=180,
    )
    said = bare((tmp_path / "r.txt").read_text(encoding="utf-8-sig"))
    missing = [text for text in texts(report) if text not in said]
    assert not missing, missing[:5]


def test_latex_is_set(report: Report, tmp_path: Path) -> None:
    program = needs("pdflatex")
    needs("pdftotext")
    path = written(report, tmp_path, "r.tex")
    for _ in range(2):  # the second time with the widths of long tables
        made = subprocess.run(
            [program, "-interaction=nonstopmode", "-halt-on-error", path.name],
            cwd=tmp_path,
            capture_output=True,
            timeout=180,
            check=False,
        )
        assert made.returncode == 0, made.stdout.decode("utf-8", "replace")[-2000:]
    said = bare(pdf_text(tmp_path / "r.pdf"))
    figures = re.findall(r"\d*\.\d\d+", " ".join(texts(report)))
    missing = [figure for figure in figures if figure not in said]
    assert not missing, missing[:5]
