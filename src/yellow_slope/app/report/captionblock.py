"""What stands below a figure: its number, what it is called, its note, and what is said to those who do not see it;
each can be written otherwise, and what is live in a note stays live."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPlainTextEdit, QPushButton, QVBoxLayout, QWidget

from yellow_slope.app.state.figured import Figured
from yellow_slope.app.widgets.field import Field
from yellow_slope.app.widgets.theme import font
from yellow_slope.core.words.sentences.figures import (
    alternative,
    caption,
    caption_pieces,
    figure_title,
    kept_live,
    live_values,
)
from yellow_slope.values import replace


class _Written(QPlainTextEdit):
    """Ctrl+Enter takes what is written, Esc leaves it."""

    taken = pyqtSignal()
    left = pyqtSignal()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        enter = event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter)
        if enter and event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.taken.emit()
        elif event.key() == Qt.Key.Key_Escape:
            self.left.emit()
        else:
            super().keyPressEvent(event)


class CaptionBlock(QWidget):
    """Number, title, note and remarks."""

    tuned = pyqtSignal(str, object)
    begun = pyqtSignal()
    """Somebody begins to write."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._found: Figured | None = None
        self._writes_alternative = False
        self.number = QLabel()
        self.number.setFont(font(14, "bold"))
        self.heading = Field()
        self.heading.setAccessibleName("Title of the figure")
        self.heading.setToolTip("The title in the report; empty means the program's own title")
        self.heading.setFont(font(14, italic=True))
        self.heading.editingFinished.connect(self._take_heading)
        self.note = QLabel()
        self.note.setAccessibleName("Note below the figure")
        self.note.setWordWrap(True)
        self.note.setTextFormat(Qt.TextFormat.PlainText)
        self.note.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        self.written = _Written()
        self.written.setFixedHeight(104)
        self.written.setTabChangesFocus(True)
        self.written.taken.connect(self._take)
        self.written.left.connect(self._leave)
        self.change = self._link("Change the note", "Rewrite the note; its numbers stay live")
        self.change.clicked.connect(lambda _=False: self._begin(False))
        self.blind = self._link("Text description", "Description for readers who cannot see the figure")
        self.blind.clicked.connect(lambda _=False: self._begin(True))
        self.take = self._link("Take", "Use this text (Ctrl+Enter)")
        self.take.clicked.connect(lambda _=False: self._take())
        self.leave = self._link("Cancel", "Keep the earlier text (Esc)")
        self.leave.clicked.connect(lambda _=False: self._leave())
        self.usual = self._link("The program's words", "Return to the program's text")
        self.usual.clicked.connect(lambda _=False: self._usual())
        self.print_remark = QLabel()
        self.print_remark.setObjectName("small")
        self.print_remark.setAccessibleName("Whether it can be printed at this size")
        self.remarks = QLabel()
        self.remarks.setObjectName("amber")
        self.remarks.setWordWrap(True)
        self.remarks.setTextFormat(Qt.TextFormat.PlainText)
        self.remarks.setAccessibleName("Remarks on this figure")
        self.known = self._link("Noted", "Hide this remark")
        self.known.clicked.connect(lambda _=False: self._forget_lost())
        first = QHBoxLayout()
        first.addWidget(self.number)
        first.addWidget(self.heading, 1)
        links = QHBoxLayout()
        links.setSpacing(0)
        for link in (self.change, self.blind, self.take, self.leave, self.usual):
            links.addWidget(link)
        links.addStretch(1)
        links.addWidget(self.print_remark)
        said = QHBoxLayout()
        said.addWidget(self.remarks, 1)
        said.addWidget(self.known)
        column = QVBoxLayout(self)
        column.setContentsMargins(2, 2, 2, 4)
        column.setSpacing(3)
        column.addLayout(first)
        column.addWidget(self.note)
        column.addWidget(self.written)
        column.addLayout(links)
        column.addLayout(said)
        self._show_writing(False)

    def _link(self, text: str, help: str) -> QPushButton:
        button = QPushButton(text)
        button.setObjectName("link")
        button.setAccessibleName(text)
        button.setToolTip(help)
        return button

    @property
    def is_writing(self) -> bool:
        """Whether somebody writes at the moment."""
        return not self.written.isHidden()

    def show_figure(self, found: Figured | None, number: int) -> None:
        """Show what is said of a figure."""
        other = found is None or self._found is None or found.figure.name != self._found.figure.name
        self._found = found
        self.setVisible(found is not None)
        if found is None:
            return
        self.number.setText(f"Figure {number}")
        subject, figure = found.subject, found.figure
        if not self.heading.hasFocus() or other:
            self.heading.setText(figure_title(figure, subject) if subject is not None else figure.heading or "")
        self.note.setText(f"Note. {caption(figure, subject)}" if subject is not None else "")
        self.print_remark.setText(found.print_remark)
        self.print_remark.setObjectName("small" if found.is_fit_for_print else "amber")
        style = self.print_remark.style()
        if style is not None:
            style.polish(self.print_remark)
        remarks = list(found.remarks)
        if found.codes:
            remarks.append("Codes stand for groups: click on one and type its name (Ctrl+Enter: everywhere).")
        self.remarks.setText(" ".join(remarks))
        self.remarks.setVisible(bool(remarks))
        self.known.setVisible(bool(figure.lost))
        if other:
            self._show_writing(False)

    # ---- writing

    def _begin(self, is_alternative: bool) -> None:
        found = self._found
        if found is None or found.subject is None:
            return
        self._writes_alternative = is_alternative
        say = alternative if is_alternative else caption
        self.written.setPlainText(say(found.figure, found.subject))
        name = "Description for readers who cannot see the figure" if is_alternative else "Note below the figure"
        self.written.setAccessibleName(name)
        self.written.setToolTip(f"{name}: Ctrl+Enter accepts it, Esc cancels")
        self._show_writing(True)
        self.written.setFocus()
        self.begun.emit()

    def _show_writing(self, on: bool) -> None:
        self.written.setVisible(on)
        self.note.setVisible(not on)
        for link in (self.take, self.leave, self.usual):
            link.setVisible(on)
        for link in (self.change, self.blind):
            link.setVisible(not on)

    def _take(self) -> None:
        found = self._found
        if found is None or found.subject is None:
            return
        text, figure = self.written.toPlainText().strip(), found.figure
        if self._writes_alternative:
            new = None if text == alternative(replace(figure, alternative=None), found.subject) else text or None
            self._finish("description of the figure", alternative=new)
            return
        values = live_values(figure, found.subject)
        pieces = kept_live(text, caption_pieces(figure, found.subject), values)
        if text == caption(figure, found.subject):
            pieces = figure.caption
        self._finish("note of the figure", caption=pieces)

    def _usual(self) -> None:
        if self._writes_alternative:
            self._finish("description of the figure", alternative=None)
        else:
            self._finish("note of the figure", caption=None)

    def _finish(self, what: str, **changes: object) -> None:
        found = self._found
        self._show_writing(False)
        if found is not None:
            self.tuned.emit(what, replace(found.figure, **changes))  # type: ignore[arg-type]

    def _leave(self) -> None:
        self._show_writing(False)
        self.change.setFocus()

    def _take_heading(self) -> None:
        found = self._found
        if found is None or found.subject is None:
            return
        said = self.heading.text().strip()
        usual = figure_title(replace(found.figure, heading=None), found.subject)
        heading = None if said in ("", usual) else said
        if heading != found.figure.heading:
            self.tuned.emit("title of the figure", replace(found.figure, heading=heading))

    def _forget_lost(self) -> None:
        if self._found is not None:
            self.tuned.emit("remark on the figure", replace(self._found.figure, lost=()))
