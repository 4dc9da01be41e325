"""The figures of the study in the report: each is printed once, tuned as it was."""

from __future__ import annotations

from yellow_slope.core.errors import YellowSlopeError
from yellow_slope.core.figured.subjects import subject_of
from yellow_slope.core.fit.fitted.evaluate import Evaluation
from yellow_slope.core.study.figures import ShowsProbe
from yellow_slope.core.study.probe import Probe
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.sentences.figures import alternative, caption, figure_remarks, figure_title
from yellow_slope.plots.figures import layout
from yellow_slope.report.document import Picture, Section, said
from yellow_slope.report.fontchain import remark
from yellow_slope.values import dataclass, field


@dataclass(slots=True)
class OwnFigures:
    """The figures of the study, each printed once: with its probe, else in a section of their own."""

    study: Study
    drawn: dict[int, Picture]
    refused: dict[int, str]
    printed: set[int] = field(default_factory=set)

    def of(self, probe: Probe) -> list[Picture]:
        """The figures of a probe; those that cannot be drawn are told of later."""
        found = []
        for i, figure in enumerate(self.study.figures):
            if isinstance(figure.shows, ShowsProbe) and figure.shows.shows(probe) and i in self.drawn:
                self.printed.add(i)
                found.append(self.drawn[i])
        return found

    def left(self) -> list[int]:
        """Those that are not printed yet."""
        return [i for i in range(len(self.study.figures)) if i not in self.printed]

    def section(self) -> Section:
        """All that are left."""
        left = self.left()
        names = {i: self.study.figures[i].name for i in left}
        refused = tuple(said(f"“{names[i]}” is not drawn: {self.refused[i]}") for i in left if i in self.refused)
        return Section("Figures", refused, (), tuple(self.drawn[i] for i in left if i in self.drawn))


def own_figures(evaluation: Evaluation) -> OwnFigures:
    """Every figure of the study, drawn, or with the reason why it cannot be."""
    study = evaluation.study
    found = OwnFigures(study, {}, {})
    for i, figure in enumerate(study.figures):
        try:
            subject = subject_of(evaluation, figure.shows)
            page = layout(figure, subject)
        except YellowSlopeError as error:
            found.refused[i] = str(error)
            continue
        told = [caption(figure, subject), *figure_remarks(evaluation, figure, subject)]
        title, text = figure_title(figure, subject), " ".join((*told, remark(page))).strip()
        found.drawn[i] = Picture(title, text, page, alternative(figure, subject), i)
    return found
