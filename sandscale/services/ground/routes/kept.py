"""What a route came to as it is kept: the areas of its sections, packed, and read again."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np

from ....core.findings import Finding
from ....core.ground.route.quantities import AreaRow, RouteQuantities
from ....core.ground.route.reckoned import Gathered, Reckoned, Stretch
from ....core.refusals import Refusal
from ....formats.packed import pack, unpack


def reckoned_packed(made: Reckoned) -> bytes:
    """A route as bytes."""
    of = made.quantities
    names, extents = of.names, of.extents
    wide = [[v for key in extents for v in _extent(row, key)] for row in of.rows]
    arrays = {
        "along": np.array([[row.chainage, row.curvature] for row in of.rows]).reshape(-1, 2),
        "areas": _table([[row.areas.get(n, np.nan) for n in names] for row in of.rows], len(names)),
        "middles": _table([[row.middles.get(n, 0.0) for n in names] for row in of.rows], len(names)),
        "extents": _table(wide, 2 * len(extents)),
        "levels": np.array(made.levels, dtype=float), "breaks": np.array(of.breaks, dtype=float),
    }  # fmt: skip
    words = {
        "names": names, "extents": extents, "rule": of.rule, "curved": of.curved,
        "gathered": [[g.name, g.kind, g.parts, g.density, g.extra, g.own] for g in made.gathered],
        "stretches": [[s.name, s.begin, s.end, s.stage] for s in made.stretches],
        "findings": [[f.says, f.line, f.field, f.wrong, f.code] for f in made.findings],
        "typicals": _runs(made.typicals),
    }  # fmt: skip
    return pack({name: array.astype("<f8") for name, array in arrays.items()}, words)


def _extent(row: AreaRow, key: tuple[str, str]) -> tuple[float, float]:
    return row.extents.get(key, (np.nan, 0.0))


def _table(rows: list[list[float]], wide: int) -> Any:
    return np.array(rows, dtype=float).reshape(len(rows), wide)


def _runs(names: tuple[str, ...]) -> list[list[Any]]:
    """Names that follow one another, with how often each does."""
    found = list[list[Any]]()
    for name in names:
        if found and found[-1][0] == name:
            found[-1][1] += 1
        else:
            found.append([name, 1])
    return found


def reckoned_of(content: bytes) -> Reckoned:
    """What was packed of a route.

    Raises:
        Refusal: it can't be what was packed.
    """
    arrays, words = unpack(content)
    try:
        return _reckoned(arrays, words)
    except (KeyError, ValueError, IndexError, TypeError):
        raise Refusal("What was kept of a route can't be read again.", field="route") from None


def _reckoned(arrays: Mapping[str, Any], words: Mapping[str, Any]) -> Reckoned:
    names, extents = words["names"], [(kind, name) for kind, name in words["extents"]]
    rows = []
    for at, (chainage, curvature) in enumerate(arrays["along"].tolist()):
        areas = dict(zip(names, arrays["areas"][at].tolist(), strict=True))
        middles = dict(zip(names, arrays["middles"][at].tolist(), strict=True))
        there = [name for name, area in areas.items() if area == area]
        wide = arrays["extents"][at].reshape(-1, 2).tolist()
        rows.append(
            AreaRow(
                chainage, {n: areas[n] for n in there}, {n: middles[n] for n in there}, curvature,
                {key: (v, m) for key, (v, m) in zip(extents, wide, strict=True) if v == v},
            )
        )  # fmt: skip
    quantities = RouteQuantities(
        tuple(rows), words["rule"], words["curved"], tuple(arrays["breaks"].tolist())
    )
    return Reckoned(
        quantities,
        tuple(Gathered(n, kind, tuple(p), d, extra, own) for n, kind, p, d, extra, own in words["gathered"]),
        tuple(Stretch(*each) for each in words["stretches"]),
        tuple(Finding(*each) for each in words["findings"]), tuple(arrays["levels"].tolist()),
        tuple(name for name, number in words["typicals"] for _ in range(number)),
    )  # fmt: skip
