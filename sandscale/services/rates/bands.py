"""The bands of banded rates: typed, changed, taken out."""

from __future__ import annotations

from decimal import Decimal
from typing import Any

from ...core.pricing import bands as band_rules
from ...core.refusals import BadEntry
from ...store.models import BuildUp, RateBand
from ..keeping.acting import Actor, check_version, find
from ..keeping.recording import action, recording
from ..keeping.views import Saved
from .banded import Banded, kept_limit, limit_in
from .lines import refuse_loop


@action
def add_band(actor: Actor, build_up_id: int, fields: dict[str, Any]) -> Saved:
    """A band of a banded rate: its limits, and the rate it takes or what a unit costs.

    Raises:
        BadEntry: a value doesn't fit, or it overlaps another band.
        BadFormula: rates would nest in a loop.
    """
    row = find(BuildUp, actor, build_up_id)
    if row.kind != "banded":
        raise BadEntry(f"“{row.name}” is no banded rate.", field="low")
    fields = _checked(actor, row, {"low": "", "below": "", "nested": None, "price": None, **fields})
    with recording(actor, f"{row.name}: band {_told(fields)}") as log:
        band = log.insert(RateBand, build_up=row.id, **fields)
        refuse_overlaps(row)
    return log.saved(band)


@action
def change_band(actor: Actor, band_id: int, version: int, fields: dict[str, Any]) -> Saved:
    """Change a band's limits, or what it costs.

    Raises:
        BadEntry: a value doesn't fit, or it overlaps another band.
        BadFormula: rates would nest in a loop.
        Stale: someone else changed it meanwhile.
    """
    band = find(RateBand, actor, band_id)
    row = band.build_up
    fields = _checked(actor, row, fields)
    if fields.get("nested") is not None:
        fields["price"] = None
    elif fields.get("price") is not None:
        fields["nested"] = None
    check_version(band, version, fields)
    with recording(actor, f"{row.name}: band {_told({**band.__data__, **fields})}") as log:
        log.update(band, **fields)
        refuse_overlaps(row)
    return log.saved(band)


@action
def delete_band(actor: Actor, band_id: int) -> Saved:
    """Take a band out of its rate."""
    band = find(RateBand, actor, band_id)
    with recording(actor, f"{band.build_up.name} without the band {_told(band.__data__)}") as log:
        log.delete(band)
    return log.saved()


def _told(fields: dict[str, Any]) -> str:
    return f"{fields['low'] or '…'} to {fields['below'] or '…'}"


def refuse_overlaps(row: BuildUp) -> None:
    """Refuse bands that overlap, or hold nothing.

    Raises:
        BadEntry: some do.
    """
    band_rules.refuse_wrong(Banded([row.id]).bands(row.id), row.sized_in)


def _checked(actor: Actor, row: BuildUp, fields: dict[str, Any]) -> dict[str, Any]:
    for name in ("low", "below"):
        if name in fields:
            fields[name] = kept_limit(fields[name], row.sized_in)
    check_band(fields, row.sized_in)
    if fields.get("nested") is not None:
        nested = find(BuildUp, actor, fields["nested"])
        if nested.kind != "rate" or nested.unit != row.unit:
            raise BadEntry(
                f"“{nested.name}” is no rate per {row.unit}.", field="nested",
                remedy=f"Choose a rate per {row.unit}.",
            )  # fmt: skip
        refuse_loop(actor, row, nested.id)
    return fields


def check_band(fields: dict[str, Any], symbol: str) -> None:
    """Refuse what can't be a band of a rate.

    Raises:
        BadEntry: a value doesn't fit.
    """
    for name in ("low", "below"):
        if name in fields:
            limit_in(fields[name], symbol)
    price = fields.get("price")
    if price is not None and not (price.is_finite() and 0 <= price < Decimal("1e9")):
        raise BadEntry(f"{price} can't be a cost.", field="price", remedy="Type a number from zero up.")
    if price is not None and fields.get("nested") is not None:
        raise BadEntry("A band takes a rate, or has a cost of its own.", field="price")
