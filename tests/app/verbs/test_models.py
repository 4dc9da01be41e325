"""The study's models: kept, compared, made current, renamed, thrown away; and how they stand side by side."""

from __future__ import annotations

import numpy as np
import pytest
from PyQt6.QtCore import QPoint

from tests.support.qtest import QTest
from tests.support.windowdriver import Hands
from tests.support.worlds import term
from yellow_slope.app.blocks.beside import Beside
from yellow_slope.app.blocks.layout import HEAD
from yellow_slope.app.widgets.figuretable import FigureTable
from yellow_slope.core.study.edits.samples import set_aside
from yellow_slope.core.words.names.study import model_name
from yellow_slope.looks import SIZES


def answers(hands: Hands, text: str | None = None, choice: int | None = None) -> None:
    """What the next questions are answered with."""
    hands.place.dialogs.text = lambda *a, **k: text  # type: ignore[method-assign]
    hands.place.dialogs.one_of = lambda *a, **k: choice  # type: ignore[method-assign]


def names(hands: Hands) -> list[str]:
    study = hands.place.session.study
    return [model_name(study, m) for m in study.models]


def table(hands: Hands) -> FigureTable:
    return hands.place.blocks.below.table


def rows(hands: Hands) -> dict[str, tuple[str, ...]]:
    return {row.name: row.cells for row in table(hands).rows}


@pytest.fixture
def kept(demo_hands: Hands) -> Hands:
    """The demo's model kept as “whole”, worked on without its products."""
    demo_hands.press("Alt+3")
    answers(demo_hands, "whole")
    demo_hands.press("Ctrl+Shift+K")
    demo_hands.press("Ctrl+L")
    demo_hands.types("without practice x coaching")
    return demo_hands


def test_a_kept_model_stands_beside_its_changed_copy(kept: Hands) -> None:
    window = kept.window
    assert "whole" in names(kept)
    study = window.place.session.study
    whole = next(m for m in study.models if m.name == "whole")
    assert window.place.session.desk.compared == whole.id
    assert term("practice*coaching") in whole.terms
    assert term("practice*coaching") not in study.model.terms
    strip = window.place.blocks.strip
    assert strip.isVisible()
    assert strip.said.text().startswith("This model is nested in “whole”, which adds 3 columns: F(3, ")
    beside = Beside.of(window.place.session)
    assert beside is not None
    assert beside.fit is not None
    fit = window.place.session.view.fit  # type: ignore[union-attr]
    assert fit is not None
    j = fit.design.columns_of(term("worry"))[0]
    low, b, high = beside.interval(len(fit.steps) - 1, j)  # type: ignore[misc]
    assert low < b < high
    its = beside.fit.design.columns_of(term("worry"))[0]
    assert b == pytest.approx(float(beside.fit.last.b[its + 1] * beside.scale[its]))
    image = window.place.blocks.ladder.viewport().grab().toImage()
    kept.press("Ctrl+Shift+M")
    assert not strip.isVisible()
    assert window.place.blocks.ladder.viewport().grab().toImage() != image
    kept.press("Ctrl+Shift+M")
    assert strip.isVisible()


def test_the_kept_model_stays_beside_a_line_that_is_typed(kept: Hands) -> None:
    window = kept.window
    ladder = window.place.blocks.ladder
    field = window.place.blocks.quick.field
    field.setFocus()
    QTest.keyClicks(field, "without sleep, age")
    kept.settle()
    assert ladder.coming is not None
    fit = ladder.coming.fit
    assert fit is not None
    assert ladder.beside is not None
    assert ladder.beside.present is fit
    j = fit.design.columns_of(term("worry"))[0]
    its = ladder.beside.fit.design.columns_of(term("worry"))[0]  # type: ignore[union-attr]
    found = ladder.beside.interval(len(fit.steps) - 1, j)
    assert found is not None
    assert found[1] == pytest.approx(float(ladder.beside.fit.last.b[its + 1] * ladder.beside.scale[its]))  # type: ignore[union-attr]
    assert ladder.row_top(0) % SIZES.row == HEAD % SIZES.row, "rows are never cut at the top"


