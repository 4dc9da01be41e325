"""Pages of marks drawn into files: PNG, TIFF, SVG and PDF, with the bundled font. The same page gives the same
bytes."""

from __future__ import annotations

import io
import re
import threading
import warnings
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any, assert_never
from xml.sax.saxutils import escape, quoteattr

import matplotlib
import numpy as np
from matplotlib.artist import Artist
from matplotlib.backends.backend_agg import FigureCanvasAgg
from matplotlib.figure import Figure
from matplotlib.font_manager import fontManager
from matplotlib.lines import Line2D
from matplotlib.patches import FancyBboxPatch, Polygon
from matplotlib.text import Text as DrawnText
from matplotlib.transforms import Affine2D, Bbox, Transform, TransformedBbox

from yellow_slope import looks
from yellow_slope.core.letters import UNKNOWN
from yellow_slope.plots.marks import Area, Box, Ink, Line, Mark, Page, Points, Rect, Rects, Text, Weight
from yellow_slope.report.fontchain import chain, letters_of
from yellow_slope.report.told import NOTHING_TOLD, Told

_fonts_loaded = False
_style_lock = threading.RLock()
"""The settings are one for the whole process; the report may be drawn beside the window."""
_SETTINGS: dict[Any, Any] = {
    "axes.unicode_minus": True,
    "svg.hashsalt": "yellow-slope",
    "pdf.fonttype": 42,
    "text.parse_math": False,
}


@contextmanager
def drawing_style(families: tuple[str, ...] = (looks.FONT_FAMILY,), outlines: bool = True) -> Iterator[None]:
    """Matplotlib set up with the bundled font and those that write what it cannot; no mark in a name is read as
    mathematics."""
    global _fonts_loaded
    with _style_lock:
        if not _fonts_loaded:
            for path in looks.FONT_FILES:
                fontManager.addfont(str(path))
            _fonts_loaded = True
        letters: dict[Any, Any] = {"svg.fonttype": "path" if outlines else "none"}
        with matplotlib.rc_context({**_SETTINGS, **letters, "font.family": list(families)}), warnings.catch_warnings():
            warnings.filterwarnings("ignore", message="Glyph .* missing from font")  # that is said in words
            yield


def figure_of(page: Page) -> Figure:
    """The page as a figure of its size; its unit is the point."""
    with drawing_style(chain(letters_of(page))[0]):
        figure = Figure(figsize=(page.width / 72, page.height / 72), dpi=72)
        FigureCanvasAgg(figure)
        if page.ground:
            figure.set_facecolor(page.ground)
        else:
            figure.patch.set_alpha(0.0)
        upside_down = Affine2D().scale(1, -1).translate(0, page.height).scale(1 / 72)
        place: Transform = upside_down + figure.dpi_scale_trans
        for order, mark in enumerate(page.marks):
            for artist in _artists(mark, place):
                artist.set_zorder(order)  # matplotlib would draw all lines over all areas
                figure.add_artist(artist)
                clip = mark.clip if isinstance(mark, Line | Area) else None
                if clip is not None:
                    artist.set_clip_box(_clip(clip, place))
    return figure


def _clip(box: Box, place: Transform) -> TransformedBbox:
    return TransformedBbox(Bbox.from_extents(box.left, box.top, box.right, box.bottom), place)


def _artists(mark: Mark, place: Transform) -> Iterator[Artist]:
    match mark:
        case Line(points, ink, _, _):
            x, y = _broken(points)
            yield Line2D(x, y, transform=place, solid_capstyle="butt", **_lines(ink))
        case Area(points, colour, opacity, _, _, edge):
            drawn = points[np.all(np.isfinite(points), axis=1)]
            if drawn.shape[0] > 2:
                yield Polygon(drawn, closed=True, transform=place, facecolor=colour, alpha=opacity, **_edge(edge))
        case Points(_, shape, size, colour, _, opacity, edge, _):
            x, y = _broken(mark.drawn)
            width = edge.width if edge is not None else 0.0
            yield Line2D(
                x,
                y,
                transform=place,
                linestyle="none",
                marker=str(shape),
                markersize=size,
                markerfacecolor=colour,
                markeredgecolor=edge.colour if edge is not None else colour,
                markeredgewidth=width,
                alpha=opacity,
            )
        case Rect(box, colour, _, opacity, edge, radius):
            round_off = f"round,pad=0,rounding_size={radius}" if radius else "square,pad=0"
            yield FancyBboxPatch(
                (box.left, box.top),
                box.width,
                box.height,
                boxstyle=round_off,
                transform=place,
                facecolor=colour,
                alpha=opacity,
                **_edge(edge),
            )
        case Rects(boxes, colour, _, opacity, edge):
            corners = boxes[:, [0, 1, 2, 1, 2, 3, 0, 3]].reshape(-1, 4, 2)
            # each by itself: a collection would leave hairlines between bars that meet
            for outline in corners:
                yield Polygon(outline, closed=True, transform=place, facecolor=colour, alpha=opacity, **_edge(edge))
        case Text():
            yield DrawnText(
                mark.x,
                mark.y,
                mark.text.replace(UNKNOWN, "?"),
                transform=place,
                va="baseline",
                ha="left",
                fontsize=mark.size,
                color=mark.colour,
                weight="bold" if mark.weight is Weight.BOLD else "normal",
                style="italic" if mark.italic else "normal",
                rotation=90 if mark.upright else 0,
                rotation_mode="anchor",
            )
        case _:
            assert_never(mark)


