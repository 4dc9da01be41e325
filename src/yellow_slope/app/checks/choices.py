"""What Checks is asked of: the chips beside the question."""

from __future__ import annotations

from PyQt6.QtWidgets import QLabel, QWidget

from yellow_slope.app.state.desk import Cell
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.widgets.dialogs import Dialogs
from yellow_slope.app.widgets.picker import Picker
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.stand.standing import ProductAsked, default_split
from yellow_slope.core.study.checks import Check, FarBy
from yellow_slope.core.study.edits.checks import set_cutoff, set_distance, set_split
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term
from yellow_slope.core.typed import typed_number
from yellow_slope.core.words.names.terms import label, short_column_name
from yellow_slope.core.words.sentences.checks import spread_choices
from yellow_slope.core.words.sentences.rivals import far_name

FAR_OF = {
    Check.SPREAD: FarBy.STUDENTIZED,
    Check.NORMAL: FarBy.STUDENTIZED,
    Check.ORDER: FarBy.STUDENTIZED,
    Check.OWN: FarBy.STUDENTIZED,
    Check.PULL: FarBy.COOK,
    Check.FAR: FarBy.DISTANCE,
}
"""By which measure cases are far out in a plot."""
OF_PRODUCT = (Check.STAND, Check.STRAIGHT, Check.MOVES, Check.OWN)
"""Questions about the product."""
ANOTHER = "another"


class CheckChoices:
    """Product, step, parts, what residuals are drawn along, cut-off, and how D² is taken."""

    def __init__(self, session: StudySession, dialogs: Dialogs) -> None:
        self.session, self._dialogs = session, dialogs
        self.product = Picker[tuple[Term, int | None]]("Product", "Which product is asked about")
        self.product.whenever_chosen(self._choose_product)
        self.step = Picker[int]("Step", "The step that is checked")
        self.step.whenever_chosen(lambda step: session.look(open_step=step))
        self.within = QLabel("in")
        self.within.setObjectName("soft")
        self.split = Picker[str | None](
            "Parts", "A group variable; the product is also examined within each of its levels"
        )
        self.split.whenever_chosen(lambda name: session.edit("choose the subgroups", lambda s: set_split(s, name)))
        self.along = Picker[str | None]("Along", "What the residuals are plotted against")
        self.along.whenever_chosen(lambda name: session.look(along=name))
        self.cutoff = Picker[str]("Cut-off", "Value beyond which cases are marked")
        self.cutoff.whenever_chosen(self._choose_cutoff)
        self.kind = Picker[tuple[bool, bool]](
            "D²", "Which variables D² is computed from, and the distribution of its cut-off"
        )
        self.kind.whenever_chosen(lambda k: session.edit("choose how D² is computed", lambda s: set_distance(s, *k)))

    @property
    def widgets(self) -> tuple[QWidget, ...]:
        """From left to right."""
        return self.product, self.within, self.step, self.split, self.along, self.kind, self.cutoff

    def show_frame(self, there: bool, check: Check) -> None:
        """Only what a question is about stands there."""
        of_product = check in OF_PRODUCT
        for widget, wanted in (
            (self.step, True),
            (self.product, of_product),
            (self.within, of_product),
            (self.split, check is Check.STAND),
            (self.along, check is Check.SPREAD),
            (self.cutoff, check in FAR_OF),
            (self.kind, check is Check.FAR),
        ):
            widget.setVisible(there and wanted)

    def _choose_product(self, chosen: tuple[Term, int | None]) -> None:
        product, column = chosen
        study = self.session.study
        if self.session.is_open:
            block = study.model.block_of(product)
            self.session.look(cell=Cell(block, product, column), rival=None, flag=None)

    def _choose_cutoff(self, chosen: str) -> None:
        by = FAR_OF.get(self.session.shown_check())
        if by is None:
            return
        value: float | None = None
        if chosen == ANOTHER:
            typed = self._dialogs.text("Cut-off", "Beyond which value should cases be marked?", "")
            if typed is None:
                return
            value = typed_number(typed)
            if value is None:
                self.session.say(f"“{typed}” is not a number.")
                return
        self.session.edit("choose a cut-off", lambda s: set_cutoff(s, by, value))

    def show(self, study: Study, fit: Fit, step: int, asked: ProductAsked | None) -> None:
        """Offer what there is to choose, and show what is chosen."""
        self.step.set_choices([(i, f"step {i + 1}") for i in range(len(fit.steps))], step)
        self._show_products(study, fit, step, asked)
        groups = [v for v in study.variables if v.kind is Kind.GROUP and v.name != study.model.outcome]
        chosen = default_split(study, asked.product) if asked is not None else None
        self.split.set_choices([(v.name, f"subgroups: {v.label}") for v in groups], chosen, "no subgroups")
        along = spread_choices(study, fit, step)
        now = self.session.desk.along
        self.along.set_choices(along, now if now in [k for k, _ in along] else None)
        cut = study.checks.cutoffs
        kinds = [
            ((exact, groups), f"{'exact' if exact else 'chi-square'}, {'groups too' if groups else 'numbers only'}")
            for exact in (False, True)
            for groups in (True, False)
        ]
        self.kind.set_choices(kinds, (cut.exact, cut.groups))
        by = FAR_OF.get(self.session.shown_check())
        if by is not None:
            self._show_cutoff(by, cut.typed(by))

    def _show_products(self, study: Study, fit: Fit, step: int, asked: ProductAsked | None) -> None:
        choices: list[tuple[tuple[Term, int | None], str]] = []
        entered = [t for block in study.model.steps[: step + 1] for t in block.terms if t.is_product]
        for term in entered:
            name, columns = label(study, term), fit.design.columns_of(term)
            choices.append(((term, None), name))
            if len(columns) > 1:
                choices += [((term, j), f"{name}: {short_column_name(study, fit, j)}") for j in columns]
        cell = self.session.desk.cell
        column = cell.column if asked is not None and asked.key is not None and cell is not None else None
        self.product.set_choices(choices, (asked.product, column) if asked is not None else None, "no product")

    def _show_cutoff(self, by: FarBy, typed: float | None) -> None:
        found = self.session.checked
        usual = found.far[by].cutoff if found is not None and typed is None else None
        name = "the usual one" if usual is None else far_name(by, usual, False)
        offered = [("usual", f"beyond {name}"), (ANOTHER, "another cut-off …")]
        if typed is not None:
            offered.insert(0, ("typed", f"beyond {far_name(by, typed, True)}"))
        self.cutoff.set_choices(offered, "usual" if typed is None else "typed")
