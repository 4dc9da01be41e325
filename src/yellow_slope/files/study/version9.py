"""From version 9 to version 10: what was written in forms of its own stands as its types describe it."""

from __future__ import annotations

from typing import Any

from yellow_slope.core.errors import FileError
from yellow_slope.core.study.flagkeys import FlagKind

Json = dict[str, Any]


def from_9(old: Json) -> Json:
    """Version 9 had forms of its own for treatments, codings, rules, errors, probes, figures and flags."""
    return {
        **_without(old, "derived"),
        "version": 10,
        "source": _source(old.get("source")),
        "computed": [_computed(name, said) for name, said in old.get("derived", {}).items()],
        "otherwise": old.get("otherwise", {}),
        "samples": [_sample(one) for one in old.get("samples", [])],
        "models": [_model(one) for one in old["models"]],
        "probes": [_probe(one) for one in old.get("probes", [])],
        "checks": _checks(old.get("checks", {})),
        "figure_letters": old.get("figure_letters", 9.0),
        "figures": [_figure(one) for one in old.get("figures", [])],
        "report": _report(old.get("report", {})),
        "dismissals": [
            {"flag": key, "reason": one["reason"]}
            for one in old.get("dismissals", [])
            if (key := _flag(one["flag"], one.get("about", []))) is not None
        ],
        "pinned": [
            key for one in old.get("pinned", []) if (key := _flag(one["flag"], one.get("about", []))) is not None
        ],
    }


def _without(said: Json, *names: str) -> Json:
    return {name: one for name, one in said.items() if name not in names}


def _only(said: Json, what: str) -> tuple[str, Any]:
    """The one thing that is said, with its name."""
    if len(said) != 1:
        raise FileError(f"{what} says one thing; one of this study says {len(said)}.")
    return next(iter(said.items()))


def _pairs(said: Json) -> list[list[Any]]:
    return [[name, one] for name, one in said.items()]


def _source(said: Json | None) -> Json:
    if said is None:
        return {}
    found = said.get("found", {})
    return {**said, "found": {**found, "missing": _pairs(found.get("missing", {}))}}


def _computed(name: str, said: Json) -> Json:
    variable = _without(said, "expression", "short")
    variable |= {
        "name": name,
        "kind": said.get("kind", "number"),
        "label": said.get("label") or name,
        "short_label": said.get("short", ""),
    }
    return {"expression": said["expression"], "variable": variable}


# ---- samples


def _sample(said: Json) -> Json:
    aside = [{**one, "rows": [row - 1 for row in one["rows"]]} for one in said.get("aside", [])]
    rule = said.get("rule")
    if isinstance(rule, str):
        raise FileError(f"The rule of the sample “{said.get('name')}” is typed; a study file holds it in its parts.")
    return {**said, "rule": None if rule is None else _rule(rule), "aside": aside}


def _rule(said: Json) -> Json:
    """A rule says one thing: the name that is not null says which."""
    what, how = _only({name: one for name, one in said.items() if name != "variable" and one is not None}, "A rule")
    match what:
        case "all" | "any":
            return {"is": what, "rules": [_rule(one) for one in how]}
        case "not":
            return {"is": what, "rule": _rule(how)}
    about = {"is": what, "variable": said["variable"]}
    match what:
        case "one of":
            return {**about, "values": how}
        case "between":
            return {**about, "low": how[0], "high": how[1]}
        case "missing":
            return about
        case _:
            return {**about, "value": how}


# ---- models

READY: dict[str, Json] = {"as it is": {}, "centered": {"zero": "mean"}, "standardized": {"zero": "mean", "scale": "sd"}}
ZEROS, SCALES = {"at": ("at", "value"), "within": ("within groups", "of")}, {"by": ("given", "value")}


def _model(said: Json) -> Json:
    return {
        **said,
        "blocks": [_block(one) for one in said["blocks"]],
        "entries": {name: _entry(one) for name, one in said["entries"].items()},
        "errors": _errors(said.get("errors", "classical")),
        "leave_out_first": [_term(one) for one in said.get("leave_out_first", [])],
    }


def _block(said: Json) -> Json:
    return {**said, "terms": [_term(one) for one in said["terms"]]}


def _term(said: Any) -> Any:
    return [said] if isinstance(said, str) else said