def test_undoing_the_keeping_leaves_nothing_beside(demo_hands: Hands) -> None:
    demo_hands.press("Alt+3")
    answers(demo_hands, "whole")
    before = names(demo_hands)
    demo_hands.press("Ctrl+Shift+K")
    assert demo_hands.place.blocks.strip.isVisible()
    demo_hands.press("Ctrl+Z")
    assert names(demo_hands) == before
    assert not demo_hands.place.blocks.strip.isVisible()


def test_the_models_side_by_side(kept: Hands) -> None:
    kept.press("Ctrl+3")
    window = kept.window
    study, view = window.place.session.study, window.place.session.view
    assert view is not None
    whole = next(i for i, m in enumerate(study.models) if m.name == "whole")
    current = next(i for i, m in enumerate(study.models) if m.id == study.current)
    found = rows(kept)
    fits = [view.evaluation.of(m.id) for m in study.models]
    assert found["R²"][whole] == f"{fits[whole].last.r2:.3f}".lstrip("0")  # type: ignore[union-attr]
    assert found["AIC"][current] == f"{fits[current].last.aic:.1f}"  # type: ignore[union-attr]
    assert found["n"][whole] == str(fits[whole].cases.n)
    products = [name for name in found if "practice × coaching" in name]
    assert products
    assert all(found[name][whole] and not found[name][current] for name in products)
    kept.clicks(table(kept).viewport(), QPoint(table(kept)._left(whole) + 12, 12))
    assert not window.place.blocks.strip.isVisible(), "a click on what is compared ends it"
    kept.clicks(table(kept).viewport(), QPoint(table(kept)._left(whole) + 12, 12))
    assert window.place.blocks.strip.isVisible()


def test_a_model_is_made_current_renamed_and_thrown_away(kept: Hands) -> None:
    window = kept.window
    study = window.place.session.study
    whole = next(m for m in study.models if m.name == "whole")
    draft = study.current
    others = [m for m in study.models if m.id != study.current]
    answers(kept, choice=others.index(whole))
    window.place.models.choose_current()
    kept.settle()
    study = window.place.session.study
    assert study.current == whole.id
    assert window.place.session.desk.compared == draft, "what was worked on stands beside it"
    assert window.place.blocks.strip.said.text().startswith("“")
    assert "is nested in this model" in window.place.blocks.strip.said.text()

    answers(kept, "all of it", [m.id for m in study.models].index(whole.id))
    window.place.models.choose_renamed()
    kept.settle()
    assert "all of it" in names(kept)
    assert "whole" not in names(kept)

    answers(kept, choice=[m.id for m in study.models].index(draft))
    window.place.models.choose_thrown()
    kept.settle()
    assert draft not in [m.id for m in window.place.session.study.models]
    assert not window.place.blocks.strip.isVisible()
    assert "undo brings it back" in window.place.session.message
    kept.press("Ctrl+Z")
    assert draft in [m.id for m in window.place.session.study.models]


def test_a_name_must_be_given_and_be_free(kept: Hands) -> None:
    for name, said in (("  ", "name"), ("whole", "whole")):
        answers(kept, name)
        before = names(kept)
        kept.place.models.keep()
        kept.settle()
        assert names(kept) == before
        assert said in kept.place.session.message


def test_the_models_stand_under_the_studys_name(kept: Hands) -> None:
    menu = kept.place.menus.study_menu()
    texts = [a.text().replace("&&", "&").lower() for a in menu.actions()]
    for wanted in ("whole", "keep the model", "compare with another model", "rename a model", "delete a model"):
        assert any(wanted in text for text in texts), (wanted, texts)
    menu.deleteLater()


def test_a_model_without_a_fit_cannot_be_compared_and_says_so(kept: Hands) -> None:
    kept.press("Ctrl+L")
    kept.types("without " + ", ".join(_names(kept)))
    study = kept.place.session.study
    assert not study.model.terms
    said = kept.place.blocks.strip.said.text()
    assert "cannot be compared" in said


def _names(hands: Hands) -> list[str]:
    study = hands.place.session.study
    return list(dict.fromkeys(" x ".join(t.variables) for t in study.model.terms))


def test_a_new_model_on_other_cases_is_not_compared(kept: Hands) -> None:
    window = kept.window
    study = window.place.session.study
    practice = study.columns.numbers("practice")
    row = int(np.flatnonzero(np.isfinite(practice))[0])

    assert window.place.session.edit("aside", lambda s: set_aside(s, [row], "far out"))
    kept.settle()
    assert "other cases" in window.place.blocks.strip.said.text()
