"""Words of figures: captions whose numbers are live, what is said to those who do not see one, and remarks."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from difflib import SequenceMatcher
from itertools import groupby
from typing import assert_never

from yellow_slope.core.data.variable import by_name
from yellow_slope.core.figured.subjects import (
    CheckSubject,
    GroupSubject,
    ProbeSubject,
    StepsSubject,
    Subject,
    cases_beyond,
    comparison_id,
    has_comparison,
    own_letters,
    why_not_now,
)
from yellow_slope.core.fit.design.bases import GroupBasis, NumberBasis
from yellow_slope.core.fit.fitted.evaluate import Evaluation
from yellow_slope.core.probe.crossing import crossing_place, crossing_stretches
from yellow_slope.core.probe.regions import Regions
from yellow_slope.core.probe.seen import Seen, Sight
from yellow_slope.core.study.checks import Check
from yellow_slope.core.study.figures import CasesAs, Figure, Live, Piece, ProbeShown, RegionAs, ShowsProbe, pieces_of
from yellow_slope.core.study.gone import Gone
from yellow_slope.core.study.probe import RegionRule
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.sentences.checks import advice, check_title, remark
from yellow_slope.core.words.sentences.effects import EffectReader
from yellow_slope.core.words.sentences.errors import errors_sentence
from yellow_slope.core.words.sentences.regions import band_note, rule_name
from yellow_slope.core.words.spelling.letters import capital
from yellow_slope.core.words.spelling.numerals import counted, level_text, listed
from yellow_slope.core.words.spelling.testtexts import written_test

NULLS = "Filled points: the interval leaves out 0; hollow points: it includes 0."
WASHED = {RegionAs.WASH: "Shaded", RegionAs.HATCH: "Hatched", RegionAs.BAR: "Bar on the axis"}
MOST_REGIONS = 4
LETTERS, LINES = 6.0, 0.25
"""Points below which letters cannot be read and lines not be printed."""


# ---- names


def figure_title(figure: Figure, subject: Subject) -> str:
    """What a figure is called in a report."""
    if figure.heading:
        return figure.heading
    match subject:
        case ProbeSubject(study, sight):
            return EffectReader(study, sight.probed, sight.seen.panel).picture_title(sight.seen.focus)
        case CheckSubject(shows=shows):
            return check_title(shows.check)
        case StepsSubject():
            return "Coefficients over the steps"
        case GroupSubject(study, overview):
            outcome = study.variable(study.model.outcome or "").label
            return f"{capital(outcome)} {by_name(study.variable(overview.variable).label)}"
        case _:
            assert_never(subject)


def caption(figure: Figure, subject: Subject) -> str:
    """The caption as it stands now."""
    return spelled(caption_pieces(figure, subject), live_values(figure, subject))


def plain_figure(study: Study, sight: Sight, view: ProbeShown = ProbeShown.BOTH) -> tuple[Figure, ProbeSubject]:
    """The figure of what is seen of a probe, with nothing said otherwise, and its subject."""
    probe, focal = sight.probed.probe, sight.probed.focal
    known = comparison_id(focal, sight.seen.focus) if isinstance(focal, GroupBasis) else ""
    shows = ShowsProbe.of(probe, view, known)
    return Figure("figure", shows, letters=own_letters(study)), ProbeSubject(study, sight, shows)


def probe_caption(read: EffectReader, focus: int) -> str:
    """The caption of a probe's figure: what is drawn, at which places, and where everything else stands."""
    return caption(*plain_figure(read.study, Sight.of(read.probed, Seen(read.panel, focus))))


def caption_pieces(figure: Figure, subject: Subject) -> tuple[Piece, ...]:
    """The pieces of the caption: the figure's own, else the program's."""
    return usual_caption(subject) if figure.caption is None else figure.caption