def _entry(said: Any) -> Json:
    if isinstance(said, str):
        said = READY[said]
    if "coding" in said:
        return _coding(said)
    return {
        "is": "treatment",
        **said,
        "zero": _told(said.get("zero", "as it is"), ZEROS),
        "scale": _told(said.get("scale", "one"), SCALES),
    }


def _told(said: Any, forms: dict[str, tuple[str, str]]) -> Json:
    """A zero point or a scale: a word, or an object of one name."""
    if isinstance(said, str):
        return {"is": said}
    name, one = _only(said, "A zero point or a scale")
    kind, field = forms[name]
    return {"is": kind, field: one}


def _coding(said: Json) -> Json:
    what = said["coding"]
    names = {"names": _pairs(said.get("names", {}))}
    match what:
        case "dummy":
            return {"is": what, "reference": said.get("reference"), **names}
        case "effect" | "weighted effect":
            return {"is": what, "without": said.get("without"), **names}
        case "against later mean" | "against earlier mean":
            return {"is": "against mean", "later": what == "against later mean", **names}
        case "trends":
            return {"is": what, "spacing": _pairs(said.get("spacing", {})), **names}
        case "planned":
            asked = [{**one, "weights": _pairs(one.get("weights", {}))} for one in said.get("questions", [])]
            return {"is": what, "questions": asked}
        case _:
            return {"is": what, **names}


def _errors(said: Any) -> Json:
    if isinstance(said, str):
        return {"is": said} if not said.startswith("HC") else {"is": "HC", "kind": int(said[2:])}
    if "bootstrap" in said:
        return {"is": "bootstrap", **_without(said, "bootstrap"), "way": said["bootstrap"]}
    return {"is": "cluster", "id": said["cluster"]}


# ---- probes, checks, report and flags


def _pick(said: Json) -> Json:
    return {"rule": said.get("pick", "mean and SD"), "values": said.get("values", [])}


def _probe(said: Json) -> Json:
    second, step = said.get("second"), said.get("step")
    return {
        **_without(said, "values", "band"),
        "step": step if isinstance(step, str) else None,
        "pick": _pick(said),
        "held": _pairs(said.get("held", {})),
        "second": None if second is None else {"variable": second["variable"], "pick": _pick(second)},
        "rule": said.get("band", "each point"),
    }


CUTOFFS = ("studentized", "cook", "distance", "exact", "groups")


def _checks(said: Json) -> Json:
    cutoffs = {name: said[name] for name in CUTOFFS if name in said}
    return {**_without(said, *CUTOFFS), "cutoffs": cutoffs}


def _report(said: Json) -> Json:
    parts = [{**_without(one, "part"), "kind": one["part"]} for one in said.get("parts", [])]
    return {**said, "parts": parts} if parts else _without(said, "parts")


def _flag(kind: str, about: list[str]) -> Json | None:
    """What a flag is known by; None for a kind that there is no longer."""
    if FlagKind.named(kind) is None:
        return None
    if kind == FlagKind.MISSING_CODE:
        return {"kind": kind, "about": about[1:], "code": "".join(about[:1])}
    return {"kind": kind, "about": about}


# ---- figures


def _figure(said: Json) -> Json:
    shows = said["shows"]
    return {
        **_without(said, "width", "height"),
        "shows": {"is": shows["shows"], **_without(shows, "shows")},
        "look": look_from_9(said["look"]),
        "size": {"width": said["width"], "height": said.get("height")},
        "texts": [_tuned(one, "role", "pane", "line", "number") for one in said.get("texts", [])],
        "lines": [[one["line"], _without(one, "line")] for one in said.get("lines", [])],
        "axes": [_tuned(one, "pane", "upright") for one in said.get("axes", [])],
        "lost": [
            {"what": "tuned", "names": [one["variable"]], "code": one.get("code", "")} for one in said.get("lost", [])
        ],
    }


def look_from_9(said: Json) -> Json:
    """A look as looks of one's own were kept until version 9; a newer one stays as it is."""
    if "size" in said:
        return said
    width = said.get("width")
    size = None if width is None else {"width": width, "height": said.get("height")}
    return {**_without(said, "width", "height"), "size": size}


def _tuned(said: Json, *known_by: str) -> list[Json]:
    """What is said otherwise of something: what it is known by, and the rest."""
    return [{name: said[name] for name in known_by if name in said}, _without(said, *known_by)]
