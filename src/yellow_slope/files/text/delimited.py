"""Delimited text, read: laid out by a look at its first rows, its cells by a reader made for it, its types by every
cell."""

from __future__ import annotations

import csv
import io
from collections import Counter
from collections.abc import Callable, Collection, Iterator, Mapping
from concurrent.futures import ThreadPoolExecutor
from typing import Any

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from pyarrow import csv as arrow

from yellow_slope.core.data.source import Found, Ragged, ReadAs
from yellow_slope.core.data.table import Table
from yellow_slope.core.errors import FileError
from yellow_slope.core.words.names.study import SEPARATORS
from yellow_slope.core.words.spelling.numerals import counted
from yellow_slope.files.text.cells import EMPTY, decides, numbers_of, texts_of, trimmed, why_not_numbers
from yellow_slope.files.text.encodings import recoded
from yellow_slope.files.text.growingcolumn import GrowingColumn, NotAsExpectedError
from yellow_slope.files.text.sniffing import SAMPLE, body_of, guessed, is_running_text, open_quote, records, sample_of
from yellow_slope.values import dataclass, replace

BLOCK = 4 << 20
MOST_BLOCK = 1 << 30
PART = 64 << 20
"""So much of a text is read before anybody is told, and can say that it is not wanted any longer."""
FIRST_ROWS = 100
"""So many rows show whether a column holds plain numbers; where a later one does not, all is read again."""
NAMED_ROWS = 20
MOST_COLUMNS = 20_000
Progress = Callable[[float], None]
"""Told the share that is read; may raise to end the reading."""


class DoubtfulError(FileError):
    """A file that can be read if somebody says how; `ways` are the ways, `title` heads the question."""

    def __init__(self, said: str, title: str, ways: Mapping[str, ReadAs]) -> None:
        super().__init__(said)
        self.title, self.ways = title, dict(ways)


class RaggedError(DoubtfulError):
    """Rows of different length."""

    def __init__(self, said: str, way: ReadAs) -> None:
        ways = {
            "Skip these rows": replace(way, ragged=Ragged.SKIP),
            "Fill what is short, cut what is long": replace(way, ragged=Ragged.FILL),
        }
        super().__init__(said, "Rows of another length", ways)


@dataclass(frozen=True, slots=True)
class TableReading:
    """A table, how it was read, and what the reading came upon."""

    table: Table
    way: ReadAs
    found: Found


def parse_delimited(
    content: bytes,
    name: str,
    read_as: ReadAs | None = None,
    progress: Progress = lambda share: None,
    texts: Collection[str] = (),
) -> TableReading:
    """The table in the bytes of a text file. FileError says what and where. texts: names of columns that are known to
    hold texts, whatever they look like: “0.” stays what it is."""
    text, encoding = recoded(content, name, read_as.encoding if read_as else "")
    if _is_blank(text, 0):
        raise FileError(f"{name} is empty.")
    zero = text.find(b"\x00")
    if zero >= 0:
        line = text.count(b"\n", 0, zero) + 1
        raise FileError(f"{name} holds a zero byte in line {line}: it is not a text file, whatever its name says.")
    sample = sample_of(text)
    way = replace(read_as, encoding=encoding) if read_as else guessed(sample, encoding)
    if read_as is None and is_running_text(sample, way):
        raise DoubtfulError(
            f"{name} does not look like a table: its lines are not divided into columns alike, and no "
            "column holds numbers.",
            "Is this a table?",
            {"Open it all the same": way},
        )
    if way.separator == " ":
        text = _spaces_to_tabs(text)
    cut = replace(way, separator="\t" if way.separator == " " else way.separator)
    _refuse_open_quote(text, cut, name)
    try:
        names, offset, lines, width = body_of(text, cut)
    except FileError as error:
        raise FileError(f"{name}: {error}") from error
    if width > MOST_COLUMNS:
        raise FileError(f"{name} has {width:,} columns; at most {MOST_COLUMNS:,} are read.")
    if _is_blank(text, offset):
        raise FileError(f"{name} has names in row {lines or 1}, but no rows below them.")
    body = _Body(text, offset, lines, cut, name, width, progress)
    columns = body.columns({j for j, cell in enumerate(names) if cell.strip() in texts} if way.names else set())
    names = [cell.strip() for cell in names] if way.names else [f"column {i + 1}" for i in range(width)]
    if len(names) == width - 1 and not (columns[-1].is_empty and columns[0].is_number):
        names = ["row", *names]
    names += [""] * (width - len(names))
    kept = [j for j in range(width) if (way.names and names[j]) or not columns[j].is_empty]
    if not kept:
        raise FileError(f"{name} holds no values.")
    unique = unique_names([names[j] for j in kept])
    table = Table(tuple(replace(columns[j].made().column, name=unique[i]) for i, j in enumerate(kept)))
    found = body.found(columns, {j: unique[i] for i, j in enumerate(kept)}, width - len(kept))
    return TableReading(table, way, found)


