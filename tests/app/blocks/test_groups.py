"""Blocks: one model per group, in the real window."""

from __future__ import annotations

import json
from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import QPoint

from tests.support.windowdriver import Hands
from yellow_slope import cli
from yellow_slope.app.blocks.groups import HEAD, ROW
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.study.edits.blocks import set_blocks
from yellow_slope.core.study.edits.kinds import set_kind
from yellow_slope.core.study.edits.models import set_by
from yellow_slope.files.study.studyfile import packed, unpacked, write_study
from yellow_slope.files.written.results import results_document
from yellow_slope.report.parts import build_report


@pytest.fixture
def by_coaching(demo_hands: Hands) -> Hands:
    demo_hands.press("Alt+3")
    demo_hands.place.session.look(variable="coaching")
    demo_hands.press("Ctrl+B")
    return demo_hands


def test_steps_turn_into_groups_and_back(by_coaching: Hands) -> None:
    blocks = by_coaching.place.blocks
    assert blocks.groups.isVisible()
    assert not blocks.ladder.isVisible()
    assert blocks.across.text().startswith("by coaching")
    study = by_coaching.place.session.study
    assert study.model.by == "coaching"
    assert by_coaching.sentence().startswith("In words: taken together, the coefficients ")
    assert "The zero points are those of all 221 cases" in by_coaching.sentence()
    assert unpacked(packed(study), "s").model.by == "coaching"
    by_coaching.press("Ctrl+B")
    assert blocks.ladder.isVisible()
    by_coaching.press("Ctrl+Z")
    assert blocks.groups.isVisible()


def test_a_cell_is_read_by_mouse_and_keys(by_coaching: Hands) -> None:
    sheet = by_coaching.place.blocks.groups
    rows = sheet.rows()
    practice = next(r for r in rows if sheet.row_name(r) == "practice")
    by_coaching.clicks(sheet.viewport(), QPoint(sheet._left(3) + 40, HEAD + ROW * rows.index(practice) + 20))
    view = by_coaching.place.session.view
    assert view is not None
    assert view.groups is not None
    group = view.groups.found.groups[3]
    assert group.fit is not None
    b = group.fit.last.b[practice + 1]
    assert "among the 46 cases of “one-to-one”: per further hour of practice" in by_coaching.sentence()
    assert f"{abs(b):.2f} points higher" in by_coaching.sentence()
    by_coaching.press("Right")
    assert by_coaching.place.session.desk.group_cell == (practice, None)
    assert "the coefficient of practice" in by_coaching.sentence().lower()
    by_coaching.press("Left")
    by_coaching.press("Down")
    assert by_coaching.place.session.desk.group_cell == (rows[rows.index(practice) + 1], 3)
    for _ in range(20):
        by_coaching.press("Down")
    assert by_coaching.place.session.desk.group_cell == (-2, 3)
    assert "R² =" in by_coaching.sentence()
    assert sheet.tip_at(QPoint(sheet._left(0) + 10, HEAD + 10)).startswith("Among the 64 cases of “none”")


def test_what_cannot_be_says_why(demo_hands: Hands) -> None:
    window = demo_hands.window
    demo_hands.press("Alt+3")
    window.place.session.look(variable="practice")
    window.place.session.edit("less", lambda s: set_blocks(s, list(s.model.blocks[:1])))
    demo_hands.press("Ctrl+B")
    assert "Choose a group variable" in window.place.session.message
    demo_hands.press("Ctrl+L")
    demo_hands.types("control = coaching")
    window.place.session.look(variable="coaching")
    demo_hands.press("Ctrl+B")
    assert "there is nothing to compare" in window.place.blocks.problem.text()
    assert window.place.blocks.problem.isVisible()


