"""One window per episode, and the table of actions in docs/episodes.md, written by the counter itself."""

from __future__ import annotations

import os
import re
from collections.abc import Callable, Iterator

import pytest

from tests.support.agreement import disagreements
from tests.support.places import DOCS
from tests.support.windowdriver import Hands

PAGE = DOCS / "episodes.md"
HEAD = """# Episodes

Pieces of work as analysts do them, each a test under `tests/episodes/` that drives the real window with mouse and keys.
An action is a click, a drag and drop, a key chord, or one typed entry with its closing Enter. The counts are written by
the tests' own counter (`make episodes`) and checked by every test run.

| no. | episode | bound | count |
|---|---|---|---|
"""


@pytest.fixture(autouse=True)
def report_screen_and_results_agree(hands: Hands) -> Iterator[None]:
    """Every episode ends with a report whose every number is the screen's and that of the results file."""
    yield
    view = hands.place.session.view
    if view is not None:
        assert disagreements(view.evaluation) == []


@pytest.fixture
def record() -> Callable[[str, str, int, int], None]:
    """Check the count against its bound and against the page; with YELLOW_SLOPE_WRITE=1 write the page."""

    def check(episode: str, what: str, bound: int, count: int) -> None:
        assert count <= bound, f"{episode} took {count} actions, its bound is {bound}"
        row = f"| {episode} | {what} | {bound} | {count} |"
        text = PAGE.read_text() if PAGE.exists() else HEAD
        if os.environ.get("YELLOW_SLOPE_WRITE") == "1":
            rows = dict(re.findall(r"^\| (E\d+) \|(.*)$", text, re.M))
            rows[episode] = row[len(f"| {episode} |") :]
            lines = [f"| {name} |{rest}" for name, rest in sorted(rows.items(), key=lambda x: int(x[0][1:]))]
            PAGE.write_text(HEAD + "\n".join(lines) + "\n")
            return
        assert row in text.splitlines(), f"docs/episodes.md does not say: {row} (make episodes writes it)"

    return check
