"""Kinds are closed: whoever tells them apart names each, so that the type checker says what a new one needs."""

from __future__ import annotations

import ast
from pathlib import Path

import pytest

import yellow_slope

pytestmark = pytest.mark.no_cover  # what it runs through others run through

SOURCE = Path(yellow_slope.__file__).parent
FILES = sorted(SOURCE.rglob("*.py"))


def is_wild(case: ast.match_case) -> bool:
    pattern = case.pattern
    while isinstance(pattern, ast.MatchAs) and pattern.pattern is not None:
        pattern = pattern.pattern
    return isinstance(pattern, ast.MatchAs) and case.guard is None and pattern.pattern is None


def is_of_texts(match: ast.Match) -> bool:
    """Texts and what a file holds are open kinds."""
    plain = (ast.Constant,)
    values = [p for case in match.cases for p in ast.walk(case.pattern) if isinstance(p, ast.MatchValue)]
    return bool(values) and all(isinstance(p.value, plain) for p in values)


def names_itself(case: ast.match_case) -> bool:
    last = case.body[-1]
    call = last.value if isinstance(last, ast.Expr | ast.Return) else None
    return isinstance(call, ast.Call) and isinstance(call.func, ast.Name) and call.func.id == "assert_never"


@pytest.mark.parametrize("path", FILES, ids=lambda path: str(path.relative_to(SOURCE)))
def test_no_kind_is_swallowed(path: Path) -> None:
    tree = ast.parse(path.read_text(encoding="utf-8"))
    for match in (node for node in ast.walk(tree) if isinstance(node, ast.Match)):
        for case in match.cases:
            if is_wild(case) and not names_itself(case):
                assert is_of_texts(match), f"line {match.lineno}: {ast.unparse(case)}"
