"""Cutting bars from stock lengths with little waste, with a lower bound that proves how little there could
be.

Patterns come from column generation (Gilmore and Gomory 1961): a linear programme chooses how often to cut
each pattern, a knapsack over its prices finds a better pattern, until there is none. What the programme comes
to then is a lower bound on the stock used. Whole bars are chosen among those patterns by HiGHS."""

from __future__ import annotations

import math
from bisect import bisect_left
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import LinearConstraint, linprog, milp
from scipy.sparse import csc_matrix

from ..refusals import BadEntry

Whole = NDArray[np.int64]
_MOST_LENGTHS = 600  # that patterns are searched for; more are fitted one after the other
_WORK = 3e8  # rooms looked at for new patterns, over all
_GOOD_ENOUGH = 0.002  # relative gap at which the search for whole bars stops
_SEARCH_SECONDS = 3.0
_DEEPER = 12  # new patterns at each step of a dive
_MOST_PATTERNS = 6_000  # of all there are, that are searched where the first plan isn't proven


@dataclass(frozen=True)
class Pattern:
    """One way to cut a stock bar.

    Attributes:
        stock: the bar's length in m.
        cuts: length in m → how many are cut.
        times: how many bars are cut so.
        offcut: what is left of each, in m.
        kept: whether it is cut from a piece kept from before, which isn't bought.
    """

    stock: float
    cuts: Mapping[float, int]
    times: int
    offcut: float
    kept: bool = False


@dataclass(frozen=True)
class CutPlan:
    """How a demand is cut from stock.

    Attributes:
        patterns: the ways to cut, those from kept pieces first, then most used first.
        order: stock length in m → whole bars to order.
        demand: the length wanted, in m, less what kept pieces give.
        bought: the stock length used, in m.
        bound: no plan can use less stock than this for it, in m.
        offcuts: length of an off-cut in m → how many.
    """

    patterns: tuple[Pattern, ...]
    order: Mapping[float, int]
    demand: float
    bought: float
    bound: float
    offcuts: Mapping[float, int]

    @property
    def waste(self) -> float:
        """What is bought and not used, in percent of what is used."""
        return (self.bought / self.demand - 1) * 100 if self.demand else 0.0

    @property
    def gap(self) -> float:
        """How far the plan may be from the best, in percent of the bound; 0 when it is proved best."""
        return (self.bought / self.bound - 1) * 100 if self.bound else 0.0