def spelled(pieces: Iterable[Piece], values: Mapping[Live, str]) -> str:
    """Pieces as one text; what is live and has nothing to say leaves no gap."""
    said = "".join(piece if isinstance(piece, str) else values.get(piece.live, "") for piece in pieces)
    lines = [" ".join(line.split()) for line in said.split("\n")]
    return "\n".join(lines).strip()


def usual_caption(subject: Subject) -> tuple[Piece, ...]:
    """What the program says of a figure."""
    end = (" ", Live.CASES, " ", Live.NOTES, " n = ", Live.N, ".")
    match subject:
        case ProbeSubject():
            return pieces_of(
                *(Live.OUTCOME, " by ", Live.BY, " in step ", Live.STEP, ", with ", Live.LEVEL, " intervals. "),
                *(Live.HELD, " ", Live.EFFECT, " ", Live.PANELS, " ", Live.WASHED, " ", Live.SMALLEST),
                *end,
            )
        case CheckSubject():
            return pieces_of(Live.SAID, " ", Live.EFFECT, " Step ", Live.STEP, ".", *end)
        case StepsSubject():
            return pieces_of(
                "Change in ",
                Live.OUTCOME,
                " from low to high of each predictor (2 SD of a number, one comparison of a group), with ",
                Live.LEVEL,
                " intervals; ",
                Live.STEP,
                ".",
                *end,
            )
        case GroupSubject():
            return pieces_of(
                "Mean ", Live.OUTCOME, " by ", Live.BY, ", with ", Live.LEVEL, " intervals. ", Live.SAID, *end
            )
        case _:
            assert_never(subject)


def live_values(figure: Figure, subject: Subject) -> dict[Live, str]:
    """What each live piece says now; sentences are whole, with their full stop."""
    match subject:
        case ProbeSubject():
            return _probe_values(figure, subject)
        case CheckSubject(study, found, stand, shows):
            return {
                Live.SAID: remark(shows.check, found, stand),
                Live.EFFECT: _rivals_said(subject) if shows.check is Check.STAND else advice(shows.check),
                Live.STEP: str(found.step + 1),
                Live.N: str(found.fit.cases.n),
                Live.LEVEL: level_text(study.model.level),
                Live.CASES: "",
                Live.NOTES: "",
            }
        case StepsSubject(study, fit):
            steps = counted(len(fit.steps), "step")
            return {
                Live.OUTCOME: study.variable(study.model.outcome or "").label,
                Live.LEVEL: level_text(study.model.level),
                Live.STEP: steps,
                Live.N: str(fit.cases.n),
                Live.NOTES: NULLS,
            }
        case GroupSubject(study, overview):
            test = overview.omnibus
            said = f"{written_test(test)}." if test.exists else ""
            shown = {CasesAs.NONE: ""}.get(figure.parts.cases or CasesAs.DOTS, "Small points are cases.")
            return {
                Live.OUTCOME: study.variable(study.model.outcome or "").label,
                Live.BY: study.variable(overview.variable).label,
                Live.LEVEL: level_text(study.model.level),
                Live.SAID: said,
                Live.N: str(overview.fit.cases.n),
                Live.CASES: shown,
            }
        case _:
            assert_never(subject)


def _rivals_said(subject: CheckSubject) -> str:
    stand = subject.stand
    if stand is None:
        return ""
    what = "F of all comparisons; bars are the single comparisons" if stand.base.test is not None else "b"
    return (
        f"The interaction in the model (heavy) and in each robustness check: {what} with {level_text(stand.level)} "
        f"intervals. {NULLS} A pennant marks where that differs from the model."
    )


