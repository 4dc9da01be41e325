"""Checks: whether the product stands, the questions beside it, and the cases that are lit, set aside and taken back."""

from __future__ import annotations

import numpy as np
import pytest
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QGuiApplication

from tests.support.qtest import QTest
from tests.support.windowdriver import Hands
from tests.support.worlds import noise_world, study_of
from yellow_slope.app.checks.plots import CheckPlot
from yellow_slope.app.state.desk import Cell, Waypoint
from yellow_slope.core.data.table import Table, number_column, text_column
from yellow_slope.core.quickline import said_by
from yellow_slope.core.stand.rivals import OneLevel, OtherErrors, Squares, WithoutFar
from yellow_slope.core.study.checks import Check, FarBy
from yellow_slope.core.study.edits.retabling import with_table
from yellow_slope.core.study.standarderrors import HC, Bootstrap
from yellow_slope.core.study.study import new_study
from yellow_slope.core.study.terms import Term
from yellow_slope.core.words.names.cases import case_name
from yellow_slope.core.words.sentences.checks import check_title
from yellow_slope.plots.drawncases import MOST
from yellow_slope.plots.marks import OfCases, Part, Points, Text

WORRY = Term(("practice", "worry"))


def at_checks(hands: Hands, product: Term = WORRY) -> None:
    hands.place.go(Waypoint.CHECKS)
    study = hands.place.session.study
    hands.place.session.look(cell=Cell(study.model.block_of(product), product))
    hands.settle()


def says(hands: Hands, text: str) -> None:
    """What is typed into the next question."""

    def told(title: str, question: str, begun: str = "") -> str:
        return text

    hands.place.dialogs.text = told  # type: ignore[method-assign, assignment]


def row_of(hands: Hands, kind: type) -> int:
    stand = hands.place.session.stand
    assert stand is not None
    return next(i for i, row in enumerate(stand.rows) if isinstance(row.rival, kind))


def test_it_opens_with_whether_the_product_stands(demo_hands: Hands) -> None:
    at_checks(demo_hands)
    checks, session = demo_hands.place.checks, demo_hands.place.session
    assert checks.title.text() == "Robustness"
    assert checks.lead.text().startswith(
        "The interaction kept its sign in all 12 robustness checks and was significant in 11 of them."
    )
    assert "resampled" not in checks.lead.text()
    assert session.stand is not None
    assert not any(row.standing.is_waiting for row in session.stand.rows)
    assert len(checks.table.order) == len(session.stand.rows) + 1
    assert demo_hands.sentence().startswith("In words: in the model, b = −1.43")
    session.look(cell=Cell(2, Term(("returner", "balance"))))
    demo_hands.settle()
    assert session.stand.asked.product == Term(("returner", "balance"))


def test_a_rival_is_adopted_by_key_and_taken_back(demo_hands: Hands) -> None:
    at_checks(demo_hands)
    window = demo_hands.window
    window.place.checks.take_keyboard()
    demo_hands.press("Down")
    assert isinstance(window.place.session.desk.rival, OtherErrors)
    assert "robust standard errors do not assume equal residual variance" in demo_hands.sentence()
    assert "b = −1.43  SE = 0.42" in demo_hands.figures()
    demo_hands.press("Enter")
    demo_hands.settle()
    study = window.place.session.study
    assert study.model.errors == HC(3)
    demo_hands.press("Ctrl+Z")
    demo_hands.settle()
    assert window.place.session.study.model.errors != HC(3)


def test_a_rival_is_kept_beside_the_model(demo_hands: Hands) -> None:
    at_checks(demo_hands)
    window = demo_hands.window
    window.place.checks.table.choose(row_of(demo_hands, Squares))
    demo_hands.settle()
    window.place.checks.take_keyboard()
    demo_hands.press("Ctrl+Enter")
    demo_hands.settle()
    study = window.place.session.study
    assert [m.name for m in study.models] == ["original", "with squares of both predictors"]
    assert Term(("worry", "worry")) in study.model.terms
    assert Term(("worry", "worry")) not in study.models[0].terms
    assert window.place.session.desk.compared == study.models[0].id


def test_links_of_the_foot_adopt_too(demo_hands: Hands) -> None:
    at_checks(demo_hands)
    window = demo_hands.window
    stand = window.place.session.stand
    assert stand is not None
    far = next(r for r in stand.rows if isinstance(r.rival, WithoutFar) and r.rival.by is FarBy.STUDENTIZED)
    window.place.session.look(rival=far.rival)
    demo_hands.settle()
    demo_hands.clicks(demo_hands.foot_button("Adopt"))
    demo_hands.settle()
    study = window.place.session.study
    sample = study.sample_of(study.model)
    assert sample is not None
    assert [(a.rows, a.reason) for a in sample.aside] == [((14, 52, 115), "beyond ±3 studentized")]


