"""Study documents of earlier versions, brought to the newest by a chain of small steps."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Literal

from yellow_slope.core.study.flagkeys import FlagKind
from yellow_slope.core.words.names.study import SEPARATORS
from yellow_slope.files.study.version9 import from_9

NEWEST: Literal[10] = 10


def from_1(old: dict[str, Any]) -> dict[str, Any]:
    """Version 1 held one model, treatments with the variables, steps by number and flags by a line of text."""
    blocks = [{"id": f"b{i}", **block} for i, block in enumerate(old["blocks"], 1)]
    entries: dict[str, Any] = {}
    for name, said in old["variables"].items():
        if said.get("reference") is not None:
            entries[name] = {"coding": "dummy", "reference": said["reference"]}
        elif said.get("treatment", "as it is") != "as it is":
            entries[name] = said["treatment"]
    probes = []
    for probe in old["probes"]:
        step = probe.get("step")
        probes.append({**probe, "step": None if step is None else f"b{step}"})
    model = {
        "id": "m1",
        "outcome": old["outcome"],
        "blocks": blocks,
        "entries": entries,
        "level": old["level"],
        "leave_out_first": old.get("first_out", []),
    }
    return {
        "format": old["format"],
        "version": 2,
        "name": old["name"],
        "source": _source(old.get("read_as", [])),
        "models": [model],
        "current": "m1",
        "probes": probes,
        "dismissals": [_dismissal(d["flag"], d["reason"]) for d in old["dismissals"]],
    }


def _source(phrases: list[str]) -> dict[str, Any] | None:
    if not phrases:
        return None
    by_name = {f"separated by {name}": separator for separator, name in SEPARATORS.items()}
    beside = [p.removeprefix("described by ") for p in phrases if p.startswith("described by ")]
    return {
        "path": "a table file",
        "read_as": {
            "separator": next((by_name[p] for p in phrases if p in by_name), ","),
            "decimal": "," if "decimal comma" in phrases else ".",
            "names_in_row_1": "no names" not in phrases,
        },
        "description": beside[0] if beside else "",
    }


def _dismissal(key: str, reason: str) -> dict[str, Any]:
    for kind in FlagKind:
        if key == kind.value:
            return {"flag": key, "about": [], "reason": reason}
        if key.startswith(f"{kind.value} "):
            rest = key[len(kind.value) + 1 :]
            products = kind in (FlagKind.PARTS, FlagKind.LEFT_OUT)
            return {"flag": kind.value, "about": rest.split(" x ") if products else [rest], "reason": reason}
    return {"flag": key, "about": [], "reason": reason}


def from_2(old: dict[str, Any]) -> dict[str, Any]:
    """Version 2 knew names in the first row of a file only; its table stood as data.csv, not compressed by itself."""
    source = old.get("source")
    if source is not None:
        read_as = dict(source["read_as"])
        read_as["names"] = read_as.pop("names_in_row_1")
        source = {**source, "read_as": read_as}
    return {**old, "version": 3, "source": source}


def from_3(old: dict[str, Any]) -> dict[str, Any]:
    """Version 3 knew of a computed variable its expression and its label only."""
    labels = old.get("derived_labels", {})
    derived = {
        name: {"expression": text, "label": labels.get(name, name)} for name, text in old.get("derived", {}).items()
    }
    rest = {key: value for key, value in old.items() if key != "derived_labels"}
    return {**rest, "version": 4, "derived": derived}


def from_4(old: dict[str, Any]) -> dict[str, Any]:
    """Version 4 knew neither names of comparisons nor flags that stand until they are put aside."""
    return {**old, "version": 5}


def from_5(old: dict[str, Any]) -> dict[str, Any]:
    """Version 5 knew neither bootstraps nor which step is reported."""
    return {**old, "version": 6}


def from_6(old: dict[str, Any]) -> dict[str, Any]:
    """Version 6 knew no choices of checks."""
    return {**old, "version": 7}


def from_7(old: dict[str, Any]) -> dict[str, Any]:
    """Version 7 knew neither names nor units of probes, nor what is too small to matter."""
    return {**old, "version": 8}


def from_8(old: dict[str, Any]) -> dict[str, Any]:
    """Version 8 knew one size of letters for all figures, and no figure of one's own."""
    return {**old, "version": 9}


STEPS: dict[int, Callable[[dict[str, Any]], dict[str, Any]]] = {
    1: from_1,
    2: from_2,
    3: from_3,
    4: from_4,
    5: from_5,
    6: from_6,
    7: from_7,
    8: from_8,
    9: from_9,
}
"""From each earlier version to the next."""


def newest(document: dict[str, Any]) -> dict[str, Any]:
    """The document in the newest version; KeyError or TypeError where an old one is not what it says."""
    version = document.get("version")
    while isinstance(version, int) and version in STEPS:
        document = STEPS[version](document)
        version = document["version"]
    return document