def _probe_values(figure: Figure, subject: ProbeSubject) -> dict[Live, str]:
    study, sight, view = subject.study, subject.sight, subject.shows.view
    p, focus = sight.probed, sight.seen.focus
    read = EffectReader(study, p, sight.seen.panel)
    several = len(p.panels) > 1
    held = read.held(second=not several)
    found = sight.focus.regions
    by = read.focal_label if p.by_itself else f"{read.focal_label} and {read.moderator_label}"
    has_effect = view not in (ProbeShown.LINES, ProbeShown.ABOVE)
    many = len(sight.panel.foci) > 1 and not p.by_itself and has_effect
    outcome = study.variable(p.model.outcome or "").label
    notes = [_marks_said(sight, read, view), read.not_drawn(), read.caveat()]
    if has_effect and not isinstance(p.moderator, NumberBasis):
        notes.insert(0, NULLS)
    if found is not None and has_effect:
        notes.insert(0, band_note(found, p.level))
    if p.fit.resampled is None:
        notes.append(errors_sentence(study, p.model, p.fit))
    return {
        Live.OUTCOME: f"Predicted {outcome}" if _has_lines(view) else capital(outcome),
        Live.BY: by,
        Live.STEP: str(p.step + 1),
        Live.LEVEL: level_text(p.level),
        Live.HELD: f"{capital(', '.join(held))}." if held else "",
        Live.EFFECT: f"The effect is {read.focus_name(focus)}." if many else "",
        Live.PANELS: _panels(read, view) if several else "",
        Live.WASHED: _washed(figure, sight, read, view),
        Live.SMALLEST: read.smallest_said(focus) if has_effect else "",
        Live.CASES: _cases(figure, sight, view),
        Live.N: str(p.fit.cases.n),
        Live.NOTES: " ".join(note for note in notes if note),
    }


def _has_lines(view: ProbeShown) -> bool:
    """Whether the predicted outcome is drawn."""
    return view in (ProbeShown.BOTH, ProbeShown.LINES, ProbeShown.ABOVE)


def _marks_said(sight: Sight, read: EffectReader, view: ProbeShown) -> str:
    """What lines, diamond and bars are, as far as they are drawn."""
    probed, said = sight.probed, []
    panels = [panel for panel in probed.panels if panel.lines] if view in (ProbeShown.BOTH, ProbeShown.LINES) else []
    if panels and not probed.by_itself:
        said.append("Lines are thin where there are no cases of their kind.")
    level = level_text(probed.level)
    match (
        any(crossing_place(panel, probed.x) is not None for panel in panels),
        any(crossing_stretches(panel, probed.x) for panel in panels),
    ):
        case (True, True):
            said.append(f"Diamond and bar on the axis: where the lines cross, with its {level} set.")
        case (True, False):
            said.append("Diamond: where the lines cross.")
        case (False, True):
            said.append(f"Bar on the axis: {level} set of places where the lines may cross.")
    if isinstance(probed.moderator, NumberBasis) and view in (ProbeShown.BOTH, ProbeShown.EFFECT):
        said.append(f"Bars: distribution of {read.moderator_label}.")
    return " ".join(said)


def _panels(read: EffectReader, view: ProbeShown) -> str:
    match view:
        case ProbeShown.BOTH:
            return read.panels_said()
        case ProbeShown.LINES | ProbeShown.EVERY:
            return read.panels_said(below=False)
        case ProbeShown.EFFECT:
            band = f"; the band is that {read.second_name()}" if isinstance(read.probed.moderator, NumberBasis) else ""
            return f"{capital(read.second_label())}: a line for each{band}." if band else f"{read.second_name()}."
        case ProbeShown.STRIPS | ProbeShown.MAP | ProbeShown.ABOVE:
            return ""
        case _:
            assert_never(view)