def test_parts_are_chosen_and_stay_in_the_study(demo_hands: Hands) -> None:
    at_checks(demo_hands)
    window = demo_hands.window
    assert window.place.session.stand is not None
    assert {r.rival.code for r in window.place.session.stand.rows if isinstance(r.rival, OneLevel)} == {"0", "1"}
    window.place.checks.choices.split.choose("site")
    demo_hands.settle()
    assert window.place.session.study.checks.split == "site"
    assert window.place.session.stand is not None
    assert sum(isinstance(r.rival, OneLevel) for r in window.place.session.stand.rows) == 3


def test_each_question_is_shown_large_with_its_answer_small(demo_hands: Hands) -> None:
    at_checks(demo_hands)
    window = demo_hands.window
    for check, plot in window.place.checks.small.items():
        assert plot.answer, check
        demo_hands.clicks(plot)
        demo_hands.settle()
        assert window.place.session.desk.check is check
        assert plot.current
        if check is not Check.STAND:
            assert window.place.checks.large.drawn is not None
            assert len(demo_hands.sentence()) > 20
            assert check_title(check)
    window.place.checks.take_keyboard()
    demo_hands.press("PageDown")
    assert window.place.session.desk.check is Check.STAND
    demo_hands.press("PageUp")
    assert window.place.session.desk.check is Check.OWN


def test_remedies_are_one_click(demo_hands: Hands) -> None:
    at_checks(demo_hands)
    window = demo_hands.window
    window.place.session.look(check=Check.SPREAD)
    demo_hands.settle()
    demo_hands.clicks(demo_hands.foot_button("Robust errors"))
    demo_hands.settle()
    assert window.place.session.study.model.errors == HC(3)
    window.place.session.look(check=Check.PULL)
    demo_hands.settle()
    demo_hands.clicks(demo_hands.foot_button("Look at them"))
    assert len(lit(demo_hands)) == 11
    window.place.session.look(check=Check.NORMAL)
    demo_hands.settle()
    demo_hands.clicks(demo_hands.foot_button("Take the log"))
    demo_hands.settle()
    assert window.place.session.study.model.outcome == "log of control score"
    demo_hands.clicks(demo_hands.foot_button("Resample"))
    demo_hands.settle()
    assert isinstance(window.place.session.study.model.errors, Bootstrap)
    demo_hands.clicks(demo_hands.foot_button("Not into the report"))
    assert Check.NORMAL not in window.place.session.study.checks.printed


def test_leaving_gives_up_and_coming_back_asks_anew(demo_hands: Hands) -> None:
    window = demo_hands.window
    window.place.go(Waypoint.CHECKS)
    QTest.qWait(1)
    window.place.go(Waypoint.BLOCKS)
    demo_hands.settle()
    window.place.go(Waypoint.CHECKS)
    demo_hands.settle()
    stand = window.place.session.stand
    assert stand is not None
    assert not any(row.standing.is_waiting for row in stand.rows)
    assert window.place.checks.table.drawn is not None


def lit(hands: Hands) -> tuple[int, ...]:
    return hands.place.session.desk.lit


def place(plot: CheckPlot, case: int) -> QPointF:
    assert plot.placed is not None
    assert plot.placed.points is not None
    x, y = plot.placed.points[case]
    return QPointF(float(x), float(y))


def test_one_selection_everywhere(demo_hands: Hands) -> None:
    at_checks(demo_hands)
    window = demo_hands.window
    window.place.session.look(check=Check.PULL)
    demo_hands.settle()
    checks, large = window.place.checks, window.place.checks.large
    found = window.place.session.checked
    assert found is not None
    checks.take_keyboard()
    demo_hands.press("B")
    far = found.far[FarBy.COOK].cases
    assert lit(demo_hands) == tuple(found.fit.cases.rows[far])
    assert far.size == 11
    assert all(list(plot.lit) == list(far) for plot in (large, *checks.small.values()))
    assert checks.cases.isVisible()
    assert len(checks.cases.rows) == 11
    assert checks.cases.rows[0].name == "row 4 (learner 4)"
    case = int(far[0])
    demo_hands.clicks(large, place(large, case))
    assert lit(demo_hands) == (int(found.fit.cases.rows[case]),)
    large.setFocus()
    demo_hands.press("Right")
    assert len(lit(demo_hands)) == 1
    demo_hands.press("Shift+Right")
    assert len(lit(demo_hands)) == 2
    demo_hands.press("Escape")
    assert lit(demo_hands) == ()
    left, right = place(large, case) - QPointF(6, 6), place(large, case) + QPointF(6, 6)
    QTest.mousePress(large, Qt.MouseButton.LeftButton, pos=left.toPoint())
    QTest.mouseMove(large, right.toPoint())
    QTest.mouseRelease(large, Qt.MouseButton.LeftButton, pos=right.toPoint())
    assert int(found.fit.cases.rows[case]) in lit(demo_hands)
    window.place.go(Waypoint.DATA)
    demo_hands.settle()
    assert window.place.data.grid._lit() == frozenset(lit(demo_hands))
    window.place.go(Waypoint.PROBE)
    demo_hands.settle()
    probed = window.place.session.probed()
    assert probed is not None
    marks = window.place.probe.plots._lit_marks(probed)
    drawn = {int(c) for m in marks if isinstance(m, Points) and isinstance(m.about, OfCases) for c in m.about.cases}
    assert {int(probed.fit.cases.rows[c]) for c in drawn} == set(lit(demo_hands))


