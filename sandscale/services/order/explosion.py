"""The bill exploded into resources: how much of each its items take, net and with waste, and its cost."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from decimal import Decimal
from typing import Any

from ...core.pricing.bands import Picked
from ...core.pricing.build_up import analyse
from ...store.models import BuildUp, Item, Project, Section
from ..bill.rating import priced_by
from ..rates.reading import core_lines, lines_of, terms_of

_HEADS = tuple(BuildUp._meta.sorted_fields)
_NONE = Decimal(0)


@dataclass(frozen=True)
class Takes:
    """How much of a resource is taken: net, with waste and allowances, and what that costs."""

    net: Decimal = _NONE
    gross: Decimal = _NONE
    money: Decimal = _NONE

    def __add__(self, other: Takes) -> Takes:
        return Takes(self.net + other.net, self.gross + other.gross, self.money + other.money)

    def times(self, net: Decimal, gross: Decimal, money: Decimal) -> Takes:
        """So many of it, each of the three by a number of its own."""
        return Takes(self.net * net, self.gross * gross, self.money * money)


OfRate = dict[int, Takes]  # by resource, for one unit of a rate


class Explosion:
    """What rates take of resources, themselves and by what they draw on.

    Args:
        project: whose.
        build_ups: the rates asked of; those within them are read along.
    """

    def __init__(self, project: Project, build_ups: Iterable[int]) -> None:
        self._own: dict[int, list[Any]] = {}
        self._known: dict[int, OfRate] = {}
        self._picked: dict[int, Any] = {}
        self._read(project, set(build_ups))

    def _read(self, project: Project, fresh: set[int]) -> None:
        """Read rates layer by layer, each once."""
        while fresh:
            heads = [row for row in BuildUp.some(_HEADS, BuildUp.id, fresh) if row.kind in ("rate", "gang")]
            rows = lines_of(row.id for row in heads)
            self._picked |= {line.id: line.reading for each in rows.values() for line in each}
            for head in heads:
                head.project = project
                lines = core_lines(head, rows)
                self._own[head.id] = list(analyse(lines, terms_of(head, lines)).lines)
            drawn = (self._source(worked) for head in heads for worked in self._own[head.id])
            fresh = {row for kind, row in drawn if kind == "build-up"} - set(self._own)

    def _source(self, worked: Any) -> tuple[str, int]:
        """What a line draws on: a resource or a rate, of a banded one that of the band it picks."""
        kind, _, source = worked.line.link.partition(":")
        if isinstance(picked := self._picked.get(worked.line.row), Picked):
            kind, _, source = picked.band.link.partition(":")
        return kind, int(source) if kind in ("resource", "build-up") else 0

    def of(self, build_up: int) -> OfRate:
        """What one unit of a rate takes of each resource; nothing of what it knows only the cost of."""
        if build_up not in self._known:
            found: OfRate = {}
            for worked in self._own.get(build_up, ()):
                kind, row = self._source(worked)
                net = worked.unit_quantity / (1 + worked.line.allowance / 100)
                if kind == "resource":
                    taken = Takes(net, worked.unit_quantity, worked.unit_price)
                    found[row] = found.get(row, Takes()) + taken
                elif kind == "build-up":
                    # An escalation on the rate within makes each thing in it dearer.
                    dearer = worked.unit_quantity * (1 + worked.line.escalation / 100)
                    for resource, inner in self.of(row).items():
                        taken = inner.times(net, worked.unit_quantity, dearer)
                        found[resource] = found.get(resource, Takes()) + taken
            self._known[build_up] = found
        return self._known[build_up]


def exploded(project: Project, bill_id: int) -> dict[int, OfRate]:
    """What each item of a bill takes of each resource; items that take none are missing."""
    query = Item.select(Item, Section).join(Section).where(Section.bill == bill_id)
    taken = list(priced_by(query))
    explosion = Explosion(project, {rate for _, rate, _ in taken})
    found: dict[int, OfRate] = {}
    for item, rate, quantity in taken:
        own = found.setdefault(item.id, {})
        for resource, takes in explosion.of(rate).items():
            own[resource] = own.get(resource, Takes()) + takes.times(quantity, quantity, quantity)
    return found


def together(of_items: Mapping[int, OfRate]) -> OfRate:
    """What items take of each resource together."""
    found: OfRate = {}
    for own in of_items.values():
        for resource, takes in own.items():
            found[resource] = found.get(resource, Takes()) + takes
    return found
