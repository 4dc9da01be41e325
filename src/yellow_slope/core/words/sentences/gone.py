"""In words: what could not stay in a study."""

from __future__ import annotations

from collections.abc import Iterable
from typing import assert_never

from yellow_slope.core.data.variable import Kind
from yellow_slope.core.study.gone import Gone, What
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term
from yellow_slope.core.words.names.study import model_name
from yellow_slope.core.words.spelling.numerals import listed_some

MOST_NAMED = 6


def gone_sentence(study: Study, went: Iterable[Gone]) -> str:
    """What an edit took with it; empty where nothing went."""
    went = list(went)
    back = [gone for gone in went if gone.what is What.LENT]
    names = gone_names(study, (gone for gone in went if gone.what is not What.LENT))
    said = [f"This also removed {listed_some(names, MOST_NAMED)}."] if names else []
    return " ".join([*said, *(f"{_label(study, gone.names[0])} {_is_again(study, gone)}." for gone in back)])


def _is_again(study: Study, gone: Gone) -> str:
    kind = next((v.kind for v in study.variables if v.name in gone.names), None)
    return "is a group again" if kind is Kind.GROUP else "is not a number again"


def let_go_sentence(study: Study, went: Iterable[Gone]) -> str:
    """What a file named that it does not hold; empty where it holds all."""
    names = gone_names(study, went)
    return f"It referred to what does not exist. Removed: {listed_some(names, MOST_NAMED)}." if names else ""


def gone_names(study: Study, went: Iterable[Gone]) -> list[str]:
    """Each thing by its name, as it stands in a list, each once."""
    return list(dict.fromkeys(gone_name(study, gone) for gone in went))


def gone_name(study: Study, gone: Gone) -> str:  # noqa: C901, PLR0912 - a table: one case for each kind
    """One thing that could not stay: “practice × coaching”, “the reference “none” of coaching”."""
    labels = [_label(study, name) for name in gone.names]
    first = labels[0] if labels else ""
    level = f"“{_level(study, gone)}”" if gone.code else ""
    match gone.what:
        case What.COMPUTED:
            said = f"the computed {first}"
        case What.REPLACED:
            said = f"the computed {first}, of which the file has a column now"
        case What.TERM:
            said = Term(gone.names).text(lambda name: _label(study, name))
        case What.OUTCOME:
            said = f"the outcome {first}"
        case What.LENT:
            said = f"{first} as a number"
        case What.ENTRY:
            said = f"how {first} enters"
        case What.REFERENCE:
            said = f"the choice of {level} in {first}"
        case What.SPACING:
            said = f"the places of {first}'s levels"
        case What.SIDE:
            said = f"{level} in a question about {first}"
        case What.QUESTION:
            said = f"a question about {first}"
        case What.SAMPLE:
            said = f"the sample “{first}”"
        case What.RULE:
            said = f"the rule of the sample “{first}”"
        case What.CASES:
            said = f"cases set aside in “{first}”"
        case What.CLUSTERS:
            said = f"errors clustered by {first}"
        case What.SPLIT:
            said = f"the checks within the levels of {first}"
        case What.BY:
            said = f"one model per group of {first}"
        case What.REPORTED:
            said = "the choice of the reported step"
        case What.PROBE:
            said = f"the probe of {_along(labels)}"
        case What.STEP:
            said = f"the step of the probe of {_along(labels)}"
        case What.PICK:
            said = f"the pick points of the probe of {_along(labels)}"
        case What.FIGURE:
            said = f"the figure “{gone.names[0]}”"
        case What.TUNED:
            said = f"settings of figures for {level} in {first}" if gone.code else f"settings of figures for {first}"
        case What.HELD:
            said = f"the place where a probe held {first}"
        case What.SECOND:
            said = f"{first} as a second moderator"
        case What.ASIDE:
            said = "a remark that was dismissed" + (f" about {first}" if first else "")
        case never:
            assert_never(never)
    here = {model.id: model for model in study.models}
    elsewhere = gone.model in here and gone.model != study.current
    return f"{said} (in “{model_name(study, here[gone.model])}”)" if elsewhere else said


def _label(study: Study, name: str) -> str:
    """The variable's label, or its name where the study has it no longer."""
    return next((v.label for v in study.variables if v.name == name), name)


def _level(study: Study, gone: Gone) -> str:
    variable = next((v for v in study.variables if v.name in gone.names), None)
    level = variable.find_code(gone.code) if variable is not None else None
    return level.label if level is not None else gone.code


def _along(labels: list[str]) -> str:
    """“practice along worry”; of a predictor along itself its name."""
    return " along ".join(dict.fromkeys(labels))
