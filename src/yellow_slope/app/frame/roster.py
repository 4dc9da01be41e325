"""The roster: every variable with its kind, distribution, role and treatment, present at every waypoint."""

from __future__ import annotations

from PyQt6.QtCore import QPoint, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QContextMenuEvent, QFont, QFontMetrics, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from yellow_slope.app.figures.drawn import screen_look
from yellow_slope.app.figures.painter import paint
from yellow_slope.app.state.carrying import Carry
from yellow_slope.app.state.desk import Waypoint
from yellow_slope.app.state.lanes import Lane
from yellow_slope.app.state.requests import Request
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.state.topics import Topic
from yellow_slope.app.state.worker import Job, Worker
from yellow_slope.app.verbs.actions import Scope, action
from yellow_slope.app.widgets import theme
from yellow_slope.app.widgets.kindmarks import paint_mark
from yellow_slope.app.widgets.paintedrows import PaintedRows
from yellow_slope.app.widgets.theme import colour, font
from yellow_slope.core.data.table import Table
from yellow_slope.core.data.variable import Kind, Variable
from yellow_slope.core.fit.asked.histograms import Bars, bars_of, level_bars
from yellow_slope.core.fit.asked.summaries import codes_apart, without_codes
from yellow_slope.core.fit.design.bases import Basis
from yellow_slope.core.study.figures import Pane
from yellow_slope.core.study.flagkeys import FlagKey
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term, variables_of
from yellow_slope.core.words.names.study import treated_as
from yellow_slope.core.words.sentences.columns import drawn_without
from yellow_slope.core.words.spelling.shortening import told_apart
from yellow_slope.plots.distribution import distribution
from yellow_slope.plots.marks import Box, Frame, Page

ROW = 44
SHARED = 4
"""A flag of so many variables has one pennant, with their number."""
BINS = 12
MOST_BARS = 24
MOST_TOLD_APART = 400
"""Of a longer list names are shortened one by one."""
MARK = 30
"""Width of the mark of the kind; at Data a click on it leads to the names of the levels."""


def bars_in(study: Study, variable: Variable) -> Bars | None:
    """The variable's tiny distribution; None for texts, constants, and where there is no value."""
    if variable.kind is Kind.GROUP:
        return level_bars(study.columns.levels(variable.name), min(len(variable.levels), MOST_BARS))
    if variable.kind is not Kind.NUMBER:
        return None
    values = without_codes(study.columns.numbers(variable.name), codes_apart(study, variable.name))
    bars = bars_of(values, BINS)
    return bars if bars is not None and bars.counts.size > 1 else None


MOST_PAGES = 2000
MOST_AT_ONCE = 20_000
"""Rows whose distribution is counted while a row is painted."""


