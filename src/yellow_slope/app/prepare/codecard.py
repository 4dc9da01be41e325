"""The code card of a group variable: what it asks, its comparisons, the question builder, and the groups themselves."""

from __future__ import annotations

from functools import partial

import numpy as np
from PyQt6.QtCore import QSize, Qt, QTimer
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import (
    QButtonGroup,
    QHBoxLayout,
    QLabel,
    QScrollArea,
    QStackedWidget,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from yellow_slope.app.prepare.askbutton import AskButton
from yellow_slope.app.prepare.codesheet import CodeSheet
from yellow_slope.app.prepare.overviewpanel import OverviewPanel
from yellow_slope.app.state.desk import CardView
from yellow_slope.app.state.prepared import Prepared
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.verbs.actions import Scope, action
from yellow_slope.app.widgets.dialogs import Dialogs
from yellow_slope.app.widgets.flowrow import FlowRow
from yellow_slope.app.widgets.picker import Picker
from yellow_slope.app.widgets.theme import font
from yellow_slope.app.widgets.typedline import TypedLine
from yellow_slope.core.data.scanner import Mistake
from yellow_slope.core.groups.codecard import CodeCard
from yellow_slope.core.study.coding import Coding, Dummy, Effect, Planned, Question, Trends, WeightedEffect
from yellow_slope.core.study.edits.entries import set_coding, set_reference
from yellow_slope.core.study.edits.questions import (
    ONE,
    OTHER,
    OUT,
    ask_more,
    change_sides,
    choose_coding,
    drop_question,
    name_comparison,
    stand,
)
from yellow_slope.core.study.questiontext import read_questions
from yellow_slope.core.study.whole import Edit
from yellow_slope.core.typed import typed_numbers
from yellow_slope.core.words.sentences.comparisons import CODINGS, intercept_is, offered
from yellow_slope.core.words.sentences.examples import question_example
from yellow_slope.core.words.spelling.numerals import counted

ASK_WIDTH = 206
NARROW = 960
"""Below this width the list of codings beside the sheet is folded into its chip."""
MOST_LEVELS = 24
"""More levels than this are not drawn as comparisons."""
VIEWS = (
    (CardView.COMPARISONS, "comparisons", "What each comparison compares, and its estimate"),
    (CardView.COLUMNS, "code columns", "The columns of the model matrix that the comparisons make"),
    (CardView.GROUPS, "groups alone", "Means, omnibus test and pairwise differences without other predictors"),
    (
        CardView.ADJUSTED,
        "adjusted means",
        "Means and differences with the model's other predictors held at stated values",
    ),
)


class CodeCardView(QWidget):
    """The card. It shows what was computed, and changes the study."""

    def __init__(self, session: StudySession, dialogs: Dialogs, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session, self._dialogs = session, dialogs
        self.prepared: Prepared | None = None
        self.setObjectName("panel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.asks = Picker[int]("Question", "What the comparisons of the group test")
        self.asks.limit = 60
        self.asks.whenever_chosen(self.choose)
        self.intercept = QLabel()
        self.intercept.setObjectName("soft")
        self.intercept.setTextFormat(Qt.TextFormat.PlainText)
        self.intercept.setAccessibleName("What the intercept is")
        head = FlowRow()
        asks = QLabel("asks")
        asks.setObjectName("soft")
        for widget in (asks, self.asks, self.intercept):
            head.add(widget)
        self.views: dict[CardView, QToolButton] = {}
        group = QButtonGroup(self)
        for value, text, help in VIEWS:
            button = QToolButton()
            button.setObjectName("chip")
            button.setText(text)
            button.setCheckable(True)
            button.setAccessibleName(f"Show {text}")
            button.setToolTip(help)
            button.setFixedHeight(30)
            button.clicked.connect(partial(self._look_at, value))
            group.addButton(button)
            self.views[value] = button
            head.add(button)
        self.head = head
        self._make_pages()
        self._make_offers()
        left = QVBoxLayout()
        left.setSpacing(4)
        left.addWidget(self.pages)
        left.addWidget(self.line)
        left.addStretch(1)
        body = QHBoxLayout()
        body.setSpacing(8)
        body.addLayout(left, 1)
        body.addWidget(self.offers)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(14, 6, 10, 6)
        layout.setSpacing(6)
        layout.addWidget(head)
        layout.addLayout(body, 1)
        self.sheet.chosen.connect(lambda j: self.session.look(comparison=j))
        self.panel.chosen.connect(lambda i: self.session.look(comparison=i))
        self.sheet.level_taken.connect(self.take_level)
        self.sheet.stood.connect(self._stand)
        self.sheet.asked_another.connect(self.ask_another)

    def _make_pages(self) -> None:
        """The sheet, the overview, why there is nothing, and the typed line."""
        self.sheet, self.panel = CodeSheet(), OverviewPanel()
        self.said = QLabel()
        self.said.setObjectName("soft")
        self.said.setWordWrap(True)
        self.said.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.said.setAccessibleName("Why nothing is shown")
        self.pages = QStackedWidget()
        self.scrolls: list[QScrollArea] = []
        for inner in (self.sheet, self.panel):
            scroll = QScrollArea()
            scroll.setWidget(inner)
            scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
            scroll.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
            scroll.setAccessibleName(inner.accessibleName())
            ground = scroll.viewport()
            if ground is not None:
                ground.setObjectName("panel")
            self.scrolls.append(scroll)
            self.pages.addWidget(scroll)
        self.pages.addWidget(self.said)
        self.line = TypedLine(
            "Type a question",
            "",
            "Levels, “against”, levels: the first side is positive. Semicolons between "
            "questions, a name before a colon; Enter adds them",
            self._read,
            self._words,
        )
        self.line.accepted.connect(self._ask)
        self.line.left.connect(lambda: self.sheet.setFocus())

    def _make_offers(self) -> None:
        """The codings on offer beside the sheet."""
        self.offers = QWidget()
        offers = QVBoxLayout(self.offers)
        offers.setContentsMargins(6, 0, 0, 0)
        offers.setSpacing(1)
        title = QLabel("Or compare")
        title.setFont(font(13, "bold"))
        offers.addWidget(title)
        self.buttons: list[AskButton] = []
        for i, offer in enumerate(CODINGS):
            ask = AskButton(offer.coding, offer.short, offer.asks)
            ask.clicked.connect(partial(self.choose, i))
            offers.addWidget(ask)
            self.buttons.append(ask)
        offers.addStretch(1)
        self.offers.setFixedWidth(ASK_WIDTH)

    # ---- what it shows

    @property
    def name(self) -> str:
        """The group it is about."""
        return self.prepared.name if self.prepared is not None else ""

    @property
    def card(self) -> CodeCard | None:
        """The comparisons, where they are what is shown."""
        return self.prepared.card if self.prepared is not None else None

    @property
    def coding(self) -> Coding:
        """What the group asks in the study as it is now."""
        study = self.session.study
        return study.model.coding(self.name)

    def show_prepared(self, prepared: Prepared) -> None:
        """Show what was computed of a group."""
        if self.prepared is not None and self.prepared.name != prepared.name:
            self.line.clear()
        self.prepared = prepared
        self.renew()

    def renew(self) -> None:
        """Show what is there, in the room there is."""
        prepared, desk = self.prepared, self.session.desk
        if prepared is None:
            return
        study, coding = prepared.study, self.coding
        at = CODINGS.index(offered(coding))
        self.asks.set_choices([(i, o.asks) for i, o in enumerate(CODINGS)], None, CODINGS[at].asks)
        for i, ask in enumerate(self.buttons):
            ask.setChecked(i == at)
        wide = self.width() >= NARROW
        is_sheet = desk.card in (CardView.COMPARISONS, CardView.COLUMNS)
        self.offers.setVisible(wide)
        for value, button in self.views.items():
            button.setChecked(value == desk.card)
        room = self.width() - 28 - (ASK_WIDTH + 8 if wide else 0)
        self.sheet.room = self.panel.room = max(360, room)
        self.intercept.setText("")
        refusal = prepared.refusal
        if prepared.card is not None:
            basis = prepared.card.basis
            self.intercept.setText(f"·  {intercept_is(study, basis, prepared.card.model.constant)}")
            if len(basis.levels) > MOST_LEVELS:
                refusal = (
                    f"{counted(len(basis.levels), 'level')} make {len(basis.levels) - 1} comparisons: too many to "
                    "draw. The ladder lists them; the groups themselves are at “groups alone”."
                )
        typing = is_sheet and isinstance(coding, Planned) and not refusal
        if typing:
            self.line.field.setPlaceholderText(question_example(study.variable(self.name)))
        if not typing and self.line.field.hasFocus():
            (self.sheet if is_sheet else self.panel).setFocus()
        self.line.setVisible(typing)
        if refusal:
            self.said.setText(refusal)
            self.pages.setCurrentWidget(self.said)
            self.pages.setFixedHeight(60)
        elif prepared.card is not None:
            self.sheet.show_card(study, prepared.card, prepared.what == CardView.COLUMNS, desk.comparison)
            self.pages.setCurrentWidget(self.scrolls[0])
            self._fit(self.scrolls[0], self.sheet)
        elif prepared.overview is not None:
            self.panel.show_overview(study, prepared.overview, desk.comparison)
            self.pages.setCurrentWidget(self.scrolls[1])
            self._fit(self.scrolls[1], self.panel)
        self.head.arrange()

    def _fit(self, scroll: QScrollArea, inside: QWidget) -> None:
        """As tall as what it shows; wider things scroll sideways."""
        bar = 12 if inside.width() > self.sheet.room else 0
        self.pages.setFixedHeight(inside.height() + bar + 2)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        QTimer.singleShot(0, self.renew)

    def sizeHint(self) -> QSize:
        return QSize(600, super().sizeHint().height())

    def _look_at(self, value: CardView, _checked: bool = False) -> None:
        self.session.look(card=value, comparison=None)

    # ---- changing

    def _edit(self, what: str, change: Edit, say: str = "") -> bool:
        study = self.session.study
        label = study.variable(self.name).label if self.name else ""
        return self.session.edit(f"{label}: {what}", change, say=say)

    def choose(self, index: int, _checked: bool = False) -> None:
        """Let the comparisons ask what the offer asks."""
        study = self.session.study
        coding = CODINGS[index].coding
        if not self.name:
            return
        if self.session.desk.card not in (CardView.COMPARISONS, CardView.COLUMNS):
            self.session.look(card=CardView.COMPARISONS, comparison=None)
        if offered(self.coding) is CODINGS[index]:
            self.renew()
            return
        before = study.model.constant
        done = self._edit(CODINGS[index].asks, lambda s: choose_coding(s, self.name, coding))
        after = self.session.study
        if done and after is not None and after.model.constant != before:
            self.session.say(
                "The intercept was removed: level means take its place."
                if before
                else "The intercept is in the model again."
            )
        self.session.look(comparison=None)
        self.renew()
        if isinstance(coding, Planned):
            self.line.field.setFocus()

    @property
    def is_shown(self) -> bool:
        """Whether a card with comparisons is to be seen."""
        return self.isVisible() and self.card is not None

    def _place(self) -> int | None:
        """The planned question that is chosen."""
        chosen = self.session.desk.comparison
        return self.sheet.place_of(chosen) if chosen is not None and chosen < self.sheet.n_columns else None

    def take_level(self, code: str) -> None:
        """Make a level the reference, or of effect codes the one without a comparison of its own."""
        study, coding = self.session.study, self.coding
        if not self.name:
            return
        label = study.variable(self.name).level(code).label
        if isinstance(coding, Dummy):
            self.session.edit(f"use {label} as the reference", lambda s: set_reference(s, self.name, code))
        elif isinstance(coding, Effect | WeightedEffect):
            kind = type(coding)
            self._edit(f"no comparison of {label}", lambda s: set_coding(s, self.name, kind(code)))

    def _stand(self, place: int, code: str, side: int) -> None:
        study = self.session.study
        label = study.variable(self.name).level(code).label
        where = {ONE: "on the + side", OTHER: "on the − side", OUT: "out"}[side]
        self._edit(f"{label} {where} of question {place + 1}", lambda s: stand(s, self.name, place, code, side))

    @action(
        "put the level on the + side",
        "Put the level on the + side of the chosen question",
        "+",
        scope=Scope.CARD,
        available="is_shown",
    )
    def plus(self) -> None:
        """The current level counts plus in the chosen question."""
        self._put(ONE)

    @action(
        "put the level on the − side",
        "Put the level on the − side of the chosen question",
        "-",
        scope=Scope.CARD,
        available="is_shown",
    )
    def minus(self) -> None:
        """The current level counts minus in the chosen question."""
        self._put(OTHER)

    @action(
        "leave the level out", "Leave the level out of the chosen question", "0", scope=Scope.CARD, available="is_shown"
    )
    def out(self) -> None:
        """The current level stands on no side of the chosen question."""
        self._put(OUT)

    def _put(self, side: int) -> None:
        if self._place() is None:
            self.session.say("Only planned comparisons have sides to put levels on; choose one of them.")
        elif self.session.desk.comparison is not None:
            self.sheet.stand(self.session.desk.comparison, side)

    @action(
        "use the level as the reference",
        "Compare every level with the current one",
        "R",
        scope=Scope.CARD,
        available="is_shown",
    )
    def take_current(self) -> None:
        """The current level becomes the reference."""
        if self.card is not None:
            if not isinstance(self.coding, Dummy | Effect | WeightedEffect):
                self.session.say(
                    "These comparisons have no reference; compare each level with a reference to have one."
                )
            self.take_level(self.card.levels[self.sheet.row])

    @action("swap sides", "Swap plus and minus of the chosen question", "T", scope=Scope.CARD, available="is_shown")
    def change_sides(self) -> None:
        """Turn the chosen question round."""
        place = self._place()
        if place is None:
            self.session.say("Only planned comparisons can be reversed; choose one of them.")
            return
        self._edit(f"question {place + 1} reversed", lambda s: change_sides(s, self.name, place))

    @action(
        "name the comparison",
        "Give the chosen comparison a name of its own",
        "F2",
        scope=Scope.CARD,
        available="is_shown",
    )
    def ask_name(self) -> None:
        """Ask for the name of the chosen comparison."""
        card, chosen = self.card, self.session.desk.comparison
        if card is None or chosen is None or chosen >= len(card.comparisons) or not card.comparisons[chosen].key:
            self.session.say(
                "Choose a comparison first. Those that the program added to complete the set have no name of their own."
            )
            return
        made = card.comparisons[chosen]
        text = self._dialogs.text("Name", "What is this comparison called? Empty: by its levels.", made.name)
        if text is not None:
            self._edit("name a comparison", lambda s: name_comparison(s, self.name, made.key, text))

    @action("remove the question", "Remove the chosen question", "Delete", scope=Scope.CARD, available="is_shown")
    def drop(self) -> None:
        """Take the chosen question out."""
        place = self._place()
        if place is None:
            self.session.say("Only planned comparisons can be removed; choose one of them.")
            return
        if self._edit(f"question {place + 1} removed", lambda s: drop_question(s, self.name, place)):
            self.session.look(comparison=None)

    @action(
        "add another question",
        "Make room for another question, to be filled level by level",
        "Insert",
        scope=Scope.CARD,
        available="is_shown",
    )
    def ask_another(self) -> None:
        """An empty question; its levels are put on the sides by click or key."""
        if not isinstance(self.coding, Planned):
            self.session.say("Choose “planned comparisons” first.")
            return
        if self._edit("another question", lambda s: ask_more(s, self.name, [Question()])):
            card = self.card
            if card is not None:
                self.session.look(comparison=len(card.comparisons))
            self.sheet.setFocus()

    @action("complete the questions", "Add the questions that complete the set to your own", available="is_shown")
    def complete(self) -> None:
        """Make the program's questions one's own."""
        card = self.card
        if card is None or not isinstance(self.coding, Planned) or card.basis.n_asked is None:
            return
        more = [c.weights for c in card.comparisons[card.basis.n_asked : card.n_coded]]
        levels = np.array(card.levels)
        questions = [Question("", tuple(levels[row > 0]), tuple(levels[row < 0])) for row in more]
        if questions:
            self._edit("complete the questions", lambda s: ask_more(s, self.name, questions))

    @action("space the levels", "Give the levels of trends their places, as in 0, 1, 2, 5", available="is_shown")
    def space(self) -> None:
        """Ask for the places of the levels on the axis of the trends."""
        card, coding = self.card, self.coding
        if card is None or not isinstance(coding, Trends):
            self.session.say("Only trends have levels with places of their own.")
            return
        known = dict(coding.spacing)
        now = ", ".join(f"{known.get(code, float(i)):g}" for i, code in enumerate(card.levels))
        text = self._dialogs.text("Places", "At which places are the levels, in their order?", now)
        if text is None:
            return
        places = typed_numbers(text)
        if isinstance(places, str):
            self.session.say(f"“{places}” is not a number; places are written as “0 1 2.5”.")
            return
        if len(places) != len(card.levels) or len(set(places)) < len(places):
            self.session.say(f"{len(card.levels)} different places are needed, one for each level.")
            return
        spacing = tuple(zip(card.levels, places, strict=True))
        self._edit("places of the levels", lambda s: set_coding(s, self.name, Trends(spacing, names=coding.names)))

    # ---- the typed line

    @action("type questions", "Put the keyboard on the line for planned comparisons", available="is_shown")
    def type_questions(self) -> None:
        """Ask questions of our own, and type them."""
        if not isinstance(self.coding, Planned):
            self.choose(next(i for i, o in enumerate(CODINGS) if isinstance(o.coding, Planned)))
        self.line.begin()

    def _read(self, text: str) -> str | Mistake:
        study = self.session.study
        if not self.name:
            return ""
        read = read_questions(study.variable(self.name), text)
        return read if isinstance(read, Mistake) else f"asks {counted(len(read), 'question')}"

    def _words(self, text: str, cursor: int) -> tuple[int, list[str]]:
        study = self.session.study
        if not self.name:
            return cursor, []
        before = text[:cursor]
        start = max(before.rfind(mark) for mark in (",", ";", ":")) + 1
        for word in (" against ", " and "):
            place = before.casefold().rfind(word)
            start = max(start, place + len(word)) if place >= 0 else start
        start += len(before[start:]) - len(before[start:].lstrip())
        typed = before[start:].casefold()
        labels = [x.label for x in study.variable(self.name).levels]
        fits = [label for label in labels if label.casefold().startswith(typed) and label.casefold() != typed]
        return (start, fits) if typed else (start, [])

    def _ask(self, text: str) -> None:
        study = self.session.study
        read = read_questions(study.variable(self.name), text)
        if read is None or isinstance(read, Mistake):
            return
        if self._edit(f"ask {text}", lambda s: ask_more(s, self.name, read)):
            self.line.clear()
