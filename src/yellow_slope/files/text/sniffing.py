"""How a text seems to be laid out: what separates its cells, where its names stand, how its numbers are written."""

from __future__ import annotations

import csv
import io
from collections import Counter
from itertools import islice

from yellow_slope.core.data.source import Decimal, ReadAs
from yellow_slope.core.errors import FileError
from yellow_slope.files.text.cells import decides, missing_of, numbers_of, texts_of, trimmed
from yellow_slope.values import dataclass, replace

SAMPLE = 1 << 18
"""So many bytes are looked at, more where lines are long."""
MOST_SAMPLE = 1 << 26
RECORDS = 500
MOST_ABOVE = 40
REGULAR = 0.8
"""A table has most of its rows of one length."""
ENDS_OF_CODE = ("{", "}", ";", ")", "(", ":", ",", ">")
COMMENTS = ("#", "//", "%")
TABS_FIRST = ("\t", ";", "|", ",", " ")
"""Where several would do, the first of these: a comma is the likeliest to stand in a cell."""


@dataclass(frozen=True, slots=True)
class Record:
    """One row of cells, the line it begins on (from 0), and the lines it takes."""

    cells: list[str]
    line: int
    lines: int


def sample_of(content: bytes) -> str:
    """The first part of a text in UTF-8, up to the end of a line; as long as it takes for some lines to be whole."""
    size = SAMPLE
    while size < min(len(content), MOST_SAMPLE) and content.count(b"\n", 0, size) + content.count(b"\r", 0, size) < 20:
        size *= 4
    if len(content) <= size:
        return content.decode("utf-8", errors="replace")
    text = content[:size].decode("utf-8", errors="ignore")
    end = max(text.rfind("\n"), text.rfind("\r"))
    return text[: end + 1] if end > 0 else text


def records(text: str, separator: str, quote: str = '"', most: int = RECORDS) -> list[Record]:
    """The first rows of cells; empty lines are none."""
    csv.field_size_limit(1 << 30)
    lines = io.StringIO(text, newline="")
    reader = csv.reader(
        lines,
        delimiter=separator,
        quotechar=quote or None,
        quoting=csv.QUOTE_MINIMAL if quote else csv.QUOTE_NONE,
        skipinitialspace=separator == " ",
    )
    found: list[Record] = []
    before = 0
    try:
        for cells in islice(reader, most + MOST_ABOVE):
            if separator == " ":
                cells = cells[:-1] if cells and not cells[-1] else cells
            if any(cells) or len(cells) > 1:
                found.append(Record(cells, before, reader.line_num - before))
            before = reader.line_num
    except csv.Error:
        pass
    return found


def open_quote(text: bytes, separator: str, quote: str) -> int:
    """The line, from 1, of a row that opens a quote which is not closed up to the end of the text; 0 where none does.
    Quotes within a cell are letters like others."""
    csv.field_size_limit(1 << 30)
    lines = list(io.StringIO(text.decode("utf-8", "replace"), newline=""))
    reader = csv.reader(lines, delimiter=separator, quotechar=quote)
    before = begin = 0
    try:
        for _ in reader:
            before, begin = reader.line_num, before
        for _ in csv.reader(lines[begin:], delimiter=separator, quotechar=quote, strict=True):
            pass
    except csv.Error as error:
        return begin + 1 if "unexpected end" in str(error) else 0
    return 0


