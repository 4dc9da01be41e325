"""The strip of the chosen part: one line with what can be said otherwise of it, in its place on the figure."""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeVar, assert_never

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QLabel, QPushButton, QToolButton, QWidget

from yellow_slope.app.report.canvas import put_back
from yellow_slope.app.state.figured import Figured
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.widgets.field import Field
from yellow_slope.app.widgets.picker import Picker
from yellow_slope.core.study.figures import (
    AxisKey,
    AxisTuning,
    CasesAs,
    Figure,
    GroundAs,
    Hue,
    LegendAs,
    LineKey,
    Marker,
    Pattern,
    RegionAs,
    Role,
    TextKey,
)
from yellow_slope.core.typed import typed_number
from yellow_slope.core.words.spelling.numerals import MINUS
from yellow_slope.plots.parts import PartRef, Thing, size_key, words_key
from yellow_slope.values import replace

SIZES_OFFERED = (6.0, 7.0, 8.0, 9.0, 10.0, 11.0, 12.0, 14.0, 16.0, 18.0, 24.0)
WIDTHS_OFFERED = (0.5, 0.75, 1.0, 1.5, 2.0, 2.5, 3.0, 4.0)
BANDS: tuple[tuple[float | None, str], ...] = ((None, "as usual"), (0.0, "none"), (0.06, "faint"), (0.3, "strong"))
T = TypeVar("T")


