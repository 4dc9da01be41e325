"""Figures of a probed product: the interaction plot and the effect along the moderator, on screen and in print."""

from __future__ import annotations

import io
import textwrap
import threading
from collections.abc import Iterator
from contextlib import AbstractContextManager, contextmanager
from typing import Any

import matplotlib
import numpy as np
from matplotlib.axes import Axes
from matplotlib.backends.backend_agg import FigureCanvasAgg
from matplotlib.figure import Figure
from matplotlib.font_manager import fontManager

from yellow_slope import looks
from yellow_slope.core.arrays import FloatArray
from yellow_slope.core.data.variable import shortened
from yellow_slope.core.errors import FileError
from yellow_slope.core.fit.design.bases import GroupBasis, NumberBasis
from yellow_slope.core.fit.fitted.inference import ConditionalEffect
from yellow_slope.core.probe.places import Everywhere
from yellow_slope.core.probe.probed import Probed
from yellow_slope.core.probe.probing import MOST_LINES
from yellow_slope.core.probe.regions import Region
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.names.groups import level_label
from yellow_slope.core.words.names.numbers import unit_of
from yellow_slope.core.words.sentences.effects import EffectReader
from yellow_slope.core.words.spelling.numerals import place
from yellow_slope.looks import LIGHT

GRID = 120
LEAST_DPI, MOST_DPI = 30, 1200
"""Twice what a journal asks for; more would not fit into memory."""
MOST_DOTS = MOST_LINES
"""More rows or groups than this are not drawn: nobody could tell them apart."""
_fonts_loaded = False
_style_lock = threading.RLock()
"""The style is one for the whole process; the report may be drawn beside the window."""


@contextmanager
def figure_style(size: float = looks.FIGURE_TEXT) -> Iterator[None]:
    """Matplotlib set up with the bundled font and the product's quiet lines."""
    global _fonts_loaded
    with _style_lock:
        if not _fonts_loaded:
            for path in looks.FONT_FILES:
                fontManager.addfont(str(path))
            _fonts_loaded = True
        with _context(size):
            yield


def _context(size: float) -> AbstractContextManager[None]:
    return matplotlib.rc_context(
        {
            "font.family": looks.FONT_FAMILY,
            "font.size": size,
            "axes.edgecolor": LIGHT.ink,
            "axes.labelcolor": LIGHT.ink,
            "axes.linewidth": 0.8,
            "axes.spines.top": False,
            "axes.spines.right": False,
            "axes.unicode_minus": True,
            "xtick.color": LIGHT.ink,
            "ytick.color": LIGHT.ink,
            "xtick.major.width": 0.8,
            "ytick.major.width": 0.8,
            "text.color": LIGHT.ink,
            "svg.fonttype": "path",
            "svg.hashsalt": "yellow-slope",
            "figure.facecolor": LIGHT.panel,
            "savefig.facecolor": LIGHT.panel,
        }
    )


def new_figure(width: float, height: float, dpi: float) -> Figure:
    """A figure of that size in inches with a canvas that draws to memory."""
    figure = Figure(figsize=(width, height), dpi=dpi)
    FigureCanvasAgg(figure)
    return figure


def wash() -> str:
    """Slope yellow as a wash on white."""
    return looks.blended(LIGHT.yellow, LIGHT.panel, LIGHT.wash)


