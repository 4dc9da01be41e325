"""Names without room stay apart."""

from __future__ import annotations

from hypothesis import given, settings
from hypothesis import strategies as st

from yellow_slope.core.words.spelling.shortening import told_apart


def shown(texts: list[str], room: int) -> list[str]:
    return told_apart(texts, [lambda form: len(form) <= room] * len(texts))


def test_names_with_room_stay_as_they_are() -> None:
    assert shown(["practice", "worry"], 8) == ["practice", "worry"]
    assert shown(["practice hours", "worry"], 8) == ["practic…", "worry"]


def test_names_that_begin_alike_show_what_sets_them_apart() -> None:
    names = [f"how many hours were spent on slope number {k:02} in the last season" for k in (3, 12, 27)]
    assert shown(names, 24) == ["how ma…03 in the last s…", "how ma…12 in the last s…", "how ma…27 in the last s…"]
    assert shown(names, 32) == [f"how many h…{k} in the last season" for k in ("03", "12", "27")]
    assert len(set(shown([*names, "practice"], 18))) == 4
    assert shown(["how sure of slope 01", "how sure of slope 02"], 5) == ["ho…01", "ho…02"], "in hardly any room too"


def test_the_same_name_twice_is_no_reason_to_cut_it_otherwise() -> None:
    assert shown(["a very long name", "a very long name"], 8) == ["a very…", "a very…"]


@settings(max_examples=200, deadline=None)
@given(
    st.lists(st.text(alphabet="ab 12", min_size=1, max_size=40).map(str.strip).filter(bool), min_size=1, max_size=6),
    st.integers(12, 30),
)
def test_every_form_has_room_and_begins_as_its_name(texts: list[str], room: int) -> None:
    for text, form in zip(texts, shown(texts, room)):
        assert len(form) <= room
        assert form == text or (text.startswith(form.split("…")[0]) and "…" in form)
