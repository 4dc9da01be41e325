"""The sample rules as a sentence: of which cases a model takes, by chips, by clicking and by typing, with a live
count."""

from __future__ import annotations

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QFontMetrics, QResizeEvent
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QToolButton, QVBoxLayout, QWidget

from yellow_slope.app.data.rulebuilder import RuleBuilder
from yellow_slope.app.state.desk import Waypoint
from yellow_slope.app.state.lanes import Lane
from yellow_slope.app.state.requests import Request
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.state.topics import Topic
from yellow_slope.app.state.worker import Job, Worker
from yellow_slope.app.verbs.actions import Menu, action
from yellow_slope.app.widgets.dialogs import Dialogs
from yellow_slope.app.widgets.following import Follows
from yellow_slope.app.widgets.picker import Further, Picker
from yellow_slope.app.widgets.theme import font
from yellow_slope.app.widgets.typedline import TypedLine
from yellow_slope.core.data.conditions import All, Any, Between, Not, Rule, holds
from yellow_slope.core.data.conditiontext import completions, find_condition
from yellow_slope.core.data.scanner import Mistake
from yellow_slope.core.data.variable import shortened
from yellow_slope.core.study.edits.samples import (
    free_sample_name,
    new_sample,
    remove_sample,
    rename_sample,
    set_rule,
    set_sample,
)
from yellow_slope.core.study.rules import Sample
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.sentences.examples import rule_example
from yellow_slope.core.words.sentences.samples import rule_text, sample_sentence, share_text

CHIP = 34
"""Characters of a rule that a chip shows."""
BESIDE_CHIPS, PER_CHIP = 520, 78
"""Width of what stands in the line beside chips, and of a chip beside its words; chips without room are one."""
MOST = 12
"""Rules that are put into words for chips."""
TYPED = 300
"""Width of the field where rules stand above it."""