def test_rows_of_another_table_are_not_lit(demo_hands: Hands) -> None:
    window = demo_hands.window
    study = window.place.session.study
    window.place.session.look(lit=(3, 239))
    short = (np.array([float(c.text(i) or "nan") for i in range(200)]) for c in study.table.columns if c.is_numeric)
    names = (c.name for c in study.table.columns if c.is_numeric)
    table = Table(tuple(number_column(name, values) for name, values in zip(names, short)))
    window.place.session.edit("read again", lambda s: with_table(s, table, s.source)[0])
    assert lit(demo_hands) == ()
    demo_hands.settle()


def test_the_table_of_lit_cases_sorts_copies_and_leads_to_data(demo_hands: Hands) -> None:
    at_checks(demo_hands)
    window = demo_hands.window
    window.place.session.look(check=Check.PULL)
    demo_hands.settle()
    window.place.checks.light_all_beyond()
    table = window.place.checks.cases
    titles = [column.title for column in table.head]
    computed = ["predicted", "residual", "leverage", "studentized", "Cook's", "DFFITS", "D²", "p_of_D²", "DFBETAS"]
    assert [title.replace(" ", "_") for title in titles[-9:]] == computed
    at = titles.index("Cook's")
    table.column_chosen.emit(at)
    cooks = [float(row.cells[at]) for row in table.rows]
    assert cooks == sorted(cooks, reverse=True)
    table.column_chosen.emit(at)
    assert [float(row.cells[at]) for row in table.rows] == cooks[::-1]
    table.setFocus()
    demo_hands.press("Ctrl+C")
    clipboard = QGuiApplication.clipboard()
    assert clipboard is not None
    assert clipboard.text().count("\n") == 11
    table.choose(10)
    row = table.listed[10]
    demo_hands.press("Enter")
    demo_hands.settle()
    assert window.place.session.desk.waypoint is Waypoint.DATA
    assert window.place.data.view.currentIndex().row() == row


def test_lit_cases_are_set_aside_and_leave_the_list(demo_hands: Hands) -> None:
    at_checks(demo_hands)
    window = demo_hands.window
    window.place.session.look(check=Check.SPREAD)
    demo_hands.settle()
    window.place.checks.light_all_beyond()
    rows = lit(demo_hands)
    says(demo_hands, "wrong boots")
    window.place.checks.take_keyboard()
    demo_hands.press("Delete")
    demo_hands.settle()
    found = window.place.session.checked
    assert found is not None
    assert tuple(found.aside.rows) == rows == (14, 52, 115)
    assert found.fit.cases.n == 218
    assert window.place.session.desk.lit == ()
    assert not window.place.checks.cases.isVisible(), "they are in no plot any more"
    demo_hands.press("V")
    demo_hands.settle()
    head = [column.title for column in window.place.checks.states.head]
    assert head == ["all cases", "without the 3 set aside"]
    assert window.place.checks.states.rows[0].cells == ("221", "218")
    assert "No conclusion differs" in demo_hands.sentence() or "differ" in demo_hands.sentence()
    window.place.checks.take_keyboard()
    demo_hands.press("Shift+Delete")
    demo_hands.settle()
    assert window.place.session.view is not None
    assert window.place.session.view.evaluation.cases.n == 221


