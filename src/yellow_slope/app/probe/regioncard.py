"""The card beside the table: is it an interaction, and where does it hold."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QRect, QRectF, Qt
from PyQt6.QtGui import QFontMetrics, QPainter, QPaintEvent, QPen, QResizeEvent
from PyQt6.QtWidgets import QPushButton, QWidget

from yellow_slope.app.probe.curvature import Curvature
from yellow_slope.app.probe.tables import LEFT, RIGHT
from yellow_slope.app.state.asking import Asked
from yellow_slope.app.state.desk import Overlay
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.state.topics import Topic
from yellow_slope.app.state.worker import Worker
from yellow_slope.app.widgets import theme
from yellow_slope.app.widgets.following import Follows
from yellow_slope.app.widgets.notes import MoreNotes
from yellow_slope.app.widgets.theme import colour, font
from yellow_slope.core.fit.design.bases import NumberBasis
from yellow_slope.core.told.regions import told_regions
from yellow_slope.core.words.sentences.effects import EffectReader
from yellow_slope.core.words.sentences.probecard import card_notes
from yellow_slope.looks import SIZES
from yellow_slope.values import dataclass

TIGHT_CARD = 350
"""Below this width the card uses its shortest words."""
LINK = 20
"""Height of the link to notes that have no room."""


@dataclass(frozen=True, slots=True)
class RegionLine:
    """A region in the card: its bounds, what it says, and the cases that live there; each with a shorter form."""

    bounds: str
    words: str
    cases: str
    is_told: bool
    """Whether the effect is told apart from 0 in it."""
    short_bounds: str
    short_cases: str

    @property
    def text(self) -> str:
        """All of it."""
        return f"{self.bounds} {self.words} {self.cases}"


class RegionCard(Follows, QWidget):
    """Regions with their words and cases; for a group moderator the joint test."""

    def __init__(
        self, session: StudySession, worker: Worker, laid: Callable[[], str], parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self.session, self._laid = session, laid
        self._curvature: Asked[str] = Asked(worker, lambda _: self.take_new(), session.say)
        self.moves = {
            Overlay.LEFT_OUT: self._link(
                "any one case", "How boundaries and crossing point move when any one case is left out"
            ),
            Overlay.RESAMPLED: self._link("resamples", "How boundaries and crossing point move over 1,000 resamples"),
        }
        for overlay, button in self.moves.items():
            button.clicked.connect(lambda _=False, o=overlay: self._toggle(o))
        self.more = MoreNotes(self.notes, self)
        self._link_edge = 0
        """Where the links at the right of the title begin."""
        self.setAccessibleName("Region of significance")
        self.setToolTip("Where along the moderator the effect is significant, and how many cases lie there")
        self._seen: object = None
        self._lines: list[RegionLine] = []
        self._notes: list[str] = []
        self.follow(session, Topic.RESULTS, Topic.SEEN, Topic.THEME)

    def lines(self) -> list[RegionLine]:
        """A line for each region within the observed range."""
        sight, read = self.session.sight(), self._reader()
        if sight is None or read is None or sight.focus.regions is None:
            return []
        slope, found = isinstance(sight.probed.focal, NumberBasis), list[RegionLine]()
        for told in told_regions(sight, read):
            share = told.share.text if slope else told.cases.text
            cases, briefly = f"{told.n:,} cases ({share})", f"{told.n:,} ({share})"
            found.append(RegionLine(told.where.text, told.effect.text, cases, told.sign != 0, told.briefly, briefly))
        return found

    def _link(self, text: str, help: str) -> QPushButton:
        button = QPushButton(text, self)
        button.setObjectName("link")
        button.setAccessibleName(help)
        button.setToolTip(help)
        button.setFixedHeight(SIZES.row - 2)
        return button

    def _toggle(self, overlay: Overlay) -> None:
        """Lay it over the effect, or no longer."""
        shown = self.session.desk.overlay
        self.session.look(overlay=Overlay.NOTHING if shown is overlay else overlay)

    def _place_links(self) -> None:
        """The links at the right of the title, where something could move."""
        sight, right = self.session.sight(), self.width()
        there = sight is not None and sight.focus.regions is not None and bool(sight.focus.regions.boundaries)
        for button in reversed(self.moves.values()):
            button.setVisible(there)
            button.move(right - button.sizeHint().width(), 0)
            button.resize(button.sizeHint().width(), SIZES.row - 2)
            right -= button.sizeHint().width() + 2
        self._link_edge = right if there else self.width()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._place_links()
        self._place_more()

    def _reader(self) -> EffectReader | None:
        """Puts the panel into words: regions and tests are its own, wherever the handle of a map stands."""
        read = self.session.effects()
        return None if read is None else EffectReader(read.study, read.probed, read.panel)

    def notes(self) -> list[str]:
        """The tests by their names, what the product explains, where the lines meet, boundaries outside the data."""
        sight, read = self.session.sight(), self._reader()
        if sight is None or read is None:
            return []
        said, laid = card_notes(read.study, sight, read), self._laid()
        bend = self._curvature.now or ""
        return [text for text in (*said, bend, laid) if text]

    def _ask(self) -> None:
        """Have it asked how the product stands beside squares, if that is new."""
        view, probed = self.session.view, self.session.probed()
        if view is None or probed is None or not self.isVisible():
            return
        self._curvature.ask(Curvature(view.study.modelled(), probed))

    def take_new(self) -> None:
        """What is said has changed."""
        self._seen = None
        self.renew()

    def cases(self) -> list[str]:
        """The cases of each region, of every group that is compared; empty for a slope."""
        sight, read = self.session.sight(), self._reader()
        if sight is None or read is None or sight.focus.regions is None or isinstance(sight.probed.focal, NumberBasis):
            return []
        return [f"{read.bounds(r.low, r.high)}: {read.near(r.cases)}" for r in sight.focus.regions.within]

    def renew(self) -> None:
        self._ask()
        self._place_links()
        probed, desk = self.session.probed(), self.session.desk
        key = (self.session.view, desk.seen.panel, desk.seen.focus, desk.dark, self._laid())
        if probed is None or key == self._seen:
            return
        self._seen = key
        self._lines, self._notes = self.lines(), self.notes()
        told = [*(line.text for line in self._lines), *self.cases(), *self._notes]
        self.setAccessibleDescription("; ".join(told))
        self.setToolTip("\n".join(told))
        self._place_more()
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter, p = QPainter(self), theme.palette()
        probed = self.session.probed()
        if probed is None:
            return
        width = self.width()
        painter.setFont(font(12, "bold"))
        painter.setPen(colour(p.ink))
        lines = self._lines
        titles = ("Regions of significance", "Regions") if lines else ("Tests of the interaction", "Tests")
        room = self._link_edge - 8
        fits = (text for text in titles if QFontMetrics(painter.font()).horizontalAdvance(text) <= room)
        title = next(fits, titles[-1])
        painter.drawText(QRectF(4, 0, width, SIZES.row), LEFT, title)
        painter.setPen(QPen(colour(p.soft_ink, 0.6), 1))
        painter.drawLine(0, SIZES.row - 1, width, SIZES.row - 1)
        top = SIZES.row + 2
        for line in lines:
            bounds = line.short_bounds if width < TIGHT_CARD else line.bounds
            words, cases = line.words, line.cases
            if line.is_told:
                painter.fillRect(QRectF(0, top + 2, 3, SIZES.row - 4), colour(p.yellow))
            painter.setPen(colour(p.ink))
            painter.setFont(font(12, "bold"))
            painter.drawText(QRectF(10, top, width, SIZES.row), LEFT, bounds)
            wide = max(112, QFontMetrics(font(12, "bold")).horizontalAdvance(bounds) + 20)
            painter.setFont(font(12))
            metrics = QFontMetrics(painter.font())
            if wide + metrics.horizontalAdvance(words) + metrics.horizontalAdvance(cases) + 10 > width:
                cases = line.short_cases
            room = int(width - wide - metrics.horizontalAdvance(cases) - 8)
            words = metrics.elidedText(words, Qt.TextElideMode.ElideRight, room)
            painter.drawText(QRectF(wide, top, width, SIZES.row), LEFT, words)
            painter.setPen(colour(p.soft_ink))
            painter.drawText(QRectF(0, top, width - 2, SIZES.row), RIGHT, cases)
            top += SIZES.row
        painter.setFont(font(12))
        painter.setPen(colour(p.soft_ink))
        for note, tall in self._fitting(top)[0]:
            painter.drawText(QRectF(4, top + 1, width - 6, tall), Qt.TextFlag.TextWordWrap, note)
            top += tall + 3

    def _fitting(self, top: float) -> tuple[list[tuple[str, int]], int]:
        """The notes that have room below, each with its height, and how many have none."""
        metrics, width = QFontMetrics(font(12)), self.width() - 6

        def height_of(text: str) -> int:
            return metrics.boundingRect(QRect(0, 0, width, 1000), Qt.TextFlag.TextWordWrap, text).height() + 3

        heights = [height_of(note) for note in self._notes]
        room = self.height() - top
        n = len(heights)
        while n and sum(heights[:n]) + (LINK if n < len(heights) else 0) > room:
            n -= 1
        return [(note, height - 3) for note, height in zip(self._notes[:n], heights)], len(heights) - n

    def _place_more(self) -> None:
        """The link to the notes that have no room, at the foot of the card; on the title's line where that is all."""
        top = SIZES.row * (1 + len(self._lines)) + 2
        _, left = self._fitting(top)
        self.more.say(left)
        size = self.more.sizeHint()
        low = self.height() - LINK
        at_title = low < top
        x, y = (self._link_edge - size.width(), 0) if at_title else (0, low)
        self.more.setGeometry(x, y, size.width(), LINK)
