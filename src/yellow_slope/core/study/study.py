"""The study: one immutable value that holds facts about the table and the analyst's choices. No result stands in it."""

from __future__ import annotations

from yellow_slope.core.data.columns import Columns
from yellow_slope.core.data.derived import Derived
from yellow_slope.core.data.guessing import guessed_variable
from yellow_slope.core.data.source import Source
from yellow_slope.core.data.table import Table
from yellow_slope.core.data.variable import Kind, Variable
from yellow_slope.core.errors import StudyError
from yellow_slope.core.letters import letters_only
from yellow_slope.core.study.checks import Checks
from yellow_slope.core.study.figures import Figure
from yellow_slope.core.study.flagkeys import Dismissal, FlagKey
from yellow_slope.core.study.gone import Gone
from yellow_slope.core.study.model import Model
from yellow_slope.core.study.probe import Probe
from yellow_slope.core.study.report import USUAL_REPORT, ReportChoice
from yellow_slope.core.study.rules import Sample
from yellow_slope.values import dataclass, field, names_of, replace, settle


@dataclass(frozen=True, slots=True, eq=False)
class Study:
    """Everything an analysis is made of. Edits make a new one; nothing in it ever changes."""

    table: Table
    variables: tuple[Variable, ...]
    name: str = "Untitled study"
    source: Source = Source()
    derived: tuple[Derived, ...] = ()
    samples: tuple[Sample, ...] = ()
    models: tuple[Model, ...] = (Model(),)
    current: str = "m1"
    """Id of the model that is worked on."""
    probes: tuple[Probe, ...] = ()
    checks: Checks = Checks()
    figure_letters: float = 9.0
    """Size of the letters of figures that were not made one's own, in points."""
    figures: tuple[Figure, ...] = ()
    report: ReportChoice = USUAL_REPORT
    dismissals: tuple[Dismissal, ...] = ()
    pinned: tuple[FlagKey, ...] = ()
    """Flags that a remedy asked to stand until they are put aside."""
    went: tuple[Gone, ...] = ()
    """What could not stay in the edits that led here, until somebody has said it; never saved."""
    columns: Columns = field(init=False, repr=False)
    """The one door to values."""

    def __post_init__(self) -> None:
        letters_only(self, "name")
        settle(self, "columns", Columns(self))

    @property
    def model(self) -> Model:
        """The current model."""
        return self.model_of(self.current)

    def model_of(self, model_id: str | None) -> Model:
        """The model of that id; None: the current one. StudyError if there is none."""
        wanted = self.current if model_id is None else model_id
        for model in self.models:
            if model.id == wanted:
                return model
        raise StudyError(f"There is no model “{wanted}”.")

    def variable(self, name: str) -> Variable:
        """The description of that column; StudyError if there is none."""
        return self.columns.variable(name)

    def says_as(self, other: Study) -> bool:
        """Whether both say the same of the same table, by whatever way they came about."""
        unsaid = ("table", "went", "columns")
        return self is other or (
            self.table is other.table
            and all(getattr(self, name) == getattr(other, name) for name in names_of(self) if name not in unsaid)
        )

    def modelled(self, probes: tuple[Probe, ...] = (), checks: Checks = Checks()) -> Study:
        """The study with nothing in it but what its fits, and words and pictures of them, rest on: no figure, report
        or flag that was put aside, and of probes and checks what is given here."""
        return replace(
            self,
            name="",
            probes=probes,
            checks=checks,
            figure_letters=9.0,
            figures=(),
            report=USUAL_REPORT,
            dismissals=(),
            pinned=(),
            went=(),
        )

    def columns_alone(self, *names: str) -> Study:
        """A study of these columns with all that their values rest on, and nothing else."""
        if any(name not in self.table for name in names):  # what is computed may rest on any other
            return Study(self.table, self.variables, derived=self.derived)
        return Study(self.table, tuple(v for v in self.variables if v.name in names))

    def sample_of(self, model: Model) -> Sample | None:
        """The sample a model rests on; None: all cases. StudyError for a name that no sample has."""
        if model.sample is None:
            return None
        for sample in self.samples:
            if sample.name == model.sample:
                return sample
        raise StudyError(f"There is no sample named “{model.sample}”.")

    @property
    def numbers(self) -> tuple[Variable, ...]:
        """The variables that are numbers."""
        return tuple(v for v in self.variables if v.kind is Kind.NUMBER)

    def with_model(self, model: Model) -> Study:
        """The study with a model replaced by one of the same id."""
        return replace(self, models=tuple(model if m.id == model.id else m for m in self.models))


def new_study(table: Table, name: str = "Untitled study", source: Source = Source()) -> Study:
    """A study of a table about which nothing has been said yet."""
    return Study(table, tuple(guessed_variable(column) for column in table.columns), name=name, source=source)


NO_STUDY = new_study(Table(()))
"""What is looked at while no study is open: it has no columns."""
