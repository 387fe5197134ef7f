"""What each quantity of a network of trenches is made of, span by span along its runs and pit by pit."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from itertools import pairwise
from typing import Final, Literal

from ..ground.trench.kind import BACKFILL, DUG, PIPE
from ..ground.trench.network import Network
from ..ground.trench.run import RunQuantities
from .trench import layers_of, slug

SpanRule = Literal["L / 6 (A1 + 4 A + A2)", "L / 2 (A1 + A2)", "L × A", "L", ""]
PRISMOID: Final = "L / 6 (A1 + 4 A + A2)"
MEAN: Final = "L / 2 (A1 + A2)"
TIMES: Final = "L × A"
LENGTH: Final = "L"
GIVEN: Final = ""


@dataclass(frozen=True)
class SpanRow:
    """A part of a quantity.

    Attributes:
        where: the run, or the node of a pit.
        begin, end: chainages along the run in m; of a pit, its top and its depth.
        sizes: what the rule takes of the beginning, the middle and the end, in m² or m; None where
            it takes none.
        rule: how the amount comes of them; empty where it is told at once.
        amount: in m³, m² or m.
    """

    where: str
    begin: float
    end: float
    sizes: tuple[float | None, float | None, float | None]
    rule: SpanRule
    amount: float


def spans_of(net: Network) -> dict[str, list[SpanRow]]:
    """By the output that the rows of it add up to; quantities reckoned from others have none."""
    found = {
        DUG: list(_volumes(net.runs, DUG)), "length": list(_lengths(net.runs)),
        "support": list(_sides(net.runs)), "pipe_volume": list(_volumes(net.runs, PIPE)),
        BACKFILL: list(_volumes(net.runs, BACKFILL)),
        "pits": [
            SpanRow(p.node.name, 0.0, p.depth, (None, p.dug / p.depth, None), TIMES, p.dug)
            for p in net.pits
            if p.depth
        ],
        "pit_backfill": [_given(p.node.name, p.backfill) for p in net.pits],
    }  # fmt: skip
    for layer in layers_of(net):
        key, laid = slug(layer.name), list(_volumes(net.runs, layer.name))
        laid += [
            _given(p.node.name, p.restored[layer.name]) for p in net.pits if p.restored.get(layer.name, 0.0)
        ]
        if layer.areas is None:
            found[f"laid_{key}"] = laid
        else:
            found[f"restored_{key}"] = list(_surfaces(net.runs, layer.name))
            found[f"restored_{key}_volume"] = laid
    for run in net.runs:
        pipe = run.run.kind.pipe
        if pipe is not None:
            row = _given(run.run.name, run.pipe_length)
            found.setdefault(f"pipe_{slug(pipe.name)}", []).append(row)
    return {output: rows for output, rows in found.items() if any(row.amount for row in rows)}


def _given(where: str, amount: float) -> SpanRow:
    return SpanRow(where, 0.0, 0.0, (None, None, None), GIVEN, amount)


def _ends(run: RunQuantities) -> Iterator[tuple[int, float, float]]:
    return ((n, a, b) for n, (a, b) in enumerate(pairwise(run.chainages.tolist())))


def _volumes(runs: Iterable[RunQuantities], name: str) -> Iterator[SpanRow]:
    for run in runs:
        if name not in run.areas:
            continue
        (at, middle), volumes = run.areas[name], run.spans(name)
        for n, a, b in _ends(run):
            sizes = float(at[n]), float(middle[n]), float(at[n + 1])
            yield SpanRow(run.run.name, a, b, sizes, PRISMOID, float(volumes[n]))


def _lengths(runs: Iterable[RunQuantities]) -> Iterator[SpanRow]:
    for run in runs:
        a, b = float(run.chainages[0]), float(run.chainages[-1])
        yield SpanRow(run.run.name, a, b, (None, None, None), LENGTH, b - a)


def _sides(runs: Iterable[RunQuantities]) -> Iterator[SpanRow]:
    """Both sides, measured upright."""
    for run in runs:
        if not run.run.kind.supported:
            continue
        for n, a, b in _ends(run):
            first, last = 2 * float(run.depths[n]), 2 * float(run.depths[n + 1])
            yield SpanRow(run.run.name, a, b, (first, None, last), MEAN, (first + last) / 2 * (b - a))


def _surfaces(runs: Iterable[RunQuantities], name: str) -> Iterator[SpanRow]:
    for run in runs:
        for layer in run.run.kind.reinstatements:
            if layer.name != name:
                continue
            for n, a, b in _ends(run):
                middle = (run.depths[n] + run.depths[n + 1]) / 2
                if middle > 0:
                    wide = float(run.bottom + 2 * run.run.kind.sides.spread(middle) + 2 * layer.overlap)
                    yield SpanRow(run.run.name, a, b, (None, wide, None), TIMES, wide * (b - a))
