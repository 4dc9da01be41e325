"""What people read can be worded otherwise without a file that reads otherwise: ids and labels are apart."""

from __future__ import annotations

import random

import pytest

from tests.support.drawnfigures import drawn_figure, drawn_shown
from yellow_slope.core.errors import StudyError
from yellow_slope.core.figured.subjects import subject_of
from yellow_slope.core.fit.fitted.evaluate import evaluate
from yellow_slope.core.kinds import Named
from yellow_slope.core.probe.asking import asked_probes
from yellow_slope.core.study.checks import Check
from yellow_slope.core.study.edits.figures import add_figure
from yellow_slope.core.study.edits.models import set_errors
from yellow_slope.core.study.edits.report import choose_set
from yellow_slope.core.study.figures import Figure, FigureSize, ShowsCheck
from yellow_slope.core.study.report import ReadySet
from yellow_slope.core.study.standarderrors import Bootstrap
from yellow_slope.core.study.study import Study
from yellow_slope.demo.learners import STUDY
from yellow_slope.files.opening import open_anything
from yellow_slope.files.study.studyfile import packed, unpacked
from yellow_slope.plots.figures import layout

pytestmark = pytest.mark.no_cover  # what it runs through others run through


def with_everything() -> Study:
    """The demo with figures by lot, a bootstrap, and a report of all parts."""
    study, rng = open_anything(STUDY), random.Random(5)
    probe = asked_probes(study, evaluate(study).fit)[0]
    for number in range(40):
        shows = drawn_shown(rng, study, probe)
        figure = drawn_figure(rng, study, shows, f"figure {number}")
        try:
            study = add_figure(study, figure, probe)
        except StudyError:
            continue
    for check in Check:
        study = add_figure(study, Figure(f"check {check.name}", ShowsCheck(check), size=FigureSize(9.0)))
    return choose_set(set_errors(study, Bootstrap(draws=1000)), ReadySet.EVERYTHING)


def drawn(study: Study) -> dict[str, str]:
    """Every figure laid out, or why it is not."""
    evaluation, found = evaluate(study), dict[str, str]()
    for figure in study.figures:
        try:
            found[figure.name] = repr(layout(figure, subject_of(evaluation, figure.shows)))
        except StudyError as error:
            found[figure.name] = str(error)
    return found


@pytest.mark.no_cover
def test_no_label_stands_in_a_file_and_no_picture_is_read_off_one(monkeypatch: pytest.MonkeyPatch) -> None:
    study = with_everything()
    assert len(study.figures) > 30
    before, pages = packed(study), drawn(study)
    assert sum(page.startswith("Page(") for page in pages.values()) > 30
    kinds = Named.__subclasses__()
    assert len(kinds) >= 14
    for kind in kinds:
        for number, member in enumerate(kind):
            assert kind(member.value) is member
            monkeypatch.setattr(member, "label", f"worded otherwise {number}")
    assert packed(study) == before
    again = unpacked(before, "again.yslope")
    assert packed(again) == before
    assert drawn(again) == pages


def test_a_label_that_is_not_given_is_the_id() -> None:
    class Two(Named):
        ONE = "one"
        OTHER = "other", "another one"

    assert [(two.value, two.label) for two in Two] == [("one", "one"), ("other", "another one")]
