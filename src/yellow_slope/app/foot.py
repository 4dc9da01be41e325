"""The foot: 84 pixels for the chosen number's story."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QFontMetrics, QResizeEvent
from PyQt6.QtWidgets import QHBoxLayout, QInputDialog, QLabel, QPushButton, QScrollArea, QVBoxLayout, QWidget

from yellow_slope.app.session import StudySession
from yellow_slope.app.stories import Link, Story, put_aside, story
from yellow_slope.app.theme import font
from yellow_slope.looks import SIZES


def begun(text: str) -> str:
    """A sentence as it goes on after “In words:”, its first word in lower case unless it is an abbreviation."""
    return text[:1].lower() + text[1:] if text[1:2].islower() or text[1:2] == " " else text


class Foot(QWidget):
    """Title, figures, the sentence In words, and what can be done."""

    def __init__(self, session: StudySession, more: Callable[[], list[Link]], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session, self._more = session, more
        self.setObjectName("panel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setFixedHeight(SIZES.foot)
        self.title = QLabel()
        self.title.setFont(font(13, "bold"))
        self.title.setAccessibleName("What is chosen")
        self.figures = QLabel()
        self.figures.setObjectName("figures")
        self.figures.setFont(font(12))
        self.figures.setAccessibleName("Its figures")
        self.sentence = QLabel()
        self.sentence.setFont(font(14))
        self.sentence.setWordWrap(True)
        self.sentence.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.sentence.setAccessibleName("In words")
        self.sentence.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setWidget(self.sentence)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setAccessibleName("In words")
        scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        scroll.viewport().setObjectName("panel")
        self.sentence.setObjectName("panel")
        self.links = QHBoxLayout()
        self.links.setSpacing(2)
        first = QHBoxLayout()
        first.addWidget(self.title)
        first.addStretch(1)
        first.addWidget(self.figures)
        last = QHBoxLayout()
        last.addWidget(scroll, 1)
        last.addSpacing(8)
        last.addLayout(self.links)
        last.setAlignment(self.links, Qt.AlignmentFlag.AlignBottom)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(16, 5, 14, 4)
        layout.setSpacing(1)
        layout.addLayout(first)
        layout.addLayout(last, 1)
        self._buttons: list[QPushButton] = []
        self.told = Story("")
        for topic in ("results", "desk", "study"):
            session.on(topic, self.renew)

    def renew(self) -> None:
        """Tell the story of what is chosen now."""
        if self.session.study is None:
            return
        told = story(self.session)
        self.told = told
        self._fit_title()
        self.figures.setText(told.figures)
        text = told.sentence
        is_flag = self.session.flag(self.session.desk.flag) is not None
        self.sentence.setText(f"In words: {begun(text)}" if text and not is_flag else text)
        self.sentence.setToolTip(text)
        links = list(told.links) if is_flag else [*told.links, *self._more()]
        if is_flag:
            links.append(
                Link(
                    "Put aside …", "Dismiss this flag with a reason; the reason goes into the report", self._ask_reason
                )
            )
        self._set_links(links)

    def _fit_title(self) -> None:
        room = max(120, self.width() - QFontMetrics(self.figures.font()).horizontalAdvance(self.told.figures) - 60)
        self.title.setText(
            QFontMetrics(self.title.font()).elidedText(self.told.title, Qt.TextElideMode.ElideRight, room)
        )
        self.title.setToolTip(self.told.title)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._fit_title()

    def _set_links(self, links: list[Link]) -> None:
        if [b.text() for b in self._buttons] != [link.text for link in links]:
            for button in self._buttons:
                self.links.removeWidget(button)
                button.hide()
                button.setParent(None)
                button.deleteLater()
            self._buttons = []
            for link in links:
                button = QPushButton(link.text)
                button.setObjectName("link")
                button.setCursor(Qt.CursorShape.PointingHandCursor)
                self.links.addWidget(button)
                self._buttons.append(button)
        for button, link in zip(self._buttons, links):
            if button.receivers(button.clicked):
                button.clicked.disconnect()
            button.clicked.connect(lambda _=False, run=link.run: run())
            button.setToolTip(link.help)
            button.setAccessibleName(link.text)

    def _ask_reason(self) -> None:
        key = self.session.desk.flag
        if key is None:
            return
        reason, ok = QInputDialog.getText(self, "Put aside", "Why may this stand? The reason goes into the report.")
        if ok and reason.strip():
            put_aside(self.session, key, reason.strip())
