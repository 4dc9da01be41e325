"""Level and kind of standard errors: chosen in the status line, seen in the ladder, given up in the middle."""

from __future__ import annotations

import time

import numpy as np
import pytest
from PyQt6.QtWidgets import QMenu

from tests.support.windowdriver import Hands
from tests.support.worlds import term
from yellow_slope.app.verbs.standarderrors import clustering
from yellow_slope.app.widgets.bootstrapdialog import BootstrapDialog
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.study.edits.models import set_errors
from yellow_slope.core.study.standarderrors import HC, Bootstrap, Classical, Cluster, IntervalWay
from yellow_slope.core.told.coefficients import CoefficientColumn


def menu_of(hands: Hands, which: str) -> QMenu:
    menu: QMenu | None = getattr(hands.place.status, which).menu()
    assert menu is not None
    return menu


def take(hands: Hands, which: str, text: str) -> None:
    """Choose a line of one of the status line's menus."""
    found = next(a for a in menu_of(hands, which).actions() if a.text() == text)
    found.trigger()
    hands.settle()


def fit_of_window(hands: Hands) -> Fit:
    view = hands.place.session.view
    assert view is not None
    assert view.fit is not None
    return view.fit


def shown_interval(hands: Hands) -> str:
    """The interval of the practice slope as the ladder prints it."""
    ladder = hands.place.blocks.ladder
    figures = ladder.figures()
    assert figures is not None
    fit = fit_of_window(hands)
    texts = figures.texts(fit.last, fit.design.columns_of(term("practice"))[0])
    return texts[[figure for figure, _ in figures.figures].index(CoefficientColumn.INTERVAL)]


def test_the_level_changes_every_interval_and_is_one_step_back(demo_hands: Hands) -> None:
    demo_hands.press("Alt+3")
    before, b = shown_interval(demo_hands), fit_of_window(demo_hands).last.b
    take(demo_hands, "level", "99% intervals")
    status = demo_hands.place.status
    assert status.level.text().startswith("99% intervals")
    assert fit_of_window(demo_hands).last.level == 0.99
    assert shown_interval(demo_hands) != before
    np.testing.assert_array_equal(fit_of_window(demo_hands).last.b, b)
    assert [a.text() for a in menu_of(demo_hands, "level").actions() if a.isChecked()] == ["99% intervals"]
    demo_hands.press("Ctrl+Z")
    assert shown_interval(demo_hands) == before


def test_another_level_is_asked_for(demo_hands: Hands) -> None:
    demo_hands.place.dialogs.number = lambda *a: 80.0  # type: ignore[method-assign]
    take(demo_hands, "level", "another level …")
    assert demo_hands.place.status.level.text().startswith("80% intervals")
    assert fit_of_window(demo_hands).last.level == 0.8


@pytest.mark.parametrize("kind", range(5))
def test_every_kind_of_robust_errors_is_chosen_by_name(demo_hands: Hands, kind: int) -> None:
    demo_hands.press("Alt+3")
    before, f = shown_interval(demo_hands), fit_of_window(demo_hands).last.change.test
    take(demo_hands, "errors", f"HC{kind} SE")
    study = demo_hands.place.session.study
    assert study.model.errors == HC(kind)
    assert f"HC{kind}" in demo_hands.place.status.errors.text()
    assert f"HC{kind}" in demo_hands.place.status.errors.toolTip()
    assert shown_interval(demo_hands) != before
    assert fit_of_window(demo_hands).last.change.test.f != f.f, "tests of several coefficients follow"
    assert fit_of_window(demo_hands).last.r2 == pytest.approx(fit_of_window(demo_hands).last.r2)


def test_clusters_are_offered_only_where_cases_share_an_id(demo_hands: Hands) -> None:
    study = demo_hands.place.session.study
    offered = clustering(study)
    assert "learner" not in offered, "every case is its own"
    assert "site" in offered
    assert "practice" not in offered, "it is a predictor of the model"
    asked: list[list[str]] = []

    def one_of(title: str, question: str, choices: list[str]) -> int:
        asked.append(choices)
        return offered.index("site")

    demo_hands.place.dialogs.one_of = one_of  # type: ignore[method-assign]
    take(demo_hands, "errors", "clustered by an id …")
    study = demo_hands.place.session.study
    assert study.model.errors == Cluster("site")
    assert asked[0][offered.index("site")] == study.variable("site").label
    assert "clustered by" in demo_hands.place.status.errors.text()


