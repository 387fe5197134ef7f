"""What is read of trials, and of values that are tried."""

from __future__ import annotations

from decimal import Decimal

from ..answers.effects import MovedItem, MovedRate
from ..keeping.views import View


class TriableView(View):
    """A field that another value may be put into: which it is, and what stands there."""

    ref: str
    field: str
    called: str
    name: str
    unit: str
    value: str


class TriedEffect(View):
    """What values would do if they were written: the bill before and after, the items and rates that move,
    the most first; for how many figures that take long it ``waits``, which aren't in it; and which values
    can't be put down."""

    bill_before: Decimal
    bill_after: Decimal
    items: list[MovedItem]
    items_moved: int
    rates: list[MovedRate]
    rates_moved: int
    waits: int
    says: list[str]


class TrialChangeView(View):
    """A value of a trial: ``was`` is what stood there when it was put down, ``now`` what does; ``says`` is
    what is wrong with it."""

    id: int
    version: int
    ref: str
    field: str
    called: str
    name: str
    unit: str
    value: str
    was: str
    now: str
    says: str


class TrialView(View):
    """A trial with its values; ``moved_on``: something else stands where one of them was to be put."""

    id: int
    version: int
    name: str
    changes: list[TrialChangeView]
    moved_on: bool