class ProbeFigures:
    """Draws the two plots of a probed product into axes."""

    def __init__(self, study: Study, probed: Probed, focus: int = 0, points: bool = True, panel: int = 0) -> None:
        self.study, self.fit, self.probed, self.focus, self.points = study, probed.fit, probed, focus, points
        self.panel = probed.panels[panel]
        self.read = EffectReader(study, probed, panel)

    # ---- interaction plot

    def interaction(self, ax: Axes) -> None:
        """Predicted outcome by the focal predictor, or along the moderator with a line for each focal group."""
        outcome = self.study.variable(self.probed.model.outcome or "")
        ax.set_ylabel(plain(f"{outcome.label}, predicted"))
        if not self.panel.lines:
            if self.panel.means:
                self._cell_means(ax)
            else:
                ax.text(
                    0.5, 0.5, "no case tells of these lines", transform=ax.transAxes, ha="center", color=LIGHT.soft_ink
                )
            return
        x = self.probed.x
        assert x is not None
        grid = np.linspace(x.low, x.high, GRID)
        ax.set_xlabel(plain(self.study.variable(x.variable).axis_label))
        ax.set_xlim(*_span(x))
        if self.probed.focal is not x:
            self._washes(ax)
        if self.points:
            self._scatter(ax, x)
        ends: list[tuple[float, str, str]] = []
        for i, line in enumerate(self.panel.lines):
            hue, pattern = self._line_look(line.place if line.place is not None else line.level or 0)
            values = line.curve.effect(grid)
            low, high = line.curve.band(grid)
            if line.curve.has_errors:
                ax.fill_between(grid, low, high, color=hue, alpha=0.12, linewidth=0)
            ax.plot(grid, values, color=hue, linewidth=1.9, dashes=pattern or (None, None))
            ends.append((float(values[-1]), self._line_name(i), LIGHT.ink))
        if self.points:
            self._fit_heights(ax)
        _end_labels(ax, ends)

    def _line_look(self, index: int) -> tuple[str, tuple[float, ...]]:
        if isinstance(self.probed.focal, NumberBasis) and isinstance(self.probed.moderator, NumberBasis):
            n = len(self.probed.places)
            return looks.moderator_hue(index, n), looks.MODERATOR_PATTERNS[index % 3]
        return looks.group_hue(index), looks.PATTERNS[index % 4]

    def _line_name(self, index: int) -> str:
        return self.read.line_name(index)

    def longest_end(self) -> int:
        """Characters of the longest label at a line's end."""
        return max((len(self._line_name(i)) for i in range(len(self.panel.lines))), default=4)

    def tick_width(self) -> int:
        """Characters of the widest tick label of the effect axis, as it will be written."""
        curve = self.panel.foci[self.focus].curve
        if curve is None or not curve.is_estimable:
            return 0
        assert isinstance(self.probed.moderator, NumberBasis)
        grid = np.linspace(*_span(self.probed.moderator), 9)
        low, high = curve.band(grid) if curve.has_errors else (curve.effect(grid), curve.effect(grid))
        least, most = min(0.0, float(low.min())), max(0.0, float(high.max()))
        decimals = max(0, 1 - int(np.floor(np.log10(max(most - least, 1e-300)))))
        return max(len(f"{least:.{decimals}f}"), len(f"{most:.{decimals}f}"))

    def handle_end(self) -> int:
        """Characters of the label that the handle's own line bears; 0 where it has none."""
        both = isinstance(self.probed.focal, NumberBasis) and isinstance(self.probed.moderator, NumberBasis)
        if both and not self.probed.by_itself:
            return len(self.study.variable(self.probed.moderator.variable).short) + 6
        return 0

    def longest_row(self) -> int:
        """Characters of the longest row name of the effect dots."""
        return max((len(name) for name in self._row_names()), default=4)

    def _rows(self) -> list[tuple[str, ConditionalEffect, bool]]:
        """Name, effect and whether it is an effect (else a difference) of each row of dots, of those that can be seen."""
        focus = self.panel.foci[self.focus]
        if isinstance(self.probed.places[0], Everywhere):
            return [
                (shortened(self.read.focus_name(k, 15), 30), f.effects[0], True)
                for k, f in enumerate(self.panel.foci[:MOST_DOTS])
            ]
        found = [
            (shortened(self.read.place_name(i)), effect, True) for i, effect in enumerate(focus.effects[:MOST_DOTS])
        ]
        room = max(0, 10 - len(focus.effects))
        for d in focus.differences[:room]:
            names = (shortened(self.read.place_name(i), 15) for i in (d.of, d.minus))
            found.append((" − ".join(names), d.effect, False))
        return found

    def _row_names(self) -> list[str]:
        return [name for name, _, _ in self._rows()]

    def _scatter(self, ax: Axes, x: NumberBasis) -> None:
        values = np.asarray(self.fit.values[x.variable], dtype=np.float64)
        group = self.probed.focal if isinstance(self.probed.focal, GroupBasis) else self.probed.moderator
        if isinstance(group, GroupBasis):
            for i in range(min(len(group.levels), MOST_DOTS)):
                here = self.fit.values[group.variable] == i
                ax.plot(
                    values[here],
                    self.fit.y[here],
                    looks.MARKS[i % 4],
                    ms=3,
                    mew=0,
                    alpha=0.35,
                    color=looks.group_hue(i),
                )
        else:
            ax.plot(values, self.fit.y, "o", ms=3, mew=0, alpha=0.3, color=LIGHT.faint_ink)

    def _fit_heights(self, ax: Axes) -> None:
        low, high = np.quantile(self.fit.y, [0.002, 0.998])
        bottom, top = ax.get_ylim()
        room = 0.04 * (high - low)
        lines = np.concatenate([np.asarray(line.get_ydata(), dtype=float) for line in ax.lines])
        ax.set_ylim(max(bottom, min(low, lines.min()) - room), min(top, max(high, lines.max()) + room))

    def _cell_means(self, ax: Axes) -> None:
        focal = self.probed.focal
        assert isinstance(focal, GroupBasis)
        places = range(len(self.probed.places))
        names = [shortened(self.read.place_name(i)) for i in places]
        alone = isinstance(self.probed.places[0], Everywhere)
        k = len(focal.levels)
        for i in range(min(k, MOST_DOTS)):
            effects = self.panel.means[i]
            here = [j for j in range(len(effects)) if effects[j].exists]
            offset = i if alone else (i - (k - 1) / 2) * min(0.16, 0.6 / k)
            at = np.array([j + offset for j in here])
            means = np.array([effects[j].effect for j in here])
            low = np.nan_to_num(means - [effects[j].low for j in here])
            ax.errorbar(
                at, means, yerr=low, fmt=looks.MARKS[i % 4], color=looks.group_hue(i), ms=5, linewidth=1.2,
                label=plain(shortened(level_label(self.study, focal, i))),
            )  # fmt: skip
            if not alone and k > len(looks.MARKS):
                for x, effect in zip(at, (effects[j] for j in here)):
                    top = effect.high if np.isfinite(effect.high) else effect.effect
                    name = plain(shortened(level_label(self.study, focal, i), 12))
                    ax.annotate(
                        name, (x, top), xytext=(0, 2), textcoords="offset points", ha="center", va="bottom",
                        fontsize="x-small", color=LIGHT.soft_ink, rotation=0 if len(name) < 3 else 90,
                    )  # fmt: skip
        if alone:
            names = [shortened(level_label(self.study, focal, i), 12) for i in range(min(k, MOST_DOTS))]
        ax.set_xticks(range(len(names)), [plain(name) for name in names])
        ax.set_xlabel(plain(self.read.moderator_label))
        ax.set_xlim(-0.5, len(names) - 0.5)
        if not alone and k > len(looks.MARKS):
            ax.margins(y=0.18)
        elif not alone:
            ax.legend(frameon=False, title=plain(self.read.focal_label), loc="best")

    # ---- effect plot

    def effect(self, ax: Axes, below: Axes | None) -> None:
        """The focal effect along the moderator with band, regions and, below, the moderator's distribution."""
        if isinstance(self.probed.moderator, GroupBasis):
            self._effect_dots(ax)
            if below is not None:
                below.set_visible(False)
            return
        moderator = self.probed.moderator
        found = self.panel.foci[self.focus]
        assert found.curve is not None
        grid = np.linspace(moderator.low, moderator.high, GRID)
        hue = LIGHT.groups[0]
        ax.set_xlim(*_span(moderator))
        if found.curve.is_estimable:
            self._washes(ax, words=True)
            if found.curve.has_errors:
                low, high = found.band(grid)
                ax.fill_between(grid, low, high, color=hue, alpha=0.18, linewidth=0)
                ax.plot(grid, low, color=hue, linewidth=0.7)
                ax.plot(grid, high, color=hue, linewidth=0.7)
            ax.plot(grid, found.curve.effect(grid), color=hue, linewidth=2)
        else:
            ax.text(0.5, 0.5, "no case tells of it", transform=ax.transAxes, ha="center", color=LIGHT.soft_ink)
        ax.axhline(0, color=LIGHT.ink, linewidth=0.8)
        ax.set_ylabel(plain(self.effect_label()))
        label = self.study.variable(moderator.variable).axis_label
        if below is None:
            ax.set_xlabel(plain(label))
            return
        ax.tick_params(labelbottom=False)
        self._histogram(below, moderator)
        below.set_xlabel(plain(label))

    def effect_label(self) -> str:
        """The effect axis in words, with units."""
        outcome = self.study.variable(self.probed.model.outcome or "")
        if isinstance(self.probed.focal, NumberBasis):
            variable = self.study.variable(self.probed.focal.variable)
            per = unit_of(variable, self.probed.focal)
            name = variable.label if len(variable.label) <= 24 else variable.short
            return f"slope of {name}" + (f" ({outcome.many} per {per})" if outcome.unit or variable.unit else "")
        if isinstance(self.probed.places[0], Everywhere):
            return f"difference in {outcome.label if len(outcome.label) <= 24 else outcome.short}"
        return self.read.focus_name(self.focus, 20) + (f" ({outcome.many})" if outcome.unit else "")

    def _histogram(self, ax: Axes, moderator: NumberBasis) -> None:
        values = np.asarray(self.probed.observed, dtype=np.float64)
        bins = min(24, max(6, int(np.sqrt(values.size) * 1.5)))
        for region in self.regions():
            if region.sign:
                ax.axvspan(max(region.low, moderator.low), min(region.high, moderator.high), color=wash(), linewidth=0)
        ax.hist(values, bins=bins, range=_span(moderator), color=LIGHT.shade, edgecolor=LIGHT.panel, linewidth=0.7)
        ax.set_yticks([])
        ax.spines["left"].set_visible(False)
        ax.set_xlim(*_span(moderator))

    def regions(self) -> tuple[Region, ...]:
        """The regions of the comparison in focus."""
        found = self.panel.foci[self.focus].regions
        return found.within if found is not None else ()

    def _washes(self, ax: Axes, words: bool = False) -> None:
        moderator = self.probed.moderator
        assert isinstance(moderator, NumberBasis)
        span = moderator.high - moderator.low
        for region in self.regions():
            low, high = max(region.low, moderator.low), min(region.high, moderator.high)
            if low >= high:
                continue
            if region.sign:
                ax.axvspan(low, high, color=wash(), linewidth=0, zorder=0)
            if np.isfinite(region.high) and moderator.low < region.high < moderator.high:
                ax.axvline(region.high, color=LIGHT.ink, linewidth=1, dashes=(4, 3))
                if words:
                    ax.annotate(
                        place(region.high, moderator.sd), (region.high, 1), xycoords=("data", "axes fraction"),
                        xytext=(0, 3), textcoords="offset points", ha="center", va="bottom", weight="bold", fontsize="medium",
                    )  # fmt: skip
            if words and region.sign:
                text = self.read.region(self.focus, region.sign)
                left = region.low > moderator.low
                upright = (high - low) / span * _inches(ax) < 0.066 * len(text)
                ax.annotate(
                    plain(text), (low if left else high, 0), xycoords=("data", "axes fraction"), xytext=(5 if left else -5, 6),
                    textcoords="offset points", ha="left" if left else "right", va="bottom", color=LIGHT.amber_ink, fontsize="small",
                    rotation=90 if upright else 0,
                )  # fmt: skip

    def _effect_dots(self, ax: Axes) -> None:
        rows = self._rows()
        n = sum(is_effect for _, _, is_effect in rows)
        start = n + 0.6
        ticks: list[float] = []
        lines = isinstance(self.probed.focal, NumberBasis)
        for row, (_, e, is_effect) in enumerate(rows):
            at = float(row) if is_effect else start + (row - n)
            ticks.append(at)
            if not e.exists:
                ax.text(
                    0.02,
                    at,
                    "no case tells of it",
                    transform=ax.get_yaxis_transform(),
                    va="center",
                    color=LIGHT.soft_ink,
                    fontsize="small",
                )
                continue
            hue = looks.group_hue(row) if lines and is_effect else (LIGHT.ink if is_effect else LIGHT.soft_ink)
            mark = looks.MARKS[row % 4] if is_effect else "o"
            low, high = (e.effect, e.effect) if np.isnan(e.low) else (e.low, e.high)
            _dot(ax, at, e.effect, low, high, hue, mark, filled=is_effect)
        ax.set_yticks(ticks, [plain(name) for name, _, _ in rows])
        ax.set_ylim((ticks[-1] + 1 if len(rows) > n else n) - 0.4, -0.6)
        ax.axvline(0, color=LIGHT.ink, linewidth=0.8)
        if len(rows) > n:
            ax.axhline(start - 0.8, color=LIGHT.line, linewidth=0.8)
        ax.set_xlabel(plain(self.effect_label()))


