"""In words: how a table was read, and what the reading came upon."""

from __future__ import annotations

from yellow_slope.core.data.source import Format, Found, Ragged, ReadAs, Source
from yellow_slope.core.study.edits.retabling import Reread
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.names.study import SEPARATORS
from yellow_slope.core.words.sentences.gone import MOST_NAMED, gone_names
from yellow_slope.core.words.spelling.numerals import counted, listed, listed_some

FORMATS = {
    Format.SPREADSHEET: "a spreadsheet",
    Format.PARQUET: "a Parquet file",
    Format.RECORDS: "JSON records",
    Format.PACKAGE: "a data package",
}


def names_phrase(read_as: ReadAs) -> str:
    """Where the names stand."""
    if not read_as.names:
        return "no names" if not read_as.above else f"no names, {counted(read_as.above, 'line')} skipped"
    return f"names in row {read_as.above + 1}"


def decimal_phrase(read_as: ReadAs) -> str:
    """The decimal mark."""
    return "decimal comma" if read_as.decimal == "," else "decimal point"


def separator_phrase(read_as: ReadAs) -> str:
    """What separates cells."""
    return f"separated by {SEPARATORS.get(read_as.separator, repr(read_as.separator))}"


def found_phrases(found: Found, read_as: ReadAs) -> tuple[str, ...]:
    """What the reading came upon, phrase by phrase."""
    out: list[str] = []
    if found.missing:
        words = listed([f"“{word}” ({n})" for word, n in found.missing[:6]])
        out.append(f"missing: {words}" + (" and others" if len(found.missing) > 6 else ""))
    if found.n_ragged:
        rows = ", ".join(str(n) for n in found.ragged[:5]) + (" …" if found.n_ragged > 5 else "")
        done = "skipped" if read_as.ragged is Ragged.SKIP else "filled or cut"
        out.append(f"{counted(found.n_ragged, 'row')} of another length {done}: {rows}")
    if found.empty_columns:
        out.append(f"{counted(found.empty_columns, 'empty column')} skipped")
    if found.doubtful:
        out.append(
            f"“{found.doubtful}” is read as {_meant(found.doubtful, read_as.decimal)}, "
            "although nothing in the file decides"
        )
    return tuple(out)


def _meant(text: str, decimal: str) -> str:
    other = "." if decimal == "," else ","
    return text.replace(other, "").replace(decimal, ".")


def read_as_phrases(read_as: ReadAs, n_rows: int, found: Found = Found()) -> tuple[str, ...]:
    """How a file was read, phrase by phrase."""
    rows = counted(n_rows, "row")
    rest = found_phrases(found, read_as)
    if read_as.format is Format.TEXT:
        return (separator_phrase(read_as), decimal_phrase(read_as), names_phrase(read_as), rows, *rest)
    sheet = (f"sheet “{read_as.sheet}”",) if read_as.sheet else ()
    names = (names_phrase(read_as),) if read_as.format is Format.SPREADSHEET else ()
    return (FORMATS[read_as.format], *sheet, *names, rows, *rest)


def source_phrases(source: Source, n_rows: int) -> tuple[str, ...]:
    """How the table was read, phrase by phrase; empty for one that came from nowhere."""
    if not source.path and not source.checksum:
        return ()
    beside = (f"described by {source.description}",) if source.description else ()
    return (*read_as_phrases(source.read_as, n_rows, source.found), *beside)


def change_sentence(study: Study, change: Reread) -> str:
    """What another reading of the table brought."""
    parts: list[str] = []
    if change.rows:
        parts.append(f"{counted(abs(change.rows), 'row')} {'more' if change.rows > 0 else 'fewer'}")
    for names, what in ((change.new, "new"), (change.gone, "gone"), (change.different, "different")):
        if names:
            some = listed([f"“{name}”" for name in names[:4]]) + (" and others" if len(names) > 4 else "")
            parts.append(f"{counted(len(names), 'column')} {what} ({some})")
    said = "; ".join(parts) or "nothing is different"
    dropped = gone_names(study, change.dropped)
    lost = f" These could not be kept: {listed_some(dropped, MOST_NAMED)}." if change.dropped else ""
    return f"Read again: {said}.{lost}"