class Roster(PaintedRows):
    """The list of variables; names can be carried to the ladder."""

    carried = pyqtSignal(object, QPoint, Carry)
    menu_wanted = pyqtSignal(QPoint)
    flag_chosen = pyqtSignal(object)

    def __init__(self, session: StudySession, worker: Worker, parent: QWidget | None = None) -> None:
        super().__init__("Roster: the variables", ROW, parent=parent)
        self.session, self._worker = session, worker
        self.wanted = ""
        self.folded = False
        self._bars: dict[tuple[object, ...], Bars | None] = {}
        self._pages: dict[tuple[object, ...], Page] = {}
        """Distributions as they are laid out in a row."""
        self._awaited: dict[tuple[object, ...], Variable] = {}
        """Distributions of large tables that are being counted."""
        self._table: Table | None = None
        self._pressed: tuple[str, QPoint] | None = None
        self._carrying = False
        self._named_for: object = None
        self._edges: dict[str, str] = {}
        self._pennants: dict[str, int] = {}
        """What is flagged: how many variables the pennant there speaks of; 0 for one whose pennant stands above."""
        self._names: dict[str, str] = {}
        self._drawn: tuple[object, dict[int, tuple[object, ...]]] = (None, {})
        """What the whole list rests on, and what each row in sight does, as they were drawn last."""
        session.on(self._renew, Topic.STUDY, Topic.RESULTS, Topic.CHOICE)
        session.on(self.fit_scroll, Topic.THEME)

    def _renew(self) -> None:
        """Have those rows drawn anew that say something else than before."""
        study = self.session.study
        self._edges, self._pennants = self._edges_now(), self._pennants_now()
        whole = (study.table, study.variables, study.derived, self.wanted)
        shown, height = self.shown(), self.viewport().height()
        in_sight = (i for i in range(len(shown)) if -ROW < self.row_top(i) < height)
        before, rows = self._drawn, {i: self._rests_on(study, shown[i]) for i in in_sight}
        self._drawn = (whole, rows)
        if before[0] != whole:
            self.fit_scroll()
            return
        width = self.viewport().width()
        for i, now in rows.items():
            if before[1].get(i) != now:
                self.viewport().update(0, self.row_top(i), width, ROW)

    def _rests_on(self, study: Study, variable: Variable) -> tuple[object, ...]:
        """All that a row shows beside the variable itself."""
        desk, name = self.session.desk, variable.name
        return (
            self._edges.get(name),
            desk.variable == name,
            Term((name,)) in desk.chosen,
            self._treated(variable),
            self._pennants.get(name),
        )

    def whole_height(self) -> int:
        """Height of all rows together."""
        return len(self.shown()) * ROW

    def search(self, text: str) -> None:
        """Show only variables whose name or label holds the text."""
        self.wanted = text.casefold().strip()
        self.fit_scroll()

    def shown(self) -> list[Variable]:
        """The variables in the list."""
        study = self.session.study
        return [v for v in study.variables if self.wanted in v.label.casefold() or self.wanted in v.name.casefold()]

    def row_rect(self, name: str) -> QRectF | None:
        """Where a variable's row stands in the viewport."""
        for i, variable in enumerate(self.shown()):
            if variable.name == name:
                return QRectF(0, self.row_top(i), self.viewport().width(), ROW)
        return None

    # ---- painting

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self.viewport())
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        p = theme.palette()
        painter.fillRect(self.viewport().rect(), colour(p.paper))
        shown = self.shown()
        self._edges, self._pennants = self._edges_now(), self._pennants_now()
        area = event.rect() if event is not None else self.viewport().rect()
        for i, variable in enumerate(shown):
            top = self.row_top(i)
            if area.top() - ROW < top <= area.bottom():
                self._paint_variable(painter, variable, top)
        if not shown:
            painter.setFont(font(12))
            painter.setPen(colour(p.soft_ink))
            below = QRectF(14, 8, self.viewport().width() - 24, 40)
            painter.drawText(
                below, int(Qt.TextFlag.TextWordWrap), "No variable of that name. Enter runs the first command found."
            )
        if self.hasFocus():
            current = self.row_rect(self.session.desk.variable or "")
            painter.setPen(QPen(colour(p.yellow), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect((current or QRectF(self.viewport().rect())).adjusted(5, 1, -2, -1))

    def _edges_now(self) -> dict[str, str]:
        """The colours at the edge of what has a part in the model."""
        p, study = theme.palette(), self.session.study
        found = dict.fromkeys(variables_of(study.model.terms), p.line)
        probe = self.session.current_probe()
        if probe is not None:
            found |= {probe.moderator: p.groups[1], probe.focal: p.groups[0]}
        if study.model.outcome is not None:
            found[study.model.outcome] = p.ink
        return found

    def _pennants_now(self) -> dict[str, int]:
        """A pennant at each variable that is flagged; one flag of many variables has one, at the first of them."""
        view = self.session.view
        if view is None:
            return {}
        order = {v.name: i for i, v in enumerate(self.shown())}
        found: dict[str, int] = {}
        for flag in view.flags:
            here = sorted({name for name in (flag.variable, *flag.also) if name in order}, key=lambda name: order[name])
            shared = len(here) >= SHARED
            for i, name in enumerate(here):
                said = len(here) if shared and i == 0 else 0 if shared else 1
                found[name] = max(found.get(name, 0), said)
        return found

    def _paint_variable(self, painter: QPainter, variable: Variable, top: int) -> None:
        p, desk, width = theme.palette(), self.session.desk, self.viewport().width()
        term = Term((variable.name,))
        if desk.variable == variable.name:
            painter.fillRect(QRectF(4, top, width - 4, ROW), colour(p.yellow, p.wash))
        edge = self._edges.get(variable.name)
        if edge:
            painter.fillRect(QRectF(0, top + 3, 4, ROW - 6), colour(edge))
        self._paint_kind(painter, variable, top)
        self._paint_pennant(painter, variable, top)
        chosen = "✓ " if term in desk.chosen else ""
        name_face, small = font(12 if self.folded else 13, "bold"), font(11)
        room = width - 32 - (6 if self.folded else 66)  # folded: without distributions
        painter.setPen(colour(p.ink))
        painter.setFont(name_face)
        name = self._name_of(variable, room, name_face)
        if chosen:
            name = QFontMetrics(name_face).elidedText(chosen + name, Qt.TextElideMode.ElideRight, room)
        painter.drawText(QRectF(32, top + 4, room, 20), Qt.AlignmentFlag.AlignVCenter, name)
        painter.setPen(colour(p.soft_ink))
        painter.setFont(small)
        flagged = self._pennants.get(variable.name, 0)
        left_over = width - 40 - (0 if not flagged else 20 if flagged == 1 else 44)  # words end before the pennant
        words = QFontMetrics(small).elidedText(self._treated(variable), Qt.TextElideMode.ElideRight, left_over)
        painter.drawText(QRectF(32, top + 22, left_over + 2, 17), Qt.AlignmentFlag.AlignVCenter, words)
        if not self.folded:
            painter.translate(0, top)
            self._paint_bars(painter, variable, Box(width - 62, 6, width - 12, 21))
            painter.translate(0, -top)

    def _paint_pennant(self, painter: QPainter, variable: Variable, top: int) -> None:
        """A pennant, with the number of variables it speaks of; at the further ones the edge goes on."""
        count = self._pennants.get(variable.name)
        if count is None:
            return
        p, width = theme.palette(), self.viewport().width()
        if count == 0:
            painter.fillRect(QRectF(width - 3, top, 3, ROW), colour(p.yellow))
            return
        at = QPointF(width - 12, top + 26)
        painter.setPen(QPen(colour(p.amber_ink), 1.2))
        painter.drawLine(at, QPointF(at.x(), at.y() + 12))
        painter.setBrush(colour(p.yellow))
        painter.drawPolygon(QPolygonF([at, QPointF(at.x() - 9, at.y() + 3.5), QPointF(at.x(), at.y() + 7)]))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        if count == 1:
            return
        painter.fillRect(QRectF(width - 3, at.y(), 3, top + ROW - at.y()), colour(p.yellow))
        painter.setFont(font(10))
        painter.setPen(colour(p.amber_ink))
        beside = QRectF(at.x() - 36, at.y() - 3, 25, 14)
        painter.drawText(beside, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, str(count))

    def _name_of(self, variable: Variable, room: int, face: QFont) -> str:
        """The name as the width has it, so that it can be told apart from the others of the list."""
        study = self.session.study
        key = (study.variables, self.wanted, room)
        if key != self._named_for:
            shown, metrics = self.shown(), QFontMetrics(face)

            def fits(text: str) -> bool:
                return metrics.horizontalAdvance(text) <= room

            texts = [v.short_label or v.label for v in shown]
            if len(texts) <= MOST_TOLD_APART:
                texts = told_apart(texts, [fits] * len(texts))
            self._named_for, self._names = key, dict(zip((v.name for v in shown), texts))
        text = self._names[variable.name]
        return QFontMetrics(face).elidedText(text, Qt.TextElideMode.ElideRight, room)

    def _treated(self, variable: Variable) -> str:
        study = self.session.study
        return treated_as(study, variable, self._basis(study, variable))

    def _basis(self, study: Study, variable: Variable) -> Basis | None:
        """The basis in the newest results, unless the variable has come to enter otherwise since."""
        view, name = self.session.view, variable.name
        if view is None or view.fit is None:
            return None
        was = view.study.model.entries.get(name)
        return view.fit.design.bases.get(name) if was == study.model.entries.get(name) else None

    def _flags(self, variable: Variable) -> list[FlagKey]:
        view = self.session.view
        return [f.key for f in view.flags if f.stands_at(variable.name)] if view else []

    def _paint_kind(self, painter: QPainter, variable: Variable, top: int) -> None:
        study = self.session.study
        computed = variable.name not in study.table
        paint_mark(painter, variable, 11, top + 7, computed)

    def _paint_bars(self, painter: QPainter, variable: Variable, room: Box) -> None:
        study = self.session.study
        if self._table is not study.table:
            self._table, self._bars, self._awaited, self._pages = study.table, {}, {}, {}
        # what is computed follows its sources
        key = (variable, *(() if variable.name in study.table else (study.variables, study.derived)))
        if key not in self._bars:
            if study.table.n_rows > MOST_AT_ONCE:
                if key not in self._awaited:
                    self._awaited[key] = variable
                    self._count(study)
                return
            self._bars[key] = bars_in(study, variable)
        bars = self._bars[key]
        if bars is None:
            return
        look = screen_look()
        as_drawn = (key, room, look.palette)
        if as_drawn not in self._pages:
            if len(self._pages) >= MOST_PAGES:
                self._pages.clear()
            frame = Frame(room, (bars.low, bars.high), (0.0, 1.0), Pane.DISTRIBUTION, room)
            self._pages[as_drawn] = Page(0.0, 0.0, (distribution(look, bars, frame, look.palette.shade),))
        paint(painter, self._pages[as_drawn])

    def _count(self, study: Study) -> None:
        """Have the distributions that are awaited counted off the interface thread, and drawn when they are there."""
        awaited = dict(self._awaited)

        def work(job: Job) -> dict[tuple[object, ...], Bars | None]:
            found = {}
            for key, variable in awaited.items():
                job.go_on()
                found[key] = bars_in(study, variable)
            return found

        def counted(found: dict[tuple[object, ...], Bars | None]) -> None:
            if study.table is self._table:
                self._bars |= found
                self._awaited = {key: v for key, v in self._awaited.items() if key not in found}
                self.viewport().update()

        self._worker.newest(Lane.ROSTER, work, counted, self.session.say)

    # ---- mouse and keyboard

    def variable_at(self, y: int) -> Variable | None:
        """The variable at a height of the viewport."""
        index = (y + self.scrolled) // ROW
        shown = self.shown()
        return shown[index] if 0 <= index < len(shown) else None

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        position = event.position().toPoint()
        variable = self.variable_at(position.y())
        if variable is None:
            return
        self._pressed = (variable.name, position)
        flags = self._flags(variable)
        if flags and position.x() > self.viewport().width() - 24 and (position.y() + self.scrolled) % ROW > 22:
            self.flag_chosen.emit(flags[0])
        if event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
            order = [shown.name for shown in self.shown()]
            self.session.look(variable=variable.name, **self.session.desk.spanning(order, variable.name))
            return
        add = bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)
        self.session.look(variable=variable.name, **self.session.desk.clicking(Term((variable.name,)), add, keep=True))
        if position.x() < MARK and not add and self.session.desk.waypoint == Waypoint.DATA:
            self.session.ask(Request.NAME_LEVELS)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self._pressed is None:
            return
        name, start = self._pressed
        if self._carrying or (event.position().toPoint() - start).manhattanLength() > 8:
            self._carrying = True
            self.carried.emit(Term((name,)), event.globalPosition().toPoint(), Carry.MOVE)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self._pressed is not None and self._carrying:
            self.carried.emit(Term((self._pressed[0],)), event.globalPosition().toPoint(), Carry.DROP)
        self._pressed, self._carrying = None, False

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        if event is not None:
            self.menu_wanted.emit(event.globalPos())

    @action("choose the variable above", "Go to the variable above", "Up", scope=Scope.ROSTER)
    def up(self) -> None:
        """Go to the variable above."""
        self._step(-1)

    @action("choose the variable below", "Go to the variable below", "Down", scope=Scope.ROSTER)
    def down(self) -> None:
        """Go to the variable below."""
        self._step(1)

    def _step(self, by: int) -> None:
        names = [v.name for v in self.shown()]
        if not names:
            return
        now = names.index(self.session.desk.variable) if self.session.desk.variable in names else -1
        to = min(len(names) - 1, max(0, now + by))
        self.session.look(variable=names[to])
        self.show_row(to)

    def show_variable(self, name: str) -> None:
        """Scroll to a variable."""
        for i, variable in enumerate(self.shown()):
            if variable.name == name:
                self.show_row(i)

    def tip_at(self, position: QPoint) -> str:
        """The whole name, how it is treated, and its flags."""
        variable = self.variable_at(position.y())
        if variable is None:
            return ""
        flags = [f.title for k in self._flags(variable) if (f := self.session.flag(k)) is not None]
        named = position.x() < MARK and self.session.desk.waypoint == Waypoint.DATA
        hint = ["Click the mark to give the levels their names"] if named and variable.kind.enters else []
        drawn = drawn_without(codes_apart(self.session.study, variable.name)) if variable.kind is Kind.NUMBER else ""
        said = [f"{variable.label} ({variable.name})", self._treated(variable), drawn, *flags, *hint]
        return "\n".join(text for text in said if text)
