"""No text that a person reads uses an expression that an editor of a behavioural journal would change."""

from __future__ import annotations

import ast
import re
from collections.abc import Iterator
from functools import cache
from pathlib import Path

import pytest

pytestmark = pytest.mark.no_cover

ROOT = Path(__file__).parents[3]
SOURCES = sorted(path for path in (ROOT / "src" / "yellow_slope").rglob("*.py") if "demo" not in path.parts)
PAGES = ("README.md", "docs/guide.md", "docs/methods.md", "docs/keys.md", "docs/file-format.md")

FOREIGN = re.compile(
    r"\btold apart\b|\btells? (cases|them|it) apart\b|\bremains? open\b|\bnothing claimed\b|\black nothing\b|\blit\b"
    r"|\blet in\b|\blets in\b|\btwins?\b|\b(another|other) dress\b|\bwashed\b|\bonly there\b|\bdone otherwise\b"
    r"|(?<!there )\b(is|are) no numbers?\b|\bput aside\b|\b(give|gave|given) up\b|\bas (it|they) stands?\b"
    r"|\bcannot be told\b|\bquestions of our own\b"
    r"|\bin [0-9{][^ ]* of [0-9{][^ ]* it is not\b|\bstays significant\b|\bthrown? away\b"
    r"|\bis no (group|level|table|kind|size|file|regular)\b|\bnobody (is|chose)\b|\bso it is with\b",
    re.IGNORECASE,
)
"""Expressions of a translation; the trade's own stand in their place."""

IDS = {"washed", "lit", "twins"}
"""Ids in files, which are never shown."""


@cache
def texts_of(path: Path) -> tuple[tuple[int, str], ...]:
    """The texts of a module with their lines, without docstrings; braces stand for what is put in."""
    return tuple(_texts(path))


def _texts(path: Path) -> Iterator[tuple[int, str]]:
    tree = ast.parse(path.read_text())
    silent = {
        id(one.value)
        for node in ast.walk(tree)
        for one in (getattr(node, "body", None) or [] if isinstance(getattr(node, "body", None), list) else [])
        if isinstance(one, ast.Expr)
    }
    for node in ast.walk(tree):
        if isinstance(node, ast.JoinedStr):
            silent |= {id(part) for part in ast.walk(node) if part is not node and isinstance(part, ast.Constant)}
    for node in ast.walk(tree):
        if isinstance(node, ast.JoinedStr):
            parts = (str(p.value) if isinstance(p, ast.Constant) else "{}" for p in node.values)
            yield node.lineno, "".join(parts)
        elif isinstance(node, ast.Constant) and isinstance(node.value, str) and id(node) not in silent:
            yield node.lineno, node.value


def test_the_texts_are_found() -> None:
    texts = [text for path in SOURCES for _, text in texts_of(path) if " " in text]
    assert len(texts) > 2500
    assert any("robustness checks" in text for text in texts)
    assert FOREIGN.search("they are told apart from 0")
    assert FOREIGN.search("“a” is no number")


def test_no_text_of_the_program_is_foreign() -> None:
    found = [
        f"{path.relative_to(ROOT)}:{line}: {text}"
        for path in SOURCES
        for line, text in texts_of(path)
        if FOREIGN.search(text) and text not in IDS
    ]
    assert not found, "\n".join(found)


@pytest.mark.parametrize("page", PAGES)
def test_no_page_is_foreign(page: str) -> None:
    paragraphs = (ROOT / page).read_text().replace("\n", " ")
    found = [paragraphs[max(0, m.start() - 60) : m.end() + 40] for m in FOREIGN.finditer(paragraphs)]
    assert not found, "\n".join(found)