def test_a_bootstrap_says_that_it_waits_and_then_stands(demo_hands: Hands) -> None:
    demo_hands.press("Alt+3")
    classical = fit_of_window(demo_hands).last
    demo_hands.place.dialogs.bootstrap = lambda begin, ids: Bootstrap(IntervalWay.PERCENTILE, 1999, 7)  # type: ignore[method-assign]
    take(demo_hands, "errors", "resamples, seed, clusters …")
    fit = fit_of_window(demo_hands)
    assert not fit.is_waiting
    assert np.all(np.isnan(fit.last.t)), "a bootstrap has no t"
    assert np.all(np.isfinite(fit.last.low))
    np.testing.assert_array_equal(fit.last.b, classical.b)
    assert fit.last.low[1] != classical.low[1]
    percentile = fit.last.low.copy()
    take(demo_hands, "errors", f"bootstrap, {IntervalWay.BCA} intervals")
    study = demo_hands.place.session.study
    assert study.model.errors == Bootstrap(IntervalWay.BCA, 1999, 7), "resamples and seed stay"
    assert not np.array_equal(fit_of_window(demo_hands).last.low, percentile)


def test_giving_up_a_bootstrap_leaves_the_formula_and_can_be_undone(demo_hands: Hands) -> None:
    window = demo_hands.window
    window.place.dialogs.bootstrap = lambda begin, ids: Bootstrap(IntervalWay.BCA, 99_999, 7)  # type: ignore[method-assign]
    found = next(a for a in menu_of(demo_hands, "errors").actions() if a.text().startswith("resamples"))
    found.trigger()
    end = time.monotonic() + 90
    while not window.place.status.give_up.isVisible() and time.monotonic() < end:
        demo_hands.app.processEvents()
        time.sleep(0.005)
    assert window.place.status.state.text().startswith("resampling …")
    assert window.place.session.view is not None
    assert window.place.session.view.fit is not None
    assert window.place.session.view.fit.is_waiting, "everything that has a formula stands already"
    demo_hands.clicks(window.place.status.give_up)
    study = window.place.session.study
    assert study.model.errors == Classical()
    assert not window.place.status.give_up.isVisible()
    assert not fit_of_window(demo_hands).is_waiting
    assert window.place.session.message.startswith("Canceled")
    demo_hands.press("Ctrl+Z")
    study = window.place.session.study
    assert study.model.errors == Bootstrap(IntervalWay.BCA, 99_999, 7)
    demo_hands.press("Ctrl+Y")


def test_the_dialog_takes_whole_numbers_only(demo_hands: Hands) -> None:
    dialog = BootstrapDialog(Bootstrap(IntervalWay.BCA, 5000, 1), [("site", "site")], demo_hands.window)
    assert dialog.errors() == Bootstrap(IntervalWay.BCA, 5000, 1)
    dialog.draws.setText("many")
    dialog._accept_whole()
    assert dialog.result() == 0
    assert "whole numbers" in dialog.trouble.text()
    dialog.draws.setText("2,000")
    dialog.way.choose(IntervalWay.PERCENTILE)
    dialog.drawn.choose("site")
    assert dialog.errors() == Bootstrap(IntervalWay.PERCENTILE, 2000, 1, "site")
    for widget in (dialog.way, dialog.draws, dialog.seed, dialog.drawn):
        assert widget.accessibleName()
        assert widget.toolTip()
    dialog.deleteLater()


def test_too_few_clusters_are_said(demo_hands: Hands) -> None:
    session = demo_hands.place.session
    assert session.edit("x", lambda s: set_errors(s, Bootstrap(IntervalWay.PERCENTILE, 1000, 3, "returner")))
    demo_hands.settle()
    fit = fit_of_window(demo_hands)
    assert np.all(np.isnan(fit.last.low) | np.isfinite(fit.last.low))
    assert "clusters" in demo_hands.place.status.errors.toolTip()
