"""What every PDF document shares: page, fonts, the head of each page and its foot with page totals."""

from __future__ import annotations

import io
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from decimal import Decimal
from typing import Any

from reportlab.lib.colors import HexColor
from reportlab.lib.pagesizes import A4
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas

from ..core.numbers.working import shown
from ..typefaces import BOLD, MONO, MONO_BOLD, SANS, file_of

INK, QUIET, RULE, MAIN, BAD = (HexColor(c) for c in ("#23211D", "#6A645A", "#E3DCCF", "#1D6670", "#A33B2C"))
WIDTH, HEIGHT = A4
LEFT, RIGHT, TOP, BOTTOM = 42.0, WIDTH - 42.0, HEIGHT - 84.0, 62.0
SIZE, LEADING = 8.5, 11.5
_MOST_LINES = 20  # a row up to this many lines isn't parted between pages
Progress = Callable[[float], None]


def fonts() -> None:
    """Register the fonts that ship with the application; they are embedded in what is written."""
    if SANS in pdfmetrics.getRegisteredFontNames():
        return
    for name in (SANS, BOLD, MONO, MONO_BOLD):
        pdfmetrics.registerFont(TTFont(name, str(file_of(name))))


@dataclass(frozen=True)
class Heading:
    """What stands at the head of every page."""

    project: str
    client: str
    title: str
    note: str


@dataclass(frozen=True)
class Column:
    """A column of a table: its head, its left edge and width in points, and whether it holds numbers."""

    head: str
    left: float
    width: float
    number: bool = False


