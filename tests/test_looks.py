"""One source of looks: no colour anywhere else, contrasts that can be read, hues that stay apart in grey."""

from __future__ import annotations

import itertools
import re
from pathlib import Path

import pytest

from yellow_slope import looks
from yellow_slope.looks import DARK, LIGHT, Palette, blended

SOURCE = Path(looks.__file__).parent


def luminance(colour: str) -> float:
    channels = [int(colour[i : i + 2], 16) / 255 for i in (1, 3, 5)]
    linear = [c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4 for c in channels]
    return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]


def contrast(a: str, b: str) -> float:
    low, high = sorted((luminance(a), luminance(b)))
    return (high + 0.05) / (low + 0.05)


def test_a_colour_stands_nowhere_else() -> None:
    found = [
        f"{path.name}: {match}"
        for path in SOURCE.rglob("*")
        if path.suffix in (".py", ".j2") and path.name != "looks.py"
        for match in re.findall(r"#[0-9A-Fa-f]{6}\b", path.read_text())
    ]
    assert not found


@pytest.mark.parametrize("p", [LIGHT, DARK], ids=["light", "dark"])
def test_text_can_be_read(p: Palette) -> None:
    wash = blended(p.yellow, p.panel, p.wash)
    for ink, ground in (
        (p.ink, p.paper),
        (p.ink, p.panel),
        (p.soft_ink, p.paper),
        (p.soft_ink, p.panel),
        (p.link, p.panel),
        (p.amber_ink, wash),
        (p.amber_ink, p.paper),
        (p.ink, wash),
        (p.link, p.paper),
    ):
        assert contrast(ink, ground) >= 4.5, (ink, ground)


@pytest.mark.parametrize("p", [LIGHT, DARK], ids=["light", "dark"])
def test_marks_can_be_seen(p: Palette) -> None:
    for hue in p.groups:
        assert contrast(hue, p.panel) >= 3, hue


def test_light_group_hues_stay_apart_in_grey() -> None:
    greys = sorted(luminance(hue) ** (1 / 2.2) for hue in LIGHT.groups)
    assert min(b - a for a, b in itertools.pairwise(greys)) > 0.08


def test_lines_of_a_moderator_run_from_light_to_dark() -> None:
    greys = [luminance(looks.moderator_hue(i, 5)) for i in range(5)]
    assert greys == sorted(greys, reverse=True)
