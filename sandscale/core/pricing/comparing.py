"""Two bills held against one another, item by item: what came, what went, and what differs by how much."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Hashable, Iterable, Sequence
from dataclasses import dataclass
from decimal import Decimal
from difflib import SequenceMatcher
from typing import Literal

from .bill import ItemKind

Differs = Literal["section", "words", "unit", "kind", "quantity", "rate", "amount"]
ALIKE = 0.72  # how much of their words two items share to be taken for one that was worded anew
_FEW = 40  # items whose words are held against one another letter by letter
MOST_WORDED = 120  # left-over items of a section whose words are held against one another


@dataclass(frozen=True)
class Stood:
    """An item as it stands in a bill.

    Attributes:
        id: what the caller knows it by.
        ref: its number.
        section: the titles of the sections it lies in, outermost first.
        number: its own number, where it has one.
    """

    id: int
    ref: str
    section: tuple[str, ...]
    number: str
    description: str
    unit: str
    kind: ItemKind
    quantity: Decimal
    rate: Decimal | None
    amount: Decimal


_Key = Callable[[Stood], Hashable]


@dataclass(frozen=True)
class Pair:
    """An item of one bill and what it is in the other; None where it isn't there."""

    before: Stood | None
    after: Stood | None

    @property
    def differs(self) -> tuple[Differs, ...]:
        """In what the two differ; nothing where one is missing."""
        one, other = self.before, self.after
        if one is None or other is None:
            return ()
        told: tuple[tuple[Differs, object, object], ...] = (
            ("section", _plain(one.section), _plain(other.section)),
            ("words", one.description, other.description), ("unit", one.unit, other.unit),
            ("kind", one.kind, other.kind), ("quantity", one.quantity, other.quantity),
            ("rate", one.rate, other.rate), ("amount", one.amount, other.amount),
        )  # fmt: skip
        return tuple(name for name, was, now in told if was != now)

    @property
    def moved(self) -> Decimal:
        """By how much its amount is more in the second bill."""
        return (self.after.amount if self.after else Decimal(0)) - (
            self.before.amount if self.before else Decimal(0)
        )


def compare(before: Sequence[Stood], after: Sequence[Stood]) -> list[Pair]:
    """Every item of two bills, in the order of the second; what went stands after what stood before it.

    Items are taken for the same by their own number and words, then by section, words and unit, then by words
    and unit wherever they stand; and what is left over in one section by words that are mostly alike.
    """
    found: dict[int, Stood] = {}
    left = {item.id: item for item in before}
    for key in (_by_number, _by_place, _by_words):
        _match(left, [item for item in after if item.id not in found], key, found)
    _match_worded(left, [item for item in after if item.id not in found], found)
    return _in_order(before, after, found)


def _in_order(before: Sequence[Stood], after: Sequence[Stood], found: dict[int, Stood]) -> list[Pair]:
    taken = {item.id for item in found.values()}
    following: dict[int | None, list[Pair]] = {}
    last: int | None = None
    for item in before:
        if item.id in taken:
            last = item.id
        else:
            following.setdefault(last, []).append(Pair(item, None))
    pairs = list(following.get(None, []))
    for item in after:
        old = found.get(item.id)
        pairs.append(Pair(old, item))
        pairs += following.get(old.id, []) if old else []
    return pairs


def _match(left: dict[int, Stood], after: Iterable[Stood], key: _Key, found: dict[int, Stood]) -> None:
    """Match what is left by a key, first to first where several share it."""
    waiting: dict[Hashable, list[Stood]] = {}
    for item in left.values():
        if (known := key(item)) is not None:
            waiting.setdefault(known, []).append(item)
    for item in after:
        alike = waiting.get(key(item))
        if alike and key(item) is not None:
            found[item.id] = left.pop(alike.pop(0).id)


def _match_worded(left: dict[int, Stood], after: Iterable[Stood], found: dict[int, Stood]) -> None:
    """Match what is left over in a section and a unit by words that are mostly alike, best first."""
    waiting: dict[Hashable, list[Stood]] = {}
    for item in left.values():
        waiting.setdefault((_plain(item.section), item.unit), []).append(item)
    fresh: dict[Hashable, list[Stood]] = {}
    for item in after:
        fresh.setdefault((_plain(item.section), item.unit), []).append(item)
    for key, theirs in fresh.items():
        ours = waiting.get(key, [])[:MOST_WORDED]
        scored = [
            (likeness, -here, one, other)
            for here, other in enumerate(theirs[:MOST_WORDED])
            for one in ours
            if (likeness := alike(one.description, other.description)) >= ALIKE
        ]
        for _, _, one, other in sorted(scored, key=lambda each: each[:2], reverse=True):
            if one.id in left and other.id not in found:
                found[other.id] = left.pop(one.id)


def alike(one: str, other: str) -> float:
    """How alike the words of two items are, from 0 to 1."""
    matcher = SequenceMatcher(None, words(one), words(other), autojunk=False)
    if matcher.real_quick_ratio() < ALIKE or matcher.quick_ratio() < ALIKE:
        return 0.0
    return matcher.ratio()


class Index:
    """Items by their words, to find those that are mostly alike among thousands."""

    def __init__(self, items: Iterable[Stood]) -> None:
        self._items = list(items)
        self._by_word: dict[str, list[int]] = {}
        for at, item in enumerate(self._items):
            for word in set(words(item.description).split()):
                self._by_word.setdefault(word, []).append(at)

    def like(self, description: str, most: int) -> list[Stood]:
        """Those whose words are mostly alike, the most alike first."""
        shared: Counter[int] = Counter()
        for word in set(words(description).split()):
            known = self._by_word.get(word, [])
            # A word that most have tells none of them from another.
            if len(known) <= max(len(self._items) // 4, _FEW):
                shared.update(known)
        near = [self._items[at] for at, _ in shared.most_common(_FEW)]
        scored = [(alike(description, item.description), item) for item in near]
        good = sorted((each for each in scored if each[0] >= ALIKE), key=lambda each: -each[0])
        return [item for _, item in good[:most]]


def words(text: str) -> str:
    """Words as they are held against one another: without case, signs and doubled spaces."""
    return " ".join("".join(sign if sign.isalnum() else " " for sign in text.casefold()).split())


def _plain(section: tuple[str, ...]) -> tuple[str, ...]:
    return tuple(words(title) for title in section)


def _by_number(item: Stood) -> Hashable:
    return (item.number.strip().casefold(), words(item.description)) if item.number.strip() else None


def _by_place(item: Stood) -> Hashable:
    return (_plain(item.section), words(item.description), item.unit)


def _by_words(item: Stood) -> Hashable:
    return (words(item.description), item.unit)