def plain(text: str) -> str:
    """A name as it is: no mark in it is read as mathematics."""
    return text.replace("$", r"\$")


def _span(basis: NumberBasis) -> tuple[float, float]:
    """The observed range, widened where all values are the same."""
    return (basis.low, basis.high) if basis.high > basis.low else (basis.low - 0.5, basis.high + 0.5)


def _inches(ax: Axes) -> float:
    """Width of the axes in inches."""
    figure = ax.get_figure()
    assert figure is not None
    return float(ax.get_position().width * figure.bbox.width / figure.dpi)


def _dot(ax: Axes, row: float, at: float, low: float, high: float, hue: str, mark: str, filled: bool) -> None:
    ax.plot([low, high], [row, row], color=hue, linewidth=1.4)
    ax.plot([at], [row], mark, color=hue, ms=6, mfc=hue if filled else LIGHT.panel, mew=1.3)


def _end_labels(ax: Axes, ends: list[tuple[float, str, str]]) -> None:
    """Labels at the lines' right ends, moved apart where they would touch."""
    low, high = ax.get_ylim()
    gap = 0.052 * (high - low)
    placed: list[float] = []
    for value, _, _ in sorted(ends):
        value = min(max(value, low), high)
        placed.append(max(value, placed[-1] + gap) if placed else value)
    excess = placed[-1] - high if placed else 0
    if excess > 0:
        placed = [p - excess for p in placed]
    for y, (_, name, ink) in zip(placed, sorted(ends)):
        ax.annotate(
            plain(name), (1, y), xycoords=("axes fraction", "data"), xytext=(5, 0), textcoords="offset points",
            va="center", ha="left", color=ink, annotation_clip=False,
        )  # fmt: skip


