"""The measurer of this stage: make-ups over dimension lines."""

from __future__ import annotations

from ...core.makeups.measurer import OverLines
from .entered import makeup_entries
from .measurers import Entry

MEASURERS = (Entry(OverLines(), makeup_entries),)
