"""What is read of what goes out."""

from __future__ import annotations

from datetime import date, datetime
from decimal import Decimal

from ..keeping.views import View


class Told(View):
    """A number that a document tells, as it was shown."""

    name: str
    value: str
    unit: str


class DocumentChoice(View):
    """A document that a package can hold, and the forms it is written in."""

    key: str
    title: str
    forms: list[str]


class IssuedDocument(View):
    """A document of a package: its file's name and size, and the numbers it tells."""

    title: str
    form: str
    name: str
    bytes: int
    told: list[Told]


class PackageView(View):
    """A package as it was issued; ``total`` is its bill's."""

    id: int
    version: int
    number: int
    title: str
    note: str
    recipient: str
    issued_by: str
    issued_on: date
    bill: int
    total: Decimal
    currency: str
    file: str
    bytes: int
    documents: list[IssuedDocument]


class PackagesView(View):
    """The packages, the last first, and the documents that another can hold."""

    packages: list[PackageView]
    choices: list[DocumentChoice]


class ToldPair(View):
    """A number in two issues of a document; empty where one doesn't tell it."""

    name: str
    unit: str
    before: str
    after: str


class DocumentPair(View):
    """A document in two packages: whether each holds it, and the numbers that differ."""

    title: str
    before: bool
    after: bool
    differs: list[ToldPair]


class PackagesCompared(View):
    """Two packages held against one another, document by document."""

    before: PackageView
    after: PackageView
    documents: list[DocumentPair]


class FormSheet(View):
    """A sheet of a form: its rows, each with its number and the texts of its cells, and which cells hold a
    formula (``C4``). ``more`` rows aren't shown."""

    name: str
    hidden: bool
    rows: list[list[str]]
    formulas: list[str]
    more: int


class FormCellView(View):
    """A cell of a form and the number in it; ``sheet`` and ``cell`` are where it is, empty where the form
    has no such place; ``says`` is why it isn't filled."""

    id: int
    version: int
    place: str
    sheet: str
    cell: str
    ref: str
    name: str
    value: float | None
    unit: str
    says: str


class FormView(View):
    """A form of one's own with its cells, and the ranges it names."""

    id: int
    version: int
    name: str
    file: str
    sheets: list[FormSheet]
    names: list[str]
    cells: list[FormCellView]


class FormBrief(View):
    """A form in a list."""

    id: int
    name: str
    cells: int


class LiveTableView(View):
    """A live table: what it shows, who made it, when it was read last. ``path`` is its address; told once,
    when it is made."""

    id: int
    what: str
    name: str
    by: str
    made: datetime
    withdrawn: datetime | None
    read: datetime | None
    path: str
