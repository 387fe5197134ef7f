"""What rates take, kept beside them: so that a price that moves is reckoned through thousands of rates, and
what they are made of isn't read again."""

from __future__ import annotations

import json
from collections.abc import Collection, Iterable
from decimal import Decimal
from functools import lru_cache
from typing import Any

from ...core.pricing.build_up import Take, takes_of
from ...store.models import BuildUp, Project, Resource
from .reading import core_lines, lines_of, terms_of

Takes = tuple[Take, ...]
_OF_RATES = (
    BuildUp.id, BuildUp.kind, BuildUp.unit, BuildUp.output, BuildUp.hours, BuildUp.output_taken,
    BuildUp.output_key, BuildUp.hours_taken, BuildUp.hours_key, BuildUp.added, BuildUp.added_on,
    BuildUp.takes,
)  # fmt: skip


def taken_by_rates(project: Project, ids: Iterable[int]) -> list[tuple[Any, str]]:
    """Rates, each with what it takes by its lines as they are now."""
    wanted = list(ids)
    found, known = [], lines_of(wanted)
    for build_up in BuildUp.some(_OF_RATES, BuildUp.id, wanted):
        build_up.project = project  # read once for all of them
        lines = core_lines(build_up, known)
        terms = terms_of(build_up, lines)
        found.append((build_up, written([take for line in lines for take in takes_of(line, terms)])))
    return found


def takes_known(project: Project, rows: Iterable[Any]) -> dict[int, Takes]:
    """What rates take, as it was kept; of those from before it was kept, it is made and kept now."""
    kept = {row.id: row.takes for row in rows}
    if unknown := [each for each, takes in kept.items() if takes is None]:
        made = {row.id: takes for row, takes in taken_by_rates(project, unknown)}
        BuildUp.keep([BuildUp.takes], made.items())
        kept |= made
    return {each: read(takes) for each, takes in kept.items()}


def written(takes: Iterable[Take]) -> str:
    """What a rate takes, as it is kept."""
    kept = [(t.group, t.source, str(t.quantity), str(t.per)) for t in takes]
    return json.dumps(kept, separators=(",", ":"))


@lru_cache(maxsize=20_000)
def read(kept: str) -> Takes:
    """What a rate takes, from how it is kept."""
    return tuple(
        Take(group, source, Decimal(quantity), Decimal(per))
        for group, source, quantity, per in json.loads(kept)
    )


def prices_of(takes: Iterable[Takes], besides: Collection[int] = ()) -> dict[str, Decimal | None]:
    """What all that rates take costs now, by source; besides the rates that are to be reckoned first."""
    sources = {take.source for each in takes for take in each}
    ids: dict[str, list[int]] = {"resource": [], "build-up": []}
    for source in sources:
        kind, _, row = source.partition(":")
        if row:
            ids[kind].append(int(row))
    prices = dict[str, Decimal | None]()
    for row in Resource.some((Resource.id, Resource.price), Resource.id, ids["resource"]):
        prices[f"resource:{row.id}"] = row.price
    kept = (each for each in ids["build-up"] if each not in besides)
    for row in BuildUp.some((BuildUp.id, BuildUp.cost), BuildUp.id, kept):
        prices[f"build-up:{row.id}"] = row.cost
    return prices