def figure_of(
    study: Study, probed: Probed, focus: int = 0, width: float = 6.5, height: float = 3.4, panel: int = 0
) -> Figure:
    """Both plots side by side, for print: white ground, the bundled font, width and height in inches."""
    with figure_style():
        figure = new_figure(width, height, 100)
        draw = ProbeFigures(study, probed, focus, panel=panel)
        is_number = isinstance(probed.moderator, NumberBasis)
        grid = figure.add_gridspec(2, 2, height_ratios=[5, 1], width_ratios=[1, 1])
        left = figure.add_subplot(grid[:, 0])
        right = figure.add_subplot(grid[0, 1] if is_number else grid[:, 1])
        below = figure.add_subplot(grid[1, 1]) if is_number else None
        draw.interaction(left)
        draw.effect(right, below)
        ends = 0.011 * draw.longest_end() + 0.02
        start = 0.075 + 0.011 * draw.tick_width() if is_number else 0.011 * draw.longest_row() + 0.03
        left.set_position((0.095, 0.14, 0.405 - ends, 0.78))
        if below is not None:
            right.set_position((0.5 + start, 0.28, 0.485 - start, 0.64))
            below.set_position((0.5 + start, 0.14, 0.485 - start, 0.13))
        else:
            right.set_position((0.5 + start, 0.14, 0.485 - start, 0.78))
        give_labels_room(figure)
    return figure


