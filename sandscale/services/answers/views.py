"""What a change moved, as the screens show it: so that each asks again only for what isn't told."""

from __future__ import annotations

from decimal import Decimal
from typing import Literal

from ..bill.views import Foot, ItemView, SectionHead
from ..keeping.views import View
from ..measure.views import ElementMoved
from ..prices.views import ResourceView
from ..rates.views import BuildUpBrief
from ..sheets.views import FigureView

# What may have moved in such numbers that it is to be read again instead of being told; “all” is everything.
Kind = Literal["all", "elements", "figures", "resources", "build-ups", "items", "bars"]


class RowMoved(View):
    """A row written: its table, and whether it is gone."""

    table: str
    id: int
    gone: bool


class FigureGone(View):
    """A figure taken off a sheet."""

    sheet: int
    id: int


class Moved(View):
    """What was written and what it moved, with the values as they are now.

    Attributes:
        change: the latest change told.
        rows: every row written.
        again: kinds of which more moved than is told.
        outline: whether the bill's sections or items stand in another order, or some came or went.
        order: whether the elements stand in another order, or some came or went.
        sheets: sheets that are to be read again.
        totals: sheets whose totals moved.
        bars: elements whose bars moved; they are read by whoever shows bars.
        cut: whether a cutting moved.
        ground: what moved of the ground, such as ``survey:3``, ``surface:2``, ``earthwork:9`` (by its
            element).
    """

    change: int
    rows: list[RowMoved]
    again: list[Kind]
    elements: list[ElementMoved]
    order: bool
    figures: list[FigureView]
    figures_gone: list[FigureGone]
    sheets: list[int]
    totals: list[int]
    bars: list[int]
    cut: bool
    ground: list[str]
    resources: list[ResourceView]
    build_ups: list[BuildUpBrief]
    items: list[ItemView]
    sections: list[SectionHead]
    foot: Foot | None
    outline: bool

    @classmethod
    def nothing(cls, change: int, again: Kind | None = None) -> Moved:
        """Nothing told; or that all of a kind is to be read again."""
        empty = {name: [] for name in cls.model_fields}
        flags = {
            "order": False,
            "outline": False,
            "cut": False,
            "foot": None,
            "again": [again] if again else [],
        }
        return cls.model_validate({**empty, **flags, "change": change})


class Answer(View):
    """The answer to every write: what it was called, the row written, the bill's new total, and all that
    moved."""

    label: str
    id: int | None = None
    version: int | None = None
    change: int | None = None
    bill_total: Decimal
    moved: Moved


class PulseView(View):
    """The latest change of a project, whose it was and what it was called; and all that moved since the
    one known."""

    change: int
    by: int | None
    person: str
    label: str
    bill_total: Decimal
    moved: Moved | None


class FoundView(View):
    """Something found by its words: what it is called, what it is, and the page it stands on."""

    kind: str
    name: str
    to: str
