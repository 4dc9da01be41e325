"""What the report says of probes: conditional effects with their pictures, regions, where lines meet."""

from __future__ import annotations

from yellow_slope.core.fit.design.bases import NumberBasis
from yellow_slope.core.probe.probed import Probed
from yellow_slope.core.probe.seen import Seen, Sight
from yellow_slope.core.study.study import Study
from yellow_slope.core.told.origins import AtProbe
from yellow_slope.core.words.sentences.effects import EffectReader
from yellow_slope.core.words.sentences.figures import alternative, caption, plain_figure
from yellow_slope.core.words.sentences.probecard import few_boundaries, size_notes, together_notes, told_tests
from yellow_slope.core.words.spelling.letters import capital
from yellow_slope.core.words.spelling.numerals import counted
from yellow_slope.plots.figures import layout
from yellow_slope.report.document import Paragraph, Picture, Section, said
from yellow_slope.report.fontchain import remark
from yellow_slope.report.ownfigures import OwnFigures
from yellow_slope.report.probetables import across_table, crossing_table, effects_table, regions_table, shown_foci

MOST_SAID = 12
"""Of more places only so many are put into words."""
MOST_PICTURES = 6
"""Of more panels and comparisons of one probe only so many are drawn."""


def _readers(study: Study, probed: Probed) -> list[EffectReader]:
    return [EffectReader(study, probed, k) for k in range(len(probed.panels))]


def _title(probed: Probed, read: EffectReader) -> str:
    return f"{probed.probe.name}: {read.title()}" if probed.probe.name else read.title()


def effects_section(study: Study, probed: Probed, own: OwnFigures) -> Section:
    """The tests first, then effects with differences of places, and pictures."""
    readers = _readers(study, probed)
    seen = [(read.panel, k) for read in readers for k in range(min(shown_foci(probed), len(read.shown.foci)))]
    told = [f"{capital(text)}." for text in told_tests(study, probed, seen)]
    tables = (effects_table(study, probed), across_table(study, probed))
    made = own.of(probed.probe)
    drawn, left = (tuple(made), 0) if made else _pictures(readers, shown_foci(probed))
    if left:
        title = readers[0].title()
        told.append(f"{counted(left, 'further figure')} not drawn: {title} has more panels and comparisons.")
    return Section(
        _title(probed, readers[0]),
        _paragraphs(told, probed),
        tuple(table for table in tables if table is not None),
        drawn,
    )


def effects_in_words(study: Study, probed: Probed) -> list[str]:
    """A sentence for each effect and difference."""
    told: list[str] = []
    readers = _readers(study, probed)
    for read in readers:
        for index, focus in enumerate(read.shown.foci[: shown_foci(probed)]):
            shown = list(zip(probed.places, focus.effects))[:MOST_SAID]
            told += [read.effect(index, effect, where) for where, effect in shown]
    for index, found in enumerate(probed.across[: shown_foci(probed)]):
        told += [readers[0].across(index, x) for x in found]
    return list(dict.fromkeys(told))


def regions_section(study: Study, probed: Probed) -> Section | None:
    """Regions with sign and cases, and what is to be known of their boundaries; None where there are none."""
    if not isinstance(probed.moderator, NumberBasis):
        return None
    told: list[str] = []
    readers = _readers(study, probed)
    for read in readers:
        for index in range(min(shown_foci(probed), len(read.shown.foci))):
            sight = Sight.of(probed, Seen(read.panel, index))
            where = ", ".join(t for t in (read.focus_name(index), read.second_name()) if t)
            notes = [note for note in (few_boundaries(sight), *size_notes(study, sight, read)) if note]
            told += [f"{capital(f'{where}: {note}' if where else note).rstrip('.')}." for note in notes]
        lead = f"{read.second_name()}: " if read.second_name() else ""
        notes = together_notes(study, Sight.of(probed, Seen(read.panel)), read)
        told += [f"{capital(lead + note)}." for note in notes]
    table = regions_table(study, probed)
    if table is None and not told:
        return None
    title = f"Regions of significance, {_title(probed, readers[0])}"
    return Section(title, _paragraphs(told, probed), (table,) if table is not None else ())


def crossover_section(study: Study, probes: list[Probed]) -> Section | None:
    """Where the lines of the probes meet; None where none do."""
    table = crossing_table(study, probes)
    return Section("Crossing points", (), (table,)) if table is not None else None


def _paragraphs(told: list[str], probed: Probed) -> tuple[Paragraph, ...]:
    return tuple(said(text, AtProbe(probed.probe)) for text in dict.fromkeys(told))


def _pictures(readers: list[EffectReader], foci: int) -> tuple[tuple[Picture, ...], int]:
    """A picture of every focal effect with all panels, of so many as have room, and how many have none."""
    wanted = [(readers[0], focus) for focus in range(min(foci, len(readers[0].shown.foci)))]
    drawn = []
    for read, focus in wanted[:MOST_PICTURES]:
        figure, subject = plain_figure(read.study, Sight.of(read.probed, Seen(read.panel, focus)))
        page = layout(figure, subject)
        told = f"{caption(figure, subject)} {remark(page)}".strip()
        drawn.append(Picture(read.picture_title(focus), told, page, alternative(figure, subject)))
    return tuple(drawn), len(wanted) - len(drawn)
