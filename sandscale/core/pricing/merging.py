"""Two bills brought together: sections matched, and a choice for each item that both have otherwise."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Literal

from ..numbers.units import unit as unit_of
from ..refusals import Refusal
from .comparing import Differs, Pair, Stood, compare

Choice = Literal["ours", "theirs", "both", "sum"]
_CLASHING: tuple[Differs, ...] = ("words", "unit", "kind", "quantity", "rate", "amount")


@dataclass(frozen=True)
class Merge:
    """What bringing a bill into another comes to.

    Attributes:
        fresh: its items that the other doesn't have, each with the section it goes to.
        same: pairs that say the same.
        clashes: pairs that don't, and so wait for a choice.
    """

    fresh: tuple[tuple[Stood, tuple[str, ...]], ...]
    same: tuple[Pair, ...]
    clashes: tuple[Pair, ...]


def merge(
    ours: Sequence[Stood], theirs: Sequence[Stood], sections: Mapping[tuple[str, ...], tuple[str, ...]]
) -> Merge:
    """What of a bill is new in another, the same, or there otherwise.

    Args:
        ours: the items of the bill that is added to.
        theirs: those of the bill that is brought in.
        sections: where each of their sections goes; those that aren't named keep their titles.
    """
    moved = [replace(item, section=sections.get(item.section, item.section)) for item in theirs]
    fresh, same, clashes = list[tuple[Stood, tuple[str, ...]]](), list[Pair](), list[Pair]()
    for pair in compare(ours, moved):
        if pair.after is None:
            continue
        if pair.before is None:
            fresh.append((pair.after, pair.after.section))
        elif any(name in _CLASHING for name in pair.differs):
            clashes.append(pair)
        else:
            same.append(pair)
    return Merge(tuple(fresh), tuple(same), tuple(clashes))


def choices(pair: Pair) -> tuple[Choice, ...]:
    """What may be chosen for a clash: quantities of another kind of unit can't be added."""
    assert pair.before is not None and pair.after is not None
    one, other = unit_of(pair.before.unit), unit_of(pair.after.unit)
    adds = one.dimension == other.dimension and pair.before.kind == pair.after.kind == "measured"
    return ("ours", "theirs", "both", "sum") if adds else ("ours", "theirs", "both")


def refuse_two_currencies(one: str, other: str) -> None:
    """Refuse to bring bills together whose amounts are in two currencies.

    Raises:
        Refusal: they are.
    """
    if one != other:
        raise Refusal(
            f"One bill is in {one}, the other in {other}: their amounts can't stand in one bill.",
            field="currency", remedy="Choose bills in one currency.",
        )  # fmt: skip