def read_typed(text: bytes, types: Mapping[str, str], name: str) -> Table:
    """A table as a study file holds it: separated by commas, names in row 1, each column of the type that is said of
    it.

    `types`: “number”, “date”, “time” or “string” by name. Nothing is guessed; cells that are no number are strays.
    """
    way = ReadAs(missing=())
    text, _ = recoded(text, name, "utf-8")
    if _is_blank(text, 0):
        raise FileError(f"{name} is empty.")
    _refuse_open_quote(text, way, name)
    names, offset, lines, width = body_of(text, way)
    if len(set(names)) < len(names) or len(names) > width > 0:
        raise FileError(f"{name}: two columns have the same name, or rows are short.")
    columns = [
        GrowingColumn(way, as_numbers=types.get(n) == "number", as_texts=types.get(n) != "number") for n in names
    ]
    body = _Body(text, offset, lines, way, name, len(names), lambda share: None)
    try:
        if not _is_blank(text, offset):
            body.fill(columns)
    except RaggedError as error:  # nobody is asked how to read what was written here
        raise FileError(f"{error} The file is damaged.") from error
    return Table(tuple(c.typed(n, types.get(n, "string")) for n, c in zip(names, columns)))


def _refuse_open_quote(text: bytes, way: ReadAs, name: str) -> None:
    """FileError where a quote is never closed: rows would stand in one cell, or in a name."""
    if not way.quote or text.count(way.quote.encode()) % 2 == 0:
        return
    line = open_quote(text, way.separator, way.quote)
    if line:
        raise FileError(
            f"{name}, row {line}: a quote is opened there and never closed, so that all that comes after it would be "
            "one cell."
        )


def _take(column: GrowingColumn, cells: Any) -> None:
    for piece in cells.chunks:
        column.take(piece)


def _is_blank(text: bytes, start: int) -> bool:
    """Whether nothing but white space stands from there on; looked at piece by piece."""
    return all(not text[at : at + 4096].strip() for at in range(start, len(text), 4096))


def _spaces_to_tabs(text: bytes) -> bytes:
    """Columns that stand under each other with runs of spaces between them."""
    rows = io.StringIO(text.decode("utf-8"), newline="")
    out = io.StringIO()
    writer = csv.writer(out, delimiter="\t", lineterminator="\n")
    for row in csv.reader(rows, delimiter=" ", skipinitialspace=True):
        writer.writerow(row[:-1] if row and not row[-1] else row)
    return out.getvalue().encode("utf-8")


class _LongCellError(Exception):
    """A cell is longer than a piece."""


