"""The report in pieces that the window can take in."""

from __future__ import annotations

from yellow_slope.app.report.written import WIDE, _cut, _parts
from yellow_slope.core.words.spelling.rich import Rich, Run
from yellow_slope.report.document import Paragraph, Section


def test_a_paragraph_of_a_thousand_terms_is_laid_out_in_several() -> None:
    """Nothing of it is lost."""
    runs = (Run("y = "), *(Run(f"{k}.5·x{k:04} + ", italic=k % 2 == 0) for k in range(900)), Run("z" * 5000))
    whole = Paragraph(Rich(runs))
    pieces = list(_cut(whole))
    assert len(pieces) > 5
    assert "".join(str(piece) for piece in pieces) == str(whole)
    assert all(len(str(piece)) <= WIDE for piece in pieces)
    assert [str(piece) for piece in _cut(Paragraph(Rich((Run("short"),))))] == ["short"]


def test_what_the_pages_leave_out_is_said() -> None:
    section = Section("Words", tuple(Paragraph(Rich((Run(f"sentence {k}"),))) for k in range(350)))
    paragraphs = [str(p) for part in _parts(section) for p in part.paragraphs]
    assert paragraphs[:-1] == [f"sentence {k}" for k in range(300)]
    assert paragraphs[-1] == "The first 300 of 350 sentences are shown on these pages; the saved report has all."
