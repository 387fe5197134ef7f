"""Which shape a bar is, from where its corners lie: the way back from an outline to a code and its legs."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from functools import lru_cache
from itertools import pairwise

from .shapes import SHAPES, Shape

Points = Sequence[tuple[float, float]]
_SAME = 0.0016  # m: legs of an exchange file are in whole mm
_ANGLE = math.radians(1.6)
_D, _R = 0.006, 0.012  # of the bar that shapes are looked at with; straight parts don't rest on it


def recognised(points: Points) -> tuple[str, dict[str, float]]:
    """The code of a shape and its legs in m; 99 without legs where it is none of them.

    Args:
        points: the corners of the bar, ends among them, in m.
    """
    wanted = _steps(points)
    turned = _steps([(-x, y) for x, y in points])
    back = _steps(list(reversed(points)))
    both = _steps([(-x, y) for x, y in reversed(points)])
    for code, letters in _straight().items():
        for seen in (wanted, turned, back, both):
            if len(letters) == len(seen) and (legs := _legs(SHAPES[code], letters, seen)):
                return code, legs
    return "99", {}


def _steps(points: Points) -> list[tuple[float, float]]:
    """Every leg's length, and the turn after it; the last has none."""
    steps = [(b[0] - a[0], b[1] - a[1]) for a, b in pairwise(points)]
    turns = [
        math.remainder(math.atan2(b[1], b[0]) - math.atan2(a[1], a[0]), math.tau) for a, b in pairwise(steps)
    ]
    return [(math.hypot(*step), turn) for step, turn in zip(steps, [*turns, 0.0], strict=True)]


@lru_cache(maxsize=1)
def _straight() -> Mapping[str, tuple[str, ...]]:
    """The shapes made of straight legs alone, and which letter each part of their outline is; the simplest
    first."""
    found = {}
    for code, shape in SHAPES.items():
        if not shape.straight or code == "01":
            continue
        # Legs that all differ, and with which the shape can be bent: a slanting part is longer than its rise.
        trials = [
            {letter: 0.3 + 0.0371 * (at + 1) ** 1.7 for at, letter in enumerate(order)}
            for order in (shape.legs[::-1], shape.legs)
        ]
        legs = next((trial for trial in trials if not shape.findings(trial, _D, _R, 0.0)), trials[0])
        lengths = [length for length, _ in _steps(shape.points(legs, _D, _R))]
        letters = tuple(
            next((letter for letter, leg in legs.items() if abs(leg - length) < 1e-6), "")
            for length in lengths
        )
        if all(letters):
            found[code] = letters
    return dict(sorted(found.items(), key=lambda each: len(each[1])))


def _legs(
    shape: Shape, letters: Sequence[str], seen: Sequence[tuple[float, float]]
) -> dict[str, float] | None:
    """The legs that draw a shape so; None where none do. A height that no part is as long as is tried from
    the rise of a slanting part."""
    legs: dict[str, float] = {}
    for letter, (length, _) in zip(letters, seen, strict=True):
        if letter and abs(legs.setdefault(letter, length) - length) > _SAME:
            return None
    missing = [letter for letter in shape.legs if letter not in legs]
    headings, heading = [], 0.0
    for _, turn in seen:
        headings.append(heading)
        heading += turn
    # A slanting part rises against another: how far, seen from each.
    rises = sorted(
        {
            round(abs(length * of(headings[at] - base)), 6)
            for at, (length, _) in enumerate(seen)
            for base in headings
            for of in (math.sin, math.cos)
        }
    )
    trials = [legs] if not missing else [{**legs, missing[0]: rise} for rise in rises if rise > _SAME]
    if len(missing) > 1:
        trials = [{**trial, missing[1]: rise} for trial in trials for rise in rises if rise > _SAME][:200]
    for trial in trials:
        if set(trial) == set(shape.legs) and _same(shape, trial, seen):
            return {letter: round(trial[letter], 4) for letter in shape.legs}
    return None


def _same(shape: Shape, legs: Mapping[str, float], seen: Sequence[tuple[float, float]]) -> bool:
    if shape.findings(legs, _D, _R, 0.0):
        return False  # it can't be bent so, however it is drawn
    drawn = _steps(shape.points(legs, _D, _R))
    return len(drawn) == len(seen) and all(
        abs(one[0] - other[0]) <= _SAME and abs(math.remainder(one[1] - other[1], math.tau)) <= _ANGLE
        for one, other in zip(drawn, seen, strict=True)
    )