def give_labels_room(figure: Figure) -> None:
    """Labels of the vertical axes stay whole: broken into lines, moved up or down, and the axes moved right where they need it."""
    with figure_style():  # the style in which it is drawn: ticks are placed by it
        for ax in figure.axes:
            if ax.yaxis.label.get_text() and ax.get_visible():
                _give_label_room(figure, ax)


def _give_label_room(figure: Figure, ax: Axes) -> None:
    canvas = figure.canvas
    assert isinstance(canvas, FigureCanvasAgg)
    renderer = canvas.get_renderer()  # type: ignore[no-untyped-call]
    width, height, label = figure.bbox.width, figure.bbox.height, ax.yaxis.label
    lines = int(np.ceil(label.get_window_extent(renderer).height / (0.96 * height)))
    if lines > 1:
        label.set_text("\n".join(textwrap.wrap(label.get_text(), int(len(label.get_text()) / lines) + 4)))
        label.set_multialignment("center")
    ax.get_tightbbox(renderer)
    box, inside = label.get_window_extent(renderer), ax.get_window_extent(renderer)
    up = max(0.0, 3 - box.y0) - max(0.0, box.y1 - height + 3)
    label.set_y(0.5 + up / inside.height)
    lack = max(0.0, 3 - box.x0) / width
    old = ax.get_position().x0
    for other in figure.axes:
        place = other.get_position()
        if lack and abs(place.x0 - old) < 1e-6:
            other.set_position((place.x0 + lack, place.y0, place.width - lack, place.height))


