"""A table of the report on the clipboard: as a table for a word processor, or its numbers for a spreadsheet."""

from __future__ import annotations

from html import escape

from PyQt6.QtCore import QMimeData
from PyQt6.QtWidgets import QApplication

from yellow_slope.core.told.tables import Table, csv_cell, harmless
from yellow_slope.report.blocks import head_run, rows_of


def copy_table(table: Table) -> None:
    """The table with its title, rules and note; as plain text its cells between tabs."""
    data = QMimeData()
    data.setHtml(table_html(table))
    printed = [list(table.head), *rows_of(table)]
    data.setText("\n".join("\t".join(_flat(text) for text in row) for row in printed))
    _put(data)


def copy_numbers(table: Table) -> None:
    """Every number at full precision, cells between tabs."""
    data = QMimeData()
    data.setText("\n".join("\t".join(_flat(csv_cell(value)) for value in line) for line in table.sheet()))
    _put(data)


def _flat(text: str) -> str:
    """A text that is one cell; what begins like a formula is none."""
    return harmless(" ".join(text.split())) if not _is_number(text) else text


def _is_number(text: str) -> bool:
    try:
        float(text)
    except ValueError:
        return False
    return True


def table_html(table: Table) -> str:
    """The table as HTML that stands by itself."""
    head = "".join(
        f'<th align="{"left" if j < table.texts else "right"}">{_slanted(text)}</th>'
        for j, text in enumerate(table.head)
    )
    rows = []
    for row in table.rows:
        at, cells = 0, []
        for cell in row:
            side = "left" if at < table.texts or cell.span > 1 else "right"
            text = escape("\u2003" * cell.indent + cell.text)
            text = f"<b>{text}</b>" if cell.strong else text
            across = f' colspan="{cell.span}"' if cell.span > 1 else ""
            cells.append(f'<td align="{side}"{across}>{text}</td>')
            at += cell.span
        rows.append(f"<tr>{''.join(cells)}</tr>")
    note = f"<p><i>Note.</i> {escape(table.note)}</p>" if table.note else ""
    return f"<p><i>{escape(table.title)}</i></p><table><tr>{head}</tr>{''.join(rows)}</table>{note}"


def _slanted(text: str) -> str:
    run = head_run(text)
    return f"<i>{escape(run.text)}</i>" if run.italic else escape(run.text)


def _put(data: QMimeData) -> None:
    clipboard = QApplication.clipboard()
    if clipboard is not None:
        clipboard.setMimeData(data)
