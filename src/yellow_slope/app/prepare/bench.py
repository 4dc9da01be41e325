"""The waypoint Prepare: how numbers enter as a sentence, a strip for each variable, and the code card of a group."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QLabel, QPushButton, QScrollArea, QVBoxLayout, QWidget

from yellow_slope.app.prepare.codecard import CodeCardView
from yellow_slope.app.prepare.lookedat import LookedAt, look_at
from yellow_slope.app.prepare.numberstrip import NumberStrip
from yellow_slope.app.prepare.strips import GroupStrip, Strip
from yellow_slope.app.prepare.treatmentbar import TreatmentBar
from yellow_slope.app.state.asking import Asked
from yellow_slope.app.state.lanes import Lane
from yellow_slope.app.state.prepared import Prepared, Preparing
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.state.topics import Topic
from yellow_slope.app.state.worker import Job, Worker
from yellow_slope.app.verbs.actions import Scope, action, id_of
from yellow_slope.app.verbs.figuring import Figuring
from yellow_slope.app.verbs.kinds import Kinds
from yellow_slope.app.verbs.treating import Treating
from yellow_slope.app.widgets.dialogs import Dialogs
from yellow_slope.app.widgets.following import Bench
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import variables_of
from yellow_slope.core.words.sentences.zeros import centering_rows, left_unsaid
from yellow_slope.core.words.spelling.numerals import counted
from yellow_slope.looks import SIZES

MOST_STRIPS = 80
"""More strips than this nobody looks through; those of the model come first."""
NAMED = 8
"""Names that the folded line lists."""
ON_STRIPS = frozenset(
    {
        id_of(Treating.center),
        id_of(Treating.standardize),
        id_of(Treating.leave),
        id_of(Treating.choose_numbers),
        id_of(Kinds.as_groups),
        id_of(Kinds.as_number),
    }
)
"""Actions on variables that are also bound where strips have the keyboard."""


class PrepareBench(Bench):
    """Make predictors fit for a product."""

    def __init__(
        self, session: StudySession, treating: Treating, worker: Worker, dialogs: Dialogs, parent: QWidget | None = None
    ) -> None:
        super().__init__(session, worker, Lane.PREPARED, parent)
        self.bar = TreatmentBar(session, treating, dialogs)
        self.list = QWidget()
        self.card = CodeCardView(session, dialogs, self.list)
        self.card.hide()
        self.list.setObjectName("paper")
        self._strips = QVBoxLayout(self.list)
        self._strips.setContentsMargins(0, 0, 0, 0)
        self._strips.setSpacing(1)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setWidget(self.list)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        scroll.setAccessibleName("Strips of the variables")
        self.scroll_area = scroll
        self.fold = QPushButton(self.list)
        self.fold.setObjectName("fold")
        self.fold.setToolTip("List the columns that are not in the model, or fold them")
        self.fold.clicked.connect(self.unfold)
        self.more = QLabel(self.list)
        self.more.setObjectName("soft")
        layout = QVBoxLayout(self)
        layout.setContentsMargins(SIZES.margin, 8, SIZES.margin, 4)
        layout.setSpacing(8)
        layout.addWidget(self.bar)
        layout.addWidget(scroll, 1)
        self.strips: list[Strip] = []
        self.prepared: Prepared | None = None
        self._key: object = None
        self._preparing: Asked[Prepared] = Asked(worker, self._is_prepared, session.say)
        self._unseen = 0
        self._seen: str | None = None
        self.follow(session, Topic.STUDY, Topic.RESULTS)
        session.on(self._desk_changed, Topic.CHOICE, Topic.CARD, Topic.ROW, Topic.THEME)
        self._desk: object = None
        self._asked: dict[str, tuple[object, ...]] = {}
        """Strips that wait to be computed, and what they rest on."""
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.setInterval(0)
        self._soon.timeout.connect(self._look)

    # ---- what is listed

    def predictors(self, study: Study) -> tuple[list[str], list[str]]:
        """The model's predictors in its order; and the other numbers and groups that are listed, the chosen one
        first."""
        used = list(variables_of(study.model.terms))
        rest = [
            v.name for v in study.variables if v.name not in used and v.kind.enters and v.name != study.model.outcome
        ]
        room = max(0, MOST_STRIPS - len(used))
        chosen = self.session.desk.variable
        if not self.is_unfolded(study):
            self._unseen = 0
            return used[:MOST_STRIPS], [chosen] if chosen in rest and chosen is not None else []
        first = [chosen] if chosen in rest[room:] and chosen is not None else []
        listed = [*first, *(name for name in rest if name not in first)][: max(room, len(first))]
        self._unseen = len(rest) - len(listed)
        return used[:MOST_STRIPS], listed

    def is_unfolded(self, study: Study) -> bool:
        """Whether the other columns are listed; they are while nothing has been entered yet."""
        wanted = self.session.desk.unfolded
        return not study.model.terms if wanted is None else wanted

    @action(
        "list the other columns", "List the columns that are not in the model, or fold them", "F", scope=Scope.STRIP
    )
    def unfold(self) -> None:
        """List the columns that are not in the model, or fold them to one line."""
        if self.session.is_open:
            self.session.look(unfolded=not self.is_unfolded(self.session.study))

    @action("choose the strip above", "Go to the strip above", "Up", scope=Scope.STRIP)
    def up(self) -> None:
        """Go to the strip above."""
        self._step(-1)

    @action("choose the strip below", "Go to the strip below", "Down", scope=Scope.STRIP)
    def down(self) -> None:
        """Go to the strip below."""
        self._step(1)

    def _step(self, by: int) -> None:
        here = next((i for i, strip in enumerate(self.strips) if strip.hasFocus()), None)
        if here is not None:
            strip = self.strips[max(0, min(len(self.strips) - 1, here + by))]
            strip.setFocus()
            self.scroll_area.ensureWidgetVisible(strip)

    @action(
        "move zero or the reference back",
        "Put the zero point at the place before; for groups, use the previous level as the reference",
        "Left",
        scope=Scope.STRIP,
    )
    def reference_back(self) -> None:
        """The zero point or the reference one back."""
        self._turn(-1)

    @action(
        "move zero or the reference on",
        "Put the zero point at the next place; for groups, use the next level as the reference",
        "Right",
        scope=Scope.STRIP,
    )
    def reference_on(self) -> None:
        """The zero point or the reference one on."""
        self._turn(1)

    def _turn(self, by: int) -> None:
        for strip in self.strips:
            if strip.hasFocus():
                strip.turn(by)

    def offers(self) -> list[tuple[str, Callable[..., object]]]:
        found = self.session.prepared
        is_group = found is not None and (found.card is not None or found.overview is not None)
        return [("Make a figure", Figuring.make)] if is_group else []

    @property
    def main_part(self) -> QWidget:
        current = [strip for strip in self.strips if strip.name == self.session.desk.variable]
        return next(iter(current or self.strips), self)

    def showEvent(self, event: QShowEvent | None) -> None:
        """With nothing open here the first variable of the model is."""
        super().showEvent(event)
        study, desk = self.session.study, self.session.desk
        used, others = self.predictors(study)
        if desk.variable not in (*used, *others) and (used or others):
            self.session.look(variable=(used or others)[0])

    def take_keyboard(self) -> None:
        super().take_keyboard()
        if self.main_part is not self:
            self.scroll_area.ensureWidgetVisible(self.main_part)

    # ---- keeping up

    def _desk_changed(self) -> None:
        desk = self.session.desk
        seen = (desk.variable, desk.chosen, desk.card, desk.comparison, desk.unfolded, desk.dark, desk.open_step)
        if seen != self._desk:
            self._desk = seen
            self._told()
        elif self.isVisible():  # a zero point is being moved: only its strip is concerned
            for strip in self.strips:
                if strip.is_open:
                    strip.update()

    def renew(self) -> None:
        study = self.session.study
        used, others = self.predictors(study)
        names = [*used, *others]
        key = (tuple((n, study.variable(n).kind) for n in names), len(used))
        if key != self._key:
            self._key = key
            self._rebuild(study, used, others)
        self._fold_text(study, used)
        for strip in self.strips:
            strip.order = names
            strip.renew()
        self.bar.renew()
        self._prepare()
        current = self.session.desk.variable
        if current != self._seen:
            self._seen = current
            QTimer.singleShot(0, self._show_current)

    def _show_current(self) -> None:
        """Bring the current strip into sight, with as much of what belongs to it as there is room for."""
        strip = next((s for s in self.strips if s.is_open), None)
        bar = self.scroll_area.verticalScrollBar()
        if strip is None or bar is None:
            return
        bottom = self.card.geometry().bottom() if not self.card.isHidden() else strip.geometry().bottom()
        if bottom > bar.value() + self.scroll_area.height():
            bar.setValue(min(strip.y() - 2, bottom - self.scroll_area.height() + 8))
        if strip.y() < bar.value():
            bar.setValue(max(0, strip.y() - 2))

    def _fold_text(self, study: Study, used: list[str]) -> None:
        rest = [v for v in study.variables if v.name not in used and v.kind.enters and v.name != study.model.outcome]
        mark = "▾" if self.is_unfolded(study) else "▸"
        named = ", ".join(v.label for v in rest[:NAMED]) + (" …" if len(rest) > NAMED else "")
        self.fold.setText(f"{mark}  not in the model: {counted(len(rest), 'column')}      {named}")
        self.fold.setAccessibleName(f"Columns that are not in the model: {len(rest)}")
        self.fold.setVisible(bool(rest))
        self.more.setVisible(bool(self._unseen))
        self.more.setText(f"and {self._unseen:,} other columns; choose one in the roster to see it first")

    def _rebuild(self, study: Study, used: list[str], others: list[str]) -> None:
        held = next((strip.name for strip in self.strips if strip.hasFocus()), "")
        known = {strip.name: strip for strip in self.strips}
        while (item := self._strips.takeAt(0)) is not None:
            del item  # its widget stays, to be placed anew
        self.strips = []
        for name in [*used, *others]:
            kind = NumberStrip if study.variable(name).kind is Kind.NUMBER else GroupStrip
            strip = known.pop(name, None)
            if not isinstance(strip, kind):
                if strip is not None:
                    strip.hide()
                    strip.deleteLater()
                strip = kind(self.session, name)
                if isinstance(strip, NumberStrip):
                    strip.later.connect(self._look_later)
            if len(self.strips) == len(used):
                self._strips.addWidget(self.fold)
            self.strips.append(strip)
            self._strips.addWidget(strip)
            strip.show()  # by itself it would be shown later, and have no place until then
            if name == held:
                strip.setFocus()
        for strip in known.values():
            strip.hide()
            strip.deleteLater()
        if self._strips.indexOf(self.fold) < 0:
            self._strips.addWidget(self.fold)
        self._strips.addWidget(self.more)
        self._strips.addStretch(1)
        self._place_card()
        self._strips.activate()  # else all strips lie in sight, squeezed, until the scroll area has heard of them
        self.list.resize(self.list.width(), max(self.scroll_area.height(), self._strips.minimumSize().height()))

    def _look_later(self, strip: NumberStrip) -> None:
        """A strip in sight is to be computed; all that ask together are computed together."""
        wanted = strip.ask()
        if wanted is not None:
            self._asked[strip.name] = wanted
            self._soon.start()

    def _look(self) -> None:
        study, view, asked = self.session.study, self.session.view, dict(self._asked)
        if not asked:
            return
        variables = [v for v in study.variables if v.name in asked]

        def work(job: Job) -> dict[str, LookedAt]:
            found: dict[str, LookedAt] = {}
            for variable in variables:
                job.go_on()
                found[variable.name] = look_at(study, view, variable)
            return found

        def arrived(found: dict[str, LookedAt]) -> None:
            for strip in self.strips:
                name = strip.name
                if isinstance(strip, NumberStrip) and name in found and self._asked.get(name) == asked[name]:
                    strip.take(asked[name], found[name])
            self._asked = {name: wanted for name, wanted in self._asked.items() if wanted != asked.get(name)}

        self.worker.newest(Lane.STRIPS, work, arrived, self.session.say)

    def _place_card(self) -> None:
        """The card stands below the strip of the current group."""
        name = self.session.desk.variable
        strip = next((s for s in self.strips if s.name == name and isinstance(s, GroupStrip)), None)
        shown = strip is not None and self.prepared is not None and self.prepared.name == name
        at = self._strips.indexOf(self.card)
        if not shown or strip is None:
            if at >= 0:
                self._strips.removeWidget(self.card)
            self.card.hide()
            return
        wanted = self._strips.indexOf(strip) + 1
        if at != wanted:
            if at >= 0:
                self._strips.removeWidget(self.card)
                wanted = self._strips.indexOf(strip) + 1
            self._strips.insertWidget(wanted, self.card)
        self.card.show()

    # ---- what is computed of the current variable

    def _prepare(self) -> None:
        view, desk = self.session.view, self.session.desk
        name = desk.variable
        self._place_card()
        if (
            view is None
            or name is None
            or not self.session.is_settled
            or name not in {v.name for v in view.study.variables}
        ):
            return
        if not self._preparing.ask(Preparing(view.evaluation, name, desk.card, desk.open_step)):
            self._show()

    def _is_prepared(self, found: Prepared) -> None:
        self.prepared = self.session.prepared = found
        self._show()
        self.session.look_again()
        QTimer.singleShot(0, self._show_current)

    def _show(self) -> None:
        found = self.prepared
        if found is None or found.name != self.session.desk.variable:
            return
        for strip in self.strips:
            if isinstance(strip, NumberStrip):
                changes = None
                if strip.name == found.name and found.centering is not None:
                    changes = (*centering_rows(found.study, found.centering), left_unsaid(found.centering))
                strip.changes = changes
                strip.fit_height()
                strip.update()
        self._place_card()
        if self.card.isVisibleTo(self):
            self.card.show_prepared(found)