def _broken(points: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """The coordinates, as large as can be drawn; what is not finite breaks a line."""
    there = np.clip(points, -1e7, 1e7)
    return there[:, 0], there[:, 1]


def _lines(ink: Ink) -> dict[str, Any]:
    dashes: Any = (0, ink.dash) if ink.dash else "solid"
    return {"color": ink.colour, "linewidth": ink.width, "linestyle": dashes, "alpha": ink.opacity}


def _edge(edge: Ink | None) -> dict[str, Any]:
    if edge is None:
        return {"linewidth": 0.0}
    return {"edgecolor": edge.colour, "linewidth": edge.width}


def page_bytes(page: Page, kind: str, dpi: int = 300, told: Told = NOTHING_TOLD, outlines: bool = True) -> bytes:
    """The page as PNG or TIFF (at that dpi, which is written in), SVG or PDF.

    outlines: whether the letters of an SVG are drawn as outlines; else they are text in the font's name, and in PDF
    they always are, with the font within.
    """
    out = io.BytesIO()
    title, said = told.title, told.description
    settings: dict[str, Any] = {}
    match kind:
        case "svg":
            settings["metadata"] = {"Date": None, "Creator": "Yellow Slope", **({"Title": title} if title else {})}
        case "pdf":
            maker = {"CreationDate": None, "Creator": "Yellow Slope", "Producer": "Yellow Slope"}
            told_of = {"Title": title, "Subject": said}
            settings["metadata"] = {**maker, **{name: text for name, text in told_of.items() if text}}
        case "tiff":
            # No transparency: those who print take none.
            settings["pil_kwargs"] = {"compression": "tiff_lzw", "dpi": (dpi, dpi)}
        case _:
            settings["metadata"] = {"Software": "Yellow Slope", **({"Description": said} if said else {})}
            settings["pil_kwargs"] = {"compress_level": 4}  # a fifth of a file larger, in half the time
    figure = figure_of(page)
    with drawing_style(chain(letters_of(page))[0], outlines):
        figure.savefig(out, format=kind, dpi=dpi, facecolor=figure.get_facecolor(), **settings)
    if kind == "svg":
        return _told_svg(out.getvalue() if outlines else _with_any_font(out.getvalue()), title, said)
    return _without_alpha(out.getvalue(), dpi) if kind == "tiff" else out.getvalue()


def _with_any_font(content: bytes) -> bytes:
    """An SVG whose text has letters also where its font is not."""
    name = f"'{looks.FONT_FAMILY}'".encode()
    return content.replace(b"font-family: " + name, b"font-family: " + name + b", sans-serif")


def _told_svg(content: bytes, title: str, said: str) -> bytes:
    """An SVG that says what it shows, where readers for the blind look for it."""
    if not said:
        return content
    head, root, rest = content.partition(b"<svg ")
    opening, close, rest = rest.partition(b">")
    names = ' role="img" aria-label=' + quoteattr(said)
    lead = "".join(f"<{tag}>{escape(text)}</{tag}>" for tag, text in (("title", title), ("desc", said)) if text)
    rest = re.sub(rb"\s*<title>[^<]*</title>", b"", rest, count=1)
    return head + root + opening + names.encode() + close + b"\n " + lead.encode() + rest


def _without_alpha(content: bytes, dpi: int) -> bytes:
    """A TIFF of three colours, as journals ask for it."""
    from PIL import Image

    out = io.BytesIO()
    with Image.open(io.BytesIO(content)) as picture:
        ground = Image.new("RGB", picture.size, "white")
        ground.paste(picture, mask=picture.getchannel("A") if picture.mode == "RGBA" else None)
        ground.save(out, format="TIFF", compression="tiff_lzw", dpi=(dpi, dpi))
    return out.getvalue()