def test_a_cut_off_is_typed_and_stays_in_the_study(demo_hands: Hands) -> None:
    at_checks(demo_hands)
    window = demo_hands.window
    window.place.session.look(check=Check.PULL)
    demo_hands.settle()
    assert window.place.checks.choices.cutoff.text().startswith("beyond Cook's 4/n")
    says(demo_hands, "0.05")
    window.place.checks.choices.cutoff.choose("another")
    demo_hands.settle()
    assert window.place.session.study.checks.cutoffs.cook == 0.05
    assert window.place.checks.choices.cutoff.text().startswith("beyond Cook's 0.05")
    says(demo_hands, "much")
    window.place.checks.choices.cutoff.choose("another")
    assert "“much” is not a number" in window.place.session.message
    window.place.checks.choices.cutoff.choose("usual")
    demo_hands.settle()
    assert window.place.session.study.checks.cutoffs.cook is None
    window.place.session.look(check=Check.FAR)
    demo_hands.settle()
    window.place.checks.choices.kind.choose((True, False))
    demo_hands.settle()
    assert "the exact form" in demo_hands.sentence()
    assert "numbers only" in demo_hands.sentence()


def test_before_a_model_there_is_one_sentence(hands: Hands) -> None:
    hands.place.session.open(new_study(Table((number_column("x", np.arange(9.0)),))))
    hands.settle()
    hands.place.go(Waypoint.CHECKS)
    hands.settle()
    checks = hands.place.checks
    assert not any(plot.isVisible() for plot in checks.small.values())
    assert not checks.title.isVisible()
    assert checks.table.isVisible()
    assert checks.table.said.startswith("Enter a model")


def test_without_a_product_the_spread_comes_first(hands: Hands) -> None:
    rng = np.random.default_rng(1)
    table = Table(tuple(number_column(name, rng.normal(size=40)) for name in ("x", "y")))
    hands.place.session.open(said_by(new_study(table), "y = x"))
    hands.settle()
    hands.place.go(Waypoint.CHECKS)
    hands.settle()
    checks = hands.place.checks
    assert checks.title.text() == "Equal variance"
    assert checks.large.drawn is not None
    assert checks.small[Check.STAND].placed is None


def test_of_very_many_cases_density_is_drawn_and_that_is_said(hands: Hands) -> None:
    rng = np.random.default_rng(1)
    n = 3 * MOST
    x = rng.normal(size=n)
    table = Table((number_column("x", x), number_column("y", x + rng.normal(size=n))))
    hands.place.session.open(said_by(new_study(table), "y = x"))
    hands.settle()
    hands.place.go(Waypoint.CHECKS)
    hands.settle()
    drawn, found = hands.place.checks.large.drawn, hands.place.session.checked
    assert drawn is not None
    assert found is not None
    far = found.far[FarBy.STUDENTIZED].cases.size
    points = sum(mark.points.shape[0] for mark in drawn.page.marks if isinstance(mark, Points))
    notes = [mark.text for mark in drawn.page.marks if isinstance(mark, Text) and mark.about is Part.NOTE]
    assert notes == [f"{n - far:,} cases as density"]
    assert points == far > 10


def test_a_case_is_called_by_what_tells_it_apart() -> None:
    names = text_column("crew", [f"c{k}" for k in range(12)])
    study = new_study(Table((number_column("x", np.arange(12.0) ** 1.5), names)))
    assert case_name(study, 4) == "row 5 (crew c4)"
    twice = text_column("crew", ["c1", "c1", *(f"c{k}" for k in range(2, 12))])
    assert case_name(new_study(Table((number_column("x", np.arange(12.0) ** 1.5), twice))), 4) == "row 5"


@pytest.mark.parametrize(
    ("terms", "wanted"),
    [
        (
            "x",
            {
                Check.STAND: "There is no product in the step.",
                Check.STRAIGHT: "There is no product in the step.",
                Check.MOVES: "There is no product in the step.",
                Check.OWN: "There is no product in the step.",
            },
        ),
        (
            "x, w; x*w",
            dict.fromkeys(
                (Check.SPREAD, Check.NORMAL, Check.PULL, Check.MOVES, Check.ORDER),
                "The fit is perfect, so there are no residuals.",
            ),
        ),
    ],
)
def test_a_card_without_a_plot_says_why(hands: Hands, terms: str, wanted: dict[Check, str]) -> None:
    world = noise_world(51)
    y = 1 + 2 * world["x"] + world["w"] * world["x"] if "*" in terms else world["y"]
    hands.place.session.open(study_of({**world, "y": y}, "y", terms))
    hands.settle()
    hands.press("Alt+4")
    cards = hands.place.checks.small
    assert {check: card.said for check, card in cards.items() if card.drawn is None} == wanted
    for check, text in wanted.items():
        assert cards[check].accessibleDescription() == text
        assert text in cards[check].tip(0, 0)
