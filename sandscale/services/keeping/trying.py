"""What can be tried: the fields of a row that another value may be put into, to see what it would do. Each
stage says in its ``tried`` which are its own."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from ...core.numbers.entry import as_typed
from ...core.numbers.units import unit
from ...core.numbers.ways import ways
from ...core.numbers.written import written
from ...store.models import ProjectRow
from .acting import Actor, Missing, find
from .references import with_row
from .stages import parts


@dataclass(frozen=True)
class Field:
    """A field that can be tried: what it is called, its unit, and what stands there, written plainly;
    ``measured`` where people type it in the project's own unit system."""

    key: str
    name: str
    unit: str
    value: str
    measured: bool = False

    def told(self, entry: str) -> str:
        """A value of it as it is typed here."""
        return as_typed(entry, self.unit) if self.measured and entry else written(entry)

    @property
    def symbol(self) -> str:
        """Its unit as it is told here."""
        return ways().system.symbol(unit(self.unit).symbol) if self.measured and self.unit else self.unit


@dataclass(frozen=True)
class Tries:
    """A kind of row with fields that can be tried.

    Attributes:
        row: its table.
        called: what a row is called.
        fields: what of a row can be tried.
        change: the action that puts a value, as it is typed, into a field.
    """

    row: type[ProjectRow]
    called: Callable[[Any], str]
    fields: Callable[[Any], Sequence[Field]]
    change: Callable[[Actor, Any, str, str], object]


# By the kind of a number that is walked to, the rows whose fields are behind it: their kinds and ids.
Offers = Mapping[str, Callable[[Actor, int], Iterable[tuple[str, int]]]]


@lru_cache(maxsize=1)
def tries() -> Mapping[str, Tries]:
    """Every kind of row with fields to try, as the stages' ``tried`` name them."""
    return {kind: each for module in parts("tried") for kind, each in module.TRIES.items()}


@lru_cache(maxsize=1)
def offers() -> Offers:
    """What is offered to be tried at each kind of number."""
    return {kind: each for module in parts("tried") for kind, each in module.OFFERS.items()}


def row_of(actor: Actor, ref: str) -> tuple[Tries, Any]:
    """The row that a reference such as ``line:3`` names, and how its fields are tried.

    Raises:
        Missing: there is none in this project (any more), or nothing of it can be tried.
    """
    kind, _, row = ref.partition(":")
    if kind not in tries() or not row.isdecimal() or len(row) > 9:
        raise Missing(f"“{ref[:60]}” names nothing that can be tried.")
    found = tries()[kind]
    return found, find(found.row, actor, int(row))


def field_of(kind: Tries, row: Any, key: str) -> Field:
    """A field of a row as it stands.

    Raises:
        Missing: it has no such field, or none that can be tried now.
    """
    found = next((each for each in kind.fields(row) if each.key == key), None)
    if found is None:
        raise Missing(
            f"{kind.called(row)} has no “{key[:40]}” to try.", remedy="Walk to it and choose again."
        )
    return found


def renumbered(ref: str, number: Callable[[type[ProjectRow], int], int]) -> str:
    """A reference to a row with fields to try, with another number for that row.

    Raises:
        Missing: nothing of such a row can be tried.
    """
    kind, _, row = ref.partition(":")
    if kind not in tries() or not row.isdecimal() or len(row) > 9:
        raise Missing(f"“{ref[:60]}” names nothing that can be tried.")
    return with_row(ref, number(tries()[kind].row, int(row)))