def checked_dpi(dpi: int) -> int:
    """The dots per inch; FileError where a figure would be a blot, or larger than memory."""
    if not LEAST_DPI <= dpi <= MOST_DPI:
        raise FileError(f"A figure is written at {LEAST_DPI} to {MOST_DPI} dpi, not at {dpi}.")
    return dpi


def figure_bytes(figure: Figure, kind: str, dpi: int = 300) -> bytes:
    """The figure as PNG (at that dpi) or SVG; the same figure gives the same bytes. FileError for a dpi out of bounds."""
    checked_dpi(dpi)
    out = io.BytesIO()
    metadata: dict[str, Any] = {"Date": None} if kind == "svg" else {"Software": "Yellow Slope"}
    with figure_style():
        figure.savefig(out, format=kind, dpi=dpi, metadata=metadata)
    return out.getvalue()


def rendered(figure: Figure) -> tuple[FloatArray, int, int]:
    """The figure's pixels as RGBA bytes (height, width, 4), with width and height."""
    canvas = figure.canvas
    assert isinstance(canvas, FigureCanvasAgg)
    with figure_style():
        canvas.draw()  # type: ignore[no-untyped-call]
    pixels = np.asarray(canvas.buffer_rgba())  # type: ignore[no-untyped-call]
    return pixels, pixels.shape[1], pixels.shape[0]