def _washed(figure: Figure, sight: Sight, read: EffectReader, view: ProbeShown) -> str:
    """What is marked as significant, by which rule, and where."""
    found, how = sight.focus.regions, figure.parts.region or RegionAs.WASH
    if view is ProbeShown.ABOVE:
        return "Lines connect points of the same predicted outcome; no case is near the hatched part."
    if view is ProbeShown.MAP:
        return "The heavy line bounds where the effect is significant; no case is near the hatched part."
    drawn = view is not ProbeShown.LINES or sight.probed.x is sight.probed.moderator
    if found is None or not drawn or not isinstance(sight.probed.moderator, NumberBasis):
        return ""
    if view is ProbeShown.STRIPS:
        return f"Shaded: where an effect is significant ({_rule(found.rule, sight)})."
    if how is RegionAs.NONE or not found.tells:
        return ""
    places = _told(found, sight, read)
    several = len(sight.probed.panels) > 1
    where = "" if several or not places else listed(places)
    said = where and f": {where}"
    if how is RegionAs.BOUNDARY:
        bounds = "Broken lines bound where the effect is significant"
        return f"{bounds} ({_rule(found.rule, sight)}){said}." if found.boundaries else ""
    said = where and f", {where}"
    return f"{WASHED[how]}: where the effect is significant ({_rule(found.rule, sight)}){said}."


def _rule(rule: RegionRule, sight: Sight) -> str:
    alpha = f"{1 - sight.probed.level:.3f}".rstrip("0").removeprefix("0")
    return f"{rule_name(rule)}, α = {alpha}"


def _told(found: Regions, sight: Sight, read: EffectReader) -> list[str]:
    """“below 31.3 (14 cases)” of each region in which the effect is significant."""
    told = [region for region in found.within if region.sign]
    said = []
    for region in told[:MOST_REGIONS]:
        said.append(f"{read.bounds(region.low, region.high)} ({read.counted_sides(region.cases)})")
    if len(told) > MOST_REGIONS:
        said.append(f"{len(told) - MOST_REGIONS} more")
    return said


def _cases(figure: Figure, sight: Sight, view: ProbeShown) -> str:
    """What the points are."""
    how = figure.parts.cases or CasesAs.DOTS
    p = sight.probed
    if how is CasesAs.NONE or view in (ProbeShown.EFFECT, ProbeShown.EVERY, ProbeShown.STRIPS) or p.x is None:
        return ""
    if view in (ProbeShown.MAP, ProbeShown.ABOVE):
        return "Points are cases."
    by_group = isinstance(p.focal, GroupBasis) or isinstance(p.moderator, GroupBasis)
    spread = ", whole numbers spread a little" if figure.parts.jitter else ""
    if how is CasesAs.SIDES and not by_group:
        return f"Points are cases, styled as the nearest line{spread}."
    return f"Points are cases{', styled as their group' if by_group else ''}{spread}."


def kept_live(text: str, pieces: Iterable[Piece], values: Mapping[Live, str]) -> tuple[Piece, ...] | None:
    """The pieces of a caption that somebody has typed over another: what is live and was left as it stood stays live.

    None for a text of nothing: the program speaks again.
    """
    if not text.strip():
        return None
    spans: list[tuple[int, int, Piece]] = []
    said = ""
    for piece in pieces:
        part = piece if isinstance(piece, str) else values.get(piece.live, "")
        part = " ".join(part.split(" "))
        if part and not isinstance(piece, str):
            spans.append((len(said), len(said) + len(part), piece))
        said += part
    matched = SequenceMatcher(None, said, text, autojunk=False).get_matching_blocks()
    found: list[Piece] = []
    at = 0
    for start, end, live in spans:
        block = next((b for b in matched if b.a <= start and end <= b.a + b.size), None)
        if block is None:
            continue
        begin = block.b + start - block.a
        if begin < at:
            continue
        if begin > at:
            found.append(text[at:begin])
        found.append(live)
        at = begin + end - start
    if at < len(text):
        found.append(text[at:])
    return tuple(found)


# ---- for those who do not see it