def test_results_and_report_say_the_same(by_coaching: Hands, tmp_path: Path) -> None:
    view = by_coaching.place.session.view
    assert view is not None
    assert view.groups is not None
    write_study(view.study, tmp_path / "s.yslope")
    assert cli.main(["evaluate", str(tmp_path / "s.yslope"), "--to", str(tmp_path / "r.json")]) == 0
    part = json.loads((tmp_path / "r.json").read_text())["models"][0]["by_group"]
    assert part["words"] == view.groups.headline()
    assert part["dropped"] == [["coaching"], ["practice", "coaching"]]
    for group, said in zip(view.groups.found.groups, part["groups"]):
        assert (said["level"], said["n"]) == (group.code, group.n)
        assert group.fit is not None
        np.testing.assert_allclose([c["b"] for c in said["coefficients"]], group.fit.last.b, rtol=1e-12)
    section = next(s for s in build_report(view.evaluation).sections if s.title.startswith("One model per group"))
    assert str(section.paragraphs[0]) == view.groups.headline()
    table, further = section.tables
    assert [len(t.rows) for t in section.tables] == [len(view.groups.inner_columns) + 1] * 2
    assert len(table.head) + len(further.head) == 2 + 2 * 4 + 2
    assert "zero points are those of all 221 cases" in table.note


def test_a_group_out_of_sight_is_scrolled_to(hands: Hands, tmp_path: Path) -> None:
    rng = np.random.default_rng(2)
    rows = "".join(f"{i % 20},{rng.normal():.3f},{rng.normal():.3f}\n" for i in range(200))
    (tmp_path / "t.csv").write_text(f"place,x,y\n{rows}")
    hands.types(str(tmp_path / "t.csv"))
    window = hands.window
    window.place.session.edit("groups", lambda s: set_kind(s, "place", Kind.GROUP))
    hands.press("Ctrl+L")
    hands.types("y = x")
    window.place.session.edit("by", lambda s: set_by(s, "place"))
    hands.settle()
    sheet = window.place.blocks.groups
    assert hands.focus() is sheet
    bar = sheet.horizontalScrollBar()
    assert bar is not None
    assert bar.maximum() > 0
    for _ in range(13):
        hands.press("Right")
    assert window.place.session.desk.group_cell == (0, 12)
    names, each = sheet._widths()
    assert names <= sheet._left(12) <= sheet._left(12) + each <= sheet.viewport().width()
    for _ in range(20):
        hands.press("Left")
    assert bar.value() == 0


def test_groups_of_every_awkward_sort_are_drawn(hands: Hands, tmp_path: Path) -> None:
    """A perfect fit, a predictor that is the same for all, one case, the same outcome for all, values far from zero."""
    rows = ["g,x,w,y"]
    rows += [f"perfect,{i},{i * i % 7},{2 * i + 3 * (i * i % 7)}" for i in range(9)]
    rows += [f"flat,5,{i},{(i * 37) % 11}" for i in range(9)]
    rows += [f"far,{1e6 + i},{i * 3 % 5},{(i * 53) % 17}" for i in range(9)]
    rows += [f"same,{i},{i * 2 % 3},4" for i in range(6)] + ["one,1,2,3"]
    (tmp_path / "t.csv").write_text("\n".join(rows) + "\n")
    hands.types(str(tmp_path / "t.csv"))
    hands.press("Ctrl+L")
    hands.types("y = x, w")
    hands.press("Ctrl+B")
    window = hands.window
    view = window.place.session.view
    assert view is not None
    assert view.groups is not None
    said = {view.groups.level_label(g): g.said for g in view.groups.found.groups}
    assert (said["one"], said["same"], said["flat"]) == ("too few cases", "outcome the same for all", "")
    sheet = window.place.blocks.groups
    assert not sheet.grab().isNull()
    for row in sheet.rows():
        for group in [*range(len(view.groups.found.groups)), None]:
            window.place.session.look(group_cell=(row, group))
            assert hands.sentence()
            assert "nan" not in hands.sentence()
    build_report(view.evaluation)
    results_document(view.evaluation)
