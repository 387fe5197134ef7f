"""The measurer of this stage: bars that were typed or read."""

from __future__ import annotations

from ...core.measurers.typed_bars import TypedBars
from ..measure.measurers import Entry
from .entered import typed_entries

MEASURERS = (Entry(TypedBars(), typed_entries),)
