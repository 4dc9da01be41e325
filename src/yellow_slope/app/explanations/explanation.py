"""Explanations: what the foot says of the thing that is looked at, and what can be done about it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache, partial

from yellow_slope.app.state.prepared import COLUMNS, COMPARISONS
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.state.view import View
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.fit.asked.matching import matched, matched_step
from yellow_slope.core.fit.design.bases import GroupBasis, NumberBasis
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.fitted.steps import Coefficient
from yellow_slope.core.flags import Flag
from yellow_slope.core.groups.codecard import CodeCard
from yellow_slope.core.groups.overview import Overview
from yellow_slope.core.probe.probing import Probed
from yellow_slope.core.study.coding import Planned, Trends
from yellow_slope.core.study.edits.dismissals import dismiss, raise_again
from yellow_slope.core.study.edits.questions import change_sides
from yellow_slope.core.study.flagkeys import FlagKey
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.treatment import WithinGroups
from yellow_slope.core.study.whole import Edit
from yellow_slope.core.words.names.study import model_name
from yellow_slope.core.words.names.terms import INTERCEPT, label
from yellow_slope.core.words.sentences.bygroup import GroupReader
from yellow_slope.core.words.sentences.coefficients import Reader
from yellow_slope.core.words.sentences.comparisons import (
    comparison_figures,
    comparison_sentence,
    comparison_title,
    effect_text,
    joint_sentence,
    omnibus_text,
    pair_sentence,
)
from yellow_slope.core.words.sentences.samples import sample_sentence, summary_sentence
from yellow_slope.core.words.sentences.shifts import shift_sentence
from yellow_slope.core.words.sentences.steps import is_quick, smallest_sentence, step_figures
from yellow_slope.core.words.sentences.zeros import centering_sentence, treated_sentence, zero_sentence
from yellow_slope.core.words.spelling.numerals import (
    bounded,
    counted,
    estimate_decimals,
    fixed,
    number_or_place,
    p_equals,
    place,
)
from yellow_slope.core.words.spelling.reasons import reason

MOST_SAID = 4
MOST_GROUPS = 12
"""Of a set of more columns the joint test is said, the others when they are chosen."""


@dataclass(frozen=True, slots=True)
class Link:
    """Something to click in the foot."""

    text: str
    help: str
    run: Callable[[], object]


@dataclass(frozen=True, slots=True)
class Explanation:
    """Title, figures at the right, text, and links. `in_words`: whether the text puts a number into words."""

    title: str
    figures: str = ""
    text: str = ""
    links: tuple[Link, ...] = ()
    in_words: bool = True
    more: str = ""
    """What stands below the sentence, in softer ink: why it changed, what the model beside says."""


def instruction(title: str, text: str) -> Explanation:
    """What to do next; it puts no number into words."""
    return Explanation(title, "", text, (), in_words=False)


def explanation(session: StudySession) -> Explanation:
    """The explanation of what is looked at."""
    if session.study is None or session.view is None:
        return Explanation("")
    flag = session.flag(session.desk.flag)
    if flag is not None:
        return flag_explanation(session, flag)
    if session.desk.waypoint == "Blocks":
        return ladder_explanation(session)
    if session.desk.waypoint == "Probe":
        return probe_explanation(session)
    if session.desk.waypoint == "Checks":
        return checks_explanation(session)
    if session.desk.waypoint == "Prepare":
        return prepare_explanation(session)
    if session.desk.waypoint == "Data":
        return variable_explanation(session)
    return Explanation("Report", "", sample_sentence(session.view.evaluation), (), in_words=False)


def flag_explanation(session: StudySession, flag: Flag) -> Explanation:
    """A flag: its cost in numbers and its remedies, once they have been computed."""
    if not flag.is_told:
        return Explanation(flag.title, "", "computing what it costs …", (), in_words=False)

    def remedy(text: str, edit: Edit, then: FlagKey | None) -> Link:
        def run() -> None:
            if session.edit(text[:1].lower() + text[1:], edit):
                session.look(flag=then)

        return Link(text, f"{text}; can be undone", run)

    links = [remedy(r.label, r.edit, r.then) for r in flag.remedies]
    return Explanation(flag.title, "", flag.cost, tuple(links), in_words=False)


def put_aside(session: StudySession, key: FlagKey, why: str) -> None:
    """Dismiss a flag with a reason."""
    session.edit("put a flag aside", lambda s: dismiss(s, key, why))
    session.look(flag=None)


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
        return Explanation(title, read.whole(step), read.block(step), more=_all_figures(view, step))
    if cell.term is None and cell.column is None and cell.block is not None:
        return _block(read, cell.block)
    if cell.column == -1:
        return Explanation(
            _capital(INTERCEPT), _figures(fit.steps[step].coefficient(-1), step), read.coefficient(step, -1)
        )
    if cell.term is None or cell.term not in study.model.terms:
        return Explanation("")
    columns = fit.design.columns_of(cell.term)
    home = study.model.step_of(cell.term)
    if home is None:
        return instruction(label(study, cell.term), "Its block is switched off for the moment.")
    step = max(step, home)
    if cell.column is None and len(columns) > 1:
        sentences = [read.joint(step, cell.term)]
        if len(columns) <= MOST_SAID:
            sentences += [read.coefficient(step, j) for j in columns]
        else:
            sentences.append("Choose a comparison to read it.")
        title = f"{label(study, cell.term)}, {len(columns)} comparisons"
        figures = f"step {step + 1}    {read.test_figures(fit.steps[step].joint[cell.term]).replace(', p', '    p')}"
        return Explanation(title, figures, " ".join(sentences))
    column = cell.column if cell.column is not None else (columns[0] if columns else None)
    if column is None or column >= fit.steps[step].n_columns:
        text = "All of the model's cases are in one group: there is nothing to compare."
        return Explanation(label(study, cell.term), "", text)
    more = " ".join(x for x in (shift_sentence(read, step, column), beside_sentence(session, view, step, column)) if x)
    return Explanation(
        read.column_name(column), _figures(fit.steps[step].coefficient(column), step), read.coefficient(step, column),
        more=more,
    )  # fmt: skip


def beside_sentence(session: StudySession, view: View, step: int, column: int) -> str:
    """What the model that is compared with says of the same question; empty while none is."""
    study, wanted, fit = view.study, session.desk.compared, view.fit
    if wanted is None or fit is None or wanted == study.current or wanted not in view.evaluation.fits:
        return ""
    its, name = view.evaluation.fits[wanted], f"In “{model_name(study, study.model_of(wanted))}”"
    if not isinstance(its, Fit):
        return ""
    at, pairs = matched_step(step, fit, its), matched(fit, its)
    if at is None or column not in pairs or pairs[column] >= its.steps[at].n_columns:
        return f"{name} nothing asks the same at this step."
    mine, other = fit.steps[step].coefficient(column), its.steps[at].coefficient(pairs[column])
    if other.b != other.b:
        return f"{name} it has no number: {reason(other.why)}."
    d = estimate_decimals(other.se, other.b, other.low, other.high)
    bounds = f" ({fixed(other.low, d)} to {fixed(other.high, d)}), {p_equals(other.p)}" if other.why is None else ""
    same = mine.p == other.p or abs(mine.t - other.t) <= 1e-6 * max(1.0, abs(mine.t))
    return f"{name} {'its test is the same' if same else 'it is another'}: b = {fixed(other.b, d)}{bounds}."


def groups_explanation(session: StudySession, read: GroupReader | None, refusal: str) -> Explanation:
    """The chosen cell of the groups' models; without one whether they differ, and where zero is."""
    if read is None:
        return instruction("One model per group", refusal)
    chosen = session.desk.group_cell
    title = f"One model per group of {read.group_label}"
    if chosen is None:
        said = " ".join(text for text in (read.headline(), read.zeros(), read.left()) if text)
        return Explanation(title, "", said)
    row, group = chosen
    inside = row < len(read.inner_columns)
    return Explanation(title, "", f"{read.cell(row, group)} {read.zeros()}") if inside else Explanation(title)


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
    f2 = "" if change.f2 != change.f2 else f"    f² = {fixed(change.f2, 3)}"
    test = read.test_figures(change.test).replace(", p", "    p")
    return Explanation(
        title, f"ΔR² = {bounded(change.r2)}    {test}{f2}", read.block(step), more=smallest_sentence(read, step)
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


def probe_explanation(session: StudySession) -> Explanation:
    """The handle, or the chosen row of the table; for a group moderator without a choice the whole set."""
    view, probed = session.view, session.probed()
    read = view.effects if view else None
    if probed is None or read is None or view is None:
        text = view.refusal if view and view.refusal else ""
        return instruction(
            "Nothing to probe yet", text or "Enter a product at the waypoint Blocks; its slopes appear here at once."
        )
    panel = probed.panels[min(session.desk.panel, len(probed.panels) - 1)]
    focus = min(session.desk.focus, len(panel.foci) - 1)
    found = panel.foci[focus]
    chosen = session.desk.place
    what = read.what(focus)
    if isinstance(probed.moderator, GroupBasis):
        n = len(found.effects)
        if chosen is None or chosen >= n + len(found.differences):
            return _set_of_effects(view.reader, session, what)
        if chosen < n:
            effect = found.effects[chosen]
            where = read.where(chosen)
            title = f"{what}: {read.place_name(chosen)}" if where else what
            return Explanation(title, effect_text(effect), read.effect(focus, effect, where))
        difference = found.differences[chosen - n]
        of, minus = read.place_name(difference.of), read.place_name(difference.minus)
        return Explanation(
            f"{what}: {of} minus {minus}", effect_text(difference.effect), read.difference(focus, difference)
        )
    assert found.curve is not None
    value = handle_value(session, probed)
    if chosen is not None and chosen < len(probed.places):
        value = probed.places[chosen].value
    effect = found.curve.at(value)
    at = place(value, probed.moderator.sd)
    level = found.curve.is_level
    title = what if level else f"{what} at {read.moderator_label} {at}"
    where = "" if level else read.at_value(value)
    return Explanation(title, effect_text(effect), read.effect(focus, effect, where))


def _set_of_effects(reader: Reader | None, session: StudySession, what: str) -> Explanation:
    """The interaction's test first, then differences before single slopes."""
    view, probed = session.view, session.probed()
    assert view is not None
    assert probed is not None
    read = view.effects
    assert read is not None
    assert reader is not None
    focus = min(session.desk.focus, len(probed.foci) - 1)
    found = probed.foci[focus]
    figures = f"interaction {reader.test_figures(probed.interaction).replace(', p', '    p')}"
    if len(found.effects) > MOST_GROUPS:
        text = f"{counted(len(found.effects), 'group')}: choose a row to read one of them."
        return Explanation(f"{what} by {read.moderator_label}", figures, text, (), in_words=False)
    if len(found.differences) > 1:
        known = [d for d in found.differences if d.effect.p == d.effect.p]
        largest = [min(known, key=lambda d: d.effect.p)] if known else []
        said = [f"{_capital(what)} by {read.moderator_label}: {reader.test_figures(probed.interaction)}."]
        said += [read.difference(focus, d, held=False) for d in largest]
        said.append("Choose a row to read the others; p is not adjusted.")
    else:
        said = [read.difference(focus, d, held=False) for d in found.differences]
        said += [read.effect(focus, e, read.where(i), held=False) for i, e in enumerate(found.effects)]
    held = ", ".join(read.held())
    said.append(f"All {held}." if held else "")
    title = what if probed.by_itself else f"{what} by {read.moderator_label}"
    return Explanation(title, figures, " ".join(said).strip())


def handle_value(session: StudySession, probed: Probed) -> float:
    """Where the handle stands: where it was put, else at the mean."""
    assert isinstance(probed.moderator, NumberBasis)
    value = session.desk.handle
    if value is None:
        return probed.moderator.typical
    return min(probed.moderator.high, max(probed.moderator.low, value))


def variable_explanation(session: StudySession) -> Explanation:
    """The current variable."""
    name, view = session.desk.variable, session.view
    if name is None or view is None or name not in {v.name for v in view.study.variables}:
        return instruction("Choose a variable to read about it", "")
    variable = view.study.variable(name)
    text = summary_sentence(view.study, view.evaluation, name)
    if variable.kind is Kind.NUMBER and name != view.study.model.outcome:
        text = f"{treated_sentence(view.study, view.fit, name)} {text}".strip()
    return Explanation(variable.label, str(variable.kind), text)


def prepare_explanation(session: StudySession) -> Explanation:
    """The zero point that is being moved, the chosen comparison or pair, or what the current variable's treatment does."""
    view, desk, name = session.view, session.desk, session.desk.variable
    assert view is not None
    if desk.zero is not None and desk.zero[0] == name:
        return _zero(view.study, view.fit, *desk.zero)
    found = session.prepared
    if found is None or found.name != name or name not in {v.name for v in view.study.variables}:
        return variable_explanation(session)
    if found.card is not None and desk.card in (COMPARISONS, COLUMNS):
        return _comparison(session, found.study, found.card, desk.comparison)
    if found.overview is not None:
        return _pair(found.study, found.overview, desk.comparison)
    if found.centering is not None:
        plain = variable_explanation(session)
        links = (*plain.links, *_means_link(session, name))
        return Explanation(
            plain.title, plain.figures, centering_sentence(found.study, found.centering), links, in_words=False
        )
    plain = variable_explanation(session)
    return Explanation(
        plain.title, plain.figures, plain.text, (*plain.links, *_means_link(session, name)), plain.in_words
    )


def _zero(study: Study, fit: Fit | None, name: str, at: float) -> Explanation:
    variable = study.variable(name)
    basis = fit.design.bases.get(name) if fit is not None else None
    title = f"{variable.label}: zero at {place(at, basis.axis_sd) if isinstance(basis, NumberBasis) else number_or_place(at)}"
    if fit is None or not isinstance(basis, NumberBasis):
        return Explanation(
            title, "", "It is in no model that is fitted: no coefficient depends on it yet.", (), in_words=False
        )
    return Explanation(title, "", zero_sentence(study, fit, name, at), (), in_words=False)


def _means_link(session: StudySession, name: str | None) -> list[Link]:
    study = session.study
    if study is None or name is None or not isinstance(study.model.treatment(name).zero, WithinGroups):
        return []
    return [
        Link(
            "Add the group means",
            "The means it is centered within, as a variable of their own",
            partial(session.ask, "means"),
        )
    ]


def _comparison(session: StudySession, study: Study, card: CodeCard, chosen: int | None) -> Explanation:
    variable = study.variable(card.variable)
    where = "without other predictors" if card.is_alone else f"in step {card.step + 1}"
    if chosen is None or chosen >= len(card.comparisons):
        waiting = chosen is not None and isinstance(card.basis.coding, Planned)
        text = (
            "Put levels on the two sides: click left of the middle for −, right of it for +."
            if waiting
            else joint_sentence(card, study)
        )
        offers: list[Link] = []
        if isinstance(card.basis.coding, Trends):
            offers.append(
                Link("Space the levels", "Give the levels their places on the axis", partial(session.ask, "space"))
            )
        if card.basis.n_asked is not None and card.basis.n_asked < card.n_coded:
            told = "Ask the questions that complete the set as your own"
            offers.append(Link("Complete the set", told, partial(session.ask, "complete")))
        return Explanation(f"{variable.label} {where}", "", text, tuple(offers), in_words=not waiting)
    made, title = card.comparisons[chosen], comparison_title(card, study, chosen)
    links: list[Link] = []
    if made.key and isinstance(card.basis.coding, Planned):
        at = int(made.key)

        def turned() -> None:
            session.edit("turn a question round", lambda s: change_sides(s, card.variable, at))

        links.append(Link("Change sides", "Plus and minus change places (T)", turned))
    if made.key:
        links.append(Link("Name it", "Give the comparison a name of its own (F2)", partial(session.ask, "comparison")))
    return Explanation(title, comparison_figures(card, chosen), comparison_sentence(card, study, chosen), tuple(links))


def _pair(study: Study, found: Overview, chosen: int | None) -> Explanation:
    variable = study.variable(found.variable)
    if chosen is None or chosen >= len(found.pairs):
        return Explanation(f"{variable.label}: all groups together", "", omnibus_text(found, study))
    pair = found.pairs[chosen]
    one, other = (variable.level(found.levels[i]).label for i in (pair.one, pair.other))
    return Explanation(f"{one} minus {other}", effect_text(pair.effect), pair_sentence(found, study, chosen))


def checks_explanation(session: StudySession) -> Explanation:
    """What the residuals look like in words, once they have been computed."""
    view = session.view
    read = view.reader if view else None
    if read is None:
        return instruction("Nothing to check yet", "Enter a model at the waypoint Blocks.")
    step = session.desk.step(read.model)
    return Explanation(f"Residuals of step {step + 1}", read.whole(step), session.residuals)


def dismissed_links(session: StudySession) -> list[Link]:
    """The flags that were put aside; a click raises one again."""
    view = session.view
    if view is None:
        return []
    return [
        Link(f"{flag.title} ({why})", "Raise this flag again", partial(_raise_again, session, flag.key))
        for flag, why in view.dismissed
    ]


def _raise_again(session: StudySession, key: FlagKey) -> None:
    session.edit("raise a flag again", lambda s: raise_again(s, key))


def _capital(text: str) -> str:
    return text[:1].upper() + text[1:]