class PartStrip(QFrame):
    """Made anew for the part that is chosen."""

    tuned = pyqtSignal(str, object)
    """What was done, and the figure after it."""
    named = pyqtSignal(object, str)
    """A level is to be called so everywhere: its key and the name."""
    done = pyqtSignal()
    """Esc: the keyboard goes back to the figure."""

    def __init__(self, session: StudySession, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.setObjectName("popup")
        self.setAccessibleName("Settings of the chosen part")
        self._row = QHBoxLayout(self)
        self._row.setContentsMargins(6, 4, 6, 4)
        self._row.setSpacing(5)
        self._shown: tuple[PartRef, Figure] | None = None
        self._widgets: list[QWidget] = []
        self.first: QWidget | None = None

    # ---- showing

    def show_part(self, found: Figured | None, part: PartRef | None) -> None:
        """Show what can be said of a part; nothing where none is chosen."""
        key = (part, found.figure) if found is not None and found.parts is not None and part is not None else None
        if key is None or found is None or part is None:
            self._shown = None
            self.hide()
            return
        if key == self._shown:
            return
        again = self._shown is not None and self._shown[0] == part
        focused = next((i for i, w in enumerate(self._widgets) if w.hasFocus()), None) if again else None
        self._shown = key
        self._clear()
        self._fill(found, part)
        self.adjustSize()
        if focused is not None and focused < len(self._widgets):
            self._widgets[focused].setFocus()

    def _clear(self) -> None:
        for widget in self._widgets:
            self._row.removeWidget(widget)
            widget.hide()
            widget.setParent(None)
            widget.deleteLater()
        self._widgets, self.first = [], None

    def _put(self, widget: QWidget) -> None:
        self._row.addWidget(widget)
        widget.setVisible(True)  # beside a strip that is seen it would be only when events are next processed
        self._widgets.append(widget)
        if self.first is None and not isinstance(widget, QLabel):
            self.first = widget

    def _fill(self, found: Figured, part: PartRef) -> None:
        figure = found.figure
        match part:
            case TextKey():
                self._fill_text(found, part)
            case LineKey():
                self._fill_line(found, part)
            case AxisKey():
                self._fill_axis(figure, part)
            case Thing.BANDS:
                said = figure.parts.band
                offered = [
                    *BANDS,
                    *([(said, f"{100 * said:.0f} %")] if said not in {b for b, _ in BANDS} and said else []),
                ]
                self._choice("Bands of intervals", "How strong the bands are", offered, said, self._set_parts("band"))
            case Thing.CASES:
                cases = [(c, c.label) for c in CasesAs]
                now = figure.parts.cases or CasesAs.DOTS
                self._choice("Cases", "How cases are drawn", cases, now, self._set_parts("cases"))
                self._switch("spread", "Jitter cases with whole numbers a little", figure.parts.jitter, "jitter")
            case Thing.REGION:
                regions = [(r, r.label) for r in RegionAs]
                region = figure.parts.region or RegionAs.WASH
                self._choice("Regions", "How regions are drawn", regions, region, self._set_parts("region"))
            case Thing.KEY:
                self._legend(figure)
            case Thing.GROUND:
                self._title(figure)
                grounds = [(g, g.label) for g in GroundAs]
                self._choice(
                    "Ground", "What is behind the figure", grounds, figure.parts.ground, self._set_parts("ground")
                )
                self._legend(figure)
                self._all_parts(figure)
            case _:
                assert_never(part)
        self._button("reset", "Reset this part to the look", lambda: self._put_back(part))

    def _title(self, figure: Figure) -> None:
        """The words above the whole figure; most journals want none."""
        field = Field(figure.title or "")
        field.setPlaceholderText("no title")
        field.setMinimumWidth(150)
        field.setAccessibleName("Title above the figure")
        field.setToolTip("Words above the figure; most journals want none there. Enter accepts them")

        def take() -> None:
            if self._shown is not None:
                title = field.text().strip() or None
                self._tune("title of the figure", replace(self._shown[1], title=title))

        field.returnPressed.connect(take)
        self._put(field)

    def _legend(self, figure: Figure) -> None:
        choices = [(where, where.label) for where in LegendAs]
        now = figure.parts.legend
        self._choice(
            "Names of lines", "Where the names of lines are placed", choices, now, self._set_parts("legend"), "names "
        )

    def _all_parts(self, figure: Figure) -> None:
        """What could not be clicked on because it is not drawn."""
        if figure.parts.cases is CasesAs.NONE:
            cases = [(c, c.label) for c in CasesAs]
            self._choice("Cases", "How cases are drawn", cases, CasesAs.NONE, self._set_parts("cases"), "cases ")
        if figure.parts.band == 0.0:
            self._choice(
                "Bands of intervals", "How strong bands are", list(BANDS), 0.0, self._set_parts("band"), "bands "
            )
        if figure.parts.region is RegionAs.NONE:
            regions = [(r, r.label) for r in RegionAs]
            self._choice(
                "Regions", "How regions are drawn", regions, RegionAs.NONE, self._set_parts("region"), "regions "
            )
        hidden = [key for key, said in figure.texts if said.hidden]
        if hidden:
            self._button(f"show {len(hidden)} hidden", "Show hidden texts again", lambda: self._show_all(hidden))

    # ---- texts

    def _fill_text(self, found: Figured, key: TextKey) -> None:
        assert found.parts is not None
        figure, own = found.figure, words_key(key)
        is_ready = key.role not in (Role.X_TICKS, Role.Y_TICKS)
        if is_ready:
            field = Field(found.parts.said(key))
            field.setMinimumWidth(170)
            field.setAccessibleName("Words of this text")
            if key.line is not None and key.line in found.codes:
                field.setToolTip("This is a code: type the name; Enter for this figure, Ctrl+Enter everywhere")
            else:
                field.setToolTip("The words of this text; Enter accepts them")
            field.returnPressed.connect(lambda: self._say(field, own))
            self._put(field)
        size = figure.text(size_key(key)).size
        offered = [(None, f"{figure.points:g} pt, as the figure"), *((s, f"{s:g} pt") for s in SIZES_OFFERED)]
        if size is not None and size not in SIZES_OFFERED:
            offered.append((size, f"{size:g} pt"))

        def resize(points: float | None) -> None:
            whole = size_key(key)
            self._tune("size of letters", figure.with_text(whole, replace(figure.text(whole), size=points)))

        kind = "Size of these letters, of all of this kind in this plot"
        self._choice("Size of letters", kind, offered, size, resize)
        text = found.parts.text(key)
        self._italic(figure, key, text is not None and text.italic)
        self._button("hide", "Hide this text", lambda: self._hide_text(figure, key))

    def _say(self, field: Field, key: TextKey) -> None:
        if self._shown is None:
            return
        figure, words = self._shown[1], field.text().strip()
        self._tune("words of the figure", figure.with_text(key, replace(figure.text(key), words=words or None)))

    def _italic(self, figure: Figure, key: TextKey, now: bool) -> None:
        button = QToolButton()
        button.setText("slanted")
        button.setObjectName("chip")
        button.setCheckable(True)
        button.setChecked(now)
        button.setFixedHeight(30)
        button.setAccessibleName("Slanted letters")
        button.setToolTip("Whether these letters are slanted")

        def turn(on: bool) -> None:
            said = replace(figure.text(key), italic=on or None)
            self._tune("slant of the figure's letters", figure.with_text(key, said))

        button.toggled.connect(turn)
        self._put(button)

    def _hide_text(self, figure: Figure, key: TextKey) -> None:
        self.session.look(part=None)
        self._tune("text of the figure hidden", figure.with_text(key, replace(figure.text(key), hidden=True)))

    def _show_all(self, hidden: list[TextKey]) -> None:
        if self._shown is not None:
            figure = self._shown[1]
            for key in hidden:
                figure = figure.with_text(key, replace(figure.text(key), hidden=False))
            self._tune("texts of the figure shown again", figure)

    # ---- lines

    def _fill_line(self, found: Figured, key: LineKey) -> None:
        assert found.parts is not None
        figure = found.figure
        said = figure.line(key)
        field = Field(found.parts.line_name(key))
        field.setMinimumWidth(130)
        field.setAccessibleName("Name of this line")
        field.setToolTip("Its name on this figure; Ctrl+Enter renames it everywhere")
        field.returnPressed.connect(lambda: self._say(field, TextKey(Role.LINE, line=key)))
        self._put(field)

        def with_line(**changes: object) -> None:
            self._tune("look of a line", figure.with_line(key, replace(said, **changes)))  # type: ignore[arg-type]

        hues: list[tuple[Hue | None, str]] = [(None, "hue"), *((h, h.label) for h in Hue)]
        self._choice(
            "Hue",
            "Hues remain distinct in grey and for color-blind readers",
            hues,
            said.hue,
            lambda h: with_line(hue=h),
        )
        patterns: list[tuple[Pattern | None, str]] = [(None, "pattern"), *((p, p.label) for p in Pattern)]
        self._choice("Pattern", "How the line is drawn", patterns, said.pattern, lambda p: with_line(pattern=p))
        widths: list[tuple[float | None, str]] = [(None, "width"), *((w, f"{w:g} pt") for w in WIDTHS_OFFERED)]
        self._choice("Width", "How wide the line is", widths, said.width, lambda w: with_line(width=w))
        markers: list[tuple[Marker | None, str]] = [(None, "points"), *((m, m.label) for m in Marker)]
        self._choice("Points", "The shape of its points", markers, said.marker, lambda m: with_line(marker=m))
        first = QToolButton()
        first.setText("first")
        first.setObjectName("chip")
        first.setCheckable(True)
        first.setChecked(said.first)
        first.setFixedHeight(30)
        first.setAccessibleName("First")
        first.setToolTip("Before the others in the box of names, and drawn over them")
        first.toggled.connect(lambda on: with_line(first=on))
        self._put(first)

    # ---- axes

    def _fill_axis(self, figure: Figure, key: AxisKey) -> None:
        said = figure.axis(key)

        def number(name: str, label: str, help: str, now: float | None) -> None:
            word = QLabel(label)
            word.setObjectName("softpanel")
            self._put(word)
            field = Field("" if now is None else f"{now:.10g}".replace("-", MINUS))
            field.setFixedWidth(64)
            field.setPlaceholderText("usual")
            field.setAccessibleName(help)
            field.setToolTip(f"{help}; empty: automatic")
            field.returnPressed.connect(lambda: self._set_axis(key, name, field))
            self._put(field)

        number("low", "from", "Where the axis begins", said.low)
        number("high", "to", "Where the axis ends", said.high)
        number("step", "ticks every", "From one tick to the next", said.step)
        decimals: list[tuple[int | None, str]] = [
            (None, "decimals: automatic"),
            *((d, f"{d} decimals") for d in range(5)),
        ]
        self._choice(
            "Decimals", "Decimals of the numbers", decimals, said.decimals, lambda d: self._axis(key, decimals=d)
        )
        zero = QToolButton()
        zero.setText("line at 0")
        zero.setObjectName("chip")
        zero.setCheckable(True)
        zero.setChecked(bool(said.zero))
        zero.setFixedHeight(30)
        zero.setAccessibleName("Line at zero")
        zero.setToolTip("A line at 0, where the axis has it")
        zero.toggled.connect(lambda on: self._axis(key, zero=on or None))
        self._put(zero)

    def _set_axis(self, key: AxisKey, name: str, field: Field) -> None:
        value = typed_number(field.text())
        if value is None and field.text().strip():
            self.session.say(f"“{field.text().strip()}” is not a number; nothing was changed.")
            return
        self._axis(key, **{name: value})

    def _axis(self, key: AxisKey, **changes: object) -> None:
        if self._shown is not None:
            figure = self._shown[1]
            said: AxisTuning = replace(figure.axis(key), **changes)  # type: ignore[arg-type]
            self._tune("axis of the figure", figure.with_axis(key, said))

    # ---- what all have

    def _choice(
        self, name: str, help: str, choices: list[tuple[T, str]], now: T, chosen: Callable[[T], object], lead: str = ""
    ) -> None:
        picker = Picker[T](name, help)
        picker.limit = 22
        picker.set_choices([(value, f"{lead}{text}") for value, text in choices], now)
        picker.whenever_chosen(chosen)
        self._put(picker)

    def _switch(self, text: str, help: str, now: bool, name: str) -> None:
        button = QToolButton()
        button.setText(text)
        button.setObjectName("chip")
        button.setCheckable(True)
        button.setChecked(now)
        button.setFixedHeight(30)
        button.setAccessibleName(help)
        button.setToolTip(help)
        button.toggled.connect(lambda on: self._set_parts(name)(on))
        self._put(button)

    def _button(self, text: str, help: str, run: Callable[[], object]) -> None:
        button = QPushButton(text)
        button.setObjectName("link")
        button.setAccessibleName(help)
        button.setToolTip(help)
        button.clicked.connect(lambda _=False: run())
        self._put(button)

    def _set_parts(self, name: str) -> Callable[[object], None]:
        def change(value: object) -> None:
            if self._shown is not None:
                figure = self._shown[1]
                parts = replace(figure.parts, **{name: value})  # type: ignore[arg-type]
                self._tune("parts of the figure", replace(figure, parts=parts))

        return change

    def _put_back(self, part: PartRef) -> None:
        if self._shown is not None:
            figure = put_back(self._shown[1], part)
            if figure != self._shown[1]:
                self._tune("reset a part of the figure", figure)

    def _tune(self, what: str, figure: Figure) -> None:
        self.tuned.emit(what, figure)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        enter = event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter)
        if event.key() == Qt.Key.Key_Escape:
            self.done.emit()
        elif enter and event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self._everywhere()
        elif not enter:
            super().keyPressEvent(event)

    def _everywhere(self) -> None:
        """The typed name is that of the level in the whole study."""
        if self._shown is None or not isinstance(self.first, Field):
            return
        part = self._shown[0]
        key = part if isinstance(part, LineKey) else part.line if isinstance(part, TextKey) else None
        if key is not None and self.first.text().strip():
            self.named.emit(key, self.first.text().strip())
