"""The foot: 84 pixels or, for a long text, up to a third of the bench, that explain the chosen number."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QFontMetrics, QMouseEvent, QResizeEvent
from PyQt6.QtWidgets import (
    QApplication,
    QBoxLayout,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from yellow_slope.app.explanations.explanation import explanation
from yellow_slope.app.explanations.flags import put_aside
from yellow_slope.app.explanations.link import Explanation, Link
from yellow_slope.app.state.lanes import Lane
from yellow_slope.app.state.requests import Request
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.state.topics import Topic
from yellow_slope.app.state.worker import Worker
from yellow_slope.app.widgets.dialogs import Dialogs
from yellow_slope.app.widgets.theme import font
from yellow_slope.core.words.spelling.letters import continued
from yellow_slope.looks import SIZES

MOST_BESIDE = 0.35
"""Of the width; links that take more stand below the text."""


class Figures(QLabel):
    """Figures that lead somewhere when they are clicked."""

    clicked = pyqtSignal()

    def set_leading(self, leads: bool) -> None:
        """Whether a click leads anywhere now."""
        self.setToolTip("A click leads to where the report says them (Ctrl+Shift+H)" if leads else "Its figures")
        self.setCursor(Qt.CursorShape.PointingHandCursor if leads else Qt.CursorShape.ArrowCursor)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """A click, not the end of a drag from elsewhere."""
        super().mouseReleaseEvent(event)
        if event is not None and self.rect().contains(event.position().toPoint()):
            self.clicked.emit()


LOW = 660
"""Points of the bench below which the foot takes less of it."""


class Foot(QWidget):
    """Title, figures, the sentence In words, and what can be done."""

    def __init__(
        self,
        session: StudySession,
        worker: Worker,
        dialogs: Dialogs,
        more: Callable[[], list[Link]],
        leads: Callable[[], bool],
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self.session, self._worker, self._dialogs = session, worker, dialogs
        self._more, self._leads = more, leads
        self.setObjectName("panel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setFixedHeight(SIZES.foot)
        self._make_labels()
        self._lay_out()
        self._buttons: list[QPushButton] = []
        self._links: list[Link] = []
        self.told = Explanation("")
        self._grown_for: object = None
        session.on(
            self.renew,
            Topic.RESULTS,
            Topic.COMPUTED,
            Topic.WAYPOINT,
            Topic.CHOICE,
            Topic.ROW,
            Topic.LADDER,
            Topic.CARD,
            Topic.CHECK,
            Topic.FLAG,
            Topic.SEEN,
            Topic.FIGURE,
        )

    def _make_labels(self) -> None:
        self.title = QLabel()
        self.title.setFont(font(13, "bold"))
        self.title.setAccessibleName("What is chosen")
        self.figures = Figures()
        self.figures.setObjectName("figures")
        self.figures.setFont(font(12))
        self.figures.setAccessibleName("Its figures")
        self.sentence = QLabel()
        self.sentence.setFont(font(14))
        self.sentence.setWordWrap(True)
        self.sentence.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.sentence.setAccessibleName("In words")
        for label in (self.title, self.figures, self.sentence):
            label.setTextFormat(Qt.TextFormat.PlainText)
        self.more = QLabel()
        self.more.setFont(font(13))
        self.more.setObjectName("softpanel")
        self.more.setWordWrap(True)
        self.more.setTextFormat(Qt.TextFormat.PlainText)
        self.more.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.more.setAccessibleName("More about it")
        for label in (self.sentence, self.more):
            label.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)

    def _lay_out(self) -> None:
        """Title and figures above; below them what is said, and the links."""
        said = QWidget()
        said.setObjectName("panel")
        both = QVBoxLayout(said)
        both.setContentsMargins(0, 0, 0, 0)
        both.setSpacing(1)
        both.addWidget(self.sentence)
        both.addWidget(self.more)
        both.addStretch(1)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setWidget(said)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setAccessibleName("In words")
        scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        ground = scroll.viewport()
        if ground is not None:
            ground.setObjectName("panel")
        self.sentence.setObjectName("panel")
        self.links = QHBoxLayout()
        self.links.setSpacing(2)
        self.links.setContentsMargins(8, 0, 0, 0)
        first = QHBoxLayout()
        first.addWidget(self.title)
        first.addStretch(1)
        first.addWidget(self.figures)
        self.said_and_links = QHBoxLayout()
        self.said_and_links.setSpacing(0)
        self.said_and_links.addWidget(scroll, 1)
        self.said_and_links.addLayout(self.links)
        self.said_and_links.setAlignment(self.links, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignBottom)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(16, 5, 14, 4)
        layout.setSpacing(1)
        layout.addLayout(first)
        layout.addLayout(self.said_and_links, 1)

    def renew(self) -> None:
        """Explain what is chosen now."""
        told = explanation(self.session)
        self.told = told
        self._fit_title()
        self.figures.setText(told.figures)
        self.figures.set_leading(self._leads())
        text = told.text
        flag = self.session.flag(self.session.desk.flag)
        self.sentence.setText(f"In words: {continued(text)}" if text and told.in_words else text)
        self.more.setText(told.more)
        self.more.setVisible(bool(told.more))
        links = list(told.links) if flag is not None else [*told.links, *self._more()]
        if flag is not None:
            links.append(
                Link("Dismiss …", "Dismiss this flag with a reason; the reason goes into the report", self._ask_reason)
            )
            if not flag.is_told:
                self._worker.newest(Lane.FLAG, lambda job: flag.cost, lambda _: self.renew(), self.session.say)
        self._set_links(links)
        self._grow()

    def whole_text(self) -> str:
        """All that the foot says, as it is copied."""
        return " ".join(x for x in (self.told.title + ".", self.told.figures, self.told.text, self.told.more) if x)

    def _grow(self) -> None:
        """As tall as its text needs, up to a third of the bench, in a low window a fifth; whole lines. What has no
        room is scrolled.

        Many links stand below the text: beside it they would leave it half the width.
        """
        links = sum(button.sizeHint().width() + 2 for button in self._buttons)
        is_below = links > MOST_BESIDE * self.width()
        way = QBoxLayout.Direction.TopToBottom if is_below else QBoxLayout.Direction.LeftToRight
        if self.said_and_links.direction() != way:
            self.said_and_links.setDirection(way)
        room = max(200, self.width() - 60 - (0 if is_below else links))
        metrics = QFontMetrics(self.sentence.font())
        wrapped = int(Qt.TextFlag.TextWordWrap)
        needed = metrics.boundingRect(0, 0, room, 4000, wrapped, self.sentence.text()).height()
        if self.told.more:
            needed += (
                1 + QFontMetrics(self.more.font()).boundingRect(0, 0, room, 4000, wrapped, self.told.more).height()
            )
        if is_below:
            needed += max(button.sizeHint().height() for button in self._buttons)
        parent = self.parentWidget()
        room_above = parent.height() - SIZES.header - SIZES.status if parent is not None else 0
        most = max(SIZES.foot, room_above // (5 if room_above < LOW else 3))
        line = metrics.lineSpacing()
        extra = max(0, needed - (3 if is_below else 2) * line)  # a foot has room for three, the last beside links
        lines = -(-extra // line)
        room_for = max(0, (most - SIZES.foot) // line)
        height = SIZES.foot + min(lines, room_for) * line
        key = (self.session.view, self.session.desk.waypoint, self.session.desk.flag, self.width(), most)
        if self._grown_for == key:  # while a handle is moved the plots above do not jump
            height = max(height, self.height())
        self._grown_for = key
        if height != self.height():
            self.setFixedHeight(height)

    def _fit_title(self) -> None:
        room = max(120, self.width() - QFontMetrics(self.figures.font()).horizontalAdvance(self.told.figures) - 60)
        self.title.setText(
            QFontMetrics(self.title.font()).elidedText(self.told.title, Qt.TextElideMode.ElideRight, room)
        )
        self.title.setToolTip(self.told.title)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._fit_title()
        self._grow()

    def _set_links(self, links: list[Link]) -> None:
        if [b.text() for b in self._buttons] != [link.text for link in links]:
            for button in self._buttons:
                self.links.removeWidget(button)
                button.hide()
                button.setParent(None)
                button.deleteLater()
            self._buttons = []
            for i, link in enumerate(links):
                button = QPushButton(link.text)
                button.clicked.connect(partial(self._run, i))
                button.setObjectName("link")
                button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
                button.setCursor(Qt.CursorShape.PointingHandCursor)
                self.links.addWidget(button)
                self._buttons.append(button)
        self._links = links
        for button, link in zip(self._buttons, links):
            if button.toolTip() != link.help:
                button.setToolTip(link.help)
            button.setAccessibleName(link.text)

    def _run(self, index: int, _checked: bool = False) -> None:
        """Do it; the keyboard stays where it was, or returns to the bench where a link had it."""
        focused = QApplication.focusWidget()
        had_keyboard = focused in self._buttons
        self._links[index].run()
        if had_keyboard:
            self.session.ask(Request.FOCUS_BENCH)

    def _ask_reason(self) -> None:
        key = self.session.desk.flag
        if key is None:
            return
        why = self._dialogs.text("Dismiss", "Why is this acceptable? The reason goes into the report.")
        if why is not None and why.strip():
            put_aside(self.session, key, why.strip())