class CasesStrip(Follows, QWidget):
    """Changes the sample of the current model."""

    def __init__(self, session: StudySession, dialogs: Dialogs, worker: Worker, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session, self._dialogs, self._worker = session, dialogs, worker
        self._whole = False
        self._shown: tuple[object, ...] = ()
        self.sample = Picker[str | Further | None](
            "Sample", "Which cases the current model uses; a study can hold several samples"
        )
        self.sample.whenever_chosen(self._choose)
        self.chips = QHBoxLayout()
        self.chips.setSpacing(4)
        self.line = TypedLine(
            "Type a sample rule",
            "",
            "Type a rule in words and press Enter; it is added to what is there (Ctrl+U: change the whole)",
            self._read,
            self._words,
        )
        self.field, self.echo = self.line.field, self.line.echo
        self.field.setMinimumWidth(120)
        self.line.accepted.connect(self._accept)
        self.line.left.connect(self._leave)
        self.line.changed.connect(lambda _: self._show_second())
        self.add = QToolButton()
        self.add.setText("+ rule")
        self.add.setMinimumWidth(66)
        self.add.setObjectName("chip")
        self.add.setAccessibleName("Add a rule by clicking")
        self.add.setToolTip("Choose a variable, a comparison and values")
        self.add.clicked.connect(lambda: self._build(self.add, None))
        self.count = QLabel()
        self.count.setObjectName("strong")
        self.count.setAccessibleName("Cases in the sample")
        self.count.setToolTip("Cases that meet the rule and are not set aside")
        self.said = QLabel()
        self.said.setObjectName("soft")
        self.said.setWordWrap(True)
        self.said.setTextFormat(Qt.TextFormat.PlainText)
        self.said.setAccessibleName("Which cases are used")
        self.builder = RuleBuilder(session, self._count_with, self)
        self.builder.made.connect(self._built)
        self._place: int | None = None
        self._lay_out()
        self.follow(session, Topic.STUDY, Topic.RESULTS)

    def _lay_out(self) -> None:
        of, where = QLabel("Of"), QLabel("use cases where")
        first = QHBoxLayout()
        first.setSpacing(6)
        for widget in (of, where):
            widget.setObjectName("soft")
        first.addWidget(of)
        first.addWidget(self.sample)
        first.addWidget(where)
        first.addLayout(self.chips)
        self._typing = QHBoxLayout()
        self._typing.setSpacing(6)
        first.addLayout(self._typing, 1000)
        first.addStretch(1)
        first.addWidget(self.count)
        self._below = QHBoxLayout()
        self._below.setSpacing(8)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(3)
        layout.addLayout(first)
        layout.addLayout(self._below)
        layout.addWidget(self.echo)
        self._below.addWidget(self.said, 1000)
        self._below.addStretch(1)
        self.echo.hide()
        self._put_field(False)

    # ---- what stands there

    def rule(self) -> Rule | None:
        """The rule of the current model's sample."""
        study = self.session.study
        sample = _sample(study)
        return sample.rule if sample is not None else None

    def parts(self) -> tuple[type[All | Any], tuple[Rule, ...]]:
        """What joins the rules, and the rules."""
        rule = self.rule()
        if rule is None:
            return All, ()
        if isinstance(rule, All | Any) and rule.rules:
            return type(rule), rule.rules
        return All, (rule,)

    def renew(self) -> None:
        study, view = self.session.study, self.session.view
        self.field.setPlaceholderText(rule_example(study))
        names = [s.name for s in study.samples]
        choices: list[tuple[str | Further | None, str]] = [(None, "all cases"), *((name, name) for name in names)]
        self.sample.set_choices([*choices, (Further.ASK, "a new sample …")], study.model.sample, "all cases")
        if view is not None:
            cases = view.evaluation.cases
            taken = cases.n_table - cases.n_outside - cases.n_aside
            aside = f", {cases.n_aside} set aside" if cases.n_aside else ""
            self.count.setText(share_text(taken, cases.n_table) + aside)
            said = whole = (
                f"{study.table.n_rows:,} cases, {len(study.variables)} variables. Choose an outcome to begin: "
                "press Y on a number, or type a model (Ctrl+L)."
            )
            if study.model.outcome:
                said = sample_sentence(view.evaluation, with_rule=False)
                whole = sample_sentence(view.evaluation, with_rule=False, names_all=True)
            self.said.setText(said)
            self.said.setToolTip(whole if whole != said else "")
        self._chips()

    def _put_field(self, below: bool) -> None:
        """The field goes on in the sentence; below it where rules stand there."""
        for widget in (self.field, self.add):
            self._typing.removeWidget(widget)
            self._below.removeWidget(widget)
        if below:
            self._below.insertWidget(0, self.field)
            self._below.insertWidget(1, self.add)
        else:
            self._typing.addWidget(self.field, 1)
            self._typing.addWidget(self.add)
        self.field.setMaximumWidth(TYPED if below else 16777215)
        self.field.setMinimumWidth(TYPED if below else 120)

    def _room(self, texts: list[str]) -> int:
        """How many chips there is room for."""
        left, n = self.width() - BESIDE_CHIPS, 0
        for text in texts:
            left -= QFontMetrics(font()).horizontalAdvance(shortened(text, CHIP)) + PER_CHIP
            if left < 0:
                break
            n += 1
        return max(1, n)

    def _chips(self) -> None:
        study = self.session.study
        joined, parts = self.parts()
        texts = [f"({rule_text(study, x)})" if isinstance(x, All | Any) else rule_text(study, x) for x in parts[:MOST]]
        room, word = self._room(texts), "and" if joined is All else "or"
        key = (parts, joined, room, study.variables)
        if key == self._shown:
            return
        if bool(parts) != bool(self._shown and self._shown[0]):
            self._put_field(bool(parts))
        self._shown = key
        while (item := self.chips.takeAt(0)) is not None:
            widget = item.widget()
            if widget is not None:
                widget.hide()
                widget.deleteLater()
        for i, text in enumerate(texts[:room]):
            if i:
                self._word(word)
            chip = _button(shortened(text, CHIP), f"Change the rule: {text}", text)
            chip.clicked.connect(lambda _=False, b=chip, k=i: self._build(b, k))
            gone = _button("×", f"Remove the rule: {text}", "")
            gone.clicked.connect(lambda _=False, k=i: self._without(k))
            self.chips.addWidget(chip)
            self.chips.addWidget(gone)
        if len(parts) > room:
            whole = rule_text(study, self.rule() or All(()))
            more = _button(f"{word} {len(parts) - room} more …", f"The whole rule: {whole}", whole)
            more.clicked.connect(self.type_rule)
            self.chips.addWidget(more)

    def _word(self, text: str) -> None:
        word = QLabel(text)
        word.setObjectName("soft")
        self.chips.addWidget(word)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._chips()

    def _show_second(self) -> None:
        typing = bool(self.field.text().strip())
        self.echo.setVisible(typing)
        self.said.setVisible(not typing)

    # ---- typing

    def _typed(self, text: str) -> Rule | Mistake:
        """The whole rule that a typed text leads to: with what is there, unless the whole is being changed."""
        study = self.session.study
        found = find_condition(text, study.variables, study.columns.is_numeric)
        if isinstance(found, Mistake) or self._whole:
            return found
        return self._joined(found)

    def _joined(self, more: Rule) -> Rule:
        joined, parts = self.parts()
        if not parts:
            return more
        new = more.rules if isinstance(more, joined) else (more,)
        return joined((*parts, *new))

    def _read(self, text: str) -> str | Mistake:
        study, rule = self.session.study, self._typed(text)
        if isinstance(rule, Mistake):
            return rule if isinstance(rule, Mistake) else ""
        said = f"use cases where {rule_text(study, rule)}"

        def work(job: Job) -> int:
            return int(holds(rule, study.columns).sum())

        self._worker.newest(
            Lane.RULE, work, lambda n: self.line.add_to_echo(f"{said}: {share_text(n, study.table.n_rows)}")
        )
        return said

    def _words(self, text: str, cursor: int) -> tuple[int, list[str]]:
        study = self.session.study
        return completions(study.variables, text, cursor)

    def _accept(self, text: str) -> None:
        rule = self._typed(text)
        if not isinstance(rule, Mistake) and (self._put(rule) or self.rule() == rule):
            self._leave()  # a refused line stays, to be mended

    def _leave(self) -> None:
        self._whole = False
        self.line.clear()
        self.session.ask(Request.FOCUS_BENCH)

    def _put(self, rule: Rule | None) -> bool:
        study = self.session.study
        others = (
            [m.name or m.id for m in study.models if m is not study.model and m.sample == study.model.sample]
            if study and study.model.sample
            else []
        )
        also = f"This sample is also used by {', '.join(others)}." if others else ""
        return self.session.edit("change the sample rule", lambda s: set_rule(s, rule), say=also)

    def _without(self, place: int) -> None:
        joined, parts = self.parts()
        left = (*parts[:place], *parts[place + 1 :])
        self._put(None if not left else left[0] if len(left) == 1 else joined(left))

    # ---- clicking

    def _build(self, button: QWidget, place: int | None) -> None:
        part = self.parts()[1][place] if place is not None else None
        core = part.rule if isinstance(part, Not) else part
        if isinstance(core, All | Any | Not) or (isinstance(core, Between) and core is not part):
            self.type_rule()  # what the builder cannot show is changed as a line
            return
        self._place = place
        self.builder.begin(button.mapToGlobal(QPoint(0, button.height() + 2)), part)

    def _built(self, rule: Rule) -> None:
        self._put(self._with(rule))

    def _with(self, rule: Rule) -> Rule:
        joined, parts = self.parts()
        if self._place is None or self._place >= len(parts):
            return self._joined(rule)
        new = (*parts[: self._place], rule, *parts[self._place + 1 :])
        return new[0] if len(new) == 1 else joined(new)

    def _count_with(self, rule: Rule) -> int:
        study = self.session.study
        return int(holds(self._with(rule), study.columns).sum())

    # ---- samples

    def has_sample(self) -> bool:
        """Whether the current model rests on a sample."""
        return _sample(self.session.study) is not None

    def _choose(self, value: str | Further | None) -> None:
        if isinstance(value, Further):
            self.new_sample()
            return
        self.session.edit("choose a sample", lambda s: set_sample(s, value) if s.model.sample != value else s)

    @action("type a sample rule", "Say in words which cases are used", "Ctrl+U", available="session.is_open")
    def type_rule(self) -> None:
        """Put the keyboard on the rule line, with the whole rule to be changed."""
        rule, study = self.rule(), self.session.study
        self.session.look(waypoint=Waypoint.DATA)
        self._whole = rule is not None
        self.line.begin(rule_text(study, rule) if rule is not None else "")
        self.field.selectAll()  # typing replaces it; End goes on with it
        self._show_second()

    @action(
        "make a new sample", "A further sample, for the current model", available="session.is_open", menu=Menu.STUDY
    )
    def new_sample(self) -> None:
        """Make a further sample; it begins with all cases."""
        study = self.session.study
        name = self._dialogs.text("A new sample", "Name of the sample", free_sample_name(study))
        if name is not None:
            self.session.edit("make a sample", lambda s: new_sample(s, name))

    @action(
        "rename the sample", "Give the current model's sample another name", available="has_sample", menu=Menu.STUDY
    )
    def rename_sample(self) -> None:
        """Give the current sample another name."""
        sample = _sample(self.session.study)
        if sample is None:
            return
        name = self._dialogs.text("Name of the sample", "Name of the sample", sample.name)
        if name is not None:
            self.session.edit("rename a sample", lambda s: rename_sample(s, sample.name, name))

    @action(
        "remove the sample",
        "Remove the current model's sample; models based on it then use all cases",
        available="has_sample",
        menu=Menu.STUDY,
    )
    def remove_sample(self) -> None:
        """Take the current sample away."""
        sample = _sample(self.session.study)
        if sample is not None:
            self.session.edit("remove a sample", lambda s: remove_sample(s, sample.name))


def _sample(study: Study) -> Sample | None:
    if study.model.sample is None:
        return None
    return next((s for s in study.samples if s.name == study.model.sample), None)


def _button(text: str, name: str, tip: str) -> QToolButton:
    button = QToolButton()
    button.setText(text)
    button.setObjectName("chip" if text != "×" else "")
    button.setAccessibleName(name)
    button.setToolTip(tip or name)
    if text == "×":
        button.setFixedWidth(24)
    else:
        button.setMinimumWidth(QFontMetrics(font()).horizontalAdvance(text) + 24)
    return button
