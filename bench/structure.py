"""How fast the core computes structure: dimension lines over all make-ups, and bars cut from stock.

    python -m bench.structure

Times are told beside a yardstick of the same run (summing an array in Python), so that machines can be
compared.
"""

from __future__ import annotations

import random
import time

from sandscale.core.bars.cutting import cut_from_stock
from sandscale.core.makeups.makeup import built_in
from sandscale.core.makeups.run import Line, run_all

from .timing import best

LINES = 50_000
LINES_PER_ELEMENT = 5


def yardstick() -> float:
    """Ten million additions, one by one."""
    return best(lambda: sum(range(10_000_000)))[0]


def makeups() -> float:
    """Quantities of 50,000 lines, spread evenly over all make-ups, five lines to an element."""
    chance = random.Random(7)
    each = LINES // len(built_in()) // LINES_PER_ELEMENT
    elements = {
        makeup.key: [
            (
                {},
                [
                    Line(
                        chance.randint(1, 6),
                        chance.uniform(0.6, 3),
                        chance.uniform(0.6, 3),
                        chance.uniform(0.2, 0.6),
                    )
                    for _ in range(LINES_PER_ELEMENT)
                ],
            )
            for _ in range(each)
        ]
        for makeup in built_in().values()
    }
    return best(lambda: [run_all(built_in()[key], group) for key, group in elements.items()])[0]


def cutting(seed: int, lengths: int, stock: list[float]) -> None:
    """2,000 bars of many lengths from stock: the time, and how far the plan may be from the best."""
    chance = random.Random(seed)
    kinds = [chance.randrange(600, 11_800, 25) / 1000 for _ in range(lengths)]
    wanted: dict[float, int] = {}
    for _ in range(2_000):
        kind = chance.choice(kinds)
        wanted[kind] = wanted.get(kind, 0) + 1
    begun = time.perf_counter()
    plan = cut_from_stock(wanted, stock)
    taken = time.perf_counter() - begun
    print(
        f"2,000 bars of {len(wanted)} lengths from {stock}: {taken:.2f} s, waste {plan.waste:.2f} "
        f"%, at most {plan.gap:.3f} % over the bound"
    )


if __name__ == "__main__":
    measure = yardstick()
    taken = makeups()
    print(
        f"{LINES:,} dimension lines over {len(built_in())} make-ups: {taken:.2f} s, {taken / measure:.1f} "
        f"× ten million additions ({measure:.2f} s)"
    )
    for seed, lengths, stock in (
        (1, 40, [12.0]),
        (2, 120, [12.0]),
        (3, 120, [12.0, 6.0]),
        (4, 300, [12.0]),
        (5, 12, [12.0]),
    ):
        cutting(seed, lengths, stock)