class _Told(io.RawIOBase):
    """A text from a place on, which tells how much of it has been taken, and ends early once nobody waits for it.

    The reader asks on threads of its own, which nothing may be raised through: what was raised is kept.
    """

    def __init__(self, text: bytes, offset: int, progress: Progress) -> None:
        super().__init__()
        self._rest, self._at, self._progress = memoryview(text)[offset:], 0, progress
        self.raised: BaseException | None = None

    def readable(self) -> bool:
        return True

    def read(self, size: int = -1) -> memoryview:
        """The next piece, as a view: nothing is copied."""
        try:
            self._progress(min(0.99, self._at / max(1, len(self._rest))))
        except BaseException as error:
            self.raised = error
        begin = len(self._rest) if self.raised else self._at
        self._at = len(self._rest) if size < 0 else min(len(self._rest), begin + size)
        return self._rest[begin : self._at]


class _Body:
    """The rows below the names, taken in piece by piece."""

    def __init__(
        self, text: bytes, offset: int, lines: int, way: ReadAs, name: str, width: int, progress: Progress
    ) -> None:
        self.text, self.offset, self.lines, self.way = text, offset, lines, way
        self.name, self.width, self.progress = name, width, progress
        self.ragged: list[tuple[int, list[str]]] = []
        """Rows of another length: their number in the file, from 1, and their cells."""
        self.quotes = bool(way.quote) and text.find(way.quote.encode(), offset) >= 0
        self.bad: list[tuple[int, list[str]]] = []
        """Those that were filled or skipped."""
        self.bad_lines: list[int] = []

    def columns(self, texts: Collection[int] = ()) -> list[GrowingColumn]:
        """Every column; those whose first piece deceived, and those that are known to be texts, are read again as
        such."""
        columns = [GrowingColumn(self.way) for _ in range(self.width)]
        numbers = self._surely_numbers()
        try:
            rows = self._read_at_once(columns, numbers) if numbers else self._read(columns, range(self.width))
        except NotAsExpectedError:
            columns = [GrowingColumn(self.way) for _ in range(self.width)]
            rows = self._read(columns, range(self.width))
        again = [j for j, column in enumerate(columns) if column.deceived or (j in texts and column.is_number)]
        for j in again:
            columns[j] = GrowingColumn(self.way, as_texts=True, stay_texts=j in texts)
        if again:
            self.ragged = []
            self._read([columns[j] for j in again], again)
        self._ragged_rows(columns, rows)
        with ThreadPoolExecutor(2) as pool:  # most of it is memory that is written for the first time
            list(pool.map(GrowingColumn.made, columns))
        return columns

    def fill(self, columns: list[GrowingColumn]) -> None:
        """Take every row in; what the columns are is known."""
        rows = self._read(columns, range(self.width))
        self._ragged_rows(columns, rows)

    def _surely_numbers(self) -> frozenset[int]:
        """Columns of which the reader may expect plain numbers alone: it is twice as fast on them.

        Only in large texts, and only where their first rows show which mark is the decimal one.
        """
        if self.way.decimal != "." or len(self.text) < BLOCK:
            return frozenset()
        sample = sample_of(self.text[self.offset : self.offset + SAMPLE])
        rows = records(sample, self.way.separator, self.way.quote, FIRST_ROWS)
        found: set[int] = set()
        is_decided = False
        for j in range(self.width):
            cells = trimmed(texts_of([row.cells[j] if j < len(row.cells) else "" for row in rows]))
            filled = int(pc.sum(pc.not_equal(cells, EMPTY)).as_py() or 0)
            _, is_number = numbers_of(cells, ".")
            if filled and int(is_number.sum()) == filled and not why_not_numbers([t for t in cells.to_pylist() if t]):
                found.add(j)
                is_decided = is_decided or decides(cells)["."] > 0
        return frozenset(found) if is_decided else frozenset()

    def _read_at_once(self, columns: list[GrowingColumn], numbers: frozenset[int]) -> int:
        """All rows by several threads; only where every row is of one length and the numbers are plain.

        In parts, because a reader that has begun cannot be stopped, and tells nothing.
        """
        rows = 0
        with ThreadPoolExecutor(2) as pool:
            for begin, part in self._parts():
                self.progress(min(0.99, begin / len(self.text)))
                try:
                    table = arrow.read_csv(
                        pa.BufferReader(pa.py_buffer(part)),
                        read_options=arrow.ReadOptions(column_names=self._names(), block_size=BLOCK),
                        parse_options=self._parsing(),
                        convert_options=self._converting(range(self.width), numbers),
                    )
                except pa.ArrowInvalid as error:
                    raise NotAsExpectedError from error
                list(pool.map(_take, columns, table.columns))
                rows += int(table.num_rows)
        return rows

    def _parts(self) -> Iterator[tuple[int, memoryview]]:
        """The rows in parts that end with one, and where each begins; a line may end inside quotes, then the part goes
        on."""
        text, begin = self.text, self.offset
        quote = self.way.quote.encode() if self.quotes else b""
        while begin < len(text):
            end = text.find(b"\n", begin + PART) + 1 or len(text)
            is_open = bool(quote) and text.count(quote, begin, end) % 2 == 1
            while is_open and end < len(text):
                before, end = end, text.find(b"\n", end) + 1 or len(text)
                is_open = text.count(quote, before, end) % 2 == 0
            yield begin, memoryview(text)[begin:end]
            begin = end

    def _read(self, columns: list[GrowingColumn], places: range | list[int]) -> int:
        """All rows piece by piece; those of another length are put by. A cell longer than a piece makes it one
        piece."""
        try:
            return self._read_in_pieces(columns, places, self._block())
        except _LongCellError:
            self.ragged = []
            for column in columns:
                column.begin_again()
            return self._read_in_pieces(columns, places, min(len(self.text), MOST_BLOCK))

    def _read_in_pieces(self, columns: list[GrowingColumn], places: range | list[int], block: int) -> int:
        rows = 0
        told = _Told(self.text, self.offset, self.progress)
        try:
            pieces = arrow.open_csv(
                pa.PythonFile(told, mode="r"),
                read_options=arrow.ReadOptions(column_names=self._names(), block_size=block, use_threads=False),
                parse_options=self._parsing(self._is_ragged),
                convert_options=self._converting(places, frozenset()),
            )
            for piece in pieces:
                for j, column in enumerate(columns):
                    column.take(piece.column(j))
                rows += piece.num_rows
        except pa.ArrowInvalid as error:
            if told.raised is None and block < min(len(self.text), MOST_BLOCK) and "straddling" in str(error):
                raise _LongCellError from error
            if told.raised is None:
                raise FileError(f"{self.name} cannot be read as a table: {_said(str(error))}") from error
        if told.raised is not None:
            raise told.raised
        return rows

    def _names(self) -> list[str]:
        return [str(j) for j in range(self.width)]

    def _parsing(self, on_ragged: Callable[[Any], str] | None = None) -> Any:
        return arrow.ParseOptions(
            delimiter=self.way.separator,
            quote_char=self.way.quote if self.quotes else False,
            newlines_in_values=self.quotes,
            ignore_empty_lines=self.width > 1,
            invalid_row_handler=on_ragged,
        )

    def _converting(self, places: range | list[int], numbers: frozenset[int]) -> Any:
        types = {str(j): pa.float64() if j in numbers else pa.string() for j in range(self.width)}
        return arrow.ConvertOptions(
            column_types=types,
            include_columns=[str(j) for j in places],
            strings_can_be_null=True,
            null_values=[""],
            quoted_strings_can_be_null=True,
            check_utf8=False,
        )

    def _block(self) -> int:
        """As large as the longest cell might be: a cell must fit into a piece."""
        return max(BLOCK, len(self.text)) if len(self.text) < 4 * BLOCK else BLOCK

    def _is_ragged(self, row: Any) -> str:
        cells = records(row.text, self.way.separator, self.way.quote)[0].cells
        self.ragged.append((self.lines + row.number, cells))
        return "skip"

    def _ragged_rows(self, columns: list[GrowingColumn], rows: int) -> None:
        """Rows of another length: forgiven where only empty cells are too many, else refused, filled or skipped."""
        if not self.ragged:
            return
        bad = [(n, cells) for n, cells in self.ragged if not self._is_forgiven(cells)]
        if bad and self.way.ragged is Ragged.REFUSE:
            number, cells = self._lines_of([bad[0][0]])[0], bad[0][1]
            more = f" This concerns {counted(len(bad), 'row')}." if len(bad) > 1 else ""
            raise RaggedError(
                f"{self.name}, row {number}: {counted(len(cells), 'value')} where there are "
                f"{counted(self.width, 'column')}. "
                f"It was read as separated by {SEPARATORS.get(self.way.separator, repr(self.way.separator))}.{more}",
                self.way,
            )
        skipped = {n for n, _ in bad} if self.way.ragged is Ragged.SKIP else set()
        kept = [(n, cells) for n, cells in self.ragged if n not in skipped]
        for column_place, column in enumerate(columns):
            cells = [row[column_place] if column_place < len(row) else "" for _, row in kept]
            if cells:
                column.take(texts_of([cell or None for cell in cells]))
        # Rows that were read come first, these after them; where each belongs is known by its number.
        taken = {n for n, _ in self.ragged}
        regular = [i for i in range(rows + len(taken)) if self.lines + i + 1 not in taken]
        numbers = np.array([*regular, *(n - self.lines - 1 for n, _ in kept)])
        order = np.argsort(numbers, kind="stable")
        for column in columns:
            column.reorder(order)
        self.bad = bad
        self.bad_lines = self._lines_of([n for n, _ in bad[:NAMED_ROWS]])

    def _lines_of(self, rows: list[int]) -> list[int]:
        """The lines of the file, from 1, on which rows begin: empty lines are no rows, and a cell may hold line
        ends."""
        if not rows:
            return []
        rest = records(
            self.text[self.offset :].decode("utf-8"), self.way.separator, self.way.quote, rows[-1] - self.lines
        )
        return [self.lines + rest[n - self.lines - 1].line + 1 for n in rows]

    def _is_forgiven(self, cells: list[str]) -> bool:
        return len(cells) > self.width and not any(cell.strip() for cell in cells[self.width :])

    def found(self, columns: list[GrowingColumn], names: dict[int, str], empty: int) -> Found:
        """What the reading came upon."""
        missing: Counter[str] = Counter()
        made = [column.made() for column in columns]
        for one in made:
            missing.update(dict(one.missing))
        marks = [dict(one.marks) for one in made]
        doubtful = [j for j in names if columns[j].is_number and made[j].open_example]
        if any(mark.get(self.way.decimal) for mark in marks):
            doubtful = []
        return Found(
            tuple(sorted(missing.items())),
            tuple(self.bad_lines),
            len(self.bad),
            made[doubtful[0]].open_example if doubtful else "",
            tuple(names[j] for j in doubtful),
            empty,
        )


def unique_names(names: list[str]) -> list[str]:
    """Names made different: an empty one becomes “column 3”, a second “age” becomes “age (2)”."""
    seen: set[str] = set()
    wanted = Counter(name for name in names if name)
    out: list[str] = []
    for i, name in enumerate(names):
        base = name or f"column {i + 1}"
        new, k = base, 2
        while new in seen or (new != name and new in wanted):
            new, k = f"{base} ({k})", k + 1
        seen.add(new)
        out.append(new)
    return out


def _said(message: str) -> str:
    """A reader's complaint in our words."""
    if "straddling object" in message or "block size" in message:
        return "a cell is longer than a billion characters, or a quote is never closed."
    return "a quote is never closed, or rows cannot be separated."
