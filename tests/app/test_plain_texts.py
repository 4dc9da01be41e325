"""Names of files, columns, levels and cells are text, wherever they stand: nothing of them is read as markup."""

from __future__ import annotations

from pathlib import Path

import pytest
from PyQt6.QtCore import QEvent, QPoint, Qt
from PyQt6.QtGui import QHelpEvent
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QApplication,
    QHeaderView,
    QInputDialog,
    QLabel,
    QMessageBox,
    QToolTip,
    QWidget,
)

from tests.support.windowdriver import Hands
from tests.support.worlds import noise_world, study_of
from yellow_slope.app.state.desk import CardView, Waypoint
from yellow_slope.app.widgets.plaintext import plain, tip_of
from yellow_slope.core.study.edits.descriptions import describe
from yellow_slope.core.study.edits.levels import name_levels
from yellow_slope.core.study.edits.models import rename_study
from yellow_slope.core.study.study import Study

EVIL = "<img src='/dev/zero'>"


def evil_study() -> Study:
    """Names, levels, units and the study's own name that look like markup."""
    study = study_of(noise_world(90), "y", "x, g; x*g, d")
    for name in ("x", "w", "y", "g", "d"):
        study = describe(study, name, label=f"{EVIL}{name}", unit="<b>unit</b>")
    study = name_levels(study, "g", [f"{EVIL}1", f"{EVIL}2", "<a href='x'>3</a>"])
    return rename_study(study, f"{EVIL}study")


def tips(widget: QWidget) -> list[str]:
    """What the pointer finds at some places of a widget."""
    found = []
    for x, y in ((5, 5), (widget.width() // 2, widget.height() // 2), (widget.width() - 6, widget.height() - 6)):
        at = QPoint(max(0, x), max(0, y))
        QToolTip.hideText()
        event = QHelpEvent(QEvent.Type.ToolTip, at, widget.mapToGlobal(at))
        QApplication.sendEvent(widget, event)
        found.append(QToolTip.text())
        found.append(plain(tip_of(widget, at)))
    return found


def is_interpreted(text: str) -> bool:
    """Whether markup of a name would be read."""
    return "<img" in text or "<b>" in text or "<a " in text


@pytest.mark.parametrize("waypoint", list(Waypoint))
def test_no_label_and_no_tooltip_reads_a_name_as_markup(hands: Hands, waypoint: Waypoint) -> None:
    hands.place.session.open(evil_study())
    hands.settle()
    hands.place.go(waypoint)
    hands.settle()
    for variable in ("x", "g"):
        hands.place.session.look(variable=variable, card=CardView.COMPARISONS)
        hands.settle()
        hands.place.session.say(f"Saved: {EVIL}")
        hands.app.processEvents()
        named = 0
        for widget in hands.window.findChildren(QWidget):
            if not widget.isVisible():
                continue
            if isinstance(widget, QLabel):
                named += "<" in widget.text()
                assert widget.textFormat() is Qt.TextFormat.PlainText, (waypoint, widget.text())
            assert not any(is_interpreted(text) for text in tips(widget)), (waypoint, type(widget), tips(widget))
        assert named, "names stand somewhere"


def test_heads_and_cells_of_the_table_are_text(hands: Hands) -> None:
    hands.place.session.open(evil_study())
    hands.settle()
    hands.place.go(Waypoint.DATA)
    hands.settle()
    seen = []
    for view in hands.window.findChildren(QAbstractItemView):
        viewport = view.viewport()
        if viewport is None or not view.isVisible():
            continue
        for x in range(10, min(900, viewport.width()), 60):
            seen += tips_at(viewport, QPoint(x, 10)) if isinstance(view, QHeaderView) else []
    assert any("&lt;img" in text for text in seen), "the heads tell the names"
    assert not any(is_interpreted(text) for text in seen)


def tips_at(widget: QWidget, at: QPoint) -> list[str]:
    QApplication.sendEvent(widget, QHelpEvent(QEvent.Type.ToolTip, at, widget.mapToGlobal(at)))
    return [QToolTip.text()]


def test_questions_of_dialogs_are_text(hands: Hands) -> None:
    made = QInputDialog(hands.window)
    made.setLabelText(f"Which value of {EVIL}?")
    box = QMessageBox(hands.window)
    box.setText(EVIL)
    for dialog in (made, box):
        dialog.show()
        hands.app.processEvents()
        for label in dialog.findChildren(QLabel):
            if "<" in label.text():
                assert label.textFormat() is Qt.TextFormat.PlainText
        dialog.close()
        dialog.deleteLater()


def test_a_file_of_a_strange_name_is_text(hands: Hands, tmp_path: Path) -> None:
    path = tmp_path / "<b>bold<b>.csv"
    path.write_text("x,<i>y</i>\n" + "\n".join(f"{i},{i * i % 7}" for i in range(30)))
    hands.place.fileactions.open_path(str(path))
    hands.settle()
    for label in hands.window.findChildren(QLabel):
        if label.isVisible():
            assert label.textFormat() is Qt.TextFormat.PlainText, label.text()
