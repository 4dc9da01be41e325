"""The equation can be reckoned with by hand: what it says, with its own digits, is what the model predicts."""

from __future__ import annotations

import math
import random
import re

import numpy as np
import pytest

from tests.support.worlds import fit_of, study_of
from yellow_slope.core.study.edits.entries import treat
from yellow_slope.core.study.treatment import At, Given, Mean, One, OneSD, Raw, Scale, Treatment, Zero
from yellow_slope.core.words.sentences.equation import equation

FACTOR = r"(?:\([^()]*(?:\([^()]*\))?[^()]*\)|\[[^]]*\]|[a-z]\w*)[²³]?"
SUMMAND = re.compile(rf"([−+]?) ?([\d.]+(?:e[−+]?\d+)?)((?:·{FACTOR})*)")
NUMBER = r"[\d.]+(?:e[−+]?\d+)?"


def value(text: str) -> float:
    return float(text.replace("−", "-"))


def factor(text: str, row: dict[str, float | str]) -> float:
    """One factor at a case, as somebody would work it out who has nothing but the equation and the table."""
    power = {"²": 2, "³": 3}.get(text[-1], 1)
    text = text.rstrip("²³")
    group = re.fullmatch(r"\[(\w+): (\w+)\]", text)
    if group is not None:
        return float(row[group.group(1)] == group.group(2))
    scaled = re.fullmatch(rf"\((.+)/({NUMBER})\)", text)
    if scaled is not None:
        return (factor(scaled.group(1), row) / value(scaled.group(2))) ** power
    shifted = re.fullmatch(rf"\((\w+) ([−+]) ({NUMBER})\)", text)
    if shifted is not None:
        sign = -1.0 if shifted.group(2) == "−" else 1.0
        return (float(row[shifted.group(1)]) + sign * value(shifted.group(3))) ** power
    return float(row[text]) ** power


def by_hand(text: str, row: dict[str, float | str]) -> float:
    _, _, right = text.partition(" = ")
    total, read = 0.0, ""
    for found in SUMMAND.finditer(right):
        sign, size, factors = found.groups()
        product = value(size) * (-1.0 if sign == "−" else 1.0)
        for one in re.findall(rf"·({FACTOR})", factors):
            product *= factor(one, row)
        total += product
        read += found.group()
    assert re.sub(r"\s", "", read) == re.sub(r"\s", "", right), "all of it was read"
    return total


@pytest.mark.parametrize("seed", range(60))
def test_it_gives_the_predicted_values(seed: int) -> None:
    draw, rng = random.Random(seed), np.random.default_rng(seed)
    n = 60
    data: dict[str, list[float] | list[str]] = {}
    for name in ("x", "w", "z"):
        unit, far = 10.0 ** draw.choice([-5, -2, 0, 0, 3, 6]), draw.choice([0, 0, 30, 3000])
        data[name] = [float(v) for v in (rng.normal(size=n) * draw.choice([0.1, 1.0]) + far) * unit]
    data["g"] = [draw.choice("abc") for _ in range(n)]
    y = rng.normal(size=n)
    for name in ("x", "w"):
        own = np.array(data[name], dtype=float)
        y = y + (own - own.mean()) / own.std() * draw.choice([0.1, 1.0, 5.0])
    data["y"] = [float(v) for v in y * 10.0 ** draw.choice([-3, 0, 4])]
    blocks = draw.choice(["x, w; x*w", "x, w, g; x*g, x*w", "x, w, z; x*w, x*z, w*z; x*w*z", "x; x*x; w, g; g*w"])
    study = study_of(data, "y", blocks)
    for name in ("x", "w", "z"):
        zeros: list[Zero] = [Raw(), Mean(), Mean(), At(float(np.array(data[name], dtype=float)[3]))]
        scales: list[Scale] = [One(), One(), OneSD(), Given(float(np.array(data[name], dtype=float).std()) * 2)]
        study = treat(study, [name], Treatment(zero=draw.choice(zeros), scale=draw.choice(scales)))
    fit = fit_of(study)
    step = draw.randrange(len(fit.steps))
    text = equation(study, fit, step)
    rows = [{name: values[i] for name, values in data.items()} for i in range(n)]
    off = [abs(by_hand(text, row) - wanted) for row, wanted in zip(rows, fit.predicted(step))]
    assert max(off) <= 0.0101 * float(fit.y.std()), (seed, blocks, max(off) / fit.y.std(), text)
    assert not math.isnan(max(off))