def cut_from_stock(
    wanted: Mapping[float, int],
    stock: Sequence[float],
    saw: float = 0.0,
    kept: Mapping[float, int] | None = None,
    tick: Callable[[float], None] = lambda _share: None,
) -> CutPlan:
    """A plan that cuts the wanted bars from stock lengths, and before these from pieces kept.

    Args:
        wanted: cut length in m → how many; lengths are taken to the millimetre.
        stock: the lengths sold, in m.
        saw: what a cut takes, in m.
        kept: length in m of a piece kept from before → how many there are; each is filled as well as it can
            be by itself.
        tick: told now and then how far the search is, from 0 to 1; it may raise, to stop it.

    Raises:
        BadEntry: a length is not above zero or longer than the stock, a number is below zero, or nothing can
        be bought.
    """
    lengths, numbers = _demand(wanted, stock)
    if not lengths:
        return CutPlan((), {}, 0.0, 0.0, 0.0, {})
    blade = round(saw * 1000)
    from_kept, numbers = _from_kept(lengths, numbers, kept or {}, blade)
    if not any(numbers):
        return CutPlan(tuple(from_kept), {}, 0.0, 0.0, 0.0, _left_over(from_kept))
    lengths = [length for length, number in zip(lengths, numbers, strict=True) if number]
    numbers = [number for number in numbers if number]
    bars = sorted({round(length * 1000) for length in stock}, reverse=True)
    if len(lengths) > _MOST_LENGTHS:
        return _fitted(lengths, numbers, bars, blade, from_kept, tick)
    # A cut takes its blade with it; the last cut of a bar needs none, so a bar is one blade longer.
    grain = math.gcd(*(length + blade for length in lengths), *(bar + blade for bar in bars))
    pieces = np.array([(length + blade) // grain for length in lengths])
    capacities = [(bar + blade) // grain for bar in bars]
    columns = _Columns(pieces, np.array(numbers), capacities, bars)
    bound = max(columns.generate(tick), _least(lengths, numbers, bars))
    chosen = columns.dive(tick)
    if columns.costs @ chosen > bound + 0.5:
        tick(0.9)
        chosen = columns.whole(chosen)
    if columns.costs @ chosen > bound + 0.5 and columns.complete():
        chosen, proven = columns.searched(chosen)
        bound = float(columns.costs @ chosen) if proven else bound
    plan = _plan(columns, chosen, lengths, blade, max(bound / 1000, 0.0))
    patterns = (*from_kept, *plan.patterns)
    return replace(plan, patterns=patterns, offcuts=_left_over(patterns))


def _fitted(
    lengths: list[int],
    numbers: list[int],
    bars: list[int],
    blade: int,
    from_kept: list[Pattern],
    tick: Callable[[float], None],
) -> CutPlan:
    """A plan of a great many lengths: into each bar the longest piece there is, then the longest that fits.
    The bound is what all of them come to, in whole bars."""
    left, rising = list(numbers), [-length for length in lengths]  # lengths stand longest first
    after = list(range(1, len(lengths) + 1))  # of each length, the next that is still wanted

    def wanted_from(at: int) -> int:
        while at < len(left) and not left[at]:
            after[at] = wanted_from(after[at]) if after[at] < len(left) and not left[after[at]] else after[at]
            at = after[at]
        return at

    found, first, whole = list(from_kept), wanted_from(0), sum(numbers)
    bar, order = max(bars), 0
    while first < len(left):
        room, cuts, at = bar + blade, dict[int, int](), first
        while at < len(left):
            number = min(left[at], room // (lengths[at] + blade))
            if number:
                cuts[at] = number
                room -= number * (lengths[at] + blade)
            at = wanted_from(max(at + 1, bisect_left(rising, blade - room)))
        times = min(left[at] // number for at, number in cuts.items())
        for at, number in cuts.items():
            left[at] -= number * times
        shortest = min(each for each in bars if each + blade >= bar + blade - room)
        made = {lengths[at] / 1000: number for at, number in cuts.items()}
        found.append(Pattern(shortest / 1000, made, times, max(shortest - bar + room - blade, 0) / 1000))
        order += 1
        if order % 200 == 0:
            tick(1 - sum(left) / whole)
        first = wanted_from(first)
    demand = sum(length * number for length, number in zip(lengths, numbers, strict=True)) / 1000
    bought: dict[float, int] = {}
    for pattern in found[len(from_kept) :]:
        bought[pattern.stock] = bought.get(pattern.stock, 0) + pattern.times
    used, bound = (
        sum(stock * number for stock, number in bought.items()),
        _least(lengths, numbers, bars) / 1000,
    )
    ordered = dict(sorted(bought.items(), reverse=True))
    return CutPlan(tuple(found), ordered, demand, used, min(bound, used), _left_over(found))


def _least(lengths: list[int], numbers: list[int], bars: list[int]) -> float:
    """What all the pieces come to, in mm, up to the common measure of the bars: no plan can use less."""
    step = math.gcd(*bars)
    whole = sum(length * number for length, number in zip(lengths, numbers, strict=True))
    return math.ceil(whole / step - 1e-9) * step


def _from_kept(
    lengths: list[int], numbers: list[int], kept: Mapping[float, int], blade: int
) -> tuple[list[Pattern], list[int]]:
    """What is cut from kept pieces, the shortest first so that long ones are left for long bars; and how many
    of every length are still wanted."""
    left, pieces = np.array(numbers), np.array([length + blade for length in lengths])
    found: list[Pattern] = []
    for piece, number in sorted((round(length * 1000), number) for length, number in kept.items()):
        while number > 0:
            room = piece + blade
            fitting = (pieces <= room) & (left > 0)
            if not fitting.any():
                break
            worth = np.where(fitting, pieces, 0).astype(float)
            _, pattern = _best_pattern(pieces, worth, room)
            pattern = np.minimum(pattern, left)
            room -= int(pattern @ pieces)
            for at in range(len(pieces)):  # longest first, what limited numbers left room for
                more = min(int(left[at] - pattern[at]), room // int(pieces[at]))
                pattern[at] += more
                room -= more * int(pieces[at])
            hit = pattern > 0
            times = min(number, int((left[hit] // pattern[hit]).min()))
            left, number = left - times * pattern, number - times
            cuts = {lengths[at] / 1000: int(pattern[at]) for at in np.flatnonzero(hit)}
            found.append(Pattern(piece / 1000, cuts, times, max(room - blade, 0) / 1000, kept=True))
    return found, [int(each) for each in left]


def _left_over(patterns: Sequence[Pattern]) -> dict[float, int]:
    offcuts: dict[float, int] = {}
    for pattern in patterns:
        if pattern.offcut:
            offcuts[pattern.offcut] = offcuts.get(pattern.offcut, 0) + pattern.times
    return dict(sorted(offcuts.items(), reverse=True))


def _demand(wanted: Mapping[float, int], stock: Sequence[float]) -> tuple[list[int], list[int]]:
    if not stock or min(stock) <= 0:
        raise BadEntry("Bars are cut from stock lengths above zero; there is none.", field="stock")
    longest = max(stock)
    merged: dict[int, int] = {}
    for length, number in wanted.items():
        if number < 0 or not math.isfinite(length) or length <= 0:
            raise BadEntry(
                f"{number} bars of {length:g} m can't be cut.",
                field="wanted",
                remedy="Lengths are above zero, numbers not below.",
            )
        if length > longest + 0.0005:
            raise BadEntry(
                f"A bar of {length:.3f} m is longer than the stock of {longest:g} m.",
                field="wanted",
                remedy="Make it up from two bars with a lap.",
            )
        if number:
            merged[round(length * 1000)] = merged.get(round(length * 1000), 0) + number
    ordered = sorted(merged, reverse=True)
    return ordered, [merged[length] for length in ordered]


class _Columns:
    """The patterns found so far: how many of each piece a pattern cuts, and from which bar."""

    def __init__(self, pieces: Whole, numbers: Whole, capacities: list[int], bars: list[int]) -> None:
        self.pieces, self.numbers, self.capacities, self.bars = pieces, numbers, capacities, bars
        self.patterns: list[Whole] = []
        self.bar_of: list[int] = []
        self._known: set[tuple[int, bytes]] = set()
        for at, piece in enumerate(pieces):
            fitting = min((c for c in capacities if c >= piece), default=capacities[0])
            self.add(self._only(at, int(fitting // piece)), capacities.index(fitting))
        self._add_greedy()

    def _only(self, at: int, times: int) -> Whole:
        pattern = np.zeros(len(self.pieces), dtype=np.int64)
        pattern[at] = min(max(times, 1), int(self.numbers[at]))
        return pattern

    def add(self, pattern: Whole, bar: int) -> bool:
        """Keep a pattern; False when it is known."""
        key = (bar, pattern.tobytes())
        if key in self._known:
            return False
        self._known.add(key)
        self.patterns.append(pattern)
        self.bar_of.append(bar)
        return True

    def _add_greedy(self) -> None:
        """Longest first into each kind of bar, as a cutter would: makes sure that whole bars can always be
        found."""
        for bar, capacity in enumerate(self.capacities):
            left = np.where(self.pieces <= capacity, self.numbers, 0)
            while left.any():
                room, pattern = capacity, np.zeros_like(left)
                for at, piece in enumerate(self.pieces):
                    pattern[at] = min(left[at], room // piece)
                    room -= int(pattern[at] * piece)
                times = max(1, int((left[pattern > 0] // pattern[pattern > 0]).min()))
                self.add(pattern, bar)
                left = np.maximum(left - times * pattern, 0)

    @property
    def costs(self) -> NDArray[np.float64]:
        """The stock length each pattern uses, in mm."""
        return np.array([self.bars[bar] for bar in self.bar_of], dtype=float)

    def matrix(self) -> csc_matrix:
        """Pieces down, patterns across."""
        return csc_matrix(np.array(self.patterns, dtype=float).T)

    def generate(self, tick: Callable[[float], None]) -> float:
        """Add patterns until none would help; gives the least stock any plan can use, in mm."""
        bound = 0.0
        worked = int(_WORK / (len(self.pieces) * max(self.capacities)))
        for step in range(min(40 * len(self.pieces), worked) + 30):
            tick(0.6 * step / (step + len(self.pieces)))
            share, prices = self._relaxed(self.numbers)
            fresh, reduced = False, 0.0
            for bar, capacity in enumerate(self.capacities):
                worth, pattern = _best_pattern(self.pieces, prices, capacity)
                # Farley 1990: prices scaled by the worst overrun are feasible in the dual, so give a bound at
                # any time.
                reduced = max(reduced, worth / self.bars[bar])
                if worth > self.bars[bar] * (1 + 1e-9):
                    fresh |= self.add(pattern, bar)
            bound = max(bound, float(prices @ self.numbers) / max(reduced, 1.0))
            # In whole bars the bound can't rise above what the programme comes to already.
            if not fresh or self._rounded(bound) >= float(self.costs[: len(share)] @ share) - 1e-6:
                break
        return self._rounded(bound)

    def _relaxed(self, wanted: Whole) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
        """How often to cut each pattern if bars could be cut in part, and what a piece is worth then."""
        solved = linprog(self.costs, A_ub=-self.matrix(), b_ub=-wanted, method="highs")
        return np.asarray(solved.x), -np.asarray(solved.ineqlin.marginals)

    def dive(self, tick: Callable[[float], None]) -> Whole:
        """How often to cut each pattern, in whole bars: what the programme takes whole is taken, and what is
        left is planned anew with patterns that cut no more than that."""
        left, times = self.numbers.copy(), dict[int, int]()
        while left.any():
            tick(0.9 - 0.3 * float(left.sum() / self.numbers.sum()))
            for _ in range(_DEEPER):
                share, prices = self._relaxed(left)
                if not self._bounded(prices, left):
                    break
            taken = False
            for column in np.argsort(-share, kind="stable"):
                whole = int(share[column] + 1e-6)
                if not whole:
                    break
                hit = self.patterns[column] > 0
                whole = min(whole, int((left[hit] // self.patterns[column][hit]).min()))
                if whole:
                    taken = True
                    times[int(column)] = times.get(int(column), 0) + whole
                    left = left - whole * self.patterns[column]
            if not taken:
                self._fill(left, times)
                break
        plan = np.zeros(len(self.patterns), dtype=np.int64)
        for column, number in times.items():
            plan[column] = number
        return plan

    def _bounded(self, prices: NDArray[np.float64], left: Whole) -> bool:
        """Add, for each kind of bar, the pattern worth most that cuts no more than is left; whether any would
        help."""
        fresh = False
        for bar, capacity in enumerate(self.capacities):
            worth, pattern = _best_bounded(self.pieces, prices, left, capacity)
            if worth > self.bars[bar] * (1 + 1e-9):
                fresh |= self.add(pattern, bar)
        return fresh

    def _fill(self, left: Whole, times: dict[int, int]) -> None:
        """Cut what is left bar by bar, each with the longest piece there is and filled as well as can be."""
        left = left.copy()
        while left.any():
            longest = int(np.flatnonzero(left)[0])  # pieces stand longest first
            rest = left.copy()
            rest[longest] -= 1
            best: tuple[float, Whole, int] | None = None
            for bar, capacity in enumerate(self.capacities):
                room = capacity - int(self.pieces[longest])
                if room < 0:
                    continue
                filled, pattern = _best_bounded(self.pieces, self.pieces.astype(float), rest, room)
                pattern[longest] += 1
                waste = (room - filled) / self.bars[bar]
                if best is None or waste < best[0] - 1e-12:
                    best = waste, pattern, bar
            assert best is not None  # every piece fits a bar
            _, pattern, bar = best
            number = int((left[pattern > 0] // pattern[pattern > 0]).min())
            self.add(pattern, bar)
            column = self._place(pattern, bar)
            times[column] = times.get(column, 0) + number
            left -= number * pattern

    def _place(self, pattern: Whole, bar: int) -> int:
        return next(
            at
            for at in range(len(self.patterns) - 1, -1, -1)
            if self.bar_of[at] == bar and (self.patterns[at] == pattern).all()
        )

    def _rounded(self, bound: float) -> float:
        """A bound in whole bars, where there is one kind; up to the common measure of the bars otherwise."""
        step = math.gcd(*self.bars)
        return math.ceil(bound / step - 1e-6) * step

    def whole(self, before: Whole) -> Whole:
        """How often to cut each pattern, in whole bars: better than a plan that is there, or that one."""
        plans = [self._greedy_plan(), before]
        greedy = min(plans, key=lambda plan: float(self.costs @ plan))
        solved = milp(
            self.costs,
            constraints=LinearConstraint(self.matrix(), lb=self.numbers),
            integrality=np.ones(len(self.patterns)),
            options={"time_limit": _SEARCH_SECONDS, "mip_rel_gap": _GOOD_ENOUGH},
        )
        if solved.x is None:
            return greedy
        found = np.round(solved.x).astype(np.int64)
        return found if self.costs @ found <= self.costs @ greedy else greedy

    def complete(self) -> bool:
        """Add every pattern into which no other piece would fit; False where they are too many to be
        searched. What is cut from them can't be bettered by any other."""
        fresh, looked_at = list[tuple[Whole, int]](), 0
        for bar, capacity in enumerate(self.capacities):
            for pattern in _full_patterns(self.pieces, self.numbers, capacity):
                looked_at += 1
                if pattern is not None:
                    fresh.append((pattern, bar))
                if len(fresh) > _MOST_PATTERNS or looked_at > 10 * _MOST_PATTERNS:
                    return False
        for pattern, bar in fresh:
            self.add(pattern, bar)
        return True

    def searched(self, before: Whole) -> tuple[Whole, bool]:
        """The best of all patterns in whole bars, and whether it is proven; the plan found before, where
        none is better in the time there is."""
        kept = np.zeros(len(self.patterns), dtype=np.int64)
        kept[: len(before)] = before
        solved = milp(
            self.costs,
            constraints=LinearConstraint(self.matrix(), lb=self.numbers),
            integrality=np.ones(len(self.patterns)),
            options={"time_limit": _SEARCH_SECONDS, "mip_rel_gap": 0.0},
        )
        if solved.x is None:
            return kept, False
        found = np.round(solved.x).astype(np.int64)
        better = self.costs @ found < self.costs @ kept
        return (found if better else kept), solved.status == 0

    def _greedy_plan(self) -> Whole:
        """A plan of whole bars that always exists: most useful pattern first."""
        times = np.zeros(len(self.patterns), dtype=np.int64)
        left = self.numbers.copy()
        table = np.array(self.patterns)
        while left.any():
            useful = np.minimum(table, left) @ self.pieces / self.costs
            best = int(useful.argmax())
            hit = table[best] > 0
            repeat = max(1, int((left[hit] // table[best][hit]).min()))
            times[best] += repeat
            left = np.maximum(left - repeat * table[best], 0)
        return times


def _full_patterns(pieces: Whole, numbers: Whole, capacity: int) -> Iterator[Whole | None]:
    """Every way to cut a bar that leaves no room for another piece that is wanted, longest pieces first;
    None for a way that does."""
    pattern, least = np.zeros(len(pieces), dtype=np.int64), int(pieces.min())

    def cut(at: int, room: int) -> Iterator[Whole | None]:
        if at == len(pieces) or room < least:
            full = bool(pattern.any()) and bool(((pattern >= numbers) | (pieces > room)).all())
            yield pattern.copy() if full else None
            return
        for times in range(int(min(room // pieces[at], numbers[at])), -1, -1):
            pattern[at] = times
            yield from cut(at + 1, room - times * int(pieces[at]))
        pattern[at] = 0

    yield from cut(0, capacity)


def _best_pattern(pieces: Whole, prices: NDArray[np.float64], capacity: int) -> tuple[float, Whole]:
    """The pattern worth most at the prices, by dynamic programming over the room left in a bar."""
    worth = np.zeros(capacity + 1)
    stages = [worth]
    for piece, price in zip(pieces, prices, strict=True):
        worth = _with_piece(worth, int(piece), float(price)) if price > 1e-12 and piece <= capacity else worth
        stages.append(worth)
    pattern, room = np.zeros(len(pieces), dtype=np.int64), capacity
    for at in range(len(pieces) - 1, -1, -1):
        while stages[at + 1][room] > stages[at][room] + 1e-12:
            pattern[at] += 1
            room -= int(pieces[at])
    return float(worth[capacity]), pattern


def _best_bounded(
    pieces: Whole, prices: NDArray[np.float64], numbers: Whole, capacity: int
) -> tuple[float, Whole]:
    """The pattern worth most at the prices that cuts no piece oftener than there are numbers of it: lots of
    1, 2, 4 … of each, each taken or not."""
    lots = [
        (at, lot)
        for at in np.flatnonzero((prices > 1e-12) & (numbers > 0) & (pieces <= capacity))
        for lot in _lots(min(int(numbers[at]), int(capacity // pieces[at])))
    ]
    worth = np.zeros(capacity + 1)
    took = np.zeros((len(lots), capacity + 1), dtype=bool)
    for stage, (at, lot) in enumerate(lots):
        size = int(pieces[at]) * lot
        better = worth[: capacity + 1 - size] + float(prices[at]) * lot
        took[stage, size:] = better > worth[size:] + 1e-12
        worth[size:] = np.maximum(worth[size:], better)
    pattern, room = np.zeros(len(pieces), dtype=np.int64), capacity
    for stage in range(len(lots) - 1, -1, -1):
        if took[stage, room]:
            at, lot = lots[stage]
            pattern[at] += lot
            room -= int(pieces[at]) * lot
    return float(worth[capacity]), pattern


def _lots(number: int) -> Iterator[int]:
    """Lots that make up any number to this one: 1, 2, 4 … and what is left."""
    lot = 1
    while number > 0:
        yield min(lot, number)
        number -= min(lot, number)
        lot *= 2


def _with_piece(worth: NDArray[np.float64], piece: int, price: float) -> NDArray[np.float64]:
    """The worth of every room when a piece may be cut any number of times: a running best over equal
    remainders."""
    rows = -(-len(worth) // piece)
    padded = np.full(rows * piece, -np.inf)
    padded[: len(worth)] = worth
    table = padded.reshape(rows, piece)
    steps = np.arange(rows)[:, None] * price
    best: NDArray[np.float64] = (np.maximum.accumulate(table - steps, axis=0) + steps).reshape(-1)[
        : len(worth)
    ]
    return best


def _plan(columns: _Columns, chosen: Whole, lengths: list[int], blade: int, bound: float) -> CutPlan:
    """The plan in metres, with what was cut over the demand given back as off-cuts."""
    left = columns.numbers.copy()
    patterns: dict[tuple[int, tuple[int, ...]], int] = {}
    for column in np.argsort(-chosen, kind="stable"):
        for _ in range(int(chosen[column])):
            cut = np.minimum(columns.patterns[column], left)
            if not cut.any():
                continue
            left -= cut
            key = (columns.bar_of[column], tuple(int(n) for n in cut))
            patterns[key] = patterns.get(key, 0) + 1
    found, order = [], dict[float, int]()
    for (bar, cut), times in sorted(patterns.items(), key=lambda item: (-item[1], item[0])):
        stock = columns.bars[bar] / 1000
        used = sum(n * (length + blade) for n, length in zip(cut, lengths, strict=True))
        offcut = max(columns.bars[bar] - used, 0) / 1000
        found.append(
            Pattern(
                stock, {length / 1000: n for n, length in zip(cut, lengths, strict=True) if n}, times, offcut
            )
        )
        order[stock] = order.get(stock, 0) + times
    demand = float(sum(n * length for n, length in zip(columns.numbers, lengths, strict=True))) / 1000
    bought = sum(stock * times for stock, times in order.items())
    return CutPlan(
        tuple(found),
        dict(sorted(order.items(), reverse=True)),
        demand,
        bought,
        min(bound, bought),
        _left_over(found),
    )
