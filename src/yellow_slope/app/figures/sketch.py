"""The two figures of Probe drawn to images off the interface thread."""

from __future__ import annotations

from dataclasses import dataclass
from math import isfinite

from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QImage

from yellow_slope.core.fit.design.bases import NumberBasis
from yellow_slope.core.probe.probed import Probed
from yellow_slope.core.study.study import Study

GAP = 12
DPI = 100


@dataclass(frozen=True, slots=True)
class Frame:
    """Axes in pixels of the widget, and what they span."""

    area: QRectF
    x: tuple[float, float]
    y: tuple[float, float]

    def at(self, x: float, y: float) -> QPointF:
        """A data point in pixels."""
        (x0, x1), (y0, y1) = self.x, self.y
        return QPointF(
            self.area.x() + (x - x0) / (x1 - x0) * self.area.width(),
            self.area.bottom() - (y - y0) / (y1 - y0) * self.area.height(),
        )

    @property
    def is_finite(self) -> bool:
        """Whether something can be placed in it."""
        return all(isfinite(v) for v in (*self.x, *self.y)) and self.x[0] != self.x[1] and self.y[0] != self.y[1]

    def value(self, pixel: float) -> float:
        """The x value at a pixel."""
        return self.x[0] + (pixel - self.area.x()) / self.area.width() * (self.x[1] - self.x[0])


@dataclass(frozen=True, slots=True, eq=False)
class Task:
    """What is to be drawn, how large."""

    key: object
    study: Study
    probed: Probed
    focus: int
    panel: int
    width: int
    height: int
    ratio: float


@dataclass(frozen=True, slots=True, eq=False)
class Sketch:
    """Both figures with their frames."""

    key: object
    images: tuple[QImage, ...]
    frames: tuple[Frame, ...]


def sketched(task: Task) -> Sketch:
    """Draw both figures, side by side."""
    return _drawn(task, (task.width - GAP) / 2, float(task.height), stacked=False)


def stacked(task: Task) -> Sketch:
    """Draw both figures, one below the other."""
    return _drawn(task, float(task.width), (task.height - GAP) / 2, stacked=True)


def _drawn(task: Task, width: float, height: float, stacked: bool) -> Sketch:
    from yellow_slope.report.figures import ProbeFigures, figure_style, give_labels_room, new_figure, rendered

    draw = ProbeFigures(task.study, task.probed, task.focus, panel=task.panel)
    images: list[QImage] = []
    frames: list[Frame] = []
    with figure_style(9.4):
        for side in (0, 1):
            figure = new_figure(width / DPI, height / DPI, DPI * task.ratio)
            bottom = 54 / height
            if side == 0:
                left = 56 / width
                tail = min(150.0, 20 + max(draw.longest_end(), draw.handle_end()) * 6.8) / width
                ax = figure.add_axes((left, bottom, 1 - left - tail, 1 - bottom - 18 / height))
                draw.interaction(ax)
            elif isinstance(task.probed.moderator, NumberBasis):
                left, tail = min(130.0, 36 + 7.2 * draw.tick_width()) / width, 66 / height
                ax = figure.add_axes((left, bottom + tail, 1 - left - 20 / width, 1 - bottom - tail - 24 / height))
                draw.effect(ax, figure.add_axes((left, bottom, 1 - left - 20 / width, tail * 0.88)))
            else:
                left = min(236.0, 26 + draw.longest_row() * 6.6) / width
                ax = figure.add_axes((left, bottom, 1 - left - 20 / width, 1 - bottom - 18 / height))
                draw.effect(ax, None)
            give_labels_room(figure)
            pixels, w, h = rendered(figure)
            image = QImage(pixels.tobytes(), w, h, 4 * w, QImage.Format.Format_RGBA8888).copy()
            image.setDevicePixelRatio(task.ratio)
            images.append(image)
            box = ax.get_position()
            x, y = (0.0, side * (height + GAP)) if stacked else (side * (width + GAP), 0.0)
            area = QRectF(x + box.x0 * width, y + (1 - box.y1) * height, box.width * width, box.height * height)
            frames.append(Frame(area, ax.get_xlim(), ax.get_ylim()))
    return Sketch(task.key, tuple(images), tuple(frames))
