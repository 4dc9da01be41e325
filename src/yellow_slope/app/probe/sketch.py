"""The two figures of Probe drawn to images off the interface thread; the newest task wins."""

from __future__ import annotations

import logging
import threading
from dataclasses import dataclass

from PyQt6.QtCore import QObject, QPointF, QRectF, pyqtSignal
from PyQt6.QtGui import QImage

from yellow_slope.core.design import NumberBasis
from yellow_slope.core.evaluate import Fit
from yellow_slope.core.probe import Probed
from yellow_slope.core.study import Study

log = logging.getLogger(__name__)
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

    def value(self, pixel: float) -> float:
        """The x value at a pixel."""
        return self.x[0] + (pixel - self.area.x()) / self.area.width() * (self.x[1] - self.x[0])


@dataclass(frozen=True, slots=True, eq=False)
class Task:
    """What is to be drawn, how large."""

    key: object
    study: Study
    fit: Fit
    probed: Probed
    focus: int
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
    """Draw both figures."""
    from yellow_slope.report.figures import ProbeFigures, figure_style, new_figure, rendered

    draw = ProbeFigures(task.study, task.fit, task.probed, task.focus)
    width, height = (task.width - GAP) / 2, float(task.height)
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
            pixels, w, h = rendered(figure)
            image = QImage(pixels.tobytes(), w, h, 4 * w, QImage.Format.Format_RGBA8888).copy()
            image.setDevicePixelRatio(task.ratio)
            images.append(image)
            box, shift = ax.get_position(), side * (width + GAP)
            area = QRectF(shift + box.x0 * width, (1 - box.y1) * height, box.width * width, box.height * height)
            frames.append(Frame(area, ax.get_xlim(), ax.get_ylim()))
    return Sketch(task.key, tuple(images), tuple(frames))


class Sketcher(QObject):
    """Draws the newest task on a thread that lives while there is something to draw."""

    done = pyqtSignal(object)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._lock = threading.Lock()
        self._waiting: Task | None = None
        self._busy = False

    def draw(self, task: Task) -> None:
        """Draw this next; whatever waited before it is forgotten."""
        with self._lock:
            self._waiting = task
            if self._busy:
                return
            self._busy = True
        threading.Thread(target=self._work, name="figures", daemon=True).start()

    def _work(self) -> None:
        while True:
            with self._lock:
                task, self._waiting = self._waiting, None
                if task is None:
                    self._busy = False
                    return
            try:
                self.done.emit(sketched(task))
            except RuntimeError:
                return
            except Exception:
                log.exception("the figures could not be drawn")