class Pages:
    """Sets rows one below the other, page after page.

    ``page_total`` of each page is what :meth:`count` was told on it; :attr:`totals` keeps them for a
    collection.
    """

    def __init__(self, heading: Heading, columns: Sequence[Column], *, total_words: str = "") -> None:
        fonts()
        self.heading, self.columns, self.total_words = heading, columns, total_words
        self.out = io.BytesIO()
        self.canvas = Canvas(self.out, pagesize=A4, invariant=1)
        self.canvas.setTitle(f"{heading.project}: {heading.title}")
        self.canvas.setAuthor("Sand Scale")
        self.number, self.page_total = 0, Decimal(0)
        self.totals: list[tuple[int, Decimal]] = []
        self._open()

    def finish(self) -> bytes:
        """Close the last page; gives the document."""
        self._close()
        self.canvas.save()
        return self.out.getvalue()

    def count(self, amount: Decimal) -> None:
        """Add an amount to the total of this page."""
        self.page_total += amount

    def room(self, lines: float) -> None:
        """Begin a new page unless so many lines still fit on this one."""
        if self.y - lines * LEADING < BOTTOM:
            self.turn()

    def turn(self) -> None:
        """Begin a new page."""
        self._close()
        self._open()

    def row(
        self,
        cells: Sequence[str],
        *,
        bold: bool = False,
        color: Any = INK,
        line: bool = True,
        indent: float = 0.0,
        above: float = 0.0,
    ) -> None:
        """One row; words that are too long for their column go on in a second line."""
        font, mono = (BOLD, MONO_BOLD) if bold else (SANS, MONO)
        set_in = [
            [words]
            if column.number
            else wrapped(
                words, mono if column.number else font, SIZE, column.width - (indent if at == 1 else 0)
            )
            for at, (words, column) in enumerate(zip(cells, self.columns, strict=True))
        ]
        height = max(len(lines) for lines in set_in)
        self.room(min(height, _MOST_LINES) + above / LEADING)
        self.y -= above
        for number in range(height):
            self.room(1)
            self.canvas.setFillColor(color)
            for at, (lines, column) in enumerate(zip(set_in, self.columns, strict=True)):
                if number >= len(lines):
                    continue
                self.canvas.setFont(mono if column.number else font, SIZE)
                if column.number:
                    self.canvas.drawRightString(column.left + column.width, self.y - SIZE, lines[number])
                else:
                    self.canvas.drawString(
                        column.left + (indent if at == 1 else 0), self.y - SIZE, lines[number]
                    )
            self.y -= LEADING
        if line:
            self.canvas.setStrokeColor(RULE)
            self.canvas.setLineWidth(0.5)
            self.canvas.line(LEFT, self.y - 1, RIGHT, self.y - 1)
        self.y -= 3

    def words(self, text: str, *, bold: bool = False, size: float = SIZE, color: Any = INK) -> None:
        """Words across the page, in as many lines as they need."""
        font = BOLD if bold else SANS
        lines = wrapped(text, font, size, RIGHT - LEFT)
        self.room(min(len(lines), _MOST_LINES) * (size + 3) / LEADING + 1)
        for line in lines:
            self.room(size / LEADING)
            self.canvas.setFont(font, size)
            self.canvas.setFillColor(color)
            self.canvas.drawString(LEFT, self.y - size, line)
            self.y -= size + 3
        self.y -= 2

    def rule(self) -> None:
        """A ruled line in ink."""
        self.canvas.setStrokeColor(INK)
        self.canvas.setLineWidth(0.8)
        self.canvas.line(LEFT, self.y, RIGHT, self.y)
        self.y -= 4

    def go_on(self, columns: Sequence[Column], lines: float = 6) -> None:
        """Go on with other columns: on this page, with their heads, where so many lines still fit."""
        self.columns = columns
        if self.y - (lines + 2) * LEADING < BOTTOM:
            return self.turn()
        self.y -= 20
        self._heads(self.y + 5)
        self.rule()

    def _heads(self, y: float) -> None:
        self.canvas.setFillColor(QUIET)
        self.canvas.setFont(SANS, 7.5)
        for column in self.columns:
            if column.number:
                self.canvas.drawRightString(column.left + column.width, y, column.head)
            else:
                self.canvas.drawString(column.left, y, column.head)

    def _open(self) -> None:
        self.number += 1
        self.page_total = Decimal(0)
        canvas, head = self.canvas, self.heading
        canvas.setFillColor(INK)
        canvas.setFont(BOLD, 11)
        title = shortened(head.title, SANS, SIZE, 240)
        left_over = RIGHT - LEFT - 12 - pdfmetrics.stringWidth(title, SANS, SIZE)
        canvas.drawString(LEFT, HEIGHT - 46, shortened(head.project, BOLD, 11, left_over))
        canvas.setFont(SANS, SIZE)
        canvas.drawRightString(RIGHT, HEIGHT - 46, title)
        canvas.setFillColor(QUIET)
        canvas.drawString(LEFT, HEIGHT - 58, shortened(head.client, SANS, SIZE, 300))
        canvas.drawRightString(RIGHT, HEIGHT - 58, head.note)
        self._heads(TOP + 8)
        self.y = TOP + 3
        self.rule()

    def _close(self) -> None:
        canvas = self.canvas
        canvas.setFillColor(INK)
        if self.total_words:
            self.totals.append((self.number, self.page_total))
            canvas.setStrokeColor(INK)
            canvas.setLineWidth(0.8)
            canvas.line(LEFT, BOTTOM - 4, RIGHT, BOTTOM - 4)
            canvas.setFont(BOLD, SIZE)
            canvas.drawString(self.columns[1].left, BOTTOM - 16, self.total_words)
            canvas.setFont(MONO_BOLD, SIZE)
            last = self.columns[-1]
            canvas.drawRightString(last.left + last.width, BOTTOM - 16, money(self.page_total))
        canvas.setFillColor(QUIET)
        canvas.setFont(SANS, 7.5)
        canvas.drawString(LEFT, 30, "Sand Scale")
        canvas.drawRightString(RIGHT, 30, f"page {self.number}")
        canvas.showPage()


def wrapped(text: str, font: str, size: float, width: float) -> list[str]:
    """Text in lines no wider than a width in points; a word that is wider alone is broken."""
    lines, line = [], ""
    for word in text.split(" "):
        longer = f"{line} {word}".strip()
        if pdfmetrics.stringWidth(longer, font, size) <= width:
            line = longer
            continue
        if line:
            lines.append(line)
        while pdfmetrics.stringWidth(word, font, size) > width:
            fits = max(1, int(len(word) * width / pdfmetrics.stringWidth(word, font, size)) - 1)
            lines.append(word[:fits])
            word = word[fits:]
        line = word
    return [*lines, line] if line or not lines else lines


def shortened(text: str, font: str, size: float, width: float) -> str:
    """Text cut to a width in points, with an ellipsis where something is left out."""
    if pdfmetrics.stringWidth(text, font, size) <= width:
        return text
    return f"{wrapped(text, font, size, width - size)[0]}…"


def money(amount: Decimal) -> str:
    """An amount as it is set: thousands apart, two decimals."""
    return shown(amount, 2, 2)