def guessed(text: str, encoding: str = "utf-8") -> ReadAs:
    """How a text seems to be read, from its first rows."""
    best, best_score = ReadAs(separator=","), (-1.0, 0)
    for separator in TABS_FIRST:
        if separator not in text:
            continue
        for quote in ('"', "'"):
            if quote == "'" and f"{separator}'" not in text:
                continue
            here = records(text, separator, quote)
            above, width, share = _body(here)
            if width < 2:
                continue
            if separator == " " and share < 1.0:
                continue
            score = (share - 0.02 * min(above, 5) - 0.001 * (quote == "'"), 0)
            if score > best_score:
                best, best_score = ReadAs(separator=separator, quote=quote), score
    if best_score[0] < 0.5 or _is_one_column(text, best):
        best = ReadAs(separator=";" if "," in text and ";" not in text else ",")
    rows = records(text, best.separator, best.quote)
    start, width, _ = _body(rows)
    body = [row.cells for row in rows[start:]]
    decimal = _decimal(best.separator, body[1:] or body)
    above = rows[start].line if start < len(rows) else 0
    names = _has_names(body, decimal) or _is_quoted_alone(text, above, best.quote, width)
    return replace(best, above=above, decimal=decimal, names=names, encoding=encoding)


def is_running_text(text: str, way: ReadAs) -> bool:
    """Whether the lines are those of a letter or a program, not of a table: nothing divides them, and they hold words
    or code."""
    rows = [row.cells for row in records(text, way.separator, way.quote)]
    if len(rows) < 3:
        return False
    widths = [len(cells) for cells in rows]
    width = _usual(widths, widths[0])
    regular = widths.count(width) / len(widths) if width > 1 else 0.0
    if regular == 1.0:
        return False
    columns = ([cells[j] for cells in rows[1:] if j < len(cells)] for j in range(width))
    if any(_share_of_numbers(column, way.decimal) > 0.5 for column in columns):
        return False
    lines = [way.separator.join(cells).strip() for cells in rows[1:]]
    words = sum(len(line.split()) for line in lines) / len(lines)
    code = sum(line.endswith(ENDS_OF_CODE) for line in lines) / len(lines)
    return words >= (2 if regular < REGULAR else 4) or code > 0.3


