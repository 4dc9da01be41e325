"""The one source of looks: colours, type, spacing and line patterns. Style sheet and figure style are made from it."""

from __future__ import annotations

from pathlib import Path

from yellow_slope.values import dataclass

FONT_FAMILY = "Slope Sans"
FONT_FOLDER = Path(__file__).parent / "fonts"
FONT_FILES = tuple(sorted(FONT_FOLDER.glob("*.otf")))


@dataclass(frozen=True, slots=True)
class Palette:
    """The colours of one theme."""

    paper: str
    panel: str
    ink: str
    soft_ink: str
    faint_ink: str
    line: str
    yellow: str
    amber_ink: str
    wash: float
    """Opacity of slope yellow as a wash."""
    groups: tuple[str, str, str, str]
    moderators: tuple[str, str, str]
    """One hue from faint to strong, for the lines of a number moderator from low to high."""
    link: str
    shade: str
    """Bars of small distributions."""
    pressed: str


LIGHT = Palette(
    paper="#FAF7F0",
    panel="#FFFFFF",
    ink="#1F2430",
    soft_ink="#5B6270",
    faint_ink="#8A8F99",
    line="#DED7C9",
    yellow="#F5B800",
    amber_ink="#7A5200",
    wash=0.20,
    groups=("#0E3F3B", "#7B3B6B", "#3F7CC0", "#D08063"),
    moderators=("#9DBDE3", "#5B8BC9", "#22406F"),
    link="#2F5597",
    shade="#B4B2AB",
    pressed="#F1ECE0",
)

DARK = Palette(
    paper="#171A21",
    panel="#20252F",
    ink="#EFE9DC",
    soft_ink="#A8AFBC",
    faint_ink="#7D8492",
    line="#3A4150",
    yellow="#F5B800",
    amber_ink="#FFD66B",
    wash=0.16,
    groups=("#63BDB1", "#D79BC9", "#8DB4EA", "#F0957C"),
    moderators=("#5B84BE", "#94B8EA", "#DCE8FA"),
    link="#9DBBF2",
    shade="#59606E",
    pressed="#2A303C",
)

GREY = Palette(
    paper="#FFFFFF",
    panel="#FFFFFF",
    ink="#1A1A1A",
    soft_ink="#595959",
    faint_ink="#8C8C8C",
    line="#D4D4D4",
    yellow="#7A7A7A",
    amber_ink="#333333",
    wash=0.20,
    groups=("#111111", "#808080", "#454545", "#949494"),
    moderators=("#949494", "#666666", "#1A1A1A"),
    link="#333333",
    shade="#B8B8B8",
    pressed="#EDEDED",
)
"""Of figures that are printed without colours."""

PATTERNS: tuple[tuple[float, ...], ...] = ((), (6, 3), (1.5, 2), (6, 2, 1.5, 2))
"""Dash patterns of groups, in line widths; empty: solid."""
MODERATOR_PATTERNS: tuple[tuple[float, ...], ...] = ((1.5, 2), (6, 3), ())
MARKS = ("o", "^", "s", "D")


@dataclass(frozen=True, slots=True)
class Sizes:
    """Lengths in pixels and type in pixels, at 100 percent."""

    header: int = 56
    roster: int = 232
    roster_folded: int = 148
    foot: int = 84
    status: int = 28
    row: int = 24
    gutter: int = 18
    margin: int = 12
    radius: int = 6
    text: int = 13
    small: int = 11
    title: int = 15
    fold_below: int = 1240


SIZES = Sizes()
FIGURE_TEXT = 9.0
"""Points in figures."""


def blended(colour: str, over: str, opacity: float) -> str:
    """A colour laid over another with that opacity, as #RRGGBB."""
    top = [int(colour[i : i + 2], 16) for i in (1, 3, 5)]
    below = [int(over[i : i + 2], 16) for i in (1, 3, 5)]
    mixed = (round(a * opacity + b * (1 - opacity)) for a, b in zip(top, below))
    return "#" + "".join(f"{value:02X}" for value in mixed)


def group_hue(index: int, palette: Palette = LIGHT) -> str:
    """The hue of a group by its position; hues repeat after four, patterns go on telling them apart."""
    return palette.groups[index % len(palette.groups)]


def moderator_hue(index: int, count: int, palette: Palette = LIGHT) -> str:
    """The hue of a line of a number moderator: faint for the lowest, strong for the highest."""
    hues = palette.moderators
    if count <= 1:
        return hues[-1]
    at = index / (count - 1) * (len(hues) - 1)
    low = min(int(at), len(hues) - 2)
    return blended(hues[low + 1], hues[low], at - low)