def alternative(figure: Figure, subject: Subject) -> str:
    """What is said to those who do not see the figure: what it shows, and what is to be seen in it."""
    if figure.alternative:
        return figure.alternative
    title = figure_title(figure, subject)
    match subject:
        case ProbeSubject(study, sight):
            read = EffectReader(study, sight.probed, sight.seen.panel)
            kind = {
                ProbeShown.MAP: "Map of the effect",
                ProbeShown.ABOVE: "Predicted outcome from above",
                ProbeShown.STRIPS: "Strips of regions",
                ProbeShown.EFFECT: "Effect with its interval",
                ProbeShown.EVERY: "Effects with their intervals",
            }.get(subject.shows.view, "Interaction plot")
            said = [f"{kind}: {title}."]
            shown = zip(sight.probed.places[:MOST_REGIONS], sight.focus.effects)
            said += [read.effect(sight.seen.focus, effect, at, held=False) for at, effect in shown]
            found = sight.focus.regions
            if found is not None and found.tells:
                said.append(f"Significant {listed(_told(found, sight, read))}.")
            return " ".join(said)
        case CheckSubject(found=found, stand=stand, shows=shows):
            return f"Plot of a check: {title} {remark(shows.check, found, stand)}"
        case StepsSubject(study, fit):
            outcome = study.variable(study.model.outcome or "").label
            return f"Coefficients of {outcome} with intervals over {counted(len(fit.steps), 'step')}."
        case GroupSubject():
            return f"Means with intervals and cases: {title}. {live_values(figure, subject)[Live.SAID]}".strip()
        case _:
            assert_never(subject)


# ---- remarks


def is_fit_for_print(letters: float, line: float) -> bool:
    """Whether letters and lines of so many points are large enough."""
    return letters >= LETTERS - 1e-9 and line >= LINES - 1e-9


def print_remark(letters: float, line: float, at: str) -> str:
    """What is said of the smallest letters and the finest line at a size: whether they can be printed."""
    small, fine = f"{letters:.1f}".removesuffix(".0"), f"{line:.2f}".rstrip("0").rstrip(".")
    if not is_fit_for_print(letters, line):
        wrong = [f"letters of {small} pt"] if letters < LETTERS - 1e-9 else []
        wrong += [f"lines of {fine} pt"] if line < LINES - 1e-9 else []
        return f"Too fine for print at {at}: {listed(wrong)}."
    return f"smallest letters {small} pt, finest line {fine} pt at {at}"


def figure_remarks(evaluation: Evaluation, figure: Figure, subject: Subject | None) -> list[str]:
    """What somebody should know of a figure: what was said of something that is gone, and cases beyond its axes."""
    said: list[str] = []
    if figure.lost:
        said.append(lost_text(evaluation.study, figure.lost))
    left_out = cases_beyond(evaluation, figure)
    if left_out:
        verb = "is" if left_out == 1 else "are"
        said.append(f"{counted(left_out, 'case')} beyond the ends of the axis {verb} not shown.")
    if isinstance(subject, ProbeSubject):
        shows = subject.shows
        if not has_comparison(subject.sight.probed, shows.comparison):
            said.append("The comparison that it showed no longer exists; the first is shown.")
    return said


def list_name(evaluation: Evaluation, figure: Figure) -> str:
    """A figure as it stands in a list, with what should be known of it."""
    notes = ["something is gone"] if figure.lost else []
    beyond = cases_beyond(evaluation, figure)
    notes += [f"{counted(beyond, 'case')} beyond its axis"] if beyond else []
    notes += ["not drawn now"] if why_not_now(evaluation, figure) else []
    return f"{figure.name} ({', '.join(notes)})" if notes else figure.name


def lost_text(study: Study, lost: Iterable[Gone]) -> str:
    """“The figure had a name or a look of its own for “video” of coaching, which is gone.”"""
    found = []
    for (names, code), _ in groupby(lost, key=lambda gone: (gone.names, gone.code)):
        variable = next((v.label for v in study.variables if v.name == names[0]), names[0])
        found.append(f"“{code}” of {variable}" if code else variable)
    verb = "is" if len(found) == 1 else "are"
    return f"It referred to {listed(found)}, which {verb} gone."
