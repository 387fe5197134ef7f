"""Formulas made at random, in the signs and functions there are and with what doesn't belong: each is read
or refused in words, and comes to a number or to none; how long reading takes at most, against a usual
formula.

    python -m bench.formulas [how many] [seed]
"""

from __future__ import annotations

import random
import sys
import time
from collections import Counter

import numpy as np

from sandscale.core.bars.detailing import standard
from sandscale.core.numbers.formula import Formula, primitives
from sandscale.core.numbers.units import NUMBER, unit
from sandscale.core.refusals import BadFormula
from sandscale.core.structure import STRUCTURE_RULES

NAMED = {**standard().formulas(), **STRUCTURE_RULES}
CALLED = {f.name: len(f.parameters) for f in (*primitives(), *NAMED.values())}
SCOPE = {"n": NUMBER, "q": NUMBER, **{each: unit("m").dimension for each in ("length", "width", "height")}}
LEAVES = (*SCOPE, "0", "1", "2.5", "9", "1e9", "m", "mm", "kg", "pi", "5%", "30°", "no_such", "0*m", "−1")
BETWEEN = (" + ", " - ", " × ", "*", " / ", "**", "^", " < ", " and ", " or ", " == ", " % ")
USUAL = "times * ceil((length - 2*cover) / spacing) * height"
MOST_SECONDS, SHORT = 0.1, 400  # what a text of a few hundred characters may take


def made(chance: random.Random, depth: int) -> str:
    """A formula of some depth."""
    kind = chance.random()
    if depth == 0 or kind < 0.2:
        return chance.choice(LEAVES)
    inner = [made(chance, depth - 1) for _ in range(3)]
    if kind < 0.6:
        return f"({inner[0]}{chance.choice(BETWEEN)}{inner[1]})"
    if kind < 0.7:
        return f"({inner[0]} if {inner[1]} else {inner[2]})"
    if kind < 0.8:
        return f"{chance.choice(('-', 'not ', '--'))}{inner[0]}" * chance.choice((1, 1, 1, 40))
    name = chance.choice(list(CALLED))
    number = CALLED[name] if chance.random() < 0.9 else chance.randint(0, 4)
    return f"{name}({', '.join(made(chance, depth - 1) for _ in range(number))})"


def main() -> None:
    number, seed = (int(each) for each in (*sys.argv[1:], *("20000", "1")[len(sys.argv) - 1 :])[:2])
    chance = random.Random(seed)
    values = {"n": -4.0, "q": 0.0, "length": 3.0, "width": -0.0, "height": 1e9}
    scope = {
        **SCOPE,
        **dict.fromkeys(("times",), NUMBER),
        **dict.fromkeys(("cover", "spacing"), SCOPE["length"]),
    }
    begun = time.perf_counter()
    for _ in range(200):
        Formula(USUAL, scope, NAMED, where="usual")
    usual = (time.perf_counter() - begun) / 200
    came, longest, slowest = Counter[str](), 0.0, ""
    for _ in range(number):
        text = made(chance, chance.randint(1, 6))
        begun = time.perf_counter()
        try:
            formula = Formula(text, SCOPE, NAMED, where="random")
            came["read"] += 1
        except BadFormula:
            formula = None
            came["refused"] += 1
        taken = time.perf_counter() - begun
        if taken > longest and len(text) <= SHORT:
            longest, slowest = taken, text
        if formula is not None:
            found = np.asarray(formula.value(values), dtype=float)
            came["finite" if np.isfinite(found).all() else "no number"] += 1
            formula.arithmetic(values, {})
            formula.in_spreadsheet(dict.fromkeys(SCOPE, "A1"))
    print(dict(came))
    print(f"longest read {longest * 1000:.0f} ms, {longest / usual:.0f} × a usual one: {slowest[:100]}")
    if longest > MOST_SECONDS:
        raise SystemExit(f"A formula took longer than {MOST_SECONDS} s to read.")


if __name__ == "__main__":
    main()
