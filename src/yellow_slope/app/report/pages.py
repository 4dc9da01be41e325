"""The pages of the report on screen: shown as soon as there are any, keeping their place while the report changes."""

from __future__ import annotations

from PyQt6.QtCore import QPoint, Qt, QUrl
from PyQt6.QtGui import QColor, QImage, QResizeEvent, QTextBlock, QTextCursor, QTextDocument
from PyQt6.QtWidgets import QTextBrowser, QTextEdit, QWidget

from yellow_slope.looks import LIGHT
from yellow_slope.values import dataclass

MARGIN = 34
NOTHING = "\u200b"
MOST_FOUND = 2000
"""Places of a text that is looked for."""


@dataclass(frozen=True, slots=True)
class Piece:
    """Some sections as HTML, with their figures by name."""

    html: str
    images: tuple[tuple[str, QImage], ...]


class Pages(QTextBrowser):
    """Pieces of a newer report come one by one: at the top they are shown as they come, elsewhere when all are there,
    so that what is read stays where it is."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setAccessibleName("The report")
        self.setToolTip("The report as it is written to files; a click on a number leads to where it is made")
        self.setOpenLinks(False)
        self.setObjectName("printed")
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        # A bar that comes and goes would have the page laid out twice.
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOn)
        self._next: QTextDocument | None = None
        self._shown: QTextDocument | None = None
        self._images: dict[str, QImage] = {}
        """The figures of the pages that are taken, in their full width; `_seen` those of the pages that are shown."""
        self._seen: dict[str, QImage] = {}
        self._room = 0
        """The width that figures were fitted into."""
        self._found: list[QTextCursor] = []
        self._sought = ""
        self._at = -1

    # ---- taking a report

    def begin(self) -> None:
        """Pieces of a newer report follow."""
        if self._next is not None and self._next is not self._shown:
            self._next.deleteLater()
        self._next, self._images = self._new_document(), {}

    def take(self, piece: Piece) -> None:
        """The next piece of the report that was begun."""
        if self._next is None:
            return
        self._images |= dict(piece.images)
        self._fit(self._next, dict(piece.images))
        if self._next.isEmpty():
            self._next.setHtml(piece.html)
        else:
            cursor = QTextCursor(self._next)
            cursor.movePosition(QTextCursor.MoveOperation.End)
            end = cursor.position()
            cursor.beginEditBlock()  # laid out once
            cursor.insertHtml(f"<p>{NOTHING}</p>{piece.html}")  # what is put in first goes on in the last paragraph
            cursor.setPosition(end)
            cursor.deleteChar()
            cursor.endEditBlock()
        if self._is_at_top() and self.document() is not self._next:
            self._put(self._next)

    def complete(self) -> None:
        """All pieces are there."""
        if self._next is not None and self.document() is not self._next:
            anchor, by = self._place()
            value = self._bar_value()
            self._put(self._next)
            if not self._restore(anchor, by):
                self._set_bar(value)
        self._next = None
        self._mark_again()

    def _new_document(self) -> QTextDocument:
        made = QTextDocument(self)
        made.setDocumentMargin(MARGIN)
        made.setDefaultFont(self.font())
        made.setUndoRedoEnabled(False)
        viewport = self.viewport()
        if viewport is not None:
            made.setTextWidth(viewport.width())
        return made

    def _put(self, document: QTextDocument) -> None:
        self._found, self._at = [], -1
        self.setExtraSelections([])
        self._fit(document, self._images)  # the window may have got another size since they came
        self.setDocument(document)
        if self._shown is not None:
            self._shown.deleteLater()
        self._shown, self._seen = document, self._images

    # ---- figures

    def _fit(self, document: QTextDocument, images: dict[str, QImage]) -> None:
        """Give a document its figures, no wider than its pages: what is wider would be cut off."""
        viewport = self.viewport()
        self._room = room = (viewport.width() if viewport is not None else 0) - 2 * MARGIN
        for name, image in images.items():
            if 0 < room < image.width():
                image = image.scaledToWidth(room, Qt.TransformationMode.SmoothTransformation)
            document.addResource(QTextDocument.ResourceType.ImageResource.value, QUrl(name), image)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        before, viewport = self._room, self.viewport()
        now = viewport.width() - 2 * MARGIN if viewport is not None else before
        widest = max((image.width() for image in self._seen.values()), default=0)
        if self._shown is not None and now != before and min(now, before) < widest:
            self._fit(self._shown, self._seen)
        super().resizeEvent(event)  # which lays all out anew

    # ---- its place

    def _is_at_top(self) -> bool:
        document = self.document()
        return document is None or document.isEmpty() or self._bar_value() == 0

    def _bar_value(self) -> int:
        bar = self.verticalScrollBar()
        return bar.value() if bar is not None else 0

    def _set_bar(self, value: int) -> None:
        bar = self.verticalScrollBar()
        if bar is not None:
            bar.setValue(value)

    def _place(self) -> tuple[str, int]:
        """The last named place above what is seen first, and how far above it stands."""
        block = self.cursorForPosition(QPoint(MARGIN, 4)).block()
        while block.isValid():
            for name in _anchors(block):
                if name.startswith("part-"):
                    return name, self._top_of(block) - self._bar_value()
            block = block.previous()
        return "", 0

    def _restore(self, anchor: str, by: int) -> bool:
        block = self._block_of(anchor) if anchor else None
        if block is None:
            return False
        self._set_bar(self._top_of(block) - by)
        return True

    def _top_of(self, block: QTextBlock) -> int:
        document = self.document()
        layout = document.documentLayout() if document is not None else None
        return int(layout.blockBoundingRect(block).top()) if layout is not None else 0

    def _block_of(self, anchor: str) -> QTextBlock | None:
        document = self.document()
        block = document.begin() if document is not None else QTextBlock()
        while block.isValid():
            if anchor in _anchors(block):
                return block
            block = block.next()
        return None

    def show_place(self, *anchors: str) -> bool:
        """Show and mark the first of these places that there is; False where there is none."""
        for anchor in anchors:
            block = self._block_of(anchor)
            if block is not None:
                self._set_bar(self._top_of(block) - 60)
                cursor = QTextCursor(block)
                cursor.movePosition(QTextCursor.MoveOperation.EndOfBlock, QTextCursor.MoveMode.KeepAnchor)
                self.setExtraSelections([self._marked(cursor, now=True)])
                return True
        return False

    # ---- finding

    def find_all(self, text: str) -> int:
        """Mark every place of a text; how many there are."""
        document = self.document()
        self._found, self._at, self._sought = [], -1, text
        if document is not None and text:
            cursor = document.find(text)
            while not cursor.isNull() and len(self._found) < MOST_FOUND:
                self._found.append(cursor)
                cursor = document.find(text, cursor)
        self._show_found()
        return len(self._found)

    @property
    def find_count(self) -> int:
        """How many places are marked."""
        return len(self._found)

    def find_next(self, step: int) -> int:
        """Go to the next place, or to the one before; its number from 1, 0 where there is none."""
        if not self._found:
            return 0
        if self._at < 0:  # the first one from what is seen on
            top = self.cursorForPosition(QPoint(0, 0)).position()
            later = (i for i, cursor in enumerate(self._found) if cursor.selectionStart() >= top)
            self._at = next(later, 0) if step > 0 else len(self._found) - 1
        else:
            self._at = (self._at + step) % len(self._found)
        here = QTextCursor(self._found[self._at])
        here.clearSelection()
        self.setTextCursor(here)
        self.ensureCursorVisible()
        self._show_found()
        return self._at + 1

    def _mark_again(self) -> None:
        if self._sought:
            self.find_all(self._sought)

    def _show_found(self) -> None:
        self.setExtraSelections([self._marked(c, i == self._at) for i, c in enumerate(self._found)])

    def _marked(self, cursor: QTextCursor, now: bool) -> QTextEdit.ExtraSelection:
        marked = QTextEdit.ExtraSelection()
        marked.cursor = cursor
        colour = QColor(LIGHT.yellow)
        colour.setAlphaF(0.65 if now else LIGHT.wash)
        marked.format.setBackground(colour)
        return marked


def _anchors(block: QTextBlock) -> list[str]:
    """The names of places in a block."""
    names: list[str] = []
    at = block.begin()
    while not at.atEnd():
        fragment = at.fragment()
        if fragment.isValid():
            names += fragment.charFormat().anchorNames()
        at += 1
    return names
