"""A figure that is tuned: the choices for all of it above, the figure with its note, the looks beside it."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPoint, QPointF, QRectF, QSizeF, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QScrollArea, QVBoxLayout, QWidget

from yellow_slope.app.report.besidepart import beside
from yellow_slope.app.report.canvas import FigureCanvas
from yellow_slope.app.report.captionblock import CaptionBlock
from yellow_slope.app.report.gallery import Gallery
from yellow_slope.app.report.partstrip import SIZES_OFFERED, PartStrip
from yellow_slope.app.report.tuned import Made, SubjectOf, Tuned
from yellow_slope.app.state.asking import Asked
from yellow_slope.app.state.figured import Figured
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.state.topics import Topic
from yellow_slope.app.state.worker import Worker
from yellow_slope.app.verbs.figuring import Figuring
from yellow_slope.app.widgets.flowrow import FlowRow
from yellow_slope.app.widgets.following import Follows
from yellow_slope.app.widgets.picker import Further, Picker
from yellow_slope.core.figured.subjects import ProbeSubject
from yellow_slope.core.study.edits.figures import tune_figure
from yellow_slope.core.study.edits.levels import name_level
from yellow_slope.core.study.figures import (
    READY_LOOKS,
    READY_SIZES,
    Figure,
    FigureLook,
    FigureSize,
    LineKey,
    LineOf,
    ProbeShown,
    Role,
    ShowsProbe,
    TextKey,
)
from yellow_slope.core.study.figuretext import size_name
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.sentences.figures import list_name
from yellow_slope.plots.figures import views_of
from yellow_slope.plots.parts import PartRef
from yellow_slope.values import replace

ROOM_FOR_LOOKS = 800
"""Pixels of bench from which looks stand beside the figure."""


class Sheet(QScrollArea):
    """What a page lies on; it tells when it has another size."""

    resized = pyqtSignal()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self.resized.emit()


class FigureTuner(Follows, QWidget):
    """One figure of the study, on the desk's word."""

    def __init__(self, session: StudySession, worker: Worker, verbs: Figuring, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session, self.verbs = session, verbs
        self._asked: Asked[Made] = Asked(worker, self._show, session.say)
        self.is_whole_size = False
        self._below = 96
        """Pixels that the note takes below the figure."""
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.timeout.connect(self._catch_up)
        self._make_choices()
        self.canvas = FigureCanvas(session)
        self.canvas.setToolTip("Click on a part, or Tab from part to part; Enter opens its strip")
        self.strip = PartStrip(session)
        self.caption = CaptionBlock()
        self._page = QWidget()
        self._page.setObjectName("paper")
        inside = QVBoxLayout(self._page)
        inside.setContentsMargins(2, 2, 8, 2)
        inside.setSpacing(6)
        inside.addWidget(self.canvas, 0, Qt.AlignmentFlag.AlignLeft)
        inside.addWidget(self.caption)
        inside.addStretch(1)
        self.sheet = Sheet()
        self.sheet.setWidgetResizable(True)
        self.sheet.setWidget(self._page)
        self.sheet.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.sheet.setAccessibleName("The figure with its note")
        self.strip.setParent(self._page)
        self.strip.hide()
        self.gallery = Gallery(session, worker)
        both = QHBoxLayout()
        both.setSpacing(8)
        both.addWidget(self.sheet, 1)
        both.addWidget(self.gallery)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(8)
        layout.addWidget(self.row)
        layout.addLayout(both, 1)
        self.sheet.resized.connect(self.renew)
        self.canvas.tuned.connect(self.tune)
        self.canvas.chosen.connect(self._choose)
        self.canvas.asked.connect(self._to_strip)
        self.canvas.left.connect(verbs.leave)
        self.strip.tuned.connect(self.tune)
        self.strip.named.connect(self._name_everywhere)
        self.strip.done.connect(lambda: self.canvas.setFocus())
        self.caption.tuned.connect(self.tune)
        self.caption.begun.connect(self._see_writing)
        self.gallery.chosen.connect(lambda look: self._change("look of the figure", lambda f: f.in_look(look)))
        self.follow(session, Topic.RESULTS, Topic.FIGURE, Topic.THEME)

    # ---- the choices for all of the figure

    def _make_choices(self) -> None:
        self.row = FlowRow()
        self.names = Picker[str]("Figure", "Which figure of the study is tuned")
        self.names.whenever_chosen(self.verbs.tune)
        self.looks = Picker[FigureLook | Further]("Look", "Colors, letters and lines of the whole figure")
        self.looks.whenever_chosen(self._choose_look)
        self.sizes = Picker[FigureSize | Further]("Size", "Width on the page, or of a slide")
        self.sizes.whenever_chosen(self._choose_size)
        self.letters = Picker[float | None]("Size of letters", "Points at this size")
        self.letters.whenever_chosen(
            lambda points: self._change("letters of the figure", lambda f: replace(f, letters=points))
        )
        self.views = Picker[ProbeShown]("What is shown", "Which plots of the probe")
        self.views.whenever_chosen(self._choose_view)
        self.parts = Picker[PartRef]("Parts of the figure", "Choose a part to tune it; Tab on the figure does the same")
        self.parts.caption = "all parts"
        self.parts.whenever_chosen(self._choose_and_go)
        self.zoom = Picker[bool]("Shown at", "As large as there is room, or at its size on paper")
        self.zoom.set_choices([(False, "fitted"), (True, "100 %")], False)
        self.zoom.whenever_chosen(self._choose_zoom)
        self.more = Picker[int]("With this figure", "Rename, copy, move or delete this figure; save its look")
        self.more.caption = "more"
        self.more.set_choices([(i, text) for i, (text, _) in enumerate(self.verbs.further)], None)
        self.more.whenever_chosen(lambda i: self.verbs.further[i][1]())
        for text, widget in (
            ("Figure", self.names),
            ("as", self.looks),
            ("", self.sizes),
            ("", self.letters),
            ("", self.views),
            ("", self.parts),
            ("", self.zoom),
            ("", self.more),
        ):
            if text:
                label = QLabel(text)
                label.setObjectName("soft")
                label.setMinimumHeight(30)
                self.row.add(label)
            self.row.add(widget)

    def _show_choices(self, found: Figured) -> None:
        study, figure = found.study, found.figure
        view = self.session.view
        if view is not None:
            self.names.set_choices([(f.name, list_name(view.evaluation, f)) for f in study.figures], figure.name)
        own = self.verbs.own_looks()
        looks: list[tuple[FigureLook | Further, str]] = [(look, look.name) for look in (*READY_LOOKS, *own)]
        if figure.look not in [look for look, _ in looks]:
            looks.append((figure.look, f"{figure.look.name}, as in this study"))
        self.looks.set_choices(looks, figure.look)
        sizes: list[tuple[FigureSize | Further, str]] = [(size, size_name(size)) for size in READY_SIZES.values()]
        if figure.size not in [size for size, _ in sizes]:
            sizes.append((figure.size, size_name(figure.size)))
        sizes.append((Further.ASK, "a size of your own …"))
        self.sizes.set_choices(sizes, figure.size)
        letters: list[tuple[float | None, str]] = [(None, f"{figure.look.letters:g} pt letters")]
        letters += [(points, f"{points:g} pt letters") for points in SIZES_OFFERED if points != figure.look.letters]
        if figure.letters is not None and figure.letters not in SIZES_OFFERED:
            letters.append((figure.letters, f"{figure.letters:g} pt letters"))
        self.letters.set_choices(letters, figure.letters)
        is_probe = isinstance(found.subject, ProbeSubject)
        self.views.setVisible(is_probe)
        if isinstance(found.subject, ProbeSubject) and isinstance(figure.shows, ShowsProbe):
            views = [(view, view.label) for view in views_of(found.subject.sight)]
            if figure.shows.view not in [view for view, _ in views]:
                views.append((figure.shows.view, figure.shows.view.label))
            self.views.set_choices(views, figure.shows.view)
        located = found.parts.located() if found.parts is not None else []
        self.parts.set_choices([(one.part, one.name) for one in located], self.session.desk.part)
        self.parts.setEnabled(bool(located))
        self.row.arrange()

    # ---- renewing

    @property
    def figure(self) -> Figure | None:
        """The figure that is tuned."""
        study, name = self.session.study, self.session.desk.figure
        return next((f for f in study.figures if f.name == name), None)

    @property
    def is_current(self) -> bool:
        """Whether what is shown is the newest."""
        found = self.session.figured
        is_new = found is not None and found.figure == self.figure
        return is_new and not self._asked.is_pending

    def renew(self) -> None:
        figure, view, study = self.figure, self.session.view, self.session.study
        if figure is None or view is None:
            return
        zoom, ratio = None if not self.is_whole_size else self._print_zoom(), self.devicePixelRatioF()
        room = (self.sheet.width() - 30, self.sheet.height() - 22 - self._below)
        subject = SubjectOf(view.evaluation.modelled(study.probes, study.checks), figure.shows, view.probed)
        made = self._asked.answer
        known = made.known if made is not None else None
        wanted = Tuned(study, view.evaluation, subject, figure, zoom, room, ratio, known)
        if not self._asked.ask(wanted):
            self._show_part()

    def _show(self, made: Made) -> None:
        self.session.figured = made.figured
        self.canvas.show_drawn(made.drawn, made.zoom)
        self._later.start(0)  # the figure first, then what stands around it

    def _catch_up(self) -> None:
        """What stands around the figure, as it is now."""
        found = self.session.figured
        if found is None:
            return
        self._show_choices(found)
        index = next((i for i, f in enumerate(found.study.figures) if f.name == found.figure.name), 0)
        self.caption.show_figure(found, index + 1)
        below = self.caption.heightForWidth(self.sheet.width() - 30) if self.caption.hasHeightForWidth() else 96
        if not self.caption.is_writing and abs(below - self._below) > 6:
            self._below = below
            self.renew()
        self.gallery.show_looks(found, self.verbs.own_looks())
        self._show_part()
        self.session.look_again()

    def _show_part(self) -> None:
        """The strip in its place by the chosen part."""
        part, found = self.session.desk.part, self.session.figured
        self.canvas.update()
        box = self.canvas.box_of(part) if part is not None else None
        if part is None or box is None or found is None or found.figure != self.figure:
            if part is None or found is None or found.figure == self.figure:
                self.strip.show_part(None, None)
            return
        self.strip.show_part(found, part)
        size = self.strip.sizeHint()
        origin = self.canvas.pos()
        titles, texts = self.canvas.boxes_of_texts(part)
        if self.caption.isVisible():
            below = QPointF(self.caption.mapTo(self.sheet, QPoint(0, 0)) - origin)
            texts.append(QRectF(below, QSizeF(self.caption.size())))
        figure = QRectF(self.canvas.rect())
        room = QRectF(4.0, 0.0, max(size.width(), self.sheet.width() - 30.0), max(size.height(), self.sheet.height()))
        at = beside(QSizeF(size), box, titles, texts, figure, room.translated(QPointF(-origin)))
        self.strip.setGeometry(round(origin.x() + at.x()), round(origin.y() + at.y()), size.width(), size.height())
        self.strip.show()
        self.strip.raise_()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self.gallery.setVisible(self.width() >= ROOM_FOR_LOOKS)
        self.row.arrange()
        self.renew()

    def _print_zoom(self) -> float:
        return self.logicalDpiX() / 72

    # ---- choosing and changing

    def _choose(self, part: PartRef | None) -> None:
        self.session.look(part=part)
        box = self.canvas.box_of(part) if part is not None else None
        if box is not None:
            at = self.canvas.pos() + QPoint(round(box.center().x()), round(box.center().y()))
            self.sheet.ensureVisible(at.x(), at.y(), 40, 60)

    def _see_writing(self) -> None:
        """What is written, and what takes it, stay in sight."""
        self._page.adjustSize()
        self.sheet.ensureWidgetVisible(self.caption.take, 10, 12)

    def _choose_and_go(self, part: PartRef) -> None:
        self._choose(part)
        self._to_strip()

    def _to_strip(self) -> None:
        """The keyboard to the strip of the chosen part."""
        if self.strip.isVisible() and self.strip.first is not None:
            self.strip.first.setFocus()

    def tune(self, what: str, figure: Figure) -> None:
        """Put another value in the place of the figure."""
        name = self.session.desk.figure
        if name is not None:
            self.session.edit(what, lambda s: tune_figure(s, name, figure))
            self.renew()  # no result rests on it: what is there is drawn otherwise at once

    def _change(self, what: str, change: Callable[[Figure], Figure]) -> None:
        if self.figure is not None:
            self.tune(what, change(self.figure))

    def _choose_look(self, look: FigureLook | Further) -> None:
        if isinstance(look, FigureLook):
            self._change("look of the figure", lambda f: f.in_look(look))

    def _choose_size(self, size: FigureSize | Further) -> None:
        asked = self.verbs.ask_size() if isinstance(size, Further) else size
        if asked is not None:
            self._change("size of the figure", lambda f: replace(f, size=asked))

    def _choose_view(self, view: ProbeShown) -> None:
        figure = self.figure
        if figure is not None and isinstance(figure.shows, ShowsProbe):
            self.tune("what the figure shows", replace(figure, shows=replace(figure.shows, view=view)))

    def _choose_zoom(self, whole: bool) -> None:
        self.is_whole_size = whole
        self.zoom.set_current(whole)
        self.renew()

    def _name_everywhere(self, key: LineKey, name: str) -> None:
        """A level is called so in the whole study; the figure says nothing of its own any more."""
        figure = self.figure
        if figure is None or key.kind is not LineOf.LEVEL:
            self.session.say("Only a group's level can be named for the whole study; Enter names it on this figure.")
            return
        own = TextKey(Role.LINE, line=key)
        plain = figure.with_text(own, replace(figure.text(own), words=None))

        def change(study: Study) -> Study:
            return tune_figure(name_level(study, key.variable, key.of, name), figure.name, plain)

        self.session.edit("name of a level", change)
