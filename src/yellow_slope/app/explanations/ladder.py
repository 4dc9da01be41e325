"""The chosen cell of the ladder, or of one model per group."""

from __future__ import annotations

from functools import lru_cache

from yellow_slope.app.explanations.link import Explanation, instruction
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.state.view import View
from yellow_slope.core.fit.asked.matching import matched, matched_step
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.fitted.steps import Coefficient
from yellow_slope.core.told.steps import step_figures
from yellow_slope.core.words.names.study import model_name
from yellow_slope.core.words.names.terms import INTERCEPT, label
from yellow_slope.core.words.sentences.bygroup import GroupReader
from yellow_slope.core.words.sentences.coefficients import Reader
from yellow_slope.core.words.sentences.samples import sample_sentence
from yellow_slope.core.words.sentences.shifts import shift_sentence
from yellow_slope.core.words.sentences.steps import is_quick, smallest_sentence
from yellow_slope.core.words.spelling.letters import capital
from yellow_slope.core.words.spelling.numerals import bounded, estimate_decimals, f2_text, fixed, p_equals
from yellow_slope.core.words.spelling.reasons import reason
from yellow_slope.core.words.spelling.testtexts import written_or_why

MOST_SAID = 4
"""Of a set of more columns the joint test is said, the others when they are chosen."""


@lru_cache(maxsize=2)
def _all_figures(view: View, step: int) -> str:
    """All figures of a step; looked up again with every change of the desk, worked out once."""
    read = view.reader
    assert read is not None
    return f"{'; '.join(step_figures(read, step, is_quick(read)))}. {smallest_sentence(read, step)}"


def ladder_explanation(session: StudySession) -> Explanation:
    """The chosen cell of the ladder."""
    view, cell = session.view, session.desk.cell
    assert view is not None
    study = view.study  # what is shown belongs to it, while a newer study is being computed
    read = view.reader
    if read is None:
        return instruction(view.evaluation.problem or "Blocks", sample_sentence(view.evaluation))
    if study.model.by is not None:
        return groups_explanation(session, view.groups, view.groups_refusal)
    fit = read.fit
    n = len(fit.steps)
    step = session.desk.step(study.model)
    if cell is None:
        name = study.model.steps[step].name
        title = f"Step {step + 1} of {n}" + (f": {name}" if name else "")
        return Explanation(title, read.whole(step), read.spoken.block(step), more=_all_figures(view, step))
    if cell.term is None and cell.column is None and cell.block is not None:
        return _block(read, cell.block)
    if cell.column == -1:
        return Explanation(
            capital(INTERCEPT), _figures(fit.steps[step].coefficient(-1), step), read.spoken.coefficient(step, -1)
        )
    if cell.term is None or cell.term not in study.model.terms:
        return Explanation("")
    columns = fit.design.columns_of(cell.term)
    home = study.model.step_of(cell.term)
    if home is None:
        return instruction(label(study, cell.term), "Its block is switched off for the moment.")
    step = max(step, home)
    if cell.column is None and len(columns) > 1:
        sentences = [read.spoken.joint(step, cell.term)]
        if len(columns) <= MOST_SAID:
            sentences += [read.spoken.coefficient(step, j) for j in columns]
        else:
            sentences.append("Choose a comparison to read it.")
        title = f"{label(study, cell.term)}, {len(columns)} comparisons"
        figures = f"step {step + 1}    {written_or_why(fit.steps[step].joint[cell.term], between='    ')}"
        return Explanation(title, figures, " ".join(sentences))
    column = cell.column if cell.column is not None else (columns[0] if columns else None)
    if column is None or column >= fit.steps[step].n_columns:
        text = "All of the model's cases are in one group: there is nothing to compare."
        return Explanation(label(study, cell.term), "", text)
    more = " ".join(
        x for x in (shift_sentence(read.spoken, step, column), compared_sentence(session, view, step, column)) if x
    )
    return Explanation(
        read.column_name(column),
        _figures(fit.steps[step].coefficient(column), step),
        read.spoken.coefficient(step, column),
        more=more,
    )


def compared_sentence(session: StudySession, view: View, step: int, column: int) -> str:
    """What the model that is compared with says of the same question; empty while none is."""
    study, wanted, fit = view.study, session.desk.compared, view.fit
    if wanted is None or fit is None or wanted == study.current or wanted not in view.evaluation.fits:
        return ""
    its, name = view.evaluation.fits[wanted], f"In “{model_name(study, study.model_of(wanted))}”"
    if not isinstance(its, Fit):
        return ""
    at, pairs = matched_step(step, fit, its), matched(fit, its)
    if at is None or column not in pairs or pairs[column] >= its.steps[at].n_columns:
        return f"{name} there is no corresponding coefficient at this step."
    mine, other = fit.steps[step].coefficient(column), its.steps[at].coefficient(pairs[column])
    if other.b != other.b:
        return f"{name} it cannot be estimated: {reason(other.why)}."
    d = estimate_decimals(other.se, other.b, other.low, other.high)
    bounds = f" ({fixed(other.low, d)} to {fixed(other.high, d)}), {p_equals(other.p)}" if other.why is None else ""
    same = mine.p == other.p or abs(mine.t - other.t) <= 1e-6 * max(1.0, abs(mine.t))
    return f"{name} {'its test is the same' if same else 'the test differs'}: b = {fixed(other.b, d)}{bounds}."


def groups_explanation(session: StudySession, read: GroupReader | None, refusal: str) -> Explanation:
    """The chosen cell of the groups' models; without one whether they differ, and where zero is."""
    if read is None:
        return instruction("One model per group", refusal)
    chosen = session.desk.group_cell
    title = f"One model per group of {read.group_label}"
    if chosen is None:
        said = " ".join(
            text for text in (read.headline(), read.zeros() if read.has_products else "", read.left()) if text
        )
        return Explanation(title, "", said)
    row, group = chosen
    inside = row < len(read.inner_columns)
    return (
        Explanation(title, "", f"{read.cell(row, group)} {read.zeros(row)}".strip()) if inside else Explanation(title)
    )


def _block(read: Reader, block: int) -> Explanation:
    model = read.model
    if block >= len(model.blocks):
        return Explanation("")
    shown = model.blocks[block]
    title = f"Block {block + 1}" + (f": {shown.name}" if shown.name else "")
    step = model.step_index(shown.id)
    if not shown.on or not 0 <= step < len(read.fit.steps):
        return instruction(title, "The block is switched off for the moment.")
    change = read.fit.steps[step].change
    f2 = "" if change.f2 != change.f2 else f"    f² = {f2_text(change.f2)}"
    test = written_or_why(change.test, between="    ")
    return Explanation(
        title, f"ΔR² = {bounded(change.r2)}    {test}{f2}", read.spoken.block(step), more=smallest_sentence(read, step)
    )


def _figures(c: Coefficient, step: int) -> str:
    if c.b != c.b:
        return f"step {step + 1}    {reason(c.why)}"
    d = estimate_decimals(c.se, c.b, c.low, c.high)
    text = f"step {step + 1}    b = {fixed(c.b, d)}"
    if c.why is not None:
        return text
    t = f"    t = {fixed(c.t, 2)}" if c.t == c.t else ""  # none where errors come from resamples
    text += f"    SE = {fixed(c.se, d)}{t}    {p_equals(c.p)}"
    return text if c.column < 0 else f"{text}    sr² = {bounded(c.sr2)}"
