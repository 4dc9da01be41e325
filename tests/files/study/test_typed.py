"""Values to JSON and back by their types: what was written is read, follows its schema, and what is wrong is placed."""

from __future__ import annotations

import copy
import json
from collections.abc import Iterator
from functools import lru_cache
from typing import Any

import jsonschema
import pytest

from tests.files.study.test_labels import with_everything
from tests.support.places import SCHEMAS
from yellow_slope.core.errors import FileError
from yellow_slope.files.safely.jsontext import json_text
from yellow_slope.files.study.studydocument import StudyDocument, study_document
from yellow_slope.files.study.typed import as_json, from_json

Path = tuple[int | str, ...]


@lru_cache(maxsize=1)
def document() -> Any:
    """The document of a study with everything in it, as a file gives it."""
    return json.loads(json_text(study_document(with_everything())))


def places(of: Any, at: Path = ()) -> Iterator[Path]:
    """Every place in a document; of lists of alike things the first three."""
    yield at
    inside = of.items() if isinstance(of, dict) else enumerate(of[:3]) if isinstance(of, list) else ()
    for name, one in inside:
        yield from places(one, (*at, name))


def with_other(path: Path, value: object, of: Any = None) -> Any:
    """The document with something else at a place; the rest of it is shared."""
    of = document() if of is None else of
    step = path[0]
    inside = value if len(path) == 1 else with_other(path[1:], value, of[step])
    if isinstance(of, dict):
        return {**of, step: inside}
    return [*of[: int(step)], inside, *of[int(step) + 1 :]]


def test_what_is_written_is_read_and_follows_its_schema() -> None:
    read = from_json(document(), StudyDocument, "study.json")
    assert json.loads(json_text(as_json(read))) == document()
    jsonschema.validate(document(), json.loads((SCHEMAS / "study.schema.json").read_text()))


@pytest.mark.parametrize("wrong", [{"no": "such"}, "no such id", -1e300, [[[]]]])
def test_what_is_wrong_anywhere_is_told_with_its_place(wrong: object) -> None:
    told = 0
    for path in places(document()):
        if len(path) < 2:
            continue
        try:
            from_json(with_other(path, wrong), StudyDocument, "study.json")
        except FileError as error:
            told += 1
            place = str(error)
            assert place.startswith("study.json: "), path
            assert "cannot be read" not in place, path
            named = [step for step in path if isinstance(step, str)]
            assert named[-1] in place or named[-1].rstrip("s") in place, (path, place)
            assert not any(word in place for word in ("Expected", "Struct", "`", "$")), place
    assert told > 200


def test_a_field_that_is_not_known_or_missing_is_told() -> None:
    one = copy.deepcopy(document())
    one["models"][0]["outcom"] = "y"
    with pytest.raises(FileError, match="model 1: “outcom” is not known here; did you mean “outcome”"):
        from_json(one, StudyDocument, "s")
    one = copy.deepcopy(document())
    del one["figures"][0]["shows"]["is"]
    with pytest.raises(FileError, match="figures, entry 1, shows: “is” is missing"):
        from_json(one, StudyDocument, "s")
    one["figures"][0]["shows"]["is"] = "a table"
    with pytest.raises(FileError, match="shows, is: “probe”, “check”, “steps” or “group” is expected here, not"):
        from_json(one, StudyDocument, "s")
