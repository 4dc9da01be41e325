"""Stories: what the foot says of the thing that is looked at, and what can be done about it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from yellow_slope.app.session import StudySession
from yellow_slope.core import edits
from yellow_slope.core.curve import ConditionalEffect
from yellow_slope.core.describe import summary_sentence
from yellow_slope.core.design import GroupBasis, NumberBasis
from yellow_slope.core.diagnosis import diagnose, residual_sentence
from yellow_slope.core.numerals import bounded, estimate_decimals, fixed, p_equals, place
from yellow_slope.core.probe import Probed
from yellow_slope.core.reading import sample_sentence


@dataclass(frozen=True, slots=True)
class Link:
    """Something to click in the foot."""

    text: str
    help: str
    run: Callable[[], object]


@dataclass(frozen=True, slots=True)
class Story:
    """Title, figures at the right, sentence, and links."""

    title: str
    figures: str = ""
    sentence: str = ""
    links: tuple[Link, ...] = ()


def story(session: StudySession) -> Story:
    """The story of what is looked at."""
    if session.study is None or session.results is None:
        return Story("")
    flag = session.flag(session.desk.flag)
    if flag is not None:
        return flag_story(session, flag.key)
    if session.desk.waypoint == "Blocks":
        return ladder_story(session)
    if session.desk.waypoint == "Probe":
        return probe_story(session)
    if session.desk.waypoint == "Checks":
        return checks_story(session)
    if session.desk.waypoint in ("Data", "Prepare"):
        return variable_story(session)
    return Story("Report", "", sample_sentence(session.results.evaluation))


def flag_story(session: StudySession, key: str) -> Story:
    """A flag: its cost in numbers and its remedies."""
    flag = session.flag(key)
    assert flag is not None

    def remedy(label: str, edit: Callable) -> Link:  # type: ignore[type-arg]
        def run() -> None:
            if session.edit(label[:1].lower() + label[1:], edit):
                session.look(flag=None)

        return Link(label, f"{label}; can be undone", run)

    links = [remedy(r.label, r.edit) for r in flag.remedies]
    return Story(flag.title, "", flag.cost, tuple(links))


def put_aside(session: StudySession, key: str, reason: str) -> None:
    """Dismiss a flag with a reason."""
    session.edit("put a flag aside", lambda s: edits.dismiss(s, key, reason))
    session.look(flag=None)


def ladder_story(session: StudySession) -> Story:
    """The chosen cell of the ladder."""
    results, cell = session.results, session.desk.cell
    assert results is not None
    study = results.evaluation.study  # what is shown belongs to it, while a newer study is being computed
    read = results.reader
    if read is None:
        return Story(results.evaluation.problem or "Blocks", "", sample_sentence(results.evaluation))
    fit = read.fit
    last = len(fit.steps) - 1
    step = last if session.desk.open_step is None else min(session.desk.open_step, last)
    if cell is None:
        text = "Choose a row to read what its number means. " + sample_sentence(results.evaluation)
        return Story(f"Step {step + 1} of {last + 1}", _whole(fit.steps[step]), text)
    if cell.term is None and cell.column is None and cell.block is not None:
        if cell.block > last:
            return Story("")
        change = fit.steps[cell.block].change
        figures = f"ΔR² = {bounded(change.r2)}    F({change.test.df1}, {change.test.df2}) = {fixed(change.test.f, 2)}    {p_equals(change.test.p)}    f² = {fixed(change.f2, 3)}"
        name = study.blocks[cell.block].name
        return Story(f"Block {cell.block + 1}" + (f": {name}" if name else ""), figures, read.block(cell.block))
    if cell.column == -1:
        return Story(
            "Level at the zero points (constant)",
            _figures(fit.steps[step].coefficient(-1), step),
            read.coefficient(step, -1),
        )
    if cell.term is None:
        return Story("")
    if cell.term not in study.terms:
        return Story("")
    columns = fit.design.columns_of(cell.term)
    home = study.block_of(cell.term) or 0
    step = max(step, home)
    if cell.column is None and len(columns) > 1:
        test = fit.steps[step].joint[cell.term]
        figures = f"step {step + 1}    F({test.df1}, {test.df2}) = {fixed(test.f, 2)}    {p_equals(test.p)}"
        sentences = [read.joint(step, cell.term), *(read.coefficient(step, j) for j in columns)]
        return Story(f"{study.label(cell.term)}, {len(columns)} comparisons", figures, " ".join(sentences))
    column = cell.column if cell.column is not None else (columns[0] if columns else None)
    if column is None or column >= fit.steps[step].n_columns:
        return Story(
            study.label(cell.term), "", "All of the model's cases are in one group: there is nothing to compare."
        )
    return Story(
        read.term_name(column), _figures(fit.steps[step].coefficient(column), step), read.coefficient(step, column)
    )


def _whole(step) -> str:  # type: ignore[no-untyped-def]
    return f"R² = {bounded(step.r2)}    adjusted R² = {bounded(step.adjusted_r2)}    F({step.whole.df1}, {step.whole.df2}) = {fixed(step.whole.f, 2)}    {p_equals(step.whole.p)}"


def _figures(c, step: int) -> str:  # type: ignore[no-untyped-def]
    d = estimate_decimals(c.se)
    text = f"step {step + 1}    b = {fixed(c.b, d)}    SE = {fixed(c.se, d)}    t = {fixed(c.t, 2)}    {p_equals(c.p)}"
    return text if c.column < 0 else f"{text}    sr² = {bounded(c.sr2)}"


def effect_figures(effect: ConditionalEffect) -> str:
    """Figures of a conditional effect."""
    d = estimate_decimals(effect.se)
    return f"b = {fixed(effect.effect, d)}    SE = {fixed(effect.se, d)}    t({effect.df}) = {fixed(effect.t, 2)}    {p_equals(effect.p)}"


def probe_story(session: StudySession) -> Story:
    """The handle, or the chosen row of the table; for a group moderator without a choice the whole set."""
    probed = session.probed()
    results = session.results
    read = results.reader if results else None
    if probed is None or read is None:
        return Story(
            "Nothing to probe yet", "", "Enter a product at the waypoint Blocks; its slopes appear here at once."
        )
    focus = min(session.desk.focus, len(probed.foci) - 1)
    found = probed.foci[focus]
    chosen = session.desk.place
    name = read.study.variable(probed.focal.variable).label
    what = f"slope of {name}" if isinstance(probed.focal, NumberBasis) else difference_name(probed, focus)
    if isinstance(probed.moderator, GroupBasis):
        test = probed.interaction
        if chosen is None or chosen >= len(found.effects) + len(found.differences):
            figures = f"interaction F({test.df1}, {test.df2}) = {fixed(test.f, 2)}    {p_equals(test.p)}"
            said = [
                read.effect(probed, focus, e, read.at_level(probed, i), held=False) for i, e in enumerate(found.effects)
            ]
            said += [read.slope_difference(probed, focus, i, held=False) for i in range(len(found.differences))]
            held = ", ".join(read.held(probed))
            said.append(f"All {held}." if held else "")
            return Story(
                f"{what} by {read.study.variable(probed.moderator.variable).label}", figures, " ".join(said).strip()
            )
        if chosen < len(found.effects):
            effect = found.effects[chosen]
            where = probed.places[chosen].name
            return Story(
                f"{what}: {where}",
                effect_figures(effect),
                read.effect(probed, focus, effect, read.at_level(probed, chosen)),
            )
        index = chosen - len(found.effects)
        difference = found.differences[index]
        title = f"{what}: {difference.of} minus {difference.minus}"
        return Story(title, effect_figures(difference.effect), read.slope_difference(probed, focus, index))
    assert found.curve is not None
    value = handle_value(session, probed)
    if chosen is not None and chosen < len(probed.places):
        value = probed.places[chosen].value
    effect = found.curve.at(value)
    at = place(value, probed.moderator.sd)
    moderator = read.study.variable(probed.moderator.variable).label
    return Story(
        f"{what} at {moderator} {at}",
        effect_figures(effect),
        read.effect(probed, focus, effect, read.at_value(probed, value)),
    )


def difference_name(probed: Probed, focus: int) -> str:
    """“returner minus first season”."""
    assert isinstance(probed.focal, GroupBasis)
    return f"{probed.foci[focus].name} minus {probed.focal.levels[probed.focal.reference].label}"


def handle_value(session: StudySession, probed: Probed) -> float:
    """Where the handle stands: where it was put, else at the mean."""
    assert isinstance(probed.moderator, NumberBasis)
    value = session.desk.handle
    if value is None:
        return probed.moderator.mean
    return min(probed.moderator.high, max(probed.moderator.low, value))


def variable_story(session: StudySession) -> Story:
    """The current variable."""
    name, study, results = session.desk.variable, session.study, session.results
    if name is None or study is None or results is None:
        return Story("Choose a variable to read about it")
    variable = study.variable(name)
    return Story(variable.label, str(variable.kind), summary_sentence(study, results.evaluation, name))


def checks_story(session: StudySession) -> Story:
    """What the residuals look like in words."""
    results = session.results
    fit = results.evaluation.fit if results else None
    if fit is None or results is None:
        return Story("Nothing to check yet", "", "Enter a model at the waypoint Blocks.")
    step = len(fit.steps) - 1 if session.desk.open_step is None else min(session.desk.open_step, len(fit.steps) - 1)
    return Story(
        f"Residuals of step {step + 1}",
        _whole(fit.steps[step]),
        residual_sentence(results.evaluation, diagnose(fit, step)),
    )