def _body(rows: list[Record]) -> tuple[int, int, float]:
    """The first row of the table among the records, its width, and the share of rows of that width."""
    first = next((i for i, row in enumerate(rows) if not row.cells[0].lstrip().startswith(COMMENTS)), 0)
    rows = rows[first:]
    if not rows:
        return 0, 0, 0.0
    widths = [len(row.cells) for row in rows]
    width = _usual(widths[len(widths) // 3 :], widths[0])
    if width < 2:
        return first, width, widths.count(width) / len(widths)
    start = 0
    while start < min(len(widths) - 1, MOST_ABOVE) and not _may_be_names(rows[start].cells, width):
        start += 1
    fits = [
        w == width or (i == 0 and w == width - 1) or (w > width and not any(rows[start + i].cells[width:]))
        for i, w in enumerate(widths[start:])
    ]
    return first + start, width, (sum(fits) / len(fits)) if fits else 0.0


def _usual(widths: list[int], of_names: int) -> int:
    """The width that most rows have; that of the names where as many have it as any other."""
    counts = Counter(widths)
    return max(counts, key=lambda width: (counts[width], width == of_names))


def _may_be_names(cells: list[str], width: int) -> bool:
    """Whether a record could be the first row of a table of that width: full, or short by one name, or with blanks at
    its end."""
    if len(cells) < max(width - 1, 2):
        return False
    filled = [cell for cell in cells[:width] if cell.strip()]
    return len(filled) >= max(1, (width + 1) // 2)


def _is_one_column(text: str, way: ReadAs) -> bool:
    """Whether what separates is a decimal comma: one name above, two runs of digits below."""
    if way.separator != ",":
        return False
    rows = records(text, ",")
    if len(rows) < 2 or len(rows[0].cells) != 1:
        return False
    return all(
        len(row.cells) == 2 and all(part.strip().lstrip("+-").isdigit() for part in row.cells) for row in rows[1:]
    )


def _decimal(separator: str, body: list[list[str]]) -> Decimal:
    """The decimal mark that the cells show; the point where nothing decides."""
    cells = trimmed(texts_of([cell for row in body for cell in row]))
    if not len(cells):
        return "."
    found = decides(cells)
    return "," if found[","] > found["."] else "."


def _has_names(body: list[list[str]], decimal: str) -> bool:
    """Whether the first row holds names rather than values."""
    if not body:
        return True
    first, rest = body[0], body[1:]
    if not any(cell.strip() for cell in first):
        return False
    names = trimmed(texts_of(first))
    _, numeric = numbers_of(names, decimal)
    if not numeric.any():
        return not _stands_below(first, rest)
    width = max((len(row) for row in rest), default=0)
    offset = width - len(first)
    for j, is_number in enumerate(numeric):
        below = [row[j + offset] for row in rest if 0 <= j + offset < len(row)]
        if not is_number and first[j].strip() and below and _share_of_numbers(below, decimal) > 0.8:
            return True
    return _are_years(first, rest, offset)


def _is_quoted_alone(text: str, line: int, quote: str, width: int) -> bool:
    """Whether the first row of the table stands in quotes, cell by cell, and no row below does: they are names, though
    they are numbers."""
    lines = text.splitlines()
    head = lines[line].strip() if quote and line < len(lines) else ""
    below = [other for other in lines[line + 1 : line + 40] if other.strip()]
    is_quoted = head.startswith(quote) and head.endswith(quote) and head.count(quote) == 2 * width
    return bool(head) and is_quoted and len(below) > 1 and not any(quote in other for other in below)


def _stands_below(first: list[str], rest: list[list[str]]) -> bool:
    """Whether a text of the first row stands again in its column, in columns of texts: then it is a value."""
    again = 0
    for j, cell in enumerate(first):
        below = {row[j].strip() for row in rest if j < len(row)}
        again += bool(cell.strip()) and cell.strip() in below and len(below) > 1
    return again > len(first) / 2


def _are_years(first: list[str], rest: list[list[str]], offset: int) -> bool:
    """Whether the numbers of the first row are years or a count from 1, each once, and what stands below is neither."""
    values = [cell.strip() for cell in first if cell.strip().isdigit()]
    if len(values) < 2 or len(set(values)) < len(values) or not rest:
        return False
    numbers = [int(value) for value in values]
    years = all(1900 <= n <= 2100 for n in numbers)
    counted = (
        numbers == list(range(numbers[0], numbers[0] + len(numbers))) and numbers[0] in (0, 1) and len(numbers) > 3
    )
    below = [row[j + offset].strip() for row in rest for j in range(len(first)) if 0 <= j + offset < len(row)]
    same = sum(cell.isdigit() and 1900 <= int(cell) <= 2100 for cell in below if len(cell) < 9)
    whole = sum(cell.isdigit() for cell in below)
    return (years and same < len(below) / 4) or (counted and whole < len(below) / 2)


def _share_of_numbers(cells: list[str], decimal: str) -> float:
    array = trimmed(texts_of(cells))
    missing = missing_of(array, ReadAs().missing)
    _, numeric = numbers_of(array, decimal)
    filled = int((~missing).sum())
    return float(numeric.sum()) / filled if filled else 0.0


def body_of(content: bytes, way: ReadAs) -> tuple[list[str], int, int, int]:
    """The cells of the row of names (empty without one), where the rows below begin in bytes and in lines, and their
    width.

    FileError where nothing stands there.
    """
    text = sample_of(content)
    lines = io.StringIO(text, newline="")
    skipped = sum(len(line.encode()) for line in islice(lines, way.above))
    rest = lines.read()
    rows = records(rest, way.separator, way.quote)
    if not rows:
        raise FileError("there is nothing below the skipped lines.")
    taken = rows[0].line + (rows[0].lines if way.names else 0)
    lines = io.StringIO(rest, newline="")
    offset = skipped + sum(len(line.encode()) for line in islice(lines, taken))
    below = rows[1:] if way.names else rows
    width = _usual([len(row.cells) for row in below] or [len(rows[0].cells)], len(rows[0].cells))
    return (rows[0].cells if way.names else []), offset, way.above + taken, width
